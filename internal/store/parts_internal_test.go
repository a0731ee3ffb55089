package store

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func noonOf(year, month, d int) time.Time {
	return time.Date(year, time.Month(month), d, 13, 0, 0, 0, time.UTC)
}

// Readings of the last two years have a part a month, older ones one a year, but where a month of
// that year has one already.
func TestWhichPartAReadingNeeds(t *testing.T) {
	there := []string{"reported_202610", "reported_202611", "reported_202612"}
	for name, c := range map[string]struct {
		at     time.Time
		there  []string
		part   string
		needed bool
	}{
		"there":                      {noonOf(2026, 11, 30), there, "", false},
		"the month before":           {noonOf(2026, 9, 30), there, "reported_202609", true},
		"two years ago":              {noonOf(2024, 12, 2), there, "reported_202412", true},
		"long ago":                   {noonOf(2019, 3, 1), there, "reported_2019", true},
		"of a year that is there":    {noonOf(2019, 8, 1), append([]string{"reported_2019"}, there...), "", false},
		"beside a month of long ago": {noonOf(2019, 8, 1), append([]string{"reported_201903"}, there...), "reported_201908", true},
		"the first of all":           {noonOf(2019, 3, 1), nil, "reported_201903", true},
	} {
		p, needed := partOf(c.at, c.there)
		assert.Equal(t, c.needed, needed, name)
		assert.Equal(t, c.part, p.name, name)
		if needed {
			assert.False(t, c.at.Before(p.from) || !c.at.Before(p.to), "%s: it lies in it", name)
		}
	}
	last := monthPart(time.Date(2026, 12, 31, 23, 59, 59, 0, time.FixedZone("west", -5*3600)))
	assert.Equal(t, "reported_202701", last.name, "months are those of UTC")
}
