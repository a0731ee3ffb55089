package trouble

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/trouble"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

type page struct {
	kit.Page
	NoStove  bool
	Stoves   []kit.Option
	Happens  []kit.Option // complaints, chosen those that are ticked
	Evenings []kit.Option
	Asked    bool
	Doing    string // how far it is; empty: done
	First    []cause
	Rest     []cause
	Next     *test
	More     []test
	Done     []answered
	Evening  string // address of the evening that was looked at
	Wrong    string
	Stove    int64
	Found    []found // what is known to be wrong with the stove

	Own      bool   // of the household's own stove
	Base     string // address of the page
	Heading  string // of one that is shared
	Answer   string // where a word to whoever shared it is sent
	Answered string // what was said
	Query    string // what is asked, for sharing it
	Strip    *strip.Pair
	OnStrip  string
}

// found is something that was found to be wrong.
type found struct {
	ID            int64
	Name, Do, Day string
	By            string
}

// cause is one of the list.
type cause struct {
	Key                   trouble.Cause // empty: nothing that could be kept
	Name, Chance, Do, Who string
	Because               []string
	On                    string // address with it on the evening's strip
	Bar                   int
	Danger                bool
}

// test is one that could be done, with the addresses of its two answers.
type test struct {
	Do, How, Takes string
	Yes, No        string
	YesTo, NoTo    string
}

// answered is a test that was done, and where it is taken back.
type answered struct{ Says, Back string }

const (
	holds          = 20 * time.Minute // that what was weighed goes for, while burns teach more
	longestEvening = 12 * time.Hour   // of one that is looked at: what is wrong shows by then
	mostEvenings   = 12
	mostLooked     = 200  // burns of all stoves that are gone through for them
	mostCauses     = 5    // besides those that endanger
	usualOutside   = 4    // °C
	usualRoom      = 20.0 // °C, of wood by the stove
	enough         = 10.0 // kg of a stack, for an evening
)

// trouble asks what happens and ranks the causes.
func (s Room) trouble(q *kit.Request) error {
	stoves, err := q.Stoves()
	if err != nil {
		return err
	}
	p := &page{Page: kit.Page{Title: q.T("Trouble"), Nav: "trouble", Wide: true}, NoStove: len(stoves) == 0, Own: true, Base: "/trouble"}
	if p.NoStove {
		q.Show(http.StatusOK, "trouble", p)
		return nil
	}
	asked := q.Request.URL.Query()
	st := stoves[0]
	for _, one := range stoves {
		if strconv.FormatInt(one.ID, 10) == asked.Get("stove") {
			st = one
		}
	}
	for _, one := range stoves {
		p.Stoves = append(p.Stoves, kit.Option{Value: strconv.FormatInt(one.ID, 10), Label: one.Name, Chosen: one.ID == st.ID})
	}
	if err := s.known(q, p, st); err != nil {
		return err
	}
	var happens []trouble.Complaint
	for _, c := range trouble.Complaints {
		chosen := slices.Contains(asked["happens"], string(c))
		if chosen {
			happens = append(happens, c)
		}
		p.Happens = append(p.Happens, kit.Option{Value: string(c), Label: q.T(say.ComplaintOf(c)), Chosen: chosen})
	}
	evening, err := s.evenings(q, p, st, asked.Get("burn"))
	if err != nil {
		return err
	}
	p.Asked = (asked.Has("stove") || evening != nil) && !asked.Has("found")
	if p.Asked && len(happens) == 0 && evening == nil {
		p.Wrong, p.Asked = q.T("Say what happens, or choose an evening: both is best."), false
	}
	status := http.StatusOK
	if p.Wrong != "" {
		status = http.StatusUnprocessableEntity
	}
	if p.Asked {
		p.Query = asked.Encode()
		if err := s.weigh(q, p, st, happens, evening, asked); err != nil {
			return err
		}
	}
	q.Show(status, "trouble", p)
	return nil
}

