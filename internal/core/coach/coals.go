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
	"smolder/internal/core/wish"
)

// Flames gone: the coals, the next load, the night.
const (
	plenty      = 2.5              // times what lights a load
	nearlyGone  = 1.4              //
	stillSome   = 0.5              //
	keepsFrom   = 0.3              // opening, from where less air keeps the coals for longer
	keepAt      = 0.2              // opening
	nightIn     = 40 * time.Minute // before nobody is there
	sinceDown   = 12 * time.Minute // since the last turn-down, until it has shown whether it holds
	sinceLong   = 50 * time.Minute
	holdsRate   = 2.0 // K a minute, that a gauge may still move
	smokesAhead = 0.2 // of the members smoulder within a quarter of an hour
	quietFor    = 20 * time.Minute
	quietLong   = 70 * time.Minute
	outFor      = 45 * time.Minute
	soonGone    = 40 * time.Minute
	flares      = 15 * time.Minute // after the match, that a gauge shows kindling
)

// coaling tells whether the flames are gone and wood has turned to coals.
func (s *situation) coaling() bool {
	if !s.known || s.now.Phase != fire.Coaling {
		return false
	}
	loaded, ok := s.loaded()
	return ok && loaded > quietFor && s.seenCoals()
}

// seenCoals tells whether anything but the belief says that a load is down to coals:
// somebody, or a gauge that has fallen as far from its highest as it does then. A stove
// without a gauge is asked about.
func (s *situation) seenCoals() bool {
	if s.saidSinceLoad(burn.ToCoals) || s.saidSinceLoad(burn.Out) {
		return true
	}
	g, ok := s.guiding()
	if !ok {
		return false
	}
	loaded, _ := s.loaded()
	highest, since := g.Value, s.Now.Add(-loaded)
	// Kindling flares, and a bypass that is shut takes the gas another way: neither height is one
	// that a load falls from.
	if _, lit, is := s.last(ofKind(burn.Light)); is && lit <= loaded {
		since = s.Now.Add(-max(0, lit-flares))
	}
	if c, open, _, has := s.bypass(); has && !open {
		if _, ago, is := s.last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == c.Key }); is && ago < loaded {
			since = later(since, s.Now.Add(-ago))
		}
	}
	for _, r := range s.Burn.Readings(g.Place) {
		if !r.At.After(s.Now) && !r.At.Before(since) {
			highest = max(highest, r.Reading)
		}
	}
	return g.Value <= s.Burn.Room+units.Celsius(1-follow.FallenBy)*(highest-s.Burn.Room)
}

func later(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}

// askCoals: by what is computed the flames are gone, and nobody has said so nor read it.
func askCoals(s *situation) (Advice, bool) {
	if !s.known || s.now.Phase != fire.Coaling || s.seenCoals() || !s.isLit() || s.plan != nil && s.progress.Ask == follow.AskCoals {
		return Advice{}, false
	}
	if _, ago, ok := s.last(ofKind(burn.NotYet)); ok && ago < notYetFor {
		return Advice{}, false
	}
	loaded, ok := s.loaded()
	return Advice{Since: loaded, Again: 20 * time.Minute, Mild: true}, ok && loaded > quietFor
}

// notYetFor is how long somebody is not asked again who has said "not yet".
const notYetFor = 30 * time.Minute

const (
	coldBy   = 1.0              // K under what is wanted, from where a room is called colder
	coldFor  = 45 * time.Minute // since the fire was lit, or loaded, that it has to show
	warmsBy  = 1.0              // K an hour, by which a room that warms will get there by itself
	roomRead = time.Hour        // that a reading of the room holds
)

// roomNow is the room's temperature as it was read in the last hour, else as it is
// believed.
func (s *situation) roomNow() (t float64, ok bool) {
	all := s.Burn.Readings(stove.RoomAir)
	for len(all) > 0 && all[len(all)-1].At.After(s.Now) {
		all = all[:len(all)-1]
	}
	if n := len(all); n > 0 && s.Now.Sub(all[n-1].At) <= roomRead {
		return float64(all[n-1].Reading), true
	}
	return s.now.Room.Middle, s.known
}

