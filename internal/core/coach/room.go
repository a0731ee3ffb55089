package coach

import (
	"math"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/policy"
	"smolder/internal/core/units"
)

// The room leads: what it comes to before the time is over is said while something can
// still be done about it.
const (
	looksAhead  = 3 * time.Hour    // without a plan
	loadShows   = 40 * time.Minute // from a load on coals until the room feels it
	enoughOver  = 0.5              // K over what is wanted, that is too warm
	enoughIn    = 2 * time.Hour
	someEvening = 45 * time.Minute // that must be left for a load to be worth a word
)

// ends is when the wish is over, since the start; without a plan some hours from now.
func (s *situation) ends() time.Duration {
	if s.plan != nil {
		return s.plan.Wish.For
	}
	return s.at + looksAhead
}

// rooms calls f with every moment that is foretold until the wish is over, and the room in the
// middle of what is believed.
func (s *situation) rooms(f func(at time.Duration, room float64)) {
	for i, room := range s.ahead.Room.Middle {
		if at := s.ahead.From + time.Duration(i)*s.ahead.Every; at > s.at && at <= s.ends() {
			f(at, room)
		}
	}
}

// loadBy: as it burns the room is colder than is wanted before the time is over, and a load in
// time would keep it warm. It is said while the flames are still there.
func loadBy(s *situation) (Advice, bool) {
	low := s.Burn.Wanted[0]
	if !s.known || low <= 0 || !s.isLit() || !s.done() || s.heard > unheardFor || s.leaves(0) || s.now.Phase != fire.Cruising && s.now.Phase != fire.Coaling {
		return Advice{}, false
	}
	room, _ := s.roomNow()
	coldest, from := math.Inf(1), time.Duration(-1)
	s.rooms(func(at time.Duration, t float64) {
		if coldest = min(coldest, t); from < 0 && t < low-coldBy && t < room {
			from = at
		}
	})
	few := s.coalsFew().Likely
	if from < 0 || room < low-coldBy || s.ends()-s.at < someEvening || few < 0 {
		return Advice{}, false // it is so already, and said as such; or nothing lights a load by then
	}
	by := min(max(from-loadShows, s.at+loadShows/2), few)
	if by <= s.at || s.leaves(by-s.at) || by+loadShows > s.ends() {
		return Advice{}, false
	}
	return Advice{Reading: units.Celsius(coldest), Limit: units.Celsius(low), From: from - s.at, To: by - s.at, Mild: true,
		Again: max(soonest, min(latest, (by-s.at)/2).Round(time.Minute))}, true
}

// enough: the room is warm, or will be with the wood that burns: nothing more goes on.
func enough(s *situation) (Advice, bool) {
	high := s.Burn.Wanted[1]
	if !s.known || high <= 0 || !s.isLit() || s.heard > unheardFor || s.leaves(0) || s.now.Phase != fire.Cruising || s.now.Wood.Middle < policy.SomeWood || !s.done() {
		return Advice{}, false
	}
	warmest := math.Inf(-1)
	s.rooms(func(at time.Duration, t float64) {
		if at <= s.at+enoughIn {
			warmest = max(warmest, t)
		}
	})
	return Advice{Reading: units.Celsius(warmest), Limit: units.Celsius(high), Mild: true, Again: 30 * time.Minute}, warmest > high+enoughOver
}
