package form

import (
	"smolder/internal/core/flue"
	"smolder/internal/core/units"
)

// Chimney is the written form of a [flue.Chimney].
type Chimney struct {
	Height     float64 `json:"height_m"`
	Diameter   float64 `json:"diameter_m"`
	Bends      int     `json:"bends"`
	Horizontal float64 `json:"horizontal_run_m"`
	Lining     string  `json:"lining"`
	Outside    bool    `json:"outside_wall"`
	Altitude   float64 `json:"altitude_m"`
}

// ChimneyOf writes one.
func ChimneyOf(v flue.Chimney) Chimney {
	return Chimney{
		Height:     float64(v.Height),
		Diameter:   float64(v.Diameter),
		Bends:      v.Bends,
		Horizontal: float64(v.Horizontal),
		Lining:     string(v.Lining),
		Outside:    v.Outside,
		Altitude:   float64(v.Altitude),
	}
}

// Core is what it was written from.
func (f Chimney) Core() flue.Chimney {
	return flue.Chimney{
		Height:     units.Metre(f.Height),
		Diameter:   units.Metre(f.Diameter),
		Bends:      f.Bends,
		Horizontal: units.Metre(f.Horizontal),
		Lining:     flue.Lining(f.Lining),
		Outside:    f.Outside,
		Altitude:   units.Metre(f.Altitude),
	}
}

// Fuel is the written form of a [flue.Fuel].
type Fuel struct {
	Carbon   float64 `json:"Carbon"`
	Hydrogen float64 `json:"Hydrogen"`
	Oxygen   float64 `json:"Oxygen"`
	Net      float64 `json:"Net"`
}

// FuelOf writes one.
func FuelOf(v flue.Fuel) Fuel {
	return Fuel{
		Carbon:   v.Carbon,
		Hydrogen: v.Hydrogen,
		Oxygen:   v.Oxygen,
		Net:      v.Net,
	}
}

// Core is what it was written from.
func (f Fuel) Core() flue.Fuel {
	return flue.Fuel{
		Carbon:   f.Carbon,
		Hydrogen: f.Hydrogen,
		Oxygen:   f.Oxygen,
		Net:      f.Net,
	}
}

// Sample is the written form of a [flue.Sample].
type Sample struct {
	Gas      float64 `json:"Gas"`
	Room     float64 `json:"Room"`
	CO2      float64 `json:"CO2"`
	O2       float64 `json:"O2"`
	CO       float64 `json:"CO"`
	CH4      float64 `json:"CH4"`
	Tar      float64 `json:"Tar,omitempty"`
	TarHeat  float64 `json:"TarHeat,omitempty"`
	Moisture float64 `json:"Moisture"`
	Fuel     Fuel    `json:"Fuel"`
}

// SampleOf writes one.
func SampleOf(v flue.Sample) Sample {
	return Sample{
		Gas:      float64(v.Gas),
		Room:     float64(v.Room),
		CO2:      float64(v.CO2),
		O2:       float64(v.O2),
		CO:       float64(v.CO),
		CH4:      float64(v.CH4),
		Tar:      float64(v.Tar),
		TarHeat:  v.TarHeat,
		Moisture: float64(v.Moisture),
		Fuel:     FuelOf(v.Fuel),
	}
}

// Core is what it was written from.
func (f Sample) Core() flue.Sample {
	return flue.Sample{
		Gas:      units.Celsius(f.Gas),
		Room:     units.Celsius(f.Room),
		CO2:      units.Fraction(f.CO2),
		O2:       units.Fraction(f.O2),
		CO:       units.Fraction(f.CO),
		CH4:      units.Fraction(f.CH4),
		Tar:      units.Fraction(f.Tar),
		TarHeat:  f.TarHeat,
		Moisture: units.Fraction(f.Moisture),
		Fuel:     f.Fuel.Core(),
	}
}
