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
	firstOf     int // which of the wish's stacks
	mainOf      int
	lay         fire.Lay // of the first fire
	direction   stove.Direction
	final       float64
	brisk       float64       // the main air while it chars: fully open, or less where that runs too hot
	pause       time.Duration // between the steps of the turn-down
}

// verdict is what became of a candidate.
type verdict struct {
	candidate
	unsafe, dirty bool
	late          bool    // its last step comes when nobody is there
	merit         float64 // the lower the better
	cold          float64 // degree-hours under the wanted band
	kilos         float64
	summary       fire.Summary
}

func unsafe(s fire.Summary) bool { return s.TooHot > maxTooHot || s.Spilled && s.MinDraft < 0 }

func dirty(s fire.Summary) bool { return s.Smoulder > maxSmoulder || s.SmokePerKg > maxSmokePerKg }

// good tells whether a candidate may be offered.
func (v verdict) good() bool { return !v.unsafe && !v.dirty && !v.late }

// Make searches for the best plan for a wish. The error is a *[Refusal] when
// no plan is safe and clean.
func Make(w Wish) (Plan, error) {
	c, err := Search(w)
	if err != nil {
		return Plan{}, err
	}
	return c.Plans[0], nil
}

// A Choice is the best plan and up to two real alternatives, with what makes
// them so.
type Choice struct {
	Plans []Plan
	Why   []string // why the first beat the others; how the others differ
	Tried int
}

// Search burns every candidate and returns the best with its alternatives. The
// error is a *[Refusal] when no plan is safe and clean.
func Search(w Wish) (Choice, error) {
	if err := w.check(); err != nil {
		return Choice{}, err
	}
	verdicts, tried := w.rank()
	best, ok := w.confirm(verdicts)
	if !ok {
		return Choice{}, w.refuse(verdicts)
	}
	chosen := []verdict{verdicts[best]}
	for _, v := range alternatives(verdicts[best:]) {
		if w.holds(&v) {
			chosen = append(chosen, v)
		}
	}
	c := Choice{Plans: make([]Plan, len(chosen)), Tried: tried, Why: w.reasons(chosen)}
	inParallel(len(chosen), func(i int) { c.Plans[i] = w.build(chosen[i].candidate) })
	for i := range c.Plans {
		c.Plans[i].Tried = tried
	}
	return c, nil
}

// confirm burns the best at full accuracy, since the search takes coarser
// steps, and goes to the next where a limit is not kept after all. Verdicts
// that do not hold are marked. It returns the place of the best that holds.
func (w Wish) confirm(verdicts []verdict) (int, bool) {
	const most = 12
	for i := range verdicts[:min(most, len(verdicts))] {
		v := &verdicts[i]
		if !v.good() {
			return 0, false
		}
		if w.holds(v) {
			return i, true
		}
	}
	return 0, false
}

// holds burns a verdict's candidate at full accuracy and tells whether every
// limit is kept; where one is not, the verdict is marked.
func (w Wish) holds(v *verdict) bool {
	r := fire.Run(w.setup(), fireSteps(w.steps(v.candidate)), fire.Options{Until: w.For + tail/3, Every: curveEvery})
	v.unsafe, v.dirty, v.late = unsafe(r.Summary), dirty(r.Summary), w.late(r)
	if !v.good() {
		v.summary = r.Summary
	}
	return v.good()
}

// late tells whether a step comes, with slack, when nobody is there.
func (w Wish) late(r fire.Result) bool {
	until, limited := w.hands()
	return limited && slices.ContainsFunc(r.Done, func(done time.Duration) bool { return done < 0 || float64(done)*slack > float64(until) })
}

