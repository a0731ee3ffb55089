package hearth_test

import (
	"bufio"
	"context"
	"encoding/json"
	"maps"
	"net/http"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/store"
	"smolder/internal/storetest"
	"smolder/internal/web/webtest"
)

// An event of an open page's stream.
type event struct{ name, data string }

// streams opens the stream of a burn's page, and gives what it hears.
func streams(t *testing.T, s *webtest.Site, path string) <-chan event {
	t.Helper()
	ctx, stop := context.WithCancel(t.Context())
	t.Cleanup(stop)
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, s.URL+path+"/changes", nil)
	require.NoError(t, err)
	resp, err := s.Client.Do(r)
	require.NoError(t, err)
	require.Equal(t, http.StatusOK, resp.StatusCode)
	out := make(chan event, 100)
	go func() {
		defer resp.Body.Close()
		lines := bufio.NewScanner(resp.Body)
		lines.Buffer(make([]byte, 0, 1<<16), 1<<22)
		var e event
		for lines.Scan() {
			switch line := lines.Text(); {
			case strings.HasPrefix(line, "event: "):
				e.name = strings.TrimPrefix(line, "event: ")
			case strings.HasPrefix(line, "data: "):
				e.data = strings.TrimPrefix(line, "data: ")
			case line == "" && e.name != "":
				out <- e
				e = event{}
			}
		}
	}()
	return out
}

// next is the next event of a name; others on the way are passed over.
func next(t *testing.T, from <-chan event, name string) event {
	t.Helper()
	after := time.After(time.Minute)
	for {
		select {
		case e := <-from:
			if e.name == name {
				return e
			}
		case <-after:
			t.Fatalf("no %q was heard", name)
		}
	}
}

func partsIn(t *testing.T, e event) map[string]string {
	t.Helper()
	var out map[string]string
	require.NoError(t, json.Unmarshal([]byte(e.data), &out))
	return out
}

// To open a stream asks whether the burn is there, and no more; a tap is heard as the parts that
// it changes, once they have all been heard; two pages share what is put together.
func TestAnOpenPageHearsWhatChanges(t *testing.T) {
	counter := &storetest.Counter{}
	s := webtest.With(t, &webtest.TarnMill, store.Traced(counter))
	s.SignIn()
	live, _ := s.Begun(webtest.ColdEvening)
	counter.Since()
	first := streams(t, s, live)
	opened := counter.Since()
	assert.LessOrEqual(t, len(opened), 4, "who asks, and whether it is there: %v", opened)
	second := streams(t, s, live)

	tap := func(opening string) {
		require.Equal(t, live+"/live", s.Post(live+"/entries", "kind", "control", "control", "lever", "value", opening).To)
	}
	tap("half")
	for _, page := range []<-chan event{first, second} {
		all := map[string]string{}
		for !strings.Contains(all["control-lever"], "a half") { // that the burn began may be heard before
			maps.Copy(all, partsIn(t, next(t, page, "parts")))
		}
		assert.Contains(t, all, "head", "whoever has heard nothing yet hears all of it")
	}

	tap("third")
	for _, page := range []<-chan event{first, second} {
		for lever := ""; !strings.Contains(lever, "third"); {
			lever = partsIn(t, next(t, page, "parts"))["control-lever"]
		}
	}
	require.NoError(t, s.Store.Household(1).AddEntry(t.Context(), burnOf(t, live), noteAt(s, "the cat came in"), s.Clock.Now()))
	for log := ""; !strings.Contains(log, "the cat came in"); { // the coach's newest answer may come before
		changed := partsIn(t, next(t, first, "parts"))
		assert.NotContains(t, changed, "control-lever", "what has not changed is not sent again")
		log = changed["log"]
	}
}

// A reading is heard at once, as number and moment; the page follows.
func TestAReadingIsHeardAtOnce(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	live, _ := s.Begun(webtest.ColdEvening)
	page := streams(t, s, live)
	at := s.Clock.Now().UTC()
	s.Clock.At = s.Clock.At.Add(time.Minute) // what is read lies behind
	_, err := s.Store.Household(1).AddReported(t.Context(), []store.Reported{{Stove: 1, Place: "connector-probe", At: at, Value: 187}})
	require.NoError(t, err)
	heard := next(t, page, "reading")
	assert.JSONEq(t, `[{"p": "connector-probe", "t": `+number(at.UnixMilli())+`, "v": 187}]`, heard.data)
	for number := ""; !strings.Contains(number, "187"); { // that the burn began may be heard before
		number = partsIn(t, next(t, page, "parts"))["number"]
	}
	for value := 190; value < 193; value++ { // the strip was sent once: the page draws the dots itself
		at = at.Add(time.Second)
		_, err := s.Store.Household(1).AddReported(t.Context(), []store.Reported{{Stove: 1, Place: "connector-probe", At: at, Value: float64(value)}})
		require.NoError(t, err)
		for number := ""; !strings.Contains(number, strconv.Itoa(value)); {
			changed := partsIn(t, next(t, page, "parts"))
			assert.NotContains(t, changed, "strip")
			number = changed["number"]
		}
	}
	require.Equal(t, live+"/live", s.Post(live+"/entries", "kind", "control", "control", "lever", "value", "half").To)
	for there := false; !there; { // what is logged stands on it
		_, there = partsIn(t, next(t, page, "parts"))["strip"]
	}
}

// A database that is busy for longer than a question may take does not end a stream: what changed is
// told when it answers again.
func TestAStreamOutlivesABusyDatabase(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	live, _ := s.Begun(webtest.ColdEvening)
	page := streams(t, s, live)
	at := s.Clock.Now().UTC()
	s.Clock.At = s.Clock.At.Add(time.Minute)
	_, err := s.Store.Household(1).AddReported(t.Context(), []store.Reported{{Stove: 1, Place: "connector-probe", At: at, Value: 187}})
	require.NoError(t, err)
	next(t, page, "reading")
	tx, err := s.Store.DB().BeginTx(t.Context(), nil)
	require.NoError(t, err)
	_, err = tx.Exec(`LOCK TABLE burns IN ACCESS EXCLUSIVE MODE`)
	require.NoError(t, err)
	blocked := func() (n int) {
		require.NoError(t, tx.QueryRow(`SELECT count(*) FROM pg_locks l JOIN pg_stat_activity a USING (pid) WHERE NOT l.granted AND a.datname = current_database()`).Scan(&n))
		return n
	}
	require.Eventually(t, func() bool { return blocked() > 0 }, time.Minute, 50*time.Millisecond, "the page is put together")
	require.Eventually(t, func() bool { return blocked() == 0 }, time.Minute, 50*time.Millisecond, "and given up")
	require.NoError(t, tx.Rollback())
	for number := ""; !strings.Contains(number, "187"); {
		number = partsIn(t, next(t, page, "parts"))["number"]
	}
}

// A burn that is not there, or another household's, has no stream; one that has ended sends its
// page to look again.
func TestStreamsOfWhatIsNotThere(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	assert.Equal(t, http.StatusNotFound, s.Get("/burns/999999/changes").Status)
	assert.Equal(t, http.StatusNotFound, s.Get("/burns/x/changes").Status)
	live, _ := s.Begun(webtest.ColdEvening)
	there, err := storetest.Household(t, s.Store, "stranger").HasBurn(t.Context(), burnOf(t, live))
	require.NoError(t, err)
	assert.False(t, there, "of another household")
	page := streams(t, s, live)
	require.Equal(t, http.StatusSeeOther, s.Post(live+"/end", "when", "now").Status)
	next(t, page, "lost")
}
