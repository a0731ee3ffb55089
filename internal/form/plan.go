package form

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Feed is the written form of a [plan.Feed].
type Feed struct {
	Of     Pick    `json:"from"`
	Pieces int     `json:"pieces"`
	Final  float64 `json:"final_opening"`
}

// FeedOf writes one.
func FeedOf(v plan.Feed) Feed {
	return Feed{
		Of:     PickOf(v.Of),
		Pieces: v.Pieces,
		Final:  v.Final,
	}
}

// Core is what it was written from.
func (f Feed) Core() plan.Feed {
	return plan.Feed{
		Of:     f.Of.Core(),
		Pieces: f.Pieces,
		Final:  f.Final,
	}
}

// Step is the written form of a [plan.Step].
type Step struct {
	Kind     string  `json:"kind"`
	Fire     Move    `json:"fire"`
	Control  string  `json:"control,omitempty"`
	Opening  float64 `json:"opening"`
	Last     bool    `json:"last,omitempty"`
	Earliest int64   `json:"earliest"`
	Expected int64   `json:"expected"`
	Latest   int64   `json:"latest"`
	Share    float64 `json:"share,omitempty"`
}

// StepOf writes one.
func StepOf(v plan.Step) Step {
	return Step{
		Kind:     string(v.Kind),
		Fire:     MoveOf(v.Fire),
		Control:  v.Control,
		Opening:  v.Opening,
		Last:     v.Last,
		Earliest: int64(v.Earliest),
		Expected: int64(v.Expected),
		Latest:   int64(v.Latest),
		Share:    v.Share,
	}
}

// Core is what it was written from.
func (f Step) Core() plan.Step {
	return plan.Step{
		Kind:     plan.StepKind(f.Kind),
		Fire:     f.Fire.Core(),
		Control:  f.Control,
		Opening:  f.Opening,
		Last:     f.Last,
		Earliest: time.Duration(f.Earliest),
		Expected: time.Duration(f.Expected),
		Latest:   time.Duration(f.Latest),
		Share:    f.Share,
	}
}

// Curve is the written form of a [plan.Curve].
type Curve struct {
	Every  int64                `json:"every"`
	Gauges map[string][]float64 `json:"gauges_c"`
	Room   []float64            `json:"room_c"`
	Draft  []float64            `json:"draft_pa"`
	Smoke  []float64            `json:"smoke_mg_s"`
	Coals  []float64            `json:"coals_kg"`
	Heat   []float64            `json:"heat_to_room_w"`
	Phases []string             `json:"phases"`
}

// CurveOf writes one.
func CurveOf(v plan.Curve) Curve {
	return Curve{
		Every:  int64(v.Every),
		Gauges: keys(v.Gauges, func(v stove.Place) string { return string(v) }),
		Room:   v.Room,
		Draft:  v.Draft,
		Smoke:  v.Smoke,
		Coals:  v.Coals,
		Heat:   v.Heat,
		Phases: all(v.Phases, func(v fire.Phase) string { return string(v) }),
	}
}

// Core is what it was written from.
func (f Curve) Core() plan.Curve {
	return plan.Curve{
		Every:  time.Duration(f.Every),
		Gauges: keys(f.Gauges, func(v string) stove.Place { return stove.Place(v) }),
		Room:   f.Room,
		Draft:  f.Draft,
		Smoke:  f.Smoke,
		Coals:  f.Coals,
		Heat:   f.Heat,
		Phases: all(f.Phases, func(v string) fire.Phase { return fire.Phase(v) }),
	}
}

// Output is the written form of a [plan.Output].
type Output struct {
	Low  float64 `json:"low_w"`
	High float64 `json:"high_w"`
}

// OutputOf writes one.
func OutputOf(v plan.Output) Output {
	return Output{
		Low:  float64(v.Low),
		High: float64(v.High),
	}
}

// Core is what it was written from.
func (f Output) Core() plan.Output {
	return plan.Output{
		Low:  units.Watt(f.Low),
		High: units.Watt(f.High),
	}
}

// Trust is the written form of a [plan.Trust].
type Trust struct {
	Of     int     `json:"of"`
	Safe   int     `json:"safe"`
	Kept   int     `json:"kept"`
	Cooled int     `json:"cooled,omitempty"`
	Raised int     `json:"raised,omitempty"`
	Ajar   int     `json:"ajar,omitempty"`
	Smoke  float64 `json:"smoke_g_kg"`
}

// TrustOf writes one.
func TrustOf(v plan.Trust) Trust {
	return Trust{
		Of:     v.Of,
		Safe:   v.Safe,
		Kept:   v.Kept,
		Cooled: v.Cooled,
		Raised: v.Raised,
		Ajar:   v.Ajar,
		Smoke:  v.Smoke,
	}
}

// Core is what it was written from.
func (f Trust) Core() plan.Trust {
	return plan.Trust{
		Of:     f.Of,
		Safe:   f.Safe,
		Kept:   f.Kept,
		Cooled: f.Cooled,
		Raised: f.Raised,
		Ajar:   f.Ajar,
		Smoke:  f.Smoke,
	}
}

