package coach

import (
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/follow"
	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A Gauge is what one of the stove's gauges shows.
type Gauge struct {
	stove.Gauge
	Value    units.Celsius
	At       time.Time     // of the reading; zero: nobody has read it lately, and Value is believed
	Last     units.Celsius // the newest reading, however old
	LastAt   time.Time     // of it; zero: there is none
	Age      time.Duration
	Rate     float64 // K a minute
	HasRate  bool
	Believed belief.Three // what is believed that it shows
}

// Read tells whether somebody has read it.
func (g Gauge) Read() bool { return !g.At.IsZero() }

// situation is a burn at a moment as a rule sees it.
type situation struct {
	Asked
	at       time.Duration // since the start
	now      belief.Standing
	known    bool // it is simulated: now and ahead say something
	ahead    belief.Forecast
	plan     *plan.Plan
	progress follow.Progress
	steps    []plan.Step // that are left
	reworked Elsewhere

	guide  stove.Gauge
	guided bool
	gauges []Gauge

	air     stove.Control
	opening float64       // of the main air
	before  float64       // and before it was last moved
	moved   time.Duration // ago
	isMoved bool
	breath  float64       // of whatever feeds the bed most: the main air, or one below it
	heard   time.Duration // ago, that anybody or any thermometer said something
	most    float64       // that the main air is opened to while this load burns: less than 1 where it was too hot
	hotAgo  time.Duration // since a gauge was last near its limit with this load; negative: never

	dangers []burn.First

	log []burn.Entry // what was done and seen, but for readings, up to now
}

const (
	// unheardFor is for how long a belief goes on of which nobody has heard anything: after
	// that it is said that nothing is known. A fire that was left well burns down in that
	// time; one that was not is anywhere.
	unheardFor = 3 * time.Hour
	// rateOver is the time over which a gauge's rate is taken, and rateLeast the
	// shortest that says anything.
	rateOver, rateLeast = 8 * time.Minute, 90 * time.Second
	// rateShort is that time where at least rateDense readings lie in it.
	rateShort, rateDense = 3 * time.Minute, 4
	// horizon is how far ahead a fire is foretold that has no plan.
	horizon = 6 * time.Hour
	// longestAhead is how far at most.
	longestAhead = 14 * time.Hour
)

// situate looks at everything once.
func situate(a Asked) *situation {
	s := &situation{Asked: a, at: a.Now.Sub(a.Burn.Started), plan: a.Plan, opening: 1, before: 1, most: 1, hotAgo: -1}
	for e := range a.Burn.NotReadings() {
		if e.At.After(a.Now) {
			break
		}
		s.log = append(s.log, *e)
	}
	switch {
	case a.Belief != nil:
		s.known, s.now = true, a.Belief.Standing()
	case a.Before != nil && a.Before.Phase != "":
		s.known, s.now = true, a.Before.Standing
	}
	s.putRight()
	s.guide, s.guided = a.Burn.Stove.Guide()
	s.readGauges()
	s.air, _ = a.Burn.Stove.MainAir()
	for _, e := range s.log {
		if e.Kind == burn.Control && e.Control == s.air.Key {
			s.before, s.opening, s.moved, s.isMoved = s.opening, e.Opening, a.Now.Sub(e.At), true
		}
	}
	s.dangers = a.Burn.Dangers(a.Now)
	s.breath = s.feeds()
	s.heard = s.unheard()
	s.rememberHeat()
	s.followPlan()
	s.raiseByHand()
	return s
}

// feeds is the opening of whatever lets most air to the wood: on a stove that is lit from
// below the main air stands shut, and the fire has all that it needs.
func (s *situation) feeds() float64 {
	most := s.opening
	for _, c := range s.Burn.Stove.Controls {
		switch c.Role {
		case stove.Combined, stove.PrimaryAir, stove.TopAir, stove.DoorVent, stove.UnderGrate, stove.AshFlap:
			most = max(most, s.stands(c))
		}
	}
	return most
}

// stands is how a control stands: as it was logged last, else as in a stove made ready to
// light.
func (s *situation) stands(c stove.Control) float64 {
	if e, _, ok := s.last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == c.Key }); ok {
		return e.Opening
	}
	return fire.ReadyToLight(c.Role, s.Burn.Stove.FromAbove())
}

