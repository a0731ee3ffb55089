package web

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"smolder/internal/core/house"
	"smolder/internal/core/units"
	"smolder/internal/say"
	"smolder/internal/store"
)

type spacePage struct {
	page
	ID     int64
	Form   *form
	Builds []option
	Stoves []string // that stand in it
	Usual  []buildRow
}

// buildRow says what a shell is taken to lose.
type buildRow struct{ Name, Loss, Air string }

func buildOptions() []option {
	var out []option
	for _, k := range say.Builds {
		out = append(out, option{Value: string(k.Key), Label: k.Name})
	}
	return out
}

func (s *Server) showSpace(q *request, status int, id int64, title string, f *form) error {
	p := &spacePage{page: page{Title: title, Nav: "household"}, ID: id, Form: f, Builds: buildOptions()}
	for _, b := range house.Builds {
		loss := fmt.Sprintf("%s W/K per m² of floor", units.Number(b.Loss, 2))
		if b.Whole > 0 {
			loss = fmt.Sprintf("%s W/K in all", units.Number(b.Whole, 0))
		}
		p.Usual = append(p.Usual, buildRow{say.Builds.Name(b.Key), loss, units.Number(b.N50, 1)})
	}
	if id != 0 {
		stoves, err := q.house.Stoves(q.ctx())
		if err != nil {
			return err
		}
		for _, st := range stoves {
			if st.Space.ID == id {
				p.Stoves = append(p.Stoves, st.Name)
			}
		}
	}
	q.render(status, "space", p)
	return nil
}

func (s *Server) newSpace(q *request) error {
	u := q.units()
	return s.showSpace(q, http.StatusOK, 0, "A new space", filled("low", u.RoomTemperature(usualBand[0]), "high", u.RoomTemperature(usualBand[1]), "build", string(house.Ordinary)))
}

func (s *Server) addSpace(q *request) error {
	f, err := q.form()
	if err != nil {
		return err
	}
	sp := readSpace(f, q.units(), nil, store.Space{}, "")
	if f.ok() {
		_, err := q.house.AddSpace(q.ctx(), sp)
		if err == nil {
			q.say("%s is kept. A stove is put into it on the stove's own page.", units.UpperFirst(sp.Name))
			return q.seeOther("/household")
		}
		if !errors.Is(err, store.ErrTaken) {
			return err
		}
		f.wrong("space", "there is a space of that name already; another name would do")
	}
	return s.showSpace(q, http.StatusUnprocessableEntity, 0, "A new space", f)
}

func (s *Server) spaceOf(q *request) (store.Space, error) {
	id, err := q.id("id")
	if err != nil {
		return store.Space{}, err
	}
	return q.house.Space(q.ctx(), id)
}

func (s *Server) space(q *request) error {
	sp, err := s.spaceOf(q)
	if err != nil {
		return err
	}
	return s.showSpace(q, http.StatusOK, sp.ID, units.UpperFirst(sp.Name), spaceToForm(q.units(), sp))
}

func (s *Server) saveSpace(q *request) error {
	old, err := s.spaceOf(q)
	if err != nil {
		return err
	}
	f, err := q.form()
	if err != nil {
		return err
	}
	shown := spaceToForm(q.units(), old)
	sp := readSpace(f, q.units(), shown, old, "")
	sp.ID, sp.Version = old.ID, f.version()
	if f.ok() {
		switch err := q.house.SaveSpace(q.ctx(), sp); {
		case err == nil:
			q.say("Kept. Burns already logged keep the space as it was.")
			return q.seeOther("/spaces/" + strconv.FormatInt(old.ID, 10))
		case errors.Is(err, store.ErrStale):
			f.conflict(shown, old.Version)
			return s.showSpace(q, http.StatusConflict, old.ID, units.UpperFirst(old.Name), f)
		case errors.Is(err, store.ErrTaken):
			f.wrong("space", "there is a space of that name already; another name would do")
		default:
			return err
		}
	}
	return s.showSpace(q, http.StatusUnprocessableEntity, old.ID, units.UpperFirst(old.Name), f)
}

func (s *Server) removeSpace(q *request) error {
	id, err := q.id("id")
	if err != nil {
		return err
	}
	if err := q.house.RemoveSpace(q.ctx(), id, true); err != nil {
		return err
	}
	q.say("The space is off the list.")
	return q.seeOther("/household")
}

// readSpace reads a space's form; shown is the form as it was shown of was, nil
// for a new one. prefix tells its fields from others on the page.
func readSpace(f *form, u units.System, shown *form, was store.Space, prefix string) store.Space {
	h := was.House
	h.Assumed, h.Learned = false, 0
	sp := store.Space{Name: f.name(prefix+"space", "space-name")}
	h.Build = house.Build(f.text(prefix + "build"))
	h.Floor = kept(f, shown, prefix+"floor", was.House.Floor, in(units.ParseArea, u))
	h.Volume = kept(f, shown, prefix+"volume", was.House.Volume, in(units.ParseRoomVolume, u))
	usual := house.House{Build: h.Build}
	h.N50 = usual.UsualN50()
	if f.has(prefix + "n50") {
		h.N50 = kept(f, shown, prefix+"n50", was.House.N50, func(t string) (float64, error) {
			return units.ParseNumber(t, "air change rate", 0.1, 40)
		})
	}
	h.Fan = keptOptional(f, shown, prefix+"fan", was.House.Fan, in(units.ParseFlow, u))
	h.Given = keptOptional(f, shown, prefix+"loss", was.House.Given, func(t string) (float64, error) {
		return units.ParseNumber(t, "heat loss in W/K", 5, 5000)
	})
	sp.Wanted[0] = kept(f, shown, prefix+"low", was.Wanted[0], in(parseRoom, u))
	sp.Wanted[1] = kept(f, shown, prefix+"high", was.Wanted[1], in(parseRoom, u))
	if f.Errors[prefix+"low"] == "" && f.Errors[prefix+"high"] == "" && sp.Wanted[0] >= sp.Wanted[1] {
		f.wrong(prefix+"high", "the wanted temperature must rise from a lower to a higher one")
	}
	sp.House = h
	if f.ok() {
		f.failsAll(h.Check(), func(field string) string { return prefix + field })
	}
	return sp
}

func spaceToForm(u units.System, sp store.Space) *form {
	f := filled("version", strconv.Itoa(sp.Version))
	spaceInto(f, u, sp, "")
	return f
}

func spaceInto(f *form, u units.System, sp store.Space, prefix string) {
	h := sp.House
	set := func(name, value string) { f.Values.Set(prefix+name, value) }
	set("space", sp.Name)
	set("floor", u.Area(h.Floor))
	set("build", string(h.Build))
	set("n50", units.Number(h.N50, 1))
	set("volume", u.Air(h.Volume))
	set("low", u.RoomTemperature(sp.Wanted[0]))
	set("high", u.RoomTemperature(sp.Wanted[1]))
	if h.Fan > 0 {
		set("fan", u.Flow(h.Fan))
	}
	if h.Given > 0 {
		set("loss", units.Number(h.Given, 0))
	}
}
