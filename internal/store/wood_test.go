package store_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/shed"
	"smolder/internal/core/burn"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/demo"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

// What was carried in is burnt oldest first, stack by stack; what is undone was never
// carried, and after ten days nobody believes that it still lies there.
func TestWhatLiesByTheStove(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, stack := furnished(t, s, "tarn")
	other, err := storetest.AddStack(h, demo.Stacks()[1], noon.Add(-time.Hour))
	require.NoError(t, err)
	carry := func(stack int64, pieces int, at time.Time) int64 {
		id, err := h.Carry(ctx, stack, pieces, at)
		require.NoError(t, err)
		return id
	}
	first := carry(stack, 6, noon)
	carry(stack, 10, noon.Add(time.Hour))
	carry(other, 5, noon)
	inside := func(at time.Time) map[int64]int {
		all, err := h.Indoors(ctx, at)
		require.NoError(t, err)
		out := map[int64]int{}
		for _, c := range all {
			out[c.StackID] += c.Left
		}
		return out
	}
	assert.Equal(t, map[int64]int{stack: 6, other: 5}, inside(noon.Add(time.Minute)), "not before it is carried")
	assert.Equal(t, map[int64]int{stack: 16, other: 5}, inside(later))
	b := open(t, h, stoveID)
	require.NoError(t, h.AddEntry(ctx, b, load(stack, "a", noon.Add(90*time.Minute)), noon.Add(2*time.Hour)))
	evening := noon.Add(6 * time.Hour)
	assert.Equal(t, map[int64]int{stack: 12, other: 5}, inside(evening))
	all, err := h.Indoors(ctx, evening)
	require.NoError(t, err)
	assert.Equal(t, 2, all[0].Left, "of the oldest first")
	require.NoError(t, h.UndoCarry(ctx, stack, first, true, noon))
	assert.Equal(t, map[int64]int{stack: 6, other: 5}, inside(evening))
	require.NoError(t, h.UndoCarry(ctx, stack, first, false, noon))
	require.NoError(t, h.RemoveBurn(ctx, b, true, noon))
	assert.Equal(t, map[int64]int{stack: 16, other: 5}, inside(evening), "of a burn off the list nothing was burnt")
	assert.Empty(t, inside(noon.AddDate(0, 0, 11)))
	_, err = h.Carry(ctx, 999, 3, noon)
	require.ErrorIs(t, err, store.ErrMissing)
	require.ErrorIs(t, h.UndoCarry(ctx, other, first, true, noon), store.ErrMissing, "of another stack")
}

// A first fire is laid of pieces that were split once more by the stove: four halves are two
// of the pieces that were carried in.
func TestHalvesOfWhatLiesByTheStove(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, stack := furnished(t, s, "tarn")
	_, err := h.Carry(ctx, stack, 10, noon)
	require.NoError(t, err)
	b := open(t, h, stoveID)
	halves, whole := load(stack, "halves", noon.Add(80*time.Minute)), load(stack, "whole", noon.Add(90*time.Minute))
	pieces := whole.Load.Pieces
	halves.Load.Pieces, halves.Load.PieceMass = 4, whole.Load.PieceMass/2
	require.NoError(t, h.AddEntry(ctx, b, halves, noon.Add(2*time.Hour)))
	require.NoError(t, h.AddEntry(ctx, b, whole, noon.Add(2*time.Hour)))
	all, err := h.Indoors(ctx, noon.Add(3*time.Hour))
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.Equal(t, 10-2-pieces, all[0].Left)
}

