package hearth_test

import (
	"context"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/storetest"
	"smolder/internal/web/webtest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

var ctx = context.Background()

// burnOf is the number in a burn's address.
func burnOf(t *testing.T, path string) int64 {
	t.Helper()
	id, err := strconv.ParseInt(strings.TrimPrefix(path, "/burns/"), 10, 64)
	require.NoError(t, err)
	return id
}

func number(n int64) string { return strconv.FormatInt(n, 10) }

// noteAt is a note of now.
func noteAt(s *webtest.Site, text string) burn.Entry {
	return burn.Entry{ID: "a-note", At: s.Clock.Now().UTC(), Kind: burn.Note, Note: text}
}
