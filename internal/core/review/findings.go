package review

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/wood"
)

// A Matter names what could have been done otherwise.
type Matter string

// The findings, in the order of a burn.
const (
	Lit       Matter = "lit"         // from below, where from above smokes less
	ShutEarly Matter = "shut-early"  // the door, before the fire kept its own draft
	AjarLong  Matter = "ajar-long"   // the door stood open for long
	Wet       Matter = "wet"         // wood over what burns clean
	DownEarly Matter = "down-early"  // the air, before the wood was black
	DownLate  Matter = "down-late"   // or never, so that it ran too hot
	TooFar    Matter = "too-far"     // the air, for the load that was in
	TooOpen   Matter = "too-open"    // it went up the flue
	LateLoad  Matter = "late-load"   // on too few coals
	BypassOut Matter = "bypass-open" // the catalyst did not work while it could
	TooMuch   Matter = "too-much"    // of a load, for a room that was warm
	EarlyLoad Matter = "early-load"  // on a fire that was still hot
)

// Matters lists them.
var Matters = []Matter{Lit, ShutEarly, AjarLong, Wet, DownEarly, DownLate, TooFar, TooOpen, LateLoad, BypassOut, TooMuch, EarlyLoad}

// A Finding is one thing that would have gone better otherwise: at which moment, how, and
// what would have come of it.
type Finding struct {
	Code    Matter
	At      time.Duration // since the start
	Edits   []Edit
	Control stove.Control // that it is about
	From    float64       // opening, or moisture, or pieces: what was
	To      float64       // and what would have been better
	By      time.Duration // later, or earlier where it is negative
	Would   Difference
	Again   int // how many of the burns before it were told the same

	ByPractice bool // what everybody finds, and nothing that was computed: Would says nothing
}

// A try is a finding before it is known whether it would have helped.
type try struct {
	Finding
	worth float64
}

// A finder is one thing that is looked for in a burn. It proposes what could have been done
// otherwise, in one or more ways, and leaves it to the worlds whether that would have
// helped: what it goes by is only what makes the question worth asking.
type finder func(f *found) []Finding

// finders, one a code.
var finders = []finder{litFromBelow, doorShutEarly, doorAjarLong, wetWood, downEarly, downLate, turnedTooFar, tooOpen, lateLoad, bypassOpen, tooMuch, earlyLoad}

// found is a burn while it is looked at: what was done in it, sorted by what it was done to,
// so that every finder reads and none searches.
type found struct {
	burn.Burn
	m      burn.Measures
	air    stove.Control
	moves  []burn.Entry  // of the main air
	loads  []burn.Entry  // of wood, kindling left out
	lit    time.Duration // since the start; negative: it was begun on coals
	doors  []burn.Entry
	guide  stove.Gauge
	lasted time.Duration
}

// Under these a difference is within noise, or not worth an evening. They are judgements:
// what an owner would call less smoke, and what is worth being told.
const (
	lessSmoke  = 0.10 // share of the smoke
	leastSmoke = 2.0  // g
	lessHot    = 3.0  // min
	moreHeat   = 0.03 // share of the heat from a kg
	worseHot   = 3.0  // min that a change may make it hotter
	worseSmoke = 0.05 // share of smoke that it may add
	mostShown  = 3
	mayWorsen  = 0.25               // share of its worlds in which a change may make anything worse
	cleanNow   = 3.0                // g/kg, from where a burn is clean and shorter is no gain
	surelyWet  = float64(wood.Damp) // from where no owner of years burns it
	wetWeighs  = 0.3                // among the other findings
	muchLess   = -45                // min by which a clean burn may not be shortened for some grams
)

// Find returns at most three findings, the one that would have helped most first. One
// whose difference is within noise is not among them.
func Find(p *Past, m burn.Measures) []Finding {
	tries := tried(p, m)
	var out []Finding
	for _, t := range tries[:min(len(tries), mostShown)] {
		out = append(out, t.Finding)
	}
	return out
}

