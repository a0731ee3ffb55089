package review_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/learn"
	"smolder/internal/core/review"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// usual is an evening with nothing wrong in the household's own stove; change makes of it
// one that has.
func usual(which int, w way, change func(*burn.Burn)) burn.Burn {
	p := fixture.Stoves()[which]
	h := hidden{stove: p.Stove, setup: fire.Setup{Stove: p.Stove, House: p.Space.House, Outdoor: 3, Room: 17}}
	came := fire.Run(h.setup, h.moves(w), fire.Options{Until: 6 * time.Hour})
	b := h.logged(w, came, rand.New(rand.NewPCG(1, 1)), 6*time.Hour)
	if change != nil {
		change(&b)
	}
	return b
}

var well = way{shut: 9, half: 10, final: 18, mid: 0.6, to: 0.4, lay: fire.TopDown, moisture: 0.16, pieces: 3, brisk: 0.5}

// control is the n-th entry that moves the main air.
func control(b *burn.Burn, n int) *burn.Entry {
	air, _ := b.Stove.MainAir()
	for i := range b.Entries {
		if e := &b.Entries[i]; e.Kind == burn.Control && e.Control == air.Key {
			if n == 0 {
				return e
			}
			n--
		}
	}
	return nil
}

// replayed lets what the gauges read follow from what was done.
func replayed(b burn.Burn) burn.Burn {
	r := fire.Run(b.Setup(), b.Steps(), fire.Options{Until: b.Ended.Sub(b.Started)})
	for i := range b.Entries {
		e := &b.Entries[i]
		if m := int(e.At.Sub(b.Started) / time.Minute); e.Kind == burn.Temperature && m < len(r.Samples) {
			e.Reading, _ = r.Samples[m].Reading(e.Place)
		}
	}
	return b
}

// Each mistake is found where it was made, with the change that would have helped; and not
// where it was not.
func TestMistakesAreFound(t *testing.T) {
	from := well
	from.lay, from.pieces, from.shut, from.brisk = fire.BottomUp, 3, 4, 0.35
	wet := well
	wet.moisture, wet.pieces, wet.to = 0.38, 2, 0.6
	far := well
	far.to = 0.08
	open := well
	open.mid, open.to = 1, 0.9
	for name, c := range map[string]struct {
		matter review.Matter
		burn   burn.Burn
	}{
		"lit from below":   {review.Lit, usual(fixture.Auntie, from, nil)},
		"wet wood":         {review.Wet, usual(fixture.Auntie, wet, nil)},
		"air too far back": {review.TooFar, usual(fixture.Auntie, far, nil)},
		"bypass left open": {review.BypassOut, usual(fixture.Loom, well, func(b *burn.Burn) { bypassLeftOpen(b) })},
		"air left open":    {review.TooOpen, usual(fixture.Auntie, open, nil)},
	} {
		b := replayed(c.burn)
		r, past := review.Of(b, learn.New())
		require.NotNil(t, past, name)
		worths := review.Worths(past, past.Measures())
		t.Logf("%s: %v", name, worths)
		for _, f := range r.Findings {
			assert.NotEmpty(t, f.Edits, name)
			_, err := past.Ask(f.Edits)
			require.NoError(t, err, name)
			assert.LessOrEqual(t, f.Would.Share.Low, f.Would.Share.High, name)
			assert.LessOrEqual(t, f.Would.Worse, 0.25, "%s: %s makes nothing worse in a quarter of its worlds", name, f.Code)
		}
		assert.Contains(t, worths, c.matter, name)
		assert.LessOrEqual(t, len(r.Findings), 3, name)
	}
	good, _ := review.Of(replayed(usual(fixture.Auntie, well, nil)), learn.New())
	for _, f := range good.Findings {
		assert.NotContains(t, []review.Matter{review.Lit, review.Wet, review.BypassOut, review.AjarLong, review.LateLoad}, f.Code, "of an evening with nothing wrong")
	}
}

func bypassLeftOpen(b *burn.Burn) {
	bypass, _ := b.Stove.Bypass()
	for i := range b.Entries {
		if e := &b.Entries[i]; e.Kind == burn.Control && e.Control == bypass.Key {
			e.Opening = 1
		}
	}
}

