package plan_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/flue"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// familyWish is an evening with a middling stove of a family: two air controls,
// a probe in the pipe, and what the family has besides.
func familyWish(f stove.Family, start plan.Start) plan.Wish {
	w := wish(0, 0, start)
	percent := stove.Scale{Kind: stove.PercentOpen}
	st := stove.Stove{Name: string(f), Family: f, Volume: 40, Width: 0.42, Depth: 0.36, Height: 0.30, Output: 7000, MaxLoad: 5,
		Chimney:  flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.Insulated},
		Controls: []stove.Control{{Key: "primary", Name: "Primary air", Role: stove.PrimaryAir, Scale: percent}, {Key: "second", Name: "Second air", Role: stove.SecondAir, Scale: percent}},
		Gauges:   []stove.Gauge{stove.NewGauge(stove.ConnectorProbe)}}
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

// Every family is planned for, cold and on coals, and what is planned keeps to
// the manual, burns clean for its kind, and is never too hot.
func TestPlansHoldForEveryFamily(t *testing.T) {
	for _, f := range stove.Families {
		for _, start := range []plan.Start{plan.Cold, plan.GoodCoals} {
			w := familyWish(f.Key, start)
			p, err := plan.Make(w)
			require.NoError(t, err, "%s, %s", f.Key, start)
			t.Logf("%s, %s: %s; %.1f g/kg, peak %.0f °C", f.Key, start, p.Sentence(units.Metric), p.Summary.SmokePerKg, float64(p.Summary.PeakTop))
			assert.LessOrEqual(t, p.Summary.TooHot, 2*time.Minute, "%s, %s", f.Key, start)
			assert.LessOrEqual(t, p.Summary.Smoulder, 30*time.Minute, "%s, %s", f.Key, start)
			for _, s := range p.Steps {
				for _, a := range s.Fire.Do {
					if a.Load != nil {
						assert.LessOrEqual(t, a.Load.Mass(), w.Stove.MaxLoad+1e-9, "%s, %s", f.Key, start)
					}
				}
				if s.Kind != plan.ReloadTime {
					assert.GreaterOrEqual(t, s.Expected, time.Duration(0), "%s, %s: %s never comes", f.Key, start, s.Kind)
				}
			}
		}
	}
}
