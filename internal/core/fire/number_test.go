package fire

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestLookUpsAreAsGoodAsTheySay(t *testing.T) {
	for x := 0.0; x < 25; x += 0.00137 {
		assert.InDelta(t, math.Exp(-x), decay(x), 3e-9*math.Exp(-x)+4e-11, "e^−%v", x)
	}
	assert.Equal(t, math.Exp(0.5), decay(-0.5))
	assert.Zero(t, decay(math.Inf(1)))
	p := power{exponent: 0.6}
	for x := 0.05; x < 9; x *= 1.0007 {
		assert.InEpsilon(t, math.Pow(x, 0.6), p.at(x), 3.1e-6, "%v^0.6", x)
	}
	assert.InEpsilon(t, math.Pow(0.2, 0.6), p.at(0.2), 1e-12, "a jump is computed anew")
	assert.Zero(t, p.at(-1))
}

func TestWoodIsSplitWithoutLoss(t *testing.T) {
	// Char and volatiles together are the wood of the flue-gas method.
	assert.InEpsilon(t, 0.50/molC, charShare*charCarbon+(1-charShare)*gasCarbon, 1e-12)
	assert.InEpsilon(t, woodOxygen, charShare*charOxygen+(1-charShare)*gasOxygen, 1e-12)
	assert.InDelta(t, 4.77, airForGas, 0.03)
	assert.InDelta(t, 10.7, airForChar, 0.1)
}
