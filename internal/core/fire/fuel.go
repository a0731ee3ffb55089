package fire

import (
	"math"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A Load is wood put into the firebox at one time.
type Load struct {
	Species     wood.Species
	Moisture    units.Fraction // dry basis, corrected
	Pieces      int
	PieceMass   units.Kilogram
	PieceLength units.Metre
	Direction   stove.Direction
	Lay         Lay
	Kindling    bool
	Starter     units.Joule // heat of what lights it; with StarterKind alone: that kind's
	StarterKind Starter
	Unraked     bool           // the coals were left under their ash
	Colder      units.Celsius  // than the room, K: carried in from the cold and not warm yet; 0 to 60
	Spread      units.Fraction // how far off the moisture may be: half of what four out of five lie in; 0: a meter's
	Guessed     bool           // nobody has read the moisture: it is by how long it has lain, or less
	StackName   string         // where it came from, for people
	StackID     int64
}

// LeftOver is the stack of wood that a fire before has left unburnt: it was logged then, and
// is not counted again.
const LeftOver = "what was left from the fire before"

// Mass returns the load as it is fired.
func (l Load) Mass() units.Kilogram { return l.PieceMass * units.Kilogram(l.Pieces) }

// Dry returns its mass without water, kg.
func (l Load) Dry() float64 { return float64(l.Mass()) / (1 + float64(l.Moisture)) }

// Energy returns the load's net energy.
func (l Load) Energy() units.Joule {
	return units.Joule(wood.NetEnergy(l.Species.Gross, l.Moisture) * float64(l.Mass()) * 1e6)
}

// batch is a load on fire: the wood that has not turned, and the faces of it, a
// share of which burns. See face.go.
type batch struct {
	dry, dry0   float64 // kg of wood not yet turned, now and at first
	water       float64 // kg in it
	char        float64 // kg on its faces, not fallen yet
	warm        float64 // J that is stored in wood and faces
	alight      float64 // share of the faces that burns
	surface     float64 // K of the faces that burn
	unlit       float64 // K of those that do not
	flame       float64 // 0 smoulders, 1 flames
	creep       float64 // kg/s of dry wood that its smouldering faces turn
	area        float64 // m² of free faces when fresh
	pieces      float64
	density     float64 // kg/m³ of the dry wood
	inertia     float64 // W²s/m⁴K², see face.go
	geometry    geometry
	gasEnergy   float64 // J/kg of volatiles
	charPace    float64 // of its char, by its density
	starter     float64 // J left
	starterRate float64 // W
	starterLit  float64 // share of that which it has grown to
	overCoals   float64 // how well the bed sees this wood
	weight      float64 // of a piece in the packing
	front       float64 // √(dry/dry0), cached for the step

	gas, vapour float64 // kg/s in this step, of volatiles and of water
	flaming     float64 // kg/s of its gas in flame, in the step before
	streams     float64 // kg/m²s of volatiles off the faces that burn, in the step before
}

// How wood lies, and how fire moves over it. Where no source stands, the figure
// is this model's own, from the behaviour table.
const (
	splitSurface          = 1.175 // of a split, times that of a square bar; 1 to 1.14
	heapHides             = 0.33  // of a stick's free surface in a heap of kindling
	seesAlone, seesPacked = 0.88, 0.28
	sidewaysFree          = 0.70 // times that, laid across: air and flame meet the first piece only
	sticksClimb           = 0.40 // of kindling on coals, see geometries
	sticksContact         = 0.40
	stickWeighs           = 0.25 // of a split, that a stick of kindling counts in the packing

	unrakedSees    = 0.6   // of the bed's heat that wood gets over coals under their ash
	starterSeconds = 420   // that an unnamed starter burns
	starterFlux    = 38e3  // W/m² in a starter's flame; 30 to 50
	starterSpent   = 200   // J, of which nobody sees a flame
	starterGrows   = 60    // s from the match to its full flame
	starterTouches = 0.45  // share of a starter's heat that goes into the faces it touches
	spentAt        = 0.004 // share of the dry wood that is left when the rest are crumbs
	crumbSeconds   = 40.0  // s in which crumbs turn
	thickestChar   = 0.035 // m that hold together; 0.02 to 0.05
	charBreaks     = 60.0  // s in which thicker char breaks off
	charSkin       = 2e-4  // m of char, under which its cracks show less than their surface
	charFloor      = 0.22  // share of a face that lies on coals
	charSinks      = 0.35  // more of it when nearly nothing is left
	takesAtLeast   = 8.0   // s that a face needs to take however hot it gets
	contactLights  = 0.40  // of the faces that other wood's flames can lick, those that they do at a time
	climbFlux      = 28e3  // W/m² where flames lick at wood that does not burn; 20 to 40 (Quintiere)
	byItself       = 25.0  // s in which faces take that radiation alone has brought to it
	flamesSpare    = 0.45  // of what burns in the bed zone, that its flames can give to wood
	ownShare       = 0.6   // of the flames beside a face, what its own give it and not its neighbours'
	blows          = 180.0 // m²s/kg: how far gas that streams off keeps oxygen away; its film's transfer number

	// Flame and smoulder.
	smouldersDull, smouldersBright = 440.0, 580.0                                    // K of a face, from where it creeps, and fully
	smoulderOxygen                 = 0.3                                             // mol/m³ about it, with which it creeps at half its pace
	smoulderWants                  = 4.0                                             // times the oxygen that it takes, with which it creeps at half its pace: most passes by
	smoulderAnswers                = 40.0                                            // s that it takes to come or go
	smoulderMonoxide               = 0.08                                            // of the carbon that glows there; CO/CO2 of 0.1 to 0.45
	creepGives                     = charEnergy - charCarbon*smoulderMonoxide*heatCO // J/kg of char there
	usualDensity                   = 560.0                                           // kg/m³ of the wood whose char all is meant of: beech

	usualWet     = 0.15 // kg/kg at which the critical flux is meant
	flameAnswers = 8.0  // s that a flame takes to come or go
)

// free is the share of the pieces' surface that heat and air reach, when so many
// lie together.
func free(l Load, g geometry, together float64, k *Physics) float64 {
	if g.exposure > 0 && l.Lay != OnCoals { // laid apart, to light
		if l.Kindling {
			return g.exposure * heapHides
		}
		return g.exposure
	}
	share := k.FreePacked + (k.FreeAlone-k.FreePacked)*math.Pow(max(1, together), -k.Packs)
	if l.Direction == stove.Sideways {
		share *= sidewaysFree
	}
	return share
}

// newBatch is a load as it is laid, with wood at the room's temperature or colder. beside is
// how many pieces lie in the firebox already.
func newBatch(l Load, beside float64, k *Physics) batch {
	m, u := float64(l.PieceMass), float64(l.Moisture)
	length := max(0.05, float64(l.PieceLength))
	// A piece is taken as a bar of its mass with the surface of a split, which is
	// between a square and a wedge.
	density := l.Species.Gravity * 1000
	side := math.Sqrt(m / (density * (1 + u)) / length)
	n := float64(l.Pieces)
	dry := n * m / (1 + u)
	g, known := geometries[l.Lay]
	if !known {
		g = geometries[OnCoals]
	}
	if l.Kindling && l.Lay == OnCoals { // sticks lie loosely, and fire runs through them
		g.climb, g.contact = sticksClimb, sticksContact
	}
	b := batch{
		dry: dry, dry0: dry, water: dry * u, pieces: n, geometry: g, front: 1, overCoals: 1, weight: 1,
		density: density, inertia: inertia(l.Species.Gravity, u), surface: takes, unlit: reference - float64(l.Colder),
		// Char holds more than its share of the energy, so the gas holds less.
		gasEnergy: (wood.NetEnergyDry(l.Species.Gross)*1e6 - charShare*charEnergy) / (1 - charShare),
	}
	b.charPace = math.Pow(density/usualDensity, -k.CharDense)
	if l.Kindling {
		b.weight = stickWeighs
	}
	b.area = n * splitSurface * (4*side*length + 2*side*side) * free(l, g, b.weight*n+beside, k)
	if l.Unraked {
		b.overCoals = unrakedSees
	}
	// What lights it burns for its own time; heat that is given in figures goes before
	// the kind's.
	heat, seconds, known := l.StarterKind.heat()
	if !known {
		seconds = starterSeconds
	}
	if l.Starter > 0 {
		heat = float64(l.Starter)
	}
	if heat > 0 {
		b.starter, b.starterRate = heat, heat/seconds
	}
	return b
}

// spent tells whether nothing of the batch is left to turn, nor of what lights it.
func (b *batch) spent() bool { return b.dry <= 0 && b.starter <= 0 }

// view is how much a face sees of anything but faces like itself, by how many
// pieces lie together: a lone piece sees, and loses to, nearly everything.
func (s *Fire) view(together float64) float64 {
	return seesPacked + (seesAlone-seesPacked)*s.packing.at(together)
}

// seesBed is the share of the faces that burn, and of those that do not, that
// looks at coals, which cover a share of the floor: the wood's underside, which
// takes first, and more of it as what is left sinks into its own coals.
func (b *batch) seesBed(covered float64) (lit, unlit float64) {
	under := (charFloor + charSinks*(1-b.front)) * covered * b.overCoals
	if b.alight >= under {
		return under / max(b.alight, 1e-9), 0
	}
	return 1, (under - b.alight) / (1 - b.alight)
}

// depth is the char on its faces, m.
func (b *batch) depth() float64 {
	area := b.area * b.front * b.alight
	if area < 1e-6 {
		return 0
	}
	return b.char / (charDensity / 560 * b.density * area)
}

// wet is the water still in the wood, kg per kg of dry wood.
func (b *batch) wet() float64 { return b.water / max(b.dry, 1e-9) }

// surroundings are what every batch sees in a step.
type surroundings struct {
	dt       float64 // s
	field    float64 // W/m² of radiation in the firebox, see enclosure.go
	bed      float64 // W/m² that the coals radiate by themselves
	glow     float64 // W/m² of the coals themselves onto wood that touches them
	covered  float64 // share of the floor that they cover
	view     float64 // share of what a face sees that is not wood like itself
	beside   float64 // W/m² onto a face in full flame, by what burns beside it
	flaming  float64 // kg/s of gas that flames
	lively   float64 // kg/s of it that light other wood fully
	spare    float64 // share of what flames would give the faces that they can give
	gas      float64 // K of the gas about the wood
	oxygen   float64 // mol/m³ about it
	air      float64 // mol/s of oxygen that comes to the bed zone
	fed      float64 // 0 where there is too little air for any flame
	critical float64 // factor on the critical flux
	cold     float64 // share of all faces that does not burn
	shield   float64 // factor on the char's conductance
	charRate float64 // factor on the rate of char
	monoxide float64 // share of the carbon of char on faces that leaves as carbon monoxide
	k        *Physics
}

// offgas is what all batches give off in a step, and take as surfaces.
type offgas struct {
	volatiles  float64 // kg/s
	flaming    float64 // kg/s of them in flame
	passing    float64 // kg/s of them without a flame of their own, through others' flames
	quenched   float64 // kg/s of them in flames that cold wood cools
	gasHeat    float64 // W if all of it burns
	char       float64 // kg/s that falls into the bed
	charHeat   float64 // W that it brings there
	water      float64 // kg/s
	starter    float64 // W of its flame
	brought    float64 // W that gas and vapour bring along out of the wood
	fieldTook  float64 // W that the faces take from the field
	bedTook    float64 // W that they take from the coals
	licked     float64 // W that flames would give the faces
	flamesTook float64 // W that they take from the flames they stand in
	filmTook   float64 // W that they take from the gas
	clears     float64 // m³/s of gas that the char on them clears of oxygen
	faceCoals  float64 // kg/s of that char that burns
	faceCarbon float64 // mol/s of monoxide that it leaves
	faceOxygen float64 // mol/s that it takes
	charDense  float64 // kg/s of what falls, each by the density of its wood over that of beech
}

// burn advances one batch under the fire's surroundings and adds what it gives
// off and takes.
func (b *batch) burn(env *surroundings, out *offgas) {
	// As wood burns away from outside the surface shrinks with the root of what is left,
	// as that of a bar does.
	b.front = math.Sqrt(b.dry / b.dry0)
	area := b.area * b.front
	cover := b.catch(env, out, area)
	lit := b.alight * area
	sees, _ := b.seesBed(env.covered)

	b.gas, b.vapour = 0, 0
	wet := b.wet()
	if lit > 1e-7 {
		b.turn(env, out, lit, sees, wet, cover)
	}
	b.live(env, lit, wet)
	out.volatiles += b.gas
	out.gasHeat += b.gas * b.gasEnergy
	out.water += b.vapour
	b.flaming = b.flame * b.gas
	out.flaming += b.flaming
	out.passing += (1 - b.flame) * b.gas * b.geometry.through
	out.quenched += b.flame * b.gas * b.geometry.quench * (coolsAtLeast + (1-coolsAtLeast)*env.cold)
}

// coolsAtLeast is what is left of the cooling by cold wood above a flame when all
// of it is alight.
const coolsAtLeast = 0.35

// turn burns the faces that are alight: what they take, what it turns of the wood,
// and what their char gives by burning.
func (b *batch) turn(env *surroundings, out *offgas, lit, sees, wet, cover float64) {
	view := (1 - sees) * env.view
	// Char on a face burns where oxygen comes to it; gas that streams off keeps it away.
	depth := b.depth()
	clears := env.charRate * env.k.FaceBurns * b.charPace * lit * charClears(b.surface, faceTransfer, faceCracks) / (1 + blows*b.streams) * depth / (depth + charSkin)
	coals := min(clears*env.oxygen/(charCarbon*(1-env.monoxide/2)), 0.5*b.char/env.dt)
	asks := need(wet)
	// Where no flame stands, char glows in the cracks and between the pieces, out of sight of
	// cold walls, and turns the wood beside it with all that it releases.
	creeps := env.k.Smoulder * (1 - b.flame) * lit * smooth(b.surface, smouldersDull, smouldersBright) * env.oxygen / (env.oxygen + smoulderOxygen)
	if takes := creeps * asks / creepGives * charCarbon; takes > 0 { // as far as air comes for it
		creeps *= env.air / (env.air + smoulderWants*takes)
	}
	b.creep += (creeps - b.creep) * env.dt / (smoulderAnswers + env.dt)
	creeps = min(b.creep, b.dry/(3*crumbSeconds))
	creeps = min(creeps, 0.3*b.char/env.dt*creepGives/asks)
	creepBurns := creeps * asks / creepGives
	glow := coals * (charEnergy - charCarbon*env.monoxide*heatCO) / lit
	// Flames: those it stands in, those of other wood that lick at it, the starter's.
	others := clamp((env.flaming-b.flaming)/env.lively, 0, 1)
	licked := env.beside*b.geometry.shelter*(ownShare*b.flame+(1-ownShare)*min(1, env.flaming/env.lively)) + climbFlux*env.fed*b.geometry.contact*others
	out.licked += licked * lit
	beside := licked*env.spare + starterFlux*min(1, cover/max(b.alight, 0.02))
	lets := env.shield * charLets(b.surface, depth, env.k)
	next, absorbed, convected, front := burnFace(b.surface, view*env.field+sees*env.bed, view+sees, beside+glow, airFilm, env.gas, lets, env.dt)
	b.surface = next

	turned := min((front*lit/asks+creeps)*env.dt, b.dry)
	// The last crumbs fall apart within minutes, the quicker the fewer they are.
	if b.dry < 2*spentAt*b.dry0 {
		crumbs := b.dry * env.dt / (crumbSeconds + env.dt) * (1 - smooth(b.dry/(spentAt*b.dry0), 0, 2))
		turned = min(b.dry, max(turned, crumbs))
	}
	if b.dry-turned < 1e-6*b.dry0 {
		turned = b.dry
	}
	water := min(b.water, turned*wet*dryingLead)
	if turned >= b.dry {
		water = b.water
	}
	// What has warmed and boiled leaves with the gas; so does what was stored in wood that
	// is no more.
	stored := max(0, b.warm-lit*surfaceHolds*(b.surface-reference)) * turned / b.dry
	creepHeat := creepBurns * creepGives
	brought := front*lit + creepHeat - water*latentHeat/env.dt + stored/env.dt
	b.warm += ((absorbed+convected+beside+glow-front)*lit)*env.dt - stored
	b.dry -= turned
	b.water -= water
	b.char += turned*charShare - (coals+creepBurns)*env.dt
	b.gas, b.vapour = turned*(1-charShare)/env.dt, water/env.dt
	b.streams = b.gas / lit

	// The bed sees its share of the face, the field the rest.
	bedTook := woodEmits * sees * (env.bed - sigma*pow4(b.surface)) * lit
	out.bedTook += bedTook
	out.fieldTook += absorbed*lit - bedTook
	out.flamesTook += beside * lit
	out.filmTook += convected * lit
	out.brought += brought
	out.clears += clears
	out.faceCoals += coals + creepBurns
	out.faceCarbon += charCarbon * (coals*env.monoxide + creepBurns*smoulderMonoxide)
	out.faceOxygen += charCarbon * (coals*(1-env.monoxide/2) + creepBurns*(1-smoulderMonoxide/2))

	fallen := b.char * env.dt / (env.k.CharFalls + env.dt)
	if over := b.char - thickestChar*charDensity/560*b.density*lit; over > 0 { // it breaks off
		fallen = max(fallen, over*env.dt/(charBreaks+env.dt))
	}
	heat := fallen * coalHeat * (b.surface - reference) / env.dt
	out.char += fallen / env.dt
	out.charDense += fallen / env.dt * b.density / usualDensity
	out.charHeat += heat
	out.brought -= heat // it was part of what warmed the wood
	b.char -= fallen
	if b.dry <= 0 { // what is left of it lies among the coals now
		out.char += b.char / env.dt
		out.charDense += b.char / env.dt * b.density / usualDensity
		out.charHeat += b.warm / env.dt
		b.water, b.char, b.warm = 0, 0, 0
	}
}

// live decides between flame and smoulder by the flux of volatiles from the faces
// that burn (Rasbash), and by whether oxygen meets it; the answer takes seconds
// either way.
func (b *batch) live(env *surroundings, lit, wet float64) {
	target := 0.0
	if lit > 1e-7 {
		critical := env.k.Critical * (1 + env.k.CriticalWet*(wet-usualWet)) * env.critical
		target = smooth(b.gas/lit/critical, env.k.FlameFrom, env.k.FlameTo) * env.fed
	}
	b.flame += (target - b.flame) * env.dt / (flameAnswers + env.dt)
}

// catch warms the faces that do not burn, and lets fire come to them: from the
// starter's flame, from coals they lie on, from flames of their own wood and of
// other wood, and by themselves where radiation alone has brought them to it.
func (b *batch) catch(env *surroundings, out *offgas, area float64) (cover float64) {
	flame := 0.0
	if b.starter > 0 {
		b.starterLit = min(1, b.starterLit+env.dt/starterGrows)
		used := b.starterRate * b.starterLit * env.dt
		if dying := b.starter * env.dt / (starterGrows + env.dt); used > dying {
			used = dying // it burns down as it has grown
		}
		if b.starter < starterSpent {
			used = b.starter
		}
		b.starter -= used
		flame = used / env.dt
		out.starter += flame
	}
	if flame > 0 {
		cover = min(0.5, flame*starterTouches/(starterFlux*max(area, 1e-3)))
	}
	if b.alight >= 1 {
		return cover
	}
	cold := 1 - b.alight
	emitted := sigma * pow4(b.unlit)
	_, sees := b.seesBed(env.covered)
	view := (1 - sees) * env.view
	took := woodEmits * (view*(env.field-emitted) + sees*(env.bed-emitted))
	film := airFilm * (env.gas - b.unlit)
	b.unlit = warmFace(b.unlit, b.inertia, took+film, env.dt)
	b.warm += (took + film) * cold * area * env.dt
	out.fieldTook += woodEmits * view * (env.field - emitted) * cold * area
	out.bedTook += woodEmits * sees * (env.bed - emitted) * cold * area
	out.filmTook += film * cold * area

	// Shares of the faces per second that each of the four lights.
	pace := func(flux float64) float64 {
		if t := timeToTake(b.inertia, b.unlit, flux); t >= 0 {
			return 1 / (t + takesAtLeast)
		}
		return 0
	}
	rate := 0.0
	if cover > b.alight {
		rate += (cover - b.alight) * pace(starterFlux+env.field)
	}
	climbs := pace(climbFlux*env.fed + env.field)
	rate += cold * climbs * (contactLights*b.geometry.contact*min(1, env.flaming/env.lively) + b.geometry.climb*b.flame*b.alight)
	if touching := sees * cold; touching > 0 {
		rate += touching * pace(env.glow)
	}
	rate += cold * smooth(b.unlit, takes-70, takes+30) / byItself
	fresh := min(1-b.alight, rate*env.dt)
	// A face that takes is as hot as that.
	if b.alight+fresh > 0 {
		b.surface = (b.surface*b.alight + takes*fresh) / (b.alight + fresh)
	}
	b.alight += fresh
	if b.alight > 0.995 {
		b.alight = 1
	}
	return cover
}
