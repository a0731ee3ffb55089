package store_test

import (
	"fmt"
	"net/url"
	"os"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/pgserver"
	"smolder/internal/store"
)

// threeServers are three servers with an empty database each, and a store on the first.
func threeServers(t *testing.T) (s *store.Store, servers []*pgserver.Server) {
	t.Helper()
	if testing.Short() {
		t.Skip("starts three servers, which takes its time")
	}
	dir, err := os.MkdirTemp("", "smolder-spread-") // one that the servers' own user walks through
	require.NoError(t, err)
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	require.NoError(t, os.Chmod(dir, 0o755)) //nolint:gosec // as above
	for i := range 3 {
		pg, err := pgserver.Start(ctx, pgserver.Options{Dir: fmt.Sprint(dir, "/", i), Volatile: true})
		require.NoError(t, err)
		t.Cleanup(func() { _ = pg.Stop() })
		require.NoError(t, pg.Create(ctx, "smolder", ""))
		servers = append(servers, pg)
	}
	s, err = store.Open(ctx, servers[0].URL("smolder"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	_, err = s.Migrate(ctx)
	require.NoError(t, err)
	return s, servers
}

// village makes so many households with a stove each.
func village(t *testing.T, s *store.Store, n int) (homes []store.Household, stoves []int64) {
	t.Helper()
	for i := range n {
		h, st, _ := furnished(t, s, fmt.Sprint("house-", i))
		homes, stoves = append(homes, h), append(stoves, st)
	}
	return homes, stoves
}

// portOf is a server's.
func portOf(t *testing.T, pg *pgserver.Server) int {
	t.Helper()
	u, err := url.Parse(pg.URL("smolder"))
	require.NoError(t, err)
	port, err := strconv.Atoi(u.Port())
	require.NoError(t, err)
	return port
}

// readingsFrom are readings of a stove, one every ten seconds from a moment on.
func readingsFrom(stove int64, from time.Time, n int) (out []store.Reported) {
	for i := range n {
		out = append(out, store.Reported{Stove: stove, Place: "top", At: from.Add(time.Duration(i) * 10 * time.Second), Value: 100 + float64(i%50)})
	}
	return out
}

// here is how many readings lie on a server, by its own tables.
func here(t *testing.T, pg *pgserver.Server) (n int) {
	t.Helper()
	s, err := store.Open(ctx, pg.URL("smolder"))
	require.NoError(t, err)
	defer s.Close()
	rows, err := s.DB().Query(`SELECT relname FROM pg_class WHERE relkind = 'r' AND relname ~ '^reported_[0-9]'`)
	require.NoError(t, err)
	defer rows.Close()
	var names []string
	for rows.Next() {
		var name string
		require.NoError(t, rows.Scan(&name))
		names = append(names, name)
	}
	require.NoError(t, rows.Err())
	for _, name := range names {
		var of int
		require.NoError(t, s.DB().QueryRow(`SELECT count(*) FROM `+name).Scan(&of))
		n += of
	}
	return n
}

// Readings lie on three servers by household, and the program does with them what it does with
// those on one: each kept once, copied or inserted; each household sees its own; they are rolled
// up, let go of by age, and gone with their household. One server that is away stops the readings
// of its households and nobody else's.
func TestReadingsOnSeveralServers(t *testing.T) {
	s, servers := threeServers(t)
	const houses = 12
	homes, stoves := village(t, s, houses)
	require.NoError(t, s.MakeParts(ctx, noon))
	long, recent := noon.AddDate(0, -2, 0), noon.Add(-2*time.Hour)
	count := func(h store.Household, stove int64, from time.Time) int {
		list, err := h.ReportedIn(ctx, stove, from.Add(-time.Hour), from.Add(24*time.Hour))
		require.NoError(t, err)
		return len(list)
	}
	for i, h := range homes {
		for _, from := range []time.Time{long, recent} {
			_, err := h.AddReported(ctx, readingsFrom(stoves[i], from, 100))
			require.NoError(t, err)
		}
	}

	for _, wrong := range []string{"two", "postgres://two/smolder", "postgres://smolder:x@127.0.0.1:1/smolder", servers[0].URL("smolder")} {
		require.ErrorIs(t, s.Spread(ctx, []string{servers[1].URL("smolder"), wrong}, noon), store.ErrReadingServer, wrong)
	}
	there, err := s.ReadingServers(ctx)
	require.NoError(t, err)
	assert.Empty(t, there, "nothing of what was refused is done")
	require.NoError(t, s.Spread(ctx, []string{servers[1].URL("smolder")}, noon))
	require.NoError(t, s.Spread(ctx, []string{servers[2].URL("smolder")}, noon), "one more")
	require.ErrorIs(t, s.Spread(ctx, []string{servers[1].URL("smolder")}, noon), store.ErrReadingServer, "it has readings already")

	_, err = s.Migrate(ctx) // as every process does that starts
	require.NoError(t, err)
	again, err := store.Open(ctx, servers[0].URL("smolder"))
	require.NoError(t, err)
	defer again.Close()
	assert.True(t, again.Apart(), "rows of households are kept apart as before")
	apart := 0
	for k, pg := range servers {
		n := here(t, pg)
		t.Logf("server %d has %d readings", k, n)
		assert.Positive(t, n)
		apart += n
	}
	assert.Equal(t, houses*200, apart, "each is in one place")
	for i, h := range homes {
		require.Equal(t, 100, count(h, stoves[i], long))
		require.Equal(t, 100, count(h, stoves[i], recent))
		n, err := h.AddReported(ctx, readingsFrom(stoves[i], recent, 150)) // copied, where it is not there in part
		require.NoError(t, err)
		require.Equal(t, 50, n, "what was moved is kept once, too")
		n, err = h.AddReported(ctx, readingsFrom(stoves[i], noon, 200))
		require.NoError(t, err)
		require.Equal(t, 200, n)
		n, err = h.AddReported(ctx, readingsFrom(stoves[i], noon.Add(time.Hour), 3)) // inserted
		require.NoError(t, err)
		require.Equal(t, 3, n)
		n, err = h.AddReported(ctx, readingsFrom(stoves[i], noon.Add(time.Hour), 4))
		require.NoError(t, err)
		require.Equal(t, 1, n)
		require.Equal(t, 354, count(h, stoves[i], recent))
	}
	require.NoError(t, s.MakeParts(ctx, noon.AddDate(0, 1, 0)), "the next months are divided likewise")
	_, err = homes[0].AddReported(ctx, readingsFrom(stoves[0], noon.AddDate(0, 2, 0), 70))
	require.NoError(t, err)

	// A query that forgets its household sees that of its transaction alone.
	tx, err := s.DB().BeginTx(ctx, nil)
	require.NoError(t, err)
	_, err = tx.Exec(`SET LOCAL ROLE smolder_household`)
	require.NoError(t, err)
	for i := range homes {
		_, err = tx.Exec(`SELECT set_config('smolder.household', $1, true)`, fmt.Sprint(homes[i].ID()))
		require.NoError(t, err)
		var of, own int
		require.NoError(t, tx.QueryRow(`SELECT count(DISTINCT household_id), max(household_id) FROM reported`).Scan(&of, &own))
		assert.Equal(t, []int{1, int(homes[i].ID())}, []int{of, own})
	}
	require.NoError(t, tx.Rollback())

	require.NoError(t, s.Keep(store.Keeping{RollUpAfter: 7 * 24 * time.Hour, Months: 12}))
	gone, err := s.RollUp(ctx, noon.AddDate(0, 0, 20))
	require.NoError(t, err)
	assert.Positive(t, gone)
	for i, h := range homes {
		assert.Less(t, count(h, stoves[i], recent), 354/2)
		assert.Less(t, count(h, stoves[i], long), 100)
	}

	// Households on a server that is away wait; the others go on.
	require.NoError(t, servers[2].Stop())
	silent := 0
	for i, h := range homes {
		_, err := h.AddReported(ctx, readingsFrom(stoves[i], noon.Add(3*time.Hour), 80))
		if err != nil {
			require.True(t, store.Silent(err), "%v", err)
			silent++
		}
	}
	assert.Positive(t, silent)
	assert.Less(t, silent, houses)
	pg, err := pgserver.Start(ctx, pgserver.Options{Dir: servers[2].Dir, Volatile: true, Port: portOf(t, servers[2])})
	require.NoError(t, err)
	t.Cleanup(func() { _ = pg.Stop() })
	servers[2] = pg
	for i, h := range homes {
		_, err := h.AddReported(ctx, readingsFrom(stoves[i], noon.Add(3*time.Hour), 80))
		require.NoError(t, err)
	}

	for _, h := range homes {
		code, err := h.LeaveCode(ctx)
		require.NoError(t, err)
		require.NoError(t, h.Leave(ctx, code))
	}
	for k, pg := range servers {
		assert.Zero(t, here(t, pg), "nothing is left on server %d", k)
	}
	dropped, err := s.DropOld(ctx, noon.AddDate(2, 0, 0))
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(dropped), 4)
	var left int
	require.NoError(t, s.DB().QueryRow(`SELECT count(*) FROM pg_foreign_table`).Scan(&left))
	assert.Zero(t, left)
}
