package hearth

import (
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"strconv"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
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
	State    string
	First    *kit.FirstAnswer // what comes before any step of the plan
	Overfire bool             // what to do when it is too hot is shown open
	Reading  *liveReading
	Others   []string
	Progress *kit.Followed
	Strip    strip.Pair
	Controls []liveControl
	Gauges   []kit.Option
	Stacks   []kit.Option
	Taps     []liveTap
	StepTaps []kit.StepTap
	Guide    string // place of the gauge in hand; empty: none
	Older    int    // entries of the log that are not shown
	Door     string
	LastLoad string
	LastSeen string
	Log      []kit.LogLine
	Count    int    // entries of the log in all
	LastID   string // the entry that undo undoes
	LastSaid string
}

// liveReading is the big number.
type liveReading struct {
	Value, Gauge, Rate, Band string
	Guess                    bool // computed, nobody has read the gauge lately
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

// stepTapsOf are the settings of a step that are not yet as it wants them.
func stepTapsOf(b store.Burn, in say.Instruction) []kit.StepTap {
	var out []kit.StepTap
	for _, set := range in.Settings {
		if e, ok := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == set.Control.Key }); ok && math.Abs(e.Opening-set.Opening) < 0.02 {
			continue
		}
		out = append(out, kit.StepTap{Kind: string(burn.Control), Control: set.Control.Key, Value: set.Says, Word: set.Control.Name + " " + set.Says})
	}
	for _, a := range in.Fire.Do {
		switch a.Kind {
		case fire.ActDoor:
			out = append(out, kit.StepTap{Kind: string(burn.Door), Value: doorValue(a.Door), Word: say.Door(a.Door)})
		case fire.ActRake:
			out = append(out, kit.StepTap{Kind: string(burn.Rake), Word: "coals raked"})
		case fire.ActPrime:
			out = append(out, kit.StepTap{Kind: string(burn.Prime), Word: "flue warmed"})
		case fire.ActLight:
			if in.Kind == plan.LightIt {
				out = append(out, kit.StepTap{Kind: string(burn.Light), Word: "lit"})
			}
		}
	}
	return out
}

func doorValue(d fire.Door) string {
	return map[fire.Door]string{fire.Shut: "shut", fire.Ajar: "ajar", fire.Open: "open"}[d]
}

// longLit is when a fire counts as lit though nobody has said so.
const longLit = 20 * time.Minute

// tapsOf are the taps of the moment: to light, or for a fire that is lit.
func tapsOf(b store.Burn, since time.Duration) []liveTap {
	_, lit := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Light })
	if lit || b.Coals > 0 || since > longLit {
		return []liveTap{tapOf(burn.Rake), tapOf(burn.Out)}
	}
	return []liveTap{tapOf(burn.Prime), tapOf(burn.Light)}
}

// freshReading is how old a reading may be to stand as the big number.
const freshReading = 25 * time.Minute

func (s Room) live(q *kit.Request) error {
	b, err := s.BurnOf(q)
	if err != nil {
		return err
	}
	if !b.Ended.IsZero() {
		return q.SeeOther(fmt.Sprintf("/burns/%d", b.ID))
	}
	return s.showLive(q, http.StatusOK, b, kit.Filled(), "")
}

// showLive computes everything on the live page from the log.
func (s Room) showLive(q *kit.Request, status int, b store.Burn, f *kit.Form, opened string) error {
	now := s.Now().UTC()
	until := now
	if until.Sub(b.Started) > 48*time.Hour {
		until = b.Started.Add(48 * time.Hour)
	}
	m := s.Replays.Measure(b.Burn, until)
	p := &livePage{Page: kit.Page{Title: b.Stove.Name + ", at the stove", Nav: "stove", Fire: true, Wide: true}, Burn: b, Form: f, Opened: opened,
		Since: now.Sub(b.Started), State: string(fire.Preparing)}
	switch n := len(m.Replay.Samples); {
	case !m.Simulated:
		p.State = "mineral fuel"
	case n > 0:
		p.State = string(m.Replay.Samples[n-1].Phase)
	}
	p.Reading, p.Others = liveReadingOf(q, b, m, now)
	if !m.NoGauge {
		p.Guide = string(m.Gauge.Place)
	}
	if first, found := b.First(now); found {
		p.First = kit.AnswerFirst(q, b, first)
	}
	if b.Plan != nil && m.Simulated {
		progress := kit.FollowPlan(q, b, m.Replay, now)
		p.Progress = progress
		if progress.Has {
			p.StepTaps = stepTapsOf(b, progress.Next)
		}
		if progress.NotCaught && p.First == nil {
			p.First = kit.NotCaught(b)
		}
	}
	p.Strip = strip.Draw(strip.OfBurn(b.Burn, b.Plan, m, until, kit.HandGauge(q), q.View(b.Started)), strip.Live)
	p.Taps = tapsOf(b, p.Since)
	p.fillControls(b)
	p.fillLog(q, b)
	if err := p.fillStacks(q); err != nil {
		return err
	}
	q.Show(status, "live", p)
	return nil
}

