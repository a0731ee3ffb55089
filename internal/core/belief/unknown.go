package belief

import (
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"gonum.org/v1/gonum/mat"

	"smolder/internal/core/fire"
	"smolder/internal/core/units"
)

// unknowns are the numbers of a stove and its space that nobody knows: factors, with
// their usual spread, one standard deviation of the logarithm. They are what stoves of
// the same make differ by after some years, and what lever marks and cheap gauges are
// worth.
var unknowns = []struct {
	name   string
	spread float64
	set    func(*fire.Tuning, float64)
}{
	{"leak", 1.8, func(t *fire.Tuning, f float64) { t.Leak = f }},
	{"inlets", 1.3, func(t *fire.Tuning, f float64) { t.Inlets = f }},
	{"curve", 1.5, func(t *fire.Tuning, f float64) { t.Curve = f }},
	{"exchange", 1.25, func(t *fire.Tuning, f float64) { t.Exchange = f }},
	{"shield", 1.3, func(t *fire.Tuning, f float64) { t.Shield = f }},
	{"char rate", 1.3, func(t *fire.Tuning, f float64) { t.CharRate = f }},
	{"flue loss", 1.3, func(t *fire.Tuning, f float64) { t.FlueLoss = f }},
	{"smoke", 1.3, func(t *fire.Tuning, f float64) { t.Smoke = f }},
	{"burnout", 1.7, func(t *fire.Tuning, f float64) { t.Pockets = f }},
	{"monoxide", 1.6, func(t *fire.Tuning, f float64) { t.Monoxide = f }},
	{"flames", 1.2, func(t *fire.Tuning, f float64) { t.Flames = f }},
	{"radiant", 1.15, func(t *fire.Tuning, f float64) { t.Radiant = f }},
	{"taking", 1.15, func(t *fire.Tuning, f float64) { t.Taking = f }},
	{"room loss", 1.4, func(t *fire.Tuning, f float64) { t.RoomLoss = f }},
	{"probe", 1.08, func(t *fire.Tuning, f float64) { t.Probe.Error = f }},
	{"top", 1.08, func(t *fire.Tuning, f float64) { t.Top.Error = f }},
	{"surface", 1.08, func(t *fire.Tuning, f float64) { t.Surface.Error = f }},
	{"catalyst", 1.08, func(t *fire.Tuning, f float64) { t.Catalyst.Error = f }},
	{"firebox", 1.08, func(t *fire.Tuning, f float64) { t.Firebox.Error = f }},
	{"door", 1.08, func(t *fire.Tuning, f float64) { t.DoorPlate.Error = f }},
	{"lag", 1.5, func(t *fire.Tuning, f float64) {
		t.Probe.Lag, t.Top.Lag, t.Surface.Lag, t.Catalyst.Lag, t.Firebox.Lag, t.DoorPlate.Lag = f, f, f, f, f, f
	}},
}

// Of a burn besides: the coals that were left, as the logarithm of a factor; how far
// the weather is from what was said, K; the wood of all loads, and of each of the
// first few, in points of moisture; and how many coals there are for each that the model has.
const (
	coalsSpread   = 1.4   // as a factor: a picture of a bed of coals
	woodSpread    = 0.024 // all of tonight's wood against what was said: a meter in three pieces
	loadSpread    = 0.018 // and each load of it
	estimateLoads = 4     // that have a moisture of their own; later ones have that of the last

	// When charred wood breaks up and how its last tenth burns differs from stove to stove by
	// more than any constant of the model: on evenings of stoves of another make eight in ten
	// of the coals lay between a quarter and twice of the model's (docs/coach.md). It comes
	// with the hours: what lay there at the start was seen.
	bedUsual  = 0.85
	bedSpread = 2.5 // as a factor
	bedComes  = time.Hour
)

// The places of these in a world, behind the stove's.
var (
	atCoals   = len(unknowns)
	atOutdoor = atCoals + 1
	atWood    = atCoals + 2
	atLoads   = atCoals + 3
	atBed     = atLoads + estimateLoads
	numbers   = atBed + 1
)

// inflation is how much wider the belief within a burn is than what it is told: how far
// stoves differ is not well known either, and one that lies outside must be found.
const inflation = 1.4