// anyAir is the opening of whatever lets most air into the firebox, wherever it enters.
func (s *situation) anyAir() float64 {
	most := s.breath
	if door, _ := s.doorStands(); door != fire.Shut {
		return 1
	}
	for _, c := range s.Burn.Stove.Controls {
		if c.Role == stove.SecondAir || c.Role == stove.GlassWash {
			most = max(most, s.stands(c))
		}
	}
	return most
}

// unheard is how long ago anybody, or any thermometer, said something of the fire.
func (s *situation) unheard() time.Duration {
	ago := s.at
	if n := len(s.log); n > 0 {
		ago = min(ago, s.Now.Sub(s.log[n-1].At))
	}
	for _, g := range s.gauges {
		if !g.LastAt.IsZero() {
			ago = min(ago, s.Now.Sub(g.LastAt))
		}
	}
	if readings := s.Burn.Readings(stove.RoomAir); len(readings) > 0 {
		if last := readings[len(readings)-1].At; !last.After(s.Now) {
			ago = min(ago, s.Now.Sub(last))
		}
	}
	return ago
}

const (
	// byHand is how likely too hot is called at the least where the door or the ash flap is
	// open on wood that burns, and the gauge is on its way.
	byHand = 0.5
	// handFrom is the share of a gauge's limit from where it counts as on its way.
	handFrom = 0.5
)

// raiseByHand is a floor for what no model of a firebox tells well: how hard a door that
// stands ajar, or an open ash flap, blows at the fire hangs on a finger's width of gap and on
// where it is. It is the classic way into an overfire, so it is never called unlikely.
func (s *situation) raiseByHand() {
	door, _ := s.doorStands()
	_, _, flap := s.Burn.Flap(s.Now)
	if !s.known || door == fire.Shut && !flap || s.now.Wood.Middle < policy.SomeWood {
		return
	}
	if g, ok := s.guiding(); ok && g.Band.TooHot > 0 && float64(g.Value) >= handFrom*float64(g.Band.TooHot) {
		s.ahead.Risks.TooHot = max(s.ahead.Risks.TooHot, byHand)
	}
}

// putRight lets what somebody has said go before what is believed of the same.
func (s *situation) putRight() {
	if !s.known {
		return
	}
	switch {
	case s.Burn.IsOut(s.Now):
		s.now.Phase, s.now.Out, s.now.Flames, s.now.Smoulder = fire.Out, 1, 0, 0
	case s.saidSinceLoad(burn.ToCoals):
		s.now.Phase, s.now.Flames, s.now.Out = fire.Coaling, 0, 0
	case s.saidSinceLoad(burn.Black):
		s.now.Black = 1
	}
}

// saidSinceLoad tells whether something was said of the load that lies there.
func (s *situation) saidSinceLoad(k burn.Kind) bool {
	_, ago, ok := s.last(ofKind(k))
	if !ok {
		return false
	}
	loaded, is := s.loaded()
	return !is || ago <= loaded
}

// rememberHeat finds out whether a gauge was near its limit with this load, and how far
// the air is opened again after that: half of what it had then, so that a fire that was
// shut for being too hot is not blown up again. Once it is cold it wants all the air that
// it can have.
func (s *situation) rememberHeat() {
	since := s.Now.Add(-s.at)
	if loaded, ok := s.loaded(); ok {
		since = s.Now.Add(-loaded)
	}
	for _, g := range s.Burn.Stove.Gauges {
		if !g.Place.OfFire() || g.Band.TooHot <= 0 {
			continue
		}
		for _, r := range s.Burn.Readings(g.Place) {
			if r.At.Before(since) || r.At.After(s.Now) || float64(r.Reading) < policy.NearLimit*float64(g.Band.TooHot) {
				continue
			}
			had := max(s.openingAt(r.At), s.openingAt(r.At.Add(-policy.Answered))) // shut just before: that heat is of more air
			if had > policy.LeastAir && (s.hotAgo < 0 || s.Now.Sub(r.At) < s.hotAgo) {
				s.hotAgo, s.most = s.Now.Sub(r.At), policy.MostAfter(had)
			}
		}
	}
	if g, ok := s.guiding(); ok && g.Value < g.Band.Low && s.hotAgo > policy.ColdAfter {
		s.most = 1
	}
}

