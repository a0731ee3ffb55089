package kit

import (
	"fmt"
	"time"

	"smolder/internal/store"
)

// A BurnLine is a burn in a list, in words.
type BurnLine struct {
	store.BurnLine
	Day, Clock, Length, Mass, Peak, Outdoor string
	Mineral                                 string // mineral fuel, where any was burnt
}

// ClockLength prints 1:05 h.
func ClockLength(d time.Duration) string {
	m := int(d.Round(time.Minute) / time.Minute)
	if m < 60 {
		return fmt.Sprintf("%d min", m)
	}
	return fmt.Sprintf("%d:%02d h", m/60, m%60)
}
