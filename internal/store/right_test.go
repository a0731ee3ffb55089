package store_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

// A database that a newer program has used is refused in a sentence, and left as it is.
func TestADatabaseOfANewerProgram(t *testing.T) {
	s := storetest.New(t)
	require.NoError(t, s.Fits(ctx))
	_, err := s.DB().Exec(`INSERT INTO goose_db_version (version_id, is_applied) VALUES (90000, true)`)
	require.NoError(t, err)
	err = s.Fits(ctx)
	require.ErrorIs(t, err, store.ErrNewer)
	assert.Contains(t, err.Error(), "start the newer program")
	_, err = s.Migrate(ctx)
	require.ErrorIs(t, err, store.ErrNewer, "and not migrated")
}

// One burn that nobody can read is an error of its own; a gauge named with a tab, a break or
// a quote comes back as it was named, and its burn with it.
func TestWhatCannotBeRead(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	b := open(t, h, stoveID)
	_, err := h.AddReported(ctx, []store.Reported{{Stove: stoveID, Place: "top", At: noon.Add(9 * time.Minute), Value: 90}}) // of the same month
	require.NoError(t, err)
	for i, place := range []string{"a\tb", "c\nd", `e"f\\g`} {
		_, err := s.DB().Exec(`INSERT INTO reported (household_id, stove_id, at, place, value) VALUES ($1, $2, $3, $4, 200)`,
			h.ID(), stoveID, noon.Add(time.Duration(i+1)*time.Minute), place)
		require.NoError(t, err)
	}
	got, err := h.Burn(ctx, b)
	require.NoError(t, err)
	var names []string
	for _, e := range got.Entries {
		if e.Reported && e.Place != "top" {
			names = append(names, string(e.Place))
		}
	}
	assert.Equal(t, []string{"a\tb", "c\nd", `e"f\\g`}, names)
	_, err = s.DB().Exec(`UPDATE burns SET spec = '{"form": 99, "from": "later"}' WHERE id = $1`, b)
	require.NoError(t, err)
	_, err = h.Burn(ctx, b)
	require.ErrorIs(t, err, store.ErrUnreadable)
	own, err := h.Fires(ctx, noon)
	require.NoError(t, err)
	require.Len(t, own, 1, "it is there, and says that it cannot be read")
	require.ErrorIs(t, own[0].Unreadable, store.ErrUnreadable)
	assert.Equal(t, stoveID, own[0].StoveID)
	other, otherStove, _ := furnished(t, s, "fell")
	open(t, other, otherStove)
	_, err = other.OpenBurns(ctx)
	require.NoError(t, err, "nobody else's")
}

// The room is what its thermometer says, of any stove in it and for some hours; and of very
// many readings the newest of each gauge is among those that are looked at.
func TestTheRoomAsItIs(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	_, known, err := h.RoomNow(ctx, stoveID, noon)
	require.NoError(t, err)
	assert.False(t, known)
	_, err = h.AddReported(ctx, []store.Reported{{Stove: stoveID, Place: "room", At: noon.Add(-20 * time.Minute), Value: 12.5},
		{Stove: stoveID, Place: "room", At: noon.Add(-10 * time.Minute), Value: 13.5}, {Stove: stoveID, Place: "top", At: noon.Add(-time.Minute), Value: 90}})
	require.NoError(t, err)
	room, known, err := h.RoomNow(ctx, stoveID, noon)
	require.NoError(t, err)
	assert.True(t, known)
	assert.InDelta(t, 13.5, room, 1e-6)
	_, known, err = h.RoomNow(ctx, stoveID, noon.AddDate(0, 0, 2))
	require.NoError(t, err)
	assert.False(t, known, "what was read two days ago is not the room now")

	var many []store.Reported
	for i := range 9000 {
		many = append(many, store.Reported{Stove: stoveID, Place: "top", At: noon.Add(time.Duration(i) * 2 * time.Second), Value: float64(i % 300)})
	}
	_, err = h.AddReported(ctx, many)
	require.NoError(t, err)
	got, err := h.ReportedIn(ctx, stoveID, noon, noon.Add(6*time.Hour))
	require.NoError(t, err)
	assert.Less(t, len(got), 7000)
	last := got[len(got)-1]
	assert.True(t, last.At.Equal(many[len(many)-1].At), "the newest: %s", last.At)
}

