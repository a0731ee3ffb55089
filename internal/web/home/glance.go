package home

import (
	"html/template"
	"math"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/core/day"
	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// The room's line on the first page, and what it is drawn for.
const (
	lineWide, linePhone = 500, 340 // px
	lineBack, lineOn    = 4 * time.Hour, 10 * time.Hour
	leastOn             = 4 * time.Hour
	lineEvery           = 10 * time.Minute
	coldSamples         = 12 // of a replay, between two points
)

// atAGlance draws a fire that is in: the firebox, the room against what is wanted, and says what
// comes next.
func (s Room) atAGlance(q *kit.Request, line *stoveNow) {
	b, a := line.Open.Burn, line.Open.Coach.Answer
	line.State = say.AtAGlance(a, q.Locale())
	line.Box = boxOf(b, a, line.State, b.Stove.Small()).SVG()
	line.Next = s.nextSays(q, b, a)
	if !b.Simulated() {
		return
	}
	held := s.line(q, [2]units.Celsius{units.Celsius(b.Wanted[0]), units.Celsius(b.Wanted[1])})
	if samples := s.Replays.Replay(b.Burn, s.Now().UTC()).Samples; len(samples) > 0 {
		held.Was = past(b.Started, samples, held.From)
	}
	f := a.Forecast
	for i := 0; i < len(f.Room.Middle); i += max(1, int(lineEvery/max(time.Minute, f.Every))) {
		if at := b.Started.Add(f.From + time.Duration(i)*f.Every); !at.Before(held.Now) && !at.After(held.To) {
			held.Will = append(held.Will, strip.Moment{At: at, V: f.Room.Middle[i]})
		}
	}
	next, loads := nextLoad(a, held.Now.Sub(b.Started))
	if loads {
		at := b.Started.Add(next)
		held.Marks = append(held.Marks, strip.Word{At: at, Say: q.F("%s load", at.In(q.Profile.Location()).Format("15:04"))})
	}
	for kind, word := range map[belief.EventKind]lang.Message{belief.ReloadFrom: "%s load", belief.CoalsFew: "%s few coals"} {
		if e := f.Events[kind]; e.Likely > 0 && e.Share >= 0.5 && !(loads && kind == belief.ReloadFrom) {
			at := b.Started.Add(e.Likely)
			if at.After(held.Now) {
				held.Marks = append(held.Marks, strip.Word{At: at, Say: q.F(word, at.In(q.Profile.Location()).Format("15:04"))})
			}
		}
	}
	held.Until(leastOn)
	line.Room = drawn(held)
}

// nextLoad is when the next load that is planned is likely to go on, since the start. The coals
// that are foretold are those after all the loads ahead, so they are not what somebody is back for.
func nextLoad(a coach.Answer, now time.Duration) (time.Duration, bool) {
	for _, st := range a.Ahead {
		if (st.Kind == plan.LoadIt || st.Kind == plan.FeedIt) && st.Expected > now {
			return st.Expected, true
		}
	}
	return 0, false
}

// boxOf is a fire as its firebox is drawn.
func boxOf(b store.Burn, a coach.Answer, says string, small bool) strip.Glance {
	st := a.Standing
	g := strip.Glance{Flames: st.Flames, Black: st.Black >= 0.5, Smokes: a.Smoulders(), Says: says, Small: small}
	good, _ := wish.GoodCoals.Coals(b.Stove.Volume)
	g.Coals = st.Coals.Middle / math.Max(0.01, float64(good))
	e, there := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling })
	switch {
	case a.Phase == fire.Preparing || a.Phase == "":
		g.Flames, g.Black = 0, false
		switch {
		case there:
			g.Pieces, g.Left, g.Sticks = e.Load.Pieces, 1, true
		case b.Plan != nil:
			first, main := b.Plan.Loads()
			g.Pieces, g.Left, g.Sticks, g.Laid = max(first.Pieces, main.Pieces), 1, first.Pieces > 0, true
		}
	case there:
		g.Pieces, g.Left = e.Load.Pieces, math.Min(1, st.Wood.Middle/math.Max(0.01, e.Load.Dry()))
		g.Sticks = a.Phase == fire.Lighting
	}
	if a.Phase == fire.Out {
		g.Flames, g.Coals = 0, 0
	}
	return g
}

