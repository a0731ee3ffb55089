package lay

import (
	"math"

	"smolder/internal/core/fire"
)

// splits lays whole layers of splits in their direction, the last one centred.
func (p *packer) splits(l fire.Load, pieces int) {
	a, b, along := side(l), float64(l.PieceLength), axisOf(l.Direction)
	for pieces > 0 {
		// As many as lie beside each other; what does not go under the baffle is left over, and
		// the page says so rather than draw it through the iron.
		n := min(pieces, p.perLayer(a, b, along))
		if n == 0 || p.z+a > p.ceiling() {
			p.Left += pieces
			return
		}
		p.next(Placing{Do: Layer, Pieces: n, Direction: l.Direction})
		p.layer(n, a, b, along, 0, false)
		pieces -= n
	}
}

// perLayer is how many bars go beside each other.
func (p *packer) perLayer(a, length float64, along Axis) int {
	// The frame is the floor less what is kept free of walls and of the inlet.
	x0, x1, y0, y1 := p.frame()
	// A long piece may reach the walls, or into what is kept free of the inlet.
	longest, deep := p.Box.Width-0.01, y1-y0
	if along == ToBack {
		longest, deep = y1-y0+inletFree-0.02, x1-x0
	}
	if length > longest || a > deep {
		return 0
	}
	return int((deep + gap) / (a + gap))
}

// layer lays n bars beside each other on what lies, centred; turn turns the
// whole layer.
func (p *packer) layer(n int, a, length float64, along Axis, turn float64, kindling bool) {
	x0, x1, y0, y1 := p.frame()
	spread := float64(n)*a + float64(n-1)*gap
	for i := range n {
		at := float64(i) * (a + gap)
		// Centred: air goes up on both sides, and nothing leans on the glass.
		b := Bar{Z: p.z, Side: a, Length: length, Along: along, Turn: turn, Step: p.step, Kindling: kindling}
		if along == ToBack {
			b.X, b.Y = (x0+x1-spread)/2+at, math.Min((y0+y1-length)/2, y1-length)
			b.Y = math.Max(b.Y, math.Min(inletFree, p.Box.Depth-wallFree-length))
		} else {
			b.X, b.Y = (x0+x1-length)/2, (y0+y1-spread)/2+at
		}
		p.Bars = append(p.Bars, b)
	}
	p.z += a
}

// crossed lays kindling in crossing layers of two to four sticks.
func (p *packer) crossed(l fire.Load) {
	// The lowest sticks point at the door, so that air comes in between them.
	left, along := l.Pieces, ToBack
	if l.Pieces == 0 {
		return
	}
	a, length := side(l), float64(l.PieceLength)
	if length > p.Box.Depth-inletFree {
		length = p.Box.Depth - inletFree - wallFree // it is broken to fit
	}
	p.next(Placing{Do: Crossed, Pieces: left, Kindling: true})
	for left > 0 {
		n := min(left, 4, p.abreast(a, along))
		if n < 1 || p.z+a > p.ceiling() {
			p.Left += left
			return
		}
		p.spaced(n, a, length, along)
		left -= n
		// The next layer crosses this one.
		along = 1 - along
	}
}

// across is the room beside bars that lie along an axis.
func (p *packer) across(along Axis) float64 {
	x0, x1, y0, y1 := p.frame()
	if along == ToBack {
		return x1 - x0
	}
	return y1 - y0
}

// abreast is how many sticks lie beside each other with a gap between.
func (p *packer) abreast(a float64, along Axis) int {
	return int((p.across(along) + gap) / (a + gap))
}

// spaced lays n sticks as wide apart as their length, crossing those below.
func (p *packer) spaced(n int, a, length float64, along Axis) {
	x0, x1, y0, y1 := p.frame()
	middleX, middleY := (x0+x1)/2, (y0+y1)/2
	// As square as the sticks allow: nine tenths of their length, so that the ends of one
	// layer lie on the last sticks of the other.
	pitch := a + gap
	if n > 1 {
		pitch = math.Max(pitch, (length-a)/float64(n-1)*0.9)
		pitch = math.Min(pitch, (p.across(along)-a)/float64(n-1))
	}
	for i := range n {
		at := (float64(i) - float64(n-1)/2) * pitch
		b := Bar{Z: p.z, Side: a, Length: length, Along: along, Step: p.step, Kindling: true}
		if along == ToBack {
			b.X, b.Y = middleX+at-a/2, middleY-length/2
		} else {
			b.X, b.Y = middleX-length/2, middleY+at-a/2
		}
		p.Bars = append(p.Bars, b)
	}
	p.z += a
}

