package plan_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// bySingles is an evening in a cabin whose stove's manual allows one piece at a
// time.
func bySingles(start plan.Start) plan.Wish {
	w := wish(0, 0, start)
	w.Stove = stove.Stove{Name: "Snug", Family: stove.SecondaryAir, Volume: 20, Width: 0.32, Depth: 0.26, Height: 0.25, Output: 4000, MaxLoad: 1.2,
		Chimney:  flue.Chimney{Height: 4, Diameter: 0.12, Lining: flue.Insulated},
		Controls: []stove.Control{{Key: "air", Name: "Air", Role: stove.PrimaryAir, Scale: stove.Scale{Kind: stove.PercentOpen}}},
		Gauges:   []stove.Gauge{stove.NewGauge(stove.ConnectorProbe)}}
	w.House = house.House{Floor: 18, Build: house.Draughty, Volume: 45000, N50: 9}
	w.Wood.Stack.PieceLength, w.Wood.Stack.PieceMass, w.Others = 0.24, 0.4, nil
	w.Aim, w.For, w.Outdoor, w.Room, w.Low, w.High = plan.Hold, 6*time.Hour, -4, 16, 19, 21.5
	w.Weather, w.There = nil, nil
	return w
}

// A wish that is longer than one load is a plan with its later loads, each with
// its sign, its time and its settings; and it is warmer for it.
func TestALongWishIsAPlanWithItsReloads(t *testing.T) {
	w := bySingles(plan.Cold)
	c, err := plan.Search(t.Context(), w, nil)
	require.NoError(t, err)
	p := c.Plans[0]
	t.Log(p.Sentence(units.Metric))
	require.NotEmpty(t, p.Feeds, "one load does not last an evening")
	require.Greater(t, len(c.Plans), 1)
	assert.Empty(t, c.Plans[1].Feeds, "the one load stays a choice")
	assert.Less(t, p.Cold, 0.7*c.Plans[1].Cold, "and the loads are worth it")
	fed := 0
	for i, in := range p.Say(units.Metric) {
		if in.Kind != plan.FeedIt {
			continue
		}
		fed++
		assert.Contains(t, in.Sign, "coals")
		assert.Contains(t, in.Set, "Air", "the openings are on the page")
		assert.NotEmpty(t, in.When)
		assert.Greater(t, in.Expected, p.Steps[i-1].Expected)
		assert.Equal(t, plan.TurnDown, p.Steps[i+1].Kind, "and down again")
		load := in.Fire.Do[len(in.Fire.Do)-1].Load
		require.NotNil(t, load)
		assert.LessOrEqual(t, load.Mass(), w.Stove.MaxLoad+1e-9)
	}
	assert.Equal(t, len(p.Feeds), fed)
	assert.LessOrEqual(t, p.Summary.TooHot, 2*time.Minute)
	require.NoError(t, p.Check(), "it can be kept and read again")

	// More loads are for a warmer room, and not for less smoke a kilogram.
	for _, outdoor := range []units.Celsius{0, 2, 4, 6, 8} {
		w := bySingles(plan.Cold)
		w.House, w.Outdoor = house.House{Floor: 18, Build: house.Ordinary, Volume: 45000, N50: 5}, outdoor
		c, err := plan.Search(t.Context(), w, nil)
		require.NoError(t, err)
		if n := len(c.Plans[0].Feeds); n > 0 {
			assert.Less(t, c.Plans[0].Cold, c.Plans[1].Cold-0.15*float64(n), "at %g", outdoor)
		}
	}

	// Somebody has to go after two hours: nothing is put on that nobody sees char.
	w.There = plan.Presence{{From: 0, To: 2 * time.Hour}}
	short, err := plan.Make(w)
	require.NoError(t, err)
	for _, s := range short.Steps {
		assert.Less(t, s.Expected, 105*time.Minute)
	}
	// An evening that one load warms has no more of them.
	w = bySingles(plan.Cold)
	w.Outdoor, w.Room = 17, 19
	w.For = 3 * time.Hour
	mild, err := plan.Make(w)
	require.NoError(t, err)
	assert.Empty(t, mild.Feeds)
	// A night that somebody sleeps through has none after the evening.
	w = wish(0, 0, plan.GoodCoals)
	w.Aim, w.For, w.There = plan.Overnight, 9*time.Hour, nil
	night, err := plan.Make(w)
	require.NoError(t, err)
	assert.Empty(t, night.Feeds)
	assert.Equal(t, plan.LoadIt, night.Steps[0].Kind, "a night begins with a load on coals")
}

