package wood_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// What owners say of a pile, each worked by hand: its outline in litres, or its oven-dry
// mass. Beech is 560 kg oven-dry a cubic metre of wood.
func TestAmountsAsTheyAreSaid(t *testing.T) {
	beech, err := wood.SpeciesByKey("beech")
	require.NoError(t, err)
	k := wood.Kind{Species: beech, PieceMass: 1.3, PieceLength: 0.33, Moisture: 0.18}
	for _, c := range []struct {
		typed   string
		sys     units.System
		way     wood.Way
		outline float64 // L
		dry     float64 // kg
	}{
		{"4 x 1.5 x 0.33 m", units.Metric, wood.WithTape, 1980, 1980 * 0.65 * 0.56},
		{"400 x 150 x 33 cm", units.Metric, wood.WithTape, 1980, 1980 * 0.65 * 0.56},
		{"4m×1.5m×33cm", units.Metric, wood.WithTape, 1980, 1980 * 0.65 * 0.56},
		{"4 x 1.5 m", units.Metric, wood.WithTape, 1980, 1980 * 0.65 * 0.56},                     // as deep as a piece is long
		{"3 rows of 4 m by 1.5 m by 0.33 m", units.Metric, wood.WithTape, 5940, 3861 * 0.56},     //
		{"4 x 1.5/1.2 x 0.33 m", units.Metric, wood.WithTape, 4 * 1.35 * 330, 1782 * 0.65 * .56}, // a straight top
		{"4 x 1.5/1.4/0.7 x 0.33 m", units.Metric, wood.WithTape, 4 * (1.5 + 5.6 + 0.7) / 6 * 330, 1716 * 0.65 * .56},
		{"5 x 1.5 x 0.33 m, rising 3 m", units.Metric, wood.WithTape, 1980, 1980 * 0.65 * 0.56}, // 3, 4, 5
		{"heap 2 x 2 x 1 m", units.Metric, wood.AsHeap, 1000 * math.Pi / 3, 1000 * math.Pi / 3 * 0.43 * 0.56},
		{"a trailer of 2 x 1.2 x 0.5 m", units.Metric, wood.AsHeap, 1200, 1200 * 0.43 * 0.56},
		{"2.5 m3 stacked", units.Metric, wood.Sold, 2500, 2500 * 0.65 * 0.56},
		{"2.5 m3 loose", units.Metric, wood.Sold, 2500, 2500 * 0.43 * 0.56},
		{"a cord", units.Imperial, wood.Sold, 3624.6, 3624.6 * 0.65 * 0.56},
		{"1.5 cords", units.Metric, wood.Sold, 5436.8, 5436.8 * 0.65 * 0.56},
		{"2 face cords", units.Metric, wood.Sold, 2 * 2.973 * 330, 1962 * 0.65 * 0.56},
		{"12 crates of 60 L", units.Metric, wood.Sold, 720, 720 * 0.43 * 0.56},
		{"10 bags of 20 kg", units.Metric, wood.Sold, 0, 200 / 1.18},
		{"800 kg", units.Metric, wood.OnScale, 0, 800 / 1.18},
		{"1764 lb", units.Metric, wood.OnScale, 0, 800 / 1.18},
		{"300 pieces", units.Metric, wood.Pieces, 0, 390 / 1.18},
		{"8 x 4 ft x 16 in", units.Imperial, wood.WithTape, 42.67 * 28.3168, 42.67 * 28.3168 * 0.65 * 0.56},
	} {
		got, err := wood.ParseAmount(c.typed, c.sys, k)
		require.NoError(t, err, c.typed)
		assert.Equal(t, c.way, got.Way, c.typed)
		assert.InDelta(t, c.outline, float64(got.Outline), 0.004*c.outline+0.01, c.typed)
		assert.InEpsilon(t, c.dry, float64(got.Middle), 0.005, c.typed)
		assert.Less(t, got.Low(), got.Middle)
		assert.Greater(t, got.High(), got.Middle)
	}
	for _, typed := range []string{"", "a lot", "4 x 5 x 6 x 7 m", "4 x -1 x 2 m", "rising", "900 x 900 x 900 m", "heap 3 x 2 m", "0 kg", "crates of",
		"9999999 pieces",
		"4 x 1 x 1 m, rising 9 m", "4 x 1/2/3/4 x 1 m", "x x x", "NaN kg", "nan crates of 60 L", "NaN face cords", "nan bags of 20 kg", "1e9 m3", "4 x 1.5 x soon"} {
		_, err := wood.ParseAmount(typed, units.Metric, k)
		require.Error(t, err, typed)
		assert.Contains(t, err.Error(), "would do", typed)
	}
}

