package coach

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
)

// What goes on next, and where the air goes when it is black, on a fire that no plan leads any
// more: each is burnt on in some of the stoves that this one is believed to be, and what does
// best on average is said.
const (
	triedLoads   = 5    // sizes of a next load
	woodCosts    = 0.15 // per kg: a load that warms nobody is none
	gramCosts    = 0.05 // per g of its smoke: by the kilogram alone a larger load would be no dirtier
	worthALoad   = 0.15 // of the cost, that a load must be better by than none
	boxFilled    = 0.85 // of the firebox, at most
	downFrom     = 0.15 // share of the gauge's band from where a fire is turned down
	downAgain    = 8 * time.Minute
	downToFinal  = 0.06 // within which the air stands where it should be left
	farDown      = 0.4  // opening, from where on nobody is sent to the stove for less
	worthAChange = 0.3  // of the cost, that less air or a smaller load must be better by than the plan's
	feedFlames   = 8 * time.Minute
	blackBy      = 15 * time.Minute // that a load is given to be black, where nobody has said so
)

// lessToChar are the shares of the planned air that a load is tried with.
var lessToChar = []float64{1, 0.75, 0.5}

// lasts is until when the fire is to serve, since the start.
func (s *situation) lasts() time.Duration { return max(s.ends(), s.at+time.Hour) }

// piece is the wood at hand, one piece of it: the plan's, else what was put on last.
func (s *situation) piece() (fire.Load, bool) {
	if s.plan != nil {
		l := s.plan.Wish.LoadOf(s.plan.MainIndex(), 1, s.plan.Direction, fire.OnCoals)
		return l, l.PieceMass > 0
	}
	e, _, ok := s.last(splits)
	if !ok || e.Load == nil || e.Load.Species.Mineral || e.Load.PieceMass <= 0 {
		return fire.Load{}, false
	}
	l := *e.Load
	l.Pieces, l.Lay = 1, fire.OnCoals
	return l, true
}

// mostPieces is how many of a piece the manual and the firebox take at once.
func (s *situation) mostPieces(l fire.Load) int {
	largest, _ := s.Burn.Stove.LargestLoad()
	each := wood.LoadOf(l.Species, l.Moisture, l.PieceMass).Stacked
	return min(int(float64(largest)/float64(l.PieceMass)+1e-9), int(boxFilled*float64(s.Burn.Stove.Volume)/float64(each)))
}

// wish is what the fire is for: the plan's, else the band that the room is kept in.
func (s *situation) wish() wish.Wish {
	if s.plan != nil {
		return s.plan.Wish
	}
	return wish.Wish{Stove: s.Burn.Stove, Low: units.Celsius(s.Burn.Wanted[0]), High: units.Celsius(s.Burn.Wanted[1])}
}

// costs is what a fire costs from here on by moves: smoke, the room, and limits that are
// passed, as the mean over the members.
func (s *situation) costs(moves []fire.Move) float64 {
	w := s.wish()
	lives := s.Belief.Lives(triedIn, moves, s.lasts(), func() fire.Watcher { return &comfort{wish: w.Low, high: w.High} },
		func() fire.Hand { return plan.HandFrom(w, s.opening, s.at) })
	return meanCost(lives)
}

// loading is what a load costs that goes on now: the fire with it, its wood, and all of its smoke.
func (s *situation) loading(l fire.Load) float64 {
	w := s.wish()
	lives := s.Belief.Lives(triedIn, s.feeding(l, s.charsAt()), s.lasts(), func() fire.Watcher { return &comfort{wish: w.Low, high: w.High} },
		func() fire.Hand { return plan.HandFrom(w, s.opening, s.at) })
	dirt := 0.0
	for _, life := range lives {
		dirt += life.Smoke / float64(len(lives))
	}
	return meanCost(lives) + (woodCosts+gramCosts*dirt)*float64(l.Mass())
}

func meanCost(lives []belief.Life) float64 {
	sum := 0.0
	for _, l := range lives {
		if plan.TooHot(l.Summary) || plan.Spills(l.Summary) {
			sum += unsafeCost
		}
		sum += smokeCosts*l.Smoke + l.Watched.(*comfort).cost()
	}
	return sum / float64(len(lives))
}

// final is where the air is left with a load: as the plan had it, else half open.
func (s *situation) final() float64 {
	if s.plan != nil && s.plan.Final > 0 {
		return s.plan.Final
	}
	return s.air.Scale.Nearest(halfway)
}

