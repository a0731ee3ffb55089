// Package day strings burns together: when a load is due, over a day in which
// the room is kept in its band, and what is to be done now.
package day

import (
	"context"
	"errors"
	"math"
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/plan"
	"smolder/internal/core/reason"
	"smolder/internal/core/search"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
)

// A Window is when a load is due in a day of cycles: not before, best, not
// after, since the beginning of the day's plan.
type Window struct {
	From  time.Duration
	Best  time.Duration
	Until time.Duration
	Fire  plan.Plan // the burn that begins then
	Night bool      // it is for the night, or an absence as long
}

// A Day is a schedule of cycles that keeps the room in its band, or says what
// it cannot.
type Day struct {
	Wish    wish.Wish
	Windows []Window
	Room    []units.Celsius // at every step
	Every   time.Duration
	Wood    units.Kilogram

	Missed  int           // steps in which a load was due and nobody there
	Refused *wish.Refusal // of the last load that was due and could not be planned
	Cold    float64       // under the band
	Hot     float64       // over it
}

// RefusedThen is the reason of a day that was kept before reasons had codes: the
// sentence it was given.
const RefusedThen reason.Code = "day/refused-then" // the sentence

const (
	every     = 10 * time.Minute // between two looks at the room
	part      = every / 20       // of a step in which the room is followed
	longFire  = 5 * time.Hour    // that one burn of a day is planned for, at most
	shortFire = 2 * time.Hour    // and at least
	coalsWait = time.Hour        // that the coals a day begins with wait for its first load
	early     = 20 * time.Minute // before its best time that a load may go on
	lateBy    = 40 * time.Minute // and after; the first of a day half as much
	tryAgain  = time.Hour        // after a load that could not be planned
	warmingUp = 3 * time.Hour    // at the beginning, in which no cold counts
	due       = 0.3              // K over the low end, at which a load is due
)

// Plan strings burns together over a span: a fire when the room is about to
// leave its band, then a load each time it is again, the coals allow it and
// somebody is there. Each load is the lightest of the usual ones that keeps the
// room until the next window, of what is left of the stacks; none is planned
// while the room is warm enough, so that in mild weather there are gaps between
// small hot fires, or no fire at all, and none that would only begin to warm when
// the day is over. The error is a *[wish.Refusal] when no fire of the day can be
// planned, or the context's.
func Plan(ctx context.Context, w wish.Wish, span time.Duration, effort search.Effort, m *search.Meter) (Day, error) {
	if err := check(w); err != nil {
		return Day{}, err
	}
	r := run{ctx: ctx, Day: Day{Every: every, Wish: w}, w: w, span: span, effort: effort, meter: m, room: house.Settled(w.Room)}
	for at := time.Duration(0); at < span; at += every {
		r.Room = append(r.Room, r.room.Air)
		if n, due := r.nightDue(at); due {
			if err := r.bank(at, n); err != nil {
				return Day{}, err
			}
		}
		if r.due(at) {
			if err := r.load(at); err != nil {
				return Day{}, err
			}
		}
		r.warm(at)
	}
	if r.burning == nil && r.Refused != nil {
		return Day{}, r.Refused
	}
	r.tally()
	return r.Day, nil
}

// check refuses a wish that no fire of a day could answer; when somebody is
// there is for each fire to see.
func check(w wish.Wish) error {
	w.There = nil
	return w.Check()
}

// run is a day while it is planned: what is left of the wood, the room, and the
// fire that burns.
type run struct {
	Day
	ctx     context.Context
	w       wish.Wish
	span    time.Duration
	effort  search.Effort
	meter   *search.Meter
	room    house.Room
	burning *plan.Plan
	begun   time.Duration
	banked  time.Duration // until when a night is provided for
	retry   time.Duration // when a load is tried again that could not be planned
}

// due tells whether a load is: the room is about to leave its band, there is
// time for one, and the fire before has gone to coals.
func (r *run) due(at time.Duration) bool {
	if r.room.Air >= r.w.Low+due || r.span-at < plan.LoadTakes {
		return false
	}
	since := at - r.begun
	return r.burning == nil || since > time.Hour && r.burning.BurntDown(since)
}

