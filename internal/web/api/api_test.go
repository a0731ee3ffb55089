package api_test

import (
	"bytes"
	"compress/gzip"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/store"
	"smolder/internal/web/api"
	"smolder/internal/web/webtest"
)

// A fire from its beginning to its end, by a program: every answer is what the document
// says.
func TestAProgramRunsAFire(t *testing.T) {
	s := webtest.New(t, true)
	p := s.Program(store.ScopeLog, store.ScopeRead, store.ScopeReadings)
	stoves := p.Ask("GET", "/stoves", "", "").JSON(t)["stoves"].([]any)
	require.NotEmpty(t, stoves)
	assert.Equal(t, "none", p.Ask("GET", "/stoves/1/now", "", "").JSON(t)["phase"])

	now := s.Clock.At
	minute := func(m int) string { return now.Add(time.Duration(m) * time.Minute).Format(time.RFC3339) }
	got := p.Ask("POST", "/burns", "", fmt.Sprintf(`{"stove": 1, "started": %q, "start": "good-coals", "room_c": 17, "outdoor_c": 3}`, minute(-20)))
	require.Equal(t, http.StatusCreated, got.Status, got.Body)
	id := int(got.JSON(t)["id"].(float64))
	assert.Equal(t, http.StatusConflict, p.Ask("POST", "/burns", "", `{"stove": 1}`).Status)
	entries := fmt.Sprintf("/burns/%d/entries", id)
	batch := fmt.Sprintf(`[{"id": "a-1", "at": %[1]q, "kind": "control", "control": "lever", "says": "right"},
		{"id": "a-2", "at": %[1]q, "kind": "load", "load": {"stack": 1, "pieces": 4, "direction": "end-on"}},
		{"id": "a-3", "at": %[2]q, "kind": "smoke", "smoke": "clear"}]`, minute(-19), minute(-10))
	for range 2 { // sent twice, kept once
		require.Equal(t, http.StatusOK, p.Ask("POST", entries, "", batch).Status)
	}
	b, err := s.Store.Household(1).Burn(t.Context(), int64(id))
	require.NoError(t, err)
	assert.Len(t, b.Entries, 3)
	require.Equal(t, http.StatusOK, p.Ask("POST", entries, "", `{"kind": "note", "note": "draws well"}`).Status)

	lines := []string{}
	for m := -18; m <= 0; m++ {
		lines = append(lines, fmt.Sprintf(`{"at": %q, "stove": 1, "place": "connector-probe", "value": %d}`, minute(m), 150+(m+18)*7))
	}
	got = p.Ask("POST", "/readings", "application/x-ndjson", strings.Join(append(lines, `{"stove": 1, "place": "oven", "value": 1}`), "\n"))
	require.Equal(t, http.StatusOK, got.Status, got.Body)
	kept := got.JSON(t)
	assert.InDelta(t, 19, kept["kept"], 0)
	assert.InDelta(t, 1, kept["refused"], 0)
	assert.InDelta(t, 20, kept["errors"].([]any)[0].(map[string]any)["line"], 0)

	fire := p.Ask("GET", "/stoves/1/now", "", "").JSON(t)
	assert.NotEqual(t, "none", fire["phase"])
	guide := fire["gauges"].([]any)[0].(map[string]any)
	assert.InDelta(t, 276, guide["value_c"], 0.1)
	assert.InDelta(t, 7, guide["rate_c_min"], 0.6)
	assert.NotEmpty(t, fire["next"].(map[string]any)["kind"])
	assert.Contains(t, fire["forecast"].(map[string]any)["gauges"], "connector-probe")
	then := p.Ask("GET", "/stoves/1/now?at="+minute(-12), "", "").JSON(t)
	assert.InDelta(t, 192, then["gauges"].([]any)[0].(map[string]any)["value_c"], 0.1, "as of then, and nothing of later")

	got = p.Ask("POST", fmt.Sprintf("/burns/%d/end", id), "", "")
	require.Equal(t, http.StatusOK, got.Status, got.Body)
	got = p.Ask("POST", "/stoves/1/plans", "", `{"plan": {"for": "4 h", "start": "cold"}, "weather": {"outdoor": "2 C"}, "start": {"room": "62F"}, "wood": [1]}`)
	require.Equal(t, http.StatusCreated, got.Status, got.Body)
	plan := got.JSON(t)
	assert.NotEmpty(t, plan["plans"])
	got = p.Ask("POST", "/burns", "", fmt.Sprintf(`{"plan": %.0f}`, plan["ids"].([]any)[0]))
	require.Equal(t, http.StatusCreated, got.Status, got.Body)
	again := p.Ask("POST", "/burns", "", fmt.Sprintf(`{"plan": %.0f}`, plan["ids"].([]any)[0]))
	assert.Equal(t, got.JSON(t)["id"], again.JSON(t)["id"], "twice is the same burn")
	next := p.Ask("GET", "/stoves/1/now", "", "").JSON(t)["next"].(map[string]any)
	assert.Equal(t, "light", next["kind"])
	assert.Equal(t, true, next["ready"])
	assert.NotEmpty(t, next["load"])
	assert.NotEmpty(t, next["else"])
}

