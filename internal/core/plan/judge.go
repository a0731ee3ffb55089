package plan

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/fire"
)

// verdict is what became of a candidate.
type verdict struct {
	candidate
	feeds         []feed // later loads, where the wish is longer than one
	unsafe, dirty bool
	late          bool    // its last step comes when nobody is there
	merit         float64 // the lower the better
	cold          float64 // degree-hours under the wanted band
	kilos         float64
	summary       fire.Summary
	burnt         *fire.Result // at full accuracy, once it has been
}

// unsafe tells whether a burn runs too hot or lets smoke into the room: in its
// first half hour, when the fire is young and the door may be open, at all; later
// for longer than a gust or two.
func unsafe(s fire.Summary) bool {
	return s.TooHot > maxTooHot || (s.SpilledCold || s.Spilling > maxSpilling) && s.MinDraft < 0
}

func dirty(s fire.Summary) bool { return s.Smoulder > maxSmoulder || s.SmokePerKg > maxSmokePerKg }

// good tells whether a candidate may be offered.
func (v verdict) good() bool { return !v.unsafe && !v.dirty && !v.late }

// late tells whether a step comes, with slack, when nobody is there.
func (w Wish) late(r fire.Result) bool {
	there := w.there()
	return there != nil && slices.ContainsFunc(r.Done, func(done time.Duration) bool {
		span, ok := there.at(done)
		return done < 0 || !ok || span.From+time.Duration(float64(done-span.From)*slack) > span.To-watched
	})
}

// searching are the options of a burn while searching: coarse steps, and no
// further than a limit.
func (w Wish) searching() fire.Options {
	return fire.Options{Until: w.For + tail, Every: searchEvery, Step: searchStep, Coarse: true, GiveUp: fire.Limits{TooHot: maxTooHot, Smoulder: 2 * maxSmoulder}}
}

// judge burns candidates that are the same fire until it is turned down, and
// gives each its merit. A burn that is too hot or smoulders is not followed to
// its end: it is out, whatever else it does.
func (w Wish) judge(alike []candidate, verdicts []verdict, m *Meter) {
	opt := w.searching()
	first := w.steps(alike[0])
	turned := slices.IndexFunc(first, func(s Step) bool { return s.Kind == TurnDown })
	branch := fire.RunTo(w.setup(), fireSteps(first), turned, opt)
	for i, c := range alike {
		verdicts[i] = w.weighed(c, nil, branch.Run(fireSteps(w.steps(c))))
		m.Count()
	}
}

// weighed gives a candidate its merit by what became of it.
func (w Wish) weighed(c candidate, feeds []feed, r fire.Result) verdict {
	s := r.Summary
	v := verdict{candidate: c, feeds: feeds, summary: s}
	v.unsafe, v.dirty = unsafe(s), dirty(s)
	v.late = w.late(r)
	w.weigh(&v, r)
	if v.late {
		v.merit += 500
	}
	if v.dirty {
		v.merit += 1e3 + s.SmokePerKg
	}
	if v.unsafe {
		v.merit += 1e6 + s.TooHot.Minutes()
	}
	return v
}

// weigh sets smoke against comfort by the hour against wood. Comfort counts
// most once a burn is clean: a degree too cold for an hour weighs as much as a
// gram of smoke per kilogram.
func (w Wish) weigh(v *verdict, r fire.Result) {
	cold, hot, hours, reached := 0.0, 0.0, 0.0, w.For.Hours()
	there := w.there()
	for i, s := range r.Samples {
		if s.At > w.For {
			break
		}
		each := searchEvery.Hours()
		if w.Aim != Overnight && there.out(s.At) {
			each *= emptyRoom
		}
		hours += each
		cold += math.Max(0, float64(w.Low-s.Room)) * each
		hot += math.Max(0, float64(s.Room-w.High)) * each
		if s.Room >= w.Low && s.At.Hours() < reached {
			reached = s.At.Hours()
			if i > 0 { // between the samples
				before := r.Samples[i-1].Room
				reached -= searchEvery.Hours() * float64((s.Room-w.Low)/(s.Room-before))
			}
		}
	}
	hours = math.Max(hours, searchEvery.Hours())
	woods := w.woods()
	v.kilos = float64(woods[v.firstOf].Stack.PieceMass)*float64(v.first) + float64(woods[v.mainOf].Stack.PieceMass)*float64(v.main)
	for _, f := range v.feeds {
		v.kilos += float64(woods[v.mainOf].Stack.PieceMass) * float64(f.pieces)
	}
	v.cold = cold
	v.merit = 0.6*r.Summary.SmokePerKg + 0.15*v.kilos
	switch w.Aim {
	case WarmUp:
		v.merit += 4*reached + (cold+2*hot)/hours
	case Overnight, Away:
		v.merit += (3*cold+2*hot)/hours + 6*math.Max(0, 0.25-w.coalsAt(r))
	case TakeOff:
		v.merit += (1.5*cold+4*hot)/hours + 0.5*v.kilos
	case DryOut:
		v.merit += 1.2*v.kilos + 0.02*math.Max(0, float64(r.Summary.PeakTop)-180)
	default:
		v.merit += (3*cold + 3*hot) / hours
	}
}

// coalsAt returns the coals at the end of the wish, scaled to a 55 L firebox.
func (w Wish) coalsAt(r fire.Result) float64 {
	coals := 0.0
	for _, s := range r.Samples {
		if s.At > w.For {
			break
		}
		coals = float64(s.Coals)
	}
	return coals / math.Max(0.2, float64(w.Stove.Volume)/55)
}
