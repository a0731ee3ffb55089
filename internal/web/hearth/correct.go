package hearth

import (
	"errors"
	"net/http"

	"smolder/internal/core/burn"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

type entryPage struct {
	kit.Page
	Burn  store.Burn
	Entry burn.Entry
	Said  string
	Form  *kit.Form
	Back  string
}

// entryForm shows one entry for correction.
func (s Room) entryForm(q *kit.Request) error {
	b, e, err := s.entryOf(q)
	if err != nil {
		return err
	}
	return s.showEntry(q, http.StatusOK, b, e, entryToForm(q, b, e))
}

// entryToForm writes an entry as it would be typed.
func entryToForm(q *kit.Request, b store.Burn, e burn.Entry) *kit.Form {
	f := kit.Filled("when", e.At.In(q.Profile.Location()).Format("15:04"), "value", e.Typed, "note", e.Note)
	if write := kinds[e.Kind].write; write != nil {
		write(q.Locale(), b, e, f.Values.Set)
	}
	return f
}

func (s Room) showEntry(q *kit.Request, status int, b store.Burn, e burn.Entry, f *kit.Form) error {
	q.Show(status, "entry", &entryPage{Page: kit.Page{Title: q.T("Correct an entry"), Nav: "burns"}, Burn: b, Entry: e,
		Said: say.Entry(b.Burn, e, q.Locale()), Form: f, Back: s.backTo(b)})
	return nil
}

func (s Room) entryOf(q *kit.Request) (store.Burn, burn.Entry, error) {
	b, err := s.BurnOf(q)
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
func (s Room) correctEntry(q *kit.Request) error {
	b, old, err := s.entryOf(q)
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	e := s.corrected(q, f, b, old)
	if f.Ok() {
		err := q.Home.CorrectEntry(q.Ctx(), b.ID, old.ID, e, s.Now())
		switch {
		case err == nil:
			q.Say("Corrected: %s.", say.Entry(b.Burn, e, q.Locale()))
			return q.SeeOther(s.backTo(b))
		case !errors.Is(err, burn.ErrEntry):
			return err
		}
		f.Fails("", err)
	}
	return s.showEntry(q, http.StatusUnprocessableEntity, b, old, f)
}

// corrected reads the changed fields over the old entry; what is sent back as it
// was shown stays what it was.
func (s Room) corrected(q *kit.Request, f *kit.Form, b store.Burn, old burn.Entry) burn.Entry {
	shown := entryToForm(q, b, old)
	e := old
	e.ID, e.Struck, e.Undone, e.Corrects = kit.NewEntryID(), false, false, ""
	if f.Text("when") != shown.Text("when") {
		now := s.Now()
		if !b.Ended.IsZero() && now.After(b.Ended) {
			now = b.Ended
		}
		e.At = parseWhen(f, now, b.Started, q.Profile.Location())
	}
	if read := kinds[e.Kind].read; read != nil {
		if err := read(reading{s, q, f, b, &e, shown}); err != nil {
			f.Fails("", err)
		}
	}
	return e
}

// undoEntry undoes an entry.
func (s Room) undoEntry(q *kit.Request) error {
	b, e, err := s.entryOf(q)
	if err != nil {
		return err
	}
	if err := q.Home.UndoEntry(q.Ctx(), b.ID, e.ID, q.Now()); err != nil {
		return err
	}
	q.Say("Undone: %s. It stands struck through in the log and can be put back.", say.Entry(b.Burn, e, q.Locale()))
	return q.SeeOther(s.backTo(b))
}

func (s Room) putBackEntry(q *kit.Request) error {
	b, e, err := s.entryOf(q)
	if err != nil {
		return err
	}
	if !e.Undone {
		return kit.BadInput(q.T("This entry was not undone: another has taken its place. Undo that one, and this counts again."))
	}
	if err := q.Home.PutBackEntry(q.Ctx(), b.ID, e.ID); err != nil {
		return err
	}
	q.Say("Put back: %s.", say.Entry(b.Burn, e, q.Locale()))
	return q.SeeOther(s.backTo(b))
}
