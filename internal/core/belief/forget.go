package belief

import "slices"

// A Change is something that makes a stove another one, as far as it is known.
type Change string

// The changes.
const (
	Gasket   Change = "gasket"   // of the door or the glass: what leaks
	Swept    Change = "swept"    // the flue, the connector, the cap
	NewGauge Change = "gauge"    // another thermometer, or the same in another place
	Moved    Change = "moved"    // the stove, or much of it is new: all is as usual again
	Air      Change = "air"      // a control was mended or taken apart
	Insulate Change = "insulate" // the space was altered
)

// Changes in the order in which they are offered.
var Changes = []Change{Gasket, Swept, NewGauge, Air, Insulate, Moved}

// changed are the numbers that a change makes unknown again.
var changed = map[Change][]string{
	Gasket:   {"leak"},
	Swept:    {"flue loss"},
	NewGauge: {"probe", "top", "surface", "catalyst", "firebox", "door", "lag"},
	Air:      {"inlets", "curve", "leak"},
	Insulate: {"room loss"},
	Moved:    nil, // all
}

// forgets is the share of the usual variance that is added from burn to burn: stoves
// and their users drift. A fiftieth keeps about what the last fifteen burns have taught.
const forgets = 0.02

// Older is the same belief by the next burn: a little wider, and never wider than usual.
func (p Prior) Older() Prior {
	usual := Usual()
	p.Covariance = slices.Clone(p.Covariance)
	n := len(p.Names)
	for i, name := range p.Names {
		if k := slices.Index(usual.Names, name); k >= 0 {
			most := usual.Covariance[k*len(usual.Names)+k]
			if at := &p.Covariance[i*n+i]; *at < most {
				*at = min(most, *at+forgets*most)
			}
		}
	}
	return p
}

// After is what is still believed after a change: the numbers that it touches are as
// usual again.
func (p Prior) After(c Change) Prior {
	if c == Moved {
		return Usual()
	}
	usual := Usual()
	p.Mean, p.Covariance = slices.Clone(p.Mean), slices.Clone(p.Covariance)
	n := len(p.Names)
	for _, name := range changed[c] {
		i, k := slices.Index(p.Names, name), slices.Index(usual.Names, name)
		if i < 0 || k < 0 {
			continue
		}
		p.Mean[i] = 0
		for j := range n {
			p.Covariance[i*n+j], p.Covariance[j*n+i] = 0, 0
		}
		p.Covariance[i*n+i] = usual.Covariance[k*len(usual.Names)+k]
	}
	return p
}
