package coach

import (
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
)

// What the log says that must be answered before anything else ([burn.Burn.Dangers]) is
// answered from the log alone, so that it never waits for a belief.

// dangerSays is the rule that answers a danger.
var dangerSays = map[burn.FirstKind]RuleID{
	burn.CarbonMonoxide: Monoxide, burn.InTheChimney: ChimneyFire, burn.OverLimit: OverLimit, burn.Spillage: Spillage, burn.SomeMonoxide: SomeMonoxide,
	burn.FlapForgotten: FlapOpen, burn.Overload: Overloaded, burn.MineralOnWood: TwoFuels, burn.DoorForgotten: DoorAjar, burn.GlazeSeen: Glazed,
	burn.SmokeInCold: Smoulders,
}

// danger is the rule of one kind of danger.
func danger(kind burn.FirstKind) func(*situation) (Advice, bool) {
	return func(s *situation) (Advice, bool) {
		for _, f := range s.dangers {
			if f.Kind == kind {
				return s.answerTo(f), true
			}
		}
		return Advice{}, false
	}
}

// answerTo is what to do about a danger.
func (s *situation) answerTo(f burn.First) Advice {
	a := Advice{First: &f, Since: f.For, Again: 2 * time.Minute}
	switch f.Kind {
	case burn.OverLimit:
		a.Gauge, a.Reading, a.Limit, a.Sets = f.Gauge.Place, f.Reading, f.Gauge.Band.TooHot, s.allShut()
		if to := s.keeps().TakenTo(); to > 0 && !s.flapOpen() {
			a.Sets = s.airTo(to)
		}
		if door, _ := s.doorStands(); door != fire.Shut {
			a.Acts = doorTo(fire.Shut)
		}
	case burn.Spillage:
		a.Draft = f.Draft
		if f.Seen { // the flame needs air, or it smokes more; but no more than it bears
			a.Sets = s.allOpen()
		}
	case burn.FlapForgotten:
		a.Sets = []plan.Setting{{Control: f.Control}}
		if f.Known {
			a.Gauge, a.Reading = f.Gauge.Place, f.Reading
		}
	case burn.Overload:
		a.Mass, a.Again = f.Mass, 5*time.Minute
	case burn.DoorForgotten:
		a.Acts, a.Again = doorTo(fire.Shut), 3*time.Minute
	case burn.SmokeInCold:
		a.Sets, a.Again = s.allOpen(), 5*time.Minute
	}
	return a
}

// Danger is the most urgent danger of a burn by its log alone, as an advice; false where
// there is none. It costs no belief, so that whoever shows an answer of a moment ago can
// set it right.
func Danger(b burn.Burn, now time.Time) (Advice, bool) {
	s := situate(Asked{Burn: b, Now: now})
	if len(s.dangers) == 0 {
		return Advice{}, false
	}
	f := s.dangers[0]
	return s.said(rule{code: dangerSays[f.Kind], urgent: true}, s.answerTo(f)), true
}

// WithDangers is an answer of a moment ago with what the log says now that must be answered
// first. Where it was about a danger that is over, it has no advice but to look again.
func (a Answer) WithDangers(b burn.Burn, now time.Time) Answer {
	if found, ok := Danger(b, now); ok {
		if !a.Advice.Urgent || a.Advice.First == nil || a.Advice.First.Kind.Rank() >= found.First.Kind.Rank() {
			a.Advice = found
		}
		return a
	}
	if f := a.Advice.First; f != nil && !(f.Kind == burn.Overload && f.Seen) { // which the log alone cannot tell
		a.Advice = Advice{Code: Fine, Earliest: -1, Expected: -1, Latest: -1, Again: soonest}
		a.Stale = true
	}
	return a
}
