package wish

import (
	"math"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// Setup is the fire before the plan begins.
func (w Wish) Setup() fire.Setup {
	coals, warmth := w.Start.Coals(w.Stove.Volume)
	if w.Body > 0 {
		warmth = w.Body
	}
	house := w.House
	if w.Help.FansOff {
		house.Fan = 0
	}
	setup := fire.Setup{Stove: w.Stove, House: house, Outdoor: w.Outdoor, Room: w.Room, Coals: coals, Warmth: warmth, Weather: w.Weather, Beside: w.Beside}
	if w.Known != nil {
		setup.Tuning = w.Known.Tuning()
	}
	return setup
}

// Belief is what is believed of the stove.
func (w Wish) Belief() belief.Prior {
	if w.Known != nil {
		return *w.Known
	}
	return belief.Usual()
}

// LoadOf returns pieces of a stack at hand as a load.
func (w Wish) LoadOf(of, pieces int, d stove.Direction, lay fire.Lay) fire.Load {
	pick := w.Woods()[of]
	s := pick.Stack
	return fire.Load{Species: s.Species, Moisture: s.Moisture(), Pieces: pieces, PieceMass: s.PieceMass,
		PieceLength: s.PieceLength, Direction: d, Lay: lay, StackName: s.Name, StackID: pick.ID, Colder: s.Colder,
		Spread: s.Spread, Guessed: s.Takes("reading")}
}

// What a first fire is laid of: a piece that is heavier than a wrist is thick is split
// again, into so many parts at most. Thick wood over a young flame gasses long before it burns:
// halves make a fifth to a third less smoke until the stove is warm.
const (
	wristThick = units.Kilogram(0.8) // a split of a third of a metre, 9 cm thick; 0.6 to 1
	mostParts  = 3
)

// FirstParts is into how many parts each piece of a stack is split for a first fire; 1: it is
// thin enough.
func (w Wish) FirstParts(of int) int {
	return max(1, min(mostParts, int(math.Ceil(float64(w.Woods()[of].Stack.PieceMass/wristThick)-1e-9))))
}

// FirstLoad is so many pieces of a stack as they are laid for a first fire.
func (w Wish) FirstLoad(of, pieces int, d stove.Direction, lay fire.Lay) fire.Load {
	l, parts := w.LoadOf(of, pieces, d, lay), w.FirstParts(of)
	l.Pieces, l.PieceMass = pieces*parts, l.PieceMass/units.Kilogram(parts)
	return l
}

// starterHeat is a wax block's.
const starterHeat units.Joule = 0.9e6

// kindlingOn is the share of a cold start's kindling that coals need: they give the heat, and
// sticks only the flame.
var kindlingOn = map[Start]float64{FewCoals: 0.75, LayerCoals: 0.4}

// KindlingLoad returns the kindling for a cold start, a good armful, or the sticks for few
// coals, from its stack, or offcuts that every household has when no stack is named.
func (w Wish) KindlingLoad(lay fire.Lay) fire.Load {
	mass := units.Kilogram(math.Max(0.2, math.Min(1.3, 0.022*float64(w.Stove.Volume))))
	if share, ok := kindlingOn[w.Start]; ok {
		mass *= units.Kilogram(share)
	}
	soft, _ := wood.SpeciesByKey("softwood-offcuts")
	stack := wood.Stack{Name: "kindling", Species: soft, PieceMass: 0.09, PieceLength: 0.25, Reading: 0.14, WoodTemp: 20}
	var id int64
	if w.Kindling != nil && w.Kindling.Stack.Pieces() > 3 {
		stack, id = w.Kindling.Stack, w.Kindling.ID
	}
	length := min(stack.PieceLength, max(w.Stove.LongestPiece(stove.EndOn), w.Stove.LongestPiece(stove.Sideways)))
	pieces := max(4, int(math.Round(float64(mass/stack.PieceMass))))
	if id != 0 {
		pieces = min(pieces, stack.Pieces())
	}
	l := fire.Load{Species: stack.Species, Moisture: stack.Moisture(), Pieces: pieces,
		PieceMass: stack.PieceMass, PieceLength: length, Direction: stove.Sideways, Lay: lay, Kindling: true, StackName: stack.Name, StackID: id,
		Colder: stack.Colder, Spread: stack.Spread, Guessed: stack.Takes("reading")}
	if w.Start == LayerCoals {
		return l // the coals light it
	}
	if w.Starter != "" {
		l.StarterKind = w.Starter
		return l
	}
	l.StarterKind, l.Starter = fire.WaxBlock, starterHeat*units.Joule(math.Min(1, float64(w.Stove.Volume)/30))
	return l
}

// Woods are the stacks at hand: the first wished, then the others.
func (w Wish) Woods() []Pick { return append([]Pick{w.Wood}, w.Others...) }

// Lightest is the stack of the lightest wood.
func (w Wish) Lightest() int {
	best := 0
	for i, p := range w.Woods() {
		if p.Stack.Species.Gravity < w.Woods()[best].Stack.Species.Gravity {
			best = i
		}
	}
	return best
}

// Fits tells whether the pieces of a stack go in that way round.
func (w Wish) Fits(of int, d stove.Direction) bool {
	return w.Woods()[of].Stack.PieceLength <= w.Stove.LongestPiece(d)
}

// MostPieces is how many pieces the manual, the firebox and the stack allow.
func (w Wish) MostPieces(of int) int {
	s := w.Woods()[of].Stack
	byManual := int(float64(w.Stove.MaxLoad)/float64(s.PieceMass) + 1e-9)
	each := wood.LoadOf(s.Species, s.Moisture(), s.PieceMass).Stacked
	byRoom := int(float64(w.Stove.Volume) * 0.85 / float64(each))
	return max(1, min(byManual, byRoom, s.Pieces()))
}
