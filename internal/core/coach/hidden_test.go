package coach_test

import (
	"fmt"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/follow"
	"smolder/internal/core/learn"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// What following is worth on stoves that nobody knows: the same evenings by a plan and the
// coach, by the plan alone, and by a careful habit, printed as a table. It takes minutes,
// and is asked for by SMOLDER_LONG=1.
func TestFollowedOnHiddenStoves(t *testing.T) {
	if os.Getenv("SMOLDER_LONG") == "" {
		t.Skip("SMOLDER_LONG=1 asks for it")
	}
	const evening, stoves = 4 * time.Hour, 6
	type sum struct{ smoke, wood, burnt, hot, dirty, cold float64 }
	names := [4]string{"coach", "plan", "habit", "known"}
	var total [4]sum
	for n, w := range []wish.Wish{fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold), fixture.Evening(fixture.Loom, fixture.Oak, wish.Cold)} {
		w.For = evening
		p := asShown(t, w)
		setup := p.Wish.Setup()
		for i, world := range belief.Worlds(belief.Usual(), belief.Doubt{}, stoves) {
			if only := os.Getenv("SMOLDER_STORY"); only != "" && only != fmt.Sprintf("%d/%d", n, i) {
				continue
			}
			hidden := world.In(setup)
			add := func(k int, r fire.Result, kilos units.Kilogram) {
				s, cold := r.Summary, coldOf(r, w.Low)
				total[k].cold += cold
				smoke := s.SmokePerKg / world.Tuning().Smoke
				total[k].smoke += s.Smoke / world.Tuning().Smoke
				total[k].burnt += float64(s.In) / 18e6
				total[k].wood += float64(kilos)
				total[k].hot += s.TooHot.Minutes()
				total[k].dirty += s.Smoulder.Minutes()
				fmt.Printf("%d/%d %s: %.1f g/kg, %.1f kg, smoulders %.0f min, too hot %.0f min, %.1f K·h cold\n", n, i, names[k],
					smoke, kilos, s.Smoulder.Minutes(), s.TooHot.Minutes(), cold)
			}
			o := owns(t, &p, world.Tuning())
			o.fire = nil
			r := o.lives(hidden, evening)
			add(0, r, o.put)
			add(1, fire.Run(hidden, world.Moves(plan.Fires(p.Steps)), fire.Options{Until: evening}), p.Mass())
			moves, kilos := careful(p)
			add(2, fire.Run(hidden, world.Moves(moves), fire.Options{Until: evening}), kilos)
			// the same owner, after some such evenings: planned and coached by what they taught
			w := w
			known := taught(p, world, 6)
			w.Known = known.ForPlans()
			learned := asShown(t, w)
			o = owns(t, &learned, world.Tuning())
			o.fire, o.prior = nil, known.Belief()
			r = o.lives(hidden, evening)
			add(3, r, o.put)
		}
	}
	if os.Getenv("SMOLDER_STORY") == "" { // of all of them
		coached, habit := total[0], total[2]
		assert.Less(t, coached.smoke, 0.95*habit.smoke, "whoever follows makes less smoke")
		assert.Less(t, coached.wood, 0.8*habit.wood, "and burns less wood")
		assert.Less(t, coached.cold, habit.cold+12, "and is hardly colder: a kelvin-hour an evening")
		assert.LessOrEqual(t, coached.hot, habit.hot)
	}
	for k, name := range names {
		fmt.Printf("%s: %.0f g of smoke, %.1f g/kg, %.1f kg of wood, smoulders %.0f min, too hot %.0f min, %.0f K·h cold\n", name, total[k].smoke,
			total[k].smoke/total[k].burnt, total[k].wood, total[k].dirty, total[k].hot, total[k].cold)
	}
}

