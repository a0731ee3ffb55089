package upkeep

import (
	"bytes"
	"cmp"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"smolder/internal/app/due"
	"smolder/internal/core/belief"
	"smolder/internal/core/upkeep"
	"smolder/internal/core/when"
	"smolder/internal/exchange"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// page is how the upkeep stands: what is due, what is coming, what was done.
type page struct {
	kit.Page
	Form    *kit.Form
	List    string // "", or one of lists
	Lists   []listLink
	NoStove bool
	Groups  []group
	Done    []doneLine
	Painted []kit.Option // stoves, to say that one is new or painted
	Calls   []call
	Year    strip.Pair // the months ahead
	Ahead   bool       // it is shown: of the whole, and not of one list
}

// A call is somebody to call, as a field each for name and number.
type call struct {
	Role        string
	Label       lang.Message
	Name, Phone string
}

// calls are those whom a household may want at hand.
var calls = []call{{Role: "sweep", Label: "The sweep"}, {Role: "installer", Label: "The installer"}, {Role: "dealer", Label: "Parts for the stove"},
	{Role: "neighbour", Label: "Somebody near"}}

// mostContact is how long a name or a number may be.
const mostContact = 80

// contacts keeps whom to call.
func (s Room) contacts(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	for _, c := range calls {
		name, phone := f.Text("name-"+c.Role), f.Text("phone-"+c.Role)
		if len(name) > mostContact || len(phone) > mostContact {
			f.Wrong("name-"+c.Role, q.F("up to %d letters would do", mostContact))
		}
	}
	if !f.Ok() {
		return s.show(q, http.StatusUnprocessableEntity, f)
	}
	for _, c := range calls {
		if err := q.Home.KeepContact(q.Ctx(), store.Contact{Role: c.Role, Name: f.Text("name-" + c.Role), Phone: f.Text("phone-" + c.Role)}); err != nil {
			return err
		}
	}
	q.Say("Whom to call is kept.")
	return q.SeeOther("/upkeep")
}

// putOff keeps that a task is put off, until a day and for a reason.
func (s Room) putOff(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	t, known := upkeep.Find(upkeep.Key(f.Text("task")))
	stove := f.Number("stove")
	if !known {
		return kit.BadInput(q.T("There is no such task; choose one of the page."))
	}
	if t.Household {
		stove = 0
	} else if stove == 0 {
		return kit.BadInput(q.T("Of which stove is missing; use the button beside it."))
	}
	now := s.Now().UTC()
	until := kit.Parse(f, "until", func(typed string) (time.Time, error) { return when.ParseComing(typed, q.Now()) })
	switch {
	case !f.Ok():
	case !until.After(now):
		f.Wrong("until", q.T("a day to come would do"))
	case until.Sub(now) > t.Longest():
		f.Wrong("until", q.T("this may be put off until ")+q.Locale().Date(now.Add(t.Longest()).In(q.Profile.Location()), "2 January 2006")+q.T(" at the latest"))
	}
	if !f.Has("why") {
		f.Wrong("why", q.T("a reason would do, such as: the sweep comes on Friday"))
	}
	if len(f.Text("why")) > mostNote {
		f.Wrong("why", q.F("up to %d letters would do", mostNote))
	}
	if !f.Ok() {
		return s.show(q, http.StatusUnprocessableEntity, f)
	}
	if _, err := q.Home.PutOff(q.Ctx(), stove, string(t.Key), f.Text("why"), now, until); err != nil {
		return err
	}
	q.Say("Put off until %s: %s.", q.Locale().Date(until.In(q.Profile.Location()), "2 January 2006"), q.Locale().Mid(nameOf(t.Key, q.Locale())))
	return q.SeeOther(backTo(f))
}

// burnt keeps that the chimney of a stove burnt, where no fire is logged in it.
func (s Room) burnt(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	stove := f.Number("stove")
	if stove == 0 {
		return kit.BadInput(q.T("Of which stove is missing; choose it from the list."))
	}
	if _, err := q.Home.MarkDone(q.Ctx(), stove, string(upkeep.ChimneyFire), "", s.Now().UTC()); err != nil {
		return err
	}
	q.Say("Kept: a chimney fire. No fire is planned or started in this stove before an inspection is entered.")
	return q.SeeOther("/upkeep")
}

type listLink struct {
	Key, Name string
	Here      bool
}

type group struct {
	Name  string
	Lines []line
	Fold  bool // not before somebody asks
}

type line struct {
	Key, Name, Of, When, Did string
	Stove                    int64
	Chore                    say.Chore
	Due, Danger, Soon        bool
	First                    string // where its fires stand
	Bar                      int    // share of what is due, percent, up to 100
	Sections                 []string
	Sides                    []kit.Option // of a door, for its strip of paper
	Charcoal                 []kit.Option // how much of it there was in the ash
	PutOff                   bool
}

type doneLine struct {
	ID              int64
	Day, Says, Note string
	Undone          bool
	By              string // somebody else
}

// lists are what is looked after together.
var lists = []struct {
	key  string
	name lang.Message
	has  func(upkeep.Task) bool
}{
	{"", "What is due", nil},
	{"autumn", "For autumn", func(t upkeep.Task) bool { return t.Autumn }},
	{"month", "Every month", func(t upkeep.Task) bool { return t.Monthly }},
	{"move", "For a move", func(t upkeep.Task) bool { return t.Move }},
}

// mostShown is how many things that were done are shown.
const mostShown = 12

func (s Room) upkeep(q *kit.Request) error { return s.show(q, http.StatusOK, kit.Filled()) }

func (s Room) show(q *kit.Request, status int, f *kit.Form) error {
	lines, err := q.Due()
	if err != nil {
		return err
	}
	p := &page{Page: kit.Page{Title: q.T("Upkeep"), Nav: "upkeep", Wide: true}, Form: f, List: q.Query("list"), NoStove: len(lines) == 0}
	if err := p.history(q, lines); err != nil {
		return err
	}
	p.group(q, lines)
	p.Year, p.Ahead = yearOf(q, lines), p.List == "" && len(lines) > 0
	kept, err := q.Home.Contacts(q.Ctx())
	if err != nil {
		return err
	}
	for _, c := range calls {
		for _, k := range kept {
			if k.Role == c.Role {
				c.Name, c.Phone = k.Name, k.Phone
			}
		}
		if f.Has("name-"+c.Role) || f.Has("phone-"+c.Role) { // what was typed
			c.Name, c.Phone = f.Text("name-"+c.Role), f.Text("phone-"+c.Role)
		}
		p.Calls = append(p.Calls, c)
	}
	q.Show(status, "upkeep", p)
	return nil
}

// group sorts the tasks: by how they stand, or those of one list.
func (p *page) group(q *kit.Request, lines []due.Line) {
	var list func(upkeep.Task) bool
	for _, l := range lists {
		p.Lists = append(p.Lists, listLink{l.key, q.Locale().T(l.name), l.key == p.List})
		if l.key == p.List {
			list = l.has
		}
	}
	groups := []group{{Name: q.T("Overdue, and dangerous so")}, {Name: q.T("Due")}, {Name: q.T("Soon")}, {Name: q.T("Later"), Fold: true}}
	if list != nil {
		groups = []group{{Name: ""}}
	}
	for _, l := range lines {
		i := 3
		switch {
		case list != nil && !list(l.Task):
			continue
		case list != nil:
			i = 0
		case l.Task.Key == upkeep.CurePaint && !l.Use.Painted, l.Task.Key == upkeep.TravelCap:
			continue
		case l.Rests(q.Now()):
		case l.Danger():
			i = 0
		case l.IsDue():
			i = 1
		case l.Soon():
			i = 2
		}
		groups[i].Lines = append(groups[i].Lines, lineOf(q, l))
	}
	for _, g := range groups {
		if len(g.Lines) > 0 {
			p.Groups = append(p.Groups, g)
		}
	}
}

// yearOf is what the months ahead want, drawn.
func yearOf(q *kit.Request, lines []due.Line) strip.Pair {
	y := strip.Year{Now: q.Now()}
	rows := map[string]int{}
	for _, l := range lines {
		name := cmp.Or(l.Stove.Name, q.T("the household"))
		if l.Task.Key == upkeep.CurePaint && !l.Use.Painted || l.Task.Key == upkeep.TravelCap || l.Rests(q.Now()) || l.Due.IsZero() && !l.IsDue() {
			continue
		}
		i, there := rows[name]
		if !there {
			i = len(y.Rows)
			rows[name] = i
			y.Rows = append(y.Rows, strip.YearRow{Name: name})
		}
		y.Rows[i].Chores = append(y.Rows[i].Chores, strip.Chore{Name: say.ChoreOf(l.Task.Key, q.Locale()).Name, At: l.Status.Due, Due: l.IsDue(), Danger: l.Danger()})
	}
	return y.Drawn(q.Locale())
}

func lineOf(q *kit.Request, l due.Line) line {
	c := say.ChoreOf(l.Task.Key, q.Locale())
	out := line{Key: string(l.Task.Key), Name: c.Name, Of: l.Stove.Name, Stove: l.Stove.ID, When: say.When(l.Status, q.Now(), q.Locale()), Did: c.Did, Chore: c,
		Due: l.IsDue(), Danger: l.Danger(), Soon: l.Soon(), Bar: int(100 * max(0, min(1, l.Share)))}
	if l.Task.Key == upkeep.Sweep {
		out.Sections = say.FlueSections(l.Use.Settled, l.Stove.Stove, q.Locale())
	}
	if l.Task.Key == upkeep.Gasket || l.Task.Key == upkeep.AshGasket {
		out.Sides = kit.Said(sides, q.Locale())
	}
	if l.Task.Key == upkeep.Ash {
		for _, c := range upkeep.Charcoals {
			out.Charcoal = append(out.Charcoal, kit.Option{Value: c.Says, Label: say.Charcoal(c.Says, q.Locale())})
		}
	}
	out.PutOff = !l.Use.Burnt
	if l.Task.Key == upkeep.CurePaint {
		out.First = fmt.Sprintf("/upkeep/first-fires/%d", l.Stove.ID)
	}
	return out
}

// history is what was done lately.
func (p *page) history(q *kit.Request, lines []due.Line) error {
	names := map[int64]string{}
	for _, l := range lines {
		if _, there := names[l.Stove.ID]; !there && l.Stove.ID != 0 {
			p.Painted = append(p.Painted, kit.Option{Value: strconv.FormatInt(l.Stove.ID, 10), Label: l.Stove.Name})
		}
		names[l.Stove.ID] = l.Stove.Name
	}
	done, err := q.Home.AllDone(q.Ctx(), mostShown)
	if err != nil {
		return err
	}
	for _, d := range done {
		says := say.ChoreOf(upkeep.Key(d.Task), q.Locale()).Name
		switch upkeep.Key(d.Task) {
		case upkeep.Painted:
			says = q.T("New, or painted")
		case upkeep.ChimneyFire:
			says = q.T("Chimney fire")
		}
		if d.Until.Valid {
			says += q.T(", put off until ") + q.Locale().Date(d.Until.V.In(q.Profile.Location()), "2 January 2006")
		}
		if name := names[d.StoveID.V]; name != "" {
			says = name + ": " + q.Locale().Mid(says)
		}
		p.Done = append(p.Done, doneLine{ID: d.ID, Day: q.Locale().Date(d.At.In(q.Profile.Location()), "2 January 2006"), Says: says, Note: d.Note, Undone: d.Undone, By: q.ByOther(d.By)})
	}
	return nil
}

// sides are those of a door, where a strip of paper may slide out.
var sides = []kit.Choice{{Value: "hinge", Label: "at the hinges"}, {Value: "latch", Label: "at the latch"},
	{Value: "above", Label: "above"}, {Value: "below", Label: "below"}}

// found is what was found: in the owner's words, and at which sides a door leaks.
func found(f *kit.Form) string {
	var at []string
	for _, s := range sides {
		if slices.Contains(f.Values["side"], s.Value) {
			at = append(at, f.Locale().T(s.Label))
		}
	}
	note := f.Text("note")
	if charcoal := f.Text("charcoal"); slices.ContainsFunc(upkeep.Charcoals, func(c struct {
		Says  string
		Share float64
	}) bool {
		return c.Says == charcoal
	}) {
		note = strings.TrimSuffix(charcoal+"; "+note, "; ")
	}
	if len(at) == 0 {
		return note
	}
	out := f.Locale().T("the strip slides out ") + f.Locale().And(at)
	if note != "" {
		out += "; " + note
	}
	return out
}

// mostNote is how long a note may be.
const mostNote = 400

// done keeps that a task was done: with one tap now, or on a day before, with what was found.
func (s Room) done(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	key, stove, at := upkeep.Key(f.Text("task")), f.Number("stove"), s.Now().UTC()
	t, known := upkeep.Find(key)
	if !known && key != upkeep.Painted {
		return kit.BadInput(q.T("There is no such task; choose one of the page."))
	}
	if t.Household {
		stove = 0
	} else if stove == 0 {
		return kit.BadInput(q.T("Of which stove is missing; use the button beside it."))
	}
	if f.Has("on") {
		at = kit.Parse(f, "on", func(typed string) (time.Time, error) { return when.ParseDay(typed, q.Now()) })
	}
	if len(f.Text("note")) > mostNote {
		f.Wrong("note", q.F("up to %d letters would do", mostNote))
	}
	if !f.Ok() {
		return s.show(q, http.StatusUnprocessableEntity, f)
	}
	id, err := q.Home.MarkDone(q.Ctx(), stove, string(key), found(f), at)
	if err != nil {
		return err
	}
	if err := s.changes(q, key, stove, at, false); err != nil {
		return err
	}
	q.Say("Kept: %s. It can be taken back below.", q.Locale().Mid(nameOf(key, q.Locale())))
	_ = id
	return q.SeeOther(backTo(f))
}

func nameOf(k upkeep.Key, loc lang.Locale) string {
	if k == upkeep.Painted {
		return loc.T("new, or painted")
	}
	return say.ChoreOf(k, loc).Name
}

// backTo is the list that the tap was on.
func backTo(f *kit.Form) string {
	for _, l := range lists {
		if l.key != "" && l.key == f.Text("list") {
			return "/upkeep?list=" + l.key
		}
	}
	return "/upkeep"
}

// changes tells what is known of the stove: swept it draws otherwise than it did.
func (s Room) changes(q *kit.Request, key upkeep.Key, stove int64, at time.Time, gone bool) error {
	if key != upkeep.Sweep {
		return nil
	}
	defer s.Work.Wake(q.Ctx(), q.Home.ID())
	if !gone {
		return q.Home.ChangeStove(q.Ctx(), stove, belief.Swept, at, 0)
	}
	all, err := q.Home.StoveChanges(q.Ctx(), stove)
	if err != nil {
		return err
	}
	for _, c := range all {
		if c.Kind == belief.Swept && c.At.Equal(at) {
			return q.Home.UndoStoveChange(q.Ctx(), stove, c.ID, true, q.Now())
		}
	}
	return nil
}

func (s Room) undo(undone bool) func(*kit.Request) error {
	return func(q *kit.Request) error {
		id, err := q.ID("id")
		if err != nil {
			return err
		}
		d, err := q.Home.UndoDone(q.Ctx(), id, undone, q.Now())
		if err != nil {
			return err
		}
		if err := s.changes(q, upkeep.Key(d.Task), d.StoveID.V, d.At, undone); err != nil {
			return err
		}
		return q.SeeOther("/upkeep")
	}
}

// calendar is what is due, by its day, as iCalendar. What is due already is due today.
func (s Room) calendar(q *kit.Request) error {
	lines, err := q.Due()
	if err != nil {
		return err
	}
	var list []exchange.Appointment
	now := q.Now()
	for _, l := range lines {
		at := l.Due
		if l.IsDue() {
			at = now
		}
		if at.IsZero() {
			continue
		}
		at = at.In(now.Location())
		from := time.Date(at.Year(), at.Month(), at.Day(), 10, 0, 0, 0, now.Location())
		c := say.ChoreOf(l.Task.Key, q.Locale())
		title := c.Name
		if l.Stove.ID != 0 {
			title = l.Stove.Name + ": " + q.Locale().Mid(title)
		}
		list = append(list, exchange.Appointment{ID: fmt.Sprintf("upkeep-%d-%d-%s@smolder", q.Home.ID(), l.Stove.ID, l.Task.Key),
			From: from, Till: from.Add(30 * time.Minute),
			Title: title, Text: c.Why + "\n" + c.How + "\n" + c.Look + "\n" + c.Who})
	}
	var b bytes.Buffer
	if err := exchange.WriteICal(&b, q.T("Upkeep at ")+q.Profile.Name, s.Now(), list); err != nil {
		return err
	}
	q.Header("Content-Disposition", `attachment; filename="upkeep.ics"`)
	q.Data(http.StatusOK, "text/calendar; charset=utf-8", b.Bytes())
	return nil
}

// firstPage is a stove's first fires, as a plan.
type firstPage struct {
	kit.Page
	Stove store.Stove
	Fires []string
	Chore say.Chore
	Due   bool
}

func (s Room) firstFires(q *kit.Request) error {
	id, err := q.ID("stove")
	if err != nil {
		return err
	}
	st, err := q.Home.Stove(q.Ctx(), id)
	if err != nil {
		return err
	}
	p := &firstPage{Page: kit.Page{Title: q.T("First fires of ") + st.Name, Nav: "upkeep"}, Stove: st, Chore: say.ChoreOf(upkeep.CurePaint, q.Locale())}
	for i, f := range upkeep.FirstFires(st.Stove) {
		p.Fires = append(p.Fires, say.FirstFire(i+1, f, st.Name, q.Locale()))
	}
	q.Show(http.StatusOK, "first-fires", p)
	return nil
}
