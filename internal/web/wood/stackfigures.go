package wood

import (
	"fmt"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// stackFigures are what a stack's wood comes to.
func stackFigures(q *kit.Request, s store.Stack) []kit.Figure {
	u, moisture := q.Units(), s.Moisture()
	if s.Species.Mineral {
		return []kit.Figure{
			{Label: "left", Value: u.Mass(s.Mass), Formula: "What was counted less the loads logged since.",
				Inputs: []kit.Input{kit.From("counted "+s.CountedAt.In(q.Profile.Location()).Format("2 January 2006"), u.Mass(s.Counted), kit.Entered),
					kit.From("used since", u.Mass(s.Used), kit.Entered)}},
		}
	}
	l := wood.LoadOf(s.Species, moisture, s.Mass)
	water := kit.NewFigure("moisture, dry basis", units.Percent(moisture, 1),
		"The meter's reading corrected for the wood's temperature: meters are made for wood at about 20 °C and read low in cold wood.",
		kit.From("reading", units.Percent(s.Reading, 0), kit.Measured),
		kit.From("wood temperature", u.Temperature(s.WoodTemp), from(s, "wood-temp", kit.Measured)))
	if s.Spread > 0 {
		water = kit.NewFigure("moisture, dry basis", say.Moisture(s.Stack),
			"Green wood of its kind, dried day by day through usual years since it was split; the range is of four out of five stacks.",
			kit.From("how long it has lain", "", kit.Entered), kit.From("weather", "of usual years", kit.Assumed))
	}
	return []kit.Figure{
		water,
		kit.NewFigure("moisture, wet basis", units.Percent(wood.WetBasis(moisture), 1), "Water ÷ whole piece = u ÷ (1 + u).",
			kit.From("dry basis u", units.Percent(moisture, 1), kit.Computed)),
		kit.NewFigure("net energy per kg", fmt.Sprintf("%s MJ, %s kWh", units.Number(s.NetEnergy(), 1), units.Number(s.NetEnergy()/3.6, 1)),
			"(gross − 2.442 · 9 · 6 % hydrogen) · (1 − w) − 2.442 · w: what is left after the vapour has gone up the flue.",
			kit.From("gross, oven dry", units.Number(s.Species.Gross, 1)+" MJ/kg", kit.Assumed),
			kit.From("wet basis w", units.Percent(wood.WetBasis(moisture), 1), kit.Computed)),
		kit.NewFigure("left", fmt.Sprintf("%s, %s, %s stacked", u.Mass(s.Mass), kit.PieceWord(s.Pieces()), u.Volume(l.Stacked)),
			"What was counted less the loads logged since.",
			kit.From("counted "+s.CountedAt.In(q.Profile.Location()).Format("2 January 2006"), u.Mass(s.Counted), from(s, "mass", kit.Entered)),
			kit.From("used since", u.Mass(s.Used), kit.Entered),
			kit.From("a usual piece", u.Piece(s.PieceMass), from(s, "piece-mass", kit.Entered)), kit.From("wood in a stack's outline", "65 %", kit.Assumed)),
		kit.NewFigure("heat in what is left", u.Energy(l.Energy),
			"Mass left × net energy per kg. In the stove some three quarters of it reach the room.", kit.From("mass", u.Mass(s.Mass), kit.Computed)),
	}
}

// from tells where a figure of a stack comes from.
func from(s store.Stack, field, told string) string {
	if s.Takes(field) {
		return kit.Assumed
	}
	return told
}
