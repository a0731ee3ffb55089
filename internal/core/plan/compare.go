package plan

import (
	"math"
	"time"
)

// A Coming is what a burn comes to, as far as an owner chooses by it; and the
// difference between two of them.
type Coming struct {
	ToCoals time.Duration // until the last flame; 0: it never comes to coals
	Kilos   float64       // of wood, without kindling
	Smoke   float64       // g per kg of wood
	Cold    float64       // kelvin-hours under the wanted band
}

// Coming returns what the plan comes to.
func (p Plan) Coming() Coming {
	return Coming{p.Summary.ToCoals, float64(p.Mass() - p.Kindling.Mass()), p.SmokePerKg(), p.Cold}
}

// From here on an owner would notice a difference.
const (
	noticedTime  = 15 * time.Minute
	noticedKilos = 0.3
	noticedSmoke = 0.2
	noticedCold  = 0.5
)

// Against is by how much the burn differs from another, where an owner would
// notice; zero elsewhere.
func (c Coming) Against(other Coming) Coming {
	noticed := func(d, least float64) float64 {
		if math.Abs(d) < least {
			return 0
		}
		return d
	}
	out := Coming{Kilos: noticed(c.Kilos-other.Kilos, noticedKilos), Smoke: noticed(c.Smoke-other.Smoke, noticedSmoke),
		Cold: noticed(c.Cold-other.Cold, noticedCold)}
	if d := c.ToCoals - other.ToCoals; c.ToCoals > 0 && other.ToCoals > 0 && d.Abs() >= noticedTime {
		out.ToCoals = d
	}
	return out
}

// Alike tells whether a difference is none that an owner would notice.
func (c Coming) Alike() bool { return c == Coming{} }
