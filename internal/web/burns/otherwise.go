package burns

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/learn"
	"smolder/internal/core/review"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// What would have been: a burn's strip with what was done as tabs that can be moved, taken
// out or changed, and over it how the burn would have gone. Each change is a part of the
// address, so that it can be gone back from and sent on:
//
//	e=later:ID:8  e=to:ID:0.33  e=without:ID  e=turned:KEY:35:0.33  e=lay:top-down  e=drier:0.17  e=door:12

// A pastOf keeps the burns that somebody looks back at: to make one burns it in many
// worlds, to ask it again is quick.
type pasts struct {
	mu   sync.Mutex
	kept []*pastOf // the one asked for last is at the end
}

type pastOf struct {
	burn, revision int64
	known          int
	once           sync.Once
	past           *review.Past
}

// mostPasts is how many burns are kept: each is some hundred kilobytes.
const mostPasts = 32

// of is the past of a burn as it stands.
func (k *pasts) of(b store.Burn, known int, make func() *review.Past) *review.Past {
	k.mu.Lock()
	i := slices.IndexFunc(k.kept, func(p *pastOf) bool { return p.burn == b.ID && p.revision == b.Revision && p.known == known })
	p := &pastOf{burn: b.ID, revision: b.Revision, known: known}
	if i >= 0 {
		p = k.kept[i]
		k.kept = slices.Delete(k.kept, i, i+1)
	} else if len(k.kept) >= mostPasts {
		k.kept = slices.Delete(k.kept, 0, 1)
	}
	k.kept = append(k.kept, p)
	k.mu.Unlock()
	p.once.Do(func() { p.past = make() })
	return p.past
}

// fewAtOnce lets few be worked out at a time.
var fewAtOnce = make(chan struct{}, 2)

type otherwisePage struct {
	kit.Page
	Burn    store.Burn
	Heading string
	Strip   strip.Pair
	Would   string
	Smoke   string
	Changes []change
	Wrong   string
	Entries []kit.Option
	Query   []string // the changes so far, for the form
	Asked   bool

	Base, Back    string
	Answer, Tried string // where an answer goes, and the changes that go with it
}

// change is one in words, with the address without it.
type change struct{ Text, Without string }

// otherwise shows what would have been.
func (s Room) otherwise(q *kit.Request) error {
	b, err := s.BurnOf(q)
	if err != nil {
		return err
	}
	if b.Ended.IsZero() {
		return kit.BadInput(q.T("This burn is not over. What would have been can be tried once it is ended."))
	}
	if !b.Simulated() {
		return kit.BadInput(q.T("Mineral fuel is recorded and not simulated, so nothing can be tried on this burn."))
	}
	known, err := q.Home.KnownBefore(q.Ctx(), b.StoveID, b.ID)
	if err != nil {
		return err
	}
	return s.Try(q, Tried{Burn: b, Known: known, Base: fmt.Sprintf("/burns/%d/otherwise", b.ID), Back: fmt.Sprintf("/burns/%d", b.ID), Nav: "burns",
		Heading: b.Stove.Name + ", " + q.Locale().Date(b.Started.In(q.Profile.Location()), "2 January 2006, 15:04")})
}

// A Tried is a burn on which changes are tried: one of the household's, or one that somebody has
// shared.
type Tried struct {
	Burn       store.Burn
	Known      learn.Known // of its stove, before it
	Base, Back string      // addresses of the page, and of the burn
	Nav        string
	Heading    string
	Answer     string // where what is tried is sent to with a word; empty: nowhere
}

