package leaving_test

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/exchange"
	"smolder/internal/store"
	"smolder/internal/storetest"
	"smolder/internal/web/webtest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

// everything is what is in a household's archive, by name.
func everything(t *testing.T, s *webtest.Site) map[string]string {
	t.Helper()
	got, err := s.Client.Post(s.URL+"/household/archive", "application/x-www-form-urlencoded", nil)
	require.NoError(t, err)
	require.Equal(t, http.StatusOK, got.StatusCode)
	whole, err := io.ReadAll(got.Body)
	require.NoError(t, err)
	require.NoError(t, got.Body.Close())
	packed, err := zip.NewReader(bytes.NewReader(whole), int64(len(whole)))
	require.NoError(t, err)
	out := map[string]string{}
	for _, f := range packed.File {
		r, err := f.Open()
		require.NoError(t, err)
		text, err := io.ReadAll(r)
		require.NoError(t, err)
		out[f.Name] = string(text)
	}
	return out
}

// A household takes everything out, and deletes itself with the code that stands in what it took
// out; then nothing of it is left, and what others have stays.
func TestNothingIsLeft(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	s.Post("/practice", "lesson", "free", "stove", "1")
	s.Post(webtest.FirstBurn(s)+"/share", "days", "7")
	_, err := s.Store.DB().Exec(`INSERT INTO households (name, zone, units) VALUES ('Else', 'UTC', 'metric')`)
	require.NoError(t, err)
	_, err = s.Store.DB().Exec(`INSERT INTO spaces (household_id, name, name_key, spec, wanted_low, wanted_high) SELECT max(h.id), 'x', 'x', (SELECT spec FROM spaces LIMIT 1), 19, 21 FROM households h`)
	require.NoError(t, err)

	_, err = s.Store.Household(1).AddReported(t.Context(), []store.Reported{{Stove: 1, Place: "top", At: s.Clock.Now().Add(-time.Hour), Value: 80}})
	require.NoError(t, err)

	all := everything(t, s)
	burns, err := exchange.ReadLogbook(strings.NewReader(all["logbook.json"]), s.Clock.Now())
	require.NoError(t, err)
	assert.Len(t, burns, webtest.Count(s, "burns WHERE removed_at IS NULL"), "which can be read in anywhere")
	var tables []string
	rows, err := s.Store.DB().Query(`SELECT DISTINCT table_name FROM information_schema.columns c JOIN pg_class p ON p.relname = c.table_name
		WHERE c.table_schema = current_schema() AND c.column_name = 'household_id' AND NOT p.relispartition AND p.relkind IN ('r', 'p') ORDER BY 1`)
	require.NoError(t, err)
	for rows.Next() {
		var name string
		require.NoError(t, rows.Scan(&name))
		tables = append(tables, name)
	}
	require.NoError(t, rows.Err())
	require.Greater(t, len(tables), 20)
	for _, table := range tables {
		n := webtest.Count(s, table+" WHERE household_id = 1")
		lines := strings.Count(all["tables/"+table+".jsonl"], "\n")
		if table == "tokens" || table == "invitations" || table == "sessions" {
			assert.Zero(t, lines, table)
			continue
		}
		assert.Equal(t, n, lines, table)
		for _, line := range strings.Split(strings.TrimSpace(all["tables/"+table+".jsonl"]), "\n") {
			if line != "" {
				var row map[string]any
				require.NoError(t, json.Unmarshal([]byte(line), &row), table)
				assert.NotContains(t, row, "password", table)
				assert.NotContains(t, row, "hash", table)
			}
		}
	}
	code := strings.TrimSpace(all["code.txt"])
	require.NotEmpty(t, code)

	var name string
	require.NoError(t, s.Store.DB().QueryRow(`SELECT name FROM households WHERE id = 1`).Scan(&name))
	for _, bad := range []struct {
		pairs []string
		says  string
	}{
		{[]string{"code", code, "name", "Another"}, "is called"}, {[]string{"code", "", "name", name}, "the code is missing"},
		{[]string{"code", "wrong", "name", name}, "not the code of the newest file"},
	} {
		got := s.Post("/household/leaving", bad.pairs...)
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status)
		assert.Contains(t, strings.ToLower(got.Words()), bad.says)
	}
	later := strings.TrimSpace(everything(t, s)["code.txt"])
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/household/leaving", "code", code, "name", name).Status, "of an earlier file")
	assert.Equal(t, 2, webtest.Count(s, "households"))
	require.Equal(t, "/sign-in", s.Post("/household/leaving", "code", later, "name", strings.ToLower(name)).To)
	assert.Equal(t, 1, webtest.Count(s, "households"))
	for _, table := range tables {
		assert.Zero(t, webtest.Count(s, table+" WHERE household_id = 1"), table)
	}
	assert.Zero(t, webtest.Count(s, "sessions WHERE user_id IS NOT NULL AND ended_at IS NULL"))
	assert.Equal(t, 1, webtest.Count(s, "spaces"), "what others have stays")
	assert.Equal(t, "/sign-in?back=%2Fhousehold", s.Get("/household").To)
}
