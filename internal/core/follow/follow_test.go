package follow_test

import (
	"context"
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/follow"
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
	p, err := best(fixture.Evening(0, 0, wish.GoodCoals))
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
	p, err := best(fixture.SinglesEvening(wish.Cold))
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
	ask := func(phase fire.Phase, more ...burn.Entry) follow.Progress {
		with := b
		with.Entries = append(slices.Clone(b.Entries), more...)
		return follow.Plan(p, with, follow.OfReplay(fire.Result{Samples: []fire.Sample{{At: 9 * time.Hour, Phase: phase}}}), now)
	}
	said := func(k burn.Kind) burn.Entry { return burn.Entry{ID: string(k), Kind: k, At: now.Add(-time.Minute)} }
	pr := ask(fire.Coaling)
	require.Equal(t, plan.FeedIt, pr.Next.Kind)
	assert.False(t, pr.Ready, "what is computed calls for nothing")
	assert.Equal(t, follow.AskCoals, pr.Ask, "but somebody is asked")
	assert.True(t, ask(fire.Coaling, said(burn.ToCoals)).Ready)
	assert.Equal(t, follow.CoalsGone, ask(fire.Out).Lacks.Kind)
	pr = ask(fire.Coaling, said(burn.WentOut))
	assert.False(t, pr.Ready)
	assert.Equal(t, follow.ItIsOut, pr.Lacks.Kind)
	pr = ask(fire.Coaling, said(burn.NotYet))
	assert.False(t, pr.Ready)
	assert.Equal(t, follow.Declined, pr.Lacks.Kind, "who has said not yet is not told now")
}

