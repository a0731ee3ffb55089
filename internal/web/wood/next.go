package wood

import (
	"fmt"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"golang.org/x/sync/errgroup"

	"smolder/internal/app/shed"
	"smolder/internal/app/winter"
	"smolder/internal/core/drying"
	"smolder/internal/core/season"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/web/kit"
)

// nextPage is the wood of the winters to come: how much to cut or buy, and by when it must
// be split.
type nextPage struct {
	kit.Page
	None    bool
	Trust   string
	Winters []nextWinter
	Place   string // how the new wood is taken to lie
}

type nextWinter struct {
	Name, Needs, Has, Missing string
	Enough                    bool
	Ready                     []string // stacks that are for it
	Cut                       []cutLine
}

// cutLine is one kind of wood that would do for what is missing, and by when to split it.
type cutLine struct {
	Kind, Much string
	Fine, Big  string // by when pieces of a usual size, and thick ones
	Buy        bool   // too late to cut it: it must be bought dry
}

// Sizes that wood is split to, m: a usual split, and one that holds through a night.
const fineSplit, bigSplit units.Metre = 0.085, 0.12

func (s Room) next(q *kit.Request) error {
	w, err := q.Winter()
	if err != nil {
		return err
	}
	p := &nextPage{Page: kit.Page{Title: q.T("The winters to come"), Nav: "wood", Wide: true}, Trust: trust(q, w)}
	if w.Use.Loss.Middle <= 0 || w.End.IsZero() {
		p.None = true
		q.Show(http.StatusOK, "next", p)
		return nil
	}
	p.fill(q, w)
	q.Show(http.StatusOK, "next", p)
	return nil
}

// fill works the coming winters out, each from what the one before it leaves.
func (p *nextPage) fill(q *kit.Request, w winter.Winter) {
	place, kinds := usualPlace(w.Stacks), kindsOf(w.Stacks)
	p.Place = q.T(say.Covers.Name(place.Cover))
	asked := w.Lasts().Needed[1] // by what comes before
	start, end := w.Start, w.End
	e := func(j float64) string { return about(q, j) }
	for range 2 {
		start, end = start.AddDate(1, 0, 0), end.AddDate(1, 0, 0)
		needed := w.Use.Lasts(nil, w.Climate, start, end).Needed
		has, names := -asked, []string(nil)
		for i, f := range w.Woods {
			if !f.Ready.After(start) {
				has += f.Energy.Middle
				if f.Ready.After(w.Now) {
					names = append(names, q.F("%s, ready %s", f.Name, say.ReadyShort(w.Stacks[i].Ready, w.Now, q.Locale())))
				}
			}
		}
		has = max(0, has)
		n := nextWinter{Name: q.F("Winter %d to %d", start.Year(), end.Year()), Needs: e(needed[1]) + q.T(", in nine winters of ten under ") + e(needed[2]),
			Has: units.UpperFirst(e(has)), Ready: names, Enough: has >= needed[2], Missing: e(max(0, needed[2]-has))}
		if !n.Enough {
			n.Cut = cutLines(q, w, kinds, place, needed[2]-has, start)
		}
		p.Winters = append(p.Winters, n)
		asked += needed[1]
	}
}

// cutLines are the kinds that would fill a gap, each alone.
func cutLines(q *kit.Request, w winter.Winter, kinds []wood.Species, place drying.Place, missing float64, start time.Time) []cutLine {
	out := make([]cutLine, len(kinds))
	var all errgroup.Group
	all.SetLimit(2)
	for i, sp := range kinds {
		all.Go(func() error {
			per := wood.NetEnergy(sp.Gross, wood.Seasoned) * (1 + float64(wood.Seasoned)) * 1e6 // J a kg oven-dry
			dry := missing / per
			outline := units.Litre(dry / sp.Gravity / wood.SolidShare)
			l := cutLine{Kind: say.Species(sp, q.Locale()), Much: q.F("%s stacked, %s dry", q.Locale().Volume(outline),
				q.Locale().Mass(units.Kilogram(dry*(1+float64(wood.Seasoned)))))}
			by := func(thick units.Metre) string {
				at, ok := q.Site.Shed.SplitBy(drying.Pieces{Species: sp, Thickness: thick}, place, w.Climate, start, w.Now)
				if !ok {
					return q.T("too late")
				}
				return q.T("by ") + say.PartOfMonth(at.In(q.Profile.Location()), w.Now, q.Locale())
			}
			l.Fine, l.Big = by(fineSplit), by(bigSplit)
			l.Buy = l.Fine == "too late"
			out[i] = l
			return nil
		})
	}
	_ = all.Wait() // none fails
	return out
}

