package trouble

import (
	"cmp"
	"math"
	"slices"

	"smolder/internal/core/stove"
)

// A TestKind is a cheap test.
type TestKind string

// The tests.
const (
	SplitPiece  TestKind = "split"       // a piece split and read on its fresh face
	PaperStrip  TestKind = "paper"       // in the door's seam, all round
	MatchAtDoor TestKind = "match"       // a flame at the open door, fans on and off
	LookAtCap   TestKind = "cap"         // with binoculars
	DryLoad     TestKind = "dry-load"    // one load of wood that is known to be dry
	OtherGauge  TestKind = "other-gauge" // a second thermometer beside the first
	LookAtFlap  TestKind = "flap"        // the bypass, with a torch, shut
	LookAtInlet TestKind = "inlet"       // and its duct
	DamperOpen  TestKind = "damper"      // its handle
	ColdDay     TestKind = "cold-day"    // the same on a cold, still day
	AshOut      TestKind = "ash-out"     // the ash taken down to a finger, once
	CombLook    TestKind = "comb"        // the honeycomb, cold, against a light
)

// An Answer is what a test showed.
type Answer struct {
	Test TestKind
	Yes  bool
}

// A Test is one that could be done, and what it would tell.
type Test struct {
	Kind   TestKind
	Yes    float64 // how likely it shows what it looks for
	Tells  float64 // bits of doubt that it takes, as is to be expected
	Minute int     // it takes
}

// A testRow is what a test shows with each cause: how likely yes is with those that it looks for,
// and with any other.
type testRow struct {
	Kind   TestKind
	Minute int
	With   map[Cause]float64
	Else   float64
	Has    func(stove.Stove) bool // nil: every stove
}

var testRows = []testRow{
	{SplitPiece, 5, map[Cause]float64{Wet: 0.9, HalfWet: 0.55}, 0.07, nil},
	{PaperStrip, 3, map[Cause]float64{Gasket: 0.85}, 0.1, nil},
	{MatchAtDoor, 3, map[Cause]float64{HousePulls: 0.88, Blocked: 0.35, WeakDraft: 0.35}, 0.05, nil},
	{LookAtCap, 5, map[Cause]float64{Blocked: 0.75}, 0.06, nil},
	{DryLoad, 240, map[Cause]float64{Wet: 0.85, HalfWet: 0.8}, 0.15, nil},
	{OtherGauge, 30, map[Cause]float64{ReadsLow: 0.9, ReadsHigh: 0.9, ReadsLate: 0.7}, 0.08, guided},
	{LookAtFlap, 3, map[Cause]float64{Bypassing: 0.85}, 0.05, func(st stove.Stove) bool { return has(st, stove.BypassRole) }},
	{LookAtInlet, 3, map[Cause]float64{Starved: 0.9}, 0.04, nil},
	{DamperOpen, 1, map[Cause]float64{Damped: 0.95}, 0.03, func(st stove.Stove) bool { return has(st, stove.Damper) }},
	{ColdDay, 600, map[Cause]float64{WeakDraft: 0.8}, 0.2, nil},
	{AshOut, 20, map[Cause]float64{Ashes: 0.85}, 0.08, nil},
	{CombLook, 15, map[Cause]float64{DeadComb: 0.7}, 0.08, func(st stove.Stove) bool { return st.Family == stove.Catalytic }},
}

// yes is how likely a test shows what it looks for, with a cause.
func (t testRow) yes(c Cause) float64 {
	if p, looks := t.With[c]; looks {
		return p
	}
	return t.Else
}

// shows is how likely it is with all that is wrong.
func (t testRow) shows(o Odd) float64 {
	p := t.yes(o.Cause)
	if o.With != "" { // either shows it
		p = 1 - (1-p)*(1-t.yes(o.With))
	}
	return p
}

// answered is how likely the answers are with what is wrong, as a logarithm.
func answered(o Odd, answers []Answer) float64 {
	sum := 0.0
	for _, a := range answers {
		for _, t := range testRows {
			if t.Kind == a.Test {
				if p := t.shows(o); a.Yes {
					sum += math.Log(p)
				} else {
					sum += math.Log(1 - p)
				}
			}
		}
	}
	return sum
}

// least is how much a test must tell to be worth naming, bits.
const least = 0.02

// next are the tests that have not been done, by what they are expected to tell (Lindley 1956).
func next(st stove.Stove, odds []Odd, done []Answer) []Test {
	before := entropy(odds)
	var out []Test
	for _, t := range testRows {
		if t.Has != nil && !t.Has(st) || slices.ContainsFunc(done, func(a Answer) bool { return a.Test == t.Kind }) {
			continue
		}
		yes := 0.0
		for _, o := range odds {
			yes += o.Chance * t.shows(o)
		}
		after := yes*entropy(given(t, odds, true)) + (1-yes)*entropy(given(t, odds, false))
		if tells := before - after; tells >= least {
			out = append(out, Test{t.Kind, yes, tells, t.Minute})
		}
	}
	slices.SortStableFunc(out, func(a, b Test) int { return cmp.Compare(b.Tells, a.Tells) })
	return out
}

// given are the odds after an answer.
func given(t testRow, odds []Odd, yes bool) []Odd {
	out := slices.Clone(odds)
	for i := range out {
		p := t.shows(out[i])
		if !yes {
			p = 1 - p
		}
		out[i].Chance *= p
	}
	return even(out)
}

// TestKinds are all tests.
func TestKinds() []TestKind {
	out := make([]TestKind, len(testRows))
	for i, t := range testRows {
		out[i] = t.Kind
	}
	return out
}
