package practice_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/practice"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
)

// begun is a lesson with a stove of a family.
func begun(t *testing.T, l practice.Lesson, f stove.Family, seed uint64, hints int) *practice.Practice {
	t.Helper()
	w := fixture.FamilyEvening(f, wish.Cold)
	spec := practice.Spec{Lesson: l.Key, Seed: seed, Hints: hints, Stove: w.Stove, House: w.House, Wood: w.Wood.Stack, Low: w.Low, High: w.High}
	p, err := practice.New(spec, nil)
	require.NoError(t, err)
	return p
}

// well does a lesson as it is said: what is due, when it is.
func well(t *testing.T, p *practice.Practice) {
	t.Helper()
	for p.Left() > 0 {
		for range 4 {
			h := p.Advice()
			if h.Act == nil && (h.Step == nil || !h.Ready) {
				break
			}
			require.NoError(t, p.Follow(h), "%s at %s", p.Lesson.Key, p.Now())
		}
		p.GoTo(p.Now() + time.Minute)
	}
}

// badly does it as those do who fail at it.
func badly(t *testing.T, p *practice.Practice) {
	t.Helper()
	do := func(acts ...practice.Act) {
		for _, a := range acts {
			_ = p.Do(a) // what cannot be done is not done
		}
	}
	main, _ := p.Spec.Stove.MainAir()
	air := func(o float64) practice.Act {
		return practice.Act{Kind: practice.Control, Control: main.Key, Opening: o}
	}
	way := stove.EndOn
	if !p.Wish.Fits(0, way) {
		way = stove.Sideways
	}
	lit := []practice.Act{{Kind: practice.Lay, Pieces: 4, Direction: way, Lay: fire.BottomUp}, {Kind: practice.Kindle, Lay: fire.BottomUp}, {Kind: practice.Light}}
	switch p.Lesson.Key {
	case practice.FirstFire, practice.ColdFlue, practice.TightHouse: // shut at once, and down
		do(append(lit, practice.Act{Kind: practice.Door, Door: fire.Shut}, air(0.15))...)
	case practice.ShutTheDoor: // never
	case practice.FirstReload: // when hardly anything glows, and down at once
		p.GoTo(45 * time.Minute)
		do(practice.Act{Kind: practice.Load, Pieces: 3, Direction: way}, practice.Act{Kind: practice.Door, Door: fire.Shut}, air(0.1))
	case practice.TurnDown: // at once, the bypass shut
		do(air(0.05))
		if c, ok := p.Spec.Stove.Bypass(); ok {
			do(practice.Act{Kind: practice.Control, Control: c.Key, Opening: 0})
		}
	case practice.Catalyst, practice.Night: // left as it is
	case practice.FewCoals: // a big piece on them, and nothing else
		do(practice.Act{Kind: practice.Load, Pieces: 1, Direction: way}, practice.Act{Kind: practice.Door, Door: fire.Shut}, air(0.3))
	case practice.WetWood:
		do(practice.Act{Kind: practice.Load, Of: 1, Pieces: 2, Direction: way}, air(0.5))
	case practice.MildDay, practice.Free, practice.Boat: // shut at once, and much on it
		do(append(lit, practice.Act{Kind: practice.Door, Door: fire.Shut}, air(0.15))...)
		p.GoTo(30 * time.Minute)
		do(practice.Act{Kind: practice.Load, Pieces: 4, Direction: way})
		p.GoTo(2 * time.Hour)
		do(practice.Act{Kind: practice.Load, Pieces: 4, Direction: way})
	}
	p.GoTo(p.Lesson.For)
}

// The score tells a lesson that went well from one that did not, on every family.
func TestLessonsTellGoodFromBad(t *testing.T) {
	for _, f := range stove.Families {
		for _, l := range practice.Lessons {
			st := fixture.FamilyEvening(f, wish.Cold).Stove
			if !l.Suits(st) {
				continue
			}
			good, bad := 0.0, 0.0
			const seeds = 2
			for seed := range uint64(seeds) {
				p := begun(t, l, f, 10+seed, practice.EachStep)
				well(t, p)
				m := p.Marks()
				good += practice.Score(l, m) / seeds
				q := begun(t, l, f, 10+seed, practice.EachStep)
				badly(t, q)
				n := q.Marks()
				bad += practice.Score(l, n) / seeds
				t.Logf("%-14s %-14s %d good %.2f %v\n%40s bad %.2f %v", f, l.Key, seed, practice.Score(l, m), m, "", practice.Score(l, n), n)
			}
			assert.Greater(t, good, bad+0.15, "%s, %s", f, l.Key)
			assert.Greater(t, good, practice.Passed-0.1, "%s, %s", f, l.Key)
		}
	}
}
