package plan

import (
	"fmt"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
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

	NotCaught bool // its time is over and the flue is cold: the load has not caught
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
		return e.Kind == burn.Light || p.Wish.Start.few() && e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling
	case ShutDoor:
		return e.Kind == burn.Door && e.Door == fire.Shut
	case LoadIt, FeedIt:
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
	if pr.Next.Kind == LightIt || (pr.Next.Kind == LoadIt && !p.Wish.Start.firstFire()) {
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
		reading, known, read := readingOf(b, state, t.Gauge, now)
		gaugeOK = known && reading >= t.Above-3
		if gaugeOK && t.Held > 0 && !held(b, replay, t, now) {
			gaugeOK = false
			pr.Missed = fmt.Sprintf("the %s is at %s, and not yet for %s", t.Gauge.Short(), sys.Temperature(reading), units.Duration(t.Held))
		} else if !gaugeOK {
			pr.Missed = fmt.Sprintf("the %s is at %s", t.Gauge.Short(), sys.Temperature(reading))
		}
		// The latest time stands in for a gauge that is a little off, and not for a
		// fire that never came: black all over does not go with a cold flue.
		late := t.Latest > 0 && waited >= t.Latest
		cold := read && p.coldFor(t, reading)
		if late && !cold {
			gaugeOK, pr.Missed = true, ""
		}
		pr.NotCaught = late && cold
	}
	if t.Charred {
		charred = state.Phase != fire.Charring && state.Phase != fire.Lighting && state.Phase != fire.Establishing
	}
	coals := t.WoodLeft == 0 || state.Wood <= t.WoodLeft || t.Latest > 0 && waited >= t.Latest
	if pr.Next.Kind == ReloadTime {
		coals = state.Phase == fire.Coaling
	}
	// Whoever comes too late for a later load finds no coals that would light it:
	// it is not called due.
	if pr.Next.Kind == FeedIt && state.Phase == fire.Out {
		coals, pr.Missed = false, "the coals are gone: plan a new fire"
	}
	pr.Ready = gaugeOK && charred && coals && waited >= t.After
	if pr.Ready || pr.Next.Expected < 0 {
		return
	}
	if pr.NotCaught {
		return // there is no telling when
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

// readingOf is what a gauge shows: what was read lately, else what the replay
// has; read tells which.
func readingOf(b burn.Burn, state fire.Sample, place stove.Place, now time.Time) (t units.Celsius, known, read bool) {
	t, known = state.Reading(place)
	readings := b.Readings(place)
	if n := len(readings); n > 0 && now.Sub(readings[n-1].At) < 20*time.Minute {
		return readings[n-1].Reading, true, true
	}
	return t, known, false
}

// coldFor tells whether a gauge is so far under a sign that what the sign stands
// for cannot be.
func (p Plan) coldFor(t fire.Trigger, reading units.Celsius) bool {
	room := p.Wish.Room
	return reading-room < 0.6*(t.Above-room)
}

// held tells whether a gauge has been where it must be for as long as it must:
// by what was read, where it was read at the beginning of that time, else by the
// replay.
func held(b burn.Burn, replay fire.Result, t fire.Trigger, now time.Time) bool {
	from := now.Add(-t.Held)
	readings := b.Readings(t.Gauge)
	if n := len(readings); n > 0 && now.Sub(readings[n-1].At) < 20*time.Minute {
		since := time.Time{}
		for _, r := range readings {
			switch {
			case r.Reading < t.Above-3:
				since = time.Time{}
			case since.IsZero():
				since = r.At
			}
		}
		return !since.IsZero() && !since.After(from)
	}
	for i := len(replay.Samples) - 1; i >= 0; i-- {
		s := replay.Samples[i]
		if v, ok := s.Reading(t.Gauge); !ok || v < t.Above-3 {
			return false
		}
		if b.Started.Add(s.At).Before(from) {
			return true
		}
	}
	return false
}
