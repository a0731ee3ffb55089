package plan

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/units"
)

// A Window is when a load is due in a day of cycles: not before, best, not
// after, since the beginning of the day's plan.
type Window struct {
	From  time.Duration `json:"from"`
	Best  time.Duration `json:"best"`
	Until time.Duration `json:"until"`
	What  string        `json:"what"` // "light from cold", "load on the coals"
	Fire  Plan          `json:"fire"` // the burn that begins then
}

// A Day is a schedule of cycles that keeps the room in its band, or says what
// it cannot.
type Day struct {
	Wish    Wish            `json:"wish"`
	Windows []Window        `json:"windows"`
	Room    []units.Celsius `json:"room_c"` // every ten minutes
	Every   time.Duration   `json:"every"`
	Wood    units.Kilogram  `json:"wood_kg"`

	Missed  int                      `json:"missed"`            // steps of Every in which a load was due and nobody there
	Refused map[units.System]Refusal `json:"refused,omitempty"` // the last load that was due and could not be planned
	Cold    float64                  `json:"cold_kelvin_hours"` // outside the band
	Hot     float64                  `json:"hot_kelvin_hours"`
}

const (
	dayEvery = 10 * time.Minute
	longFire = 5 * time.Hour // that one burn of a day is planned for
)

// PlanDay strings burns together over a span: a fire when the room is about to
// leave its band, then a load each time it is again, the coals allow it and
// somebody is there. Each load is the lightest of the usual ones that keeps the
// room until the next window, of what is left of the stacks; none is planned
// while the room is warm enough, so that in mild weather there are gaps between
// small hot fires, or no fire at all, and none that would only begin to warm when
// the day is over. The error is a *[Refusal] when no fire of the day can be
// planned, or the context's.
func PlanDay(ctx context.Context, w Wish, span time.Duration, m *Meter) (Day, error) {
	if err := w.checkDay(); err != nil {
		return Day{}, err
	}
	d := Day{Every: dayEvery, Wish: w}
	var refused *Refusal
	room := house.Room{Air: w.Room, Mass: w.Room - 0.7}
	var burning *Plan
	begun, retry := time.Duration(0), time.Duration(0)
	for at := time.Duration(0); at < span; at += d.Every {
		d.Room = append(d.Room, room.Air)
		since := at - begun
		if room.Air < w.Low+0.3 && span-at >= loadTakes && (burning == nil || since > time.Hour && burntDown(burning.heatAt, since)) {
			switch by, somebody := w.There.at(at); {
			case !somebody || by.To-at < loadTakes:
				d.Missed++
			case at >= retry:
				again := w.at(at, burning, since, room.Air)
				again.For, again.single = min(max(2*time.Hour, span-at), longFire), true
				next, err := d.light(ctx, &again, at, by, m)
				if errors.As(err, &refused) {
					retry = at + time.Hour
					break
				}
				if err != nil {
					return Day{}, err
				}
				burning, begun, since = &next, at, 0
				w.Wood, w.Others, w.Kindling = again.Wood, again.Others, again.Kindling
			}
		}
		outdoor, heat := w.outdoorAt(at), w.besideAt(at)
		if burning != nil {
			heat += burning.heatAt(since + d.Every/2)
		}
		for range 20 {
			room, _ = w.House.Step(room, heat, outdoor, d.Every.Seconds()/20)
		}
	}
	if burning == nil && refused != nil {
		return Day{}, refused
	}
	if refused != nil {
		d.Refused = map[units.System]Refusal{units.Metric: *refused.In(units.Metric), units.Imperial: *refused.In(units.Imperial)}
	}
	d.tally(w)
	return d, nil
}

// checkDay refuses a wish that no fire of a day could answer; when somebody is
// there is for each fire to see.
func (w Wish) checkDay() error {
	w.There = nil
	return w.check()
}

// light plans a fire at a time of the day, while somebody is by the stove, and takes its wood from the wish's
// stacks.
func (d *Day) light(ctx context.Context, w *Wish, at time.Duration, by Span, m *Meter) (Plan, error) {
	p, err := best(ctx, *w, m)
	if err != nil {
		return Plan{}, err
	}
	win := Window{From: max(0, at-20*time.Minute), Best: at, Until: at + 40*time.Minute, What: startWords(w.Start), Fire: p}
	if at == 0 {
		win.Until = 20 * time.Minute
	}
	// Nobody loads before they are there, or so late that they have to go.
	win.From, win.Until = max(win.From, by.From), max(at, min(win.Until, by.To-loadTakes))
	d.Windows = append(d.Windows, win)
	d.Wood += p.Mass()
	w.take(p)
	return p, nil
}

// coalsWait is how long the coals that a day begins with wait for its first load.
const coalsWait = time.Hour

