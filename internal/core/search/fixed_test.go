package search_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// What an owner fixes is kept, the rest is found, and the best with nothing fixed stands
// beside it.
func TestWhatIsFixedIsKept(t *testing.T) {
	on := night(stove.SecondaryAir, 55, 11)
	on.Aim, on.For, on.Room = wish.Hold, 5*time.Hour, 18
	oak := of(2, "oak", 1.8, 0.33, 0.17)
	on.Others = []wish.Pick{oak}
	cold := on
	cold.Start = wish.Cold
	for name, c := range map[string]struct {
		w     wish.Wish
		fixed wish.Fixed
		keeps func(p plan.Plan) bool
	}{
		"pieces on coals":  {on, wish.Fixed{Main: 3}, func(p plan.Plan) bool { return p.Main == 3 }},
		"direction":        {on, wish.Fixed{Direction: stove.Sideways}, func(p plan.Plan) bool { return p.Direction == stove.Sideways }},
		"last setting":     {on, wish.Fixed{Final: 0.2}, func(p plan.Plan) bool { return p.Final == 0.2 }},
		"first setting":    {on, wish.Fixed{Brisk: 0.5}, func(p plan.Plan) bool { return p.Steps[0].Opening == 0.5 }},
		"stack":            {on, wish.Fixed{MainOf: 2}, func(p plan.Plan) bool { return p.MainOf.ID == 2 }},
		"wood in all":      {on, wish.Fixed{Most: 3.2}, func(p plan.Plan) bool { return p.Mass() <= 3.2 }},
		"pieces to light":  {cold, wish.Fixed{First: 2}, func(p plan.Plan) bool { return p.First == 2 }},
		"nothing on coals": {cold, wish.Fixed{Main: wish.NoLoad}, func(p plan.Plan) bool { return p.Main == 0 }},
		"stack by load": {cold, wish.Fixed{FirstOf: 2, MainOf: 1}, func(p plan.Plan) bool {
			return p.FirstOf.ID == 2 && (p.Main == 0 || p.MainOf.ID == 1)
		}},
		"all of it": {on, wish.Fixed{Main: 4, Direction: stove.EndOn, Brisk: 0.75, Final: 0.25}, func(p plan.Plan) bool {
			return p.Main == 4 && p.Direction == stove.EndOn && p.Steps[0].Opening == 0.75 && p.Final == 0.25
		}},
	} {
		w := c.w
		w.Fixed = c.fixed
		w.OneLoad = true
		got, err := search.Plans(t.Context(), w, search.Quick, nil)
		require.NoError(t, err, name)
		assert.True(t, c.keeps(got.Plans[0]), "%s: %s", name, told(got.Plans[0]))
		free := got.Plans[len(got.Plans)-1]
		assert.False(t, free.Wish.Fixed.Any(), "%s: what it costs can be said", name)
		assert.True(t, got.Plans[0].Wish.Fixed.Any(), name)
	}
}

// What cannot be is refused by what is wrong with it.
func TestWhatCannotBeFixed(t *testing.T) {
	w := night(stove.SecondaryAir, 55, 11)
	for want, fixed := range map[string]wish.Fixed{
		string(wish.FixedPieces):   {Main: 12},
		string(wish.FixedLittle):   {Most: 0.5},
		string(wish.FixedAir):      {Brisk: 0.4, Final: 0.5},
		string(search.FixedTooHot): {Main: 7, Direction: stove.EndOn, Brisk: 1, Final: 0.9},
	} {
		w.Fixed = fixed
		_, err := search.Plans(t.Context(), w, search.Quick, nil)
		refused := new(wish.Refusal)
		require.ErrorAs(t, err, &refused, want)
		assert.Equal(t, want, string(refused.Code))
	}
	w.Fixed = wish.Fixed{Direction: stove.EndOn}
	w.Wood.Stack.PieceLength = w.Stove.LongestPiece(stove.EndOn) + 0.02
	_, err := search.Plans(t.Context(), w, search.Quick, nil)
	refused := new(wish.Refusal)
	require.ErrorAs(t, err, &refused)
	assert.Equal(t, wish.FixedWay, refused.Code)
}

