// Package trouble is why a stove does not do what it should: causes as changes of the fire that is
// computed, with their odds by what happens and by what was logged of an evening, and the cheap
// test that would tell them apart best.
//
// Each cause is something that may be wrong beside what an owner has said: with the wood, the
// chimney, the house, the stove, or a thermometer ([belief.Wrong]). How likely a complaint is with
// it is counted on burns of this very stove ([Complaints]); how likely a record is with it is
// compared with the same belief that everything else goes by ([belief.Compare]). Nothing wrong is
// one of the causes: it may stay the likeliest.
package trouble

import (
	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A Cause is one thing that may be wrong.
type Cause string

// The causes; Sound is that nothing is.
const (
	Sound      Cause = "sound"
	Wet        Cause = "wet"         // the wood, more than was said
	WeakDraft  Cause = "weak-draft"  // a cold, short or leaking chimney
	Strong     Cause = "strong"      // more draft than the stove is made for
	HousePulls Cause = "house-pulls" // a fan, or a tight house
	Blocked    Cause = "blocked"     // cap, screen or flue
	Gasket     Cause = "gasket"      // of door or glass
	Starved    Cause = "starved"     // the inlet is covered, or its duct
	Damped     Cause = "damped"      // a flue damper forgotten
	Bypassing  Cause = "bypassing"   // the bypass does not close
	ReadsLow   Cause = "reads-low"   // the gauge that guides
	ReadsHigh  Cause = "reads-high"
	ReadsLate  Cause = "reads-late"
	FewCoals   Cause = "few-coals" // to begin on
	HalfWet    Cause = "half-wet"  // a part of the wood: what was put on later
	Ashes      Cause = "ashes"     // too much of them: on the coals, and before the inlet
	DeadComb   Cause = "dead-comb" // the catalyst, worn or clogged
)

// A row is what a cause is: how often it is met beside nothing wrong, whether it endangers, where
// it can be, and what it changes, in one or more sizes that share its odds.
//
//	what         unit  usual range  source
//	wet          kg/kg 0.05–0.20    wood that is called dry and is not
//	weak draft   -     0.4–0.7      of the height that draws: cold, leaking or short
//	strong       -     1.5–2.5      a tall flue, a gale
//	fan          m³/h  200–600      hood, dryer, bathroom
//	blocked      -     0.5–0.8      of the diameter, by soot or a clogged screen
//	gasket       -     2.5–6        of the area of leaks
//	starved      -     0.25–0.6     of the area of inlets
//	gauge        -     0.75, 1.3    of the reading; three times as late
//	half wet     kg/kg 0.05–0.20    of what is put on the coals, over what was said
//	ashes        -     0.5–0.8      of the pace of coals, and of the inlets
//	dead comb    -     0.6–1        of the coating: some thousand hours, paper, treated wood
type row struct {
	Cause  Cause
	Odds   float64 // against nothing wrong at all, in a stove of which somebody complains
	Danger bool
	Has    func(stove.Stove) bool // nil: every stove
	Wrongs func(stove.Stove) []belief.Wrong
}

// rows are the causes, the dangerous first.
var rows = []row{
	{Blocked, 0.12, true, nil, sizes(func(share float64) belief.Wrong {
		return belief.Wrong{Setup: func(s *fire.Setup) { s.Stove.Chimney.Diameter *= units.Metre(share) }}
	}, 0.75, 0.6)},
	{HousePulls, 0.15, true, nil, sizes(func(flow float64) belief.Wrong {
		return belief.Wrong{Setup: func(s *fire.Setup) {
			s.House.Fan += units.Flow(flow)
			if s.House.N50 <= 0 || s.House.N50 > tight {
				s.House.N50 = tight
			}
		}}
	}, 150, 400)},
	{WeakDraft, 0.25, true, nil, sizes(func(share float64) belief.Wrong {
		return belief.Wrong{Setup: func(s *fire.Setup) { s.Stove.Chimney.Height *= units.Metre(share) }}
	}, 0.65, 0.45)},
	{Strong, 0.12, true, nil, sizes(func(share float64) belief.Wrong {
		return belief.Wrong{Setup: func(s *fire.Setup) { s.Stove.Chimney.Height *= units.Metre(share) }}
	}, 1.6, 2.3)},
	{Gasket, 0.25, true, nil, sizes(func(times float64) belief.Wrong {
		return belief.Wrong{Shift: map[string]float64{"leak": times}}
	}, 3, 6)},
	{Wet, 0.6, false, nil, sizes(func(more float64) belief.Wrong {
		return belief.Wrong{Act: func(a *fire.Act) {
			if a.Load != nil && !a.Load.Kindling {
				a.Load.Moisture += units.Fraction(more)
			}
		}}
	}, 0.08, 0.16)},
	{HalfWet, 0.2, false, nil, sizes(func(more float64) belief.Wrong {
		return belief.Wrong{Act: func(a *fire.Act) {
			if a.Load != nil && !a.Load.Kindling && a.Load.Lay == fire.OnCoals {
				a.Load.Moisture += units.Fraction(more)
			}
		}}
	}, 0.16)},
	{Ashes, 0.1, false, nil, sizes(func(share float64) belief.Wrong {
		return belief.Wrong{Shift: map[string]float64{"inlets": share, "char rate": share}}
	}, 0.65)},
	{DeadComb, 0.15, false, func(st stove.Stove) bool { return st.Family == stove.Catalytic }, sizes(func(dead float64) belief.Wrong {
		return belief.Wrong{Setup: func(s *fire.Setup) { s.Dead = dead }}
	}, 0.9)},
	{Starved, 0.12, false, nil, sizes(func(share float64) belief.Wrong {
		return belief.Wrong{Shift: map[string]float64{"inlets": share}}
	}, 0.5, 0.3)},
	{Damped, 0.2, false, func(st stove.Stove) bool { return has(st, stove.Damper) }, sizes(func(open float64) belief.Wrong {
		return belief.Wrong{Setup: func(s *fire.Setup) { s.Stove.Chimney.Diameter *= units.Metre(open) }}
	}, 0.7)},
	{Bypassing, 0.15, false, func(st stove.Stove) bool { return has(st, stove.BypassRole) }, func(st stove.Stove) []belief.Wrong {
		c, _ := st.Bypass()
		return []belief.Wrong{{Act: func(a *fire.Act) {
			if a.Kind == fire.ActControl && a.Control == c.Key {
				a.Opening = max(a.Opening, 0.4)
			}
		}}}
	}},
	{ReadsLow, 0.15, false, guided, ofGauge(0.75)},
	{ReadsHigh, 0.1, false, guided, ofGauge(1.3)},
	{ReadsLate, 0.1, false, guided, sizes(func(times float64) belief.Wrong { return belief.Wrong{Shift: map[string]float64{"lag": times}} }, 3)},
	{FewCoals, 0.15, false, nil, sizes(func(share float64) belief.Wrong {
		return belief.Wrong{Setup: func(s *fire.Setup) { s.Coals *= units.Kilogram(share) }}
	}, 0.3)},
}

// tight is a house that lets little in, air changes an hour at 50 Pa; 1 to 3.
const tight = 2.0

// sizes are some sizes of the same.
func sizes(of func(size float64) belief.Wrong, sizes ...float64) func(stove.Stove) []belief.Wrong {
	return func(stove.Stove) []belief.Wrong {
		out := make([]belief.Wrong, len(sizes))
		for i, size := range sizes {
			out[i] = of(size)
		}
		return out
	}
}

// ofGauge is the guiding gauge reading a share of what it should.
func ofGauge(share float64) func(stove.Stove) []belief.Wrong {
	return func(st stove.Stove) []belief.Wrong {
		g, _ := st.Guide()
		return []belief.Wrong{{Shift: map[string]float64{belief.ErrorOf(g.Place): share}}}
	}
}

func guided(st stove.Stove) bool {
	_, ok := st.Guide()
	return ok
}

func has(st stove.Stove, role stove.Role) bool {
	for _, c := range st.Controls {
		if c.Role == role {
			return true
		}
	}
	return false
}

// of are the causes that a stove can have.
func of(st stove.Stove) []row {
	var out []row
	for _, r := range rows {
		if r.Has == nil || r.Has(st) {
			out = append(out, r)
		}
	}
	return out
}

// Dangerous tells whether a cause endangers: it is named first, and sends to a sweep, whatever its
// odds.
func (c Cause) Dangerous() bool {
	for _, r := range rows {
		if r.Cause == c {
			return r.Danger
		}
	}
	return false
}

// Causes are all of them but that nothing is wrong.
func Causes() []Cause {
	out := make([]Cause, len(rows))
	for i, r := range rows {
		out[i] = r.Cause
	}
	return out
}
