package stove

import (
	"errors"
	"time"

	"smolder/internal/core/reason"
	"smolder/internal/core/units"
)

// A Manual is what this stove's manual says where the usual rule says otherwise, or
// nothing: it goes before the rule, in the plan and at the stove. What is empty is as usual.
type Manual struct {
	Door    Lit           // how the door stands while the fire is lit
	DoorFor time.Duration // for how long at most; 0: not said
	Flap    FlapRule      // whether the ash flap may be used on wood
	FlapFor time.Duration // for how long at most; 0: not said
	Engage  units.Celsius // of the catalyst's gauge, from where its bypass is shut; 0: not said
}

// A Lit is how a door stands while a fire is lit.
type Lit string

// The ways to light by the door.
const (
	DoorAjar  Lit = "ajar"
	DoorLatch Lit = "latched" // on the latch, a finger's width
	DoorShut  Lit = "shut"
)

// Lits lists them.
var Lits = []Lit{DoorAjar, DoorLatch, DoorShut}

// A FlapRule is what the manual says of the ash flap on wood.
type FlapRule string

// The rules.
const (
	FlapNever FlapRule = "never"
	FlapLight FlapRule = "light" // to light, and shut again
)

// FlapRules lists them.
var FlapRules = []FlapRule{FlapNever, FlapLight}

// A ToLight is how a control stands while the fire is lit.
type ToLight string

// The ways.
const (
	OpenUntilLit   ToLight = "until-lit"   // open, and shut when the fire burns by itself
	OpenUntilBlack ToLight = "until-black" // open, and shut at the first turn-down
	StaysShut      ToLight = "shut"
)

// ToLights lists them.
var ToLights = []ToLight{OpenUntilLit, OpenUntilBlack, StaysShut}

const (
	longestRule                    = 30 * time.Minute
	coolestEngaged, hottestEngaged = units.Celsius(150), units.Celsius(500)
)

// CheckManual returns what is wrong with the manual's rules, joined, or nil. Each is a
// [reason.Reason] with the field it is about.
func (s Stove) CheckManual() error { return errors.Join(s.checkManual()...) }

func (s Stove) checkManual() (wrong []error) {
	m := s.Manual
	known := func(field, key string, ok bool) {
		if key != "" && !ok {
			wrong = append(wrong, reason.Of(field, UnknownRule, reason.Text(key)))
		}
	}
	known("door-rule", string(m.Door), m.Door == DoorAjar || m.Door == DoorLatch || m.Door == DoorShut)
	known("flap-rule", string(m.Flap), m.Flap == FlapNever || m.Flap == FlapLight)
	for _, c := range s.Controls {
		known("controls", string(c.ToLight), c.ToLight == OpenUntilLit || c.ToLight == OpenUntilBlack || c.ToLight == StaysShut)
	}
	for _, of := range []struct {
		field string
		span  time.Duration
	}{{"door-for", m.DoorFor}, {"flap-for", m.FlapFor}} {
		if of.span < 0 || of.span > longestRule || of.span > 0 && of.span < time.Minute {
			wrong = append(wrong, reason.Of(of.field, RuleRange, reason.Duration(of.span), reason.Duration(time.Minute), reason.Duration(longestRule)))
		}
	}
	if m.Engage != 0 && !(m.Engage >= coolestEngaged && m.Engage <= hottestEngaged) {
		wrong = append(wrong, reason.Of("engage", EngageRange, reason.Temperature(m.Engage), reason.Temperature(coolestEngaged), reason.Temperature(hottestEngaged)))
	}
	return wrong
}

// Ajar tells whether the door may stand ajar at all.
func (s Stove) Ajar() bool { return s.Manual.Door != DoorShut }
