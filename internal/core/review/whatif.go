package review

import (
	"math"
	"slices"
	"sync"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/learn"
	"smolder/internal/core/parallel"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Worlds is how many stoves, evenings and woods a what-if is asked of.
const Worlds = 24

const (
	worldStep = 8 * time.Second
	worldLook = 2 * time.Minute
	// goesOn is how long a burn is followed after its end: what is put off falls due then.
	goesOn = 90 * time.Minute
)

// A Past is a burn as it is believed to have been, with what happened in each of the
// worlds in which it may have been. It is made once, and asked what would have been as
// often as somebody wants to know. It is safe for concurrent use.
type Past struct {
	Burn   burn.Burn
	Sight  belief.Hindsight
	worlds []belief.World
	until  time.Duration
	guide  stove.Gauge
	once   sync.Once
	were   []life
	aside  bool // nobody waits for it
}

// NewPast looks back at a burn, with what was known of its stove before it.
func NewPast(b burn.Burn, before learn.Known) *Past {
	b = b.In(fire.Tuning{})
	sight := before.Sight(b)
	p := &Past{Burn: b, Sight: sight, worlds: sight.Worlds(Worlds), until: min(b.Ended.Sub(b.Started)+goesOn, burn.Longest)}
	p.guide = stove.NewGauge(stove.ConnectorProbe)
	if g, ok := b.Stove.Guide(); ok {
		p.guide = g
	}
	return p
}

// A life is what a burn was, or would have been, in one world. Every number of a what-if is
// made of two of them, of the same world.
type life struct {
	fire.Summary
	gauge, room []float64
	heat        float64 // J to the room, with what the stove still gives for a while
}

// watcher keeps of a running fire what a strip shows.
type watcher struct {
	place       stove.Place
	gauge, room []float64
	heat, every float64
}

// See keeps a moment.
func (w *watcher) See(f *fire.Fire) {
	t, _ := f.Reading(w.place)
	w.gauge, w.room = append(w.gauge, t), append(w.room, float64(f.Room()))
	w.heat += float64(f.ToRoom()) * w.every
}

// Fork is never asked for: a what-if has no branches.
func (w *watcher) Fork() fire.Watcher { return w }

// live burns a burn in all the worlds.
func (p *Past) live(b burn.Burn) []life {
	setup, moves := b.Setup(), b.Steps()
	out := make([]life, len(p.worlds))
	inParallel := parallel.InParallel
	if p.aside {
		inParallel = parallel.Aside
	}
	inParallel(len(p.worlds), func(i int) {
		w := &watcher{place: p.guide.Place, every: worldLook.Seconds()}
		r := fire.Run(p.worlds[i].In(setup), p.worlds[i].Moves(moves), fire.Options{Until: p.until, Every: worldLook, Step: worldStep, Coarse: true, Watch: w})
		out[i] = life{r.Summary, w.gauge, w.room, w.heat}
	})
	return out
}

// mostSmokeLearned is by what factor thermometers alone may move the smoke of a burn: they tell how
// hot gas is, and not what is in it.
const mostSmokeLearned = 2.0

// boundSmoke holds the smoke of a replay, where nobody has looked at the cap, to what a stove
// like this one of which nothing was learned would have made, within a factor.
func (p *Past) boundSmoke(sum *fire.Summary, length time.Duration) {
	for e := range p.Burn.All() {
		if e.Kind == burn.Smoke && (e.Smoke == belief.Clear || e.Smoke == belief.White || e.Smoke == belief.Grey) {
			return
		}
	}
	usual := fire.Run(p.Burn.Setup(), p.Burn.Steps(), fire.Options{Until: max(length, time.Minute), Step: worldStep}).Summary
	if usual.Smoke <= 0 || sum.Smoke <= 0 {
		return
	}
	learned := sum.Smoke / usual.Smoke
	by := math.Max(1/mostSmokeLearned, math.Min(mostSmokeLearned, learned)) / learned
	sum.Smoke, sum.SmokePerKg, sum.SmokeEarly, sum.Deposits = sum.Smoke*by, sum.SmokePerKg*by, sum.SmokeEarly*by, sum.Deposits*by
	for i := range sum.Sections {
		sum.Sections[i] *= by
	}
}

// Measures are the burn's, replayed in the world in which it most likely was.
func (p *Past) Measures() burn.Measures {
	w := p.Sight.Likeliest()
	length := min(p.Burn.Ended.Sub(p.Burn.Started), burn.Longest)
	replay := fire.Run(w.In(p.Burn.Setup()), w.Moves(p.Burn.Steps()), fire.Options{Until: max(length, time.Minute), Step: worldStep})
	p.boundSmoke(&replay.Summary, length)
	return burn.MeasureBy(p.Burn, p.Burn.Ended, replay)
}

func (p *Past) was() []life {
	p.once.Do(func() { p.were = p.live(p.Burn) })
	return p.were
}

// A Range is a number of which eight in ten worlds lie between Low and High.
type Range struct{ Low, Middle, High float64 }

// rangeOf are the tenth, the middle and the ninetieth in a hundred.
func rangeOf(values []float64) Range {
	values = slices.Clone(values)
	slices.Sort(values)
	at := func(share float64) float64 {
		x := share * float64(len(values)-1)
		i := int(x)
		if i+1 >= len(values) {
			return values[len(values)-1]
		}
		return values[i] + (x-float64(i))*(values[i+1]-values[i])
	}
	return Range{at(0.1), at(0.5), at(0.9)}
}

// Times are both ends and the middle as a factor.
func (r Range) Times(f float64) Range { return Range{r.Low * f, r.Middle * f, r.High * f} }

// A Difference is how a burn would have differed, world by world: each is compared with
// itself, so that what is not known of the stove is not taken for a difference.
type Difference struct {
	Smoke    Range   // g of particulates
	Share    Range   // of the smoke: −0.4 is 40 % less
	TooHot   Range   // min
	Smoulder Range   // min
	Lasts    Range   // min until the last load is coals
	Heat     Range   // share of the heat to the room
	PerKilo  Range   // share of the heat to the room from each kg of wood
	Wood     float64 // kg put on
	Worse    float64 // share of the worlds in which smoke, heat over the limits or smouldering grow
}

// By so much a what-if makes a world worse: smoke as a share and in grams, minutes too hot,
// minutes of smouldering.
const (
	worseShare, worseGrams = 0.05, 1.0
	worseMinutes           = 2.0 // as long as a gauge may lag
	worseSmoulder          = 5.0
)

// A Branch is how a burn would have gone: the gauge in hand and the room every so often
// since the start, in eight of ten worlds.
type Branch struct {
	Every      time.Duration
	Place      stove.Place
	Was, Would []float64 // the middle
	Low, High  []float64 // of what would have been
	RoomWould  []float64
	Difference
}

// Ask tells what would have been.
func (p *Past) Ask(edits []Edit) (Branch, error) {
	other, err := With(p.Burn, edits)
	if err != nil {
		return Branch{}, err
	}
	were, would := p.was(), p.live(other)
	return p.branch(were, would, other), nil
}

func (p *Past) branch(were, would []life, other burn.Burn) Branch {
	n := len(were)
	values := make([]float64, n)
	// Each world is held against itself, and then the differences are sorted: what is not
	// known of the stove is in both, and goes out.
	of := func(f func(a, b life) float64) Range {
		for i := range were {
			values[i] = f(were[i], would[i])
		}
		return rangeOf(values)
	}
	wood, otherWood := float64(p.Burn.Used()), float64(other.Used())
	// Until the last load is coals; one that is not by the end lasts until then.
	ends := func(l life) float64 {
		if l.ToCoals < 0 {
			return p.until.Minutes()
		}
		return l.ToCoals.Minutes()
	}
	lastLoad := func(b burn.Burn) float64 {
		e, _ := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Load })
		return e.At.Sub(b.Started).Minutes()
	}
	// Where the last load itself is moved, it ends as much later.
	later := lastLoad(other) - lastLoad(p.Burn)
	out := Branch{Every: worldLook, Place: p.guide.Place}
	out.Wood = otherWood - wood
	out.Smoke = of(func(a, b life) float64 { return b.Smoke - a.Smoke })
	out.Share = of(func(a, b life) float64 { return b.Smoke/math.Max(a.Smoke, 0.1) - 1 })
	out.TooHot = of(func(a, b life) float64 { return (b.TooHot - a.TooHot).Minutes() })
	out.Smoulder = of(func(a, b life) float64 { return (b.Summary.Smoulder - a.Summary.Smoulder).Minutes() })
	for i := range were {
		a, b := were[i], would[i]
		if b.Smoke-a.Smoke > worseGrams && b.Smoke > (1+worseShare)*a.Smoke || (b.TooHot-a.TooHot).Minutes() > worseMinutes ||
			(b.Summary.Smoulder-a.Summary.Smoulder).Minutes() > worseSmoulder || b.Spilling > a.Spilling+time.Minute {
			out.Worse += 1 / float64(n)
		}
	}
	out.Lasts = of(func(a, b life) float64 { return ends(b) - ends(a) + later })
	out.Heat = of(func(a, b life) float64 { return b.heat/math.Max(a.heat, 1) - 1 })
	out.PerKilo = of(func(a, b life) float64 {
		return b.heat/math.Max(otherWood, 0.1)/math.Max(a.heat/math.Max(wood, 0.1), 1) - 1
	})
	// The strip needs the middle, and of what would have been the range, moment by moment.
	steps := math.MaxInt
	for i := range were {
		steps = min(steps, len(were[i].gauge), len(would[i].gauge))
	}
	for t := range steps {
		at := func(lives []life, of func(life) []float64) Range {
			for i := range lives {
				values[i] = of(lives[i])[t]
			}
			return rangeOf(values)
		}
		gauge, room := func(l life) []float64 { return l.gauge }, func(l life) []float64 { return l.room }
		w := at(would, gauge)
		out.Was = append(out.Was, round(at(were, gauge).Middle))
		out.Would, out.Low, out.High = append(out.Would, round(w.Middle)), append(out.Low, round(w.Low)), append(out.High, round(w.High))
		out.RoomWould = append(out.RoomWould, round(at(would, room).Middle))
	}
	return out
}

func round(v float64) float64 { return math.Round(v*10) / 10 }

// CoalsLeft are those that the burn is believed to have left, kg.
func (p *Past) CoalsLeft() units.Kilogram {
	values := make([]float64, len(p.was()))
	for i, l := range p.was() {
		values[i] = float64(l.Coals)
	}
	return units.Kilogram(rangeOf(values).Middle)
}

// HeatToRoom is what the burn is believed to have given the room, with what the stove gave
// for a while after its end, J.
func (p *Past) HeatToRoom() Range {
	values := make([]float64, len(p.was()))
	for i, l := range p.was() {
		values[i] = l.heat
	}
	return rangeOf(values)
}
