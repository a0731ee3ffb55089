package main

import (
	"math"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
)

// A row is a published figure, or what every owner knows, beside what the fire makes of it.
type row struct {
	group  string // of figures that go together: one is left out at a time
	name   string
	source string
	low    float64
	high   float64
	got    float64
	log    bool // it is a ratio or a rate: how far off is told on a log scale
}

// off is how far a row lies from the middle of its range, in half-widths.
func (r row) off() float64 {
	low, high, got := r.low, r.high, r.got
	if r.log {
		if low <= 0 {
			low = high / 50
		}
		low, high, got = math.Log(low), math.Log(high), math.Log(max(got, 1e-6))
	}
	half := (high - low) / 2
	return (got - (low + half)) / half
}

func (r row) inside() bool { return r.got >= r.low && r.got <= r.high }

// A group computes its rows.
type group struct {
	name string
	rows func(b *bench, add func(name string, low, high, got float64, source string))
}

var groups = []group{
	{"A ordinary use", ordinary}, {"B certification", certification}, {"C nominal heat", nominal}, {"D timelines", timelines},
	{"E textbook", textbook}, {"F trends", trends}, {"G which way", whichWay}, {"T evenings", owners},
}

const (
	ap42    = "EPA AP-42 1.10"
	method  = "EPA Method 28, dilution tunnel"
	b415    = "CSA B415.1 gas analyses"
	en      = "EN 13240 and EN 16510 type tests"
	owned   = "practitioners"
	series  = "moisture and burn-rate series"
	tunnels = "dilution tunnel tests"
)

var families = []stove.Family{stove.Plain, stove.SecondaryAir}

// ordinary is a day as people burn: a cold start, a brisk, a middling and a low load.
func ordinary(b *bench, add func(string, float64, float64, float64, string)) {
	seen := map[stove.Family][3][2]float64{stove.Plain: {{9, 22}, {65, 160}, {47, 61}}, stove.SecondaryAir: {{4, 11}, {45, 105}, {61, 74}}}
	for _, f := range families {
		moves := cold(piece("beech", 1.3, 20, 0.33), 3, 12, fire.BottomUp)
		down := fire.Trigger{After: 30 * 60e9, WoodLeft: 0.35, Latest: 5 * 3600e9}
		next := func(m fire.Move, species string, u float64, n int, setting float64) {
			m.Do = []fire.Act{turn(stove.Combined, 100), {Kind: fire.ActRake}, put(piece(species, 1.3, u, 0.33), n)}
			moves = append(moves, m, after(10, turn(stove.Combined, setting)))
		}
		next(at(50), "douglas-fir", 24, 4, 60)
		next(fire.Move{When: down}, "douglas-fir", 24, 4, 25)
		next(fire.Move{When: down}, "beech", 20, 5, 8)
		o := b.burn(evenings(appliance(f, 55, 0, stove.Combined), 18, moves...))
		g, r := o.gas(0, end), seen[f]
		add(string(f)+": particulates, g/kg", r[0][0], r[0][1], 1000*g.pm/1000/g.wood, ap42)
		add(string(f)+": CO, g/kg", r[1][0], r[1][1], g.co/g.wood, ap42)
		add(string(f)+": efficiency, gross %", r[2][0], r[2][1], gross(o.net(), 0.22, 19.7), ap42)
	}
}

