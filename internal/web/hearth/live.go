package hearth

import (
	"encoding/json"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"strconv"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/lay"
	"smolder/internal/core/parallel"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// A livePage is the fire as it is now, for one hand and poor light.
type livePage struct {
	kit.Page
	Burn     store.Burn
	Form     *kit.Form // an entry that was refused, with what was typed
	Opened   string    // the entry sheet to show open
	Since    time.Duration
	Coach    *kit.Coached
	Doings   []doing // what "Done" logs
	TapID    string  // of both "Done" and "differently"
	Asked    *unlogged
	Question *question
	Grave    []liveTap // what has happened that nothing may cover up
	Signs    []liveSign
	Unlit    bool      // nobody has said that it burns: cautions that are always the same stand here once
	Keys     []liveTap // of this page, with what each does
	Risk     string
	Close    []string // what is said in a boat, van or hut
	Banked   []string // what is said while mineral fuel burns
	Reading  *liveReading
	Others   []string
	Strip    strip.Pair
	Controls []liveControl
	Gauges   []kit.Option
	Stacks   []kit.Option
	Taps     []liveTap
	Timers   []liveTimer
	Laid     template.HTML   // how what is to go on should lie, from the door
	Slides   []template.HTML // controls, where they stand and should go
	Away     string          // how long the fire can be left, for who looks in seldom
	AwayWhy  string
	BackAt   int64  // when to be back, ms; 0: not said
	Guide    string // place of the gauge in hand; empty: none
	Older    int    // entries of the log that are not shown
	Door     string
	LastLoad string
	LastSeen string
	Log      []kit.LogLine
	Count    int    // entries of the log in all
	LastID   string // the entry that undo undoes
	LastSaid string
	LastTap  string // the tap that made it, with others
}

// liveReading is the big number.
type liveReading struct {
	Value, Gauge, Rate, Age, Band string
	Guess                         bool // believed: nobody has read the gauge lately
}

// A liveTimer runs on the page: how long the door has stood open, the bypass.
type liveTimer struct {
	Word  string
	Since int64 // milliseconds since 1970
}

// liveControl is one control with the openings offered for one tap.
type liveControl struct {
	stove.Control
	Number int
	Now    string
	Steps  []kit.Option
}

// StepsJSON is the steps for the arrow keys.
func (c liveControl) StepsJSON() string {
	values := make([]string, len(c.Steps))
	for i, s := range c.Steps {
		values[i] = s.Value
	}
	b, _ := json.Marshal(values) // strings only: cannot fail
	return string(b)
}

// A liveTap is an entry that says all by itself: one tap, or its key.
type liveTap struct {
	Key, Word string
	Kind      burn.Kind
}

// firstTaps is how many taps of the moment stand beside the others; the rest is folded away.
const firstTaps = 2

// FirstTaps are those of the moment that stand open (the match, black all over), LaterTaps the
// others.
func (p *livePage) FirstTaps() []liveTap { return p.Taps[:min(firstTaps, len(p.Taps))] }
func (p *livePage) LaterTaps() []liveTap { return p.Taps[min(firstTaps, len(p.Taps)):] }

// RestOpen tells whether what is folded away has to stand open: something in it was refused.
func (p *livePage) RestOpen() bool {
	switch burn.Kind(p.Opened) {
	case burn.Draft, burn.CO, burn.Bed, burn.Note:
		return true
	}
	return false
}

// A liveSign is a sign that is logged by a tap: drawn, and what it says of the fire.
type liveSign struct {
	liveTap
	Drawn template.HTML
	Means string
}

// signsOf are the signs to tap of a stove that burns wood.
func signsOf(b store.Burn, loc lang.Locale) []liveSign {
	if !b.Simulated() {
		return nil
	}
	var out []liveSign
	for _, k := range burn.Signs {
		name, _, _ := say.EntryMark(b.Burn, burn.Entry{Kind: k}, loc)
		out = append(out, liveSign{tapOf(k, loc), strip.Sign(name), say.EntryMeans(k, loc)})
	}
	return out
}

func doorValue(d fire.Door) string {
	return map[fire.Door]string{fire.Shut: "shut", fire.Ajar: "ajar", fire.Open: "open"}[d]
}

// longLit is when a fire is offered the taps of one that burns though nobody has said that
// it was lit.
const longLit = 20 * time.Minute

// tapsOf are the taps of the moment: to light, or for a fire that is lit. As long as nobody
// has said that it was, it can be said.
func tapsOf(b store.Burn, since time.Duration, loc lang.Locale) []liveTap {
	_, lit := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Light })
	burning := []liveTap{tapOf(burn.Black, loc)}
	if b.Stove.HasJets() {
		burning = append(burning, tapOf(burn.Jets, loc))
	}
	burning = append(burning, tapOf(burn.Out, loc), tapOf(burn.ToCoals, loc), tapOf(burn.WentOut, loc), tapOf(burn.Rake, loc), tapOf(burn.Whistle, loc))
	lighting := []liveTap{tapOf(burn.Prime, loc), tapOf(burn.Light, loc)}
	switch {
	case !b.Simulated():
		return []liveTap{tapOf(burn.Riddle, loc), tapOf(burn.AshOut, loc), tapOf(burn.Out, loc), tapOf(burn.WentOut, loc)}
	case lit && b.IsOut(b.Started.Add(since)):
		return append(lighting, burning...)
	case lit || b.Coals > 0:
		return burning
	case since > longLit:
		return append(lighting, burning...)
	}
	return lighting
}

