package intake_test

import (
	"fmt"
	"log/slog"
	"strings"
	"testing"
	"time"

	"smolder/internal/intake"
	"smolder/internal/storetest"
)

// BenchmarkReadings reads a batch of 5,000 lines of JSON.
func BenchmarkReadings(b *testing.B) {
	text := []byte(strings.Repeat(`{"at": "2026-11-26T18:04:05Z", "stove": 1, "place": "connector-probe", "value": 231.5, "unit": "C"}`+"\n", 5000))
	b.SetBytes(int64(len(text)))
	b.ReportAllocs()
	for b.Loop() {
		if _, err := reader.Read(intake.JSONLines, text); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkMessageLog is what comes through the message log: 400 messages of six readings each, of
// ten stoves; the floor are the same readings, kept a stove at a time without it.
func BenchmarkMessageLog(b *testing.B) {
	m := storetest.NewMessageLog(b)
	pipes := make([]*pipe, 10)
	pipes[0] = newPipe(b, storetest.New(b), "tarn")
	for i := range pipes[1:] {
		pipes[i+1] = newPipe(b, pipes[0].s, fmt.Sprint("tarn-", i))
	}
	in, err := intake.OpenStream(m.Address(), slog.New(slog.DiscardHandler))
	if err != nil {
		b.Fatal(err)
	}
	defer in.Close()
	defer takes(b, m, pipes[0].s)()
	const messages, lines = 400, 6
	n := 0
	text := func() []byte {
		var out strings.Builder
		for range lines {
			n++
			fmt.Fprintf(&out, `{"at": %q, "place": "connector-probe", "value": 231.5}`+"\n", pipes[0].began.Add(time.Duration(n)*10*time.Millisecond).Format(time.RFC3339Nano))
		}
		return []byte(out.String())
	}
	for in.Put(b.Context(), pipes[0].token, "", text()) != nil { // until somebody takes
		time.Sleep(often)
	}
	var through, direct time.Duration
	for b.Loop() {
		began := time.Now()
		for i := range messages {
			if err := in.Put(b.Context(), pipes[i%len(pipes)].token, "", text()); err != nil {
				b.Fatal(err)
			}
		}
		for {
			if left, err := in.Waiting(b.Context()); err == nil && left == 0 {
				break
			}
			time.Sleep(time.Millisecond)
		}
		through += time.Since(began)
		began = time.Now()
		for _, p := range pipes {
			var all []byte
			for range messages / len(pipes) {
				all = append(all, text()...)
			}
			caller, err := p.s.Call(b.Context(), p.token, time.Now())
			if err == nil {
				_, _, err = intake.Keep(b.Context(), p.h, caller, intake.JSONLines, all, time.Now())
			}
			if err != nil {
				b.Fatal(err)
			}
		}
		direct += time.Since(began)
	}
	b.ReportMetric(float64(b.N*messages*lines)/through.Seconds(), "readings/s")
	b.ReportMetric(through.Seconds()/direct.Seconds(), "x-floor")
}
