package practice_test

import (
	"errors"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/practice"
	"smolder/internal/core/reason"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
)

func lesson(t *testing.T, k practice.Key) practice.Lesson {
	t.Helper()
	l, ok := practice.Of(k)
	require.True(t, ok, k)
	return l
}

func codeOf(t *testing.T, err error) reason.Code {
	t.Helper()
	var r reason.Reason
	require.True(t, errors.As(err, &r), "%v", err)
	return r.Code
}

// The same spec with the same acts is the same fire, in whatever steps it was gone through; another
// seed is another stove.
func TestTheSameFireAgain(t *testing.T) {
	l := lesson(t, practice.FirstReload)
	p := begun(t, l, stove.SecondaryAir, 3, practice.EachStep)
	for p.Left() > 0 {
		if h := p.Advice(); h.Act != nil || h.Ready {
			require.NoError(t, p.Follow(h))
		}
		p.GoTo(p.Now() + 90*time.Second)
	}
	require.NotEmpty(t, p.Done)
	again, err := practice.New(p.Spec, p.Done)
	require.NoError(t, err)
	again.GoTo(l.For)
	assert.Equal(t, p.Scene(), again.Scene())
	assert.Equal(t, p.Marks(), again.Marks())
	assert.Equal(t, len(p.Burn(burn.Burn{}.Started).Entries), len(again.Burn(burn.Burn{}.Started).Entries))

	other := begun(t, l, stove.SecondaryAir, 4, practice.EachStep)
	this := begun(t, l, stove.SecondaryAir, 3, practice.EachStep)
	other.GoTo(20 * time.Minute)
	this.GoTo(20 * time.Minute)
	assert.NotEqual(t, this.Shown(), other.Shown(), "what nobody knows of a stove differs each time")
}

// What comes out of a practice is what the simulator makes of the same acts: nothing is lost
// between the frames.
func TestPracticeIsTheSimulator(t *testing.T) {
	p := begun(t, lesson(t, practice.TurnDown), stove.SecondaryAir, 7, practice.EachStep)
	p.GoTo(20 * time.Minute)
	main, _ := p.Spec.Stove.MainAir()
	require.NoError(t, p.Do(practice.Act{Kind: practice.Control, Control: main.Key, Opening: 0.5}))
	p.GoTo(p.Lesson.For)
	b := p.Burn(time.Date(2026, 1, 14, 17, 0, 0, 0, time.UTC))
	require.NoError(t, b.CheckStart(b.Started.Add(24*time.Hour)))
	loads, airs := 0, 0
	for _, e := range b.Entries {
		switch e.Kind {
		case burn.Load:
			loads++
			assert.InDelta(t, 0.18, float64(e.Load.Moisture), 0.1, "as it was said, and not as it is")
			assert.NotZero(t, e.Load.Pieces)
		case burn.Control:
			airs++
		}
		assert.NoError(t, b.Check(e, b.Started.Add(24*time.Hour)), e.Kind)
	}
	assert.Equal(t, 1, loads)
	assert.Positive(t, airs)
	assert.NotEmpty(t, b.Readings(stove.ConnectorProbe))
	assert.NotEmpty(t, b.Readings(stove.RoomAir))
}

