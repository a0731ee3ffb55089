package form

import (
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Entry is the written form of a [burn.Entry].
type Entry struct {
	ID       string    `json:"id"`
	At       time.Time `json:"at"`
	Kind     string    `json:"kind"`
	Typed    string    `json:"typed,omitempty"`
	Control  string    `json:"control,omitempty"`
	Opening  float64   `json:"opening,omitempty"`
	Place    string    `json:"place,omitempty"`
	Reading  float64   `json:"reading_c,omitempty"`
	Draft    float64   `json:"draft_pa,omitempty"`
	Depth    float64   `json:"depth_m,omitempty"`
	PPM      float64   `json:"co_ppm,omitempty"`
	Door     int       `json:"door,omitempty"`
	Smoke    string    `json:"smoke,omitempty"`
	Load     *Load     `json:"load,omitempty"`
	Note     string    `json:"note,omitempty"`
	Struck   bool      `json:"struck,omitempty"`
	Corrects string    `json:"corrects,omitempty"`
	Tap      string    `json:"tap,omitempty"`
	Reported bool      `json:"reported,omitempty"`
	By       string    `json:"by,omitempty"`
}

// EntryOf writes one.
func EntryOf(v burn.Entry) Entry {
	return Entry{
		ID:       v.ID,
		At:       v.At,
		Kind:     string(v.Kind),
		Typed:    v.Typed,
		Control:  v.Control,
		Opening:  v.Opening,
		Place:    string(v.Place),
		Reading:  float64(v.Reading),
		Draft:    float64(v.Draft),
		Depth:    float64(v.Depth),
		PPM:      v.PPM,
		Door:     int(v.Door),
		Smoke:    v.Smoke,
		Load:     pointer(v.Load, LoadOf),
		Note:     v.Note,
		Struck:   v.Struck,
		Corrects: v.Corrects,
		Tap:      v.Tap,
		Reported: v.Reported,
		By:       v.By,
	}
}

// Core is what it was written from.
func (f Entry) Core() burn.Entry {
	return burn.Entry{
		ID:       f.ID,
		At:       f.At,
		Kind:     burn.Kind(f.Kind),
		Typed:    f.Typed,
		Control:  f.Control,
		Opening:  f.Opening,
		Place:    stove.Place(f.Place),
		Reading:  units.Celsius(f.Reading),
		Draft:    units.Pascal(f.Draft),
		Depth:    units.Metre(f.Depth),
		PPM:      f.PPM,
		Door:     fire.Door(f.Door),
		Smoke:    f.Smoke,
		Load:     pointer(f.Load, Load.Core),
		Note:     f.Note,
		Struck:   f.Struck,
		Corrects: f.Corrects,
		Tap:      f.Tap,
		Reported: f.Reported,
		By:       f.By,
	}
}

// Burn is the written form of a [burn.Burn].
type Burn struct {
	Stove          Stove      `json:"stove"`
	House          House      `json:"house"`
	Outdoor        float64    `json:"outdoor_c"`
	Room           float64    `json:"room_c"`
	Wanted         [2]float64 `json:"wanted_room_c,omitempty"`
	Warmth         float64    `json:"stove_warmth_c"`
	Coals          float64    `json:"coals_kg"`
	Started        time.Time  `json:"started"`
	Ended          time.Time  `json:"ended,omitzero"`
	LitBy          string     `json:"lit_by,omitempty"`
	EndedBy        string     `json:"ended_by,omitempty"`
	Entries        []Entry    `json:"entries"`
	Weather        []Weather  `json:"weather,omitempty"`
	Wind           float64    `json:"wind_m_s,omitempty"`
	Window         bool       `json:"window_open,omitempty"`
	Beside         []Beside   `json:"beside,omitempty"`
	RoomUnknown    bool       `json:"room_unknown,omitempty"`
	OutdoorUnknown bool       `json:"outdoor_unknown,omitempty"`
}

// BurnOf writes one.
func BurnOf(v burn.Burn) Burn {
	return Burn{
		Stove:          StoveOf(v.Stove),
		House:          HouseOf(v.House),
		Outdoor:        float64(v.Outdoor),
		Room:           float64(v.Room),
		Wanted:         v.Wanted,
		Warmth:         float64(v.Warmth),
		Coals:          float64(v.Coals),
		Started:        v.Started,
		Ended:          v.Ended,
		LitBy:          v.LitBy,
		EndedBy:        v.EndedBy,
		Entries:        all(v.Entries, EntryOf),
		Weather:        all(v.Weather, WeatherOf),
		Wind:           v.Wind,
		Window:         v.Window,
		Beside:         all(v.Beside, BesideOf),
		RoomUnknown:    v.RoomUnknown,
		OutdoorUnknown: v.OutdoorUnknown,
	}
}

// Core is what it was written from.
func (f Burn) Core() burn.Burn {
	return burn.Burn{
		Stove:          f.Stove.Core(),
		House:          f.House.Core(),
		Outdoor:        units.Celsius(f.Outdoor),
		Room:           units.Celsius(f.Room),
		Wanted:         f.Wanted,
		Warmth:         units.Celsius(f.Warmth),
		Coals:          units.Kilogram(f.Coals),
		Started:        f.Started,
		Ended:          f.Ended,
		LitBy:          f.LitBy,
		EndedBy:        f.EndedBy,
		Entries:        all(f.Entries, Entry.Core),
		Weather:        all(f.Weather, Weather.Core),
		Wind:           f.Wind,
		Window:         f.Window,
		Beside:         all(f.Beside, Beside.Core),
		RoomUnknown:    f.RoomUnknown,
		OutdoorUnknown: f.OutdoorUnknown,
	}
}