// openingAt is how the main air stood at a moment.
func (s *situation) openingAt(at time.Time) float64 {
	opening := 1.0
	for _, e := range s.log {
		if e.Kind == burn.Control && e.Control == s.air.Key && e.At.Before(at) {
			opening = e.Opening
		}
	}
	return opening
}

// readGauges takes every gauge's newest reading and rate, the guiding one first.
func (s *situation) readGauges() {
	for _, g := range s.Burn.Stove.Gauges {
		got := Gauge{Gauge: g, Believed: s.now.Gauges[g.Place]}
		got.Value = units.Celsius(got.Believed.Middle)
		all := s.Burn.Readings(g.Place)
		for len(all) > 0 && all[len(all)-1].At.After(s.Now) {
			all = all[:len(all)-1]
		}
		if n := len(all); n > 0 {
			got.Last, got.LastAt = all[n-1].Reading, all[n-1].At
		}
		if n := len(all); n > 0 && s.Now.Sub(all[n-1].At) <= policy.ReadingHolds {
			last := all[n-1]
			got.Value, got.At, got.Age = last.Reading, last.At, s.Now.Sub(last.At)
			got.Rate, got.HasRate = rateOf(all)
		}
		if s.guided && g.Place == s.guide.Place {
			s.gauges = append([]Gauge{got}, s.gauges...)
		} else {
			s.gauges = append(s.gauges, got)
		}
	}
}

// rateOf is the slope of the last minutes of readings, by least squares.
func rateOf(all []burn.Reading) (rate float64, ok bool) {
	last := all[len(all)-1].At
	over := rateOver
	if n := len(all); n >= rateDense && last.Sub(all[n-rateDense].At) <= rateShort {
		over = rateShort // a thermometer that reports: what it does now
	}
	from := len(all) - 1
	for from > 0 && last.Sub(all[from-1].At) <= over {
		from--
	}
	if from == len(all)-1 && from > 0 && last.Sub(all[from-1].At) <= policy.ReadingHolds {
		from-- // somebody with a pencil: the two last
	}
	if last.Sub(all[from].At) < rateLeast {
		return 0, false
	}
	var n, x, y, xx, xy float64
	for _, r := range all[from:] {
		at, v := r.At.Sub(last).Minutes(), float64(r.Reading)
		n, x, y, xx, xy = n+1, x+at, y+v, xx+at*at, xy+at*v
	}
	d := n*xx - x*x
	if d <= 0 {
		return 0, false
	}
	return (n*xy - x*y) / d, true
}

// gauge is one of the stove's gauges.
func (s *situation) gauge(p stove.Place) (Gauge, bool) {
	for _, g := range s.gauges {
		if g.Place == p {
			return g, true
		}
	}
	return Gauge{}, false
}

// guiding is the gauge to steer by, where somebody has read it lately.
func (s *situation) guiding() (Gauge, bool) {
	if !s.guided || len(s.gauges) == 0 || !s.gauges[0].Read() {
		return Gauge{}, false
	}
	return s.gauges[0], true
}

// last is the newest entry that keep takes, and how long ago it was.
func (s *situation) last(keep func(burn.Entry) bool) (e burn.Entry, ago time.Duration, ok bool) {
	for i := len(s.log) - 1; i >= 0; i-- {
		if keep(s.log[i]) {
			return s.log[i], s.Now.Sub(s.log[i].At), true
		}
	}
	return burn.Entry{}, 0, false
}

func ofKind(k burn.Kind) func(burn.Entry) bool {
	return func(e burn.Entry) bool { return e.Kind == k }
}

// splits tells whether an entry is a load that is not kindling.
func splits(e burn.Entry) bool { return e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling }

