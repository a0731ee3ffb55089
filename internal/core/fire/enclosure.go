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
	besideAlone  = 0.37 // of what flames release, onto the faces they stand on, of a piece alone
	besidePacked = 0.42 // and among many
	besidePieces = 1.8  // pieces that make two thirds of the difference
	besideMost   = 20e3 // W/m²: a flame that covers a face gives no more however much burns in it; 15 to 30
)

// field is G of this moment, W/m².
func (s *Fire) field(view float64) float64 {
	room := s.room.Air.Kelvin()
	lining, baffle, glass, bed := boxEmits*s.p.liningArea, boxEmits*s.p.baffleArea, glassLets*s.p.glassArea, s.glow.weight
	weights := lining + baffle + glass + bed
	sent := lining*pow4(s.lining) + baffle*pow4(s.baffle) + glass*pow4(room) + bed*s.glow.fourth
	for i := range s.batches {
		b := &s.batches[i]
		if b.spent() {
			continue
		}
		lit, unlit := b.seesBed(s.glow.cover)
		w := woodEmits * view * b.area * b.front
		lit, unlit = w*b.alight*(1-lit), w*(1-b.alight)*(1-unlit)
		weights += lit + unlit
		sent += lit*pow4(b.surface) + unlit*pow4(b.unlit)
	}
	return (sigma*sent + s.gas.shine) / weights
}

// flamesBeside is what flames give the faces they stand on, W/m².
func (s *Fire) flamesBeside() float64 {
	lit := 0.0
	for i := range s.batches {
		if b := &s.batches[i]; !b.spent() {
			lit += b.area * b.front * b.alight
		}
	}
	if lit < 1e-6 {
		return 0
	}
	share := besideAlone + (besidePacked-besideAlone)*(1-decay(max(0, s.packed()-1)/besidePieces))
	given := share * s.gas.below / lit
	return besideMost * meet(given/besideMost)
}
