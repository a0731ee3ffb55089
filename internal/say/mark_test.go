package say_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/stove"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// What a control is said to stand at is what its own scale reads.
func TestMarksAreReadBack(t *testing.T) {
	lever := stove.Scale{Kind: stove.Lever}
	left := stove.Scale{Kind: stove.Lever, OpenLeft: true}
	turns := stove.Scale{Kind: stove.Turns, Full: 4}
	gap := stove.Scale{Kind: stove.Millimetres, Full: 15}
	sixteenths := stove.Scale{Kind: stove.Sixteenths, Full: 12}
	notches := stove.Scale{Kind: stove.Notches, Notches: []string{"shut", "one", "two", "three", "open"}}
	percent := stove.Scale{Kind: stove.PercentOpen}
	for _, c := range []struct {
		scale stove.Scale
		typed string
		says  string
	}{
		{lever, "a third", "a third"}, {lever, "half", "a half"}, {lever, "right", "fully right"}, {lever, "left", "fully left"},
		{lever, "25%", "a quarter"}, {lever, "1/8", "an eighth"}, {lever, "0.42", "42 %"}, {lever, "open", "fully right"},
		{left, "left", "fully left"}, {left, "right", "fully right"}, {left, "shut", "fully right"},
		{turns, "2.5 turns", "2.5 turns"}, {turns, "1", "1 turn"}, {turns, "closed", "shut"}, {turns, "50%", "2 turns"},
		{gap, "4 mm", "4 mm"}, {gap, "15", "fully open"}, {gap, "3/16 in", "4.76 mm"},
		{sixteenths, "3/16 in", "3/16 in"}, {sixteenths, "6", "3/8 in"},
		{notches, "two", "two"}, {notches, "4", "three"}, {notches, "Open", "open"},
		{percent, "40%", "40 %"}, {percent, "40", "40 %"}, {percent, "0.25", "25 %"},
	} {
		got, err := c.scale.Parse(c.typed)
		require.NoError(t, err, "%s %q", c.scale.Kind, c.typed)
		assert.Equal(t, c.says, say.Mark(c.scale, got, lang.Metric))
	}
	for _, s := range []stove.Scale{lever, left, turns, gap, {Kind: stove.Sixteenths, Full: 16}, notches, percent} {
		for _, o := range s.Steps() {
			got, err := s.Parse(say.Mark(s, o, lang.Metric))
			require.NoError(t, err, "%s: %q", s.Kind, say.Mark(s, o, lang.Metric))
			assert.InDelta(t, o, got, 0.022, "%s: %q", s.Kind, say.Mark(s, o, lang.Metric))
		}
	}
}
