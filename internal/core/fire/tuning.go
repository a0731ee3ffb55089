package fire

import (
	"math"
	"slices"

	"smolder/internal/core/stove"
)

// A Tuning is how a stove differs from what follows from its family, volume and
// manual: factors on what nobody can know from outside. A factor of 0 is 1, so
// that the zero Tuning changes nothing.
//
// The usual ranges are what sets of nominally equal stoves differ by; a belief
// about one stove is a set of tunings, each with its weight. A test prints what
// each does to a burn, and which of them a flue probe can tell apart.
type Tuning struct {
	Leak     float64 // area of leaks that no control shuts; 0.5 to 2
	Inlets   float64 // area of the inlets, fully open; 0.75 to 1.3
	Curve    float64 // exponent between a control's mark and its opening; 0.6 to 1.6, over 1 shuts sooner
	Exchange float64 // gas to body; 0.8 to 1.25
	Shield   float64 // heat through the char to fresh wood; 0.75 to 1.3
	CharRate float64 // of coals and of the char on wood; 0.75 to 1.3
	FlueLoss float64 // of the chimney's wall; 0.75 to 1.3
	Smoke    float64 // per unburnt gas; 0.6 to 1.6
	RoomLoss float64 // of the space that it heats; 0.7 to 1.4

	// How fires burn in it otherwise than the model's own ([Physics]): the model is wrong in
	// ways of its own, and a belief that holds only other stoves would be too sure.
	Pockets  float64 // gas that meets no flame; 0.5 to 2
	Flames   float64 // what flames give the wood; 0.75 to 1.3
	Radiant  float64 // radiation into the room; 0.7 to 1.1
	Monoxide float64 // carbon monoxide of coals and char; 0.5 to 2
	Taking   float64 // gas that wood must give off before it flames: over 1 takes harder; 0.7 to 1.6

	Top, Probe, Surface, Catalyst, Firebox, DoorPlate GaugeTuning
}

// A GaugeTuning is how a thermometer differs from a good one in its place.
type GaugeTuning struct {
	Error float64 // what it reads over what it should, °C; 0.9 to 1.1
	Lag   float64 // factor on its time constant; 0.6 to 1.7
}

// gauges are the tunings in the order of Fire.gauge.
func (t Tuning) gauges() [numGauges]GaugeTuning {
	return [numGauges]GaugeTuning{gTop: t.Top, gProbe: t.Probe, gSurface: t.Surface, gCatalyst: t.Catalyst, gFirebox: t.Firebox, gDoor: t.DoorPlate}
}

// factor is 1 where nothing is said.
func factor(f float64) float64 {
	if f <= 0 {
		return 1
	}
	return f
}

// burns are the physics as they are in a stove of this tuning.
func (t Tuning) burns(k *Physics) *Physics {
	if factor(t.Pockets) == 1 && factor(t.Flames) == 1 && factor(t.Taking) == 1 {
		return k
	}
	own := *k
	own.Pockets *= factor(t.Pockets)
	own.Beside *= factor(t.Flames)
	own.BesideMost *= factor(t.Flames)
	own.Critical *= factor(t.Taking)
	return &own
}

// tune applies a tuning's factors.
func (p *params) tune(t Tuning) {
	p.leak *= factor(t.Leak)
	p.primary *= factor(t.Inlets)
	p.secondary *= factor(t.Inlets)
	p.curve = factor(t.Curve)
	p.exchangeUA *= factor(t.Exchange)
	p.shield *= factor(t.Shield)
	p.charRate *= factor(t.CharRate)
	p.flueLoss *= factor(t.FlueLoss)
	p.smoke *= factor(t.Smoke)
	p.monoxide *= factor(t.Monoxide)
	p.radiates = min(1, p.radiates*factor(t.Radiant))
	for i, g := range t.gauges() {
		p.reads[i], p.lags[i] = factor(g.Error), lag[i]*factor(g.Lag)
	}
}

// opens is the true opening behind a mark, by the stove's own curve.
func (p *params) opens(mark float64, r stove.Role) float64 {
	if p.curve == 1 || !r.Air() || r == stove.Fan || r == stove.OutsideAir {
		return mark
	}
	return math.Pow(mark, p.curve)
}

// LeakAs is the mark of a control at which it lets in as much as a stove leaks with all
// its controls shut; false: it never does, or lets in no air.
func LeakAs(st stove.Stove, t Tuning, key string) (mark float64, ok bool) {
	f := &Fire{setup: Setup{Stove: st, Tuning: t}, k: &Usual, p: paramsOf(st, t, &Usual)}
	f.layVents()
	i := slices.IndexFunc(f.vents.of[:f.vents.n], func(v vent) bool { return v.key == key })
	if i < 0 {
		return 0, false
	}
	v := f.vents.of[i]
	lets := func(mark float64) float64 {
		o := f.p.opens(mark, v.role)
		if v.role != stove.Combined {
			return v.area * o
		}
		return v.area*o + v.second*leverOpens(o)
	}
	if v.area <= 0 || lets(1) < f.p.leak || lets(0) > f.p.leak {
		return 0, false
	}
	low, high := 0.0, 1.0
	for range 40 {
		if mark = (low + high) / 2; lets(mark) < f.p.leak {
			low = mark
		} else {
			high = mark
		}
	}
	return mark, true
}
