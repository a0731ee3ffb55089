package form

import (
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// Species is the written form of a [wood.Species].
type Species struct {
	Key     string  `json:"Key"`
	Name    string  `json:"Name"`
	Gravity float64 `json:"Gravity"`
	Gross   float64 `json:"Gross"`
	Mineral bool    `json:",omitempty"`
}

// SpeciesOf writes one.
func SpeciesOf(v wood.Species) Species {
	return Species{
		Key:     v.Key,
		Name:    v.Name,
		Gravity: v.Gravity,
		Gross:   v.Gross,
		Mineral: v.Mineral,
	}
}

// Core is what it was written from.
func (f Species) Core() wood.Species {
	return wood.Species{
		Key:     f.Key,
		Name:    f.Name,
		Gravity: f.Gravity,
		Gross:   f.Gross,
		Mineral: f.Mineral,
	}
}

// Stack is the written form of a [wood.Stack].
type Stack struct {
	Name        string   `json:"name"`
	Species     Species  `json:"species"`
	PieceMass   float64  `json:"piece_mass_kg"`
	PieceLength float64  `json:"piece_length_m"`
	Thin        float64  `json:"thin_piece_kg,omitempty"`
	Thick       float64  `json:"thick_piece_kg,omitempty"`
	Size        string   `json:"size,omitempty"`
	Reading     float64  `json:"meter_reading"`
	WoodTemp    float64  `json:"wood_temperature_c"`
	Mass        float64  `json:"mass_kg"`
	Kindling    bool     `json:"kindling,omitempty"`
	Spread      float64  `json:"moisture_spread,omitempty"`
	Colder      float64  `json:"colder_k,omitempty"`
	Assumed     []string `json:"assumed,omitempty"`
}

// StackOf writes one.
func StackOf(v wood.Stack) Stack {
	return Stack{
		Name:        v.Name,
		Species:     SpeciesOf(v.Species),
		PieceMass:   float64(v.PieceMass),
		PieceLength: float64(v.PieceLength),
		Thin:        float64(v.Thin),
		Thick:       float64(v.Thick),
		Size:        string(v.Size),
		Reading:     float64(v.Reading),
		WoodTemp:    float64(v.WoodTemp),
		Mass:        float64(v.Mass),
		Kindling:    v.Kindling,
		Spread:      float64(v.Spread),
		Colder:      float64(v.Colder),
		Assumed:     v.Assumed,
	}
}

// Core is what it was written from.
func (f Stack) Core() wood.Stack {
	return wood.Stack{
		Name:        f.Name,
		Species:     f.Species.Core(),
		PieceMass:   units.Kilogram(f.PieceMass),
		PieceLength: units.Metre(f.PieceLength),
		Thin:        units.Kilogram(f.Thin),
		Thick:       units.Kilogram(f.Thick),
		Size:        wood.Size(f.Size),
		Reading:     units.Fraction(f.Reading),
		WoodTemp:    units.Celsius(f.WoodTemp),
		Mass:        units.Kilogram(f.Mass),
		Kindling:    f.Kindling,
		Spread:      units.Fraction(f.Spread),
		Colder:      units.Celsius(f.Colder),
		Assumed:     f.Assumed,
	}
}
