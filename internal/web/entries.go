package web

import (
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/say"
	"smolder/internal/store"
)

// addEntry keeps one entry: from a form, or from a script that may send it
// again; it is kept once. Whether it may be kept is decided by the log, under
// the burn's row.
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
		err := q.house.AddEntry(q.ctx(), b.ID, e, s.Now())
		switch {
		case err == nil && q.wantsJSON():
			q.JSON(http.StatusOK, map[string]string{"said": say.Entry(b.Burn, e, q.units())})
			return nil
		case err == nil:
			return q.seeOther(s.backTo(b))
		case !errors.Is(err, burn.ErrEntry):
			return err
		}
		f.fails("", err)
	}
	if q.wantsJSON() || !b.Ended.IsZero() {
		return badInput(f.First())
	}
	return s.showLive(q, http.StatusUnprocessableEntity, b, f, sheetOf(e))
}

// sheetOf is the sheet of the live page that an entry was made on.
func sheetOf(e burn.Entry) string {
	if e.Kind == burn.Mineral {
		e.Kind = burn.Load
	}
	return string(e.Kind) + e.Control
}

// backTo is the page an entry was made on.
func (s *Server) backTo(b store.Burn) string {
	if b.Ended.IsZero() {
		return fmt.Sprintf("/burns/%d/live", b.ID)
	}
	return fmt.Sprintf("/burns/%d", b.ID)
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
	case burn.Load, burn.Mineral:
		load, err := s.readLoad(q, f, b)
		if err != nil {
			return e, err
		}
		e.Load = load
		if load.Species.Mineral {
			e.Kind = burn.Mineral
		}
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
	at, err := when.ParseMoment(typed, now.In(zone), started)
	if err != nil {
		f.wrong("when", err.Error())
	}
	return at.UTC()
}

// endBurn ends a burn now, or at an earlier moment: who forgot it says when it
// was over.
func (s *Server) endBurn(q *request) error {
	b, err := s.burnOf(q)
	if err != nil {
		return err
	}
	f, err := q.form()
	if err != nil {
		return err
	}
	now := s.Now().UTC()
	at := parseWhen(f, now, b.Started, q.profile.Location())
	if f.ok() {
		_, err := q.house.EndBurn(q.ctx(), b.ID, at, now)
		switch {
		case err == nil:
			q.say("The burn is ended. It can be opened again below.")
			return q.seeOther(fmt.Sprintf("/burns/%d", b.ID))
		case !errors.Is(err, burn.ErrEntry):
			return err
		}
		f.fails("when", err)
	}
	if !b.Ended.IsZero() {
		return badInput(f.First())
	}
	return s.showLive(q, http.StatusUnprocessableEntity, b, f, "end")
}

func (s *Server) reopenBurn(q *request) error {
	b, err := s.burnOf(q)
	if err != nil {
		return err
	}
	if err := q.house.ReopenBurn(q.ctx(), b.ID); err != nil {
		return err
	}
	return q.seeOther(fmt.Sprintf("/burns/%d/live", b.ID))
}
