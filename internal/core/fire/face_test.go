package fire

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// oneFace holds one face of a thick piece under a constant flux in open air, as
// a cone calorimeter does, and returns when it takes, s, and how quickly it
// chars between 10 and 40 minutes, mm/min.
func oneFace(gravity, u, flux float64) (taking, charring float64) {
	const dt = 1.0
	in := inertia(gravity, u)
	at := reference
	for at < takes {
		at = warmFace(at, in, woodEmits*(flux-sigma*(pow4(at)-pow4(reference)))-airFilm*(at-reference), dt)
		taking += dt
		if taking > 3600 {
			return taking, 0
		}
	}
	depth, from := 0.0, 0.0
	for t := 0.0; t < 2400; t += dt {
		if t == 600 {
			from = depth
		}
		next, _, _, front := burnFace(at, flux+sigma*pow4(reference), 1, ownFlame, airFilm, reference, charLets(at, depth, &Usual), dt)
		at = next
		depth += front / need(u) / (gravity * 1000) * dt
	}
	return taking, (depth - from) / 30 * 1000
}

func TestOneFaceUnderConstantFlux(t *testing.T) {
	for _, c := range []struct {
		name                   string
		gravity, u, flux       float64
		soon, late, slow, fast float64
	}{
		{"beech, 50 kW/m²", 0.56, 0.12, 50e3, 15, 60, 0.5, 0.8},
		{"beech, 25 kW/m²", 0.56, 0.12, 25e3, 40, 200, 0.25, 0.45},
		{"spruce, 50 kW/m²", 0.37, 0.12, 50e3, 8, 60, 0.6, 1.0},
	} {
		taking, charring := oneFace(c.gravity, c.u, c.flux)
		t.Logf("%-18s takes after %3.0f s, chars %.2f mm/min", c.name, taking, charring)
		assert.InDelta(t, (c.soon+c.late)/2, taking, (c.late-c.soon)/2, c.name)
		assert.InDelta(t, (c.slow+c.fast)/2, charring, (c.fast-c.slow)/2, c.name)
	}
	_, dry := oneFace(0.56, 0.12, 50e3)
	_, wet := oneFace(0.56, 0.35, 50e3)
	assert.Less(t, wet, 0.85*dry, "wet wood chars slower")
}