// tried are all that would have helped, the one that would have helped most first.
func tried(p *Past, m burn.Measures) []try {
	f := newFound(p.Burn, m)
	hurt := map[Hurt]bool{}
	for _, d := range dangersOf(p.Burn, m.Unburnt) {
		hurt[d.Code] = true
	}
	var tries []try
	for _, find := range finders {
		// Of the ways in which one thing could have been done, the one that helps most.
		best := try{}
		for _, finding := range find(f) {
			branch, err := p.Ask(finding.Edits)
			if err != nil {
				continue
			}
			finding.Would = branch.Difference
			// Less air is no answer to an evening with smoke in the room, or on which it died;
			// and where it ran too hot, what does not make it less so is not the answer.
			lessAir := finding.Code == TooOpen || finding.Code == DownLate
			if lessAir && (hurt[RoomSmoke] || hurt[Died]) || hurt[RanHot] && finding.Would.TooHot.Middle > 0 {
				continue
			}
			if f.m.SmokePerKg < cleanNow && finding.Would.Lasts.Middle < muchLess && finding.Would.TooHot.High >= 0 {
				continue // what burnt clean for long was wished for
			}
			// Where the computation makes little of it, wood that is wet by the meter is told by
			// practice, and nothing is said of what drier would have come to.
			if finding.Code == Wet && finding.From >= surelyWet && worth(finding.Would) == 0 {
				finding.Would, finding.ByPractice = Difference{}, true
				best = try{finding, wetWeighs}
				continue
			}
			if w := worth(finding.Would); w > best.worth {
				best = try{finding, w}
			}
		}
		if best.worth > 0 {
			tries = append(tries, best)
		}
	}
	slices.SortStableFunc(tries, func(a, b try) int {
		if hurt[RanHot] && (a.Would.TooHot.High < 0) != (b.Would.TooHot.High < 0) { // first what makes it less hot
			if a.Would.TooHot.High < 0 {
				return -1
			}
			return 1
		}
		if a.worth > b.worth {
			return -1
		}
		return 1
	})
	return tries
}

// worth is how much a change would have helped: nothing where its interval holds none, or
// where it makes something worse. Smoke that is less, minutes that are not too hot and
// wood that heats more count against each other as an owner would have them.
func worth(d Difference) float64 {
	if d.Worse > mayWorsen {
		return 0
	}
	if d.TooHot.Middle > worseHot || d.Share.Middle > worseSmoke && d.Smoke.Middle > leastSmoke || d.Heat.Middle < -0.4 {
		return 0
	}
	sum := -math.Max(0, d.TooHot.Middle) / 40
	if d.Share.High < -lessSmoke && d.Smoke.Middle < -leastSmoke {
		sum += -d.Share.Middle * math.Min(1, -d.Smoke.Middle/20)
	}
	if d.TooHot.High < 0 && d.TooHot.Middle < -lessHot {
		sum += math.Min(1, -d.TooHot.Middle/20)
	}
	if d.PerKilo.Low > 0 && d.PerKilo.Middle > moreHeat {
		sum += 2 * d.PerKilo.Middle
	}
	return sum
}

func newFound(b burn.Burn, m burn.Measures) *found {
	f := &found{Burn: b, m: m, lit: -1, guide: m.Gauge, lasted: m.Length}
	f.air, f.moves = airMoves(b)
	for e := range b.NotReadings() {
		switch {
		case e.Kind == burn.Light && f.lit < 0:
			f.lit = e.At.Sub(b.Started)
		case e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling:
			f.loads = append(f.loads, *e)
		case e.Kind == burn.Door:
			f.doors = append(f.doors, *e)
		}
	}
	return f
}

func (f *found) since(e burn.Entry) time.Duration { return e.At.Sub(f.Started) }

// samples are those of the replay between two moments, one a minute.
func (f *found) samples(from, to time.Duration) []fire.Sample {
	s := f.m.Replay.Samples
	a, b := min(max(0, int(from/time.Minute)), len(s)), min(max(0, int(to/time.Minute)), len(s))
	return s[a:max(a, b)]
}

// before is the opening of the main air before one of its moves.
func (f *found) before(i int) float64 {
	if i == 0 {
		return 1
	}
	return f.moves[i-1].Opening
}
