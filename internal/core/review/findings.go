package review

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
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

// litFromBelow: of wood above the flames the gas goes up before it can burn; of wood below
// them it passes through. Rafts are lit from above too.
func litFromBelow(f *found) []Finding {
	for _, l := range f.loads {
		if lay := l.Load.Lay; f.lit >= 0 && lay != fire.OnCoals && lay != fire.TopDown && lay != fire.Raft {
			return []Finding{{Code: Lit, At: f.lit, Edits: []Edit{{Kind: LaidOut, Lay: fire.TopDown}}}}
		}
	}
	return nil
}

// doorShutEarly: within the first minutes. Before the flue is warm it pulls little, and the
// door is the only inlet that is large enough; after some six minutes it does not matter.
//
// It is not asked: how hard a gap blows at the fire hangs on a finger's width, which no log
// has, and advised by a computation somebody would leave a door open on a fire that runs away.
func doorShutEarly(f *found) []Finding {
	if !doorsAreCalibrated {
		return nil
	}
	for _, d := range f.doors {
		at := f.since(d)
		if f.lit < 0 || at < f.lit || d.Door != fire.Shut || at-f.lit > 6*time.Minute {
			continue
		}
		by := []time.Duration{5 * time.Minute, 9 * time.Minute}
		var out []Finding
		for _, b := range by {
			out = append(out, Finding{Code: ShutEarly, At: at, By: b, Edits: []Edit{{Kind: Later, Entry: d.ID, By: b}}})
		}
		return out
	}
	return nil
}

// doorsAreCalibrated tells whether the gap of a door is known well enough for advice to leave
// it longer.
const doorsAreCalibrated = false

// doorAjarLong: a door that stands ajar lets in several times what the flames use. It blows
// at them, and what they give goes up the flue; half the time is tried.
func doorAjarLong(f *found) []Finding {
	for i, d := range f.doors {
		if d.Door == fire.Shut || i+1 >= len(f.doors) || f.doors[i+1].Door != fire.Shut {
			continue
		}
		if long := f.doors[i+1].At.Sub(d.At); long > 15*time.Minute {
			by := -long / 2
			return []Finding{{Code: AjarLong, At: f.since(f.doors[i+1]), By: by, Edits: []Edit{{Kind: Later, Entry: f.doors[i+1].ID, By: by}}}}
		}
	}
	return nil
}

// wetWood: each kilogram of water costs 2.6 MJ before anything burns, and cools the flames
// that would burn the gas. All of the wood is tried at what a meter reads of ready wood.
func wetWood(f *found) []Finding {
	const dry, wet = 0.17, wood.ReadyTo // dry basis; between them it is not worth a word
	worst, at := units.Fraction(0), time.Duration(0)
	for _, l := range f.loads {
		if l.Load.Guessed {
			continue // nobody has read it: drier wood is no advice where nobody knows how dry it is
		}
		if l.Load.Moisture > worst {
			worst, at = l.Load.Moisture, f.since(l)
		}
	}
	if worst <= wet {
		return nil
	}
	return []Finding{{Code: Wet, At: at, From: float64(worst), To: dry, Edits: []Edit{{Kind: Drier, To: dry}}}}
}

// downEarly: each turn-down within half an hour of a load, later by some minutes, and those
// after it with it, so that their order stays. Wood that is not yet burning all over goes
// on gassing when its air is taken back, and there is no flame to burn it.
func downEarly(f *found) []Finding {
	var out []Finding
	for i, m := range f.moves {
		if m.Opening >= f.before(i)-0.1 || !f.soonAfterLoad(m) {
			continue
		}
		for _, by := range []time.Duration{4 * time.Minute, 8 * time.Minute, 14 * time.Minute} {
			edits := []Edit{{Kind: Later, Entry: m.ID, By: by}}
			for _, next := range f.moves[i+1:] {
				if next.Opening < f.before(i) && next.At.Sub(m.At) < 40*time.Minute {
					edits = append(edits, Edit{Kind: Later, Entry: next.ID, By: by})
				}
			}
			out = append(out, Finding{Code: DownEarly, At: f.since(m), By: by, Control: f.air, From: m.Opening, Edits: edits})
		}
		if len(out) >= 9 {
			break
		}
	}
	return out
}

// soonAfterLoad tells whether a move of the air is of the charring of a load.
func (f *found) soonAfterLoad(m burn.Entry) bool {
	for _, l := range f.loads {
		if since := m.At.Sub(l.At); since > 0 && since < 30*time.Minute {
			return true
		}
	}
	return false
}

