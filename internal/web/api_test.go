package web_test

import (
	"bytes"
	"compress/gzip"
	"encoding/json"
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/store"
	"smolder/internal/web/api"
)

// A program is one that asks with a token.
type program struct {
	*site
	token string
	doc   any // the OpenAPI document
}

func (s *site) program(scopes ...string) program {
	s.t.Helper()
	token, err := s.store.Household(1).MakeToken(s.t.Context(), "test", 0, scopes)
	require.NoError(s.t, err)
	return program{site: s, token: token}
}

// ask sends a request and holds the answer against the document.
func (p *program) ask(method, path, kind, body string) answer {
	p.t.Helper()
	r, err := http.NewRequest(method, p.url+api.Prefix+path, strings.NewReader(body))
	require.NoError(p.t, err)
	if p.token != "" {
		r.Header.Set("Authorization", "Bearer "+p.token)
	}
	if kind != "" {
		r.Header.Set("Content-Type", kind)
	}
	got := p.do(r)
	p.holds(method, path, got)
	return got
}

var number = regexp.MustCompile(`/\d+(/|$)`)

// holds tells whether an answer is what the document says.
func (p *program) holds(method, path string, got answer) {
	p.t.Helper()
	if p.doc == nil {
		r, err := http.Get(p.url + api.Prefix + "/openapi.json")
		require.NoError(p.t, err)
		defer r.Body.Close()
		p.doc, err = jsonschema.UnmarshalJSON(r.Body)
		require.NoError(p.t, err)
	}
	path, _, _ = strings.Cut(path, "?")
	at := "openapi.json#/paths/" + strings.ReplaceAll(strings.ReplaceAll(number.ReplaceAllString(path, "/{id}$1"), "~", "~0"), "/", "~1") +
		"/" + strings.ToLower(method) + fmt.Sprintf("/responses/%d/content/application~1json/schema", got.status)
	if got.status >= 400 {
		at = "openapi.json#/components/responses/Refused/content/application~1problem+json/schema"
		assert.Equal(p.t, "application/problem+json; charset=utf-8", got.header.Get("Content-Type"))
	}
	c := jsonschema.NewCompiler()
	c.DefaultDraft(jsonschema.Draft2020)
	require.NoError(p.t, c.AddResource("openapi.json", p.doc))
	schema, err := c.Compile(at)
	require.NoError(p.t, err)
	value, err := jsonschema.UnmarshalJSON(strings.NewReader(got.body))
	require.NoError(p.t, err, got.body)
	assert.NoError(p.t, schema.Validate(value), "%s %s", method, path)
}

func (a answer) json(t testing.TB) map[string]any {
	t.Helper()
	out := map[string]any{}
	require.NoError(t, json.Unmarshal([]byte(a.body), &out), a.body)
	return out
}

