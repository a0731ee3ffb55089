package wood_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// weather is a year on the island from the first of March, near enough.
func weather(days int) []wood.Day {
	out := make([]wood.Day, days)
	for i := range out {
		warm := 1 - 2*abs(float64((i+45)%365)/365-0.5)*1.0 // 0 in midwinter, 1 in midsummer
		out[i] = wood.Day{Air: units.Celsius(3 + 13*warm), Humidity: units.Fraction(0.86 - 0.14*warm)}
	}
	return out
}

func abs(x float64) float64 { return max(x, -x) }

func TestHowFastAStackDries(t *testing.T) {
	usual := wood.DryingRate(0.12, false, wood.Roof, 0.5)
	assert.InDelta(t, 0.012, usual, 0.0005, "a 12 cm split under a roof")
	assert.InDelta(t, usual/2, wood.DryingRate(0.12, true, wood.Roof, 0.5), 1e-9, "a round takes twice as long")
	assert.Greater(t, wood.DryingRate(0.06, false, wood.Roof, 0.5), 2*usual, "thin pieces dry fast")
	before := 1.0
	for _, c := range []wood.Cover{wood.Inside, wood.Roof, wood.Top, wood.Open, wood.Wrap} {
		k := wood.DryingRate(0.12, false, c, 0.5)
		assert.Less(t, k, before, "%s", c)
		before = k
	}
	warm, cool := wood.DryDay(0.5, usual, wood.Day{Air: 25, Humidity: 0.6}), wood.DryDay(0.5, usual, wood.Day{Air: 15, Humidity: 0.6})
	assert.InEpsilon(t, 2, float64((0.5-warm)/(0.5-cool)), 0.06, "doubling with every 10 K")
	assert.Greater(t, wood.DryDay(0.10, usual, wood.Day{Air: 5, Humidity: 0.95}), units.Fraction(0.10), "dry wood takes on water in damp air")
}

func TestReadyDateIsAnInterval(t *testing.T) {
	b := wood.Prior(wood.DryingRate(0.12, false, wood.Roof, 0.5))
	r := b.ReadyIn(0.55, 0.20, weather(3*365))
	require.Positive(t, r.Middle)
	assert.Less(t, r.Early, r.Middle)
	assert.Less(t, r.Middle, r.Late)
	assert.InDelta(t, 200, r.Middle, 130, "splits cut in March are dry the same year or early in the next")
	assert.Zero(t, b.ReadyIn(0.18, 0.20, nil).Late, "what is dry is ready now")
	assert.Equal(t, -1, b.ReadyIn(0.55, 0.05, weather(400)).Middle, "drier than the air allows: never")
	assert.Equal(t, -1, b.ReadyIn(0.55, 0.20, weather(30)).Late, "nor in a month")
}

// The owner's readings move the belief to the truth and narrow it.
func TestReadingsTeach(t *testing.T) {
	const truth = 0.021
	days := weather(200)
	prior := wood.Prior(0.012)
	r := rand.New(rand.NewPCG(7, 7)) //nolint:gosec // the same readings every time
	u := units.Fraction(0.55)
	var readings []wood.MeterReading
	for day, d := range days {
		if day > 0 && day%40 == 0 {
			readings = append(readings, wood.MeterReading{Day: day, Moisture: u + units.Fraction(r.NormFloat64()*0.01)})
		}
		u = wood.DryDay(u, truth, d)
	}
	one, all := prior.Learn(0.55, days, readings[:1]), prior.Learn(0.55, days, readings)
	assert.InEpsilon(t, truth, all.Rate, 0.06)
	assert.Less(t, one.Doubt, prior.Doubt)
	assert.Less(t, all.Doubt, one.Doubt, "more readings, less doubt")
	early, late := prior.ReadyIn(0.55, 0.2, weather(900)), all.ReadyIn(0.55, 0.2, weather(900))
	assert.Less(t, late.Late-late.Early, early.Late-early.Early, "and a narrower date")
	same := prior.Learn(0.55, days, nil)
	assert.InEpsilon(t, prior.Rate, same.Rate, 0.01, "nothing read, nothing learned")
	assert.InEpsilon(t, prior.Doubt, same.Doubt, 0.02)
}

func TestShapesAndKinds(t *testing.T) {
	beech, _ := wood.SpeciesByKey("beech")
	assert.InDelta(t, 1000*0.65*0.56, float64(wood.InStack(beech, 1000, wood.Neat)), 1e-9)
	assert.Less(t, wood.InStack(beech, 1000, wood.Tipped), wood.InStack(beech, 1000, wood.Crooked))
	s := wood.Stack{Species: beech, Reading: 0.18, WoodTemp: 20}
	plain := s.Moisture()
	s.Species.Offset = 0.02
	assert.InDelta(t, float64(plain)-0.02, float64(s.Moisture()), 1e-12, "a kind whose grain misleads the meter")
	mineral, err := wood.SpeciesByKey("mineral-fuel")
	require.NoError(t, err)
	assert.Equal(t, wood.NotBurning, wood.Stack{Species: mineral}.Readiness())
}
