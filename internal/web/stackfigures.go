package web

import (
	"fmt"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/store"
)

// stackFigures are what a stack's wood comes to.
func stackFigures(q *request, s store.Stack) []figure {
	u, moisture := q.units(), s.Moisture()
	if s.Species.Mineral {
		return []figure{{Label: "left", Value: u.Mass(s.Mass), Formula: "What was counted less the loads logged since.",
			Inputs: []input{{"counted " + s.CountedAt.In(q.profile.Location()).Format("2 January 2006"), u.Mass(s.Counted), entered}, {"used since", u.Mass(s.Used), entered}}}}
	}
	l := wood.LoadOf(s.Species, moisture, s.Mass)
	return []figure{
		{"moisture, dry basis", units.Percent(moisture, 1), "The meter's reading corrected for the wood's temperature: meters are made for wood at about 20 °C and read low in cold wood.",
			[]input{{"reading", units.Percent(s.Reading, 0), measured}, {"wood temperature", u.Temperature(s.WoodTemp), measured}}},
		{"moisture, wet basis", units.Percent(wood.WetBasis(moisture), 1), "Water ÷ whole piece = u ÷ (1 + u).", []input{{"dry basis u", units.Percent(moisture, 1), computed}}},
		{"net energy per kg", fmt.Sprintf("%s MJ, %s kWh", units.Number(s.NetEnergy(), 1), units.Number(s.NetEnergy()/3.6, 1)),
			"(gross − 2.442 · 9 · 6 % hydrogen) · (1 − w) − 2.442 · w: what is left after the vapour has gone up the flue.",
			[]input{{"gross, oven dry", units.Number(s.Species.Gross, 1) + " MJ/kg", assumed}, {"wet basis w", units.Percent(wood.WetBasis(moisture), 1), computed}}},
		{"left", fmt.Sprintf("%s, %s, %s stacked", u.Mass(s.Mass), pieceWord(s.Pieces()), u.Volume(l.Stacked)), "What was counted less the loads logged since.",
			[]input{{"counted " + s.CountedAt.In(q.profile.Location()).Format("2 January 2006"), u.Mass(s.Counted), entered}, {"used since", u.Mass(s.Used), entered},
				{"a usual piece", u.Piece(s.PieceMass), entered}, {"wood in a stack's outline", "65 %", assumed}}},
		{"heat in what is left", u.Energy(l.Energy), "Mass left × net energy per kg. In the stove some three quarters of it reach the room.", []input{{"mass", u.Mass(s.Mass), computed}}},
	}
}
