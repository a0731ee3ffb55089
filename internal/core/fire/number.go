package fire

import "math"

// The step asks for about ten exponentials and two powers, which would be more
// than half of its time. Both are looked up: a table with the first terms of
// the series between its points, good to 3 parts in 10⁹, and the power at the
// last point that was computed with its tangent, good to 3 in 10⁶. A test holds
// them to that.

const (
	decayPerUnit = 64
	decayEnd     = 24 // beyond, e^−x is less than a rounding of what it is added to
)

var decayTable = func() (t [decayEnd*decayPerUnit + 1]float64) {
	for i := range t {
		t[i] = math.Exp(-float64(i) / decayPerUnit)
	}
	return t
}()

// decay returns e^−x for x ≥ 0; for a negative x it asks math.Exp.
func decay(x float64) float64 {
	if !(x >= 0) {
		return math.Exp(-x)
	}
	if x >= decayEnd {
		return 0
	}
	i := int(x * decayPerUnit)
	f := x - float64(i)/decayPerUnit
	return decayTable[i] * (1 - f*(1-f*(0.5-f/6)))
}

// A power is x^exponent for an x that moves slowly.
type power struct{ exponent, x, y float64 }

func (p *power) at(x float64) float64 {
	if x <= 0 {
		return 0
	}
	if d := (x - p.x) / p.x; p.x > 0 && d > -0.005 && d < 0.005 {
		return p.y * (1 + p.exponent*d)
	}
	p.x, p.y = x, math.Pow(x, p.exponent)
	return p.y
}

// smooth rises from 0 at low to 1 at high without a corner.
func smooth(x, low, high float64) float64 {
	t := (x - low) / (high - low)
	if t <= 0 {
		return 0
	}
	if t >= 1 {
		return 1
	}
	return t * t * (3 - 2*t)
}

func clamp(x, low, high float64) float64 { return max(low, min(high, x)) }

func pow4(x float64) float64 { x *= x; return x * x }
