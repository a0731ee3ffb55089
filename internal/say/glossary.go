package say

import "smolder/internal/lang"

// A Term is one of the field's words with what it means, and for a thing how it is drawn.
type Term struct {
	Word  lang.Message
	Means lang.Message
	Drawn string // SVG in a box of 64 by 40, in our own lines; empty: none
}

// Glossary are the words that a beginner asks for, by the work: the stove, the wood, the burn,
// the flue. A word that a page uses as one of the field's is here.
var Glossary = []Term{
	{Word: "baffle", Means: "The plate over the firebox. The gases go round it, so they stay hot and burn longer.",
		Drawn: `<path d="M6 38V4h52v34" class="thin"/><path d="M6 12h38" class="sign"/><path d="M20 34c6-8 8-12 22-14c8-1 8-8 2-9" class="sign-ash"/>`},
	{Word: "primary air", Means: "Air to the wood and coals. It decides how fast the wood gives off its gas."},
	{Word: "secondary air", Means: "Warm air to the gases above the wood. It decides how clean they burn."},
	{Word: "jets", Means: "The holes, slots or tubes of the secondary air. Flames at them mean that the gas burns.",
		Drawn: `<path d="M4 8h56" class="sign"/><path d="M14 10c4 6 4 8 0 12c-4-4-4-6 0-12zM32 10c4 6 4 8 0 12c-4-4-4-6 0-12zM50 10c4 6 4 8 0 12c-4-4-4-6 0-12z" class="sign-ember"/>`},
	{Word: "bypass", Means: "A flap that opens a short way to the flue, past the baffle or the catalyst. Open to light and to load."},
	{Word: "catalyst", Means: "A honeycomb that burns what the flames leave, once it is hot enough."},
	{Word: "light-off", Means: "The heat from which a catalyst burns gas by itself. Shut the bypass above it, not below.",
		Drawn: `<path d="M6 36h52" class="base"/><path d="M6 34c14 0 16-4 22-14s12-12 30-12" class="pen"/><path d="M6 20h52" class="tickline dashed"/>`},
	{Word: "load line", Means: "No wood goes higher than this in the firebox.",
		Drawn: `<path d="M6 4v34h52V4" class="thin"/><path d="M6 14h52" class="lay-line"/><path d="M12 36h18v-8H12zM32 36h18v-8H32zM20 28h22v-8H20z" class="bar"/>`},
	{Word: "damper", Means: "A plate in the flue that slows the draft. Open it before you open the door."},
	{Word: "barometric damper", Means: "A weighted flap that lets room air into the flue when the draft is too strong. It moves by itself."},
	{Word: "outside air", Means: "A duct that brings the fire its air from outdoors. Its gate stays open while anything burns."},
	{Word: "split", Means: "A piece of wood that was split from a log."},
	{Word: "kindling", Means: "Thin dry sticks that light the first wood."},
	{Word: "moisture", Means: "Water in the wood, by the weight of the wood without water. Under 20 % burns clean; measure on a freshly split face."},
	{Word: "lay", Means: "How wood and kindling lie in the firebox before the match."},
	{Word: "raft", Means: "Parallel sticks with narrow gaps, each layer turned a little, lit on top.",
		Drawn: `<path d="M8 34h48v-6H8zM12 26h44v-6H12zM8 18h48v-6H8z" class="bar"/><path d="M32 10c4-4 2-6 0-8c-2 2-4 4 0 8z" class="sign-ember"/>`},
	{Word: "open V", Means: "Two splits in a V that opens to the air, with the kindling between them.",
		Drawn: `<path d="M10 6l20 30M54 6L34 36" class="pen"/><path d="M26 20h12M28 26h8M30 32h4" class="sign"/>`},
	{Word: "end-on", Means: "Pieces point at the door, also called north–south. Hotter and quicker."},
	{Word: "sideways", Means: "Pieces lie along the door, also called east–west. Slower."},
	{Word: "load", Means: "The wood that goes on at one time."},
	{Word: "reload", Means: "The next load, on the coals of the one before."},
	{Word: "char", Means: "To burn with much air until every face of the wood is black."},
	{Word: "turn down", Means: "To give less air, in steps, once the wood is black and the flue is warm."},
	{Word: "cruise", Means: "The long part of a burn: turned down, flames slow and high, nothing to do."},
	{Word: "lively flames", Means: "Many, bright and quick. So a load lights, and so it turns black.", Drawn: Lively.Drawn},
	{Word: "lazy flames", Means: "Few, high and slow. So a fire looks that is turned down well.", Drawn: Lazy.Drawn},
	{Word: "coals", Means: "Glowing wood without flames. Enough of them light the next load."},
	{Word: "smoulder", Means: "To burn without flames while there is wood. It smokes and leaves tar in the flue."},
	{Word: "overfire", Means: "Hotter than the stove may be. Air down, door shut, nothing more on."},
	{Word: "flue", Means: "The way of the smoke, from the stove to the cap."},
	{Word: "cap", Means: "The top of the chimney, where you look for smoke.",
		Drawn: `<path d="M22 38V14h20v24M16 14h32M22 8h20" class="thin"/><path d="M28 6c-2-3 2-3 0-6M36 6c-2-3 2-3 0-6" class="sign-ash"/>`},
	{Word: "white vapour", Means: "Water from the wood, at the cap. It is gone within a few metres, and needs nothing.", Drawn: Vapour.Drawn},
	{Word: "blue-grey smoke", Means: "Gas that did not burn. It trails far and stings: more air, or drier wood.", Drawn: BlueGrey.Drawn},
	{Word: "connector", Means: "The pipe from the stove to the chimney."},
	{Word: "probe", Means: "A thermometer in the gas of the connector. One on the pipe's surface reads about half."},
	{Word: "draft", Means: "How hard the chimney pulls, in pascals. Weak is under 5, strong over 25."},
	{Word: "spill", Means: "Smoke that comes into the room instead of going up."},
	{Word: "deposits", Means: "Soot and tar in the flue. They can burn: that is a chimney fire."},
	{Word: "working band", Means: "The range of a gauge in which this stove burns well: too low it smokes, too high it overheats."},
	{Word: "clearance", Means: "How far everything that burns must stay from the stove: on its plate, or in its manual."},
}
