package fire

// Physics are the numbers of the fire that nobody can measure in a stove and that
// published figures bear on: one vector, so that it can be calibrated as a whole
// (internal/tools/calibrate) and so that a belief can hold fires that burn otherwise, and
// not only stoves that are built otherwise. [Numbers] has the unit, the usual range and the
// source of each.
type Physics struct {
	// How gas meets air.
	BedMixed, FlameMixed     float64
	Pockets                  float64
	PocketsCold, PocketsWet  float64
	PocketsAlone             float64
	CracksHotter             float64
	FlameCO, Soot, Condenses float64

	// How flames live, and what they give the wood.
	Critical, CriticalWet float64
	FlameFrom, FlameTo    float64
	FedFrom, FedTo        float64
	Beside, BesideMost    float64
	BesideAlone           float64

	// How much of a face is free, by how many pieces lie together.
	FreeAlone, FreePacked, Packs float64

	// Wood that burns without flames, and coals.
	Smoulder, SmoulderCracks float64
	CharBurns, CharDense     float64
	FaceBurns, BedMeets      float64
	CharFalls                float64
	CharConducts, CharCracks float64

	// Where air goes.
	WashMeets, SecondDown            float64
	DoorDown, DoorMeets, DoorThrough float64
	Primary, Second, Leak, Exchange  float64
	Stray, CombTar, Plates           float64
}

// A Number is one of the [Physics]: what it is, its unit, the usual range and where that
// comes from. Spread is how far off it may be, as a standard deviation of its logarithm.
type Number struct {
	Name, Unit string
	Low, High  float64
	Source     string
	of         func(*Physics) *float64
}

// Of is where the number stands in a vector.
func (n Number) Of(k *Physics) *float64 { return n.of(k) }

