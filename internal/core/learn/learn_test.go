package learn_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/learn"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// winter is some burns of a stove that nobody knows, as its owner logged them.
func winter(which, n int) []burn.Burn {
	p := fixture.Stoves()[fixture.Auntie]
	tuning := belief.Worlds(belief.Usual(), belief.Doubt{}, which+2)[which].Tuning()
	r := rand.New(rand.NewPCG(uint64(which), 44))
	beech, _ := wood.SpeciesByKey("beech")
	air, _ := p.MainAir()
	var out []burn.Burn
	for k := range n {
		lit := time.Date(2025, 11, 1, 17, 0, 0, 0, time.UTC).AddDate(0, 0, 2*k)
		b := burn.Burn{Stove: p.Stove, House: p.Space.House, Outdoor: units.Celsius(9*r.Float64() - 1), Room: 17, Wanted: [2]float64{19, 21.5},
			Started: lit, Ended: lit.Add(5 * time.Hour)}
		add := func(minutes float64, e burn.Entry) {
			e.ID, e.At = fmt.Sprintf("%d-%d", k, len(b.Entries)), lit.Add(time.Duration(minutes*float64(time.Minute)))
			b.Entries = append(b.Entries, e)
		}
		set := func(minutes, o float64) { add(minutes, burn.Entry{Kind: burn.Control, Control: air.Key, Opening: o}) }
		load := func(minutes float64, pieces int, lay fire.Lay) {
			add(minutes, burn.Entry{Kind: burn.Load, Load: &fire.Load{Species: beech, Moisture: 0.17, Pieces: pieces, PieceMass: 1.2,
				PieceLength: 0.32, Direction: stove.Sideways, Lay: lay}})
		}
		set(0, 1)
		load(0, 3, fire.TopDown)
		add(0, burn.Entry{Kind: burn.Light})
		load(45, 3+r.IntN(2), fire.OnCoals)
		set(55, 0.6)
		set(65, 0.1+0.4*r.Float64())
		setup := b.Setup()
		setup.Tuning = tuning
		came := fire.Run(setup, b.Steps(), fire.Options{Until: 5 * time.Hour})
		for at := 5; at < 290; at += 12 {
			s := came.Samples[at]
			for _, g := range p.Gauges {
				t, _ := s.Reading(g.Place)
				off := 3.0
				if g.Place == stove.RoomAir {
					off = 0.1
				}
				add(float64(at), burn.Entry{Kind: burn.Temperature, Place: g.Place, Reading: t + units.Celsius(off*r.NormFloat64())})
			}
		}
		out = append(out, b)
	}
	return out
}

// What burns teach is used once it has shown that it foretells, and not where it does not.
func TestUsedWhileItForetells(t *testing.T) {
	known := learn.New()
	assert.False(t, known.InUse())
	assert.Nil(t, known.ForPlans())
	burns := winter(1, 8)
	for i, b := range burns {
		var lesson learn.Lesson
		known, lesson = known.Burnt(b)
		assert.Positive(t, lesson.Readings)
		assert.Equal(t, i > 0, lesson.Foretold, "the first has nothing that it could be foretold by")
	}
	now, usual, n := known.Foretells()
	assert.Equal(t, 7, n)
	assert.Less(t, now, 0.7*usual)
	assert.True(t, known.InUse())
	require.NotNil(t, known.ForPlans())
	again := learn.New()
	for _, b := range burns {
		again, _ = again.Burnt(b)
	}
	assert.Equal(t, known, again, "the same burns teach the same")

	wrong := known
	wrong.Trials = []learn.Trial{{Usual: 5, Known: 9}, {Usual: 5, Known: 9}, {Usual: 5, Known: 4}}
	assert.False(t, wrong.InUse(), "it has learned something wrong")
	assert.Equal(t, belief.Usual(), wrong.Belief())
	few := known
	few.Trials = few.Trials[:2]
	assert.False(t, few.InUse(), "two are too few")
}

