// Package planning fills in what a household has and knows for a wish: the room as a
// thermometer has it, the wood as it lies at hand, dry before wet, what its other stoves
// give meanwhile, what this stove's burns have taught; and keeps what was found for it.
//
// Who reads the wish (a page's sentence, a program's JSON) says what of it was said; this
// says the rest, the same for both.
package planning

import (
	"context"
	"errors"
	"math"
	"time"

	"smolder/internal/app/shed"
	"smolder/internal/app/winter"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/learn"
	"smolder/internal/core/search"
	"smolder/internal/core/units"
	"smolder/internal/core/ways"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/weather"
)

// LongestPlan is how long one burn is planned for.
const LongestPlan = 14 * time.Hour

// A Household is whose wish it is. What is asked of it is asked through functions, so that a
// page asks the database for a thing once.
type Household struct {
	store.Household
	Now     time.Time // in the household's zone
	Stoves  func() ([]store.Stove, error)
	Stacks  func() ([]shed.Stack, error)
	KnownOf func(stove int64) (learn.Known, error)
	Burn    func(id int64) (store.Burn, error)
	Replays *burn.Replays

	inside winter.Inside // once it is known
}

// Room is the room of a stove as a thermometer in it has it; false where none has reported.
func (h *Household) Room(ctx context.Context, stove int64) (units.Celsius, bool, error) {
	t, read, err := h.RoomNow(ctx, stove, h.Now)
	return units.Celsius(t), read, err
}

// Pick is a stack as it would be put on, for a room and outdoors.
func (h *Household) Pick(ctx context.Context, s shed.Stack, w wish.Wish) (wish.Pick, error) {
	if h.inside == nil {
		var err error
		if h.inside, err = winter.InsideOf(ctx, h.Household, h.Now); err != nil {
			return wish.Pick{}, err
		}
	}
	return wish.Pick{ID: s.ID, Stack: h.inside.AtHand(s, w.Room, w.Outdoor, h.Now)}, nil
}

