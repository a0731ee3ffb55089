package plan

import (
	"fmt"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/units"
)

// Progress is where a burn stands against its plan.
type Progress struct {
	Done   int         // steps done
	Next   Instruction // what comes next, if any
	Has    bool
	Ready  bool   // its sign is there now
	Expect string // "in about 3 minutes"; empty when not known
	Missed string // what the reading still lacks
}

// Follow compares the log with the plan and says what comes next. The sign of
// a step is taken from the owner's readings where there are any, else from the
// replay of the log.
func (p Plan) Follow(b burn.Burn, replay fire.Result, now time.Time, sys units.System) Progress {
	steps := p.Say(sys)
	var pr Progress
	since := b.Started
	for _, e := range b.Valid() {
		if e.At.After(now) {
			break
		}
		// A later turn-down made at once counts for those before it.
		i := p.furthest(steps, pr.Done, e)
		if i < 0 && pr.Done < len(steps) && p.does(steps[pr.Done].Step, e) {
			i = pr.Done
		}
		if i >= 0 {
			pr.Done, since = i+1, e.At
		}
	}
	if pr.Done >= len(steps) {
		return pr
	}
	pr.Next, pr.Has = steps[pr.Done], true
	p.ready(&pr, b, replay, since, now, sys)
	return pr
}

// does tells whether an entry is what a step asks for.
func (p Plan) does(s Step, e burn.Entry) bool {
	switch s.Kind {
	case LightIt:
		return e.Kind == burn.Light
	case ShutDoor:
		return e.Kind == burn.Door && e.Door == fire.Shut
	case LoadIt:
		return e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling
	case CloseIt:
		return e.Kind == burn.Control && e.Control == s.Control && e.Opening < 0.5
	case TurnDown:
		return e.Kind == burn.Control && e.Control == s.Control && e.Opening <= s.Opening+0.06
	case ReloadTime:
		return e.Kind == burn.Load
	}
	return false
}

// furthest returns the last turn-down after done that the entry fulfils when
// only turn-downs and the bypass lie between, or −1.
func (p Plan) furthest(steps []Instruction, done int, e burn.Entry) int {
	if e.Kind != burn.Control {
		return -1
	}
	found := -1
	for i := done; i < len(steps); i++ {
		if steps[i].Kind != TurnDown && steps[i].Kind != CloseIt && steps[i].Kind != ShutDoor {
			break
		}
		if steps[i].Kind == TurnDown && p.does(steps[i].Step, e) {
			found = i
		}
	}
	return found
}

// ready fills in whether the sign of the next step is there, and when it is
// likely.
func (p Plan) ready(pr *Progress, b burn.Burn, replay fire.Result, since, now time.Time, sys units.System) {
	t := pr.Next.Fire.When
	if pr.Next.Kind == LightIt || (pr.Next.Kind == LoadIt && p.Wish.Start != Cold) {
		pr.Ready = true
		return
	}
	waited := now.Sub(since)
	gaugeOK, charred := true, true
	var state fire.Sample
	if n := len(replay.Samples); n > 0 {
		state = replay.Samples[n-1]
	}
	if t.Gauge != "" {
		reading, known := state.Reading(t.Gauge)
		readings := b.Readings(t.Gauge)
		if n := len(readings); n > 0 && now.Sub(readings[n-1].At) < 20*time.Minute {
			reading, known = readings[n-1].Reading, true
		}
		gaugeOK = known && reading >= t.Above-3
		if t.Latest > 0 && waited >= t.Latest {
			gaugeOK = true
		}
		if !gaugeOK {
			pr.Missed = fmt.Sprintf("the %s is at %s", t.Gauge.Short(), sys.Temperature(reading))
		}
	}
	if t.Charred {
		charred = state.Phase != fire.Charring && state.Phase != fire.Lighting && state.Phase != fire.Establishing
	}
	coals := t.WoodLeft == 0 || state.Wood <= t.WoodLeft || t.Latest > 0 && waited >= t.Latest
	if pr.Next.Kind == ReloadTime {
		coals = state.Phase == fire.Coaling
	}
	pr.Ready = gaugeOK && charred && coals && waited >= t.After
	if pr.Ready || pr.Next.Expected < 0 {
		return
	}
	// The plan's interval between this step and the one before, from when that
	// one was really done.
	before := time.Duration(0)
	if pr.Done > 0 {
		before = p.Steps[pr.Done-1].Expected
	}
	left := pr.Next.Expected - before - waited
	if left >= time.Minute {
		pr.Expect = "in about " + units.Duration(left.Round(time.Minute))
	}
}