// The sign decides: a load goes on when the gauge has fallen, never while it rises or is
// over its band, whatever is computed and whatever the clock says.
func TestALoadGoesByTheGauge(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
	load := fire.Load{Species: w.Wood.Stack.Species, Moisture: 0.18, Pieces: 2, PieceMass: 1.4, PieceLength: 0.3}
	p := plan.Plan{Wish: w, Steps: []plan.Step{
		{Kind: plan.LightIt, Fire: fire.Move{Do: []fire.Act{{Kind: fire.ActLight}}}},
		{Kind: plan.ShutDoor, Expected: 8 * time.Minute, Fire: fire.Move{When: fire.Trigger{After: 7 * time.Minute, Gauge: stove.ConnectorProbe, Above: 160,
			Latest: 15 * time.Minute}}},
		{Kind: plan.LoadIt, Expected: 40 * time.Minute, Fire: fire.Move{When: fire.Trigger{After: 15 * time.Minute, WoodLeft: 0.8, Latest: 55 * time.Minute},
			Do: []fire.Act{{Kind: fire.ActLoad, Load: &load}}}},
		{Kind: plan.TurnDown, Control: "lever", Opening: 0.5, Expected: 60 * time.Minute, Fire: fire.Move{When: fire.Trigger{After: 3 * time.Minute, Charred: true,
			Gauge: stove.ConnectorProbe, Above: 237, Latest: 35 * time.Minute}}},
	}}
	start := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	at := func(minute int) time.Time { return start.Add(time.Duration(minute) * time.Minute) }
	reading := func(minute int, c float64) burn.Entry {
		return burn.Entry{At: at(minute), Kind: burn.Temperature, Place: stove.ConnectorProbe, Reading: units.Celsius(c)}
	}
	door := func(minute int, d fire.Door) burn.Entry { return burn.Entry{At: at(minute), Kind: burn.Door, Door: d} }
	lit := []burn.Entry{{At: at(0), Kind: burn.Light}, {At: at(0), Kind: burn.Load, Load: &load}, door(0, fire.Ajar)}
	shut := append(slices.Clone(lit), door(8, fire.Shut))
	loaded := append(slices.Clone(shut), burn.Entry{At: at(40), Kind: burn.Load, Load: &load})
	gone := follow.Seen{Known: true, Phase: fire.Coaling, Wood: 0.1, Coals: 0.4, Least: 0.2, Black: 1}
	wood := follow.Seen{Known: true, Phase: fire.Cruising, Wood: 1.6, Coals: 0.4, Least: 0.2, Black: 1, Flames: 1}
	for name, c := range map[string]struct {
		log    []burn.Entry
		more   []burn.Entry
		seen   follow.Seen
		minute int
		ready  bool
		lacks  follow.LackKind
		ask    follow.Ask
	}{
		"the door by its number":       {lit, []burn.Entry{reading(7, 162)}, wood, 7, true, "", ""},
		"and early: kindling flares":   {lit, []burn.Entry{reading(4, 162)}, wood, 4, false, "", ""},
		"early, and it draws strongly": {lit, []burn.Entry{reading(4, 300)}, wood, 4, true, "", ""},
		"early, and not so strongly":   {lit, []burn.Entry{reading(4, 299)}, wood, 4, false, "", ""},
		"and not under it, late":       {lit, []burn.Entry{reading(16, 140)}, wood, 17, false, follow.TooLow, ""},
		"rising, whatever is computed": {shut, []burn.Entry{reading(50, 400), reading(54, 430)}, gone, 55, false, follow.Rising, ""},
		"over its band":                {shut, []burn.Entry{reading(50, 480), reading(54, 470)}, gone, 55, false, follow.OverBand, ""},
		"turned, on little wood":       {shut, []burn.Entry{reading(20, 300), reading(54, 290)}, gone, 55, true, "", ""},
		"turned, on much wood":         {shut, []burn.Entry{reading(20, 300), reading(54, 290)}, wood, 55, false, follow.NotFallen, ""},
		"not turned, on little wood":   {shut, []burn.Entry{reading(50, 290), reading(54, 290.5)}, gone, 55, false, follow.NotFallen, ""},
		"fallen":                       {shut, []burn.Entry{reading(20, 300), reading(50, 215), reading(54, 195)}, gone, 55, true, "", ""},
		"fallen, with wood":            {shut, []burn.Entry{reading(20, 300), reading(50, 215), reading(54, 195)}, wood, 55, false, follow.StillWood, ""},
		"its owner has seen coals":     {shut, []burn.Entry{reading(20, 300), reading(50, 250), {At: at(54), Kind: burn.ToCoals}}, wood, 55, true, "", ""},
		"coals seen, and it rises":     {shut, []burn.Entry{reading(50, 250), reading(54, 300), {At: at(54), Kind: burn.ToCoals}}, gone, 55, false, follow.Rising, ""},
		"nobody has read it":           {shut, []burn.Entry{reading(20, 300)}, gone, 55, false, follow.Unread, follow.AskCoals},
		"turned down: pale and cold":   {loaded, []burn.Entry{reading(52, 96), reading(54, 98)}, wood, 55, false, follow.TooLow, ""},
		"turned down: flames gone":     {loaded, []burn.Entry{reading(54, 260), {At: at(53), Kind: burn.Out}}, wood, 55, false, follow.NoFlames, ""},
		"turned down on its sign":      {loaded, []burn.Entry{reading(54, 260), {At: at(53), Kind: burn.Black}}, wood, 55, true, "", ""},
		"by the clock it is asked":     {loaded, []burn.Entry{reading(78, 220)}, wood, 80, false, follow.TooLow, follow.AskBlack},
	} {
		b := burn.Burn{Stove: w.Stove, House: w.House, Room: 17, Started: start, Entries: append(slices.Clone(c.log), c.more...)}
		pr := follow.Plan(p, b, c.seen, at(c.minute))
		assert.Equal(t, c.ready, pr.Ready, name)
		assert.Equal(t, c.lacks, pr.Lacks.Kind, name)
		assert.Equal(t, c.ask, pr.Ask, name)
	}
}

// The next turn-down waits until the gauge holds: flames are still there in a fire that
// starves too.
func TestTheNextTurnDownWaitsUntilTheGaugeHolds(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.GoodCoals)
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

