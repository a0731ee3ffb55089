package kit

import (
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/store"
)

// BurnOfPlan is the burn that a plan begins: with everything that the plan
// assumed, so that one that goes as planned comes out as planned.
func BurnOfPlan(row store.Planned, now time.Time) burn.Burn {
	w := row.Burn.Wish
	coals, warmth := w.Start.Coals(w.Stove.Volume)
	if w.Body > 0 {
		warmth = w.Body
	}
	house := w.House
	if w.Help.FansOff {
		house.Fan = 0
	}
	b := burn.Burn{Stove: w.Stove, House: house, Outdoor: w.Outdoor, Room: w.Room, Coals: coals, Warmth: warmth, Window: w.Help.Window,
		Wanted: [2]float64{float64(w.Low), float64(w.High)}, Started: now.UTC().Truncate(time.Second)}
	// The weather goes by the clock: what was planned for then comes then.
	late := max(0, b.Started.Sub(row.Begins))
	if late < 2*time.Minute {
		late = 0
	}
	b.Weather = shifted(w.Weather, late)
	for _, h := range w.Beside {
		h.At -= late
		b.Beside = append(b.Beside, h)
	}
	return b
}

// shifted is the weather from a time on.
func shifted(hours []fire.Weather, by time.Duration) []fire.Weather {
	var out []fire.Weather
	for i, h := range hours {
		if i+1 < len(hours) && hours[i+1].At <= by {
			continue
		}
		h.At = max(0, h.At-by)
		if n := len(out); n > 0 && h.At <= out[n-1].At {
			continue
		}
		out = append(out, h)
	}
	return out
}

// LoadFrom is a load of pieces from a stack: the way they lie, and what kindling is lit
// with, as usual where that is not said.
func LoadFrom(stack store.Stack, st stove.Stove, pieces int, direction stove.Direction, lay fire.Lay, starter fire.Starter) *fire.Load {
	l := &fire.Load{Species: stack.Species, Moisture: stack.Moisture(), Pieces: pieces, PieceMass: stack.PieceMass, PieceLength: stack.PieceLength,
		Direction: stove.EndOn, Lay: fire.OnCoals, Kindling: stack.Kindling, StackName: stack.Name, StackID: stack.ID, Colder: stack.Colder}
	if direction == stove.Sideways || stack.PieceLength > st.LongestPiece(stove.EndOn) {
		l.Direction = stove.Sideways
	}
	if lay.Known() {
		l.Lay = lay
	}
	if stack.Kindling { // what it is lit with goes with the kindling
		l.StarterKind, l.Direction = fire.WaxBlock, stove.Sideways
		if starter.Known() {
			l.StarterKind = starter
		}
	}
	return l
}