// Wood is counted as it was logged, kindling with it and what a fire before had left not
// again; a burn that was removed or goes on is none.
func TestTheWoodThatWasLogged(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, stack := furnished(t, s, "tarn")
	b := open(t, h, stoveID)
	require.NoError(t, h.AddEntry(ctx, b, load(stack, "a", noon), later))
	left := load(0, "b", noon.Add(time.Minute))
	left.Load.StackName = fire.LeftOver
	require.NoError(t, h.AddEntry(ctx, b, left, later))
	logged := func() store.Logged {
		spans, err := h.WoodLogged(ctx, []store.Span{{From: noon.AddDate(0, 0, -1), To: noon.AddDate(0, 0, 1)}, {From: later, To: later}}, fire.LeftOver)
		require.NoError(t, err)
		require.Len(t, spans, 2)
		assert.Zero(t, spans[1], "none in a span of nothing")
		return spans[0]
	}
	assert.Zero(t, logged(), "it still burns")
	_, err := h.EndBurn(ctx, b, noon.Add(3*time.Hour), noon.Add(3*time.Hour))
	require.NoError(t, err)
	one := load(stack, "a", noon).Load
	l := logged()
	assert.Equal(t, 1, l.Burns)
	require.Len(t, l.Woods, 1)
	assert.InEpsilon(t, one.Dry(), float64(l.Woods[0].Dry), 1e-6)
	assert.InEpsilon(t, float64(one.Moisture), float64(l.Woods[0].Moisture), 1e-6)
	assert.InEpsilon(t, one.Species.Gross, l.Woods[0].Gross, 1e-6)
	require.NoError(t, h.RemoveBurn(ctx, b, true, noon))
	assert.Zero(t, logged())
}

// The same entry twice is there once; another under its id is refused, and what is kept
// stays.
func TestTheSameIdWithOtherContent(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, stack := furnished(t, s, "tarn")
	b := open(t, h, stoveID)
	require.NoError(t, h.AddEntry(ctx, b, load(stack, "a", noon), later))
	require.NoError(t, h.AddEntry(ctx, b, load(stack, "a", noon), later))
	other := load(stack, "a", noon)
	other.Load.Pieces = 2
	require.ErrorIs(t, h.AddEntry(ctx, b, other, later), burn.ErrOther)
	got, err := h.Burn(ctx, b)
	require.NoError(t, err)
	require.Len(t, got.Entries, 1)
	assert.Equal(t, 4, got.Entries[0].Load.Pieces)
	assert.Contains(t, strings.ToLower(burn.ErrOther.Error()), "id")
}

// What was read for one is what others find: a new reading, an older one that comes late, and
// another end are read again, and whoever changes what he was given changes nobody else's.
func TestReadingsAreRememberedAsTheyAre(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	var many []store.Reported
	for i := range 900 {
		many = append(many, store.Reported{Stove: stoveID, Place: "top", At: noon.Add(time.Duration(2*i) * time.Second), Value: float64(i)})
	}
	_, err := h.AddReported(ctx, many)
	require.NoError(t, err)
	read := func() []burn.Entry {
		got, err := h.ReportedIn(ctx, stoveID, noon, noon.Add(time.Hour))
		require.NoError(t, err)
		return got
	}
	first := read()
	require.Len(t, first, 900)
	first[0].Note = "scribbled"
	assert.Empty(t, read()[0].Note)
	_, err = h.AddReported(ctx, []store.Reported{{Stove: stoveID, Place: "top", At: noon.Add(30 * time.Minute), Value: 7}})
	require.NoError(t, err)
	assert.Len(t, read(), 901, "a new one")
	_, err = h.AddReported(ctx, []store.Reported{{Stove: stoveID, Place: "room", At: noon.Add(3 * time.Second), Value: 18}})
	require.NoError(t, err)
	assert.Len(t, read(), 902, "one that came late")
	part, err := h.ReportedIn(ctx, stoveID, noon, noon.Add(10*time.Minute))
	require.NoError(t, err)
	assert.Len(t, part, 302)
}
