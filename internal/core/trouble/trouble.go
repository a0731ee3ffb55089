package trouble

import (
	"cmp"
	"math"
	"slices"
	"sync/atomic"

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
}

// An Odd is a cause and how likely it is: all of them, with nothing wrong, make one.
type Odd struct {
	Cause  Cause
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
	all := len(each) + 1
	if a.Evening != nil {
		all += len(each)
	}
	step := counter(tell, all)
	bySaid, byEvening := make([]float64, len(each)), make([]float64, len(each))
	if len(a.Happens) > 0 {
		sound := said(told(a.Wish, a.Prior, nil), a.Happens)
		for i := range each { // its evenings are burnt on all cores
			bySaid[i] = said(told(a.Wish, a.Prior, &each[i].wrong), a.Happens) - sound
			step()
		}
	}
	if a.Evening != nil {
		wrongs := make([]belief.Wrong, len(each))
		for i, e := range each {
			wrongs[i] = e.wrong
		}
		sound, with := belief.Compare(a.Prior, a.Evening.Setup, a.Evening.Doubt, a.Evening.Events, wrongs, func(int) { step() })
		for i := range each {
			byEvening[i] = with[i] - sound // what the fit gains is weighed down there already, see belief.Smooth
		}
	}
	odds := []Odd{{Cause: Sound, Chance: nothing}}
	for i, e := range each {
		// Of a cause in several sizes the likeliest says why; its odds are those of all.
		share := e.row.Odds / float64(len(e.row.Wrongs(a.Wish.Stove)))
		o := Odd{Cause: e.row.Cause, ByWord: bySaid[i], ByEvening: byEvening[i]}
		o.Chance = share * math.Exp(math.Min(40, o.ByWord+o.ByEvening))
		if last := &odds[len(odds)-1]; last.Cause == o.Cause {
			last.Chance += o.Chance
			if o.ByWord+o.ByEvening > last.ByWord+last.ByEvening {
				last.ByWord, last.ByEvening = o.ByWord, o.ByEvening
			}
			continue
		}
		odds = append(odds, o)
	}
	step()
	return Weighed{a.Wish.Stove, odds}
}

// With is the diagnosis with what tests have shown.
func (w Weighed) With(answers ...Answer) Diagnosis {
	odds := slices.Clone(w.odds)
	for i := range odds {
		odds[i].ByAnswers = answered(odds[i].Cause, answers) - answered(Sound, answers)
		odds[i].Chance *= math.Exp(odds[i].ByAnswers)
	}
	d := Diagnosis{Odds: even(odds)}
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
		if o.Cause.Dangerous() && o.Chance >= named {
			return 0
		}
		return 1
	}
	slices.SortStableFunc(out, func(a, b Odd) int { return first(a) - first(b) })
	return out
}
