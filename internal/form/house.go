package form

import (
	"smolder/internal/core/house"
	"smolder/internal/core/units"
)

// House is the written form of a [house.House].
type House struct {
	Floor   float64 `json:"heated_floor_m2"`
	Build   string  `json:"build"`
	N50     float64 `json:"n50"`
	Volume  float64 `json:"volume_l"`
	Fan     float64 `json:"fan_m3_per_h"`
	Given   float64 `json:"given_loss_w_per_k,omitempty"`
	Assumed bool    `json:"assumed,omitempty"`
	Learned float64 `json:"learned_loss_w_per_k,omitempty"`
	Helper  string  `json:"other_heating,omitempty"` // nothing, some, half, most
}

// HouseOf writes one.
func HouseOf(v house.House) House {
	return House{
		Floor:   v.Floor,
		Build:   string(v.Build),
		N50:     v.N50,
		Volume:  float64(v.Volume),
		Fan:     float64(v.Fan),
		Given:   v.Given,
		Assumed: v.Assumed,
		Learned: v.Learned,
		Helper:  string(v.Helper),
	}
}

// Core is what it was written from.
func (f House) Core() house.House {
	return house.House{
		Floor:   f.Floor,
		Build:   house.Build(f.Build),
		N50:     f.N50,
		Volume:  units.Litre(f.Volume),
		Fan:     units.Flow(f.Fan),
		Given:   f.Given,
		Assumed: f.Assumed,
		Learned: f.Learned,
		Helper:  house.Helper(f.Helper),
	}
}
