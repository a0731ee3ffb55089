package wood

import (
	"math"

	"smolder/internal/core/units"
)

// Wood is counted in the way that is at hand: a tape along the row, a heap as
// the trailer tipped it, cords as they were bought, crates, a scale, or piece by
// piece. Each comes to oven-dry mass, which is what burns and what does not
// change as the wood dries, and each is off by its own share: of a pile mostly
// because nobody sees the air in it.

// An Amount is oven-dry wood as it was counted, and how far off it may be, as
// standard deviations of its share.
type Amount struct {
	Middle units.Kilogram
	Own    float64 // of this count alone: the tape, the number, the meter
	Same   float64 // that every count of this pile has again: its air, its density
}

// Low is what nine of ten such counts have at least.
func (a Amount) Low() units.Kilogram { return a.Middle / a.factor() }

// High is what nine of ten such counts have at most.
func (a Amount) High() units.Kilogram { return a.Middle * a.factor() }

// factor is how far the range reaches on either side. Doubts multiply, so that
// it never reaches below nothing.
func (a Amount) factor() units.Kilogram {
	return units.Kilogram(math.Exp(tenthAway * math.Hypot(a.Own, a.Same)))
}

// Plus is two piles together, counted by the same tape and the same eye: whoever
// takes one for too much takes the other so too, and doubts do not even out.
func (a Amount) Plus(b Amount) Amount {
	whole := a.Middle + b.Middle
	if whole == 0 {
		return Amount{}
	}
	of := func(x, y float64) float64 { return (x*float64(a.Middle) + y*float64(b.Middle)) / float64(whole) }
	return Amount{whole, of(a.Own, b.Own), of(a.Same, b.Same)}
}

// tenthAway is how many standard deviations from its mean a tenth of a normal
// distribution begins: between the two lie four out of five.
const tenthAway = 1.2816

// How far a way of counting is off, as the standard deviation of its share. What
// is off here is the outline or the number; the air in a pile comes on top, by
// [Shapes].
const (
	tapeDoubt    = 0.04 // a tape along a row with ragged ends; 0.02 to 0.08
	heapDoubt    = 0.12 // a heap's sides are no planes; 0.08 to 0.20
	soldDoubt    = 0.08 // cords and crates as they are sold; 0.05 to 0.15
	scaleDoubt   = 0.02 // a bathroom or crane scale; 0.005 to 0.03
	pieceDoubt   = 0.10 // that the pieces weighed were usual ones; 0.05 to 0.20
	readSpread   = 0.02 // of moisture, where nobody says how much it differs
	wordDoubt    = 0.20 // what a pallet or a builder's bag holds; 0.15 to 0.3
	densityDoubt = 0.05 // of some trees against their kind; one tree 0.10 (Wood Handbook, chapter 5)
)

// A Row is stacked wood as a tape measures it, m.
//
// Its top is seldom level: High and Low are the heights at its ends and Middle
// that between them, straight up from the ground. Only High is a level top,
// High and Low a straight one; a Low of 0 beside a Middle tapers to the ground.
// On a slope Rise is how much higher one end stands than the other,
// and Length is measured along the ground: the row itself is that much shorter.
type Row struct {
	Length, High, Middle, Low units.Metre
	Depth                     units.Metre // of one row: mostly the length of a piece
	Rise                      units.Metre // 0: on level ground
	Rows                      int         // one behind the other; 0 counts as one
}

// Outline is the room a row takes, by Simpson's rule over its three heights. A
// row that rises more than it is long takes none.
func (r Row) Outline() units.Litre {
	low, middle := r.Low, r.Middle
	if middle == 0 {
		if low == 0 {
			low = r.High
		}
		middle = (r.High + low) / 2
	}
	level := math.Sqrt(math.Max(0, float64(r.Length*r.Length-r.Rise*r.Rise)))
	height := float64(r.High+4*middle+low) / 6
	return units.Litre(1000 * level * height * float64(r.Depth) * float64(max(1, r.Rows)))
}

// A Heap is wood as it was tipped, m: as long as it is wide it is a cone,
// longer it is a roof with half a cone at each end.
type Heap struct{ Length, Width, Height units.Metre }

// Outline is the room a heap takes.
//
//	cone π/12 · width² · height,  roof between (length − width) · width · height / 2
func (h Heap) Outline() units.Litre {
	l, w, t := float64(max(h.Length, h.Width)), float64(min(h.Length, h.Width)), float64(h.Height)
	return units.Litre(1000 * (math.Pi/12*w*w*t + (l-w)*w*t/2))
}

// A cord is 4 × 4 × 8 ft of stacked wood, with the air in it; a face cord is its
// face, 4 × 8 ft, as deep as the pieces are long.
const (
	cord     = 128 * 28.316847 // L
	cordFace = 32 * 0.09290304 // m²
)

// Cords is the room that full cords take.
func Cords(n float64) units.Litre { return units.Litre(n * cord) }

// FaceCords is the room that face cords of pieces of a length take.
func FaceCords(n float64, piece units.Metre) units.Litre {
	return units.Litre(n * cordFace * float64(piece) * 1000)
}

// ByTape is the wood in a row's outline.
func ByTape(s Species, outline units.Litre, shape Shape) Amount {
	return inOutline(s, outline, shape, tapeDoubt)
}

// ByHeap is the wood in a heap's outline.
func ByHeap(s Species, outline units.Litre) Amount {
	return inOutline(s, outline, Tipped, heapDoubt)
}

// AsSold is the wood in cords, crates, bags or a trailer, of which only the
// seller's word is known.
func AsSold(s Species, outline units.Litre, shape Shape) Amount {
	return inOutline(s, outline, shape, soldDoubt)
}

// SolidWood is wood by its volume without any air, as foresters count it, by the seller's
// word.
func SolidWood(s Species, solid units.Litre) Amount {
	return Amount{units.Kilogram(float64(solid) * s.Gravity), soldDoubt, densityDoubt}
}

func inOutline(s Species, outline units.Litre, shape Shape, doubt float64) Amount {
	air := 0.0 // of the share, as a standard deviation
	for _, k := range Shapes {
		if k.Key == shape {
			air = (k.High - k.Low) / 2 / k.Share / tenthAway
		}
	}
	return Amount{InStack(s, outline, shape), doubt, math.Hypot(air, densityDoubt)}
}

// Weighed is the oven-dry wood in a mass on a scale, of a moisture (dry basis)
// that may be off by a spread on either side; spread 0 is that of a meter read
// on some fresh faces.
func Weighed(asIs units.Kilogram, u, spread units.Fraction) Amount {
	return Amount{DryMass(asIs, u), math.Hypot(scaleDoubt, waterDoubt(u, spread)), 0}
}

// ByPiece is the oven-dry wood in a number of pieces of a usual mass as they are.
func ByPiece(n int, each units.Kilogram, u, spread units.Fraction) Amount {
	return Amount{DryMass(units.Kilogram(n)*each, u), waterDoubt(u, spread), pieceDoubt}
}

// waterDoubt is how far a spread of moisture puts the dry mass off.
func waterDoubt(u, spread units.Fraction) float64 {
	if spread == 0 {
		spread = readSpread
	}
	return float64(spread) / tenthAway / (1 + float64(u))
}
