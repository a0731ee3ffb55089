package burn_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/reason"
	"smolder/internal/core/units"
)

func hour(n int, t units.Celsius) fire.Weather {
	return fire.Weather{At: time.Duration(n) * time.Hour, Outdoor: t}
}

func note(id string, minute int) burn.Entry {
	return burn.Entry{ID: id, At: start.Add(time.Duration(minute) * time.Minute), Kind: burn.Note, Note: id}
}

// counts is the plain model: an entry counts unless undone or corrected by one
// that counts, asked each time anew.
type plainEntry struct {
	corrects string
	undone   bool
}

type plainLog map[string]plainEntry

func (p plainLog) counts(id string) bool {
	if p[id].undone {
		return false
	}
	for other, e := range p {
		if e.corrects == id && p.counts(other) {
			return false
		}
	}
	return true
}

// Generated sequences of entries, corrections, undos and put-backs, on whatever
// ids, stale ones and unknown ones among them, come out as in the plain model;
// and of all entries that stand for one thing at most one counts.
func TestTheLogAgainstAPlainModel(t *testing.T) {
	now := start.Add(3 * time.Hour)
	rapid.Check(t, func(t *rapid.T) {
		l, model, n := burn.NewLog(kitchen(), nil), plainLog{}, 0
		root := map[string]string{}
		for range rapid.IntRange(1, 40).Draw(t, "steps") {
			id := fmt.Sprintf("e%d", rapid.IntRange(0, 8).Draw(t, "which"))
			_, there := model[id]
			switch rapid.SampledFrom([]string{"add", "correct", "undo", "put back"}).Draw(t, "do") {
			case "add":
				err := l.Add(note(id, n), now)
				if there {
					require.ErrorIs(t, err, burn.ErrSame)
					continue
				}
				require.NoError(t, err)
				model[id], root[id] = plainEntry{}, id
			case "correct":
				by := fmt.Sprintf("c%d", n)
				err := l.Correct(id, note(by, n), now)
				switch {
				case !there:
					require.ErrorIs(t, err, burn.ErrUnknown)
					continue
				case !model.counts(id):
					require.ErrorIs(t, err, burn.ErrChanged, "a stale page corrects nothing")
					continue
				}
				require.NoError(t, err)
				model[by], root[by] = plainEntry{corrects: id}, root[id]
			case "undo", "put back":
				undone := rapid.Bool().Draw(t, "undone")
				do := l.PutBack
				if undone {
					do = l.Undo
				}
				if !there {
					require.ErrorIs(t, do(id), burn.ErrUnknown)
					continue
				}
				require.NoError(t, do(id))
				e := model[id]
				e.undone = undone
				model[id] = e
			}
			n++
		}
		one := map[string]int{}
		for _, h := range l.Heads() {
			require.Equal(t, model.counts(h.ID), h.Counts, "%s in %+v", h.ID, model)
			if h.Counts {
				one[root[h.ID]]++
			}
		}
		for id, n := range one {
			require.Equal(t, 1, n, "%s and its corrections", id)
		}
	})
}

func TestUndoMeansTheLastOneMade(t *testing.T) {
	l := burn.NewLog(kitchen(), nil)
	now := start.Add(time.Hour)
	require.NoError(t, l.Add(note("at-the-end", 50), now))
	require.NoError(t, l.Add(note("made-last", 5), now))
	h, ok := l.Newest()
	require.True(t, ok)
	assert.Equal(t, "made-last", h.ID)
	require.NoError(t, l.Undo(h.ID))
	h, _ = l.Newest()
	assert.Equal(t, "at-the-end", h.ID)
}

func TestWhenABurnEnds(t *testing.T) {
	now := start.Add(21*time.Hour + 31*time.Minute)
	l := burn.NewLog(kitchen(), []burn.Head{{ID: "a", At: start.Add(90 * time.Minute)}, {ID: "undone", At: start.Add(5 * time.Hour), Undone: true}})
	at, err := l.End(start.Add(6*time.Hour), now)
	require.NoError(t, err, "forgotten overnight, it ended in the evening")
	assert.Equal(t, start.Add(6*time.Hour), at)
	at, err = l.End(now.Add(time.Minute), now)
	require.NoError(t, err, "a clock that is a little ahead")
	assert.Equal(t, now, at)
	_, err = l.End(start.Add(80*time.Minute), now)
	assert.ErrorContains(t, err, string(burn.LoggedAfter))
	_, err = l.End(now.Add(time.Hour), now)
	assert.ErrorContains(t, err, string(burn.EndsAhead))
	_, err = l.End(start.Add(-time.Hour), now)
	assert.ErrorContains(t, err, string(burn.EndsEarly))
	at, err = burn.NewLog(kitchen(), nil).End(start.Add(100*time.Hour), start.Add(100*time.Hour))
	require.NoError(t, err)
	assert.Equal(t, 48*time.Hour, at.Sub(start), "and not by days")
	at, err = burn.NewLog(kitchen(), nil).End(start, start)
	require.NoError(t, err)
	assert.True(t, at.After(start), "a clock set back makes no burn without length")
	ended := kitchen()
	ended.Ended = start.Add(2 * time.Hour)
	at, err = burn.NewLog(ended, nil).End(now, now)
	require.ErrorIs(t, err, burn.ErrEnded, "ending again changes nothing")
	assert.Equal(t, ended.Ended, at)
	require.ErrorIs(t, burn.NewLog(ended, nil).Add(note("late", 180), now), burn.ErrEntry, "after the end nothing is kept")
}

func TestWhatABurnMayBeginAs(t *testing.T) {
	now := start.Add(time.Hour)
	require.NoError(t, kitchen().CheckStart(now))
	for code, spoil := range map[reason.Code]func(*burn.Burn){
		burn.StartAhead:   func(b *burn.Burn) { b.Started = now.Add(time.Hour) },
		burn.NoStart:      func(b *burn.Burn) { b.Started = time.Date(1700, 1, 1, 0, 0, 0, 0, time.UTC) },
		burn.EndFirst:     func(b *burn.Burn) { b.Ended = start.Add(-time.Hour) },
		burn.TooLong:      func(b *burn.Burn) { b.Started, b.Ended = now.Add(-90*time.Hour), now },
		burn.BadWeather:   func(b *burn.Burn) { b.Weather = append(b.Weather, hour(2, 4), hour(1, 4)) },
		burn.OutdoorRange: func(b *burn.Burn) { b.Outdoor = -90 },
	} {
		b := kitchen()
		spoil(&b)
		assert.ErrorContains(t, b.CheckStart(now), string(code))
	}
}
