package form

import "smolder/internal/core/reason"

// Quantity is the written form of a [reason.Quantity].
type Quantity struct {
	Kind   string  `json:"kind"`
	Value  float64 `json:"value,omitempty"`
	Places int     `json:"places,omitempty"`
	Text   string  `json:"text,omitempty"`
}

// QuantityOf writes one.
func QuantityOf(v reason.Quantity) Quantity {
	return Quantity{
		Kind:   string(v.Kind),
		Value:  v.Value,
		Places: v.Places,
		Text:   v.Text,
	}
}

// Core is what it was written from.
func (f Quantity) Core() reason.Quantity {
	return reason.Quantity{
		Kind:   reason.Kind(f.Kind),
		Value:  f.Value,
		Places: f.Places,
		Text:   f.Text,
	}
}

// Reason is the written form of a [reason.Reason].
type Reason struct {
	Field  string     `json:"field,omitempty"`
	Code   string     `json:"code"`
	Values []Quantity `json:"values,omitempty"`
}

// ReasonOf writes one.
func ReasonOf(v reason.Reason) Reason {
	return Reason{
		Field:  v.Field,
		Code:   string(v.Code),
		Values: all(v.Values, QuantityOf),
	}
}

// Core is what it was written from.
func (f Reason) Core() reason.Reason {
	return reason.Reason{
		Field:  f.Field,
		Code:   reason.Code(f.Code),
		Values: all(f.Values, Quantity.Core),
	}
}
