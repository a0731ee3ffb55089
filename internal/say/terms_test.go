package say_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/review"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/upkeep"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/lang/langtest"
	"smolder/internal/say"
)

// TestEveryNameOfTheCoreIsSaid finds what the core names and no language can say.
func TestEveryNameOfTheCoreIsSaid(t *testing.T) {
	l, err := langtest.Language()
	assert.NoError(t, err)
	loc := lang.In(l, units.Metric)
	said := func(english, text string) {
		t.Helper()
		assert.NotEmpty(t, text, english)
		assert.Empty(t, langtest.Outside(text), english)
	}
	for _, s := range wood.AllSpecies() {
		said(s.Name, say.Species(s, loc))
		assert.Equal(t, s.Name, say.Species(s, lang.Metric))
	}
	for _, p := range []fire.Phase{fire.Preparing, fire.Lighting, fire.Establishing, fire.Charring, fire.Cruising, fire.Coaling, fire.Out, review.Smouldering} {
		said(string(p), say.Phase(p, loc))
		assert.Equal(t, string(p), say.Phase(p, lang.Metric))
	}
	for _, d := range []stove.Direction{stove.EndOn, stove.Sideways} {
		said(string(d), loc.T(say.Direction(d)))
		assert.Equal(t, string(d), say.Direction(d).English())
	}
	for _, m := range burn.EyeMarks {
		said(m.Asks, say.EyeMark(m.Asks, loc))
		for _, may := range m.May {
			said(may, say.EyeMark(may, loc))
			assert.Equal(t, may, say.EyeMark(may, lang.Metric))
		}
	}
	for _, c := range upkeep.Charcoals {
		said(c.Says, say.Charcoal(c.Says, loc))
	}
	said(fire.LeftOver, say.StackName(fire.LeftOver, loc))
	assert.Equal(t, "Oak, north stack", say.StackName("Oak, north stack", loc), "what somebody has typed stays")
	assert.Equal(t, "Medlar", say.Species(wood.Species{Key: "medlar", Name: "Medlar"}, loc), "and so does wood that a file brought with it")
}

// TestMarksAreReadAsTheyArePrinted types what a page shows in another language.
func TestMarksAreReadAsTheyArePrinted(t *testing.T) {
	l, err := langtest.Language()
	assert.NoError(t, err)
	for _, loc := range []lang.Locale{lang.In(l, units.Metric), lang.Metric} {
		for _, s := range []stove.Scale{{Kind: stove.Lever}, {Kind: stove.Lever, OpenLeft: true}, {Kind: stove.Turns, Full: 4},
			{Kind: stove.Millimetres, Full: 12}, {Kind: stove.Sixteenths, Full: 10}, {Kind: stove.Notches, Notches: []string{"zu", "halb", "auf"}},
			{Kind: stove.PercentOpen}} {
			for _, o := range s.Steps() {
				text := say.Mark(s, o, loc)
				read, err := say.ReadMark(s, loc)(text)
				assert.NoError(t, err, "%s of %s in %s", text, s.Kind, loc.Tag())
				english, _ := say.ReadMark(s, lang.Metric)(say.Mark(s, o, lang.Metric))
				assert.InDelta(t, english, read, 1e-9, "%s of %s in %s", text, s.Kind, loc.Tag())
			}
		}
		read, err := say.ReadMark(stove.Scale{Kind: stove.Lever}, loc)("a third")
		assert.NoError(t, err, "English is always read")
		assert.InDelta(t, 1./3, read, 0.01)
	}
}
