package coach

import (
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
	"smolder/internal/core/units"
)

// From the match to a fire that stands. The times are what owners give a fire; they
// come from no paper.
const (
	shutLately  = 8 * time.Minute  // since the door was shut, that a fire dies of it
	ajarBefore  = 45 * time.Minute // that it had stood open or ajar
	ajarEnough  = 3 * time.Minute  // of a flue that is in its band
	sureIn      = 12 * time.Minute
	coldShare   = 0.6 // of the way from the room to the band, under which nothing flames
	longOut     = 2 * time.Hour
	coldOut     = 0.35            // of the same, under which nothing burns
	sinksFor    = 8 * time.Minute // after a load with all its air, that a gauge may fall and it may still take
	sinksBy     = 12.0            // K, from where a fall is one
	helpedFor   = 8 * time.Minute // of air and a door ajar, after which a load that lies there wants sticks and a match
	takesAt     = 1.5             // K a minute, at which it is on its way after all
	smallFire   = 40 * time.Minute
	bigLoad     = 0.4 // of the manual's largest load
	drawsFrom   = 3.0 // Pa, that carry smoke up
	reads       = 1.0 // Pa read, under which it hardly draws
	whistleFor  = 12 * time.Minute
	wideOpen    = 0.6
	toTheMiddle = 0.5
)

// spilling: smoke is believed to come into the room, though nobody has said so.
func spilling(s *situation) (Advice, bool) {
	if _, ago, ok := s.last(func(e burn.Entry) bool { return e.Kind == burn.Smoke && e.Smoke == burn.SmokeGone }); ok && ago < policy.LookHolds {
		return Advice{}, false // somebody has looked
	}
	if s.known && s.now.Spilling > policy.Bright && s.now.Phase != fire.Out && s.at > 2*time.Minute && s.heard <= unheardFor {
		return Advice{Sets: s.allOpen(), Again: 2 * time.Minute}, true
	}
	return Advice{}, false
}

// flamesDied tells whether flames are gone since a moment so long ago: somebody said so,
// the guiding gauge falls, or it is believed; and there is wood for them.
func (s *situation) flamesDied(since time.Duration) bool {
	if s.known && s.now.Wood.Middle < policy.SomeWood || s.saidSinceLoad(burn.ToCoals) {
		return false
	}
	if s.saidGone(since) {
		return true
	}
	g, ok := s.guiding()
	if ok && g.HasRate && g.Rate <= policy.FallsBy && g.Value < g.Band.Low && since-g.Age >= rateLeast {
		return true
	}
	// By the computation alone it is not said at once: what the plan has just asked for is not
	// taken back the next minute where no gauge and nobody says that it was wrong.
	return s.known && s.now.Flames < policy.Dark && since >= reckonedIn
}

// reckonedIn is how long after a move that nobody and no gauge speaks against the
// computation is heard.
const reckonedIn = 6 * time.Minute

// reckoned tells whether gone flames are only computed: no gauge falls, and nobody has said
// so.
func (s *situation) reckoned(since time.Duration) bool {
	g, ok := s.guiding()
	return !s.saidGone(since) && !(ok && g.HasRate && g.Rate <= policy.FallsBy)
}

// saidGone tells whether somebody has said that the flames are gone, in so long.
func (s *situation) saidGone(since time.Duration) bool {
	_, ago, ok := s.last(ofKind(burn.Out))
	if !ok || ago >= since {
		return false
	}
	_, black, again := s.last(ofKind(burn.Black)) // black wood is said of wood that burns
	return !again || black > ago
}

// diedOnShutting: the door was shut, and the fire dies: ajar again.
func diedOnShutting(s *situation) (Advice, bool) {
	door, ago := s.doorStands()
	if door != fire.Shut || ago > shutLately || ago < time.Minute || s.breath <= policy.LeastAir || s.hotAgo >= 0 ||
		s.isMoved && s.moved < ago && s.opening < s.before {
		return Advice{}, false // or it is the air that was shut
	}
	_, before, ok := s.last(func(e burn.Entry) bool { return e.Kind == burn.Door && e.Door != fire.Shut })
	loaded, is := s.loaded()
	if !ok || !is || before-ago < 2*time.Minute && loaded > smallFire || before > ajarBefore || !s.flamesDied(ago) {
		return Advice{}, false
	}
	return Advice{Since: ago, Acts: s.ajar(), Sets: s.allOpen(), Again: 4 * time.Minute}, true
}

