package practice

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/wood"
)

// A Check is something that a lesson is judged by.
type Check string

// The checks.
const (
	Warm       Check = "warm"        // share of the way from the room to where the guiding gauge works, at the end
	DoorAjar   Check = "door-ajar"   // min, since it was lit
	Dark       Check = "dark"        // min in which wood lay without flames
	Smoke      Check = "smoke"       // of what such a stove may make, g/kg over g/kg
	TooHot     Check = "too-hot"     // min
	Spilled    Check = "spilled"     // min of smoke in the room
	OnCoals    Check = "on-coals"    // share of the wood before that was still wood at the first load; over 1: none went on
	BlackFirst Check = "black-first" // share of the load that was black when the air was first taken back
	Down       Check = "down"        // opening of the main air at the end
	Engaged    Check = "engaged"     // min in which the catalyst could have worked and the bypass stood open
	NotCold    Check = "not-cold"    // min in which it was engaged, and too cold to work
	CoalsLeft  Check = "coals-left"  // of what lights a load
	DryWood    Check = "dry-wood"    // share of the wood put on
	NotOver    Check = "not-over"    // K over what is wanted, at the most
	Warmed     Check = "warmed"      // K by which the room is under what is wanted at the end
	Band       Check = "band"        // K outside what is wanted, on average, the first hour left out
	Thrift     Check = "thrift"      // kg an hour for each kW of need
	Vented     Check = "vented"      // share of the burning with a window open a crack
	BurntDown  Check = "burnt-down"  // kg of wood that is left at the end
)

// bounds are what of a check is as good as can be, and what is worth nothing.
var bounds = map[Check][2]float64{
	Warm: {0.95, 0.4}, DoorAjar: {16, 30}, Dark: {2, 12}, Smoke: {0.8, 2.5}, TooHot: {0.5, 10}, Spilled: {0.5, 5}, OnCoals: {0.45, 0.95},
	BlackFirst: {0.85, 0.35}, Down: {0.55, 0.95}, Engaged: {10, 35}, NotCold: {1, 12}, CoalsLeft: {0.5, 0.05}, DryWood: {1, 0.3}, NotOver: {0.3, 3},
	Warmed: {0.3, 2}, Band: {0.5, 3}, Thrift: {0.5, 1.5}, Vented: {0.9, 0.2}, BurntDown: {0.1, 0.7},
}

// Checks are all of them.
func Checks() (out []Check) {
	for c := range bounds {
		out = append(out, c)
	}
	slices.Sort(out)
	return out
}

// A Judged is a check with how much it counts.
type Judged struct {
	Check  Check
	Weight float64
}

// A Mark is how a check went.
type Mark struct {
	Check Check   `json:"check"`
	Value float64 `json:"value"`
	Share float64 `json:"share"` // 0 nothing, 1 as good as can be
}

// When a lesson is no success, however the rest of it went.
const (
	dangerMost = 0.5  // of ten tenths, after minutes over a limit or of smoke in the room
	dangerFrom = 4.0  // min
	Passed     = 0.75 // from where the next hints are fewer
	leastMain  = 0.7  // opening of the main air under which it is taken back
	flameSeen  = policy.FlameSeen
)

// Score is a lesson's marks in one, 0 to 1.
func Score(l Lesson, marks []Mark) float64 {
	sum, weights, most := 0.0, 0.0, 1.0
	for i, j := range l.Judged {
		sum, weights = sum+j.Weight*marks[i].Share, weights+j.Weight
		if c := j.Check; (c == TooHot || c == Spilled) && marks[i].Value > dangerFrom {
			most = dangerMost
		}
	}
	return math.Min(most, sum/weights)
}

// Marks are how each check of the lesson went, in its order: over what happened since it began,
// burnt once more.
func (p *Practice) Marks() []Mark {
	m := p.measure()
	out := make([]Mark, 0, len(p.Lesson.Judged))
	for _, j := range p.Lesson.Judged {
		v := m.of(j.Check)
		b := bounds[j.Check]
		out = append(out, Mark{j.Check, v, math.Max(0, math.Min(1, (v-b[1])/(b[0]-b[1])))})
	}
	return out
}

