package fire

// The firebox as an enclosure.
//
// Faces of wood, coals, lining, baffle and glass look at each other, and the
// flame shines among them. Every surface i sends out w_i σT_i⁴, where w = ε·A of
// the part that looks into the box, and takes back w_i of what falls on it. With
// many reflections and no corner apart that is the same everywhere, and heat can
// only stay in the surfaces, so that the field is
//
//	G = (Σ w_i σT_i⁴ + radiation of the flame) / Σ w_i
//
// (the radiosity method for one grey gas between grey walls, Hottel & Sarofim).
// Each surface gains w_i (G − σT_i⁴); together they gain what the flame gives, to
// the last joule. Wood on coals sees those by themselves with part of its face.
// Glass lets a part of what falls on it into the room.
const (
	boxEmits     = 0.85 // emissivity of sooty brick, steel and vermiculite; 0.8 to 0.95
	glassLets    = 0.38 // of the field, into the room: what glass-ceramic lets through, and gives off outside itself; 0.3 to 0.5
	flameShines  = 0.27 // of what flames release, as radiation; 0.25 to 0.4 for luminous flames of wood
	besidePieces = 1.8  // pieces that make two thirds of the difference
)

// laid is the wood in the firebox as it looks in a step, summed over the loads.
type laid struct {
	pieces float64 // that lie together, whole splits for sticks
	lit    float64 // m² of faces that burn
	cold   float64 // share of the faces that do not
	seen   float64 // m² of faces that look into the box and not at coals
	sent   float64 // m²K⁴ of those
}

// lie looks over the wood.
func (s *Fire) lie() laid {
	l, all := laid{}, 1e-9
	for i := range s.batches {
		b := &s.batches[i]
		if b.spent() {
			continue
		}
		area := b.area * b.front
		lit, unlit := b.seesBed(s.glow.cover)
		l.pieces += b.pieces * b.weight * b.front
		l.lit += area * b.alight
		l.cold += area * (1 - b.alight)
		all += area
		lit, unlit = area*b.alight*(1-lit), area*(1-b.alight)*(1-unlit)
		l.seen += lit + unlit
		l.sent += lit*pow4(b.surface) + unlit*pow4(b.unlit)
	}
	l.cold /= all
	return l
}

// field is G of this moment, W/m², with the wood as it lies, of which a face sees a
// share of the box.
func (s *Fire) field(l laid, view float64) float64 {
	room := s.room.Air.Kelvin()
	lining, baffle, glass, bed, wood := boxEmits*s.p.liningArea, boxEmits*s.p.baffleArea, glassLets*s.p.glassArea, s.glow.weight, woodEmits*view
	weights := lining + baffle + glass + bed + wood*l.seen
	sent := lining*pow4(s.lining) + baffle*pow4(s.baffle) + glass*pow4(room) + bed*s.glow.fourth + wood*l.sent
	return (sigma*sent + s.gas.shine) / weights
}

// flamesBeside is what flames give the faces they stand on, W/m².
func (s *Fire) flamesBeside(l laid) float64 {
	if l.lit < 1e-6 {
		return 0
	}
	share := s.k.Beside * (s.k.BesideAlone + (1-s.k.BesideAlone)*(1-decay(max(0, l.pieces-1)/besidePieces)))
	return s.k.BesideMost * meet(share*s.gas.below/l.lit/s.k.BesideMost)
}
