package weather_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/weather"
)

func TestHoursOfAForecast(t *testing.T) {
	begin := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	hours := []weather.Hour{{At: begin, Temperature: 3}, {At: begin.Add(time.Hour), Temperature: 2}, {At: begin.Add(2 * time.Hour), Temperature: -1}}
	at := weather.Temperature(hours, begin.Add(20*time.Minute))
	for after, want := range map[time.Duration]float64{0: 3, 39 * time.Minute: 3, 40 * time.Minute: 2, 2 * time.Hour: -1, 30 * time.Hour: -1} {
		assert.InDelta(t, want, float64(at(after)), 1e-9, "%v from now", after)
	}

	assert.Len(t, weather.From(hours, begin), 3)
	assert.Len(t, weather.From(hours, begin.Add(59*time.Minute)), 3, "the hour that it lies in")
	assert.Len(t, weather.From(hours, begin.Add(time.Hour)), 2)
	assert.Len(t, weather.From(hours, begin.Add(9*time.Hour)), 1, "at least the last")
}
