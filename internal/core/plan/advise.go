package plan

import (
	"fmt"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/units"
)

// A Situation is what is known of a stove in which nobody tends a fire.
type Situation struct {
	House   house.House
	Wanted  [2]units.Celsius
	Outdoor house.Forecast
	Volume  units.Litre
	Last    *fire.Sample // the last burn replayed until now; nil when it is too long ago
	Hours   time.Duration
}

// An Advice is what to do now, and why.
type Advice struct {
	Do    string
	Why   string
	Light bool          // a fire is wanted now
	Start Start         // what it would start from
	Room  units.Celsius // as far as known
	Known bool          // the room's temperature is
	Wait  time.Duration // until a fire is wanted; 0: now or not known
}

// Advise answers what to do now: nothing yet, a restart on the coals, or a cold
// start; in mild weather a small hot fire and not a smouldering one.
func Advise(s Situation, sys units.System) Advice {
	outside := s.Outdoor(0)
	wanted := s.House.HeatWanted((s.Wanted[0]+s.Wanted[1])/2, outside)
	mild := ""
	if wanted < 1500 {
		mild = " It is mild: a small hot fire is enough, and cleaner than one that is held back."
	}
	if s.Last == nil {
		a := Advice{Do: "Look at the room first", Start: Cold, Why: fmt.Sprintf("Nobody has logged a fire lately, so the room's temperature is not known. At %s outside it takes %s to hold %s.%s",
			sys.Temperature(outside), sys.Power(wanted), sys.RoomTemperature(s.Wanted[0]), mild)}
		if wanted == 0 {
			a.Do, a.Why = "No fire is needed", fmt.Sprintf("At %s outside the house holds itself.", sys.Temperature(outside))
		}
		return a
	}
	a := Advice{Room: s.Last.Room, Known: true, Start: Cold}
	a.Start = startFor(float64(s.Last.Coals), float64(s.Volume)/55)
	hold := s.House.Coast(house.Room{Air: s.Last.Room, Mass: s.Last.Room - 0.7}, s.Wanted[0], s.Outdoor, 12*time.Hour)
	coals := map[Start]string{Cold: "The stove is cold by now.", FewCoals: "There should be a handful of coals left.", LayerCoals: "There should be a layer of coals left.", GoodCoals: "There should be a good bed of coals."}[a.Start]
	switch {
	case s.Last.Room >= s.Wanted[0] && hold >= 12*time.Hour:
		a.Do, a.Why = "Nothing: the house holds", fmt.Sprintf("The room should be at %s and stay in its band for the next half day at %s outside.", sys.RoomTemperature(round1(s.Last.Room)), sys.Temperature(outside))
	case s.Last.Room >= s.Wanted[0]+0.3 && hold > 30*time.Minute:
		a.Wait = hold
		a.Do = "Nothing yet"
		a.Why = fmt.Sprintf("The room should be at %s and hold for about %s at %s outside. %s", sys.RoomTemperature(round1(s.Last.Room)), units.Duration(hold.Round(10*time.Minute)), sys.Temperature(outside), coals)
	default:
		a.Light = true
		a.Do = map[Start]string{Cold: "Light a fire", FewCoals: "Restart on the coals, with small wood", LayerCoals: "Restart on the coals, with small wood", GoodCoals: "Load on the coals"}[a.Start]
		a.Why = fmt.Sprintf("The room should be at %s, under the wanted %s. %s%s", sys.RoomTemperature(round1(s.Last.Room)), sys.RoomTemperature(s.Wanted[0]), coals, mild)
	}
	return a
}

func round1(t units.Celsius) units.Celsius { return units.Celsius(tenth(float64(t))) }
