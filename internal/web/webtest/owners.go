package webtest

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func HouseholdOf(t testing.TB, s *Site) int64 {
	t.Helper()
	var id int64
	require.NoError(t, s.Store.DB().QueryRow(`SELECT min(id) FROM households`).Scan(&id))
	return id
}
