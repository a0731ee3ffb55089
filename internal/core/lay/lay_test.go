package lay_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"smolder/internal/core/fire"
	"smolder/internal/core/lay"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

func auntie() stove.Stove { return stove.Stove{Volume: 55, Width: 0.46, Depth: 0.38, Height: 0.33} }

func splits(n int, d stove.Direction, l fire.Lay) fire.Load {
	beech, _ := wood.SpeciesByKey("beech")
	return fire.Load{Species: beech, Moisture: 0.18, Pieces: n, PieceMass: 1.3, PieceLength: 0.33, Direction: d, Lay: l}
}

func kindling(n int, l fire.Lay) fire.Load {
	soft, _ := wood.SpeciesByKey("softwood-offcuts")
	return fire.Load{Species: soft, Moisture: 0.13, Pieces: n, PieceMass: 0.09, PieceLength: 0.24, Kindling: true, Lay: l}
}

// Whatever is packed lies inside the firebox, clear of the baffle, and every
// piece is either laid or counted as left.
func TestPiecesLieInTheFirebox(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		k := rapid.Float64Range(0.5, 1.4).Draw(t, "size")
		s := stove.Stove{Volume: units.Litre(55 * k * k * k), Width: units.Metre(0.46 * k), Depth: units.Metre(0.38 * k), Height: units.Metre(0.33 * k)}
		l := rapid.SampledFrom(fire.Lays).Draw(t, "lay")
		d := rapid.SampledFrom([]stove.Direction{stove.EndOn, stove.Sideways}).Draw(t, "direction")
		a, b := splits(rapid.IntRange(1, 9).Draw(t, "splits"), d, l), kindling(rapid.IntRange(0, 24).Draw(t, "sticks"), l)
		a.PieceMass, a.PieceLength = units.Kilogram(rapid.Float64Range(0.3, 3).Draw(t, "mass")),
			min(s.LongestPiece(d), units.Metre(rapid.Float64Range(0.15, 0.5).Draw(t, "length")))
		if l == fire.OnCoals {
			b.Pieces = 0
		}
		p := lay.Pack(s, lay.Loads{Splits: a, Kindling: b})
		if len(p.Bars)+p.Left != a.Pieces+b.Pieces {
			t.Fatalf("%d laid and %d left of %d", len(p.Bars), p.Left, a.Pieces+b.Pieces)
		}
		for _, bar := range p.Bars {
			x, y, z := bar.Size()
			if bar.Tilt == 0 && bar.Turn == 0 && (bar.X < -1e-9 || bar.X+x > p.Box.Width+1e-9 || bar.Y < -1e-9 || bar.Y+y > p.Box.Depth+1e-9) {
				t.Fatalf("%s: a bar lies outside: %+v in %+v", l, bar, p.Box)
			}
			if bar.Z+z > p.Box.Height-0.03+1e-9 && l != fire.LeanTo && l != fire.OpenV {
				t.Fatalf("%s: a bar is too near to the baffle: %+v in %+v", l, bar, p.Box)
			}
			if bar.Step < 1 || bar.Step > len(p.Placings) {
				t.Fatalf("step %d of %d", bar.Step, len(p.Placings))
			}
		}
	})
}

func TestBarsOfALayerDoNotTouch(t *testing.T) {
	for _, d := range []stove.Direction{stove.EndOn, stove.Sideways} {
		p := lay.Pack(auntie(), lay.Loads{Splits: splits(5, d, fire.OnCoals)})
		require.Zero(t, p.Left, d)
		for i, a := range p.Bars {
			for _, b := range p.Bars[i+1:] {
				ax, ay, az := a.Size()
				bx, by, bz := b.Size()
				apart := a.X+ax <= b.X+1e-9 || b.X+bx <= a.X+1e-9 || a.Y+ay <= b.Y+1e-9 || b.Y+by <= a.Y+1e-9 || a.Z+az <= b.Z+1e-9 || b.Z+bz <= a.Z+1e-9
				assert.True(t, apart, "%s: %+v and %+v", d, a, b)
			}
		}
		assert.Empty(t, p.Light, "on coals nothing is lit")
	}
}

func TestLaysAreWhatTheySay(t *testing.T) {
	at := func(p lay.Packing, kindling bool) (low, high float64) {
		low = math.Inf(1)
		for _, b := range p.Bars {
			if b.Kindling == kindling {
				low, high = math.Min(low, b.Z), math.Max(high, b.Z)
			}
		}
		return low, high
	}
	pack := func(l fire.Lay) lay.Packing {
		p := lay.Pack(auntie(), lay.Loads{Splits: splits(3, stove.Sideways, l), Kindling: kindling(10, l)})
		require.NotEmpty(t, p.Light, l)
		require.NotEmpty(t, p.Placings, l)
		return p
	}
	down := pack(fire.TopDown)
	_, splitsTop := at(down, false)
	sticks, sticksTop := at(down, true)
	assert.Greater(t, sticks, splitsTop, "top-down: kindling above")
	assert.Greater(t, down.Light[0][1], sticksTop, "and lit on top")

	up := pack(fire.BottomUp)
	_, sticksTop = at(up, true)
	splitsLow, _ := at(up, false)
	assert.Greater(t, splitsLow, sticksTop, "bottom-up: splits above")
	assert.Less(t, up.Light[0][1], splitsLow)

	turned := map[float64]bool{}
	for _, b := range pack(fire.Raft).Bars {
		turned[b.Turn] = true
	}
	assert.Greater(t, len(turned), 1, "a raft's layers are turned")

	v := pack(fire.OpenV)
	assert.InDelta(t, 0, v.Bars[0].Turn+v.Bars[1].Turn, 1e-9, "a V opens evenly")
	assert.NotZero(t, v.Bars[0].Turn)

	lean := pack(fire.LeanTo)
	assert.Equal(t, lay.Across, lean.Bars[0].Along, "a back log lies across the back")
	_, depth, _ := lean.Bars[0].Size()
	assert.InDelta(t, 0.38-0.01, lean.Bars[0].Y+depth, 1e-9)
	for _, b := range lean.Bars {
		if b.Kindling {
			assert.Positive(t, b.Tilt)
		}
	}
}

func TestTheAirInletStaysFree(t *testing.T) {
	for _, l := range []fire.Lay{fire.OnCoals, fire.TopDown, fire.BottomUp} {
		p := lay.Pack(auntie(), lay.Loads{Splits: splits(3, stove.Sideways, l)})
		for _, b := range p.Bars {
			assert.GreaterOrEqual(t, b.Y, 0.05-1e-9, "%s", l)
		}
	}
	full := lay.Pack(auntie(), lay.Loads{Splits: splits(40, stove.EndOn, fire.OnCoals)})
	assert.Positive(t, full.Left, "no firebox holds forty splits")
	assert.InDelta(t, 0.23, lay.BoxOf(stove.Stove{Volume: 55. / 8}).Width, 1e-9, "by its volume where nothing else is known")
}
