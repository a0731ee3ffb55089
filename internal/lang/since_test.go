package lang_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/lang"
)

// Who has been away for months is told of days, and of an evening hours and minutes.
func TestSince(t *testing.T) {
	for d, says := range map[time.Duration]string{9 * time.Minute: "9 min", 26 * time.Hour: "26 h", 71*time.Hour + 5*time.Minute: "71 h 05 min", 72 * time.Hour: "3 days", 5636 * time.Hour: "234 days"} {
		assert.Equal(t, says, lang.Metric.Since(d))
	}
}
