package fire

import (
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A Scene is what somebody sees who looks through the glass at a moment, and hears beside it:
// enough to draw the fire, and to tell it to whoever cannot see it.
type Scene struct {
	Lying  []Lying
	Coals  units.Kilogram
	Bed    float64       // coals, of what fills the floor; 0 to 1 and over
	Glow   units.Celsius // of the coals
	Burns  float64       // kg/s of gas in flame
	Comb   units.Celsius // of the catalyst; nothing where there is none
	Jets   float64       // how surely flames stand at the holes of the second air, 0 to 1
	Glass  float64       // how black it is, 0 to 1
	Window bool
	Fan    float64 // Pa that fans pull

	Signs
	Look
}

// Lying is a load as it lies there.
type Lying struct {
	Pieces   int
	Kindling bool
	Left     float64 // of the wood, 0 to 1
	Black    float64 // share of the faces that is alight or black
	Flames   float64 // 0 it smoulders or lies dark, 1 it flames
	Match    bool    // what lights it still burns
}

// Where flames stand at the jets: as [smolder/internal/core/belief] has it for who logs them.
const jetsFrom, jetsFull = 0.73, 0.87

// Scene is that of this moment.
func (s *Fire) Scene() Scene {
	out := Scene{Coals: units.Kilogram(s.coals), Bed: s.coals / s.p.coalBed, Glow: units.FromKelvin(s.bedAt()), Burns: s.out.flaming, Glass: s.glass,
		Window: s.window, Fan: s.fanPull, Signs: s.Signs(), Look: s.Look()}
	if s.p.catalyst {
		out.Comb = units.FromKelvin(s.catalyst)
	}
	if s.secondAir() {
		out.Jets = smooth(s.gas.burnout, jetsFrom, jetsFull) * min(1, s.out.flaming/s.p.coalBed/fullFlames)
	}
	for i := range s.batches {
		b := &s.batches[i]
		if b.spent() && b.starter <= 0 || b.dry0 <= 0 {
			continue
		}
		l := Lying{Pieces: int(b.pieces + 0.5), Left: b.dry / b.dry0, Black: b.alight, Match: b.starter > starterSpent, Kindling: b.weight < 1}
		if b.flaming > 0 {
			l.Flames = min(1, b.flaming/s.p.coalBed/fullFlames)
		}
		out.Lying = append(out.Lying, l)
	}
	return out
}

// fullFlames is the gas in flame, kg/s for each kg of a full bed, of a fire that fills its box.
const fullFlames = 6e-4

// secondAir tells whether air comes to the flames above the wood.
func (s *Fire) secondAir() bool { return s.setup.Stove.Family != stove.Plain && s.p.secondary > 0 }
