package season_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/drying"
	"smolder/internal/core/house"
	"smolder/internal/core/season"
	"smolder/internal/core/units"
)

func woods() []season.Fuelwood {
	of := func(name string, energy, density float64) season.Fuelwood {
		return season.Fuelwood{Pile: season.Pile{Name: name, Energy: season.About{Middle: energy}}, Density: density}
	}
	return []season.Fuelwood{of("spruce", 6e9, 0.37), of("oak", 10e9, 0.56), of("ash", 8e9, 0.55), of("knots", 5e9, 0.6)}
}

// The dense wood is for the cold and the night, the light for mild mornings; what has to
// be watched is for hours when somebody is there; and nothing is given out twice.
func TestWhichWoodWhen(t *testing.T) {
	ws := woods()
	ws[3].Watched = true
	a := use.Allot(ws, drying.Temperate, season.UsualShares, november, spring)
	night, morning := a.For(november.AddDate(0, 2, 0), season.Night, -4), a.For(november.AddDate(0, 4, 0), season.Morning, 8)
	require.NotEmpty(t, night)
	require.NotEmpty(t, morning)
	assert.Equal(t, "oak", ws[night[0]].Name)
	assert.Equal(t, "spruce", ws[morning[0]].Name)
	for _, p := range a.Portions(3) {
		assert.Contains(t, []season.Hours{season.Day, season.Evening}, p.Hours, "somebody watches")
	}
	whole := 0.0
	for i, w := range ws {
		assert.LessOrEqual(t, a.Used(i), w.Energy.Middle*(1+1e-9), w.Name)
		sum := 0.0
		for _, p := range a.Portions(i) {
			assert.LessOrEqual(t, p.From, p.To)
			sum += p.Energy
		}
		assert.InDelta(t, a.Used(i), sum, 1)
		whole += a.Used(i)
	}
	needed := use.Lasts(nil, drying.Temperate, november, spring).Needed[1]
	assert.InEpsilon(t, needed, whole+a.Short, 0.06, "all that is asked for is given or missing")
	assert.Empty(t, use.Allot(nil, drying.Temperate, season.UsualShares, november, spring).For(november, season.Night, 5))
}

// What is not dry is not given out before it is, and what is left over is the light wood.
func TestWoodThatIsNotDryIsGivenLater(t *testing.T) {
	ws := woods()
	ws[3].Watched = true
	ws[1].Ready = november.AddDate(0, 3, 0)
	a := use.Allot(ws, drying.Temperate, season.UsualShares, november, spring)
	assert.NotEqual(t, "oak", ws[a.For(november.AddDate(0, 1, 0), season.Night, -4)[0]].Name)
	assert.Equal(t, "oak", ws[a.For(november.AddDate(0, 3, 20), season.Night, -4)[0]].Name)
	rich := woods()
	for i := range rich {
		rich[i].Energy.Middle *= 4
	}
	left := use.Allot(rich, drying.Temperate, season.UsualShares, november, spring)
	assert.Zero(t, left.Short)
	for i, w := range rich {
		share := left.Used(i) / w.Energy.Middle
		assert.True(t, share > 0.1 && share < 0.5, "of plenty every pile gives its share: %s %.2f", w.Name, share)
	}
	assert.Equal(t, "spruce", rich[left.For(november.AddDate(0, 4, 0), season.Morning, 8)[0]].Name)
	none := use.Allot(nil, drying.Temperate, season.UsualShares, november, spring)
	assert.Positive(t, none.Short)
	assert.Empty(t, none.For(november, season.Night, 0))
}

var usual = season.ShareOf(house.Unsaid)

// Winters behind count: three of two hundred kilograms each say that the next asks for as
// much, and a good efficiency learned in between changes nothing. What an owner says of
// other heating is taken where nothing was burnt.
func TestWintersBehindCount(t *testing.T) {
	winter := season.Spell{Energy: 200 * 18e6, DegreeDays: season.Days(drying.Temperate, november, spring), Burns: 60, Whole: true}
	pile := []season.Pile{{Energy: season.About{Middle: 800 * 18e6, Doubt: 0.1}}}
	loss, good, better := season.About{Middle: 150, Doubt: 0.3}, season.About{Middle: 0.6, Doubt: 0.08}, season.About{Middle: 0.8, Doubt: 0.08}
	u, known := season.From(loss, good, usual, winter, winter, winter)
	require.True(t, known)
	assert.Greater(t, u.Lasts(pile, drying.Temperate, november, spring).Lasts, 0.99, "four times what a winter takes")
	nothing, known := season.From(loss, good, usual)
	require.False(t, known)
	assert.Less(t, nothing.Lasts(pile, drying.Temperate, november, spring).Lasts, 0.5)
	again, _ := season.From(loss, better, usual, winter, winter, winter)
	assert.InEpsilon(t, u.Lasts(pile, drying.Temperate, november, spring).Needed[1], again.Lasts(pile, drying.Temperate, november, spring).Needed[1], 1e-9)

	hard := season.Spell{Energy: 4 * winter.Energy / 6, DegreeDays: winter.DegreeDays / 6, Burns: 40}
	mixed, _ := season.From(loss, good, usual, hard, winter, winter, winter)
	assert.Greater(t, mixed.Share.Middle, 1.1*u.Share.Middle, "the last weeks count as well")
	assert.Less(t, mixed.Share.Middle, 4*u.Share.Middle)
	assert.Less(t, u.Share.Doubt, 0.2)

	most, all := season.ShareOf(house.Most), season.ShareOf(house.Nothing)
	assert.Greater(t, all.Middle, 3*most.Middle)
	assert.Less(t, all.Doubt, usual.Doubt)
	assert.Equal(t, usual, season.ShareOf("a dragon"))
}

