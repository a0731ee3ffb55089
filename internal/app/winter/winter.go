// Package winter puts together what a household's wood and winter are reckoned from: its
// stacks with how dry they are and become, the heat that its spaces lose, what was burnt
// lately and at which hours. What follows from it is worked out in package season.
package winter

import (
	"context"
	"math"
	"time"

	"smolder/internal/app/shed"
	"smolder/internal/core/drying"
	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/learn"
	"smolder/internal/core/season"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/store"
)

// A Winter is a household's heating season: the one that is, or else the next.
type Winter struct {
	Climate    drying.Climate
	Now        time.Time
	Placed     bool      // Climate is by what it was outside at the burns of the last years
	Start, End time.Time // of the season; both zero where there is none
	From       time.Time // the later of Start and Now: what is asked from then on
	Use        season.Use
	Known      bool // the use is by what was burnt lately, and not what is usual
	Woods      []season.Fuelwood
	Stacks     []shed.Stack // those of Woods, in the same order
	Kindling   []shed.Stack
	All        []shed.Stack // every stack that there is
	Shares     season.Shares
	Lately     store.Lately
	Behind     int     // earlier winters that the use goes by as well
	Weighed    Weighed // the wood of Lately, as it was logged
	Unasked    int64   // a space of which nobody has said how large its heated floor is, or what else heats it, and it matters; 0: none
	Unlogged   wood.Unlogged
	First      int // of Woods, that the first splits on the kindling are of; -1: none
	Efficiency season.About
	Weeks      float64 // of which Lately is
}

const (
	seasonsBack     = 3 * 365 * 24 * time.Hour
	lookBack        = 6 * 7 * 24 * time.Hour
	usualEfficiency = 0.72 // net, of stoves that nobody has looked back at; 0.6 to 0.8
	effDoubt        = 0.08
	lossDoubt       = 0.3 // of the logarithm, of a space by its shell (computation: 1.4)
	learnedDoubt    = 0.1
	wintersBack     = 3 // that are looked at
	leastOfWinter   = 8 * 7 * 24 * time.Hour
	leastInWinter   = 10 // burns: fewer is a winter that was not logged
	never           = 40 * 365 * 24 * time.Hour
	tenthToTenth    = 2.5631 // standard deviations between the first tenth and the last
)

// Given is what whoever asks has at hand already.
type Given struct {
	Wood   shed.Wood
	Stoves []store.Stove
	Known  map[int64]learn.Known // by stove; nothing of one is known where it is missing
}

// For asks for all that it is reckoned from.
func For(ctx context.Context, s *shed.Shed, h store.Household, now time.Time) (Winter, error) {
	var given Given
	var err error
	if given.Wood, err = s.Of(ctx, h, now); err != nil {
		return Winter{}, err
	}
	if given.Stoves, err = h.Stoves(ctx); err != nil {
		return Winter{}, err
	}
	if given.Known, err = h.KnownOfAll(ctx, now); err != nil {
		return Winter{}, err
	}
	return Of(ctx, h, given, now)
}

// Of gathers it at a moment, in the household's zone.
func Of(ctx context.Context, h store.Household, given Given, now time.Time) (Winter, error) {
	w := Winter{Climate: drying.At(now.Location()), Now: now, Shares: season.UsualShares}
	seen, err := h.OutdoorWeeks(ctx, now.Add(-seasonsBack))
	if err != nil {
		return w, err
	}
	weeks := make([]season.Seen, len(seen))
	for i, s := range seen {
		weeks[i] = season.Seen{At: s.At, Air: units.Celsius(s.Air)}
	}
	w.Climate, w.Placed = season.LearnClimate(w.Climate, weeks)
	w.Start, w.End = season.Span(w.Climate, now)
	if w.From = w.Start; now.After(w.From) {
		w.From = now
	}
	w.All, w.Unlogged = given.Wood.Stacks, given.Wood.Unlogged
	w.stacks(w.All)
	err = w.use(ctx, h, given)
	w.keepApart()
	return w, err
}

// stacks sorts the wood: what heats, and what lights.
func (w *Winter) stacks(all []shed.Stack) {
	for _, s := range all {
		switch {
		case s.Species.Mineral || s.Mass <= 0:
		case s.Kindling:
			w.Kindling = append(w.Kindling, s)
		default:
			w.Stacks = append(w.Stacks, s)
			w.Woods = append(w.Woods, Fuel(s, w.Now))
		}
	}
}

// Fuel is a stack as the season sees it.
func Fuel(s shed.Stack, now time.Time) season.Fuelwood {
	p := season.Pile{Name: s.Name, Energy: season.About{Middle: Energy(s), Doubt: math.Hypot(s.Left.Own, s.Left.Same)}}
	switch d := s.Ready; {
	case s.Moisture() <= wood.Smoulders: // a little wet: people burn it, and it burns
	case d.Likely.IsZero():
		p.Ready = now.Add(never)
	case d.Likely.After(now.Add(36 * time.Hour)):
		p.Ready = d.Likely
		if !d.Late.IsZero() {
			p.Doubt = time.Duration(float64(d.Late.Sub(d.Early)) / tenthToTenth)
		}
	}
	return season.Fuelwood{Pile: p, Density: s.Species.Gravity, Watched: s.Crooked}
}

