package wood_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// Volumes worked by hand, L.
func TestOutlinesByHand(t *testing.T) {
	for _, c := range []struct {
		name string
		got  units.Litre
		want float64
	}{
		{"a level row: 4 × 1.2 × 0.33 m", wood.Row{Length: 4, High: 1.2, Depth: 0.33}.Outline(), 1584},
		{"two rows of it", wood.Row{Length: 4, High: 1.2, Depth: 0.33, Rows: 2}.Outline(), 3168},
		{"a straight top from 1.5 to 0.9 m", wood.Row{Length: 4, High: 1.5, Low: 0.9, Depth: 0.5}.Outline(), 2400},
		{"a hump: (1 + 4·1.6 + 1)/6 = 1.4 m", wood.Row{Length: 3, High: 1, Middle: 1.6, Low: 1, Depth: 0.5}.Outline(), 2100},
		{"a wedge to the ground: (1.2 + 4·0.6 + 0)/6 = 0.6 m", wood.Row{Length: 5, High: 1.2, Middle: 0.6, Depth: 0.4}.Outline(), 1200},
		{"5 m along a slope that rises 3 m is 4 m of row", wood.Row{Length: 5, High: 1, Depth: 0.5, Rise: 3}.Outline(), 2000},
		{"steeper than a wall", wood.Row{Length: 1, High: 1, Depth: 0.5, Rise: 3}.Outline(), 0},
		{"a cone 2 m across and 1.5 m high", wood.Heap{Length: 2, Width: 2, Height: 1.5}.Outline(), 1570.8},
		{"a ridge 4 m long, whichever side is called long", wood.Heap{Length: 2, Width: 4, Height: 1.5}.Outline(), 4570.8},
		{"a cord", wood.Cords(1), 3624.6},
		{"three face cords of 16 in pieces are a cord", wood.FaceCords(3, 0.4064), 3624.6},
		{"nothing", wood.Row{}.Outline(), 0},
	} {
		assert.InDelta(t, c.want, float64(c.got), 0.1, "%s", c.name)
	}
}

func TestAmountsAreRanges(t *testing.T) {
	beech, err := wood.SpeciesByKey("beech")
	require.NoError(t, err)
	row := wood.Row{Length: 4, High: 1.2, Depth: 0.33}.Outline()
	tape := wood.ByTape(beech, row, wood.Neat)
	assert.InDelta(t, 1584*0.65*0.56, float64(tape.Middle), 0.1)
	assert.Greater(t, tape.Low(), tape.Middle*8/10)
	assert.Less(t, tape.Low(), tape.Middle)
	assert.Less(t, tape.High(), tape.Middle*12/10)
	wide := func(a wood.Amount) float64 { return float64((a.High() - a.Low()) / a.Middle) }
	heap, sold := wood.ByHeap(beech, row), wood.AsSold(beech, row, wood.Neat)
	assert.Greater(t, wide(heap), wide(sold), "a heap is known worse than a cord")
	assert.Greater(t, wide(sold), wide(tape), "and a seller's word worse than a tape")
	assert.Less(t, heap.Middle, tape.Middle, "there is more air in it")

	scale := wood.Weighed(120, 0.20, 0)
	assert.InDelta(t, 100, float64(scale.Middle), 1e-9)
	assert.Less(t, wide(scale), wide(tape), "a scale is best")
	assert.Greater(t, wide(wood.Weighed(120, 0.20, 0.15)), wide(scale), "unless nobody knows how wet it is")
	assert.InDelta(t, 50, float64(wood.ByPiece(40, 1.5, 0.20, 0).Middle), 1e-9)

	both := tape.Plus(heap)
	assert.InDelta(t, float64(tape.Low()+heap.Low()), float64(both.Low()), 0.01*float64(both.Low()), "doubts do not even out")
	assert.Equal(t, tape, tape.Plus(wood.Amount{}))
	assert.Equal(t, wood.Amount{}, wood.Amount{}.Plus(wood.Amount{}))
}

// Households that burn more or less than they log, each with a few stacks counted
// twice: what is learned holds as often as it says, and gets narrower.
func TestRecountsTeach(t *testing.T) {
	assert.Equal(t, 0, wood.UnloggedBy([]wood.Recount{{Before: wood.Amount{Middle: 100}}}).Recounts, "nothing logged, nothing learned")
	assert.False(t, wood.UnloggedBy(nil).Known())
	assert.InDelta(t, 1, wood.UnloggedBy(nil).Middle, 0)

	r := rand.New(rand.NewPCG(3, 14)) //nolint:gosec // the same households every time
	const households = 400
	held, error1, error6 := 0, 0.0, 0.0
	for range households {
		truth := 1 + 0.15*r.NormFloat64()
		counts := make([]wood.Recount, 6)
		for i := range counts {
			before := 800 + 1600*r.Float64()
			logged := before * (0.2 + 0.5*r.Float64()) / max(1, truth)
			same := 1 + 0.07*r.NormFloat64()
			count := func(mass float64) wood.Amount {
				return wood.Amount{Middle: units.Kilogram(mass * same * (1 + 0.04*r.NormFloat64())), Own: 0.04, Same: 0.07}
			}
			counts[i] = wood.Recount{Before: count(before), After: count(before - logged*truth), Logged: units.Kilogram(logged)}
		}
		one, six := wood.UnloggedBy(counts[:1]), wood.UnloggedBy(counts)
		if six.Low <= truth && truth <= six.High {
			held++
		}
		error1 += math.Abs(one.Middle - truth)
		error6 += math.Abs(six.Middle - truth)
		assert.Less(t, six.High-six.Low, one.High-one.Low)
	}
	assert.InDelta(t, 0.8, float64(held)/households, 0.06, "four out of five")
	assert.Less(t, error6, 0.75*error1)

	eight := wood.UnloggedBy([]wood.Recount{{Before: wood.Amount{Middle: 1000, Own: 0.005}, After: wood.Amount{Middle: 560, Own: 0.005}, Logged: 500, Added: 100}})
	assert.InDelta(t, 1.08, eight.Middle, 0.001)
	assert.True(t, eight.Known())
}
