package coach

import "smolder/internal/core/burn"

// The rules, in the order in which they are asked: first what can hurt somebody, then
// what is done wrong or goes wrong, then, where no step of a plan is due, what is worth
// saying. Each is in the file of its part of the burn.
const (
	Monoxide     Saying = "monoxide"         // the CO alarm sounds
	ChimneyFire  Saying = "chimney-fire"     //
	OverLimit    Saying = "over-limit"       // a gauge is over what it may reach
	Spillage     Saying = "spillage"         // smoke comes into the room
	SomeMonoxide Saying = "some-monoxide"    // the CO display shows some
	FlapOpen     Saying = "flap-open"        // the ash flap, on a fire that stands
	Overloaded   Saying = "overloaded"       // more wood than the manual allows
	TwoFuels     Saying = "two-fuels"        // mineral fuel on wood
	Spilling     Saying = "spilling"         // smoke is believed to come in
	Unheard      Saying = "unheard"          // nobody has said anything for hours
	GateShut     Saying = "gate-shut"        // what must be open for a fire is shut
	GrateOpen    Saying = "grate-open"       // air from below on wood that has caught
	Glazed       Saying = "glazed"           // shining tar was seen in the flue
	Impossible   Saying = "impossible"       // a reading that cannot be
	Cooled       Saying = "cooled"           // shut for its heat, and hot no more
	Climbing     Saying = "climbing"         // over its limit soon, as it goes
	DiedOnShut   Saying = "died-on-shutting" // the fire died when the door was shut
	DoorAjar     Saying = "door-ajar"        // left so
	NotCaught    Saying = "not-caught"       // a load that does not flame
	BigTooEarly  Saying = "big-too-early"    // big wood on a small fire
	TooFar       Saying = "too-far"          // turned down too far: a step back
	NotCharred   Saying = "not-charred"      // turned down before the wood is black
	InSteps      Saying = "in-steps"         // turned down at once
	Smoulders    Saying = "smoulders"        // gas leaves unburnt
	SmokeLong    Saying = "smoke-long"       // seen for long after a load
	Whistles     Saying = "whistles"         // too much air through the inlet
	BypassEarly  Saying = "bypass-early"     // the catalyst engaged below light-off
	BypassReady  Saying = "bypass-ready"     // it is ready
	Stalled      Saying = "stalled"          // it has gone out
	Starved      Saying = "starved"          // coals without air
	Dies         Saying = "dies"             // flames gone with wood and air
	Prime        Saying = "prime"            // the flue does not draw yet

	Silent      Saying = "silent"      // a gauge that was not read for long
	NobodyLogs  Saying = "nobody-logs" //
	ItIsOut     Saying = "out"         //
	RoomCold    Saying = "room-cold"   // colder than wanted, for long
	AskCoals    Saying = "ask-coals"   // is it down to coals?
	KeepCoals   Saying = "keep-coals"  // flames gone: less air keeps them
	LetBurn     Saying = "let-burn"    // warm enough, and coals for long
	ReloadNow   Saying = "reload"      // the window is open
	CoalsGoing  Saying = "coals-going" // and shuts
	NightReady  Saying = "night-ready" // it can be left
	NightNotYet Saying = "night-not-yet"
)

var rules = []rule{
	{Monoxide, true, danger(burn.CarbonMonoxide)},
	{ChimneyFire, true, danger(burn.InTheChimney)},
	{OverLimit, true, danger(burn.OverLimit)},
	{Spillage, true, danger(burn.Spillage)},
	{SomeMonoxide, true, danger(burn.SomeMonoxide)},
	{FlapOpen, true, danger(burn.FlapForgotten)},
	{TwoFuels, true, danger(burn.MineralOnWood)},
	{Overloaded, true, overloaded},
	{Spilling, true, spilling},
	{Unheard, true, unheard},
	{Cooled, true, cooled},
	{Impossible, true, impossible},
	{Climbing, true, climbing},
	{BigTooEarly, true, bigTooEarly},
	{DiedOnShut, true, diedOnShutting},
	{DoorAjar, true, doorAjar},
	{GateShut, true, gateShut},
	{GrateOpen, true, grateOpen},
	{NotCaught, true, notCaught},
	{TooFar, true, tooFar},
	{NotCharred, true, notCharred},
	{InSteps, true, inSteps},
	{Smoulders, true, smoulders},
	{SmokeLong, true, smokeLong},
	{Whistles, true, whistles},
	{Dies, true, dies},
	{BypassEarly, true, bypassEarly},
	{Stalled, true, stalled},
	{Starved, true, starved},
	{Glazed, true, danger(burn.GlazeSeen)},
	{Prime, true, prime},

	{BypassReady, false, bypassReady},
	{NightNotYet, false, nightNotYet},
	{NightReady, false, nightReady},
	{CoalsGoing, false, coalsGoing},
	{ReloadNow, false, reloadNow},
	{LetBurn, false, letBurn},
	{KeepCoals, false, keepCoals},
	{ItIsOut, false, itIsOut},
	{AskCoals, false, askCoals},
	{RoomCold, false, roomCold},
	{Silent, false, silent},
	{NobodyLogs, false, nobodyLogs},
}

// Codes are those of all rules, in their order.
func Codes() []Saying {
	var out []Saying
	for _, r := range rules {
		out = append(out, r.code)
	}
	return out
}