// kindsOf are the kinds that the household burns, and the two that are sold most where it
// has one alone.
func kindsOf(stacks []shed.Stack) []wood.Species {
	var out []wood.Species
	for _, s := range stacks {
		if !slices.ContainsFunc(out, func(o wood.Species) bool { return o.Key == s.Species.Key }) && s.Species.Key != "pressed-logs" {
			out = append(out, s.Species)
		}
	}
	for _, key := range []string{"ash", "spruce"} {
		sp, _ := wood.SpeciesByKey(key)
		if len(out) < 3 && !slices.ContainsFunc(out, func(o wood.Species) bool { return o.Key == key }) {
			out = append(out, sp)
		}
	}
	return out[:min(6, len(out))]
}

// usualPlace is how most of the household's wood lies; under a roof where nobody has said.
func usualPlace(stacks []shed.Stack) drying.Place {
	place, most := drying.Place{Cover: wood.Roof, Wind: 0.5, Sun: 0.3}, units.Kilogram(0)
	for _, s := range stacks {
		if s.Cover != "" && s.Cover != wood.Inside && s.Cover != wood.Wrap && s.Left.Middle > most {
			place, most = shed.Place(s.Siting), s.Left.Middle
		}
	}
	return place
}

// offerPage is what wood that somebody offers is worth.
type offerPage struct {
	kit.Page
	Form    *kit.Form
	Species []kit.Option
	Shapes  []kit.Option
	Cost    string
	Lines   []option
	Unmask  string // what its water costs
	Take    string // the address that keeps it as a stack
}

func (s Room) offer(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	f.Values.Del("part")
	p := &offerPage{Page: kit.Page{Title: q.T("What an offer is worth"), Nav: "wood", Wide: true}, Form: f, Shapes: shapes(q.Locale())}
	for _, sp := range wood.AllSpecies() {
		if !sp.Mineral {
			p.Species = append(p.Species, kit.Option{Value: sp.Key, Label: say.Species(sp, q.Locale())})
		}
	}
	status := http.StatusOK
	if f.Has("price") || f.Has("amount") {
		if err := p.work(q, f); err != nil {
			return err
		}
		if !f.Ok() {
			status = http.StatusUnprocessableEntity
		}
	}
	q.Show(status, "offer", p)
	return nil
}

// soldAsDry is what is taken where the seller says "dry" and nobody has read it.
const soldAsDry = wood.Seasoned

