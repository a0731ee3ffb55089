package intake_test

import (
	"strings"
	"testing"

	"smolder/internal/intake"
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
