package practice

import (
	"fmt"
	"html/template"
	"net/http"
	"strconv"
	"time"

	"smolder/internal/core/behave"
	"smolder/internal/core/house"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/say"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

const (
	usualPieces = 0.55 // of the manual's load
	usualDay    = 2    // °C outdoors, where no forecast is known
	burnsFor    = 6    // h that a load is looked at
)

// settingsPage is what each setting gives tonight.
type settingsPage struct {
	kit.Page
	Form    *kit.Form
	Stoves  []kit.Option
	Doing   string
	Failed  bool
	Control stove.Control
	Wide    template.HTML
	Narrow  template.HTML
	Rows    []givenRow
	At      int // the row that is shown first
	Load    string
}

// givenRow is one setting in words.
type givenRow struct {
	Mark                     string
	Percent                  int
	Heat, Hours, Smoke, Warn string
}

// settings shows what each setting gives with a load of tonight.
func (s Room) settings(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	choose := &lessonsPage{}
	st, own, name, err := s.chosen(q, f.Text("stove"), choose)
	if err != nil {
		return err
	}
	p := &settingsPage{Page: kit.Page{Title: q.T("What each setting gives"), Nav: "practice", Wide: true}, Form: f, Stoves: choose.Stoves}
	air, ok := st.MainAir()
	if !ok {
		return kit.Answer(http.StatusUnprocessableEntity, q.T("This stove has no air control to set. Add one on the stove's page."))
	}
	p.Control = air
	w := wish.Wish{Stove: st, House: house.Default(), Aim: wish.Hold, For: 6 * time.Hour, Outdoor: usualDay, Low: usualLow, High: usualHigh, Start: wish.GoodCoals}
	key := "family " + string(st.Family)
	if own != nil {
		w.House, w.Low, w.High = own.Space.House, units.Celsius(own.Space.Wanted[0]), units.Celsius(own.Space.Wanted[1])
		known, err := q.KnownOf(own.ID)
		if err != nil {
			return err
		}
		if known.InUse() {
			b := known.Belief()
			w.Known = &b
		}
		key = fmt.Sprint(q.Home.ID(), own.ID, own.Version, known.InUse(), known.Burns, w.House, w.Low, w.High)
	}
	w.Room = w.Low
	if w.Wood.Stack, err = s.wood(q, st); err != nil {
		return err
	}
	most := w.MostPieces(0)
	tonight := units.Celsius(usualDay)
	if hours, known := s.Hourly(q, s.Now(), burnsFor); known { // the middle of what is forecast
		sum := 0.0
		for _, h := range hours {
			sum += h.Temperature
		}
		tonight = units.Celsius(sum / float64(len(hours)))
	}
	for name, usual := range map[string]string{"outdoor": q.Locale().Temperature(tonight),
		"pieces": strconv.Itoa(max(1, min(most, int(usualPieces*float64(st.MaxLoad)/float64(w.Wood.Stack.PieceMass)+0.5))))} {
		if _, there := f.Values[name]; !there {
			f.Values.Set(name, usual)
		}
	}
	w.Outdoor = kit.Parse(f, "outdoor", kit.In(kit.ParseOutdoor, q.Locale().System))
	pieces := kit.Parse(f, "pieces", units.ParsePieces)
	if f.Ok() && pieces > most {
		f.Wrong("pieces", q.F("%d of these are more than the manual and the firebox hold: up to %d would do", pieces, most))
	}
	if !f.Ok() {
		q.Show(http.StatusUnprocessableEntity, "settings", p)
		return nil
	}
	p.Load = q.N(pieces, "one piece of %s on a good bed of coals, in %s", "%d pieces of %s on a good bed of coals, in %s", w.Wood.Stack.Name, name)
	openings := behave.Marks(air)
	k, err := s.given.Of(fmt.Sprint(key, " ", w.Wood.Stack.Name, w.Wood.Stack.Reading, w.Wood.Stack.PieceMass, w.Outdoor, pieces), s.Log,
		func(tell func(done, all int)) []behave.Given {
			return behave.Settings(w, pieces, openings, behave.GivenWorlds, func(done int) { tell(done, len(openings)*behave.GivenWorlds) })
		})
	if err != nil {
		return err
	}
	if !k.Soon() {
		p.Doing = q.F("%d of 100 done.", k.Part())
		q.Header("Refresh", "2") // the page asks again by itself, without a script too
		q.Show(http.StatusOK, "settings", p)
		return nil
	}
	if p.Failed = k.Failed; !p.Failed {
		p.given(q, k.Made, st)
	}
	q.Show(http.StatusOK, "settings", p)
	return nil
}

// given puts what was tried on the page: first the setting that is most useful, the one of least
// smoke of those that are seldom too hot and seldom lose their flames.
func (p *settingsPage) given(q *kit.Request, given []behave.Given, st stove.Stove) {
	loc := q.Locale()
	most := plan.Clean{Family: st.Family}.MaxSmoke()
	drawn := strip.Settings{Control: p.Control, Given: given, Most: most, Locale: loc}
	p.Wide, p.Narrow = drawn.SVG(660), drawn.SVG(strip.Phone)
	best := -1
	for i, g := range given {
		r := givenRow{Mark: say.Mark(p.Control.Scale, g.Opening, loc), Percent: int(100*g.Opening + 0.5),
			Heat:  q.F("%s to %s kW", loc.Number(g.Heat.Low/1000, 1), loc.Number(g.Heat.High/1000, 1)),
			Hours: q.F("%s to %s h", loc.Number(g.Hours.Low, 1), loc.Number(g.Hours.High, 1)),
			Smoke: q.F("%s to %s g/kg", loc.Number(g.Smoke.Low, 0), loc.Number(g.Smoke.High, 0))}
		switch {
		case g.Hot >= tooHotShare:
			r.Warn = q.F("Too hot in %s.", say.OfTen(g.Hot, loc))
		case g.Dark >= darkShare:
			r.Warn = q.F("The flames are lost in %s.", say.OfTen(g.Dark, loc))
		case g.Smoke.Middle <= most && (best < 0 || g.Hours.Middle > given[best].Hours.Middle):
			best = i
		}
		p.Rows = append(p.Rows, r)
	}
	p.At = max(0, best)
	if best >= 0 && p.Rows[best].Warn == "" {
		p.Rows[best].Warn = q.T("The longest of those that burn clean.")
	}
}

// When a setting is warned of.
const tooHotShare, darkShare = 0.1, 0.1