// What cannot be done is refused with its reason, and changes nothing.
func TestRefusedActs(t *testing.T) {
	p := begun(t, lesson(t, practice.FirstFire), stove.SecondaryAir, 1, practice.EachStep)
	load := practice.Act{Kind: practice.Lay, Pieces: 2, Direction: stove.EndOn, Lay: fire.TopDown}
	with := func(change func(*practice.Act)) practice.Act {
		a := load
		change(&a)
		return a
	}
	for name, c := range map[string]struct {
		act  practice.Act
		want reason.Code
	}{
		"nothing":              {practice.Act{}, practice.NoSuchAct},
		"no control":           {practice.Act{Kind: practice.Control, Control: "chimney", Opening: 0.5}, practice.NoSuchAct},
		"an opening of none":   {practice.Act{Kind: practice.Control, Control: "primary", Opening: -1}, practice.NoSuchAct},
		"more than open":       {practice.Act{Kind: practice.Control, Control: "primary", Opening: 1.01}, practice.NoSuchAct},
		"a door that is none":  {practice.Act{Kind: practice.Door, Door: 3}, practice.NoSuchAct},
		"lit with no kindling": {practice.Act{Kind: practice.Light}, practice.NotLaid},
		"no pieces":            {with(func(a *practice.Act) { a.Pieces = 0 }), practice.TooMany},
		"too many pieces":      {with(func(a *practice.Act) { a.Pieces = 1000 }), practice.TooMany},
		"more than goes in":    {with(func(a *practice.Act) { a.Pieces = 40 }), practice.Full},
		"wood that is not":     {with(func(a *practice.Act) { a.Of = 9 }), practice.NoSuchAct},
		"no way":               {with(func(a *practice.Act) { a.Direction = "upright" }), practice.NoSuchAct},
	} {
		before := p.Scene()
		assert.Equal(t, c.want, codeOf(t, p.Do(c.act)), name)
		assert.Equal(t, before, p.Scene(), name)
		assert.Empty(t, p.Done, name)
	}
	require.NoError(t, p.Do(load))
	require.NoError(t, p.Do(practice.Act{Kind: practice.Kindle, Lay: fire.TopDown}))
	assert.Equal(t, practice.TooMany, codeOf(t, p.Do(practice.Act{Kind: practice.Kindle})), "one armful is laid")
	n, kindled := p.Laid()
	assert.True(t, kindled)
	assert.Positive(t, n)
	assert.Len(t, p.Scene().Lying, 2, "what is laid is seen")
	p.GoTo(10 * time.Minute)
	assert.Zero(t, p.Scene().Burns, "and does not burn before it is lit")
	require.NoError(t, p.Do(practice.Act{Kind: practice.Light}))
	p.GoTo(13 * time.Minute)
	assert.Positive(t, p.Scene().Burns)
	p.GoTo(10 * time.Hour)
	assert.Zero(t, p.Left())
	assert.Equal(t, practice.IsOver, codeOf(t, p.Do(load)))
	_, err := practice.New(practice.Spec{Lesson: "no such"}, nil)
	assert.Equal(t, practice.NoSpec, codeOf(t, err))
	_, err = practice.New(p.Spec, make([]practice.Done, practice.MostActs+1))
	assert.Equal(t, practice.NoSpec, codeOf(t, err))
	plain := fixture.FamilyEvening(stove.Plain, wish.Cold)
	_, err = practice.New(practice.Spec{Lesson: practice.Catalyst, Stove: plain.Stove, House: plain.House, Wood: plain.Wood.Stack}, nil)
	assert.Equal(t, practice.NoSpec, codeOf(t, err), "a catalyst in a stove without")
}

// A hint names each step at first, later only what is due, then only what was missed, and in the
// end only what endangers.
func TestHintsFade(t *testing.T) {
	says := func(hints int, minutes time.Duration) practice.Hint {
		p := begun(t, lesson(t, practice.TurnDown), stove.SecondaryAir, 12, hints)
		p.GoTo(minutes * time.Minute)
		return p.Hint()
	}
	full := begun(t, lesson(t, practice.TurnDown), stove.SecondaryAir, 12, practice.EachStep)
	due := time.Duration(0)
	for full.Left() > 0 && due == 0 {
		if h := full.Advice(); h.Act == nil && h.Ready {
			due = full.Now() / time.Minute
		}
		full.GoTo(full.Now() + time.Minute)
	}
	require.Positive(t, due, "the air is taken back some time")
	assert.NotNil(t, says(practice.EachStep, 2).Step, "what comes next")
	assert.False(t, says(practice.WhenDue, 2).Says())
	assert.False(t, says(practice.OnlyDanger, 2).Says())
	missed := begun(t, lesson(t, practice.TurnDown), stove.SecondaryAir, 12, practice.WhenMissed)
	first := time.Duration(-1)
	for missed.Left() > 0 && first < 0 {
		if h := missed.Hint(); h.Step != nil {
			first = missed.Now() / time.Minute
		}
		missed.GoTo(missed.Now() + time.Minute)
	}
	assert.GreaterOrEqual(t, first, due+3, "some minutes after it was due")
}

