package trouble

import (
	"math"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
)

// A Complaint is what somebody says happens.
type Complaint string

// The complaints.
const (
	SmokeIn   Complaint = "smoke-in"   // smoke in the room when the door is opened
	NotHot    Complaint = "not-hot"    // the gauge does not come into its band
	BlackPane Complaint = "black-pane" // the glass is black by morning
	DiesShut  Complaint = "dies-shut"  // it dies when the door is shut, or the air
	RunsAway  Complaint = "runs-away"  // too hot, whatever is turned down
	SmokesOut Complaint = "smokes-out" // blue-grey at the cap for long
)

// Complaints are all of them.
var Complaints = []Complaint{SmokeIn, NotHot, BlackPane, DiesShut, RunsAway, SmokesOut}

// How a complaint is judged, on an evening of this stove.
//
//	spilling   s      20–120   of smoke into the room, that somebody notices
//	glass      share  0.3–0.6  of a pane's edge that is called black
//	smoky      min    20–60    of grey smoke after the first half hour
//	died       min    5–20     without flames with wood in, after the door is shut
const (
	spillsFor = 40 * time.Second
	blackFrom = 0.45
	smokyFor  = 35 * time.Minute
	diedFor   = 12 * time.Minute
	evening   = 5 * time.Hour
	opensFor  = time.Minute // a door to look in, by who has a load to put on
	everyLook = time.Minute
	evenings  = 14 // of stoves like this one, with each cause
	// missed is how often somebody complains of what is not so, or does not of what is.
	missed = 0.08
)

// told are how likely each complaint is with a cause: the share of evenings of stoves like this one
// on which it happens.
func told(w wish.Wish, prior belief.Prior, x *belief.Wrong) complaints {
	setup, moves := anEvening(w)
	worlds := belief.Worlds(prior, belief.Doubt{}, evenings)
	found := make([]map[Complaint]bool, len(worlds))
	parallel.InParallel(len(worlds), func(i int) {
		at, steps := worlds[i].With(x, setup, moves)
		saw := &onlooker{stove: w.Stove, every: everyLook}
		fire.Run(at, steps, fire.Options{Until: evening, Every: everyLook, Watch: saw, Coarse: true})
		found[i] = saw.complains()
	})
	out := complaints{}
	for _, c := range Complaints {
		n := 0.5
		for _, f := range found {
			if f[c] {
				n++
			}
		}
		out[c] = missed + (1-2*missed)*n/float64(len(found)+1)
	}
	return out
}

// anEvening is a usual fire of a stove: from cold, one load on its coals, turned down, and the door
// opened once more.
func anEvening(w wish.Wish) (fire.Setup, []fire.Move) {
	w.Start, w.Aim, w.For = wish.Cold, wish.Hold, evening
	main, way := max(1, w.MostPieces(0)*2/3), stove.EndOn
	if w.Wood.Stack.PieceLength > w.Stove.LongestPiece(stove.EndOn) {
		way = stove.Sideways
	}
	r := plan.Recipe{First: 1, Main: main, Lay: fire.TopDown, Direction: way, Final: 0.35, Brisk: 1, Most: 1, Pause: 6 * time.Minute}
	moves := plan.Fires(plan.Steps(w, r))
	open := fire.Move{When: fire.Trigger{After: 50 * time.Minute}, Do: []fire.Act{{Kind: fire.ActDoor, Door: fire.Open}}}
	shut := fire.Move{When: fire.Trigger{After: opensFor}, Do: []fire.Act{{Kind: fire.ActDoor, Door: fire.Shut}}}
	return w.Setup(), append(moves, open, shut)
}

// An onlooker is somebody who watches an evening and complains.
type onlooker struct {
	stove stove.Stove
	every time.Duration

	at, spills, smoky, dead time.Duration
	longest                 time.Duration // without flames, with wood in
	pane, hottest           float64
	hot                     bool
}

// See looks once.
func (o *onlooker) See(f *fire.Fire) {
	l, signs := f.Look(), f.Signs()
	o.at += o.every
	if l.Spilling {
		o.spills += o.every
	}
	if l.Dense > 1 && o.at > 30*time.Minute {
		o.smoky += o.every
	}
	if o.dead += o.every; l.Flame > policy.FlameSeen || l.Wood < someWood || o.at < 20*time.Minute {
		o.dead = 0
	}
	o.longest = max(o.longest, o.dead)
	o.pane += signs.Blackens * o.every.Hours()
	o.hot = o.hot || l.Hot
	if g, ok := o.stove.Guide(); ok {
		if v, reads := f.Reading(g.Place); reads {
			o.hottest = math.Max(o.hottest, v)
		}
	}
}

const someWood = 0.5 // kg that is not char

// Fork is never asked: nobody branches an evening.
func (o *onlooker) Fork() fire.Watcher { c := *o; return &c }

func (o *onlooker) complains() map[Complaint]bool {
	out := map[Complaint]bool{SmokeIn: o.spills >= spillsFor, BlackPane: o.pane >= blackFrom, DiesShut: o.longest >= diedFor, RunsAway: o.hot,
		SmokesOut: o.smoky >= smokyFor}
	if g, ok := o.stove.Guide(); ok {
		out[NotHot] = o.hottest < float64(g.Band.Low)
	}
	return out
}
