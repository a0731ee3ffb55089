package plans

import (
	"errors"
	"strconv"
	"strings"

	"smolder/internal/app/planning"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// mostFixed is how many pieces may be fixed for one load; a stove takes fewer.
const mostFixed = 60

// noneWord stands where nothing is to be put on the coals.
const noneWord = "none"

// ownWay reads what the owner wants done in their own way. Errors of single fields are in the
// form.
func ownWay(q *kit.Request, f *kit.Form, house *planning.Household, w *wish.Wish) error {
	u := q.Locale()
	fixed := &w.Fixed
	fixed.First = pieces(q, f, "own-first", false)
	fixed.Main = pieces(q, f, "own-main", true)
	if fixed.Direction = stove.Direction(f.Text("own-way")); fixed.Direction != "" {
		kit.KnownChoice(f, "own-way", fixed.Direction == stove.EndOn || fixed.Direction == stove.Sideways)
	}
	if air, ok := w.Stove.MainAir(); ok {
		fixed.Brisk = setting(q, f, "own-char", air)
		fixed.Final = setting(q, f, "own-leave", air)
	}
	fixed.Most, _ = kit.Optional(f, "own-most", kit.In(units.ParseMass, u.System))
	if fixed.Most < 0 || f.Has("own-most") && fixed.Most == 0 && f.Ok() {
		f.Wrong("own-most", q.F("that is no wood; %s would do", u.Mass(6)))
	}
	if fixed.Each = pieces(q, f, "own-each", false); fixed.Each > 0 && fixed.Main > 0 && fixed.Each != fixed.Main {
		f.Wrong("own-each", q.T("that is not as many as you put on the coals; leave one of them to be found"))
	}
	w.Embers, w.Seldom, fixed.BySize = f.Has("embers"), f.Has("seldom"), f.Has("own-by-size") && w.Start == wish.Cold
	target(q, f, w)
	if err := named(q, f, house, w, "own-first-of", &fixed.FirstOf); err != nil {
		return err
	}
	return named(q, f, house, w, "own-main-of", &fixed.MainOf)
}

// named reads a stack for one load, and lays it to the others at hand.
func named(q *kit.Request, f *kit.Form, house *planning.Household, w *wish.Wish, name string, into *int64) error {
	if !f.Has(name) {
		return nil
	}
	stack, err := q.Stack(f.Number(name))
	if errors.Is(err, store.ErrMissing) {
		f.Wrong(name, q.T("choose a stack of the list; that one is not there any more"))
		return nil
	}
	if err != nil {
		return err
	}
	*into = stack.ID
	for _, p := range w.Woods() {
		if p.ID == stack.ID {
			return nil
		}
	}
	pick, err := house.Pick(q.Ctx(), stack, *w)
	w.Others = append(w.Others, pick)
	return err
}

// pieces reads how many pieces a load is to have; empty: as many as is best.
func pieces(q *kit.Request, f *kit.Form, name string, orNone bool) int {
	typed := strings.ToLower(f.Text(name))
	switch {
	case typed == "":
		return 0
	case orNone && (typed == noneWord || typed == "0" || typed == strings.ToLower(q.T(noneWord))):
		return wish.NoLoad
	}
	n, err := strconv.Atoi(typed)
	if err != nil || n < 1 || n > mostFixed {
		f.Wrong(name, q.T("a whole number of pieces, such as 3; or nothing, and it is found"))
	}
	return n
}

// setting reads where the air is to stand; empty: wherever is best.
func setting(q *kit.Request, f *kit.Form, name string, air stove.Control) float64 {
	if !f.Has(name) {
		return 0
	}
	o := kit.Parse(f, name, say.ReadMark(air.Scale, q.Locale()))
	if o <= 0 && f.Errors[name] == "" {
		f.Wrong(name, q.F("a fire is not left with %s shut; %s would do", q.Locale().Mid(air.Name), say.Mark(air.Scale, air.Scale.Nearest(1./4), q.Locale())))
	}
	return o
}

// target reads which gauge is to be held at what.
func target(q *kit.Request, f *kit.Form, w *wish.Wish) {
	if w.Aim != wish.HoldGauge {
		return
	}
	guide, ok := w.Stove.Guide()
	if place := stove.Place(f.Text("gauge")); place != "" {
		if guide, ok = w.Stove.Gauge(place); !ok {
			f.Wrong("gauge", q.T("this stove has no gauge there; one of its own would do"))
			return
		}
	}
	switch {
	case !ok:
		f.Wrong("gauge-at", q.T("this stove has no gauge that could be held: add one on its page, or wish for something else"))
	case !f.Has("gauge-at"):
		f.Wrong("gauge-at", q.F("say what the %s is to read: %s, say", q.T(say.Places.Short(guide.Place)), q.Locale().Temperature((guide.Band.Low+guide.Band.High)/2)))
	default:
		w.Target = wish.Target{Place: guide.Place, At: kit.Parse(f, "gauge-at", kit.In(units.ParseTemperature, q.Locale().System))}
		if limit := guide.Band.TooHot; f.Errors["gauge-at"] == "" && (w.Target.At < 60 || limit > 0 && w.Target.At >= limit) {
			f.Wrong("gauge-at", q.F("between %s and %s, where this gauge is too hot, would do", q.Locale().Temperature(60), q.Locale().Temperature(limit)))
		}
	}
}

// asLastTime fills in what was done with this stove the last time.
func (p *planPage) asLastTime(q *kit.Request, stoveID int64) error {
	fixed, lay, there, err := q.Planning().LastTime(q.Ctx(), stoveID)
	if err != nil {
		return err
	}
	if !there {
		p.LastTime = q.T("There is no burn of this stove yet to do again.")
		return nil
	}
	st, err := q.Home.Stove(q.Ctx(), stoveID)
	if err != nil {
		return err
	}
	air, _ := st.MainAir()
	set := func(name, value string) { p.Form.Values.Set(name, value) }
	number := func(name string, n int64) {
		if n > 0 {
			set(name, strconv.FormatInt(n, 10))
		}
	}
	number("own-first", int64(fixed.First))
	number("own-main", int64(fixed.Main))
	number("own-first-of", fixed.FirstOf)
	number("own-main-of", fixed.MainOf)
	if fixed.Main == wish.NoLoad {
		set("own-main", q.T(noneWord))
	}
	set("own-way", string(fixed.Direction))
	for name, o := range map[string]float64{"own-char": fixed.Brisk, "own-leave": fixed.Final} {
		if o > 0 {
			set(name, say.Mark(air.Scale, o, q.Locale()))
		}
	}
	if fixed.First > 0 && lay != "" {
		set("lay", string(lay))
	}
	p.LastTime = q.T("Filled in as it was done the last time: change what you like, or clear it to have it found.")
	return nil
}

// waysRound are the directions, as owners call them.
func waysRound(loc lang.Locale) []kit.Option {
	return []kit.Option{{Value: "", Label: loc.T("whichever way is best")},
		{Value: string(stove.EndOn), Label: loc.T("end-on (north–south)")}, {Value: string(stove.Sideways), Label: loc.T("sideways (east–west)")}}
}

// ownFields are the fields of the owner's own way.
var ownFields = []string{"own-first", "own-main", "own-first-of", "own-main-of", "own-way", "own-char", "own-leave", "own-most", "own-each", "gauge", "gauge-at", "embers", "seldom", "own-by-size"}

// gaugesOf are the gauges of fire that any stove has.
func gaugesOf(q *kit.Request, stoves []store.Stove) []kit.Option {
	out := []kit.Option{{Value: "", Label: q.T("the gauge it is run by")}}
	seen := map[stove.Place]bool{}
	for _, st := range stoves {
		for _, g := range st.Gauges {
			if g.Place.OfFire() && !seen[g.Place] {
				seen[g.Place] = true
				out = append(out, kit.Option{Value: string(g.Place), Label: q.T(say.Places.Name(g.Place))})
			}
		}
	}
	return out
}