// Try shows what would have been of a burn with the changes of the address.
func (s Room) Try(q *kit.Request, t Tried) error {
	b, known := t.Burn, t.Known
	select {
	case fewAtOnce <- struct{}{}:
		defer func() { <-fewAtOnce }()
	case <-q.Ctx().Done():
		return q.Ctx().Err()
	case <-time.After(15 * time.Second):
		return kit.Answer(http.StatusServiceUnavailable, q.T("Too much is being worked out just now. Try again in a moment."))
	}
	past := s.pasts.of(b, known.Burns, func() *review.Past { return review.NewPast(b.Burn, known) })
	p := &otherwisePage{Page: kit.Page{Title: q.T("What would have been: ") + b.Stove.Name, Nav: t.Nav, Wide: true}, Burn: b,
		Heading: t.Heading, Base: t.Base, Back: t.Back}
	status := http.StatusOK
	edits, err := readEdits(q, b)
	var branch review.Branch
	if err == nil {
		branch, err = past.Ask(edits)
	}
	if err != nil {
		status, p.Wrong = http.StatusUnprocessableEntity, saysEdit(err, q.Locale())
		edits = nil
		if branch, err = past.Ask(nil); err != nil {
			return err
		}
	}
	p.draw(q, b, past, branch, edits)
	p.words(q, b, branch, edits)
	if t.Answer != "" && p.Asked {
		p.Answer, p.Tried = t.Answer, editsQuery(edits)
	}
	q.Show(status, "otherwise", p)
	return nil
}

// saysEdit is a change that cannot be made, in words.
func saysEdit(err error, loc lang.Locale) string {
	var input *kit.InputError
	switch {
	case errors.As(err, &input):
		return input.Text
	case errors.Is(err, review.ErrTooMany):
		return loc.T("That is more changes than are looked at in one go: up to twelve would do.")
	case errors.Is(err, review.ErrTooEarly):
		return loc.T("That lies before the burn began, or long after its end: a moment while it burnt would do.")
	case errors.Is(err, review.ErrNoEntry):
		return loc.T("That entry is not in this burn any more, or it does nothing to the fire.")
	}
	return loc.T("That entry cannot be changed so: a control takes another setting, a load another number of pieces.")
}

// readEdits reads the changes of an address.
func readEdits(q *kit.Request, b store.Burn) ([]review.Edit, error) {
	list := q.QueryArray("e")
	if f := q.Query("entry"); f != "" { // by the form, without scripts
		switch how, value := q.Query("how"), strings.TrimSpace(strings.ReplaceAll(q.Query("value"), "−", "-")); how {
		case "without":
			list = append(list, "without:"+f)
		case "to":
			list = append(list, "to:"+f+":"+openingOrPieces(b, f, value, q.Locale()))
		default:
			list = append(list, "later:"+f+":"+strings.TrimSuffix(strings.TrimSpace(strings.TrimSuffix(value, "min")), "m"))
		}
	}
	if len(list) > 4*mostEditsAsked {
		return nil, review.ErrTooMany
	}
	var out []review.Edit
	for _, text := range list {
		e, err := parseEdit(text, q.Locale())
		if err != nil {
			return nil, err
		}
		out = append(out, e)
	}
	return out, nil
}

const mostEditsAsked = 12

// openingOrPieces reads what somebody types for an entry's amount: a mark of its control, or
// pieces.
func openingOrPieces(b store.Burn, entry, typed string, loc lang.Locale) string {
	e, _ := b.Last(func(e burn.Entry) bool { return e.ID == entry })
	if c, ok := b.Stove.Control(e.Control); ok && e.Kind == burn.Control {
		if o, err := say.ReadMark(c.Scale, loc)(typed); err == nil {
			return strconv.FormatFloat(o, 'f', 4, 64)
		}
		return typed
	}
	if n, err := units.ParsePieces(typed); err == nil {
		return strconv.Itoa(n)
	}
	return typed
}

func parseEdit(text string, loc lang.Locale) (review.Edit, error) {
	wrong := kit.BadInput(loc.F("%q is no change of a burn; such as 8 minutes later, a third, four pieces would do.", shortened(text)))
	part := strings.Split(text, ":")
	number := func(i int, low, high float64) (float64, error) {
		if i >= len(part) {
			return 0, wrong
		}
		v, err := strconv.ParseFloat(strings.TrimPrefix(part[i], "+"), 64)
		if err != nil || !(v >= low && v <= high) {
			return 0, wrong
		}
		return v, nil
	}
	minutes := func(v float64) time.Duration { return time.Duration(v * float64(time.Minute)).Round(time.Second) }
	const day = 48 * 60
	switch kind := review.EditKind(part[0]); {
	case kind == review.Later && len(part) == 3:
		by, err := number(2, -day, day)
		return review.Edit{Kind: kind, Entry: part[1], By: minutes(by)}, err
	case kind == review.SetTo && len(part) == 3:
		to, err := number(2, 0, 60)
		return review.Edit{Kind: kind, Entry: part[1], To: to}, err
	case kind == review.Without && len(part) == 2:
		return review.Edit{Kind: kind, Entry: part[1]}, nil
	case kind == review.Turned && len(part) == 4:
		at, err := number(2, 0, day)
		to, err2 := number(3, 0, 1)
		return review.Edit{Kind: kind, Key: part[1], By: minutes(at), To: to}, errors.Join(err, err2)
	case kind == review.LaidOut && len(part) == 2 && fire.Lay(part[1]).Known():
		return review.Edit{Kind: kind, Lay: fire.Lay(part[1])}, nil
	case kind == review.Drier && len(part) == 2:
		to, err := number(1, 0.05, 1)
		return review.Edit{Kind: kind, To: to}, err
	case kind == review.DoorShut && len(part) == 2:
		at, err := number(1, 0, day)
		return review.Edit{Kind: kind, By: minutes(at)}, err
	}
	return review.Edit{}, wrong
}

