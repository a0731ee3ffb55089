package form

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Load is the written form of a [fire.Load].
type Load struct {
	Species     Species `json:"species"`
	Moisture    float64 `json:"moisture"`
	Pieces      int     `json:"pieces"`
	PieceMass   float64 `json:"piece_mass_kg"`
	PieceLength float64 `json:"piece_length_m"`
	Direction   string  `json:"direction"`
	Lay         string  `json:"lay"`
	Kindling    bool    `json:"kindling,omitempty"`
	Starter     float64 `json:"starter_j,omitempty"`
	StarterKind string  `json:"starter,omitempty"`
	Unraked     bool    `json:"unraked,omitempty"`
	Colder      float64 `json:"colder_k,omitempty"`
	Spread      float64 `json:"moisture_spread,omitempty"`
	Guessed     bool    `json:"moisture_guessed,omitempty"`
	StackName   string  `json:"stack,omitempty"`
	StackID     int64   `json:"stack_id,omitempty"`
}

// LoadOf writes one.
func LoadOf(v fire.Load) Load {
	return Load{
		Species:     SpeciesOf(v.Species),
		Moisture:    float64(v.Moisture),
		Pieces:      v.Pieces,
		PieceMass:   float64(v.PieceMass),
		PieceLength: float64(v.PieceLength),
		Direction:   string(v.Direction),
		Lay:         string(v.Lay),
		Kindling:    v.Kindling,
		Starter:     float64(v.Starter),
		StarterKind: string(v.StarterKind),
		Unraked:     v.Unraked,
		Colder:      float64(v.Colder),
		Spread:      float64(v.Spread),
		Guessed:     v.Guessed,
		StackName:   v.StackName,
		StackID:     v.StackID,
	}
}

// Core is what it was written from.
func (f Load) Core() fire.Load {
	return fire.Load{
		Species:     f.Species.Core(),
		Moisture:    units.Fraction(f.Moisture),
		Pieces:      f.Pieces,
		PieceMass:   units.Kilogram(f.PieceMass),
		PieceLength: units.Metre(f.PieceLength),
		Direction:   stove.Direction(f.Direction),
		Lay:         fire.Lay(f.Lay),
		Kindling:    f.Kindling,
		Starter:     units.Joule(f.Starter),
		StarterKind: fire.Starter(f.StarterKind),
		Unraked:     f.Unraked,
		Colder:      units.Celsius(f.Colder),
		Spread:      units.Fraction(f.Spread),
		Guessed:     f.Guessed,
		StackName:   f.StackName,
		StackID:     f.StackID,
	}
}

// Weather is the written form of a [fire.Weather].
type Weather struct {
	At      int64   `json:"at"`
	Outdoor float64 `json:"outdoor_c"`
	Wind    float64 `json:"wind_m_s,omitempty"`
}

// WeatherOf writes one.
func WeatherOf(v fire.Weather) Weather {
	return Weather{
		At:      int64(v.At),
		Outdoor: float64(v.Outdoor),
		Wind:    v.Wind,
	}
}

// Core is what it was written from.
func (f Weather) Core() fire.Weather {
	return fire.Weather{
		At:      time.Duration(f.At),
		Outdoor: units.Celsius(f.Outdoor),
		Wind:    f.Wind,
	}
}

// Beside is the written form of a [fire.Beside].
type Beside struct {
	At   int64   `json:"at"`
	Heat float64 `json:"heat_w"`
}

// BesideOf writes one.
func BesideOf(v fire.Beside) Beside {
	return Beside{
		At:   int64(v.At),
		Heat: float64(v.Heat),
	}
}

// Core is what it was written from.
func (f Beside) Core() fire.Beside {
	return fire.Beside{
		At:   time.Duration(f.At),
		Heat: units.Watt(f.Heat),
	}
}

