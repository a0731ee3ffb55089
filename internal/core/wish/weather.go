package wish

import (
	"math"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/units"
)

// Alone returns how long the room stays in the wanted band by itself, at most as
// long as the wish: whether to light at all, and when.
func (w Wish) Alone() time.Duration {
	return w.House.Coast(house.Settled(w.Room), w.Low, w.OutdoorAt, w.For)
}

// Unlit is the room at the wish's end, without a fire.
func (w Wish) Unlit() units.Celsius { return w.House.Alone(w.Room, w.OutdoorAt, w.For) }

// worthWaiting is how long a room must hold by itself for lighting later to be
// worth a word.
const worthWaiting = time.Hour

// BesideAt is the heat of another stove at a time, W.
func (w Wish) BesideAt(at time.Duration) float64 {
	for i := 1; i < len(w.Beside); i++ {
		if a, b := w.Beside[i-1], w.Beside[i]; a.At <= at && at < b.At {
			return float64(a.Heat)
		}
	}
	return 0
}

// OutdoorAt is the outdoor temperature at a time of the wish.
func (w Wish) OutdoorAt(at time.Duration) units.Celsius {
	t := w.Outdoor
	for _, h := range w.Weather {
		if h.At <= at {
			t = h.Outdoor
		}
	}
	return t
}

// WeatherFrom is the weather from a time on.
func WeatherFrom(hours []fire.Weather, from time.Duration) []fire.Weather {
	var out []fire.Weather
	for i, h := range hours {
		if h.At < from && i+1 < len(hours) && hours[i+1].At <= from {
			continue
		}
		h.At = max(0, h.At-from)
		out = append(out, h)
	}
	return out
}

// BesideFrom is the heat of another stove from a time on.
func BesideFrom(points []fire.Beside, from time.Duration) []fire.Beside {
	out := make([]fire.Beside, len(points))
	for i, p := range points {
		p.At -= from
		out[i] = p
	}
	return out
}

// MeanOutdoor is the outdoor temperature over the wish.
func (w Wish) MeanOutdoor() units.Celsius {
	sum, n := 0.0, 0.0
	for at := time.Duration(0); at < w.For; at += 30 * time.Minute {
		sum, n = sum+float64(w.OutdoorAt(at)), n+1
	}
	if n == 0 {
		return w.Outdoor
	}
	return units.Celsius(sum / n)
}

// ToWarm is how long a stove that gives at most so much takes to warm the room
// from where it is at the wish's end; false: over four hours.
func (w Wish) ToWarm(from units.Celsius, most units.Watt) (time.Duration, bool) {
	const step = 5 * time.Minute
	outdoor := w.OutdoorAt(w.For)
	room := house.Even(from)
	for at := time.Duration(0); at < 4*time.Hour; at += step {
		if room.Air >= w.Low {
			return at, true
		}
		// The stove itself is warm after most of an hour.
		heat := float64(most) * math.Min(1, at.Minutes()/50)
		for range 10 {
			room, _ = w.House.Step(room, heat, outdoor, step.Seconds()/10)
		}
	}
	return 0, false
}

// A Lull is how long a room does without a fire.
type Lull string

// The lulls.
const (
	NoLull  Lull = ""       // a fire is wanted now
	Wait    Lull = "wait"   // for some time
	AllTime Lull = "always" // longer than the wish
)

// Lull tells whether the room needs a fire at all, and for how long it does not.
func (w Wish) Lull() (Lull, time.Duration) {
	alone := w.Alone()
	switch {
	case w.Aim == DryOut || alone < worthWaiting:
		return NoLull, alone
	case alone >= w.For:
		return AllTime, alone
	}
	return Wait, alone
}

// LeftAlone tells whether the room is left alone until a burn that begins after
// a wait, so that it cools until then. Overnight there will be another fire.
func LeftAlone(wait time.Duration) bool {
	const soon, night = 10 * time.Minute, 8 * time.Hour
	return wait >= soon && wait <= night
}
