package review

import (
	"math"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A Hurt names something of a burn that could have hurt somebody, or that undid the evening.
type Hurt string

// They are said before any gram of smoke, the most urgent first.
const (
	BurntFlue Hurt = "chimney-fire"
	Monoxide  Hurt = "monoxide"   // the alarm sounded, or its display showed some
	RoomSmoke Hurt = "room-smoke" // seen, or read as a draft the wrong way
	RanHot    Hurt = "too-hot"    // a gauge was read over its limit
	FlapLong  Hurt = "flap"       // the ash flap stood open on a fire that stood
	TwoFuels  Hurt = "two-fuels"
	Overload  Hurt = "overload" // more wood at once than the manual allows
	DoorLong  Hurt = "door"     // ajar or open for longer than lighting takes
	Died      Hurt = "died"     // it went out with wood in it, or had to be lit again
)

// Hurts lists them.
var Hurts = []Hurt{BurntFlue, Monoxide, RoomSmoke, RanHot, FlapLong, TwoFuels, Overload, DoorLong, Died}

// A Danger is one of them in a burn: when it began, how long it lasted in all, how often.
// It is read from the log alone, and never computed.
type Danger struct {
	Code  Hurt
	At    time.Duration // since the start
	For   time.Duration
	Times int
	Place stove.Place   // of the gauge
	Peak  units.Celsius // that it showed
	PPM   float64
	Mass  units.Kilogram
	Most  units.Kilogram // that the manual allows
	Left  units.Kilogram // wood that was left, as it was put on
}

const (
	longestGap = 15 * time.Minute // between two readings, over which too hot is taken to have lasted
	leastHot   = time.Minute
)

// dangersOf are those of a burn, in the order of [Hurts].
func dangersOf(b burn.Burn, left units.Kilogram) []Danger {
	var out []Danger
	end := b.Ended
	add := func(d Danger) {
		if d.Times > 0 {
			out = append(out, d)
		}
	}
	since := func(at time.Time) time.Duration { return max(0, at.Sub(b.Started)) }
	spans := func(code Hurt, begins, ends func(burn.Entry) bool) (d Danger) {
		d.Code = code
		var from time.Time
		for e := range b.NotReadings() {
			switch {
			case begins(*e):
				if from.IsZero() {
					from = e.At
					if d.Times++; d.Times == 1 {
						d.At = since(e.At)
					}
				}
				d.PPM = math.Max(d.PPM, e.PPM)
			case ends(*e) && !from.IsZero():
				d.For += e.At.Sub(from)
				from = time.Time{}
			}
		}
		if !from.IsZero() {
			d.For += max(0, end.Sub(from))
		}
		return d
	}
	never := func(burn.Entry) bool { return false }
	add(spans(BurntFlue, func(e burn.Entry) bool { return e.Kind == burn.ChimneyFire }, never))
	add(spans(Monoxide, func(e burn.Entry) bool { return e.Kind == burn.COAlarm || e.Kind == burn.CO && e.PPM > 0 },
		func(e burn.Entry) bool { return e.Kind == burn.CO && e.PPM == 0 }))
	add(spans(RoomSmoke, func(e burn.Entry) bool {
		return e.Kind == burn.Smoke && e.Smoke == burn.SmokeRoom || e.Kind == burn.Draft && !e.Reported && e.Draft < 0
	}, func(e burn.Entry) bool {
		return e.Kind == burn.Smoke && e.Smoke == burn.SmokeGone || e.Kind == burn.Draft && !e.Reported && e.Draft >= 0 || e.Kind == burn.WentOut
	}))
	add(ranHot(b))
	add(flapOf(b))
	add(twoFuels(b))
	add(overloadOf(b))
	add(doorOf(b))
	add(diedOf(b, left))
	return out
}

// ranHot is for how long any gauge was read over its limit, kindling's flare left out.
func ranHot(b burn.Burn) (d Danger) {
	d.Code = RanHot
	for _, g := range b.Stove.Gauges {
		if !g.Place.OfFire() || g.Band.TooHot <= 0 {
			continue
		}
		of := Danger{Code: RanHot, Place: g.Place}
		var from, last time.Time
		for _, r := range b.Readings(g.Place) {
			hot := r.Reading >= g.Band.TooHot && !b.KindlingFlares(g, r)
			if hot && from.IsZero() {
				if from = r.At; of.Times == 0 {
					of.At = max(0, r.At.Sub(b.Started))
				}
				of.Times++
			}
			if hot {
				of.Peak = max(of.Peak, r.Reading)
			}
			if !from.IsZero() && (!hot || r.At.Sub(last) > longestGap && !last.IsZero() && last.After(from)) {
				of.For += min(r.At.Sub(from), last.Sub(from)+longestGap)
				from = time.Time{}
			}
			last = r.At
		}
		if !from.IsZero() {
			of.For += max(leastHot, last.Sub(from))
		}
		if of.Times > 0 && of.For > d.For {
			d = of
		}
	}
	return d
}

func flapOf(b burn.Burn) (d Danger) {
	d.Code = FlapLong
	main, _ := b.Stove.MainAir()
	for _, c := range b.Stove.Controls {
		if c.Role != stove.AshFlap || c.Key == main.Key {
			continue
		}
		var from time.Time
		take := func(until time.Time) {
			if long := until.Sub(from); !from.IsZero() && long > b.FlapMay() {
				if d.Times++; d.Times == 1 {
					d.At = max(0, from.Sub(b.Started))
				}
				d.For += long
			}
			from = time.Time{}
		}
		for e := range b.NotReadings() {
			if e.Kind != burn.Control || e.Control != c.Key {
				continue
			}
			if e.Opening > 0.05 && from.IsZero() {
				from = e.At
			} else if e.Opening <= 0.05 {
				take(e.At)
			}
		}
		take(b.Ended)
	}
	return d
}

func doorOf(b burn.Burn) (d Danger) {
	d.Code = DoorLong
	stands, from := fire.Shut, time.Time{}
	take := func(until time.Time) {
		long := until.Sub(from)
		if stands == fire.Ajar && long >= b.AjarMay() || stands == fire.Open && long >= policy.DoorOpenLong {
			if d.Times++; d.Times == 1 {
				d.At = max(0, from.Sub(b.Started))
			}
			d.For += long
		}
	}
	for e := range b.NotReadings() {
		if e.Kind == burn.Door || e.Kind == burn.WentOut {
			take(e.At)
			if from = e.At; e.Kind == burn.Door {
				stands = e.Door
			} else {
				stands = fire.Shut
			}
		}
	}
	take(b.Ended)
	return d
}

func twoFuels(b burn.Burn) (d Danger) {
	d.Code = TwoFuels
	var wood, mineral *burn.Entry
	for e := range b.NotReadings() {
		switch {
		case e.Kind == burn.Mineral && e.Load != nil:
			mineral = e
			d.Mass += e.Load.Mass()
		case e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling:
			wood = e
		}
	}
	if mineral != nil && (wood != nil || !b.Stove.Family.BurnsMineral()) {
		d.Times, d.At = 1, max(0, mineral.At.Sub(b.Started))
	}
	return d
}

// overloadOf is the largest load that was over the manual's.
func overloadOf(b burn.Burn) (d Danger) {
	d.Code = Overload
	d.Most, _ = b.Stove.LargestLoad()
	for e := range b.NotReadings() {
		if e.Kind != burn.Load || e.Load == nil {
			continue
		}
		for _, f := range b.Dangers(e.At) {
			if f.Kind == burn.Overload && f.Mass > d.Mass {
				d.Mass = f.Mass
				if d.Times++; d.Times == 1 {
					d.At = max(0, e.At.Sub(b.Started))
				}
			}
		}
	}
	return d
}

// diedOf is how often it went out with wood in it, or had to be lit again.
func diedOf(b burn.Burn, left units.Kilogram) (d Danger) {
	d.Code, d.Left = Died, left
	lit := 0
	for e := range b.NotReadings() {
		switch e.Kind {
		case burn.Light:
			if lit++; lit > 1 {
				if d.Times++; d.Times == 1 {
					d.At = max(0, e.At.Sub(b.Started))
				}
			}
		case burn.WentOut:
			if left > policy.SomeWood {
				if d.Times == 0 {
					d.At = max(0, e.At.Sub(b.Started))
				}
				d.Times = max(d.Times, 1)
			}
		}
	}
	return d
}

// What a burn did that is no phase of a fire that goes well.
const (
	// Smouldering is a load that gasses without flames for long.
	Smouldering fire.Phase = "smouldering"
	// NotCaught is wood that lay there and never flamed.
	NotCaught fire.Phase = "not caught"
)

// smoulderFor is for how long it must have gone on to be a phase of its own.
const smoulderFor = 10 * time.Minute

// phasesOf are the states of a burn, minute by minute as the replay has them, those set
// right that the replay alone calls cruising: a load that gasses without flames smoulders,
// and one of which hardly anything was ever alight has not caught.
func phasesOf(samples []fire.Sample) []Phase {
	names := make([]fire.Phase, len(samples))
	for i, s := range samples {
		names[i] = s.Phase
		switch s.Phase {
		case fire.Charring, fire.Cruising, fire.Establishing:
			if s.Flags&fire.Smoulders != 0 && s.Flame < 0.1 {
				names[i] = Smouldering
			}
		}
	}
	// What lasts only some minutes is part of what is around it.
	for i := 0; i < len(names); {
		j := i
		for j < len(names) && names[j] == names[i] {
			j++
		}
		if names[i] == Smouldering && time.Duration(j-i)*time.Minute < smoulderFor {
			for k := i; k < j; k++ {
				names[k] = samples[k].Phase
			}
		}
		i = j
	}
	var out []Phase
	for i, n := range names {
		if k := len(out); k == 0 || out[k-1].Name != n {
			out = append(out, Phase{samples[i].At, n})
		}
	}
	return out
}

// onDead tells of each load that was put on with too few coals to light it, and without
// kindling.
func onDead(b burn.Burn, samples []fire.Sample) (n int) {
	kindled := time.Time{}
	for e := range b.NotReadings() {
		switch {
		case e.Kind == burn.Light, e.Kind == burn.Load && e.Load != nil && e.Load.Kindling:
			kindled = e.At
		case e.Kind == burn.Load && e.Load != nil:
			i := int(e.At.Sub(b.Started)/time.Minute) - 1
			if i < 0 || i >= len(samples) || e.At.Sub(kindled) < 10*time.Minute {
				continue
			}
			if s := samples[i]; s.Phase == fire.Out || s.Phase == fire.Coaling && float64(s.Coals) < 0.3*belief.LeastCoals(b.Stove) {
				n++
			}
		}
	}
	return n
}