// What is besides the fire may be done, left out, or done by somebody who never says so: the
// next load does not wait for it.
func TestWhatIsBesideTheFireMayBeLeftOut(t *testing.T) {
	w := fixture.Evening(0, 0, wish.GoodCoals)
	w.For, w.Outdoor = 9*time.Hour, -6
	w.Stove.Controls = append(slices.Clone(w.Stove.Controls), stove.Control{Key: "blower", Name: "Blower", Role: stove.Blower, Scale: stove.Scale{Kind: stove.PercentOpen}})
	p, err := best(w)
	require.NoError(t, err)
	at := slices.IndexFunc(p.Steps, func(s plan.Step) bool { return s.Kind == plan.BlowIt })
	feed := slices.IndexFunc(p.Steps, func(s plan.Step) bool { return s.Kind == plan.FeedIt })
	require.True(t, at > 0 && feed > at, "%d %d", at, feed)
	start := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	done := func(until int, more ...burn.Entry) burn.Burn {
		b := burn.Burn{Stove: p.Wish.Stove, House: p.Wish.House, Outdoor: -6, Room: 17, Coals: 0.7, Warmth: 110, Started: start}
		for i, s := range p.Steps[:until] {
			for j, a := range s.Fire.Do {
				if e, ok := burn.EntryOf(a); ok {
					e.At, e.ID = start.Add(s.Expected), fmt.Sprint(i, "-", j)
					b.Entries = append(b.Entries, e)
				}
			}
		}
		b.Entries = append(b.Entries, more...)
		return b
	}
	next := func(b burn.Burn, after time.Duration) (plan.StepKind, bool) {
		pr := follow.Plan(p, b, follow.Seen{Known: true, Phase: fire.Cruising, Wood: 3, Black: 1, Flames: 1, Gauges: map[stove.Place]units.Celsius{stove.ConnectorProbe: 280}},
			start.Add(p.Steps[at-1].Expected+after))
		return pr.Next.Kind, pr.Ready
	}
	kind, ready := next(done(at), 2*time.Minute)
	assert.Equal(t, plan.BlowIt, kind)
	assert.False(t, ready, "not yet warm for long enough")
	_, ready = next(done(at), 7*time.Minute)
	assert.True(t, ready)
	kind, _ = next(done(at), 80*time.Minute)
	assert.Equal(t, plan.FeedIt, kind, "nobody is asked for it all evening")
	on := burn.Entry{ID: "on", Kind: burn.Control, Control: "blower", Opening: 1, At: start.Add(p.Steps[at].Expected)}
	kind, _ = next(done(at, on), 15*time.Minute)
	assert.Equal(t, plan.FeedIt, kind, "done")
	for _, a := range p.Steps[feed].Fire.Do {
		if a.Kind == fire.ActLoad {
			load := burn.Entry{ID: "load", Kind: burn.Load, Load: a.Load, At: start.Add(p.Steps[at-1].Expected + 8*time.Minute)}
			open := burn.Entry{ID: "open", Kind: burn.Control, Control: p.Steps[feed].Control, Opening: 1, At: load.At}
			kind, _ = next(done(at, open, load), 9*time.Minute)
			assert.Contains(t, []plan.StepKind{plan.TurnDown, plan.CloseIt}, kind, "the next load put on without it")
		}
	}
}