// certification are burns of a certification test, found by their rate.
func certification(b *bench, add func(string, float64, float64, float64, string)) {
	kilos := 0.112 * 55.0
	type test struct {
		evening
		rate, smoke, co2 float64
	}
	var all []test
	for _, s := range []float64{3, 5, 8, 10, 12, 15, 20, 25, 30, 40, 50, 70, 100} {
		e := load(stove.SecondaryAir, 55, kilos, 22, 4, s, 16, 0.22*kilos, 200, "douglas-fir")
		r := b.burn(e)
		done := r.first(func(x fire.Sample) bool { return minute(x) > 5 && float64(x.Wood+x.Coals) <= 0.22*kilos })
		if done == never {
			continue
		}
		e.hours = done / 60
		g := r.gas(0, done)
		all = append(all, test{e, kilos / 1.22 / e.hours, g.pm / (kilos / 1.22), g.CO2})
	}
	if len(all) == 0 {
		all = []test{{load(stove.SecondaryAir, 55, kilos, 22, 4, 100, 16, 0.22*kilos, 200, "douglas-fir"), 0.1, 100, 20}}
	}
	slowest, quickest := 99.0, 0.0
	for _, t := range all {
		if t.smoke < 8 {
			slowest = min(slowest, t.rate)
		}
		quickest = max(quickest, t.rate)
	}
	add("slowest burn under 8 g/kg, kg/h", 0.7, 1.3, slowest, method)
	add("all air open, kg/h", 2.2, 4.6, quickest, method)
	for _, w := range []struct {
		name                 string
		rate                 float64
		low, high, eff, best float64
		most                 float64
	}{{"low", 1, 1.5, 6.5, 66, 78, 13}, {"medium", 1.6, 1, 5, 64, 77, 13}, {"high", 9, 0.7, 5.5, 54, 70, 14}} {
		t := all[0]
		for _, x := range all {
			if math.Abs(x.rate-w.rate) < math.Abs(t.rate-w.rate) {
				t = x
			}
		}
		add(w.name+" burn: particulates, g/kg", w.low, w.high, t.smoke, method)
		add(w.name+" burn: efficiency, gross %", w.eff, w.best, gross(b.burn(t.evening).net(), 0.22, 20.8), b415)
		add(w.name+" burn: mean CO2, %", 6, w.most, t.co2, b415)
	}
}

// refuelled is a stove fed on its coals at the draft of a type test.
func refuelled(b *bench, setting, kilos float64, cycles int) (*burnt, float64) {
	const gap = 45.0
	l := piece("beech", kilos/2, 18, 0.25)
	moves := []fire.Move{do(turn(stove.Combined, 100), put(l, 2)), at(3, turn(stove.Combined, setting))}
	for k := 1; k < cycles; k++ {
		moves = append(moves, at(float64(k)*gap, turn(stove.Combined, 100), fire.Act{Kind: fire.ActRake}, put(l, 2)), at(float64(k)*gap+3, turn(stove.Combined, setting)))
	}
	e := evenings(appliance(stove.SecondaryAir, 25, 6, stove.Combined, stove.Barometric), float64(cycles)*gap/60, moves...).onCoals(0.3, 220)
	e.outdoor, e.house = 10, usualHouse(150)
	return b.burn(e), float64(max(0, cycles-3)) * gap
}

func cleanest(b *bench) (setting float64, r *burnt, start float64) {
	least := math.Inf(1)
	for _, s := range []float64{30, 40, 50, 60, 70, 85, 100} {
		if x, from := refuelled(b, s, 1.4, 6); x.gas(from, end).co13 < least {
			setting, r, start, least = s, x, from, x.gas(from, end).co13
		}
	}
	return setting, r, start
}

func nominal(b *bench, add func(string, float64, float64, float64, string)) {
	setting, r, start := cleanest(b)
	g := r.gas(start, end)
	add("6 kW: heat to the room, kW", 5, 7, r.mean(func(s fire.Sample) float64 { return float64(s.ToRoom) / 1000 }, start, end), en)
	// The loss by the flue-gas method, with the mean gas: heat of the dry gas and of vapour.
	loss := g.lambda * 6.05 * 1.02 * (g.temp - 20) / 15.2e3 * 1.18 * 100 * 1.04
	add("6 kW: efficiency, net %", 75, 83, 100-loss-g.CO*3, en)
	add("6 kW: mean flue gas, °C", 230, 330, g.temp, en)
	add("6 kW: CO at 13 % O2, mg/m³", 500, 1900, g.co13, en)
	add("6 kW: mean CO2, %", 7.5, 11.5, g.CO2, en)
	add("6 kW: air factor", 1.7, 2.8, g.lambda, en)
	add("6 kW: wood at the next load, % of a load", 0.5, 12, 100*float64(r.at(start-0.4).Wood)/(1.4/1.18), owned)
	add("6 kW: particulates, g/kg", 0.8, 5, g.pm/g.wood, "NS 3058")
	log := math.Inf(1)
	for _, s := range []float64{30, 50, 75, 100} {
		e := evenings(appliance(stove.SecondaryAir, 20, 5, stove.Combined), 3, do(turn(stove.Combined, 100), put(piece("beech", 1, 18, 0.25), 1)),
			at(3, turn(stove.Combined, s))).onCoals(0.3, 220)
		log = min(log, b.burn(e).coaled(0.1))
	}
	add("one log of 1 kg in 20 L, quickest: min to coals", 28, 55, log, owned)
	twice, _ := refuelled(b, setting, 2.8, 2)
	usual, _ := refuelled(b, setting, 1.4, 2)
	add("twice the load, same air: times the CO", 1.5, 5, twice.gas(45, 90).co13/usual.gas(45, 90).co13, "misuse tests")
}

