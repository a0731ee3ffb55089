package stoves

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

func (s Room) addStove(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	st := readStove(q, f, nil, store.Stove{})
	if f.Ok() {
		id, err := s.keepStove(q, f, st, q.Home.AddStove)
		if err == nil {
			return s.afterStove(q, id, st.Name)
		}
		if !errors.Is(err, store.ErrTaken) {
			return err
		}
	}
	return s.showStoveForm(q, http.StatusUnprocessableEntity, 0, q.T("A new stove"), f)
}

// afterStove goes on to the wood where there is none yet, else to the stove.
func (s Room) afterStove(q *kit.Request, id int64, name string) error {
	stacks, err := q.Stacks()
	if err != nil {
		return err
	}
	if len(stacks) == 0 {
		q.Say("%s is kept. Now the wood that it burns.", units.UpperFirst(name))
		return q.SeeOther("/wood/new")
	}
	return q.SeeOther(fmt.Sprintf("/stoves/%d", id))
}

// keepStove makes the space that was described with a stove, if one was, and
// keeps the stove in it. A name in use is noted in the form.
func (s Room) keepStove(q *kit.Request, f *kit.Form, st store.Stove, keep func(context.Context, store.Stove) (int64, error)) (int64, error) {
	fresh := st.Space.ID == 0
	if fresh {
		var err error
		if st.Space.ID, err = q.Home.AddSpace(q.Ctx(), st.Space); err != nil {
			if errors.Is(err, store.ErrTaken) {
				f.Wrong(ownPrefix+"space", q.T("there is a space of that name already; another name would do, or choose it from the list"))
			}
			return 0, err
		}
	}
	id, err := keep(q.Ctx(), st)
	if errors.Is(err, store.ErrTaken) {
		f.Wrong("name", q.T("there is a stove of that name already; another name would do"))
	}
	if err != nil && fresh { // nothing of a refused form stays
		if e := q.Home.RemoveSpace(q.Ctx(), st.Space.ID, true, q.Now()); e != nil {
			return 0, e
		}
	}
	return id, err
}

func (s Room) editStove(q *kit.Request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	return s.showStoveForm(q, http.StatusOK, st.ID, st.Name, stoveToForm(q.Locale(), st))
}

// stoveToForm writes a stove as it would be typed.
func stoveToForm(u lang.Locale, st store.Stove) *kit.Form {
	c := st.Chimney
	f := kit.Filled("name", st.Name, "room", st.Room, "family", string(st.Family), "volume", u.Volume(st.Volume), "chimney-height", u.Length(c.Height),
		"space-id", strconv.FormatInt(st.Space.ID, 10), "version", strconv.Itoa(st.Version))
	for _, of := range []struct{ field, value string }{
		{"width", u.Size(st.Width)},
		{"depth", u.Size(st.Depth)},
		{"height", u.Size(st.Height)},
		{"max-load", u.Mass(st.MaxLoad)},
		{"diameter", u.Size(c.Diameter)},
		{"lining", string(c.Lining)},
		{"bends", strconv.Itoa(c.Bends)},
		{"horizontal", u.Length(c.Horizontal)},
		{"altitude", u.Length(c.Altitude)},
	} {
		if !st.Takes(of.field) {
			f.Values.Set(of.field, of.value)
		}
	}
	if st.Output > 0 {
		f.Values.Set("output", u.Power(st.Output))
	}
	if st.Double {
		f.Values.Set("double", "yes")
	}
	if c.Outside {
		f.Values.Set("outside", "yes")
	}
	for i, control := range st.Controls {
		prefix := fmt.Sprintf("control-%d-", i+1)
		f.Values.Set(prefix+"name", control.Name)
		f.Values.Set(prefix+"role", string(control.Role))
		f.Values.Set(prefix+"scale", string(control.Scale.Kind))
		f.Values.Set(prefix+"light", string(control.ToLight))
		switch {
		case control.Scale.Kind == stove.Notches:
			f.Values.Set(prefix+"full", strings.Join(control.Scale.Notches, ", "))
		case control.Scale.OpenLeft:
			f.Values.Set(prefix+"full", "left")
		case control.Scale.Full > 0:
			f.Values.Set(prefix+"full", strconv.FormatFloat(control.Scale.Full, 'f', -1, 64))
		}
	}
	for _, g := range st.Gauges {
		key := "gauge-" + string(g.Place)
		f.Values.Set(key, "yes")
		if g.Place.OfFire() {
			f.Values.Set(key+"-low", u.Temperature(g.Band.Low))
			f.Values.Set(key+"-high", u.Temperature(g.Band.High))
			f.Values.Set(key+"-hot", u.Temperature(g.Band.TooHot))
		}
	}
	if st.Unattended {
		f.Values.Set("unattended", "yes")
	}
	m := st.Manual
	f.Values.Set("door-rule", string(m.Door))
	f.Values.Set("flap-rule", string(m.Flap))
	for _, of := range []struct {
		field string
		span  time.Duration
	}{{"door-for", m.DoorFor}, {"flap-for", m.FlapFor}} {
		if of.span > 0 {
			f.Values.Set(of.field, u.Duration(of.span))
		}
	}
	if m.Engage > 0 {
		f.Values.Set("engage", u.Temperature(m.Engage))
	}
	return f
}

func (s Room) saveStove(q *kit.Request) error {
	old, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	shown := stoveToForm(q.Locale(), old)
	st := readStove(q, f, shown, old)
	st.ID, st.Version = old.ID, f.Version()
	if f.Ok() {
		_, err := s.keepStove(q, f, st, func(ctx context.Context, st store.Stove) (int64, error) { return st.ID, q.Home.SaveStove(ctx, st) })
		switch {
		case err == nil:
			q.Say("Kept. Burns already logged keep the stove as it was.")
			return q.SeeOther(fmt.Sprintf("/stoves/%d", old.ID))
		case errors.Is(err, store.ErrStale):
			f.Conflict(shown, old.Version)
			return s.showStoveForm(q, http.StatusConflict, old.ID, old.Name, f)
		case !errors.Is(err, store.ErrTaken):
			return err
		}
	}
	return s.showStoveForm(q, http.StatusUnprocessableEntity, old.ID, old.Name, f)
}

// removeStove takes a stove off the list; its burns stay.
func (s Room) removeStove(q *kit.Request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	if err := q.Home.RemoveStove(q.Ctx(), st.ID, true, s.Now()); err != nil {
		return err
	}
	q.Say("%s is off the list. Its burns stay, and it can be put back below.", st.Name)
	return q.SeeOther("/stoves")
}

func (s Room) putBackStove(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.RemoveStove(q.Ctx(), id, false, s.Now()); err != nil {
		return err
	}
	return q.SeeOther(fmt.Sprintf("/stoves/%d", id))
}
