package web

import (
	"fmt"
	"net/http"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/store"
)

// addEntry keeps one entry: from a form, or from a script that may send it
// again; it is kept once.
func (s *Server) addEntry(q *request) error {
	b, err := s.burnOf(q)
	if err != nil {
		return err
	}
	f, err := q.form()
	if err != nil {
		return err
	}
	e, err := s.readEntry(q, f, b)
	if err != nil {
		return err
	}
	if f.ok() {
		if err := b.Check(e, s.Now()); err != nil {
			f.wrong(fieldOf(e.Kind), strings.TrimPrefix(err.Error(), burn.ErrEntry.Error()+": "))
		}
	}
	if !f.ok() {
		if q.wantsJSON() {
			return badInput(f.First())
		}
		if !b.Ended.IsZero() {
			return badInput(f.First())
		}
		return s.showLive(q, http.StatusUnprocessableEntity, b, f, string(e.Kind)+e.Control)
	}
	if err := q.house.AddEntry(q.ctx(), b.ID, e); err != nil {
		return err
	}
	if q.wantsJSON() {
		q.JSON(http.StatusOK, map[string]string{"said": entrySay(q, b, e)})
		return nil
	}
	return q.seeOther(s.backTo(b))
}

// backTo is the page an entry was made on.
func (s *Server) backTo(b store.Burn) string {
	if b.Ended.IsZero() {
		return fmt.Sprintf("/burns/%d/live", b.ID)
	}
	return fmt.Sprintf("/burns/%d", b.ID)
}

// fieldOf is the form field that an entry's own check is about.
func fieldOf(k burn.Kind) string {
	switch k {
	case burn.Load:
		return "pieces"
	case burn.Note:
		return "note"
	}
	return "value"
}

// readEntry reads an entry from a form. What is typed wrongly is in the form.
func (s *Server) readEntry(q *request, f *form, b store.Burn) (burn.Entry, error) {
	e := burn.Entry{ID: f.text("id"), Kind: burn.Kind(f.text("kind")), Typed: f.text("value")}
	if e.ID == "" {
		e.ID = newEntryID()
	}
	if len(e.ID) > 64 || len(e.Typed) > 200 {
		return e, badInput("What was typed is too long.")
	}
	e.At = parseWhen(f, s.Now(), b.Started, q.profile.Location())
	switch e.Kind {
	case burn.Light, burn.Out, burn.Prime, burn.Rake:
	case burn.Control:
		e.Control = f.text("control")
		c, ok := b.Stove.Control(e.Control)
		if !ok {
			return e, badInput("This stove has no such control.")
		}
		e.Opening = parse(f, "value", c.Scale.Parse)
	case burn.Temperature, burn.Draft, burn.Door, burn.Smoke, burn.Note:
		if e.Kind == burn.Temperature {
			e.Place = stove.Place(f.text("place"))
		}
		q.readSaid(f, &e)
	case burn.Load:
		load, err := s.readLoad(q, f, b)
		if err != nil {
			return e, err
		}
		e.Load = load
	default:
		return e, badInput("That kind of entry is not known.")
	}
	return e, nil
}

// readSaid reads what an entry of one value or a note says.
func (q *request) readSaid(f *form, e *burn.Entry) {
	e.Typed = f.text("value")
	switch e.Kind {
	case burn.Temperature:
		e.Reading = parse(f, "value", in(units.ParseTemperature, q.units()))
	case burn.Draft:
		e.Draft = parse(f, "value", in(units.ParseDraft, q.units()))
	case burn.Door:
		door, ok := map[string]fire.Door{"shut": fire.Shut, "ajar": fire.Ajar, "open": fire.Open}[strings.ToLower(f.text("value"))]
		if !ok {
			f.wrong("value", "the door is shut, ajar or open")
		}
		e.Door = door
	case burn.Smoke:
		e.Smoke = strings.ToLower(f.text("value"))
	case burn.Note:
		e.Note = f.text("note")
	}
}