// A program starts a plan when a person may: not long before its time, nor after, nor on a
// stove that is off the list.
func TestAProgramStartsAPlanInItsTime(t *testing.T) {
	s := webtest.New(t, true)
	p := s.Program(store.ScopeLog, store.ScopeRead)
	made := p.Ask("POST", "/stoves/1/plans", "", `{"plan": {"for": "4 h", "start": "cold"}, "weather": {"outdoor": "2 C"}, "wood": [1]}`)
	require.Equal(t, http.StatusCreated, made.Status, made.Body)
	start := fmt.Sprintf(`{"plan": %.0f}`, made.JSON(t)["ids"].([]any)[0])
	at := s.Clock.At
	for says, now := range map[string]time.Time{"room, weather and coals are others by now": at.Add(2 * time.Hour), "before that, or plan it for now": at.Add(-time.Hour)} {
		s.Clock.At = now
		got := p.Ask("POST", "/burns", "", start)
		assert.Equal(t, http.StatusConflict, got.Status, got.Body)
		assert.Contains(t, got.JSON(t)["detail"], says)
	}
	s.Clock.At = at
	require.NoError(t, s.Store.Household(1).RemoveStove(t.Context(), 1, true, at))
	assert.Equal(t, http.StatusNotFound, p.Ask("POST", "/burns", "", start).Status)
	require.NoError(t, s.Store.Household(1).RemoveStove(t.Context(), 1, false, at))
	assert.Equal(t, http.StatusCreated, p.Ask("POST", "/burns", "", start).Status)
}

