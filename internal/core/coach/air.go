package coach

import (
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Turning down, and what comes of it.
const (
	charAir      = 0.5  // under which wood that is not black chars badly
	notBlack     = 0.35 // of the members have it black
	mostlyAlight = 0.85 // of the faces, that is as good as black
	fromOpen     = 0.75 // to
	straightTo   = 0.35 // in one go
	halfway      = 0.5
	smokesFor    = 20 * time.Minute // after a load, beyond which smoke is no part of it
	vapourFor    = 45 * time.Minute // and white vapour
	lookedAt     = 15 * time.Minute // ago, that a look at the cap still holds
	smouldersAt  = 0.55             // of the members
	starvesAt    = 0.06             // opening
	starvesFrom  = 0.15             // kg of coals
	halfShutFlue = 0.75             // opening, under which a flue damper holds a fire back
)

// chars tells whether a load is on that should be charring.
func (s *situation) chars() (time.Duration, bool) {
	loaded, ok := s.loaded()
	if _, ago, black := s.last(ofKind(burn.Black)); black && ok && ago <= loaded {
		return loaded, false
	}
	return loaded, ok && loaded <= policy.CharsUntil
}

// tooFar: the air was turned down, and the flames are gone though there is wood: one
// step back.
func tooFar(s *situation) (Advice, bool) {
	if !s.isMoved || s.opening >= s.before || s.moved < policy.ShownAfter || s.nearLimit() {
		return Advice{}, false
	}
	if (s.moved > policy.ShownFor || !s.flamesDied(s.moved)) && (!s.known || s.saidSinceLoad(burn.ToCoals) || !s.keeps().Sinks()) {
		return Advice{}, false
	}
	if a := s.stepBack(); len(a.Sets) > 0 && a.Sets[0].Opening > s.opening {
		a.Reckoned = s.reckoned(s.moved)
		return a, true
	}
	return Advice{}, false // as far open as it was good with this load
}

// stepBack opens the air to where it stood before, or twice as far, and with it the flue damper that
// went down with it: what starves behind a half-shut flue gains little by a lever.
func (s *situation) stepBack() Advice {
	a := Advice{Since: s.moved, Sets: s.bestAir(s.opening+0.02, s.most, s.keeps().Back()), Again: 5 * time.Minute}
	for _, c := range s.Burn.Stove.Controls {
		if c.Role == stove.Damper && c.Key != s.air.Key && s.stands(c) < halfShutFlue {
			a.Sets = append(a.Sets, set(c, 1)...)
		}
	}
	if g, ok := s.guiding(); ok {
		a.Gauge, a.Reading, a.Rate = g.Place, g.Value, g.Rate
	}
	return a
}

// nearLimit tells whether a gauge is so hot that less air was right.
func (s *situation) nearLimit() bool { return s.keeps().Hot(policy.CooledTo) }

// notCharred: the air is down before the wood is black: open it again.
func notCharred(s *situation) (Advice, bool) {
	loaded, ok := s.chars()
	if !ok || loaded < 3*time.Minute || s.breath >= charAir || !s.known || s.nearLimit() {
		return Advice{}, false
	}
	if s.now.Black > notBlack || s.now.Alight.Middle > mostlyAlight || s.now.Wood.Middle < policy.SomeWood {
		return Advice{}, false
	}
	if to := min(s.charsAt(), s.most); to > s.opening {
		a := Advice{Since: loaded, Sets: s.airTo(to), Again: 5 * time.Minute}
		if s.now.Flames >= policy.Dark { // what has lost its flames wants all that it can have
			a.Sets = s.bestAir(s.opening+0.02, to, to)
		}
		return a, true
	}
	return Advice{}, false
}

// charsAt is the opening to char with: the plan's, else all of it.
func (s *situation) charsAt() float64 {
	if s.plan != nil {
		if o, ok := openingAfter(s.plan.Steps[:s.progress.Done], s.air.Key); ok && o >= charAir {
			return o
		}
	}
	return 1
}

// inSteps: turned down all at once, and it is likely to smoulder: half for some minutes.
func inSteps(s *situation) (Advice, bool) {
	if !s.isMoved || s.before < fromOpen || s.breath > straightTo || s.moved > policy.ShownFor || s.nearLimit() || !s.known {
		return Advice{}, false
	}
	if loaded, ok := s.loaded(); !ok || loaded > 2*policy.CharsUntil || s.ahead.Risks.Smoulder < smokesAhead || s.now.Wood.Middle < policy.SomeWood {
		return Advice{}, false
	}
	return Advice{Since: s.moved, Sets: s.airTo(halfway), Again: 6 * time.Minute}, true
}

// smoulders: gas leaves unburnt: more air, until there are flames.
func smoulders(s *situation) (Advice, bool) {
	loaded, ok := s.loaded()
	if a, found := danger(burn.SmokeInCold)(s); found {
		return a, true
	}
	if !ok || loaded < policy.CatchesIn || s.breath > 0.95 && !s.greySmoke() || s.heard > unheardFor {
		return Advice{}, false
	}
	justMoved, asFarAsGood := s.isMoved && s.moved < 2*policy.ShownAfter, s.opening >= s.most-0.02
	if !s.known || s.now.Smoulder < smouldersAt || s.now.Wood.Middle < policy.SomeWood || s.clearCap() || justMoved || asFarAsGood {
		return Advice{}, false
	}
	if s.hotAgo >= 0 { // no further than it bears
		return Advice{Sets: s.bestAir(s.opening+0.02, s.most, min(s.most, policy.BackBy*s.opening))}, true
	}
	return Advice{Sets: s.allOpen()}, s.now.Flames < policy.Bright || s.ahead.Risks.Smoulder > smouldersAt
}

// blackensFor is how long it holds that the glass was seen to blacken.
const blackensFor = 15 * time.Minute

// glassBlackens: it does from its edge, with wood that could burn brighter: a step up.
func glassBlackens(s *situation) (Advice, bool) {
	_, ago, ok := s.last(ofKind(burn.GlassEdge))
	if !ok || ago > blackensFor || s.isMoved && s.moved < ago || s.opening >= s.most-0.02 || s.nearLimit() {
		return Advice{}, false
	}
	if s.known && (s.now.Wood.Middle < policy.SomeWood || s.now.Phase == fire.Coaling) {
		return Advice{}, false // coals do not blacken it
	}
	return Advice{Since: ago, Sets: s.bestAir(s.opening+0.02, s.most, min(s.most, policy.BackBy*s.opening)), Again: 10 * time.Minute}, true
}

// cap is the newest look at it that still holds.
func (s *situation) cap() (seen string, ago time.Duration) {
	e, ago, ok := s.last(ofKind(burn.Smoke))
	if !ok || ago > lookedAt || e.Smoke == burn.SmokeRoom || e.Smoke == burn.SmokeGone {
		return "", 0
	}
	return e.Smoke, ago
}

func (s *situation) greySmoke() bool { c, _ := s.cap(); return c == burn.SmokeGrey }
func (s *situation) clearCap() bool  { c, _ := s.cap(); return c == burn.SmokeClear }

const (
	gateShut0 = 0.1              // opening, under which what must be open counts as shut
	grateFor  = 15 * time.Minute // that air from below may help wood to catch
)

// gateShut: what a fire needs open stands shut: its fresh air from outside, the damper
// while it is lit, the second air while there are flames.
func gateShut(s *situation) (Advice, bool) {
	if !s.isLit() {
		return Advice{}, false
	}
	loaded, is := s.loaded()
	for _, c := range s.Burn.Stove.Controls {
		if s.stands(c) > gateShut0 {
			continue
		}
		_, ago, said := s.last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == c.Key })
		burns := s.known && s.now.Wood.Middle > policy.SomeWood && s.now.Flames > policy.Dark
		switch {
		case !said || ago < policy.ShownAfter:
		case c.Role == stove.OutsideAir,
			c.Role == stove.Damper && c.Key != s.air.Key && is && loaded < policy.CharsUntil && s.known && s.now.Black < notBlack,
			c.Role == stove.SecondAir && burns && !s.nearLimit():
			return Advice{Since: ago, Sets: set(c, 1), Again: 5 * time.Minute}, true
		}
	}
	return Advice{}, false
}

