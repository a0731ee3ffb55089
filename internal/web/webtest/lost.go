package webtest

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
)

func IDOf(t *testing.T, path string) int64 {
	t.Helper()
	var id int64
	_, err := fmt.Sscanf(path, "/plans/%d", &id)
	require.NoError(t, err)
	return id
}
