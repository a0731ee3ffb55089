package lang_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// TestWhatALanguagePrintsIsRead types every figure that a page shows in a language with a
// decimal comma into the field that takes it, since forms begin with what was printed: it is
// what the same figure is in English.
func TestWhatALanguagePrintsIsRead(t *testing.T) {
	de := read(t, german)
	for _, sys := range []units.System{units.Metric, units.Imperial} {
		here, english := lang.In(de, sys), lang.English(sys)
		for name, of := range map[string]struct {
			low, high float64
			print     func(lang.Locale, float64) string
			read      func(string) (float64, error)
		}{
			"mass":   {0.05, 900, func(l lang.Locale, v float64) string { return l.Mass(units.Kilogram(v)) }, parsed(units.ParseMass, sys)},
			"piece":  {0.05, 9, func(l lang.Locale, v float64) string { return l.Piece(units.Kilogram(v)) }, parsed(units.ParseMass, sys)},
			"length": {1, 20, func(l lang.Locale, v float64) string { return l.Length(units.Metre(v)) }, parsed(units.ParseLength, sys)},
			"size":   {0.05, 1.5, func(l lang.Locale, v float64) string { return l.Size(units.Metre(v)) }, parsed(units.ParseSmallLength, sys)},
			"volume": {5, 300, func(l lang.Locale, v float64) string { return l.Volume(units.Litre(v)) }, parsed(units.ParseVolume, sys)},
			"room":   {-20, 35, func(l lang.Locale, v float64) string { return l.RoomTemperature(units.Celsius(v)) }, parsed(units.ParseTemperature, sys)},
			"draft":  {-20, 40, func(l lang.Locale, v float64) string { return l.Draft(units.Pascal(v)) }, parsed(units.ParseDraft, sys)},
			"power":  {1000, 15000, func(l lang.Locale, v float64) string { return l.Power(units.Watt(v)) }, parsed(units.ParsePower, sys)},
		} {
			rapid.Check(t, func(r *rapid.T) {
				v := rapid.Float64Range(of.low, of.high).Draw(r, "v")
				typed := of.print(here, v)
				want, err := of.read(of.print(english, v))
				assert.NoError(r, err, "%s %s", sys, name)
				got, err := of.read(typed)
				assert.NoError(r, err, "%s %s %q", sys, name, typed)
				assert.InDelta(r, want, got, 1e-9, "%s %s %q", sys, name, typed)
			})
		}
	}
}

func parsed[T ~float64](of func(string, units.System) (T, error), sys units.System) func(string) (float64, error) {
	return func(typed string) (float64, error) {
		v, err := of(typed, sys)
		return float64(v), err
	}
}