// A fire from its beginning to its end, by a program: every answer is what the document
// says.
func TestAProgramRunsAFire(t *testing.T) {
	s := newSite(t, true)
	p := s.program(store.ScopeLog, store.ScopeRead, store.ScopeReadings)
	stoves := p.ask("GET", "/stoves", "", "").json(t)["stoves"].([]any)
	require.NotEmpty(t, stoves)
	assert.Equal(t, "none", p.ask("GET", "/stoves/1/now", "", "").json(t)["phase"])

	now := s.clock.at
	minute := func(m int) string { return now.Add(time.Duration(m) * time.Minute).Format(time.RFC3339) }
	got := p.ask("POST", "/burns", "", fmt.Sprintf(`{"stove": 1, "started": %q, "start": "good-coals", "room_c": 17, "outdoor_c": 3}`, minute(-20)))
	require.Equal(t, http.StatusCreated, got.status, got.body)
	id := int(got.json(t)["id"].(float64))
	assert.Equal(t, http.StatusConflict, p.ask("POST", "/burns", "", `{"stove": 1}`).status)
	entries := fmt.Sprintf("/burns/%d/entries", id)
	batch := fmt.Sprintf(`[{"id": "a-1", "at": %[1]q, "kind": "control", "control": "lever", "says": "right"},
		{"id": "a-2", "at": %[1]q, "kind": "load", "load": {"stack": 1, "pieces": 4, "direction": "end-on"}},
		{"id": "a-3", "at": %[2]q, "kind": "smoke", "smoke": "clear"}]`, minute(-19), minute(-10))
	for range 2 { // sent twice, kept once
		require.Equal(t, http.StatusOK, p.ask("POST", entries, "", batch).status)
	}
	b, err := s.store.Household(1).Burn(t.Context(), int64(id))
	require.NoError(t, err)
	assert.Len(t, b.Entries, 3)
	require.Equal(t, http.StatusOK, p.ask("POST", entries, "", `{"kind": "note", "note": "draws well"}`).status)

	lines := []string{}
	for m := -18; m <= 0; m++ {
		lines = append(lines, fmt.Sprintf(`{"at": %q, "stove": 1, "place": "connector-probe", "value": %d}`, minute(m), 150+(m+18)*7))
	}
	got = p.ask("POST", "/readings", "application/x-ndjson", strings.Join(append(lines, `{"stove": 1, "place": "oven", "value": 1}`), "\n"))
	require.Equal(t, http.StatusOK, got.status, got.body)
	kept := got.json(t)
	assert.InDelta(t, 19, kept["kept"], 0)
	assert.InDelta(t, 1, kept["refused"], 0)
	assert.InDelta(t, 20, kept["errors"].([]any)[0].(map[string]any)["line"], 0)

	fire := p.ask("GET", "/stoves/1/now", "", "").json(t)
	assert.NotEqual(t, "none", fire["phase"])
	guide := fire["gauges"].([]any)[0].(map[string]any)
	assert.InDelta(t, 276, guide["value_c"], 0.1)
	assert.InDelta(t, 7, guide["rate_c_min"], 0.6)
	assert.NotEmpty(t, fire["next"].(map[string]any)["kind"])
	assert.Contains(t, fire["forecast"].(map[string]any)["gauges"], "connector-probe")
	then := p.ask("GET", "/stoves/1/now?at="+minute(-12), "", "").json(t)
	assert.InDelta(t, 192, then["gauges"].([]any)[0].(map[string]any)["value_c"], 0.1, "as of then, and nothing of later")

	got = p.ask("POST", fmt.Sprintf("/burns/%d/end", id), "", "")
	require.Equal(t, http.StatusOK, got.status, got.body)
	got = p.ask("POST", "/stoves/1/plans", "", `{"plan": {"for": "4 h", "start": "cold"}, "weather": {"outdoor": "2 C"}, "start": {"room": "62F"}, "wood": [1]}`)
	require.Equal(t, http.StatusCreated, got.status, got.body)
	plan := got.json(t)
	assert.NotEmpty(t, plan["plans"])
	got = p.ask("POST", "/burns", "", fmt.Sprintf(`{"plan": %.0f}`, plan["ids"].([]any)[0]))
	require.Equal(t, http.StatusCreated, got.status, got.body)
	again := p.ask("POST", "/burns", "", fmt.Sprintf(`{"plan": %.0f}`, plan["ids"].([]any)[0]))
	assert.Equal(t, got.json(t)["id"], again.json(t)["id"], "twice is the same burn")
	next := p.ask("GET", "/stoves/1/now", "", "").json(t)["next"].(map[string]any)
	assert.Equal(t, "light", next["kind"])
	assert.Equal(t, true, next["ready"])
	assert.NotEmpty(t, next["load"])
	assert.NotEmpty(t, next["else"])
}

// A program starts a plan when a person may: not long before its time, nor after, nor on a
// stove that is off the list.
func TestAProgramStartsAPlanInItsTime(t *testing.T) {
	s := newSite(t, true)
	p := s.program(store.ScopeLog, store.ScopeRead)
	made := p.ask("POST", "/stoves/1/plans", "", `{"plan": {"for": "4 h", "start": "cold"}, "weather": {"outdoor": "2 C"}, "wood": [1]}`)
	require.Equal(t, http.StatusCreated, made.status, made.body)
	start := fmt.Sprintf(`{"plan": %.0f}`, made.json(t)["ids"].([]any)[0])
	at := s.clock.at
	for says, now := range map[string]time.Time{"room, weather and coals are others by now": at.Add(2 * time.Hour), "before that, or plan it for now": at.Add(-time.Hour)} {
		s.clock.at = now
		got := p.ask("POST", "/burns", "", start)
		assert.Equal(t, http.StatusConflict, got.status, got.body)
		assert.Contains(t, got.json(t)["detail"], says)
	}
	s.clock.at = at
	require.NoError(t, s.store.Household(1).RemoveStove(t.Context(), 1, true, at))
	assert.Equal(t, http.StatusNotFound, p.ask("POST", "/burns", "", start).status)
	require.NoError(t, s.store.Household(1).RemoveStove(t.Context(), 1, false, at))
	assert.Equal(t, http.StatusCreated, p.ask("POST", "/burns", "", start).status)
}

