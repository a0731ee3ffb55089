package upkeep_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/flue"
	"smolder/internal/core/stove"
	"smolder/internal/core/upkeep"
)

var now = time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)

func kitchen() upkeep.Place {
	return upkeep.Place{Winter: true, Stove: stove.Stove{Family: stove.SecondaryAir, Volume: 55, Width: 0.46, Depth: 0.38, MaxLoad: 7,
		Chimney: flue.Chimney{Height: 6, Diameter: 0.15, Horizontal: 0.5}}}
}

func task(t *testing.T, k upkeep.Key) upkeep.Task {
	t.Helper()
	found, ok := upkeep.Find(k)
	require.True(t, ok, "%s", k)
	return found
}

// Worked by hand: a flue of 15 cm and 6 m in four sections has 0.707 m² a section; 3 mm of
// it at 300 kg/m³ are 636 g.
func TestSweptByGrams(t *testing.T) {
	p := kitchen()
	assert.InDelta(t, 3, upkeep.Thickest([]float64{20, 50, 100, 636, 0}, p.Stove), 0.01)
	assert.InDelta(t, 3, upkeep.RunThick([]float64{0, 0, 0, 0, 636. / 3 / 3}, p.Stove), 0.01, "on the lower third of half a metre")
	sweep, swept := task(t, upkeep.Sweep), now.AddDate(0, -3, 0)
	s := upkeep.Of(sweep, p, swept, now, upkeep.Use{Settled: []float64{0, 0, 0, 318, 0}})
	assert.True(t, s.ByUse)
	assert.InDelta(t, 0.5, s.Share, 0.01)
	assert.InDelta(t, now.AddDate(0, 3, 0).Sub(now).Hours(), s.Due.Sub(now).Hours(), 80, "as much again in as much time")
	dirty := upkeep.Of(sweep, p, swept, now, upkeep.Use{Settled: []float64{0, 0, 0, 900, 0}})
	assert.True(t, dirty.Danger())
	assert.True(t, upkeep.Of(sweep, p, now.AddDate(-1, -4, 0), now, upkeep.Use{}).Danger(), "every year however little")
	assert.True(t, upkeep.Of(sweep, p, time.Time{}, now, upkeep.Use{}).Danger(), "nobody has said when")
	clean := upkeep.Of(sweep, p, now.AddDate(0, -2, 0), now, upkeep.Use{})
	assert.False(t, clean.IsDue() || clean.Soon() || clean.Danger())
}

// 260 kg of dry wood leave 2.1 kg of ash, a bed of three centimetres on that floor; of
// mineral fuel a tenth of that mass does.
func TestAshByWhatWasBurnt(t *testing.T) {
	p, ash := kitchen(), task(t, upkeep.Ash)
	assert.InDelta(t, 2.1, float64(upkeep.BedOf(p.Stove)), 0.01)
	assert.InDelta(t, 1, upkeep.Of(ash, p, now.AddDate(0, 0, -30), now, upkeep.Use{Dry: 262}).Share, 0.01)
	assert.InDelta(t, 1, upkeep.Of(ash, p, now.AddDate(0, 0, -30), now, upkeep.Use{Mineral: 30}).Share, 0.01)
	assert.Zero(t, upkeep.Of(ash, p, time.Time{}, now, upkeep.Use{}).Share, "of nothing there is none")
	none := p
	none.Stove.Width, none.Stove.Depth = 0, 0
	assert.Positive(t, float64(upkeep.BedOf(none.Stove)))
}

func TestWhatApplies(t *testing.T) {
	p := kitchen()
	for key, applies := range map[upkeep.Key]bool{upkeep.Catalyst: false, upkeep.Grate: false, upkeep.TravelCap: false, upkeep.LevelRun: true,
		upkeep.Inlet: false, upkeep.Sweep: true, upkeep.Detectors: true} {
		assert.Equal(t, applies, task(t, key).Applies(p), "%s", key)
	}
	p.Small, p.Stove.Family, p.Stove.Chimney.Horizontal = true, stove.Catalytic, 0
	assert.True(t, task(t, upkeep.TravelCap).Applies(p) && task(t, upkeep.Inlet).Applies(p) && task(t, upkeep.Catalyst).Applies(p))
	assert.False(t, task(t, upkeep.LevelRun).Applies(p))
	p.Small, p.Stove.Controls = false, []stove.Control{{Role: stove.OutsideAir}}
	assert.True(t, task(t, upkeep.Inlet).Applies(p))
	_, ok := upkeep.Find("polish")
	assert.False(t, ok)
}

// In summer what only matters while it is lit is not asked for; what always does, is.
func TestSeasons(t *testing.T) {
	p := kitchen()
	p.Winter = false
	assert.Zero(t, upkeep.Of(task(t, upkeep.Cap), p, now.AddDate(-1, 0, 0), now, upkeep.Use{}).Share)
	assert.True(t, upkeep.Of(task(t, upkeep.Detectors), p, now.AddDate(0, -2, 0), now, upkeep.Use{}).Overdue())
	soon := upkeep.Of(task(t, upkeep.Detectors), p, now.AddDate(0, 0, -26), now, upkeep.Use{})
	assert.True(t, soon.Soon() && !soon.IsDue())
	assert.Equal(t, 30, int(soon.Due.Sub(soon.Since).Hours()/24))
}

func TestCatalystThatFallsOff(t *testing.T) {
	peaks := []float64{620, 600, 610, 605, 600, 590, 570, 560, 540, 520, 510, 515}
	k, known := upkeep.Fallen(peaks)
	require.True(t, known)
	assert.InDelta(t, 90, k, 15)
	p := kitchen()
	p.Stove.Family = stove.Catalytic
	assert.True(t, upkeep.Of(task(t, upkeep.Catalyst), p, now.AddDate(0, -3, 0), now, upkeep.Use{Fallen: k}).IsDue())
	_, known = upkeep.Fallen(peaks[:5])
	assert.False(t, known)
	better, _ := upkeep.Fallen([]float64{500, 500, 500, 500, 500, 500, 600, 600, 600, 600, 600, 600})
	assert.Zero(t, better)
}

// First fires grow, stay under a full load, and are asked for only of new paint.
func TestFirstFires(t *testing.T) {
	p := kitchen()
	fires := upkeep.FirstFires(p.Stove)
	require.Len(t, fires, 3)
	for i, f := range fires {
		assert.LessOrEqual(t, f.Wood, p.Stove.MaxLoad/2)
		if i > 0 {
			assert.Greater(t, f.Wood, fires[i-1].Wood)
			assert.Greater(t, f.Top, fires[i-1].Top)
		}
	}
	assert.Positive(t, float64(upkeep.FirstFires(stove.Stove{Volume: 20})[0].Wood))
	first := task(t, upkeep.CurePaint)
	assert.False(t, upkeep.Of(first, p, time.Time{}, now, upkeep.Use{}).IsDue())
	assert.True(t, upkeep.Of(first, p, time.Time{}, now, upkeep.Use{Painted: true}).Danger())
}