// nextLoad is the load that serves best, with the controls as it chars; false: none is better,
// or nothing is known of what is wanted.
func (s *situation) nextLoad() (acts []fire.Act, sets []plan.Setting, ok bool) {
	l, there := s.piece()
	late := s.plan != nil && s.ends()-s.at < someEvening // its heat would come when nobody wants it any more
	if s.Belief == nil || !there || s.Burn.Wanted[0] <= 0 || s.air.Key == "" || late {
		return nil, nil, false
	}
	best, least := 0, s.costs(nil)-worthALoad
	for _, n := range plan.Counts(1, s.mostPieces(l), triedLoads) {
		if n < 1 {
			continue
		}
		l.Pieces = n
		if cost := s.loading(l); cost < least {
			best, least = n, cost
		}
	}
	if l.Pieces = best; best == 0 {
		return nil, nil, false
	}
	sets = s.airTo(s.charsAt())
	if c, open, _, has := s.bypass(); has && !open {
		sets = append(sets, set(c, 1)...)
	}
	return []fire.Act{{Kind: fire.ActRake}, {Kind: fire.ActLoad, Load: &l}}, sets, true
}

// fitLoad fits a load of the plan to the fire as it is believed to be by now: with less air to
// char, or a piece or two fewer, where the load as it was planned would run too hot in too many
// of the stoves that this one may be.
func (s *situation) fitLoad(a *Advice) {
	at := slices.IndexFunc(a.Acts, func(act fire.Act) bool { return act.Kind == fire.ActLoad && act.Load != nil })
	if s.Belief == nil || s.air.Key == "" || at < 0 {
		return
	}
	planned, brisk := *a.Acts[at].Load, s.charsAt()
	for _, set := range a.Sets {
		if set.Control.Key == s.air.Key {
			brisk = set.Opening
		}
	}
	best, air, least := planned, brisk, math.Inf(1)
	for _, fewer := range []int{0, 1, 2} {
		l := planned
		if l.Pieces -= fewer; l.Pieces < 1 || l.Pieces < planned.Pieces/2 {
			break
		}
		for _, share := range lessToChar {
			o := s.air.Scale.Nearest(share * brisk)
			if share < 1 && o < charAir-downToFinal {
				continue // it would char badly
			}
			cost := s.costs(s.feeding(l, o))
			if changed := fewer > 0 || share < 1; changed {
				cost += worthAChange
			}
			if cost < least {
				best, air, least = l, o, cost
			}
		}
		if least < unsafeCost/triedIn { // safe in all of them
			break
		}
	}
	if a.Fitted = best.Pieces < planned.Pieces || air < brisk-downToFinal; !a.Fitted {
		return
	}
	a.Acts = slices.Clone(a.Acts)
	a.Acts[at].Load = &best
	if math.Abs(air-s.opening) > downToFinal || air < brisk {
		a.Sets = append(slices.DeleteFunc(slices.Clone(a.Sets), func(set plan.Setting) bool { return set.Control.Key == s.air.Key }), s.airTo(air)...)
	}
}

// feeding are the moves of a load that goes on now, chars at an opening, and is turned down
// when it is black.
func (s *situation) feeding(l fire.Load, brisk float64) []fire.Move {
	air := func(o float64) fire.Act {
		return fire.Act{Kind: fire.ActControl, Control: s.air.Key, Role: s.air.Role, Opening: o}
	}
	now := []fire.Act{air(brisk), {Kind: fire.ActRake}, {Kind: fire.ActLoad, Load: &l}}
	black := fire.Trigger{After: feedFlames, Charred: true}
	moves := []fire.Move{{Do: now}}
	if c, _, _, has := s.bypass(); has {
		moves[0].Do = append([]fire.Act{{Kind: fire.ActControl, Control: c.Key, Role: c.Role, Opening: 1}}, now...)
		moves = append(moves, fire.Move{When: black, Do: []fire.Act{{Kind: fire.ActControl, Control: c.Key, Role: c.Role}}})
	}
	return append(moves, fire.Move{When: black, Do: []fire.Act{air(s.final())}})
}