// Trigger is the written form of a [fire.Trigger].
type Trigger struct {
	At       int64   `json:"at,omitempty"`
	After    int64   `json:"after,omitempty"`
	Gauge    string  `json:"gauge,omitempty"`
	Above    float64 `json:"above_c,omitempty"`
	Held     int64   `json:"held,omitempty"`
	Charred  bool    `json:"charred,omitempty"`
	WoodLeft float64 `json:"wood_left,omitempty"`
	PassedBy float64 `json:"passed_by,omitempty"`
	Least    float64 `json:"least,omitempty"`
	Latest   int64   `json:"latest,omitempty"`
	Late     int64   `json:"late,omitempty"`
}

// TriggerOf writes one.
func TriggerOf(v fire.Trigger) Trigger {
	return Trigger{
		At:       int64(v.At),
		After:    int64(v.After),
		Gauge:    string(v.Gauge),
		Above:    float64(v.Above),
		Held:     int64(v.Held),
		Charred:  v.Charred,
		WoodLeft: float64(v.WoodLeft), PassedBy: float64(v.PassedBy), Least: float64(v.Least),
		Latest: int64(v.Latest), Late: int64(v.Late),
	}
}

// Core is what it was written from.
func (f Trigger) Core() fire.Trigger {
	return fire.Trigger{
		At:       time.Duration(f.At),
		After:    time.Duration(f.After),
		Gauge:    stove.Place(f.Gauge),
		Above:    units.Celsius(f.Above),
		Held:     time.Duration(f.Held),
		Charred:  f.Charred,
		WoodLeft: units.Kilogram(f.WoodLeft), PassedBy: units.Kilogram(f.PassedBy), Least: units.Celsius(f.Least),
		Latest: time.Duration(f.Latest), Late: time.Duration(f.Late),
	}
}

// Act is the written form of a [fire.Act].
type Act struct {
	Kind    string  `json:"kind"`
	Control string  `json:"control,omitempty"`
	Role    string  `json:"role,omitempty"`
	Opening float64 `json:"opening,omitempty"`
	Door    int     `json:"door,omitempty"`
	Load    *Load   `json:"load,omitempty"`
	Heat    float64 `json:"heat_j,omitempty"`
	Flow    float64 `json:"flow_m3_per_h,omitempty"`
	Open    bool    `json:"open,omitempty"`
}

// ActOf writes one.
func ActOf(v fire.Act) Act {
	return Act{
		Kind:    string(v.Kind),
		Control: v.Control,
		Role:    string(v.Role),
		Opening: v.Opening,
		Door:    int(v.Door),
		Load:    pointer(v.Load, LoadOf),
		Heat:    float64(v.Heat),
		Flow:    float64(v.Flow),
		Open:    v.Open,
	}
}

// Core is what it was written from.
func (f Act) Core() fire.Act {
	return fire.Act{
		Kind:    fire.ActKind(f.Kind),
		Control: f.Control,
		Role:    stove.Role(f.Role),
		Opening: f.Opening,
		Door:    fire.Door(f.Door),
		Load:    pointer(f.Load, Load.Core),
		Heat:    units.Joule(f.Heat),
		Flow:    units.Flow(f.Flow),
		Open:    f.Open,
	}
}

// Move is the written form of a [fire.Move].
type Move struct {
	When Trigger `json:"when"`
	Do   []Act   `json:"do"`
}

// MoveOf writes one.
func MoveOf(v fire.Move) Move {
	return Move{
		When: TriggerOf(v.When),
		Do:   all(v.Do, ActOf),
	}
}

// Core is what it was written from.
func (f Move) Core() fire.Move {
	return fire.Move{
		When: f.When.Core(),
		Do:   all(f.Do, Act.Core),
	}
}

