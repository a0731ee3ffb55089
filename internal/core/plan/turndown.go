package plan

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
)

// How a fire is turned down: half open, then the geometric middle between that
// and the final setting, then the final one; fewer steps where the final one is
// far open.
const (
	halfOpen    = 0.5
	twoSteps    = 0.3 // final openings from here on need no middle
	topNotch    = 0.8 // notches above are as good as open
	downAfter   = 3 * time.Minute
	downLatest  = 35 * time.Minute
	downShare   = 0.15 // of the guide's working range above its low end
	sameOpening = 0.01
)

// TurnDowns are the last steps of a recipe with one load: those by which recipes
// differ that are the same fire until then.
func TurnDowns(w wish.Wish, r Recipe) []Step { return newBuilder(w, r).turnDowns() }

// turnDowns goes from open to the final setting in one to three steps.
func (b builder) turnDowns() []Step {
	openings := b.openingsDown()
	steps := make([]Step, len(openings))
	for i, o := range openings {
		when, do := fire.Trigger{After: b.Pause}, []fire.Act{setting(b.air, o)}
		if i == 0 {
			when, do = b.firstDown(), append(do, b.shutAgain()...)
		}
		steps[i] = Step{Kind: TurnDown, Control: b.air.Key, Opening: o, Last: i == len(openings)-1, Fire: fire.Move{When: when, Do: do}}
	}
	return steps
}

// firstDown waits for black wood and a flue that is well warm.
func (b builder) firstDown() fire.Trigger {
	when := fire.Trigger{After: downAfter, Charred: true}
	if b.hasGuide {
		band := b.guide.Band
		when.Gauge, when.Above = b.guide.Place, band.Low+downShare*(band.High-band.Low)
		when.Latest = downLatest
	}
	return when
}

// openingsDown are the openings on the way, on the control's own marks.
func (b builder) openingsDown() []float64 {
	final := b.Final
	openings := []float64{halfOpen, math.Sqrt(halfOpen * final), final}
	switch {
	case b.air.Scale.Kind == stove.Notches:
		openings = notchesDown(b.air.Scale.Steps(), final)
	case final >= halfOpen:
		openings = []float64{final}
	case final >= twoSteps:
		openings = []float64{halfOpen, final}
	}
	for i, o := range openings[:len(openings)-1] {
		openings[i] = b.air.Scale.Nearest(o)
	}
	openings = slices.Compact(openings)
	// What is no less than the brisk opening is no turn-down.
	for len(openings) > 1 && openings[0] >= b.Brisk-sameOpening {
		openings = openings[1:]
	}
	return openings
}

// notchesDown returns at most two notches on the way down, and the final one.
func notchesDown(notches []float64, final float64) []float64 {
	var out []float64
	for _, o := range slices.Backward(notches) {
		if o < topNotch && o > final+sameOpening {
			out = append(out, o)
		}
	}
	if len(out) > 2 {
		out = []float64{out[0], out[len(out)-1]}
	}
	return append(out, final)
}
