package background_test

import (
	"context"
	"log/slog"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/background"
	"smolder/internal/app/reviewing"
	"smolder/internal/demo"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

const patience, often = 90 * time.Second, 50 * time.Millisecond

// pip is a household with the mail boat's stove and some of its burns.
func pip(t *testing.T, s *store.Store, owner string, n int) (h store.Household, burns []int64) {
	t.Helper()
	h = storetest.Household(t, s, owner)
	spaces, err := h.Spaces(t.Context())
	require.NoError(t, err)
	st := demo.Stoves()[3]
	st.Space = spaces[0]
	id, err := h.AddStove(t.Context(), st)
	require.NoError(t, err)
	for _, b := range demo.Burns("Pip", n) {
		burn, err := h.StartBurn(t.Context(), id, "", b, nil)
		require.NoError(t, err)
		burns = append(burns, burn)
	}
	return h, burns
}

// works lets a queue work until it is stopped.
func works(t *testing.T, s *store.Store) (q *background.Queue, stop func()) {
	t.Helper()
	q, err := background.New(s, &reviewing.Worker{Store: s}, time.Now, slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	ctx, cancel := context.WithCancel(t.Context())
	over := make(chan error, 1)
	go func() { over <- q.Run(ctx) }()
	return q, func() {
		cancel()
		require.NoError(t, <-over)
	}
}

func done(t *testing.T, s *store.Store, h store.Household) bool {
	t.Helper()
	behind, err := s.Behind(t.Context())
	require.NoError(t, err)
	for _, id := range behind {
		if id == h.ID() {
			return false
		}
	}
	return true
}

// What is to be done is found without anybody telling of it; two servers share it; and readings
// of this month have a part of the table before any comes.
func TestWorkIsFoundAndDone(t *testing.T) {
	s := storetest.New(t)
	h, burns := pip(t, s, "wren", 2)
	_, stop := works(t, s)
	_, stopOther := works(t, s)
	require.Eventually(t, func() bool { return done(t, s, h) }, patience, often)
	for _, id := range burns {
		r, err := h.ReviewOf(t.Context(), id)
		require.NoError(t, err)
		assert.True(t, r.Whole)
	}
	var parts int
	require.Eventually(t, func() bool {
		require.NoError(t, s.DB().QueryRow(`SELECT count(*) FROM pg_inherits WHERE inhparent = 'reported'::regclass`).Scan(&parts))
		return parts >= 4 // of the month before, of this one and of two to come
	}, patience, often)
	stop()
	stopOther()
}

// One household's failure is its own: it is told there, rests, and is tried again when something
// of it changes.
func TestOneHouseholdsFailure(t *testing.T) {
	s := storetest.New(t)
	broken, burns := pip(t, s, "wren", 1)
	well, _ := pip(t, s, "rook", 1)
	var form string
	require.NoError(t, s.DB().QueryRow(`SELECT spec->>'form' FROM burns WHERE id = $1`, burns[0]).Scan(&form))
	_, err := s.DB().Exec(`UPDATE burns SET spec = jsonb_set(spec, '{form}', '99') WHERE id = $1`, burns[0])
	require.NoError(t, err)
	q, stop := works(t, s)
	defer stop()
	require.Eventually(t, func() bool { return done(t, s, well) }, patience, often)
	var trouble *background.Trouble
	require.Eventually(t, func() bool {
		trouble, err = q.Trouble(t.Context(), broken.ID())
		require.NoError(t, err)
		return trouble != nil
	}, patience, often)
	assert.Contains(t, trouble.Why, "cannot be read")
	assert.True(t, trouble.Again.After(time.Now()), "it rests first")
	none, err := q.Trouble(t.Context(), well.ID())
	require.NoError(t, err)
	assert.Nil(t, none)
	_, err = s.DB().Exec(`UPDATE burns SET spec = jsonb_set(spec, '{form}', CAST($2 AS jsonb)) WHERE id = $1`, burns[0], form)
	require.NoError(t, err)
	q.Wake(t.Context(), broken.ID())
	require.Eventually(t, func() bool { return done(t, s, broken) }, patience, often)
}

// A server that was killed in the middle of a job leaves it marked as worked on: another takes it
// over after a while, and does not do twice what was done.
func TestAServerThatWasKilled(t *testing.T) {
	s := storetest.New(t)
	h, burns := pip(t, s, "wren", 1)
	q, stop := works(t, s)
	require.Eventually(t, func() bool { return done(t, s, h) }, patience, often)
	stop()
	before, err := h.ReviewOf(t.Context(), burns[0])
	require.NoError(t, err)
	q.Wake(t.Context(), h.ID())
	_, err = s.DB().Exec(`
		UPDATE river_job SET state = 'running', attempt = 1, attempted_at = now() - interval '1 hour', attempted_by = '{"of a server that is gone"}'
		WHERE kind = 'catch-up' AND state IN ('available', 'scheduled')`)
	require.NoError(t, err)
	q, stop = works(t, s)
	defer stop()
	left := func(condition string) (n int) {
		require.NoError(t, s.DB().QueryRow(`SELECT count(*) FROM river_job WHERE kind = 'catch-up' AND `+condition).Scan(&n))
		return n
	}
	require.Eventually(t, func() bool { return left(`state = 'running' AND attempted_by[1] LIKE 'of a server%'`) == 0 }, patience, often)
	q.Wake(t.Context(), h.ID()) // it would be tried again in a minute
	require.Eventually(t, func() bool { return left(`state <> 'completed'`) == 0 }, patience, often)
	after, err := h.ReviewOf(t.Context(), burns[0])
	require.NoError(t, err)
	assert.Equal(t, before.Revision, after.Revision)
}
