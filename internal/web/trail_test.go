package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"go.opentelemetry.io/otel/attribute"
	sdk "go.opentelemetry.io/otel/sdk/trace"
	"go.opentelemetry.io/otel/sdk/trace/tracetest"
	"go.opentelemetry.io/otel/trace"

	"smolder/internal/store"
	"smolder/internal/trail"
	"smolder/internal/web"
	"smolder/internal/web/webtest"
)

// heard is a log that many write into.
type heard struct {
	sync.Mutex
	bytes.Buffer
}

func (h *heard) Write(b []byte) (int, error) {
	h.Lock()
	defer h.Unlock()
	return h.Buffer.Write(b)
}

// lines are those about requests.
func (h *heard) lines(t *testing.T) (out []map[string]any) {
	t.Helper()
	h.Lock()
	defer h.Unlock()
	for one := range strings.Lines(h.String()) {
		var line map[string]any
		require.NoError(t, json.Unmarshal([]byte(one), &line), one)
		if line["request"] != nil {
			out = append(out, line)
		}
	}
	return out
}

// A request is found again in the log by the id of its answer, with the route and how it was
// answered; nothing in the log tells what was asked for or typed.
func TestTrail(t *testing.T) {
	var log heard
	s := webtest.Hosted(t, func(o *web.Options) {
		o.Log, o.LogRequests = slog.New(slog.NewJSONHandler(&log, nil)), true
	})
	s.SignIn()
	burn := webtest.FirstBurn(s)
	page := s.Get(burn)
	id := page.Header.Get(trail.Header)
	require.Len(t, id, 13)
	assert.NotEqual(t, id, s.Get(burn).Header.Get(trail.Header))
	s.Get("/shared/THISISASECRET")
	s.Send("/sign-in", map[string]string{trail.Header: "given by anybody"}, "name", "perpetua", "password", "my-password")

	// The program fails: whoever sees it can name the request.
	_, err := s.Store.DB().Exec("ALTER TABLE shares RENAME TO elsewhere")
	require.NoError(t, err)
	failed := s.Get("/shares")
	require.Equal(t, http.StatusInternalServerError, failed.Status)
	assert.Contains(t, failed.Words(), "this was request "+failed.Header.Get(trail.Header))
	assert.NotContains(t, page.Words(), "this was request")

	of := map[string][]map[string]any{}
	for _, line := range log.lines(t) {
		name, _ := line["request"].(string)
		of[name] = append(of[name], line)
	}
	require.Len(t, of[id], 1)
	assert.Equal(t, "/burns/:id", of[id][0]["route"])
	assert.Equal(t, "GET", of[id][0]["method"])
	assert.InDelta(t, 200, of[id][0]["status"], 0)
	wrong := of[failed.Header.Get(trail.Header)]
	require.Len(t, wrong, 2, "what went wrong, and that it was answered")
	assert.Equal(t, "ERROR", wrong[0]["level"])
	assert.Equal(t, "/shares", wrong[0]["route"])
	for _, private := range []string{"THISISASECRET", "perpetua", "my-password", "given by anybody", burn + `"`} {
		assert.NotContains(t, log.String(), private)
	}
}

// A proxy in front names requests; what is no id is not taken from it either.
func TestTrailOfAProxy(t *testing.T) {
	for given, taken := range map[string]bool{"a-1.b": true, "": false, "two words": false, `quo"te`: false, strings.Repeat("x", 65): false, "ü": false} {
		for _, behind := range []bool{true, false} {
			r, w := httptest.NewRequest(http.MethodGet, "/", nil), httptest.NewRecorder()
			r.Header.Set(trail.Header, given)
			r = trail.Follow(w, r, behind, nil)
			assert.Equal(t, taken && behind, trail.From(r.Context()).ID == given, "%q", given)
			assert.Equal(t, trail.From(r.Context()).ID, w.Header().Get(trail.Header))
		}
	}
	w := trail.Watch(httptest.NewRecorder())
	w.WriteHeader(http.StatusEarlyHints)
	w.WriteHeader(http.StatusTeapot)
	w.WriteHeader(http.StatusOK)
	assert.Equal(t, http.StatusTeapot, w.Status)
}

// A plan, a reading, and an entry up to its advice each are a trace: what was done for it lies
// within its request; nothing of a household is in any.
func TestTraces(t *testing.T) {
	spans := tracetest.NewInMemoryExporter()
	s := webtest.Hosted(t, func(o *web.Options) { o.Traces = sdk.NewTracerProvider(sdk.WithSyncer(spans)) })
	s.SignIn()
	p := s.Program(store.ScopeReadings, store.ScopeRead, store.ScopeLog)
	of := func(request string) (steps []string) {
		t.Helper()
		var found trace.SpanID
		for _, one := range spans.GetSpans() {
			if one.Name == request {
				found = one.SpanContext.SpanID()
				assert.Contains(t, one.Attributes, attribute.String("http.route", request[strings.Index(request, " ")+1:]))
			}
		}
		require.True(t, found.IsValid(), "%s was asked", request)
		for _, one := range spans.GetSpans() {
			if one.Parent.SpanID() == found {
				steps = append(steps, one.Name)
			}
		}
		return steps
	}
	require.NotEmpty(t, s.Wish("/plan?stove=1&aim=hold&for=5+h&low=18&high=21.5&room=16.5&outdoor=-1&start=cold&wood=1&kindling=6").To)
	assert.Equal(t, []string{"a search waits its turn", "a plan is searched for"}, of("POST /plan"))
	at := s.Clock.At.Add(-time.Hour).Format(time.RFC3339)
	require.Equal(t, http.StatusOK, p.Ask("POST", "/readings", "application/x-ndjson", `{"stove": 1, "place": "room", "value": 19.5, "at": "`+at+`"}`).Status)
	assert.Equal(t, []string{"readings are read", "readings are kept"}, of("POST /api/v1/readings"))
	begun := p.Ask("POST", "/burns", "", `{"stove": 1, "started": "`+at+`", "start": "good-coals", "room_c": 17, "outdoor_c": 3}`)
	require.Equal(t, http.StatusCreated, begun.Status, begun.Body)
	burn := fmt.Sprintf("/burns/%v", begun.JSON(t)["id"])
	require.Equal(t, http.StatusOK, s.Send(burn+"/entries", map[string]string{"Accept": "application/json"}, "kind", "note", "note", "Perpetua was here").Status)
	assert.Equal(t, []string{"an entry is kept"}, of("POST /burns/:id/entries"))
	require.Equal(t, http.StatusOK, s.Get(burn+"/live").Status)
	assert.Contains(t, of("GET /burns/:id/live"), "the coach answers")
	for _, one := range spans.GetSpans() {
		told := fmt.Sprint(one.Name, one.Attributes, one.Status, one.Events)
		for _, private := range []string{burn, "Perpetua", "19.5", "Auntie", "low=18"} {
			assert.NotContains(t, told, private)
		}
	}
}