// downLate: where it ran too hot, the air back before it did. It is asked of every load,
// and the last two answers are kept: what makes a stove too hot is seldom its first wood.
func downLate(f *found) []Finding {
	if f.m.TooHot < 2*time.Minute && f.m.Replay.Summary.TooHot < 2*time.Minute {
		return nil
	}
	var out []Finding
	for _, l := range f.loads {
		load := f.since(l)
		for _, wait := range []time.Duration{10 * time.Minute, 18 * time.Minute} {
			at := load + wait
			if at >= f.lasted-10*time.Minute || f.openingAt(at) < 0.45 {
				continue
			}
			to := f.air.Scale.Nearest(1. / 3)
			out = append(out, Finding{Code: DownLate, At: at, Control: f.air, From: f.openingAt(at), To: to, By: wait,
				Edits: []Edit{{Kind: Turned, By: at, Key: f.air.Key, To: to}}})
		}
	}
	return out[max(0, len(out)-4):]
}

// openingAt is where the main air stood at a moment; before anybody moved it, open.
func (f *found) openingAt(at time.Duration) float64 {
	o := 1.0
	for _, m := range f.moves {
		if f.since(m) <= at {
			o = m.Opening
		}
	}
	return o
}

// turnedTooFar: the last setting one and two marks further open. Below what a load needs to
// flame it smoulders; how far that is differs more from stove to stove than anything else.
func turnedTooFar(f *found) []Finding {
	if len(f.moves) == 0 {
		return nil
	}
	last := f.moves[len(f.moves)-1]
	var out []Finding
	for _, more := range []float64{0.1, 0.2} {
		to := f.air.Scale.Nearest(last.Opening + more)
		if to > last.Opening+0.02 && last.Opening < 0.5 {
			out = append(out, Finding{Code: TooFar, At: f.since(last), Control: f.air, From: last.Opening, To: to, Edits: []Edit{{Kind: SetTo, Entry: last.ID, To: to}}})
		}
	}
	return out
}

// tooOpen: the last setting lower, where the wood was gone soon or its heat up the flue:
// more air than the gas needs carries its heat away. One that was never turned down is
// tried at a third of the way, a quarter of an hour after the last load.
func tooOpen(f *found) []Finding {
	if len(f.moves) == 0 { // never touched at all
		if len(f.loads) == 0 || f.air.Key == "" {
			return nil
		}
		at, to := f.since(f.loads[len(f.loads)-1])+15*time.Minute, f.air.Scale.Nearest(1./3)
		return []Finding{{Code: TooOpen, At: at, Control: f.air, From: 1, To: to, Edits: []Edit{{Kind: Turned, By: at, Key: f.air.Key, To: to}}}}
	}
	last := f.moves[len(f.moves)-1]
	if last.Opening < 0.3 || len(f.loads) == 0 {
		return nil
	}
	if last.Opening >= 0.95 { // never turned down
		at := f.since(f.loads[len(f.loads)-1]) + 15*time.Minute
		to := f.air.Scale.Nearest(1. / 3)
		return []Finding{{Code: TooOpen, At: at, Control: f.air, From: last.Opening, To: to, Edits: []Edit{{Kind: Turned, By: at, Key: f.air.Key, To: to}}}}
	}
	to := f.air.Scale.Nearest(last.Opening * 0.65)
	return []Finding{{Code: TooOpen, At: f.since(last), Control: f.air, From: last.Opening, To: to, Edits: []Edit{{Kind: SetTo, Entry: last.ID, To: to}}}}
}

// lateLoad: a load on coals that had gone down, sooner, and all that was done to it with
// it. Under some three grams of coals for each litre of firebox a load takes long to flame.
func lateLoad(f *found) []Finding {
	acts := slices.Collect(f.NotReadings())
	for _, l := range f.loads {
		at := f.since(l)
		if l.Load.Lay != fire.OnCoals || at < 40*time.Minute {
			continue
		}
		s := f.samples(at-time.Minute, at)
		if len(s) == 0 || float64(s[0].Coals) > 0.003*float64(f.Stove.Volume) {
			continue
		}
		by := -15 * time.Minute
		var edits []Edit
		for _, e := range acts {
			if since := e.At.Sub(l.At); Moves(*e) && since >= -4*time.Minute && since < time.Hour {
				edits = append(edits, Edit{Kind: Later, Entry: e.ID, By: by})
			}
		}
		return []Finding{{Code: LateLoad, At: at, By: by, Edits: edits[:min(len(edits), mostEdits)]}}
	}
	return nil
}

