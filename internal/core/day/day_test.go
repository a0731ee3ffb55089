package day_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/day"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/house"
	"smolder/internal/core/search"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
)

// someEffort is less than the pages take: a day is planned as one burn is, again and again.
var someEffort = search.Effort{Candidates: 250, Step: 8 * time.Second, Worlds: 6, Weighed: 4, Others: 1, Output: true}

func TestADayOfCycles(t *testing.T) {
	w := fixture.Evening(0, 0, wish.Cold)
	w.Outdoor, w.Room, w.Low, w.High = 4, 17, 18, 22
	d, err := day.Plan(t.Context(), w, 14*time.Hour, someEffort, nil)
	require.NoError(t, err)
	require.Greater(t, len(d.Windows), 1, "a cold day takes more than one load")
	for i, win := range d.Windows {
		assert.LessOrEqual(t, win.From, win.Best)
		assert.Less(t, win.Best, win.Until)
		assert.LessOrEqual(t, win.Fire.Mass(), w.Stove.MaxLoad+units.Kilogram(5), "first fire and load together at most")
		assert.LessOrEqual(t, win.Best, 13*time.Hour, "none that warms only when the day is over")
		if i > 0 {
			assert.Greater(t, win.Best, d.Windows[i-1].Best+time.Hour, "never on top of a fresh load")
		}
	}
	assert.Len(t, d.Room, 14*6)
	for i := 7; i < len(d.Room); i++ { // a loaded stove is still warm
		assert.Greater(t, float64(d.Room[i]-d.Room[i-1]), -0.45, "the room does not fall in a hole at %v", time.Duration(i)*d.Every)
	}

	mild := w
	mild.Outdoor, mild.Room = 14, 19
	m, err := day.Plan(t.Context(), mild, 14*time.Hour, someEffort, nil)
	require.NoError(t, err)
	assert.Less(t, m.Wood, d.Wood, "a mild day takes less wood")
	require.NotEmpty(t, m.Windows)
	assert.Positive(t, m.Windows[0].Best, "the room is warm: the first fire waits until it is not")
	summer := mild
	summer.Outdoor, summer.Room = 19, 20
	none, err := day.Plan(t.Context(), summer, 14*time.Hour, someEffort, nil)
	require.NoError(t, err)
	assert.Empty(t, none.Windows)
	late := w
	late.There = when.Presence{{From: 3 * time.Hour, To: 15 * time.Hour}}
	after, err := day.Plan(t.Context(), late, 14*time.Hour, someEffort, nil)
	require.NoError(t, err)
	assert.Equal(t, 3*time.Hour, after.Windows[0].Best, "somebody comes home and lights it")
	assert.LessOrEqual(t, len(m.Windows), len(d.Windows))

	out := w
	out.There = when.Presence{{To: 2 * time.Hour}, {From: 6*time.Hour + 30*time.Minute, To: 15 * time.Hour}}
	away, err := day.Plan(t.Context(), out, 14*time.Hour, someEffort, nil)
	require.NoError(t, err)
	for _, win := range away.Windows {
		assert.True(t, out.There.Somebody(win.Best+30*time.Minute), "no load while nobody is there: %v", win.Best)
	}
	assert.Positive(t, away.Missed, "the room wants a load, and nobody is there long enough")
}

// A day burns from all the stacks at hand, and what it has burnt is gone.
func TestADayTakesItsWoodFromTheStacks(t *testing.T) {
	w := fixture.Evening(0, 0, wish.Cold)
	w.Outdoor, w.Room, w.Low, w.High = 0, 17, 19, 22
	w.Wood.Stack.Mass = 3.2 * w.Wood.Stack.PieceMass
	w.Others = []wish.Pick{{ID: 3, Stack: fixture.Stacks()[3]}}
	d, err := day.Plan(t.Context(), w, 14*time.Hour, someEffort, nil)
	require.NoError(t, err)
	taken := map[string]int{}
	for _, win := range d.Windows {
		first, main := win.Fire.Loads()
		for _, l := range []fire.Load{first, main} {
			taken[l.StackName] += l.Pieces
		}
	}
	assert.LessOrEqual(t, taken[w.Wood.Stack.Name], 3, "no more pieces than there are")
	assert.Positive(t, taken[w.Others[0].Stack.Name], "then the other stack")
	assert.InDelta(t, 3.2*float64(w.Wood.Stack.PieceMass), float64(w.Wood.Stack.Mass), 1e-9, "the wish is the caller's")

	w.Others = nil
	d, err = day.Plan(t.Context(), w, 14*time.Hour, someEffort, nil)
	require.NoError(t, err)
	require.NotNil(t, d.Refused)
	assert.Equal(t, wish.UsedUp, d.Refused.Code)
}

