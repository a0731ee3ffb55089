package hearth_test

import (
	"bufio"
	"bytes"
	"compress/gzip"
	"context"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/stretchr/testify/require"

	"smolder/internal/store"
	"smolder/internal/web/api"
	"smolder/internal/web/webtest"
)

// BenchmarkReadingsThroughTheAPI sends batches of 5,000 readings, authenticated, as
// lines of JSON; its floor is a bare COPY of as many rows into the same table, in the
// same run. At least half as many rows a second as that are wanted: ×floor up to 2.
func BenchmarkReadingsThroughTheAPI(b *testing.B) {
	const rows = 5000
	s := webtest.New(b, true)
	p := s.Program(store.ScopeReadings)
	began := s.Clock.At.Add(-300 * 24 * time.Hour)
	at := func(n, i int) time.Time { return began.Add(time.Duration(n*rows+i) * time.Second) }
	var bodies [][]byte
	body := func(n int) []byte {
		var text bytes.Buffer
		for i := range rows {
			fmt.Fprintf(&text, `{"at": %q, "stove": 1, "place": "connector-probe", "value": %d.5, "unit": "C"}`+"\n", at(n, i).Format(time.RFC3339), 100+i%200)
		}
		return text.Bytes()
	}
	for n := range 200 {
		bodies = append(bodies, body(n))
	}
	send := func(n int) {
		if n%200 == 0 { // the rate that is allowed a minute is not what is measured
			_, err := s.Store.DB().Exec(`UPDATE tokens SET minute_count = 0`)
			require.NoError(b, err)
		}
		text := bodies[n%len(bodies)]
		if n >= len(bodies) {
			text = body(n)
		}
		r, err := http.NewRequest(http.MethodPost, s.URL+api.Prefix+"/readings", bytes.NewReader(text))
		require.NoError(b, err)
		r.Header.Set("Authorization", "Bearer "+p.Token)
		resp, err := s.Client.Do(r)
		require.NoError(b, err)
		require.Equal(b, http.StatusOK, resp.StatusCode)
		_, _ = io.Copy(io.Discard, resp.Body)
		_ = resp.Body.Close()
	}
	n := 0
	for b.Loop() {
		send(n)
		n++
	}
	trip := b.Elapsed() / time.Duration(n)
	conn, err := s.Store.DB().Conn(b.Context())
	require.NoError(b, err)
	defer conn.Close()
	begin := time.Now()
	require.NoError(b, conn.Raw(func(driver any) error {
		bare := driver.(*stdlib.Conn).Conn()
		for k := range n {
			_, err := bare.CopyFrom(b.Context(), pgx.Identifier{"reported"}, []string{"household_id", "stove_id", "at", "place", "value"},
				pgx.CopyFromSlice(rows, func(i int) ([]any, error) {
					return []any{int64(1), int64(2), at(k, i), "connector-probe", float32(100 + i%200)}, nil
				}))
			if err != nil {
				return err
			}
		}
		return nil
	}))
	least := time.Since(begin) / time.Duration(n)
	b.ReportMetric(rows/trip.Seconds(), "rows/s")
	b.ReportMetric(float64(trip)/float64(least), "×floor")
}

// BenchmarkFromAReadingToItsInk is how long it takes from a reading's arrival until 50
// open pages have heard what they draw, at the 95th percentile.
func BenchmarkFromAReadingToItsInk(b *testing.B) {
	const pages = 50
	s := webtest.New(b, true)
	s.SignIn()
	p := s.Program(store.ScopeReadings)
	started := s.Post("/stove", "stove", "1", "start", "good-coals", "room", "18", "outdoor", "4")
	require.Equal(b, http.StatusSeeOther, started.Status)
	path := strings.TrimSuffix(started.To, "/live")
	ctx, stop := context.WithCancel(b.Context())
	var open sync.WaitGroup
	defer open.Wait()
	defer stop()
	heard, ready := make(chan time.Time, 4*pages), make(chan bool, pages)
	for range pages {
		open.Go(func() {
			r, err := http.NewRequestWithContext(ctx, http.MethodGet, s.URL+path+"/changes", nil)
			if err != nil {
				return
			}
			resp, err := s.Client.Do(r)
			if err != nil {
				return
			}
			defer resp.Body.Close()
			lines := bufio.NewScanner(resp.Body)
			for first := true; lines.Scan(); {
				switch {
				case first:
					ready <- true
					first = false
				case lines.Text() == "event: reading":
					heard <- time.Now()
				}
			}
		})
	}
	for range pages {
		<-ready
	}
	var took []time.Duration
	n := 0
	for b.Loop() {
		if n%200 == 0 {
			_, err := s.Store.DB().Exec(`UPDATE tokens SET minute_count = 0`)
			require.NoError(b, err)
		}
		begin := time.Now()
		line := fmt.Sprintf(`{"at": %q, "stove": 1, "place": "top", "value": 210}`, s.Clock.At.Add(-time.Duration(n)*time.Second).Format(time.RFC3339))
		require.Equal(b, http.StatusOK, p.Ask("POST", "/readings", "", line).Status)
		n++
		for range pages {
			took = append(took, (<-heard).Sub(begin))
		}
	}
	slices.Sort(took)
	b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1e3, "ms/p95")
	b.ReportMetric(float64(took[len(took)/2].Microseconds())/1e3, "ms/p50")
}

