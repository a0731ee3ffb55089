package belief

import (
	"math"
	"math/rand/v2"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
)

// An EventKind is something that comes in a fire.
type EventKind string

// What comes.
const (
	Blackened  EventKind = "black"       // the last load is black all over
	Works      EventKind = "working"     // the guiding gauge reaches its band
	FlamesDie  EventKind = "flames-gone" //
	ReloadFrom EventKind = "reload"      // flames gone, and coals enough to light the next load
	CoalsFew   EventKind = "coals-few"   // too few to light it without kindling
)

// Events in the order of a burn.
var Events = []EventKind{Blackened, Works, FlamesDie, ReloadFrom, CoalsFew}

// reloads is how much must glow to light a load, kg for each litre of the firebox, as
// a picture of a good bed has it.
const reloads = 0.004

// LeastCoals is how much must glow in a stove to light a load, kg.
func LeastCoals(st stove.Stove) float64 { return reloads * float64(st.Volume) }

// A Span is when something comes, since the start of the burn: earliest and latest
// are those of eight in ten members.
type Span struct {
	Earliest, Likely, Latest time.Duration
	Share                    float64 // of the members' weight in which it comes at all
}

// A Fan is a number ahead: the tenth, the middle, and the ninetieth in a hundred.
type Fan struct{ Low, Middle, High []float64 }

// A Forecast is how the fire goes on.
type Forecast struct {
	From, Every time.Duration // the first value is of From
	Gauges      map[stove.Place]Fan
	Room, Coals Fan
	Events      map[EventKind]Span
	Moves       []Span // when each of the moves that were asked about is due
	Risks       Risks
}

// Risks are how likely something bad is within a quarter of an hour, should nobody
// touch anything: 0 to 1.
type Risks struct{ TooHot, Smoulder, Spilling float64 }

// soon is how far ahead risks are looked at.
const soon = 15 * time.Minute

// most is how many values a fan has.
const most = 400

// Forecast burns the members on by moves that are still to come, until a moment since
// the start of the burn; the first of them waits from the last act on.
func (b *Belief) Forecast(moves []fire.Move, until time.Duration) Forecast {
	return b.ForecastAfter(b.touched, moves, until, nil)
}

// ForecastAfter is Forecast, the first move waiting from another moment on, with a hand
// that helps each member; nil: nobody does.
func (b *Belief) ForecastAfter(last time.Duration, moves []fire.Move, until time.Duration, hand func() fire.Hand) Forecast {
	f := Forecast{From: b.now, Every: time.Minute, Gauges: map[stove.Place]Fan{}, Events: map[EventKind]Span{}}
	until = max(until, b.now+time.Minute)
	for (until-b.now)/f.Every > most {
		f.Every *= 2
	}
	places := b.places()
	all := b.weights()
	members, weights := drawn(all, foreseers)
	watchers := make([]*watch, len(members))
	results := make([]fire.Result, len(members))
	parallel.InParallel(len(members), func(i int) {
		m := b.members[members[i]]
		watchers[i] = newWatch(m, members[i], places, b.setup.Stove, int((until-b.now)/f.Every)+2, f.Every)
		opt := fire.Options{Until: until, Every: f.Every, Coarse: true, Watch: watchers[i]}
		if hand != nil {
			opt.Hand = hand()
		}
		results[i] = fire.GoOn(m.fire, last, b.touched, m.world.all(moves, m.loads), opt)
	})
	fan := func(of func(*watch) []float64) Fan { return fanOf(watchers, weights, of) }
	for g, p := range places {
		gauge := fan(func(w *watch) []float64 { return w.gauges[g] })
		b.wide.widen(&gauge, p, f.Every)
		f.Gauges[p] = gauge
	}
	f.Room, f.Coals = fan(func(w *watch) []float64 { return w.room }), fan(func(w *watch) []float64 { return w.coals })
	b.wide.widen(&f.Room, stove.RoomAir, f.Every)
	for k, kind := range Events {
		f.Events[kind] = spanOf(len(watchers), weights, func(i int) time.Duration { return watchers[i].events[k] })
	}
	for k := range moves {
		f.Moves = append(f.Moves, spanOf(len(results), weights, func(i int) time.Duration { return results[i].Done[k] }))
	}
	f.Risks = b.risks(all)
	return f
}