// at is the wish as it stands at a later time of the day, since after the last
// fire began; nil is none yet.
func (w Wish) at(at time.Duration, burning *Plan, since time.Duration, room units.Celsius) Wish {
	w.Room, w.Weather, w.There, w.Aim = room, later(w.Weather, at), w.There.After(at), Hold
	w.Beside = besideFrom(w.Beside, at)
	switch {
	case burning != nil:
		w.Start, w.Body = burning.coalsUntil().at(since), burning.bodyAt(since, room)
	case at > coalsWait:
		w.Start, w.Body = Cold, 0
	}
	if len(w.Weather) > 0 {
		w.Outdoor = w.Weather[0].Outdoor
	}
	return w
}

// take takes a plan's wood from the stacks at hand; one that is used up is no
// choice any more, as long as there is another.
func (w *Wish) take(p Plan) {
	from := func(pick *Pick, load fire.Load) {
		if load.Pieces > 0 && pick.ID == load.StackID && pick.Stack.Name == load.StackName {
			pick.Stack.Mass = max(0, pick.Stack.Mass-load.Mass())
		}
	}
	w.Others = append([]Pick(nil), w.Others...)
	for _, load := range p.AllLoads() {
		from(&w.Wood, load)
		for i := range w.Others {
			from(&w.Others[i], load)
		}
	}
	usedUp := func(p Pick) bool { return p.Stack.Pieces() < 1 }
	w.Others = slices.DeleteFunc(w.Others, usedUp)
	if usedUp(w.Wood) && len(w.Others) > 0 {
		w.Wood, w.Others = w.Others[0], w.Others[1:]
	}
	if w.Kindling != nil {
		kindling := *w.Kindling
		from(&kindling, p.Kindling)
		w.Kindling = &kindling
	}
}

func startWords(s Start) string {
	switch {
	case s == Cold:
		return "light from cold"
	case s.few():
		return "restart on few coals"
	}
	return "load on the coals"
}

// HeatAt returns what the plan gives the room at a time since its beginning, W;
// before it nothing.
func (p Plan) HeatAt(at time.Duration) float64 {
	if at < 0 || p.Predicted.Every <= 0 {
		return 0
	}
	return p.heatAt(at)
}

// heatAt returns the plan's heat into the room at a time, W; beyond its end the
// stove cools.
func (p Plan) heatAt(at time.Duration) float64 {
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

// burntDown tells whether the heat has fallen to half of its peak: the wood
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
	return startFor(kilos, c.small)
}

// startFor is what so many coals are called, kg, in a stove of small times 55 L.
func startFor(kilos, small float64) Start {
	switch {
	case kilos > 0.5*small:
		return GoodCoals
	case kilos > 0.22*small:
		return LayerCoals
	case kilos > 0.07*small:
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

// besideFrom is the heat of another stove from a time on.
func besideFrom(points []fire.Beside, from time.Duration) []fire.Beside {
	out := make([]fire.Beside, len(points))
	for i, p := range points {
		p.At -= from
		out[i] = p
	}
	return out
}

// besideAt is the heat of another stove at a time, W.
func (w Wish) besideAt(at time.Duration) float64 {
	for i := 1; i < len(w.Beside); i++ {
		if a, b := w.Beside[i-1], w.Beside[i]; a.At <= at && at < b.At {
			return float64(a.Heat)
		}
	}
	return 0
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

// tally adds up the degree-hours outside the band.
func (d *Day) tally(w Wish) {
	for i, t := range d.Room {
		if i > 18 { // the first hours warm up
			d.Cold += math.Max(0, float64(w.Low-t)) * d.Every.Hours()
		}
		d.Hot += math.Max(0, float64(t-w.High)) * d.Every.Hours()
	}
}

// Say puts into words what the day comes to.
func (d Day) Say(sys units.System) []string {
	var out []string
	if d.Missed > 0 {
		out = append(out, fmt.Sprintf("For about %s the room wants a load while nobody is there long enough to see one burn: it coasts.", units.Duration(time.Duration(d.Missed)*d.Every)))
	}
	if r, ok := d.Refused[sys]; ok {
		out = append(out, "A load was due and none could be planned: "+units.LowerFirst(r.Why))
	}
	if d.Cold > 3 {
		out = append(out, fmt.Sprintf("The room is under the wanted band for %s: other heating, or more insulation, would give the rest.", degreeHours(d.Cold, 0, sys)))
	}
	if d.Hot > 3 {
		out = append(out, fmt.Sprintf("It is over the band for %s: smaller fires further apart, or a window.", degreeHours(d.Hot, 0, sys)))
	}
	switch {
	case len(d.Windows) == 0 && d.Missed == 0:
		out = append(out, "No fire is needed: the room stays in its band by itself.")
	case len(out) == 0:
		out = append(out, "The room stays in its band.")
	}
	return out
}
