package fire

// A Tuning is how a stove differs from what follows from its family, volume and
// manual: factors on what nobody can know from outside. A factor of 0 is 1, so
// that the zero Tuning changes nothing.
//
// The usual ranges are what sets of nominally equal stoves differ by; a belief
// about one stove is a set of tunings, each with its weight.
type Tuning struct {
	Leak     float64 // area of leaks that no control shuts; 0.5 to 2
	Inlets   float64 // area of the inlets, fully open; 0.75 to 1.3
	Exchange float64 // gas to body; 0.8 to 1.25
	Shield   float64 // heat through the char to fresh wood; 0.75 to 1.3
	CharRate float64 // of coals; 0.75 to 1.3
	FlueLoss float64 // of the chimney's wall; 0.75 to 1.3
	Smoke    float64 // per unburnt gas; 0.6 to 1.6
}

// tune applies a tuning's factors.
func (p *params) tune(t Tuning) {
	times := func(factor float64, of ...*float64) {
		if factor <= 0 {
			return
		}
		for _, v := range of {
			*v *= factor
		}
	}
	times(t.Leak, &p.leak)
	times(t.Inlets, &p.primary, &p.secondary)
	times(t.Exchange, &p.exchangeUA)
	times(t.Shield, &p.shield)
	times(t.CharRate, &p.charRate)
	times(t.FlueLoss, &p.flueLoss)
	times(t.Smoke, &p.smoke)
}
