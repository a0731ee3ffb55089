package plan

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
)

// A StepKind is what a step is about.
type StepKind string

// The kinds of step.
const (
	LightIt    StepKind = "light"
	GrowIt     StepKind = "grow" // the next size on a young fire
	ShutDoor   StepKind = "shut-door"
	LoadIt     StepKind = "load"
	CloseIt    StepKind = "close-bypass"
	TurnDown   StepKind = "turn-down"
	KeepIt     StepKind = "keep-coals" // flames gone: less air, so that the coals last
	ReloadTime StepKind = "reload"
	FeedIt     StepKind = "feed" // a later load of a long wish

	// Extras the fire: who does not do them loses what they bring, and no more.
	ShutWindow StepKind = "shut-window" // that was opened for the draft
	DampFlue   StepKind = "damp-flue"   // with the last turn-down; never a step of its own
	BlowIt     StepKind = "blower"      // the room blower on
	BedTime    StepKind = "bedtime"     // gate and damper, before everybody sleeps or goes
)

// Extra tells whether the step is one besides the fire: it is passed over where nobody does
// it, and the steps of the fire do not wait for it.
func (k StepKind) Extra() bool { return k == ShutWindow || k == BlowIt || k == BedTime }

// A Step is one thing to do, the simulator's step for it, and when it is
// likely, since the start.
type Step struct {
	Kind     StepKind
	Fire     fire.Move
	Control  string // key
	Opening  float64
	Last     bool // the last turn-down
	Earliest time.Duration
	Expected time.Duration
	Latest   time.Duration
	Share    float64 // of the stoves like this one in which its sign comes by itself; 0: not known
}

// A Setting is how a step leaves one control.
type Setting struct {
	Control stove.Control
	Opening float64
}

// Settings are the controls that a step sets, in the stove's order.
func (s Step) Settings(st stove.Stove) []Setting {
	var out []Setting
	for _, c := range st.Controls {
		for _, a := range s.Fire.Do {
			if a.Kind == fire.ActControl && a.Control == c.Key {
				out = append(out, Setting{c, a.Opening})
			}
		}
	}
	return out
}
