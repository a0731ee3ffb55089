package review_test

import (
	"cmp"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/learn"
	"smolder/internal/core/review"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

var lit = time.Date(2026, 1, 14, 17, 0, 0, 0, time.UTC)

// A hidden is a stove that nobody here knows, and an evening in it.
type hidden struct {
	world belief.World
	stove stove.Stove
	setup fire.Setup
}

// way is how an evening goes: minutes from the match until the door is shut, from the load
// until the air is half and until it is at its end.
type way struct {
	shut, half, final float64
	mid, to           float64
	lay               fire.Lay
	moisture          units.Fraction
	pieces            int     // of the load on coals; 0: four
	brisk             float64 // where the air is taken to once the stove draws; 0: it stays open
}

func drawn(n int) []hidden {
	var out []hidden
	for i, w := range belief.Worlds(belief.Usual(), belief.Doubt{}, n) {
		p := fixture.Stoves()[i%2]
		out = append(out, hidden{w, p.Stove, fire.Setup{Stove: p.Stove, House: p.Space.House, Outdoor: 3, Room: 17}})
	}
	return out
}

// moves of an evening: lit from cold, loaded on coals, turned down.
func (h hidden) moves(w way) []fire.Move {
	beech, _ := wood.SpeciesByKey("beech")
	soft, _ := wood.SpeciesByKey("softwood-offcuts")
	air, _ := h.stove.MainAir()
	set := func(o float64) fire.Act {
		return fire.Act{Kind: fire.ActControl, Control: air.Key, Role: air.Role, Opening: o}
	}
	load := func(pieces int, lay fire.Lay) fire.Act {
		return fire.Act{Kind: fire.ActLoad, Load: &fire.Load{Species: beech, Moisture: w.moisture, Pieces: pieces, PieceMass: 1.2, PieceLength: 0.32,
			Direction: stove.Sideways, Lay: lay}}
	}
	kindling := fire.Act{Kind: fire.ActLoad, Load: &fire.Load{Species: soft, Moisture: 0.12, Pieces: 13, PieceMass: 0.09, PieceLength: 0.24,
		Kindling: true, Lay: w.lay, StarterKind: fire.WaxBlock, Direction: stove.Sideways}}
	at := func(m float64) fire.Trigger { return fire.Trigger{At: time.Duration(m * float64(time.Minute))} }
	out := []fire.Move{
		{Do: []fire.Act{set(1), {Kind: fire.ActDoor, Door: fire.Ajar}, load(3, w.lay), kindling, {Kind: fire.ActLight}}},
		{When: at(w.shut), Do: []fire.Act{{Kind: fire.ActDoor, Door: fire.Shut}}},
		{When: at(45), Do: []fire.Act{load(cmp.Or(w.pieces, 4), fire.OnCoals)}},
		{When: at(45 + w.half), Do: []fire.Act{set(w.mid)}},
		{When: at(45 + w.final), Do: []fire.Act{set(w.to)}},
	}
	if w.brisk > 0 {
		out[2].Do = append(out[2].Do, set(w.brisk))
		out = slices.Insert(out, 2, fire.Move{When: at(w.shut + 3), Do: []fire.Act{set(w.brisk)}})
	}
	if b, ok := h.stove.Bypass(); ok {
		out[2].Do = append(out[2].Do, fire.Act{Kind: fire.ActControl, Control: b.Key, Role: b.Role, Opening: 0})
	}
	return out
}

// truth is the evening as it was.
func (h hidden) truth(w way) fire.Result {
	return fire.Run(h.world.In(h.setup), h.world.Moves(h.moves(w)), fire.Options{Until: 6 * time.Hour})
}

// logged is the evening as its owner writes it down.
func (h hidden) logged(w way, came fire.Result, r *rand.Rand, length time.Duration) burn.Burn {
	b := burn.Burn{Stove: h.stove, House: h.setup.House, Outdoor: h.setup.Outdoor, Room: h.setup.Room, Wanted: [2]float64{19, 21.5},
		Started: lit, Ended: lit.Add(length)}
	add := func(at time.Duration, e burn.Entry) {
		e.ID, e.At = fmt.Sprintf("e%03d", len(b.Entries)), lit.Add(at)
		b.Entries = append(b.Entries, e)
	}
	for _, m := range h.moves(w) {
		for _, a := range m.Do {
			if e, ok := burn.EntryOf(a); ok {
				add(m.When.At, e)
			}
		}
	}
	wander := map[stove.Place]float64{}
	for at := 4 * time.Minute; at < length; at += 7 * time.Minute {
		s := came.Samples[int(at/time.Minute)]
		for _, g := range h.stove.Gauges {
			t, _ := s.Reading(g.Place)
			keeps, sigma := math.Exp(-7./20), max(8, 0.04*float64(t-s.Room))
			if g.Place == stove.RoomAir {
				sigma = 0.2
			}
			wander[g.Place] = keeps*wander[g.Place] + math.Sqrt(1-keeps*keeps)*r.NormFloat64()
			add(at, burn.Entry{Kind: burn.Temperature, Place: g.Place, Reading: t + units.Celsius(sigma*wander[g.Place])})
		}
	}
	return b
}

func someWay(r *rand.Rand) way {
	to := 0.15 + 0.45*r.Float64()
	return way{shut: 3 + 8*r.Float64(), half: 3 + 10*r.Float64(), final: 14 + 12*r.Float64(), mid: (1 + to) / 2, to: to,
		lay: []fire.Lay{fire.TopDown, fire.BottomUp}[r.IntN(2)], moisture: units.Fraction(0.15 + 0.1*r.Float64())}
}

// Of burns whose truth is known: heat and the times of the phases come out, though nobody
// has told how the stove differs.
func TestMeasuresAgainstTheTruth(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	heats, phases, n := 0, 0, 0
	for _, h := range drawn(7) {
		w := someWay(r)
		came := h.truth(w)
		b := h.logged(w, came, r, 6*time.Hour)
		known := learn.New()
		got, _ := review.Of(b, known)
		require.True(t, got.Simulated)
		n++
		truth := float64(came.Summary.ToRoom)
		t.Logf("heat %.1f MJ, said %.1f (%.1f to %.1f), by the room %.1f to %.1f", truth/1e6, got.HeatMiddle.MJ(), got.HeatLow.MJ(), got.HeatHigh.MJ(),
			got.House.Low.MJ(), got.House.High.MJ())
		if math.Abs(float64(got.HeatMiddle)/truth-1) < 0.1 {
			heats++
		}
		first := func(p fire.Phase, of []review.Phase) time.Duration {
			for _, x := range of {
				if x.Name == p {
					return x.At
				}
			}
			return -1
		}
		var were []review.Phase
		for _, s := range came.Samples {
			were = append(were, review.Phase{At: s.At, Name: s.Phase})
		}
		t.Logf("charring %v said %v, cruising %v said %v", first(fire.Charring, were), first(fire.Charring, got.Phases),
			first(fire.Cruising, were), first(fire.Cruising, got.Phases))
		off := (first(fire.Cruising, were) - first(fire.Cruising, got.Phases)).Abs()
		if off <= 2*time.Minute && (first(fire.Coaling, were)-first(fire.Coaling, got.Phases)).Abs() <= 12*time.Minute {
			phases++
		}
	}
	assert.GreaterOrEqual(t, heats, n*8/10, "heat within a tenth, of %d", n)
	assert.GreaterOrEqual(t, phases, n*8/10, "charring within two minutes, of %d", n)
}

// Of pairs of evenings that differ in one thing, the range of the difference holds the true
// one at least eight times in ten.
func TestWhatIfsHoldTheTruth(t *testing.T) {
	pairs, seed := 10, uint64(3)
	if os.Getenv("SMOLDER_LONG") != "" {
		pairs, seed = 60, 1991
	}
	r := rand.New(rand.NewPCG(seed, 4))
	held, of := map[string]int{}, 0
	for i, h := range drawn(pairs) {
		w := someWay(r)
		came := h.truth(w)
		b := h.logged(w, came, r, 5*time.Hour)
		past := review.NewPast(b, learn.New())
		other := w
		air, _ := h.stove.MainAir()
		var edits []review.Edit
		var controls []burn.Entry
		for _, e := range b.Valid() {
			if e.Kind == burn.Control && e.Control == air.Key {
				controls = append(controls, e)
			}
		}
		switch i % 4 {
		case 0:
			other.half, other.final = w.half+8, w.final+8
			edits = []review.Edit{{Kind: review.Later, Entry: controls[1].ID, By: 8 * time.Minute}, {Kind: review.Later, Entry: controls[2].ID, By: 8 * time.Minute}}
		case 1:
			other.to = min(1, w.to+0.2)
			edits = []review.Edit{{Kind: review.SetTo, Entry: controls[2].ID, To: other.to}}
		case 2:
			other.lay = map[fire.Lay]fire.Lay{fire.TopDown: fire.BottomUp, fire.BottomUp: fire.TopDown}[w.lay]
			edits = []review.Edit{{Kind: review.LaidOut, Lay: other.lay}}
		case 3:
			other.moisture = 0.14
			edits = []review.Edit{{Kind: review.Drier, To: 0.14}}
		}
		got, err := past.Ask(edits)
		require.NoError(t, err)
		would := h.truth(other)
		share := would.Summary.Smoke/came.Summary.Smoke - 1
		hot := (would.Summary.TooHot - came.Summary.TooHot).Minutes()
		of++
		in := func(name string, x float64, r review.Range, slack float64) {
			if x >= r.Low-slack && x <= r.High+slack {
				held[name]++
			}
		}
		in("smoke", share, got.Share, 0.03)
		in("hot", hot, got.TooHot, 1)
		t.Logf("%d: smoke %+.2f said %+.2f (%+.2f to %+.2f), too hot %+.0f min said %+.0f (%+.0f to %+.0f)", i%4, share, got.Share.Middle,
			got.Share.Low, got.Share.High,
			hot, got.TooHot.Middle, got.TooHot.Low, got.TooHot.High)
	}
	for name, n := range held {
		t.Logf("%s: %d of %d", name, n, of)
		assert.GreaterOrEqual(t, float64(n)/float64(of), 0.75, name)
	}
}