func timelines(b *bench, add func(string, float64, float64, float64, string)) {
	flue, top, comb := gauge(stove.ConnectorProbe), gauge(stove.Top), gauge(stove.CatalystProbe)
	small := piece("beech", 0.9, 18, 0.33)
	moves := append(cold(piece("beech", 1.2, 18, 0.33), 2, 14, fire.TopDown), at(45, turn(stove.Combined, 100), fire.Act{Kind: fire.ActRake}, put(small, 3)))
	e := evenings(appliance(stove.SecondaryAir, 55, 0, stove.Combined), 3, moves...)
	e.room = 18
	r := b.burn(e)
	add("cold start: gas after a minute, °C", 25, 95, flue(r.at(1)), owned)
	add("cold start: min to 200 °C of gas", 3, 12, r.first(func(s fire.Sample) bool { return flue(s) >= 200 }), owned)
	add("cold start: min to a top of 200 °C", 18, 50, r.first(func(s fire.Sample) bool { return top(s) >= 200 }), owned)
	add("cold start: wood after 45 min, %", 0.5, 25, 100*float64(r.at(44.8).Wood)/r.dry, owned)
	add("cold start: coals after 45 min, kg", 0.25, 0.9, float64(r.at(44.6).Coals), owned)
	add("first reload: kg/h after 3 min", 1.5, 6, rate(r.at(48)), owned)
	var lit, hot []float64
	for _, n := range [][2]int{{4, 11}, {5, 8}, {5, 11}} {
		moves := append(append(cold(piece("beech", 0.7, 18, 0.33), n[0], n[1], fire.TopDown), shutBypass(stove.Catalytic, 90)...), after(3, turn(stove.Combined, 60)))
		e := evenings(appliance(stove.Catalytic, 60, 0, stove.Combined), 3, moves...)
		e.room = 18
		r := b.burn(e)
		l := r.first(func(s fire.Sample) bool { return comb(s) >= 260 })
		lit, hot = append(lit, l), append(hot, r.peak(comb, min(l, 150)+10, min(l, 150)+20))
	}
	add("catalyst from cold: min to 260 °C", 22, 45, middle(lit), owned)
	add("catalyst after the bypass is shut: hottest, °C", 480, 700, middle(hot), owned)
	van := appliance(stove.Tiny, 9, 2.5, stove.DoorVent)
	van.Chimney.Height, van.Chimney.Diameter, van.Chimney.Lining = 2, 0.1, "single"
	l := piece("ash", 0.25, 15, 0.17)
	l.Lay, l.StarterKind = fire.Raft, fire.WaxBlock
	v := evenings(van, 2, do(turn(stove.DoorVent, 100), door(fire.Ajar), put(l, 6)), at(5, door(fire.Shut)))
	v.room, v.house = 4, house.House{Floor: 7, Build: house.Vehicle, N50: 15, Volume: 13000}
	r = b.burn(v)
	add("van: heat to the space, kW", 0.7, 2.5, r.mean(func(s fire.Sample) float64 { return float64(s.ToRoom) / 1000 }, 0, 45), owned)
	r = b.burn(load(stove.SecondaryAir, 55, 6, 18, 4, 10, 1, 0.6, 150, "beech"))
	add("air to 10 % at the height: a minute later, of before", 0.35, 0.95, rate(r.at(6))/rate(r.at(4.9)), owned)
}

func middle(v []float64) float64 {
	a, b, c := v[0], v[1], v[2]
	return max(min(a, b), min(max(a, b), c))
}