// keysOf are the keys of the page: each opens or taps something that stands on it.
func (p *livePage) keysOf() []liveTap {
	out := []liveTap{{Key: "y", Word: p.Locale.T("done")}, {Key: "f", Word: p.Locale.T("differently")}, {Key: p.Locale.T("1 to 9"), Word: p.Locale.T("a control, then arrows and Enter")}}
	if _, ok := p.Burn.Stove.Bypass(); ok {
		out = append(out, liveTap{Key: "b", Word: p.Locale.T("bypass")})
	}
	for _, k := range []burn.Kind{burn.Temperature, burn.Load, burn.Door, burn.Smoke, burn.Draft, burn.CO, burn.Note} {
		out = append(out, tapOf(k, p.Locale))
	}
	if len(p.Banked) > 0 {
		out = append(out, tapOf(burn.Bed, p.Locale))
	}
	out = append(out, p.Taps...)
	if len(p.Signs) > 0 {
		out = append(out, liveTap{Key: "q", Word: p.Locale.T("signs")})
	}
	return append(out, liveTap{Key: "m", Word: p.Locale.T("timer")}, liveTap{Key: "u", Word: p.Locale.T("undo")}, liveTap{Key: "?", Word: p.Locale.T("this list")},
		liveTap{Key: "Esc", Word: p.Locale.T("shuts")})
}

func (s Room) live(q *kit.Request) error {
	defer parallel.Beside()()
	b, err := s.BurnOf(q)
	if err != nil {
		return err
	}
	if !b.Ended.IsZero() {
		return q.SeeOther(fmt.Sprintf("/burns/%d", b.ID))
	}
	return s.showLive(q, http.StatusOK, b, kit.Filled(), "")
}

// foretoldFor is how far ahead the strip at the stove shows what is foretold.
const foretoldFor = 3 * time.Hour

// showLive shows everything on the live page, computed from the log.
func (s Room) showLive(q *kit.Request, status int, b store.Burn, f *kit.Form, opened string) error {
	p, err := s.livePageOf(q, b, f, opened)
	if err != nil {
		return err
	}
	q.Show(status, "live", p)
	return nil
}

