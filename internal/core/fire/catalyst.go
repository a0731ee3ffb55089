package fire

// A catalyst.
//
// Gas passes a honeycomb whose coating lets it burn at half the heat that it
// needs by itself. Two things limit it: the coating works from light-off on, and
// what is to burn must reach the wall of its channel,
//
//	caught = 1 − e^(−NTU)      NTU = works · transfer / flow
//
// and the oxygen that is left. Monoxide and hydrogen go first, then tar, methane
// hardly. Half of the heat stays in the honeycomb, which radiates to baffle and
// body.
const (
	catalystWorks  = 533.0 // K of the honeycomb, at which half of its coating works: light-off at 260 °C; 480 to 570
	catalystWithin = 45.0  // K on either side from where it does not, and fully
	catalystReach  = 3.9   // NTU of monoxide at the rated flow; 3 to 5 for channels of 2 to 4 mm
	catchesLight   = 0.28  // for light gas, of which much is methane
	catchesSoot    = 0.15  // what strikes the walls
	combSlips      = 0.105 // share of the gas that finds its way past: edges, the bypass's seat; 0.02 to 0.1
	catalystKeeps  = 0.80  // of the heat, in the honeycomb
	honeycomb      = 16.0  // W/K of gas on it, at the rated flow
	combArea       = 0.030 // m² for each 55 L to the two-thirds, that looks at baffle and body
	catalystLoss   = 3.0   // K of the honeycomb when the bypass is shut
	coldCatalyst   = 1.5   // K more while it is too cold to burn off what settles on it
	bypassOpens    = 0.5   // opening from which the short way is taken
	combOverCoals  = 60.0  // K that a honeycomb is warmer than the body over a bed of coals; 40 to 75 as one burns down
)

// engaged tells whether the gas goes through a catalyst.
func (s *Fire) engaged() bool { return s.p.catalyst && s.open.bypass <= bypassOpens }

// catch burns in the catalyst what it can of the gas that is left.
func (s *Fire) catch(p *pool, g *gasFlows) {
	if !s.engaged() || g.lost <= 0 {
		return
	}
	works := smooth(s.catalyst, catalystWorks-catalystWithin, catalystWorks+catalystWithin)
	reach := s.p.combActive * works * catalystReach * s.p.comb / max(0.2, s.air.total/(ratedAir))
	past := func(ease float64) float64 { return (1 - combSlips) * (1 - decay(reach*ease)) }
	monoxide, tar, light, soot := past(1), past(s.k.CombTar), past(catchesLight), past(catchesSoot)
	// It cannot use more oxygen than there is.
	there := s.air.total*oxygenInAir/molAir - (s.out.volatiles*gasOxygen + s.bed.rate*charOxygen) + p.needs()
	asks := p.monoxide/2*monoxide + p.tar*tarOxygen*tar + 2*p.light*light + p.soot*soot
	if asks <= 0 {
		return
	}
	allowed := clamp(0.97*there/asks, 0, 1)
	p.monoxide -= p.monoxide * monoxide * allowed
	p.water += p.tar*tar*allowed*tarVapour + 2*p.light*light*allowed
	p.tar -= p.tar * tar * allowed
	p.light -= p.light * light * allowed
	p.soot -= p.soot * soot * allowed
	left := p.energy()
	g.caught = g.lost - left
	g.lost = left
}
