package store_test

import (
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/stove"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

// A strip of an evening: so long and so many degrees are a pixel.
const pixelWide, pixelTall = 36.0, 4.0 // s, K

// farOff is how far a moment of a gauge lies from the line through others, in pixels.
func farOff(e burn.Reading, line []burn.Reading) float64 {
	least := math.Inf(1)
	px := func(o burn.Reading) (x, y float64) {
		return o.At.Sub(e.At).Seconds() / pixelWide, float64(o.Reading-e.Reading) / pixelTall
	}
	for i := 1; i < len(line); i++ {
		ax, ay := px(line[i-1])
		bx, by := px(line[i])
		dx, dy := bx-ax, by-ay
		along := 0.0
		if l := dx*dx + dy*dy; l > 0 {
			along = min(1, max(0, -(ax*dx+ay*dy)/l))
		}
		least = min(least, math.Hypot(ax+along*dx, ay+along*dy))
	}
	return least
}

// Rolled up, a burn is drawn as before to a pixel, its peaks are what they were, and what is younger
// stays as it came; outside of burns a quarter of an hour keeps three.
func TestReadingsAreRolledUp(t *testing.T) {
	s := storetest.New(t)
	h, st, _ := furnished(t, s, "tarn")
	id := open(t, h, st)
	_, err := h.EndBurn(ctx, id, noon.Add(2*time.Hour), noon.Add(2*time.Hour))
	require.NoError(t, err)
	random := rand.New(rand.NewPCG(7, 7))
	var sent []store.Reported
	add := func(from time.Time, seconds int) {
		for i := range seconds {
			at := float64(i)
			celsius := 40 + 360*(1-math.Exp(-at/500))*(1+0.1*math.Sin(at/97)) + 0.5*random.NormFloat64()
			if i == 1234 {
				celsius = 555 // for a moment
			}
			sent = append(sent, store.Reported{Stove: st, Place: "connector-probe", At: from.Add(time.Duration(i) * time.Second), Value: celsius})
		}
	}
	add(noon, 2*3600)                // a burn
	add(noon.Add(8*time.Hour), 3600) // nothing burns
	add(noon.AddDate(0, 0, 20), 600) // lately
	for part := range 3 {
		_, err := h.AddReported(ctx, sent[part*len(sent)/3:(part+1)*len(sent)/3])
		require.NoError(t, err)
	}
	before, err := h.Burn(ctx, id)
	require.NoError(t, err)
	count := func(from time.Time, over time.Duration) (n int) {
		require.NoError(t, s.DB().QueryRow(`SELECT count(*) FROM reported WHERE at >= $1 AND at < $2`, from, from.Add(over)).Scan(&n))
		return n
	}

	now := noon.AddDate(0, 0, 21)
	n, err := s.RollUp(ctx, now)
	require.NoError(t, err)
	assert.Zero(t, n, "nobody has asked for it")
	require.NoError(t, s.Keep(store.Keeping{RollUpAfter: 7 * 24 * time.Hour}))
	n, err = s.RollUp(ctx, now)
	require.NoError(t, err)
	assert.Positive(t, n)
	assert.LessOrEqual(t, count(noon, 2*time.Hour), 3*121)
	assert.LessOrEqual(t, count(noon.Add(8*time.Hour), time.Hour), 3*61)
	assert.Equal(t, 600, count(noon.AddDate(0, 0, 20), time.Hour), "what is young stays")
	after, err := h.Burn(ctx, id)
	require.NoError(t, err)
	line := after.Readings(stove.ConnectorProbe)
	furthest, peak := 0.0, 0.0
	for _, e := range before.Readings(stove.ConnectorProbe) {
		peak = max(peak, float64(e.Reading))
		if bin := int(e.At.Sub(noon).Minutes()); bin != 20 { // a needle of one second gets a foot as wide as its minute
			furthest = max(furthest, farOff(e, line))
		}
	}
	assert.Less(t, furthest, 1.0, "pixels")
	highest := 0.0
	for _, e := range line {
		highest = max(highest, float64(e.Reading))
	}
	assert.InDelta(t, 555, highest, 0.01)
	assert.LessOrEqual(t, peak, highest)

	n, err = s.RollUp(ctx, now)
	require.NoError(t, err)
	assert.Zero(t, n, "done twice changes nothing")

	kept := count(noon, 2*time.Hour)
	_, err = s.RollUp(ctx, now.AddDate(0, 0, 30))
	require.NoError(t, err)
	assert.Equal(t, kept, count(noon, 2*time.Hour), "of a burn a minute stays a minute")
	assert.LessOrEqual(t, count(noon.Add(8*time.Hour), time.Hour), 3*5)
}

// What is older than is kept goes, a part at a time, and nothing that is younger.
func TestOldReadingsAreLetGoOf(t *testing.T) {
	s := storetest.New(t)
	h, st, _ := furnished(t, s, "tarn")
	now := noon
	for _, months := range []int{0, 11, 12, 13, 40, 100} {
		_, err := h.AddReported(ctx, []store.Reported{{Stove: st, Place: "top", At: now.AddDate(0, -months, 0), Value: 100}})
		require.NoError(t, err)
	}
	left := func() (n int) {
		require.NoError(t, s.DB().QueryRow(`SELECT count(*) FROM reported`).Scan(&n))
		return n
	}
	gone, err := s.DropOld(ctx, now)
	require.NoError(t, err)
	assert.Empty(t, gone, "nobody has asked for it")
	for _, k := range []store.Keeping{{Months: 11}, {Months: -1}, {RollUpAfter: time.Hour}} {
		require.ErrorContains(t, s.Keep(k), "would do")
	}
	require.NoError(t, s.Keep(store.Keeping{Months: 12}))
	gone, err = s.DropOld(ctx, now)
	require.NoError(t, err)
	assert.Len(t, gone, 3)
	assert.Equal(t, 3, left())
	_, err = s.DB().Exec(`SELECT smolder_drop_part('stoves', '2099-01-01')`)
	require.Error(t, err, "no other table")
	require.NoError(t, s.Tidy(ctx, now))
	_, err = h.AddReported(ctx, []store.Reported{{Stove: st, Place: "top", At: now.AddDate(0, -40, 0), Value: 100}})
	require.NoError(t, err, "a file of long ago still goes in")
}