// doorAjar: it stands open though the flue draws by itself, or nobody has shut it for
// long.
func doorAjar(s *situation) (Advice, bool) {
	door, ago := s.doorStands()
	if door == fire.Shut || !s.isLit() {
		return Advice{}, false
	}
	if _, read := s.guiding(); read && s.known && s.now.Out > policy.Bright && s.coldGauge() {
		return Advice{}, false // a gauge says so too: nothing is left for it to blow on
	}
	long := door == fire.Ajar && ago >= s.Burn.AjarMay() || door == fire.Open && ago >= policy.DoorOpenLong
	g, read := s.guiding()
	waits := s.progress.Has && s.progress.Next.Kind == plan.ShutDoor // a step of the plan says when
	draws := read && g.Value >= g.Band.Low && ago >= ajarEnough && !waits
	if !long && !draws {
		return Advice{}, false
	}
	a := Advice{Since: ago, Acts: doorTo(fire.Shut), Again: 3 * time.Minute}
	if forgotten, found := danger(burn.DoorForgotten)(s); found {
		a.First = forgotten.First
	}
	if draws {
		a.Gauge, a.Reading = g.Place, g.Value
	}
	return a, true
}

// coldGauge tells whether no gauge speaks against a fire being out: the guiding one was read
// lately and is cold, or there is none that anybody reads.
func (s *situation) coldGauge() bool {
	g, read := s.guiding()
	return !read || float64(g.Value-s.Burn.Room) < coldOut*float64(g.Band.Low-s.Burn.Room)
}

// isLit tells whether anything burns, by the log.
func (s *situation) isLit() bool {
	_, _, lit := s.last(ofKind(burn.Light))
	return (lit || s.Burn.Coals > 0) && !s.Burn.IsOut(s.Now)
}

// notCaught: a load lies there and does not flame, with all the time it needs.
func notCaught(s *situation) (Advice, bool) {
	loaded, ok := s.loaded()
	if !ok || loaded > policy.TriesFor || !s.isLit() {
		return Advice{}, false
	}
	if _, smokes := danger(burn.SmokeInCold)(s); smokes {
		return Advice{}, false // which is answered as such
	}
	if s.progress.NotCaught {
		return s.answerNotCaught(loaded), true
	}
	g, read := s.guiding()
	cold := !read || g.Value < g.Band.Low
	// A flue that was read and is cold with all the time and air that a load needs says so
	// by itself, whatever is believed.
	if read && loaded >= sureIn && float64(g.Value-s.Burn.Room) < coldShare*float64(g.Band.Low-s.Burn.Room) && !s.saidSinceLoad(burn.Black) &&
		!s.saidSinceLoad(burn.ToCoals) {
		return s.answerNotCaught(loaded), true
	}
	if cold && s.sinks(loaded) {
		return s.answerNotCaught(loaded), true
	}
	if loaded < policy.CatchesIn || !cold || !s.known || s.now.NotCaught < policy.Bright && !s.saidGone(loaded) || s.now.Wood.Middle < policy.SomeWood || s.now.Black > policy.Bright {
		return Advice{}, false
	}
	return s.answerNotCaught(loaded), true
}

// sinks tells whether the guiding gauge has only fallen since a load went on a fire, with all the
// air that it may have: a load that takes lifts it again within minutes, whatever is believed.
func (s *situation) sinks(loaded time.Duration) bool {
	e, ago, is := s.last(splits)
	_, lit, _ := s.last(ofKind(burn.Light))
	door, _ := s.doorStands()
	open := door != fire.Shut || s.breath >= policy.NearOpen*s.most && (!s.isMoved || s.moved >= sinksFor)
	if !is || e.Load.Mass() <= 0 || ago > loaded || lit <= ago || loaded < sinksFor || !open || s.most < 1 || s.saidSinceLoad(burn.Black) || s.saidSinceLoad(burn.ToCoals) || s.seesFlames(loaded) {
		return false
	}
	g, read := s.guiding()
	if !read {
		return false
	}
	before, lowest, n := g.Value, g.Value, 0
	for _, r := range s.Burn.Readings(g.Place) {
		switch ago := s.Now.Sub(r.At); {
		case ago < 0:
		case ago >= loaded:
			before = r.Reading
		default:
			lowest, n = min(lowest, r.Reading), n+1
		}
	}
	return n > 1 && float64(before-g.Value) >= sinksBy && g.Value <= lowest
}

// seesFlames tells whether somebody has seen flames in so long.
func (s *situation) seesFlames(since time.Duration) bool {
	_, ago, ok := s.last(func(e burn.Entry) bool { return e.Kind.Flames() })
	return ok && ago < since
}

// answerNotCaught is all the air and the door ajar; where that has not helped, sticks where it
// glows, and a match.
func (s *situation) answerNotCaught(loaded time.Duration) Advice {
	a := Advice{Since: loaded, Sets: s.allOpen(), Acts: s.ajar(), Again: 4 * time.Minute}
	door, ago := s.doorOff()
	if !s.Burn.Stove.Ajar() {
		door, ago = fire.Ajar, loaded-policy.CatchesIn
		if s.isMoved {
			ago = min(ago, s.moved)
		}
	}
	g, read := s.guiding()
	if door == fire.Shut || ago < helpedFor || loaded < sureIn || !read || g.HasRate && g.Rate >= takesAt || s.didHarm() || s.leaves(0) {
		return a
	}
	if _, put, ok := s.last(func(e burn.Entry) bool { return e.Kind == burn.Load && e.Load != nil && e.Load.Kindling }); ok && put < helpedFor {
		return a
	}
	a.Acts = append(a.Acts, s.sticks(halfArmful)...)
	return a
}

