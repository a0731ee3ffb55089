package plan

import (
	"fmt"
	"math"
	"time"

	"smolder/internal/core/house"
	"smolder/internal/core/units"
)

// SayHome says, of an absence or a night, how warm the room is at its end, and
// where that is under what is wanted, what it takes: how long a fire lit then
// needs, and how much heat all the time would have kept it warm. Empty where the
// room is warm by then, or the aim is another.
func (p Plan) SayHome(sys units.System) string {
	w := p.Wish
	i := int(w.For / max(p.Predicted.Every, time.Minute))
	if w.Aim != Away && w.Aim != Overnight || len(p.Predicted.Room) == 0 {
		return ""
	}
	then := p.Predicted.Room[min(i, len(p.Predicted.Room)-1)]
	if then >= float64(w.Low)-0.4 {
		return ""
	}
	whose := "When somebody is back"
	if w.Aim == Overnight {
		whose = "In the morning"
	}
	says := fmt.Sprintf("%s the room is at about %s.", whose, sys.RoomTemperature(units.Celsius(math.Round(then))))
	most := p.Output.High
	if most == 0 {
		return says
	}
	if needs, ok := w.toWarm(units.Celsius(then), most); ok {
		says += fmt.Sprintf(" A fire lit then has it at %s after about %s.", sys.RoomTemperature(w.Low), units.Duration(needs.Round(10*time.Minute)))
	} else {
		says += fmt.Sprintf(" A fire lit then does not reach %s in four hours.", sys.RoomTemperature(w.Low))
	}
	steady := w.House.HeatWanted(w.Low, w.meanOutdoor())
	load := float64(w.Stove.MaxLoad) * p.MainOf.Stack.NetEnergy() * 1e6 * 0.75 // what of a full load reaches the room
	hours := load / math.Max(float64(steady), 1) / 3600
	return says + fmt.Sprintf(" To come home to a warm room takes about %s all the time: somebody who puts on the manual's largest load every %s or so, or other heating.", sys.Power(steady), units.Duration(time.Duration(hours*float64(time.Hour)).Round(30*time.Minute)))
}

// toWarm is how long a stove that gives at most so much takes to warm the room
// from where it is at the wish's end; false: over four hours.
func (w Wish) toWarm(from units.Celsius, most units.Watt) (time.Duration, bool) {
	const step = 5 * time.Minute
	outdoor := w.outdoorAt(w.For)
	room := house.Room{Air: from, Mass: from}
	for at := time.Duration(0); at < 4*time.Hour; at += step {
		if room.Air >= w.Low {
			return at, true
		}
		// The stove itself is warm after most of an hour.
		heat := float64(most) * math.Min(1, at.Minutes()/50)
		for range 10 {
			room, _ = w.House.Step(room, heat, outdoor, step.Seconds()/10)
		}
	}
	return 0, false
}

// meanOutdoor is the outdoor temperature over the wish.
func (w Wish) meanOutdoor() units.Celsius {
	sum, n := 0.0, 0.0
	for at := time.Duration(0); at < w.For; at += 30 * time.Minute {
		sum, n = sum+float64(w.outdoorAt(at)), n+1
	}
	if n == 0 {
		return w.Outdoor
	}
	return units.Celsius(sum / n)
}
