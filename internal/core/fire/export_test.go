package fire

import (
	"time"

	"smolder/internal/core/units"
)

// DraftHeld returns the draft at the collar when the gas of this moment, held
// at its temperature, goes up a chimney that is taller by extra, once the walls
// have settled, and how much warmer than the weather that gas is. The fire
// itself stands still.
func (s *Fire) DraftHeld(extra units.Metre) (draft units.Pascal, warmer float64) {
	t := *s
	c := t.setup.Stove.Chimney
	c.Height += extra
	t.gravityColumn = 9.80665 * float64(c.Height) * t.pOverR
	t.layFlue(c, t.room.Air.Kelvin())
	perFlow := s.heat.capacity / max(1e-9, s.air.total)
	for range 3600 {
		t.drawAir()
		t.heat.capacity = perFlow * t.air.total
		t.warmFlue()
		t.room = s.room
	}
	gas := t.flue.gas
	return t.Draft(), (gas[0]+gas[1]+gas[2]+gas[3])/4 - t.weather.outdoor
}

// After returns the fire as it is after some time of its steps.
func After(setup Setup, steps []Move, until time.Duration) *Fire {
	r := begin(setup, steps, Options{Until: until})
	r.goOn(len(steps))
	return r.sim
}
