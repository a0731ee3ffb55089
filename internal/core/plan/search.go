package plan

import (
	"cmp"
	"fmt"
	"math"
	"runtime"
	"slices"
	"sync"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

const (
	searchStep  = 8 * time.Second // of the simulation while searching
	searchEvery = 4 * time.Minute // between samples
	curveEvery  = 2 * time.Minute
	tail        = 90 * time.Minute // simulated beyond the wish, to see the coals

	maxSmoulder   = 25 * time.Minute
	maxTooHot     = 2 * time.Minute
	maxSmokePerKg = 9.0 // g; a clean burn makes 1 to 4
)

// candidate is one way to burn.
type candidate struct {
	first, main int
	direction   stove.Direction
	final       float64
	brisk       float64 // the main air while it chars: fully open, or less where that runs too hot
}

// verdict is what became of a candidate.
type verdict struct {
	candidate
	unsafe, dirty bool
	merit         float64 // the lower the better
	summary       fire.Summary
}

// Make searches for the best plan for a wish. The error is a *[Refusal] when
// no plan is safe and clean.
func Make(w Wish) (Plan, error) {
	if err := w.check(); err != nil {
		return Plan{}, err
	}
	var verdicts []verdict
	tried := 0
	// A strong draft or a small firebox runs away with all air open; then the
	// same loads are tried with less.
	for _, brisk := range []float64{1, 0.6, 0.4} {
		verdicts = w.judgeAll(brisk)
		tried += len(verdicts)
		if len(verdicts) == 0 || !verdicts[0].unsafe {
			break
		}
	}
	if len(verdicts) == 0 || verdicts[0].unsafe || verdicts[0].dirty {
		return Plan{}, w.refuse(verdicts)
	}
	p := w.build(verdicts[0].candidate)
	p.Tried = tried
	return p, nil
}

// judgeAll burns every candidate at one brisk opening, best first.
func (w Wish) judgeAll(brisk float64) []verdict {
	air, _ := w.Stove.MainAir()
	all := w.candidates()
	for i := range all {
		all[i].brisk = air.Scale.Nearest(brisk)
	}
	verdicts := make([]verdict, len(all))
	inParallel(len(all), func(i int) { verdicts[i] = w.judge(all[i]) })
	slices.SortStableFunc(verdicts, func(a, b verdict) int { return cmp.Compare(a.merit, b.merit) })
	return verdicts
}

// inParallel runs f for 0 ≤ i < n on all cores.
func inParallel(n int, f func(int)) {
	var group sync.WaitGroup
	workers := min(runtime.GOMAXPROCS(0), max(1, n))
	for first := range workers {
		group.Go(func() {
			for i := first; i < n; i += workers {
				f(i)
			}
		})
	}
	group.Wait()
}

// candidates lists the grid: whole pieces, directions that fit, final openings
// in the control's own marks.
func (w Wish) candidates() []candidate {
	var out []candidate
	most := w.mostPieces()
	firsts, mains := []int{0}, counts(1, most, 7)
	if w.Start == Cold {
		half := int(float64(w.Stove.MaxLoad) * 0.6 / float64(w.Wood.Stack.PieceMass))
		firsts = counts(1, max(1, min(4, half, most)), 3)
		mains = append([]int{0}, counts(1, most, 5)...)
	}
	for _, d := range []stove.Direction{stove.EndOn, stove.Sideways} {
		if w.Wood.Stack.PieceLength > w.Stove.LongestPiece(d) {
			continue
		}
		for _, first := range firsts {
			for _, main := range mains {
				if first+main > w.Wood.Stack.Pieces() {
					continue
				}
				for _, final := range w.openings() {
					out = append(out, candidate{first: first, main: main, direction: d, final: final})
				}
			}
		}
	}
	return out
}

// mostPieces is how many pieces the manual, the firebox and the stack allow.
func (w Wish) mostPieces() int {
	s := w.Wood.Stack
	byManual := int(float64(w.Stove.MaxLoad)/float64(s.PieceMass) + 1e-9)
	each := wood.LoadOf(s.Species, s.Moisture(), s.PieceMass).Stacked
	byRoom := int(float64(w.Stove.Volume) * 0.85 / float64(each))
	return max(1, min(byManual, byRoom, s.Pieces()))
}

// openings are the final settings worth trying, as the control is marked.
func (w Wish) openings() []float64 {
	c, _ := w.Stove.MainAir()
	if c.Scale.Kind == stove.Notches {
		var out []float64
		for _, o := range c.Scale.Steps() {
			if o > 0.01 && o < 0.8 {
				out = append(out, o)
			}
		}
		return out
	}
	return []float64{1. / 8, 1. / 6, 1. / 4, 1. / 3, 1. / 2}
}

// counts returns at most n whole numbers from low to high, both included.
func counts(low, high, n int) []int {
	var out []int
	for i := range n {
		v := low
		if n > 1 {
			v = low + int(math.Round(float64(high-low)*float64(i)/float64(n-1)))
		}
		if len(out) == 0 || out[len(out)-1] != v {
			out = append(out, v)
		}
	}
	return out
}

// judge burns a candidate and gives it its merit.
func (w Wish) judge(c candidate) verdict {
	steps := w.steps(c)
	r := fire.Run(w.setup(), fireSteps(steps), fire.Options{Until: w.For + tail, Every: searchEvery, Step: searchStep})
	s := r.Summary
	v := verdict{candidate: c, summary: s}
	v.unsafe = s.TooHot > maxTooHot || s.Spilled && s.MinDraft < 0
	v.dirty = s.Smoulder > maxSmoulder || s.SmokePerKg > maxSmokePerKg
	v.merit = w.merit(r, c)
	if v.dirty {
		v.merit += 1e3 + s.SmokePerKg
	}
	if v.unsafe {
		v.merit += 1e6 + s.TooHot.Minutes()
	}
	return v
}

// merit weighs smoke, comfort by the hour, and wood. Comfort counts most once
// a burn is clean: a degree too cold for an hour weighs as much as a gram of
// smoke per kilogram.
func (w Wish) merit(r fire.Result, c candidate) float64 {
	cold, hot, hours, reached := 0.0, 0.0, 0.0, w.For.Hours()
	each := searchEvery.Hours()
	for _, s := range r.Samples {
		if s.At > w.For {
			break
		}
		hours += each
		cold += math.Max(0, float64(w.Low-s.Room)) * each
		hot += math.Max(0, float64(s.Room-w.High)) * each
		if s.Room >= w.Low && s.At.Hours() < reached {
			reached = s.At.Hours()
		}
	}
	hours = math.Max(hours, each)
	kilos := float64(w.Wood.Stack.PieceMass) * float64(c.first+c.main)
	merit := 0.6*r.Summary.SmokePerKg + 0.15*kilos
	switch w.Aim {
	case WarmUp:
		merit += 4*reached + (cold+2*hot)/hours
	case Overnight:
		merit += (3*cold+2*hot)/hours + 6*math.Max(0, 0.25-w.coalsAt(r))
	case TakeOff:
		merit += (1.5*cold+4*hot)/hours + 0.5*kilos
	default:
		merit += (3*cold + 3*hot) / hours
	}
	return merit
}

// coalsAt returns the coals at the end of the wish, scaled to a 55 L firebox.
func (w Wish) coalsAt(r fire.Result) float64 {
	coals := 0.0
	for _, s := range r.Samples {
		if s.At > w.For {
			break
		}
		coals = float64(s.Coals)
	}
	return coals / math.Max(0.2, float64(w.Stove.Volume)/55)
}

// refuse says why nothing was good enough and what would help.
func (w Wish) refuse(verdicts []verdict) error {
	before := BeforeLighting(w.Stove, w.House, w.Room, w.Outdoor)
	u := w.Wood.Stack.Moisture()
	switch {
	case len(verdicts) == 0:
		return &Refusal{"There are not enough pieces in this stack for a fire.", "Choose another stack."}
	case verdicts[0].unsafe && before.DoNot:
		return &Refusal{fmt.Sprintf("Do not light: the room pulls harder than the chimney (net draft %.1f Pa), so smoke would come in.", float64(before.Net)),
			fmt.Sprintf("Fans off makes it %.1f Pa, with a window open as well %.1f Pa; warm the flue first.", float64(before.FanOff), float64(before.Window))}
	case verdicts[0].unsafe && verdicts[0].summary.TooHot <= maxTooHot:
		return &Refusal{fmt.Sprintf("Smoke would come into the room: at its weakest the draft is %.1f Pa.", float64(verdicts[0].summary.MinDraft)),
			"Warm the flue first, fans off, a window open a crack; if that is not enough, ask a licensed installer about the chimney."}
	case verdicts[0].unsafe:
		return &Refusal{"Every load tried would run this stove too hot.", "A stack of larger or denser pieces would do, or fewer of them."}
	case u > 0.22:
		return &Refusal{fmt.Sprintf("Wood at %.0f %% smoulders here whatever the air: at best %.0f g of smoke per kg.", u.Percent(), verdicts[0].summary.SmokePerKg),
			"Wood under 20 % would do."}
	}
	return &Refusal{fmt.Sprintf("No setting tried burns clean: at best %.0f g of smoke per kg and %.0f minutes of smouldering.",
		verdicts[0].summary.SmokePerKg, verdicts[0].summary.Smoulder.Minutes()),
		"Drier or smaller pieces, a good bed of coals to start from, or more draft would do."}
}

// setup is the fire before the plan begins.
func (w Wish) setup() fire.Setup {
	coals, warmth := w.Start.Coals(w.Stove.Volume)
	return fire.Setup{Stove: w.Stove, House: w.House, Outdoor: w.Outdoor, Room: w.Room, Coals: coals, Warmth: warmth}
}

// load returns pieces of the wished stack as a load.
func (w Wish) load(pieces int, d stove.Direction, lay fire.Lay) fire.Load {
	s := w.Wood.Stack
	return fire.Load{Species: s.Species, Moisture: s.Moisture(), Pieces: pieces, PieceMass: s.PieceMass,
		PieceLength: s.PieceLength, Direction: d, Lay: lay, StackName: s.Name, StackID: w.Wood.ID}
}

// starterHeat is a wax block's.
const starterHeat units.Joule = 0.9e6

// kindling returns the kindling for a cold start: a good armful from its
// stack, or offcuts that every household has when no stack is named.
func (w Wish) kindling(lay fire.Lay) fire.Load {
	mass := units.Kilogram(math.Max(0.2, math.Min(1.3, 0.022*float64(w.Stove.Volume))))
	soft, _ := wood.SpeciesByKey("softwood-offcuts")
	stack := wood.Stack{Name: "kindling", Species: soft, PieceMass: 0.09, PieceLength: 0.25, Reading: 0.14, WoodTemp: 20}
	var id int64
	if w.Kindling != nil && w.Kindling.Stack.Pieces() > 3 {
		stack, id = w.Kindling.Stack, w.Kindling.ID
	}
	length := min(stack.PieceLength, max(w.Stove.LongestPiece(stove.EndOn), w.Stove.LongestPiece(stove.Sideways)))
	pieces := max(4, int(math.Round(float64(mass/stack.PieceMass))))
	if id != 0 {
		pieces = min(pieces, stack.Pieces())
	}
	return fire.Load{Species: stack.Species, Moisture: stack.Moisture(), Pieces: pieces,
		PieceMass: stack.PieceMass, PieceLength: length, Direction: stove.Sideways, Lay: lay, Kindling: true,
		Starter: starterHeat * units.Joule(math.Min(1, float64(w.Stove.Volume)/30)), StackName: stack.Name, StackID: id}
}