// Numbers are all of them, in the order of the vector that is calibrated. Where the source is
// "table", no measurement of the number itself is known, and its range is what keeps the
// published figures of burns within reach.
var Numbers = []Number{
	{"how evenly gas and air are mixed in the bed zone", "of even", 0.02, 0.9, "table", func(k *Physics) *float64 { return &k.BedMixed }},
	{"how evenly in the flame zone", "of even", 0.02, 0.95, "table", func(k *Physics) *float64 { return &k.FlameMixed }},
	{"gas in pockets and along walls that meets no flame", "share", 0.004, 0.05, "table; 0.01 to 0.05 of the fuel's carbon in hot stoves (40 CFR 60 AAA tests)",
		func(k *Physics) *float64 { return &k.Pockets }},
	{"more of it, each 100 K that the zone is colder", "1/100 K", 0.1, 0.8, "table", func(k *Physics) *float64 { return &k.PocketsCold }},
	{"more of it, each kg of water per kg of gas", "1", 1, 9, "moisture series of emission tests", func(k *Physics) *float64 { return &k.PocketsWet }},
	{"more of it in the flames of a piece alone", "1", 0.1, 4, "single pieces against loads", func(k *Physics) *float64 { return &k.PocketsAlone }},
	{"how much hotter tar cracks where flames are", "K", 40, 350, "table", func(k *Physics) *float64 { return &k.CracksHotter }},
	{"carbon that leaves a flame as monoxide", "share", 0.03, 0.2, "0.02 to 0.1 of well-mixed flames", func(k *Physics) *float64 { return &k.FlameCO }},
	{"carbon of cracked tar that becomes soot", "share", 0.01, 0.12, "0.02 to 0.1 (tar cracking in pyrolysis gas)", func(k *Physics) *float64 { return &k.Soot }},
	{"unburnt tar that is particles in a dilution tunnel", "share", 0.4, 0.7, "40 CFR 60 AAA, dilution against hot filter",
		func(k *Physics) *float64 { return &k.Condenses }},
	{"critical flux of volatiles for flames", "kg/m²s", 1.2e-3, 4e-3, "Rasbash: 2 dry; 1.5 to 4", func(k *Physics) *float64 { return &k.Critical }},
	{"growth of it with water", "per kg/kg", 0.5, 4, "table", func(k *Physics) *float64 { return &k.CriticalWet }},
	{"share of it from where the first faces flame", "of it", 0.1, 0.6, "table", func(k *Physics) *float64 { return &k.FlameFrom }},
	{"and where all do", "of it", 0.8, 1.8, "table", func(k *Physics) *float64 { return &k.FlameTo }},
	{"air, of what burning needs, with which flames begin", "share", 0.02, 0.15, "table", func(k *Physics) *float64 { return &k.FedFrom }},
	{"and with which they live fully", "share", 0.2, 0.8, "table", func(k *Physics) *float64 { return &k.FedTo }},
	{"what flames release onto the faces beside them", "share", 0.25, 0.7, "0.2 to 0.5 radiated by luminous flames", func(k *Physics) *float64 { return &k.Beside }},
	{"at the most", "W/m²", 15e3, 45e3, "flame heat flux of wall fires, 20 to 40", func(k *Physics) *float64 { return &k.BesideMost }},
	{"of what a flame gives among pieces, that it gives a piece alone", "share", 0.45, 1, "table: no neighbour's flame leans on it",
		func(k *Physics) *float64 { return &k.BesideAlone }},
	{"free surface of a piece alone", "share", 0.6, 0.96, "about 0.85: it lies on something", func(k *Physics) *float64 { return &k.FreeAlone }},
	{"and of many together", "share", 0.15, 0.45, "about 0.35", func(k *Physics) *float64 { return &k.FreePacked }},
	{"exponent of the pieces between", "1", 0.4, 1.4, "table", func(k *Physics) *float64 { return &k.Packs }},
	{"wood that a smouldering face turns", "kg/m²s", 1e-4, 2e-3, "0.02 to 0.1 mm/s of fronts in porous fuel; choked loads 0.25 to 0.8 kg/h",
		func(k *Physics) *float64 { return &k.Smoulder }},
	{"its tar that glowing char cracks", "share", 0.2, 0.8, "15 to 60 g/kg of smouldering wood", func(k *Physics) *float64 { return &k.SmoulderCracks }},
	{"how quickly char burns", "of charTakes", 0.4, 1.6, "a factor of two between chars", func(k *Physics) *float64 { return &k.CharBurns }},
	{"how quickly it burns on faces, of the bed's", "share", 0.3, 1.5, "table", func(k *Physics) *float64 { return &k.FaceBurns }},
	{"oxygen of the bed zone that coals can get at", "share", 0.15, 0.8, "table", func(k *Physics) *float64 { return &k.BedMeets }},
	{"s until two thirds of the char on wood lies in the bed", "s", 600, 5000, "turned, cracked, knocked; table", func(k *Physics) *float64 { return &k.CharFalls }},
	{"exponent of its density", "1", 0.5, 2.5, "1: as thick as it is heavy; light chars take oxygen more readily besides", func(k *Physics) *float64 { return &k.CharDense }},
	{"oxygen of the wash that meets gas", "share", 0.4, 0.85, "0.4 to 0.7", func(k *Physics) *float64 { return &k.WashMeets }},
	{"second air that comes down to the bed", "share", 0.02, 0.35, "table", func(k *Physics) *float64 { return &k.SecondDown }},
	{"air past a door ajar that comes in below", "share", 0.5, 0.95, "table", func(k *Physics) *float64 { return &k.DoorDown }},
	{"oxygen of it that meets gas", "share", 0.3, 0.9, "0.3 to 0.6 of a gap; a gap at the bed's height more", func(k *Physics) *float64 { return &k.DoorMeets }},
	{"of it, at the most, through the fire of a 55 L stove", "kg/s", 3e-3, 25e-3, "table", func(k *Physics) *float64 { return &k.DoorThrough }},
	{"first inlets", "of basePrimary", 0.6, 1.7, "5 to 20 cm² of such stoves", func(k *Physics) *float64 { return &k.Primary }},
	{"second inlets", "of baseSecondary", 0.5, 1.7, "table", func(k *Physics) *float64 { return &k.Second }},
	{"leaks", "of baseLeak", 0.4, 2.5, "EN 13240 tightness tests, door and joints", func(k *Physics) *float64 { return &k.Leak }},
	{"exchange of gas to iron", "of baseExchange", 0.6, 1.5, "table", func(k *Physics) *float64 { return &k.Exchange }},
	{"how well a honeycomb catches tar", "of monoxide", 0.3, 1, "heavier molecules diffuse at half the pace", func(k *Physics) *float64 { return &k.CombTar }},
	{"plates of the body that give heat to the room", "of baseBodyArea", 0.6, 1.15, "plates and legs of such stoves, 1.4 to 2.5 m²", func(k *Physics) *float64 { return &k.Plates }},
	{"conductivity of char", "W/mK", 0.12, 0.4, "0.08 to 0.15 across the grain, more with what it shines through", func(k *Physics) *float64 { return &k.CharConducts }},
	{"width of its cracks, of its depth", "1", 0.06, 0.25, "0.1 to 0.3; with the conductivity EN 1995-1-2's steady charring", func(k *Physics) *float64 { return &k.CharCracks }},
	{"gas past an open bypass that warms the honeycomb", "of honeycomb", 0.02, 0.4, "table", func(k *Physics) *float64 { return &k.Stray }},
}

// Usual are the numbers as they were calibrated last.
var Usual = Physics{
	BedMixed: 0.5865, FlameMixed: 0.8917, Pockets: 0.007726, PocketsCold: 0.3581, PocketsWet: 7.105, PocketsAlone: 1.109, CracksHotter: 130.2, FlameCO: 0.1682, Soot: 0.04543, Condenses: 0.4023,
	Critical: 0.001202, CriticalWet: 1.348, FlameFrom: 0.1516, FlameTo: 0.8093, FedFrom: 0.03307, FedTo: 0.2006, Beside: 0.6831, BesideAlone: 0.8073, FaceBurns: 0.8583, BedMeets: 0.7238, BesideMost: 3.862e+04,
	FreeAlone: 0.585, FreePacked: 0.1995, Packs: 0.4471, Smoulder: 0.0007596, SmoulderCracks: 0.5703, CharBurns: 0.6254, CharDense: 2.476, CharFalls: 1618,
	WashMeets: 0.695, SecondDown: 0.05996, DoorDown: 0.7323, DoorMeets: 0.8174, DoorThrough: 0.009868,
	Primary: 0.9249, Second: 1.065, Leak: 2.113, Exchange: 1.367, Stray: 0.06998, CombTar: 0.711, Plates: 1.047, CharConducts: 0.252, CharCracks: 0.167,
}