// At bedtime nothing is shut on what still burns or glows, whatever the plan had there at that
// hour: who loaded late is not told to shut a fire in.
func TestBedtimeGoesByTheFireThatThereIs(t *testing.T) {
	start := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	gate := stove.Control{Key: "gate", Name: "Gate", Role: stove.OutsideAir, Scale: stove.Scale{Kind: stove.PercentOpen}}
	w := fixture.Evening(0, 0, wish.GoodCoals)
	w.Stove.Controls = append(slices.Clone(w.Stove.Controls), gate)
	load := burn.Entry{ID: "load", Kind: burn.Load, At: start, Load: &fire.Load{Species: w.Wood.Stack.Species, Moisture: 0.17, Pieces: 3, PieceMass: 1.3, PieceLength: 0.33}}
	ready := func(opening float64, seen follow.Seen, more ...burn.Entry) bool {
		bed := plan.Step{Kind: plan.BedTime, Fire: fire.Move{When: fire.Trigger{At: 4 * time.Hour}, Do: []fire.Act{{Kind: fire.ActControl, Control: "gate", Role: stove.OutsideAir, Opening: opening}}}}
		p := plan.Plan{Wish: w, Steps: []plan.Step{{Kind: plan.LoadIt}, bed}}
		b := burn.Burn{Stove: w.Stove, House: w.House, Coals: 0.7, Warmth: 110, Room: 17, Started: start, Entries: append([]burn.Entry{load}, more...)}
		pr := follow.Plan(p, b, seen, start.Add(4*time.Hour+5*time.Minute))
		require.Equal(t, plan.BedTime, pr.Next.Kind)
		return pr.Ready
	}
	flames := follow.Seen{Known: true, Phase: fire.Cruising, Wood: 2, Flames: 1, Coals: 0.3}
	coals := follow.Seen{Known: true, Phase: fire.Coaling, Coals: 0.4}
	gone := follow.Seen{Known: true, Phase: fire.Out}
	assert.True(t, ready(1, flames), "left open it harms nothing")
	assert.False(t, ready(0.25, flames))
	assert.False(t, ready(0, flames))
	assert.True(t, ready(0.25, coals), "a quarter while coals glow")
	assert.False(t, ready(0, coals), "they would make carbon monoxide for hours")
	assert.True(t, ready(0, gone))
	assert.False(t, ready(0, follow.Seen{}), "nobody knows")
	assert.True(t, ready(0, coals, burn.Entry{ID: "out", Kind: burn.WentOut, At: start.Add(3 * time.Hour)}), "somebody has said that it is out")
}

// A first fire that is fed by size goes on with whoever skips a size, or puts none on: only the
// right kind of wood counts for a size, and none is asked for long.
func TestFeedingBySize(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
	w.Fixed.BySize = true
	p := plan.Plan{Wish: w, Steps: plan.Steps(w, plan.Recipe{First: 2, Main: 3, Lay: fire.BottomUp, Direction: stove.Sideways, Brisk: 1, Final: 0.3})}
	require.Equal(t, plan.GrowIt, p.Steps[1].Kind)
	require.Equal(t, plan.GrowIt, p.Steps[2].Kind)
	start := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	at := func(minute int) time.Time { return start.Add(time.Duration(minute) * time.Minute) }
	puts := func(minute int, kindling bool) burn.Entry {
		return burn.Entry{At: at(minute), Kind: burn.Load, Load: &fire.Load{Pieces: 2, PieceMass: 0.4, Kindling: kindling, Species: w.Wood.Stack.Species}}
	}
	lit := burn.Entry{At: at(0), Kind: burn.Light}
	shut := burn.Entry{At: at(9), Kind: burn.Door, Door: fire.Shut}
	for name, c := range map[string]struct {
		log    []burn.Entry
		minute int
		done   int
		ready  bool
	}{
		"too early":                  {[]burn.Entry{lit}, 1, 1, false},
		"its latest":                 {[]burn.Entry{lit}, 6, 1, true},
		"sticks":                     {[]burn.Entry{lit, puts(4, true)}, 5, 2, false},
		"splits at once":             {[]burn.Entry{lit, puts(4, false)}, 5, 3, false},
		"the door shut all the same": {[]burn.Entry{lit, shut}, 10, 4, false},
		"nobody puts any on":         {[]burn.Entry{lit}, 16, 3, false},
		"flames gone":                {[]burn.Entry{lit, {At: at(5), Kind: burn.Out}}, 6, 1, false},
	} {
		b := burn.Burn{Stove: w.Stove, Started: start, Entries: c.log}
		pr := follow.Plan(p, b, follow.Seen{}, at(c.minute))
		assert.Equal(t, c.done, pr.Done, name)
		assert.Equal(t, c.ready, pr.Ready, name)
	}
}

