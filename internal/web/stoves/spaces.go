package stoves

import (
	"errors"
	"net/http"
	"strconv"

	"smolder/internal/core/house"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

type spacePage struct {
	kit.Page
	ID     int64
	Form   *kit.Form
	Builds []kit.Option
	Helps  []kit.Option
	Stoves []string // that stand in it
	Usual  []buildRow
}

// buildRow says what a shell is taken to lose.
type buildRow struct{ Name, Loss, Air string }

func buildOptions(loc lang.Locale) []kit.Option {
	var out []kit.Option
	for _, k := range say.Builds {
		out = append(out, kit.Option{Value: string(k.Key), Label: loc.T(k.Name)})
	}
	return out
}

func helperOptions(loc lang.Locale) []kit.Option {
	var out []kit.Option
	for _, k := range say.Helpers {
		out = append(out, kit.Option{Value: string(k.Key), Label: loc.T(k.Name)})
	}
	return out
}

func (s Room) showSpace(q *kit.Request, status int, id int64, title string, f *kit.Form) error {
	p := &spacePage{Page: kit.Page{Title: title, Nav: "household"}, ID: id, Form: f, Builds: buildOptions(q.Locale()), Helps: helperOptions(q.Locale())}
	for _, b := range house.Builds {
		u := q.Locale()
		loss := u.HeatLoss(100*b.Loss) + q.T(" per ") + u.Area(100) + q.T(" of floor")
		if b.Whole > 0 {
			loss = u.HeatLoss(b.Whole) + q.T(" in all")
		}
		p.Usual = append(p.Usual, buildRow{q.T(say.Builds.Name(b.Key)), loss, q.Locale().Number(b.N50, 1)})
	}
	if id != 0 {
		stoves, err := q.Stoves()
		if err != nil {
			return err
		}
		for _, st := range stoves {
			if st.Space.ID == id {
				p.Stoves = append(p.Stoves, st.Name)
			}
		}
	}
	q.Show(status, "space", p)
	return nil
}

func (s Room) newSpace(q *kit.Request) error {
	u := q.Locale()
	return s.showSpace(q, http.StatusOK, 0, q.T("A new space"),
		kit.Filled("low", u.RoomTemperature(kit.UsualBand[0]), "high", u.RoomTemperature(kit.UsualBand[1]), "build", string(house.Ordinary)))
}

func (s Room) addSpace(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	sp := readSpace(f, q.Locale(), nil, store.Space{}, "")
	if f.Ok() {
		_, err := q.Home.AddSpace(q.Ctx(), sp)
		if err == nil {
			q.Say("%s is kept. A stove is put into it on the stove's own page.", units.UpperFirst(sp.Name))
			return q.SeeOther("/household")
		}
		if !errors.Is(err, store.ErrTaken) {
			return err
		}
		f.Wrong("space", q.T("there is a space of that name already; another name would do"))
	}
	return s.showSpace(q, http.StatusUnprocessableEntity, 0, q.T("A new space"), f)
}

func (s Room) spaceOf(q *kit.Request) (store.Space, error) {
	id, err := q.ID("id")
	if err != nil {
		return store.Space{}, err
	}
	return q.Home.Space(q.Ctx(), id)
}

func (s Room) space(q *kit.Request) error {
	sp, err := s.spaceOf(q)
	if err != nil {
		return err
	}
	return s.showSpace(q, http.StatusOK, sp.ID, units.UpperFirst(sp.Name), spaceToForm(q.Locale(), sp))
}

func (s Room) saveSpace(q *kit.Request) error {
	old, err := s.spaceOf(q)
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	shown := spaceToForm(q.Locale(), old)
	sp := readSpace(f, q.Locale(), shown, old, "")
	sp.ID, sp.Version = old.ID, f.Version()
	if f.Ok() {
		switch err := q.Home.SaveSpace(q.Ctx(), sp); {
		case err == nil:
			q.Say("Kept. Burns already logged keep the space as it was.")
			return q.SeeOther("/spaces/" + strconv.FormatInt(old.ID, 10))
		case errors.Is(err, store.ErrStale):
			f.Conflict(shown, old.Version)
			return s.showSpace(q, http.StatusConflict, old.ID, units.UpperFirst(old.Name), f)
		case errors.Is(err, store.ErrTaken):
			f.Wrong("space", q.T("there is a space of that name already; another name would do"))
		default:
			return err
		}
	}
	return s.showSpace(q, http.StatusUnprocessableEntity, old.ID, units.UpperFirst(old.Name), f)
}

func (s Room) removeSpace(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.RemoveSpace(q.Ctx(), id, true, q.Now()); err != nil {
		return err
	}
	q.Say("The space is off the list.")
	return q.SeeOther("/household")
}

// A usual ceiling, m, and the least volume that is taken, a boat's.
const (
	usualCeiling             = 2.4
	leastVolume  units.Litre = 4000
)

// readSpace reads a space's form; shown is the form as it was shown of was, nil
// for a new one. prefix tells its fields from others on the page.
func readSpace(f *kit.Form, u lang.Locale, shown *kit.Form, was store.Space, prefix string) store.Space {
	h := was.House
	h.Assumed, h.Learned = false, 0
	sp := store.Space{Name: f.Name(prefix+"space", "space-name")}
	h.Build = house.Build(f.Text(prefix + "build"))
	h.Helper = house.Helper(f.Text(prefix + "helper"))
	h.Floor = kit.Kept(f, shown, prefix+"floor", was.House.Floor, kit.In(units.ParseArea, u.System))
	h.Volume = kit.KeptOptional(f, shown, prefix+"volume", was.House.Volume, kit.In(units.ParseRoomVolume, u.System))
	if h.Volume == 0 { // nobody need know it: the heated floor under a usual ceiling
		h.Volume = max(leastVolume, units.Litre(usualCeiling*1000*h.Floor))
	}
	usual := house.House{Build: h.Build}
	h.N50 = usual.UsualN50()
	if f.Has(prefix + "n50") {
		h.N50 = kit.Kept(f, shown, prefix+"n50", was.House.N50, func(t string) (float64, error) {
			return units.ParseNumber(t, u.T("air change rate"), 0.1, 40)
		})
	}
	h.Fan = kit.KeptOptional(f, shown, prefix+"fan", was.House.Fan, kit.In(units.ParseFlow, u.System))
	h.Given = kit.KeptOptional(f, shown, prefix+"loss", was.House.Given, kit.In(units.ParseHeatLoss, u.System))
	sp.Wanted[0] = kit.Kept(f, shown, prefix+"low", was.Wanted[0], kit.In(kit.ParseRoom, u.System))
	sp.Wanted[1] = kit.Kept(f, shown, prefix+"high", was.Wanted[1], kit.In(kit.ParseRoom, u.System))
	if f.Errors[prefix+"low"] == "" && f.Errors[prefix+"high"] == "" && sp.Wanted[0] >= sp.Wanted[1] {
		f.Wrong(prefix+"high", u.T("the wanted temperature must rise from a lower to a higher one"))
	}
	sp.House = h
	if f.Ok() {
		f.FailsAll(h.Check(), func(field string) string { return prefix + field })
	}
	return sp
}

func spaceToForm(u lang.Locale, sp store.Space) *kit.Form {
	f := kit.Filled("version", strconv.Itoa(sp.Version))
	spaceInto(f, u, sp, "")
	return f
}

func spaceInto(f *kit.Form, u lang.Locale, sp store.Space, prefix string) {
	h := sp.House
	set := func(name, value string) { f.Values.Set(prefix+name, value) }
	set("space", sp.Name)
	set("floor", u.Area(h.Floor))
	set("build", string(h.Build))
	set("n50", u.Number(h.N50, 1))
	set("helper", string(h.Helper))
	set("volume", u.Air(h.Volume))
	set("low", u.RoomTemperature(sp.Wanted[0]))
	set("high", u.RoomTemperature(sp.Wanted[1]))
	if h.Fan > 0 {
		set("fan", u.Flow(h.Fan))
	}
	if h.Given > 0 {
		set("loss", u.HeatLoss(h.Given))
	}
}
