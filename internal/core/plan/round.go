package plan

import "math"

// tenth rounds to what a curve is kept with.
func tenth(v float64) float64 { return math.Round(v*10) / 10 }
