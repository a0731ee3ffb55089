package hearth

import (
	"testing"

	"smolder/internal/lang"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const aPage = `<div class="live"><p data-swap="head">Lever to a <b>half</b></p><div data-swap="log"><ul><li>lit &amp; shut</li></ul></div><p>stays</p></div>`

// A page is taken apart by its marks; what a page shows already is not sent again.
func TestPartsOfAPage(t *testing.T) {
	all, err := partsOf([]byte(aPage))
	require.NoError(t, err)
	assert.Equal(t, parts{"head": "Lever to a <b>half</b>", "log": "<ul><li>lit &amp; shut</li></ul>"}, all)
	assert.Equal(t, all, all.missing(nil), "whoever shows nothing known gets all")
	assert.Empty(t, all.missing(all.shows()))
	changed, err := partsOf([]byte(`<p data-swap="head">Lever to a <b>third</b></p><div data-swap="log"><ul><li>lit &amp; shut</li></ul></div>`))
	require.NoError(t, err)
	assert.Equal(t, parts{"head": "Lever to a <b>third</b>"}, changed.missing(all.shows()))
	text, err := changed.event(lang.Metric)
	require.NoError(t, err)
	assert.Contains(t, text, "event: parts\ndata: {")
	assert.Equal(t, "\n\n", text[len(text)-2:])
	assert.NotContains(t, text[:len(text)-2], "\n\n", "an event has no empty line in it")
	none, err := partsOf(nil)
	require.NoError(t, err)
	assert.Empty(t, none)
}

// Of many burns only some are remembered; the one that is looked at keeps its place.
func TestShowingForgets(t *testing.T) {
	var s showing
	first := s.of(shownAs{1, lang.Metric})
	assert.Same(t, first, s.of(shownAs{1, lang.Metric}))
	assert.NotSame(t, first, s.of(shownAs{1, lang.Imperial}))
	for id := int64(2); id < mostShown+10; id++ {
		assert.NotNil(t, s.of(shownAs{id, lang.Metric}))
	}
	assert.LessOrEqual(t, len(s.all), mostShown)
	assert.NotSame(t, first, s.of(shownAs{1, lang.Metric}), "it is put together anew")
}