// evenings offers the last burns of a stove, and returns the one that is chosen, however long ago
// it was; nil: none.
func (s Room) evenings(q *kit.Request, p *page, st store.Stove, chosen string) (*store.Burn, error) {
	lines, err := q.Home.Burns(q.Ctx(), q.Now().Add(time.Minute), mostLooked)
	if err != nil {
		return nil, err
	}
	option := func(id int64, started time.Time) {
		p.Evenings = append(p.Evenings, kit.Option{Value: strconv.FormatInt(id, 10), Label: q.Locale().Date(started.In(q.Profile.Location()), "2 January 2006, 15:04")})
	}
	for _, l := range lines {
		if l.StoveID == st.ID && len(p.Evenings) < mostEvenings {
			option(l.ID, l.Started)
		}
	}
	id, err := strconv.ParseInt(chosen, 10, 64)
	if err != nil || id <= 0 {
		return nil, nil
	}
	b, err := q.Burn(id)
	if errors.Is(err, store.ErrUnreadable) || err == nil && (b.StoveID != st.ID || !b.Simulated()) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	is := func(o kit.Option) bool { return o.Value == chosen }
	if !slices.ContainsFunc(p.Evenings, is) {
		option(b.ID, b.Started)
	}
	p.Evenings[slices.IndexFunc(p.Evenings, is)].Chosen = true
	return &b, nil
}

// weigh ranks the causes, or says how far that is.
func (s Room) weigh(q *kit.Request, p *page, st store.Stove, happens []trouble.Complaint, evening *store.Burn, asked url.Values) error {
	known, err := q.KnownOf(st.ID)
	if err != nil {
		return err
	}
	usual, err := usualWish(q, st)
	if err != nil {
		return err
	}
	key := fmt.Sprint(q.Home.ID(), st.ID, st.Version, happens, known.InUse(), q.Now().Truncate(holds).Unix(), usual.Wood.Stack.Name,
		usual.Wood.Stack.Reading, usual.House, usual.Low, usual.High)
	if evening != nil {
		key += fmt.Sprint(" burn ", evening.ID, evening.Revision)
		p.Evening = fmt.Sprintf("/burns/%d", evening.ID)
	}
	var logged *burn.Burn
	if evening != nil {
		logged = &evening.Burn
	}
	return s.weighed(q, p, s.weighing, key, asked, logged, func() trouble.Asked {
		a := trouble.Asked{Wish: usual, Prior: known.Belief(), Happens: happens}
		if evening != nil {
			a.Evening, a.Prior = recordOf(evening.Burn, s.Now()), evening.Known.Belief()
		}
		return a
	})
}

// recordOf is an evening as it is compared with what may be wrong.
func recordOf(logged burn.Burn, now time.Time) *trouble.Record {
	b, until := logged.In(fire.Tuning{}), logged.Ended
	if until.IsZero() {
		until = now
	}
	if longest := logged.Started.Add(longestEvening); until.After(longest) {
		until = longest
	}
	return &trouble.Record{Setup: b.Setup(), Doubt: b.Doubt(), Events: b.Record(until)}
}

// weighed ranks what was asked, kept under a key, or says how far that is.
func (s Room) weighed(q *kit.Request, p *page, works *kit.Works[trouble.Weighed], key string, asked url.Values, evening *burn.Burn,
	begin func() trouble.Asked) error {
	x, err := works.Of(key, s.Log, func(tell func(done, all int)) trouble.Weighed { return trouble.Weigh(begin(), tell) })
	if err != nil {
		return err
	}
	if !x.Soon() {
		p.Doing = q.F("%d of 100 done.", x.Part())
		q.Header("Refresh", "2") // the page asks again by itself, without a script too
		return nil
	}
	if x.Failed {
		return kit.Answer(http.StatusInternalServerError, q.T("This could not be worked out, and nothing was changed. Leave the evening out, or take another one."))
	}
	answers := answersOf(asked)
	d := x.Made.With(answers...)
	s.show(q, p, d, answers, asked)
	if evening != nil {
		p.onStrip(q, x.Made, d, *evening, asked.Get("on"))
	}
	return nil
}