// trust is that of the plan; one that was burnt in four variations says only that one
// of them was too hot.
func (f Plan) trust() plan.Trust {
	const variations = 4
	if f.NearHot && f.Trust.Of == 0 {
		return plan.Trust{Of: variations, Safe: variations - 1, Kept: variations - 1, Cooled: 1}
	}
	return f.Trust.Core()
}

// Extra is the written form of a [plan.Extra].
type Extra struct {
	Kind  string  `json:"kind"`
	Heat  float64 `json:"heat_j"`
	Room  float64 `json:"room_warmer_k"`
	Coals float64 `json:"coals_more_kg"`
	Smoke float64 `json:"smoke_more_g"`
	Burns bool    `json:"burns,omitempty"`
	Glows bool    `json:"glows,omitempty"`
}

// ExtraOf writes one.
func ExtraOf(v plan.Extra) Extra {
	return Extra{string(v.Kind), float64(v.Heat), v.Room, float64(v.Coals), v.Smoke, v.Burns, v.Glows}
}

// Core is what it was written from.
func (f Extra) Core() plan.Extra {
	return plan.Extra{Kind: plan.StepKind(f.Kind), Heat: units.Joule(f.Heat), Room: f.Room, Coals: units.Kilogram(f.Coals), Smoke: f.Smoke, Burns: f.Burns, Glows: f.Glows}
}

// Plan is the written form of a [plan.Plan].
type Plan struct {
	Wish      Wish      `json:"wish"`
	Direction string    `json:"direction"`
	Lay       string    `json:"lay"`
	FirstOf   Pick      `json:"first_from"`
	MainOf    Pick      `json:"main_from"`
	First     int       `json:"first_pieces"`
	Main      int       `json:"main_pieces"`
	Kindling  Load      `json:"kindling,omitzero"`
	Feeds     []Feed    `json:"feeds,omitempty"`
	Final     float64   `json:"final_opening"`
	Capped    bool      `json:"capped,omitempty"`
	Steps     []Step    `json:"steps"`
	Predicted Curve     `json:"predicted"`
	Low       []float64 `json:"guide_low"`
	High      []float64 `json:"guide_high"`
	Summary   Summary   `json:"summary"`
	Output    Output    `json:"output"`
	Air       float64   `json:"air_m3"`
	Before    Before    `json:"before"`
	Trust     Trust     `json:"trust,omitzero"`
	NearHot   bool      `json:"near_hot,omitempty"` // read only: of plans that were burnt in four variations
	Extras    []Extra   `json:"extras,omitempty"`
	IfDry     *Summary  `json:"if_dry,omitempty"`
	Tried     int       `json:"tried"`
	Cold      float64   `json:"cold_kelvin_hours"`
}

// PlanOf writes one.
func PlanOf(v plan.Plan) Plan {
	return Plan{
		Wish:      WishOf(v.Wish),
		Direction: string(v.Direction),
		Lay:       string(v.Lay),
		FirstOf:   PickOf(v.FirstOf),
		MainOf:    PickOf(v.MainOf),
		First:     v.First,
		Main:      v.Main,
		Kindling:  LoadOf(v.Kindling),
		Feeds:     all(v.Feeds, FeedOf),
		Final:     v.Final,
		Capped:    v.Capped,
		Steps:     all(v.Steps, StepOf),
		Predicted: CurveOf(v.Predicted),
		Low:       v.Low,
		High:      v.High,
		Summary:   SummaryOf(v.Summary),
		Output:    OutputOf(v.Output),
		Air:       v.Air,
		Before:    BeforeOf(v.Before),
		Trust:     TrustOf(v.Trust),
		Extras:    all(v.Extras, ExtraOf),
		IfDry:     pointer(v.IfDry, SummaryOf),
		Tried:     v.Tried,
		Cold:      v.Cold,
	}
}

// Core is what it was written from.
func (f Plan) Core() plan.Plan {
	return plan.Plan{
		Wish:      f.Wish.Core(),
		Direction: stove.Direction(f.Direction),
		Lay:       fire.Lay(f.Lay),
		FirstOf:   f.FirstOf.Core(),
		MainOf:    f.MainOf.Core(),
		First:     f.First,
		Main:      f.Main,
		Kindling:  f.Kindling.Core(),
		Feeds:     all(f.Feeds, Feed.Core),
		Final:     f.Final,
		Capped:    f.Capped,
		Steps:     all(f.Steps, Step.Core),
		Predicted: f.Predicted.Core(),
		Low:       f.Low,
		High:      f.High,
		Summary:   f.Summary.Core(),
		Output:    f.Output.Core(),
		Air:       f.Air,
		Before:    f.Before.Core(),
		Trust:     f.trust(),
		Extras:    all(f.Extras, Extra.Core),
		IfDry:     pointer(f.IfDry, Summary.Core),
		Tried:     f.Tried,
		Cold:      f.Cold,
	}
}
