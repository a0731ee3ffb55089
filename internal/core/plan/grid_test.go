package plan

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// Every candidate can be done: whole pieces that are there and fit, openings on
// the control's marks, nothing turned up when it should be turned down.
func TestTheGridIsDoable(t *testing.T) {
	scales := []stove.Scale{{Kind: stove.Lever}, {Kind: stove.Turns, Full: 3}, {Kind: stove.Millimetres, Full: 25}, {Kind: stove.Sixteenths, Full: 8},
		{Kind: stove.PercentOpen}, {Kind: stove.Notches, Notches: []string{"shut", "one", "two", "three", "open"}}}
	for _, scale := range scales {
		for _, start := range []Start{Cold, FewCoals, GoodCoals} {
			for _, most := range []float64{1, 0.6, 0.4} {
				w := tenHours()
				w.Start = start
				w.Stove.Controls[0].Scale = scale
				w.Wood.Stack.Mass = 5 * w.Wood.Stack.PieceMass
				all := w.candidates(most)
				require.NotEmpty(t, all, "%s %s up to %g", scale.Kind, start, most)
				for _, c := range all {
					doable(t, w, c, most)
				}
			}
		}
	}
}

func doable(t *testing.T, w Wish, c candidate, most float64) {
	t.Helper()
	scale := w.Stove.Controls[0].Scale
	woods := w.woods()
	assert.Greater(t, c.brisk, c.final, "turned down, not up")
	assert.LessOrEqual(t, c.brisk, scale.Nearest(most)+1e-9)
	assert.InDelta(t, scale.Nearest(c.final), c.final, 1e-9, "%s has no mark at %g", scale.Kind, c.final)
	assert.InDelta(t, scale.Nearest(c.brisk), c.brisk, 1e-9)
	assert.GreaterOrEqual(t, c.pause, 3*time.Minute)
	assert.Positive(t, c.first+c.main)
	assert.Equal(t, w.Start != GoodCoals, c.first > 0, "from cold, and on few coals, there is something to light")
	taken := map[int]int{}
	taken[c.firstOf] += c.first
	taken[c.mainOf] += c.main
	for of, n := range taken {
		assert.LessOrEqual(t, n, woods[of].Stack.Pieces(), "no more than there are")
	}
	assert.LessOrEqual(t, float64(woods[c.mainOf].Stack.PieceMass)*float64(c.main), float64(w.Stove.MaxLoad)+1e-9, "the manual's load")
	assert.LessOrEqual(t, woods[c.mainOf].Stack.PieceLength, w.Stove.LongestPiece(c.direction))
}

// Candidates that are the same fire until it is turned down lie together.
func TestTogether(t *testing.T) {
	w := tenHours()
	all := w.candidates(1)
	runs := together(all)
	next := 0
	for _, r := range runs {
		require.Equal(t, next, r[0], "one after the other, with nothing between")
		next = r[1]
		for _, c := range all[r[0]:r[1]] {
			c.final, c.pause = all[r[0]].final, all[r[0]].pause
			assert.Equal(t, all[r[0]], c)
		}
	}
	assert.Equal(t, len(all), next)
	assert.Less(t, len(runs), len(all)/5, "most is burnt once")
	assert.Empty(t, together(nil))
}

// Judging from a shared beginning gives what judging one by one gives.
func TestSharedBeginningsChangeNothing(t *testing.T) {
	w := tenHours()
	w.Others, w.For = nil, 4*time.Hour
	all := w.grid(mesh{2, 3, 2, 2, 1}, 1)
	runs := together(all)
	for _, r := range runs[:4] {
		verdicts := make([]verdict, r[1]-r[0])
		meter := &Meter{}
		w.judge(all[r[0]:r[1]], verdicts, meter)
		burnt, _ := meter.Read()
		assert.Equal(t, len(verdicts), burnt)
		for i, c := range all[r[0]:r[1]] {
			alone := w.weighed(c, nil, fire.Run(w.setup(), fireSteps(w.steps(c)), w.searching()))
			assert.InDelta(t, alone.merit, verdicts[i].merit, 1e-9)
			assert.Equal(t, alone.summary, verdicts[i].summary)
		}
	}
}

func TestRefusalsAndReasonsInTheOwnersUnits(t *testing.T) {
	w := tenHours()
	w.Wood.Stack.PieceMass = 9
	err := w.check()
	refused := new(Refusal)
	require.ErrorAs(t, err, &refused)
	assert.Contains(t, refused.Why, "weighs 9.0 kg")
	assert.Contains(t, refused.In(units.Imperial).Why, "lb")
	assert.NotContains(t, refused.In(units.Imperial).Why, "kg")
	assert.Equal(t, refused.Try, refused.In(units.Imperial).Try)
	w.Wood.Stack.PieceLength = 2
	require.ErrorAs(t, w.check(), &refused)
	assert.Contains(t, refused.Why, "2000 mm long")
	assert.Contains(t, refused.In(units.Imperial).Why, "in long")
	nothing := plain("a", "b")
	assert.Same(t, nothing, nothing.In(units.Imperial), "nothing to convert")
	assert.False(t, w.Suits(w.Wood.Stack))
	assert.True(t, w.Suits(tenHours().Wood.Stack))
	assert.False(t, w.Suits(wood.Stack{Name: "briquettes", Species: wood.Species{Mineral: true}}))
	assert.Equal(t, "1.8 degree-hours", degreeHours(1, 1, units.Imperial))
	assert.Equal(t, "1.0 degree-hours", degreeHours(1, 1, units.Metric))
}

// Hours in which everybody is out count a fifth, when somebody comes back; who
// only goes to bed wants the night as warm.
func TestAnEmptyRoomCountsLess(t *testing.T) {
	w := tenHours()
	w.Aim, w.Low, w.High = Hold, 30, 31 // always too cold
	c := w.candidates(1)[0]
	r := fire.Run(w.setup(), fireSteps(w.steps(c)), w.searching())
	cold := func(aim Aim, there Presence) float64 {
		w.Aim, w.There = aim, there
		return w.weighed(c, nil, r).cold
	}
	whole := cold(Hold, nil)
	out := Presence{{To: 2 * time.Hour}, {From: 8 * time.Hour, To: 20 * time.Hour}}
	assert.InDelta(t, whole*(4+6*emptyRoom)/10, cold(Hold, out), 0.12*whole)
	assert.InDelta(t, whole, cold(Hold, out[:1]), 1e-9, "nobody comes back: they may be asleep upstairs")
	assert.InDelta(t, whole, cold(Overnight, out), 1e-9)
}
