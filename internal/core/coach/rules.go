package coach

import "smolder/internal/core/burn"

// The rules, in the order in which they are asked: first what can hurt somebody, then
// what is done wrong or goes wrong, then, where no step of a plan is due, what is worth
// saying. Each is in the file of its part of the burn.
const (
	Monoxide      RuleID = "monoxide"         // the CO alarm sounds
	ChimneyFire   RuleID = "chimney-fire"     //
	OverLimit     RuleID = "over-limit"       // a gauge is over what it may reach
	Spillage      RuleID = "spillage"         // smoke comes into the room
	SomeMonoxide  RuleID = "some-monoxide"    // the CO display shows some
	FlapOpen      RuleID = "flap-open"        // the ash flap, on a fire that stands
	Overloaded    RuleID = "overloaded"       // more wood than the manual allows
	TwoFuels      RuleID = "two-fuels"        // mineral fuel on wood
	Spilling      RuleID = "spilling"         // smoke is believed to come in
	Unheard       RuleID = "unheard"          // nobody has said anything for hours
	GateShut      RuleID = "gate-shut"        // what must be open for a fire is shut
	GrateOpen     RuleID = "grate-open"       // air from below on wood that has caught
	Glazed        RuleID = "glazed"           // shining tar was seen in the flue
	Impossible    RuleID = "impossible"       // a reading that cannot be
	Cooled        RuleID = "cooled"           // shut for its heat, and hot no more
	Climbing      RuleID = "climbing"         // over its limit soon, as it goes
	DiedOnShut    RuleID = "died-on-shutting" // the fire died when the door was shut
	DoorAjar      RuleID = "door-ajar"        // left so
	NotCaught     RuleID = "not-caught"       // a load that does not flame
	BigTooEarly   RuleID = "big-too-early"    // big wood on a small fire
	TooFar        RuleID = "too-far"          // turned down too far: a step back
	NotCharred    RuleID = "not-charred"      // turned down before the wood is black
	InSteps       RuleID = "in-steps"         // turned down at once
	Smoulders     RuleID = "smoulders"        // gas leaves unburnt
	SmokeLong     RuleID = "smoke-long"       // seen for long after a load
	Whistles      RuleID = "whistles"         // too much air through the inlet
	GlassBlackens RuleID = "glass-blackens"   // from its edge, with air to spare
	BypassEarly   RuleID = "bypass-early"     // the catalyst engaged below light-off
	BypassReady   RuleID = "bypass-ready"     // it is ready
	Stalled       RuleID = "stalled"          // it has gone out
	Starved       RuleID = "starved"          // coals without air
	Dies          RuleID = "dies"             // flames gone with wood and air
	Prime         RuleID = "prime"            // the flue does not draw yet

	Silent      RuleID = "silent"      // a gauge that was not read for long
	NobodyLogs  RuleID = "nobody-logs" //
	ItIsOut     RuleID = "out"         //
	RoomCold    RuleID = "room-cold"   // colder than wanted, for long
	TurnDown    RuleID = "turn-down"   // the load is black, and no plan says where the air goes
	SecondLoad  RuleID = "second-load" // on the first, before that is turned down: the room is cold
	LoadBy      RuleID = "load-by"     // else the room is cold before the time is over
	Enough      RuleID = "enough"      // it is warm, or will be: nothing more on
	TooQuick    RuleID = "too-quick"   // steps done sooner than any fire gets there
	AskCoals    RuleID = "ask-coals"   // is it down to coals?
	KeepCoals   RuleID = "keep-coals"  // flames gone: less air keeps them
	LetBurn     RuleID = "let-burn"    // warm enough, and coals for long
	ReloadNow   RuleID = "reload"      // the window is open
	CoalsGoing  RuleID = "coals-going" // and shuts
	NightReady  RuleID = "night-ready" // it can be left
	NightNotYet RuleID = "night-not-yet"
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
	{TooQuick, true, tapped},
	{TooFar, true, tooFar},
	{NotCharred, true, notCharred},
	{InSteps, true, inSteps},
	{Smoulders, true, smoulders},
	{SmokeLong, true, smokeLong},
	{Whistles, true, whistles},
	{GlassBlackens, true, glassBlackens},
	{Dies, true, dies},
	{BypassEarly, true, bypassEarly},
	{Stalled, true, stalled},
	{Starved, true, starved},
	{Glazed, true, danger(burn.GlazeSeen)},
	{Prime, true, prime},

	{BypassReady, false, bypassReady},
	{SecondLoad, false, secondLoad},
	{TurnDown, false, turnDown},
	{NightNotYet, false, nightNotYet},
	{NightReady, false, nightReady},
	{CoalsGoing, false, coalsGoing},
	{ReloadNow, false, reloadNow},
	{LetBurn, false, letBurn},
	{KeepCoals, false, keepCoals},
	{ItIsOut, false, itIsOut},
	{AskCoals, false, askCoals},
	{RoomCold, false, roomCold},
	{LoadBy, false, loadBy},
	{Enough, false, enough},
	{Silent, false, silent},
	{NobodyLogs, false, nobodyLogs},
}

// Codes are those of all rules, in their order.
func Codes() []RuleID {
	var out []RuleID
	for _, r := range rules {
		out = append(out, r.code)
	}
	return out
}