// taught is what some evenings by habit teach of a stove, the gauge read every eight
// minutes, on days of other weather.
func taught(p plan.Plan, world belief.World, evenings int) learn.Known {
	known := learn.New()
	moves, _ := careful(p)
	for k := range evenings {
		b := owns(nil, &p, fire.Tuning{}).burn
		b.Outdoor += units.Celsius(2*k - evenings)
		b.Ended = b.Started.Add(5 * time.Hour)
		r := fire.Run(world.In(b.Setup()), world.Moves(moves), fire.Options{Until: 5 * time.Hour})
		add := func(at time.Duration, e burn.Entry) {
			e.ID, e.At = fmt.Sprint(k, "-", len(b.Entries)), b.Started.Add(at)
			b.Entries = append(b.Entries, e)
		}
		for i, m := range moves {
			for _, a := range m.Do {
				if e, ok := burn.EntryOf(a); ok && r.Done[i] >= 0 {
					if c, there := b.Stove.Bypass(); e.Kind == burn.Control && e.Control == "" && there {
						e.Control = c.Key
					}
					if e.Kind != burn.Control || e.Control != "" {
						add(r.Done[i], e)
					}
				}
			}
		}
		for at := 8; at < 295; at += 8 {
			for _, g := range b.Stove.Gauges {
				v, _ := r.Samples[at].Reading(g.Place)
				add(time.Duration(at)*time.Minute, burn.Entry{Kind: burn.Temperature, Place: g.Place, Reading: v})
			}
		}
		known, _ = known.Burnt(b)
	}
	return known
}

// careful is what somebody of some years does without a plan: lit from above, three or
// four pieces on the coals, open until they are black and the gauge is warm, then half,
// then a third; and so again when the flames are gone.
func careful(p plan.Plan) ([]fire.Move, units.Kilogram) {
	w := p.Wish
	air, _ := w.Stove.MainAir()
	set := func(o float64) fire.Act {
		return fire.Act{Kind: fire.ActControl, Control: air.Key, Role: air.Role, Opening: o}
	}
	g, _ := w.Stove.Guide()
	first, kindling := w.LoadOf(0, 2, stove.Sideways, fire.TopDown), w.KindlingLoad(fire.TopDown)
	pieces := max(2, min(4, int(float64(w.Stove.MaxLoad)*0.6/float64(w.Wood.Stack.PieceMass))))
	load := func() fire.Act {
		l := w.LoadOf(0, pieces, stove.Sideways, fire.OnCoals)
		return fire.Act{Kind: fire.ActLoad, Load: &l}
	}
	moves := []fire.Move{{Do: []fire.Act{set(1), {Kind: fire.ActDoor, Door: fire.Ajar}, {Kind: fire.ActLoad, Load: &first},
		{Kind: fire.ActLoad, Load: &kindling}, {Kind: fire.ActLight}}},
		{When: fire.Trigger{After: 8 * time.Minute}, Do: []fire.Act{{Kind: fire.ActDoor, Door: fire.Shut}}}}
	kilos := first.Mass() + kindling.Mass()
	for range 2 {
		moves = append(moves, fire.Move{When: fire.Trigger{After: 15 * time.Minute, WoodLeft: 0.5}, Do: []fire.Act{set(1), load()}},
			fire.Move{When: fire.Trigger{After: 5 * time.Minute, Charred: true, Gauge: g.Place, Above: g.Band.Low, Latest: 25 * time.Minute},
				Do: []fire.Act{set(0.5), {Kind: fire.ActControl, Role: stove.BypassRole, Opening: 0}}},
			fire.Move{When: fire.Trigger{After: 8 * time.Minute}, Do: []fire.Act{set(1. / 3)}})
		kilos += w.LoadOf(0, pieces, stove.Sideways, fire.OnCoals).Mass()
	}
	return moves, kilos
}

// coldOf is how far the room was under what is wanted, K·h, over an evening.
func coldOf(r fire.Result, low units.Celsius) float64 {
	sum := 0.0
	for _, s := range r.Samples {
		sum += max(0, float64(low-s.Room)) / 60
	}
	return sum
}

