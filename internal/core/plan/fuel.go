package plan

import (
	"math"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// setup is the fire before the plan begins.
func (w Wish) setup() fire.Setup {
	coals, warmth := w.Start.Coals(w.Stove.Volume)
	if w.Body > 0 {
		warmth = w.Body
	}
	house := w.House
	if w.Help.FansOff {
		house.Fan = 0
	}
	return fire.Setup{Stove: w.Stove, House: house, Outdoor: w.Outdoor, Room: w.Room, Coals: coals, Warmth: warmth, Weather: w.Weather, Beside: w.Beside}
}

// load returns pieces of a stack at hand as a load.
func (w Wish) load(of, pieces int, d stove.Direction, lay fire.Lay) fire.Load {
	pick := w.woods()[of]
	s := pick.Stack
	return fire.Load{Species: s.Species, Moisture: s.Moisture(), Pieces: pieces, PieceMass: s.PieceMass,
		PieceLength: s.PieceLength, Direction: d, Lay: lay, StackName: s.Name, StackID: pick.ID}
}

// starterHeat is a wax block's.
const starterHeat units.Joule = 0.9e6

// kindling returns the kindling for a cold start, or for few coals: a good armful from its
// stack, or offcuts that every household has when no stack is named.
func (w Wish) kindling(lay fire.Lay) fire.Load {
	mass := units.Kilogram(math.Max(0.2, math.Min(1.3, 0.022*float64(w.Stove.Volume))))
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
		PieceMass: stack.PieceMass, PieceLength: length, Direction: stove.Sideways, Lay: lay, Kindling: true, StackName: stack.Name, StackID: id}
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
