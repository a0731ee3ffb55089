package coach

import (
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/plan"
)

// Steps that were tapped through: no fire gets there so soon.
const (
	tooQuick   = 1. / 3           // of the plan's earliest time for a step, since it was lit
	worthAWord = 9 * time.Minute  // of that time: what comes sooner is no matter
	askedFor   = 10 * time.Minute // after the last of them
)

// tapped: by the log the fire is further than any could be: somebody has tapped through
// the steps, or turned down with hardly a flame. It is asked before anything is said by it.
func tapped(s *situation) (Advice, bool) {
	if s.Asked.Plan == nil || s.progress.Done < 2 || s.saidSinceLit(burn.Black) {
		return Advice{}, false
	}
	_, lit, ok := s.last(ofKind(burn.Light))
	last := s.Asked.Plan.Steps[s.progress.Done-1]
	before := s.at - s.lastStep() // since the last step was done
	took := lit - before
	if !ok || last.Kind == plan.LightIt || last.Earliest < worthAWord || took < 0 || float64(took) >= tooQuick*float64(last.Earliest) || before > askedFor {
		return Advice{}, false
	}
	return Advice{Since: max(time.Minute, took), To: last.Earliest, Again: 3 * time.Minute, Mild: true}, true
}

// saidSinceLit tells whether something was logged since the fire was lit.
func (s *situation) saidSinceLit(k burn.Kind) bool {
	_, said, ok := s.last(ofKind(k))
	_, lit, is := s.last(ofKind(burn.Light))
	return ok && is && said <= lit
}
