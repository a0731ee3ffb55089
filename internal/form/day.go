package form

import (
	"time"

	"smolder/internal/core/day"
	"smolder/internal/core/units"
)

// Window is the written form of a [day.Window].
type Window struct {
	From  int64 `json:"from"`
	Best  int64 `json:"best"`
	Until int64 `json:"until"`
	Fire  Plan  `json:"fire"`
	Night bool  `json:"night,omitempty"`
}

// WindowOf writes one.
func WindowOf(v day.Window) Window {
	return Window{
		From:  int64(v.From),
		Best:  int64(v.Best),
		Until: int64(v.Until),
		Fire:  PlanOf(v.Fire),
		Night: v.Night,
	}
}

// Core is what it was written from.
func (f Window) Core() day.Window {
	return day.Window{
		From:  time.Duration(f.From),
		Best:  time.Duration(f.Best),
		Until: time.Duration(f.Until),
		Fire:  f.Fire.Core(),
		Night: f.Night,
	}
}

// Day is the written form of a [day.Day].
type Day struct {
	Wish    Wish      `json:"wish"`
	Windows []Window  `json:"windows"`
	Room    []float64 `json:"room_c"`
	Every   int64     `json:"every"`
	Wood    float64   `json:"wood_kg"`
	Missed  int       `json:"missed"`
	Refused *Refusal  `json:"refused,omitempty"`
	Cold    float64   `json:"cold_kelvin_hours"`
	Hot     float64   `json:"hot_kelvin_hours"`
}

// DayOf writes one.
func DayOf(v day.Day) Day {
	return Day{
		Wish:    WishOf(v.Wish),
		Windows: all(v.Windows, WindowOf),
		Room:    all(v.Room, func(v units.Celsius) float64 { return float64(v) }),
		Every:   int64(v.Every),
		Wood:    float64(v.Wood),
		Missed:  v.Missed,
		Refused: pointer(v.Refused, RefusalOf),
		Cold:    v.Cold,
		Hot:     v.Hot,
	}
}

// Core is what it was written from.
func (f Day) Core() day.Day {
	return day.Day{
		Wish:    f.Wish.Core(),
		Windows: all(f.Windows, Window.Core),
		Room:    all(f.Room, func(v float64) units.Celsius { return units.Celsius(v) }),
		Every:   time.Duration(f.Every),
		Wood:    units.Kilogram(f.Wood),
		Missed:  f.Missed,
		Refused: pointer(f.Refused, Refusal.Core),
		Cold:    f.Cold,
		Hot:     f.Hot,
	}
}