func shortened(s string) string {
	if r := []rune(s); len(r) > 60 {
		return string(r[:60]) + "…"
	}
	return s
}

// writeEdit is what [parseEdit] reads.
func writeEdit(e review.Edit) string {
	number := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }
	minutes := number(float64(int(e.By.Seconds())) / 60)
	switch e.Kind {
	case review.Later:
		return "later:" + e.Entry + ":" + minutes
	case review.SetTo:
		return "to:" + e.Entry + ":" + number(e.To)
	case review.Without:
		return "without:" + e.Entry
	case review.Turned:
		return "turned:" + e.Key + ":" + minutes + ":" + number(e.To)
	case review.LaidOut:
		return "laid-out:" + string(e.Lay)
	case review.Drier:
		return "drier:" + number(e.To)
	}
	return "door:" + minutes
}

func editsQuery(edits []review.Edit) string {
	v := url.Values{}
	for _, e := range edits {
		v.Add("e", writeEdit(e))
	}
	return v.Encode()
}

// draw puts the burn on a strip with its tabs, and what would have been over it.
func (p *otherwisePage) draw(q *kit.Request, b store.Burn, past *review.Past, branch review.Branch, edits []review.Edit) {
	m := past.Measures()
	c := strip.OfBurn(b.Burn, nil, m, b.Ended, branch.Place, q.View(b.Started))
	c.ID, c.Marks = "otherwise", nil
	c.Title = q.T("The burn of ") + b.Stove.Name + q.T(" as a strip, with what was done as tabs that can be moved, and how it would have gone")
	points := func(values []float64) []strip.Point {
		var out []strip.Point
		for i, v := range values {
			out = append(out, strip.Point{At: time.Duration(i) * branch.Every, V: v})
		}
		return strip.Thinned(out, 400)
	}
	if len(edits) > 0 {
		if other, err := review.With(b.Burn, edits); err == nil {
			for _, l := range strip.OfBurn(other, nil, m, b.Ended, branch.Place, q.View(b.Started)).Lanes {
				for i := range c.Lanes {
					if c.Lanes[i].Name == l.Name {
						c.Lanes[i].Plan = l.Steps // as an outline over what was
					}
				}
			}
		}
		c.Pens = append(c.Pens, strip.Pen{Place: branch.Place, Second: true, Points: points(branch.Would)})
		c.Pens = append(c.Pens, strip.Pen{Place: stove.RoomAir, Second: true, Points: points(branch.RoomWould)})
		c.Fans = []strip.Fan{{Low: points(branch.Low), Middle: points(branch.Would), High: points(branch.High), Past: true}}
		c.To = max(c.To, min(c.To+40*time.Minute, time.Duration(len(branch.Would))*branch.Every))
	}
	c.Holds = holdsOf(q, b, edits)
	p.Strip = strip.Draw(c, strip.Page)
}