// A use is what was burnt lately, whatever the loss was taken for.
func TestUseByWhatWasBurnt(t *testing.T) {
	lately := season.Spell{Energy: 10e9, DegreeDays: 600, Burns: 40}
	one, known := season.From(season.About{Middle: 100, Doubt: 0.3}, season.About{Middle: 0.75, Doubt: 0.05}, usual, lately)
	require.True(t, known)
	two, _ := season.From(season.About{Middle: 200, Doubt: 0.3}, season.About{Middle: 0.7, Doubt: 0.05}, usual, lately)
	a, b := one.Lasts(nil, drying.Temperate, november, spring), two.Lasts(nil, drying.Temperate, november, spring)
	assert.InEpsilon(t, a.Needed[1], b.Needed[1], 1e-6)
	certain, _ := season.From(season.About{Middle: 100}, season.About{Middle: 0.75}, usual, lately)
	c := certain.Lasts(nil, drying.Temperate, november, spring)
	assert.InEpsilon(t, a.Needed[2], c.Needed[2], 1e-6, "what the loss is off, the share was off the other way")
	assert.InEpsilon(t, 10e9/600*season.Days(drying.Temperate, november, spring), a.Needed[1], 0.04)
	fewer := one.Fewer(4).Lasts(nil, drying.Temperate, november, spring)
	assert.InEpsilon(t, 0.75, fewer.Needed[1]/a.Needed[1], 1e-6)
	assert.Less(t, one.Warmer(-1).Lasts(nil, drying.Temperate, november, spring).Needed[1], a.Needed[1])
	_, known = season.From(season.About{Middle: 100}, season.About{Middle: 0.75}, usual, season.Spell{Burns: 2, Energy: 1, DegreeDays: 5})
	assert.False(t, known)
	few, _ := season.From(season.About{Middle: 100}, season.About{Middle: 0.75}, usual, season.Spell{Energy: 1e9, DegreeDays: 60, Burns: 5})
	assert.Greater(t, few.Share.Doubt, one.Share.Doubt)
}

func TestHeatingSeasons(t *testing.T) {
	day := func(y int, m time.Month, d int) time.Time { return time.Date(y, m, d, 0, 0, 0, 0, time.UTC) }
	for _, c := range []struct {
		now, start, end time.Time
		climate         drying.Climate
	}{
		{day(2026, 11, 26), day(2026, 10, 1), day(2027, 5, 1), drying.Temperate},
		{day(2026, 1, 3), day(2025, 10, 1), day(2026, 5, 1), drying.Temperate},
		{day(2026, 7, 3), day(2026, 10, 1), day(2027, 5, 1), drying.Temperate},
		{day(2026, 7, 3), day(2026, 4, 1), day(2026, 11, 1), drying.Temperate.South()},
	} {
		start, end := season.Span(c.climate, c.now)
		assert.Equal(t, c.start, start)
		assert.Equal(t, c.end, end)
		half := season.HalfWay(c.climate, start, end)
		assert.InDelta(t, 0.5, season.Days(c.climate, start, half)/season.Days(c.climate, start, end), 0.01)
	}
	half := season.HalfWay(drying.Temperate, day(2026, 10, 1), day(2027, 5, 1))
	assert.True(t, half.After(day(2027, 1, 5)) && half.Before(day(2027, 1, 31)), "%s", half)
	warm := drying.Temperate
	for i := range warm.Months {
		warm.Months[i].Air = 25
	}
	start, _ := season.Span(warm, day(2026, 7, 3))
	assert.True(t, start.IsZero(), "where it is always warm there is no season")
	arctic := place(-14, 1)
	for _, now := range []time.Time{day(2026, 3, 3), day(2026, 5, 31), day(2025, 9, 1)} {
		from, to := season.Span(arctic, now)
		assert.Equal(t, []time.Time{day(2025, 9, 1), day(2026, 6, 1)}, []time.Time{from, to}, "where it is always cold, all but summer: %s", now)
	}
	assert.Equal(t, season.Evening, season.HoursAt(day(2026, 7, 3).Add(18*time.Hour)))
	assert.Equal(t, season.Night, season.HoursAt(day(2026, 7, 3).Add(2*time.Hour)))
	assert.InDelta(t, 7*10.5, season.ByOutdoor(5, 7), 0.2)
}

// A season's allocation over forty stacks, against giving it out once.
func BenchmarkAllot(b *testing.B) {
	var ws []season.Fuelwood
	for range 10 {
		ws = append(ws, woods()...)
	}
	for b.Loop() {
		use.Allot(ws, drying.Temperate, season.UsualShares, november, spring)
	}
}

// The first splits are of the lightest dry wood, and what is kept for them is given to no
// hours.
func TestFirstSplitsAreKeptApart(t *testing.T) {
	ws := woods()
	sizes := []units.Kilogram{0.8, 1.9, 1.4, 2}
	assert.Equal(t, 0, season.FirstSplits(ws, sizes, november), "spruce")
	ws[0].Ready = november.AddDate(0, 2, 0)
	assert.Equal(t, 2, season.FirstSplits(ws, sizes, november), "ash, while the spruce is wet")
	assert.Equal(t, -1, season.FirstSplits(nil, nil, november))
	ws = woods()
	ws[0].Apart = 2e9
	a := use.Allot(ws, drying.Temperate, season.UsualShares, november, spring)
	assert.LessOrEqual(t, a.Used(0), ws[0].Energy.Middle-2e9+1)
	for i := range ws {
		ws[i].Apart = ws[i].Energy.Middle
	}
	none := use.Allot(ws, drying.Temperate, season.UsualShares, november, spring)
	assert.Zero(t, none.Used(0)+none.Used(1)+none.Used(2)+none.Used(3))
}
