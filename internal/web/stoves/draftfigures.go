package stoves

import (
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// draftFigures are the column in figures.
func draftFigures(q *kit.Request, c strip.Column) []kit.Figure {
	u, d, ch := q.Locale(), c.Draft(), c.Stove.Chimney
	from, above := kit.Entered, kit.Entered
	if c.House.Assumed {
		from = kit.Assumed
	}
	if ch.Altitude == 0 {
		above = kit.Assumed
	}
	return []kit.Figure{
		kit.NewFigure(q.T("draft made"), u.Draft(d.Made), q.T("gravity · height · air pressure ÷ 287 · (1 ÷ outdoor − 1 ÷ mean gas), temperatures in kelvins."), kit.From(q.T("height"), u.Length(ch.Height), kit.Entered), kit.From(q.T("outdoors"), u.Temperature(c.Outdoor), kit.Entered), kit.From(q.T("mean gas along the height"), u.Temperature(d.Mean), kit.Computed), kit.From(q.T("altitude"), u.Length(ch.Altitude), above)),
		kit.NewFigure(q.T("against it: fans"), u.Draft(d.Fans), q.T("(fan flow ÷ C)^(1 ÷ 0.65), C = n50 · volume ÷ 50^0.65."),
			kit.From(q.T("fans running"), u.Flow(c.House.Fan), kit.Entered), kit.From(q.T("air changes at 50 Pa"), q.Locale().Number(c.House.N50, 1), from),
			kit.From(q.T("house"), u.Air(c.House.Volume), from)),
		kit.NewFigure(q.T("against it: the warm house"), u.Draft(d.House), q.T("The house is a warm column too: half the draft of 1.5 m of room air."),
			kit.From(q.T("room"), u.RoomTemperature(c.Room), kit.Entered)),
		kit.NewFigure(q.T("net draft at the stove"), u.Draft(d.Net), q.T("Made, less what works against it."),
			kit.From(q.T("gas at the collar"), u.Temperature(max(c.Gas, ch.Around(c.Room, c.Outdoor))), kit.Entered)),
	}
}