// load plans the burn that begins now, where somebody is there for it.
func (r *run) load(at time.Duration) error {
	by, somebody := r.w.There.At(at)
	switch {
	case at < r.banked && !somebody:
		return nil // the night is provided for
	case !somebody || by.To-at < plan.LoadTakes:
		r.Missed++
		return nil
	case at < r.retry:
		return nil
	}
	next := r.wishAt(at)
	var p plan.Plan
	var err error
	n, night := r.nightAfter(at)
	banked := false
	if night && r.banked < n.until && n.load-at <= longFire && r.alone(at, n.until) < r.w.Low-holdsAlone {
		p, banked, err = r.evening(at, next, n)
	} else {
		p, err = search.Best(r.ctx, next, r.effort, r.meter)
	}
	var refused *wish.Refusal
	if errors.As(err, &refused) {
		r.Refused, r.retry = refused, at+tryAgain
		return nil
	}
	if err != nil {
		return err
	}
	win := window(at, by, p)
	if win.Night = banked; banked {
		r.banked = n.until
	}
	r.took(win, next)
	return nil
}

// took is a load that is planned: what it burns is gone from the stacks.
func (r *run) took(win Window, asked wish.Wish) {
	r.Windows = append(r.Windows, win)
	r.Wood += win.Fire.Mass()
	r.w.Wood, r.w.Others, r.w.Kindling = left(asked, win.Fire)
	r.burning, r.begun = &win.Fire, win.Best
}

// window is when a load is due. Nobody loads before they are there, or so late
// that they have to go.
func window(at time.Duration, by when.Span, p plan.Plan) Window {
	late := lateBy
	if at == 0 {
		late /= 2
	}
	return Window{From: max(0, at-early, by.From), Best: at, Until: max(at, min(at+late, by.To-plan.LoadTakes)), Fire: p}
}

// wishAt is the wish as it stands at a later time of the day.
func (r *run) wishAt(at time.Duration) wish.Wish {
	w := r.w
	w.Room, w.Aim, w.OneLoad = r.room.Air, wish.Hold, true
	w.Weather, w.Beside, w.There = wish.WeatherFrom(w.Weather, at), wish.BesideFrom(w.Beside, at), w.There.After(at)
	w.For = min(max(shortFire, r.span-at), longFire)
	switch since := at - r.begun; {
	case r.burning != nil:
		w.Start, w.Body = r.burning.StartAt(since), r.burning.BodyAt(since, w.Room)
	case at > coalsWait:
		w.Start, w.Body = wish.Cold, 0
	}
	if len(w.Weather) > 0 {
		w.Outdoor = w.Weather[0].Outdoor
	}
	return w
}

// warm moves the room by a step.
func (r *run) warm(at time.Duration) {
	outdoor, heat := r.w.OutdoorAt(at), r.w.BesideAt(at)
	if r.burning != nil {
		heat += r.burning.HeatAt(at - r.begun + every/2)
	}
	for range every / part {
		r.room, _ = r.w.House.Step(r.room, heat, outdoor, part.Seconds())
	}
}

// left is what a plan leaves of the stacks at hand; one that is used up is no
// choice any more, as long as there is another.
func left(w wish.Wish, p plan.Plan) (first wish.Pick, others []wish.Pick, kindling *wish.Pick) {
	from := func(pick *wish.Pick, load fire.Load) {
		if load.Pieces > 0 && pick.ID == load.StackID && pick.Stack.Name == load.StackName {
			pick.Stack.Mass = max(0, pick.Stack.Mass-load.Mass())
		}
	}
	first, others = w.Wood, slices.Clone(w.Others)
	for _, load := range p.AllLoads() {
		from(&first, load)
		for i := range others {
			from(&others[i], load)
		}
	}
	usedUp := func(p wish.Pick) bool { return p.Stack.Pieces() < 1 }
	others = slices.DeleteFunc(others, usedUp)
	if usedUp(first) && len(others) > 0 {
		first, others = others[0], others[1:]
	}
	if w.Kindling != nil {
		k := *w.Kindling
		from(&k, p.Kindling)
		kindling = &k
	}
	return first, others, kindling
}

// tally adds up the kelvin-hours outside the band; the first hours warm up.
func (r *run) tally() {
	for i, t := range r.Room {
		if time.Duration(i)*every > warmingUp {
			r.Cold += math.Max(0, float64(r.w.Low-t)) * every.Hours()
		}
		r.Hot += math.Max(0, float64(t-r.w.High)) * every.Hours()
	}
}
