package burn

import (
	"slices"

	"smolder/internal/core/reason"
)

// An Eye is what the owner saw at the end of a burn, which no gauge tells, as quick marks.
// What is empty was not looked at.
type Eye struct {
	Glass   string
	Coals   string
	Smoke   string // at the cap, over the burn
	Smell   string // in the room
	Comfort string
	Meant   string // what was meant by it, in the owner's words
}

// EyeMarks lists what each may be, from the best on.
var EyeMarks = []struct {
	Key, Asks string
	May       []string
	Of        func(*Eye) *string
}{
	{"glass", "the glass", []string{"clear", "hazed", "black"}, func(e *Eye) *string { return &e.Glass }},
	{"coals", "coals left", []string{"a good bed", "a layer", "a handful", "none"}, func(e *Eye) *string { return &e.Coals }},
	{"smoke", "smoke at the cap", []string{"none seen", "for a while", "for long"}, func(e *Eye) *string { return &e.Smoke }},
	{"smell", "smell in the room", []string{"none", "a little", "of smoke"}, func(e *Eye) *string { return &e.Smell }},
	{"comfort", "the room was", []string{"right", "too warm", "too cold"}, func(e *Eye) *string { return &e.Comfort }},
}

// Why an eye cannot be kept.
const (
	EyeUnknown reason.Code = "burn/eye"       // what was given
	EyeLong    reason.Code = "burn/eye-meant" // most letters
)

// mostMeant is how long what was meant may be.
const mostMeant = 300

// Check returns what is wrong with the marks, or nil.
func (e Eye) Check() error {
	for _, m := range EyeMarks {
		if v := *m.Of(&e); v != "" && !slices.Contains(m.May, v) {
			return reason.Of(m.Key, EyeUnknown, reason.Text(v))
		}
	}
	if len([]rune(e.Meant)) > mostMeant {
		return reason.Of("meant", EyeLong, reason.Number(mostMeant, 0))
	}
	return nil
}