// holdsOf are the tabs of what was done, where the changes have put them.
func holdsOf(q *kit.Request, b store.Burn, edits []review.Edit) []strip.Hold {
	var out []strip.Hold
	for e := range b.NotReadings() {
		if !review.Moves(*e) || e.Reported {
			continue
		}
		h := strip.Hold{At: e.At.Sub(b.Started), Was: e.At.Sub(b.Started), Entry: e.ID, Kind: string(e.Kind)}
		entry := *e
		for _, edit := range edits {
			if edit.Entry != e.ID {
				continue
			}
			switch edit.Kind {
			case review.Later:
				h.At += edit.By
			case review.Without:
				h.Gone = true
			case review.SetTo:
				if entry.Opening = edit.To; e.Load != nil {
					l := *e.Load
					l.Pieces, entry.Opening = int(edit.To), 0
					entry.Load = &l
				}
			}
		}
		switch c, _ := b.Stove.Control(e.Control); {
		case e.Kind == burn.Control:
			h.Says, h.To, h.Steps, h.Most = say.ShortMark(c.Scale, entry.Opening, q.Locale()), entry.Opening, 1./12, 1
			if air, _ := b.Stove.MainAir(); air.Key != c.Key {
				h.Says = q.Locale().Mid(c.Name) + " " + h.Says
			}
		case e.Load != nil && e.Load.Kindling:
			h.Says = q.T("kindling")
		case e.Load != nil:
			h.Says, h.To, h.Steps, h.Most = q.F("load %d", entry.Load.Pieces), float64(entry.Load.Pieces), 1, 60
		case e.Kind == burn.Door:
			h.Says = say.Door(e.Door, q.Locale())
		default:
			h.Says = say.EntryWord(e.Kind, q.Locale())
		}
		h.Word = e.At.Add(h.At-h.Was).In(q.Profile.Location()).Format("15:04") + " " + say.Entry(b.Burn, entry, q.Locale())
		out = append(out, h)
		if len(out) >= 60 {
			break
		}
	}
	slices.SortStableFunc(out, func(a, b strip.Hold) int { return int(a.At - b.At) })
	return out
}

// words says what would have come of it.
func (p *otherwisePage) words(q *kit.Request, b store.Burn, branch review.Branch, edits []review.Edit) {
	p.Asked = len(edits) > 0
	for i, e := range edits {
		rest := slices.Delete(slices.Clone(edits), i, i+1)
		p.Changes = append(p.Changes, change{changeWord(q, b, e), "?" + editsQuery(rest)})
		p.Query = append(p.Query, writeEdit(e))
	}
	p.Would = say.Would(branch.Difference, q.Locale())
	if p.Would != "" {
		p.Would = units.UpperFirst(p.Would) + "."
	} else if p.Asked {
		p.Would = q.T("No clear difference: too little is known of this stove and this evening.")
	}
	for e := range b.NotReadings() {
		if review.Moves(*e) && !e.Reported && len(p.Entries) < 60 {
			p.Entries = append(p.Entries, kit.Option{Value: e.ID, Label: e.At.In(q.Profile.Location()).Format("15:04") + " " + say.Entry(b.Burn, *e, q.Locale())})
		}
	}
}

// changeWord is one change in words.
func changeWord(q *kit.Request, b store.Burn, e review.Edit) string {
	entry, there := b.Last(func(x burn.Entry) bool { return x.ID == e.Entry })
	what := ""
	if there {
		what = units.UpperFirst(say.Entry(b.Burn, entry, q.Locale()))
	}
	clock := func(d time.Duration) string { return b.Started.Add(d).In(q.Profile.Location()).Format("15:04") }
	switch e.Kind {
	case review.Later:
		if e.By < 0 {
			return q.F("%s: %s earlier", what, q.Locale().Duration(e.By.Abs()))
		}
		return q.F("%s: %s later", what, q.Locale().Duration(e.By.Abs()))
	case review.SetTo:
		if entry.Kind == burn.Control {
			c, _ := b.Stove.Control(entry.Control)
			return what + q.T(": to ") + say.Mark(c.Scale, e.To, q.Locale())
		}
		return what + ": " + say.Pieces(int(e.To), q.Locale())
	case review.Without:
		return what + q.T(": not done")
	case review.Turned:
		c, _ := b.Stove.Control(e.Key)
		return say.To(c, e.To, q.Locale()) + q.T(" at ") + clock(e.By)
	case review.LaidOut:
		return q.F("Laid %s", say.Lays.Name(e.Lay))
	case review.Drier:
		return q.T("All wood at ") + q.Locale().Percent(units.Fraction(e.To), 0)
	}
	return q.T("Door shut at ") + clock(e.By)
}
