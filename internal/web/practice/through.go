package practice

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"sync"

	"smolder/internal/core/burn"
	"smolder/internal/core/practice"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/demo"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// throughPage is a burn gone through: how it went from one thing that was done to the next, and
// what somebody would do there before it is shown what was done.
type throughPage struct {
	kit.Page
	Burn      int64 // 0: the example
	Heading   string
	At, Of    int
	Clock     string
	Zero      int // min of the day at which it was lit
	Says      string
	Draws     string
	Frames    string // as JSON
	Dials     []kit.Option
	Choices   []kit.Option
	Asked     bool // what would you do now?
	Same      bool
	Mine      string
	Done      []string
	Effects   []effectLine
	Effect    string
	Before    string
	Next      string
	Over      bool
	None      bool
	Everybody []kit.Option // the last burns
}

// effectLine is one figure of what something did.
type effectLine struct{ Label, With, Without string }

// choiceWords are what somebody would do, as they say it.
var choiceWords = map[practice.Choice]lang.Message{
	practice.DoNothing: "nothing yet", practice.LessAir: "less air", practice.MoreAir: "more air", practice.DoorMoved: "move the door", practice.WoodOn: "wood on", practice.Other: "something else",
}

// example is how the burn of the demo household is asked for: whoever has none of their own goes
// through that.
const example = "example"

var exampleBurn = sync.OnceValue(demo.Burn)

// through shows one moment of a burn.
func (s Room) through(q *kit.Request) error {
	asked := q.Query("burn")
	id, err := strconv.ParseInt(asked, 10, 64)
	if asked != example && (err != nil || id <= 0) {
		return q.SeeOther("/practice")
	}
	b, zone := store.Burn{}, q.Profile.Location()
	if asked == example {
		b.Burn, err = exampleBurn(), nil
		zone = b.Started.Location()
	} else {
		b, err = q.Burn(id)
	}
	if errors.Is(err, store.ErrUnreadable) || err == nil && !b.Simulated() {
		return kit.Answer(http.StatusUnprocessableEntity, q.T("This burn cannot be gone through: mineral fuel is recorded and not simulated."))
	}
	if err != nil {
		return err
	}
	t := practice.GoThrough(b.In(b.Known.Belief().Tuning()))
	loc := q.Locale()
	k, _ := strconv.Atoi(q.Query("at"))
	k = min(max(0, k), len(t.Moments))
	p := &throughPage{Page: kit.Page{Title: q.T("Through a burn"), Nav: "practice", Wide: true}, Burn: id, At: k, Of: len(t.Moments), None: len(t.Moments) == 0,
		Heading: b.Stove.Name + ", " + loc.Date(b.Started.In(zone), "2 January 2006, 15:04")}
	to := func(at int, said string) string {
		link := fmt.Sprintf("/practice/through?burn=%s&at=%d", asked, at)
		if said != "" {
			link += "&said=" + said
		}
		return link + "#fire"
	}
	said := practice.Choice(q.Query("said"))
	tells := slices.Contains(practice.Choices, said) && k < len(t.Moments)
	shots := t.Between(k)
	if tells { // what was done is shown, and how it went on for a while
		shots = t.Between(k + 1)
	}
	frames := make([]frame, 0, len(shots))
	for _, shot := range shots {
		f := frameOfScene(shot.Scene, shot.Shown, shot.Room, b.Stove, loc.System)
		f.T, f.Door = shot.At.Seconds(), int(shot.Door)
		frames = append(frames, f)
	}
	if p.None || len(frames) == 0 {
		p.None = true
		q.Show(http.StatusOK, "through", p)
		return nil
	}
	last := shots[len(shots)-1]
	if tells {
		last = shots[0]
	}
	p.Clock = b.Started.Add(last.At).In(zone).Format("15:04")
	p.Zero = b.Started.In(zone).Hour()*60 + b.Started.In(zone).Minute()
	p.Says = say.Scene(last.Scene, loc)
	for i, g := range dialsOf(b.Stove) {
		p.Dials = append(p.Dials, kit.Option{Label: q.T(say.Places.Short(g.Place)), Value: loc.Number(shown(last.Shown[i], loc.System), 0) + " " + loc.DegreeSign()})
	}
	p.Dials = append(p.Dials, kit.Option{Label: q.T("room"), Value: loc.Number(shown(last.Room, loc.System), 0) + " " + loc.DegreeSign()})
	if k > 0 {
		p.Before = to(k-1, "")
	}
	switch {
	case k == len(t.Moments):
		p.Over = true
	case tells:
		p.revealed(q, t, k, said, b.Burn)
		p.Next = to(k+1, "")
	default:
		p.Asked = true
		for _, c := range practice.Choices {
			p.Choices = append(p.Choices, kit.Option{Label: units.UpperFirst(q.T(choiceWords[c])), Value: to(k, string(c))})
		}
	}
	text, err := json.Marshal(frames)
	if err != nil {
		return err
	}
	p.Frames = string(text)
	if p.Draws, err = drawsOf(q, 0, b.Stove); err != nil {
		return err
	}
	q.Show(http.StatusOK, "through", p)
	return nil
}

// revealed shows what was done at a moment, and what it did.
func (p *throughPage) revealed(q *kit.Request, t *practice.Through, k int, said practice.Choice, b burn.Burn) {
	loc := q.Locale()
	p.Mine, p.Same = q.T(choiceWords[said]), slices.Contains(t.Was(k), said)
	for _, e := range t.Moments[k].Entries {
		p.Done = append(p.Done, say.Entry(b, e, loc))
	}
	did := t.Did(k)
	if did.Lights {
		p.Effect = q.T("Without it there would be no fire.")
		return
	}
	for i, g := range dialsOf(b.Stove) {
		p.Effects = append(p.Effects, effectLine{q.T(say.Places.Short(g.Place)), loc.Temperature(did.With.Shown[i]), loc.Temperature(did.Without.Shown[i])})
	}
	flames := func(c practice.Came) string {
		if c.Flames {
			return q.T("yes")
		}
		return q.T("no")
	}
	p.Effects = append(p.Effects, effectLine{q.T("smoke meanwhile"), loc.Number(did.With.Smoke, 1) + " g", loc.Number(did.Without.Smoke, 1) + " g"},
		effectLine{q.T("flames"), flames(did.With), flames(did.Without)},
		effectLine{q.T("wood left"), loc.Mass(units.Kilogram(did.With.Wood)), loc.Mass(units.Kilogram(did.Without.Wood))})
	p.Effect = q.F("%s later, with it and without:", loc.Duration(did.After))
}

// dialsOf are a stove's gauges of the fire.
func dialsOf(st stove.Stove) (out []stove.Gauge) {
	for _, g := range st.Gauges {
		if g.Place.OfFire() {
			out = append(out, g)
		}
	}
	return out
}
