package plan

import (
	"fmt"
	"math"
	"time"

	"smolder/internal/core/each"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// An Output is what a stove can give with this wood: its lowest clean and its
// highest safe heat to the room, as means over a burn from loading to coals.
type Output struct {
	Low  units.Watt `json:"low_w"`
	High units.Watt `json:"high_w"`
}

// OutputRange burns small and full loads at every setting and keeps what burns
// clean and not too hot. Both are zero when nothing does.
func (w Wish) OutputRange() Output {
	w.Start = GoodCoals
	var loads []candidate
	most := w.mostPieces(0)
	for _, n := range counts(max(1, most/3), most, 3) {
		for _, final := range w.openings(5) {
			loads = append(loads, candidate{main: n, direction: w.usualDirection(), final: final, brisk: 1, pause: 6 * time.Minute})
		}
	}
	means := make([]float64, len(loads))
	each.InParallel(len(loads), func(i int) {
		r := fire.Run(w.setup(), fireSteps(w.steps(loads[i])), fire.Options{Until: 12 * time.Hour, Every: searchEvery, Step: searchStep, Coarse: true})
		s := r.Summary
		if s.ToCoals > 0 && s.TooHot <= maxTooHot && s.Smoulder <= maxSmoulder && s.SmokePerKg <= maxSmokePerKg {
			means[i] = meanHeat(r, s.ToCoals)
		}
	})
	var out Output
	for _, m := range means {
		if m <= 0 {
			continue
		}
		if out.Low == 0 || units.Watt(m) < out.Low {
			out.Low = units.Watt(m)
		}
		out.High = max(out.High, units.Watt(m))
	}
	return out
}

// usualDirection is end-on where the pieces fit that way.
func (w Wish) usualDirection() stove.Direction {
	if w.Wood.Stack.PieceLength > w.Stove.LongestPiece(stove.EndOn) {
		return stove.Sideways
	}
	return stove.EndOn
}

func meanHeat(r fire.Result, until time.Duration) float64 {
	sum, n := 0.0, 0.0
	for _, s := range r.Samples {
		if s.At > until {
			break
		}
		sum, n = sum+float64(s.ToRoom), n+1
	}
	return sum / math.Max(1, n)
}

// Match says whether a stove goes with the heat wanted: too much even at its
// lowest clean setting, too little even at its highest, or well. It never
// advises to burn hotter than is safe or lower than is clean.
func (o Output) Match(wanted units.Watt, sys units.System) string {
	switch {
	case o.High == 0:
		return "No setting of this stove burns this wood clean and safe."
	case wanted < o.Low*7/10:
		gap := float64(o.Low-wanted) / float64(o.Low)
		return fmt.Sprintf("Its lowest clean output is %s and only %s is wanted: small hot fires, with about %.0f %% of the time between them without one.",
			sys.Power(o.Low), sys.Power(wanted), 100*gap)
	case wanted > o.High:
		return fmt.Sprintf("Its highest safe output is %s and %s is wanted: %s is missing, which other heating must give.",
			sys.Power(o.High), sys.Power(wanted), sys.Power(wanted-o.High))
	}
	return fmt.Sprintf("It gives %s to %s clean and safe; %s is wanted.", sys.Power(o.Low), sys.Power(o.High), sys.Power(wanted))
}