// Recounts teach across stacks, and what is left goes by what they taught once that is
// more than counting is off.
func TestRecountsCorrectUse(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, stack := furnished(t, s, "tarn")
	count := func(dry units.Kilogram, at time.Time) {
		require.NoError(t, h.AddCount(ctx, stack, store.StackCount{At: at, Way: wood.OnScale, Typed: "weighed", Amount: wood.Amount{Middle: dry, Own: 0.002}}))
	}
	b := open(t, h, stoveID)
	dry := func(pieces float64) units.Kilogram {
		return wood.DryMass(units.Kilogram(1.3*pieces), demo.Stacks()[0].Moisture())
	}
	count(1000, noon)
	for i := range 8 { // four pieces each, and a tenth more is burnt than that
		e := load(stack, string(rune('a'+i)), noon.Add(time.Duration(i+1)*time.Hour))
		require.NoError(t, h.AddEntry(ctx, b, e, noon.Add(20*time.Hour)))
	}
	before, err := new(shed.Shed).Stack(ctx, h, stack, noon.Add(20*time.Hour))
	require.NoError(t, err)
	assert.InDelta(t, float64(1000-dry(32)), float64(before.Left.Middle), 1e-6, "as it was logged")
	count(1000-dry(32)*1.3, noon.Add(10*time.Hour))
	all, err := new(shed.Shed).Of(ctx, h, noon.Add(20*time.Hour))
	require.NoError(t, err)
	u := all.Unlogged
	assert.Equal(t, 1, u.Recounts)
	assert.Greater(t, u.Middle, 1.1)
	require.True(t, u.Known())
	e := load(stack, "z", noon.Add(11*time.Hour))
	require.NoError(t, h.AddEntry(ctx, b, e, noon.Add(20*time.Hour)))
	after, err := new(shed.Shed).Stack(ctx, h, stack, noon.Add(20*time.Hour))
	require.NoError(t, err)
	assert.InDelta(t, float64(1000-dry(32)*1.3)-float64(dry(4))*u.Middle, float64(after.Left.Middle), 1e-6, "more than was logged")
	taken, err := h.Taken(ctx, noon, noon.AddDate(0, 0, 8))
	require.NoError(t, err)
	require.Len(t, taken, 1)
	assert.InDelta(t, float64(dry(36)), taken[0].Dry, 1e-6)
	assert.Zero(t, taken[0].Week)
	used, err := h.UsedBetween(ctx, stack, noon, noon.Add(150*time.Minute))
	require.NoError(t, err)
	assert.InDelta(t, float64(dry(8)), float64(used), 1e-6)
}

// Readings in any order, of days and of pieces, count until they are undone; there is a
// limit, and another household's stack is not there.
func TestReadingsOfAStack(t *testing.T) {
	s := storetest.New(t)
	h, _, stack := furnished(t, s, "tarn")
	moisture := func() units.Fraction {
		st, err := new(shed.Shed).Stack(ctx, h, stack, noon.AddDate(0, 3, 0))
		require.NoError(t, err)
		return st.Moisture()
	}
	was := moisture()
	for i, u := range []units.Fraction{0.26, 0.25, 0.27} {
		require.NoError(t, h.AddReading(ctx, stack, store.StackReading{At: noon.AddDate(0, 2, 3-i), Reading: u, Pieces: 5, Spread: 0.01}))
	}
	assert.Greater(t, moisture(), was+0.03)
	all, err := h.ReadingsOf(ctx, stack)
	require.NoError(t, err)
	require.Len(t, all, 4)
	assert.True(t, all[0].At.After(all[1].At), "newest first")
	for _, r := range all[:3] {
		require.NoError(t, h.UndoReading(ctx, stack, r.ID, true, noon))
		require.NoError(t, h.UndoReading(ctx, stack, r.ID, true, noon), "twice is fine")
	}
	assert.InDelta(t, float64(was), float64(moisture()), 1e-9)
	require.ErrorIs(t, h.AddReading(ctx, 999, store.StackReading{At: noon, Reading: 0.2, Pieces: 1}), store.ErrMissing)
	_, err = s.DB().Exec(`
		INSERT INTO stack_readings (household_id, stack_id, at, reading, pieces)
		SELECT $1, $2, CAST($3 AS timestamptz) - n * interval '1 day', 0.2, 1 FROM generate_series(1, 600) AS n`, h.ID(), stack, noon)
	require.NoError(t, err)
	require.ErrorIs(t, h.AddReading(ctx, stack, store.StackReading{At: noon, Reading: 0.2, Pieces: 1}), store.ErrMany)
}