// pointsEvery is how finely what would have been read is drawn.
const pointsEvery = 2 * time.Minute

// onStrip draws the evening with what its gauge would have read with one of the causes: the one that
// is asked for, else the likeliest.
func (p *page) onStrip(q *kit.Request, w trouble.Weighed, d trouble.Diagnosis, b burn.Burn, on string) {
	until := b.Ended
	if longest := b.Started.Add(longestEvening); until.IsZero() || until.After(longest) {
		until = longest
	}
	var shown *trouble.Odd
	for i := range d.Odds {
		if o := &d.Odds[i]; o.Cause != trouble.Sound && (shown == nil || markOf(*o) == on && markOf(*shown) != on) {
			shown = o
		}
	}
	g, ok := b.Stove.Guide()
	if shown == nil || !ok {
		return
	}
	pen := func(c, with trouble.Cause) (out []strip.Point) {
		for i, v := range w.Curve(c, with, pointsEvery, until.Sub(b.Started)) {
			out = append(out, strip.Point{At: time.Duration(i) * pointsEvery, V: v})
		}
		return out
	}
	chart := strip.OfBurn(b, nil, burn.Measure(b, until), until, "", q.View(b.Started))
	chart.Pens = append(chart.Pens, strip.Pen{Place: g.Place, Replayed: true, Points: pen(trouble.Sound, "")},
		strip.Pen{Place: g.Place, Second: true, Points: pen(shown.Cause, shown.With)})
	drawn := strip.Draw(chart, strip.Page)
	p.Strip, p.OnStrip = &drawn, q.F("Ash-blue: as it goes with this: %s. Computed: with nothing wrong.", q.Locale().Mid(nameOf(q, *shown)))
}

// markOf is how a cause is asked for in an address.
func markOf(o trouble.Odd) string {
	if o.With != "" {
		return string(o.Cause) + "+" + string(o.With)
	}
	return string(o.Cause)
}

// nameOf is what is wrong, in words.
func nameOf(q *kit.Request, o trouble.Odd) string {
	name := q.T(say.CauseOf(o.Cause).Name)
	if o.With != "" {
		name = q.F("%s, and besides: %s", name, q.Locale().Mid(q.T(say.CauseOf(o.With).Name)))
	}
	return name
}

// A Shared is a trouble that somebody shares.
type Shared struct {
	Key     string
	Heading string
	Wish    wish.Wish
	Prior   belief.Prior
	Happens []trouble.Complaint
	Evening *burn.Burn
	Base    string // address of the page
	Burn    string // of the evening; empty: there is none
	Answer  string // where a word to whoever shared it is sent; empty: nowhere
	Said    string // an answer that was given already
}

// ShowShared ranks the causes of a trouble that somebody shares; whoever helps may say that other
// things happen, and what tests show.
func (s Room) ShowShared(q *kit.Request, t Shared) error {
	p := &page{Page: kit.Page{Title: q.T("Trouble"), Wide: true}, Base: t.Base, Heading: t.Heading, Answer: t.Answer, Answered: t.Said,
		Evening: t.Burn, Asked: true}
	asked := q.Request.URL.Query()
	happens := t.Happens
	if asked.Has("tried") {
		happens = nil
		for _, c := range trouble.Complaints {
			if slices.Contains(asked["happens"], string(c)) {
				happens = append(happens, c)
			}
		}
	}
	for _, c := range trouble.Complaints {
		p.Happens = append(p.Happens, kit.Option{Value: string(c), Label: q.T(say.ComplaintOf(c)), Chosen: slices.Contains(happens, c)})
	}
	// By its address, and not by its key alone: that stands in a file as whoever made the file wrote it.
	err := s.weighed(q, p, s.shared, fmt.Sprint(t.Base, t.Key, happens), asked, t.Evening, func() trouble.Asked {
		a := trouble.Asked{Wish: t.Wish, Prior: t.Prior, Happens: happens}
		if t.Evening != nil {
			a.Evening = recordOf(*t.Evening, s.Now())
		}
		return a
	})
	if err != nil {
		return err
	}
	q.Show(http.StatusOK, "trouble", p)
	return nil
}

