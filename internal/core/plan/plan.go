// Package plan turns a wish ("warm till six") into one burn: which pieces,
// which way round, when to shut the door, when to turn down and how far.
//
// It is a search, not a table: every candidate is burnt in the fire simulator
// in this stove, on this chimney, in this room, with pieces that this stack
// really has, and judged by what happens. The order of merit is: nothing
// unsafe, then clean, then comfort by the hour, then wood. A plan that would
// overfire, spill or smoulder is never offered; when none is left, the answer
// says what would help.
//
// Steps wait for signs (a gauge, black wood, coals) and only then for the
// clock; the times shown are ranges, made by burning the plan again with
// wetter and drier wood, milder and colder weather and a hand that is a little
// off.
package plan

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A Plan is one burn worked out.
type Plan struct {
	Wish      Wish            `json:"wish"`
	Direction stove.Direction `json:"direction"`
	Lay       fire.Lay        `json:"lay"`          // of the first fire
	FirstOf   Pick            `json:"first_from"`   // the stack of the first fire
	MainOf    Pick            `json:"main_from"`    // and of the load on coals
	First     int             `json:"first_pieces"` // splits of the first fire; 0 on coals
	Main      int             `json:"main_pieces"`  // pieces of the load on coals; 0: none
	Kindling  fire.Load       `json:"kindling,omitzero"`
	Feeds     []Feed          `json:"feeds,omitempty"` // later loads, where the wish is longer than one
	Final     float64         `json:"final_opening"`
	Capped    bool            `json:"capped,omitempty"` // fully open it would run too hot
	Steps     []Step          `json:"steps"`
	Predicted Curve           `json:"predicted"`
	Low       []float64       `json:"guide_low"`  // of the guiding gauge, for the range
	High      []float64       `json:"guide_high"` //
	Summary   fire.Summary    `json:"summary"`
	Output    Output          `json:"output"` // what the stove can give with this wood, clean and safe
	Air       float64         `json:"air_m3"` // that the fire takes until the wish is over
	Before    Before          `json:"before"`
	NearHot   bool            `json:"near_hot,omitempty"` // in one of the variations it would be too hot
	IfDry     *fire.Summary   `json:"if_dry,omitempty"`   // of the same pieces, dried; where some are too wet
	Tried     int             `json:"tried"`
	Cold      float64         `json:"cold_kelvin_hours"` // under the wanted band, as the search weighed it

	body []units.Celsius // of the stove, as long as the curve
}

// Mass returns the wood of the whole plan, kindling included.
func (p Plan) Mass() units.Kilogram {
	sum := p.Kindling.Mass() + p.FirstOf.Stack.PieceMass*units.Kilogram(p.First) + p.MainOf.Stack.PieceMass*units.Kilogram(p.Main)
	for _, f := range p.Feeds {
		sum += f.Mass()
	}
	return sum
}

// Pieces returns the pieces of the stack that the plan uses.
func (p Plan) Pieces() int {
	n := p.First + p.Main
	for _, f := range p.Feeds {
		n += f.Pieces
	}
	return n
}

// Loads returns the splits of the first fire and the load on coals; one that is
// not planned has no pieces.
func (p Plan) Loads() (first, main fire.Load) {
	for _, s := range p.Steps {
		for _, a := range s.Fire.Do {
			switch {
			case a.Load == nil || a.Load.Kindling:
			case s.Kind == LightIt:
				first = *a.Load
			case s.Kind == LoadIt:
				main = *a.Load
			}
		}
	}
	return first, main
}

// A StepKind is what a step is about.
type StepKind string

// The kinds of step.
const (
	LightIt    StepKind = "light"
	ShutDoor   StepKind = "shut-door"
	LoadIt     StepKind = "load"
	CloseIt    StepKind = "close-bypass"
	TurnDown   StepKind = "turn-down"
	ReloadTime StepKind = "reload"
	FeedIt     StepKind = "feed" // a later load of a long wish
)

// A Step is one thing to do, the simulator's step for it, and when it is
// likely, since the start.
type Step struct {
	Kind     StepKind      `json:"kind"`
	Fire     fire.Step     `json:"fire"`
	Control  string        `json:"control,omitempty"` // key
	Opening  float64       `json:"opening"`
	Last     bool          `json:"last,omitempty"` // the last turn-down
	Earliest time.Duration `json:"earliest"`
	Expected time.Duration `json:"expected"`
	Latest   time.Duration `json:"latest"`
}

// A Setting is how a step leaves one control, in the owner's own marks.
type Setting struct {
	Control stove.Control
	Opening float64
	Says    string // "a quarter", "shut"
}

// Settings are the controls that a step sets, in the stove's order.
func (s Step) Settings(st stove.Stove) []Setting {
	var out []Setting
	for _, c := range st.Controls {
		for _, a := range s.Fire.Do {
			if a.Kind == fire.ActControl && a.Control == c.Key {
				out = append(out, Setting{c, a.Opening, c.Scale.Say(a.Opening)})
			}
		}
	}
	return out
}

// A Curve is a predicted burn at even steps of time.
type Curve struct {
	Every  time.Duration             `json:"every"`
	Gauges map[stove.Place][]float64 `json:"gauges_c"`
	Room   []float64                 `json:"room_c"`
	Draft  []float64                 `json:"draft_pa"`
	Smoke  []float64                 `json:"smoke_mg_s"`
	Coals  []float64                 `json:"coals_kg"`
	Heat   []float64                 `json:"heat_to_room_w"`
	Phases []fire.Phase              `json:"phases"`
}
