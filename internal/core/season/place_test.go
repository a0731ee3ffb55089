package season_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/drying"
	"smolder/internal/core/season"
	"smolder/internal/core/units"
)

// place is a climate elsewhere.
func place(shift, wider float64) drying.Climate {
	c, mean := drying.Temperate, 0.0
	for _, m := range c.Months {
		mean += float64(m.Air) / 12
	}
	for i := range c.Months {
		c.Months[i].Air = units.Celsius(mean + shift + wider*(float64(c.Months[i].Air)-mean))
	}
	return c
}

// Eight weeks of burns in autumn tell what the rest of a winter asks for, on an island, at
// a lake of the far north and in the middle of a continent: within a fifth on the median,
// where what is usual is off by half and more.
func TestAutumnTellsTheWinter(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4)) //nolint:gosec // the same weeks every time
	rest := func(c drying.Climate) float64 { return season.Days(c, november.AddDate(0, 0, 28), spring) }
	for _, truth := range []drying.Climate{place(3, 0.6), place(-5, 1.3), place(-4, 1.7), place(0, 1), place(-8, 1.4)} {
		blind := rest(drying.Temperate)/rest(truth) - 1
		var off []float64
		for range 41 {
			var weeks []season.Seen
			for w := range 8 {
				at := november.AddDate(0, 0, 7*w-28)
				weeks = append(weeks, season.Seen{At: at, Air: season.UsualAir(truth, at) + units.Celsius(2.2*r.NormFloat64())})
			}
			learned, known := season.LearnClimate(drying.Temperate, weeks)
			require.True(t, known)
			off = append(off, rest(learned)/rest(truth)-1)
		}
		typical := median(off)
		t.Logf("usual is off by %+.0f %%, learned by %+.0f %%", 100*blind, 100*typical)
		assert.InDelta(t, 0, typical, 0.2)
		if blind < -0.2 || blind > 0.2 {
			assert.Less(t, max(typical, -typical), max(blind, -blind)/2)
		}
	}
}

func median(xs []float64) float64 {
	for i := range xs {
		for j := i; j > 0 && xs[j] < xs[j-1]; j-- {
			xs[j], xs[j-1] = xs[j-1], xs[j]
		}
	}
	return xs[len(xs)/2]
}

// Few weeks, weeks of summer, and weeks that nobody could have seen change nothing, or no
// more than they may.
func TestPlacesThatAreNone(t *testing.T) {
	same, known := season.LearnClimate(drying.Temperate, nil)
	assert.False(t, known)
	assert.Equal(t, drying.Temperate, same)
	var summer, odd []season.Seen
	for w := range 10 {
		summer = append(summer, season.Seen{At: november.AddDate(0, 8, 7*w-20), Air: 2})
		odd = append(odd, season.Seen{At: november.AddDate(0, 0, 7*w), Air: -300})
	}
	_, known = season.LearnClimate(drying.Temperate, summer)
	assert.False(t, known, "who burns in July burns on odd days")
	wild, known := season.LearnClimate(drying.Temperate, odd)
	require.True(t, known)
	for _, m := range wild.Months {
		assert.True(t, m.Air > -40 && m.Air < 40, "%v", m.Air)
	}
	south, known := season.LearnClimate(drying.Temperate.South(), []season.Seen{{november.AddDate(0, 8, 0), -2}, {november.AddDate(0, 8, 7), -2},
		{november.AddDate(0, 8, 14), -2},
		{november.AddDate(0, 8, 21), -2}})
	require.True(t, known)
	assert.Less(t, south.Months[6].Air, drying.Temperate.South().Months[6].Air)
}