// Asked is what a page of trouble asks, for sharing it: an evening as it usually is, what is
// believed, what happens, and the burn that was chosen; nil: none.
func Asked(q *kit.Request, st store.Stove, asked url.Values) (wish.Wish, []trouble.Complaint, *store.Burn, error) {
	usual, err := usualWish(q, st)
	if err != nil {
		return usual, nil, nil, err
	}
	var happens []trouble.Complaint
	for _, c := range trouble.Complaints {
		if slices.Contains(asked["happens"], string(c)) {
			happens = append(happens, c)
		}
	}
	id, err := strconv.ParseInt(asked.Get("burn"), 10, 64)
	if err != nil || id <= 0 {
		return usual, happens, nil, nil
	}
	b, err := q.Burn(id)
	if errors.Is(err, store.ErrUnreadable) || err == nil && (b.StoveID != st.ID || !b.Simulated()) {
		return usual, happens, nil, nil
	}
	return usual, happens, &b, err
}

// answersOf are those that an address has.
func answersOf(asked url.Values) (out []trouble.Answer) {
	for _, k := range trouble.TestKinds() {
		switch {
		case slices.Contains(asked["yes"], string(k)):
			out = append(out, trouble.Answer{Test: k, Yes: true})
		case slices.Contains(asked["no"], string(k)):
			out = append(out, trouble.Answer{Test: k})
		}
	}
	return out
}

// show puts a diagnosis on the page: what endangers first, however likely.
func (s Room) show(q *kit.Request, p *page, d trouble.Diagnosis, answers []trouble.Answer, asked url.Values) {
	loc := q.Locale()
	for i, o := range d.Named() {
		w := say.CauseOf(o.Cause)
		c := cause{Name: nameOf(q, o), Chance: say.OfTen(o.Chance, loc), Do: loc.T(w.Do), Who: loc.T(w.Who), Because: say.Because(o, loc), Bar: int(100 * o.Chance),
			Danger: o.Cause.Dangerous()}
		if o.Cause != trouble.Sound {
			c.Key = o.Cause
		}
		if o.With != "" { // two at once
			other := say.CauseOf(o.With)
			c.Key, c.Do = "", c.Do+" "+loc.T(other.Do)
			c.Who, c.Danger = c.Who+"; "+loc.T(other.Who), c.Danger || o.With.Dangerous()
		}
		if o.Cause != trouble.Sound && p.Evening != "" {
			v := url.Values{}
			for name, values := range asked {
				v[name] = slices.Clone(values)
			}
			v.Set("on", markOf(o))
			c.On = p.Base + "?" + v.Encode() + "#on"
		}
		if i < mostCauses {
			p.First = append(p.First, c)
		} else {
			p.Rest = append(p.Rest, c)
		}
	}
	to := func(answer string, k trouble.TestKind) string {
		v := url.Values{}
		for name, values := range asked {
			v[name] = slices.Clone(values)
		}
		v.Add(answer, string(k))
		return p.Base + "?" + v.Encode() + "#found"
	}
	for i, t := range d.Next {
		w := say.TestOf(t.Kind)
		one := test{Do: loc.T(w.Do), How: loc.T(w.How), Takes: loc.Duration(time.Duration(t.Minute) * time.Minute), Yes: loc.T(w.Yes), No: loc.T(w.No),
			YesTo: to("yes", t.Kind), NoTo: to("no", t.Kind)}
		if i == 0 {
			p.Next = &one
		} else {
			p.More = append(p.More, one)
		}
	}
	for _, a := range answers {
		w := say.TestOf(a.Test)
		said := w.No
		if a.Yes {
			said = w.Yes
		}
		v := url.Values{}
		for name, values := range asked {
			v[name] = slices.DeleteFunc(slices.Clone(values), func(text string) bool { return (name == "yes" || name == "no") && text == string(a.Test) })
		}
		p.Done = append(p.Done, answered{loc.T(w.Do) + ": " + loc.T(said), p.Base + "?" + v.Encode() + "#found"})
	}
}