// What was done can be changed in the ways that make sense, and in no other; the burn itself
// stays as it was.
func TestEdits(t *testing.T) {
	b := usual(fixture.Auntie, well, nil)
	air, loads := control(&b, 2).ID, ""
	reading := ""
	for _, e := range b.Entries {
		if e.Kind == burn.Load && e.Load.Lay == fire.OnCoals {
			loads = e.ID
		}
		if e.Kind == burn.Temperature {
			reading = e.ID
		}
	}
	find := func(b burn.Burn, id string) burn.Entry {
		e, _ := b.Last(func(e burn.Entry) bool { return e.ID == id })
		return e
	}
	before := len(b.Entries)
	got, err := review.With(b, []review.Edit{{Kind: review.Later, Entry: air, By: 7 * time.Minute}, {Kind: review.SetTo, Entry: air, To: 0.7},
		{Kind: review.SetTo, Entry: loads, To: 5}, {Kind: review.Drier, To: 0.12}, {Kind: review.LaidOut, Lay: fire.Raft}, {Kind: review.DoorShut,
			By: 3 * time.Minute},
		{Kind: review.Turned, Key: "lever", By: 90 * time.Minute, To: 0.2}})
	require.NoError(t, err)
	assert.Equal(t, find(b, air).At.Add(7*time.Minute), find(got, air).At)
	assert.InDelta(t, 0.7, find(got, air).Opening, 1e-9)
	assert.Equal(t, 5, find(got, loads).Load.Pieces)
	assert.InDelta(t, 0.12, float64(find(got, loads).Load.Moisture), 1e-9)
	assert.Equal(t, fire.OnCoals, find(got, loads).Load.Lay, "only the first wood is laid")
	assert.Len(t, got.Entries, before+2)
	for i := 1; i < len(got.Entries); i++ {
		assert.False(t, got.Entries[i].At.Before(got.Entries[i-1].At), "in the order of time")
	}
	assert.Len(t, b.Entries, before)
	assert.Equal(t, 3, find(b, loads).Load.Pieces, "the burn itself stays as it was")
	got, err = review.With(b, []review.Edit{{Kind: review.Without, Entry: air}})
	require.NoError(t, err)
	assert.Len(t, got.Entries, before-1)

	for name, c := range map[string]struct {
		edit review.Edit
		want error
	}{
		"nobody's":      {review.Edit{Kind: review.Later, Entry: "nobody"}, review.ErrNoEntry},
		"a reading":     {review.Edit{Kind: review.Later, Entry: reading, By: time.Minute}, review.ErrNoEntry},
		"before it all": {review.Edit{Kind: review.Later, Entry: air, By: -9 * time.Hour}, review.ErrTooEarly},
		"days later":    {review.Edit{Kind: review.Later, Entry: air, By: 40 * time.Hour}, review.ErrTooEarly},
		"wide open":     {review.Edit{Kind: review.SetTo, Entry: air, To: 1.5}, review.ErrNoSense},
		"no pieces":     {review.Edit{Kind: review.SetTo, Entry: loads, To: 0}, review.ErrNoSense},
		"no control":    {review.Edit{Kind: review.Turned, Key: "nothing", To: 0.5}, review.ErrNoSense},
		"after its end": {review.Edit{Kind: review.Turned, Key: "lever", By: 30 * time.Hour, To: 0.5}, review.ErrTooEarly},
		"dance":         {review.Edit{Kind: "dance", Entry: air}, review.ErrNoSense},
	} {
		_, err := review.With(b, []review.Edit{c.edit})
		require.ErrorIs(t, err, c.want, name)
	}
	_, err = review.With(b, make([]review.Edit, 13))
	require.ErrorIs(t, err, review.ErrTooMany)
}

// How a burn was made is read from its log.
func TestWayOf(t *testing.T) {
	b := usual(fixture.Auntie, well, nil)
	w := review.WayOf(b)
	assert.True(t, w.Cold)
	assert.Equal(t, fire.TopDown, w.Lay)
	assert.Equal(t, "beech", w.Species)
	assert.Equal(t, 9*time.Minute, w.Ajar)
	assert.Equal(t, 18*time.Minute, w.Hold, "the air was taken below where it stood")
	assert.InDelta(t, 0.4, w.Final, 1e-9)
	assert.Equal(t, 2, w.Loads)
	assert.Equal(t, 3, w.Pieces)
	assert.Equal(t, stove.Sideways, w.Direction)
	assert.InDelta(t, 0.16, float64(w.Moisture), 1e-9)
	empty := review.WayOf(burn.Burn{Stove: b.Stove})
	assert.Equal(t, review.Way{Hold: -1, Final: -1}, empty)
}