// A measured is a practice with its samples, by the minute.
type measured struct {
	*Practice
	result fire.Result
	from   int // the first sample of the lesson
	looks  []moment
}

// A moment is what a sample has not.
type moment struct {
	fire.Look
	comb   float64
	window bool
}

// watch keeps both of every minute.
type watch struct{ moments []moment }

// See keeps a moment.
func (w *watch) See(f *fire.Fire) {
	scene := f.Scene()
	w.moments = append(w.moments, moment{Look: scene.Look, comb: float64(scene.Comb), window: scene.Window})
}

// Fork is the same, to go on by itself.
func (w *watch) Fork() fire.Watcher { return &watch{slices.Clone(w.moments)} }

// moves are what happened, as timed moves.
func (p *Practice) moves() []fire.Move {
	out := make([]fire.Move, 0, p.next)
	for _, h := range p.happened[:p.next] {
		out = append(out, fire.Move{When: fire.Trigger{At: h.at}, Do: h.acts})
	}
	return out
}

func (p *Practice) measure() measured {
	end := p.fire.Elapsed()
	m := measured{Practice: p, from: int(p.Begins / time.Minute), result: fire.Run(p.setup, p.moves(), fire.Options{Until: end})}
	saw := &watch{}
	fire.Run(p.setup, p.moves(), fire.Options{Until: end, Watch: saw})
	m.looks = saw.moments
	m.from = min(m.from, len(m.looks)-1)
	return m
}

// count counts minutes of the lesson.
func (m measured) count(is func(s fire.Sample, l moment) bool) float64 {
	n := 0.0
	for i := m.from; i < len(m.looks); i++ {
		if is(m.result.Samples[i], m.looks[i]) {
			n++
		}
	}
	return n
}

// last is the sample at the end.
func (m measured) last() (fire.Sample, moment) {
	return m.result.Samples[len(m.looks)-1], m.looks[len(m.looks)-1]
}

// of is what a check comes to.
func (m measured) of(c Check) float64 {
	last, look := m.last()
	switch c {
	case Warm:
		return m.warm(last)
	case DoorAjar:
		return m.count(func(s fire.Sample, _ moment) bool { return s.Door != fire.Shut && s.Phase != fire.Preparing })
	case Dark:
		return m.dark()
	case Smoke:
		return m.result.Summary.SmokePerKg / m.world.Tuning().Smoke / plan.Clean{Family: m.Spec.Stove.Family}.MaxSmoke()
	case TooHot:
		return m.count(func(s fire.Sample, _ moment) bool { return s.Flags&fire.TooHot != 0 })
	case Spilled:
		return m.count(func(s fire.Sample, _ moment) bool { return s.Flags&fire.Spilling != 0 })
	case OnCoals, DryWood:
		return m.loads(c)
	case BlackFirst, Down:
		return m.air(c)
	case Engaged, NotCold:
		return m.comb(c)
	case CoalsLeft:
		return float64(last.Coals) / math.Max(0.02, belief.LeastCoals(m.Spec.Stove))
	case Vented:
		burns := m.count(func(_ fire.Sample, l moment) bool { return l.Flame > flameSeen })
		if burns == 0 {
			return 0
		}
		return m.count(func(_ fire.Sample, l moment) bool { return l.Flame > flameSeen && l.window }) / burns
	case BurntDown:
		if m.result.Summary.In == 0 {
			return math.Inf(1) // there was no fire
		}
		return look.Wood
	}
	return m.room(c, last)
}

// warm is how far the guiding gauge is on its way to where it works; by the body of the stove
// where there is none.
func (m measured) warm(last fire.Sample) float64 {
	g, ok := m.Spec.Stove.Guide()
	at, to := float64(last.Body), 80.0
	if ok {
		t, _ := last.Reading(g.Place)
		at, to = float64(t), float64(g.Band.Low)
	}
	room := float64(last.Room)
	return (at - room) / math.Max(20, to-room)
}

