// Package drying follows a stack's moisture from the day it was split: what is
// known of it today, how it goes on, when it is ready, what one more reading would
// tell, and what splitting smaller, a roof or a windier place would change.
//
//	du/dt = −k · 2^((T − 15)/10) · (u − EMC(T, RH)) + r · rainy days · (u_r − u)   [while u < u_r]
//
// k is of the pieces and of the place, and differs between stacks by more than
// anybody can tell beforehand; so does the moisture of fresh wood, and one summer
// is not the next. A stack is therefore believed to be one of several hundred,
// and its owner's readings say which of them it may be.
//
// Sources: Wood Handbook eq. 4-5 and table 4-1 (in package wood); relative speed
// of kinds from USDA Forest Products Laboratory, Air Drying of Lumber
// (FPL-GTR-117), times for one-inch boards.
package drying

import (
	"math"
	"time"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A Place is how a stack lies.
type Place struct {
	Cover    wood.Cover // empty: not known
	Wind     float64    // 0 sheltered, 1 open to it
	Sun      float64    // 0 shade, 1 most of the day
	OnGround bool       // nothing under it: its lowest row draws water
	Heap     bool       // as it was tipped, not stacked
	Turned   bool       // restacked, so that what lay inside and below comes out
}

// Pieces are what lies there.
type Pieces struct {
	Species   wood.Species
	Thickness units.Metre // of a usual piece
	Length    units.Metre // 0: of a usual one
	Round     bool        // not split
}

// A Reading is a meter's on fresh faces of several pieces, corrected.
type Reading struct {
	At     time.Time
	Mean   units.Fraction
	Spread units.Fraction // standard deviation between the pieces; 0: not told
	Pieces int
}

// What is taken of a place and of pieces beside what package wood knows.
const (
	sunGain     = 0.25  // of k, in the sun most of the day; 0.1 to 0.4
	heapLoss    = 0.25  // of k, tipped and not stacked: no air goes through its middle; 0.15 to 0.4
	lengthPower = 0.35  // k goes with the length to this power, for water leaves through the ends ten times as fast; 0.25 to 0.5
	usualLength = 0.33  // m, of pieces that the rates are of
	rainPiece   = 0.12  // m, of pieces that rainRate is of: thinner ones have more face for what they weigh
	groundLoss  = 0.20  // of k, of a stack on the ground; 0.1 to 0.3
	turnGain    = 0.10  // of k of the whole stack, when it is turned once; 0 to 0.2, no source: what owners tell
	rainRate    = 0.020 // r, a day of rain on an open stack; 0.01 to 0.04
	rainWet     = 0.40  // u_r, that rain brings the whole of a piece to; 0.3 to 0.5
	rateDoubt   = 0.40  // standard deviation of ln k between stacks that look alike
	coverDoubt  = 0.30  // likewise, on top, where nobody said how it lies
	greenDoubt  = 0.15  // of fresh wood, by tree and season of felling, as a share
	meterDoubt  = 0.015 // of a meter after its corrections
	wetMeter    = 0.195 // of what it reads above wetFrom, as a share: four of five within a quarter, for past the fibres' fill pins tell little
	siteDoubt   = 0.012 // of what the air at one place keeps wood at, beside the climate's
	unreadDoubt = 0.03  // of the moisture of a stack in which nobody has stuck a meter: "two years" is 15 % under one roof and 24 % under a sheet that leaks
	piecesApart = 0.035 // between pieces of one stack, where it is not told
)

// rained is the share of the rain that reaches the wood. Where a cover keeps rain
// off, its factor in package wood already says how little wind it leaves.
var rained = map[wood.Cover]float64{wood.Open: 1, wood.Top: 0.15, wood.Wrap: 0.1}

// cover is how a stack lies, or what is taken where nobody said.
func (l Place) cover() wood.Cover {
	if l.Cover == "" {
		return wood.Top
	}
	return l.Cover
}

// openAir is the factor of an open stack between rains: package wood's own takes
// the rain with it.
const openAir = 0.9

// quick is how much faster a kind dries than ash: the middle of the times for
// boards; kinds that are not here are as ash.
var quick = map[string]float64{
	"oak": 0.80, "white-oak": 0.72, "holm-oak": 0.55, "hornbeam": 0.8, "elm": 1.2, "eucalypt": 0.65, "red-gum": 0.6, "fruit-wood": 0.75, "olive": 0.6,
	"chestnut": 0.75, "walnut": 0.9, "sycamore": 1.1, "lime": 1.4, "scots-pine": 1.3, "radiata-pine": 1.4, "silver-fir": 1.6, "willow": 1.4, "beech": 0.93, "birch": 0.93, "cherry": 0.93, "locust": 0.8, "sugar-maple": 1.1, "maple": 1.6,
	"paper-birch": 1.2, "aspen": 1.25, "poplar": 1.25, "yellow-poplar": 1.4, "alder": 1.6, "hemlock": 0.85, "larch": 1.3,
	"douglas-fir": 1.4, "lodgepole-pine": 1.6, "spruce": 1.6, "pine": 1.2,
}

// wetted is the share of the rain that reaches the stack's wood.
func (s Stack) wetted() float64 {
	if s.Pieces.wrapped() {
		return 0
	}
	thinner := math.Max(0.4, math.Min(3, rainPiece/math.Max(0.02, float64(s.Pieces.Thickness))))
	return rained[s.Place.cover()] * math.Pow(thinner, 0.7)
}

// shorter is how much faster pieces of a length dry than usual ones.
func (p Pieces) shorter() float64 {
	if p.Length <= 0 {
		return 1
	}
	return math.Max(0.5, math.Min(1.5, math.Pow(usualLength/float64(p.Length), lengthPower)))
}

// wrapped tells whether it stays as it was made, in its wrap: pressed logs, mineral fuel.
func (p Pieces) wrapped() bool { return p.Species.Mineral || p.Species.Key == "pressed-logs" }

// Rate is k a day at 15 °C, before any reading; 0 of what stays in its wrap.
func Rate(p Pieces, l Place) float64 {
	if p.wrapped() {
		return 0
	}
	cover := l.cover()
	k := wood.DryingRate(p.Thickness, p.Round, cover, l.Wind)
	if cover == wood.Open {
		k = wood.DryingRate(p.Thickness, p.Round, wood.Roof, l.Wind) * openAir
	}
	if f, there := quick[p.Species.Key]; there {
		k *= f
	}
	k *= 1 + sunGain*math.Max(0, math.Min(1, l.Sun))
	k *= p.shorter()
	if l.OnGround {
		k *= 1 - groundLoss
	}
	if l.Heap {
		k *= 1 - heapLoss
	}
	if l.Turned {
		k *= 1 + turnGain
	}
	return k
}

// dry is the moisture after a step, solved exactly: where rain wets the wood the
// two pulls together are one towards a point between them.
func (y *year) dry(u, site, k, wetted float64, s step) float64 {
	p := &y[s.month-1]
	k *= p.warm
	emc := math.Max(0.01, p.emc+site)
	if r := rainRate * wetted * p.rain; r > 0 && u < rainWet {
		to := (k*emc + r*rainWet) / (k + r)
		return to + (u-to)*math.Exp(-(k+r)*s.days)
	}
	return emc + (u-emc)*math.Exp(-k*s.days)
}