// rank judges the whole grid, best first. A strong draft or a small firebox
// runs away with all air open; then the same loads are tried with less.
func (w Wish) rank() (verdicts []verdict, tried int) {
	for _, brisk := range []float64{1, 0.6, 0.4} {
		verdicts = w.judgeAll(brisk)
		tried += len(verdicts)
		if len(verdicts) == 0 || !verdicts[0].unsafe {
			break
		}
	}
	return verdicts, tried
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

// candidates lists the grid: whole pieces of the stacks at hand, lays,
// directions that fit, final openings in the control's own marks, and how
// quickly it is turned down.
func (w Wish) candidates() []candidate {
	var out []candidate
	for mainOf := range w.woods() {
		for firstOf := range w.woods() {
			// Only the lightest wood is worth lighting with beside the main one.
			if firstOf != mainOf && (w.Start != Cold || firstOf != w.lightest()) {
				continue
			}
			for _, d := range []stove.Direction{stove.EndOn, stove.Sideways} {
				if w.fits(firstOf, d) && w.fits(mainOf, d) {
					out = w.loads(out, candidate{firstOf: firstOf, mainOf: mainOf, direction: d})
				}
			}
		}
	}
	return out
}

// loads adds every load, lay and turn-down of a direction and its stacks.
func (w Wish) loads(out []candidate, c candidate) []candidate {
	firsts, mains, lays := []int{0}, counts(1, w.mostPieces(c.mainOf), 9), []fire.Lay{fire.OnCoals}
	if w.Start == Cold {
		most := w.mostPieces(c.firstOf)
		half := int(float64(w.Stove.MaxLoad) * 0.6 / float64(w.woods()[c.firstOf].Stack.PieceMass))
		firsts = counts(1, max(1, min(4, half, most)), 3)
		mains = append([]int{0}, counts(1, w.mostPieces(c.mainOf), 6)...)
		lays = []fire.Lay{fire.TopDown, fire.Raft}
		if w.Lay != "" { // one lay leaves time for finer loads
			firsts = counts(1, max(1, min(4, half, most)), 4)
			mains = append([]int{0}, counts(1, w.mostPieces(c.mainOf), 9)...)
			lays = []fire.Lay{w.Lay}
		}
	}
	pauses := []time.Duration{4 * time.Minute, 8 * time.Minute, 12 * time.Minute}
	if len(w.Others) > 0 { // the choice of wood takes the place of finer ones
		pauses = pauses[1:]
	}
	if w.Lay == fire.OpenV { // a V is made of two
		firsts = slices.DeleteFunc(firsts, func(n int) bool { return n < 2 })
	}
	for _, c.first = range firsts {
		for _, c.main = range mains {
			if !w.enough(c) {
				continue
			}
			for _, c.lay = range lays {
				for _, c.final = range w.openings() {
					for _, c.pause = range pauses {
						out = append(out, c)
					}
				}
			}
		}
	}
	return out
}

// woods are the stacks at hand: the first wished, then the others.
func (w Wish) woods() []Pick { return append([]Pick{w.Wood}, w.Others...) }

// lightest is the stack of the lightest wood.
func (w Wish) lightest() int {
	best := 0
	for i, p := range w.woods() {
		if p.Stack.Species.Gravity < w.woods()[best].Stack.Species.Gravity {
			best = i
		}
	}
	return best
}

func (w Wish) fits(of int, d stove.Direction) bool {
	return w.woods()[of].Stack.PieceLength <= w.Stove.LongestPiece(d)
}

// enough tells whether the stacks hold the pieces.
func (w Wish) enough(c candidate) bool {
	woods := w.woods()
	if c.firstOf == c.mainOf {
		return c.first+c.main <= woods[c.mainOf].Stack.Pieces()
	}
	return c.first <= woods[c.firstOf].Stack.Pieces() && c.main <= woods[c.mainOf].Stack.Pieces()
}

// mostPieces is how many pieces the manual, the firebox and the stack allow.
func (w Wish) mostPieces(of int) int {
	s := w.woods()[of].Stack
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
	var out []float64
	for _, o := range []float64{1. / 8, 1. / 6, 1. / 4, 1. / 3, 1. / 2} {
		if o = c.Scale.Nearest(o); o > 0 && !slices.Contains(out, o) {
			out = append(out, o)
		}
	}
	return out
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

// judge burns a candidate and gives it its merit. A burn that is too hot or
// smoulders is not followed to its end: it is out, whatever else it does.
func (w Wish) judge(c candidate) verdict {
	return w.judgeAt(c, fire.Options{Until: w.For + tail, Every: searchEvery, Step: searchStep, Coarse: true,
		GiveUp: fire.Limits{TooHot: maxTooHot, Smoulder: 2 * maxSmoulder}})
}

func (w Wish) judgeAt(c candidate, opt fire.Options) verdict {
	r := fire.Run(w.setup(), fireSteps(w.steps(c)), opt)
	s := r.Summary
	v := verdict{candidate: c, summary: s}
	v.unsafe, v.dirty = unsafe(s), dirty(s)
	v.late = w.late(r)
	w.weigh(&v, r)
	if v.late {
		v.merit += 500
	}
	if v.dirty {
		v.merit += 1e3 + s.SmokePerKg
	}
	if v.unsafe {
		v.merit += 1e6 + s.TooHot.Minutes()
	}
	return v
}

// weigh sets smoke against comfort by the hour against wood. Comfort counts
// most once a burn is clean: a degree too cold for an hour weighs as much as a
// gram of smoke per kilogram.
func (w Wish) weigh(v *verdict, r fire.Result) {
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
	woods := w.woods()
	v.kilos = float64(woods[v.firstOf].Stack.PieceMass)*float64(v.first) + float64(woods[v.mainOf].Stack.PieceMass)*float64(v.main)
	v.cold = cold
	v.merit = 0.6*r.Summary.SmokePerKg + 0.15*v.kilos
	switch w.Aim {
	case WarmUp:
		v.merit += 4*reached + (cold+2*hot)/hours
	case Overnight, Away:
		v.merit += (3*cold+2*hot)/hours + 6*math.Max(0, 0.25-w.coalsAt(r))
	case TakeOff:
		v.merit += (1.5*cold+4*hot)/hours + 0.5*v.kilos
	case DryOut:
		v.merit += 1.2*v.kilos + 0.02*math.Max(0, float64(r.Summary.PeakTop)-180)
	default:
		v.merit += (3*cold + 3*hot) / hours
	}
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
	until, _ := w.hands()
	switch {
	case len(verdicts) == 0:
		return &Refusal{"There are not enough pieces in this stack for a fire like this.", "Choose another stack, or another lay."}
	case verdicts[0].unsafe && before.DoNot:
		return &Refusal{fmt.Sprintf("Do not light: the room pulls harder than the chimney (net draft %.1f Pa), so smoke would come in.", float64(before.Net)),
			fmt.Sprintf("Fans off makes it %.1f Pa, with a window open as well %.1f Pa; warm the flue first.", float64(before.FanOff), float64(before.Window))}
	case verdicts[0].unsafe && verdicts[0].summary.TooHot <= maxTooHot:
		return &Refusal{fmt.Sprintf("Smoke would come into the room: at its weakest the draft is %.1f Pa.", float64(verdicts[0].summary.MinDraft)),
			"Warm the flue first, fans off, a window open a crack; if that is not enough, ask a licensed installer about the chimney."}
	case verdicts[0].unsafe:
		return &Refusal{"Every load tried would run this stove too hot.", "A stack of larger or denser pieces would do, or fewer of them."}
	case verdicts[0].late && !verdicts[0].dirty:
		return &Refusal{fmt.Sprintf("No fire is charred, turned down and seen to burn steadily in the %s that somebody is there.", units.Duration(until+watched)),
			"Stay longer, light earlier, or leave the stove out until somebody is back; a load on a good bed of coals is ready soonest."}
	case w.Lay != "" && w.Start == Cold && verdicts[0].dirty && u <= 0.22:
		return &Refusal{fmt.Sprintf("Laid %s, no setting tried burns clean: at best %.1f g of smoke per kg and %s of smouldering.", w.Lay,
			verdicts[0].summary.SmokePerKg, units.Duration(verdicts[0].summary.Smoulder.Round(time.Minute))), "Another lay would do: leave the choice open."}
	case u <= 0.22 && w.mostPieces(0) == 1 && w.Wood.Stack.Pieces() == 1:
		return &Refusal{fmt.Sprintf("There is one piece left of %s, and one by itself does not keep this firebox hot.", w.Wood.Stack.Name), "Another stack would do, or a second one beside it."}
	case u <= 0.22 && w.mostPieces(0) == 1:
		return &Refusal{fmt.Sprintf("One piece by itself does not keep this firebox hot: at best %.0f g of smoke per kg.", verdicts[0].summary.SmokePerKg),
			fmt.Sprintf("Smaller pieces would do: three within the manual's load of %.1f kg.", float64(w.Stove.MaxLoad))}
	case u > 0.22:
		return &Refusal{fmt.Sprintf("Wood at %.0f %% smoulders here whatever the air: at best %.0f g of smoke per kg.", u.Percent(), verdicts[0].summary.SmokePerKg),
			"Wood under 20 % would do."}
	}
	return &Refusal{fmt.Sprintf("No setting tried burns clean: at best %.0f g of smoke per kg and %s of smouldering.",
		verdicts[0].summary.SmokePerKg, units.Duration(verdicts[0].summary.Smoulder.Round(time.Minute))),
		"Drier or smaller pieces, a good bed of coals to start from, or more draft would do."}
}

// setup is the fire before the plan begins.
func (w Wish) setup() fire.Setup {
	coals, warmth := w.Start.Coals(w.Stove.Volume)
	if w.Body > 0 {
		warmth = w.Body
	}
	return fire.Setup{Stove: w.Stove, House: w.House, Outdoor: w.Outdoor, Room: w.Room, Coals: coals, Warmth: warmth, Weather: w.Weather}
}

// load returns pieces of a stack at hand as a load.
func (w Wish) load(of, pieces int, d stove.Direction, lay fire.Lay) fire.Load {
	pick := w.woods()[of]
	s := pick.Stack
	return fire.Load{Species: s.Species, Moisture: s.Moisture(), Pieces: pieces, PieceMass: s.PieceMass,
		PieceLength: s.PieceLength, Direction: d, Lay: lay, StackName: s.Name, StackID: pick.ID}
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
