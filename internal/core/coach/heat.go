package coach

import (
	"math"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// What climbs. The numbers are ours, by what a hand has time for: air that is shut now
// shows at a flue gauge after one to three minutes, at a stove top after ten.
const (
	topOverFlue     = 180.0 // K that a top may be over the gas of a fire that flames
	topOverCatalyst = 300.0
	readTogether    = 6 * time.Minute
	slower          = 0.7   // a rise flattens: it takes so much longer,
	quicker         = 1.3   // or it does not
	atOnce          = 150.0 // K from one reading to the next,
	perMinute       = 200.0 // K a minute, that no gauge does while nobody touches the fire
	wayBelow        = 15.0  // K under the colder of room and outdoors
)

// overloaded: more wood than the manual allows. What climbs by it goes before.
func overloaded(s *situation) (Advice, bool) {
	if a, climbs := climbing(s); climbs && len(a.Sets)+len(a.Acts) > 0 {
		return Advice{}, false
	}
	if a, said := danger(burn.Overload)(s); said {
		return a, true
	}
	return s.piledUp()
}

// airDry is the weight of wood as a manual means it, of its oven-dry weight.
const airDry = 1.16

// piledUp: loads that did not burn lie on each other, and are together more than the manual
// allows: each of them was not.
func (s *situation) piledUp() (Advice, bool) {
	loaded, ok := s.loaded()
	most, assumed := s.Burn.Stove.LargestLoad()
	lies := units.Kilogram(airDry * s.now.Wood.Middle)
	if !ok || !s.known || loaded > burn.OverloadFor || !s.isLit() || float64(lies) <= burn.OverloadFrom*float64(most) {
		return Advice{}, false
	}
	return s.answerTo(burn.First{Kind: burn.Overload, Seen: true, For: loaded, Mass: lies, Most: most, Assumed: assumed}), true
}

// climbing: a gauge is near its limit, or over it in some minutes as it goes: the air to half
// of what it is, before it gets there.
func climbing(s *situation) (Advice, bool) {
	k := s.keeps()
	c, climbs := k.Climbing()
	if !climbs {
		return Advice{}, false
	}
	g := s.gaugeOf(k, c)
	a := Advice{Gauge: g.Place, Reading: g.Value, Limit: g.Band.TooHot, Sets: s.lessAir(k), To: policy.ClimbsIn, Again: 3 * time.Minute}
	if c.In > 0 {
		a.Rate, a.From, a.To = g.Rate, time.Duration(float64(c.In)/quicker), time.Duration(float64(c.In)/slower)
	}
	if door, _ := s.doorStands(); door != fire.Shut { // it is the door that feeds it
		a.Sets, a.Acts, a.Again = nil, doorTo(fire.Shut), 2*time.Minute
	} else if c, _, open := s.Burn.Flap(s.Now); open { // or the flap
		a.Sets, a.Again = []plan.Setting{{Control: c}}, 2*time.Minute
	}
	return a, true
}

// halfOrSo is what the air is shut to at the most for what climbs, of what it was: less of
// a step would have to be taken again at once.
const halfOrSo = 0.6

// flares tells whether what burns is kindling, and what was laid with it.
func (s *situation) flares() bool {
	_, lit, isLit := s.last(ofKind(burn.Light))
	_, load, loaded := s.last(splits)
	return isLit && lit <= policy.FlareFor && s.Burn.Coals == 0 && (!loaded || load >= lit-time.Minute)
}

func (s *situation) flapOpen() bool { _, _, open := s.Burn.Flap(s.Now); return open }

// lessAir is the main air shut further, to half of what it is or so; where it is another
// that feeds the fire, that one.
func (s *situation) lessAir(k policy.Situation) []plan.Setting {
	if s.breath > s.opening {
		for _, c := range s.Burn.Stove.Controls {
			if c.Key != s.air.Key && (c.Role == stove.UnderGrate || c.Role == stove.PrimaryAir || c.Role == stove.DoorVent || c.Role == stove.TopAir) &&
				s.stands(c) >= s.breath {
				return set(c, policy.Halves*s.breath)
			}
		}
	}
	return s.bestAir(max(k.Least(), s.opening/3), max(k.Least(), halfOrSo*s.opening), k.Less())
}

// cooled: the air was shut because a gauge was too hot, and it is not any more: some air
// again, before the fire starves.
func cooled(s *situation) (Advice, bool) {
	g, ok := s.guiding()
	if !ok || !s.keeps().Cooled() || g.Age > s.moved { // nobody has looked since
		return Advice{}, false
	}
	return Advice{Gauge: g.Place, Reading: g.Value, Since: s.moved, Sets: s.bestAir(policy.LeastAir+0.01, s.most, s.most), Again: 4 * time.Minute}, true
}

// touchedSince tells whether somebody has done something to the fire.
func (s *situation) touchedSince(at time.Time) bool {
	_, ago, ok := s.last(func(e burn.Entry) bool {
		return e.Kind == burn.Control || e.Kind == burn.Door || e.Kind == burn.Load || e.Kind == burn.Light
	})
	return ok && ago <= s.Now.Sub(at)+time.Minute
}

// overFlue tells whether the stove's top is said to be hotter than the gas that leaves it by
// more than any stove shows while it flames: one of the two was mistyped, or sits elsewhere.
func (s *situation) overFlue(g Gauge) bool {
	flue, ok := s.gauge(stove.ConnectorProbe)
	if g.Place != stove.Top || !ok || !flue.Read() || (g.At.Sub(flue.At)).Abs() > readTogether || !s.known || s.now.Flames < policy.Bright {
		return false
	}
	most := topOverFlue
	if s.Burn.Stove.Family == stove.Catalytic || s.Burn.Stove.Family == stove.Refractory {
		most = topOverCatalyst // which heats the top, and cools the gas behind it
	}
	return float64(g.Value-flue.Value) > most
}

// impossible: a gauge that jumps as none does, reads less than anything around it, or a top
// that is hotter than the gas by far.
// What it says is not acted on.
func impossible(s *situation) (Advice, bool) {
	for _, g := range s.gauges {
		if !g.Read() || !g.Place.OfFire() {
			continue
		}
		readings := s.Burn.Readings(g.Place)
		var before *burn.Reading
		for i := range readings {
			if readings[i].At.Before(g.At) {
				before = &readings[i]
			}
		}
		colder := min(s.Burn.Room, s.Burn.Outdoor)
		jumped := before != nil && !s.touchedSince(before.At) && math.Abs(float64(g.Value-before.Reading)) > atOnce &&
			math.Abs(float64(g.Value-before.Reading)) > perMinute*max(0.1, g.At.Sub(before.At).Minutes())
		if jumped || g.Value < colder-units.Celsius(wayBelow) || s.overFlue(g) {
			return Advice{Gauge: g.Place, Reading: g.Value, Since: g.Age, Again: 2 * time.Minute}, true
		}
	}
	return Advice{}, false
}
