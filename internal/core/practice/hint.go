package practice

import (
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/follow"
	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
)

// A Hint is what whoever looks over a shoulder says at a moment.
type Hint struct {
	Act   *policy.Act // something that the fire wants now, beside the steps
	Step  *plan.Step  // else the next step of one way to do it
	Ready bool        // its sign is there
	Late  time.Duration
}

// Says tells whether there is a hint.
func (h Hint) Says() bool { return h.Act != nil || h.Step != nil }

// advice is what was thought of last.
type advice struct {
	at    time.Duration // since the fire's start; asked again when a minute is over, or something was done
	done  int
	asked bool
	full  Hint
	due   time.Duration // since when the step's sign is there
	step  int
	seen  policy.Reason
	since time.Duration
}

// How a hint is thought of.
const (
	thinksEvery = time.Minute
	missedAfter = 4 * time.Minute
	sureAfter   = time.Minute // that something must be seen, before it is said
)

// Plan is one way to do the lesson, for the words of its steps.
func (p *Practice) Plan() plan.Plan { return p.plan }

// Advice is all that could be said now, whatever the lesson says of it.
func (p *Practice) Advice() Hint {
	now := p.fire.Elapsed()
	a := &p.advice
	if a.asked && a.done == len(p.Done) && now-a.at < thinksEvery {
		return a.full
	}
	a.asked, a.done, a.at = true, len(p.Done), now
	a.full = Hint{}
	if p.Asleep() {
		return a.full
	}
	act, ok := p.adviser.Look(p.fire)
	switch {
	case !ok:
		a.seen = ""
	case act.Reason != a.seen:
		a.seen, a.since = act.Reason, now
	}
	if ok && (now-a.since >= sureAfter || act.Reason == policy.OverLimit) {
		a.full.Act = &act
		return a.full
	}
	began := time.Unix(0, 0).UTC()
	progress := follow.Plan(p.plan, p.Burn(began), p.seen(), began.Add(now))
	if step, there := p.bypassForgotten(progress.Done); there {
		a.full.Step, a.full.Ready, a.full.Late = &step, true, 0
		return a.full
	}
	if !progress.Has {
		return a.full
	}
	if a.step != progress.Done || !progress.Ready {
		a.step, a.due = progress.Done, now
	}
	step := progress.Next
	a.full.Step, a.full.Ready, a.full.Late = &step, progress.Ready, now-a.due
	return a.full
}

// bypassForgotten is the step that shuts the bypass, where the air was taken back for another
// reason before it was due: that counts as done all that lies before, and the catalyst works
// by now.
func (p *Practice) bypassForgotten(done int) (plan.Step, bool) {
	bypass, ok := p.Spec.Stove.Bypass()
	probe, read := p.Spec.Stove.Gauge(stove.CatalystProbe)
	if !ok || !read || p.opening[bypass.Key] < 0.5 {
		return plan.Step{}, false
	}
	at, _ := p.fire.Reading(probe.Place)
	for i, s := range p.plan.Steps {
		if s.Kind == plan.CloseIt && i < done && at >= float64(plan.Engaged(p.Spec.Stove, probe)) && p.fire.Look().Black {
			return s, true
		}
	}
	return plan.Step{}, false
}

// Hint is what is said now by how much the practice says.
func (p *Practice) Hint() Hint {
	full := p.Advice()
	urgent := full.Act != nil && full.Act.Reason == policy.OverLimit
	switch {
	case urgent, p.Spec.Hints >= EachStep:
		return full
	case p.Spec.Hints == OnlyDanger:
		return Hint{}
	case full.Act != nil:
		return full
	case full.Step == nil || !full.Ready, p.Spec.Hints == WhenMissed && full.Late < missedAfter:
		return Hint{}
	}
	return full
}

// Does are a hint's acts as a hand at this practice does them.
func (p *Practice) Does(h Hint) []Act {
	switch {
	case h.Act != nil:
		var out []Act
		if main, ok := p.Spec.Stove.MainAir(); ok && h.Act.Moves {
			out = append(out, Act{Kind: Control, Control: main.Key, Opening: h.Act.Air})
		}
		if h.Act.Sets {
			out = append(out, Act{Kind: Door, Door: h.Act.Door})
		}
		return out
	case h.Step != nil:
		var out []Act
		for _, a := range h.Step.Fire.Do {
			out = append(out, p.byHand(a)...)
		}
		return out
	}
	return nil
}

// byHand is an act of a plan as somebody does it.
func (p *Practice) byHand(a fire.Act) []Act {
	switch a.Kind {
	case fire.ActControl:
		var out []Act
		for _, c := range p.Spec.Stove.Controls {
			if c.Key == a.Control || a.Control == "" && c.Role == a.Role {
				out = append(out, Act{Kind: Control, Control: c.Key, Opening: a.Opening})
			}
		}
		return out
	case fire.ActDoor:
		return []Act{{Kind: Door, Door: a.Door}}
	case fire.ActRake:
		return []Act{{Kind: Rake}}
	case fire.ActPrime:
		return []Act{{Kind: Prime}}
	case fire.ActFan:
		return []Act{{Kind: HouseFan, On: a.Flow > 0}}
	case fire.ActWindow:
		return []Act{{Kind: Window, On: a.Open}}
	case fire.ActLight:
		if p.Wish.Start == wish.Cold {
			return []Act{{Kind: Light}}
		}
		return nil // the coals do
	}
	if a.Load == nil {
		return nil
	}
	if a.Load.Kindling {
		return []Act{{Kind: Kindle, Lay: a.Load.Lay}}
	}
	for i, of := range p.Wish.Woods() {
		if of.ID == a.Load.StackID {
			n := a.Load.Pieces
			if a.Load.PieceMass < of.Stack.PieceMass*0.99 {
				n = max(1, n/p.Wish.FirstParts(i))
			}
			kind := Load
			if a.Load.Lay != fire.OnCoals {
				kind = Lay
			}
			return []Act{{Kind: kind, Of: i, Pieces: n, Direction: a.Load.Direction, Lay: a.Load.Lay}}
		}
	}
	return nil
}

// Dangers are what the practice's own log says that must be answered first.
func (p *Practice) Dangers() []burn.First {
	began := time.Unix(0, 0).UTC()
	return p.Burn(began).Dangers(began.Add(p.fire.Elapsed()))
}

// Follow does what a hint says.
func (p *Practice) Follow(h Hint) error {
	for _, a := range p.Does(h) {
		if err := p.Do(a); err != nil {
			return err
		}
	}
	return nil
}