// The next burn says whether the one thing was done, and what came of it beside those before.
func TestAnswers(t *testing.T) {
	as := func(smoke float64, w review.Way) review.Review {
		w.Cold = true
		return review.Review{Simulated: true, SmokePerKg: smoke, Way: w}
	}
	before := []review.Review{as(10, review.Way{}), as(11, review.Way{}), as(9, review.Way{}), as(500, review.Way{})}
	then := as(10, review.Way{Hold: 5 * time.Minute, Final: 0.2, Moisture: 0.28, Lay: fire.BottomUp, Ajar: 3 * time.Minute})
	aim := func(m review.Matter, by time.Duration, from, to float64) review.Aim {
		return review.Aim{Finding: review.Finding{Code: m, By: by, From: from, To: to}}
	}
	for name, c := range map[string]struct {
		aim   review.Aim
		now   review.Way
		done  bool
		asked bool
	}{
		"held longer":       {aim(review.DownEarly, 6*time.Minute, 0, 0), review.Way{Hold: 11 * time.Minute}, true, true},
		"held as before":    {aim(review.DownEarly, 6*time.Minute, 0, 0), review.Way{Hold: 6 * time.Minute}, false, true},
		"never turned down": {aim(review.DownEarly, 6*time.Minute, 0, 0), review.Way{Hold: -1}, false, false},
		"further open":      {aim(review.TooFar, 0, 0.2, 0.4), review.Way{Final: 0.35}, true, true},
		"shut further":      {aim(review.TooFar, 0, 0.2, 0.4), review.Way{Final: 0.1}, false, true},
		"lit from above":    {aim(review.Lit, 0, 0, 0), review.Way{Lay: fire.TopDown}, true, true},
		"from below again":  {aim(review.Lit, 0, 0, 0), review.Way{Lay: fire.BottomUp}, false, true},
		"drier":             {aim(review.Wet, 0, 0.28, 0.17), review.Way{Moisture: 0.18}, true, true},
		"door ajar longer":  {aim(review.ShutEarly, 5*time.Minute, 0, 0), review.Way{Ajar: 9 * time.Minute}, true, true},
		"sooner back":       {aim(review.DownLate, 15*time.Minute, 1, 0.3), review.Way{Hold: 4 * time.Minute}, true, true},
		"nothing to say":    {aim(review.TooMuch, 0, 4, 3), review.Way{}, false, false},
	} {
		got := review.Answered(c.aim, then, as(6, c.now), before)
		if !c.asked {
			assert.Nil(t, got, name)
			continue
		}
		require.NotNil(t, got, name)
		assert.Equal(t, c.done, got.Done, name)
		assert.Equal(t, 3, got.Beside, name)
		assert.InDelta(t, -0.4, got.Smoke, 1e-9, name)
	}
	few := review.Answered(aim(review.Lit, 0, 0, 0), then, as(6, review.Way{Lay: fire.TopDown}), before[:2])
	assert.Zero(t, few.Beside, "two are too few to be beside")
}

// A burn without a gauge, or on mineral fuel, is looked at as far as that goes.
func TestReviewsOfLittle(t *testing.T) {
	silent := usual(fixture.Auntie, well, func(b *burn.Burn) {
		var kept []burn.Entry
		for _, e := range b.Entries {
			if e.Kind != burn.Temperature {
				kept = append(kept, e)
			}
		}
		b.Entries = kept
	})
	r, past := review.Of(silent, learn.New())
	require.NotNil(t, past)
	assert.False(t, r.FromLog)
	assert.Zero(t, r.House.Readings)
	assert.Positive(t, r.HeatMiddle)
	assert.Less(t, float64(r.HeatLow), float64(r.HeatHigh))
	assert.Len(t, r.Thumb, review.ThumbPoints)

	mineral := usual(fixture.Clinker, well, func(b *burn.Burn) {
		b.Entries = append(b.Entries, burn.Entry{ID: "briquettes", Kind: burn.Mineral, At: lit.Add(time.Hour), Load: &fire.Load{Pieces: 4, PieceMass: 0.5}})
	})
	r, past = review.Of(mineral, learn.New())
	assert.Nil(t, past)
	assert.False(t, r.Simulated)
	assert.Empty(t, r.Findings)
	assert.Equal(t, units.Kilogram(2), r.Mineral)

	short := usual(fixture.Auntie, well, func(b *burn.Burn) { b.Ended = b.Started.Add(2 * time.Minute) })
	short.Entries = short.Entries[:2]
	r, _ = review.Of(short, learn.New())
	assert.Equal(t, 2*time.Minute, r.Length)
}

