package api

import "net/http"

// stacks lists what wood there is, as dry as it is by now.
func (r Room) stacks(q *request) error {
	stacks, err := r.AsPage(q.Context, q.home, q.profile).Stacks()
	if err != nil {
		return err
	}
	out := make([]any, len(stacks))
	for i, s := range stacks {
		out[i] = map[string]any{"id": s.ID, "name": s.Name, "species": s.Species.Key, "moisture_pct": tenth(s.Moisture().Percent()),
			"moisture_spread_pct": tenth(s.Spread.Percent()), "piece_kg": round3(float64(s.PieceMass)), "piece_length_m": round3(float64(s.PieceLength)), "thin_piece_kg": round3(float64(s.Thin)), "thick_piece_kg": round3(float64(s.Thick)),
			"pieces": s.Pieces(), "mass_kg": tenth(float64(s.Mass)), "kindling": s.Kindling, "mineral": s.Species.Mineral}
	}
	return q.answer(http.StatusOK, map[string]any{"stacks": out})
}