// livePageOf is all that the live page shows.
func (s Room) livePageOf(q *kit.Request, b store.Burn, f *kit.Form, opened string) (*livePage, error) {
	now := s.Now().UTC()
	until := now
	if until.Sub(b.Started) > burn.Longest {
		until = b.Started.Add(burn.Longest)
	}
	m := s.Replays.Measure(b.Burn, until)
	p := &livePage{Page: kit.Page{Title: b.Stove.Name + q.T(", at the stove"), Nav: "stove", Fire: true, Wide: true, OwnBurn: b.ID, Locale: q.Locale()}, Burn: b, Form: f, Opened: opened,
		Since: now.Sub(b.Started), Coach: q.Coach(b)}
	answer := p.Coach.Answer
	p.Reading, p.Others = liveReadingOf(q, b, answer)
	if i := gaugeThatMatters(answer); i >= 0 {
		p.Guide = string(answer.Gauges[i].Place)
	}
	if p.Doings = doingsOf(q, b, answer.Advice); opened == "differently" {
		p.Doings = doingsOfForm(f)
	}
	p.TapID = tapID(b, answer)
	if opened == "differently" && f.Has("id") {
		p.TapID = f.Text("id")
	}
	p.Asked, p.Question = unloggedOf(q, b, p.Coach), questionOf(q, b, answer)
	p.Grave = []liveTap{tapOf(burn.COAlarm, q.Locale()), tapOf(burn.ChimneyFire, q.Locale()), tapOf(burn.Glaze, q.Locale())}
	p.Risk = kit.Risk(answer.Forecast.Risks, q.Locale())
	if b.Confined() {
		p.Close = say.Close(b.Burn, q.Locale())
	}
	p.Banked = say.Mineral(b.Burn, now, q.Locale())
	p.Timers, p.Slides = timersOf(b, q.Locale()), slidesOf(b, answer, q.Locale())
	if strings.Count(p.Coach.Set, ",") < len(p.Slides) {
		p.Coach.Set = "" // it is drawn
	}
	p.Laid = laidOf(q, b, answer.Advice)
	p.Away, p.AwayWhy = say.Away(answer, q.Locale(), q.Profile.Location())
	if a := answer.Away; a != nil && !a.Stay {
		p.BackAt = answer.At.Add(a.For).UnixMilli()
	}
	p.Signs = signsOf(b, q.Locale())
	_, lit := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Light })
	p.Unlit = !lit && b.Coals <= 0
	printed := b.Plan // in advance, and not as it is foretold now
	if answer.Reworked != "" {
		printed = answer.Plan
	}
	hand, view := kit.HandGauge(q), q.View(b.Started)
	p.Strip = s.drawn.draw(lookOf(b, answer, until, hand, view), func() strip.Pair {
		chart := strip.OfBurn(b.Burn, printed, m, until, hand, view)
		for _, g := range answer.Gauges {
			if answer.Phase != "" && !g.Read() {
				chart.EndsAt(g.Place, float64(rounded(view.Locale, g.Value)))
			}
		}
		if m.Simulated && !b.IsOut(now) && answer.Unheard == 0 { // of what is out, or not known, nothing is foretold
			before, _ := s.Watch.Before(b.ID, now)
			chart.Foretell(answer.Forecast, before, foretoldFor)
		}
		return strip.Draw(chart, strip.Live)
	})
	p.Taps = tapsOf(b, p.Since, q.Locale())
	p.Keys = p.keysOf()
	p.fillControls(b)
	p.fillLog(q, b)
	if err := p.fillStacks(q); err != nil {
		return nil, err
	}
	p.fillLoad(answer)
	return p, nil
}

// timersOf are what runs: a door that is not shut, a bypass that is open.
func timersOf(b store.Burn, loc lang.Locale) []liveTimer {
	var out []liveTimer
	if e, ok := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Door }); ok && e.Door != fire.Shut {
		out = append(out, liveTimer{say.Door(e.Door, loc), e.At.UnixMilli()})
	}
	if c, ok := b.Stove.Bypass(); ok {
		e, said := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == c.Key })
		if said && e.Opening >= 0.5 {
			out = append(out, liveTimer{loc.Mid(c.Name) + loc.T(" open"), e.At.UnixMilli()})
		}
	}
	return out
}

// mostSlides is how many controls are drawn: what moves by one step.
const mostSlides = 2

// slidesOf draws the controls that are to be moved now or at the next sign; the main air alone,
// where none is.
func slidesOf(b store.Burn, a coach.Answer, loc lang.Locale) (out []template.HTML) {
	stands := func(c stove.Control) float64 {
		if e, ok := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == c.Key }); ok {
			return e.Opening
		}
		return fire.ReadyToLight(c.Role, b.Stove.FromAbove())
	}
	for _, set := range a.Advice.Sets {
		if len(out) < mostSlides && math.Abs(set.Opening-stands(set.Control)) > 0.02 {
			out = append(out, strip.Slide{Control: set.Control, Stands: stands(set.Control), To: set.Opening, Locale: loc}.SVG())
		}
	}
	return out
}

