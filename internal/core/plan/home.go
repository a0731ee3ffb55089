package plan

import (
	"math"
	"time"

	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// A Return is how a room is found after an absence or a night that the fire did
// not keep warm, and what it takes.
type Return struct {
	Room   units.Celsius
	Known  bool          // what the stove can give, and so the rest
	Warms  bool          // a fire lit then warms it within four hours
	Needs  time.Duration // that such a fire takes
	Steady units.Watt    // that would have kept it warm all the time
	Every  time.Duration // how often the manual's largest load gives as much
}

const (
	// coldReturn is how far under the wanted band a room is called cold, K.
	coldReturn = 0.4
	// toRoomShare is the share of a full load's heat that reaches the room: the
	// usual efficiency of a stove.
	toRoomShare = 0.75
)

// Return returns how the room is found at the wish's end; false where it is warm
// then, or the aim is no absence and no night.
func (p Plan) Return() (Return, bool) {
	w := p.Wish
	if w.Aim != wish.Away && w.Aim != wish.Overnight || len(p.Predicted.Room) == 0 {
		return Return{}, false
	}
	then := p.EndRoom()
	if then >= w.Low-coldReturn {
		return Return{}, false
	}
	r := Return{Room: then, Known: p.Output.High > 0}
	if r.Known {
		r.Needs, r.Warms = w.ToWarm(then, p.Output.High)
		r.Steady = w.House.HeatWanted(w.Low, w.MeanOutdoor())
		load := float64(w.Stove.MaxLoad) * p.MainOf.Stack.NetEnergy() * 1e6 * toRoomShare
		seconds := load / math.Max(float64(r.Steady), 1)
		r.Every = time.Duration(seconds * float64(time.Second))
	}
	return r, true
}

// EndRoom is the room when the wish is over.
func (p Plan) EndRoom() units.Celsius {
	if len(p.Predicted.Room) == 0 {
		return p.Wish.Room
	}
	i := int(p.Wish.For / max(p.Predicted.Every, time.Minute))
	return units.Celsius(p.Predicted.Room[min(i, len(p.Predicted.Room)-1)])
}

// Warmest is the room at its warmest while the wish lasts, and when.
func (p Plan) Warmest() (units.Celsius, time.Duration) {
	best, at := p.Wish.Room, time.Duration(0)
	for i, t := range p.Predicted.Room {
		if when := time.Duration(i) * p.Predicted.Every; when <= p.Wish.For && units.Celsius(t) > best {
			best, at = units.Celsius(t), when
		}
	}
	return best, at
}

// littleWarmer is by how much a fire must leave the room warmer at the end of a night or an
// absence than none, K, to be worth its wood where it leaves no coals.
const littleWarmer = 1.0

// LetOut tells whether a fire for a night or an absence is worth none: the room is hardly
// warmer for it by the end, and no coals are left that would light the next. It returns the
// room without one.
func (p Plan) LetOut() (without units.Celsius, is bool) {
	w := p.Wish
	if w.Aim != wish.Overnight && w.Aim != wish.Away || len(p.Predicted.Coals) == 0 || len(w.Beside) > 0 {
		return 0, false // beside another fire nobody has reckoned what the room would be without this one
	}
	without = w.Unlit()
	i := min(int(w.For/max(p.Predicted.Every, time.Minute)), len(p.Predicted.Coals)-1)
	coals := units.Kilogram(p.Predicted.Coals[i])
	return without, p.EndRoom() < without+littleWarmer && wish.StartOn(coals, w.Stove.Volume) == wish.Cold
}
