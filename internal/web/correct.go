package web

import (
	"errors"
	"net/http"
	"strconv"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/units"
	"smolder/internal/say"
	"smolder/internal/store"
)

type entryPage struct {
	page
	Burn  store.Burn
	Entry burn.Entry
	Said  string
	Form  *form
	Back  string
}

// entryForm shows one entry for correction.
func (s *Server) entryForm(q *request) error {
	b, e, err := s.entryOf(q)
	if err != nil {
		return err
	}
	return s.showEntry(q, http.StatusOK, b, e, entryToForm(q, b, e))
}

// entryToForm writes an entry as it would be typed.
func entryToForm(q *request, b store.Burn, e burn.Entry) *form {
	f := filled("when", e.At.In(q.profile.Location()).Format("15:04"), "value", e.Typed, "note", e.Note)
	u := q.units()
	switch e.Kind {
	case burn.Temperature:
		f.Values.Set("value", u.RoomTemperature(e.Reading))
	case burn.Draft:
		f.Values.Set("value", u.Draft(e.Draft))
	case burn.Door:
		f.Values.Set("value", map[fire.Door]string{fire.Shut: "shut", fire.Ajar: "ajar", fire.Open: "open"}[e.Door])
	case burn.Smoke:
		f.Values.Set("value", e.Smoke)
	case burn.Control:
		if c, ok := b.Stove.Control(e.Control); ok {
			f.Values.Set("value", say.Mark(c.Scale, e.Opening))
		}
	case burn.Load, burn.Mineral:
		f.Values.Set("pieces", strconv.Itoa(e.Load.Pieces))
		f.Values.Set("mass", u.Mass(e.Load.Mass()))
	}
	return f
}

func (s *Server) showEntry(q *request, status int, b store.Burn, e burn.Entry, f *form) error {
	q.render(status, "entry", &entryPage{page: page{Title: "Correct an entry", Nav: "burns"}, Burn: b, Entry: e, Said: say.Entry(b.Burn, e, q.units()), Form: f, Back: s.backTo(b)})
	return nil
}

func (s *Server) entryOf(q *request) (store.Burn, burn.Entry, error) {
	b, err := s.burnOf(q)
	if err != nil {
		return b, burn.Entry{}, err
	}
	for _, e := range b.Entries {
		if e.ID == q.Param("entry") {
			return b, e, nil
		}
	}
	return b, burn.Entry{}, store.ErrMissing
}

// correctEntry puts a new entry in the place of an old one.
func (s *Server) correctEntry(q *request) error {
	b, old, err := s.entryOf(q)
	if err != nil {
		return err
	}
	f, err := q.form()
	if err != nil {
		return err
	}
	e := s.corrected(q, f, b, old)
	if f.ok() {
		err := q.house.CorrectEntry(q.ctx(), b.ID, old.ID, e, s.Now())
		switch {
		case err == nil:
			q.say("Corrected: %s.", say.Entry(b.Burn, e, q.units()))
			return q.seeOther(s.backTo(b))
		case !errors.Is(err, burn.ErrEntry):
			return err
		}
		f.fails("", err)
	}
	return s.showEntry(q, http.StatusUnprocessableEntity, b, old, f)
}

// corrected reads the changed fields over the old entry; what is sent back as it
// was shown stays what it was.
func (s *Server) corrected(q *request, f *form, b store.Burn, old burn.Entry) burn.Entry {
	shown := entryToForm(q, b, old)
	e := old
	e.ID, e.Struck, e.Undone, e.Corrects = newEntryID(), false, false, ""
	if f.text("when") != shown.text("when") {
		now := s.Now()
		if !b.Ended.IsZero() && now.After(b.Ended) {
			now = b.Ended
		}
		e.At = parseWhen(f, now, b.Started, q.profile.Location())
	}
	same := f.text("value") == shown.text("value")
	switch e.Kind {
	case burn.Control:
		if c, ok := b.Stove.Control(e.Control); ok && !same {
			e.Opening, e.Typed = parse(f, "value", c.Scale.Parse), f.text("value")
		}
	case burn.Temperature, burn.Draft, burn.Door, burn.Smoke:
		if !same {
			q.readSaid(f, &e)
		}
	case burn.Note:
		q.readSaid(f, &e)
	case burn.Load, burn.Mineral:
		l := *old.Load
		l.Pieces = parse(f, "pieces", units.ParsePieces)
		if m := kept(f, shown, "mass", old.Load.Mass(), in(units.ParseMass, q.units())); l.Pieces > 0 && f.text("mass") != shown.text("mass") {
			l.PieceMass = m / units.Kilogram(l.Pieces)
		}
		e.Load = &l
	}
	return e
}

// undoEntry undoes an entry.
func (s *Server) undoEntry(q *request) error {
	b, e, err := s.entryOf(q)
	if err != nil {
		return err
	}
	if err := q.house.UndoEntry(q.ctx(), b.ID, e.ID); err != nil {
		return err
	}
	q.say("Undone: %s. It stands struck through in the log and can be put back.", say.Entry(b.Burn, e, q.units()))
	return q.seeOther(s.backTo(b))
}

func (s *Server) putBackEntry(q *request) error {
	b, e, err := s.entryOf(q)
	if err != nil {
		return err
	}
	if !e.Undone {
		return badInput("This entry was not undone: another has taken its place. Undo that one, and this counts again.")
	}
	if err := q.house.PutBackEntry(q.ctx(), b.ID, e.ID); err != nil {
		return err
	}
	q.say("Put back: %s.", say.Entry(b.Burn, e, q.units()))
	return q.seeOther(s.backTo(b))
}