// Summary is the written form of a [fire.Summary].
type Summary struct {
	ToCoals     int64     `json:"ToCoals"`
	ToWorking   int64     `json:"ToWorking"`
	Smoulder    int64     `json:"Smoulder"`
	Working     int64     `json:"Working"`
	TooHot      int64     `json:"TooHot"`
	Spilling    int64     `json:"Spilling"`
	Starved     int64     `json:"Starved"`
	Efficiency  float64   `json:"Efficiency"`
	ByGas       float64   `json:"ByGas"`
	Gas         Sample    `json:"Gas"`
	SmokePerKg  float64   `json:"SmokePerKg"`
	Smoke       float64   `json:"Smoke"`
	SmokeEarly  float64   `json:"SmokeEarly"`
	Deposits    float64   `json:"Deposits"`
	Sections    []float64 `json:"Sections"`
	PeakTop     float64   `json:"PeakTop"`
	PeakGas     float64   `json:"PeakGas"`
	MinDraft    float64   `json:"MinDraft"`
	Coals       float64   `json:"Coals"`
	In          float64   `json:"In"`
	ToRoom      float64   `json:"ToRoom"`
	Wood        float64   `json:"Wood"`
	Mineral     float64   `json:"Mineral"`
	BalanceErr  float64   `json:"BalanceErr"`
	MassErr     float64   `json:"MassErr"`
	Spilled     bool      `json:"Spilled"`
	SpilledCold bool      `json:"SpilledCold"`
	Glass       float64   `json:"Glass"`
	DryPerHour  float64   `json:"DryPerHour"`
	MovesMissed int       `json:"StepsMissed"`
}

// SummaryOf writes one.
func SummaryOf(v fire.Summary) Summary {
	return Summary{
		ToCoals:     int64(v.ToCoals),
		ToWorking:   int64(v.ToWorking),
		Smoulder:    int64(v.Smoulder),
		Working:     int64(v.Working),
		TooHot:      int64(v.TooHot),
		Spilling:    int64(v.Spilling),
		Starved:     int64(v.Starved),
		Efficiency:  float64(v.Efficiency),
		ByGas:       float64(v.ByGas),
		Gas:         SampleOf(v.Gas),
		SmokePerKg:  v.SmokePerKg,
		Smoke:       v.Smoke,
		SmokeEarly:  v.SmokeEarly,
		Deposits:    v.Deposits,
		Sections:    v.Sections,
		PeakTop:     float64(v.PeakTop),
		PeakGas:     float64(v.PeakGas),
		MinDraft:    float64(v.MinDraft),
		Coals:       float64(v.Coals),
		In:          float64(v.In),
		ToRoom:      float64(v.ToRoom),
		Wood:        float64(v.Wood),
		Mineral:     float64(v.Mineral),
		BalanceErr:  float64(v.BalanceErr),
		MassErr:     float64(v.MassErr),
		Spilled:     v.Spilled,
		SpilledCold: v.SpilledCold,
		Glass:       v.Glass,
		DryPerHour:  v.DryPerHour,
		MovesMissed: v.MovesMissed,
	}
}

// Core is what it was written from.
func (f Summary) Core() fire.Summary {
	return fire.Summary{
		ToCoals:     time.Duration(f.ToCoals),
		ToWorking:   time.Duration(f.ToWorking),
		Smoulder:    time.Duration(f.Smoulder),
		Working:     time.Duration(f.Working),
		TooHot:      time.Duration(f.TooHot),
		Spilling:    time.Duration(f.Spilling),
		Starved:     time.Duration(f.Starved),
		Efficiency:  units.Fraction(f.Efficiency),
		ByGas:       units.Fraction(f.ByGas),
		Gas:         f.Gas.Core(),
		SmokePerKg:  f.SmokePerKg,
		Smoke:       f.Smoke,
		SmokeEarly:  f.SmokeEarly,
		Deposits:    f.Deposits,
		Sections:    f.Sections,
		PeakTop:     units.Celsius(f.PeakTop),
		PeakGas:     units.Celsius(f.PeakGas),
		MinDraft:    units.Pascal(f.MinDraft),
		Coals:       units.Kilogram(f.Coals),
		In:          units.Joule(f.In),
		ToRoom:      units.Joule(f.ToRoom),
		Wood:        units.Kilogram(f.Wood),
		Mineral:     units.Kilogram(f.Mineral),
		BalanceErr:  units.Fraction(f.BalanceErr),
		MassErr:     units.Fraction(f.MassErr),
		Spilled:     f.Spilled,
		SpilledCold: f.SpilledCold,
		Glass:       f.Glass,
		DryPerHour:  f.DryPerHour,
		MovesMissed: f.MovesMissed,
	}
}