// roomWarms is by how much the room warms an hour: by its readings, and where there are none
// by what is foretold of the next hour.
func (s *situation) roomWarms() float64 {
	all := s.Burn.Readings(stove.RoomAir)
	for len(all) > 0 && all[len(all)-1].At.After(s.Now) {
		all = all[:len(all)-1]
	}
	n := len(all)
	if ahead := s.ahead.Room.Middle; n == 0 && s.known && s.ahead.Every > 0 && len(ahead) > int(time.Hour/s.ahead.Every) {
		return ahead[int(time.Hour/s.ahead.Every)] - ahead[0]
	}
	for i := n - 2; i >= 0; i-- {
		if gap := all[n-1].At.Sub(all[i].At); gap >= roomRead/3 && gap <= 2*roomRead {
			return float64(all[n-1].Reading-all[i].Reading) / gap.Hours()
		}
	}
	return 0
}

// roomCold: the room is colder than was wanted, and stays so: more air while there is wood
// and no gauge speaks against it, else a load when the coals are there for it.
func roomCold(s *situation) (Advice, bool) {
	room, ok := s.roomNow()
	loaded, burns := s.loaded()
	low := s.Burn.Wanted[0]
	if !ok || low <= 0 || room > low-coldBy || !burns || loaded < coldFor || !s.isLit() || s.roomWarms() >= warmsBy || s.heard > unheardFor || s.leaves(0) {
		return Advice{}, false
	}
	a := Advice{Reading: units.Celsius(room), Limit: units.Celsius(low), Since: loaded, Again: 20 * time.Minute}
	g, read := s.guiding()
	if s.known && s.now.Wood.Middle > policy.SomeWood && s.now.Flames > policy.Dark && s.opening < 0.9*s.most && !s.nearLimit() && (!read || g.Value < g.Band.High) {
		if a.Sets = s.warmerAir(); len(a.Sets) > 0 {
			return a, true
		}
	}
	a.Mild = true
	return a, true
}

// warmerAir is the setting further open that warms the room by more than it costs, with the steps that
// are left: wide open the most of it goes up the flue, and the load is gone the sooner. None where
// nothing is better than as it stands.
func (s *situation) warmerAir() []plan.Setting {
	wanted := min(s.most, 1.5*s.opening+0.05)
	if s.Belief == nil {
		return s.bestAir(s.opening+0.02, s.most, wanted)
	}
	best, least := s.opening, s.going(0)-worthAChange
	for _, o := range openings {
		if o = s.air.Scale.Nearest(min(o, s.most)); o <= s.opening+0.02 {
			continue
		}
		cost := s.going(0, fire.Act{Kind: fire.ActControl, Control: s.air.Key, Role: s.air.Role, Opening: o})
		if cost < least {
			best, least = o, cost
		}
	}
	if best <= s.opening+0.02 {
		return nil
	}
	return set(s.air, best)
}

// unheard: nobody has said anything for hours, and no thermometer: what is computed by now
// is a guess, and nothing is advised by it.
func unheard(s *situation) (Advice, bool) {
	if s.heard <= unheardFor || !s.isLit() || s.leaves(0) {
		return Advice{}, false
	}
	return Advice{Since: s.heard, Again: latest}, true
}

// warm tells whether the room is as warm as is wanted.
func (s *situation) warm() bool {
	return s.Burn.Wanted[1] > 0 && s.now.Room.Middle > s.Burn.Wanted[1]
}

// done tells whether no step of a plan is left but a next load.
func (s *situation) done() bool {
	kind := s.progress.Next.Kind
	return !s.progress.Has || s.progress.Lacks.Kind == follow.ItIsOut || kind == plan.ReloadTime || kind == plan.KeepIt || kind == plan.FeedIt && s.warm()
}

// letBurn: coals for long and a room that is warm enough: nothing is put on.
func letBurn(s *situation) (Advice, bool) {
	if !s.coaling() || !s.warm() || s.now.Coals.Middle < plenty*s.leastCoals() || !s.done() {
		return Advice{}, false
	}
	return Advice{From: s.until(s.ahead.Events[belief.CoalsFew].Earliest), To: s.until(s.ahead.Events[belief.CoalsFew].Latest),
		Mass: units.Kilogram(s.now.Coals.Middle), Again: 30 * time.Minute}, true
}

// until is how long it is to a moment since the start; 0: not known.
func (s *situation) until(at time.Duration) time.Duration {
	if at <= s.at {
		return 0
	}
	return at - s.at
}

