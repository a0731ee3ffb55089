package store_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/stove"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

// What thermometers report is kept once, by stove, and is part of the burn that it falls
// into, whenever it comes.
func TestReported(t *testing.T) {
	h, st, _ := furnished(t, storetest.New(t), "tarn")
	start := noon
	id := open(t, h, st)
	reading := func(minute int, place string, v float64) store.Reported {
		return store.Reported{Stove: st, Place: place, At: start.Add(time.Duration(minute) * time.Minute), Value: v}
	}
	batch := []store.Reported{
		reading(10, "connector-probe", 210.5), reading(10, "top", 90), reading(11, store.DraftPlace, 14), reading(-30, "connector-probe", 20),
		{Stove: st, Place: "top", At: start.AddDate(-1, 0, 0), Value: 15}}
	n, err := h.AddReported(ctx, batch)
	require.NoError(t, err)
	assert.Equal(t, 5, n)
	n, err = h.AddReported(ctx, append(batch, reading(5, "connector-probe", 150)))
	require.NoError(t, err)
	assert.Equal(t, 1, n, "what is there is kept once")
	b, err := h.Burn(ctx, id)
	require.NoError(t, err)
	got := b.Readings(stove.ConnectorProbe)
	require.Len(t, got, 2, "one that came late lies at its own time, one of before the burn is not in it")
	assert.InDelta(t, 150, float64(got[0].Reading), 0.01)
	assert.InDelta(t, 210.5, float64(got[1].Reading), 0.01)
	draft, ok := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Draft })
	require.True(t, ok)
	assert.InDelta(t, 14, float64(draft.Draft), 0.01)
	_, made := b.NewestMade()
	assert.False(t, made, "what a thermometer reports is not undone by hand")
	_, err = h.AddReported(ctx, []store.Reported{reading(20, "top", 1), {Stove: st + 999, Place: "top", At: start, Value: 1}})
	require.ErrorIs(t, err, store.ErrMissing)
	b, _ = h.Burn(ctx, id)
	assert.Len(t, b.Readings(stove.Top), 1, "of a batch with another's stove nothing is kept")
	var many []store.Reported
	for s := range 9000 {
		many = append(many, store.Reported{Stove: st, Place: "top", At: start.Add(time.Duration(s) * 500 * time.Millisecond), Value: 100})
	}
	_, err = h.AddReported(ctx, many)
	require.NoError(t, err)
	n, err = h.AddReported(ctx, append(many, reading(70, "top", 80)))
	require.NoError(t, err)
	assert.LessOrEqual(t, n, 1, "a large batch that is sent again, too")
	b, _ = h.Burn(ctx, id)
	assert.Less(t, len(b.Entries), 7000, "of very many evenly some")
	assert.Greater(t, len(b.Entries), 800)
	_, err = h.AddReported(ctx, []store.Reported{reading(75, "top", 100), reading(76, "top", 101)})
	require.NoError(t, err)
	later, err := h.Burn(ctx, id)
	require.NoError(t, err)
	n = len(b.Entries)
	require.Greater(t, len(later.Entries), n)
	assert.Equal(t, b.Entries[:n], later.Entries[:n], "a minute on the same are taken: what is believed of them is kept")
}

// A token lets in whoever has it, is counted by the minute, and is over when it is
// revoked; its text is nowhere.
func TestTokens(t *testing.T) {
	everything := storetest.New(t)
	h, other := storetest.Household(t, everything, "tarn"), storetest.Household(t, everything, "beck")
	token, err := h.MakeToken(ctx, "shelf", 0, []string{store.ScopeReadings, store.ScopeRead})
	require.NoError(t, err)
	now := time.Date(2026, 11, 26, 10, 0, 30, 0, time.UTC)
	for i := range 3 {
		c, err := everything.Call(ctx, token, now.Add(time.Duration(i)*time.Second))
		require.NoError(t, err)
		assert.Equal(t, h.ID(), c.Home)
		assert.Equal(t, i+1, c.Asked)
		assert.Equal(t, []string{store.ScopeReadings, store.ScopeRead}, []string(c.Scopes))
	}
	c, err := everything.Call(ctx, token, now.Add(time.Minute))
	require.NoError(t, err)
	assert.Equal(t, 1, c.Asked, "a new minute")
	list, err := h.Tokens(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.True(t, list[0].Used.Valid)
	var found int
	require.NoError(t, everything.DB().QueryRowContext(ctx, `SELECT count(*) FROM tokens t WHERE t::text LIKE '%' || $1 || '%'`, token).Scan(&found))
	assert.Zero(t, found, "kept hashed")
	require.NoError(t, other.RevokeToken(ctx, list[0].ID, noon))
	_, err = everything.Call(ctx, token, now)
	require.NoError(t, err, "another household revokes nothing")
	require.NoError(t, h.RevokeToken(ctx, list[0].ID, noon))
	_, err = everything.Call(ctx, token, now)
	require.ErrorIs(t, err, store.ErrMissing)
	_, err = h.MakeToken(ctx, "shelf", 999999, []string{store.ScopeRead})
	require.ErrorIs(t, err, store.ErrMissing)
}

// A change is heard of by every process, once it is kept, and not when it is not.
func TestChangesAreHeard(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	everything := storetest.New(t)
	h, st, _ := furnished(t, everything, "tarn")
	start, id := noon, open(t, h, st)
	heard, ready, over := make(chan store.Change, 50), make(chan struct{}), make(chan error, 1)
	go func() { over <- everything.Listen(ctx, func() { close(ready) }, func(c store.Change) { heard <- c }) }()
	<-ready
	next := func() store.Change {
		for {
			select {
			case c := <-heard:
				if c.Household == h.ID() {
					return c
				}
			case <-time.After(10 * time.Second):
				t.Fatal("nothing was heard")
			}
		}
	}
	bad := burn.Entry{ID: "bad", At: start.Add(-time.Hour), Kind: burn.Light}
	require.Error(t, h.AddEntry(ctx, id, bad, later))
	require.NoError(t, h.AddEntry(ctx, id, burn.Entry{ID: "lit", At: start, Kind: burn.Light}, later))
	assert.Equal(t, store.Change{Household: h.ID(), Burn: id, Stove: st}, next(), "the one that was kept, and only it")
	_, err := h.AddReported(ctx, []store.Reported{{Stove: st, Place: "top", At: start.Add(time.Minute), Value: 42}})
	require.NoError(t, err)
	c := next()
	require.Len(t, c.Readings, 1)
	assert.InDelta(t, 42, c.Readings[0].Value, 0.01)
	cancel()
	require.Error(t, <-over)
}