// foreseers is how many members at most burn on for a forecast: five eighths of them tell its tenths as
// well as all do, whose weights differ, and take five eighths of the time.
const foreseers = Members * 5 / 8

// drawn draws at most so many of what has these weights, systematically and without chance: each
// that is drawn once, with the share of the draws that fell to it.
func drawn(weights []float64, n int) (at []int, share []float64) {
	next, sum := 0.5/float64(n), 0.0
	for i, w := range weights {
		sum += w
		draws := 0
		for ; next < sum && next < 1; next += 1 / float64(n) {
			draws++
		}
		if draws > 0 {
			at, share = append(at, i), append(share, float64(draws))
		}
	}
	total := 0.0
	for _, s := range share {
		total += s
	}
	for i := range share {
		share[i] /= total
	}
	return at, share
}

// places are the gauges that a forecast is about: the stove's, and the connector's
// where it has none.
func (b *Belief) places() []stove.Place {
	var out []stove.Place
	for _, g := range b.setup.Stove.Gauges {
		if g.Place.OfFire() {
			out = append(out, g.Place)
		}
	}
	if len(out) == 0 {
		out = append(out, stove.ConnectorProbe)
	}
	return out
}

// all are moves as they are in a world, loads having been put on before.
func (w world) all(moves []fire.Move, loads int) []fire.Move {
	out := make([]fire.Move, len(moves))
	for i, move := range moves {
		out[i].When = move.When
		for _, a := range move.Do {
			out[i].Do = append(out[i].Do, w.own(a, &loads))
		}
	}
	return out
}

// watch keeps of one member's future what a forecast needs.
type watch struct {
	member *member
	places []stove.Place
	noise  []float64 // of each place and of the room, in standard deviations
	guide  stove.Gauge
	least  float64 // kg of coals that light a load
	events [5]time.Duration
	gauges [][]float64
	before []float64 // what they would read a moment before
	every  float64   // s
	room   []float64
	coals  []float64
}

func newWatch(m *member, i int, places []stove.Place, st stove.Stove, n int, every time.Duration) *watch {
	w := &watch{member: m, every: every.Seconds(), places: places, least: LeastCoals(st), room: make([]float64, 0, n), coals: make([]float64, 0, n)}
	w.guide = stove.NewGauge(stove.ConnectorProbe)
	if g, ok := st.Guide(); ok {
		w.guide = g
	}
	random := rand.New(rand.NewPCG(uint64(i), 3))
	for range places {
		w.gauges = append(w.gauges, make([]float64, 0, n))
		w.noise = append(w.noise, random.NormFloat64())
	}
	w.before = make([]float64, len(places))
	w.noise = append(w.noise, random.NormFloat64())
	for k := range w.events {
		w.events[k] = -1
	}
	return w
}

// See keeps a moment.
func (w *watch) See(f *fire.Fire) {
	now, room := f.Elapsed(), float64(f.Room())
	for g, p := range w.places {
		would, _ := f.Reading(p)
		rate := 0.0
		if n := len(w.gauges[g]); n > 0 {
			rate = (would - w.before[g]) / w.every
		}
		w.before[g] = would
		would = w.with(now, p, w.noise[g], would, room, rate)
		w.gauges[g] = append(w.gauges[g], would)
		if p == w.guide.Place && would >= float64(w.guide.Band.Low) {
			w.comes(1, now)
		}
	}
	w.room = append(w.room, w.with(now, stove.RoomAir, w.noise[len(w.places)], room, room, 0))
	look := f.Look()
	look.Coals = w.member.world.coals(look.Coals, now)
	w.coals = append(w.coals, look.Coals)
	if look.Black {
		w.comes(0, now)
	}
	if gone := look.Flame < policy.FlameSeen && look.Black; gone {
		w.comes(2, now)
		if look.Coals >= w.least {
			w.comes(3, now)
		} else {
			w.comes(4, now)
		}
	}
}

func (w *watch) comes(k int, at time.Duration) {
	if w.events[k] < 0 {
		w.events[k] = at
	}
}

