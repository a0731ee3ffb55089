package trouble

import (
	"cmp"
	"math"
	"slices"
	"sync/atomic"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
)

// A Record is an evening that was logged, as it is compared with what may be wrong.
type Record struct {
	Setup  fire.Setup
	Doubt  belief.Doubt
	Events []belief.Event
}

// An Asked is what somebody wants to know the cause of.
type Asked struct {
	Wish    wish.Wish // the stove, its space, and wood as it is usually burnt
	Prior   belief.Prior
	Happens []Complaint
	Evening *Record // nil: none is looked at
}

// Weighed is what the complaints and the evening say of each cause: what takes time. Answers of
// tests are put to it at once ([Weighed.With]).
type Weighed struct {
	stove stove.Stove
	odds  []Odd
	sound belief.Told
	told  map[[2]Cause]belief.Told // the evening with each, and with two
}

// Curve is what the guiding gauge would have read on the evening with something wrong, and besides it
// with another thing, or none; nothing wrong is [Sound]. It is °C every so often until a moment since
// the start; nil where no evening was weighed, or the stove has no such gauge.
func (w Weighed) Curve(c, with Cause, every, until time.Duration) []float64 {
	g, ok := w.stove.Guide()
	if !ok {
		return nil
	}
	if c == Sound {
		return w.sound.Curve(g.Place, every, until)
	}
	return w.told[[2]Cause{c, with}].Curve(g.Place, every, until)
}

// An Odd is a cause and how likely it is: all of them, with nothing wrong, make one.
type Odd struct {
	Cause  Cause
	With   Cause // the other one, where two things are wrong; else empty
	Chance float64
	// How much likelier or less the complaints, the evening and the answers made it than they made
	// nothing wrong, as logarithms: why it is thought so.
	ByWord, ByEvening, ByAnswers float64
}

// A Diagnosis is the causes, the likeliest first, and the test that would tell most.
type Diagnosis struct {
	Odds []Odd
	Next []Test  // worth doing, the one that tells most first; none: nothing cheap is left
	Left float64 // bits of doubt
}

// Weigh weighs the causes. tell hears how much of the work is done, of all.
func Weigh(a Asked, tell func(done, all int)) Weighed {
	causes := of(a.Wish.Stove)
	if a.Evening == nil || a.Evening.Setup.Coals <= 0 { // none were there to be few
		causes = slices.DeleteFunc(causes, func(r row) bool { return r.Cause == FewCoals })
	}
	type one struct {
		row   row
		wrong belief.Wrong
	}
	var each []one
	for _, r := range causes {
		for _, x := range r.Wrongs(a.Wish.Stove) {
			each = append(each, one{r, x})
		}
	}
	all := len(each) + 2
	if a.Evening != nil {
		all += len(each)
	}
	step := counter(tell, all)
	wrongs := make([]belief.Wrong, len(each))
	for i, e := range each {
		wrongs[i] = e.wrong
	}
	w := weighing{Asked: a, step: step}
	bySaid, byEvening, sound, told := w.weigh(wrongs)
	out := Weighed{stove: a.Wish.Stove, sound: sound, told: map[[2]Cause]belief.Told{}}
	odds := []Odd{{Cause: Sound, Chance: nothing}}
	var best []belief.Wrong // of each cause, the size that tells it best
	for i, e := range each {
		// Of a cause in several sizes the likeliest says why; its odds are those of all.
		share := e.row.Odds / float64(len(e.row.Wrongs(a.Wish.Stove)))
		o := Odd{Cause: e.row.Cause, ByWord: bySaid[i], ByEvening: byEvening[i]}
		o.Chance = share * math.Exp(math.Min(40, o.ByWord+o.ByEvening))
		if last := &odds[len(odds)-1]; last.Cause == o.Cause {
			last.Chance += o.Chance
			if o.ByWord+o.ByEvening > last.ByWord+last.ByEvening {
				last.ByWord, last.ByEvening, best[len(best)-1] = o.ByWord, o.ByEvening, e.wrong
				out.told[[2]Cause{o.Cause}] = told[i]
			}
			continue
		}
		odds, best = append(odds, o), append(best, e.wrong)
		out.told[[2]Cause{o.Cause}] = told[i]
	}
	both, toldBoth := w.pairs(odds, best)
	for k, o := range both {
		out.told[[2]Cause{o.Cause, o.With}] = toldBoth[k]
	}
	out.odds = append(odds, both...)
	step()
	return out
}

// A weighing is what is asked, while it is weighed.
type weighing struct {
	Asked
	step func()
}

// weigh is how much likelier what is said and what was logged are with each wrong than with
// nothing, as logarithms.
func (w weighing) weigh(wrongs []belief.Wrong) (bySaid, byEvening []float64, sound belief.Told, with []belief.Told) {
	bySaid, byEvening, with = make([]float64, len(wrongs)), make([]float64, len(wrongs)), make([]belief.Told, len(wrongs))
	if len(w.Happens) > 0 {
		sound := said(told(w.Wish, w.Prior, nil), w.Happens)
		for i := range wrongs { // its evenings are burnt on all cores
			bySaid[i] = said(told(w.Wish, w.Prior, &wrongs[i]), w.Happens) - sound
			w.step()
		}
	}
	if w.Evening != nil {
		sound, with = belief.Compare(w.Prior, w.Evening.Setup, w.Evening.Doubt, w.Evening.Events, wrongs, func(int) { w.step() })
		for i := range wrongs {
			byEvening[i] = with[i].Worth - sound.Worth // what the fit gains is weighed down there already, see belief.Smooth
		}
	}
	return bySaid, byEvening, sound, with
}