// Minutes of smoke in the room, or over a limit, are no success, whatever else went well.
func TestDangerIsNoSuccess(t *testing.T) {
	l := lesson(t, practice.TightHouse)
	marks := []practice.Mark{{Check: practice.Spilled, Value: 9, Share: 0}, {Check: practice.Warm, Value: 1, Share: 1}, {Check: practice.Dark, Value: 0, Share: 1}}
	assert.LessOrEqual(t, practice.Score(l, marks), 0.5)
	marks[0] = practice.Mark{Check: practice.Spilled, Value: 0, Share: 1}
	assert.InDelta(t, 1, practice.Score(l, marks), 1e-9)
	for _, l := range practice.Lessons {
		for _, j := range l.Judged {
			assert.Contains(t, practice.Checks(), j.Check, l.Key)
		}
	}
}

// A free evening has a weather and people of its own, the same for the same seed.
func TestChance(t *testing.T) {
	one, same, other := begun(t, lesson(t, practice.Free), stove.SecondaryAir, 5, 0), begun(t, lesson(t, practice.Free), stove.SecondaryAir, 5, 0),
		begun(t, lesson(t, practice.Free), stove.SecondaryAir, 6, 0)
	all := func(p *practice.Practice) []practice.Chance { return p.Happened(-time.Second, p.Lesson.For) }
	assert.Equal(t, len(all(one)), len(all(same)))
	assert.NotEqual(t, one.Wish.Outdoor, other.Wish.Outdoor)
	require.NotEmpty(t, all(one))
	hood := all(one)[0]
	one.GoTo(hood.At - time.Minute)
	assert.False(t, one.Fan())
	for _, c := range all(one) {
		if c.Kind == practice.HoodOn {
			one.GoTo(c.At + time.Minute)
			assert.True(t, one.Fan(), "somebody cooks")
		}
	}
}

// A burn is gone through from one thing that was done to the next: what was done is told apart, and
// what it did is what the simulator makes of the same burn without it.
func TestGoThrough(t *testing.T) {
	p := begun(t, lesson(t, practice.TurnDown), stove.SecondaryAir, 12, practice.EachStep)
	well(t, p)
	b := p.Burn(time.Date(2026, 1, 14, 17, 0, 0, 0, time.UTC))
	b.Ended = b.Started.Add(p.Lesson.For)
	through := practice.GoThrough(b)
	require.GreaterOrEqual(t, len(through.Moments), 2)
	assert.Contains(t, through.Was(0), practice.WoodOn)
	turned := -1
	for k := range through.Moments {
		shots := through.Between(k)
		require.NotEmpty(t, shots, k)
		assert.LessOrEqual(t, shots[len(shots)-1].At, through.Moments[k].At)
		if turned < 0 && k > 0 && len(through.Was(k)) == 1 && through.Was(k)[0] == practice.LessAir {
			turned = k
		}
	}
	require.Positive(t, turned, "the air was taken back")
	did := through.Did(turned)
	assert.Less(t, float64(did.With.Shown[0]), float64(did.Without.Shown[0]), "less air, a cooler flue")
	assert.False(t, did.Lights)
	assert.NotEmpty(t, through.Between(len(through.Moments)), "to its end")
	assert.Empty(t, practice.GoThrough(burn.Burn{Stove: b.Stove, House: b.House, Started: b.Started, Ended: b.Ended}).Moments)
}
