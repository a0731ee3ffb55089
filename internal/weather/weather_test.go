package weather_test

import (
	"context"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/weather"
)

var (
	ctx     = context.Background()
	january = time.Date(2026, 1, 14, 18, 20, 0, 0, time.UTC)
)

func TestTheIslandsWeather(t *testing.T) {
	one, err := weather.Island{}.Hourly(ctx, january, 48)
	require.NoError(t, err)
	later, err := weather.Island{}.Hourly(ctx, january.Add(5*time.Hour), 10)
	require.NoError(t, err)
	assert.Equal(t, one[5:15], later, "the same hour is the same whenever it is asked")
	assert.Equal(t, 18, one[0].At.Hour(), "beginning with the hour it lies in")
	assert.Zero(t, one[0].At.Minute())
	mean := func(from time.Time) float64 {
		hours, err := weather.Island{}.Hourly(ctx, from, weather.MostHours)
		require.NoError(t, err)
		sum := 0.0
		for _, h := range hours {
			sum += h.Temperature / float64(len(hours))
			assert.True(t, h.Humidity >= 35 && h.Humidity <= 100 && h.Wind >= 0 && h.Wind < 20, "%+v", h)
		}
		return sum
	}
	assert.InDelta(t, 2, mean(january), 3, "a mild winter by the sea")
	assert.InDelta(t, 14, mean(january.AddDate(0, 6, 0)), 3)
	for _, n := range []int{0, -1, 9999} {
		_, err := weather.Island{}.Hourly(ctx, january, n)
		assert.ErrorContains(t, err, "24 would do")
	}
}

func TestOverHTTP(t *testing.T) {
	server := httptest.NewServer(weather.Handler(weather.Island{}))
	defer server.Close()
	want, _ := weather.Island{}.Hourly(ctx, january, 12)
	got, err := weather.Service{Base: server.URL}.Hourly(ctx, january, 12)
	require.NoError(t, err)
	assert.Equal(t, want, got)

	get := func(path string) (int, string) {
		resp, err := http.Get(server.URL + path)
		require.NoError(t, err)
		defer resp.Body.Close()
		b, _ := io.ReadAll(resp.Body)
		return resp.StatusCode, string(b)
	}
	status, table := get("/v1/hourly.csv?from=2026-01-14T18:00:00Z&hours=3")
	assert.Equal(t, http.StatusOK, status)
	assert.Len(t, strings.Split(strings.TrimSpace(table), "\n"), 4)
	for path, says := range map[string]string{"/v1/hourly?from=today": "would do",
		"/v1/hourly?from=2026-01-14T18:00:00Z&hours=many": "whole number", "/v1/hourly?from=2026-01-14T18:00:00Z&hours=9000": "24 would do"} {
		status, body := get(path)
		assert.Equal(t, http.StatusUnprocessableEntity, status)
		assert.Contains(t, body, says)
	}
}

func TestAServiceThatMisbehaves(t *testing.T) {
	for name, body := range map[string]string{"nonsense": "hello", "impossible": `{"hours":[{"at":"2026-01-14T18:00:00Z","temperature_c":900}]}`} {
		server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { _, _ = io.WriteString(w, body) }))
		_, err := weather.Service{Base: server.URL}.Hourly(ctx, january, 12)
		assert.ErrorContains(t, err, "reading the weather", name)
		server.Close()
		_, err = weather.Service{Base: server.URL}.Hourly(ctx, january, 12)
		assert.ErrorContains(t, err, "asking for the weather", "and when it is gone")
	}
}

// Whatever a service answers, what is taken of it is weather.
func FuzzRead(f *testing.F) {
	for _, seed := range []string{`{"place":"here","hours":[{"at":"2026-01-14T18:00:00Z","temperature_c":2,"humidity_pct":80,"wind_m_s":4}]}`,
		`{"hours":null}`, `[]`, ``,
		`{"hours":[{"at":"1700-01-01T00:00:00Z"}]}`, `{"hours":[{"at":"2026-01-14T18:00:00Z","temperature_c":1e308}]}`,
		`{"hours":[{"at":"2026-01-14T18:00:00Z"},{"at":"2026-01-14T18:00:00Z"}]}`,
		`{"hours":[` + strings.Repeat(`{"at":"2026-01-14T18:00:00Z"},`, 500) + `{}]}`} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		hours, err := weather.Read(strings.NewReader(text), january)
		if err != nil {
			return
		}
		require.LessOrEqual(t, len(hours), weather.MostHours+24)
		for i, h := range hours {
			require.True(t, h.Temperature > -60 && h.Temperature < 60 && h.Wind >= 0 && h.Humidity >= 0 && h.Humidity <= 100, "%+v", h)
			require.True(t, i == 0 || h.At.After(hours[i-1].At))
		}
	})
}