// with is what a gauge will read of what the member says: with what it misses now,
// which fades, and what it will miss then, which grows.
func (w *watch) with(at time.Duration, p stove.Place, noise, celsius, room, rate float64) float64 {
	sigma, lasts := errorOf(p, celsius, room, rate)
	miss := w.member.misses[missOf[p]]
	keeps := 0.0
	if miss.seen {
		keeps = fade(at-miss.at, lasts)
	}
	return celsius + sigma*(keeps*miss.by+math.Sqrt(1-keeps*keeps)*noise)
}

// Fork is never asked for: a forecast has no branches.
func (w *watch) Fork() fire.Watcher { return w }

// fanOf takes the quantiles of a number over the members, moment by moment.
func fanOf(watchers []*watch, weights []float64, of func(*watch) []float64) Fan {
	n := math.MaxInt
	for _, w := range watchers {
		n = min(n, len(of(w)))
	}
	values, at := make([]float64, len(watchers)), make([]int, len(watchers))
	fan := Fan{make([]float64, n), make([]float64, n), make([]float64, n)}
	for t := range n {
		for i, w := range watchers {
			values[i] = of(w)[t]
		}
		fan.Low[t], fan.Middle[t], fan.High[t] = threeOf(values, weights, at)
	}
	return fan
}

// spanOf is when something comes over the members; negative in a member: never.
func spanOf(n int, weights []float64, of func(int) time.Duration) Span {
	s := Span{Earliest: -1, Likely: -1, Latest: -1}
	var values, w []float64
	for i := range n {
		if at := of(i); at >= 0 {
			values, w = append(values, at.Seconds()), append(w, weights[i])
			s.Share += weights[i]
		}
	}
	if s.Share <= 0 {
		return s
	}
	for i := range w {
		w[i] /= s.Share
	}
	low, middle, high := threeOf(values, w, make([]int, len(values)))
	second := func(x float64) time.Duration { return time.Duration(x) * time.Second }
	s.Earliest, s.Likely, s.Latest = second(low), second(middle), second(high)
	return s
}

// RisksIf are the risks of the next quarter of an hour should something be done now and
// nothing after: too hot at any time, smouldering and spilling at its end.
func (b *Belief) RisksIf(act fire.Act) Risks {
	bad := make([]fire.Look, len(b.members))
	parallel.InParallel(len(b.members), func(i int) {
		f := b.members[i].fire.Clone()
		f.Do(act)
		hot := false
		for at := b.now + soon/5; at <= b.now+soon; at += soon / 5 {
			f.BurnTo(at, b.now)
			hot = hot || f.Look().Hot
		}
		bad[i] = f.Look()
		bad[i].Hot = hot
	})
	return risksOf(bad, b.weights())
}

// risks burns the members for a quarter of an hour in which nobody touches anything.
func (b *Belief) risks(weights []float64) Risks {
	bad := make([]fire.Look, len(b.members))
	parallel.InParallel(len(b.members), func(i int) {
		f := b.members[i].fire.Clone()
		const often = time.Minute
		for at := b.now + often; at <= b.now+soon; at += often {
			f.BurnTo(at, b.touched)
			look := f.Look()
			bad[i].Hot, bad[i].Smoulder, bad[i].Spilling = bad[i].Hot || look.Hot, bad[i].Smoulder || look.Smoulder, bad[i].Spilling || look.Spilling
		}
	})
	return risksOf(bad, weights)
}

func risksOf(bad []fire.Look, weights []float64) Risks {
	var r Risks
	for i, look := range bad {
		add := func(to *float64, is bool) {
			if is {
				*to += weights[i]
			}
		}
		add(&r.TooHot, look.Hot)
		add(&r.Smoulder, look.Smoulder)
		add(&r.Spilling, look.Spilling)
	}
	return r
}

// Posterior is what is believed of the stove now, as the prior of a next burn.
func (b *Belief) Posterior() Prior {
	p, weights, n := Usual(), b.weights(), len(unknowns)
	for i := range n {
		for k, m := range b.members {
			p.Mean[i] += weights[k] * m.world[i]
		}
	}
	for i := range n {
		for j := range n {
			sum := 0.0
			for k, m := range b.members {
				sum += weights[k] * (m.world[i] - p.Mean[i]) * (m.world[j] - p.Mean[j])
			}
			p.Covariance[i*n+j] = sum
		}
	}
	return p
}