// heldFor is how many minutes a catalyst must have been hot before its bypass is shut.
const heldFor = 6

// bypassOpen: shut once the catalyst was hot for some minutes. Open, the smoke goes past it,
// and shut too early it clogs: so it is asked only where it was hot for twice as long.
func bypassOpen(f *found) []Finding {
	bypass, ok := f.Stove.Bypass()
	if !ok {
		return nil
	}
	var moves []burn.Entry
	for e := range f.NotReadings() {
		if e.Kind == burn.Control && e.Control == bypass.Key {
			moves = append(moves, *e)
		}
	}
	open, since, hot := true, time.Duration(0), 0
	lightOff := stove.CatalystProbe.DefaultBand().Low
	for _, s := range f.m.Replay.Samples {
		for len(moves) > 0 && f.since(moves[0]) <= s.At {
			open, moves = moves[0].Opening > 0.5, moves[1:]
		}
		if t, _ := s.Reading(stove.CatalystProbe); open && t > lightOff {
			if hot++; hot == heldFor {
				since = s.At
			}
		} else if hot < heldFor {
			hot = 0
		}
	}
	if hot < 2*heldFor {
		return nil
	}
	return []Finding{{Code: BypassOut, At: since, Control: bypass, From: 1, Edits: []Edit{{Kind: Turned, By: since, Key: bypass.Key}}}}
}

// tooMuch: a piece fewer where the room was more than a degree over what is wanted for an
// hour, half the pieces where it was three degrees, and the last load not at all where
// there was another before it. Nobody uses that heat, and it is the wood that a smaller
// load saves.
func tooMuch(f *found) []Finding {
	over, far := 0, 0
	for _, s := range f.m.Replay.Samples {
		room := float64(s.Room)
		if f.Wanted[1] <= f.Wanted[0] {
			break
		}
		if room > f.Wanted[1]+1 {
			over++
		}
		if room > f.Wanted[1]+3 {
			far++
		}
	}
	if over < 60 || len(f.loads) == 0 {
		return nil
	}
	last := f.loads[len(f.loads)-1]
	pieces := last.Load.Pieces
	fewer := func(to int) Finding {
		return Finding{Code: TooMuch, At: f.since(last), From: float64(pieces), To: float64(to), Edits: []Edit{{Kind: SetTo, Entry: last.ID, To: float64(to)}}}
	}
	var out []Finding
	if pieces >= 2 {
		out = append(out, fewer(pieces-1))
	}
	if far >= 60 && pieces >= 4 {
		out = append(out, fewer(pieces/2))
	}
	if far >= 60 && len(f.loads) > 1 {
		out = append(out, Finding{Code: TooMuch, At: f.since(last), From: float64(pieces), Edits: []Edit{{Kind: Without, Entry: last.ID}}})
	}
	return out
}

// earlyLoad: a load that was put on while the gauge was over the middle of its band and
// flames stood, later by some minutes. On wood that still flames it runs hot, and its gas
// finds no air.
func earlyLoad(f *found) []Finding {
	gauge := f.m.Curve(f.Burn)
	acts := slices.Collect(f.NotReadings())
	var out []Finding
	for i, l := range f.loads {
		at := f.since(l)
		t, ok := gauge(at)
		s := f.samples(at-time.Minute, at)
		hot := ok && float64(t) > (float64(f.guide.Band.Low)+float64(f.guide.Band.High))/2
		if i == 0 || l.Load.Lay != fire.OnCoals || !hot || len(s) == 0 || float64(s[0].Wood) < 0.3*f.loads[i-1].Load.Dry() {
			continue
		}
		for _, by := range []time.Duration{12 * time.Minute, 25 * time.Minute} {
			var edits []Edit
			for _, e := range acts {
				if since := e.At.Sub(l.At); Moves(*e) && since >= -4*time.Minute && since < 40*time.Minute {
					edits = append(edits, Edit{Kind: Later, Entry: e.ID, By: by})
				}
			}
			out = append(out, Finding{Code: EarlyLoad, At: at, By: by, Edits: edits[:min(len(edits), mostEdits)]})
		}
	}
	return out[max(0, len(out)-4):]
}
