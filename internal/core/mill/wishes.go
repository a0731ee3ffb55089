package mill

import (
	"time"

	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
)

// The stoves and stacks by their place in [Stoves] and [Stacks].
const (
	Auntie = iota
	Loom
	Clinker
	Pip
)

// The stacks.
const (
	Beech = iota
	Oak
	Spruce
	NewAsh
	CabinCuts
	Offcuts
)

// WoodOf is the stack that each stove burns.
var WoodOf = []int{Beech, Oak, Spruce, CabinCuts}

// Evening is a usual evening in one of the stoves, from a stack.
func Evening(stoveIndex, stackIndex int, start wish.Start) wish.Wish {
	st, stacks := Stoves()[stoveIndex], Stacks()
	return wish.Wish{Stove: st.Stove, House: st.Space.House, Aim: wish.Hold, For: 5 * time.Hour, Outdoor: 2, Room: 17, Low: 19, High: 21.5,
		Start: start, Wood: wish.Pick{ID: 1, Stack: stacks[stackIndex]}, Kindling: &wish.Pick{ID: 2, Stack: stacks[Offcuts]}}
}

// FamilyEvening is an evening with a middling stove of a family that nobody in
// the household has: two air controls, a probe in the pipe, and what the family
// has besides.
func FamilyEvening(f stove.Family, start wish.Start) wish.Wish {
	w := Evening(Auntie, Beech, start)
	percent := stove.Scale{Kind: stove.PercentOpen}
	st := stove.Stove{Name: string(f), Family: f, Volume: 40, Width: 0.42, Depth: 0.36, Height: 0.30, Output: 7000, MaxLoad: 5,
		Chimney: flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.Insulated},
		Controls: []stove.Control{{Key: "primary", Name: "Primary air", Role: stove.PrimaryAir, Scale: percent},
			{Key: "second", Name: "Second air", Role: stove.SecondAir, Scale: percent}},
		Gauges: []stove.Gauge{stove.NewGauge(stove.ConnectorProbe)}}
	switch f {
	case stove.Plain:
		st.Controls = st.Controls[:1]
	case stove.Catalytic:
		st.Controls = []stove.Control{st.Controls[0], {Key: "bypass", Name: "Bypass", Role: stove.BypassRole, Scale: percent}}
		st.Gauges = append(st.Gauges, stove.NewGauge(stove.CatalystProbe))
	case stove.Tiny:
		st.Volume, st.Width, st.Depth, st.Height, st.Output, st.MaxLoad = 10, 0.24, 0.20, 0.21, 2500, 1.2
		st.Chimney = flue.Chimney{Height: 3, Diameter: 0.1, Lining: flue.Insulated}
		w.Wood.Stack.PieceLength, w.Wood.Stack.PieceMass = 0.16, 0.3
		w.Kindling = nil
	}
	w.Stove = st
	return w
}

// SinglesEvening is an evening in a cabin whose stove's manual allows one piece
// of half a usual load at a time.
func SinglesEvening(start wish.Start) wish.Wish {
	w := Evening(Auntie, Beech, start)
	w.Stove = stove.Stove{Name: "Snug", Family: stove.SecondaryAir, Volume: 20, Width: 0.32, Depth: 0.26, Height: 0.25, Output: 4000, MaxLoad: 1.2,
		Chimney:  flue.Chimney{Height: 4, Diameter: 0.12, Lining: flue.Insulated},
		Controls: []stove.Control{{Key: "air", Name: "Air", Role: stove.PrimaryAir, Scale: stove.Scale{Kind: stove.PercentOpen}}},
		Gauges:   []stove.Gauge{stove.NewGauge(stove.ConnectorProbe)}}
	w.House = house.House{Floor: 18, Build: house.Draughty, Volume: 45000, N50: 9}
	w.Wood.Stack.PieceLength, w.Wood.Stack.PieceMass, w.Others = 0.24, 0.4, nil
	w.For, w.Outdoor, w.Room = 6*time.Hour, -4, 16
	return w
}

// TenHours is a night from cold in a mid-size stove with two stacks at hand: what
// searches are measured by.
func TenHours() wish.Wish {
	beech, _ := wood.SpeciesByKey("beech")
	oak, _ := wood.SpeciesByKey("oak")
	return wish.Wish{Stove: stove.Stove{Name: "Auntie", Family: stove.SecondaryAir, Volume: 55, Width: 0.46, Depth: 0.38, Height: 0.33,
		MaxLoad: 7, Output: 8000,
		Controls: []stove.Control{{Key: "lever", Name: "Lever", Role: stove.Combined, Scale: stove.Scale{Kind: stove.Lever}}},
		Gauges:   []stove.Gauge{stove.NewGauge(stove.ConnectorProbe)}, Chimney: flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.Insulated}},
		House: house.Default(), Aim: wish.Overnight, For: 10 * time.Hour, Outdoor: 0, Room: 17, Low: 18, High: 21.5, Start: wish.Cold,
		Wood:   wish.Pick{ID: 1, Stack: wood.Stack{Name: "Beech", Species: beech, PieceMass: 1.3, PieceLength: 0.33, Reading: 0.16, WoodTemp: 8, Mass: 2000}},
		Others: []wish.Pick{{ID: 2, Stack: wood.Stack{Name: "Oak", Species: oak, PieceMass: 1.9, PieceLength: 0.35, Reading: 0.17, WoodTemp: 6, Mass: 1900}}}}
}