// coalsFew is when there are too few coals to light a load: in the middle of what is believed,
// and at its ends.
func (s *situation) coalsFew() belief.Span {
	least, from, every := s.leastCoals(), s.ahead.From, s.ahead.Every
	when := func(coals []float64) time.Duration {
		// The fire may be on its way up: it is few once it falls under that.
		for i := 1; i < len(coals); i++ {
			if coals[i] < least && coals[i] <= coals[i-1] {
				return from + time.Duration(i)*every
			}
		}
		return -1
	}
	return belief.Span{Earliest: when(s.ahead.Coals.Low), Likely: when(s.ahead.Coals.Middle), Latest: when(s.ahead.Coals.High)}
}

// reloadNow: flames gone, and coals that light the next load.
func reloadNow(s *situation) (Advice, bool) {
	if !s.coaling() || s.warm() || !s.done() || s.now.Coals.Middle < nearlyGone*s.leastCoals() || s.leaves(0) {
		return Advice{}, false
	}
	few := s.coalsFew()
	a := Advice{From: s.until(few.Earliest), To: s.until(few.Latest), Mass: units.Kilogram(s.now.Coals.Middle), Again: 20 * time.Minute}
	var serves bool
	if a.Acts, a.Sets, serves = s.nextLoad(); !serves {
		a.Mild = true // the coals are there for it; by what is wanted of the room none is needed
	}
	return a, true
}

// coalsGoing: soon there are too few to light a load.
func coalsGoing(s *situation) (Advice, bool) {
	if !s.coaling() || s.warm() || !s.done() || s.leaves(0) {
		return Advice{}, false
	}
	few := s.coalsFew()
	soon := few.Likely > s.at && few.Likely-s.at < soonGone
	if c := s.now.Coals.Middle; c < stillSome*s.leastCoals() || c > nearlyGone*s.leastCoals() && !soon {
		return Advice{}, false
	}
	return Advice{To: s.until(few.Likely), Mass: units.Kilogram(s.now.Coals.Middle), Again: 10 * time.Minute}, true
}

// keepCoals: flames gone, nobody puts anything on: less air keeps the coals for longer,
// and never none.
func keepCoals(s *situation) (Advice, bool) {
	if !s.coaling() || s.opening <= keepsFrom || s.now.Coals.Middle < s.leastCoals() || s.now.Wood.Middle > policy.SomeWood || s.now.Flames > policy.Dark {
		return Advice{}, false
	}
	return Advice{Sets: s.airTo(keepAt), Mass: units.Kilogram(s.now.Coals.Middle), Again: 45 * time.Minute}, true
}

// leaves tells whether nobody is by the stove in so long, by the plan.
func (s *situation) leaves(in time.Duration) bool {
	if s.plan == nil {
		return false
	}
	return s.plan.Wish.Unattended() && !s.plan.Wish.Presence().Somebody(s.at+in)
}

// night tells whether it is the time to see whether the fire can be left: turned down for
// the last time some minutes ago, with nobody there later.
func (s *situation) night() bool {
	if s.plan == nil || !s.plan.Wish.Unattended() || !s.isMoved || !s.known ||
		!s.done() && (s.progress.Next.Kind != plan.FeedIt || !s.leaves(nightIn)) { // somebody stays for the next load
		return false
	}
	down := s.moved >= sinceDown && s.moved <= sinceLong && s.opening < s.before
	return down && (s.leaves(nightIn) || s.plan.Wish.Aim == wish.Overnight || s.plan.Wish.Aim == wish.Away)
}

// holds tells whether a fire that was turned down burns on cleanly.
func (s *situation) holds() bool {
	g, read := s.guiding()
	steady := !read || !g.HasRate || g.Rate > -holdsRate || g.Value > g.Band.High
	return steady && s.now.Flames > policy.Dark && s.ahead.Risks.Smoulder < smokesAhead && s.ahead.Risks.TooHot < smokesAhead
}

// nightReady: it holds, and can be left.
func nightReady(s *situation) (Advice, bool) {
	if !s.night() || s.now.Wood.Middle < policy.SomeWood || !s.holds() {
		return Advice{}, false
	}
	return Advice{Since: s.moved, Again: latest}, true
}

// nightNotYet: it does not hold: a step back before anybody goes.
func nightNotYet(s *situation) (Advice, bool) {
	if !s.night() || s.now.Wood.Middle < policy.SomeWood || s.holds() || s.nearLimit() {
		return Advice{}, false
	}
	a := s.stepBack()
	a.Again = 15 * time.Minute
	return a, true
}