// laidOf draws how the pieces of an advice should lie; nothing where none go on.
func laidOf(q *kit.Request, b store.Burn, a coach.Advice) template.HTML {
	var loads lay.Loads
	for _, act := range a.Acts {
		switch {
		case act.Load == nil:
		case act.Load.Kindling:
			loads.Kindling = *act.Load
		default:
			loads.Splits = *act.Load
		}
	}
	if loads.Splits.Pieces == 0 || !b.Simulated() {
		return ""
	}
	return strip.Lay{Packing: lay.Pack(b.Stove, loads), ID: "laid", Name: b.Stove.Name, Baffle: q.T("baffle"), Front: true, Locale: q.Locale()}.SVG()
}

// liveReadingOf is the guiding gauge as it was read lately, else as it is believed to
// read, and the others.
func liveReadingOf(q *kit.Request, b store.Burn, a coach.Answer) (*liveReading, []string) {
	u := q.Locale()
	var big *liveReading
	var others []string
	matters := gaugeThatMatters(a)
	for i, g := range a.Gauges {
		if i == matters {
			big = &liveReading{Gauge: q.T(say.Places.Short(g.Place)), Band: q.T("working from ") + u.Degrees(g.Band.Low)}
			if g.Read() {
				big.Value, big.Age = u.Degrees(g.Value), ageWord(g.Age, q.Locale())
				if g.HasRate {
					big.Rate = signed(u, g.Rate) + q.T(" a minute")
				}
			} else if a.Phase != "" && a.Unheard == 0 {
				big.Value, big.Guess, big.Age = u.Degrees(rounded(u, g.Value)), true, q.T("computed: read the gauge")
				if !g.LastAt.IsZero() {
					big.Age = q.F("computed: it read %s %s ago; read it again", u.Degrees(g.Last), q.Locale().Duration(a.At.Sub(g.LastAt).Round(time.Minute)))
				}
			} else if !g.LastAt.IsZero() {
				big.Value, big.Age = u.Degrees(g.Last), q.F("that was %s ago: read it again", q.Locale().Duration(a.At.Sub(g.LastAt).Round(time.Minute)))
			} else {
				big = nil // mineral fuel, and nobody has read it
			}
			continue
		}
		if g.Read() {
			others = append(others, u.T(say.Places.Short(g.Place))+" "+u.Degrees(g.Value))
		}
	}
	if e, ok := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Draft }); ok {
		others = append(others, q.T("draft ")+u.Draft(e.Draft))
	}
	return big, others
}

// gaugeThatMatters is the place among the gauges of the one that the next thing to do
// goes by, else of the guiding one; negative: none.
func gaugeThatMatters(a coach.Answer) int {
	for i, g := range a.Gauges {
		if g.Place == a.Advice.Gauge && g.Place.OfFire() {
			return i
		}
	}
	if a.Guided {
		return 0
	}
	return -1
}

// ageWord says how old a reading is, from where it matters.
func ageWord(age time.Duration, loc lang.Locale) string {
	if age < 2*time.Minute {
		return ""
	}
	return loc.F("read %s ago", loc.Duration(age.Round(time.Minute)))
}

// rounded is a temperature to five degrees of the household's own.
func rounded(u lang.Locale, t units.Celsius) units.Celsius {
	if u.System == units.Imperial {
		return units.Celsius((math.Round(t.Fahrenheit()/5)*5 - 32) * 5 / 9)
	}
	return units.Celsius(math.Round(float64(t)/5) * 5)
}

func signed(u lang.Locale, rate float64) string {
	if u.System == units.Imperial {
		rate *= 1.8
	}
	text := u.Number(rate, 0)
	if rate >= 0.5 {
		return "+" + text
	}
	return text
}

func (p *livePage) fillControls(b store.Burn) {
	for i, c := range b.Stove.Controls {
		lc := liveControl{Control: c, Number: i + 1, Now: p.Locale.T("not logged yet")}
		for _, o := range c.Scale.Steps() {
			lc.Steps = append(lc.Steps, kit.Option{Value: say.Mark(c.Scale, o, p.Locale), Label: say.Mark(c.Scale, o, p.Locale)})
		}
		p.Controls = append(p.Controls, lc)
	}
	for _, g := range b.Stove.Gauges {
		p.Gauges = append(p.Gauges, kit.Option{Value: string(g.Place), Label: p.Locale.T(say.Places.Short(g.Place))})
	}
	for _, extra := range []stove.Place{stove.RoomAir, stove.OutdoorAir} {
		if _, there := b.Stove.Gauge(extra); !there {
			p.Gauges = append(p.Gauges, kit.Option{Value: string(extra), Label: p.Locale.T(say.Places.Short(extra))})
		}
	}
}

