package form

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// Pick is the written form of a [wish.Pick].
type Pick struct {
	ID    int64 `json:"id"`
	Stack Stack `json:"stack"`
}

// PickOf writes one.
func PickOf(v wish.Pick) Pick {
	return Pick{
		ID:    v.ID,
		Stack: StackOf(v.Stack),
	}
}

// Core is what it was written from.
func (f Pick) Core() wish.Pick {
	return wish.Pick{
		ID:    f.ID,
		Stack: f.Stack.Core(),
	}
}

// Help is the written form of a [wish.Help].
type Help struct {
	FansOff bool `json:"fans_off,omitempty"`
	Window  bool `json:"window_open,omitempty"`
	Primed  bool `json:"flue_warmed,omitempty"`
}

// HelpOf writes one.
func HelpOf(v wish.Help) Help {
	return Help{
		FansOff: v.FansOff,
		Window:  v.Window,
		Primed:  v.Primed,
	}
}

// Core is what it was written from.
func (f Help) Core() wish.Help {
	return wish.Help{
		FansOff: f.FansOff,
		Window:  f.Window,
		Primed:  f.Primed,
	}
}

// Fixed is the written form of a [wish.Fixed].
type Fixed struct {
	First     int     `json:"light_with,omitempty"`
	Main      int     `json:"on_coals,omitempty"`
	FirstOf   int64   `json:"light_from,omitempty"`
	MainOf    int64   `json:"coals_from,omitempty"`
	Direction string  `json:"direction,omitempty"`
	Brisk     float64 `json:"char_at,omitempty"`
	Final     float64 `json:"leave_at,omitempty"`
	Each      int     `json:"at_a_time,omitempty"`
	Most      float64 `json:"most_kg,omitempty"`
	BySize    bool    `json:"by_size,omitempty"`
}

// FixedOf writes one.
func FixedOf(v wish.Fixed) Fixed {
	return Fixed{v.First, v.Main, v.FirstOf, v.MainOf, string(v.Direction), v.Brisk, v.Final, v.Each, float64(v.Most), v.BySize}
}

// Core is what it was written from.
func (f Fixed) Core() wish.Fixed {
	return wish.Fixed{First: f.First, Main: f.Main, FirstOf: f.FirstOf, MainOf: f.MainOf, Direction: stove.Direction(f.Direction),
		Brisk: f.Brisk, Final: f.Final, Each: f.Each, Most: units.Kilogram(f.Most), BySize: f.BySize}
}

// Target is the written form of a [wish.Target].
type Target struct {
	Place string  `json:"gauge"`
	At    float64 `json:"at_c"`
}

// TargetOf writes one.
func TargetOf(v wish.Target) Target { return Target{string(v.Place), float64(v.At)} }

// Core is what it was written from.
func (f Target) Core() wish.Target {
	return wish.Target{Place: stove.Place(f.Place), At: units.Celsius(f.At)}
}

// Wish is the written form of a [wish.Wish].
type Wish struct {
	Stove    Stove     `json:"stove"`
	House    House     `json:"house"`
	Aim      string    `json:"aim"`
	For      int64     `json:"for"`
	Outdoor  float64   `json:"outdoor_c"`
	Weather  []Weather `json:"weather,omitempty"`
	Humidity float64   `json:"outdoor_humidity,omitempty"`
	Mild     bool      `json:"outdoor_assumed,omitempty"`
	Feels    bool      `json:"room_felt,omitempty"`
	Room     float64   `json:"room_c"`
	Low      float64   `json:"wanted_from_c"`
	High     float64   `json:"wanted_to_c"`
	Start    string    `json:"start"`
	Wood     Pick      `json:"wood"`
	Others   []Pick    `json:"others,omitempty"`
	LeftOut  int       `json:"left_out,omitempty"`
	LeftWet  string    `json:"left_wet,omitempty"`
	Kindling *Pick     `json:"kindling,omitempty"`
	Lay      string    `json:"lay,omitempty"`
	Body     float64   `json:"body_c,omitempty"`
	There    []Span    `json:"there,omitempty"`
	Help     Help      `json:"help,omitzero"`
	Starter  string    `json:"starter,omitempty"`
	Beside   []Beside  `json:"beside,omitempty"`
	Known    *Prior    `json:"known,omitempty"`
	Fixed    Fixed     `json:"fixed,omitzero"`
	Embers   bool      `json:"coals_wanted,omitempty"`
	Seldom   bool      `json:"looks_seldom,omitempty"`
	Lowest   float64   `json:"lowest_clean,omitempty"`
	Target   Target    `json:"target,omitzero"`
}