// usualWish is an evening as this household usually burns: its driest stack that goes in, its space.
func usualWish(q *kit.Request, st store.Stove) (wish.Wish, error) {
	stacks, err := q.Stacks()
	if err != nil {
		return wish.Wish{}, err
	}
	beech, err := wood.SpeciesByKey("beech")
	if err != nil {
		return wish.Wish{}, err
	}
	w := wish.Wish{Stove: st.Stove, House: st.Space.House, Aim: wish.Hold, For: 5 * time.Hour, Outdoor: usualOutside, Room: units.Celsius(st.Space.Wanted[0]) - 2,
		Low: units.Celsius(st.Space.Wanted[0]), High: units.Celsius(st.Space.Wanted[1]), Start: wish.Cold}
	longest := max(st.LongestPiece("end-on"), st.LongestPiece("sideways"))
	w.Wood.Stack = wood.Stack{Name: strings.ToLower(beech.Name), Species: beech, PieceMass: min(1.2, max(0.2, st.MaxLoad/4)), PieceLength: min(0.33, longest),
		Reading: 0.17, WoodTemp: usualRoom, Mass: 500}
	driest := units.Fraction(1)
	for _, stack := range stacks {
		if one := stack.Stack.Stack; !one.Kindling && !one.Species.Mineral && one.PieceLength <= longest && stack.Moist.Middle < driest && one.Mass > enough && one.PieceMass < w.Stove.MaxLoad/2 {
			driest = stack.Moist.Middle
			one.Reading, one.WoodTemp, one.Spread = driest, usualRoom, 0
			w.Wood.Stack = one
		}
	}
	return w, nil
}

// known is what was found to be wrong with a stove and is not put right.
func (s Room) known(q *kit.Request, p *page, st store.Stove) error {
	p.Stove = st.ID
	all, err := q.Home.Troubles(q.Ctx())
	if err != nil {
		return err
	}
	for _, one := range all {
		if w := say.CauseOf(trouble.Cause(one.Cause)); one.Stove == st.ID && w.Name != "" {
			p.Found = append(p.Found, found{one.ID, q.T(w.Name), q.T(w.Do), q.Locale().Date(one.At.In(q.Profile.Location()), "2 January 2006"), q.ByOther(one.By)})
		}
	}
	return nil
}

// found keeps a cause as what is wrong: Before lighting says it until it is put right.
func (s Room) found(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	cause := trouble.Cause(f.Text("cause"))
	if !slices.Contains(trouble.Causes(), cause) {
		return kit.BadInput(q.T("There is no such cause; use a button of the page."))
	}
	if err := q.Home.FindTrouble(q.Ctx(), f.Number("stove"), string(cause), s.Now()); err != nil {
		return err
	}
	q.Say("Kept. Before lighting says it, until it is put right here.")
	return q.SeeOther(fmt.Sprintf("/trouble?stove=%d&found=1", f.Number("stove")))
}

// righted keeps that it is put right.
func (s Room) righted(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.RightTrouble(q.Ctx(), id, s.Now()); err != nil {
		return err
	}
	q.Say("Put right. Look once more on the next evening.")
	return q.SeeOther("/trouble")
}
