package store_test

import (
	"fmt"
	"net/url"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/stove"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

// lived is a household with rows in as many tables as a test makes without much ado.
func lived(t *testing.T, s *store.Store, owner string) store.Household {
	h, stoveID, stackID := furnished(t, s, owner)
	id := open(t, h, stoveID)
	require.NoError(t, h.AddEntry(ctx, id, load(stackID, "a", noon.Add(time.Minute)), noon.Add(time.Minute)))
	require.NoError(t, h.AddEntry(ctx, id, burn.Entry{ID: "b", At: noon.Add(2 * time.Minute), Kind: burn.Temperature, Place: stove.Top, Reading: 90}, noon.Add(2*time.Minute)))
	_, err := h.AddReported(ctx, []store.Reported{{Stove: stoveID, Place: "top", At: noon.Add(3 * time.Minute), Value: 120}})
	require.NoError(t, err)
	return h
}

// A query that forgets to say whose rows it wants gets those of its own household; one that is of no
// household gets none; and what is another's can neither be changed nor added to.
func TestRowsAreKeptApart(t *testing.T) {
	s := storetest.New(t)
	mine, theirs := lived(t, s, "tarn"), lived(t, s, "mill")
	require.True(t, s.Apart())
	tables, err := s.KeptApart(ctx)
	require.NoError(t, err)
	require.Greater(t, len(tables), 25)
	both := 0
	for _, table := range tables {
		var all, own, others int
		require.NoError(t, s.DB().QueryRow(`SELECT count(*) FROM `+table).Scan(&all))
		require.NoError(t, mine.Ask(ctx, &own, `SELECT count(*) FROM `+table), table)
		require.NoError(t, theirs.Ask(ctx, &others, `SELECT count(*) FROM `+table), table)
		assert.Equal(t, all, own+others, "every row of %s is somebody's, and nobody's twice", table)
		if own > 0 && others > 0 {
			both++
		}
		digest := func() (out string) {
			require.NoError(t, theirs.Ask(ctx, &out, fmt.Sprintf(`SELECT COALESCE(md5(string_agg(t::text, '' ORDER BY t::text)), '') FROM %s t`, table)))
			return out
		}
		before := digest()
		_ = mine.Do(ctx, `DELETE FROM `+table, func() error { return nil }) // or it is refused: something stands on its rows
		assert.Equal(t, before, digest(), table)
	}
	assert.GreaterOrEqual(t, both, 8, "tables with rows of both")
	var theirName string
	require.NoError(t, theirs.Ask(ctx, &theirName, `SELECT name FROM stoves`))
	for what, query := range map[string]string{
		"added": fmt.Sprintf(`INSERT INTO spaces (household_id, name, name_key, spec, wanted_low, wanted_high) SELECT %d, 'x', 'x', spec, 19, 21 FROM spaces LIMIT 1`, theirs.ID()),
		"given": fmt.Sprintf(`UPDATE spaces SET household_id = %d`, theirs.ID()),
	} {
		err := mine.Do(ctx, query, func() error { return nil })
		assert.ErrorContains(t, err, "row-level security", what)
	}
	var n int
	require.NoError(t, mine.Do(ctx, `UPDATE stoves SET name = 'mine'`, func() error { return theirs.Ask(ctx, &theirName, `SELECT name FROM stoves`) }))
	assert.NotEqual(t, "mine", theirName)

	conn, err := s.DB().Conn(ctx)
	require.NoError(t, err)
	defer conn.Close()
	_, err = conn.ExecContext(ctx, `BEGIN; SET LOCAL ROLE `+store.HouseholdRole)
	require.NoError(t, err)
	for _, table := range tables {
		require.NoError(t, conn.QueryRowContext(ctx, `SELECT count(*) FROM `+table).Scan(&n))
		assert.Zero(t, n, "%s before a household is set", table)
	}
	_, err = conn.ExecContext(ctx, `SELECT count(*) FROM attempts`)
	require.ErrorContains(t, err, "permission denied", "what is no household's")
	_, err = conn.ExecContext(ctx, `ROLLBACK`)
	require.NoError(t, err)
}

// Who serves needs to own nothing: it signs in as a role that may read and write, and the parts for
// readings are made for it.
func TestServingWithoutOwning(t *testing.T) {
	s := storetest.New(t)
	_, err := s.DB().Exec(`DO $$ BEGIN CREATE ROLE smolder_test_web LOGIN PASSWORD 'web' IN ROLE smolder_server, smolder_household; EXCEPTION WHEN duplicate_object THEN NULL; END $$`)
	if err != nil { // another test run made it at the same moment
		require.ErrorContains(t, err, "already")
	}
	var database string
	require.NoError(t, s.DB().QueryRow(`SELECT current_database()`).Scan(&database))
	web := as(t, "smolder_test_web", "web", database)
	require.True(t, web.Apart())
	require.NoError(t, web.Fits(ctx))
	h := lived(t, web, "tarn")
	batch := make([]store.Reported, 100)
	for i := range batch {
		batch[i] = store.Reported{Stove: 1, Place: "top", At: noon.Add(time.Duration(10+i) * time.Minute), Value: 100}
	}
	for _, new := range []int{100, 0} { // without owning the table nothing is copied, and as much is kept
		n, err := h.AddReported(ctx, batch)
		require.NoError(t, err)
		assert.Equal(t, new, n)
	}
	require.NoError(t, web.MakeParts(ctx, noon))
	n, err := h.AddReported(ctx, []store.Reported{{Stove: 1, Place: "top", At: noon.AddDate(-3, 0, 0), Value: 120}})
	require.NoError(t, err)
	assert.Equal(t, 1, n, "in a part of its own")
	require.NoError(t, web.Keep(store.Keeping{RollUpAfter: 7 * 24 * time.Hour, Months: 24}))
	_, err = web.RollUp(ctx, noon.AddDate(0, 1, 0))
	require.NoError(t, err)
	gone, err := web.DropOld(ctx, noon)
	require.NoError(t, err)
	assert.Len(t, gone, 1, "the part of three years ago")
	homes, err := web.CountHouseholds(ctx)
	require.NoError(t, err)
	assert.Equal(t, 1, homes)
	_, err = web.DB().Exec(`DROP TABLE reported`)
	require.ErrorContains(t, err, "must be owner")
	_, err = web.DB().Exec(`SELECT smolder_part('reported_209901', '2099-02-01', '2099-03-01')`)
	require.ErrorContains(t, err, "is no part of readings")
	_, err = web.Migrate(ctx)
	require.NoError(t, err, "nothing is to be changed")
}

// Who may not make roles goes on with queries that are scoped by themselves alone; once the server's
// keeper has given it the roles the rows are kept apart.
func TestRolesThatMayNotBeMade(t *testing.T) {
	s := storetest.New(t)
	name := fmt.Sprintf("smolder_test_plain_%d", os.Getpid())
	for _, statement := range []string{`CREATE ROLE ` + name + ` LOGIN PASSWORD 'plain'`, `CREATE DATABASE ` + name + ` OWNER ` + name} {
		_, err := s.DB().Exec(statement)
		require.NoError(t, err)
	}
	t.Cleanup(func() {
		_, _ = s.DB().Exec(`DROP DATABASE ` + name + ` WITH (FORCE)`)
		_, _ = s.DB().Exec(`DROP ROLE ` + name)
	})
	plain := as(t, name, "plain", name)
	require.ErrorIs(t, plain.KeepApart(ctx), store.ErrRoles)
	_, err := plain.Migrate(ctx)
	require.NoError(t, err)
	assert.False(t, plain.Apart())
	lived(t, plain, "tarn")
	_, err = s.DB().Exec(`GRANT smolder_household, smolder_server TO ` + name)
	require.NoError(t, err)
	_, err = plain.Migrate(ctx)
	require.NoError(t, err)
	assert.True(t, plain.Apart())
	lived(t, plain, "mill")
}

// as is a database opened by somebody.
func as(t *testing.T, who, password, database string) *store.Store {
	at, err := url.Parse(os.Getenv("SMOLDER_TEST_DATABASE"))
	require.NoError(t, err)
	at.User, at.Path = url.UserPassword(who, password), "/"+database
	s, err := store.Open(ctx, at.String())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return s
}

// BenchmarkOneRow is a row read as a household's transactions do, of what the same costs without.
func BenchmarkOneRow(b *testing.B) {
	s := storetest.New(b)
	h := storetest.Household(b, s, "tarn")
	var n int64
	begin := time.Now()
	const floor = 300
	for range floor {
		require.NoError(b, s.DB().QueryRowContext(ctx, `SELECT id FROM households WHERE id = $1`, h.ID()).Scan(&n))
	}
	bare := time.Since(begin) / floor
	for b.Loop() {
		require.NoError(b, h.Ask(ctx, &n, `SELECT id FROM households WHERE id = $1`, h.ID()))
	}
	b.ReportMetric(float64(b.Elapsed())/float64(b.N)/float64(bare), "of-the-bare-read")
}
