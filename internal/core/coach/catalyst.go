package coach

import (
	"time"

	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A catalyst behind its bypass.
const (
	readyFor      = 5 * time.Minute  // that it must have stood there
	engagedLately = 20 * time.Minute // since the bypass was shut: too early; longer ago: stalled
	stalledAfter  = 6 * time.Minute  // that a catalyst has to light once it is engaged
)

// probe is the gauge that shows a catalyst's light-off: its own, else the guiding one.
func (s *situation) probe() (Gauge, bool) {
	if s.Burn.Stove.Family != stove.Catalytic {
		return Gauge{}, false
	}
	if g, ok := s.gauge(stove.CatalystProbe); ok && g.Read() {
		return g, true
	}
	return Gauge{}, false
}

// bypassEarly: the bypass was shut on a catalyst that is below light-off.
func bypassEarly(s *situation) (Advice, bool) {
	c, open, ago, ok := s.bypass()
	g, read := s.probe()
	if !ok || open || !read || ago > engagedLately || ago < stalledAfter && g.Rate > 0 || g.Value > g.Band.Low-policy.BelowLightOff {
		return Advice{}, false
	}
	return Advice{Gauge: g.Place, Reading: g.Value, Limit: g.Band.Low, Since: ago, Sets: set(c, 1)}, true
}

// stalled: it worked and has gone out while there is wood: bypass open, more air, and
// again when it is hot.
func stalled(s *situation) (Advice, bool) {
	c, open, ago, ok := s.bypass()
	g, read := s.probe()
	if !ok || open || !read || ago <= engagedLately || g.Value > g.Band.Low-policy.BelowLightOff || s.known && s.now.Wood.Middle < policy.SomeWood {
		return Advice{}, false
	}
	return Advice{Gauge: g.Place, Reading: g.Value, Limit: g.Band.Low, Since: ago,
		Sets: append(set(c, 1), s.airTo(max(halfway, s.opening))...)}, true
}

// bypassReady: above light-off for some minutes, and the bypass still open. A plan's own
// step says so itself.
func bypassReady(s *situation) (Advice, bool) {
	c, open, _, ok := s.bypass()
	g, read := s.probe()
	loaded, is := s.loaded()
	if !ok || !open || !read || !is || loaded < readyFor || g.Value < plan.Engaged(s.Burn.Stove, g.Gauge) || !s.heldAbove(g, plan.Engaged(s.Burn.Stove, g.Gauge)) {
		return Advice{}, false
	}
	if s.known && s.now.Black < notBlack {
		return Advice{}, false
	}
	return Advice{Gauge: g.Place, Reading: g.Value, Limit: g.Band.Low, Sets: set(c, 0)}, true
}

// heldAbove tells whether a gauge has stood over a value for as long as it must.
func (s *situation) heldAbove(g Gauge, least units.Celsius) bool {
	since := time.Time{}
	for _, r := range s.Burn.Readings(g.Place) {
		switch {
		case r.At.After(s.Now):
		case r.Reading < least:
			since = time.Time{}
		case since.IsZero():
			since = r.At
		}
	}
	return !since.IsZero() && s.Now.Sub(since) >= readyFor
}