// Picks are all stacks as they would be put on.
func (h *Household) Picks(ctx context.Context, w wish.Wish) ([]wish.Pick, error) {
	stacks, err := h.Stacks()
	if err != nil {
		return nil, err
	}
	out := make([]wish.Pick, len(stacks))
	for i, s := range stacks {
		if out[i], err = h.Pick(ctx, s, w); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// All adds every other stack that suits the stove to the wish's wood.
func (h *Household) All(ctx context.Context, w *wish.Wish) error {
	return h.add(ctx, w, func(shed.Stack) bool { return true })
}

// Drier adds the dry stacks that suit to a wish for wet wood: where they are enough it is
// they that burn ([wish.Wish.Dry]). A wish for dry wood stays as it is.
func (h *Household) Drier(ctx context.Context, w *wish.Wish) error {
	if w.Wood.Stack.Moisture() <= wish.WetFrom {
		return nil
	}
	return h.add(ctx, w, func(s shed.Stack) bool { return s.Moisture() <= wish.WetFrom })
}

func (h *Household) add(ctx context.Context, w *wish.Wish, takes func(shed.Stack) bool) error {
	stacks, err := h.Stacks()
	if err != nil {
		return err
	}
	has := map[int64]bool{}
	for _, p := range w.Woods() {
		has[p.ID] = true
	}
	for _, s := range stacks {
		if has[s.ID] || s.Kindling || !takes(s) || !w.Suits(s.Wood()) {
			continue
		}
		p, err := h.Pick(ctx, s, *w)
		if err != nil {
			return err
		}
		w.Others = append(w.Others, p)
	}
	return nil
}

// Forecast takes the weather of a wish that begins at some time from a forecast that begins
// now, and returns what it is outdoors from now on.
func (h *Household) Forecast(w *wish.Wish, hours []weather.Hour, begin time.Time) func(time.Duration) units.Celsius {
	from := weather.From(hours, begin)
	w.Weather, w.Humidity = nil, 0
	for _, f := range from {
		w.Weather = append(w.Weather, fire.Weather{At: max(0, f.At.Sub(begin)), Outdoor: units.Celsius(f.Temperature), Wind: f.Wind})
		w.Humidity += units.Fraction(f.Humidity / 100 / float64(len(from)))
	}
	w.Outdoor, w.Mild = w.Weather[0].Outdoor, false
	return weather.Temperature(hours, h.Now)
}

// Coast lets the room of a wish that begins later be as it is then, left alone, with the
// temperatures outside from now on.
func (h *Household) Coast(w *wish.Wish, begin time.Time, outdoor func(time.Duration) units.Celsius) {
	if wait := begin.Sub(h.Now); wish.LeftAlone(wait) {
		w.Room = w.House.Alone(w.Room, outdoor, wait)
	}
}

// lately is how many of a stove's last burns say how low it burns clean.
const lately = 40

// Know fills in what is known of the stove, and what others in its space give meanwhile.
func (h *Household) Know(ctx context.Context, w *wish.Wish, st store.Stove, begin time.Time) error {
	known, err := h.KnownOf(st.ID)
	if err != nil {
		return err
	}
	w.Known = known.ForPlans()
	past, err := h.ReviewsBefore(ctx, st.ID, h.Now, lately)
	if err != nil {
		return err
	}
	burns := make([]ways.Burn, len(past))
	for i, r := range past {
		burns[i] = r.Compared(h.Now.Location())
	}
	w.Lowest = ways.Lowest(burns, st.Family)
	w.Beside, err = h.beside(ctx, st, begin, w.For)
	return err
}

// besideEvery is how finely the heat of another stove is told.
const besideEvery = 10 * time.Minute

// beside is what other stoves in the same space give while a wish lasts: fires that are in
// them, and plans kept for that time.
func (h *Household) beside(ctx context.Context, st store.Stove, begin time.Time, span time.Duration) ([]fire.Beside, error) {
	heats, err := h.heats(ctx, st, begin)
	if err != nil || len(heats) == 0 {
		return nil, err
	}
	var out []fire.Beside
	for at := time.Duration(0); at <= span+2*time.Hour; at += besideEvery {
		sum := 0.0
		for _, heat := range heats {
			sum += heat(begin.Add(at))
		}
		out = append(out, fire.Beside{At: at, Heat: units.Watt(math.Round(sum))})
	}
	return out, nil
}

// heats are what each other fire of a stove's space gives, W, by time.
func (h *Household) heats(ctx context.Context, st store.Stove, begin time.Time) (heats []func(time.Time) float64, err error) {
	stoves, err := h.Stoves()
	if err != nil {
		return nil, err
	}
	others := map[int64]bool{}
	for _, o := range stoves {
		if o.Space.ID == st.Space.ID && o.ID != st.ID {
			others[o.ID] = true
		}
	}
	if len(others) == 0 {
		return nil, nil
	}
	open, err := h.OpenBurns(ctx)
	if err != nil {
		return nil, err
	}
	for _, o := range open {
		if !others[o.StoveID] {
			continue
		}
		heat, err := h.heatOf(o)
		if errors.Is(err, store.ErrUnreadable) {
			continue // nobody knows what it gives
		}
		if err != nil {
			return nil, err
		}
		heats = append(heats, heat)
	}
	planned, err := h.KeptPlans(ctx, begin.Add(-LongestPlan))
	for _, k := range planned {
		if others[k.StoveID] && k.Burn != nil {
			heats = append(heats, func(t time.Time) float64 { return k.Burn.HeatAt(t.Sub(k.Begins)) })
		}
	}
	return heats, err
}

// diesWithin is how soon a fire without a plan is taken to give 1/e of its heat.
const diesWithin = 2 * time.Hour

// heatOf is what a fire that is in gives from now on: as planned, or else dying down from
// what the replay has.
func (h *Household) heatOf(open store.Burn) (func(time.Time) float64, error) {
	if open.Plan != nil {
		return func(t time.Time) float64 { return open.Plan.HeatAt(t.Sub(open.Started)) }, nil
	}
	b, err := h.Burn(open.ID)
	if err != nil {
		return nil, err
	}
	if !b.Simulated() {
		return func(time.Time) float64 { return 0 }, nil
	}
	last := 0.0
	if samples := h.Replays.Replay(b.Burn, h.Now).Samples; len(samples) > 0 {
		last = float64(samples[len(samples)-1].ToRoom)
	}
	return func(t time.Time) float64 {
		return last * math.Exp(-math.Max(0, t.Sub(h.Now).Hours())/diesWithin.Hours())
	}, nil
}

// An Asked is what plans are kept with.
type Asked struct {
	Stove  int64
	Name   string // of the choice, one for all its plans
	Query  string // the sentence as a page has it; empty: a program asked
	Begins time.Time
	Locale lang.Locale
}

// Keep gives the plans of a choice their rows, the best first, and returns their numbers.
func (h *Household) Keep(ctx context.Context, c search.Choice, a Asked) ([]int64, error) {
	rows := make([]store.Planned, len(c.Plans))
	for i := range c.Plans {
		rows[i] = store.Planned{StoveID: a.Stove, Choice: a.Name, Place: i, Burn: &c.Plans[i], Asked: a.Query,
			Sentence: say.Plan(c.Plans[i], a.Locale), Begins: a.Begins, Made: h.Now}
	}
	return h.KeepPlans(ctx, rows)
}
