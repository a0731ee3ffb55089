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
	sound belief.Told              // the evening with nothing wrong
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
	if a.Evening != nil {
		w.evening = belief.Compare(a.Prior, a.Evening.Setup, a.Evening.Doubt, a.Evening.Events)
	}
	says, byEvening, told := w.weigh(wrongs)
	out := Weighed{stove: a.Wish.Stove, told: map[[2]Cause]belief.Told{}}
	if w.evening != nil {
		out.sound = w.evening.Sound
	}
	odds := []Odd{{Cause: Sound, Chance: nothing}}
	var best []sized // of each cause, the size that tells it best
	for i, e := range each {
		// Of a cause in several sizes the likeliest says why; its odds are those of all.
		share := e.row.Odds / float64(len(e.row.Wrongs(a.Wish.Stove)))
		o := Odd{Cause: e.row.Cause, ByWord: w.word(says[i]), ByEvening: byEvening[i]}
		o.Chance = share * math.Exp(math.Min(40, o.ByWord+o.ByEvening))
		if last := &odds[len(odds)-1]; last.Cause == o.Cause {
			last.Chance += o.Chance
			if o.ByWord+o.ByEvening > last.ByWord+last.ByEvening {
				last.ByWord, last.ByEvening, best[len(best)-1] = o.ByWord, o.ByEvening, sized{e.wrong, says[i]}
				out.told[[2]Cause{o.Cause}] = told[i]
			}
			continue
		}
		odds, best = append(odds, o), append(best, sized{e.wrong, says[i]})
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
	evening *belief.Comparison // nil: none is looked at
	sound   complaints         // what is said where nothing is wrong
	step    func()
}

// complaints are how likely each complaint is.
type complaints map[Complaint]float64

// A sized is something wrong, of one size, and how likely each complaint is with it.
type sized struct {
	wrong belief.Wrong
	says  complaints
}

// weigh is how likely each complaint is with each wrong, how much likelier what was logged is with it
// than with nothing, as a logarithm, and the evening with it.
func (w *weighing) weigh(wrongs []belief.Wrong) (says []complaints, byEvening []float64, with []belief.Told) {
	says = make([]complaints, len(wrongs))
	if len(w.Happens) > 0 {
		w.sound = told(w.Wish, w.Prior, nil)
		for i := range wrongs { // its evenings are burnt on all cores
			says[i] = told(w.Wish, w.Prior, &wrongs[i])
			w.step()
		}
	}
	byEvening, with = w.compared(wrongs, func(int) { w.step() })
	return says, byEvening, with
}

// word is how much likelier what is said is than with nothing wrong, as a logarithm.
func (w *weighing) word(says complaints) float64 {
	if len(w.Happens) == 0 {
		return 0
	}
	return said(says, w.Happens) - said(w.sound, w.Happens)
}

// either is how likely each complaint is with two things wrong: it does not happen where neither makes
// it happen, nor what makes it happen without them (a noisy or; Pearl 1988).
func (w *weighing) either(a, b complaints) complaints {
	out := complaints{}
	for c, sound := range w.sound {
		out[c] = math.Min(1-missed, math.Max(missed, 1-(1-a[c])*(1-b[c])/(1-sound)))
	}
	return out
}

// compared is what the evening says of each wrong, against nothing wrong.
func (w *weighing) compared(wrongs []belief.Wrong, tell func(int)) (byEvening []float64, with []belief.Told) {
	byEvening, with = make([]float64, len(wrongs)), make([]belief.Told, len(wrongs))
	if w.evening == nil {
		return byEvening, with
	}
	with = w.evening.With(wrongs, tell)
	for i := range wrongs {
		byEvening[i] = with[i].Worth - w.evening.Sound.Worth // what the fit gains is weighed down there already, see belief.Smooth
	}
	return byEvening, with
}

// Two things wrong at once are looked for among the likeliest, where an evening was logged: what is
// said happens with either.
const (
	pairedFrom = 5 // of the likeliest causes
	leastPair  = 0.01
	pairOdds   = 0.15 // of two together, against both by chance: they are looked for because one does not tell it all
)

// pairs are the likeliest causes, two at a time.
func (w *weighing) pairs(odds []Odd, best []sized) (out []Odd, told []belief.Told) {
	if w.evening == nil {
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
			out = append(out, Odd{Cause: odds[i].Cause, With: odds[j].Cause, ByWord: w.word(w.either(best[i-1].says, best[j-1].says))})
			both = append(both, together(best[i-1].wrong, best[j-1].wrong))
		}
	}
	byEvening, told := w.compared(both, nil)
	for k := range out {
		o := &out[k]
		o.ByEvening = byEvening[k]
		o.Chance = pairOdds * rowOf(o.Cause).Odds * rowOf(o.With).Odds * math.Exp(math.Min(40, o.ByWord+o.ByEvening))
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
	d := Diagnosis{Odds: even(folded(even(odds)))}
	d.Left = entropy(d.Odds)
	d.Next = next(w.stove, d.Odds, answers)
	return d
}

// folded are odds in which two things at once stand by themselves only where they tell it better than
// either alone; else what they have is shared out to both, whose odds are those of being wrong at all.
// Two things that are hardly both wrong would only lengthen the list.
func folded(odds []Odd) []Odd {
	alone := map[Cause]int{}
	for i, o := range odds {
		if o.With == "" {
			alone[o.Cause] = i
		}
	}
	var more = make([]float64, len(odds))
	stays := func(o Odd) bool {
		a, b := alone[o.Cause], alone[o.With]
		return o.Chance >= leastPair && o.Chance > math.Max(odds[a].Chance, odds[b].Chance)
	}
	for _, o := range odds {
		if o.With == "" || stays(o) {
			continue
		}
		a, b := alone[o.Cause], alone[o.With]
		share := odds[a].Chance / math.Max(1e-300, odds[a].Chance+odds[b].Chance)
		more[a] += o.Chance * share
		more[b] += o.Chance * (1 - share)
	}
	out := make([]Odd, 0, len(odds))
	for i, o := range odds {
		if o.With == "" || stays(o) {
			o.Chance += more[i]
			out = append(out, o)
		}
	}
	return out
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
