package store_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/storetest"
)

// undivided are the tables with a household in which somebody is looked up before it is known.
var undivided = []string{"users", "tokens", "invitations", "shares"}

// Every key of a household's rows begins with the household, and so does every index by which they
// are found and every one that points at others: tables can be divided by it.
func TestKeysBeginWithTheHousehold(t *testing.T) {
	s := storetest.New(t)
	rows, err := s.DB().Query(`
		SELECT c.relname, i.indexrelid::regclass::text, pg_get_indexdef(i.indexrelid, 1, true)
		FROM pg_index i
		JOIN pg_class c ON c.oid = i.indrelid
		WHERE i.indisunique AND NOT c.relispartition
		      AND EXISTS (SELECT 1 FROM pg_attribute a WHERE a.attrelid = c.oid AND a.attname = 'household_id' AND NOT a.attisdropped)
		UNION ALL
		SELECT c.relname, f.conname, (SELECT a.attname FROM pg_attribute a WHERE a.attrelid = c.oid AND a.attnum = f.conkey[1])
		FROM pg_constraint f
		JOIN pg_class c ON c.oid = f.conrelid
		WHERE f.contype = 'f' AND f.conparentid = 0 AND f.confrelid <> CAST('users' AS regclass)
		      AND EXISTS (SELECT 1 FROM pg_attribute a WHERE a.attrelid = c.oid AND a.attname = 'household_id' AND NOT a.attisdropped)`)
	require.NoError(t, err)
	defer rows.Close()
	n := 0
	for rows.Next() {
		var table, name, first string
		require.NoError(t, rows.Scan(&table, &name, &first))
		if slices.Contains(undivided, table) || strings.HasPrefix(table, "river_") {
			continue
		}
		n++
		assert.Equal(t, "household_id", first, "%s of %s", name, table)
	}
	require.NoError(t, rows.Err())
	assert.Greater(t, n, 40)
}
