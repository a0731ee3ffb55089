package plan

import (
	"fmt"
	"time"

	"smolder/internal/core/house"
	"smolder/internal/core/units"
)

// Alone returns how long the room stays in the wanted band by itself, at most as
// long as the wish: whether to light at all, and when.
func (w Wish) Alone() time.Duration {
	return w.House.Coast(house.Room{Air: w.Room, Mass: w.Room - 0.7}, w.Low, w.outdoorAt, w.For)
}

// worthWaiting is how long a room must hold by itself for lighting later to be
// worth a word.
const worthWaiting = time.Hour

// SayAlone says that no fire is needed, or not yet; empty where one is wanted
// now.
func (w Wish) SayAlone(sys units.System) string {
	alone := w.Alone()
	switch {
	case w.Aim == DryOut || alone < worthWaiting:
		return ""
	case alone >= w.For:
		return fmt.Sprintf("No fire is needed: by itself the room stays above %s all that time.", sys.RoomTemperature(w.Low))
	}
	return fmt.Sprintf("By itself the room stays above %s for about %s: lighting later would do.", sys.RoomTemperature(w.Low), units.Duration(alone.Round(10*time.Minute)))
}
