package say_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/fire"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// What is seen through the glass is told as somebody would who sits before it: pieces are counted,
// kindling is not.
func TestScene(t *testing.T) {
	big := fire.Lying{Pieces: 3, Black: 0.95}
	sticks := fire.Lying{Pieces: 12, Kindling: true, Black: 0.3}
	for name, one := range map[string]struct {
		lies []fire.Lying
		says string
	}{
		"a load":            {[]fire.Lying{big}, "3 pieces, black all over."},
		"on its kindling":   {[]fire.Lying{big, sticks}, "3 pieces, black all over."},
		"one, wood shows":   {[]fire.Lying{{Pieces: 1, Black: 0.6}}, "One piece, wood still shows."},
		"of two, the worst": {[]fire.Lying{big, {Pieces: 2, Black: 0.2}}, "5 pieces, hardly black yet."},
		"kindling alone":    {[]fire.Lying{sticks}, "Kindling, hardly black yet."},
	} {
		s := fire.Scene{Lying: one.lies}
		s.Wood, s.Flame = 3, 1
		assert.Contains(t, say.Scene(s, lang.Metric), one.says, name)
	}
	assert.NotContains(t, say.Scene(fire.Scene{}, lang.Metric), "black", "an empty firebox")
}
