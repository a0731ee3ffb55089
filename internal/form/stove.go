package form

import (
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Scale is the written form of a [stove.Scale].
type Scale struct {
	Kind     string   `json:"kind"`
	Full     float64  `json:"full,omitempty"`
	Notches  []string `json:"notches,omitempty"`
	OpenLeft bool     `json:"open_left,omitempty"`
}

// ScaleOf writes one.
func ScaleOf(v stove.Scale) Scale {
	return Scale{
		Kind:     string(v.Kind),
		Full:     v.Full,
		Notches:  v.Notches,
		OpenLeft: v.OpenLeft,
	}
}

// Core is what it was written from.
func (f Scale) Core() stove.Scale {
	return stove.Scale{
		Kind:     stove.ScaleKind(f.Kind),
		Full:     f.Full,
		Notches:  f.Notches,
		OpenLeft: f.OpenLeft,
	}
}

// Control is the written form of a [stove.Control].
type Control struct {
	Key   string `json:"key"`
	Name  string `json:"name"`
	Role  string `json:"role"`
	Scale Scale  `json:"scale"`
	Light string `json:"to_light,omitempty"`
}

// ControlOf writes one.
func ControlOf(v stove.Control) Control {
	return Control{
		Key:   v.Key,
		Name:  v.Name,
		Role:  string(v.Role),
		Scale: ScaleOf(v.Scale),
		Light: string(v.ToLight),
	}
}

// Core is what it was written from.
func (f Control) Core() stove.Control {
	return stove.Control{
		Key:   f.Key,
		Name:  f.Name,
		Role:  stove.Role(f.Role),
		Scale: f.Scale.Core(),

		ToLight: stove.ToLight(f.Light),
	}
}

// Band is the written form of a [stove.Band].
type Band struct {
	Low    float64 `json:"low_c"`
	High   float64 `json:"high_c"`
	TooHot float64 `json:"too_hot_c"`
}

// BandOf writes one.
func BandOf(v stove.Band) Band {
	return Band{
		Low:    float64(v.Low),
		High:   float64(v.High),
		TooHot: float64(v.TooHot),
	}
}

// Core is what it was written from.
func (f Band) Core() stove.Band {
	return stove.Band{
		Low:    units.Celsius(f.Low),
		High:   units.Celsius(f.High),
		TooHot: units.Celsius(f.TooHot),
	}
}

// Gauge is the written form of a [stove.Gauge].
type Gauge struct {
	Place string `json:"place"`
	Band  Band   `json:"band"`
}

// GaugeOf writes one.
func GaugeOf(v stove.Gauge) Gauge {
	return Gauge{
		Place: string(v.Place),
		Band:  BandOf(v.Band),
	}
}

// Core is what it was written from.
func (f Gauge) Core() stove.Gauge {
	return stove.Gauge{
		Place: stove.Place(f.Place),
		Band:  f.Band.Core(),
	}
}

// Stove is the written form of a [stove.Stove].
type Stove struct {
	Name       string    `json:"name"`
	Room       string    `json:"room"`
	Family     string    `json:"family"`
	Volume     float64   `json:"firebox_l"`
	Width      float64   `json:"firebox_width_m"`
	Depth      float64   `json:"firebox_depth_m"`
	Height     float64   `json:"firebox_height_m"`
	MaxLoad    float64   `json:"manual_max_load_kg"`
	Output     float64   `json:"manual_output_w,omitempty"`
	Controls   []Control `json:"controls"`
	Gauges     []Gauge   `json:"gauges"`
	Chimney    Chimney   `json:"chimney"`
	Double     bool      `json:"double_wall_connector,omitempty"`
	Unattended bool      `json:"manual_allows_unattended,omitempty"`
	Manual     Manual    `json:"manual,omitzero"`
	Assumed    []string  `json:"assumed,omitempty"`
}

// Manual is the written form of a [stove.Manual].
type Manual struct {
	Door    string  `json:"door,omitempty"`
	DoorFor int64   `json:"door_for,omitempty"`
	Flap    string  `json:"flap,omitempty"`
	FlapFor int64   `json:"flap_for,omitempty"`
	Engage  float64 `json:"engage_c,omitempty"`
}

// ManualOf writes one.
func ManualOf(v stove.Manual) Manual {
	return Manual{string(v.Door), int64(v.DoorFor), string(v.Flap), int64(v.FlapFor), float64(v.Engage)}
}

// Core is what it was written from.
func (f Manual) Core() stove.Manual {
	return stove.Manual{Door: stove.Lit(f.Door), DoorFor: time.Duration(f.DoorFor), Flap: stove.FlapRule(f.Flap), FlapFor: time.Duration(f.FlapFor),
		Engage: units.Celsius(f.Engage)}
}

// StoveOf writes one.
func StoveOf(v stove.Stove) Stove {
	return Stove{
		Name:       v.Name,
		Room:       v.Room,
		Family:     string(v.Family),
		Volume:     float64(v.Volume),
		Width:      float64(v.Width),
		Depth:      float64(v.Depth),
		Height:     float64(v.Height),
		MaxLoad:    float64(v.MaxLoad),
		Output:     float64(v.Output),
		Controls:   all(v.Controls, ControlOf),
		Gauges:     all(v.Gauges, GaugeOf),
		Chimney:    ChimneyOf(v.Chimney),
		Double:     v.Double,
		Unattended: v.Unattended,
		Manual:     ManualOf(v.Manual),
		Assumed:    v.Assumed,
	}
}

// Core is what it was written from.
func (f Stove) Core() stove.Stove {
	return stove.Stove{
		Name:       f.Name,
		Room:       f.Room,
		Family:     stove.Family(f.Family),
		Volume:     units.Litre(f.Volume),
		Width:      units.Metre(f.Width),
		Depth:      units.Metre(f.Depth),
		Height:     units.Metre(f.Height),
		MaxLoad:    units.Kilogram(f.MaxLoad),
		Output:     units.Watt(f.Output),
		Controls:   all(f.Controls, Control.Core),
		Gauges:     all(f.Gauges, Gauge.Core),
		Chimney:    f.Chimney.Core(),
		Double:     f.Double,
		Unattended: f.Unattended,
		Manual:     f.Manual.Core(),
		Assumed:    f.Assumed,
	}
}
