package hearth

import (
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/units"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// asNote tells whether what is sent is to be kept as a note: the log has refused it, and it
// happened all the same.
func asNote(f *kit.Form) bool { return f.Text("as") == "note" }

// noteOf is what was refused as a note, in the words in which it was typed, at its time or as
// near to it as the burn goes.
func (s Room) noteOf(q *kit.Request, f *kit.Form, b store.Burn) burn.Entry {
	e := burn.Entry{ID: f.Text("id"), Kind: burn.Note}
	if len(e.ID) == 0 || len(e.ID) > 56 {
		e.ID = kit.NewEntryID()
	}
	var said []string
	add := func(what string, parts ...string) {
		var typed []string
		for _, p := range parts {
			if p != "" {
				typed = append(typed, p)
			}
		}
		if text := strings.Join(typed, ", "); text != "" && what != "" {
			said = append(said, what+": "+text)
		} else if what += text; what != "" {
			said = append(said, what)
		}
	}
	pieces := func(field string) string {
		if n := f.Text(field); n != "" {
			return q.F("%s pieces", n)
		}
		return ""
	}
	what := say.EntryWord(burn.Kind(f.Text("kind")), q.Locale())
	if c, ok := b.Stove.Control(f.Text("control")); ok {
		what = c.Name
	}
	add(what, f.Text("value"), pieces("pieces"), f.Text("mass"), f.Text("note"))
	for i := range min(mostDoings, max(0, int(f.Number("n")))) {
		if f.Has(key("y", i)) {
			add(f.Text(key("x", i)), f.Text(key("v", i)), pieces(key("p", i)), f.Text(key("m", i)))
		}
	}
	if typed := f.Text("when"); typed != "" && typed != "now" {
		said = append(said, typed)
	}
	e.Note = shorten(units.UpperFirst(strings.Join(said, "; ")), 400)
	if e.Note == "" {
		e.Note = q.T("Something that the log did not take.")
	}
	e.At = s.momentOf(q, f, b)
	return e
}

// momentOf is when something happened as its form says, within the burn; where it says nothing
// that can be read, now.
func (s Room) momentOf(q *kit.Request, f *kit.Form, b store.Burn) time.Time {
	now := s.Now().UTC()
	probe := f.Part(map[string][]string{"when": {f.Text("when")}, "at": {f.Text("at")}, "sent": {f.Text("sent")}})
	at := parseWhen(probe, now, b.Started, q.Profile.Location())
	last := now
	if !b.Ended.IsZero() && b.Ended.Before(last) {
		last = b.Ended
	}
	if longest := b.Started.Add(burn.Longest); longest.Before(last) {
		last = longest
	}
	switch {
	case !probe.Ok() || at.After(last):
		return last
	case at.Before(b.Started):
		return b.Started
	}
	return at
}
