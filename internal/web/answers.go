package web

import (
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/follow"
	"smolder/internal/core/stove"
	"smolder/internal/say"
	"smolder/internal/store"
)

// A firstAnswer stands before every step of a plan: an alarm with the taps that
// log what it asks for.
type firstAnswer struct {
	Kind string
	say.Alarm
	Taps []stepTap
}

// answerFirst is what must be answered before anything else.
func answerFirst(q *request, b store.Burn, f burn.First) *firstAnswer {
	e, ok := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Door })
	open := ok && e.Door != fire.Shut
	a := &firstAnswer{Kind: string(f.Kind), Alarm: say.First(f, open, q.units())}
	shut := stepTap{Kind: string(burn.Door), Value: "shut", Word: say.Door(fire.Shut)}
	switch f.Kind {
	case burn.OverLimit:
		if open {
			a.Taps = append(a.Taps, shut)
		}
		a.Taps = append(a.Taps, airTaps(b, 0)...)
	case burn.DoorForgotten:
		a.Taps = []stepTap{shut}
	case burn.SmokeInCold:
		a.Taps = airTaps(b, 1)
	}
	return a
}

// notCaught answers a load that has not caught.
func notCaught(b store.Burn) *firstAnswer {
	return &firstAnswer{Kind: "not-caught", Alarm: say.NotCaught(), Taps: airTaps(b, 1)}
}

// airTaps set everything that feeds the fire, but what comes from below where
// there is air from above.
func airTaps(b store.Burn, opening float64) []stepTap {
	var out []stepTap
	for _, c := range b.Stove.Controls {
		switch c.Role {
		case stove.Combined, stove.PrimaryAir, stove.TopAir, stove.DoorVent:
		case stove.SecondAir, stove.GlassWash, stove.Fan:
			if opening > 0 && c.Role == stove.Fan {
				continue
			}
		case stove.UnderGrate, stove.AshFlap:
			if air, _ := b.Stove.MainAir(); opening > 0 && air.Key != c.Key {
				continue
			}
		default:
			continue
		}
		says := say.Mark(c.Scale, opening)
		out = append(out, stepTap{string(burn.Control), c.Key, says, c.Name + " " + says})
	}
	return out
}

// A stepTap is one thing that the next step sets: one tap logs it.
type stepTap struct{ Kind, Control, Value, Word string }

// followed is where a burn stands against its plan, in words.
type followed struct {
	Next           say.Instruction
	Has, Ready     bool
	Expect, Missed string
	NotCaught      bool
}

// followPlan holds a burn against its plan.
func followPlan(q *request, b store.Burn, replay fire.Result, now time.Time) *followed {
	p := follow.Plan(*b.Plan, b.Burn, replay, now)
	f := &followed{Has: p.Has, Ready: p.Ready, NotCaught: p.NotCaught, Expect: say.Expect(p), Missed: say.Lack(p.Lacks, q.units())}
	if p.Has {
		f.Next = say.Step(*b.Plan, p.Next, q.units())
	}
	return f
}
