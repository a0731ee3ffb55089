package search_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/wish"
)

// Who wants to put a log on at a time gets an evening of single pieces, each after the one
// before by what it takes to burn, and hears what that costs.
func TestALogAtATime(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.GoodCoals)
	w.Outdoor, w.For, w.Fixed.Each = -3, 6*time.Hour, 1
	c, err := search.Plans(context.Background(), w, search.Quick, nil)
	require.NoError(t, err)
	p := c.Plans[0]
	loads := p.AllLoads()
	require.GreaterOrEqual(t, len(loads), 3, "an evening of them")
	last := time.Duration(-1)
	for _, l := range loads {
		assert.Equal(t, 1, l.Pieces)
	}
	for _, s := range p.Steps {
		if s.Kind != plan.LoadIt && s.Kind != plan.FeedIt {
			continue
		}
		if last >= 0 {
			assert.Greater(t, s.Expected-last, 15*time.Minute)
			assert.Less(t, s.Expected-last, 100*time.Minute)
		}
		last = s.Expected
	}
	assert.Zero(t, c.Plans[len(c.Plans)-1].Wish.Fixed, "the best with nothing fixed is beside it")
	w.Fixed.Each = 30
	_, err = search.Plans(context.Background(), w, search.Quick, nil)
	refused := &wish.Refusal{}
	require.ErrorAs(t, err, &refused)
}

// What it is lit with is an act of its own: what lights from below is given a lay that is lit
// there, and a door that stands on the latch for an igniter is not touched before its cycle ends.
func TestStartersAreDifferentActs(t *testing.T) {
	for _, row := range fire.Starters {
		w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
		w.OneLoad, w.Starter = true, row.Key
		c, err := search.Plans(context.Background(), w, search.Quick, nil)
		require.NoError(t, err, row.Key)
		p := c.Plans[0]
		assert.Equal(t, row.Key, p.Kindling.StarterKind)
		onTop := p.Lay == fire.TopDown || p.Lay == fire.Raft
		assert.Equal(t, !row.Below, onTop, "%s: %s", row.Key, p.Lay)
		for _, s := range p.Steps {
			if s.Kind == plan.ShutDoor && row.Latched {
				assert.GreaterOrEqual(t, s.Fire.When.After, row.For)
			}
		}
	}
}
