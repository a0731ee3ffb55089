package wood

import (
	"cmp"
	"fmt"
	"math"
	"net/http"
	"slices"
	"time"

	"smolder/internal/app/winter"
	"smolder/internal/core/season"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// winterPage is whether the wood lasts, what would change it, and which wood is for when.
type winterPage struct {
	kit.Page
	None    bool // no wood, or no stove, or no winter
	Verdict string
	Half    string
	Trust   string // what it goes by
	Ask     string // the space to say more of; empty: enough is known
	Drawn   strip.Pair
	Figures []kit.Figure
	Changes []option
	When    []woodWhen
	Short   string
	Teaches string
}

// woodWhen is what one stack is for.
type woodWhen struct {
	Link, Name string
	For        []string
	Left       string // what is left of it when the season ends
}

func (s Room) winter(q *kit.Request) error {
	w, err := q.Winter()
	if err != nil {
		return err
	}
	p := &winterPage{Page: kit.Page{Title: q.T("Will it last"), Nav: "wood", Wide: true}}
	if len(w.Woods) == 0 || w.Use.Loss.Middle <= 0 || w.End.IsZero() {
		p.None = true
		q.Show(http.StatusOK, "winter", p)
		return nil
	}
	o := w.Lasts()
	half, ahead, left, past, counted, err := w.HalfWay(q.Ctx(), q.Home)
	if err != nil {
		return err
	}
	p.Verdict, p.Teaches = say.Lasts(o, w.End, w.Now, q.Locale())+say.Uncounted(w.Uncounted(), q.Locale()), say.Unlogged(w.Unlogged, q.Locale())
	if counted {
		p.Half = say.HalfWay(half, w.Now, ahead, left, q.Locale())
	}
	d := strip.Winter{Start: w.Start, End: w.End, Now: w.From, Past: past, Weeks: o.Weeks, RunsOut: o.RunsOut,
		Half: half, Zone: q.Profile.Location(), Locale: q.Locale(),
		Asked: func(at time.Time) float64 {
			return o.Needed[1] * season.Days(w.Climate, at, w.End) / math.Max(1, season.Days(w.Climate, w.From, w.End))
		}}
	p.Drawn = d.Drawn()
	p.Trust = trust(q, w)
	if w.Unasked > 0 {
		p.Ask = fmt.Sprintf("/spaces/%d", w.Unasked)
	}
	p.Figures = winterFigures(q, w, o)
	p.changes(q, w, o)
	p.when(q, w)
	q.Show(http.StatusOK, "winter", p)
	return nil
}

// trust says what the answer goes by.
func trust(q *kit.Request, w winter.Winter) string {
	if !w.Known {
		return q.T("Fewer than five burns are known of the last weeks, and no winter before: the share of the heat that comes from wood is a usual one, and the range is wide.") +
			placed(q, w)
	}
	var by []string
	if w.Weighed.Burns > 0 {
		by = append(by, q.F("the %s of oven-dry wood that you logged in %s of the last %s weeks",
			q.Locale().Mass(units.Kilogram(w.Weighed.Dry)), say.Burns(w.Weighed.Burns, q.Locale()), q.Locale().Number(w.Weeks, 0)))
	}
	if w.Behind > 0 {
		by = append(by, q.T("the wood of ")+say.Winters(w.Behind, q.Locale())+q.T(" before"))
	}
	return q.F("By %s, for every degree and day of cold. That is about %s of what the rooms lose.",
		q.Locale().And(by), q.Locale().Percent(units.Fraction(math.Min(1, w.Use.Share.Middle)), 0)) + placed(q, w)
}

// placed says how cold the winters are taken to be here.
func placed(q *kit.Request, w winter.Winter) string {
	coldest := w.Climate.Months[0].Air
	for _, m := range w.Climate.Months {
		coldest = min(coldest, m.Air)
	}
	if !w.Placed {
		return ""
	}
	return q.T(" By what it was outside at your burns a usual coldest month here is at ") + q.Locale().Temperature(units.Celsius(math.Round(float64(coldest)))) + "."
}

// asked says how the heat still asked for is worked out: by the wood that was burnt in the
// cold that there was, or else by what a house like this one loses.
func asked(w winter.Winter, loc lang.Locale) string {
	if w.Known {
		return loc.T("The wood you logged for each degree and day × degree-days to the end,")
	}
	return loc.T("Heat loss × degree-days under the temperature from which you heat × share of the heat that comes from wood ÷ efficiency,")
}

func winterFigures(q *kit.Request, w winter.Winter, o season.Outlook) []kit.Figure {
	u := q.Locale()
	share := kit.Assumed
	if w.Known {
		share = kit.Computed
	}
	e := func(j float64) string { return about(q, j) }
	return []kit.Figure{
		kit.NewFigure(q.T("heat in the wood still asked for"), q.F("%s to %s", e(o.Needed[0]), e(o.Needed[2])),
			asked(w, q.Locale())+q.T(" in four hundred winters as cold as they may be; four out of five lie in the range."),
			kit.From(q.T("heat loss of the spaces with a stove"), u.HeatLoss(w.Use.Loss.Middle), kit.Computed),
			kit.From(q.T("heated under"), u.Temperature(season.Base), kit.Assumed),
			kit.From(q.T("degree-days to the end, usual"), q.Locale().Number(season.Days(w.Climate, w.From, w.End), 0)+" K·d", kit.Assumed),
			kit.From(q.T("share of it from wood"), q.Locale().Percent(units.Fraction(w.Use.Share.Middle), 0), share),
			kit.From(q.T("efficiency, net"), q.Locale().Percent(units.Fraction(w.Efficiency.Middle), 0), share)),
		kit.NewFigure(q.T("heat in the wood that is left"), e(o.Left), q.T("Of every stack its oven-dry mass × net energy, as dry as it will be burnt; "+
			"wood that is not dry counts from the day it is ready."),
			kit.From(q.T("stacks"), fmt.Sprint(len(w.Woods)), kit.Entered)),
		kit.NewFigure(q.T("the chance that it lasts"), say.OfTen(o.Lasts, q.Locale()), q.T("The share of the four hundred winters that the wood outlasts."),
			kit.From(q.T("how far off counts, losses and winters are"), "", kit.Assumed)),
	}
}

// about says heat as roughly as it is known; none is "nothing".
func about(q *kit.Request, joules float64) string {
	const hundred = 3.6e8 // J
	if joules < hundred/2 {
		return q.T("nothing")
	}
	return q.Locale().Energy(units.Joule(math.Round(joules/hundred) * hundred))
}

// changes are what would move the chance, worked out and not told from memory.
func (p *winterPage) changes(q *kit.Request, w winter.Winter, o season.Outlook) {
	const sure = 0.985
	if o.Lasts >= sure {
		return
	}
	ask := func(u season.Use, piles []season.Pile) float64 { return u.Lasts(piles, w.Climate, w.From, w.End).Lasts }
	add := func(do string, lasts float64) {
		p.Changes = append(p.Changes, option{do, say.Better(o.Lasts, lasts, q.Locale())})
	}
	piles := w.Piles()
	degree := q.T("One degree less in the rooms")
	kelvin := 1.0
	if q.Units() == units.Imperial {
		degree, kelvin = q.T("Two degrees Fahrenheit less in the rooms"), 1.1
	}
	add(degree, ask(w.Use.Warmer(-kelvin), piles))
	if n := w.BurnsAWeek(); w.Known && n >= 1 {
		add(q.T("One burn a week less"), ask(w.Use.Fewer(n), piles))
	}
	if i := w.Densest(); i >= 0 && len(piles) > 1 {
		name := w.Woods[i].Name
		first := slices.Clone(piles)
		slices.SortStableFunc(first, func(a, b season.Pile) int { return cmp.Compare(b2i(b.Name == name), b2i(a.Name == name)) })
		add(name+q.T(" first"), ask(w.Use, first))
	}
	for _, f := range w.Woods {
		if f.Ready.After(w.From) {
			dry := slices.DeleteFunc(slices.Clone(piles), func(p season.Pile) bool { return p.Name == f.Name })
			pile := f.Pile
			pile.Ready, pile.Doubt = time.Time{}, 0
			add(f.Name+q.T(", were it dry"), ask(w.Use, append(dry, pile)))
		}
	}
	cord := wood.InStack(beech(), wood.Cords(1), wood.Neat)
	more := wood.NetEnergy(beech().Gross, wood.Seasoned) * float64(cord) * (1 + float64(wood.Seasoned)) * 1e6
	add("A cord ("+q.Locale().Volume(wood.Cords(1))+q.T(" stacked) of dry beech more"),
		ask(w.Use, append(append([]season.Pile{}, piles...), season.Pile{Energy: season.About{Middle: more, Doubt: 0.1}})))
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

func beech() wood.Species { sp, _ := wood.SpeciesByKey("beech"); return sp }

// when is which wood is for which hours.
func (p *winterPage) when(q *kit.Request, w winter.Winter) {
	a := w.Allot()
	for i, s := range w.Stacks {
		l := woodWhen{Link: fmt.Sprintf("/wood/%d", s.ID), Name: s.Name}
		if apart := w.Woods[i].Apart; apart > 0 {
			l.For = append(l.For, q.T("first splits on the kindling, about ")+q.Locale().Mass(units.Kilogram(math.Round(apart/1e6/s.NetEnergy()))))
		}
		for _, portion := range a.Portions(i) {
			if portion.Energy < 0.12*a.Used(i) {
				continue
			}
			l.For = append(l.For, say.Portion(portion, q.Locale()))
		}
		left := w.Woods[i].Energy.Middle - a.Used(i) - w.Woods[i].Apart
		switch share := left / math.Max(1, w.Woods[i].Energy.Middle); {
		case len(l.For) == 0:
			l.Left = q.T("kept for another winter")
		case share > 0.03:
			l.Left = q.Locale().Percent(units.Fraction(share), 0) + q.T(" of it is left")
		default:
			l.Left = q.T("all of it")
		}
		if s.Ready.Likely.IsZero() || s.Ready.Likely.After(w.Now.Add(36*time.Hour)) {
			l.Left += q.T("; ready ") + say.ReadyShort(s.Ready, w.Now, q.Locale())
		}
		if s.Crooked && len(l.For) > 0 {
			l.Left += q.T("; gnarled, only while somebody watches")
		}
		p.When = append(p.When, l)
	}
	for _, s := range w.Kindling {
		p.When = append(p.When, woodWhen{Link: fmt.Sprintf("/wood/%d", s.ID), Name: s.Name, For: []string{q.T("lighting¦of kindling")}, Left: q.T("kept apart")})
	}
	if a.Short > 0 {
		p.Short = q.F("For %s of a usual rest of the season there is no dry wood.", q.Locale().Energy(units.Joule(a.Short)))
	}
}
