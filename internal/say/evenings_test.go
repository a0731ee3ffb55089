package say_test

import (
	"context"
	"fmt"
	"os"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// Sixty evenings in which something goes wrong: fifteen mistakes on four stoves, each a stove of
// its own, hidden from the coach. The owner makes the mistake and else does what is said. Every
// line that the coach says is judged by what the fire really is at that moment, as somebody who
// stood beside it for twenty winters would: none may be dangerous, and none may speak against
// another on the page; and what had to be said has to be said in time.
//
// Four of them run always, no longer than it takes to answer; SMOLDER_EVENINGS=all runs all and prints the table of
// docs/evenings.md.
func TestSixtyEvenings(t *testing.T) {
	asked := os.Getenv("SMOLDER_EVENINGS")
	all := asked != ""
	var rows sync.Map
	t.Run("evenings", func(t *testing.T) {
		for m, mistake := range mistakes {
			for st := range fixture.Stoves() {
				name := fmt.Sprintf("%s, %s", mistake.name, fixture.Stoves()[st].Name)
				if !all && (m%4 != 0 || st != m/4) || all && asked != "all" && asked != name {
					continue
				}
				t.Run(name, func(t *testing.T) {
					t.Parallel()
					e := newEvening(t, st, m)
					mistake.makes(e)
					if e.lives(mistake.hours, mistake.every, !all); asked == name {
						e.told()
					}
					for _, l := range e.lines {
						assert.Empty(t, l.fault, "at %d min: %s %s", l.minute, l.code, l.do)
					}
					rows.Store(m*10+st, e.row(mistake))
					if len(mistake.says) > 0 && !e.spared && (!mistake.dark || e.dark(mistake.within)) {
						assert.True(t, e.heard(mistake.says, mistake.within), "within %d min one of %v is said; heard %s", mistake.within, mistake.says, e.story())
					}
				})
			}
		}
	})
	if all {
		fmt.Println("| evening | somebody of twenty winters | the coach |\n|---|---|---|")
		for m := range mistakes {
			for st := range fixture.Stoves() {
				if r, ok := rows.Load(m*10 + st); ok {
					fmt.Println(r)
				}
			}
		}
	}
}

// A mistake is what goes wrong, what has to be said of it and within how many minutes, and what
// somebody of twenty winters would say.
type mistake struct {
	name   string
	makes  func(*evening)
	says   []coach.RuleID
	within int
	would  string
	hours  float64
	every  int  // minutes between two looks
	dark   bool // it has to be said only where the fire does lose its flames
}

var mistakes = []mistake{
	{"the door is left ajar", func(e *evening) {
		e.refuses = func(_ int, a coach.Advice, act fire.Act) bool {
			return act.Kind == fire.ActDoor && act.Door == fire.Shut && e.minute < 40
		}
		e.since = 12
	}, []coach.RuleID{coach.DoorAjar, coach.PlanStep, coach.OverLimit, coach.Climbing}, 12, "shut the door, it draws by itself", 1.5, 4, false},
	{"the ash flap is forgotten", func(e *evening) {
		e.adds(stove.Control{Key: "flap", Name: "Ash flap", Role: stove.AshFlap, Scale: stove.Scale{Kind: stove.Notches, Notches: []string{"shut", "open"}}})
		e.at(14, func() { e.sets("flap", stove.AshFlap, 1) })
		e.refuses = func(_ int, _ coach.Advice, act fire.Act) bool { return act.Control == "flap" && e.minute < 30 }
	}, []coach.RuleID{coach.FlapOpen, coach.GrateOpen, coach.OverLimit, coach.Climbing}, 12, "shut the flap: it is a forge", 1.5, 4, false},
	{"a load on a dying fire", func(e *evening) {
		e.onlyKindling()
		e.at(100, func() { e.puts(e.full(0.7), 0.17) })
	}, []coach.RuleID{coach.NotCaught, coach.Dies, coach.Smoulders, coach.ItIsOut, coach.BigTooEarly, coach.AskCoals}, 24, "small sticks under it and all the air, or it lies there and smokes", 3, 4, true},
	{"far too much wood at once", func(e *evening) {
		e.at(45, func() { e.puts(e.full(1.7), 0.17) })
	}, []coach.RuleID{coach.Overloaded, coach.OverLimit, coach.Climbing}, 8, "that is more than it takes: air down, stay, nothing more on", 2, 4, false},
	{"wet wood", func(e *evening) {
		e.at(40, func() { e.puts(e.full(0.8), 0.42) })
	}, []coach.RuleID{coach.NotCaught, coach.NotCharred, coach.Smoulders, coach.Dies, coach.BigTooEarly, coach.SmokeLong, coach.Overloaded}, 40, "leave the air open until it is black, however long it takes", 2.5, 4, true},
	{"the air is shut before the wood is black", func(e *evening) {
		e.afterLoad(3, func() { e.sets(e.air.Key, e.air.Role, e.low()) })
	}, []coach.RuleID{coach.NotCharred, coach.Dies, coach.TooFar, coach.Smoulders, coach.InSteps, coach.OverLimit, coach.Climbing}, 24, "open it again until all is black", 2.5, 4, true},
	{"nobody turns it down", func(e *evening) {
		e.refuses = func(_ int, a coach.Advice, act fire.Act) bool {
			return act.Control == e.air.Key && act.Opening < 0.9
		}
	}, nil, 0, "turn it down: the heat goes up the flue", 2, 4, false},
	{"smoke comes into the room", func(e *evening) {
		e.at(30, func() { e.logs(burn.Entry{Kind: burn.Smoke, Smoke: burn.SmokeRoom}) })
	}, []coach.RuleID{coach.Spillage}, 4, "window open, door shut, find out why before anything else", 1.5, 4, false},
	{"the alarm sounds", func(e *evening) {
		e.at(50, func() { e.logs(burn.Entry{Kind: burn.COAlarm}) })
	}, []coach.RuleID{coach.Monoxide}, 4, "out, everybody, and call for help", 2, 4, false},
	{"it goes out", func(e *evening) {
		e.onlyKindling()
		e.at(60, func() { e.does(fire.Act{Kind: fire.ActOut}); e.logs(burn.Entry{Kind: burn.WentOut}) })
	}, []coach.RuleID{coach.ItIsOut}, 8, "lay it again, with kindling, and light it", 2.5, 4, false},
	{"tapped through in three minutes", func(e *evening) { e.taps = true }, []coach.RuleID{coach.TooQuick}, 8, "is it really so far?", 1, 1, false},
	{"looked at every half hour", func(e *evening) {}, nil, 0, "what can wait, waits; what cannot is said first", 3, 30, false},
	{"down to the stop in one go", func(e *evening) {
		e.afterLoad(16, func() { e.sets(e.air.Key, e.air.Role, 0.04) })
	}, []coach.RuleID{coach.InSteps, coach.TooFar, coach.Dies, coach.Smoulders, coach.NotCharred, coach.OverLimit, coach.Cooled, coach.Climbing, coach.Starved}, 24, "too far: back a step, and slower", 2.5, 4, true},
	{"nothing is said after the match", func(e *evening) { e.silent = true }, []coach.RuleID{coach.Silent, coach.NobodyLogs, coach.Unheard, coach.DoorAjar, coach.PlanStep}, 100, "what does the gauge say?", 2, 4, false},
	{"all open on a full load", func(e *evening) {
		e.afterLoad(2, func() { e.sets(e.air.Key, e.air.Role, 1) })
		e.refuses = func(_ int, a coach.Advice, act fire.Act) bool { return act.Control == e.air.Key && e.minute < 75 }
	}, nil, 0, "it runs away: air down now", 2, 4, false},
}

// dark tells whether the fire lost its flames for two looks between six minutes after the
// mistake and when it has to be said.
func (e *evening) dark(within int) bool {
	n := 0
	for _, l := range e.lines {
		if l.minute < e.since+6 || l.minute > e.since+within {
			continue
		}
		if n++; !l.dark {
			n = 0
		}
		if n > 1 {
			return true
		}
	}
	return false
}

// noFlames is under how much gas in flame nobody sees any, kg/s for each kg of a full bed.
const noFlames = 3e-5

// shortEvening is how many minutes after the mistake a short evening ends.
const shortEvening = 24

// An evening is one burn in one hidden stove.
type evening struct {
	t       *testing.T
	plan    plan.Plan
	fire    *fire.Fire
	burn    burn.Burn
	kept    burn.Beliefs
	air     stove.Control
	minute  int
	since   int // minute of the mistake
	events  map[int]func()
	load    func() // once a load on the coals is on
	after   int
	loaded  int
	refuses func(int, coach.Advice, fire.Act) bool
	silent  bool
	taps    bool
	spared  bool // the mistake did not come to pass on this stove
	harmed  bool // something came into the room
	black   bool
	lines   []line
}

// A line is what was said at a moment, and what is wrong with it.
type line struct {
	minute    int
	code      coach.RuleID
	do, fault string
	urgent    bool
	truth     string
	dark      bool // the fire had no flames then, and wood
}

var planOf = func() func(t *testing.T, st int) plan.Plan {
	var all [4]struct {
		sync.Once
		plan.Plan
	}
	return func(t *testing.T, st int) plan.Plan {
		p := &all[st]
		p.Do(func() {
			w := fixture.Evening(st, fixture.WoodOf[st], wish.Cold)
			if w.For = 4 * time.Hour; st == fixture.Pip {
				w.For, w.Help.Window = 2*time.Hour, true
			}
			var err error
			p.Plan, err = search.Best(context.Background(), w, search.Quick, nil)
			require.NoError(t, err)
		})
		return p.Plan
	}
}()

func newEvening(t *testing.T, st, n int) *evening {
	e := &evening{t: t, plan: planOf(t, st), events: map[int]func(){}, loaded: -1}
	setup := e.plan.Wish.Setup()
	e.burn = burn.Burn{Stove: setup.Stove, House: setup.House, Outdoor: setup.Outdoor, Room: setup.Room, Started: eveningBegins,
		Wanted: [2]float64{float64(e.plan.Wish.Low), float64(e.plan.Wish.High)}, Window: e.plan.Wish.Help.Window}
	hidden := belief.Worlds(belief.Usual(), belief.Doubt{}, len(mistakes)+1)[n+1].In(setup)
	e.fire = fire.New(hidden, 4*time.Second)
	e.air, _ = setup.Stove.MainAir()
	return e
}

var eveningBegins = time.Date(2026, 1, 14, 17, 0, 0, 0, time.UTC)

func (e *evening) at(minute int, do func()) {
	e.events[minute], e.since = do, minute
}

// afterLoad does something so many minutes after the first load on the coals.
func (e *evening) afterLoad(minutes int, do func()) { e.after, e.load = minutes, do }

// adds gives the stove a control more.
func (e *evening) adds(c stove.Control) {
	add := func(s *stove.Stove) { s.Controls = append(slices.Clone(s.Controls), c) }
	add(&e.burn.Stove)
	setup := e.plan.Wish.Setup()
	add(&setup.Stove)
	add(&e.plan.Wish.Stove)
	e.fire = fire.New(setup, 4*time.Second)
	e.sets(c.Key, c.Role, 0)
}

// onlyKindling lets nobody put a load on the coals.
func (e *evening) onlyKindling() {
	before := e.refuses
	e.refuses = func(m int, a coach.Advice, act fire.Act) bool {
		later := act.Kind == fire.ActLoad && !act.Load.Kindling && e.minute > 5
		return later || before != nil && before(m, a, act)
	}
}

// low is a setting that is far too low.
func (e *evening) low() float64 { return e.air.Scale.Nearest(0.1) }

// full is a load of a share of the manual's.
func (e *evening) full(share float64) units.Kilogram {
	return units.Kilogram(share) * e.burn.Stove.MaxLoad
}

func (e *evening) puts(kilos units.Kilogram, moisture units.Fraction) {
	l := e.plan.Wish.LoadOf(0, 1, stove.EndOn, fire.OnCoals)
	l.Pieces = max(1, int(float64(kilos/l.PieceMass)+0.5))
	l.Moisture = moisture
	e.does(fire.Act{Kind: fire.ActLoad, Load: &l})
}

func (e *evening) sets(key string, role stove.Role, o float64) {
	e.does(fire.Act{Kind: fire.ActControl, Control: key, Role: role, Opening: o})
}

// does does an act and, unless nobody logs, writes it down.
func (e *evening) does(a fire.Act) {
	e.fire.Do(a)
	if a.Kind == fire.ActLoad && !a.Load.Kindling {
		e.black = false
		if a.Load.Lay == fire.OnCoals && e.loaded < 0 {
			e.loaded = e.minute
		}
	}
	if entry, ok := burn.EntryOf(a); ok && !(e.silent && e.minute > 2) {
		e.logs(entry)
	}
}

func (e *evening) logs(entry burn.Entry) {
	entry.ID, entry.Seq = fmt.Sprint("e", len(e.burn.Entries)), int64(len(e.burn.Entries))
	entry.At = eveningBegins.Add(time.Duration(e.minute) * time.Minute)
	e.burn.Entries = append(e.burn.Entries, entry)
	switch {
	case entry.Kind == burn.COAlarm, entry.Kind == burn.ChimneyFire, entry.Kind == burn.Smoke && entry.Smoke == burn.SmokeRoom:
		e.harmed = true
	}
}

// lives lives the evening, looking every few minutes; a short one ends when what goes wrong has
// been answered.
func (e *evening) lives(hours float64, every int, short bool) {
	for e.minute = 0; e.minute <= int(60*hours); e.minute++ {
		if short && e.since > 0 && e.minute > e.since+shortEvening {
			break
		}
		e.fire.BurnTo(time.Duration(e.minute)*time.Minute, time.Duration(e.minute)*time.Minute)
		if e.load != nil && e.loaded >= 0 && e.minute == e.loaded+e.after {
			e.load()
			e.since, e.load = e.minute, nil
		}
		if do := e.events[e.minute]; do != nil {
			do()
		}
		if e.minute%every == 0 {
			e.look()
		}
	}
	e.spared = e.load != nil
}

// look reads the gauges, asks, and does what is said.
func (e *evening) look() {
	if !e.silent || e.minute < 2 {
		for _, g := range e.burn.Stove.Gauges {
			if v, ok := e.fire.Reading(g.Place); ok && e.minute > 0 {
				e.logs(burn.Entry{Kind: burn.Temperature, Place: g.Place, Reading: units.Celsius(v)})
			}
		}
		if look := e.fire.Look(); look.Black && !e.black && look.Wood > 0.2 && e.loaded >= 0 {
			e.black = true
			e.logs(burn.Entry{Kind: burn.Black})
		}
	}
	now := eveningBegins.Add(time.Duration(e.minute) * time.Minute)
	a := coach.Ask(coach.Asked{Burn: e.burn, Plan: &e.plan, Now: now, Belief: e.kept.At(belief.Usual(), e.burn, now)})
	look := e.fire.Look()
	counsel := say.Coach(a, e.burn.Stove, a.Plan, lang.Metric)
	e.lines = append(e.lines, line{e.minute, a.Advice.Code, counsel.Do, e.fault(a, counsel), a.Advice.Urgent, e.truth(a), look.Flame < noFlames && look.Wood > 0.3})
	if ask := a.Progress.Ask; ask != "" || a.Advice.Code == coach.AskCoals { // who is asked looks
		if kind := burn.ToCoals; look.Flame < 3e-5 && look.Wood < 0.3 && !e.silent {
			e.logs(burn.Entry{Kind: kind})
		} else if !e.silent {
			e.logs(burn.Entry{Kind: burn.NotYet})
		}
		return
	}
	if !a.Advice.Asks() || !a.Advice.Ready && !e.taps {
		return
	}
	for _, set := range a.Advice.Sets {
		e.obeys(a.Advice, fire.Act{Kind: fire.ActControl, Control: set.Control.Key, Role: set.Control.Role, Opening: set.Opening})
	}
	for _, act := range a.Advice.Acts {
		e.obeys(a.Advice, act)
	}
	if e.taps && a.Advice.Step != nil && a.Advice.Code == coach.PlanStep { // done, whatever the fire says
		for _, act := range a.Advice.Step.Fire.Do {
			if act.Kind != fire.ActControl {
				e.obeys(a.Advice, act)
			}
		}
	}
}

func (e *evening) obeys(a coach.Advice, act fire.Act) {
	if e.refuses != nil && e.refuses(e.minute, a, act) {
		return
	}
	e.does(act)
}

// fault is what is wrong with an answer, by the fire as it really is; empty: nothing.
func (e *evening) fault(a coach.Answer, c say.Counsel) string {
	look, adv := e.fire.Look(), a.Advice
	hot, near := false, false
	for _, g := range e.burn.Stove.Gauges {
		if v, ok := e.fire.Reading(g.Place); ok && g.Place.OfFire() && g.Band.TooHot > 0 {
			hot, near = hot || v > 1.02*float64(g.Band.TooHot), near || v > 0.97*float64(g.Band.TooHot)
		}
	}
	stands := 1.0
	for i := range e.burn.Entries {
		if x := &e.burn.Entries[i]; x.Kind == burn.Control && x.Control == e.air.Key {
			stands = x.Opening
		}
	}
	said := strings.TrimSpace(c.Do + c.Why)
	if adv.Asks() && said == "" {
		return "says nothing"
	}
	alarmed := e.lastOf(func(x *burn.Entry) bool { return x.Kind == burn.COAlarm || x.Kind == burn.ChimneyFire })
	if alarmed && !(adv.Code == coach.Monoxide || adv.Code == coach.ChimneyFire) {
		return "speaks of something else after an alarm"
	}
	for _, set := range adv.Sets {
		if set.Control.Key == e.air.Key && set.Opening > stands+0.02 && hot && !e.silent {
			return "more air on a stove that is over its limit"
		}
		if set.Control.Role == stove.BypassRole && set.Opening < 0.5 && e.burn.Stove.Family == stove.Catalytic {
			if v, ok := e.fire.Reading(stove.CatalystProbe); ok && v < 200 && !hot {
				return "the bypass shut on a cold catalyst"
			}
		}
		if set.Control.Role == stove.OutsideAir && set.Opening < 0.5 && look.Wood > 0.2 {
			return "the fresh air shut on a fire"
		}
		if set.Control.Key == e.air.Key && set.Opening < stands-0.02 && !near && look.Flame < 1e-6 && look.Wood > 0.8 && !e.silent && adv.Ready {
			return "less air where the flames are gone and there is wood"
		}
	}
	for _, act := range adv.Acts {
		switch {
		case act.Kind == fire.ActDoor && act.Door != fire.Shut && hot && !e.silent:
			return "the door opened on a stove that is over its limit"
		case act.Kind == fire.ActLoad && adv.Ready && hot && !e.silent:
			return "a load on a stove that is over its limit"
		case act.Kind == fire.ActLoad && adv.Ready && !act.Load.Kindling && look.Wood*1.2+float64(act.Load.Mass()) > 1.05*float64(e.burn.Stove.MaxLoad)+1.2 && !e.silent:
			return fmt.Sprintf("a load of %.1f kg on %.1f kg of wood, in a stove that takes %.1f", float64(act.Load.Mass()), look.Wood, float64(e.burn.Stove.MaxLoad))
		case (act.Kind == fire.ActLight || act.Kind == fire.ActLoad) && e.harmed && adv.Ready && !e.lastOf(func(x *burn.Entry) bool { return x.Kind == burn.Smoke && x.Smoke == burn.SmokeGone }):
			return "lit or loaded after something came into the room"
		}
	}
	return e.contradicts(a)
}

// contradicts tells whether two things on the page speak against each other.
func (e *evening) contradicts(a coach.Answer) string {
	adv := a.Advice
	opens, shuts := false, false
	for _, set := range adv.Sets {
		if set.Control.Key == e.air.Key {
			for i := len(e.burn.Entries) - 1; i >= 0; i-- {
				if x := &e.burn.Entries[i]; x.Kind == burn.Control && x.Control == e.air.Key {
					opens, shuts = set.Opening > x.Opening+0.02, set.Opening < x.Opening-0.02
					break
				}
			}
		}
	}
	loads := slices.ContainsFunc(adv.Acts, func(x fire.Act) bool { return x.Kind == fire.ActLoad && !x.Load.Kindling })
	if next := a.Progress.Next; a.Progress.Has && a.Progress.Ready && adv.Urgent && adv.Ready {
		if next.Kind == plan.TurnDown && opens && adv.Code != coach.PlanStep && adv.Step != nil {
			return "up and down at once"
		}
	}
	if a.Phase == fire.Out && shuts && adv.Code == coach.PlanStep && adv.Ready {
		return "turns down what is out"
	}
	if loads && adv.Ready && (adv.Code == coach.Enough || adv.Code == coach.LetBurn) {
		return "enough, and a load"
	}
	return ""
}

func (e *evening) lastOf(is func(*burn.Entry) bool) bool {
	for i := range e.burn.Entries {
		if is(&e.burn.Entries[i]) {
			return true
		}
	}
	return false
}

// heard tells whether one of some rules spoke within minutes of the mistake.
func (e *evening) heard(codes []coach.RuleID, within int) bool {
	return slices.ContainsFunc(e.lines, func(l line) bool {
		return l.minute >= e.since && l.minute <= e.since+within && slices.Contains(codes, l.code)
	})
}

// story is what was said, each once in a row, with its minute.
func (e *evening) story() string {
	var out []string
	last := coach.RuleID("")
	for _, l := range e.lines {
		if l.code != last && l.code != coach.Fine {
			out = append(out, fmt.Sprintf("%d %s", l.minute, l.code))
		}
		last = l.code
	}
	return strings.Join(out, ", ")
}

// row is the evening's row of the table.
func (e *evening) row(m mistake) string {
	var out []string
	last := ""
	for _, l := range e.lines {
		if said := l.do; said != last && said != "" && l.minute >= e.since-4 && len(out) < 4 && l.code != coach.Fine {
			out = append(out, fmt.Sprintf("%d min: %s", l.minute, said))
		}
		last = l.do
	}
	return fmt.Sprintf("| %s, %s | %s | %s |", e.burn.Stove.Name, m.name, m.would, strings.Join(out, " · "))
}

// told prints an evening line by line, where SMOLDER_EVENINGS names it.
func (e *evening) told() {
	for _, l := range e.lines {
		fmt.Printf("   %3d %-14s %v %-60.60s | %s\n", l.minute, l.code, l.urgent, l.do, l.truth)
	}
}

// truth is the fire as it is beside how it is believed to be.
func (e *evening) truth(a coach.Answer) string {
	look := e.fire.Look()
	g, _ := e.burn.Stove.Guide()
	v, _ := e.fire.Reading(g.Place)
	return fmt.Sprintf("%s %.0f °C, wood %.2f (%.2f), coals %.2f (%.2f), flame %.1e (%.2f), black %v (%.2f), phase %s, step %d %s ready %v lacks %s", g.Place, v, look.Wood,
		a.Standing.Wood.Middle, look.Coals, a.Standing.Coals.Middle, look.Flame, a.Standing.Flames, look.Black, a.Standing.Black, a.Phase, a.Progress.Done, a.Progress.Next.Kind,
		a.Progress.Ready, a.Progress.Lacks.Kind)
}