// loaded is how long ago the last load of splits went on, or the fire was lit, if that
// was later.
func (s *situation) loaded() (time.Duration, bool) {
	_, load, isLoad := s.last(splits)
	if s.Burn.IsOut(s.Now) {
		return load, false // whatever was put on since waits for its match
	}
	_, lit, isLit := s.last(ofKind(burn.Light))
	switch {
	case isLoad && isLit:
		return min(load, lit), true
	case isLoad:
		// Wood that lies on a cold stove waits for its match.
		return load, s.Burn.Coals > 0
	}
	return lit, isLit
}

// doorStands is how the door stands, and since when.
func (s *situation) doorStands() (fire.Door, time.Duration) {
	e, ago, ok := s.last(ofKind(burn.Door))
	if !ok {
		return fire.Shut, s.at
	}
	return e.Door, ago
}

// doorOff is how the door stands, and for how long it has not been shut, however often that was
// logged again.
func (s *situation) doorOff() (fire.Door, time.Duration) {
	door, ago := s.doorStands()
	for i := len(s.log) - 1; i >= 0 && door != fire.Shut; i-- {
		switch e := s.log[i]; {
		case e.Kind != burn.Door:
		case e.Door == fire.Shut:
			return door, ago
		default:
			ago = s.Now.Sub(e.At)
		}
	}
	return door, ago
}

// bypass is the stove's bypass, whether it is open, and for how long it has stood so.
func (s *situation) bypass() (c stove.Control, open bool, ago time.Duration, ok bool) {
	if c, ok = s.Burn.Stove.Bypass(); !ok {
		return c, false, 0, false
	}
	e, ago, said := s.last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == c.Key })
	return c, !said || e.Opening >= halfShut, ago, true
}

const halfShut = 0.5 // under which a bypass counts as shut

// set is a setting of a control, on one of its own marks.
func set(c stove.Control, opening float64) []plan.Setting {
	return []plan.Setting{{Control: c, Opening: c.Scale.Nearest(min(1, max(0, opening)))}}
}

// airTo sets the main air, and no further than it was good with this load.
func (s *situation) airTo(opening float64) []plan.Setting {
	if s.air.Key == "" {
		return nil
	}
	return set(s.air, min(opening, s.most))
}

// allOpen opens everything that lets a fire breathe, but what comes from below where
// there is air from above; allShut shuts everything that feeds it.
func (s *situation) allOpen() []plan.Setting { return s.allTo(1) }
func (s *situation) allShut() []plan.Setting { return s.allTo(0) }

func (s *situation) allTo(opening float64) []plan.Setting {
	var out []plan.Setting
	for _, c := range s.Burn.Stove.Controls {
		switch c.Role {
		case stove.Combined, stove.PrimaryAir, stove.TopAir, stove.DoorVent, stove.SecondAir, stove.GlassWash:
		case stove.Fan:
			if opening > 0 {
				continue
			}
		case stove.UnderGrate, stove.AshFlap:
			if opening > 0 && c.Key != s.air.Key {
				continue
			}
		case stove.Damper, stove.Blower: // a damper opens for a load, and the blower is off; nothing else moves them here
			ready := fire.ReadyToLight(c.Role, true)
			if c.Key != s.air.Key && opening > 0 && s.stands(c) != ready {
				out = append(out, plan.Setting{Control: c, Opening: ready})
			}
			continue
		default:
			continue
		}
		if opening > 0 && c.ToLight == stove.StaysShut && c.Key != s.air.Key {
			continue // by the manual
		}
		to := opening
		if c.Key == s.air.Key {
			to = c.Scale.Nearest(min(opening, s.most))
		}
		out = append(out, plan.Setting{Control: c, Opening: to})
	}
	return out
}

// ajar sets the door so, unless the fire was too hot with this load.
func (s *situation) ajar() []fire.Act {
	if s.most < 1 || !s.Burn.Stove.Ajar() {
		return nil
	}
	return doorTo(fire.Ajar)
}

func doorTo(d fire.Door) []fire.Act { return []fire.Act{{Kind: fire.ActDoor, Door: d}} }

// leastCoals light a load, kg.
func (s *situation) leastCoals() float64 { return belief.LeastCoals(s.Burn.Stove) }
