package stove

import (
	"math"
	"slices"

	"smolder/internal/core/flue"
	"smolder/internal/core/units"
)

// What is taken for a stove of which its owner does not know everything yet. A
// usual firebox is wider than deep and deeper than high to the baffle. Manuals'
// largest loads differ by twice for one volume: too much can hurt somebody, so the
// least of them is taken and not a middle one.
const (
	usualBox                                    = 55 // L, with the sides below
	usualWide, usualDeep, usualTall             = 0.46, 0.38, 0.33
	leastUsualLoad, mostUsualLoad               = 0.08, 0.16 // kg per L, of manuals
	sideDoubt                                   = 0.12       // of a side, as a share
	smallBox, middleBox             units.Litre = 20, 35
)

// Flues as they are sold: what a firebox of a size usually stands on, with the
// next narrower and wider, m.
var flues = []usualFlue{
	{smallBox, 0.10, 0.08, 0.125},
	{middleBox, 0.125, 0.10, 0.15},
	{math.MaxFloat64, 0.15, 0.125, 0.20},
}

// Assumable lists the fields that may stay unknown, in the order of a form.
var Assumable = []string{"width", "depth", "height", "max-load", "diameter", "lining", "bends", "horizontal", "altitude"}

// UsualSides returns width, depth and height of a usual firebox of a volume.
func UsualSides(v units.Litre) (width, depth, height units.Metre) {
	k := units.Metre(math.Cbrt(float64(v) / usualBox))
	return usualWide * k, usualDeep * k, usualTall * k
}

// Assume fills in what s leaves at zero with what is usual for its size, and
// notes which fields those are. Bends, level run and altitude of zero are taken
// as none only where s says that they are not known.
func (s Stove) Assume() Stove {
	s.Assumed = slices.Clone(s.Assumed)
	fill := func(field string, unknown bool, set func()) {
		at := slices.Index(s.Assumed, field)
		if unknown {
			set()
			if at < 0 {
				s.Assumed = append(s.Assumed, field)
			}
		}
	}
	s.assumeSides(fill)
	fill("max-load", s.MaxLoad == 0, func() {
		s.MaxLoad = max(leastLoad, units.Kilogram(math.Floor(leastUsualLoad*float64(s.Volume)*10+1e-9)/10))
	})
	fill("diameter", s.Chimney.Diameter == 0, func() { s.Chimney.Diameter = flueOf(s.Volume).usual })
	fill("lining", s.Chimney.Lining == "", func() { s.Chimney.Lining = flue.Insulated })
	slices.SortFunc(s.Assumed, func(a, b string) int { return slices.Index(Assumable, a) - slices.Index(Assumable, b) })
	return s
}

// assumeSides gives the sides that are not known what the known ones leave of
// the volume, in the usual proportion.
func (s *Stove) assumeSides(fill func(string, bool, func())) {
	w, d, h := UsualSides(s.Volume)
	sides := []struct {
		field string
		known *units.Metre
		usual units.Metre
	}{{"width", &s.Width, w}, {"depth", &s.Depth, d}, {"height", &s.Height, h}}
	left, unknown := 1.0, 0
	for _, side := range sides {
		if *side.known > 0 {
			left *= float64(side.usual / *side.known)
		} else {
			unknown++
		}
	}
	if unknown == 0 {
		return
	}
	by := units.Metre(math.Pow(left, 1/float64(unknown)))
	for _, side := range sides {
		fill(side.field, *side.known == 0, func() {
			*side.known = units.Metre(math.Round(float64(side.usual*by)*100) / 100)
			if s.Volume >= leastVolume {
				*side.known = min(mostSide, max(leastSide, *side.known))
			}
		})
	}
}

// Takes tells whether a field's value is assumed.
func (s Stove) Takes(field string) bool { return slices.Contains(s.Assumed, field) }

type usualFlue struct {
	below                    units.Litre // firebox
	usual, narrower, broader units.Metre // inside diameter
}

func flueOf(v units.Litre) usualFlue {
	for _, f := range flues {
		if v < f.below {
			return f
		}
	}
	return flues[len(flues)-1]
}

// A Stake is what knowing a field would change at most, from what is taken for
// it: the draft of a warm fire and the longest piece either way, the load only
// upwards. Zero: not that.
type Stake struct {
	Field string
	Draft units.Pascal
	Load  units.Kilogram
	Piece units.Metre
}

// Weather and fire of a stake: the draft that people ask about is that of a
// burning stove on a cool day.
const (
	stakeOutdoor units.Celsius = 4
	stakeRoom    units.Celsius = 19
	stakeGas     units.Celsius = 250
	// UsualFlow is the gas of a stove in cruise, kg/s: wood needs about 6 kg of
	// air for each of its own and gets twice that, at 1 to 2 kg of wood an hour.
	UsualFlow = 0.005
)

// Stakes returns what each assumed field of s is worth.
func (s Stove) Stakes() []Stake {
	f := flueOf(s.Volume)
	chimney := func(change func(*flue.Chimney)) units.Pascal {
		c := s.Chimney
		change(&c)
		return c.WarmDraft(stakeGas, stakeRoom, stakeOutdoor, UsualFlow)
	}
	between := func(a, b units.Pascal) units.Pascal { return units.Pascal(math.Abs(float64(a-b)) / 2) }
	var out []Stake
	for _, field := range s.Assumed {
		k := Stake{Field: field}
		switch field {
		case "width":
			k.Piece = s.Width * sideDoubt
		case "depth":
			k.Piece = s.Depth * sideDoubt
		case "height":
			k.Piece = s.Height * sideDoubt
		case "max-load":
			k.Load = units.Kilogram((mostUsualLoad - leastUsualLoad) * float64(s.Volume))
		case "diameter":
			k.Draft = between(chimney(func(c *flue.Chimney) { c.Diameter = f.narrower }), chimney(func(c *flue.Chimney) { c.Diameter = f.broader }))
		case "lining":
			k.Draft = between(chimney(func(c *flue.Chimney) { c.Lining = flue.Masonry }), chimney(func(c *flue.Chimney) { c.Lining = flue.Insulated }))
		case "bends":
			k.Draft = between(chimney(func(*flue.Chimney) {}), chimney(func(c *flue.Chimney) { c.Bends = 2 }))
		case "horizontal":
			k.Draft = between(chimney(func(*flue.Chimney) {}), chimney(func(c *flue.Chimney) { c.Horizontal = 1 }))
		case "altitude":
			k.Draft = between(chimney(func(*flue.Chimney) {}), chimney(func(c *flue.Chimney) { c.Altitude = 1000 }))
		}
		out = append(out, k)
	}
	return out
}
