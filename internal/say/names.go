package say

import (
	"smolder/internal/core/fire"
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
)

// A Word is a term's key with the word that is shown for it.
type Word[K ~string] struct {
	Key   K
	Name  lang.Message
	Short lang.Message // where there is little room; empty: Name
	About lang.Message // what it means, where the word does not say it
}

// words are the terms of one vocabulary, in the order of their lists.
type words[K ~string] []Word[K]

// Of returns the word for a key; the key itself where there is none.
func (w words[K]) Of(key K) Word[K] {
	for _, word := range w {
		if word.Key == key {
			if word.Short == "" {
				word.Short = word.Name
			}
			return word
		}
	}
	return Word[K]{Key: key, Name: lang.Message(key), Short: lang.Message(key)}
}

// Name returns a key's word.
func (w words[K]) Name(key K) lang.Message { return w.Of(key).Name }

// Short returns a key's short word.
func (w words[K]) Short(key K) lang.Message { return w.Of(key).Short }

// The vocabularies.
var (
	Aims = words[wish.Aim]{
		{Key: wish.Hold, Name: "hold an evening"},
		{Key: wish.WarmUp, Name: "warm up quickly"},
		{Key: wish.Overnight, Name: "hold the night"},
		{Key: wish.TakeOff, Name: "take the chill off"},
		{Key: wish.Away, Name: "last while nobody is in"},
		{Key: wish.DryOut, Name: "dry out a room or a new stove"},
		{Key: wish.HoldGauge, Name: "hold a gauge at a number"},
	}
	// Felts are how a room is to who has no thermometer.
	Felts = words[wish.Felt]{
		{Key: wish.FeelsCold, Name: "cold"}, {Key: wish.FeelsChilly, Name: "chilly"}, {Key: wish.FeelsRight, Name: "right"}, {Key: wish.FeelsWarm, Name: "warm"},
	}
	// Starts are what is in the stove now.
	Starts = words[wish.Start]{
		{Key: wish.Cold, Name: "cold", Short: "light from cold"},
		{Key: wish.FewCoals, Name: "on a handful of coals", Short: "restart on few coals"},
		{Key: wish.LayerCoals, Name: "on a layer of coals", Short: "restart on few coals"},
		{Key: wish.GoodCoals, Name: "on a good bed of coals", Short: "load on the coals"},
	}
	DoorRules = words[stove.Lit]{
		{Key: stove.DoorAjar, Name: "ajar until it burns"},
		{Key: stove.DoorLatch, Name: "on the latch until it burns"},
		{Key: stove.DoorShut, Name: "shut from the match on"},
	}
	FlapRules = words[stove.FlapRule]{
		{Key: stove.FlapNever, Name: "never open on wood"},
		{Key: stove.FlapLight, Name: "open to light, and shut again"},
	}
	ToLights = words[stove.ToLight]{
		{Key: stove.OpenUntilLit, Name: "open until it burns"},
		{Key: stove.OpenUntilBlack, Name: "open until the wood is black"},
		{Key: stove.StaysShut, Name: "shut"},
	}
	Families = words[stove.Family]{
		{Key: stove.SecondaryAir, Name: "secondary air", About: "insulated firebox with a baffle and preheated air; often one lever for all the air"},
		{Key: stove.Plain, Name: "plain", About: "one or two air inlets and no second air"},
		{Key: stove.Catalytic, Name: "catalytic", About: "a honeycomb behind a bypass"},
		{Key: stove.MultiFuel, Name: "multi-fuel", About: "a grate that riddles, air from above and below"},
		{Key: stove.Tiny, Name: "tiny", About: "for a boat, van or hut; pieces a hand long"},
		{Key: stove.Refractory, Name: "refractory, forced air", About: "heavy ceramic firebox with fans"},
	}
	Roles = words[stove.Role]{
		{Key: stove.Combined, Name: "one lever for all the air"},
		{Key: stove.PrimaryAir, Name: "primary air"},
		{Key: stove.SecondAir, Name: "secondary air"},
		{Key: stove.GlassWash, Name: "glass wash"},
		{Key: stove.UnderGrate, Name: "under-grate air"},
		{Key: stove.TopAir, Name: "top air"},
		{Key: stove.DoorVent, Name: "door vent"},
		{Key: stove.BypassRole, Name: "bypass"},
		{Key: stove.Damper, Name: "flue damper"},
		{Key: stove.Barometric, Name: "barometric damper"},
		{Key: stove.Fan, Name: "combustion fan"},
		{Key: stove.Blower, Name: "room blower"},
		{Key: stove.OutsideAir, Name: "outside-air gate"},
		{Key: stove.Riddle, Name: "riddling grate"},
		{Key: stove.AshFlap, Name: "ash-door flap"},
	}
	Scales = words[stove.ScaleKind]{
		{Key: stove.Lever, Name: "lever, left to right"},
		{Key: stove.Turns, Name: "turns"},
		{Key: stove.Millimetres, Name: "gap in mm"},
		{Key: stove.Sixteenths, Name: "gap in sixteenths of an inch"},
		{Key: stove.Notches, Name: "named notches"},
		{Key: stove.PercentOpen, Name: "percent"},
	}
	Places = words[stove.Place]{ // the short one stands at the end of a pen
		{Key: stove.ConnectorProbe, Name: "flue gas, probe in the connector", Short: "flue gas"},
		{Key: stove.ConnectorSurface, Name: "connector pipe, surface", Short: "pipe"},
		{Key: stove.Top, Name: "stove top, surface", Short: "top"},
		{Key: stove.CatalystProbe, Name: "catalyst, probe", Short: "catalyst"},
		{Key: stove.DoorPlate, Name: "door, surface", Short: "door"},
		{Key: stove.FireboxProbe, Name: "firebox, probe", Short: "firebox"},
		{Key: stove.RoomAir, Name: "room"},
		{Key: stove.OutdoorAir, Name: "outdoors"},
	}
	Linings = words[flue.Lining]{
		{Key: flue.Insulated, Name: "insulated liner or factory-made chimney"},
		{Key: flue.BareLiner, Name: "steel liner without insulation"},
		{Key: flue.Masonry, Name: "brick, stone or clay tiles"},
		{Key: flue.SingleRun, Name: "single-wall pipe all the way"},
	}
	Builds = words[house.Build]{
		{Key: house.Vehicle, Name: "van or boat"},
		{Key: house.Cabin, Name: "cabin or light timber house"},
		{Key: house.Draughty, Name: "old and draughty"},
		{Key: house.Ordinary, Name: "ordinary"},
		{Key: house.Tight, Name: "tight and insulated"},
		{Key: house.Super, Name: "super-insulated"},
	}
	Helpers = words[house.Helper]{
		{Key: house.Unsaid, Name: "not said"},
		{Key: house.Nothing, Name: "nothing: the stove is the only heat"},
		{Key: house.Some, Name: "other heating in the frost, at night or while we are away"},
		{Key: house.Half, Name: "other heating, about as much as the stove"},
		{Key: house.Most, Name: "other heating; the stove is for evenings"},
	}
	Lays = words[fire.Lay]{
		{Key: fire.TopDown, Name: "top-down", About: "kindling and starter on top"},
		{Key: fire.BottomUp, Name: "bottom-up", About: "a cabin of kindling under the splits"},
		{Key: fire.OpenV, Name: "open V", About: "two logs, a kindling core, a bridge log"},
		{Key: fire.LeanTo, Name: "lean-to", About: "kindling against a back log"},
		{Key: fire.Raft, Name: "raft", About: "parallel sticks in turned layers, lit on top"},
		{Key: fire.OnCoals, Name: "on raked coals"},
	}
	Starters = words[fire.Starter]{
		{Key: fire.WaxBlock, Name: "wax and wood-fibre block"},
		{Key: fire.TwoBlocks, Name: "two blocks, above and below"},
		{Key: fire.Paper, Name: "loose paper"},
		{Key: fire.Knots, Name: "knotted paper"},
		{Key: fire.Gel, Name: "gel"},
		{Key: fire.Torch, Name: "gas torch"},
		{Key: fire.HotAir, Name: "hot air"},
		{Key: fire.Igniter, Name: "built-in igniter"},
	}
	Covers = words[wood.Cover]{
		{Key: wood.Roof, Name: "under a roof, open at the sides"},
		{Key: wood.Top, Name: "covered on top"},
		{Key: wood.Open, Name: "in the open"},
		{Key: wood.Wrap, Name: "wrapped in a sheet, a tarpaulin to the ground"},
		{Key: wood.Tunnel, Name: "in a tunnel of clear plastic"},
		{Key: wood.Inside, Name: "indoors"},
	}
	Shapes = words[wood.Shape]{
		{Key: wood.Neat, Name: "splits, neatly stacked"},
		{Key: wood.Rounds, Name: "rounds, stacked"},
		{Key: wood.Crooked, Name: "crooked pieces, stacked"},
		{Key: wood.Tipped, Name: "tipped loose"},
	}
)

