package plan

import (
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Before is the draft at the cold stove before lighting, with its remedies.
type Before struct {
	Net     units.Pascal `json:"net_pa"`      // now
	FanOff  units.Pascal `json:"fan_off_pa"`  // with fans off
	Window  units.Pascal `json:"window_pa"`   // fans off and a window cracked
	Prime   bool         `json:"prime"`       // warm the flue first
	DoNot   bool         `json:"do_not"`      // not until a remedy helps
	OnCoals bool         `json:"on_coals"`    // nothing to light
	Flue    float64      `json:"flue_mean_c"` // temperature assumed in the flue
}

const (
	// enoughDraft is the net draft that starts a cold fire without help, Pa.
	enoughDraft = 4
	// weakDraft is the draft below which a gust may turn it, Pa.
	weakDraft = 1.5
	// windowShare is how much of the room's own pull an open window leaves.
	windowShare = 0.1
)

// BeforeLighting computes the draft of the cold chimney. A cold flue stands
// between room and outdoor temperature; on an outside wall it is as cold as
// the weather.
func BeforeLighting(s stove.Stove, h house.House, room, outdoor units.Celsius) Before {
	mean := 0.6*room + 0.4*outdoor
	if s.Chimney.Outside {
		mean = 0.15*room + 0.85*outdoor
	}
	made := flue.StackDraft(s.Chimney.Height, mean, outdoor, s.Chimney.Altitude)
	still := h
	still.Fan = 0
	pull := h.Underpressure(room, outdoor, s.Chimney.Altitude)
	own := still.Underpressure(room, outdoor, s.Chimney.Altitude)
	b := Before{Net: made - pull, FanOff: made - own, Window: made - own*windowShare, Flue: float64(mean)}
	b.DoNot = b.Net < 0
	b.Prime = b.Net < enoughDraft
	return b
}
