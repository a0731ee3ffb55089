package web

import (
	"smolder/internal/core/units"
	"smolder/internal/strip"
)

// draftFigures are the column in figures.
func draftFigures(q *request, c strip.Column) []figure {
	u, d, ch := q.units(), c.Draft(), c.Stove.Chimney
	from, above := entered, entered
	if c.House.Assumed {
		from = assumed
	}
	if ch.Altitude == 0 {
		above = assumed
	}
	return []figure{
		{"draft made", u.Draft(d.Made), "gravity · height · air pressure ÷ 287 · (1 ÷ outdoor − 1 ÷ mean gas), temperatures in kelvins.",
			[]input{{"height", u.Length(ch.Height), entered}, {"outdoors", u.Temperature(c.Outdoor), entered}, {"mean gas along the height", u.Temperature(d.Mean), computed}, {"altitude", u.Length(ch.Altitude), above}}},
		{"against it: fans", u.Draft(d.Fans), "(fan flow ÷ C)^(1 ÷ 0.65), C = n50 · volume ÷ 50^0.65.",
			[]input{{"fans running", u.Flow(c.House.Fan), entered}, {"air changes at 50 Pa", units.Number(c.House.N50, 1), from}, {"house", u.Air(c.House.Volume), from}}},
		{"against it: the warm house", u.Draft(d.House), "The house is a warm column too: half the draft of 1.5 m of room air.", []input{{"room", u.RoomTemperature(c.Room), entered}}},
		{"net draft at the stove", u.Draft(d.Net), "Made, less what works against it.", []input{{"gas at the collar", u.Temperature(max(c.Gas, ch.Around(c.Room, c.Outdoor))), entered}}},
	}
}
