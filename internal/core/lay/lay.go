// Package lay packs the pieces of a load into a firebox: where each one lies, in
// the order to place them, with air round every piece and the air inlet free.
//
// The firebox is a box: x runs from left to right as seen from the door, y from
// the door to the back, z up from the floor. A piece is a bar with a square
// end. Packing is that of a hand, not of a press: whole layers, a finger's
// breadth between pieces, five centimetres free behind the door where the air
// washes in, and nothing within three of the baffle. What does not go in is
// counted, so that a load is never drawn that cannot be laid.
package lay

import (
	"math"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
)

// A Bar is one piece where it lies, in metres. Along tells which way it runs;
// Turn is an angle from above and Tilt one from the floor, in degrees, about
// its middle.
type Bar struct {
	X, Y, Z  float64 // its corner nearest to the left, the door, the floor
	Side     float64 // of its square end
	Length   float64
	Along    Axis
	Turn     float64
	Tilt     float64
	Step     int // 1 is laid first
	Kindling bool
}

// Axis is the way a bar runs.
type Axis int

// The axes: end-on bars run to the back, sideways bars run across.
const (
	Across Axis = iota
	ToBack
)

// Size returns the bar's extent along x, y and z, its turn left out.
func (b Bar) Size() (x, y, z float64) {
	if b.Along == Across {
		return b.Length, b.Side, b.Side
	}
	return b.Side, b.Length, b.Side
}

// A Box is the inside of a firebox in metres.
type Box struct{ Width, Depth, Height float64 }

// BoxOf returns a stove's firebox. Where only the volume is known it takes the
// usual shape.
func BoxOf(s stove.Stove) Box {
	if s.Width > 0 && s.Depth > 0 && s.Height > 0 {
		return Box{float64(s.Width), float64(s.Depth), float64(s.Height)}
	}
	width, depth, height := stove.UsualSides(s.Volume)
	return Box{float64(width), float64(depth), float64(height)}
}

// A Packing is a load laid out.
type Packing struct {
	Box      Box
	Lay      fire.Lay
	Bars     []Bar
	Placings []Placing    // what is laid, in order
	Light    [][2]float64 // where to light: x and z as seen from the door
	Left     int          // pieces that do not go in
}

// A Placing is what is laid at one time.
type Placing struct {
	Do        Doing
	Pieces    int
	Kindling  bool            // sticks of it, not splits
	Direction stove.Direction // of a layer of splits
}

// A Doing is a way to lay pieces.
type Doing string

// The ways.
const (
	Layer   Doing = "layer"    // beside each other, a finger apart
	Crossed Doing = "crossed"  // in crossing layers, with air between
	Turned  Doing = "turned"   // side by side, each layer turned a little
	InAV    Doing = "v"        // as a V, open towards the door
	Between Doing = "between"  // loose, between those
	BackLog Doing = "back-log" // across the back
	Leaned  Doing = "leaned"   // on that, from the front, fanned
)

// Room that is kept, m.
const (
	gap        = 0.015 // between pieces
	inletFree  = 0.05  // behind the door
	wallFree   = 0.01
	baffleFree = 0.03
	bedHeight  = 0.015 // ash, or raked coals
)

// Loads are what is laid: the splits, and for a cold start the kindling.
type Loads struct {
	Splits   fire.Load
	Kindling fire.Load // no pieces: none
}

// side is a piece's side.
func side(l fire.Load) float64 {
	length := math.Max(0.05, float64(l.PieceLength))
	density := l.Species.Gravity * 1000 * (1 + float64(l.Moisture))
	if density <= 0 || l.PieceMass <= 0 {
		return 0.03
	}
	return math.Sqrt(float64(l.PieceMass) / density / length)
}

// Pack lays a load out in a stove by its lay.
func Pack(s stove.Stove, loads Loads) Packing {
	p := &packer{Packing: Packing{Box: BoxOf(s), Lay: loads.Splits.Lay}, z: bedHeight}
	if loads.Splits.Pieces == 0 {
		p.Lay = loads.Kindling.Lay
	}
	switch p.Lay {
	case fire.TopDown:
		p.splits(loads.Splits, loads.Splits.Pieces)
		p.crossed(loads.Kindling)
		p.lightOnTop(2)
	case fire.BottomUp:
		p.crossed(loads.Kindling)
		p.lightBelow()
		p.splits(loads.Splits, loads.Splits.Pieces)
	case fire.Raft:
		p.raft(loads.Splits)
		p.raft(loads.Kindling)
		p.lightOnTop(2)
	case fire.OpenV:
		p.openV(loads)
	case fire.LeanTo:
		p.leanTo(loads)
	default:
		if loads.Kindling.Pieces > 0 { // between few coals and the wood
			p.crossed(loads.Kindling)
		}
		p.splits(loads.Splits, loads.Splits.Pieces)
	}
	return p.Packing
}

// packer builds a packing from the floor up.
type packer struct {
	Packing
	z    float64 // top of what lies
	step int
}

// frame is the room that pieces may take on the floor.
func (p *packer) frame() (x0, x1, y0, y1 float64) {
	return wallFree, p.Box.Width - wallFree, inletFree, p.Box.Depth - wallFree
}

// ceiling is how high wood may lie.
func (p *packer) ceiling() float64 { return LoadLine(p.Box) }

// next begins a step.
func (p *packer) next(what Placing) {
	p.step++
	p.Placings = append(p.Placings, what)
}

func axisOf(d stove.Direction) Axis {
	if d == stove.Sideways {
		return Across
	}
	return ToBack
}

// LoadLine is how high wood may lie in a firebox, m above its floor: the gases
// need the room below the baffle.
func LoadLine(b Box) float64 { return b.Height - baffleFree }
