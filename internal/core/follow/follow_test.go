package follow_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/follow"
	"smolder/internal/core/mill"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// best is a plan made quickly: safe and clean, if not the best there is.
func best(w wish.Wish) (plan.Plan, error) {
	return search.Best(context.Background(), w, search.Quick, nil)
}

func TestFollowingAPlan(t *testing.T) {
	p, err := best(mill.Evening(0, 0, wish.GoodCoals))
	require.NoError(t, err)
	start := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	coals, warmth := wish.GoodCoals.Coals(55)
	b := burn.Burn{Stove: p.Wish.Stove, House: p.Wish.House, Outdoor: 2, Room: 17, Coals: coals, Warmth: warmth, Started: start}
	progress := func(minute int) follow.Progress {
		now := start.Add(time.Duration(minute) * time.Minute)
		return follow.Plan(p, b, follow.OfReplay(b.Replay(now)), now)
	}
	log := func(minute int, e burn.Entry) {
		e.At, e.ID = start.Add(time.Duration(minute)*time.Minute), string(e.Kind)+string(rune('a'+len(b.Entries)))
		b.Entries = append(b.Entries, e)
	}
	pr := progress(0)
	require.Equal(t, plan.LoadIt, pr.Next.Kind)
	assert.True(t, pr.Ready)
	log(1, burn.Entry{Kind: burn.Load, Load: p.Steps[0].Fire.Do[len(p.Steps[0].Fire.Do)-2].Load})
	pr = progress(2)
	require.Equal(t, plan.TurnDown, pr.Next.Kind)
	assert.False(t, pr.Ready, "two minutes after loading nothing is black all over")
	assert.Positive(t, pr.In)
	log(3, burn.Entry{Kind: burn.Temperature, Place: stove.ConnectorProbe, Reading: 120})
	assert.Equal(t, follow.Lack{Kind: follow.TooLow, Gauge: stove.ConnectorProbe, Reading: 120}, progress(4).Lacks,
		"what was read counts, not what was computed")
	var last plan.Step
	for _, s := range p.Steps {
		if s.Kind == plan.FeedIt {
			break
		}
		if s.Kind == plan.TurnDown {
			last = s
		}
	}
	log(30, burn.Entry{Kind: burn.Control, Control: last.Control, Opening: last.Opening})
	pr = progress(31)
	if pr.Has {
		assert.Contains(t, []plan.StepKind{plan.ReloadTime, plan.KeepIt, plan.FeedIt}, pr.Next.Kind, "turned down at once counts for every step before")
	}
	assert.Equal(t, fire.Door(0), fire.Shut)
}

// A later load is called due on its coals, and not on a stove that has gone out
// before anybody came.
func TestALaterLoadTooLate(t *testing.T) {
	p, err := best(mill.SinglesEvening(wish.Cold))
	require.NoError(t, err)
	require.NotEmpty(t, p.Feeds)
	start := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	b := burn.Burn{Stove: p.Wish.Stove, House: p.Wish.House, Started: start}
	for i, s := range p.Steps {
		if s.Kind == plan.FeedIt {
			break
		}
		for j, a := range s.Fire.Do {
			e, ok := burn.EntryOf(a)
			if !ok {
				continue
			}
			e.ID, e.At = fmt.Sprint(i, "-", j), start.Add(s.Expected)
			b.Entries = append(b.Entries, e)
		}
	}
	now := start.Add(9 * time.Hour)
	for phase, ready := range map[fire.Phase]bool{fire.Coaling: true, fire.Out: false} {
		pr := follow.Plan(p, b, follow.OfReplay(fire.Result{Samples: []fire.Sample{{At: 9 * time.Hour, Phase: phase}}}), now)
		require.Equal(t, plan.FeedIt, pr.Next.Kind, phase)
		assert.Equal(t, ready, pr.Ready, phase)
		assert.Equal(t, !ready, pr.Lacks.Kind == follow.CoalsGone, phase)
	}
}

// The next turn-down waits until the gauge holds: flames are still there in a fire that
// starves too.
func TestTheNextTurnDownWaitsUntilTheGaugeHolds(t *testing.T) {
	w := mill.Evening(mill.Auntie, mill.Beech, wish.GoodCoals)
	p := plan.Plan{Wish: w, Steps: []plan.Step{
		{Kind: plan.LoadIt, Fire: fire.Move{Do: []fire.Act{{Kind: fire.ActLoad, Load: &fire.Load{}}}}},
		{Kind: plan.TurnDown, Control: "lever", Opening: 0.5, Expected: 10 * time.Minute, Fire: fire.Move{When: fire.Trigger{Charred: true}}},
		{Kind: plan.TurnDown, Control: "lever", Opening: 0.33, Expected: 18 * time.Minute, Fire: fire.Move{When: fire.Trigger{After: 6 * time.Minute}}},
	}}
	start := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	at := func(minute int) time.Time { return start.Add(time.Duration(minute) * time.Minute) }
	reading := func(minute int, c float64) burn.Entry {
		return burn.Entry{At: at(minute), Kind: burn.Temperature, Place: stove.ConnectorProbe, Reading: units.Celsius(c)}
	}
	b := burn.Burn{Stove: w.Stove, House: w.House, Started: start, Coals: 0.7, Entries: []burn.Entry{
		{At: at(0), Kind: burn.Load, Load: &fire.Load{}}, {At: at(10), Kind: burn.Control, Control: "lever", Opening: 0.5},
		reading(10, 380), reading(14, 330), reading(18, 290)}}
	seen := follow.Seen{Known: true, Phase: fire.Cruising, Black: 1, Flames: 1}
	pr := follow.Plan(p, b, seen, at(18))
	assert.False(t, pr.Ready)
	assert.Equal(t, follow.Falling, pr.Lacks.Kind)
	b.Entries = append(b.Entries, reading(22, 284), reading(25, 280))
	assert.True(t, follow.Plan(p, b, seen, at(25)).Ready)
}
