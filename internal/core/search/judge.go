package search

import (
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/wish"
)

// The simulation while searching.
const (
	every  = 4 * time.Minute  // that the fire is looked at
	beyond = 90 * time.Minute // that a burn is followed after the wish, to see its coals
)

// verdict is what became of a recipe.
type verdict struct {
	plan.Recipe
	later         []plan.Later // where the wish is longer than one load
	unsafe, dirty bool
	late          bool    // a step comes when nobody is there, or never
	merit         float64 // the lower the better
	cold          float64 // kelvin-hours under the wanted band
	lacks         float64 // the same, or what else a further load would give: of a gauge that is to be held
	over          float64 // kelvin over the wanted band, at the warmest
	kilos         float64 // of wood
	summary       fire.Summary
	burnt         *fire.Result // at full accuracy, once it has been
}

// unsafe tells whether a burn may hurt somebody.
func unsafe(s fire.Summary) bool { return plan.TooHot(s) || plan.Spills(s) }

// good tells whether a recipe may be offered.
func (v verdict) good() bool { return !v.unsafe && !v.dirty && !v.late }

// late tells whether a step comes, with slack, when nobody is there.
func late(w wish.Wish, r fire.Result) bool {
	there := w.Presence()
	return there != nil && slices.ContainsFunc(r.Done, func(done time.Duration) bool {
		span, ok := there.At(done)
		slow := span.From + time.Duration(float64(done-span.From)*wish.Slack)
		return done < 0 || !ok || slow > span.To-wish.Watched
	})
}

// missed tells whether a step never came: its sign is none in this stove, or its load was gone
// before it.
func missed(r fire.Result) bool { return slices.Contains(r.Done, -1) }

// options are those of a burn while searching: coarse steps, and no further than
// a limit.
func (s search) options() fire.Options {
	return fire.Options{Until: s.For + beyond, Every: every, Step: s.effort.Step, Coarse: true, Watch: newTally(s.Wish),
		GiveUp: fire.Limits{TooHot: plan.MaxTooHot, Smoulder: 2 * plan.MaxSmoulder}}
}

// judge burns recipes that are the same fire until it is turned down, and gives
// each its merit. A burn that is too hot or smoulders is not followed to its
// end: it is out, whatever else it does.
func (s search) judge(alike []plan.Recipe, verdicts []verdict) {
	first := plan.Steps(s.Wish, alike[0])
	turned := slices.IndexFunc(first, func(st plan.Step) bool { return st.Kind == plan.TurnDown })
	before := s.moves(first)
	branch := fire.RunTo(s.Setup(), before, turned, s.options())
	for i, r := range alike {
		moves := append(before[:turned:turned], s.moves(plan.TurnDowns(s.Wish, r))...)
		verdicts[i] = s.weighed(r, nil, branch.Run(moves))
		s.meter.Count()
	}
}

// moves are steps as they are taken on the drawing board.
func (s search) moves(steps []plan.Step) []fire.Move { return plan.Looked(s.Wish, steps, inTheMiddle) }

// inTheMiddle is how far between two looks a sign comes, where somebody looks in seldom.
const inTheMiddle = 0.5

// burn burns one recipe from the match and gives it its merit.
func (s search) burn(r plan.Recipe, later []plan.Later) verdict {
	return s.weighed(r, later, fire.Run(s.Setup(), s.moves(plan.Steps(s.Wish, r, later...)), s.options()))
}

// What is out is ranked behind everything that is not, and among itself.
const (
	outLate   = 500
	outDirty  = 1e3
	outUnsafe = 1e6
)

// clean is what a burn with so many later loads is judged by.
func (s search) clean(later int) plan.Clean {
	return plan.Clean{Family: s.Stove.Family, Later: later, Least: s.least}
}

// weighed gives a recipe its merit by what became of it.
func (s search) weighed(r plan.Recipe, later []plan.Later, burnt fire.Result) verdict {
	sum := burnt.Summary
	v := verdict{Recipe: r, later: later, summary: sum}
	v.unsafe, v.dirty, v.late = unsafe(sum), s.clean(len(later)).Dirty(sum), late(s.Wish, burnt)
	v.late = v.late || missed(burnt)
	v.kilos = s.kilos(v)
	saw := burnt.Watched.(*tally)
	v.cold, v.lacks, v.over = saw.cold, saw.lacks(), saw.over
	v.merit = saw.merit(s.Wish, sum, v.kilos)
	if v.late {
		v.merit += outLate
	}
	if v.dirty {
		v.merit += outDirty + sum.SmokePerKg
	}
	if v.unsafe {
		v.merit += outUnsafe + sum.TooHot.Minutes()
	}
	return v
}

// kilos is the wood of a recipe, without kindling.
func (s search) kilos(v verdict) float64 {
	woods := s.Woods()
	pieces := v.Main
	for _, l := range v.later {
		pieces += l.Pieces
	}
	return float64(woods[v.FirstOf].Stack.PieceMass)*float64(v.First) + float64(woods[v.MainOf].Stack.PieceMass)*float64(pieces)
}
