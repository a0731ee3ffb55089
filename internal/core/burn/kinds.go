package burn

import (
	"slices"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
)

// A Kind is what an entry records.
type Kind string

// The kinds of entry.
const (
	Light       Kind = "light"
	Load        Kind = "load"
	Control     Kind = "control" // air, bypass and every other control
	Temperature Kind = "temperature"
	Door        Kind = "door"
	Smoke       Kind = "smoke"
	Draft       Kind = "draft"
	Note        Kind = "note"
	Out         Kind = "out"
	Prime       Kind = "prime"      // the flue warmed with burning paper
	Rake        Kind = "rake"       // the coals, to where the air comes in
	Black       Kind = "black"      // the last load is black all over
	Jets        Kind = "jets"       // flames at the holes, slots or tubes of the second air
	Whistle     Kind = "whistle"    // it whistles or flutters at the inlet
	GasFlames   Kind = "gas-flames" // they float over the wood, free of it
	Draws       Kind = "draws"      // the inlet: one hears the air go in
	Ticks       Kind = "ticks"      // the metal, as it stretches or shrinks
	Hisses      Kind = "hisses"     // the wood, and crackles: it is wet
	AtBaffle    Kind = "baffle"     // the flames reach it
	GlassEdge   Kind = "glass-edge" // it blackens from there
	Riddle      Kind = "riddle"     // the grate
	AshOut      Kind = "ash"        // taken out
	Bed         Kind = "bed"        // how deep it lies
	CO          Kind = "co"         // what the alarm's display shows
	Mineral     Kind = "mineral"    // a load of manufactured mineral fuel: recorded, not simulated
	ToCoals     Kind = "coals"      // it is down to coals
	WentOut     Kind = "went-out"
	WindowOpen  Kind = "window-open" // a crack, on the stove's level
	WindowShut  Kind = "window-shut"
	NotYet      Kind = "not-yet" // asked about a step: it was not done, or its sign is not there

	// What has happened that nothing else may cover up.
	COAlarm     Kind = "co-alarm"     // it sounds
	ChimneyFire Kind = "chimney-fire" // a roar, a shaking pipe, sparks at the cap
	Glaze       Kind = "glaze"        // shining tar in the flue
)

// A KindRow describes a kind of entry: all that the core has of it. Its words and its sign
// are a row of package say, its key and the fields of its form a row of the page at the stove;
// programs, files and the page's script have their lists from here
// (TestEveryKindIsWhole fails where a part is missing).
type KindRow struct {
	Kind   Kind
	Plain  bool         // it says all by itself, without a value
	Does   fire.ActKind // what it does to the fire by itself; empty: nothing, or by its value
	Sees   belief.Sight // what is seen by it; empty: nothing, or by its value
	Burnt  bool         // whoever logs it has a fire
	Flames bool         // whoever logs it sees flames
	Sign   bool         // heard, or seen by who looks for it: listed under signs
}

// KindRows are all kinds, in the order in which they are listed.
var KindRows = []KindRow{
	{Kind: Light, Plain: true, Does: fire.ActLight},
	{Kind: Load},
	{Kind: Control},
	{Kind: Temperature},
	{Kind: Door},
	{Kind: Smoke},
	{Kind: Draft},
	{Kind: Note},
	{Kind: Out, Plain: true, Sees: belief.FlamesGone, Burnt: true},
	{Kind: Prime, Plain: true, Does: fire.ActPrime},
	{Kind: Rake, Plain: true, Does: fire.ActRake},
	{Kind: Black, Plain: true, Sees: belief.Black, Burnt: true, Flames: true},
	{Kind: Jets, Plain: true, Sees: belief.JetsAlight, Burnt: true, Flames: true},
	{Kind: Whistle, Plain: true, Sees: belief.InletDraws},
	{Kind: GasFlames, Plain: true, Sees: belief.GasFlames, Burnt: true, Flames: true, Sign: true},
	{Kind: AtBaffle, Plain: true, Sees: belief.AtTheBaffle, Burnt: true, Flames: true, Sign: true},
	{Kind: Draws, Plain: true, Sees: belief.InletDraws, Sign: true},
	{Kind: Ticks, Plain: true, Sees: belief.MetalTicks, Sign: true},
	{Kind: Hisses, Plain: true, Sees: belief.WoodHisses, Burnt: true, Sign: true},
	{Kind: GlassEdge, Plain: true, Sees: belief.GlassEdge, Sign: true},
	{Kind: Mineral},
	{Kind: Riddle, Plain: true},
	{Kind: AshOut, Plain: true},
	{Kind: Bed},
	{Kind: CO},
	{Kind: ToCoals, Plain: true, Sees: belief.DownToCoals, Burnt: true},
	{Kind: WentOut, Plain: true, Does: fire.ActOut, Burnt: true},
	{Kind: WindowOpen, Plain: true, Does: fire.ActWindow},
	{Kind: WindowShut, Plain: true, Does: fire.ActWindow},
	{Kind: NotYet, Plain: true},
	{Kind: COAlarm, Plain: true},
	{Kind: ChimneyFire, Plain: true},
	{Kind: Glaze, Plain: true},
}

// Kinds are all kinds of entry.
var Kinds = func() []Kind {
	var out []Kind
	for _, r := range KindRows {
		out = append(out, r.Kind)
	}
	return out
}()

// Signs are the kinds that are listed as signs.
var Signs = func() []Kind {
	var out []Kind
	for _, r := range KindRows {
		if r.Sign {
			out = append(out, r.Kind)
		}
	}
	return out
}()

// row is the description of a kind; the zero row of one that is none.
func (k Kind) row() KindRow {
	if i := slices.Index(Kinds, k); i >= 0 {
		return KindRows[i]
	}
	return KindRow{}
}

// Known tells whether k is a kind of entry.
func (k Kind) Known() bool { return slices.Contains(Kinds, k) }

// Flames tells whether whoever logs it sees flames: black is said of wood that burns.
func (k Kind) Flames() bool { return k.row().Flames }

// Plain tells whether an entry of the kind says all by itself, without a value.
func (k Kind) Plain() bool { return k.row().Plain }
