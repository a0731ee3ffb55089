package when_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/when"
)

func TestHowLongItHasLain(t *testing.T) {
	now := time.Date(2026, 11, 26, 9, 0, 0, 0, time.UTC)
	days := func(n int) time.Time { return now.AddDate(0, 0, -n) }
	for typed, since := range map[string]time.Time{
		"2 years": days(731), "18 months": days(548), "6 weeks": days(42), "10 d": days(10), "a year": days(365), "half a year": days(183),
		"one and a half years": days(548), "1,5 years": days(548), "two summers": days(731), "1 winter": days(365), "3 years ago": days(1096),
		"April 2025": time.Date(2025, 4, 1, 0, 0, 0, 0, time.UTC), "since apr 2025": time.Date(2025, 4, 1, 0, 0, 0, 0, time.UTC),
		"2025-04": time.Date(2025, 4, 1, 0, 0, 0, 0, time.UTC), "2024": time.Date(2024, 1, 1, 0, 0, 0, 0, time.UTC),
		"2025-04-12": time.Date(2025, 4, 12, 0, 0, 0, 0, time.UTC), "12 April 2025": time.Date(2025, 4, 12, 0, 0, 0, 0, time.UTC),
		"12. apr 2025": time.Date(2025, 4, 12, 0, 0, 0, 0, time.UTC), "Apr 12, 2025": time.Date(2025, 4, 12, 0, 0, 0, 0, time.UTC),
	} {
		got, err := when.ParseLain(typed, now)
		require.NoError(t, err, typed)
		assert.Equal(t, since, got, typed)
	}
	for _, typed := range []string{"", "long", "2 fortnights", "May 2027", "40 years", "1980", "2025-13", "Smarch 2025", "999 years", "31 June 2025", "2025-02-30", "12 2025"} {
		_, err := when.ParseLain(typed, now)
		assert.ErrorContains(t, err, "2 years", typed)
	}
}
