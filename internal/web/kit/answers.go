package kit

import (
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/follow"
	"smolder/internal/core/stove"
	"smolder/internal/say"
	"smolder/internal/store"
)

// A FirstAnswer stands before every step of a plan: an alarm with the taps that
// log what it asks for.
type FirstAnswer struct {
	Kind string
	say.Alarm
	Taps []StepTap
}

// AnswerFirst is what must be answered before anything else.
func AnswerFirst(q *Request, b store.Burn, f burn.First) *FirstAnswer {
	e, ok := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Door })
	open := ok && e.Door != fire.Shut
	a := &FirstAnswer{Kind: string(f.Kind), Alarm: say.First(f, open, q.Units())}
	shut := StepTap{Kind: string(burn.Door), Value: "shut", Word: say.Door(fire.Shut)}
	switch f.Kind {
	case burn.OverLimit:
		if open {
			a.Taps = append(a.Taps, shut)
		}
		a.Taps = append(a.Taps, airTaps(b, 0)...)
	case burn.DoorForgotten:
		a.Taps = []StepTap{shut}
	case burn.SmokeInCold:
		a.Taps = airTaps(b, 1)
	}
	return a
}

// NotCaught answers a load that has not caught.
func NotCaught(b store.Burn) *FirstAnswer {
	return &FirstAnswer{Kind: "not-caught", Alarm: say.NotCaught(), Taps: airTaps(b, 1)}
}

// airTaps set everything that feeds the fire, but what comes from below where
// there is air from above.
func airTaps(b store.Burn, opening float64) []StepTap {
	var out []StepTap
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
		out = append(out, StepTap{string(burn.Control), c.Key, says, c.Name + " " + says})
	}
	return out
}

// A StepTap is one thing that the next step sets: one tap logs it.
type StepTap struct{ Kind, Control, Value, Word string }

// Followed is where a burn stands against its plan, in words.
type Followed struct {
	Next           say.Instruction
	Has, Ready     bool
	Expect, Missed string
	NotCaught      bool
}

// FollowPlan holds a burn against its plan.
func FollowPlan(q *Request, b store.Burn, replay fire.Result, now time.Time) *Followed {
	p := follow.Plan(*b.Plan, b.Burn, follow.OfReplay(replay), now)
	f := &Followed{Has: p.Has, Ready: p.Ready, NotCaught: p.NotCaught, Expect: say.Expect(p), Missed: say.Lack(p.Lacks, q.Units())}
	if p.Has {
		f.Next = say.Step(*b.Plan, p.Next, q.Units())
	}
	return f
}
