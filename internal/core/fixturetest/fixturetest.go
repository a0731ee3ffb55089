// Package fixturetest draws wishes for generated tests.
package fixturetest

import (
	"time"

	"pgregory.net/rapid"

	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
)

// AnyWish is what somebody might ask for: any family, weather, aim, wood.
func AnyWish(t *rapid.T) wish.Wish {
	family := rapid.SampledFrom(stove.Families).Draw(t, "family")
	w := fixture.FamilyEvening(family, rapid.SampledFrom(wish.Starts).Draw(t, "start"))
	number := func(name string, low, high float64) float64 { return rapid.Float64Range(low, high).Draw(t, name) }
	w.Aim = rapid.SampledFrom(wish.Aims).Draw(t, "aim")
	if g, ok := w.Stove.Guide(); w.Aim == wish.HoldGauge && ok {
		w.Target = wish.Target{Place: g.Place, At: units.Celsius(number("target", 80, 300))}
	}
	w.For = time.Duration(number("for", 1, 10)*60) * time.Minute
	w.Outdoor, w.Room = units.Celsius(number("outdoor", -15, 15)), units.Celsius(number("room", 12, 20))
	w.Wood.Stack.Reading = units.Fraction(number("reading", 0.10, 0.32))
	w.Wood.Stack.Mass = units.Kilogram(number("left", 0.2, 60) + rapid.SampledFrom([]float64{0, 4, 40}).Draw(t, "more"))
	if family != stove.Tiny {
		w.Wood.Stack.PieceMass = units.Kilogram(number("piece", 0.5, 2.5))
	}
	w.Stove.Chimney.Height = units.Metre(number("height", 3, 9))
	w.House.Fan = units.Flow(rapid.SampledFrom([]float64{0, 0, 150}).Draw(t, "fan"))
	if w.Start == wish.Cold {
		w.Lay = rapid.SampledFrom([]fire.Lay{"", "", fire.TopDown, fire.Raft, fire.OpenV, fire.LeanTo, fire.BottomUp}).Draw(t, "lay")
	}
	if rapid.Bool().Draw(t, "leaves") {
		w.There = when.Presence{{To: time.Duration(number("leave", 0.5, 3)*60) * time.Minute}}
		if rapid.Bool().Draw(t, "returns") {
			back := w.There[0].To + time.Duration(number("out", 1, 6)*60)*time.Minute
			w.There = append(w.There, when.Span{From: back, To: back + 4*time.Hour})
		}
	}
	return w
}
