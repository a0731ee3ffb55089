package main

import (
	"math"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A bench burns what the rows ask for, with one vector of numbers.
type bench struct {
	k      *fire.Physics
	step   time.Duration
	coarse bool
}

// every is how far apart the samples of a burn lie.
const every = 20 * time.Second

// A burnt is a burn with its series.
type burnt struct {
	fire.Result
	dry float64 // kg, as laid at first
}

// An evening is what is burnt.
type evening struct {
	stove         stove.Stove
	house         house.House
	room, outdoor units.Celsius
	coals, warm   float64
	moves         []fire.Move
	hours         float64
}

func (b *bench) burn(e evening) *burnt {
	setup := fire.Setup{Stove: e.stove, House: e.house, Outdoor: e.outdoor, Room: e.room, Coals: units.Kilogram(e.coals), Warmth: units.Celsius(e.warm),
		Physics: b.k}
	r := fire.Run(setup, e.moves, fire.Options{Until: time.Duration(e.hours * float64(time.Hour)), Every: every, Step: b.step, Coarse: b.coarse})
	out := &burnt{Result: r}
	out.dry = float64(r.Samples[min(2, len(r.Samples)-1)].Wood)
	return out
}

func minute(s fire.Sample) float64 { return s.At.Minutes() }

// part are the samples between two minutes.
func (b *burnt) part(from, to float64) []fire.Sample {
	var out []fire.Sample
	for _, s := range b.Samples {
		if m := minute(s); m >= from && m < to {
			out = append(out, s)
		}
	}
	return out
}

const end = 1e9

func (b *burnt) at(m float64) fire.Sample {
	best := b.Samples[0]
	for _, s := range b.Samples {
		if math.Abs(minute(s)-m) < math.Abs(minute(best)-m) {
			best = s
		}
	}
	return best
}

func gauge(p stove.Place) func(fire.Sample) float64 {
	return func(s fire.Sample) float64 { v, _ := s.Reading(p); return float64(v) }
}

func rate(s fire.Sample) float64 { return 3600 * s.BurnRate }
func co2(s fire.Sample) float64  { return s.CO2.Percent() }
func o2(s fire.Sample) float64   { return s.O2.Percent() }

func (b *burnt) peak(of func(fire.Sample) float64, from, to float64) float64 {
	top := math.Inf(-1)
	for _, s := range b.part(from, to) {
		top = max(top, of(s))
	}
	return top
}

func (b *burnt) mean(of func(fire.Sample) float64, from, to float64) float64 {
	sum, n := 0.0, 0.0
	for _, s := range b.part(from, to) {
		sum, n = sum+of(s), n+1
	}
	return sum / max(1, n)
}

// never stands for what was not reached, where a row wants minutes.
const never = 999.0

func (b *burnt) first(holds func(fire.Sample) bool) float64 {
	for _, s := range b.Samples {
		if holds(s) {
			return minute(s)
		}
	}
	return never
}

// coaled is in which minute so little of the first load is wood.
func (b *burnt) coaled(share float64) float64 {
	return b.first(func(s fire.Sample) bool { return minute(s) > 3 && float64(s.Wood) < share*b.dry })
}

func (b *burnt) smoke() float64 { return b.Summary.SmokePerKg }
func (b *burnt) net() float64   { return b.Summary.Efficiency.Percent() }

// quickest is the strongest five minutes over the mean.
func (b *burnt) quickest(to float64) float64 {
	var all []float64
	sum := 0.0
	for _, s := range b.part(0, to) {
		all = append(all, rate(s))
		sum += rate(s)
	}
	n := int(5 * time.Minute / every)
	best := 0.0
	for i := 0; i+n <= len(all); i++ {
		part := 0.0
		for _, v := range all[i : i+n] {
			part += v
		}
		best = max(best, part/float64(n))
	}
	return best / max(1e-9, sum/float64(len(all)))
}

// flueGas is what leaves over a part of a burn.
type flueGas struct{ co, pm, air, water, wood, CO, CO2, O2, temp, lambda, co13 float64 }

func (b *burnt) gas(from, to float64) flueGas {
	var g flueGas
	var mol, heat, t float64
	dt := every.Seconds()
	for _, s := range b.part(from, to) {
		nitrogen := 1 - float64(s.CO2+s.CO+s.O2)
		if s.Flow <= 0 || nitrogen < 0.5 {
			continue
		}
		m := s.Flow * 1000 / 28.96 * 0.7905 / nitrogen * dt
		mol += m
		g.CO, g.CO2, g.O2 = g.CO+m*s.CO.Percent(), g.CO2+m*s.CO2.Percent(), g.O2+m*s.O2.Percent()
		g.co += m * float64(s.CO) * 28.01
		g.pm += s.Smoke * 1000 * dt
		g.air += s.Flow * dt
		g.water += s.Vapour * dt
		g.wood += s.BurnRate * dt
		heat += s.Flow * dt * gauge(stove.ConnectorProbe)(s)
	}
	t = max(mol, 1e-9)
	g.CO, g.CO2, g.O2 = g.CO/t, g.CO2/t, g.O2/t
	g.temp = heat / max(g.air, 1e-9)
	g.lambda = g.air / max(g.wood*6.05, 1e-9)
	g.co13 = g.CO * (20.95 - 13) / max(0.05, 20.95-g.O2) * 1e4 * 28.01 / 22.414
	return g
}

// gross is a net efficiency on the gross basis, for wood of a moisture and energy.
func gross(net, u, hhv float64) float64 { return net * (hhv - 2.442*9*0.06 - 2.442*u) / hhv }

// What is burnt.

func appliance(f stove.Family, litres, kw float64, main stove.Role, extra ...stove.Role) stove.Stove {
	s := stove.Stove{Name: string(f), Family: f, Volume: units.Litre(litres), MaxLoad: units.Kilogram(0.3 * litres), Output: units.Watt(1000 * kw),
		Chimney: flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.Insulated}}
	roles := append([]stove.Role{main}, extra...)
	if f == stove.Catalytic {
		roles = append(roles, stove.BypassRole)
	}
	for _, r := range roles {
		s.Controls = append(s.Controls, stove.Control{Key: string(r), Name: string(r), Role: r, Scale: stove.Scale{Kind: stove.PercentOpen}})
	}
	for _, p := range []stove.Place{stove.ConnectorProbe, stove.ConnectorSurface, stove.Top, stove.CatalystProbe, stove.FireboxProbe} {
		s.Gauges = append(s.Gauges, stove.NewGauge(p))
	}
	return s
}