// itIsOut: nothing burns any more.
func itIsOut(s *situation) (Advice, bool) {
	loaded, ok := s.loaded()
	if s.Burn.IsOut(s.Now) {
		a := Advice{Since: loaded, Again: time.Hour}
		if e, ago, put := s.last(splits); put && !s.litSince(ago) {
			a.Mass = e.Load.Mass() // and nothing lights it
		}
		a.Acts, a.Sets = s.relight(a.Mass > 0)
		return a, true
	}
	return Advice{Since: loaded, Again: time.Hour}, ok && s.known && s.now.Out > policy.Bright && loaded > outFor &&
		(s.now.Wood.Middle < 2*policy.SomeWood || loaded > longOut && s.coldGauge())
}

// worthLighting is how much of a wish must be left for a fire that went out to be lit again.
const worthLighting = 75 * time.Minute

// relight is the way on after a fire went out while it was still wanted: kindling, thin wood
// where none lies there, and a match. None where the time is nearly over, nobody is there, or
// the room is warm.
func (s *situation) relight(lies bool) (acts []fire.Act, sets []plan.Setting) {
	if s.plan == nil || s.plan.Wish.For-s.at < worthLighting || s.leaves(0) || s.didHarm() {
		return nil, nil
	}
	if room, known := s.roomNow(); known && room >= s.Burn.Wanted[0] && s.Burn.Wanted[0] > 0 {
		return nil, nil
	}
	w := s.plan.Wish
	w.Start = wish.Cold
	if !lies && s.now.Wood.Middle < policy.SomeWood {
		first := w.FirstLoad(s.plan.MainIndex(), max(1, s.plan.First), s.plan.Direction, fire.TopDown)
		acts = append(acts, fire.Act{Kind: fire.ActLoad, Load: &first})
	}
	kindling := w.KindlingLoad(fire.TopDown)
	acts = append(acts, fire.Act{Kind: fire.ActLoad, Load: &kindling})
	if s.Burn.Stove.Ajar() {
		acts = append(acts, doorTo(fire.Ajar)...)
	}
	s.most = 1 // it was hot with another load
	return append(acts, fire.Act{Kind: fire.ActLight}), s.allOpen()
}

// didHarm tells whether anything of this fire could have hurt somebody: a stove that let
// monoxide or smoke into the room, or whose chimney burnt, is not lit again because a room is
// cold.
func (s *situation) didHarm() bool {
	_, _, harm := s.last(func(e burn.Entry) bool {
		switch e.Kind {
		case burn.COAlarm, burn.ChimneyFire, burn.Glaze:
			return true
		case burn.CO:
			return e.PPM > 0
		case burn.Smoke:
			return e.Smoke == burn.SmokeRoom
		}
		return false
	})
	return harm || len(s.dangers) > 0
}

// litSince tells whether the fire was lit in so long, or said to be out after something was
// put on: then that lies in what is out anyway.
func (s *situation) litSince(ago time.Duration) bool {
	_, said, ok := s.last(func(e burn.Entry) bool { return e.Kind == burn.Light || e.Kind == burn.WentOut })
	return ok && said <= ago
}

// silent: the guiding gauge was not read for long while it matters.
func silent(s *situation) (Advice, bool) {
	if !s.guided || !s.isLit() || s.known && (s.now.Phase == fire.Coaling || s.now.Phase == fire.Out) {
		return Advice{}, false
	}
	loaded, _ := s.loaded()
	least, since, ever := quietFor, loaded, false
	cruises := s.known && s.now.Phase == fire.Cruising && s.opening < fromOpen // open it climbs
	if cruises {
		least = quietLong
	}
	for _, r := range s.Burn.Readings(s.guide.Place) {
		if !r.At.After(s.Now) {
			since, ever = min(since, s.Now.Sub(r.At)), true
		}
	}
	// Who never reads it is not asked all evening.
	return Advice{Gauge: s.guide.Place, Since: since, Again: 10 * time.Minute, Mild: cruises}, since > least && (ever || !cruises)
}

// nobodyLogs: nothing was logged for long, while it burns.
func nobodyLogs(s *situation) (Advice, bool) {
	if !s.isLit() || !s.known || s.now.Phase == fire.Coaling || s.now.Phase == fire.Out {
		return Advice{}, false
	}
	_, ago, ok := s.last(func(burn.Entry) bool { return true })
	if len(s.gauges) > 0 && s.gauges[0].Read() {
		ago = min(ago, s.gauges[0].Age)
	}
	return Advice{Since: ago, Again: 20 * time.Minute, Mild: true}, ok && ago > quietLong
}