// WishOf writes one.
func WishOf(v wish.Wish) Wish {
	return Wish{
		Stove:    StoveOf(v.Stove),
		House:    HouseOf(v.House),
		Aim:      string(v.Aim),
		For:      int64(v.For),
		Outdoor:  float64(v.Outdoor),
		Weather:  all(v.Weather, WeatherOf),
		Humidity: float64(v.Humidity),
		Mild:     v.Mild,
		Feels:    v.Feels,
		Room:     float64(v.Room),
		Low:      float64(v.Low),
		High:     float64(v.High),
		Start:    string(v.Start),
		Wood:     PickOf(v.Wood),
		Others:   all(v.Others, PickOf),
		LeftOut:  v.LeftOut,
		LeftWet:  v.LeftWet,
		Kindling: pointer(v.Kindling, PickOf),
		Lay:      string(v.Lay),
		Body:     float64(v.Body),
		There:    all(v.There, SpanOf),
		Help:     HelpOf(v.Help),
		Starter:  string(v.Starter),
		Beside:   all(v.Beside, BesideOf),
		Known:    pointer(v.Known, PriorOf),
		Fixed:    FixedOf(v.Fixed),
		Embers:   v.Embers,
		Seldom:   v.Seldom,
		Lowest:   v.Lowest,
		Target:   TargetOf(v.Target),
	}
}

// Core is what it was written from.
func (f Wish) Core() wish.Wish {
	return wish.Wish{
		Stove:    f.Stove.Core(),
		House:    f.House.Core(),
		Aim:      wish.Aim(f.Aim),
		For:      time.Duration(f.For),
		Outdoor:  units.Celsius(f.Outdoor),
		Weather:  all(f.Weather, Weather.Core),
		Humidity: units.Fraction(f.Humidity),
		Mild:     f.Mild,
		Feels:    f.Feels,
		Room:     units.Celsius(f.Room),
		Low:      units.Celsius(f.Low),
		High:     units.Celsius(f.High),
		Start:    wish.Start(f.Start),
		Wood:     f.Wood.Core(),
		Others:   all(f.Others, Pick.Core),
		LeftOut:  f.LeftOut,
		LeftWet:  f.LeftWet,
		Kindling: pointer(f.Kindling, Pick.Core),
		Lay:      fire.Lay(f.Lay),
		Body:     units.Celsius(f.Body),
		There:    all(f.There, Span.Core),
		Help:     f.Help.Core(),
		Starter:  fire.Starter(f.Starter),
		Beside:   all(f.Beside, Beside.Core),
		Known:    pointer(f.Known, Prior.Core),
		Fixed:    f.Fixed.Core(),
		Embers:   f.Embers,
		Seldom:   f.Seldom,
		Lowest:   f.Lowest,
		Target:   f.Target.Core(),
	}
}

// Before is the written form of a [wish.Before].
type Before struct {
	Net     float64 `json:"net_pa"`
	AsIs    float64 `json:"as_is_pa"`
	FanOff  float64 `json:"fan_off_pa"`
	Window  float64 `json:"window_pa"`
	Primed  float64 `json:"primed_pa"`
	Prime   bool    `json:"prime"`
	DoNot   bool    `json:"do_not"`
	OnCoals bool    `json:"on_coals"`
	Flue    float64 `json:"flue_mean_c"`
}

// BeforeOf writes one.
func BeforeOf(v wish.Before) Before {
	return Before{
		Net:     float64(v.Net),
		AsIs:    float64(v.AsIs),
		FanOff:  float64(v.FanOff),
		Window:  float64(v.Window),
		Primed:  float64(v.Primed),
		Prime:   v.Prime,
		DoNot:   v.DoNot,
		OnCoals: v.OnCoals,
		Flue:    v.Flue,
	}
}

// Core is what it was written from.
func (f Before) Core() wish.Before {
	return wish.Before{
		Net:     units.Pascal(f.Net),
		AsIs:    units.Pascal(f.AsIs),
		FanOff:  units.Pascal(f.FanOff),
		Window:  units.Pascal(f.Window),
		Primed:  units.Pascal(f.Primed),
		Prime:   f.Prime,
		DoNot:   f.DoNot,
		OnCoals: f.OnCoals,
		Flue:    f.Flue,
	}
}

// Would is the written form of a [wish.Would].
type Would struct {
	Add Help    `json:"add"`
	Net float64 `json:"net_pa"`
}

// WouldOf writes one.
func WouldOf(v wish.Would) Would {
	return Would{
		Add: HelpOf(v.Add),
		Net: float64(v.Net),
	}
}

// Core is what it was written from.
func (f Would) Core() wish.Would {
	return wish.Would{
		Add: f.Add.Core(),
		Net: units.Pascal(f.Net),
	}
}

// Refusal is the written form of a [wish.Refusal].
type Refusal struct {
	Reason           // its keys stand among these
	Before   *Before `json:"before,omitempty"`
	Would    []Would `json:"would,omitempty"`
	Together bool    `json:"together,omitempty"`
}

// RefusalOf writes one.
func RefusalOf(v wish.Refusal) Refusal {
	return Refusal{
		Reason:   ReasonOf(v.Reason),
		Before:   pointer(v.Before, BeforeOf),
		Would:    all(v.Would, WouldOf),
		Together: v.Together,
	}
}

// Core is what it was written from.
func (f Refusal) Core() wish.Refusal {
	return wish.Refusal{
		Reason:   f.Reason.Core(),
		Before:   pointer(f.Before, Before.Core),
		Would:    all(f.Would, Would.Core),
		Together: f.Together,
	}
}