// turnDown: the load is black, the flue works, and no plan says where the air goes: half, and
// then to where this fire does best.
func turnDown(s *situation) (Advice, bool) {
	loaded, ok := s.loaded()
	if !ok || s.Belief == nil || s.air.Key == "" || s.ledByPlan() || loaded < feedFlames || s.now.Phase != fire.Charring && s.now.Phase != fire.Cruising {
		return Advice{}, false
	}
	if s.isMoved && s.moved < downAgain || s.now.Flames < policy.Bright || s.now.Wood.Middle < 2*policy.SomeWood || s.now.Black < policy.Bright || s.nearLimit() {
		return Advice{}, false
	}
	if !s.saidSinceLoad(burn.Black) && loaded < blackBy {
		return Advice{}, false // only believed: it is given the time that a load needs
	}
	if door, _ := s.doorStands(); door != fire.Shut || s.opening <= farDown {
		return Advice{}, false
	}
	if g, read := s.guiding(); s.guided && !read || read && g.Value < g.Band.Low+units.Celsius(downFrom)*(g.Band.High-g.Band.Low) {
		return Advice{}, false
	}
	if room, known := s.roomNow(); known && s.Burn.Wanted[0] > 0 && room < s.Burn.Wanted[0] && s.opening <= fromOpen {
		return Advice{}, false // half open it may stay until the room turns
	}
	best, least := s.opening, math.Inf(1)
	for _, o := range finals {
		if o = s.air.Scale.Nearest(o); o > halfway || o < plan.Floor-downToFinal {
			continue // wide open the heat goes up the flue, whatever else it does
		}
		cost := s.costs([]fire.Move{{Do: []fire.Act{{Kind: fire.ActControl, Control: s.air.Key, Role: s.air.Role, Opening: o}}}})
		if cost < least-1e-9 {
			best, least = o, cost
		}
	}
	if best >= s.opening-downToFinal {
		return Advice{}, false
	}
	if half := s.air.Scale.Nearest(halfway); s.opening > fromOpen && best < half {
		best = half // in steps
	}
	a := Advice{Since: loaded, Sets: set(s.air, best), Again: downAgain}
	if g, read := s.guiding(); read {
		a.Gauge, a.Reading = g.Place, g.Value
	}
	return a, true
}

const (
	secondUnder = 2.0 // K under what is wanted, that a room is for a second load before the first is down
	secondOver  = 0.4 // share of the manual's largest load that may still be wood then
	secondMost  = 0.7 // of it, that both are at the most: fresh wood on wood that flames gives its gas at once
)

// secondLoad: the room is far under what is wanted and one load will not get it there: pieces
// go on the first while it still flames, and both are turned down together. Only where that is
// better than turning down now, in the mean of what this stove may be, and within the manual's
// largest load.
func secondLoad(s *situation) (Advice, bool) {
	down, ok := turnDown(s)
	if !ok {
		down, ok = s.leftOpen()
	}
	low := s.Burn.Wanted[0]
	room, known := s.roomNow()
	if !ok || !known || low <= 0 || room > low-secondUnder || s.leaves(loadShows) {
		return Advice{}, false
	}
	warmest := room
	s.rooms(func(_ time.Duration, t float64) { warmest = max(warmest, t) })
	l, there := s.piece()
	largest, _ := s.Burn.Stove.LargestLoad()
	wet := float64(l.Mass()) * s.now.Wood.Middle / max(1e-9, l.Dry()) // what is left, as it was put on
	if warmest >= low || !there || wet > secondOver*float64(largest) {
		return Advice{}, false
	}
	if g, read := s.guiding(); read && g.Value > g.Band.High {
		return Advice{}, false
	}
	least := s.costs(nil)
	if len(down.Sets) > 0 {
		least = s.costs([]fire.Move{{Do: []fire.Act{{Kind: fire.ActControl, Control: s.air.Key, Role: s.air.Role, Opening: down.Sets[0].Opening}}}})
	}
	best, least := 0, least-worthALoad
	for n := 1; n <= s.mostPieces(l) && wet+float64(n)*float64(l.PieceMass) <= secondMost*float64(largest); n++ {
		l.Pieces = n
		if cost := s.loading(l); cost < least {
			best, least = n, cost
		}
	}
	if l.Pieces = best; best == 0 {
		return Advice{}, false
	}
	a := Advice{Since: down.Since, Reading: units.Celsius(room), Limit: units.Celsius(low), Acts: []fire.Act{{Kind: fire.ActLoad, Load: &l}}, Again: downAgain}
	if s.opening < s.charsAt()-downToFinal {
		a.Sets = s.airTo(s.charsAt())
	}
	return a, true
}

// leftOpen is a fire that is half open, black, and left so until the room turns.
func (s *situation) leftOpen() (Advice, bool) {
	loaded, ok := s.loaded()
	open := s.opening > farDown && s.opening <= fromOpen
	if !ok || !open || s.Belief == nil || s.ledByPlan() || s.now.Phase != fire.Cruising || s.now.Flames < policy.Bright || s.now.Black < policy.Bright || s.nearLimit() {
		return Advice{}, false
	}
	return Advice{Since: loaded}, true
}

// ledByPlan tells whether a plan still has a step for the load that burns.
func (s *situation) ledByPlan() bool { return s.progress.Has && !s.done() }
