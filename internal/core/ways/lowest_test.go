package ways_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/plan"
	"smolder/internal/core/review"
	"smolder/internal/core/stove"
	"smolder/internal/core/ways"
)

// How low a stove burns clean is what its own burns say, and only where they agree.
func TestLowest(t *testing.T) {
	left := func(at float64, change ...func(*ways.Burn)) ways.Burn {
		b := burnt(review.Way{Final: at, Loads: 1}, 20, 0, 1)
		b.SmokePerKg = 3
		for _, c := range change {
			c(&b)
		}
		return b
	}
	smoulders := func(b *ways.Burn) { b.Smoulder = time.Hour }
	smoked := func(b *ways.Burn) { b.Eye.Smoke = "for long" }
	tooFar := func(b *ways.Burn) { b.Findings = []review.Finding{{Code: review.TooFar}} }
	small := func(b *ways.Burn) { b.Used = 1 }
	for name, c := range map[string]struct {
		burns []ways.Burn
		want  float64
	}{
		"nothing":                        {nil, 0},
		"only higher":                    {[]ways.Burn{left(0.3), left(0.25)}, 0},
		"once":                           {[]ways.Burn{left(0.1)}, 0},
		"twice":                          {[]ways.Burn{left(0.1), left(0.1)}, 0.1},
		"nearly the same mark":           {[]ways.Burn{left(0.1), left(0.11)}, 0.1},
		"once lower, once higher":        {[]ways.Burn{left(0.05), left(0.15)}, 0.15},
		"lower smouldered":               {[]ways.Burn{left(0.05, smoulders), left(0.12), left(0.12)}, 0.12},
		"smoke was seen":                 {[]ways.Burn{left(0.1, smoked), left(0.1, smoked), left(0.1)}, 0},
		"too far, by the review":         {[]ways.Burn{left(0.1, tooFar), left(0.1), left(0.15)}, 0.15},
		"hardly any wood":                {[]ways.Burn{left(0.1, small), left(0.1, small)}, 0},
		"shut altogether says nothing":   {[]ways.Burn{left(0), left(0)}, 0},
		"four of five":                   {[]ways.Burn{left(0.1), left(0.1), left(0.1, smoulders), left(0.1), left(0.1)}, 0.1},
		"one of two is no agreement yet": {[]ways.Burn{left(0.1), left(0.1, smoulders)}, 0},
	} {
		assert.Equal(t, c.want, ways.Lowest(c.burns, stove.SecondaryAir), name)
	}
	lever := stove.Control{Scale: stove.Scale{Kind: stove.PercentOpen}}
	assert.Contains(t, plan.Openings(lever, 3, 0.1), 0.1)
	for _, o := range plan.Openings(lever, 9, plan.Floor) {
		assert.GreaterOrEqual(t, o, plan.Floor-0.011)
	}
}
