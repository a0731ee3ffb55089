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
	maxSpilling   = 30 * time.Second // in all: a gust or two at the door's seals
	maxSmokePerKg = 9.0 // g; a clean burn makes 1 to 4

	emptyRoom = 0.2 // of the comfort that counts while everybody is out
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

func unsafe(s fire.Summary) bool {
	return s.TooHot > maxTooHot || s.Spilling > maxSpilling && s.MinDraft < 0
}

func dirty(s fire.Summary) bool { return s.Smoulder > maxSmoulder || s.SmokePerKg > maxSmokePerKg }

// good tells whether a candidate may be offered.
func (v verdict) good() bool { return !v.unsafe && !v.dirty && !v.late }

// Make searches for the best plan for a wish. The error is a *[Refusal] when
// no plan is safe and clean.
func Make(w Wish) (Plan, error) { return makeMetered(w, nil) }

func makeMetered(w Wish, m *Meter) (Plan, error) {
	c, err := Search(w, m)
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

// Search burns every candidate and returns the best with its alternatives; m
// counts them and may be nil. The error is a *[Refusal] when no plan is safe and
// clean.
func Search(w Wish, m *Meter) (Choice, error) {
	if err := w.check(); err != nil {
		return Choice{}, err
	}
	verdicts, tried := w.rank(m)
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
	there := w.there()
	return there != nil && slices.ContainsFunc(r.Done, func(done time.Duration) bool {
		span, ok := there.at(done)
		return done < 0 || !ok || span.From+time.Duration(float64(done-span.From)*slack) > span.To-watched
	})
}

// rank judges the whole grid, best first. A strong draft or a small firebox
// runs away with all air open; then the same loads are tried with less.
func (w Wish) rank(m *Meter) (verdicts []verdict, tried int) {
	for _, brisk := range []float64{1, 0.6, 0.4} {
		verdicts = w.judgeAll(brisk, m)
		tried += len(verdicts)
		if len(verdicts) == 0 || !verdicts[0].unsafe {
			break
		}
	}
	return verdicts, tried
}

// judgeAll burns every candidate at one brisk opening, best first.
func (w Wish) judgeAll(brisk float64, m *Meter) []verdict {
	all := w.candidates(brisk)
	verdicts := make([]verdict, len(all))
	m.expect(len(all))
	alike := together(all)
	inParallel(len(alike), func(i int) {
		from, to := alike[i][0], alike[i][1]
		w.judge(all[from:to], verdicts[from:to], m)
	})
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

// A mesh is how fine the grid is: at most so many loads to light with and on the
// coals, final openings, ways to pace the turn-down and openings while it chars.
type mesh struct{ firsts, mains, openings, pauses, brisks int }

// meshes go from coarse to fine: the more stacks, directions and lays there are
// to choose from, the less finely each is searched.
var meshes = []mesh{
	{2, 3, 3, 1, 1}, {2, 4, 3, 1, 1}, {2, 4, 4, 1, 1}, {2, 5, 4, 2, 1}, {3, 5, 5, 2, 1}, {3, 6, 5, 3, 1}, {4, 6, 5, 3, 1}, {4, 7, 5, 3, 1}, {4, 8, 5, 4, 1},
	{4, 9, 6, 4, 1}, {4, 10, 7, 5, 1}, {4, 14, 7, 6, 1}, {4, 14, 7, 5, 2}, {4, 20, 8, 7, 2}, {4, 20, 9, 8, 3}, {4, 20, 9, 8, 4},
}

// enoughTried is how many candidates a search burns, where there are so many
// ways to burn this wood in this stove.
const enoughTried = 1000

// candidates lists the coarsest grid that has enough: whole pieces of the stacks
// at hand, lays, directions that fit, final openings in the control's own marks,
// how quickly it is turned down, and how far open it chars, at most at most.
func (w Wish) candidates(most float64) []candidate {
	var out []candidate
	for _, m := range meshes {
		if out = w.grid(m, most); len(out) >= enoughTried {
			break
		}
	}
	return out
}

// grid lists every candidate of a mesh.
func (w Wish) grid(m mesh, most float64) []candidate {
	var out []candidate
	for mainOf := range w.woods() {
		for firstOf := range w.woods() {
			// Only the lightest wood is worth lighting with beside the main one.
			if firstOf != mainOf && (w.Start != Cold || firstOf != w.lightest()) {
				continue
			}
			for _, d := range []stove.Direction{stove.EndOn, stove.Sideways} {
				if w.fits(firstOf, d) && w.fits(mainOf, d) {
					out = w.loads(out, m, most, candidate{firstOf: firstOf, mainOf: mainOf, direction: d})
				}
			}
		}
	}
	return out
}

// loads adds every load, lay and turn-down of a direction and its stacks.
func (w Wish) loads(out []candidate, m mesh, most float64, c candidate) []candidate {
	firsts, mains, lays := []int{0}, counts(1, w.mostPieces(c.mainOf), m.mains), []fire.Lay{fire.OnCoals}
	if w.Start == Cold {
		half := int(float64(w.Stove.MaxLoad) * 0.6 / float64(w.woods()[c.firstOf].Stack.PieceMass))
		firsts = counts(1, max(1, min(4, half, w.mostPieces(c.firstOf))), m.firsts)
		mains = append([]int{0}, mains...)
		lays = []fire.Lay{fire.TopDown, fire.Raft}
		if w.Lay != "" {
			lays = []fire.Lay{w.Lay}
		}
	}
	if w.Start == Cold && w.Lay == fire.OpenV { // a V is made of two
		firsts = slices.DeleteFunc(firsts, func(n int) bool { return n < 2 })
	}
	for _, c.first = range firsts {
		for _, c.main = range mains {
			if !w.enough(c) {
				continue
			}
			for _, c.lay = range lays {
				out = w.airs(out, m, most, c)
			}
		}
	}
	return out
}

// airs adds every way to set the air of a load.
func (w Wish) airs(out []candidate, m mesh, most float64, c candidate) []candidate {
	for _, c.brisk = range w.brisks(most, m.brisks) {
		for _, c.final = range w.openings(m.openings) {
			if c.final >= c.brisk {
				continue
			}
			for _, c.pause = range pauses[min(m.pauses, len(pauses))-1] {
				out = append(out, c)
			}
		}
	}
	return out
}

// pauses between the steps of a turn-down, from few to many to choose from.
var pauses = [][]time.Duration{
	minutes(8), minutes(8, 12), minutes(4, 8, 12), minutes(4, 7, 10, 14), minutes(4, 6, 9, 12, 16), minutes(3, 5, 7, 9, 12, 16),
	minutes(3, 5, 7, 9, 11, 13, 16), minutes(3, 4, 6, 8, 10, 12, 15, 18),
}

func minutes(of ...int) []time.Duration {
	out := make([]time.Duration, len(of))
	for i, m := range of {
		out[i] = time.Duration(m) * time.Minute
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

// openings are at most n final settings worth trying, as the control is marked.
func (w Wish) openings(n int) []float64 {
	c, _ := w.Stove.MainAir()
	tried := []float64{1. / 8, 1. / 4, 1. / 2, 1. / 3, 1. / 6, 2. / 3, 0.2, 0.4, 0.05}
	if c.Scale.Kind == stove.Notches {
		tried = c.Scale.Steps()
		n = len(tried)
	}
	var out []float64
	for _, o := range tried {
		if o = c.Scale.Nearest(o); o > 0.01 && o < 0.8 && len(out) < n && !slices.Contains(out, o) {
			out = append(out, o)
		}
	}
	return out
}

// brisks are at most n openings to char with, from most downwards.
func (w Wish) brisks(most float64, n int) []float64 {
	c, _ := w.Stove.MainAir()
	var out []float64
	for _, share := range []float64{1, 0.75, 0.6, 0.85}[:n] {
		if o := c.Scale.Nearest(most * share); o > 0.2 && !slices.Contains(out, o) {
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

// together returns the runs of candidates, first and one past the last, that are
// the same fire until it is turned down.
func together(all []candidate) [][2]int {
	var out [][2]int
	for i, c := range all {
		c.final, c.pause = 0, 0
		if n := len(out); n > 0 {
			before := all[i-1]
			if before.final, before.pause = 0, 0; before == c {
				out[n-1][1] = i + 1
				continue
			}
		}
		out = append(out, [2]int{i, i + 1})
	}
	return out
}

// judge burns candidates that are the same fire until it is turned down, and
// gives each its merit. A burn that is too hot or smoulders is not followed to
// its end: it is out, whatever else it does.
func (w Wish) judge(alike []candidate, verdicts []verdict, m *Meter) {
	opt := fire.Options{Until: w.For + tail, Every: searchEvery, Step: searchStep, Coarse: true, GiveUp: fire.Limits{TooHot: maxTooHot, Smoulder: 2 * maxSmoulder}}
	first := w.steps(alike[0])
	turned := slices.IndexFunc(first, func(s Step) bool { return s.Kind == TurnDown })
	branch := fire.RunTo(w.setup(), fireSteps(first), turned, opt)
	for i, c := range alike {
		verdicts[i] = w.weighed(c, branch.Run(fireSteps(w.steps(c))))
		m.count()
	}
}

// weighed gives a candidate its merit by what became of it.
func (w Wish) weighed(c candidate, r fire.Result) verdict {
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
	there := w.there()
	for _, s := range r.Samples {
		if s.At > w.For {
			break
		}
		each := searchEvery.Hours()
		if w.Aim != Overnight && there.out(s.At) {
			each *= emptyRoom
		}
		hours += each
		cold += math.Max(0, float64(w.Low-s.Room)) * each
		hot += math.Max(0, float64(s.Room-w.High)) * each
		if s.Room >= w.Low && s.At.Hours() < reached {
			reached = s.At.Hours()
		}
	}
	hours = math.Max(hours, searchEvery.Hours())
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
