package when_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/units"
	"smolder/internal/core/when"
)

func TestParsePresence(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Lisbon") // any with summer time
	require.NoError(t, err)
	evening := time.Date(2026, 1, 14, 18, 0, 0, 0, zone)
	hours := func(h float64) time.Duration { return time.Duration(h * float64(time.Hour)) }
	for _, c := range []struct {
		typed string
		want  when.Presence // its first spans
	}{
		{"", nil}, {"all the time", nil}, {" The  End ", nil},
		{"until 22:30", when.Presence{{To: hours(4.5)}}},
		{"22:30", when.Presence{{To: hours(4.5)}}},
		{"2 h", when.Presence{{To: hours(2)}}},
		{"die ganze Zeit", nil}, {"bis 22:30", when.Presence{{To: hours(4.5)}}}, {"until bedtime", when.Presence{{To: hours(4.5)}}}, {"till ten", when.Presence{{To: hours(4)}}},
		{"16:00-22:00 und 06:30-08:00", when.Presence{{0, hours(4)}, {hours(12.5), hours(14)}, {hours(22), hours(28)}}},
		{"90 min", when.Presence{{To: hours(1.5)}}},
		{"until 06:00", when.Presence{{To: hours(12)}}},
		{"from 20:00", when.Presence{{hours(2), 96 * time.Hour}}},
		{"16:00-22:00", when.Presence{{0, hours(4)}, {hours(22), hours(28)}}},
		{"06:30 – 08:00 and 16:00 to 22:00", when.Presence{{0, hours(4)}, {hours(12.5), hours(14)}, {hours(22), hours(28)}}},
		{"from 06:30 to 08:00", when.Presence{{hours(12.5), hours(14)}}},
		{"22:00-07:00", when.Presence{{hours(4), hours(13)}}},
		{"16:00-19:00, 18:30-22:00", when.Presence{{0, hours(4)}}},
	} {
		got, err := when.ParsePresence(c.typed, evening)
		require.NoError(t, err, c.typed)
		require.GreaterOrEqual(t, len(got), len(c.want), c.typed)
		assert.Equal(t, c.want, got[:len(c.want)], c.typed)
		assert.Equal(t, c.want == nil, got == nil, c.typed)
	}
	for _, typed := range []string{"soon", "25:00", "until 24:61", "06:30-", "06:30-08:75", "06:30-99:00", "and", "1 s", "from 26:10"} {
		_, err := when.ParsePresence(typed, evening)
		wrong := new(units.ParseError)
		require.ErrorAs(t, err, &wrong, typed)
		assert.Contains(t, err.Error(), "would do", typed)
		assert.Equal(t, typed, wrong.Input)
	}

	// On the night that the clocks go forward, eight by the clock is an hour nearer.
	spring, err := when.ParsePresence("until 08:00", time.Date(2026, 3, 28, 20, 0, 0, 0, zone))
	require.NoError(t, err)
	assert.Equal(t, when.Presence{{To: hours(11)}}, spring)
}

func TestPresenceLater(t *testing.T) {
	p := when.Presence{{0, 2 * time.Hour}, {8 * time.Hour, 9 * time.Hour}}
	assert.Equal(t, when.Presence{{0, time.Hour}, {7 * time.Hour, 8 * time.Hour}}, p.After(time.Hour))
	assert.Equal(t, when.Presence{{5 * time.Hour, 6 * time.Hour}}, p.After(3*time.Hour))
	assert.Equal(t, when.Presence{}, p.After(10*time.Hour), "nobody, which is not the same as somebody all the time")
	assert.False(t, p.After(10*time.Hour).Somebody(0))
	assert.True(t, when.Presence(nil).After(time.Hour).Somebody(time.Hour))
}

func TestParseBegin(t *testing.T) {
	now := time.Date(2026, 1, 14, 13, 20, 0, 0, time.UTC)
	for typed, want := range map[string]string{"": "14 13:20", "Now": "14 13:20", "16:00": "14 16:00", "at 16:00": "14 16:00",
		"13:00": "14 13:20", "06:30": "15 06:30",
		"tomorrow 16:00": "15 16:00", "in 2 h": "14 15:20", "90 min": "14 14:50", "2026-01-14 22:15": "14 22:15", "2026-01-14 06:00": "14 13:20"} {
		got, err := when.ParseBegin(typed, now)
		require.NoError(t, err, typed)
		assert.Equal(t, want, got.Format("02 15:04"), typed)
	}
	for typed, why := range map[string]string{"soon": "a time was expected", "25:10": "a time was expected", "2026-01-19 06:00": "36 hours",
		"2026-01-12 06:00": "long past", "40 h": "36 hours", "tomorrow": "a time was expected"} {
		_, err := when.ParseBegin(typed, now)
		require.Error(t, err, typed)
		assert.Contains(t, err.Error(), why, typed)
		assert.Contains(t, err.Error(), "tomorrow 06:30 or in 2 h would do", typed)
	}
}
