package kit

import (
	"errors"
	"time"

	"smolder/internal/app/shed"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
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
		Wanted: [2]float64{float64(w.Low), float64(w.High)}, Started: now.UTC().Truncate(time.Second),
		RoomUnknown: w.Feels, OutdoorUnknown: w.Mild}
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
func LoadFrom(stack shed.Stack, st stove.Stove, pieces int, direction stove.Direction, lay fire.Lay, starter fire.Starter) *fire.Load {
	l := &fire.Load{Species: stack.Species, Moisture: stack.Moisture(), Pieces: pieces, PieceMass: stack.PieceMass, PieceLength: stack.PieceLength,
		Direction: stove.EndOn, Lay: fire.OnCoals, Kindling: stack.Kindling, StackName: stack.Name, StackID: stack.ID, Colder: stack.Colder,
		Spread: stack.Spread, Guessed: stack.Takes("reading")}
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

const (
	// leftFor is for how long what a fire has left lies there: by then somebody has looked.
	leftFor = 72 * time.Hour
	// leastLeft is how much wood is worth a line, kg oven-dry.
	leastLeft = 0.15
	// leftMoisture is how dry wood is that has lain in a warm stove.
	leftMoisture = 0.12
)

// LeftOver is the wood that the fire before has left in a stove unburnt, as an entry of the
// next: it burns there and was counted when it was put on, so that no stack loses it twice.
// Whoever has taken it out undoes the entry.
func (q *Request) LeftOver(stoveID int64, now time.Time) ([]burn.Entry, error) {
	before, err := q.Home.ReviewsBefore(q.Ctx(), stoveID, now, 1)
	if err != nil || len(before) == 0 {
		return nil, err
	}
	r := before[0].Review()
	if !r.Simulated || float64(r.Unburnt) < leastLeft || now.Sub(before[0].Started.Add(r.Length)) > leftFor {
		return nil, nil
	}
	b, err := q.Home.LoggedBurn(q.Ctx(), before[0].Burn)
	if errors.Is(err, store.ErrUnreadable) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	last, ok := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling })
	if !ok {
		return nil, nil
	}
	l := *last.Load
	mass := r.Unburnt * (1 + leftMoisture)
	l.StackID, l.StackName, l.Moisture, l.Lay, l.Starter, l.StarterKind, l.Colder = 0, fire.LeftOver, leftMoisture, fire.OnCoals, 0, "", 0
	l.Pieces = min(l.Pieces, max(1, int(float64(mass/l.PieceMass)+0.5)))
	l.PieceMass = mass / units.Kilogram(l.Pieces)
	return []burn.Entry{{ID: NewEntryID(), At: now, Kind: burn.Load, Load: &l}}, nil
}
