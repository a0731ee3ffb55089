package webtest

import (
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"smolder/internal/browsertest"
	"smolder/internal/core/plan"
)

const ColdEvening = "/plan?stove=1&aim=hold&for=5+h&low=19&high=21.5&room=17&outdoor=1&start=cold&kindling=6&wood=1"

// Begun starts a burn by a plan and returns its address, and the plan.
func (s *Site) Begun(wish string) (path string, p plan.Plan) {
	s.T.Helper()
	made := s.Wish(wish)
	require.Equal(s.T, http.StatusOK, made.Status, made.Words())
	started := s.Post(made.To + "/start")
	require.Equal(s.T, http.StatusSeeOther, started.Status, started.Words())
	rows, err := s.Store.Household(1).OpenBurns(s.T.Context())
	require.NoError(s.T, err)
	return strings.TrimSuffix(started.To, "/live"), *rows[0].Plan
}

// Doing is the form of "Done" as the page has it.
func Doing(a Answer) []string { return Sent(Between(a.Body, `data-tap="y">`, "</form>")) }

// Sent are the hidden fields of a piece of a page, in their order, as they would be sent.
func Sent(form string) []string {
	var out []string
	for _, m := range regexp.MustCompile(`name="([^"]+)"\s+value="([^"]*)"`).FindAllStringSubmatch(form, -1) {
		out = append(out, m[1], m[2])
	}
	return out
}

func Eval(p *Person, script string) (any, error) { return browsertest.Eval[any](p.Browser, script) }

func BurnID(t *testing.T, path string) int64 {
	t.Helper()
	id, err := strconv.ParseInt(strings.TrimPrefix(path, "/burns/"), 10, 64)
	require.NoError(t, err)
	return id
}
