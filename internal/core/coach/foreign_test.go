package coach_test

import (
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/foreign"
)

// Evenings that no model of ours made, somebody else's hand on somebody else's stove, asked about
// every half hour. What is said is held against what was there at that moment: no more
// air and no load where a gauge is over its limit, no load while there is as much wood as flames
// want, no less air where the flames are gone and there is wood, nothing of coals while it flames,
// and nothing of flames gone while they stand. Every twelfth evening; SMOLDER_LONG=1 asks for
// all, every quarter of an hour.
func TestAdviceOnForeignEvenings(t *testing.T) {
	evenings, err := foreign.Evenings()
	require.NoError(t, err)
	every, ask, until := 12, 30*time.Minute, 5*time.Hour
	if os.Getenv("SMOLDER_LONG") != "" {
		every, ask, until = 1, 15*time.Minute, 8*time.Hour
	}
	for i, e := range evenings {
		if i%every != 0 {
			continue
		}
		t.Run(e.Name, func(t *testing.T) {
			t.Parallel()
			whole, kept := e.Burn(10*time.Minute), burn.Beliefs{}
			for at := ask; at <= until; at += ask {
				now := whole.Started.Add(at)
				b := whole
				b.Entries, b.Ended = nil, time.Time{}
				for _, x := range whole.Entries {
					if !x.At.After(now) {
						b.Entries = append(b.Entries, x)
					}
				}
				a := coach.Ask(coach.Asked{Burn: b, Now: now, Belief: kept.At(belief.Usual(), b, now)})
				minute := int(at / e.Every) // what has been, and not what comes
				flames, wood := e.Flames[minute], e.Wood[minute]
				g, _ := b.Stove.Guide()
				hot := g.Band.TooHot > 0 && e.Gauges[g.Place][minute] > 1.03*float64(g.Band.TooHot)
				stands, loads := 1.0, false
				air, _ := b.Stove.MainAir()
				for j := range b.Entries {
					if x := &b.Entries[j]; x.Kind == burn.Control && x.Control == air.Key {
						stands = x.Opening
					}
				}
				for _, act := range a.Advice.Acts {
					loads = loads || act.Kind == fire.ActLoad && !act.Load.Kindling
				}
				where := func(what string) string {
					return what + ": " + string(a.Advice.Code) + " at " + at.String()
				}
				for _, set := range a.Advice.Sets {
					if set.Control.Key != air.Key {
						continue
					}
					assert.False(t, set.Opening > stands+0.02 && hot, where("more air over a limit"))
					assert.False(t, set.Opening < stands-0.02 && !hot && flames < 0.5 && wood > 1 && a.Advice.Ready, where("less air where the flames are gone"))
				}
				assert.False(t, loads && a.Advice.Ready && hot, where("a load over a limit"))
				assert.False(t, loads && a.Advice.Ready && wood > 0.6*float64(b.Stove.MaxLoad), where("a load on a load"))
				switch a.Advice.Code {
				case coach.CoalsGoing, coach.ReloadNow, coach.KeepCoals:
					assert.False(t, wood > 1 && flames > 1.5, where("coals, while it flames"))
				case coach.Dies, coach.TooFar, coach.NotCaught:
					assert.False(t, wood > 0.5 && flames > 1.5 && e.Flames[max(0, minute-1)] > 1.5, where("flames gone, while they stand"))
				}
			}
		})
	}
}