func textbook(b *bench, add func(string, float64, float64, float64, string)) {
	r := b.burn(evenings(appliance(stove.SecondaryAir, 55, 0, stove.Combined), 16, cold(piece("beech", 1.3, 18, 0.33), 3, 12, fire.TopDown)...))
	add("coals when the flames are out, % of dry wood", 8, 20, 100*float64(r.at(r.coaled(0.06)).Coals)/r.dry, "charcoal yields")
	brisk, medium := b.burn(load(stove.SecondaryAir, 55, 6, 18, 4, 100, 10, 0.6, 150, "beech")), b.burn(load(stove.SecondaryAir, 55, 6, 18, 4, 30, 10, 0.6, 150, "beech"))
	add("hottest firebox gas, °C", 750, 1150, brisk.peak(gauge(stove.FireboxProbe), 0, end), "thermocouples")
	add("best five minutes over the mean, air open", 1.3, 3, brisk.quickest(brisk.coaled(0.06)), "scale records")
	over := medium.coaled(0.06)
	add("middling burn: air factor", 1.6, 3.5, medium.gas(5, over).lambda, b415)
	add("middling burn: highest CO2, %", 8, 16, medium.peak(co2, 5, over), b415)
	add("middling burn: least O2, %", 4, 12, -medium.peak(func(s fire.Sample) float64 { return -o2(s) }, 5, over), b415)
}

func trends(b *bench, add func(string, float64, float64, float64, string)) {
	smoke := func(f stove.Family, u, setting float64) float64 {
		return b.burn(load(f, 55, 6, u, 4, setting, 12, 0.6, 150, "beech")).smoke()
	}
	for _, f := range families {
		dry := smoke(f, 18, 35)
		if f == stove.Plain {
			add(string(f)+": particulates at 38 % over 18 %", 1.8, 4.5, smoke(f, 38, 35)/dry, series)
			add(string(f)+": at 8 % over 18 %", 0.95, 2.2, smoke(f, 8, 35)/dry, series)
		}
		add(string(f)+": at 27 % over 18 %", 0.9, 2.2, smoke(f, 27, 35)/dry, series)
		add(string(f)+": air at 8 % over 40 %", 1.8, 6, smoke(f, 18, 8)/smoke(f, 18, 40), series)
		var early [2]float64
		for i, lay := range []fire.Lay{fire.TopDown, fire.BottomUp} {
			early[i] = b.burn(evenings(appliance(f, 45, 0, stove.Combined), 1, cold(piece("birch", 1, 18, 0.33), 3, 10, lay)...)).gas(0, 40).pm
		}
		add(string(f)+": top-down over bottom-up", 0.3, 0.75, early[0]/early[1], "ignition studies")
	}
	choked := b.burn(evenings(appliance(stove.SecondaryAir, 55, 0, stove.Combined), 8, do(turn(stove.Combined, 5), put(piece("beech", 1.75, 22, 0.33), 4))).onCoals(0.8, 150))
	g := choked.gas(0, end)
	add("choked: particulates, g/kg", 15, 60, g.pm/g.wood, "smouldering in stoves")
	add("choked: kg/h in eight hours", 0.25, 0.8, (7/1.22-float64(choked.Samples[len(choked.Samples)-1].Wood))/8, "loads of 7 kg last 8 to 20 h")
	add("choked: CO, g/kg", 120, 320, g.co/g.wood, "smouldering of wood")
	open := b.burn(evenings(appliance(stove.Plain, 55, 0, stove.Combined), 5, do(turn(stove.Combined, 100), put(piece("beech", 1.5, 18, 0.33), 4))).onCoals(0.6, 150))
	add("plain, air open: efficiency, gross %", 38, 60, gross(open.net(), 0.18, 19.7), "conventional stoves at high burn")
}

