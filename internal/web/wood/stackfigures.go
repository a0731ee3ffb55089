package wood

import (
	"fmt"

	"smolder/internal/app/shed"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/web/kit"
)

// stackFigures are what a stack's wood comes to.
func stackFigures(q *kit.Request, s shed.Stack) []kit.Figure {
	u, moisture := q.Locale(), s.Moisture()
	counted := q.T("counted ") + q.Locale().Date(s.CountedAt.In(q.Profile.Location()), "2 January 2006")
	used := kit.From(q.T("logged since, with its water"), u.Mass(s.AsIs(s.Used)), kit.Entered)
	if s.Species.Mineral {
		return []kit.Figure{kit.NewFigure(q.T("remaining"), u.Mass(s.Mass), q.T("What was counted less the loads logged since."),
			kit.From(counted, u.Mass(s.Counted()), kit.Entered), used)}
	}
	l := wood.LoadOf(s.Species, moisture, s.Mass)
	water := kit.NewFigure(q.T("moisture today, dry basis"), say.Moisture(s.Wood()),
		q.T("Fresh wood of its kind, dried day by day through usual years as it lies, as far as the readings leave; a reading is corrected for the wood's "+
			"temperature: meters are made for about ")+u.Temperature(20)+q.T(" and read low in cold wood. The range is of four out of five stacks."),
		kit.From(q.T("readings"), fmt.Sprint(len(s.Readings)), readings(s)), kit.From(q.T("how it lies"), q.T(say.Covers.Name(s.Cover)), lying(s)),
		kit.From(q.T("weather"), q.T("of usual years"), kit.Assumed))
	return []kit.Figure{
		water,
		kit.NewFigure(q.T("moisture, wet basis"), q.Locale().Percent(wood.WetBasis(moisture), 1), q.T("Water ÷ whole piece = u ÷ (1 + u)."),
			kit.From(q.T("dry basis u"), q.Locale().Percent(moisture, 1), kit.Computed)),
		kit.NewFigure(q.T("net energy"), u.HeatOf(s.NetEnergy()),
			q.T("(gross − 2.442 · 9 · 6 % hydrogen) · (1 − w) − 2.442 · w: what is left after the vapour has gone up the flue."),
			kit.From(q.T("gross, oven dry"), u.HeatOf(s.Species.Gross), kit.Assumed),
			kit.From(q.T("wet basis w"), q.Locale().Percent(wood.WetBasis(moisture), 1), kit.Computed)),
		kit.NewFigure(q.T("remaining"), q.F("%s, %s, %s stacked", u.Mass(s.Mass), kit.PieceWord(s.Pieces(), q.Locale()), u.Volume(l.Stacked)),
			q.T("What was counted, and what was put on it, less the loads logged since; as oven-dry wood, since water leaves by itself."),
			kit.From(counted, u.Mass(s.Counted()), from(s, "mass", kit.Entered)), used,
			kit.From(q.T("a usual piece"), u.Piece(s.PieceMass), from(s, "piece-mass", kit.Entered)), kit.From(q.T("wood in a stack's outline"), "65 %", kit.Assumed)),
		kit.NewFigure(q.T("heat in what is left"), u.Energy(l.Energy),
			q.T("Mass left × net energy per kg. In the stove some three quarters of it reach the room."), kit.From(q.T("mass"), u.Mass(s.Mass), kit.Computed)),
	}
}

// readings tells whether a meter was read at all.
func readings(s shed.Stack) lang.Message {
	if shed.Metered(s.Stack) {
		return kit.Measured
	}
	return kit.Assumed
}

// lying tells whether somebody said how the stack lies.
func lying(s shed.Stack) lang.Message {
	if s.Cover == "" {
		return kit.Assumed
	}
	return kit.Entered
}

// from tells where a figure of a stack comes from.
func from(s shed.Stack, field string, told lang.Message) lang.Message {
	if s.Takes(field) {
		return kit.Assumed
	}
	return told
}
