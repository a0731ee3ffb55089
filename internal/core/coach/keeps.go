package coach

import (
	"smolder/internal/core/policy"
)

// keeps is the fire as whoever keeps it goes by ([policy.Situation]): by what was read, said
// and done, and where nobody says so by what is believed.
func (s *situation) keeps() policy.Situation {
	k := policy.Situation{Risk: -1, Air: s.opening, Feeds: s.breath, Before: s.before, Moved: -1, Most: s.most, HotAgo: s.hotAgo,
		Lit: s.isLit(), Sealed: !s.Burn.Stove.Ajar(), Loaded: -1, Wood: policy.SomeWood, Flares: s.flares()}
	if s.flapOpen() {
		k.Feeds = 1
	}
	if s.isMoved {
		k.Moved = s.moved
	}
	if loaded, ok := s.loaded(); ok {
		k.Loaded = loaded
	}
	if s.known {
		k.Wood, k.Risk = s.now.Wood.Middle, s.ahead.Risks.TooHot
		k.Pale = s.now.Black < notBlack
	}
	k.Door, _ = s.doorStands()
	for _, g := range s.gauges {
		if g.Place.OfFire() && g.Read() {
			k.Gauges = append(k.Gauges, policy.Gauge{Place: g.Place, Value: float64(g.Value), Low: float64(g.Band.Low), Limit: float64(g.Band.TooHot),
				Rate: g.Rate, HasRate: g.HasRate})
		}
	}
	return k
}

// gaugeOf is the stove's gauge that a climb is of.
func (s *situation) gaugeOf(k policy.Situation, c policy.Climb) Gauge {
	if c.Gauge < len(k.Gauges) {
		if g, ok := s.gauge(k.Gauges[c.Gauge].Place); ok {
			return g
		}
	}
	return s.gauges[0]
}
