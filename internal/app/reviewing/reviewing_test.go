package reviewing_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/reviewing"
	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/stove"
	"smolder/internal/demo"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

// pip is the mail boat's stove with some of its burns.
func pip(t *testing.T, s *store.Store, owner string, n int) (h store.Household, stoveID int64, burns []int64) {
	t.Helper()
	ctx := context.Background()
	h = storetest.Household(t, s, owner)
	spaces, err := h.Spaces(ctx)
	require.NoError(t, err)
	st := demo.Stoves()[3]
	st.Space = spaces[0]
	stoveID, err = h.AddStove(ctx, st)
	require.NoError(t, err)
	for _, b := range demo.Burns("Pip", n) {
		id, err := h.StartBurn(ctx, stoveID, "", b, nil)
		require.NoError(t, err)
		burns = append(burns, id)
	}
	return h, stoveID, burns
}

func spread(t *testing.T, h store.Household, stoveID int64, name string) float64 {
	t.Helper()
	known, err := h.KnownAt(context.Background(), stoveID, time.Date(2030, 1, 1, 0, 0, 0, 0, time.UTC))
	require.NoError(t, err)
	_, spread, ok := known.Prior.Spread(name)
	require.True(t, ok)
	return spread
}

// What burns came to and what they teach is worked out once, again from where something has
// changed, and of nobody else.
func TestWhatBurnsTeach(t *testing.T) {
	ctx := context.Background()
	s := storetest.New(t)
	h, stoveID, burns := pip(t, s, "wren", 5)
	other, otherStove, _ := pip(t, s, "rook", 1)
	w := &reviewing.Worker{Store: s}
	behind := func() []int64 {
		ids, err := s.Behind(ctx)
		require.NoError(t, err)
		return ids
	}
	assert.ElementsMatch(t, []int64{h.ID(), other.ID()}, behind())

	require.NoError(t, w.Quick(ctx, h.ID()))
	r, err := h.ReviewOf(ctx, burns[0])
	require.NoError(t, err)
	assert.False(t, r.Whole, "first what a replay tells")
	assert.NotEmpty(t, r.Review().Thumb)

	require.NoError(t, w.CatchUp(ctx, h.ID()))
	assert.Equal(t, []int64{other.ID()}, behind())
	assert.Zero(t, reviewing.ProgressOf(ctx, h))
	lessons, err := h.Lessons(ctx, stoveID, 20)
	require.NoError(t, err)
	require.Len(t, lessons, 5)
	assert.Equal(t, 5, lessons[0].Known().Burns)
	learned := spread(t, h, stoveID, "surface")
	assert.Less(t, learned, 0.06, "a gauge that is read is known")
	r, err = h.ReviewOf(ctx, burns[4])
	require.NoError(t, err)
	assert.True(t, r.Whole)
	assert.Positive(t, r.Review().Usual, "it was foretold before it was taken in")
	_, err = other.ReviewOf(ctx, burns[4])
	require.ErrorIs(t, err, store.ErrMissing)
	theirs, err := other.Lessons(ctx, stoveID, 5)
	require.NoError(t, err)
	assert.Empty(t, theirs)

	// Something is undone in the third burn: it and those after it are learned again.
	b, err := h.Burn(ctx, burns[2])
	require.NoError(t, err)
	for _, e := range b.Entries {
		if e.Kind == burn.Temperature && e.Place == stove.ConnectorSurface {
			require.NoError(t, h.UndoEntry(ctx, burns[2], e.ID, time.Date(2026, 1, 20, 12, 0, 0, 0, time.UTC)))
			break
		}
	}
	assert.Contains(t, behind(), h.ID())
	require.NoError(t, w.CatchUp(ctx, h.ID()))
	again, err := h.Lessons(ctx, stoveID, 20)
	require.NoError(t, err)
	require.Len(t, again, 5)
	assert.Equal(t, lessons[3].Known(), again[3].Known(), "what came before stays")
	assert.NotEqual(t, lessons[2].Known(), again[2].Known())
	assert.NotEqual(t, lessons[0].Known(), again[0].Known())

	// A new gauge makes its error unknown again; taken back, it is known as before.
	now := b.Ended.AddDate(1, 0, 0)
	require.NoError(t, h.ChangeStove(ctx, stoveID, belief.NewGauge, now, 0))
	require.NoError(t, w.CatchUp(ctx, h.ID()))
	assert.Greater(t, spread(t, h, stoveID, "surface"), 0.07)
	changes, err := h.StoveChanges(ctx, stoveID)
	require.NoError(t, err)
	require.ErrorIs(t, other.UndoStoveChange(ctx, otherStove, changes[0].ID, true, now), store.ErrMissing)
	require.NoError(t, h.UndoStoveChange(ctx, stoveID, changes[0].ID, true, now))
	require.NoError(t, w.CatchUp(ctx, h.ID()))
	assert.InDelta(t, learned, spread(t, h, stoveID, "surface"), 0.01)

	// One click back: to what was known after the second burn.
	require.NoError(t, h.ChangeStove(ctx, stoveID, store.Back, now, burns[1]))
	require.NoError(t, w.CatchUp(ctx, h.ID()))
	known, err := h.KnownAt(ctx, stoveID, now.Add(time.Hour))
	require.NoError(t, err)
	assert.Equal(t, 2, known.Burns)
	require.ErrorIs(t, other.ChangeStove(ctx, otherStove, store.Back, now, burns[1]), store.ErrMissing)

	// A burn that is taken off teaches nothing.
	require.NoError(t, h.RemoveBurn(ctx, burns[0], true, now))
	assert.Contains(t, behind(), h.ID())
	require.NoError(t, w.CatchUp(ctx, h.ID()))
	assert.NotContains(t, behind(), h.ID())
}