// work reads the offer and prices it.
func (p *offerPage) work(q *kit.Request, f *kit.Form) error {
	sp := kit.Parse(f, "species", wood.SpeciesByKey)
	price := kit.Parse(f, "price", func(t string) (float64, error) { return units.ParseNumber(t, "price", 0.01, 1e7) })
	said, saidThere := kit.Optional(f, "said", units.ParseMoisture)
	u, spread := said, units.Fraction(0.05)
	read, n := units.Fraction(0), 0
	if f.Has("reading") {
		mean, apart, pieces, err := parseReadings(f.Text("reading"))
		if err != nil {
			f.Wrong("reading", say.Error(err, f.Locale()))
		}
		read, n = mean, pieces
		u, spread = mean, max(0.02, units.Fraction(1.28*float64(apart)/math.Sqrt(float64(max(1, pieces)))))
	} else if !saidThere {
		u, spread = drying.Untold, drying.UntoldDoubt*1.28
	}
	_, length := wood.UsualPiece(sp, u, wood.Fit{})
	length, _ = func() (units.Metre, bool) {
		if v, there := kit.Optional(f, "piece-length", kit.In(units.ParseSmallLength, q.Locale().System)); there {
			return v, true
		}
		return length, false
	}()
	mass, _ := wood.UsualPiece(sp, u, wood.Fit{Longest: length})
	counted := readAmount(q, f, "amount", wood.Stack{Species: sp, PieceMass: mass, PieceLength: length, Reading: u, Spread: max(0.005, spread)},
		wood.Shape(f.Text("shape")))
	if !f.Ok() || counted == nil {
		return nil
	}
	w, err := q.Winter()
	if err != nil {
		return err
	}
	o := wood.Offer{Species: sp, Price: price, Wood: counted.Amount, Moisture: u, Spread: spread}
	eff := units.Fraction(w.Efficiency.Middle)
	cost, ok := o.Cost(eff, 0.05)
	if !ok {
		f.Wrong("reading", q.T("wood as wet as that gives no heat"))
		return nil
	}
	p.Cost = q.F("%s for each useful kWh, four out of five such offers between %s and %s", money(cost.Middle), money(cost.Low), money(cost.High))
	kwh := float64(o.Useful(eff)) / 3.6e6
	p.Lines = []option{{q.T("heat in the rooms"), q.Locale().Energy(units.Joule(kwh * 3.6e6))},
		{q.T("oven-dry wood in it"), q.Locale().Mass(o.Wood.Middle)},
		{q.T("efficiency of your stoves, net"), q.Locale().Percent(eff, 0) + effFrom(w, q.Locale())}}
	p.unmask(q, w, o, said, saidThere, read, n)
	p.Take = fmt.Sprintf("/wood/new?species=%s&mass=%s&reading=%s", sp.Key, url.QueryEscape(f.Text("amount")), url.QueryEscape(f.Text("reading")))
	return nil
}

func effFrom(w winter.Winter, loc lang.Locale) string {
	if w.Lately.Efficiency > 0 {
		return loc.T(", by your last burns")
	}
	return loc.T(", as is usual")
}

// money prints a price a kilowatt-hour in whatever money it was told in.
func money(v float64) string {
	switch {
	case v < 1:
		return strconv.FormatFloat(v, 'f', 3, 64)
	case v < 100:
		return strconv.FormatFloat(v, 'f', 2, 64)
	}
	return strconv.FormatFloat(v, 'f', 0, 64)
}

// unmask says what the water in an offer costs and when it can be burnt.
func (p *offerPage) unmask(q *kit.Request, w winter.Winter, o wood.Offer, said units.Fraction, saidThere bool, read units.Fraction, n int) {
	if !saidThere {
		said = soldAsDry
	}
	var out []string
	if n > 0 && read > said+0.02 {
		dry := o
		dry.Moisture = said
		a, okA := dry.Cost(units.Fraction(w.Efficiency.Middle), 0.05)
		b, okB := o.Cost(units.Fraction(w.Efficiency.Middle), 0.05)
		if okA && okB {
			out = append(out, q.F("Sold as %s, and it reads %s: by the pile it gives %s less heat as it is, %s instead of %s a kWh.", q.Locale().Percent(said, 0),
				q.Locale().Percent(read, 0), q.Locale().Percent(units.Fraction(1-a.Middle/b.Middle), 0), money(b.Middle), money(a.Middle)))
		}
	}
	if n == 0 {
		out = append(out, q.T("Nobody has read it: split a piece and read the middle of the fresh face before you pay."))
	}
	if o.Moisture > wood.ReadyTo {
		pieces := drying.Pieces{Species: o.Species, Thickness: fineSplit}
		b := drying.Believe(drying.Stack{Pieces: pieces, Place: usualPlace(w.Stacks),
			Readings: []drying.Reading{{At: w.Now, Mean: o.Moisture, Spread: o.Spread, Pieces: 1}}},
			w.Climate, drying.EndOf(w.Now))
		out = append(out, q.T("It is no wood for now: as you stack it would be ready ")+say.ReadyDate(b.Ready(wood.ReadyTo), w.Now, q.Locale())+".")
	}
	p.Unmask = strings.Join(out, " ")
	if w.Known && o.Heat() > 0 {
		days := float64(o.Heat()) / math.Max(1, w.Use.Loss.Middle*w.Use.Share.Middle/w.Efficiency.Middle*86400*season.Days(w.Climate, w.Now, w.Now.Add(24*time.Hour)))
		if days > 0.5 && days < 400 {
			p.Lines = append(p.Lines, option{q.T("lasts you, at this time of year"), q.F("about %.0f days", days)})
		}
	}
}