func TestADayFollowsItsWeather(t *testing.T) {
	w := fixture.Evening(0, 0, wish.Cold)
	w.Outdoor, w.Room, w.Low, w.High = 10, 18, 18, 22
	w.Weather = []fire.Weather{{At: 0, Outdoor: 10}, {At: 6 * time.Hour, Outdoor: -6}, {At: 20 * time.Hour, Outdoor: -8}}
	turning, err := day.Plan(t.Context(), w, 14*time.Hour, someEffort, nil)
	require.NoError(t, err)
	w.Weather = nil
	even, err := day.Plan(t.Context(), w, 14*time.Hour, someEffort, nil)
	require.NoError(t, err)
	assert.Greater(t, turning.Wood, even.Wood, "frost in the evening wants its wood")
	w.Wood.Stack.Reading = 0.5
	_, err = day.Plan(t.Context(), w, 14*time.Hour, someEffort, nil)
	assert.Error(t, err)
}

func TestWhatToDoNow(t *testing.T) {
	situation := func(outdoor, room units.Celsius, coals units.Kilogram) day.Situation {
		return day.Situation{House: house.Default(), Wanted: [2]units.Celsius{19, 21.5}, Volume: 55,
			Outdoor: func(time.Duration) units.Celsius { return outdoor }, Last: &fire.Sample{Room: room, Coals: coals}}
	}
	for _, c := range []struct {
		outdoor, room units.Celsius
		coals         units.Kilogram
		do            day.Thing
		start         wish.Start
	}{
		{0, 16, 0, day.Light, wish.Cold},
		{0, 18, 0.3, day.Light, wish.LayerCoals},
		{0, 18.5, 0.8, day.Light, wish.GoodCoals},
		{0, 21.5, 0.8, day.Wait, wish.GoodCoals},
		{18.5, 21, 0, day.Holds, wish.Cold},
	} {
		a := day.Advise(situation(c.outdoor, c.room, c.coals))
		assert.Equal(t, c.do, a.Do, "%v outside, %v inside", c.outdoor, c.room)
		assert.Equal(t, c.start, a.Start)
		assert.True(t, a.Known)
	}
	wait := day.Advise(situation(0, 21.5, 0.8))
	colder := day.Advise(situation(-12, 21.5, 0.8))
	assert.Greater(t, wait.Wait, colder.Wait, "a colder night waits less")
	assert.True(t, day.Advise(situation(13, 18, 0)).Mild)
	unknown := situation(0, 0, 0)
	unknown.Last = nil
	assert.Equal(t, day.Look, day.Advise(unknown).Do)
	unknown.Outdoor = func(time.Duration) units.Celsius { return 25 }
	assert.Equal(t, day.Never, day.Advise(unknown).Do)
}

// An evening, a night and a morning are one chain: the evening's last load leaves the coals that
// the night's needs, the night's those for the morning, and nobody has to be there in between.
func TestEveningNightAndMorning(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
	w.Outdoor, w.Room, w.Low, w.High, w.House.Given = -5, 16, 18, 22, 140
	chained := someEffort
	chained.Worlds = 20 // one unsafe of six would be too many
	w.There = when.Presence{{To: 6 * time.Hour}, {From: 12 * time.Hour, To: 18 * time.Hour}}
	d, err := day.Plan(t.Context(), w, 17*time.Hour, chained, nil)
	require.NoError(t, err)
	require.Nil(t, d.Refused)
	nights := slices.IndexFunc(d.Windows, func(win day.Window) bool { return win.Night })
	require.Positive(t, nights, "an evening before it")
	evening, night := d.Windows[nights-1], d.Windows[nights]
	assert.GreaterOrEqual(t, night.Best, 3*time.Hour+15*time.Minute)
	assert.LessOrEqual(t, night.Until, 5*time.Hour, "an hour to see it burn")
	assert.NotEqual(t, wish.Cold, night.Fire.Wish.Start, "on the evening's coals")
	assert.True(t, evening.Fire.Wish.Embers, "that were wanted")
	assert.True(t, night.Fire.Wish.Embers)
	assert.False(t, night.Fire.Unsafe())
	require.Greater(t, len(d.Windows), nights+1, "a morning after it")
	morning := d.Windows[nights+1]
	assert.GreaterOrEqual(t, morning.Best, 12*time.Hour)
	assert.NotEqual(t, wish.Cold, morning.Fire.Wish.Start, "on the night's coals")

	mild := w
	mild.Outdoor, mild.Room = 15, 20
	m, err := day.Plan(t.Context(), mild, 17*time.Hour, chained, nil)
	require.NoError(t, err)
	assert.False(t, slices.ContainsFunc(m.Windows, func(win day.Window) bool { return win.Night }), "a house that holds by itself needs no fire at night")
	asleep := w
	asleep.There = when.Presence{{To: 6 * time.Hour}} // and nobody for the rest of it
	s, err := day.Plan(t.Context(), asleep, 15*time.Hour, chained, nil)
	require.NoError(t, err)
	last := s.Windows[len(s.Windows)-1]
	assert.True(t, last.Night)
	assert.False(t, last.Fire.Wish.Embers, "nobody lights on its coals")
}
