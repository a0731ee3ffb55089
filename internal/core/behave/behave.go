// Package behave is how a stove behaves: what a load does at a setting, whatever
// comes of it, and what the stove can give.
package behave

import (
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

const (
	trialPause = 6 * time.Minute // between the steps of a turn-down
	outputFor  = 12 * time.Hour  // that a load is followed
	outputStep = 8 * time.Second
	outputLook = 4 * time.Minute // between two looks at the heat
	// How finely the range is sought: loads from a third of the largest, settings.
	outputLoads, outputSettings = 3, 5
)

// Trial is one load on a good bed of coals, charred with all air open and turned
// down to a final setting, whatever comes of it.
func Trial(w wish.Wish, pieces int, d stove.Direction, final float64) (fire.Setup, []fire.Move) {
	w.Start = wish.GoodCoals
	r := plan.Recipe{Main: pieces, Direction: d, Final: final, Brisk: 1, Most: 1, Pause: trialPause}
	return w.Setup(), plan.Fires(plan.Steps(w, r))
}

// OutputRange burns small and full loads at every setting and keeps what burns
// clean and not too hot.
func OutputRange(w wish.Wish) plan.Output {
	air, _ := w.Stove.MainAir()
	most := w.MostPieces(0)
	type trial struct {
		pieces int
		final  float64
	}
	var trials []trial
	for _, n := range plan.Counts(max(1, most/3), most, outputLoads) {
		for _, final := range plan.Openings(air, outputSettings, plan.Floor) {
			trials = append(trials, trial{n, final})
		}
	}
	means := make([]units.Watt, len(trials))
	parallel.InParallel(len(trials), func(i int) {
		means[i] = meanOutput(w, trials[i].pieces, trials[i].final)
	})
	var out plan.Output
	for _, mean := range means {
		if mean <= 0 {
			continue
		}
		if out.Low == 0 || mean < out.Low {
			out.Low = mean
		}
		out.High = max(out.High, mean)
	}
	return out
}

// meanOutput is what a load gives the room on average until it is coals; 0 where
// it smokes or runs too hot.
func meanOutput(w wish.Wish, pieces int, final float64) units.Watt {
	setup, steps := Trial(w, pieces, usualDirection(w), final)
	saw := &heats{}
	sum := fire.Run(setup, steps, fire.Options{Until: outputFor, Every: outputLook, Step: outputStep, Coarse: true, Watch: saw}).Summary
	if sum.ToCoals <= 0 || plan.TooHot(sum) || plan.Dirty(sum) {
		return 0
	}
	return saw.mean(sum.ToCoals)
}

// usualDirection is end-on where the pieces fit that way.
func usualDirection(w wish.Wish) stove.Direction {
	if w.Wood.Stack.PieceLength > w.Stove.LongestPiece(stove.EndOn) {
		return stove.Sideways
	}
	return stove.EndOn
}

// heats is the heat to the room at every look, W.
type heats struct{ watts []units.Watt }

// See notes the heat of a moment.
func (h *heats) See(f *fire.Fire) { h.watts = append(h.watts, f.ToRoom()) }

// Fork returns the same heats, to go on by themselves.
func (h *heats) Fork() fire.Watcher { return &heats{slices.Clone(h.watts)} }

// mean is over the looks up to a time, at least one.
func (h *heats) mean(until time.Duration) units.Watt {
	n := min(len(h.watts), 1+int(until/outputLook))
	sum := units.Watt(0)
	for _, w := range h.watts[:n] {
		sum += w
	}
	return sum / units.Watt(max(1, n))
}