// raft lays parallel bars in layers that turn a little each.
func (p *packer) raft(l fire.Load) {
	if l.Pieces == 0 {
		return
	}
	a, length, left := side(l), float64(l.PieceLength), l.Pieces
	// Pieces too long for the firebox are drawn as long as it is wide: the wish has refused
	// them already where they are splits, and kindling is broken.
	per := p.perLayer(a, length, Across)
	if per == 0 {
		length = math.Min(length, p.Box.Width-2*wallFree)
		per = max(1, p.perLayer(a, length, Across))
	}
	p.next(Placing{Do: Turned, Pieces: left, Kindling: l.Kindling})
	for i := 0; left > 0; i++ {
		n := min(left, per)
		if p.z+a > p.ceiling() {
			p.Left += left
			return
		}
		p.layer(n, a, length, Across, []float64{0, 7, -7}[i%3], l.Kindling)
		left -= n
	}
}

// openV lays two splits open towards the door, a kindling core between them
// and the rest as bridges on top.
func (p *packer) openV(loads Loads) {
	l := loads.Splits
	a, length := side(l), math.Min(float64(l.PieceLength), p.Box.Depth-inletFree-wallFree)
	x0, x1, _, y1 := p.frame()
	// Two logs make the V; a single one is laid as its left side.
	logs := min(2, l.Pieces)
	p.next(Placing{Do: InAV, Pieces: logs})
	for i := range logs {
		b := Bar{X: x0 + 0.03, Y: y1 - length, Z: p.z, Side: a, Length: length, Along: ToBack, Turn: 14, Step: p.step}
		if i == 1 {
			b.X, b.Turn = x1-a-0.03, -14
		}
		p.Bars = append(p.Bars, b)
	}
	p.core(loads.Kindling, x0+a+0.06, x1-a-0.06)
	p.lightBelow()
	p.z = math.Max(p.z, bedHeight+a)
	if rest := l.Pieces - logs; rest > 0 {
		bridge := l
		bridge.Direction = "sideways"
		p.splits(bridge, rest)
	}
}

// core stands kindling between two logs.
func (p *packer) core(k fire.Load, x0, x1 float64) {
	if k.Pieces == 0 {
		return
	}
	a, length := side(k), math.Min(float64(k.PieceLength), p.Box.Depth-inletFree-wallFree)
	per := max(1, int((x1-x0+gap)/(a+gap)))
	_, _, y0, y1 := p.frame()
	p.next(Placing{Do: Between, Pieces: k.Pieces, Kindling: true})
	z := p.z
	for i := range k.Pieces {
		row, col := i/per, i%per
		if z+float64(row+1)*a > p.ceiling() {
			p.Left += k.Pieces - i
			break
		}
		p.Bars = append(p.Bars, Bar{X: x0 + float64(col)*(a+gap), Y: (y0 + y1 - length) / 2, Z: z + float64(row)*a, Side: a, Length: length, Along: ToBack,
			Turn: []float64{3, -4, 2}[i%3], Step: p.step, Kindling: true})
		p.z = math.Max(p.z, z+float64(row+1)*a)
	}
}

// leanTo lays a back log across and leans the kindling on it; the other splits
// go across in front, on top, once it burns.
func (p *packer) leanTo(loads Loads) {
	l, k := loads.Splits, loads.Kindling
	a, length := side(l), math.Min(float64(l.PieceLength), p.Box.Width-2*wallFree)
	_, _, y0, y1 := p.frame()
	p.next(Placing{Do: BackLog, Pieces: 1})
	p.Bars = append(p.Bars, Bar{X: (p.Box.Width - length) / 2, Y: y1 - a, Z: p.z, Side: a, Length: length, Along: Across, Step: p.step})
	if k.Pieces > 0 {
		b, stick := side(k), math.Min(float64(k.PieceLength), y1-a-y0+0.06)
		// They lean on the log by their upper tenth.
		tilt := math.Atan2(a, math.Max(0.05, stick*0.9)) * 180 / math.Pi
		p.next(Placing{Do: Leaned, Pieces: k.Pieces, Kindling: true})
		for i := range k.Pieces {
			x := p.Box.Width/2 + (float64(i)-float64(k.Pieces-1)/2)*math.Min(b+0.008, (length-b)/math.Max(1, float64(k.Pieces-1)))
			p.Bars = append(p.Bars, Bar{X: x - b/2, Y: y1 - a - stick*0.85, Z: p.z, Side: b, Length: stick, Along: ToBack, Tilt: tilt, Step: p.step,
				Kindling: true})
		}
	}
	p.lightBelow()
	p.z += a
	if rest := l.Pieces - 1; rest > 0 {
		front := l
		front.Direction = "sideways"
		p.splits(front, rest)
	}
}

// lightOnTop puts lights along the top of what lies.
func (p *packer) lightOnTop(n int) {
	for i := range n {
		p.Light = append(p.Light, [2]float64{p.Box.Width * float64(i+1) / float64(n+1), p.z})
	}
}

// lightBelow puts lights at the foot, left and right of the middle.
func (p *packer) lightBelow() {
	p.Light = append(p.Light, [2]float64{p.Box.Width * 0.42, bedHeight}, [2]float64{p.Box.Width * 0.58, bedHeight})
}