// learnedInflation is how much wider a belief is that burns have taught.
const learnedInflation = 1.15

// farthest is how many standard deviations a number of a first draw may lie out.
const farthest = 2.5

// driest is the moisture under which no wood is kept.
const driest units.Fraction = 0.05

// A Doubt is how far off what was said of a burn may be, as standard deviations; zero
// is the usual.
type Doubt struct {
	Wood    units.Fraction // dry basis: more than a meter's where the moisture is an estimate
	Outdoor units.Celsius  // K: a forecast's, or a mild day that was taken for want of a word
}

// world is one way in which everything that is not known may be.
type world []float64

// tuning is the stove of a world.
func (w world) tuning() fire.Tuning {
	var t fire.Tuning
	for i, u := range unknowns {
		u.set(&t, math.Exp(w[i]))
	}
	return t
}

// in is a setup as it is in this world.
func (w world) in(setup fire.Setup) fire.Setup {
	setup.Tuning = w.tuning()
	setup.Coals *= units.Kilogram(math.Exp(w[atCoals]))
	warmer := units.Celsius(w[atOutdoor])
	setup.Outdoor += warmer
	setup.Weather = slices.Clone(setup.Weather)
	for i := range setup.Weather {
		setup.Weather[i].Outdoor += warmer
	}
	return setup
}

// fire is the stove of a world before the first match.
func (w world) fire(setup fire.Setup) *fire.Fire { return fire.New(w.in(setup), step) }

// coals are how many there are in this world, kg, where the model has so many at a time since
// the start.
func (w world) coals(kilos float64, at time.Duration) float64 {
	return kilos * math.Exp(w[atBed]*(1-fade(at, bedComes)))
}

// own is an act as it is in this world: what is loaded is as wet as it is there.
func (w world) own(a fire.Act, loads *int) fire.Act {
	if a.Load == nil || a.Kind != fire.ActLoad {
		return a
	}
	l := *a.Load
	if !l.Kindling {
		l.Moisture = max(driest, l.Moisture+units.Fraction(w[atWood]+w[atLoads+min(*loads, estimateLoads-1)]))
		*loads++
	}
	a.Load = &l
	return a
}

// Version is that of the priors that this package gives and takes.
const Version = 1

// A Prior is what is believed of a stove before a burn: mean and covariance, row by
// row, of the logarithms of the factors that Names lists.
type Prior struct {
	Version    int
	Burns      int // that it stands on
	Names      []string
	Mean       []float64
	Covariance []float64
}

// wider is how much wider the belief within a burn is than what it is told. How far
// stoves differ is not well known; what burns have taught is, and some of that changes from
// one evening to the next.
func (p Prior) wider() float64 {
	if p.Burns > 0 {
		return learnedInflation
	}
	return inflation
}

// Tuning is the stove in the middle of a belief.
func (p Prior) Tuning() fire.Tuning {
	var t fire.Tuning
	for _, u := range unknowns {
		if mean, _, ok := p.Spread(u.name); ok {
			u.set(&t, math.Exp(mean))
		}
	}
	return t
}

// Spread is the standard deviation of one of the numbers' logarithm, and its mean; false:
// there is no such number.
func (p Prior) Spread(name string) (mean, spread float64, ok bool) {
	i := slices.Index(p.Names, name)
	if i < 0 {
		return 0, 0, false
	}
	return p.Mean[i], math.Sqrt(p.Covariance[i*len(p.Names)+i]), true
}

// Usual is what is believed of a stove of which nothing was seen.
func Usual() Prior {
	n := len(unknowns)
	p := Prior{Version: Version, Mean: make([]float64, n), Covariance: make([]float64, n*n)}
	for i, u := range unknowns {
		p.Names = append(p.Names, u.name)
		s := math.Log(u.spread)
		p.Covariance[i*n+i] = s * s
	}
	return p
}

// farMean and farCovariance are beyond what any burn teaches: a factor of twenty, and one of e³.
const farMean, farCovariance, mostNames = 3.0, 9.0, 200

// errPrior is the cause of a belief from elsewhere that is none.
var errPrior = errors.New("this is no belief of a stove")

