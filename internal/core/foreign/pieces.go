package foreign

import (
	"math"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
)

// group is pieces that went on together.
type group struct {
	n                float64
	length, radius   float64 // m
	kindling, below  bool
	sideways         bool
	edge             [shells + 1]float64 // radii, m, from the heart
	temp             [shells]float64     // K
	dry, water, char [shells]float64     // kg of one piece
	dry0             [shells]float64
	out              int     // outermost shell that is still there
	glows            float64 // W/m2 of its own char
	waits            float64 // s that the starter, or the sticks before, have burnt until it is its turn
	gone             bool
}

// laid are the pieces of a load, as cold as the room.
func (f *Fire) laid(l *fire.Load) *group {
	u := float64(l.Moisture)
	if !l.Kindling {
		u = f.wet
	}
	g := &group{n: float64(l.Pieces), length: float64(l.PieceLength), kindling: l.Kindling, sideways: l.Direction == stove.Sideways,
		below: l.Lay == fire.TopDown && !l.Kindling, out: shells - 1}
	dry := float64(l.PieceMass) / (1 + u)
	density := 640.
	if l.Kindling {
		density = 430
	}
	g.radius = math.Sqrt(dry / density / math.Pi / g.length)
	var inner [shells + 1]float64 // of the radius: thin where it is hot
	for i := range inner {
		x := float64(i) / shells
		inner[i] = x * (1.6 - 0.6*x)
		g.edge[i] = inner[i] * g.radius
	}
	t := float64(f.room.Air) + 273.15
	for i := range shells {
		m := dry * (inner[i+1]*inner[i+1] - inner[i]*inner[i])
		g.dry[i], g.dry0[i], g.water[i], g.temp[i] = m, m, m*u, t
	}
	return g
}

// area is what one piece shows to the fire, m2.
func (g *group) area() float64 { return 2 * math.Pi * g.edge[g.out+1] * g.length }

func (g *group) wood() (sum float64) {
	for i := range shells {
		sum += g.dry[i]
	}
	return sum * g.n
}

func (g *group) charred() (sum float64) {
	for i := range shells {
		sum += g.char[i]
	}
	return sum * g.n
}

// step heats one piece through the share of its faces that is shown, W/m2 of what falls on them,
// and returns what it gives off, kg/s. Heat goes inward implicitly: thin char has hardly any
// capacity.
func (g *group) step(mk *Make, q, shown, dt float64) (gas, water float64) {
	var holds, under, diag, rhs [shells]float64
	for i := 0; i <= g.out; i++ {
		holds[i] = 1700*g.dry[i] + 4200*g.water[i] + 1100*g.char[i] + 0.02*1700*g.dry0[i]
		diag[i], rhs[i] = holds[i]/dt, holds[i]/dt*g.temp[i]
	}
	for i := g.out; i > 0; i-- {
		between := (g.edge[i+1] - g.edge[i-1]) / 2
		k := 0.19
		if g.dry[i] < 0.3*g.dry0[i] {
			k = mk.Cracks * (0.12 + 2.5e-10*math.Pow(g.temp[i], 3))
		}
		under[i] = k / between * 2 * math.Pi * g.edge[i] * g.length
		diag[i] += under[i]
		diag[i-1] += under[i]
	}
	ts, faces := g.temp[g.out], g.area()*shown
	diag[g.out] += faces * 0.85 * sigma * 4 * ts * ts * ts
	rhs[g.out] += faces * (q + 0.85*sigma*3*math.Pow(ts, 4))
	for i := 1; i <= g.out; i++ { // the rows that lie under it, taken out
		f := under[i] / diag[i-1]
		diag[i] -= f * under[i]
		rhs[i] += f * rhs[i-1]
	}
	for i := g.out; i >= 0; i-- {
		t := rhs[i]
		if i < g.out {
			t += under[i+1] * g.temp[i+1]
		}
		g.temp[i] = t / diag[i]
	}
	for i := 0; i <= g.out; i++ {
		c, t := holds[i], g.temp[i]
		if g.water[i] > 0 && t > 373 {
			dries := min(g.water[i], (t-373)*c/2.5e6)
			g.water[i] -= dries
			water += dries / dt
			t -= dries * 2.5e6 / c
		}
		if g.dry[i] > 0 && t > 480 {
			rate := 1 - math.Exp(-1e8*math.Exp(-1.25e5/8.314/min(t, 1100))*dt)
			if g.dry[i] < 0.01*g.dry0[i] {
				rate = 1
			}
			m := rate * g.dry[i]
			g.dry[i] -= m
			g.char[i] += charOf * m
			gas += (1 - charOf) * m / dt
			t -= mk.Takes * m / c
		}
		g.temp[i] = min(max(t, 260), 1300)
	}
	return gas, water
}

func sum(x [shells]float64) (s float64) {
	for _, v := range x {
		s += v
	}
	return s
}
