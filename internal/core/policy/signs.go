// Package policy is what whoever keeps a fire goes by: one set of thresholds, and one
// decision.
//
// [Situation] is a fire as it is seen at a moment: gauges, flames, wood, air and door, each
// with its age. [Situation.Decide] is the one thing that is done about it beside the steps of
// a plan: less air near a limit, some again when that is over, a step back for flames that
// died, the door ajar for a load that does not take. The coach says it to an owner; the hand
// that a plan is followed by in a simulated fire ([smolder/internal/core/plan]) does it. So a
// plan's foretold safety is that of somebody who does what the coach would say.
//
// Whoever asks brings the situation: the coach out of a log and a belief, the hand out of a
// simulated fire. What counts as a flame, as wood, as near a limit, as long is here and
// nowhere else.
package policy

import (
	"time"

	"smolder/internal/core/fire"
)

// What is seen, and for how long it is taken for how things are. Where no source is given the
// number is ours, by what owners have time for.
const (
	FlameSeen    = 1.2e-4           // kg/s of gas in flame for each kg of a full bed, that nobody calls gone
	SomeWood     = 0.2              // kg of dry wood, that flames should come from; 0.15 to 0.3
	Dark, Bright = 0.35, 0.65       // of the likely fires have flames: hardly, and surely
	FallsBy      = -6.0             // K a minute, of a gauge that falls for want of flames
	ReadingHolds = 10 * time.Minute // a reading; after that it is said how old it is
	LookHolds    = 25 * time.Minute // a look at flames or cap
)

// Heat.
const (
	NearLimit    = 0.95             // of a gauge's limit: less air
	JustOver     = 1.06             // of it, up to where the air is taken far down; from there on it is shut
	FarDown      = 0.3              // of the opening, that it is taken down to then
	CooledTo     = 0.85             // of it, from where a fire that was shut is given air again
	ClimbsFrom   = 0.55             // of it, under which any fresh fire climbs
	ClimbsAt     = 3.0              // K a minute from where a rise is one
	ClimbsIn     = 15 * time.Minute // to the limit, that is near enough to act
	AtTheDoor    = 3 * time.Minute  // to it in a straight line, that nobody waits to see flatten
	LikelyTooHot = 0.4              // of the likely fires, within a quarter of an hour
	Answered     = 4 * time.Minute  // since the air was shut further, that it has to show
	LeastAir     = 0.1              // that the air is shut to for what climbs
	PaleAir      = 1. / 3           // the same while the wood is pale: shut further it would only smoke
	Halves       = 0.5              // of the opening, that the air is shut to
	LeastOfMost  = 1. / 3           // that the air may be opened to again after it was too hot
	ShutFor      = 30 * time.Minute // that a fire shut for its heat is remembered
	ColdAfter    = 10 * time.Minute // since it was hot, that a cold gauge lifts what was remembered
	HotLately    = 10 * time.Minute // before the air was shut, that a gauge was hot
	FlareFor     = fire.FlareFor    // that kindling flares after the match
	FlareHolds   = 3 * time.Minute  // that a gauge in the gas may be over its limit for it,
	FlareOver    = fire.FlareOver   // times the limit, that it may reach
	UnsafeShare  = 0.1              // of the likely stoves, in which what is offered may be unsafe
)

// Flames, and loads that do not take.
const (
	ShownAfter = 2 * time.Minute  // since the air was moved, that it shows
	ShownFor   = 25 * time.Minute // and for how long what comes is put down to it
	SinksFrom  = 8 * time.Minute  // since a turn-down, that a gauge under its band may still settle,
	SinksUntil = 50 * time.Minute // and from when on a load burns down anyway
	SinksBy    = 0.8              // K a minute, that it falls by
	SinksWith  = 0.6              // kg of dry wood, that is no load that burns down
	BackBy     = 2.0              // times the opening, where there was no step before
	NearOpen   = 0.9              // of what it may be opened to, that is as good as open
	CatchesIn  = 6 * time.Minute  // that a load has to flame with all its air
	CharsUntil = 50 * time.Minute // after a load, beyond which its air is no charring any more
	TriesFor   = 40 * time.Minute // after a load, beyond which it is no more a question of taking
)

// BelowLightOff is how far under its light-off a catalyst is too cold to be engaged, K.
const BelowLightOff = 25

// The door and the ash flap.
const (
	DoorAjarLong = 20 * time.Minute // that lighting takes at the most
	DoorOpenLong = 5 * time.Minute  // that loading takes
	FlapLong     = 8 * time.Minute  // that an ash flap may stand open to light a fire
	FlapHot      = 2 * time.Minute  // the same once the gauge is near its band
)
