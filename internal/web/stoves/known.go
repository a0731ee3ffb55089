package stoves

import (
	"errors"
	"html/template"
	"net/http"
	"slices"
	"strconv"
	"time"

	"smolder/internal/app/reviewing"
	"smolder/internal/core/belief"
	"smolder/internal/core/learn"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// knownPage is what burns have taught about a stove.
type knownPage struct {
	kit.Page
	Stove    store.Stove
	Verdict  string
	Told     template.HTML
	Traits   []string
	Space    []kit.Figure
	Versions []version
	Changes  []changed
	Kinds    []kit.Option
	Form     *kit.Form
	Doing    string
	Nothing  bool
}

// version is what was known after one burn, or one change.
type version struct {
	When, After, Foretells string
	Burn                   int64
	Now                    bool
}

// changed is something that was done to the stove.
type changed struct {
	ID         int64
	When, What string
	Undone     bool
}

const (
	mostVersions = 25
	// outside is the outdoor temperature that coasting is told for, where nobody says one.
	outside units.Celsius = 2
)

func (s Room) known(q *kit.Request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	return s.showKnown(q, http.StatusOK, st, kit.Filled("at", q.T("today")))
}

func (s Room) showKnown(q *kit.Request, status int, st store.Stove, f *kit.Form) error {
	lessons, err := q.Home.Lessons(q.Ctx(), st.ID, mostVersions)
	if err != nil {
		return err
	}
	changes, err := q.Home.StoveChanges(q.Ctx(), st.ID)
	if err != nil {
		return err
	}
	p := &knownPage{Page: kit.Page{Title: st.Name + q.T(", as its burns have shown it"), Nav: "stoves", Wide: true}, Stove: st, Form: f}
	for _, c := range belief.Changes {
		p.Kinds = append(p.Kinds, kit.Option{Value: string(c), Label: say.Changed(c, q.Locale()) + ": " + say.Widens(c, q.Locale()), Chosen: f.Text("kind") == string(c)})
	}
	known := learn.New()
	if len(lessons) > 0 {
		known = lessons[0].Known()
	}
	if d := reviewing.ProgressOf(q.Ctx(), q.Home); d.Left > 0 && d.Learn {
		p.Doing = q.F("Burns are being taken in: %d of %d are still to do.", d.Left, d.All)
	}
	p.Verdict, p.Nothing = say.Foretells(known, st.Stove, q.Locale()), known.Burns == 0
	p.traits(q, st, known)
	p.versions(q, lessons)
	for _, c := range changes {
		p.Changes = append(p.Changes, changed{c.ID, q.Locale().Date(c.At.In(q.Profile.Location()), "2 Jan 2006"), say.Changed(c.Kind, q.Locale()), c.Undone.Valid})
	}
	q.Show(status, "known", p)
	return nil
}

// traits puts into words what is known.
func (p *knownPage) traits(q *kit.Request, st store.Stove, known learn.Known) {
	if known.Burns == 0 {
		return
	}
	u := q.Locale()
	if air, ok := st.MainAir(); ok {
		if low, high, ok := learn.UsefulPart(st.Stove, st.Space.House, known.Prior); ok && high > low {
			p.Traits = append(p.Traits, say.Trait(learn.Trait{Kind: learn.Useful, Control: air, Low: low, High: high}, u))
		}
	}
	for _, t := range learn.Traits(st.Stove, known.Prior) {
		p.Traits = append(p.Traits, say.Trait(t, u))
	}
	if sp, ok := learn.SpaceOf(st.Space.House, st.Space.Wanted, outside, known.Prior); ok {
		p.Space = []kit.Figure{
			kit.NewFigure(st.Space.Name+q.T(" loses"), u.HeatLossRange(sp.Low, sp.High),
				q.T("The heat loss with which the room, heated by these burns, went as it was read. Eight in ten of what fits lie between."),
				kit.From(q.T("the likeliest"), u.HeatLoss(sp.Middle), kit.Computed), kit.From(q.T("taken without burns"), u.HeatLoss(sp.Taken), kit.LossFrom(st.Space.House))),
			kit.NewFigure(q.T("keeps ")+u.RoomTemperature(st.Space.Wanted[0])+q.T(" without a fire"), q.Locale().Duration(sp.CoastLow)+q.T(" to ")+q.Locale().Duration(sp.CoastHigh),
				q.T("From ")+u.RoomTemperature(st.Space.Wanted[1])+q.T(" down to ")+u.RoomTemperature(st.Space.Wanted[0])+q.T(" at ")+u.Temperature(outside)+q.T(" outside, air and walls settled."),
				kit.From(q.T("the likeliest"), q.Locale().Duration(sp.CoastMiddle), kit.Computed)),
		}
	}
}

// versions lists what was known after each burn, the newest first.
func (p *knownPage) versions(q *kit.Request, lessons []store.Lesson) {
	var told []strip.Foretold
	seen := 0
	for i, l := range lessons {
		k := l.Known()
		v := version{When: q.Locale().Date(l.At.In(q.Profile.Location()), "2 Jan 2006"), Burn: l.Burn, Now: i == 0, After: q.T("after the burn")}
		if l.Change != 0 {
			v.After = q.T("after a change")
			for _, c := range p.Changes {
				if c.ID == l.Change {
					v.After = c.What
				}
			}
		}
		if known, usual, n := k.Foretells(); n > 0 {
			v.Foretells = q.F("%s, %s by what is usual", say.Apart(known, q.Locale()), say.Apart(usual, q.Locale()))
		}
		p.Versions = append(p.Versions, v)
		foretold := len(k.Trials) > 0 && (i+1 == len(lessons) || !slices.Equal(k.Trials, lessons[i+1].Known().Trials))
		if l.Burn != 0 && foretold && seen < 14 {
			t := k.Trials[len(k.Trials)-1]
			told = append(told, strip.Foretold{At: l.At, Usual: t.Usual, Known: t.Known})
			seen++
		}
	}
	slices.Reverse(told)
	if len(told) > 1 {
		p.Told = strip.Foretelling(told, q.Locale(), q.Profile.Location(), 520)
	}
}

// changeStove keeps what was done to a stove.
func (s Room) changeStove(q *kit.Request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	kind := belief.Change(f.Text("kind"))
	kit.KnownChoice(f, "kind", slices.Contains(belief.Changes, kind))
	at := s.Now().UTC()
	if f.Has("at") {
		// Of today: from now on, and not from this morning.
		if day := kit.Parse(f, "at", func(typed string) (time.Time, error) { return when.ParseDay(typed, q.Now()) }); day.Format(time.DateOnly) != q.Now().Format(time.DateOnly) {
			at = day
		}
	}
	if f.Ok() && at.After(s.Now()) {
		f.Wrong("at", q.T("that day lies ahead; today, or a day before would do"))
	}
	if !f.Ok() {
		return s.showKnown(q, http.StatusUnprocessableEntity, st, f)
	}
	switch err := q.Home.ChangeStove(q.Ctx(), st.ID, kind, at, 0); {
	case errors.Is(err, store.ErrMany):
		f.Wrong("kind", q.T("there are as many changes as are kept; take one back first"))
		return s.showKnown(q, http.StatusConflict, st, f)
	case err != nil:
		return err
	}
	s.Work.Wake(q.Ctx(), q.Home.ID())
	q.Say("Kept: %s, so %s.", say.Changed(kind, q.Locale()), say.Widens(kind, q.Locale()))
	return q.SeeOther("/stoves/" + strconv.FormatInt(st.ID, 10) + "/known")
}

// goBack goes back to what was known after a burn.
func (s Room) goBack(q *kit.Request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	if err := q.Home.ChangeStove(q.Ctx(), st.ID, store.Back, s.Now().UTC(), f.Number("burn")); err != nil {
		return err
	}
	s.Work.Wake(q.Ctx(), q.Home.ID())
	q.Say("What is known of %s goes back to that burn. It can be taken back below.", st.Name)
	return q.SeeOther("/stoves/" + strconv.FormatInt(st.ID, 10) + "/known")
}

func (s Room) undoChange(gone bool) func(q *kit.Request) error {
	return func(q *kit.Request) error {
		st, err := s.stoveOf(q)
		if err != nil {
			return err
		}
		id, err := q.ID("change")
		if err != nil {
			return err
		}
		if err := q.Home.UndoStoveChange(q.Ctx(), st.ID, id, gone, q.Now()); err != nil {
			return err
		}
		s.Work.Wake(q.Ctx(), q.Home.ID())
		return q.SeeOther("/stoves/" + strconv.FormatInt(st.ID, 10) + "/known")
	}
}