// nextSays is what comes next of a fire, and by when: when to be back.
func (s Room) nextSays(q *kit.Request, b store.Burn, a coach.Answer) string {
	clock := func(at time.Duration) string { return b.Started.Add(at).In(q.Profile.Location()).Format("15:04") }
	reload, few := a.Forecast.Events[belief.ReloadFrom], a.Forecast.Events[belief.CoalsFew]
	now := s.Now().Sub(b.Started)
	next, loads := nextLoad(a, now)
	switch {
	case a.Unheard > 0 || !b.Simulated():
		return ""
	case a.Phase == fire.Coaling && !loads && few.Likely > now:
		return q.F("Coals to light from until about %s", clock(few.Likely))
	case loads:
		return q.F("Next load about %s", clock(next))
	case reload.Likely > now && reload.Share >= 0.5:
		return q.F("Down to coals about %s", clock(reload.Likely))
	}
	return ""
}

// coldGlance draws a stove in which nothing burns: what glows in it still, and how the room goes.
func (s Room) coldGlance(q *kit.Request, line *stoveNow, st store.Stove, at day.Situation, found day.Advice) {
	line.State = q.T("Cold")
	box := strip.Glance{Says: line.State, Small: st.Small()}
	if at.Last != nil {
		good, _ := wish.GoodCoals.Coals(st.Volume)
		if box.Coals = float64(at.Last.Coals / good); found.Start != wish.Cold {
			line.State = q.T("Coals left")
		}
	}
	line.Box = box.SVG()
	if !found.Known || at.Outdoor == nil {
		return
	}
	held := s.line(q, st.Space.Wanted)
	held.From = held.Now
	for i, r := range at.House.Through(house.Settled(found.Room), lineOn, func(time.Duration) units.Watt { return 0 }, at.Outdoor) {
		if i%2 == 0 {
			held.Will = append(held.Will, strip.Moment{At: held.Now.Add(time.Duration(i) * 5 * time.Minute), V: float64(r.Air)})
		}
	}
	if found.Wait > 0 {
		when := held.Now.Add(found.Wait)
		held.Marks = append(held.Marks, strip.Word{At: when, Say: q.F("%s light", when.In(q.Profile.Location()).Format("15:04"))})
	}
	line.Room = drawn(held)
}

// line is a room's line with nothing on it yet.
func (s Room) line(q *kit.Request, wanted [2]units.Celsius) strip.Held {
	now := s.Now()
	return strip.Held{Locale: q.Locale(), Zone: q.Profile.Location(), Now: now, From: now.Add(-lineBack), To: now.Add(lineOn),
		Low: float64(wanted[0]), High: float64(wanted[1])}
}

// drawn is it for a laptop and for a phone.
func drawn(h strip.Held) (out [2]template.HTML) {
	for i, wide := range []float64{lineWide, linePhone} {
		h.Wide = wide
		out[i] = h.SVG()
	}
	return out
}

// past is the room as a replay has it, from a moment on.
func past(started time.Time, samples []fire.Sample, from time.Time) (out []strip.Moment) {
	for i, x := range samples {
		if at := started.Add(x.At); !at.Before(from) && (i%coldSamples == 0 || i == len(samples)-1) {
			out = append(out, strip.Moment{At: at, V: float64(x.Room)})
		}
	}
	return out
}

// weatherSays is the weather now and tonight, in a line; empty where nobody knows it.
func (s Room) weatherSays(q *kit.Request) string {
	hours, ok := s.Hourly(q, s.Now(), ahead)
	if !ok {
		return ""
	}
	coldest := hours[0]
	for _, h := range hours {
		if h.Temperature < coldest.Temperature {
			coldest = h
		}
	}
	u := q.Locale()
	return q.F("%s now, %s at %s · wind %s", u.Temperature(units.Celsius(hours[0].Temperature)), u.Temperature(units.Celsius(coldest.Temperature)),
		coldest.At.In(q.Profile.Location()).Format("15:04"), u.Speed(hours[0].Wind))
}