// Energy is the net heat in a stack's wood as it will be burnt, J: dry, should it be wet.
func Energy(s shed.Stack) float64 {
	u := min(s.Moisture(), wood.Smoulders)
	return wood.NetEnergy(s.Species.Gross, u) * float64(s.Left.Middle) * (1 + float64(u)) * 1e6
}

// use is what the household asks of its wood.
func (w *Winter) use(ctx context.Context, h store.Household, given Given) error {
	seen, loss, square := map[int64]bool{}, 0.0, 0.0
	byWood, apart := 0.0, 0.0
	for _, st := range given.Stoves {
		if seen[st.Space.ID] {
			continue
		}
		seen[st.Space.ID] = true
		known, there := given.Known[st.ID]
		if !there {
			known = learn.New()
		}
		doubt := lossDoubt
		if known.InUse() {
			doubt = learnedDoubt
		}
		own := learn.Learned(st.Space.House, known.Belief()).Loss()
		loss, square = loss+own, square+own*own*doubt*doubt
		share := season.ShareOf(st.Space.House.Helper)
		byWood, apart = byWood+own*share.Middle, apart+own*share.Doubt
		if st.Space.House.Assumed || st.Space.House.Helper == house.Unsaid {
			w.Unasked = st.Space.ID
		}
	}
	w.Efficiency = season.About{Middle: usualEfficiency, Doubt: effDoubt}
	from := w.Now.Add(-lookBack)
	first, err := h.FirstBurn(ctx)
	if err != nil {
		return err
	}
	if first.After(from) {
		from = first
	}
	spans := w.spans(from, first)
	lately, err := h.Lately(ctx, spans, w.Now.Location().String())
	if err != nil {
		return err
	}
	logged, err := h.WoodLogged(ctx, spans, fire.LeftOver)
	if err != nil {
		return err
	}
	w.Lately, w.Weighed = lately[0], weighed(logged[0])
	w.Weeks = w.Now.Sub(from).Hours() / 24 / 7
	if w.Lately.Efficiency > 0 {
		w.Efficiency.Middle = w.Lately.Efficiency
	}
	if w.Lately.Used > 0 {
		w.Shares = season.Shares{}
		for hour, kg := range w.Lately.LitAt {
			w.Shares[season.HoursOf(hour)] += kg / w.Lately.Used
		}
	}
	about := season.About{Middle: loss}
	if loss > 0 {
		about.Doubt = math.Sqrt(square) / loss
	}
	usual := season.ShareOf(house.Unsaid)
	if loss > 0 {
		usual = season.About{Middle: byWood / loss, Doubt: apart / loss}
	}
	w.Use, w.Known = season.From(about, w.Efficiency, usual, w.spells(spans, lately, logged)...)
	if w.Known {
		w.Unasked = 0 // what was burnt tells more than any answer would
	}
	return nil
}

// spans are the last weeks, and of each winter behind what of it was logged.
func (w *Winter) spans(from, first time.Time) []store.Span {
	out := []store.Span{{From: from, To: w.Now}}
	if w.Start.IsZero() || first.IsZero() {
		return out
	}
	for back := range wintersBack {
		start, end := season.Span(w.Climate, w.Start.AddDate(-1-back, 0, 1))
		if first.After(start) {
			start = first
		}
		if end.Sub(start) >= leastOfWinter && end.Before(w.Now) {
			out = append(out, store.Span{From: start, To: end})
		}
	}
	return out
}

// spells are the wood that was logged in those spans and the cold that it was logged in.
func (w *Winter) spells(spans []store.Span, lately []store.Lately, logged []store.Logged) []season.Spell {
	more := 1.0
	if w.Unlogged.Known() {
		more = w.Unlogged.Middle
	}
	var out []season.Spell
	for i, s := range spans {
		was := weighed(logged[i])
		if i > 0 && was.Burns < leastInWinter {
			continue
		}
		out = append(out, season.Spell{Energy: was.Energy * more, DegreeDays: w.degreeDays(s.From, s.To, lately[i].Outdoor), Burns: was.Burns, Whole: i > 0})
	}
	w.Behind = len(out) - 1
	return out
}

// Weighed is the wood that was logged as put on.
type Weighed struct {
	Burns  int
	Dry    float64 // kg, oven-dry
	Energy float64 // J, net, as wet as it was
}

func weighed(l store.Logged) Weighed {
	out := Weighed{Burns: l.Burns}
	for _, p := range l.Woods {
		out.Dry += float64(p.Dry)
		out.Energy += wood.NetEnergy(p.Gross, p.Moisture) * float64(p.Dry) * (1 + float64(p.Moisture)) * 1e6
	}
	return out
}

