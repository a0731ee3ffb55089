package languages_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/languages"
)

// What a language gives as an example of what may be typed is understood, and means what the
// English of it means.
func TestExamplesOfAmountsAreUnderstood(t *testing.T) {
	all, err := lang.Gather(languages.Files)
	require.NoError(t, err)
	catalogue, err := lang.Catalogued()
	require.NoError(t, err)
	ash, err := wood.SpeciesByKey("ash")
	require.NoError(t, err)
	kind := wood.Kind{Species: ash, PieceMass: 1.6, PieceLength: 0.33, Moisture: 0.18, Spread: 0.02}
	examples := func(list string) []string {
		list = strings.TrimSuffix(strings.TrimPrefix(list, "⟦"), "⟧")
		list, _, _ = strings.Cut(list, "|") // in metric units
		return strings.FieldsFunc(strings.NewReplacer(" or ", "|", " oder ", "|", "; ", "|", ", rising", " rising", ", ansteigend", " ansteigend", ", ", "|").Replace(list),
			func(r rune) bool { return r == '|' })
	}
	met := 0
	for _, l := range all.All() {
		for message := range catalogue.Messages {
			english, said := string(message), lang.In(l, units.Metric).T(message)
			if !strings.Contains(english, "800 kg") || !strings.Contains(english, "3 rm") && !strings.Contains(english, "300 pieces") {
				continue
			}
			if strings.Contains(english, "{") || strings.Contains(english, "%") {
				continue
			}
			for _, example := range examples(said) {
				_, err := wood.ParseAmount(example, units.Metric, kind)
				assert.NoError(t, err, "%s: %q", l.Name, example)
				met++
			}
		}
	}
	assert.Greater(t, met, 15)
	for german, english := range map[string]string{"3 Raummeter": "3 rm", "2,5 m3 gestapelt": "2.5 m3 stacked", "3 m3 lose": "3 m3 loose", "12 Kisten zu 60 Liter": "12 crates of 60 L",
		"300 Scheite": "300 pieces", "ein Anhänger von 2 x 1,2 x 0,5 m": "a trailer of 2 x 1.2 x 0.5 m", "Haufen 3 x 2 x 1 m": "heap 3 x 2 x 1 m",
		"3 Reihen von 4 x 1,5/1,2/0,9 m x 33 cm, ansteigend um 0,4 m": "3 rows of 4 x 1.5/1.2/0.9 m x 33 cm, rising 0.4 m", "2 Schüttraummeter": "2 srm",
		"1,5 Festmeter": "1.5 fm", "800 Kilogramm": "800 kg", "20 Säcke zu 15 kg": "20 sacks of 15 kg", "4 m mal 1,5 m mal 33 cm": "4 m x 1.5 m x 33 cm"} {
		in, err := wood.ParseAmount(english, units.Metric, kind)
		require.NoError(t, err, english)
		out, err := wood.ParseAmount(german, units.Metric, kind)
		if assert.NoError(t, err, german) {
			assert.InDelta(t, float64(in.Middle), float64(out.Middle), 0.001, german)
			assert.Equal(t, in.Way, out.Way, german)
		}
	}
}

// Units by their German names are the units; a Pfund is not guessed.
func TestUnitsByTheirGermanNames(t *testing.T) {
	for typed, want := range map[string]float64{"6 Meter": 6, "15 Zentimeter": 0.15, "150 Millimeter": 0.15, "6 Zoll": 0.1524, "3 Fuß": 0.9144} {
		got, err := units.ParseLength(typed, units.Metric)
		if assert.NoError(t, err, typed) {
			assert.InDelta(t, want, float64(got), 1e-9, typed)
		}
	}
	warm, err := units.ParseTemperature("21 Grad", units.Metric)
	require.NoError(t, err)
	assert.InDelta(t, 21, float64(warm), 1e-9)
	wet, err := units.ParseMoisture("18 Prozent")
	require.NoError(t, err)
	assert.InDelta(t, 0.18, float64(wet), 1e-9)
	_, err = units.ParseMass("3 Pfund", units.Metric)
	require.Error(t, err)
}

// A name in a sentence keeps its capital in German, a mark has its comma, and what is printed of it
// is understood again.
func TestNamesAndMarksInGerman(t *testing.T) {
	all, err := lang.Gather(languages.Files)
	require.NoError(t, err)
	loc := lang.In(all.Named("de"), units.Metric)
	assert.Equal(t, "Asche herausnehmen", loc.Mid("Asche herausnehmen"))
	assert.Equal(t, "lever", lang.Metric.Mid("Lever"))
	turns := stove.Scale{Kind: stove.Turns, Full: 11}
	printed := say.Mark(turns, 0.25, loc)
	assert.Equal(t, "2,75 Umdrehungen", printed)
	back, err := say.ReadMark(turns, loc)(printed)
	require.NoError(t, err)
	assert.InDelta(t, 0.25, back, 1e-6)
	assert.Equal(t, "2.75 turns", say.Mark(turns, 0.25, lang.Metric))
	assert.Equal(t, "5.5 turns", say.Mark(turns, 0.5, lang.Metric))
	assert.Equal(t, "10 turns", say.Mark(stove.Scale{Kind: stove.Turns, Full: 20}, 0.5, lang.Metric))
}
