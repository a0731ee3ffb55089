package webtest

import (
	"net/http"
	"strings"

	"github.com/stretchr/testify/require"
)

// Count is how many rows a table has.
func Count(s *Site, table string) (n int) {
	s.T.Helper()
	require.NoError(s.T, s.Store.DB().QueryRow("SELECT count(*) FROM "+table).Scan(&n))
	return n
}

func FirstBurn(s *Site) string {
	return "/burns/" + Between(s.Get("/burns").Body, `href="/burns/`, `"`)
}

// NewestEntry is the id of the entry on top of a page's log.
func NewestEntry(s *Site, page, burn string) string {
	return Between(s.Get(page).Body, `href="`+burn+`/entries/`, `"`)
}

func Between(text, from, to string) string {
	_, rest, _ := strings.Cut(text, from)
	out, _, _ := strings.Cut(rest, to)
	return out
}

// AtTheStove starts a burn on coals without a plan and returns its address.
func AtTheStove(s *Site) string {
	got := s.Post("/stove", "stove", "1", "start", "good-coals", "room", "18 C", "outdoor", "2 C")
	require.Equal(s.T, http.StatusSeeOther, got.Status, got.Words())
	return strings.TrimSuffix(got.To, "/live")
}
