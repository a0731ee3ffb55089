package form

import "smolder/internal/core/burn"

// Eye is the written form of a [burn.Eye].
type Eye struct {
	Glass   string `json:"glass,omitempty"`
	Coals   string `json:"coals,omitempty"`
	Smoke   string `json:"smoke,omitempty"`
	Smell   string `json:"smell,omitempty"`
	Comfort string `json:"comfort,omitempty"`
	Meant   string `json:"meant,omitempty"`
}

// EyeOf writes one.
func EyeOf(v burn.Eye) Eye { return Eye(v) }

// Core is what it was written from.
func (f Eye) Core() burn.Eye { return burn.Eye(f) }