// terms are the words of what reasons name besides.
var terms = map[string]lang.Message{
	"width": "width", "depth": "depth", "height": "height",
	"stove-name": "the stove's name", "stove-room": "where it stands", "control-name": "the control's name",
	"stack-name": "the stack's name", "space-name": "the space's name", "household-name": "the household's name", "your-name": "your name",
}

// term is the word for a term's key, from whichever vocabulary has it.
func term(key string, loc lang.Locale) string {
	if name, ok := terms[key]; ok {
		return loc.T(name)
	}
	if name := Scales.Name(stove.ScaleKind(key)); string(name) != key {
		return loc.T(name)
	}
	return loc.T(Places.Name(stove.Place(key)))
}

// Flags says what somebody should know at once, as words for a list.
func Flags(f fire.Flags, loc lang.Locale) []string {
	var out []string
	for _, flag := range fire.AllFlags {
		if f&flag != 0 {
			out = append(out, loc.T(flagWords[flag]))
		}
	}
	return out
}

var flagWords = map[fire.Flags]lang.Message{
	fire.Smoulders:    "smoulders",
	fire.TooHot:       "too hot",
	fire.Spilling:     "spills into the room",
	fire.StarvedCoals: "starved coals make carbon monoxide",
	fire.ColdFlue:     "deposits settle",
}

// Readiness says what a moisture means for burning.
func Readiness(r wood.Readiness, loc lang.Locale) string {
	switch r {
	case wood.NotBurning:
		return loc.T("Manufactured mineral fuel: loads of it are recorded in a burn; the simulator does not burn it, and says so.")
	case wood.VeryDry:
		return loc.T("Very dry: it burns fast. Mix it with denser wood.")
	case wood.ReadyNow:
		return loc.T("Dry: ready to burn.")
	case wood.LittleWet:
		return loc.T("A little wet: it lights slowly and smokes longer. Better kept until it reads below 20 %.")
	}
	return loc.T("Too wet to burn well: much of its heat goes into driving water off, and the rest leaves as smoke. Let it dry.")
}