func whichWay(b *bench, add func(string, float64, float64, float64, string)) {
	for _, w := range []struct {
		f       stove.Family
		setting float64
	}{{stove.SecondaryAir, 25}, {stove.MultiFuel, 45}} {
		dry, damp, wet := b.burn(load(w.f, 55, 6, 17, 4, w.setting, 12, 0.6, 150, "beech")), b.burn(load(w.f, 55, 6, 25, 4, w.setting, 12, 0.6, 150, "beech")),
			b.burn(load(w.f, 55, 6, 32, 4, w.setting, 12, 0.6, 150, "beech"))
		add(string(w.f)+": particulates at 25 % over 17 %", 1, 2.2, damp.smoke()/dry.smoke(), series)
		add(string(w.f)+": at 32 % over 17 %", 1.3, 4.5, wet.smoke()/dry.smoke(), series)
		add(string(w.f)+": efficiency at 32 % less that at 17 %, points", -14, -1.5, wet.net()-dry.net(), series)
	}
	for _, f := range families {
		marks := []float64{10, 13, 17, 22, 30, 45, 70, 100}
		at := map[float64]*burnt{}
		for _, m := range marks {
			at[m] = b.burn(load(f, 55, 6, 18, 4, m, 12, 0.6, 150, "beech"))
		}
		steepest := 0.0
		for i := range marks[1:] {
			steepest = max(steepest, at[marks[i]].smoke()/at[marks[i+1]].smoke())
		}
		add(string(f)+": steepest particulates between settings", 1, 2.5, steepest, series)
		open, low := [2]float64{0.7, 5}, [2]float64{1.2, 8}
		if f == stove.Plain {
			open, low = [2]float64{3, 15}, [2]float64{10, 35}
			add(string(f)+": CO at 22 % over open", 1.2, 4, at[22].gas(0, end).co/at[100].gas(0, end).co, series)
		}
		add(string(f)+": particulates, all open, g/kg", open[0], open[1], at[100].smoke(), tunnels)
		add(string(f)+": particulates at 22 %, g/kg", low[0], low[1], at[22].smoke(), tunnels)
		long := at[22].coaled(0.06)
		if long == never {
			long = 720
		}
		add(string(f)+": time to coals at 22 % over open", 1.6, 4, long/at[100].coaled(0.06), owned)
		add(string(f)+": efficiency at 30 % less open, points", 4, 20, at[30].net()-at[100].net(), b415)
	}
	on := func(s stove.Stove, kilos float64, n int, hours float64, species string, moves ...fire.Move) *burnt {
		moves[0].Do = append(moves[0].Do, put(piece(species, kilos/float64(n), 18, 0.38), n))
		return b.burn(evenings(s, hours, moves...).onCoals(0.6, 150))
	}
	secondary := appliance(stove.SecondaryAir, 55, 0, stove.Combined)
	shut := on(secondary, 6.5, 5, 3, "beech", do(turn(stove.Combined, 100)))
	ajar := on(secondary, 6.5, 5, 3, "beech", do(turn(stove.Combined, 100)), at(5, door(fire.Ajar)), at(65, door(fire.Shut)))
	flue := gauge(stove.ConnectorProbe)
	add("door ajar for an hour: hottest gas over shut", 1, 1.6, ajar.peak(flue, 0, end)/shut.peak(flue, 0, end), "a classic cause of overfire")
	add("door ajar: wood gone sooner", 0.5, 0.95, ajar.coaled(0.06)/shut.coaled(0.06), owned)
	multi := appliance(stove.MultiFuel, 55, 0, stove.Combined, stove.AshFlap)
	shut = on(multi, 6, 4, 3, "beech", do(turn(stove.Combined, 60), turn(stove.AshFlap, 0)))
	wide := on(multi, 6, 4, 3, "beech", do(turn(stove.Combined, 60), turn(stove.AshFlap, 0)), at(10, turn(stove.AshFlap, 100)))
	add("ash flap opened: burn rate ten minutes later over shut", 1.15, 2.5, rate(wide.at(20))/rate(shut.at(20)), owned)
	add("ash flap left open: hottest gas over shut", 1.05, 1.8, wide.peak(flue, 10, end)/shut.peak(flue, 10, end), "manuals")
	one, four := b.burn(load(stove.SecondaryAir, 55, 5.2, 18, 1, 60, 10, 0.6, 150, "beech")), b.burn(load(stove.SecondaryAir, 55, 5.2, 18, 4, 60, 10, 0.6, 150, "beech"))
	add("one block over four pieces: time to coals", 1.3, 4, min(one.coaled(0.06), 600)/four.coaled(0.06), "surface to mass")
	left := func(species string) float64 {
		r := b.burn(load(stove.SecondaryAir, 55, 5.2, 18, 4, 35, 10, 0.6, 150, species))
		done := r.coaled(0.06)
		if done == never {
			done = 300
		}
		return float64(r.at(done + 90).Coals)
	}
	add("coals 90 min after the flames: oak over spruce", 1.15, 3, left("white-oak")/left("spruce"), "dense char burns slower")
	lit := func(n int) *burnt {
		return b.burn(evenings(secondary, 1.2, cold(piece("birch", 1, 18, 0.33), 2, n, fire.TopDown)...))
	}
	many, some := lit(14), lit(8)
	add("top-down with 14 sticks over 8: particulates", 0.5, 1.05, many.gas(0, 40).pm/some.gas(0, 40).pm, owned)
	to := func(r *burnt) float64 {
		return r.first(func(s fire.Sample) bool { return gauge(stove.FireboxProbe)(s) > 400 })
	}
	add("the same: min to a firebox of 400 °C", 0.5, 1, to(many)/to(some), owned)
	apart := appliance(stove.SecondaryAir, 55, 0, stove.PrimaryAir, stove.SecondAir)
	idle := on(apart, 6, 4, 10, "beech", do(turn(stove.PrimaryAir, 100), turn(stove.SecondAir, 100)), at(12, turn(stove.PrimaryAir, 50)),
		at(20, turn(stove.PrimaryAir, 20)), at(30, turn(stove.PrimaryAir, 0)))
	add("primary shut, second air open: particulates, g/kg", 1, 9, idle.smoke(), "low burns of certified stoves")
	add("the same: hours to coals", 2.5, 7, idle.coaled(0.06)/60, "low burns of certified stoves")
	hot := evenings(secondary, 2, do(turn(stove.Combined, 100), put(piece("beech", 1, 18, 0.38), 3))).onCoals(0.6, 150)
	hot.room, hot.outdoor = 25, 25
	add("25 °C inside and outside: draft on coals, Pa", 3, 40, float64(b.burn(hot).at(30).Draft), owned)
}