// Whatever is typed is an amount that there can be, or is refused with what would do.
func FuzzParseAmount(f *testing.F) {
	for _, typed := range []string{"3 rows of 4 m x 1.5/1.2/0.9 m x 33 cm", "4 x 1.5 m, rising 0.5 m", "a trailer of 2 x 1.2 x 0.5 m", "half a cord",
		"nan crates of 60 L", "12 bags of 20 kg"} {
		f.Add(typed)
	}
	ash, err := wood.SpeciesByKey("ash")
	require.NoError(f, err)
	f.Fuzz(func(t *testing.T, typed string) {
		got, err := wood.ParseAmount(typed, units.Metric, wood.Kind{Species: ash, PieceMass: 1.3, PieceLength: 0.33, Moisture: 0.18, Spread: 0.02})
		if err != nil {
			assert.Contains(t, err.Error(), "would do")
			return
		}
		assert.True(t, got.Middle > 0 && got.Middle <= 300_000, "%q is %v kg", typed, got.Middle)
		assert.True(t, got.Outline >= 0 && got.Outline < 1e9, "%q is %v L", typed, got.Outline)
	})
}

// Words of the trade: a metre stacked, tipped or solid, a rick, a pallet, a builder's bag.
func TestWordsOfTheTrade(t *testing.T) {
	beech, err := wood.SpeciesByKey("beech")
	require.NoError(t, err)
	k := wood.Kind{Species: beech, PieceMass: 1, PieceLength: 0.33, Moisture: 0.18}
	read := func(typed string) wood.Counted {
		c, err := wood.ParseAmount(typed, units.Metric, k)
		require.NoError(t, err, typed)
		return c
	}
	stacked, loose := float64(wood.AsSold(beech, 1000, wood.Neat).Middle), float64(wood.AsSold(beech, 1000, wood.Tipped).Middle)
	for typed, want := range map[string]float64{"3 rm": 3 * stacked, "3rm": 3 * stacked, "2 stere": 2 * stacked, "2 steres": 2 * stacked, "1 ster": stacked, "2 srm": 2 * loose,
		"1 fm": 560, "2,5 fm": 1400, "3 m3 solid": 1680, "1 m3 of solid wood": 560, "a pallet": 1.2 * stacked, "2 pallets": 2.4 * stacked, "1 bulk bag": 0.8 * loose, "2 bulk bags": 1.6 * loose} {
		assert.InEpsilon(t, want, float64(read(typed).Middle), 1e-6, typed)
	}
	assert.InEpsilon(t, float64(read("2 face cords").Middle), float64(read("2 ricks").Middle), 1e-9)
	assert.Greater(t, read("a pallet").Own, read("1 rm").Own, "nobody knows what a pallet holds")
	for _, bad := range []string{"rm3", "some fm of", "0 rm", "-1 fm", "solid", "1e9 fm"} {
		_, err := wood.ParseAmount(bad, units.Metric, k)
		assert.Error(t, err, bad)
	}
}

// Every kind has its fresh moisture, and kinds of Europe and of the south are among them.
func TestKindsFromElsewhere(t *testing.T) {
	for _, key := range []string{"hornbeam", "elm", "scots-pine", "eucalypt", "red-gum", "radiata-pine", "fruit-wood", "olive", "holm-oak", "chestnut"} {
		sp, err := wood.SpeciesByKey(key)
		require.NoError(t, err)
		assert.True(t, sp.Gravity > 0.3 && sp.Gravity < 0.8, key)
		assert.True(t, wood.Green(sp) >= 0.5 && wood.Green(sp) < 1.4, key)
	}
}
