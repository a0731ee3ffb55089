// Package mill is the made-up household that Smolder is shown and tested with:
// Tarn Mill, on the island of Hallasey, with its four stoves, the spaces they
// heat, its wood, and wishes that its people might have.
package mill

import (
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A Space is what a stove heats, and how warm it is kept.
type Space struct {
	Name   string
	House  house.House
	Wanted [2]units.Celsius
}

// A Placed is a stove in its space.
type Placed struct {
	stove.Stove
	Space Space
}

// wanted is how warm every space is kept.
var wanted = [2]units.Celsius{19, 21.5}

// Spaces are what the stoves heat.
func Spaces() []Space {
	return []Space{
		{Name: "kitchen", House: house.House{Floor: 62, Build: house.Draughty, N50: 7, Volume: 420_000}, Wanted: wanted},
		{Name: "weaving loft", House: house.House{Floor: 70, Build: house.Ordinary, N50: 5, Volume: 420_000}, Wanted: wanted},
		{Name: "millwright's shop", House: house.House{Floor: 38, Build: house.Draughty, N50: 11, Volume: 130_000}, Wanted: wanted},
		{Name: "mail boat's cabin", House: house.House{Floor: 7, Build: house.Vehicle, N50: 9, Volume: 14_000}, Wanted: wanted},
	}
}

func gauges(places ...stove.Place) []stove.Gauge {
	out := make([]stove.Gauge, len(places))
	for i, p := range places {
		out[i] = stove.NewGauge(p)
	}
	return out
}

// Stoves are the four of the house, in the order they are lit most.
func Stoves() []Placed {
	spaces := Spaces()
	return []Placed{
		{Stove: stove.Stove{Name: "Auntie", Room: "kitchen", Family: stove.SecondaryAir, Volume: 55, Width: 0.46, Depth: 0.38, Height: 0.33,
			MaxLoad: 7, Output: 8000,
			Controls: []stove.Control{{Key: "lever", Name: "Lever", Role: stove.Combined, Scale: stove.Scale{Kind: stove.Lever}}},
			Gauges:   gauges(stove.ConnectorProbe, stove.Top, stove.RoomAir),
			Chimney:  flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.Insulated, Altitude: 40}}, Space: spaces[0]},
		{Stove: stove.Stove{Name: "Loom", Room: "weaving loft", Family: stove.Catalytic, Volume: 70, Width: 0.52, Depth: 0.42, Height: 0.34,
			MaxLoad: 10, Output: 9000,
			Controls: []stove.Control{
				{Key: "air", Name: "Firebox air", Role: stove.PrimaryAir, Scale: stove.Scale{Kind: stove.Turns, Full: 4}},
				{Key: "chamber", Name: "Chamber air", Role: stove.SecondAir, Scale: stove.Scale{Kind: stove.Turns, Full: 3}},
				{Key: "bypass", Name: "Bypass", Role: stove.BypassRole, Scale: stove.Scale{Kind: stove.Notches, Notches: []string{"shut", "open"}}}},
			Gauges:  gauges(stove.CatalystProbe, stove.ConnectorProbe, stove.RoomAir),
			Chimney: flue.Chimney{Height: 5, Diameter: 0.15, Bends: 1, Lining: flue.BareLiner, Altitude: 45}}, Space: spaces[1]},
		{Stove: stove.Stove{Name: "Clinker", Room: "millwright's shop", Family: stove.MultiFuel, Volume: 32, Width: 0.36, Depth: 0.32, Height: 0.30,
			MaxLoad: 4, Output: 5000,
			Controls: []stove.Control{
				{Key: "top", Name: "Top air", Role: stove.TopAir, Scale: stove.Scale{Kind: stove.Sixteenths, Full: 12}},
				{Key: "grate", Name: "Under-grate air", Role: stove.UnderGrate, Scale: stove.Scale{Kind: stove.Millimetres, Full: 15}},
				{Key: "riddle", Name: "Riddle", Role: stove.Riddle, Scale: stove.Scale{Kind: stove.Notches, Notches: []string{"in", "out"}}}},
			Gauges:  gauges(stove.ConnectorSurface),
			Chimney: flue.Chimney{Height: 8, Diameter: 0.13, Bends: 2, Horizontal: 0.5, Lining: flue.BareLiner, Outside: true, Altitude: 40}}, Space: spaces[2]},
		{Stove: stove.Stove{Name: "Pip", Room: "mail boat's cabin", Family: stove.Tiny, Volume: 9, Width: 0.24, Depth: 0.2, Height: 0.2,
			MaxLoad: 1.1, Output: 2000,
			Controls: []stove.Control{
				{Key: "vent", Name: "Door vent", Role: stove.DoorVent,
					Scale: stove.Scale{Kind: stove.Notches, Notches: []string{"shut", "one", "two", "three", "open"}}},
				{Key: "damper", Name: "Barometric damper", Role: stove.Barometric, Scale: stove.Scale{Kind: stove.PercentOpen}}},
			Gauges:  gauges(stove.ConnectorSurface, stove.RoomAir),
			Chimney: flue.Chimney{Height: 2.2, Diameter: 0.1, Lining: flue.SingleRun}}, Space: spaces[3]},
	}
}

// Stacks are the wood at the beginning of the season.
func Stacks() []wood.Stack {
	species := func(key string) wood.Species { s, _ := wood.SpeciesByKey(key); return s }
	return []wood.Stack{
		{Name: "Beech, lean-to", Species: species("beech"), PieceMass: 1.3, PieceLength: 0.33, Reading: 0.16, WoodTemp: 8, Mass: 2600},
		{Name: "Oak, north stack", Species: species("oak"), PieceMass: 1.9, PieceLength: 0.35, Reading: 0.17, WoodTemp: 6, Mass: 1900},
		{Name: "Spruce, mill yard", Species: species("spruce"), PieceMass: 0.8, PieceLength: 0.25, Reading: 0.15, WoodTemp: 8, Mass: 700},
		{Name: "Ash from the lane, new", Species: species("ash"), PieceMass: 1.4, PieceLength: 0.33, Reading: 0.27, WoodTemp: 4, Mass: 900},
		{Name: "Cabin cuts", Species: species("alder"), PieceMass: 0.28, PieceLength: 0.16, Reading: 0.14, WoodTemp: 12, Mass: 120},
		{Name: "Offcuts", Species: species("softwood-offcuts"), PieceMass: 0.09, PieceLength: 0.24, Reading: 0.12, WoodTemp: 14, Mass: 260, Kindling: true},
	}
}
