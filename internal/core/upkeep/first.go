package upkeep

import (
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// The paint of a new stove cures as it warms, and smells and smokes while it does; iron and
// brick give off the water they came with. Three small fires, each hotter than the one
// before and let go cold between, do both slowly. The manual's own first fires win.

// A FirstFire is one of them.
type FirstFire struct {
	Wood     units.Kilogram // in all, kindling included
	Top      units.Celsius  // that the stove's top is to reach, and not pass
	Hold     time.Duration  // as warm as that
	Airing   bool           // windows open, nobody leaning over it
	Kindling bool           // of sticks alone
}

// FirstFires are the three, for a stove of its size.
func FirstFires(st stove.Stove) []FirstFire {
	most := st.MaxLoad
	if most <= 0 {
		most = units.Kilogram(0.08 * float64(st.Volume)) // the least of stoves of a size
	}
	return []FirstFire{
		{Wood: most * 0.1, Top: 120, Hold: 20 * time.Minute, Airing: true, Kindling: true},
		{Wood: most * 0.25, Top: 180, Hold: 45 * time.Minute, Airing: true},
		{Wood: most * 0.5, Top: 240, Hold: time.Hour, Airing: true},
	}
}
