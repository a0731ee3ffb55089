package share

import (
	"bytes"
	"crypto/rand"
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/flue"
	"smolder/internal/core/units"
	"smolder/internal/exchange"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
	"smolder/internal/web/stoves"
	"smolder/internal/web/trouble"
)

// sharesPage is what a household shares, with the answers.
type sharesPage struct {
	kit.Page
	New    string // a link that was made just now: it is shown once
	Code   template.HTML
	List   []shareLine
	Over   []shareLine
	Errors []string
}

// shareLine is one.
type shareLine struct {
	ID           int64
	Title, Link  string
	Made, Ends   string
	By           string
	Note, NoteAt string
	Edits        string // address of the changes that go with the answer
	Open         bool
}

// shares lists them. That an answer was seen is kept when its page was shown.
func (s Room) shares(q *kit.Request) error { return s.list(q, http.StatusOK, "", "") }

func (s Room) list(q *kit.Request, status int, link, wrong string) error {
	all, err := q.Home.Shares(q.Ctx())
	if err != nil {
		return err
	}
	p := &sharesPage{Page: kit.Page{Title: q.T("Shared"), Nav: "household"}, New: link}
	if wrong != "" {
		p.Errors = []string{wrong}
	}
	if link != "" {
		if p.Code, err = kit.Code(link, q.T("The link, for the camera of a phone")); err != nil {
			return err
		}
	}
	day := func(t time.Time) string { return q.Locale().Date(t.In(q.Profile.Location()), "2 January 2006, 15:04") }
	for _, one := range all {
		l := shareLine{ID: one.ID, Title: one.Title, Link: one.Link, Made: day(one.Made), Ends: day(one.Ends), By: q.ByOther(one.By),
			Note: one.Note, Open: one.Open(s.Now())}
		if one.NoteAt.Valid {
			l.NoteAt = day(one.NoteAt.V)
		}
		if one.Edits != "" && strings.HasPrefix(one.Link, "/burns/") {
			l.Edits = one.Link + "/otherwise?" + one.Edits
		}
		if l.Open {
			p.List = append(p.List, l)
		} else {
			p.Over = append(p.Over, l)
		}
	}
	if err := q.Home.SeeAnswers(q.Ctx(), s.Now()); err != nil {
		return err
	}
	q.Show(status, "shares", p)
	return nil
}

// lasts is the form by which something is shared, and for how long that is.
func lasts(q *kit.Request) (*kit.Form, time.Duration, error) {
	f, err := q.Form()
	if err != nil {
		return nil, 0, err
	}
	days, err := strconv.Atoi(f.Text("days"))
	if err != nil || days < 1 || time.Duration(days)*24*time.Hour > store.LongestTime {
		return nil, 0, kit.BadInput(q.T("A link ends after a day at the least and 400 days at the most. Choose one of the list."))
	}
	return f, time.Duration(days) * 24 * time.Hour, nil
}

// make keeps a document behind a link, and shows the link.
func (s Room) make(q *kit.Request, doc exchange.Shared, title, link string, lasting time.Duration) error {
	doc.Key, doc.Made = rand.Text(), s.Now()
	var b bytes.Buffer
	if err := exchange.WriteShared(&b, doc); err != nil {
		return err
	}
	if b.Len() > exchange.MostShared {
		return kit.Answer(http.StatusUnprocessableEntity, q.T("This is more than can be shared at once: without the photos it would do."))
	}
	// What was written is read as whoever helps will read it.
	if _, err := exchange.ReadShared(bytes.NewReader(b.Bytes()), s.Now().Add(ahead)); err != nil {
		return err
	}
	token, err := q.Home.Share(q.Ctx(), store.Share{Kind: string(doc.Kind), Title: title, Link: link, Key: doc.Key, Doc: b.Bytes(),
		Made: s.Now(), Ends: s.Now().Add(lasting)})
	if errors.Is(err, store.ErrMany) {
		return kit.Answer(http.StatusUnprocessableEntity, q.F("%d things are shared at a time. Withdraw one under Household, Shared; then share this.", store.MostShares))
	}
	if err != nil {
		return err
	}
	return s.list(q, http.StatusOK, q.Address()+"/shared/"+token, "")
}

// shareBurn shares one burn.
func (s Room) shareBurn(q *kit.Request) error {
	f, lasting, err := lasts(q)
	if err != nil {
		return err
	}
	b, err := s.BurnOf(q)
	if err != nil {
		return err
	}
	if b.Ended.IsZero() || !b.Simulated() {
		return kit.Answer(http.StatusUnprocessableEntity, q.T("A burn is shared when it is over, and mineral fuel is not simulated: end it first, or share its trouble."))
	}
	known, err := q.Home.KnownBefore(q.Ctx(), b.StoveID, b.ID)
	if err != nil {
		return err
	}
	one := unnamed(q, b.Burn)
	doc := exchange.Shared{Kind: exchange.SharedBurn, Burn: &one, Stove: one.Stove, House: one.House}
	if known.Burns > 0 {
		doc.Known = &known.Prior
	}
	if f.Has("photos") {
		if doc.Photos, err = s.pictures(q, b.ID); err != nil {
			return err
		}
	}
	return s.make(q, doc, b.Stove.Name+", "+q.Locale().Date(b.Started.In(q.Profile.Location()), "2 January 2006"), fmt.Sprintf("/burns/%d", b.ID), lasting)
}

// pictures are the first of a burn's photos.
func (s Room) pictures(q *kit.Request, id int64) (out [][]byte, err error) {
	photos, err := q.Home.Photos(q.Ctx(), id)
	if err != nil {
		return nil, err
	}
	for _, one := range photos {
		if one.Removed || len(out) == exchange.MostSharedPhotos {
			continue
		}
		jpeg, err := q.Home.Picture(q.Ctx(), id, one.ID)
		if err != nil {
			return nil, err
		}
		if len(jpeg) <= exchange.MostPhoto {
			out = append(out, jpeg)
		}
	}
	return out, nil
}