// dark counts the minutes in which wood lay without flames, since the match or the lesson's
// beginning; a lesson in which nothing was lit is dark from end to end.
func (m measured) dark() float64 {
	if m.result.Summary.In == 0 {
		return m.Lesson.For.Minutes()
	}
	return m.count(func(s fire.Sample, l moment) bool {
		return s.Phase != fire.Preparing && l.Wood >= policy.SomeWood && l.Flame < flameSeen
	})
}

// loads judges the wood that was put on.
func (m measured) loads(c Check) float64 {
	all, dry, first := 0.0, 0.0, math.Inf(1)
	before := 0.0 // dry wood put on so far, kg
	for _, h := range m.happened[:m.next] {
		for _, a := range h.acts {
			if a.Load == nil {
				continue
			}
			if !h.given && !a.Load.Kindling {
				all += float64(a.Load.Mass())
				if m.saidMoisture(*a.Load) <= wood.Damp {
					dry += float64(a.Load.Mass())
				}
				if i := int((h.at - 1) / time.Minute); i < len(m.looks) && math.IsInf(first, 1) && before > 0 { // as it was before
					first = m.looks[i].Wood / before
					if m.looks[i].Coals < belief.LeastCoals(m.Spec.Stove)*0.8 && m.looks[i].Flame < flameSeen {
						first = 1 // on coals that light nothing
					}
				}
			}
			before += a.Load.Dry()
		}
	}
	if c == OnCoals {
		return first
	}
	if all == 0 {
		return 0
	}
	return dry / all
}

// air judges how the main air was taken back.
func (m measured) air(c Check) float64 {
	main, ok := m.Spec.Stove.MainAir()
	if !ok {
		return 1
	}
	at, black := 1.0, -1.0
	for _, h := range m.happened[:m.next] {
		for _, a := range h.acts {
			if a.Kind != fire.ActControl || a.Control != main.Key && (a.Control != "" || a.Role != main.Role) {
				continue
			}
			if i := int(h.at / time.Minute); !h.given && a.Opening < leastMain && at >= leastMain && black < 0 && i < len(m.looks) {
				black = m.looks[i].Alight
			}
			at = a.Opening
		}
	}
	switch {
	case c == Down:
		return at
	case black < 0: // it was not
		return 1
	}
	return black
}

// comb judges the bypass of a catalyst.
func (m measured) comb(c Check) float64 {
	lightOff := float64(stove.CatalystProbe.DefaultBand().Low)
	if g, ok := m.Spec.Stove.Gauge(stove.CatalystProbe); ok {
		lightOff = float64(g.Band.Low)
	}
	return m.count(func(s fire.Sample, l moment) bool {
		open, gas := s.Bypass > 0.5, l.Wood > policy.SomeWood && l.Flame > flameSeen/2
		if c == Engaged {
			return open && gas && l.comb > lightOff
		}
		return !open && gas && l.comb < lightOff-policy.BelowLightOff
	})
}

// room judges how warm it was.
func (m measured) room(c Check, last fire.Sample) float64 {
	low, high := float64(m.Spec.Low), float64(m.Spec.High)
	switch c {
	case Warmed:
		return low - float64(last.Room)
	case NotOver:
		most := math.Inf(-1)
		for _, s := range m.result.Samples[m.from:] {
			most = math.Max(most, float64(s.Room)-high)
		}
		return most
	case Band:
		sum, n := 0.0, 0.0
		for i := m.from + 60; i < len(m.looks); i++ {
			at := float64(m.result.Samples[i].Room)
			sum, n = sum+math.Max(0, math.Max(low-at, at-high)), n+1
		}
		if n == 0 {
			return math.Max(0, low-float64(last.Room))
		}
		return sum / n
	}
	// Thrift: wood against what the room needs in that weather, by the hour.
	hours := math.Max(0.5, m.Now().Hours())
	need := float64(m.Spec.House.HeatWanted(m.Spec.Low, m.Wish.Outdoor)) / 1000
	kilos := 0.0
	for _, h := range m.happened[:m.next] {
		for _, a := range h.acts {
			if a.Load != nil {
				kilos += float64(a.Load.Mass())
			}
		}
	}
	if kilos == 0 {
		return math.Inf(1)
	}
	return kilos / hours / math.Max(1, need)
}
