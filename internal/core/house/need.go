package house

import (
	"math"
	"time"

	"smolder/internal/core/units"
)

// HeatWanted returns the heat that holds a room temperature, W.
func (h House) HeatWanted(room, outdoor units.Celsius) units.Watt {
	return units.Watt(math.Max(0, h.Loss()*float64(room-outdoor)))
}

// A Forecast gives outdoors at a time from now.
type Forecast func(time.Duration) units.Celsius

// A Heater gives the heat into the room at a time from now, W.
type Heater func(time.Duration) units.Watt

// Through follows the room for a span under a heater and a forecast, every
// five minutes.
func (h House) Through(r Room, span time.Duration, heat Heater, outdoor Forecast) []Room {
	const every = 5 * time.Minute
	out := make([]Room, 0, int(span/every)+1)
	for at := time.Duration(0); at <= span; at += every {
		out = append(out, r)
		for part := range 10 { // half a minute each: the air node is quick
			now := at + time.Duration(part)*every/10
			r, _ = h.Step(r, float64(heat(now)), outdoor(now), every.Seconds()/10)
		}
	}
	return out
}

// Coast returns how long the house holds a temperature by itself, up to a
// span; when it holds all of it, it returns that.
func (h House) Coast(r Room, low units.Celsius, outdoor Forecast, span time.Duration) time.Duration {
	rooms := h.Through(r, span, func(time.Duration) units.Watt { return 0 }, outdoor)
	for i, room := range rooms {
		if room.Air < low {
			return time.Duration(i) * 5 * time.Minute
		}
	}
	return span
}

// Alone returns what the room's air comes to after a span without any heat.
func (h House) Alone(air units.Celsius, outdoor Forecast, span time.Duration) units.Celsius {
	rooms := h.Through(Settled(air), span, func(time.Duration) units.Watt { return 0 }, outdoor)
	return rooms[len(rooms)-1].Air
}