// What was done is done until it is undone, of a stove or of the household; the alarms are
// tested when it is said under Household or done under Upkeep, whichever is later.
func TestUpkeepIsKept(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	swept, err := h.MarkDone(ctx, stoveID, "sweep", "a crack in the cap", noon)
	require.NoError(t, err)
	_, err = h.MarkDone(ctx, stoveID, "sweep", "", noon.AddDate(-1, 0, 0))
	require.NoError(t, err)
	tested, err := h.MarkDone(ctx, 0, "detectors", "", noon)
	require.NoError(t, err)
	last, err := h.LastDone(ctx)
	require.NoError(t, err)
	assert.True(t, noon.Equal(last[stoveID]["sweep"]))
	p, err := h.Profile(ctx)
	require.NoError(t, err)
	assert.Equal(t, noon.Format(time.DateOnly), p.Alarms.Format(time.DateOnly))
	d, err := h.UndoDone(ctx, swept, true, noon)
	require.NoError(t, err)
	assert.Equal(t, "a crack in the cap", d.Note)
	last, err = h.LastDone(ctx)
	require.NoError(t, err)
	assert.True(t, noon.AddDate(-1, 0, 0).Equal(last[stoveID]["sweep"]), "the one before counts again")
	_, err = h.UndoDone(ctx, tested, true, noon)
	require.NoError(t, err)
	p, err = h.Profile(ctx)
	require.NoError(t, err)
	assert.True(t, p.Alarms.IsZero())
	all, err := h.AllDone(ctx, 10)
	require.NoError(t, err)
	require.Len(t, all, 3)
	_, err = h.MarkDone(ctx, 999, "sweep", "", noon)
	require.ErrorIs(t, err, store.ErrMissing)
	stranger := storetest.Household(t, s, "stranger")
	_, err = stranger.UndoDone(ctx, swept, false, noon)
	require.ErrorIs(t, err, store.ErrMissing)
	_, err = stranger.MarkDone(ctx, stoveID, "sweep", "", noon)
	require.ErrorIs(t, err, store.ErrMissing)
}

// What burns did to their stoves is read from what is kept of them.
func TestWearOfBurns(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, stack := furnished(t, s, "tarn")
	b := open(t, h, stoveID)
	require.NoError(t, h.AddEntry(ctx, b, load(stack, "a", noon), later))
	_, err := h.EndBurn(ctx, b, noon.Add(3*time.Hour), noon.Add(3*time.Hour))
	require.NoError(t, err)
	require.NoError(t, h.KeepEye(ctx, b, burn.Eye{Glass: "black"}))
	none, err := h.Wears(ctx, noon.AddDate(-1, 0, 0))
	require.NoError(t, err)
	assert.Empty(t, none, "nobody has looked back at it yet")
	_, err = s.DB().Exec(`
		INSERT INTO reviews (household_id, burn_id, stove_id, revision, made_by, whole, doc, started, cold, lay, species, wood, direction, moisture, used, heat, smoke,
		                     smoke_per_kg, deposits, efficiency, cold_s, working_s, hot_s, smoulder_s, length_s, simulated)
		VALUES ($1, $2, $3, 1, 1, true, '{"Deposits": [1, 2, 3, 4, 0.5], "Mineral": 2}', $4, true, 'top-down', 'beech', 'Beech', 'end-on', 0.25, 5, 5e7, 20, 4,
		        10.5, 0.7, 0, 3600, 0, 1800, 10800, true)`, h.ID(), b, stoveID, noon)
	require.NoError(t, err)
	wears, err := h.Wears(ctx, noon.AddDate(-1, 0, 0))
	require.NoError(t, err)
	require.Len(t, wears, 1)
	w := wears[0]
	assert.Equal(t, []float64{1, 2, 3, 4, 0.5}, w.Settled)
	assert.InDelta(t, 4, w.Dry, 1e-6)
	assert.InDelta(t, 2, w.Mineral, 1e-9)
	assert.InDelta(t, 3, w.Hours, 1e-9)
	assert.InDelta(t, 0.5, w.Smoulder, 1e-9)
	assert.True(t, w.Black)
	spans, err := h.Lately(ctx, []store.Span{{From: noon.AddDate(0, 0, -7), To: noon.AddDate(0, 0, 7)}, {From: noon.AddDate(0, 0, 7), To: noon.AddDate(0, 0, 14)}}, "Etc/UTC")
	require.NoError(t, err)
	require.Len(t, spans, 2)
	assert.Zero(t, spans[1].Burns, "none in the week after")
	lately := spans[0]
	assert.Equal(t, 1, lately.Burns)
	assert.InDelta(t, 0.7, lately.Efficiency, 1e-6)
	assert.InDelta(t, 5, lately.LitAt[12], 1e-6, "lit at noon")
	assert.Empty(t, lately.Outdoor, "nobody said what it was outside")
	sticks, err := h.Sticks(ctx, 0, noon.AddDate(0, 0, -7), noon.AddDate(0, 0, 7))
	require.NoError(t, err)
	assert.Zero(t, sticks, "it was lit on coals")
}
