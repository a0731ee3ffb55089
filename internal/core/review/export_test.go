package review

import "smolder/internal/core/burn"

// Worths is how much each finding would have helped, those that would not left out.
func Worths(p *Past, m burn.Measures) map[Matter]float64 {
	out := map[Matter]float64{}
	for _, t := range tried(p, m) {
		out[t.Code] = t.worth
	}
	return out
}
