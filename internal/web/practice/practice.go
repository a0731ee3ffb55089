package practice

import (
	"encoding/json"
	"errors"
	"fmt"
	"math/rand/v2"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/practice"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// lessonsPage lists what can be practised, and how far somebody has come.
type lessonsPage struct {
	kit.Page
	Stoves  []kit.Option // the household's, and one of each family
	On      string
	Lessons []lessonLine
	Open    []openLine
	Burns   []kit.Option // that can be gone through
}

// lessonLine is one lesson.
type lessonLine struct {
	Key       practice.Key
	Number    int
	Name, Aim string
	Best      string // "8 of 10"; empty: not done
	Bar       int
	Done      bool // it went well
	Lacks     string
}

// openLine is a practice that goes on.
type openLine struct {
	ID            int64
	Name, On, Day string
}

const mostOpen, mostThrough = 3, 5

// lessons is the page of them.
func (s Room) lessons(q *kit.Request) error {
	p := &lessonsPage{Page: kit.Page{Title: q.T("Practice"), Nav: "practice", Wide: true}}
	st, _, _, err := s.chosen(q, q.Query("stove"), p)
	if err != nil {
		return err
	}
	mine, err := q.Home.Practised(q.Ctx(), q.User.ID)
	if err != nil {
		return err
	}
	for i, l := range practice.Lessons {
		w := say.Lesson(l.Key)
		line := lessonLine{Key: l.Key, Number: i + 1, Name: q.T(w.Name), Aim: q.T(w.Aim)}
		best := -1.0
		for _, m := range mine {
			if m.Lesson == l.Key && !m.Ended.IsZero() {
				best = max(best, m.Score)
			}
		}
		if best >= 0 {
			line.Best, line.Bar, line.Done = tenths(q, best), int(100*best), best >= practice.Passed
		}
		if !l.Suits(st) {
			line.Lacks = q.T("for a stove with a catalyst and a bypass")
			if l.Key == practice.Night {
				line.Lacks = q.T("this firebox is too small to keep coals through a night")
			}
		}
		p.Lessons = append(p.Lessons, line)
	}
	for _, m := range mine {
		if m.Ended.IsZero() && len(p.Open) < mostOpen {
			p.Open = append(p.Open, openLine{m.ID, q.T(say.Lesson(m.Lesson).Name), m.On, q.DayWord(m.Begun)})
		}
	}
	burns, err := q.Home.Burns(q.Ctx(), q.Now().Add(time.Minute), mostThrough)
	if err != nil {
		return err
	}
	for _, b := range burns {
		p.Burns = append(p.Burns, kit.Option{Value: strconv.FormatInt(b.ID, 10),
			Label: b.Stove + ", " + q.Locale().Date(b.Started.In(q.Profile.Location()), "2 January, 15:04")})
	}
	p.Burns = append(p.Burns, kit.Option{Value: example, Label: q.T("an example, on a made-up stove")})
	q.Show(http.StatusOK, "lessons", p)
	return nil
}

// tenths is a score in words.
func tenths(q *kit.Request, score float64) string { return q.F("%d of 10", int(10*score+0.5)) }

// familyOf begins how a stove of a family is asked for.
const familyOf = "family-"

// chosen is the stove that is asked for, the household's first else, with what is known of it and
// its name; it fills in what can be chosen.
func (s Room) chosen(q *kit.Request, asked string, p *lessonsPage) (stove.Stove, *store.Stove, string, error) {
	stoves, err := q.Stoves()
	if err != nil {
		return stove.Stove{}, nil, "", err
	}
	var own *store.Stove
	for i := range stoves {
		if own == nil && !strings.HasPrefix(asked, familyOf) || strconv.FormatInt(stoves[i].ID, 10) == asked {
			own = &stoves[i]
		}
	}
	family := stove.Family(strings.TrimPrefix(asked, familyOf))
	if own == nil && !slices.Contains(stove.Families, family) {
		family = stove.SecondaryAir
	}
	if p != nil {
		for _, one := range stoves {
			p.Stoves = append(p.Stoves, kit.Option{Value: strconv.FormatInt(one.ID, 10), Label: one.Name, Chosen: own != nil && own.ID == one.ID})
		}
		for _, f := range stove.Families {
			p.Stoves = append(p.Stoves, kit.Option{Value: familyOf + string(f), Label: q.F("any stove: %s", q.T(say.Families.Name(f))),
				Chosen: own == nil && f == family})
		}
		for _, o := range p.Stoves {
			if o.Chosen {
				p.On = o.Value
			}
		}
	}
	if own != nil {
		return own.Stove, own, own.Name, nil
	}
	return stove.Middling(family), nil, q.T(say.Families.Name(family)), nil
}

// Where nothing else is known of what is practised on.
const (
	usualLow, usualHigh = 19, 22
	usualReading        = 0.16
	usualPiece          = 1.2  // kg
	usualLength         = 0.33 // m
	enough              = 100  // kg: it does not run out
	warmWood            = 18   // °C
)

// begin begins one.
func (s Room) begin(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	lesson, ok := practice.Of(practice.Key(f.Text("lesson")))
	if !ok {
		return kit.BadInput(q.T("There is no such lesson. Choose one on the page."))
	}
	st, own, name, err := s.chosen(q, f.Text("stove"), nil)
	if err != nil {
		return err
	}
	if !lesson.Suits(st) {
		return kit.Answer(http.StatusUnprocessableEntity, q.T("This lesson cannot be had with that stove. Choose another stove on the page, or another lesson."))
	}
	seed := rand.Uint64N(1 << 50) //nolint:gosec // a fire, and no secret
	spec := practice.Spec{Lesson: lesson.Key, Seed: seed, Stove: st, House: house.Default(), Low: usualLow, High: usualHigh}
	if own != nil {
		spec.House, spec.Low, spec.High = own.Space.House, units.Celsius(own.Space.Wanted[0]), units.Celsius(own.Space.Wanted[1])
		known, err := q.KnownOf(own.ID)
		if err != nil {
			return err
		}
		if known.InUse() {
			b := known.Belief()
			spec.Prior = &b
		}
	}
	if spec.Wood, err = s.wood(q, st); err != nil {
		return err
	}
	mine, err := q.Home.Practised(q.Ctx(), q.User.ID)
	if err != nil {
		return err
	}
	spec.Hints = lesson.Hints
	for _, m := range mine { // one less after each that went well
		if m.Lesson == lesson.Key && !m.Ended.IsZero() && m.Score >= practice.Passed {
			spec.Hints = max(practice.OnlyDanger, spec.Hints-1)
		}
	}
	if _, err := practice.New(spec, nil); err != nil {
		return kit.Answer(http.StatusUnprocessableEntity, q.T("This lesson cannot be had with that stove. Choose another stove on the page, or another lesson."))
	}
	id, err := q.Home.BeginPractice(q.Ctx(), q.User.ID, name, spec, s.Now())
	if err != nil {
		return err
	}
	return q.SeeOther(fmt.Sprintf("/practice/%d", id))
}

// wood is what is burnt: the household's driest that goes in, else what many have, in pieces that
// fit.
func (s Room) wood(q *kit.Request, st stove.Stove) (wood.Stack, error) {
	beech, err := wood.SpeciesByKey("beech")
	if err != nil {
		return wood.Stack{}, err
	}
	longest := max(st.LongestPiece(stove.EndOn), st.LongestPiece(stove.Sideways))
	out := wood.Stack{Name: q.T("dry beech"), Species: beech, PieceMass: min(usualPiece, max(0.15, st.MaxLoad/4)),
		PieceLength: min(usualLength, longest), Reading: usualReading}
	stacks, err := q.Stacks()
	if err != nil {
		return wood.Stack{}, err
	}
	driest := units.Fraction(wood.Damp)
	for _, one := range stacks {
		if k := one.Stack.Stack; !k.Kindling && !k.Species.Mineral && k.PieceLength <= longest && k.PieceMass <= st.MaxLoad/3 && one.Moist.Middle < driest {
			driest, out = one.Moist.Middle, k
			out.Reading, out.Spread, out.Colder = driest, 0, 0
		}
	}
	out.WoodTemp, out.Mass = warmWood, enough
	return out, nil
}

// mine is the practice that is asked for, of whoever asks.
func (s Room) mine(q *kit.Request) (store.Practice, error) {
	id, err := q.ID("id")
	if err != nil {
		return store.Practice{}, err
	}
	return q.Home.Practice(q.Ctx(), q.User.ID, id)
}

// firePage is a practice that goes on.
type firePage struct {
	kit.Page
	ID       int64
	Name, On string
	Aim      string
	There    string
	Answer   answer
	Draws    string // what the page's script draws by, as JSON
	Controls []control
	Woods    []kit.Option
	Ways     []kit.Option
	Lays     []kit.Option
	Refused  string
	Judged   []string
	First    string // the answer, as JSON
	Dials    []kit.Option
	Passes   []kit.Option
	Doors    []kit.Option
	Pieces   int
}

// control is one of the stove's, as it is moved.
type control struct {
	Key, Name, Mark string
	Percent         int
	Step            float64
	Main            bool
}

// practice shows one: the fire, or what came of it.
func (s Room) practice(q *kit.Request) error {
	kept, err := s.mine(q)
	if err != nil {
		return err
	}
	if !kept.Ended.IsZero() {
		return s.afterwards(q, kept)
	}
	h, err := s.fires.of(kept)
	if err != nil {
		return err
	}
	defer h.Unlock()
	return s.show(q, kept, h.fire, http.StatusOK, "")
}

// show is the page of a practice that goes on.
func (s Room) show(q *kit.Request, kept store.Practice, p *practice.Practice, status int, refused string) error {
	w, loc := say.Lesson(p.Lesson.Key), q.Locale()
	page := &firePage{Page: kit.Page{Title: q.T("Practice") + ": " + q.T(w.Name), Nav: "practice", Wide: true}, ID: kept.ID, Name: q.T(w.Name), On: kept.On,
		Aim: q.T(w.Aim), There: q.T(w.There), Answer: answerOf(q, p, nil), Refused: refused, Pieces: max(1, p.Wish.MostPieces(0)/2)}
	main, _ := p.Spec.Stove.MainAir()
	for _, c := range p.Spec.Stove.Controls {
		o := p.Opening(c.Key)
		page.Controls = append(page.Controls, control{c.Key, c.Name, say.Mark(c.Scale, o, loc), int(100*o + 0.5), stepOf(c.Scale), c.Key == main.Key})
	}
	for i, of := range p.Wish.Woods() {
		page.Woods = append(page.Woods, kit.Option{Value: strconv.Itoa(i),
			Label: of.Stack.Name + ", " + loc.Percent(of.Stack.Moisture(), 0) + ", " + loc.Piece(of.Stack.PieceMass)})
	}
	for _, d := range []stove.Direction{stove.EndOn, stove.Sideways} {
		if p.Wish.Fits(0, d) {
			page.Ways = append(page.Ways, kit.Option{Value: string(d), Label: q.T(say.Direction(d))})
		}
	}
	for _, l := range fire.Lays {
		if l != fire.OnCoals {
			page.Lays = append(page.Lays, kit.Option{Value: string(l), Label: q.T(say.Lays.Name(l))})
		}
	}
	for _, j := range p.Lesson.Judged {
		page.Judged = append(page.Judged, q.T(say.CheckName(j.Check)))
	}
	f := page.Answer.Frames[0]
	for i, g := range p.Dials() {
		page.Dials = append(page.Dials, kit.Option{Label: q.T(say.Places.Short(g.Place)), Value: loc.Number(f.Gauges[i], 0) + " " + loc.System.DegreeSign()})
	}
	page.Dials = append(page.Dials, kit.Option{Label: q.T("room"), Value: loc.Number(f.Room, 0) + " " + loc.System.DegreeSign()})
	for _, by := range []time.Duration{time.Minute, 10 * time.Minute} {
		page.Passes = append(page.Passes, kit.Option{Value: strconv.Itoa(int(by.Seconds())), Label: q.F("%s on", loc.Duration(by))})
	}
	page.Passes = append(page.Passes, kit.Option{Value: strconv.Itoa(int(mostPass.Seconds())), Label: q.T("to the end")})
	for d := fire.Shut; d <= fire.Open; d++ {
		page.Doors = append(page.Doors, kit.Option{Value: strconv.Itoa(int(d)), Label: units.UpperFirst(q.T(say.DoorIs(d))), Chosen: d == p.Door()})
	}
	text, err := json.Marshal(page.Answer)
	if err != nil {
		return err
	}
	page.First = string(text)
	if page.Draws, err = drawsOf(q, kept.ID, p.Spec.Stove); err != nil {
		return err
	}
	q.Show(status, "fire", page)
	return nil
}

// stepOf is how far a control is moved from one of its marks to the next, in hundredths of its way.
func stepOf(s stove.Scale) float64 {
	for percent := 1.0; percent < 100; percent++ {
		if at := s.Nearest(percent / 100); at > 0.001 {
			return 100 * at
		}
	}
	return 5
}

// draws is what the page's script draws by.
type draws struct {
	ID     int64       `json:"id"`
	Gauges []drawGauge `json:"gauges"`
	Unit   string      `json:"unit"`
	Comb   bool        `json:"comb"`
	Second bool        `json:"second"`
	Wide   float64     `json:"wide"` // of the firebox, over its height
	Main   string      `json:"main"` // key of the main air
}

// drawGauge is a dial.
type drawGauge struct {
	Name string  `json:"name"`
	Low  float64 `json:"low"`
	High float64 `json:"high"`
	Hot  float64 `json:"hot"`
	Top  float64 `json:"top"` // where it ends
}

// pastHot is how far a dial goes beyond too hot.
const pastHot = 1.25

func drawsOf(q *kit.Request, id int64, st stove.Stove) (string, error) {
	sys := q.Locale().System
	main, _ := st.MainAir()
	d := draws{ID: id, Gauges: []drawGauge{}, Unit: sys.DegreeSign(), Comb: st.Family == stove.Catalytic,
		Second: st.Family != stove.Plain && st.Family != stove.Catalytic,
		Wide:   min(2, max(1, float64(st.Width)/max(0.1, float64(st.Height)))), Main: main.Key}
	for _, g := range dialsOf(st) {
		hot := max(g.Band.TooHot, g.Band.High, 30)
		d.Gauges = append(d.Gauges, drawGauge{q.T(say.Places.Short(g.Place)), shown(g.Band.Low, sys), shown(g.Band.High, sys), shown(hot, sys),
			shown(hot*pastHot, sys)})
	}
	text, err := json.Marshal(d)
	return string(text), err
}

// mostPass is how much time passes at once, and least is what a second of life is at the slowest.
const mostPass = 10 * time.Hour

// do does something, lets time pass, or both.
func (s Room) do(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	kept, err := s.mine(q)
	if err != nil {
		return err
	}
	if !kept.Ended.IsZero() {
		if q.WantsJSON() {
			q.JSON(http.StatusOK, answer{Over: true})
			return nil
		}
		return q.SeeOther(fmt.Sprintf("/practice/%d", kept.ID))
	}
	h, err := s.fires.of(kept)
	if err != nil {
		return err
	}
	defer h.Unlock()
	p := h.fire
	// Whoever asks has seen it go so far: another process may have taken them there.
	p.GoTo(min(seconds(f.Text("at")), max(p.Now(), kept.Elapsed)+mostPass))
	before, from := len(p.Done), p.Now()
	refused := ""
	if err := s.does(q, f, p); err != nil {
		refused = q.T("This cannot be done: ") + q.Locale().Mid(say.Error(err, q.Locale())) + "."
	}
	frames := through(p, min(seconds(f.Text("pass")), mostPass), q.Locale().System)
	if err := s.keep(q, kept, h, before, f.Has("at")); err != nil {
		return err
	}
	status := http.StatusOK
	if refused != "" {
		status = http.StatusUnprocessableEntity
	}
	if q.WantsJSON() {
		a := answerOf(q, p, frames)
		a.Refused = refused
		for _, c := range p.Happened(from, p.Now()) {
			a.Happened = append(a.Happened, q.T(say.Happened(c.Kind)))
		}
		q.JSON(status, a)
		return nil
	}
	if refused != "" {
		return s.show(q, kept, p, status, refused)
	}
	return q.SeeOther(fmt.Sprintf("/practice/%d#fire", kept.ID))
}

// seconds is a time that is sent; what is none is nothing.
func seconds(text string) time.Duration {
	v, err := strconv.ParseFloat(text, 64)
	if err != nil || !(v > 0) {
		return 0
	}
	return time.Duration(min(v, mostPass.Seconds())) * time.Second
}

// keptEvery is how far a practice goes on before it is kept again though nothing was done.
const keptEvery = 20 * time.Minute

// keep keeps what was done and how far it is; at its end what it came to. A page that tells how far it
// is (told) needs it kept now and then; one without scripts knows only what is kept.
func (s Room) keep(q *kit.Request, kept store.Practice, h *held, before int, told bool) error {
	p := h.fire
	over := p.Left() == 0
	if len(p.Done) == before && !over && (p.Now() == h.kept || told && p.Now()-h.kept < keptEvery) {
		return nil
	}
	kept.Done, kept.Elapsed = p.Done, p.Now()
	if over {
		kept.Ended, kept.Marks = s.Now(), p.Marks()
		kept.Score = practice.Score(p.Lesson, kept.Marks)
	}
	err := q.Home.KeepPractice(q.Ctx(), kept, before)
	if err != nil {
		h.fire = nil // as it is kept
		if errors.Is(err, store.ErrStale) {
			return kit.Answer(http.StatusConflict, q.T("This practice was gone on with elsewhere, so this was not done. Open it anew."))
		}
		return err
	}
	h.kept = p.Now()
	return nil
}

// does does what a form says.
func (s Room) does(q *kit.Request, f *kit.Form, p *practice.Practice) error {
	kind := practice.Kind(f.Text("kind"))
	switch kind {
	case "":
		return nil
	case "hint":
		return p.Follow(p.Hint())
	}
	number := func(name string) int { n, _ := strconv.Atoi(f.Text(name)); return n }
	a := practice.Act{Kind: kind, Of: number("of"), Pieces: number("pieces"), Direction: stove.Direction(f.Text("direction")), Lay: fire.Lay(f.Text("lay")),
		Control: f.Text("control"), Door: fire.Door(number("door")), On: f.Has("on")}
	if percent, err := strconv.ParseFloat(f.Text("opening"), 64); err == nil {
		a.Opening = percent / 100
	} else if kind == practice.Control {
		a.Opening = -1
	}
	return p.Do(a)
}

// again begins the same evening once more, from its beginning or from a moment of it.
func (s Room) again(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	kept, err := s.mine(q)
	if err != nil {
		return err
	}
	p, err := practice.New(kept.Spec, kept.Done)
	if err != nil {
		return err
	}
	from := seconds(f.Text("from"))
	var done []practice.Done
	for _, d := range kept.Done {
		if d.At < p.Begins+from {
			done = append(done, d)
		}
	}
	id, err := q.Home.BeginPractice(q.Ctx(), q.User.ID, kept.On, kept.Spec, s.Now())
	if err != nil {
		return err
	}
	next := store.Practice{ID: id, User: q.User.ID, Done: done, Elapsed: min(from, p.Lesson.For-time.Minute)}
	if err := q.Home.KeepPractice(q.Ctx(), next, 0); err != nil {
		return err
	}
	return q.SeeOther(fmt.Sprintf("/practice/%d", id))
}

// drop lets one go.
func (s Room) drop(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.DropPractice(q.Ctx(), q.User.ID, id); err != nil {
		return err
	}
	return q.SeeOther("/practice")
}