// Of a stove that is off the list nothing is learned any more, and nothing is left to do.
func TestAStoveThatIsGone(t *testing.T) {
	ctx := context.Background()
	s := storetest.New(t)
	h, stoveID, _ := pip(t, s, "wren", 1)
	require.NoError(t, h.RemoveStove(ctx, stoveID, true, storetest.Noon))
	w := &reviewing.Worker{Store: s}
	require.NoError(t, w.CatchUp(ctx, h.ID()))
	ids, err := s.Behind(ctx)
	require.NoError(t, err)
	assert.Empty(t, ids)
	lessons, err := h.Lessons(ctx, stoveID, 5)
	require.NoError(t, err)
	assert.Empty(t, lessons)
}

// Of a logbook of very many burns the last ones teach; what lies long before is passed over.
func TestBurnsOfLongAgo(t *testing.T) {
	ctx := context.Background()
	s := storetest.New(t)
	h, stoveID, _ := pip(t, s, "wren", 1)
	_, err := s.DB().Exec(`
		INSERT INTO burns (household_id, stove_id, title, spec, started, ended)
		SELECT household_id, stove_id, '', spec, started + n * interval '1 day', ended + n * interval '1 day'
		FROM burns, generate_series(1, 245) AS n`)
	require.NoError(t, err)
	w := &reviewing.Worker{Store: s}
	require.NoError(t, w.Learn(ctx, h, stoveID))
	lessons, err := h.Lessons(ctx, stoveID, 500)
	require.NoError(t, err)
	assert.Len(t, lessons, 246, "each has its place, so that nothing is left to do")
	assert.Zero(t, lessons[0].Known().Burns, "the only one that could teach is of long ago")
}

// Readings that come in late, of a burn that is over, have it looked at again.
func TestLateReadings(t *testing.T) {
	ctx := context.Background()
	s := storetest.New(t)
	h, stoveID, burns := pip(t, s, "wren", 1)
	w := &reviewing.Worker{Store: s}
	require.NoError(t, w.CatchUp(ctx, h.ID()))
	b, err := h.Burn(ctx, burns[0])
	require.NoError(t, err)
	kept, err := h.AddReported(ctx, []store.Reported{{Stove: stoveID, Place: string(stove.ConnectorSurface), At: b.Started.Add(20 * time.Minute), Value: 140}})
	require.NoError(t, err)
	require.Equal(t, 1, kept)
	ids, err := s.Behind(ctx)
	require.NoError(t, err)
	assert.Contains(t, ids, h.ID())
	require.NoError(t, w.CatchUp(ctx, h.ID()))
	penned, err := h.DrawnBurn(ctx, burns[0])
	require.NoError(t, err)
	whole, err := h.Burn(ctx, burns[0])
	require.NoError(t, err)
	assert.Equal(t, whole.Entries, penned.Entries, "what is kept for drawing is what was reported")
}
