package coach

// The rules, in the order in which they are asked: first what can hurt somebody, then
// what is done wrong or goes wrong, then, where no step of a plan is due, what is worth
// saying. Each is in the file of its part of the burn.
const (
	OverLimit   Code = "over-limit"       // a gauge is over what it may reach
	Spillage    Code = "spillage"         // smoke comes into the room
	Impossible  Code = "impossible"       // a reading that cannot be
	Climbing    Code = "climbing"         // over its limit soon, as it goes
	DiedOnShut  Code = "died-on-shutting" // the fire died when the door was shut
	DoorAjar    Code = "door-ajar"        // left so
	NotCaught   Code = "not-caught"       // a load that does not flame
	BigTooEarly Code = "big-too-early"    // big wood on a small fire
	TooFar      Code = "too-far"          // turned down too far: a step back
	NotCharred  Code = "not-charred"      // turned down before the wood is black
	InSteps     Code = "in-steps"         // turned down at once
	Smoulders   Code = "smoulders"        // gas leaves unburnt
	SmokeLong   Code = "smoke-long"       // seen for long after a load
	Whistles    Code = "whistles"         // too much air through the inlet
	BypassEarly Code = "bypass-early"     // the catalyst engaged below light-off
	BypassReady Code = "bypass-ready"     // it is ready
	Stalled     Code = "stalled"          // it has gone out
	Starved     Code = "starved"          // coals without air
	Prime       Code = "prime"            // the flue does not draw yet

	Silent      Code = "silent"      // a gauge that was not read for long
	NobodyLogs  Code = "nobody-logs" //
	ItIsOut     Code = "out"         //
	KeepCoals   Code = "keep-coals"  // flames gone: less air keeps them
	LetBurn     Code = "let-burn"    // warm enough, and coals for long
	ReloadNow   Code = "reload"      // the window is open
	CoalsGoing  Code = "coals-going" // and shuts
	NightReady  Code = "night-ready" // it can be left
	NightNotYet Code = "night-not-yet"
)

var rules = []rule{
	{OverLimit, true, overLimit},
	{Spillage, true, spillage},
	{Impossible, true, impossible},
	{Climbing, true, climbing},
	{BigTooEarly, true, bigTooEarly},
	{DiedOnShut, true, diedOnShutting},
	{DoorAjar, true, doorAjar},
	{NotCaught, true, notCaught},
	{TooFar, true, tooFar},
	{NotCharred, true, notCharred},
	{InSteps, true, inSteps},
	{Smoulders, true, smoulders},
	{SmokeLong, true, smokeLong},
	{Whistles, true, whistles},
	{BypassEarly, true, bypassEarly},
	{Stalled, true, stalled},
	{Starved, true, starved},
	{Prime, true, prime},

	{BypassReady, false, bypassReady},
	{NightNotYet, false, nightNotYet},
	{NightReady, false, nightReady},
	{CoalsGoing, false, coalsGoing},
	{ReloadNow, false, reloadNow},
	{LetBurn, false, letBurn},
	{KeepCoals, false, keepCoals},
	{ItIsOut, false, itIsOut},
	{Silent, false, silent},
	{NobodyLogs, false, nobodyLogs},
}

// Codes are those of all rules, in their order.
func Codes() []Code {
	var out []Code
	for _, r := range rules {
		out = append(out, r.code)
	}
	return out
}