// What could have hurt somebody is told before any gram, from the log alone.
func TestDangersComeFirst(t *testing.T) {
	at := func(b *burn.Burn, minute int, e burn.Entry) {
		e.ID, e.At = fmt.Sprint("x", len(b.Entries)), b.Started.Add(time.Duration(minute)*time.Minute)
		b.Entries = append(b.Entries, e)
	}
	for name, c := range map[string]struct {
		change func(*burn.Burn)
		want   []review.Hurt
	}{
		"nothing": {func(*burn.Burn) {}, nil},
		"smoke in the room": {func(b *burn.Burn) {
			at(b, 20, burn.Entry{Kind: burn.Smoke, Smoke: burn.SmokeRoom})
			at(b, 32, burn.Entry{Kind: burn.Smoke, Smoke: burn.SmokeGone})
		}, []review.Hurt{review.RoomSmoke}},
		"eleven minutes too hot": {func(b *burn.Burn) {
			for m, c := range map[int]units.Celsius{100: 520, 105: 540, 111: 505, 113: 400} {
				at(b, m, burn.Entry{Kind: burn.Temperature, Place: stove.ConnectorProbe, Reading: c})
			}
			slices.SortFunc(b.Entries, func(x, y burn.Entry) int { return x.At.Compare(y.At) })
		}, []review.Hurt{review.RanHot}},
		"it died three times": {func(b *burn.Burn) {
			for _, m := range []int{30, 60, 95} {
				at(b, m, burn.Entry{Kind: burn.Light})
			}
		}, []review.Hurt{review.Died}},
		"alarm, overload, door": {func(b *burn.Burn) {
			at(b, 40, burn.Entry{Kind: burn.COAlarm})
			l, _ := b.Last(func(e burn.Entry) bool { return e.Load != nil && !e.Load.Kindling })
			many := *l.Load
			many.Pieces = 12
			at(b, 130, burn.Entry{Kind: burn.Load, Load: &many})
			at(b, 140, burn.Entry{Kind: burn.Door, Door: fire.Ajar})
		}, []review.Hurt{review.Monoxide, review.Overload, review.DoorLong}},
	} {
		b := usual(fixture.Auntie, well, nil)
		kept := b.Entries[:0:0]
		for _, e := range b.Entries { // the gauges are said here
			if e.Kind != burn.Temperature {
				kept = append(kept, e)
			}
		}
		b.Entries = kept
		c.change(&b)
		var got []review.Hurt
		for _, d := range review.Quick(b).Dangers {
			got = append(got, d.Code)
		}
		assert.Equal(t, c.want, got, name)
	}
	hot := usual(fixture.Auntie, well, nil)
	at(&hot, 100, burn.Entry{Kind: burn.Smoke, Smoke: burn.SmokeRoom})
	r, _ := review.Of(hot, learn.New())
	for _, f := range r.Findings {
		assert.NotContains(t, []review.Matter{review.TooOpen, review.DownLate, review.ShutEarly}, f.Code, "less air is no answer to smoke in the room")
	}
}

// What was told often and never done is told otherwise, and then no more; what was done
// counts as new.
func TestNobodyIsToldForEver(t *testing.T) {
	told := review.Review{Findings: []review.Finding{{Code: review.TooFar}}}
	did := review.Review{Answer: &review.Answer{Code: review.TooFar, Done: true}}
	now := []review.Finding{{Code: review.TooFar}, {Code: review.Lit}}
	codes := func(before ...review.Review) (out []review.Matter) {
		for _, f := range review.Weary(now, before) {
			out = append(out, f.Code)
		}
		return out
	}
	assert.Equal(t, []review.Matter{review.TooFar, review.Lit}, codes(told, told))
	assert.Equal(t, []review.Matter{review.Lit, review.TooFar}, codes(told, told, told))
	assert.Equal(t, []review.Matter{review.Lit}, codes(told, told, told, told, told))
	assert.Equal(t, []review.Matter{review.TooFar, review.Lit}, codes(told, did, told, told, told, told, told))
}

// The heat adds up: what was put on, kindling too, less what is left, times the efficiency,
// at both ends; and a fire that went out has what it left.
func TestTheHeatAddsUp(t *testing.T) {
	for _, out := range []bool{false, true} {
		b := usual(fixture.Auntie, well, nil)
		if out {
			b.Entries = append(b.Entries, burn.Entry{ID: "out", Kind: burn.WentOut, At: b.Started.Add(75 * time.Minute)})
			slices.SortFunc(b.Entries, func(x, y burn.Entry) int { return x.At.Compare(y.At) })
		}
		r, _ := review.Of(b, learn.New())
		assert.InDelta(t, float64(r.Burnt)*float64(r.EffLow), float64(r.HeatLow), 1)
		assert.InDelta(t, float64(r.Burnt)*float64(r.EffHigh), float64(r.HeatHigh), 1)
		assert.LessOrEqual(t, r.HeatLow, r.HeatMiddle)
		assert.LessOrEqual(t, r.HeatMiddle, r.HeatHigh)
		assert.LessOrEqual(t, float64(r.Burnt), float64(r.In)*1.02)
		if out {
			assert.Greater(t, float64(r.Unburnt), 0.3)
			assert.Equal(t, fire.Out, r.Phases[len(r.Phases)-1].Name)
			assert.Contains(t, hurts(r), review.Died)
		}
	}
}

func hurts(r review.Review) (out []review.Hurt) {
	for _, d := range r.Dangers {
		out = append(out, d.Code)
	}
	return out
}
