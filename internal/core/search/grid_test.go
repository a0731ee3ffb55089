package search

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
)

// of is a search for a wish with the usual effort.
func of(w wish.Wish) search { return search{Wish: w.Prepared(), effort: Usual} }

// Every candidate can be done: whole pieces that are there and fit, openings on
// the control's marks, nothing turned up when it should be turned down.
func TestTheGridIsDoable(t *testing.T) {
	scales := []stove.Scale{{Kind: stove.Lever}, {Kind: stove.Turns, Full: 3}, {Kind: stove.Millimetres, Full: 25}, {Kind: stove.Sixteenths, Full: 8},
		{Kind: stove.PercentOpen}, {Kind: stove.Notches, Notches: []string{"shut", "one", "two", "three", "open"}}}
	for _, scale := range scales {
		for _, start := range []wish.Start{wish.Cold, wish.FewCoals, wish.GoodCoals} {
			for _, most := range capped {
				w := fixture.TenHours()
				w.Start = start
				w.Stove.Controls[0].Scale = scale
				w.Wood.Stack.Mass = 5 * w.Wood.Stack.PieceMass
				all := of(w).candidates(most)
				require.NotEmpty(t, all, "%s %s up to %g", scale.Kind, start, most)
				for _, r := range all {
					doable(t, w, r, most)
				}
			}
		}
	}
}

func doable(t *testing.T, w wish.Wish, r plan.Recipe, most float64) {
	t.Helper()
	scale := w.Stove.Controls[0].Scale
	woods := w.Woods()
	assert.Greater(t, r.Brisk, r.Final, "turned down, not up")
	assert.LessOrEqual(t, r.Brisk, scale.Nearest(most)+1e-9)
	assert.InDelta(t, scale.Nearest(r.Final), r.Final, 1e-9, "%s has no mark at %g", scale.Kind, r.Final)
	assert.InDelta(t, scale.Nearest(r.Brisk), r.Brisk, 1e-9)
	assert.GreaterOrEqual(t, r.Pause, 3*time.Minute)
	assert.Positive(t, r.First+r.Main)
	assert.Equal(t, w.Start != wish.GoodCoals, r.First > 0, "from cold, and on few coals, there is something to light")
	taken := map[int]int{}
	taken[r.FirstOf] += r.First
	taken[r.MainOf] += r.Main
	for of, n := range taken {
		assert.LessOrEqual(t, n, woods[of].Stack.Pieces(), "no more than there are")
	}
	assert.LessOrEqual(t, float64(woods[r.MainOf].Stack.PieceMass)*float64(r.Main), float64(w.Stove.MaxLoad)+1e-9, "the manual's load")
	assert.LessOrEqual(t, woods[r.MainOf].Stack.PieceLength, w.Stove.LongestPiece(r.Direction))
}

// A ten-hour plan is sought among a thousand fires, whatever it starts from and
// however it is laid; a quick one among some forty.
func TestAThousandAreTried(t *testing.T) {
	for _, lay := range []fire.Lay{"", fire.OpenV, fire.Raft} {
		for _, start := range wish.Starts {
			for _, others := range []int{0, 1} {
				w := fixture.TenHours()
				w.Start, w.Lay, w.Others = start, lay, w.Others[:others]
				all := of(w).candidates(1)
				assert.GreaterOrEqual(t, len(all), 1000, "%s %s, %d more stacks", start, lay, others)
				assert.Less(t, len(all), 1900, "%s %s, %d more stacks: and answered within a second", start, lay, others)
				seen := map[plan.Recipe]bool{}
				for _, r := range all {
					assert.False(t, seen[r], "%+v twice", r)
					seen[r] = true
				}
				quick := search{Wish: w, effort: Quick}
				assert.Less(t, len(quick.candidates(1)), 130)
			}
		}
	}
}

// Candidates that are the same fire until it is turned down lie together.
func TestTogether(t *testing.T) {
	all := of(fixture.TenHours()).candidates(1)
	runs := together(all)
	next := 0
	for _, r := range runs {
		require.Equal(t, next, r[0], "one after the other, with nothing between")
		next = r[1]
		for _, c := range all[r[0]:r[1]] {
			c.Final, c.Pause = all[r[0]].Final, all[r[0]].Pause
			assert.Equal(t, all[r[0]], c)
		}
	}
	assert.Equal(t, len(all), next)
	assert.Less(t, len(runs), len(all)/5, "most is burnt once")
	assert.Empty(t, together(nil))
}

// Judging from a shared beginning gives what judging one by one gives.
func TestSharedBeginningsChangeNothing(t *testing.T) {
	w := fixture.TenHours()
	w.Others, w.For = nil, 4*time.Hour
	s := of(w)
	s.meter = &Meter{}
	all := s.grid(mesh{2, 3, 2, 2}, 1)
	judged := 0
	for _, r := range together(all)[:4] {
		verdicts := make([]verdict, r[1]-r[0])
		s.judge(all[r[0]:r[1]], verdicts)
		judged += len(verdicts)
		burnt, _ := s.meter.Read()
		assert.Equal(t, judged, burnt)
		for i, c := range all[r[0]:r[1]] {
			alone := s.burn(c, nil)
			assert.InDelta(t, alone.merit, verdicts[i].merit, 1e-9)
			assert.Equal(t, alone.summary, verdicts[i].summary)
		}
	}
}

// Hours in which everybody is out count a fifth, when somebody comes back; who
// only goes to bed wants the night as warm.
func TestAnEmptyRoomCountsLess(t *testing.T) {
	w := fixture.TenHours()
	w.Aim, w.Low, w.High = wish.Hold, 30, 31 // always too cold
	all := of(w).candidates(1)
	r := all[slices.IndexFunc(all, func(r plan.Recipe) bool { return of(w).burn(r, nil).good() })] // one that is followed to its end
	cold := func(aim wish.Aim, there when.Presence) float64 {
		w.Aim, w.There = aim, there
		return of(w).burn(r, nil).cold
	}
	whole := cold(wish.Hold, nil)
	out := when.Presence{{To: 2 * time.Hour}, {From: 8 * time.Hour, To: 20 * time.Hour}}
	assert.InDelta(t, whole*(4+6*emptyRoom)/10, cold(wish.Hold, out), 0.12*whole)
	assert.InDelta(t, whole, cold(wish.Hold, out[:1]), 1e-9, "nobody comes back: they may be asleep upstairs")
	assert.InDelta(t, whole, cold(wish.Overnight, out), 1e-9)
}

// A search keeps of its burns what it judges by: what it allocates does not grow
// with how long they are.
func TestASearchKeepsLittle(t *testing.T) {
	w := fixture.TenHours()
	w.Others = nil
	s := of(w)
	all := s.grid(mesh{2, 3, 2, 2}, 1)
	verdicts := make([]verdict, 4)
	bytes := func(hours time.Duration) float64 {
		s.For = hours * time.Hour
		return testing.AllocsPerRun(1, func() { s.judge(all[:4], verdicts) })
	}
	assert.InDelta(t, bytes(3), bytes(20), 2, "allocations of a short burn and a long one")
}

// Where the manual's load is one piece and that does not burn clean, it is the one
// piece that is said.
func TestOnePieceIsTheReason(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.GoodCoals)
	w.Stove.MaxLoad = w.Wood.Stack.PieceMass * 3 / 2
	assert.Equal(t, OnePiece, of(w).refuse([]verdict{{dirty: true}}).Code)
	w.Stove.Assumed = []string{"max-load"}
	assert.Equal(t, OneUntold, of(w).refuse([]verdict{{dirty: true}}).Code)
}
