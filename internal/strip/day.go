package strip

import (
	"time"

	"smolder/internal/core/day"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// OfDay puts a day's loads and its room on a strip.
func OfDay(d day.Day, v View) Chart {
	c := Chart{ID: "day", Title: v.Locale.T("The day's fires: loads and room over time"), Locale: v.Locale, Zone: v.Zone, Start: v.Start, Clock: true,
		To: time.Duration(len(d.Room)) * d.Every, Wanted: [2]units.Celsius{d.Wish.Low, d.Wish.High}}
	room := Pen{Place: stove.RoomAir, Planned: true}
	for i, t := range d.Room {
		room.Points = append(room.Points, Point{At: time.Duration(i) * d.Every, V: float64(t)})
	}
	c.Pens = append(c.Pens, room)
	for _, win := range d.Windows {
		f := win.Fire
		c.Fuel = append(c.Fuel, Block{At: win.Best, Mass: f.Mass(), Pieces: f.Pieces(), Moisture: f.MainOf.Stack.Moisture(),
			Label: v.Locale.Mass(f.Mass()), Planned: true})
	}
	addPresence(&c, d.Wish.There)
	return c
}
