package wish_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/fixture"
	"smolder/internal/core/wish"
)

func TestDraftBeforeLighting(t *testing.T) {
	w := fixture.Evening(0, 0, wish.Cold)
	w.Room, w.Outdoor = 18, 0
	calm := wish.BeforeLighting(w)
	w.House.Fan, w.House.N50 = 400, 1.5
	hood := wish.BeforeLighting(w)
	assert.True(t, hood.DoNot, "a hood in a tight house: do not light (%v Pa)", hood.Net)
	assert.Less(t, hood.Net, calm.Net)
	assert.Greater(t, hood.FanOff, hood.Net)
	assert.Greater(t, hood.Window, hood.Net)
	assert.Greater(t, hood.Primed, hood.Net, "each help helps")
	w.Help.Window = true
	assert.InDelta(t, float64(hood.Window), float64(wish.BeforeLighting(w).Net), 1e-9, "what is wished is what was shown")
	w.Help = wish.Help{}
	w.Stove.Chimney.Outside = true
	assert.Less(t, wish.BeforeLighting(w).Net, hood.Net, "a chimney on an outside wall is colder")
}
