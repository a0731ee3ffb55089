package form

import "smolder/internal/core/belief"

// Prior is the written form of a [belief.Prior].
type Prior struct {
	Version    int       `json:"version"`
	Burns      int       `json:"burns"`
	Names      []string  `json:"names"`
	Mean       []float64 `json:"mean"`
	Covariance []float64 `json:"covariance"`
}

// PriorOf writes one.
func PriorOf(v belief.Prior) Prior {
	return Prior{Version: v.Version, Burns: v.Burns, Names: v.Names, Mean: v.Mean, Covariance: v.Covariance}
}

// Core is what it was written from.
func (f Prior) Core() belief.Prior {
	return belief.Prior{Version: f.Version, Burns: f.Burns, Names: f.Names, Mean: f.Mean, Covariance: f.Covariance}
}
