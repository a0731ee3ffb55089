package practice

import (
	"slices"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/review"
	"smolder/internal/core/units"
)

// Through is a burn that was logged, gone through from one thing that was done to the next.
type Through struct {
	Burn    burn.Burn
	Moments []Moment
	until   time.Duration
	shots   []Shot // by the minute
}

// A Moment is something that was done in a burn: entries of one minute are one.
type Moment struct {
	At      time.Duration
	Entries []burn.Entry
}

// A Shot is what was to be seen at a minute of a burn, as it is computed.
type Shot struct {
	At    time.Duration
	Scene fire.Scene
	Shown []units.Celsius // of the stove's gauges of the fire, in its order
	Room  units.Celsius
	Door  fire.Door
}

// mostThrough is how long a burn is that is gone through: what comes after is the cooling.
const mostThrough = 16 * time.Hour

// effectAfter is how long after something was done it is looked at what it did.
const effectAfter = 15 * time.Minute

// GoThrough makes a burn ready to be gone through, as it went in the stove that it is known as.
func GoThrough(b burn.Burn) *Through {
	t := &Through{Burn: b}
	end := b.Started
	for e := range b.NotReadings() {
		if !review.Moves(*e) && e.Kind != burn.Light {
			continue
		}
		at := e.At.Sub(b.Started)
		if at > mostThrough {
			break
		}
		end = e.At
		if n := len(t.Moments); n > 0 && at-t.Moments[n-1].At < time.Minute {
			t.Moments[n-1].Entries = append(t.Moments[n-1].Entries, *e)
			continue
		}
		t.Moments = append(t.Moments, Moment{At: at, Entries: []burn.Entry{*e}})
	}
	t.until = min(mostThrough, end.Sub(b.Started)+time.Hour)
	if !b.Ended.IsZero() {
		t.until = min(t.until, max(time.Minute, b.Ended.Sub(b.Started)))
	}
	saw := &shots{of: b}
	fire.Run(b.Setup(), b.Steps(), fire.Options{Until: t.until, Watch: saw})
	t.shots = saw.all
	return t
}

// shots takes one every minute.
type shots struct {
	of  burn.Burn
	all []Shot
}

// See takes it.
func (s *shots) See(f *fire.Fire) {
	shot := Shot{At: f.Elapsed(), Scene: f.Scene(), Room: f.Room(), Door: f.Sample().Door}
	for _, g := range s.of.Stove.Gauges {
		if g.Place.OfFire() {
			v, ok := f.Reading(g.Place)
			if !ok {
				v = float64(f.Room())
			}
			shot.Shown = append(shot.Shown, units.Celsius(v))
		}
	}
	s.all = append(s.all, shot)
}

// Fork is the same, to go on by itself.
func (s *shots) Fork() fire.Watcher { return &shots{s.of, slices.Clone(s.all)} }

// Between are the shots from one moment to the next; before the first from the beginning, after
// the last to the end.
func (t *Through) Between(k int) []Shot {
	from, to := time.Duration(0), t.until
	if k > 0 && k <= len(t.Moments) {
		from = t.Moments[k-1].At
	}
	if k < len(t.Moments) {
		to = t.Moments[k].At
	}
	var out []Shot
	for i, s := range t.shots {
		next := t.until
		if i+1 < len(t.shots) {
			next = t.shots[i+1].At
		}
		if next > from && s.At < to || s.At == from || len(out) == 0 && i == len(t.shots)-1 {
			out = append(out, s)
		}
	}
	return out
}

// An Effect is what something that was done came to a quarter of an hour later, with it and without.
type Effect struct {
	After           time.Duration
	With, Without   Came
	Lights, Nothing bool // it is what lights the fire; neither differs from the other
}

// Came is how a burn stood then.
type Came struct {
	Shown  []units.Celsius
	Smoke  float64 // g since it was done
	Flames bool
	Wood   float64 // kg
	Spills bool
}

// Did is what a moment's entries did.
func (t *Through) Did(k int) Effect {
	m := t.Moments[k]
	until := m.At + effectAfter
	come := func(b burn.Burn) Came {
		saw := &shots{of: b}
		before := fire.Run(b.Setup(), b.Steps(), fire.Options{Until: m.At}).Summary.Smoke
		r := fire.Run(b.Setup(), b.Steps(), fire.Options{Until: until, Watch: saw})
		last := saw.all[len(saw.all)-1]
		return Came{last.Shown, max(0, r.Summary.Smoke-before), last.Scene.Flame > flameSeen, last.Scene.Wood, last.Scene.Spilling}
	}
	without := t.Burn
	gone := map[string]bool{}
	for _, e := range m.Entries {
		gone[e.ID] = true
	}
	without.Entries = slices.DeleteFunc(slices.Clone(t.Burn.Entries), func(e burn.Entry) bool { return gone[e.ID] })
	out := Effect{After: effectAfter, With: come(t.Burn), Without: come(without)}
	for _, e := range m.Entries {
		out.Lights = out.Lights || e.Kind == burn.Light
	}
	return out
}

// A Choice is what somebody would do at a moment.
type Choice string

// The choices.
const (
	DoNothing Choice = "nothing"
	LessAir   Choice = "less-air"
	MoreAir   Choice = "more-air"
	DoorMoved Choice = "door"
	WoodOn    Choice = "wood"
	Other     Choice = "other"
)

// Choices are all of them.
var Choices = []Choice{DoNothing, LessAir, MoreAir, DoorMoved, WoodOn, Other}

// Was tells what a moment's entries were, by their choices.
func (t *Through) Was(k int) (out []Choice) {
	add := func(c Choice) {
		if !slices.Contains(out, c) {
			out = append(out, c)
		}
	}
	for _, e := range t.Moments[k].Entries {
		switch e.Kind {
		case burn.Load:
			add(WoodOn)
		case burn.Door:
			add(DoorMoved)
		case burn.Control:
			if t.before(e) > e.Opening {
				add(LessAir)
			} else {
				add(MoreAir)
			}
		default:
			add(Other)
		}
	}
	return out
}

// before is how a control stood before an entry moved it.
func (t *Through) before(e burn.Entry) float64 {
	at := 1.0
	for o := range t.Burn.NotReadings() {
		if o.Kind == burn.Control && o.Control == e.Control && o.At.Before(e.At) {
			at = o.Opening
		}
	}
	return at
}
