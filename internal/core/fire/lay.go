package fire

import (
	"time"

	"smolder/internal/core/units"
)

// A Lay is how a load is built up; it decides what catches first, how well
// flames reach wood that is not alight yet, and what the gases of that wood
// pass through on their way out.
type Lay string

// The lays. All but OnCoals start a cold stove.
const (
	TopDown  Lay = "top-down"  // splits below, kindling and starter on top
	BottomUp Lay = "bottom-up" // a cabin of crossed kindling below, splits on top
	OpenV    Lay = "open-v"    // two logs in a V, a kindling core, a bridge log on top
	LeanTo   Lay = "lean-to"   // kindling leaned on a back log
	Raft     Lay = "raft"      // parallel sticks with narrow gaps, each layer turned a little, lit on top
	OnCoals  Lay = "on-coals"  // a load on a raked coal bed
)

// Lays lists the lays in the order in which they are offered.
var Lays = func() (out []Lay) {
	for _, r := range LayRows {
		out = append(out, r.Lay)
	}
	return out
}()

// Known tells whether l is one of [Lays].
func (l Lay) Known() bool { _, ok := geometries[l]; return ok }

// A LayRow describes a lay; its words are in package say, its drawing in package lay.
type LayRow struct {
	Lay Lay
	geometry
}

// geometry is what a lay means to the fire.
type geometry struct {
	contact  float64 // how well other batches' flames reach this wood, so what catches first
	climb    float64 // how fast fire moves through its own wood: down slowly, up fast
	through  float64 // share of the gas of wood without flame that passes other wood's flames
	shelter  float64 // how well burning faces warm each other
	exposure float64 // share of the pieces' surface that is free to heat and air
	quench   float64 // how far cold wood above a flame cools it before the gas has burnt
}

// LayRows are the lays. Heat rises: wood above the fire is reached at once and smokes into the flue
// before it flames, wood below is reached slowly and its gases pass the flames.
// A load on coals lies close, by its direction: see [exposure].
var LayRows = []LayRow{
	{TopDown, geometry{contact: 0.20, climb: 0.14, through: 0.90, shelter: 1, exposure: 0.60}},
	{BottomUp, geometry{contact: 0.85, climb: 0.60, through: 0.20, shelter: 0.75, exposure: 0.55, quench: 1}},
	{OpenV, geometry{contact: 0.50, climb: 0.45, through: 0.55, shelter: 1, exposure: 0.50, quench: 0.50}},
	{LeanTo, geometry{contact: 0.55, climb: 0.50, through: 0.45, shelter: 0.85, exposure: 0.55, quench: 0.60}},
	{Raft, geometry{contact: 0.32, climb: 0.20, through: 0.80, shelter: 0.95, exposure: 0.60}},
	{OnCoals, geometry{contact: 0.14, climb: 0.08, through: 0.60, shelter: 1}},
}

// geometries are those of the lays, by lay.
var geometries = func() map[Lay]geometry {
	out := map[Lay]geometry{}
	for _, r := range LayRows {
		out[r.Lay] = r.geometry
	}
	return out
}()

// A Starter is what is lit first.
type Starter string

// The starters. HotAir is held to the kindling by hand; an Igniter is built into the stove.
const (
	Paper     Starter = "paper"
	Knots     Starter = "knotted-paper"
	WaxBlock  Starter = "wax-block"
	TwoBlocks Starter = "two-blocks" // one above and one below
	Gel       Starter = "gel"
	Torch     Starter = "torch"
	HotAir    Starter = "hot-air"
	Igniter   Starter = "igniter"
)

// A StarterRow is a starter with its heat and how long it burns, or is held.
type StarterRow struct {
	Key     Starter
	Heat    units.Joule
	For     time.Duration
	Below   bool // it lights from below, and nothing else: no lay that is lit on top
	Latched bool // the door stands on its latch while it works
}

// Starters lists the starters. Paper is four sheets, knots of them burn slower; the others are
// one block, a spoonful, a blow of the torch, and elements of 1.5 and 1.2 kW.
var Starters = []StarterRow{
	{Key: WaxBlock, Heat: 0.9e6, For: 9 * time.Minute},
	{Key: TwoBlocks, Heat: 1.8e6, For: 9 * time.Minute},
	{Key: Paper, Heat: 0.6e6, For: 3 * time.Minute},
	{Key: Knots, Heat: 0.6e6, For: 5 * time.Minute},
	{Key: Gel, Heat: 0.5e6, For: 5 * time.Minute},
	{Key: Torch, Heat: 0.45e6, For: 3 * time.Minute, Below: true},
	{Key: HotAir, Heat: 0.72e6, For: 8 * time.Minute},
	{Key: Igniter, Heat: 0.86e6, For: 12 * time.Minute, Below: true, Latched: true},
}

// Row describes a starter; the zero row of one that is none.
func (s Starter) Row() StarterRow {
	for _, k := range Starters {
		if k.Key == s {
			return k
		}
	}
	return StarterRow{}
}

// Known tells whether s is one of [Starters].
func (s Starter) Known() bool { _, _, ok := s.heat(); return ok }

// heat returns the starter's heat in J and its duration in s.
func (s Starter) heat() (joules, seconds float64, ok bool) {
	k := s.Row()
	return float64(k.Heat), k.For.Seconds(), k.Key != ""
}
