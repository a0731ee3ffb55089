package store_test

import (
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/house"
	"smolder/internal/core/units"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

// Many attempts at once are not all let through, whichever process they reach.
func TestAttemptsAreCountedBeforeTheyAreMade(t *testing.T) {
	s := storetest.New(t)
	limit := store.Limit{Key: "name tarn", Most: 6, Within: 5 * time.Minute}
	var group sync.WaitGroup
	var mu sync.Mutex
	passed := 0
	for range 30 {
		group.Go(func() {
			full, taken, err := s.Attempt(ctx, noon, limit)
			mu.Lock()
			defer mu.Unlock()
			if assert.NoError(t, err) && full == nil {
				passed++
				assert.Len(t, taken, 1)
			}
		})
	}
	group.Wait()
	assert.Equal(t, 6, passed)
	full, taken, err := s.Attempt(ctx, noon.Add(6*time.Minute), limit, store.Limit{Key: "other", Most: 1, Within: time.Hour})
	require.NoError(t, err)
	assert.Nil(t, full, "after a while it is let through again")
	require.NoError(t, s.Forgive(ctx, taken))
	full, _, err = s.Attempt(ctx, noon.Add(6*time.Minute), store.Limit{Key: "other", Most: 1, Within: time.Hour})
	require.NoError(t, err)
	assert.Nil(t, full, "what turned out well does not count")
}

// Of several who set up a fresh server at once, one becomes its owner, and only
// with the code.
func TestOneOwnerOfAFreshServer(t *testing.T) {
	s := storetest.New(t)
	code, err := s.SetupCode(ctx)
	require.NoError(t, err)
	again, err := s.SetupCode(ctx)
	require.NoError(t, err)
	assert.Equal(t, code, again, "every process prints the same")
	create := func(code, name string) error {
		_, _, err := s.CreateFirst(ctx, code, store.Profile{Name: "Mill", Zone: "UTC", Units: units.Metric},
			store.Space{Name: "house", House: house.Default()}, name, "hash")
		return err
	}
	require.ErrorIs(t, create("wrong", "thief"), store.ErrMissing)
	var group sync.WaitGroup
	var mu sync.Mutex
	made := 0
	for i := range 5 {
		group.Go(func() {
			err := create(" "+code, fmt.Sprintf("owner %d", i))
			mu.Lock()
			defer mu.Unlock()
			if err == nil {
				made++
			} else {
				assert.ErrorIs(t, err, store.ErrTaken)
			}
		})
	}
	group.Wait()
	assert.Equal(t, 1, made)
}

func session(t *testing.T, user int64) []byte {
	b, err := (scs.GobCodec{}).Encode(time.Now().Add(time.Hour), map[string]any{store.SessionUser: user, store.SessionAgent: "a phone"})
	require.NoError(t, err)
	return b
}

// Signing out is final: a page that is still being computed brings nothing back.
func TestAnEndedSessionStaysEnded(t *testing.T) {
	s := storetest.New(t)
	id, user, err := s.Create(ctx, store.Profile{Name: "x", Zone: "UTC", Units: units.Metric}, store.Space{Name: "x", House: house.Default()}, "ro", "hash")
	require.NoError(t, err)
	keep, until := s.Sessions(time.Now), time.Now().Add(time.Hour)
	for _, token := range []string{"phone", "laptop", "tablet"} {
		require.NoError(t, keep.CommitCtx(ctx, token, session(t, user), until))
	}
	there := func(token string) bool {
		_, found, err := keep.FindCtx(ctx, token)
		require.NoError(t, err)
		return found
	}
	require.NoError(t, keep.DeleteCtx(ctx, "phone"))
	require.NoError(t, keep.CommitCtx(ctx, "phone", session(t, user), until), "the slow page ends")
	assert.False(t, there("phone"))
	list, err := keep.Of(ctx, user, "laptop")
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.True(t, list[0].Here)
	assert.Equal(t, "a phone", list[0].Agent)
	require.NoError(t, s.AddPasskey(ctx, user, store.Passkey{ID: []byte("key"), Name: "a phone", Credential: []byte("{}"), MadeAt: noon}))
	passkeys := func() int {
		all, err := s.Passkeys(ctx, user)
		require.NoError(t, err)
		return len(all)
	}
	require.NoError(t, s.SetPassword(ctx, user, "other", "laptop", noon))
	assert.True(t, there("laptop"))
	assert.Equal(t, 1, passkeys(), "who changes their own keeps their passkeys")
	assert.False(t, there("tablet"), "a changed password ends the others")
	require.NoError(t, s.SetPassword(ctx, user, "another", "", noon))
	assert.False(t, there("laptop"), "who is helped back in is signed out everywhere")
	assert.Zero(t, passkeys(), "and nobody gets in by a passkey of before")
	require.NoError(t, keep.CommitCtx(ctx, "desk", session(t, user), until))
	_, err = s.DB().Exec(`DELETE FROM users WHERE id = $1`, user)
	require.NoError(t, err)
	assert.False(t, there("desk"), "a removed user has no session")
	require.NoError(t, keep.CommitCtx(ctx, "desk", session(t, user), until))
	assert.False(t, there("desk"))
	require.NoError(t, s.Tidy(ctx, noon))
	_ = id
}
