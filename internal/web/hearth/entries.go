package hearth

import (
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"smolder/internal/app/winter"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/trail"
	"smolder/internal/web/kit"
)

// addEntry keeps one entry: from a form, or from a script that may send it
// again; it is kept once. Whether it may be kept is decided by the log, under
// the burn's row.
func (s Room) addEntry(q *kit.Request) error {
	defer parallel.Beside()()
	b, err := s.BurnOf(q)
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	if asNote(f) {
		return s.logs(q, b, f.Part(f.Values), "note", s.noteOf(q, f, b)) // whatever is wrong with it
	}
	e, err := s.readEntry(q, f, b)
	if err != nil {
		return err
	}
	return s.logs(q, b, f, sheetOf(e), e)
}

// logs keeps entries, all of them or none, and answers. What the log does not take is said
// on the sheet that it was typed on.
func (s Room) logs(q *kit.Request, b store.Burn, f *kit.Form, sheet string, entries ...burn.Entry) error {
	if f.Ok() {
		var other *burn.Another
		ctx, kept := trail.Step(q.Ctx(), "an entry is kept")
		err := q.Home.AddEntries(ctx, b.ID, s.Now(), entries...)
		kept(err)
		switch {
		case errors.As(err, &other):
			return kit.Answer(http.StatusConflict, q.F("This was logged already, at %s, as: %s. It stays so; correct it in the log.",
				other.Kept.At.In(q.Profile.Location()).Format("15:04"), units.LowerFirst(say.Entry(b.Burn, other.Kept, q.Locale()))))
		case err == nil && q.WantsJSON():
			q.JSON(http.StatusOK, map[string]string{"said": saidOf(b, entries, q.Locale())})
			return nil
		case err == nil:
			return q.SeeOther(s.backTo(b))
		case !errors.Is(err, burn.ErrEntry):
			return err
		}
		f.Fails("", err)
	}
	if q.WantsJSON() || !b.Ended.IsZero() {
		return kit.BadInput(f.First())
	}
	return s.showLive(q, http.StatusUnprocessableEntity, b, f, sheet)
}

// saidOf is what was logged, in words.
func saidOf(b store.Burn, entries []burn.Entry, loc lang.Locale) string {
	said := make([]string, len(entries))
	for i, e := range entries {
		said[i] = say.Entry(b.Burn, e, loc)
	}
	return strings.Join(said, ", ")
}

// sheetOf is the sheet of the live page that an entry was made on.
func sheetOf(e burn.Entry) string {
	if e.Kind == burn.Mineral {
		e.Kind = burn.Load
	}
	return string(e.Kind) + e.Control
}

// backTo is the page an entry was made on.
func (s Room) backTo(b store.Burn) string {
	if b.Ended.IsZero() {
		return fmt.Sprintf("/burns/%d/live", b.ID)
	}
	return fmt.Sprintf("/burns/%d", b.ID)
}

// readEntry reads an entry from a form. What is typed wrongly is in the form.
func (s Room) readEntry(q *kit.Request, f *kit.Form, b store.Burn) (burn.Entry, error) {
	e := burn.Entry{ID: f.Text("id"), Kind: burn.Kind(f.Text("kind")), Typed: f.Text("value")}
	if fixed := f.Text("fixed"); fixed != "" { // a question that is answered once
		e.ID = fixed
	}
	if e.ID == "" {
		e.ID = kit.NewEntryID()
	}
	if len(e.ID) > 64 || len(e.Typed) > 200 {
		return e, kit.BadInput(q.T("What was typed is too long."))
	}
	e.At = parseWhen(f, s.Now(), b.Started, q.Profile.Location())
	kind, known := kinds[e.Kind]
	if !known {
		return e, kit.BadInput(q.T("That kind of entry is not known."))
	}
	if e.Kind == burn.NotYet { // what was asked
		e.Note = shorten(f.Text("note"), 200)
	}
	if kind.read == nil {
		return e, nil
	}
	return e, kind.read(reading{s, q, f, b, &e, nil})
}

// newLoad reads a load from a stack; nil where the form says from none.
func (s Room) newLoad(q *kit.Request, f *kit.Form, b store.Burn) (*fire.Load, error) {
	if f.Number("stack") == 0 {
		f.Wrong("stack", q.T("say from which stack it is; one that is not on the list is added under Wood first"))
		return nil, nil
	}
	stack, err := q.Stack(f.Number("stack"))
	if err != nil {
		return nil, err
	}
	inside, err := winter.InsideOf(q.Ctx(), q.Home, q.Now())
	if err != nil {
		return nil, err
	}
	if !b.OutdoorUnknown {
		stack = stack.As(inside.AtHand(stack, b.Room, b.Outdoor, q.Now()))
	}
	pieces := kit.Parse(f, "pieces", units.ParsePieces)
	l := kit.LoadFrom(stack, b.Stove, pieces, stove.Direction(f.Text("direction")), fire.Lay(f.Text("lay")), fire.Starter(f.Text("starter")))
	if m, typed := kit.Optional(f, "mass", kit.In(units.ParseMass, q.Locale().System)); typed && pieces > 0 {
		if m <= 0 {
			f.Wrong("mass", q.T("a load weighs something; leave it empty for usual pieces"))
		}
		l.PieceMass = m / units.Kilogram(pieces)
	}
	return l, nil
}

// parseWhen reads when something happened: nothing or "now", "5 min ago", or a
// clock time of the burn. A script says when it was tapped and when it sends;
// only the difference counts, so that a phone whose clock is off does no harm.
func parseWhen(f *kit.Form, now, started time.Time, zone *time.Location) time.Time {
	typed := strings.ToLower(f.Text("when"))
	if at, err := time.Parse(time.RFC3339, f.Text("at")); err == nil && (typed == "" || typed == "now") {
		if sent, err := time.Parse(time.RFC3339, f.Text("sent")); err == nil && !sent.Before(at) {
			return now.Add(-sent.Sub(at)).UTC()
		}
		return at.UTC()
	}
	return momentIn(f, typed, now, started, zone)
}

// momentIn reads a time of the burn as it is typed.
func momentIn(f *kit.Form, typed string, now, started time.Time, zone *time.Location) time.Time {
	at, err := when.ParseMoment(typed, now.In(zone), started)
	if err != nil {
		f.Wrong("when", say.Error(err, f.Locale()))
	}
	return at.UTC()
}

// endBurn ends a burn now, or at an earlier moment: who forgot it says when it
// was over.
func (s Room) endBurn(q *kit.Request) error {
	b, err := s.BurnOf(q)
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	now := s.Now().UTC()
	at := parseWhen(f, now, b.Started, q.Profile.Location())
	if f.Ok() {
		_, err := q.Home.EndBurn(q.Ctx(), b.ID, at, now)
		switch {
		case err == nil:
			s.Work.Wake(q.Ctx(), q.Home.ID())
			q.Say("The burn is ended. It can be opened again below.")
			return q.SeeOther(fmt.Sprintf("/burns/%d", b.ID))
		case !errors.Is(err, burn.ErrEntry):
			return err
		}
		f.Fails("when", err)
	}
	if !b.Ended.IsZero() {
		return kit.BadInput(f.First())
	}
	return s.showLive(q, http.StatusUnprocessableEntity, b, f, "end")
}

func (s Room) reopenBurn(q *kit.Request) error {
	b, err := s.BurnOf(q)
	if err != nil {
		return err
	}
	if err := q.Home.ReopenBurn(q.Ctx(), b.ID); err != nil {
		return err
	}
	return q.SeeOther(fmt.Sprintf("/burns/%d/live", b.ID))
}
