package when_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/when"
)

func TestDurations(t *testing.T) {
	for typed, want := range map[string]time.Duration{"8": 8 * time.Hour, "8 h": 8 * time.Hour, "1 h 30": 90 * time.Minute,
		"90 min": 90 * time.Minute, "1.5": 90 * time.Minute, "2,5 h": 150 * time.Minute, "half an hour": 30 * time.Minute,
		"1½ h": 90 * time.Minute, "one and a half hours": 90 * time.Minute} {
		got, err := when.ParseDuration(typed)
		require.NoError(t, err, typed)
		assert.Equal(t, want, got, typed)
	}
	for _, typed := range []string{"", "soon", "5 min", "60 h", "-3", "Inf", "NaN"} {
		_, err := when.ParseDuration(typed)
		assert.ErrorContains(t, err, "8 h, 1 h 30 or 90 min would do", typed)
	}
}

// Moments that have been, of a burn that began in the evening before.
func TestParseMoment(t *testing.T) {
	now := time.Date(2026, 1, 15, 0, 20, 0, 0, time.UTC)
	since := now.Add(-6 * time.Hour)
	for typed, want := range map[string]string{"": "15 00:20", "now": "15 00:20", "5 min ago": "15 00:15", "2 h ago": "14 22:20",
		"12 minutes ago": "15 00:08", "vor 5 min": "15 00:15", "jetzt": "15 00:20", "gestern 22:10": "14 22:10", "um 18:42": "14 18:42",
		"7 ago": "15 00:13", "23:50": "14 23:50", "at 18:42": "14 18:42", "00:21": "15 00:21", "yesterday 22:10": "14 22:10"} {
		got, err := when.ParseMoment(typed, now, since)
		require.NoError(t, err, typed)
		assert.Equal(t, want, got.Format("02 15:04"), typed)
	}
	for _, typed := range []string{"soon", "tomorrow 10:00", "25:00", "3 weeks ago"} {
		_, err := when.ParseMoment(typed, now, since)
		assert.ErrorContains(t, err, "5 min ago or 18:42 would do", typed)
	}
}

func TestParseUntil(t *testing.T) {
	begin := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	for typed, want := range map[string]time.Duration{"6 h": 6 * time.Hour, "until 06:00": 12 * time.Hour, "11 pm": 5 * time.Hour, "18:00": 24 * time.Hour,
		"tomorrow 06:00": 12 * time.Hour, "until tomorrow 20:00": 26 * time.Hour,
		"till ten": 4 * time.Hour, "until 22": 4 * time.Hour, "till 10": 4 * time.Hour, "bedtime": 4*time.Hour + 30*time.Minute, "until bedtime": 4*time.Hour + 30*time.Minute,
		"all night": 12*time.Hour + 30*time.Minute, "until half past nine": 3*time.Hour + 30*time.Minute, "till a quarter to eleven": 4*time.Hour + 45*time.Minute,
		"until six": 12 * time.Hour, "by 7 o'clock": time.Hour, "until 0": 6 * time.Hour,
		"bis 22 Uhr": 4 * time.Hour, "bis zehn": 4 * time.Hour, "bis halb elf": 4*time.Hour + 30*time.Minute, "die ganze Nacht": 12*time.Hour + 30*time.Minute,
		"6 Stunden": 6 * time.Hour, "Schlafenszeit": 4*time.Hour + 30*time.Minute, "bis morgen 20:00": 26 * time.Hour, "2,5 h": 150 * time.Minute, "until tomorrow": 0, "10": 10 * time.Hour, "until 2 h": 2 * time.Hour} {
		if want == 0 {
			_, err := when.ParseUntil(typed, begin)
			assert.Error(t, err, typed)
			continue
		}
		got, err := when.ParseUntil(typed, begin)
		require.NoError(t, err, typed)
		assert.Equal(t, want, got, typed)
	}
	for _, typed := range []string{"18:10", "", "soon"} {
		_, err := when.ParseUntil(typed, begin)
		assert.ErrorContains(t, err, "would do", typed)
	}
}

func TestParseDay(t *testing.T) {
	now := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	for typed, want := range map[string]string{"today": "2026-01-14", "Today": "2026-01-14", "2025-11-03": "2025-11-03"} {
		got, err := when.ParseDay(typed, now)
		require.NoError(t, err, typed)
		assert.Equal(t, want, got.Format(time.DateOnly))
	}
	for _, typed := range []string{"2026-01-15", "1066-10-14", "last week"} {
		_, err := when.ParseDay(typed, now)
		assert.ErrorContains(t, err, "up to today", typed)
	}
}