// What is refused is a problem document with a sentence that says what would do.
func TestWhatProgramsAreRefused(t *testing.T) {
	s := newSite(t, true)
	p := s.program(store.ScopeLog, store.ScopeRead, store.ScopeReadings)
	readonly, nobody := s.program(store.ScopeRead), program{site: s}
	only, err := s.store.Household(1).MakeToken(t.Context(), "shelf", 2, []string{store.ScopeReadings, store.ScopeRead, store.ScopeLog})
	require.NoError(t, err)
	other := program{site: s, token: only}
	for _, c := range []struct {
		p            *program
		method, path string
		body         string
		status       int
		says         string
	}{
		{&nobody, "GET", "/stoves", "", 401, "A token is missing"},
		{&program{site: s, token: "smolder_nonsense"}, "GET", "/stoves", "", 401, "not known here"},
		{&readonly, "POST", "/readings", "x", 403, `one with the scope "readings" would do`},
		{&p, "POST", "/burns", `{"stove": 4}`, 422, "fresh air is confirmed before lighting"},
		{&p, "GET", "/nothing", "", 404, "openapi.json lists"},
		{&p, "DELETE", "/stoves", "", 405, "takes no such request"},
		{&p, "GET", "/stoves/99/now", "", 404, "no such thing"},
		{&p, "GET", "/stoves/99/burn", "", 404, "no such thing"},
		{&p, "GET", "/stoves/1/now?at=" + s.clock.at.Add(time.Hour).Format(time.RFC3339), "", 422, "past"},
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
		got := c.p.ask(c.method, c.path, "", c.body)
		assert.Equal(t, c.status, got.status, "%s %s %s", c.method, c.path, got.body)
		assert.Contains(t, got.json(t)["detail"], c.says, "%s %s", c.method, c.path)
	}
	for range 240 {
		_, err := s.store.Call(t.Context(), p.token, s.clock.at)
		require.NoError(t, err)
	}
	got := p.ask("GET", "/stoves", "", "")
	assert.Equal(t, http.StatusTooManyRequests, got.status)
	assert.Equal(t, "61", got.header.Get("Retry-After"))
	assert.Contains(t, got.body, "240 times a minute")
}

// Packed batches are unpacked, up to a limit that has its sentence.
func TestPackedReadings(t *testing.T) {
	s := newSite(t, true)
	p := s.program(store.ScopeReadings)
	send := func(body []byte) answer {
		r, err := http.NewRequest("POST", s.url+api.Prefix+"/readings", bytes.NewReader(body))
		require.NoError(t, err)
		r.Header.Set("Authorization", "Bearer "+p.token)
		r.Header.Set("Content-Encoding", "gzip")
		got := s.do(r)
		p.holds("POST", "/readings", got)
		return got
	}
	packed := func(text string) []byte {
		var b bytes.Buffer
		w := gzip.NewWriter(&b)
		_, _ = w.Write([]byte(text))
		require.NoError(t, w.Close())
		return b.Bytes()
	}
	assert.Equal(t, 200, send(packed(`{"stove": 1, "place": "room", "value": 20}`)).status)
	assert.Equal(t, 400, send([]byte("not packed")).status)
	whole := packed(`{"stove": 1, "place": "room", "value": 21}`)
	assert.Equal(t, 400, send(whole[:len(whole)-6]).status)
	assert.Equal(t, 413, send(packed(strings.Repeat(" ", 20<<20))).status, "a small body that unpacks to a large one")
}