// Check holds a belief that comes from elsewhere to what one made here could be.
func (p Prior) Check() error {
	n := len(p.Names)
	if p.Version != Version || n == 0 || n > mostNames || len(p.Mean) != n || len(p.Covariance) != n*n {
		return errPrior
	}
	for _, v := range p.Mean {
		if !(math.Abs(v) <= farMean) {
			return errPrior
		}
	}
	for i, v := range p.Covariance {
		if !(math.Abs(v) <= farCovariance) || i%(n+1) == 0 && v <= 0 {
			return errPrior
		}
	}
	return nil
}

// gaussian is a distribution of worlds.
type gaussian struct {
	mean []float64
	chol mat.Cholesky
	root mat.TriDense
}

// gaussian is the prior, so many times wider, with what a burn adds. Names that this version does not know
// are left out, and those that the prior lacks are as usual.
func (p Prior) gaussian(d Doubt, wider float64) gaussian {
	usual := Usual()
	mean, cov := make([]float64, numbers), mat.NewSymDense(numbers, nil)
	place := make([]int, len(unknowns))
	for i, u := range unknowns {
		place[i] = slices.Index(p.Names, u.name)
		if place[i] >= 0 {
			mean[i] = p.Mean[place[i]]
		}
	}
	for i := range unknowns {
		for j := range i + 1 {
			switch {
			case place[i] >= 0 && place[j] >= 0:
				cov.SetSym(i, j, wider*wider*p.Covariance[place[i]*len(p.Names)+place[j]])
			case i == j:
				cov.SetSym(i, i, wider*wider*usual.Covariance[i*len(unknowns)+i])
			}
		}
	}
	square := func(x float64) float64 { return x * x }
	outdoor, wood := float64(d.Outdoor), float64(d.Wood)
	if outdoor <= 0 {
		outdoor = 2
	}
	if wood <= 0 {
		wood = woodSpread
	}
	cov.SetSym(atCoals, atCoals, square(math.Log(coalsSpread)))
	cov.SetSym(atOutdoor, atOutdoor, square(outdoor))
	cov.SetSym(atWood, atWood, square(wood))
	for i := range estimateLoads {
		cov.SetSym(atLoads+i, atLoads+i, square(loadSpread))
	}
	mean[atBed] = math.Log(bedUsual)
	cov.SetSym(atBed, atBed, square(math.Log(bedSpread)))
	return newGaussian(mean, cov)
}

// newGaussian widens a covariance a little where it is not one.
func newGaussian(mean []float64, cov *mat.SymDense) gaussian {
	g := gaussian{mean: mean}
	for widen := 1e-9; !g.chol.Factorize(cov); widen *= 10 {
		for i := range mean {
			cov.SetSym(i, i, cov.At(i, i)*(1+widen)+widen*1e-3)
		}
	}
	g.chol.LTo(&g.root)
	return g
}

// draw returns n worlds, in pairs on both sides of the mean, so that even few have
// the mean that they should.
func (g *gaussian) draw(n int, random *rand.Rand) []world {
	out := make([]world, 0, n)
	z := make([]float64, len(g.mean))
	for i := range n {
		if i%2 == 0 {
			for k := range z {
				z[k] = clamp(random.NormFloat64(), -farthest, farthest)
			}
		} else {
			for k := range z {
				z[k] = -z[k]
			}
		}
		out = append(out, g.at(z))
	}
	return out
}

// at is the world that lies so many standard deviations out.
func (g *gaussian) at(z []float64) world {
	var v mat.VecDense
	v.MulVec(&g.root, mat.NewVecDense(len(z), z))
	w := make(world, len(z))
	for k := range w {
		w[k] = g.mean[k] + v.AtVec(k)
	}
	return w
}

// log is the logarithm of the density at a world, but for a constant.
func (g *gaussian) log(w world) float64 {
	d := mat.NewVecDense(len(w), nil)
	for k := range w {
		d.SetVec(k, w[k]-g.mean[k])
	}
	var x mat.VecDense
	if err := g.chol.SolveVecTo(&x, d); err != nil {
		return math.Inf(-1)
	}
	return -0.5 * mat.Dot(d, &x)
}