// owners is what somebody with twenty winters sees.
func owners(b *bench, add func(string, float64, float64, float64, string)) {
	s := appliance(stove.SecondaryAir, 55, 0, stove.Combined)
	staged := func(f stove.Family, u, final, hours float64, d stove.Direction) *burnt {
		l := piece("beech", 1.5, u, 0.33)
		l.Direction = d
		moves := append([]fire.Move{do(turn(stove.Combined, 100), put(l, 4))}, shutBypass(f, 40)...)
		moves = append(moves, fire.Move{When: fire.Trigger{After: 4 * 60e9, Charred: true, Latest: 40 * 60e9}, Do: []fire.Act{turn(stove.Combined, 50)}},
			after(6, turn(stove.Combined, (50+final)/2)), after(6, turn(stove.Combined, final)))
		e := evenings(appliance(f, 55, 0, stove.Combined), hours, moves...).onCoals(0.6, 110)
		e.room = 19
		return b.burn(e)
	}
	var low *burnt
	setting := 10.0
	for _, o := range []float64{8, 10, 12.5, 15, 17.5, 20, 25, 30, 40} {
		setting = o
		if low = staged(stove.SecondaryAir, 18, o, 10, stove.EndOn); low.smoke() < 5 && low.Summary.Smoulder < 5*60e9 && low.Summary.ToCoals > 0 && low.Summary.ToCoals < 5*3600e9 {
			break
		}
	}
	hours := func(r *burnt) float64 {
		if r.Summary.ToCoals <= 0 {
			return 12
		}
		return r.Summary.ToCoals.Hours()
	}
	add("staged to the lowest clean setting: hours", 3, 5, hours(low), owned)
	add("the same: efficiency, net %", 70, 84, low.net(), b415)
	add("the same: particulates, g/kg", 1, 5, low.smoke(), tunnels)
	add("the same: top, °C", 200, 320, float64(low.Summary.PeakTop), owned)
	side := staged(stove.SecondaryAir, 18, setting, 14, stove.Sideways)
	add("sideways: times as long", 1.25, 2, hours(side)/hours(low), owned)
	open := b.burn(evenings(s, 8, do(turn(stove.Combined, 100), put(piece("beech", 1.5, 18, 0.33), 4))).onCoals(0.6, 110))
	add("wide open: hours", 1, 2, hours(open), owned)
	add("wide open: hottest gas, °C", 500, 700, float64(open.Summary.PeakGas), owned)
	add("wide open: efficiency lower, points", 10, 30, low.net()-open.net(), b415)
	wet := staged(stove.SecondaryAir, 35, setting, 12, stove.EndOn)
	add("wood at 35 %: top lower by K", 50, 160, float64(low.Summary.PeakTop-wet.Summary.PeakTop), owned)
	add("wood at 35 %: times the smoke", 2, 8, wet.smoke()/low.smoke(), series)
	single := func() fire.Act { return put(piece("beech", 1.5, 18, 0.33), 1) }
	ones := b.burn(evenings(s, 8, do(turn(stove.Combined, 50), single()), after(50, single()), after(50, single())).onCoals(0.6, 110))
	three := b.burn(evenings(s, 8, do(turn(stove.Combined, 50), put(piece("beech", 1.5, 18, 0.33), 3))).onCoals(0.6, 110))
	add("three single pieces over three together: smoke", 1.3, 4, ones.smoke()/three.smoke(), owned)
	cat := staged(stove.Catalytic, 18, setting, 12, stove.EndOn)
	never := b.burn(evenings(appliance(stove.Catalytic, 55, 0, stove.Combined), 12, do(turn(stove.Combined, 100), put(piece("beech", 1.5, 18, 0.33), 4)),
		fire.Move{When: fire.Trigger{After: 4 * 60e9, Charred: true, Latest: 40 * 60e9}, Do: []fire.Act{turn(stove.Combined, 50)}},
		after(6, turn(stove.Combined, (50+setting)/2)), after(6, turn(stove.Combined, setting))).onCoals(0.6, 110))
	add("catalyst engaged over never: times less smoke", 3, 12, never.smoke()/cat.smoke(), tunnels)
	add("the same: efficiency, points", 6, 20, cat.net()-never.net(), b415)
	l := piece("white-oak", 2.25, 18, 0.4)
	l.Direction = stove.Sideways
	night := evenings(appliance(stove.SecondaryAir, 70, 0, stove.Combined), 9, do(turn(stove.Combined, 100), put(l, 4)),
		fire.Move{When: fire.Trigger{After: 4 * 60e9, Charred: true, Latest: 40 * 60e9}, Do: []fire.Act{turn(stove.Combined, 50)}},
		after(6, turn(stove.Combined, 30)), after(6, turn(stove.Combined, 12.5))).onCoals(0.75, 110)
	r := b.burn(night)
	add("a night of 9 kg of oak: coals at dawn, kg", 0.3, 1.5, float64(r.Summary.Coals)+0.001, owned)
	add("the same: particulates, g/kg", 1, 7, r.smoke(), tunnels)
	mid := b.burn(evenings(s, 8, do(turn(stove.Combined, 50), put(piece("beech", 1.5, 18, 0.33), 4))).onCoals(0.6, 110))
	add("half open: mean CO2, %", 8, 13, mid.mean(co2, 0.5, mid.coaled(0.06)), b415)
	add("half open: least O2, %", 3, 12, -mid.peak(func(s fire.Sample) float64 { return -o2(s) }, 0.5, mid.coaled(0.06)), b415)
	logs := evenings(appliance(stove.SecondaryAir, 20, 5, stove.Combined), 4, do(turn(stove.Combined, 50), put(piece("beech", 1, 18, 0.25), 1))).onCoals(0.22, 110)
	add("1 kg log in 20 L at half: min to coals", 28, 55, b.burn(logs).Summary.ToCoals.Minutes(), owned)
	shut := b.burn(evenings(s, 2, do(turn(stove.Combined, 100), put(piece("beech", 1.5, 18, 0.33), 4)), after(20, turn(stove.Combined, 0))).onCoals(0.6, 110))
	g := shut.gas(25, 85)
	add("choked in full flame: kg in the hour", 0.25, 0.8, g.wood, owned)
	add("the same: CO/CO2", 0.1, 0.45, g.CO/g.CO2, "smouldering of wood")
	add("the same: particulates, g/kg", 10, 60, 1000*g.pm/1000/g.wood, "smouldering of wood")
	many := b.burn(evenings(s, 2, do(turn(stove.Combined, 100), put(piece("beech", 0.3, 15, 0.33), 30))).onCoals(0.6, 110))
	add("thirty sticks at once: particulates, g/kg", 5, 40, many.smoke(), owned)
	cold := evenings(s, 2, do(turn(stove.Combined, 100), fire.Act{Kind: fire.ActLoad, Load: lone()}))
	cold.room = 19
	add("a lone log in a cold stove: kg/h after half an hour", 0.0005, 0.1, max(0.001, rate(b.burn(cold).at(35))), owned)
	add("half open: quickest five minutes over the mean", 1.3, 3, mid.quickest(mid.coaled(0.06)), "scale records")
}

// lone is a log that a wax block lights, without kindling or coals.
func lone() *fire.Load {
	l := piece("beech", 2, 18, 0.33)
	l.Pieces, l.Lay, l.StarterKind = 1, fire.TopDown, fire.WaxBlock
	return &l
}
