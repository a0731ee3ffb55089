package units_test

import (
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/units"
)

func ExampleParseTemperature() {
	t, _ := units.ParseTemperature("450F", units.Metric)
	fmt.Println(units.Metric.Temperature(t))
	_, err := units.ParseTemperature("hot", units.Metric)
	fmt.Println(err)
	// Output:
	// 232 °C
	// "hot" is not a temperature: it does not start with a number; 232 C or 450F would do
}

// quantity binds a parser to one signature, so that one table serves all.
func quantity[T ~float64](parse func(string, units.System) (T, error)) func(string, units.System) (float64, error) {
	return func(s string, sys units.System) (float64, error) { v, err := parse(s, sys); return float64(v), err }
}

var (
	temperature = quantity(units.ParseTemperature)
	draft       = quantity(units.ParseDraft)
	mass        = quantity(units.ParseMass)
	length      = quantity(units.ParseLength)
	small       = quantity(units.ParseSmallLength)
	volume      = quantity(units.ParseVolume)
	flow        = quantity(units.ParseFlow)
	power       = quantity(units.ParsePower)
	area        = quantity(units.ParseArea)
	rooms       = quantity(units.ParseRoomVolume)
	wind        = quantity(units.ParseWind)
)

func TestQuantitiesAsPeopleTypeThem(t *testing.T) {
	for _, c := range []struct {
		parse  func(string, units.System) (float64, error)
		typed  string
		system units.System
		want   float64
	}{
		{temperature, "450F", units.Metric, 232.22},
		{temperature, "232 c", units.Imperial, 232},
		{temperature, "450", units.Imperial, 232.22},
		{temperature, " −4° ", units.Metric, -4},
		{temperature, "18,5 °C", units.Metric, 18.5},
		{temperature, "300 K", units.Metric, 26.85},
		{draft, "0.06 inwc", units.Metric, 14.945},
		{draft, "0.05", units.Imperial, 12.454},
		{draft, "12", units.Metric, 12},
		{mass, "12 lb", units.Metric, 5.443},
		{mass, "800g", units.Metric, 0.8},
		{mass, "5", units.Imperial, 2.268},
		{length, "20 ft", units.Metric, 6.096},
		{length, "6", units.Metric, 6},
		{small, "3/16 in", units.Metric, 0.0047625},
		{small, "1 1/2 in", units.Metric, 0.0381},
		{small, "½ in", units.Metric, 0.0127},
		{small, "150", units.Metric, 0.150},
		{small, "6", units.Imperial, 0.1524},
		{volume, "2.1 ft3", units.Metric, 59.465},
		{volume, "1.5 cords", units.Metric, 5430},
		{volume, "400m3", units.Metric, 400000},
		{flow, "180 cfm", units.Metric, 305.82},
		{power, "24000 BTU/h", units.Metric, 7033.7},
		{power, "7", units.Metric, 7000},
		// thousands, as people and this program write them
		{mass, "2,000 lb", units.Metric, 907.18},
		{mass, "2,000", units.Imperial, 907.18},
		{power, "45,000", units.Imperial, 13188},
		{power, "45,000 BTU/h", units.Metric, 13188},
		{power, "45 000 BTU/hr", units.Metric, 13188},
		{power, "13\u202f200 BTU/h", units.Imperial, 3868.5},
		{length, "1,500 ft", units.Metric, 457.2},
		{mass, "1,234,567 g", units.Metric, 1234.567},
		{mass, "1,234.5 kg", units.Metric, 1234.5},
		{mass, "1.234,5 kg", units.Metric, 1234.5},
		{mass, "0,500 kg", units.Metric, 0.5},
		{mass, "1,5 kg", units.Metric, 1.5},
		{mass, "1.500 kg", units.Metric, 1.5},
		// other ways to say it
		{volume, "70 liters", units.Metric, 70},
		{volume, "2 cubic feet", units.Metric, 56.634},
		{length, "24 ft 6 in", units.Metric, 7.4676},
		{length, `24' 6"`, units.Metric, 7.4676},
		{length, "24 feet and 6 inches", units.Metric, 7.4676},
		{length, "1 m 50 cm", units.Metric, 1.5},
		{mass, "12 lb 8 oz", units.Metric, 5.67},
		{area, "480 sq ft", units.Metric, 44.593},
		{area, "45", units.Metric, 45},
		{rooms, "300", units.Metric, 300000},
		{wind, "10 knots", units.Metric, 5.14444},
		{small, "⅜ in", units.Metric, 0.009525},
		{small, "1⅝ in", units.Metric, 0.041275},
		{small, "half an inch", units.Metric, 0.0127},
		{temperature, "70°", units.Imperial, 21.11},
		{temperature, "70 degrees F", units.Metric, 21.11},
	} {
		got, err := c.parse(c.typed, c.system)
		require.NoError(t, err, c.typed)
		assert.InEpsilon(t, c.want, got, 2e-4, "%q read as %v, want %v", c.typed, got, c.want)
	}
}