func (s *Server) readLoad(q *request, f *form, b store.Burn) (*fire.Load, error) {
	stack, err := q.house.Stack(q.ctx(), f.number("stack"))
	if err != nil {
		return nil, err
	}
	pieces := parse(f, "pieces", units.ParsePieces)
	l := &fire.Load{Species: stack.Species, Moisture: stack.Moisture(), Pieces: pieces, PieceMass: stack.PieceMass, PieceLength: stack.PieceLength,
		Direction: stove.EndOn, Lay: fire.OnCoals, Kindling: stack.Kindling, StackName: stack.Name, StackID: stack.ID}
	if m, typed := optional(f, "mass", in(units.ParseMass, q.units())); typed && pieces > 0 {
		if m <= 0 {
			f.wrong("mass", "a load weighs something; leave it empty for usual pieces")
		}
		l.PieceMass = m / units.Kilogram(pieces)
	}
	if f.text("direction") == string(stove.Sideways) || stack.PieceLength > b.Stove.LongestPiece(stove.EndOn) {
		l.Direction = stove.Sideways
	}
	if lay := fire.Lay(f.text("lay")); lay.Known() {
		l.Lay = lay
	}
	if stack.Kindling { // what it is lit with goes with the kindling
		l.StarterKind, l.Direction = fire.WaxBlock, stove.Sideways
		if kind := fire.Starter(f.text("starter")); kind.Known() {
			l.StarterKind = kind
		}
	}
	return l, nil
}

// parseWhen reads when something happened: nothing or "now", "5 min ago", or a
// clock time of the burn. A script says when it was tapped and when it sends;
// only the difference counts, so that a phone whose clock is off does no harm.
func parseWhen(f *form, now, started time.Time, zone *time.Location) time.Time {
	typed := strings.ToLower(f.text("when"))
	if at, err := time.Parse(time.RFC3339, f.text("at")); err == nil && (typed == "" || typed == "now") {
		if sent, err := time.Parse(time.RFC3339, f.text("sent")); err == nil && !sent.Before(at) {
			return now.Add(-sent.Sub(at)).UTC()
		}
		return at.UTC()
	}
	if typed == "" || typed == "now" {
		return now.UTC()
	}
	if ago, ok := strings.CutSuffix(typed, "ago"); ok {
		if minutes, err := units.ParseNumber(strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(ago), "min")), "number of minutes", 0, 2880); err == nil {
			return now.Add(-time.Duration(minutes * float64(time.Minute))).UTC()
		}
	}
	if clock, err := time.Parse("15:04", typed); err == nil {
		return nearest(clock, now, started, zone)
	}
	f.wrong("when", fmt.Sprintf("%q is not a time: now, 5 min ago or 18:42 would do", f.text("when")))
	return now.UTC()
}

// nearest returns the last moment before now (or a breath after) at which the
// clock showed this time.
func nearest(clock, now, started time.Time, zone *time.Location) time.Time {
	local := now.In(zone)
	at := time.Date(local.Year(), local.Month(), local.Day(), clock.Hour(), clock.Minute(), 0, 0, zone)
	for at.After(now.Add(2*time.Minute)) && at.AddDate(0, 0, -1).After(started.Add(-time.Hour)) {
		at = at.AddDate(0, 0, -1)
	}
	return at.UTC()
}

// endBurn ends a burn at the last entry, or now.
func (s *Server) endBurn(q *request) error {
	b, err := s.burnOf(q)
	if err != nil {
		return err
	}
	now := s.Now().UTC()
	if err := q.house.EndBurn(q.ctx(), b.ID, &now); err != nil {
		return err
	}
	q.say("The burn is ended. It can be opened again below.")
	return q.seeOther(fmt.Sprintf("/burns/%d", b.ID))
}

func (s *Server) reopenBurn(q *request) error {
	b, err := s.burnOf(q)
	if err != nil {
		return err
	}
	if err := q.house.EndBurn(q.ctx(), b.ID, nil); err != nil {
		return err
	}
	return q.seeOther(fmt.Sprintf("/burns/%d/live", b.ID))
}