func (p *livePage) fillLog(q *kit.Request, b store.Burn) {
	p.Log, p.Older = kit.LogOf(q, b, 0)
	p.Count = len(b.Logged())
	if e, ok := b.NewestMade(); ok {
		p.LastID, p.LastSaid, p.LastTap = e.ID, say.Entry(b.Burn, e, q.Locale()), e.Tap
		if e.Tap != "" {
			var all []burn.Entry
			for _, other := range b.Valid() {
				if other.Tap == e.Tap {
					all = append(all, other)
				}
			}
			p.LastSaid = saidOf(b, all, q.Locale())
		}
	}
	zone := q.Profile.Location()
	lastSaid := func(kind burn.Kind, none string) string {
		if e, ok := b.Last(func(e burn.Entry) bool { return e.Kind == kind }); ok {
			return shorten(say.Entry(b.Burn, e, q.Locale()), 26) + ", " + e.At.In(zone).Format("15:04")
		}
		return none
	}
	p.Door, p.LastLoad, p.LastSeen = lastSaid(burn.Door, q.T("shut")), lastSaid(burn.Load, q.T("none yet")), lastSaid(burn.Smoke, q.T("not looked yet"))
	if e, ok := b.Last(func(e burn.Entry) bool { return e.Load != nil }); ok {
		p.LastLoad = q.Locale().Mass(e.Load.Mass()) + q.T(" at ") + e.At.In(zone).Format("15:04")
	}
	for i, c := range p.Controls {
		if e, ok := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == c.Key }); ok {
			p.Controls[i].Now = say.Mark(c.Scale, e.Opening, q.Locale()) + q.T(", since ") + e.At.In(zone).Format("15:04")
		}
	}
}

func shorten(s string, most int) string {
	if r := []rune(s); len(r) > most {
		return string(r[:most-1]) + "…"
	}
	return s
}

func (p *livePage) fillStacks(q *kit.Request) error {
	stacks, err := q.Stacks()
	if err != nil {
		return err
	}
	for _, st := range stacks {
		p.Stacks = append(p.Stacks, kit.Option{Value: strconv.FormatInt(st.ID, 10),
			Label: q.F("%s, %s a piece", st.Name, q.Locale().Piece(st.PieceMass))})
	}
	return nil
}

// fillLoad fills the form of a load in as it is likely to be: the plan's next load, else the
// last one; and on coals only where there are some.
func (p *livePage) fillLoad(a coach.Answer) {
	set := func(field, value string) {
		if _, typed := p.Form.Values[field]; !typed && value != "" {
			p.Form.Values.Set(field, value)
		}
	}
	var next *fire.Load
	for _, st := range a.Ahead {
		for _, act := range st.Fire.Do {
			if next == nil && act.Load != nil && !act.Load.Kindling {
				next = act.Load
			}
		}
	}
	if e, ok := p.Burn.Last(func(e burn.Entry) bool { return e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling }); next == nil && ok {
		next = e.Load
	}
	lay := fire.OnCoals
	_, lit := p.Burn.Last(func(e burn.Entry) bool { return e.Kind == burn.Light })
	if !lit && p.Burn.Coals == 0 || p.Burn.IsOut(a.At) {
		lay = fire.TopDown
	}
	if next != nil {
		set("stack", strconv.FormatInt(next.StackID, 10))
		set("pieces", strconv.Itoa(next.Pieces))
		set("direction", string(next.Direction))
	}
	set("pieces", "3")
	set("lay", string(lay))
}

// tapOf is an entry that is one tap.
func tapOf(k burn.Kind, loc lang.Locale) liveTap {
	return liveTap{kinds[k].key, say.EntryWord(k, loc), k}
}

// Key is the key of a kind of entry.
func (p *livePage) Key(k burn.Kind) string { return kinds[k].key }