func usualHouse(floor float64) house.House {
	h := house.Default()
	h.Floor = floor
	return h
}

func evenings(s stove.Stove, hours float64, moves ...fire.Move) evening {
	return evening{stove: s, house: usualHouse(90), room: 20, outdoor: 2, moves: moves, hours: hours}
}

func (e evening) onCoals(kilos, warm float64) evening { e.coals, e.warm = kilos, warm; return e }

func piece(species string, kilos, u, metres float64) fire.Load {
	s, err := wood.SpeciesByKey(species)
	if err != nil {
		panic(err)
	}
	return fire.Load{Species: s, Moisture: units.Fraction(u / 100), PieceMass: units.Kilogram(kilos), PieceLength: units.Metre(metres),
		Direction: stove.EndOn, Lay: fire.OnCoals}
}

var sticks = func() fire.Load {
	l := piece("softwood-offcuts", 0.09, 13, 0.25)
	l.Kindling = true
	return l
}()

func put(l fire.Load, pieces int) fire.Act {
	l.Pieces = pieces
	return fire.Act{Kind: fire.ActLoad, Load: &l}
}

func turn(r stove.Role, percent float64) fire.Act {
	return fire.Act{Kind: fire.ActControl, Control: string(r), Role: r, Opening: percent / 100}
}

func door(d fire.Door) fire.Act { return fire.Act{Kind: fire.ActDoor, Door: d} }

func do(acts ...fire.Act) fire.Move { return fire.Move{Do: acts} }

func at(minutes float64, acts ...fire.Act) fire.Move {
	return fire.Move{When: fire.Trigger{At: time.Duration(minutes * float64(time.Minute))}, Do: acts}
}

func after(minutes float64, acts ...fire.Act) fire.Move {
	return fire.Move{When: fire.Trigger{After: time.Duration(minutes * float64(time.Minute))}, Do: acts}
}

// shutBypass shuts it at light-off, on a stove that has one.
func shutBypass(f stove.Family, latest float64) []fire.Move {
	if f != stove.Catalytic {
		return nil
	}
	return []fire.Move{{When: fire.Trigger{After: 4 * time.Minute, Gauge: stove.CatalystProbe, Above: 270, Latest: time.Duration(latest) * time.Minute},
		Do: []fire.Act{turn(stove.BypassRole, 0)}}}
}

// cold is a cold start: splits and kindling in a lay, the door ajar at first.
func cold(split fire.Load, n, kindling int, lay fire.Lay) []fire.Move {
	acts := []fire.Act{turn(stove.Combined, 100), door(fire.Ajar)}
	if n > 0 {
		split.Direction, split.Lay = stove.Sideways, lay
		acts = append(acts, put(split, n))
	}
	s := sticks
	s.Lay, s.StarterKind = lay, fire.WaxBlock
	return []fire.Move{do(append(acts, put(s, kindling))...), at(8, door(fire.Shut))}
}

// load is one load on coals: full air for five minutes, then one setting.
func load(f stove.Family, litres, kilos, u float64, pieces int, setting, hours, coals, warm float64, species string) evening {
	moves := append([]fire.Move{do(turn(stove.Combined, 100), put(piece(species, kilos/float64(pieces), u, 0.38), pieces))}, shutBypass(f, 40)...)
	if f == stove.Catalytic {
		moves = append(moves, after(1, turn(stove.Combined, setting)))
	} else {
		moves = append(moves, at(5, turn(stove.Combined, setting)))
	}
	return evenings(appliance(f, litres, 0, stove.Combined), hours, moves...).onCoals(coals, warm)
}
