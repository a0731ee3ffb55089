package fire

import (
	"math"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A Lay is how a load is built up; it decides how much surface is free, how
// well flames reach wood that is not alight yet and how much is lit at first.
type Lay string

// The lays of this version.
const (
	TopDown  Lay = "top-down"  // splits below, kindling and starter on top
	BottomUp Lay = "bottom-up" // a cabin of kindling below, splits on top
	OnCoals  Lay = "on-coals"  // a load on a raked coal bed
)

// Lays lists the lays with the words shown for them.
var Lays = []struct {
	Key  Lay
	Name string
}{
	{TopDown, "top-down: kindling and starter on top"},
	{BottomUp, "bottom-up: a cabin of kindling under the splits"},
	{OnCoals, "on raked coals"},
}

// geometry is what a lay means to the fire.
type geometry struct {
	contact float64 // how well other batches' flames reach this wood
	shelter float64 // how well burning faces warm each other
}

var geometries = map[Lay]geometry{
	TopDown:  {contact: 0.22, shelter: 1},
	BottomUp: {contact: 0.85, shelter: 0.75},
	OnCoals:  {contact: 0.70, shelter: 1},
}

// A Load is wood put into the firebox at one time.
type Load struct {
	Species     wood.Species    `json:"species"`
	Moisture    units.Fraction  `json:"moisture"` // dry basis, corrected
	Pieces      int             `json:"pieces"`
	PieceMass   units.Kilogram  `json:"piece_mass_kg"`
	PieceLength units.Metre     `json:"piece_length_m"`
	Direction   stove.Direction `json:"direction"`
	Lay         Lay             `json:"lay"`
	Kindling    bool            `json:"kindling,omitempty"`
	Starter     units.Joule     `json:"starter_j,omitempty"` // heat of paper, wax or gel on this load
	StackName   string          `json:"stack,omitempty"`     // where it came from, for people
	StackID     int64           `json:"stack_id,omitempty"`
}

// Mass returns the load as it is fired.
func (l Load) Mass() units.Kilogram { return l.PieceMass * units.Kilogram(l.Pieces) }

// Energy returns the load's net energy.
func (l Load) Energy() units.Joule {
	return units.Joule(wood.NetEnergy(l.Species.Gross, l.Moisture) * float64(l.Mass()) * 1e6)
}

// batch is a load on fire.
type batch struct {
	dry, dry0   float64 // kg of wood not yet turned, now and at first
	water       float64 // kg
	alight      float64 // share of the surface that pyrolyses
	flame       float64 // 0 smoulders, 1 flames
	area        float64 // m² exposed when fresh
	thickness   float64 // m
	pieces      float64
	geometry    geometry
	gasEnergy   float64 // J/kg of volatiles
	starter     float64 // J left
	starterRate float64 // W
	kindling    bool
	front       float64 // √(dry/dry0), cached for the step
	netFlux     float64 // W/m² on the lit surface at the last step
}

// exposure is the share of the pieces' surface that is free to heat and air.
func exposure(l Load) float64 {
	switch {
	case l.Kindling:
		return 0.8
	case l.Lay == TopDown || l.Lay == BottomUp:
		return 0.55 // laid apart, to light
	case l.Direction == stove.Sideways:
		return 0.23
	}
	return 0.35
}

func newBatch(l Load) batch {
	m, u := float64(l.PieceMass), float64(l.Moisture)
	length := math.Max(0.05, float64(l.PieceLength))
	density := l.Species.Gravity * 1000 * (1 + u)
	side := math.Sqrt(m / density / length)
	n := float64(l.Pieces)
	dry := n * m / (1 + u)
	b := batch{
		dry: dry, dry0: dry, water: dry * u,
		area: n * (4*side*length + 2*side*side) * exposure(l), thickness: side, pieces: n,
		geometry: geometries[l.Lay], kindling: l.Kindling, front: 1,
		gasEnergy: (wood.NetEnergyDry(l.Species.Gross)*1e6 - charShare*charEnergy) / (1 - charShare),
		starter:   float64(l.Starter),
	}
	if b.starter > 0 {
		b.starterRate = b.starter / 420 // a fire starter burns about seven minutes
		b.alight = 0.08
	}
	if b.geometry == (geometry{}) {
		b.geometry = geometries[OnCoals]
	}
	return b
}

// spent tells whether nothing of the batch is left to pyrolyse.
func (b *batch) spent() bool { return b.dry <= 0.004*b.dry0 }

// shield is how little of the heat on the surface reaches fresh wood: the
// char layer grows in the first tenth of the burn and grows less thick on thin
// pieces.
func (b *batch) shield() float64 {
	gone := 1 - b.dry/b.dry0
	fresh := 1 + 1.1*math.Max(0, 1-gone/0.15)
	thin := clamp(math.Pow(0.085/b.thickness, 0.7), 0.75, 2.4)
	return 0.2 * fresh * thin
}

// pyrolyse advances one batch under the fire's surroundings and adds what it
// gives off.
func (b *batch) pyrolyse(env surroundings, out *offgas) {
	b.front = math.Sqrt(b.dry / b.dry0)
	area := b.area * b.front
	lit := b.alight * area

	cover := 0.0 // share of the surface in the starter's own flame
	if b.starter > 0 {
		used := math.Min(b.starter, b.starterRate*env.dt)
		b.starter -= used
		out.starter += used / env.dt
		cover = math.Min(0.3, used/env.dt/(starterFlux*math.Max(area, 1e-3)))
	}
	starter := starterFlux * cover
	ownFlame := 0.55*b.flame + 0.45*env.flame
	shelter := env.shelter * b.geometry.shelter
	flameHeat := flameFlux * env.completeness * shelter * ownFlame
	liningHeat := 0.85 * (sigma*env.lining4 - sigma*ambient4) * (0.3 + 0.7*b.alight)
	q := flameHeat + env.coals + liningHeat + starterFlux*math.Min(1, cover/math.Max(b.alight, 0.02)) - reradiation
	b.netFlux = q

	ratio := b.water / math.Max(b.dry, 1e-9) // kg water per kg dry still in the wood
	need := pyrolysisHeat + dryingHeat*dryingLead*ratio
	rate := b.shield() * lit * math.Max(0, q) / need
	rate = math.Min(rate, b.dry/(3*env.dt))

	turned := rate * env.dt
	water := math.Min(b.water, turned*ratio*dryingLead)
	b.dry -= turned
	b.water -= water
	if b.spent() { // the last crumbs go with the rest
		turned += b.dry
		water += b.water
		b.dry, b.water = 0, 0
	}
	gas := turned * (1 - charShare)
	out.volatiles += gas / env.dt
	out.gasHeat += gas / env.dt * b.gasEnergy
	out.char += turned * charShare
	out.water += water / env.dt

	b.burn(env, gas/env.dt, lit, ratio)
	out.flaming += b.flame * gas / env.dt
	b.spread(env, starter, liningHeat)
}

// burn decides between flame and smoulder by the flux of volatiles from the
// lit surface (Rasbash); the answer takes some seconds either way.
func (b *batch) burn(env surroundings, gas, lit, ratio float64) {
	target := 0.0
	if lit > 1e-6 {
		critical := criticalFlux * (1 + 2.5*(ratio-0.15)) * (1 + 0.8*env.diluted)
		target = smooth(gas/lit/critical, 0.45, 1.05)
	}
	b.flame += (target - b.flame) * env.dt / 12
}

// spread lights more of the surface: by coals beneath, by flames of the same
// and other wood, by the starter, by a hot lining.
func (b *batch) spread(env surroundings, starter, liningHeat float64) {
	if b.alight >= 1 {
		return
	}
	wet := 1 + 3.5*b.water/math.Max(b.dry, 1e-9)
	thick := math.Pow(clamp(b.thickness/0.085, 0.15, 1.6), 1.5)
	energy := 7.5e6 * wet * thick // J/m² until a face is black
	q := 0.9*env.coals + starter + liningHeat +
		flameFlux*env.completeness*env.shelter*(b.geometry.contact*env.flaming+0.5*b.flame*b.alight)
	b.alight = math.Min(1, b.alight+(1-b.alight)*math.Max(0, q)/energy*env.dt*1.6)
}

// surroundings are what every batch sees in a step.
type surroundings struct {
	dt           float64 // s
	flame        float64 // share of the gas that flames
	flaming      float64 // how much fire there is to light other wood, 0–1
	completeness float64 // of combustion, by air
	shelter      float64 // 1 − exp(−n/1.6)
	coals        float64 // W/m² from the coal bed
	lining4      float64 // K⁴
	diluted      float64 // cold air through an open door, 0–1
}

// offgas is what all batches give off in a step.
type offgas struct {
	volatiles float64 // kg/s
	flaming   float64 // kg/s of them in flame
	gasHeat   float64 // W if all of it burns
	char      float64 // kg in this step
	water     float64 // kg/s
	starter   float64 // W
}
