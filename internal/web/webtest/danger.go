package webtest

import (
	"net/http"
	"strings"

	"github.com/stretchr/testify/require"
)

// OnlyLogged begins a burn without a plan, on coals, and returns its address.
func (s *Site) OnlyLogged(stove, start string) string {
	s.T.Helper()
	got := s.Post("/stove", "stove", stove, "start", start, "room", "18", "outdoor", "4", "air", "yes", "co", "yes")
	require.Equal(s.T, http.StatusSeeOther, got.Status, got.Words())
	return strings.TrimSuffix(got.To, "/live")
}