// grateOpen: air from below on wood that has caught: the bed burns away under it, and it
// blows hot.
func grateOpen(s *situation) (Advice, bool) {
	if !s.isLit() || !s.Burn.Stove.FromAbove() || !s.Burn.Simulated() {
		return Advice{}, false
	}
	loaded, ok := s.loaded()
	g, read := s.guiding()
	if !ok || loaded < grateFor && !(read && g.Value >= g.Band.Low) || read && g.Value < units.Celsius(handFrom)*g.Band.Low {
		return Advice{}, false
	}
	for _, c := range s.Burn.Stove.Controls {
		_, ago, said := s.last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == c.Key })
		if c.Role != stove.UnderGrate || c.Key == s.air.Key || s.stands(c) <= gateShut0 || !said {
			continue
		}
		a := Advice{Since: ago, Again: 5 * time.Minute}
		if s.opening < charAir && s.known && s.now.Black < notBlack { // the fire must get its air from somewhere
			a.Sets = s.airTo(1)
		}
		a.Sets = append(a.Sets, set(c, 0)...)
		return a, true
	}
	return Advice{}, false
}

// smokeLong: smoke at the cap for longer than a load takes to catch.
func smokeLong(s *situation) (Advice, bool) {
	loaded, ok := s.loaded()
	seen, ago := s.cap()
	if !ok || !(seen == burn.SmokeGrey && loaded-ago > smokesFor || seen == burn.SmokeWhite && loaded-ago > vapourFor) {
		return Advice{}, false
	}
	a := Advice{Since: loaded - ago}
	if s.opening < 0.95 && !s.nearLimit() {
		a.Sets = s.stepBack().Sets
	}
	return a, true
}

// starved: coals glow and get no air: they make carbon monoxide for hours.
func starved(s *situation) (Advice, bool) {
	if !s.isMoved || s.anyAir() > starvesAt || s.nearLimit() || !s.isLit() {
		return Advice{}, false
	}
	if s.known && (s.now.Coals.Middle < starvesFrom && s.now.Wood.Middle < policy.SomeWood || s.now.Phase == fire.Out) {
		return Advice{}, false
	}
	return Advice{Since: s.moved, Sets: s.airTo(plan.Floor)}, true
}