func TestNonsenseGetsASentence(t *testing.T) {
	for _, c := range []struct {
		parse       func(string, units.System) (float64, error)
		typed, says string
	}{
		{temperature, "", "a temperature is missing: 232 C or 450F would do"},
		{temperature, "warm", `"warm" is not a temperature: it does not start with a number`},
		{temperature, "20 kg", `the unit "kg" is not known here`},
		{temperature, "5000", "it must be between −60 °C and 1300 °C"},
		{temperature, "1/0", "the number in it makes no sense"},
		{temperature, "9" + string(make([]byte, 400)), "not a temperature"},
		{mass, "-3 kg", "it must be between 0.0 kg and"},
		{mass, "NaN", "does not start with a number"},
		{draft, "1e400", "is not known here"},
		{volume, "12 bananas", `the unit "bananas" is not known here`},
		// what may be meant in two ways is asked, with both
		{mass, "1,500 kg", "1,500 may be 1500 or 1.5; 1500 kg or 1.5 kg would do"},
		{mass, "1,500", "1500 kg or 1.5 kg would do"},
		{mass, "12,34,567 kg", "makes no sense"},
		{length, "24 ft 16 in", "what follows the first unit"},
		{length, "24 ft 6 kg", "is not known here"},
		{mass, strings.Repeat("1", 300), "it is too long"},
	} {
		_, err := c.parse(c.typed, units.Metric)
		var parse *units.ParseError
		require.True(t, errors.As(err, &parse), "%q gave %v", c.typed, err)
		assert.ErrorContains(t, err, c.says)
		assert.Equal(t, c.typed, parse.Input, "what was typed stays")
	}
	for typed, says := range map[string]string{"400%": "between 4 and 120 %", "wet": "does not start", "2%": "between 4 and 120 %"} {
		_, err := units.ParseMoisture(typed)
		assert.ErrorContains(t, err, says, typed)
	}
	for _, typed := range []string{"2.5 pieces", "0", "-1", "many"} {
		_, err := units.ParsePieces(typed)
		assert.Error(t, err, typed)
	}
}

// What is printed must be read back as the same, in either system: forms show
// values that way and are sent back unchanged.
func TestPrintedIsReadBack(t *testing.T) {
	for _, s := range []units.System{units.Metric, units.Imperial} {
		for _, v := range []float64{-7.25, 0, 4, 21.5, 98.6, 232, 451} {
			got, err := units.ParseTemperature(s.Temperature(units.Celsius(v)), s)
			require.NoError(t, err)
			assert.InDelta(t, v, float64(got), 0.51)
		}
		for _, v := range []float64{0.4, 1.3, 6.2, 140} {
			got, err := units.ParseMass(s.Mass(units.Kilogram(v)), s)
			require.NoError(t, err)
			assert.InDelta(t, v, float64(got), 0.51)
			l, err := units.ParseSmallLength(s.Size(units.Metre(v/100)), s)
			require.NoError(t, err)
			assert.InDelta(t, v/100, float64(l), 0.0013)
			d, err := units.ParseDraft(s.Draft(units.Pascal(v)), s)
			require.NoError(t, err)
			assert.InDelta(t, v, float64(d), 0.51)
			vol, err := units.ParseVolume(s.Volume(units.Litre(v*100)), s)
			require.NoError(t, err)
			assert.InEpsilon(t, v*100, float64(vol), 0.04)
			p, err := units.ParsePower(s.Power(units.Watt(v*1000)), s)
			if err == nil { // thousands are printed apart for eyes only
				assert.InEpsilon(t, v*1000, float64(p), 0.15)
			}
		}
	}
}