// A gauge that is to be held is held nearer to its number than by an evening's fire, and
// more coals are left where they are asked for.
func TestAGaugeAndCoalsAreWishesToo(t *testing.T) {
	w := night(stove.SecondaryAir, 55, 11)
	w.Aim, w.For, w.Room, w.OneLoad = wish.HoldGauge, 3*time.Hour, 18, true
	w.Target = wish.Target{Place: stove.Top, At: 160}
	off := func(p plan.Plan) (sum float64) {
		n := 0.0
		for i, v := range p.Predicted.Gauges[stove.Top] {
			if at := time.Duration(i) * p.Predicted.Every; at >= time.Hour && at <= w.For {
				sum, n = sum+abs(v-160), n+1
			}
		}
		return sum / n
	}
	held, err := search.Best(t.Context(), w, search.Usual, nil)
	require.NoError(t, err)
	evening := w
	evening.Aim, evening.Low, evening.High = wish.Hold, 22, 24
	hot, err := search.Best(t.Context(), evening, search.Usual, nil)
	require.NoError(t, err)
	assert.Less(t, off(held), off(hot))
	assert.Less(t, off(held), 45.0, told(held))

	w.Aim, w.Target, w.For = wish.TakeOff, wish.Target{}, 6*time.Hour
	plain, err := search.Best(t.Context(), w, search.Usual, nil)
	require.NoError(t, err)
	w.Embers = true
	embers, err := search.Best(t.Context(), w, search.Usual, nil)
	require.NoError(t, err)
	end := func(p plan.Plan) float64 { return p.Predicted.Coals[int(w.For/p.Predicted.Every)] }
	assert.Greater(t, end(embers), end(plain)+0.05, "%s | %s", told(plain), told(embers))
}

// A night with wet wood only is refused; one dry piece goes before a wet load.
func TestNoNightOnWetWood(t *testing.T) {
	w := night(stove.SecondaryAir, 55, 11)
	w.Wood.Stack.Reading = 0.25
	_, err := search.Plans(t.Context(), w, search.Quick, nil)
	refused := new(wish.Refusal)
	require.ErrorAs(t, err, &refused)
	assert.Equal(t, wish.NightWet, refused.Code)
	dry := of(2, "beech", 1.5, 0.33, 0.17)
	dry.Stack.Mass = units.Kilogram(4.5)
	w.Others = []wish.Pick{dry}
	p, err := search.Best(t.Context(), w, search.Quick, nil)
	require.NoError(t, err)
	assert.Equal(t, int64(2), p.MainOf.ID)
}

func abs(v float64) float64 { return max(v, -v) }

// Who looks in seldom gets a plan that bears it: with every turn-down half an hour late it is
// safe in nine of ten, where the plan of who stays by is not, or is no worse.
func TestAPlanForWhoLooksSeldom(t *testing.T) {
	w := night(stove.SecondaryAir, 55, 11)
	w.Aim, w.For, w.Room, w.OneLoad = wish.Hold, 5*time.Hour, 18, true
	stays, err := search.Best(t.Context(), w, search.Usual, nil)
	require.NoError(t, err)
	w.Seldom = true
	bears, err := search.Best(t.Context(), w, search.Usual, nil)
	require.NoError(t, err)
	assert.LessOrEqual(t, float64(bears.Trust.Of-bears.Trust.Safe), 0.1*float64(bears.Trust.Of), told(bears))
	safe := func(p plan.Plan) (n int) {
		for _, l := range plan.Live(w, p.Steps, plan.Worlds, fire.Options{Until: w.For, Every: 2 * time.Minute}) {
			if !l.Unsafe() {
				n++
			}
		}
		return n
	}
	assert.GreaterOrEqual(t, safe(bears), safe(stays), "stays by: %s; seldom: %s", told(stays), told(bears))
	turned := func(p plan.Plan) time.Duration {
		for _, s := range p.Steps {
			if s.Kind == plan.TurnDown {
				return s.Expected
			}
		}
		return -1
	}
	assert.Greater(t, turned(bears), turned(stays)+5*time.Minute, "and its times say when they come")
}