// liveReadingOf returns the guiding gauge's newest reading, else what the
// replay believes, and the newest of the other gauges.
func liveReadingOf(q *kit.Request, b store.Burn, m burn.Measures, now time.Time) (*liveReading, []string) {
	u := q.Units()
	g := m.Gauge
	r := &liveReading{Gauge: say.Places.Short(g.Place), Band: fmt.Sprintf("working from %s", u.Degrees(g.Band.Low))}
	readings := b.Readings(g.Place)
	n := len(readings)
	switch {
	case m.NoGauge && n == 0:
		r = nil // steered by eye: a computed number would pass for a gauge
	case n > 0 && now.Sub(readings[n-1].At) < freshReading:
		last := readings[n-1]
		r.Value = u.Degrees(last.Reading)
		if n > 1 && last.At.Sub(readings[n-2].At) < 30*time.Minute && last.At.After(readings[n-2].At) {
			rate := float64(last.Reading-readings[n-2].Reading) / last.At.Sub(readings[n-2].At).Minutes()
			if u == units.Imperial {
				rate *= 1.8
			}
			r.Rate = signed(rate) + " a minute"
		}
	case len(m.Replay.Samples) > 0:
		t, _ := m.Replay.Samples[len(m.Replay.Samples)-1].Reading(g.Place)
		shown := t // to five degrees of the household's own
		if u == units.Imperial {
			shown = units.Celsius((math.Round(t.Fahrenheit()/5)*5 - 32) * 5 / 9)
		} else {
			shown = units.Celsius(math.Round(float64(t)/5) * 5)
		}
		r.Value, r.Guess = u.Degrees(shown), true
	default:
		r = nil
	}
	var others []string
	for _, other := range b.Stove.Gauges {
		if other.Place == g.Place {
			continue
		}
		if rs := b.Readings(other.Place); len(rs) > 0 && now.Sub(rs[len(rs)-1].At) < time.Hour {
			others = append(others, say.Places.Short(other.Place)+" "+u.Degrees(rs[len(rs)-1].Reading))
		}
	}
	if e, ok := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Draft }); ok {
		others = append(others, "draft "+u.Draft(e.Draft))
	}
	return r, others
}

func signed(v float64) string {
	text := units.Number(v, 0)
	if v >= 0.5 {
		return "+" + text
	}
	return text
}

func (p *livePage) fillControls(b store.Burn) {
	for i, c := range b.Stove.Controls {
		lc := liveControl{Control: c, Number: i + 1, Now: "not logged yet"}
		for _, o := range c.Scale.Steps() {
			lc.Steps = append(lc.Steps, kit.Option{Value: say.Mark(c.Scale, o), Label: say.Mark(c.Scale, o)})
		}
		p.Controls = append(p.Controls, lc)
	}
	for _, g := range b.Stove.Gauges {
		p.Gauges = append(p.Gauges, kit.Option{Value: string(g.Place), Label: say.Places.Short(g.Place)})
	}
	for _, extra := range []stove.Place{stove.RoomAir, stove.OutdoorAir} {
		if _, there := b.Stove.Gauge(extra); !there {
			p.Gauges = append(p.Gauges, kit.Option{Value: string(extra), Label: say.Places.Short(extra)})
		}
	}
}

func (p *livePage) fillLog(q *kit.Request, b store.Burn) {
	p.Log, p.Older = kit.LogOf(q, b, 0)
	p.Count = len(b.Entries)
	if e, ok := b.NewestMade(); ok {
		p.LastID, p.LastSaid = e.ID, say.Entry(b.Burn, e, q.Units())
	}
	zone := q.Profile.Location()
	lastSaid := func(kind burn.Kind, none string) string {
		if e, ok := b.Last(func(e burn.Entry) bool { return e.Kind == kind }); ok {
			return shorten(say.Entry(b.Burn, e, q.Units()), 26) + ", " + e.At.In(zone).Format("15:04")
		}
		return none
	}
	p.Door, p.LastLoad, p.LastSeen = lastSaid(burn.Door, "shut"), lastSaid(burn.Load, "none yet"), lastSaid(burn.Smoke, "not looked yet")
	if e, ok := b.Last(func(e burn.Entry) bool { return e.Load != nil }); ok {
		p.LastLoad = q.Units().Mass(e.Load.Mass()) + " at " + e.At.In(zone).Format("15:04")
	}
	for i, c := range p.Controls {
		if e, ok := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == c.Key }); ok {
			p.Controls[i].Now = say.Mark(c.Scale, e.Opening) + ", since " + e.At.In(zone).Format("15:04")
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
	stacks, err := q.Home.Stacks(q.Ctx())
	if err != nil {
		return err
	}
	for _, st := range stacks {
		p.Stacks = append(p.Stacks, kit.Option{Value: strconv.FormatInt(st.ID, 10),
			Label: fmt.Sprintf("%s, %s a piece", st.Name, q.Units().Piece(st.PieceMass))})
	}
	return nil
}

// tapOf is an entry that is one tap.
func tapOf(k burn.Kind) liveTap { return liveTap{kinds[k].key, say.EntryWord(k), k} }

// Key is the key of a kind of entry.
func (p *livePage) Key(k burn.Kind) string { return kinds[k].key }