func TestPrinting(t *testing.T) {
	for got, want := range map[string]string{
		units.Number(-0.04, 1):                                       "0.0",
		units.Number(-3.21, 1):                                       "−3.2",
		units.Metric.RoomTemperature(21.5):                           "21.5 °C",
		units.Metric.RoomTemperature(19):                             "19 °C",
		units.Imperial.RoomTemperature(21.5):                         "71 °F",
		units.Metric.Draft(4.14):                                     "4.1 Pa",
		units.Imperial.Draft(14.945):                                 "0.060 in wc",
		units.Imperial.Sign(239):                                     "460 °F",
		units.Metric.Sign(237.4):                                     "235 °C",
		units.Imperial.Speed(8):                                      "18 mph",
		units.Metric.Speed(7.6):                                      "8 m/s",
		units.Imperial.Air(47000):                                    "1\u202f660 ft³",
		units.Metric.Air(47300):                                      "47 m³",
		units.Metric.EnergyRange(46*3.6e6, 53*3.6e6):                 "46–53 kWh",
		units.Metric.EnergyRange(4.6*3.6e6, 5.3*3.6e6):               "4.6–5.3 kWh",
		units.Metric.Energy(10148.6 * 3.6e6):                         "10\u202f149 kWh",
		units.Imperial.Energy(3.6e6):                                 "3\u202f400 BTU",
		units.Duration(200 * time.Minute):                            "3 h 20 min",
		units.Duration(14 * time.Minute):                             "14 min",
		units.Duration(-90 * time.Minute):                            "−1 h 30 min",
		units.Percent(0.184, 0):                                      "18 %",
		units.Imperial.Volume(5430):                                  "1.50 cords",
		units.Metric.Mass(2397):                                      "2397 kg",
		units.Number(func() float64 { z := 0.0; return z / z }(), 1): "not known",
	} {
		assert.Equal(t, want, got)
	}
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"450F", "3/16 in", "1 1/2", "½", "−4°", "1,5 kg", "0.06 inwc", "18%"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, typed string) {
		for _, parse := range []func(string, units.System) (float64, error){temperature, draft, mass, length, small, volume, flow, power} {
			if v, err := parse(typed, units.Metric); err == nil && (v != v || v > 1e9 || v < -1e9) {
				t.Fatalf("%q read as %v", typed, v)
			}
		}
	})
}

// Limits are said in the reader's own units.
func TestRefusalsSpeakTheReadersUnits(t *testing.T) {
	for _, c := range []struct {
		parse       func(string, units.System) (float64, error)
		typed, says string
	}{{temperature, "5000", "between −76 °F and 2372 °F"}, {length, "90000", "29527.6 ft"}, {power, "900,000", "BTU/h"}, {draft, "90", "2.007 in wc"}} {
		_, err := c.parse(c.typed, units.Imperial)
		require.ErrorContains(t, err, c.says)
		assert.NotContains(t, strings.Split(err.Error(), ";")[0], "°C")
	}
}

// Every example that a refusal gives is itself accepted.
func TestEveryExampleWorks(t *testing.T) {
	for name, parse := range map[string]func(string, units.System) (float64, error){"temperature": temperature, "draft": draft, "mass": mass,
		"length": length, "small": small, "volume": volume,
		"flow": flow, "power": power, "area": area, "rooms": rooms, "wind": wind,
		"pieces": func(s string, _ units.System) (float64, error) {
			n, err := units.ParsePieces(s)
			return float64(n), err
		},
		"percent": func(s string, _ units.System) (float64, error) {
			n, err := units.ParsePercent(s)
			return float64(n), err
		},
		"moisture": func(s string, _ units.System) (float64, error) {
			n, err := units.ParseMoisture(s)
			return float64(n), err
		},
	} {
		for _, sys := range []units.System{units.Metric, units.Imperial} {
			_, err := parse("neither fish nor fowl", sys)
			wrong := new(units.ParseError)
			require.ErrorAs(t, err, &wrong, name)
			for _, example := range strings.Split(strings.ReplaceAll(wrong.Try, " or ", ", "), ", ") {
				_, err := parse(example, sys)
				assert.NoError(t, err, "%s, %s", name, sys)
			}
		}
	}
}

// A page of text pasted into a field does not become a page of message.
func TestALongInputIsShortenedInItsMessage(t *testing.T) {
	_, err := units.ParseMass(strings.Repeat("long ", 1000), units.Metric)
	require.Error(t, err)
	assert.Less(t, len(err.Error()), 200)
	assert.Contains(t, err.Error(), "long long")
	wrong := new(units.ParseError)
	require.ErrorAs(t, err, &wrong)
	assert.Len(t, wrong.Input, 5000, "and nothing of it is lost")
}
