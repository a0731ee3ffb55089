package fire

import "math"

// A face of wood in the fire.
//
// Before it burns, it warms. Wood is thick to heat: under a flux q that comes in,
// the surface of a half-space warms by 2/√π · q·√t/√(kρc), so that
//
//	dθ/dt = (2/π) q²/(kρc·θ)          θ over the wood's own temperature
//
// which holds for a flux that changes, too. kρc is the wood's inertia; its water
// counts by the heat that boiling it takes. At about 350 °C the gas that it gives
// off takes fire. Turned round, a face under an even flux takes after
//
//	t = (π/4) kρc (T_take − T)²/(q − q_least)²
//
// (Quintiere, Fundamentals of Fire Phenomena, ch. 7), which is how fire climbs
// from lit faces to those beside them.
//
// Once it burns, a layer of char lies over a front at which wood turns:
//
//	q_front = k_char (T_surface − T_front)/δ      rate = q_front / need
//
// need is what warms a kilogram of dry wood to the front, turns it, and boils its
// water. The char's conductivity is a little of its own and more by radiation
// through its cracks, 4σT³·w, where the width w of the cracks grows with the depth
// δ: so a face chars quickly at first and then nearly steadily, as measured
// (EN 1995-1-2: 0.65 mm/min in softwood, 0.5 in dense hardwood).
//
// The surface has its own temperature. It takes radiation and what flames give it,
// and gives back εσT⁴, which is most of it: 37 to 56 kW/m² at 650 to 750 °C. That
// is why a lone log goes out.
const (
	woodEmits   = 0.90   // emissivity of wood and char; 0.85 to 0.95
	reference   = 293.15 // K, from which heat in the wood is counted
	takes       = 625.0  // K at which a face's gas takes fire; 570 to 650 (Babrauskas 2002)
	frontAt     = 610.0  // K of the front; 570 (char line of EN 1995-1-2) to 630
	leastLights = 9.5e3  // W/m² that a face at the point of taking loses: under it nothing takes; 8 to 13
	airFilm     = 9.0    // W/m²K of gas passing a face; 5 to 15

	hotter      = 1.25   // times the conductivity at 25 °C that wood has on its way to taking; 1.2 to 1.4
	woodHeat    = 2000.0 // J/kgK of dry wood between 20 and 300 °C (Wood Handbook eq. 4-16, extended)
	turningHeat = 0.5e6  // J/kg of dry wood, to turn it; 0.2 to 1
	dryingHeat  = 2.6e6  // J per kg of water, warmed, loosened and boiled
	steamWarms  = 0.47e6 // J per kg of vapour, from boiling to the front's heat
	dryingLead  = 1.65   // water leaves ahead of the front; 1 to 1.7

	thinnestChar = 0.0012 // m that counts as a layer from the first moment
	charDensity  = 160.0  // kg/m³ of char of a wood with 560 kg/m³: both shrink alike
	surfaceHolds = 2500.0 // J/m²K of the skin that follows the surface: some millimetres of hot char

	ownFlame = 9e3 // W/m² that a face's own flame in open air gives it back; 5 to 15 (cone calorimeter)
)

// inertia is kρc of wood, W²s/m⁴K²: conductivity by the Wood Handbook's eq. 4-14,
// density and heat of the dry wood, and its water as so much heat between 20 °C and
// taking. gravity is the basic specific gravity, u kg/kg. Air-dry beech: 3.3e5.
func inertia(gravity, u float64) float64 {
	conducts := gravity*(0.1941+0.4064*u) + 0.01864 // W/mK; u in kg/kg where the handbook has per cent
	return hotter * conducts * gravity * 1000 * (woodHeat + u*dryingHeat/(takes-reference))
}

// timeToTake is how long a face at a temperature takes under an even flux, s;
// negative: never.
func timeToTake(inertia, at, flux float64) float64 {
	net := woodEmits*flux - leastLights
	if net <= 0 {
		return -1
	}
	rise := max(0, takes-at)
	return math.Pi / 4 * inertia * rise * rise / (net * net)
}

// warmFace moves the surface of wood that does not burn yet, and returns its
// new temperature: see above. q is what it takes less what it gives, W/m².
func warmFace(at, inertia, q, dt float64) float64 {
	const least = 12.0 // K, so that a face that is still cold divides by something
	rise := max(least, math.Abs(at-reference))
	by := 2 / math.Pi * q * math.Abs(q) / (inertia * rise) * dt
	return at + clamp(by, -0.2*rise-least, 0.5*rise+least)
}

// need is the heat that a kilogram of dry wood takes on its way through the
// front, J/kg, with so much water to each kilogram of dry wood, kg/kg.
func need(water float64) float64 {
	return woodHeat*(frontAt-reference) + turningHeat + (dryingHeat+steamWarms)*dryingLead*water
}

// charLets is the conductance of a layer of char, W/m²K.
func charLets(surface, depth float64, k *Physics) float64 {
	mean := 0.5 * (surface + frontAt)
	return k.CharConducts/(depth+thinnestChar) + k.CharCracks*4*sigma*mean*mean*mean*depth/(depth+thinnestChar)
}

// burnFace moves the surface of a face that burns by one step, under a radiant
// flux that comes in from what it sees, which is a share of all around it (the rest
// are faces like itself), and heat that it gets or loses otherwise, W/m² and W/m²K
// against gas at a temperature. It returns the surface's new temperature and the
// fluxes of the step, W/m², taken at its end, so that they add up:
//
//	absorbed + other = surfaceHolds·ΔT/dt + front
//
// The step is implicit in the surface, which answers within seconds.
func burnFace(at, incident, sees, other, film, gas, lets, dt float64) (next, absorbed, convected, front float64) {
	emits := woodEmits * sees
	cube := 4 * emits * sigma * at * at * at
	absorbed = woodEmits*incident - emits*sigma*pow4(at)
	convected = film * (gas - at)
	over := at - frontAt
	if over <= 0 {
		lets = 0
	}
	front = lets * over
	change := (absorbed + convected + other - front) / (surfaceHolds/dt + cube + film + lets)
	absorbed -= cube * change
	convected -= film * change
	front += lets * change
	if front < 0 { // it has fallen under the front's temperature within the step
		absorbed -= front
		front = 0
	}
	return at + change, absorbed, convected, front
}