// degreeDays are those of some weeks: by what was outdoors at the burns of each, counted
// from the first, else what is usual.
func (w *Winter) degreeDays(from, to time.Time, seen map[int]float64) (sum float64) {
	for at := from; at.Before(to); at = at.Add(7 * 24 * time.Hour) {
		until := at.Add(7 * 24 * time.Hour)
		if until.After(to) {
			until = to
		}
		days := until.Sub(at).Hours() / 24
		if outdoor, there := seen[int(at.Sub(from).Hours()/24/7)]; there {
			sum += season.ByOutdoor(units.Celsius(outdoor), days)
		} else {
			sum += season.Days(w.Climate, at, until)
		}
	}
	return sum
}

// Piles are the woods that this winter may burn; what is not dry before it ends is none of
// its wood.
func (w *Winter) Piles() []season.Pile {
	var out []season.Pile
	for _, f := range w.Woods {
		if f.Ready.Before(w.End) {
			out = append(out, f.Pile)
		}
	}
	return out
}

// Lasts is whether the wood lasts.
func (w *Winter) Lasts() season.Outlook { return w.Use.Lasts(w.Piles(), w.Climate, w.From, w.End) }

// The first splits on the kindling are a fifth of what a burn takes; more than half of a
// pile is never kept for them.
const firstShare, mostApart = 0.2, 0.5

// keepApart keeps the first splits of the fires to come apart, of the lightest dry wood.
func (w *Winter) keepApart() {
	sizes := make([]units.Kilogram, len(w.Stacks))
	for i, s := range w.Stacks {
		sizes[i] = s.PieceMass
	}
	w.First = season.FirstSplits(w.Woods, sizes, w.Now)
	if w.First < 0 || w.Lately.Burns == 0 || w.End.IsZero() || len(w.Woods) < 2 {
		return
	}
	fires := w.BurnsAWeek() * w.End.Sub(w.From).Hours() / 24 / 7
	asked := firstShare * w.Weighed.Energy / float64(max(1, w.Weighed.Burns)) * fires
	f := &w.Woods[w.First]
	f.Apart = math.Min(asked, mostApart*f.Energy.Middle)
}

// Allot is which wood is for which hours.
func (w *Winter) Allot() season.Allotment {
	return w.Use.Allot(w.Woods, w.Climate, w.Shares, w.From, w.End)
}

// Uncounted is the share of this winter's wood that nobody has counted.
func (w *Winter) Uncounted() float64 {
	whole, taken := 0.0, 0.0
	for i, s := range w.Stacks {
		if e := w.Woods[i].Energy.Middle; w.Woods[i].Ready.Before(w.End) {
			if whole += e; s.Takes("mass") {
				taken += e
			}
		}
	}
	if whole <= 0 {
		return 0
	}
	return taken / whole
}

// BurnsAWeek is how many burns there were in a week lately.
func (w *Winter) BurnsAWeek() float64 { return float64(w.Lately.Burns) / math.Max(1, w.Weeks) }

// HalfWay is the check at midwinter, by itself: the day by which half of a usual winter's
// heat is behind, what share of it lies ahead, and what share of the wood that was there
// when it began is left; ok is false where nothing was burnt, or there is no winter.
func (w *Winter) HalfWay(ctx context.Context, h store.Household) (half time.Time, ahead, left float64, past []float64, ok bool, err error) {
	if w.End.IsZero() {
		return half, 0, 0, nil, false, nil
	}
	taken, err := h.Taken(ctx, w.Start, w.Now)
	if err != nil {
		return half, 0, 0, nil, false, err
	}
	past = w.behind(taken)
	half = season.HalfWay(w.Climate, w.Start, w.End)
	ahead = season.Days(w.Climate, w.From, w.End) / math.Max(1, season.Days(w.Climate, w.Start, w.End))
	if n := len(past); n > 1 && past[0] > past[n-1]*1.001 { // some of it was burnt
		return half, ahead, past[len(past)-1] / past[0], past, true, nil
	}
	return half, ahead, 1, past, false, nil
}

// behind is what was left at the beginning of each week of the season, the last of them
// now, J.
func (w *Winter) behind(taken []store.TakenWeek) []float64 {
	left, each := 0.0, map[int64]float64{} // J a kg oven-dry
	for i, s := range w.Stacks {
		if !w.Woods[i].Ready.Before(w.End) {
			continue // none of this winter's wood
		}
		left += w.Woods[i].Energy.Middle
		if s.Left.Middle > 0 {
			each[s.ID] = w.Woods[i].Energy.Middle / float64(s.Left.Middle)
		}
	}
	if !w.Now.After(w.Start) {
		return []float64{left}
	}
	weeks := int(math.Ceil(w.Now.Sub(w.Start).Hours() / 24 / 7))
	out := make([]float64, weeks+1)
	for i := range out {
		out[i] = left
	}
	for _, t := range taken {
		for i := 0; i <= t.Week && i < weeks; i++ {
			out[i] += t.Dry * each[t.Stack]
		}
	}
	return out
}

// Densest is the densest wood that is dry, by its place in Woods; -1 where none is.
func (w *Winter) Densest() int {
	best := -1
	for i, f := range w.Woods {
		if !f.Ready.After(w.Now) && (best < 0 || f.Density > w.Woods[best].Density) {
			best = i
		}
	}
	return best
}