// BenchmarkTheLivePageAMinute is what an open page costs while nothing changes: what its
// stream carries, and the one look a minute that time makes it take.
func BenchmarkTheLivePageAMinute(b *testing.B) {
	s := webtest.New(b, true)
	s.SignIn()
	path, _ := s.Begun(webtest.ColdEvening)
	size := 0
	for b.Loop() {
		got := s.Get(path + "/live?part=1")
		var packed bytes.Buffer
		w := gzip.NewWriter(&packed)
		_, _ = w.Write([]byte(got.Body))
		_ = w.Close()
		size = packed.Len()
	}
	const pings = 3 * len(":\n\n")
	b.ReportMetric(float64(size+pings)/1024, "kB/min")
}

// BenchmarkTwentyAtOneStove is twenty people at the page of one fire with 7,600 readings,
// each asking again every half second while a reading comes every second: what they wait, as
// the middle and the 95th percentile; and how long an entry takes from its post to a page
// with advice that knows it. Its floor is the same page asked by one alone.
func BenchmarkTwentyAtOneStove(b *testing.B) {
	const people, readings, rounds = 20, 7600, 12
	s := webtest.New(b, true)
	s.SignIn()
	started := s.Post("/stove", "stove", "1", "start", "good-coals", "room", "18", "outdoor", "4")
	require.Equal(b, http.StatusSeeOther, started.Status)
	path := started.To
	began := s.Clock.At
	require.Equal(b, path, s.Post(strings.TrimSuffix(path, "/live")+"/entries", "kind", "load", "stack", "1", "pieces", "4", "direction", "end-on", "lay", "on-coals").To)
	h := s.Store.Household(1)
	var list []store.Reported
	for i := range readings {
		list = append(list, store.Reported{Stove: 1, Place: []string{"connector-probe", "top", "room"}[i%3], At: began.Add(time.Duration(i) * 2 * time.Second),
			Value: []float64{150, 120, 19}[i%3] + float64(i%40)})
	}
	_, err := h.AddReported(b.Context(), list)
	require.NoError(b, err)
	s.Clock.At = began.Add(readings * 2 * time.Second)
	get := func() time.Duration {
		from := time.Now()
		r, err := http.NewRequestWithContext(b.Context(), http.MethodGet, s.URL+path, nil)
		if err != nil {
			return 0
		}
		resp, err := s.Client.Do(r)
		if err != nil {
			return 0
		}
		_, _ = io.Copy(io.Discard, resp.Body)
		_ = resp.Body.Close()
		return time.Since(from)
	}
	get()
	var alone []time.Duration
	for range 8 {
		alone = append(alone, get())
	}
	slices.Sort(alone)
	var took, advice []time.Duration
	var mu sync.Mutex
	for b.Loop() {
		var all sync.WaitGroup
		for i := range people {
			all.Go(func() {
				time.Sleep(time.Duration(i) * 500 * time.Millisecond / people) // nobody waits for the others
				for range rounds {
					t := get()
					mu.Lock()
					took = append(took, t)
					mu.Unlock()
					time.Sleep(500 * time.Millisecond)
				}
			})
		}
		for i := range rounds / 2 {
			_, err := h.AddReported(b.Context(), []store.Reported{{Stove: 1, Place: "top", At: s.Clock.At.Add(time.Duration(i) * time.Second), Value: 200}})
			require.NoError(b, err)
			from := time.Now()
			require.Equal(b, path, s.Post(strings.TrimSuffix(path, "/live")+"/entries", "kind", "note", "note", fmt.Sprint("looked ", i)).To)
			get()
			advice = append(advice, time.Since(from))
			time.Sleep(700 * time.Millisecond)
		}
		all.Wait()
	}
	slices.Sort(took)
	slices.Sort(advice)
	ms := func(d time.Duration) float64 { return float64(d.Microseconds()) / 1000 }
	b.ReportMetric(ms(took[len(took)/2]), "ms-p50")
	b.ReportMetric(ms(took[len(took)*80/100]), "ms-p80")
	b.ReportMetric(ms(took[len(took)*95/100]), "ms-p95")
	b.ReportMetric(ms(advice[len(advice)/2]), "ms-entry-to-advice")
	b.ReportMetric(float64(took[len(took)*95/100])/float64(alone[len(alone)/2]), "×alone")
}