// lives lives an evening in a hidden stove, doing what the coach says, and returns what it
// came to.
func (o *owner) lives(hidden fire.Setup, evening time.Duration) fire.Result {
	h := &follows{owner: o}
	return fire.Run(hidden, nil, fire.Options{Until: evening, Hand: h})
}

// follows is a hand that asks the coach.
type follows struct {
	*owner
	asked time.Duration
}

func (h *follows) Doing(_ *fire.Fire, a fire.Act) fire.Act { return a }
func (h *follows) Fork() fire.Hand                         { return h }

func (h *follows) Look(f *fire.Fire) []fire.Act {
	at := f.Elapsed()
	minute := int(at.Minutes())
	if at > 0 && at-h.asked < 4*time.Minute {
		return nil
	}
	h.asked = at
	guide, guided := h.burn.Stove.Guide()
	if guided && at > 0 {
		v, _ := f.Reading(guide.Place)
		h.log(minute, reading(guide.Place, v))
	}
	if c, ok := h.burn.Stove.Gauge(stove.CatalystProbe); ok && at > 0 {
		v, _ := f.Reading(c.Place)
		h.log(minute, reading(c.Place, v))
	}
	look := f.Look()
	if look.Black && !h.black && look.Wood > 0.2 {
		h.black = true
		h.log(minute, entryOf("black"))
	}
	now := start.Add(at)
	h.last = coach.Ask(coach.Asked{Burn: h.burn, Plan: h.plan, Now: now, Belief: h.kept.At(h.prior, h.burn, now)})
	if h.last.Progress.Ask == follow.AskCoals { // who is asked looks
		answer := burn.NotYet
		if look.Flame < 2e-4 && look.Wood < 0.3 { // at most a last small flame
			answer = burn.ToCoals
		}
		h.log(minute, entryOf(answer))
		return nil
	}
	a := h.last.Advice
	if os.Getenv("SMOLDER_STORY") != "" {
		step := ""
		if a.Step != nil {
			step = string(a.Step.Kind)
		}
		fmt.Printf("   %3d min: flames %.1e, wood %.2f, coals %.2f, says %s %s ready %v sets %v acts %d, believes flames %.2f wood %.2f coals %.2f (%.2f), step %d lacks %s ask %s, not caught %.2f, cat %.0f guide %.0f\n", minute, look.Flame, look.Wood, look.Coals,
			a.Code, step, a.Ready, a.Sets, len(a.Acts), h.last.Standing.Flames, h.last.Standing.Wood.Middle, h.last.Standing.Coals.Middle, belief.LeastCoals(h.burn.Stove), h.last.Progress.Done, h.last.Progress.Lacks.Kind, h.last.Progress.Ask, h.last.Standing.NotCaught, catOf(f), guideOf(h, f))
	}
	if !a.Ready || !a.Asks() {
		return nil
	}
	var acts []fire.Act
	for _, set := range a.Sets {
		acts = append(acts, fire.Act{Kind: fire.ActControl, Control: set.Control.Key, Role: set.Control.Role, Opening: set.Opening})
	}
	acts = append(acts, a.Acts...)
	for _, act := range acts {
		h.writes(minute, act)
		if act.Load != nil {
			h.put += act.Load.Mass()
			h.black = false
		}
	}
	return acts
}

func catOf(f *fire.Fire) float64 { t, _ := f.Reading(stove.CatalystProbe); return t }

func guideOf(h *follows, f *fire.Fire) float64 {
	g, _ := h.burn.Stove.Guide()
	t, _ := f.Reading(g.Place)
	return t
}

// asShown is the plan that an owner is shown first.
func asShown(t *testing.T, w wish.Wish) plan.Plan {
	p, err := search.Best(t.Context(), w, search.Usual, nil)
	require.NoError(t, err)
	return p
}