// Two things wrong at once are looked for among the likeliest, where an evening was logged: what is
// said happens with either.
const (
	pairedFrom = 5 // of the likeliest causes
	leastPair  = 0.01
	pairOdds   = 0.15 // of two together, against both by chance: they are looked for because one does not tell it all
)

// pairs are the likeliest causes, two at a time.
func (w weighing) pairs(odds []Odd, best []belief.Wrong) (out []Odd, told []belief.Told) {
	if w.Evening == nil {
		return nil, nil
	}
	likely := make([]int, 0, len(odds)-1) // places in odds, nothing wrong left out
	for i := range odds[1:] {
		likely = append(likely, i+1)
	}
	slices.SortStableFunc(likely, func(x, y int) int { return cmp.Compare(odds[y].Chance, odds[x].Chance) })
	likely = likely[:min(len(likely), pairedFrom)]
	var both []belief.Wrong
	for k, i := range likely {
		for _, j := range likely[k+1:] {
			if opposite(odds[i].Cause, odds[j].Cause) {
				continue
			}
			out = append(out, Odd{Cause: odds[i].Cause, With: odds[j].Cause})
			both = append(both, together(best[i-1], best[j-1]))
		}
	}
	bySaid, byEvening, _, told := weighing{Asked: w.Asked, step: func() {}}.weigh(both)
	for k := range out {
		out[k].ByWord, out[k].ByEvening = bySaid[k], byEvening[k]
		out[k].Chance = pairOdds * rowOf(out[k].Cause).Odds * rowOf(out[k].With).Odds * math.Exp(math.Min(40, bySaid[k]+byEvening[k]))
	}
	return out, told
}

// opposite tells whether two causes undo each other, or are one and the same.
func opposite(a, b Cause) bool {
	for _, group := range [][]Cause{{WeakDraft, Strong, Blocked, Damped}, {ReadsLow, ReadsHigh}, {Wet, HalfWet}, {Starved, Ashes}} {
		if slices.Contains(group, a) && slices.Contains(group, b) {
			return true
		}
	}
	return false
}

// together is one thing wrong and the other as well.
func together(a, b belief.Wrong) belief.Wrong {
	out := belief.Wrong{Setup: a.Setup, Act: a.Act}
	if b.Setup != nil {
		if out.Setup = b.Setup; a.Setup != nil {
			out.Setup = func(s *fire.Setup) { a.Setup(s); b.Setup(s) }
		}
	}
	if b.Act != nil {
		if out.Act = b.Act; a.Act != nil {
			out.Act = func(x *fire.Act) { a.Act(x); b.Act(x) }
		}
	}
	if len(a.Shift)+len(b.Shift) > 0 {
		out.Shift = map[string]float64{}
		for _, shift := range []map[string]float64{a.Shift, b.Shift} {
			for name, by := range shift {
				if out.Shift[name] == 0 {
					out.Shift[name] = 1
				}
				out.Shift[name] *= by
			}
		}
	}
	return out
}

// rowOf is the description of a cause.
func rowOf(c Cause) row {
	for _, r := range rows {
		if r.Cause == c {
			return r
		}
	}
	return row{}
}

// With is the diagnosis with what tests have shown.
func (w Weighed) With(answers ...Answer) Diagnosis {
	odds := slices.Clone(w.odds)
	for i := range odds {
		odds[i].ByAnswers = answered(odds[i], answers) - answered(Odd{Cause: Sound}, answers)
		odds[i].Chance *= math.Exp(odds[i].ByAnswers)
	}
	d := Diagnosis{Odds: even(odds)}
	// Two things that are hardly both wrong only lengthen the list.
	d.Odds = even(slices.DeleteFunc(d.Odds, func(o Odd) bool { return o.With != "" && o.Chance < leastPair }))
	d.Left = entropy(d.Odds)
	d.Next = next(w.stove, d.Odds, answers)
	return d
}

// nothing is how likely it is that nothing is wrong where somebody complains, against the odds of
// the causes: they add up to about two.
const nothing = 0.6

// counter tells how much is done, from wherever it is done.
func counter(tell func(done, all int), all int) func() {
	var done atomic.Int64
	return func() {
		if n := done.Add(1); tell != nil {
			tell(int(n), all)
		}
	}
}

// said is how likely what is said to happen is, as a logarithm; what is not said is not asked.
func said(of map[Complaint]float64, happens []Complaint) float64 {
	sum := 0.0
	for _, c := range happens {
		sum += math.Log(of[c])
	}
	return sum
}

// even makes chances of odds, the likeliest first.
func even(odds []Odd) []Odd {
	sum := 0.0
	for _, o := range odds {
		sum += o.Chance
	}
	for i := range odds {
		odds[i].Chance /= sum
	}
	slices.SortStableFunc(odds, func(a, b Odd) int { return cmp.Compare(b.Chance, a.Chance) })
	return odds
}

// entropy is what is not known, in bits.
func entropy(odds []Odd) float64 {
	sum := 0.0
	for _, o := range odds {
		if o.Chance > 0 {
			sum -= o.Chance * math.Log2(o.Chance)
		}
	}
	return sum
}

// named is how likely a dangerous cause is at the least to be named first.
const named = 0.02

// Named are the causes as they are named: those that endanger first, however likely others are.
func (d Diagnosis) Named() []Odd {
	out := slices.Clone(d.Odds)
	first := func(o Odd) int {
		if (o.Cause.Dangerous() || o.With.Dangerous()) && o.Chance >= named {
			return 0
		}
		return 1
	}
	slices.SortStableFunc(out, func(a, b Odd) int { return first(a) - first(b) })
	return out
}
