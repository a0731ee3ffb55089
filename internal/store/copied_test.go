package store_test

import (
	"context"
	"database/sql"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

// Parts are made ahead, and made again it is fine; a reading of before them makes its own.
func TestPartsAreMadeAhead(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	parts := func() (names []string) {
		rows, err := s.DB().QueryContext(ctx, `
			SELECT c.relname FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid
			WHERE i.inhparent = CAST('reported' AS regclass) ORDER BY 1`)
		require.NoError(t, err)
		defer rows.Close()
		for rows.Next() {
			var name string
			require.NoError(t, rows.Scan(&name))
			names = append(names, name)
		}
		require.NoError(t, rows.Err())
		return names
	}
	require.NoError(t, s.MakeParts(ctx, noon))
	require.NoError(t, s.MakeParts(ctx, noon))
	ahead := parts()
	assert.Equal(t, []string{"reported_202512", "reported_202601", "reported_202602", "reported_202603"}, ahead)
	n, err := h.AddReported(ctx, []store.Reported{{Stove: stoveID, Place: "top", At: noon, Value: 90}})
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	assert.Equal(t, ahead, parts(), "none is made on the way")
	n, err = h.AddReported(ctx, []store.Reported{{Stove: stoveID, Place: "top", At: noon.AddDate(-6, 0, 0), Value: 90}, {Stove: stoveID, Place: "top", At: noon.AddDate(-6, 3, 0), Value: 80}})
	require.NoError(t, err)
	assert.Equal(t, 2, n)
	assert.Equal(t, append([]string{"reported_2020"}, ahead...), parts())
}

// The same readings sent at once by several, some in one batch twice, are there once.
func TestReadingsSentAtOnce(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	require.NoError(t, s.MakeParts(ctx, noon))
	batch := func(from, to int) (out []store.Reported) {
		for i := from; i < to; i++ {
			r := store.Reported{Stove: stoveID, Place: "top", At: noon.Add(time.Duration(i) * time.Second), Value: float64(i)}
			out = append(out, r, r)
		}
		return out
	}
	var group sync.WaitGroup
	var mu sync.Mutex
	sum := 0
	for i := range 6 {
		group.Go(func() {
			n, err := h.AddReported(ctx, batch(100*i, 100*i+300))
			assert.NoError(t, err)
			mu.Lock()
			defer mu.Unlock()
			sum += n
		})
	}
	group.Wait()
	var there int
	require.NoError(t, s.DB().QueryRow(`SELECT count(*) FROM reported`).Scan(&there))
	assert.Equal(t, 800, there)
	assert.Equal(t, there, sum, "each counted by who was first")
}

// Who puts a stove into a space while it is taken off the list, or lights one while it is, waits,
// and is then told: nothing stands on what is gone.
func TestNothingStandsOnWhatIsGone(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	st, err := h.Stove(ctx, stoveID)
	require.NoError(t, err)
	loft, err := h.AddSpace(ctx, store.Space{Name: "the loft", House: st.Space.House, Wanted: st.Space.Wanted})
	require.NoError(t, err)
	// hold takes something off the list, and keeps its transaction open until it is let go.
	hold := func(table string, id int64) (letGo func()) {
		tx, err := s.DB().BeginTx(ctx, &sql.TxOptions{})
		require.NoError(t, err)
		_, err = tx.ExecContext(ctx, `UPDATE `+table+` SET removed_at = $2 WHERE id = $1`, id, noon)
		require.NoError(t, err)
		return func() { require.NoError(t, tx.Commit()) }
	}
	within := func(do func(context.Context) error, letGo func()) error {
		over := make(chan error, 1)
		go func() { over <- do(ctx) }()
		select {
		case err := <-over:
			t.Fatalf("it did not wait: %v", err)
		case <-time.After(300 * time.Millisecond):
		}
		letGo()
		return <-over
	}
	moved := st
	moved.Space.ID = loft
	require.ErrorIs(t, within(func(ctx context.Context) error { return h.SaveStove(ctx, moved) }, hold("spaces", loft)), store.ErrStale)
	_, err = h.Stove(ctx, stoveID)
	require.NoError(t, err)
	require.ErrorIs(t, within(func(ctx context.Context) error {
		_, err := h.StartBurn(ctx, stoveID, "", burn.Burn{Stove: st.Stove, House: st.Space.House, Started: noon}, nil)
		return err
	}, hold("stoves", stoveID)), store.ErrMissing)
}

// Taking a burn off the list, and putting it back, is a change like every other: it is counted and
// heard of.
func TestTakingABurnOffIsAChange(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	b := open(t, h, stoveID)
	before, err := h.Burn(ctx, b)
	require.NoError(t, err)
	require.NoError(t, h.RemoveBurn(ctx, b, true, noon))
	require.ErrorIs(t, h.AddEntry(ctx, b, load(0, "late", noon), later), store.ErrMissing, "nothing more is logged of it")
	other := open(t, h, stoveID)
	require.ErrorIs(t, h.RemoveBurn(ctx, b, false, noon), store.ErrBurning)
	_, err = h.EndBurn(ctx, other, noon.Add(time.Hour), noon.Add(time.Hour))
	require.NoError(t, err)
	require.NoError(t, h.RemoveBurn(ctx, b, false, noon))
	after, err := h.Burn(ctx, b)
	require.NoError(t, err)
	assert.Greater(t, after.Revision, before.Revision)
	assert.False(t, after.Removed)
}

// What is known of all stoves at once is what is known of each.
func TestWhatIsKnownOfAll(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	all, err := h.KnownOfAll(ctx, later)
	require.NoError(t, err)
	assert.Empty(t, all, "nothing yet, which is no error")
	one, err := h.KnownAt(ctx, stoveID, later)
	require.NoError(t, err)
	require.NoError(t, h.KeepLesson(ctx, stoveID, 1, store.Teacher{Burn: open(t, h, stoveID), At: noon}, one))
	all, err = h.KnownOfAll(ctx, later)
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.Equal(t, one.Prior.Names, all[stoveID].Prior.Names)
	all, err = h.KnownOfAll(ctx, noon.Add(-time.Hour))
	require.NoError(t, err)
	assert.Empty(t, all, "not before it was learned")
}