// shareStove shares a stove: the sheet for whoever is at home, or all that a new owner asks for.
func (s Room) shareStove(q *kit.Request) error {
	f, lasting, err := lasts(q)
	if err != nil {
		return err
	}
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	st, err := q.Home.Stove(q.Ctx(), id)
	if err != nil {
		return err
	}
	made, _, err := stoves.LastFromCold(q, st)
	if err != nil {
		return err
	}
	name := called(q, st.Stove)
	if f.Has("calls") {
		name = st.Name // whoever stays at home knows it by that
	}
	doc := exchange.Shared{Kind: exchange.SharedStove, Stove: burn.UnnamedStove(st.Stove, name), House: st.Space.House}
	if made != nil {
		doc.Plan = unnamedPlan(*made, name)
	}
	if f.Has("calls") {
		calls, err := q.Home.Contacts(q.Ctx())
		if err != nil {
			return err
		}
		for _, c := range calls {
			doc.Calls = append(doc.Calls, exchange.Call{Name: c.Name, Phone: c.Phone, What: c.Role})
		}
	}
	if f.Has("all") {
		if doc.Lines, err = s.learned(q, st); err != nil {
			return err
		}
	}
	return s.make(q, doc, st.Name, fmt.Sprintf("/stoves/%d", st.ID), lasting)
}

// learned is what a new owner of the house asks for: stove, chimney, wood, settings, and what its
// burns have shown.
func (s Room) learned(q *kit.Request, st store.Stove) ([]exchange.Line, error) {
	loc := q.Locale()
	var out []exchange.Line
	add := func(head, text string) {
		if text != "" {
			out = append(out, exchange.Line{Head: head, Text: text})
		}
	}
	add(q.T("Firebox"), loc.Volume(st.Volume)+", "+q.F("%s wide, %s deep, %s high", loc.Size(st.Width), loc.Size(st.Depth), loc.Size(st.Height)))
	add(q.T("Largest load"), loc.Mass(st.MaxLoad))
	if st.Output > 0 {
		add(q.T("Output by the manual"), loc.Power(st.Output))
	}
	add(q.T("Chimney"), chimney(q, st.Chimney))
	known, err := q.KnownOf(st.ID)
	if err != nil {
		return nil, err
	}
	add(q.T("What its burns have shown"), say.Foretells(known, st.Stove, loc))
	lines, err := q.Home.Burns(q.Ctx(), q.Now().Add(time.Minute), mostLooked)
	if err != nil {
		return nil, err
	}
	burnt, mass := 0, units.Kilogram(0)
	for _, l := range lines {
		if l.StoveID == st.ID {
			burnt, mass = burnt+1, mass+l.Mass
		}
	}
	if burnt > 0 {
		add(q.T("Wood"), q.F("%s in the last %d burns, %s each", loc.Mass(mass), burnt, loc.Mass(mass/units.Kilogram(burnt))))
	}
	stacks, err := q.Stacks()
	if err != nil {
		return nil, err
	}
	var woods []string
	for _, w := range stacks {
		if one := strings.ToLower(w.Species.Name); !w.Kindling && !slices.Contains(woods, one) {
			woods = append(woods, one)
		}
	}
	add(q.T("Burnt here"), loc.And(woods))
	return out[:min(len(out), 40)], nil
}

const mostLooked = 120

func chimney(q *kit.Request, c flue.Chimney) string {
	text := q.F("%s high, %s wide inside, %s", q.Locale().Length(c.Height), q.Locale().Size(c.Diameter), q.T(say.Linings.Name(c.Lining)))
	if c.Outside {
		text += q.T(", on an outside wall")
	}
	return text
}

// shareTrouble shares a trouble: what happens, and the evening on which it did.
func (s Room) shareTrouble(q *kit.Request) error {
	f, lasting, err := lasts(q)
	if err != nil {
		return err
	}
	asked, err := url.ParseQuery(f.Text("query"))
	if err != nil {
		return kit.BadInput(q.T("What was asked cannot be read. Ask it again on the page of troubles, and share it there."))
	}
	list, err := q.Stoves()
	if err != nil {
		return err
	}
	if len(list) == 0 {
		return store.ErrMissing
	}
	st := list[0]
	for _, one := range list {
		if strconv.FormatInt(one.ID, 10) == asked.Get("stove") {
			st = one
		}
	}
	usual, happens, evening, err := trouble.Asked(q, st, asked)
	if err != nil {
		return err
	}
	known, err := q.KnownOf(st.ID)
	if err != nil {
		return err
	}
	name := called(q, st.Stove)
	usual.Stove = burn.UnnamedStove(usual.Stove, name)
	usual.Wood.ID, usual.Wood.Stack.Name = 0, strings.ToLower(usual.Wood.Stack.Species.Name)
	doc := exchange.Shared{Kind: exchange.SharedTrouble, Stove: usual.Stove, House: usual.House, Wish: &usual, Happens: happens}
	if known.Burns > 0 {
		doc.Known = &known.Prior
	}
	if evening != nil && !evening.Ended.IsZero() {
		b := unnamed(q, evening.Burn)
		doc.Burn = &b
	}
	return s.make(q, doc, q.F("Trouble with %s", st.Name), "/trouble?"+asked.Encode(), lasting)
}

// withdraw ends a link.
func (s Room) withdraw(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.WithdrawShare(q.Ctx(), id, s.Now()); err != nil {
		return err
	}
	q.Say("Withdrawn: the link opens nothing any more.")
	return q.SeeOther("/shares")
}