// Burns that say nothing teach nothing.
func TestBurnsThatTeachNothing(t *testing.T) {
	known, _ := learn.New().Burnt(winter(1, 1)[0])
	silent := winter(1, 1)[0]
	silent.Entries = silent.Entries[:6]
	mineral := winter(1, 1)[0]
	mineral.Entries = append(mineral.Entries, burn.Entry{ID: "coal", Kind: burn.Mineral, At: mineral.Started.Add(time.Hour)})
	open := winter(1, 1)[0]
	open.Ended = time.Time{}
	for name, b := range map[string]burn.Burn{"unread": silent, "mineral": mineral, "open": open} {
		next, lesson := known.Burnt(b)
		assert.Zero(t, lesson.Readings, name)
		assert.Equal(t, known.Prior, next.Prior, name)
	}
}

// A change makes unknown again what it touches, and no more.
func TestChanges(t *testing.T) {
	known := learn.New()
	for _, b := range winter(1, 5) {
		known, _ = known.Burnt(b)
	}
	_, before, _ := known.Prior.Spread("probe")
	_, inlets, _ := known.Prior.Spread("inlets")
	changed := known.Changed(belief.NewGauge)
	mean, after, _ := changed.Prior.Spread("probe")
	_, usual, _ := belief.Usual().Spread("probe")
	assert.Less(t, before, usual)
	assert.InDelta(t, usual, after, 1e-9)
	assert.Zero(t, mean)
	_, same, _ := changed.Prior.Spread("inlets")
	assert.InDelta(t, inlets, same, 1e-9)
	assert.Equal(t, learn.New(), known.Changed(belief.Moved))
	for _, c := range belief.Changes {
		assert.NotEqual(t, known.Prior, known.Changed(c).Prior, c)
	}
	older := known.Prior
	for range 500 {
		older = older.Older()
	}
	for _, name := range older.Names {
		_, s, _ := older.Spread(name)
		_, most, _ := belief.Usual().Spread(name)
		assert.LessOrEqual(t, s, most+1e-9, "%s: it never grows wider than usual", name)
	}
}

// What is said of a stove is what is true of it, within what is said besides.
func TestTraits(t *testing.T) {
	which := 3
	p := fixture.Stoves()[fixture.Auntie]
	tuning := belief.Worlds(belief.Usual(), belief.Doubt{}, which+2)[which].Tuning()
	known := learn.New()
	for _, b := range winter(which, 10) {
		known, _ = known.Burnt(b)
	}
	said := 0
	var outside []learn.TraitKind
	for _, trait := range learn.Traits(p.Stove, known.Prior) {
		truth := map[learn.TraitKind]float64{learn.Inlets: tuning.Inlets, learn.Exchange: tuning.Exchange, learn.Burning: tuning.Shield,
			learn.RoomLoss: tuning.RoomLoss}[trait.Kind]
		if truth == 0 {
			continue
		}
		said++
		if truth-1 < trait.Low-0.05 || truth-1 > trait.High+0.05 {
			outside = append(outside, trait.Kind) // of eight in ten two are
		}
		assert.LessOrEqual(t, trait.Low, trait.Share)
		assert.LessOrEqual(t, trait.Share, trait.High)
	}
	assert.Positive(t, said)
	assert.LessOrEqual(t, len(outside), 1, "%v", outside)
	sp, ok := learn.SpaceOf(p.Space.House, p.Space.Wanted, 2, known.Prior)
	require.True(t, ok)
	assert.InDelta(t, 1, sp.Middle/(p.Space.House.Loss()*tuning.RoomLoss), 0.15)
	assert.LessOrEqual(t, sp.CoastLow, sp.CoastMiddle)
	assert.LessOrEqual(t, sp.CoastMiddle, sp.CoastHigh)
	low, high, ok := learn.UsefulPart(p.Stove, p.Space.House, known.Prior)
	require.True(t, ok)
	assert.Less(t, low, high)
	mark, ok := fire.LeakAs(p.Stove, fire.Tuning{Leak: 1}, "lever")
	require.True(t, ok)
	more, _ := fire.LeakAs(p.Stove, fire.Tuning{Leak: 2}, "lever")
	assert.Greater(t, more, mark)
	assert.False(t, math.IsNaN(more))
}