// Few coals do not light big wood: whatever the stove, kindling goes on with the
// load and the door stays ajar until it burns; and the load does catch.
func TestFewCoalsTakeKindling(t *testing.T) {
	for _, start := range []plan.Start{plan.FewCoals, plan.LayerCoals} {
		for name, w := range map[string]plan.Wish{"Auntie": wish(0, 0, start), "Snug": bySingles(start), "another": familyWish(stove.SecondaryAir, start)} {
			w.Start = start
			p, err := plan.Make(w)
			require.NoError(t, err, "%s %s", name, start)
			first := p.Steps[0]
			assert.Equal(t, plan.LightIt, first.Kind)
			assert.Equal(t, plan.ShutDoor, p.Steps[1].Kind)
			kindling, door := false, fire.Shut
			for _, a := range first.Fire.Do {
				kindling = kindling || a.Load != nil && a.Load.Kindling && (start == plan.LayerCoals) == (a.Load.Starter == 0 && a.Load.StarterKind == "")
				if a.Kind == fire.ActDoor {
					door = a.Door
				}
			}
			assert.True(t, kindling, "%s %s", name, start)
			assert.Equal(t, fire.Ajar, door)
			says := p.Say(units.Metric)[0]
			assert.Contains(t, says.Do, "kindling")
			assert.Contains(t, says.Do, "door ajar")
			assert.Contains(t, p.Checklist(units.Metric)[0], "Some coals that still glow")
			// Flames within a quarter of an hour: it does not lie dead.
			caught := time.Duration(-1)
			for i, phase := range p.Predicted.Phases {
				if at := time.Duration(i) * p.Predicted.Every; caught < 0 && (phase == fire.Charring || phase == fire.Establishing) && p.Predicted.Heat[i] > 200 {
					caught = at
				}
			}
			assert.Less(t, caught, 15*time.Minute, "%s %s", name, start)
			t.Logf("%s, %s: %s smoke %.1f", name, start, p.Sentence(units.Metric), p.Summary.SmokePerKg)
		}
	}
}

// Whoever is away or asleep too long for one fire is told how warm the room will
// be and what it takes.
func TestComingHomeToAWarmRoomSaysWhatItTakes(t *testing.T) {
	w := wish(0, 0, plan.GoodCoals)
	w.Aim, w.For, w.Outdoor, w.Room, w.Low = plan.Away, 10*time.Hour, -6, 19, 18.5
	c, err := plan.Search(t.Context(), w, nil)
	require.NoError(t, err)
	says := c.Plans[0].SayHome(units.Metric)
	t.Log(says)
	assert.Regexp(t, `^When somebody is back the room is at about 1\d °C\. A fire lit then (has it at 18\.5 °C after about|does not reach)`, says)
	assert.Regexp(t, `takes about \d\.\d kW all the time: .* every \d`, says)
	assert.Equal(t, plan.LoadIt, c.Plans[0].Steps[0].Kind, "an absence begins with a load on coals")
	w.Outdoor, w.Room = 14, 20
	c, err = plan.Search(t.Context(), w, nil)
	require.NoError(t, err)
	assert.Empty(t, c.Plans[0].SayHome(units.Metric), "warm enough")
	w.Aim, w.Outdoor, w.Room = plan.Hold, -6, 17
	c, err = plan.Search(t.Context(), w, nil)
	require.NoError(t, err)
	assert.Empty(t, c.Plans[0].SayHome(units.Metric), "nobody is away")
}

// A later load is called due on its coals, and not on a stove that has gone out
// before anybody came.
func TestALaterLoadTooLate(t *testing.T) {
	p, err := plan.Make(bySingles(plan.Cold))
	require.NoError(t, err)
	require.NotEmpty(t, p.Feeds)
	start := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	b := burn.Burn{Stove: p.Wish.Stove, House: p.Wish.House, Started: start}
	for i, s := range p.Steps {
		if s.Kind == plan.FeedIt {
			break
		}
		for j, a := range s.Fire.Do {
			e := burn.Entry{ID: fmt.Sprint(i, "-", j), At: start.Add(s.Expected)}
			switch a.Kind {
			case fire.ActLight:
				e.Kind = burn.Light
			case fire.ActDoor:
				e.Kind, e.Door = burn.Door, a.Door
			case fire.ActControl:
				e.Kind, e.Control, e.Opening = burn.Control, a.Control, a.Opening
			case fire.ActLoad:
				e.Kind, e.Load = burn.Load, a.Load
			default:
				continue
			}
			b.Entries = append(b.Entries, e)
		}
	}
	now := start.Add(9 * time.Hour)
	for phase, ready := range map[fire.Phase]bool{fire.Coaling: true, fire.Out: false} {
		pr := p.Follow(b, fire.Result{Samples: []fire.Sample{{At: 9 * time.Hour, Phase: phase}}}, now, units.Metric)
		require.Equal(t, plan.FeedIt, pr.Next.Kind, phase)
		assert.Equal(t, ready, pr.Ready, phase)
		assert.Equal(t, !ready, pr.Missed != "", phase)
	}
}
