package plan

import (
	"fmt"
	"math"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/units"
)

// A Window is when a load is due in a day of cycles: not before, best, not
// after, since the beginning of the day's plan.
type Window struct {
	From, Best, Until time.Duration
	Pieces            int
	Mass              units.Kilogram
	Final             float64
	What              string // "light from cold", "load on the coals"
	Cold              bool   // with kindling
	Somebody          bool   // is there then
}

// A Day is a schedule of cycles that keeps the room in its band, or says what
// it cannot.
type Day struct {
	Windows []Window
	Room    []units.Celsius // every ten minutes
	Every   time.Duration
	Wood    units.Kilogram
	Says    []string
}

// A Presence tells whether somebody is there at a time since the beginning.
type Presence func(time.Duration) bool

// PlanDay strings burns together over a span: a first plan, then a load each
// time the room is about to leave its band, the coals allow it and somebody is
// there. Each load is the lightest of the usual ones that keeps the room until
// the next window; none is planned while the room is warm enough, so that in
// mild weather there are gaps between small hot fires.
func PlanDay(w Wish, span time.Duration, there Presence) (Day, error) {
	first, err := Make(w)
	if err != nil {
		return Day{}, err
	}
	d := Day{Every: 10 * time.Minute}
	d.Windows = append(d.Windows, Window{Until: 20 * time.Minute, Pieces: first.Pieces(), Mass: first.Mass(), Final: first.Final, What: startWords(w.Start), Cold: w.Start == Cold, Somebody: there(0)})
	d.Wood = first.Mass()
	room := house.Room{Air: w.Room, Mass: w.Room - 0.7}
	heat, coals, body := first.heat(), first.coalsUntil(), first.bodyAt
	begun := time.Duration(0)
	missed := 0
	for at := time.Duration(0); at < span; at += d.Every {
		d.Room = append(d.Room, room.Air)
		since := at - begun
		since = since.Round(time.Minute)
		if due := room.Air < w.Low+0.3 && since > time.Hour && burntDown(heat, since); due {
			if !there(at) {
				missed++
			} else {
				again := w
				again.Room, again.For, again.Weather = room.Air, min(max(2*time.Hour, span-at), 5*time.Hour), later(w.Weather, at)
				again.Start, again.Aim, again.Body = coals.at(since), Hold, body(since, room.Air)
				if len(again.Weather) > 0 {
					again.Outdoor = again.Weather[0].Outdoor
				}
				next, err := Make(again)
				if err == nil {
					d.Windows = append(d.Windows, Window{From: max(0, at-20*time.Minute), Best: at, Until: at + 40*time.Minute, Pieces: next.Pieces(), Mass: next.Mass(), Final: next.Final,
						What: startWords(again.Start), Cold: again.Start == Cold, Somebody: true})
					d.Wood += next.Mass()
					heat, coals, body, begun = next.heat(), next.coalsUntil(), next.bodyAt, at
					since = 0
				}
			}
		}
		outdoor := w.outdoorAt(at)
		for range 20 {
			room, _ = w.House.Step(room, heat(since+d.Every/2), outdoor, d.Every.Seconds()/20)
		}
	}
	d.says(w, missed)
	return d, nil
}

func startWords(s Start) string {
	if s == Cold {
		return "light from cold"
	}
	return "load on the coals"
}

// heat returns the plan's heat into the room over its time, W; beyond its end
// the stove cools.
func (p Plan) heat() func(time.Duration) float64 {
	return func(at time.Duration) float64 {
		i := int(at / p.Predicted.Every)
		if i < len(p.Predicted.Heat) {
			return p.Predicted.Heat[i]
		}
		if n := len(p.Predicted.Heat); n > 0 {
			over := (at - time.Duration(n)*p.Predicted.Every).Hours()
			return p.Predicted.Heat[n-1] * math.Exp(-over/2)
		}
		return 0
	}
}

// bodyAt returns how warm the stove is at a time; beyond the plan's end it
// cools towards the room.
func (p Plan) bodyAt(at time.Duration, room units.Celsius) units.Celsius {
	i := int(at / p.Predicted.Every)
	if n := len(p.body); i >= n && n > 0 {
		over := (at - time.Duration(n)*p.Predicted.Every).Hours()
		return room + (p.body[n-1]-room)*units.Celsius(math.Exp(-over/2))
	} else if n == 0 {
		return room
	}
	return p.body[i]
}

// burntDown tells whether the heat has fallen to a third of its peak: the wood
// has gone to coals.
func burntDown(heat func(time.Duration) float64, at time.Duration) bool {
	peak := 0.0
	for t := time.Duration(0); t <= at; t += 10 * time.Minute {
		peak = math.Max(peak, heat(t))
	}
	return heat(at) < peak/2
}

// coalBed tells what a later load finds.
type coalBed struct {
	every time.Duration
	kilos []float64
	small float64
}

func (p Plan) coalsUntil() coalBed {
	return coalBed{p.Predicted.Every, p.Predicted.Coals, float64(p.Wish.Stove.Volume) / 55}
}

func (c coalBed) at(t time.Duration) Start {
	kilos := 0.0
	if i := int(t / c.every); i < len(c.kilos) {
		kilos = c.kilos[i]
	} else if n := len(c.kilos); n > 0 {
		kilos = c.kilos[n-1] * math.Exp(-(t-time.Duration(n)*c.every).Hours()/3)
	}
	switch {
	case kilos > 0.5*c.small:
		return GoodCoals
	case kilos > 0.15*c.small:
		return FewCoals
	}
	return Cold
}

// later is the weather from a time on.
func later(hours []fire.Weather, from time.Duration) []fire.Weather {
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

func (w Wish) outdoorAt(at time.Duration) units.Celsius {
	t := w.Outdoor
	for _, h := range w.Weather {
		if h.At <= at {
			t = h.Outdoor
		}
	}
	return t
}

// says puts into words what the day comes to.
func (d *Day) says(w Wish, missed int) {
	cold, hot := 0.0, 0.0
	for i, t := range d.Room {
		if i > 18 { // the first hours warm up
			cold += math.Max(0, float64(w.Low-t)) * d.Every.Hours()
		}
		hot += math.Max(0, float64(t-w.High)) * d.Every.Hours()
	}
	if missed > 0 {
		d.Says = append(d.Says, fmt.Sprintf("For about %s the room wants a load while nobody is there: it coasts.", units.Duration(time.Duration(missed)*d.Every)))
	}
	if cold > 3 {
		d.Says = append(d.Says, fmt.Sprintf("The room is under the wanted band for %.0f degree-hours: other heating, or more insulation, would give the rest.", cold))
	}
	if hot > 3 {
		d.Says = append(d.Says, fmt.Sprintf("It is over the band for %.0f degree-hours: smaller fires further apart, or a window.", hot))
	}
	if len(d.Says) == 0 {
		d.Says = append(d.Says, "The room stays in its band.")
	}
}