// What is refused is a problem document with a sentence that says what would do.
func TestWhatProgramsAreRefused(t *testing.T) {
	s := webtest.New(t, true)
	p := s.Program(store.ScopeLog, store.ScopeRead, store.ScopeReadings)
	readonly, nobody := s.Program(store.ScopeRead), webtest.Program{Site: s}
	only, err := s.Store.Household(1).MakeToken(t.Context(), "shelf", 2, []string{store.ScopeReadings, store.ScopeRead, store.ScopeLog})
	require.NoError(t, err)
	other := webtest.Program{Site: s, Token: only}
	for _, c := range []struct {
		p            *webtest.Program
		method, path string
		body         string
		status       int
		says         string
	}{
		{&nobody, "GET", "/stoves", "", 401, "A token is missing"},
		{&webtest.Program{Site: s, Token: "smolder_nonsense"}, "GET", "/stoves", "", 401, "not known here"},
		{&readonly, "POST", "/readings", "x", 403, `one with the scope "readings" would do`},
		{&p, "POST", "/burns", `{"stove": 4}`, 422, "fresh air is confirmed before lighting"},
		{&p, "GET", "/nothing", "", 404, "openapi.json lists"},
		{&p, "DELETE", "/stoves", "", 405, "takes no such request"},
		{&p, "GET", "/stoves/99/now", "", 404, "no such thing"},
		{&p, "GET", "/stoves/99/burn", "", 404, "no such thing"},
		{&p, "GET", "/stoves/1/now?at=" + s.Clock.At.Add(time.Hour).Format(time.RFC3339), "", 422, "past"},
		{&p, "GET", "/stoves/1/now?at=soon", "", 422, "RFC 3339"},
		{&other, "GET", "/stoves/1/now", "", 403, "another stove"},
		{&other, "POST", "/readings", `{"stove": 1, "place": "room", "value": 20}`, 422, "this token is for another stove"},
		{&p, "POST", "/readings", "", 422, "The batch is empty"},
		{&p, "POST", "/readings", strings.Repeat("x\n", 20_010), 413, "up to 20000 lines"},
		{&p, "POST", "/burns", `{"stove": 1, "started": "yesterday"}`, 422, "started is a moment"},
		{&p, "POST", "/burns", `{"stove": 1, "oven": 1}`, 400, `unknown field "oven"`},
		{&p, "POST", "/burns", `{"stove": 1, "start": "warm"}`, 422, "good-coals would do"},
		{&p, "POST", "/burns/1/entries", `{"kind": "sing"}`, 422, `"sing" is not a kind of entry`},
		{&p, "POST", "/burns/1/entries", `[]`, 422, "1 to 200 entries"},
		{&p, "POST", "/stoves/1/plans", `{"plan": {"for": "90 h"}}`, 422, "half an hour to 14 hours"},
		{&p, "POST", "/stoves/1/plans", `{"wood": ["Ebony"]}`, 422, `there is no stack "Ebony"`},
		{&p, "POST", "/burns/1/entries", strings.Repeat("x", 300<<10), 413, "up to 256 kB would do"},
	} {
		got := c.p.Ask(c.method, c.path, "", c.body)
		assert.Equal(t, c.status, got.Status, "%s %s %s", c.method, c.path, got.Body)
		assert.Contains(t, got.JSON(t)["detail"], c.says, "%s %s", c.method, c.path)
	}
	for range 240 {
		_, err := s.Store.Call(t.Context(), p.Token, s.Clock.At)
		require.NoError(t, err)
	}
	got := p.Ask("GET", "/stoves", "", "")
	assert.Equal(t, http.StatusTooManyRequests, got.Status)
	assert.Equal(t, "61", got.Header.Get("Retry-After"))
	assert.Contains(t, got.Body, "240 times a minute")
}

// Packed batches are unpacked, up to a limit that has its sentence.
func TestPackedReadings(t *testing.T) {
	s := webtest.New(t, true)
	p := s.Program(store.ScopeReadings)
	send := func(body []byte) webtest.Answer {
		r, err := http.NewRequest("POST", s.URL+api.Prefix+"/readings", bytes.NewReader(body))
		require.NoError(t, err)
		r.Header.Set("Authorization", "Bearer "+p.Token)
		r.Header.Set("Content-Encoding", "gzip")
		got := s.Do(r)
		p.Holds("POST", "/readings", got)
		return got
	}
	packed := func(text string) []byte {
		var b bytes.Buffer
		w := gzip.NewWriter(&b)
		_, _ = w.Write([]byte(text))
		require.NoError(t, w.Close())
		return b.Bytes()
	}
	assert.Equal(t, 200, send(packed(`{"stove": 1, "place": "room", "value": 20}`)).Status)
	assert.Equal(t, 400, send([]byte("not packed")).Status)
	whole := packed(`{"stove": 1, "place": "room", "value": 21}`)
	assert.Equal(t, 400, send(whole[:len(whole)-6]).Status)
	assert.Equal(t, 413, send(packed(strings.Repeat(" ", 20<<20))).Status, "a small body that unpacks to a large one")
}
