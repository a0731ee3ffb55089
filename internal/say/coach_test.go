package say_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/mill"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/say"
)

// Every rule is said, with numbers and without, in both systems of units.
func TestEveryRuleIsSaid(t *testing.T) {
	st := mill.Stoves()[mill.Auntie].Stove
	lever, _ := st.MainAir()
	full := coach.Advice{Sets: []plan.Setting{{Control: lever, Opening: 0.5}}, Acts: []fire.Act{{Kind: fire.ActDoor, Door: fire.Ajar}},
		Gauge: stove.ConnectorProbe, Reading: 310, Limit: 475, Rate: 21, Since: 7 * time.Minute, From: 4 * time.Minute, To: 9 * time.Minute,
		Draft: 1, Mass: 4.2, Again: 5 * time.Minute}
	for _, code := range append(coach.Codes(), coach.Fine) {
		for _, a := range []coach.Advice{full, {Gauge: stove.Top}} {
			a.Code = code
			for _, sys := range []units.System{units.Metric, units.Imperial} {
				c := say.Coach(coach.Answer{Advice: a}, st, nil, sys)
				if code == coach.OverLimit {
					continue // the log's own alarm says it
				}
				assert.NotEmpty(t, c.Sees, code)
				assert.NotEmpty(t, c.Why, code)
				for _, text := range []string{c.Sees, c.Do, c.Why, c.Else, c.Again} {
					assert.NotContains(t, text, "%!", code)
					assert.NotContains(t, text, "  ", code)
					assert.False(t, strings.HasSuffix(text, ".."), code)
				}
			}
		}
	}
	said := say.Coach(coach.Answer{Advice: coach.Advice{Code: coach.Climbing, Sets: full.Sets, Gauge: full.Gauge, Reading: 400, Limit: 475, Rate: 21,
		From: 4 * time.Minute, To: 9 * time.Minute, Again: 3 * time.Minute}}, st, nil, units.Metric)
	assert.Equal(t, "The flue gas climbs by 21 °C a minute: over 475 °C in 4–9 min as it goes.", said.Sees)
	assert.Equal(t, "Lever to a half", said.Do)
	assert.Equal(t, "Look again in 3 min.", said.Again)
	for _, why := range []coach.Elsewhere{coach.OtherAir, coach.OtherLoad, coach.Late, coach.Unlikely} {
		assert.NotEmpty(t, say.Reworked(why))
	}
	for _, code := range []coach.Saying{coach.WatchLimit, coach.WatchFlames, coach.WatchBlack, coach.WatchProbe, coach.WatchCoals,
		coach.WatchDoor, coach.WatchCap} {
		assert.NotEmpty(t, say.Watched(coach.Watched{Code: code, Gauge: stove.Top, Limit: 400, Control: lever, Opening: 0.5}, units.Imperial), code)
	}
}
