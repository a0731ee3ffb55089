package stove

import "smolder/internal/core/flue"

// Middling is a stove of a family such as many have: an air control, one for the second air
// where the family has it, a probe in the pipe, and what the family has besides.
func Middling(f Family) Stove {
	percent := Scale{Kind: PercentOpen}
	st := Stove{Name: string(f), Family: f, Volume: 40, Width: 0.42, Depth: 0.36, Height: 0.30, Output: 7000, MaxLoad: 5,
		Chimney: flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.Insulated},
		Controls: []Control{{Key: "primary", Name: "Primary air", Role: PrimaryAir, Scale: percent},
			{Key: "second", Name: "Second air", Role: SecondAir, Scale: percent}},
		Gauges: []Gauge{NewGauge(ConnectorProbe)}}
	switch f {
	case Plain:
		st.Controls = st.Controls[:1]
	case Catalytic:
		st.Controls = []Control{st.Controls[0], {Key: "bypass", Name: "Bypass", Role: BypassRole, Scale: percent}}
		st.Gauges = append(st.Gauges, NewGauge(CatalystProbe))
	case Tiny:
		st.Volume, st.Width, st.Depth, st.Height, st.Output, st.MaxLoad = 10, 0.24, 0.20, 0.21, 2500, 1.2
		st.Chimney = flue.Chimney{Height: 3, Diameter: 0.1, Lining: flue.Insulated}
	}
	return st
}