// A load that was charred with less air than its turn-down has is turned down, and the next load
// counts as such; a piece more on the same load is not the next.
func TestTheNextLoadAfterATurnDownThatStood(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
	steps := plan.Steps(w, plan.Recipe{First: 2, Main: 3, Lay: fire.TopDown, Direction: stove.Sideways, Brisk: 1, Final: 2. / 3, Pause: 8 * time.Minute},
		plan.Later{Pieces: 2, Left: 0.1, Brisk: 1, Final: 1. / 3})
	p := plan.Plan{Wish: w, Steps: steps}
	feed := slices.IndexFunc(steps, func(s plan.Step) bool { return s.Kind == plan.FeedIt })
	require.Positive(t, feed)
	start := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	at := func(minute int) time.Time { return start.Add(time.Duration(minute) * time.Minute) }
	load := &fire.Load{Pieces: 2, PieceMass: 1.3, Species: w.Wood.Stack.Species}
	begun := []burn.Entry{{At: at(0), Kind: burn.Light}, {At: at(12), Kind: burn.Door, Door: fire.Shut}}
	charred := append(slices.Clone(begun), burn.Entry{At: at(30), Kind: burn.Control, Control: "lever", Opening: 0.5}, burn.Entry{At: at(30), Kind: burn.Load, Load: load})
	open := append(slices.Clone(begun), burn.Entry{At: at(30), Kind: burn.Load, Load: load})
	for name, c := range map[string]struct {
		log  []burn.Entry
		done int
	}{
		"charred with less, and the next load": {append(slices.Clone(charred), burn.Entry{At: at(90), Kind: burn.Control, Control: "lever", Opening: 1},
			burn.Entry{At: at(90), Kind: burn.Load, Load: load}), feed + 1},
		"never turned down, and the next load": {append(slices.Clone(open), burn.Entry{At: at(95), Kind: burn.Load, Load: load}), feed + 1},
		"a piece more on the same":             {append(slices.Clone(open), burn.Entry{At: at(40), Kind: burn.Load, Load: load}), 3},
	} {
		pr := follow.Plan(p, burn.Burn{Stove: w.Stove, Started: start, Entries: c.log}, follow.Seen{}, at(96))
		assert.Equal(t, c.done, pr.Done, name)
	}
}

// Whoever lays a fire and lights it a while later has lit it once, and loads as the plan says. After a
// second match what had lain there burns first, though by what is computed it is long gone.
func TestLitLaterAndLitAgain(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
	p := plan.Plan{Wish: w, Steps: plan.Steps(w, plan.Recipe{First: 2, Main: 3, Lay: fire.TopDown, Direction: stove.Sideways, Brisk: 1, Final: 0.5})}
	start := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	at := func(minute int) time.Time { return start.Add(time.Duration(minute) * time.Minute) }
	log := []burn.Entry{{At: at(0), Kind: burn.Load, Load: &fire.Load{Pieces: 2, PieceMass: 1.3, Species: w.Wood.Stack.Species}}}
	for _, minute := range []int{36, 40, 44} {
		log = append(log, burn.Entry{At: at(minute), Kind: burn.Temperature, Place: stove.ConnectorProbe, Reading: units.Celsius(400 - 3*minute)})
	}
	seen := follow.Seen{Known: true, Phase: fire.Establishing, Wood: 0.1, Black: 1, Flames: 1, Coals: 0.4}
	for name, c := range map[string]struct {
		lit   []int
		ready bool
	}{"laid at six, lit at twenty past": {[]int{20}, true}, "lit again then": {[]int{0, 20}, false}} {
		entries := slices.Clone(log)
		for _, minute := range c.lit {
			entries = append(entries, burn.Entry{At: at(minute), Kind: burn.Light})
		}
		entries = append(entries, burn.Entry{At: at(24), Kind: burn.Door, Door: fire.Shut})
		pr := follow.Plan(p, burn.Burn{Stove: w.Stove, Started: start, Entries: entries}, seen, at(44))
		require.Equal(t, plan.LoadIt, pr.Next.Kind, name)
		assert.Equal(t, c.ready, pr.Ready, "%s: %+v", name, pr.Lacks)
	}
}
