package search_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"smolder/internal/core/fixture"
	"smolder/internal/core/search"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
)

// A stove whose air has two notches is refused for that, and not for want of wood.
func TestTwoNotches(t *testing.T) {
	w := fixture.Evening(0, 0, wish.Cold)
	w.Stove.Controls = []stove.Control{{Key: "air", Name: "Slide", Role: stove.Combined, Scale: stove.Scale{Kind: stove.Notches, Notches: []string{"shut", "open"}}}}
	_, err := search.Plans(context.Background(), w, search.Quick, nil)
	refused := new(wish.Refusal)
	require.ErrorAs(t, err, &refused)
	require.Equal(t, search.NoSetting, refused.Code)
}
