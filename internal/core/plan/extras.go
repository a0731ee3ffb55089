package plan

import (
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// What is moved besides the air: the room blower, a damper in the flue, a window that was
// opened for the draft, and what is left open or shut at bedtime. None of it is searched
// for: the fire is found first, and then each is tried with it and kept if it brings
// something and harms nothing.

// An Extra is one of them, and what it brings against the same fire without it.
type Extra struct {
	Kind  StepKind
	Heat  units.Joule // more into the room until half an hour after the wish
	Room  float64     // K warmer at the end of the wish
	Coals units.Kilogram
	Smoke float64 // g more, in all
	Burns bool    // at bedtime: wood still flames then
	Glows bool    // at bedtime: there are coals then
}

const (
	blowAfter  = 5 * time.Minute  // the last turn-down, that the room blower waits for a warm stove
	blowLatest = 30 * time.Minute // after which it is worth its noise all the same
	blowAdds   = 0.01             // share of the heat that it must add
	drawsAfter = 10 * time.Minute // the last turn-down, that a window waits for a warm flue
	damped     = 0.01             // share of the heat that a damper must save
	moreSmoke  = 1.05             // as a factor: no more for any of it
	bedBefore  = 10 * time.Minute // somebody is away, that they look once more
	bedFor     = 4 * time.Hour    // that nobody is there afterwards
)

// dampers are the openings of a flue damper that are tried; under a quarter coals starve.
var dampers = []float64{0.5, 0.35, 0.25}

// besides adds what is moved besides the fire, and returns what the steps come to then.
func (p *Plan) besides(burnt fire.Result) fire.Result {
	for _, try := range []func(fire.Result) fire.Result{p.shutWindow, p.dampFlue, p.blow, p.goToBed} {
		burnt = try(burnt)
	}
	return burnt
}

// moved tells whether the owner can move a control of a role, and may.
func (p *Plan) moved(r stove.Role) (stove.Control, bool) {
	main, _ := p.Wish.Stove.MainAir()
	for _, c := range p.Wish.Stove.Controls {
		if c.Role == r && c.Key != main.Key && c.ToLight != stove.StaysShut {
			return c, true
		}
	}
	return stove.Control{}, false
}

// lasts are the places of the last step of every load's beginning: after them it is left to
// burn.
func lasts(steps []Step) []int {
	var out []int
	for i, s := range steps {
		if s.Kind == TurnDown && s.Last {
			out = append(out, i)
		}
	}
	return out
}

// after returns the steps with one more after each last turn-down.
func after(steps []Step, more Step) []Step {
	steps = slices.Clone(steps)
	for _, i := range slices.Backward(lasts(steps)) {
		steps = slices.Insert(steps, i+1, more)
	}
	return steps
}

// attended tells whether somebody is there for every step of a kind that comes.
func (p *Plan) attended(steps []Step, kind StepKind, burnt fire.Result) bool {
	done := 0
	for i, s := range steps {
		if s.Kind == kind && burnt.Done[i] >= 0 {
			if !p.Wish.Presence().Somebody(burnt.Done[i]) {
				return false
			}
			done++
		}
	}
	return done > 0
}

// harms tells whether a burn is worse than another in what must not be worse.
func (p *Plan) harms(than, b fire.Result) bool {
	return TooHot(b.Summary) && !TooHot(than.Summary) || Spills(b.Summary) && !Spills(than.Summary) ||
		p.clean().Dirty(b.Summary) && !p.clean().Dirty(than.Summary) || b.Summary.Smoke > moreSmoke*than.Summary.Smoke
}

// brings is what a burn brings against another.
func (p *Plan) brings(kind StepKind, than, b fire.Result) Extra {
	end := func(r fire.Result) fire.Sample {
		last := r.Samples[0]
		for _, s := range r.Samples {
			if s.At <= p.Wish.For {
				last = s
			}
		}
		return last
	}
	x, y := end(than), end(b)
	return Extra{Kind: kind, Heat: b.Summary.ToRoom - than.Summary.ToRoom, Room: float64(y.Room - x.Room), Coals: y.Coals - x.Coals,
		Smoke: b.Summary.Smoke - than.Summary.Smoke}
}

// keep takes steps over with what they bring.
func (p *Plan) keep(steps []Step, than, b fire.Result, kind StepKind) fire.Result {
	p.Steps = steps
	p.Extras = append(p.Extras, p.brings(kind, than, b))
	return b
}

// warmSign is when the stove is warm enough for what waits for that: by the guide, else by
// the clock.
func (p *Plan) warmSign(wait, latest time.Duration) fire.Trigger {
	if g, ok := p.Wish.Stove.Guide(); ok {
		return fire.Trigger{After: wait, Gauge: g.Place, Above: g.Band.Low, Latest: latest}
	}
	return fire.Trigger{After: max(wait, latest/2)}
}

// shutWindow lets a window that was opened for the draft be shut once the flue draws by
// itself, until the next load, where the draft bears it.
func (p *Plan) shutWindow(burnt fire.Result) fire.Result {
	if !p.Wish.Help.Window || p.Wish.Confined() {
		return burnt // a boat and a van need their air all the time
	}
	steps := after(p.Steps, Step{Kind: ShutWindow, Fire: fire.Move{When: p.warmSign(drawsAfter, blowLatest), Do: []fire.Act{{Kind: fire.ActWindow}}}})
	for i := range steps {
		if steps[i].Kind == FeedIt {
			steps[i].Fire.Do = append([]fire.Act{{Kind: fire.ActWindow, Open: true}}, steps[i].Fire.Do...)
		}
	}
	shut := Run(p.Wish, steps)
	if p.harms(burnt, shut) || shut.Summary.Spilling > burnt.Summary.Spilling || !p.attended(steps, ShutWindow, shut) || float64(lowestDraft(shut, steps)) < float64(wish.WeakDraft) {
		return burnt
	}
	return p.keep(steps, burnt, shut, ShutWindow)
}

// lowestDraft is the weakest draft after the window is shut, as long as anything burns.
func lowestDraft(r fire.Result, steps []Step) units.Pascal {
	from, low := time.Duration(-1), units.Pascal(0)
	for i, s := range steps {
		if s.Kind == ShutWindow && r.Done[i] >= 0 {
			from = r.Done[i]
			break
		}
	}
	first := true
	for _, s := range r.Samples {
		if from >= 0 && s.At >= from && s.Wood > policy.SomeWood && (first || s.Draft < low) {
			low, first = s.Draft, false
		}
	}
	return low
}

// dampFlue shuts a damper in the flue partly with the last turn-down, where the chimney draws
// so much that the stove gives more and burns as clean; lighting and loading open it.
func (p *Plan) dampFlue(burnt fire.Result) fire.Result {
	c, ok := p.moved(stove.Damper)
	if !ok {
		return burnt
	}
	best, bestSteps := burnt, []Step(nil)
	for _, o := range dampers {
		o = c.Scale.Nearest(o)
		if o < dampers[len(dampers)-1]-sameOpening || o > 0.8 {
			continue
		}
		steps := slices.Clone(p.Steps)
		for _, i := range lasts(steps) {
			steps[i].Fire.Do = append(slices.Clone(steps[i].Fire.Do), setting(c, o))
		}
		r := Run(p.Wish, steps)
		if !p.harms(burnt, r) && float64(r.Summary.ToRoom) > (1+damped)*float64(best.Summary.ToRoom) {
			best, bestSteps = r, steps
		}
	}
	if bestSteps == nil {
		return burnt
	}
	return p.keep(bestSteps, burnt, best, DampFlue)
}

// blow turns the room blower on when the stove is warm; every load turns it off. Not where
// people sleep: it hums, and what burns low is cooled by it.
func (p *Plan) blow(burnt fire.Result) fire.Result {
	c, ok := p.moved(stove.Blower)
	if !ok || p.Wish.Aim == wish.Overnight {
		return burnt
	}
	steps := after(p.Steps, Step{Kind: BlowIt, Control: c.Key, Opening: 1,
		Fire: fire.Move{When: p.warmSign(blowAfter, blowLatest), Do: []fire.Act{setting(c, 1)}}})
	blown := Run(p.Wish, steps)
	b := p.brings(BlowIt, burnt, blown)
	warm := p.Wish.High > 0 && tooWarm(blown, p.Wish)
	if p.harms(burnt, blown) || warm || float64(b.Heat) < blowAdds*float64(burnt.Summary.ToRoom) || !p.attended(steps, BlowIt, blown) {
		return burnt
	}
	return p.keep(steps, burnt, blown, BlowIt)
}

// tooWarm tells whether the room is over what is wanted at any time of the wish.
func tooWarm(r fire.Result, w wish.Wish) bool {
	return slices.ContainsFunc(r.Samples, func(s fire.Sample) bool { return s.At <= w.For && s.Room > w.High+1 })
}

// goToBed is the look before everybody sleeps or goes, where the owner has a gate or a
// damper to leave open or shut: shut for what the stove keeps, open for what still glows.
func (p *Plan) goToBed(burnt fire.Result) fire.Result {
	at, ok := p.bedtime(burnt)
	gate, hasGate := p.moved(stove.OutsideAir)
	damper, hasDamper := p.moved(stove.Damper)
	if !ok || !hasGate && !hasDamper {
		return burnt
	}
	then := sampleAt(burnt, at)
	burns, glows := float64(then.Wood) > policy.SomeWood, then.Coals >= fire.CoalsGone
	var do []fire.Act
	switch {
	case !burns && !glows:
		for _, c := range []stove.Control{gate, damper} {
			if c.Key != "" {
				do = append(do, setting(c, 0))
			}
		}
	default:
		if hasGate {
			do = append(do, setting(gate, 1))
		}
		if hasDamper && !burns {
			do = append(do, setting(damper, max(damper.Scale.Nearest(dampers[len(dampers)-1]), dampers[len(dampers)-1])))
		}
	}
	if len(do) == 0 {
		return burnt
	}
	steps := append(slices.Clone(p.Steps), Step{Kind: BedTime, Fire: fire.Move{When: fire.Trigger{At: at}, Do: do}})
	slept := Run(p.Wish, steps)
	if n := len(slept.Done); slept.Done[n-1] < 0 || slept.Done[n-1] > at+bedBefore || p.harms(burnt, slept) {
		return burnt // a later load, or the coals, still want somebody then
	}
	burnt = p.keep(steps, burnt, slept, BedTime)
	last := &p.Extras[len(p.Extras)-1]
	last.Burns, last.Glows = burns, glows
	return burnt
}

// bedtime is when somebody looks for the last time before nobody is there for long.
func (p *Plan) bedtime(burnt fire.Result) (time.Duration, bool) {
	there := p.Wish.Presence()
	if all := lasts(p.Steps); there == nil && p.Wish.Aim == wish.Overnight && len(all) > 0 {
		at := burnt.Done[all[len(all)-1]]
		return at + wish.Watched, at >= 0
	}
	for at := time.Duration(0); at < p.Wish.For; {
		span, somebody := there.At(at)
		if !somebody {
			return 0, false
		}
		if span.To >= p.Wish.For {
			return 0, false
		}
		next, again := there.Next(span.To + time.Minute)
		if !again || next-span.To >= bedFor {
			return max(0, span.To-bedBefore), p.Wish.For-span.To >= bedFor
		}
		at = next
	}
	return 0, false
}

func sampleAt(r fire.Result, at time.Duration) fire.Sample {
	out := r.Samples[0]
	for _, s := range r.Samples {
		if s.At <= at {
			out = s
		}
	}
	return out
}