// halfArmful is the share of the kindling that lights what lies there warm: more, and all of it takes
// with a rush.
const halfArmful = 0.5

// sticks are so much of an armful of kindling where it still glows, and a match; none where no plan
// knows of any kindling.
func (s *situation) sticks(share float64) []fire.Act {
	if s.plan == nil || s.plan.Kindling.Pieces <= 0 || s.plan.Kindling.StackID == 0 {
		return []fire.Act{{Kind: fire.ActLight}}
	}
	kindling := s.plan.Kindling
	kindling.Lay = fire.OnCoals
	kindling.Pieces = max(1, int(share*float64(kindling.Pieces)+0.5))
	return []fire.Act{{Kind: fire.ActLoad, Load: &kindling}, {Kind: fire.ActLight}}
}

// bigTooEarly: big wood was put on a small fire, whose coals do not light it.
func bigTooEarly(s *situation) (Advice, bool) {
	e, load, ok := s.last(splits)
	_, lit, isLit := s.last(ofKind(burn.Light))
	if !ok || !isLit || lit > smallFire || load >= lit-2*time.Minute || load < 2*time.Minute || load > 15*time.Minute || !s.known {
		return Advice{}, false
	}
	if float64(e.Load.Mass()) < bigLoad*float64(s.Burn.Stove.MaxLoad) || s.now.Coals.Middle > s.leastCoals() ||
		s.now.Flames > policy.Bright && !s.saidGone(load) {
		return Advice{}, false
	}
	return Advice{Mass: e.Load.Mass(), Since: load, Sets: s.allOpen(), Acts: s.ajar(), Again: 4 * time.Minute}, true
}

// dies: the flames are gone though there is wood and air: it needs help, and a match
// where it is out.
func dies(s *situation) (Advice, bool) {
	loaded, ok := s.loaded()
	if !ok || !s.known || loaded < policy.CatchesIn || !s.isLit() || s.now.Wood.Middle < 2*policy.SomeWood || s.now.Flames > policy.Dark && s.now.Out < policy.Bright {
		return Advice{}, false
	}
	if s.isMoved && s.moved < 2*policy.ShownAfter || s.now.Phase == fire.Coaling || s.heard > unheardFor || s.nearLimit() {
		return Advice{}, false // it has just been given air, or has burnt down
	}
	if s.now.Out > policy.Bright && loaded > longOut && s.coldGauge() {
		return Advice{}, false // nobody helps a stove that has been cold for so long: it is out
	}
	a := Advice{Since: loaded, Mass: units.Kilogram(s.now.Wood.Middle), Again: 5 * time.Minute}
	if s.breath < policy.NearOpen*s.most && s.now.Out < policy.Bright { // air first
		a.Sets = s.airTo(s.most) // all that it bears: nothing flames that could run away
		if g, read := s.guiding(); read && g.Value >= g.Band.Low {
			a.Sets = s.bestAir(s.opening+0.02, s.most, s.most) // but hot wood takes with a rush
		}
		return a, true
	}
	if door, ago := s.doorStands(); door == fire.Ajar && ago < 2*policy.CatchesIn && s.now.Out < policy.Bright {
		return Advice{}, false // it is being helped
	}
	if a.Acts = s.ajar(); s.most < 1 && s.now.Out < policy.Bright {
		return Advice{}, false // it has all that it bears
	}
	if s.opening < policy.NearOpen*s.most {
		a.Sets = s.airTo(s.most)
	}
	if s.now.Out > policy.Bright {
		a.Acts = append(a.Acts, s.sticks(1)...)
	}
	return a, true
}

// whistles: too much air through the inlet of a shut door: towards the middle.
func whistles(s *situation) (Advice, bool) {
	_, ago, ok := s.last(ofKind(burn.Whistle))
	if !ok || ago > whistleFor || s.opening < wideOpen || s.isMoved && s.moved < ago {
		return Advice{}, false
	}
	return Advice{Since: ago, Sets: s.airTo(toTheMiddle), Again: 3 * time.Minute}, true
}

// prime: nothing is lit, and the flue does not draw yet. Where there is a plan, it says
// so itself.
func prime(s *situation) (Advice, bool) {
	if s.isLit() || s.plan != nil || s.Burn.IsOut(s.Now) {
		return Advice{}, false
	}
	if _, _, primed := s.last(ofKind(burn.Prime)); primed {
		return Advice{}, false
	}
	e, ago, read := s.last(ofKind(burn.Draft))
	switch {
	case read && ago <= policy.LookHolds:
		return Advice{Draft: e.Draft}, float64(e.Draft) < reads
	case s.known && s.now.Draft.Middle < drawsFrom:
		return Advice{}, true
	}
	return Advice{}, false
}
