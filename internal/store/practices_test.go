package store_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/practice"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

// Two that go on with one practice at the same moment do not overwrite each other, and one that has
// ended stays as it is.
func TestPracticeGoneOnWithTwice(t *testing.T) {
	s := storetest.New(t)
	h := storetest.Household(t, s, "Tarn")
	owner, err := s.UserByName(t.Context(), "Tarn")
	require.NoError(t, err)
	user := owner.ID
	at := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	id, err := h.BeginPractice(t.Context(), user, "a stove", practice.Spec{Lesson: practice.Free}, at)
	require.NoError(t, err)
	one := store.Practice{ID: id, User: user, Done: []practice.Done{{At: time.Minute}}, Elapsed: 2 * time.Minute}
	require.NoError(t, h.KeepPractice(t.Context(), one, 0))
	other := one
	other.Done = []practice.Done{{At: time.Second}}
	require.ErrorIs(t, h.KeepPractice(t.Context(), other, 0), store.ErrStale)
	one.Ended, one.Score = at.Add(time.Hour), 0.5
	require.NoError(t, h.KeepPractice(t.Context(), one, 1))
	require.ErrorIs(t, h.KeepPractice(t.Context(), one, 1), store.ErrStale)
	got, err := h.Practice(t.Context(), user, id)
	require.NoError(t, err)
	assert.Equal(t, one.Done, got.Done)
	assert.InDelta(t, 0.5, got.Score, 0)
	_, err = h.Practice(t.Context(), user+1, id)
	require.ErrorIs(t, err, store.ErrMissing)
}
