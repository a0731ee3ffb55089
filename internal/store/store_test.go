package store_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/units"
	"smolder/internal/demo"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

var (
	ctx  = context.Background()
	noon = storetest.Noon
)

// furnished is a household with one stove and one stack.
func furnished(t *testing.T, s *store.Store, owner string) (h store.Household, stoveID, stackID int64) {
	h = storetest.Household(t, s, owner)
	stoveID, err := h.AddStove(ctx, demo.Stoves()[0])
	require.NoError(t, err)
	stackID, err = h.AddStack(ctx, demo.Stacks()[0], noon.Add(-time.Hour))
	require.NoError(t, err)
	return h, stoveID, stackID
}

func load(stack int64, id string, at time.Time) burn.Entry {
	w := demo.Stacks()[0]
	return burn.Entry{ID: id, At: at, Kind: burn.Load, Load: &fire.Load{Species: w.Species, Moisture: w.Moisture(), Pieces: 4, PieceMass: 1.3,
		PieceLength: 0.33, Direction: "end-on", Lay: fire.OnCoals, StackID: stack, StackName: w.Name}}
}

func open(t *testing.T, h store.Household, stoveID int64) int64 {
	st, err := h.Stove(ctx, stoveID)
	require.NoError(t, err)
	id, err := h.StartBurn(ctx, stoveID, "", burn.Burn{Stove: st.Stove, Started: noon}, nil)
	require.NoError(t, err)
	return id
}

func left(t *testing.T, h store.Household, stack int64) units.Kilogram {
	s, err := h.Stack(ctx, stack)
	require.NoError(t, err)
	return s.Mass
}

func TestWhatIsLeftOfAStackFollowsTheLog(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, stack := furnished(t, s, "tarn")
	b := open(t, h, stoveID)
	whole := left(t, h, stack)

	require.NoError(t, h.AddEntry(ctx, b, load(stack, "a", noon)))
	require.NoError(t, h.AddEntry(ctx, b, load(stack, "a", noon)), "the same entry sent again is kept once")
	assert.InDelta(t, 5.2, float64(whole-left(t, h, stack)), 1e-9)

	e := load(stack, "b", noon)
	e.Load.Pieces = 2
	require.NoError(t, h.CorrectEntry(ctx, b, "a", e))
	assert.InDelta(t, 2.6, float64(whole-left(t, h, stack)), 1e-9, "a correction takes the old one's place")
	require.NoError(t, h.StrikeEntry(ctx, b, "b"))
	assert.InDelta(t, 5.2, float64(whole-left(t, h, stack)), 1e-9, "undoing a correction brings back what it corrected")
	require.NoError(t, h.PutBackEntry(ctx, b, "b"))
	assert.InDelta(t, 2.6, float64(whole-left(t, h, stack)), 1e-9)

	require.NoError(t, h.RemoveBurn(ctx, b, true))
	assert.Equal(t, whole, left(t, h, stack), "a burn off the list gives its wood back")
	require.NoError(t, h.RemoveBurn(ctx, b, true), "removing twice is fine")
	require.NoError(t, h.RemoveBurn(ctx, b, false))

	count := units.Kilogram(100)
	st, err := h.Stack(ctx, stack)
	require.NoError(t, err)
	require.NoError(t, h.SaveStack(ctx, stack, st.Stack, &count, noon.Add(time.Hour)))
	assert.Equal(t, count, left(t, h, stack), "a new count starts from there")
}

func TestOneFireInAStoveAtATime(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	b := open(t, h, stoveID)
	st, _ := h.Stove(ctx, stoveID)
	_, err := h.StartBurn(ctx, stoveID, "", burn.Burn{Stove: st.Stove, Started: noon}, nil)
	assert.ErrorIs(t, err, store.ErrBurning)
	ended := noon.Add(3 * time.Hour)
	require.NoError(t, h.EndBurn(ctx, b, &ended))
	second := open(t, h, stoveID)
	assert.ErrorIs(t, h.EndBurn(ctx, b, nil), store.ErrBurning, "opening the first again would make two")
	openBurns, err := h.OpenBurns(ctx)
	require.NoError(t, err)
	require.Len(t, openBurns, 1)
	assert.Equal(t, second, openBurns[0].ID)
}

func TestBurnComesBackAsItWas(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	want := demo.Burn()
	id, err := h.StartBurn(ctx, stoveID, "for the night", want, nil)
	require.NoError(t, err)
	got, err := h.Burn(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, want.Valid(), got.Valid())
	assert.Equal(t, want.Stove, got.Stove)
	assert.True(t, want.Ended.Equal(got.Ended))
	lines, err := h.Burns(ctx, want.Started.Add(time.Hour), 10)
	require.NoError(t, err)
	require.Len(t, lines, 1)
	assert.InDelta(t, float64(want.Used()), float64(lines[0].Mass), 1e-9)
	assert.Equal(t, "Auntie", lines[0].Stove)
	assert.True(t, lines[0].Peak.Valid)
	none, err := h.Burns(ctx, want.Started, 10)
	require.NoError(t, err)
	assert.Empty(t, none, "only burns before that time")
}

// Nothing of one household may be seen or touched from another, whatever the
// number: every method is asked with a stranger's ids.
func TestHouseholdsAreApart(t *testing.T) {
	s := storetest.New(t)
	mine, stoveID, stack := furnished(t, s, "tarn")
	b := open(t, mine, stoveID)
	require.NoError(t, mine.AddEntry(ctx, b, load(stack, "a", noon)))
	other := storetest.Household(t, s, "stranger")
	st, w := demo.Stoves()[1], demo.Stacks()[1]
	for name, err := range map[string]error{
		"stove":       second(other.Stove(ctx, stoveID)),
		"save stove":  other.SaveStove(ctx, stoveID, st),
		"stack":       second(other.Stack(ctx, stack)),
		"save stack":  other.SaveStack(ctx, stack, w, nil, noon),
		"take stack":  other.RemoveStack(ctx, stack, true),
		"start":       second(other.StartBurn(ctx, stoveID, "", burn.Burn{Stove: st.Stove, Started: noon}, nil)),
		"burn":        second(other.Burn(ctx, b)),
		"entry":       other.AddEntry(ctx, b, load(stack, "z", noon)),
		"correct":     other.CorrectEntry(ctx, b, "a", load(stack, "z", noon)),
		"strike":      other.StrikeEntry(ctx, b, "a"),
		"put back":    other.PutBackEntry(ctx, b, "a"),
		"end":         other.EndBurn(ctx, b, &noon),
		"remove burn": other.RemoveBurn(ctx, b, true),
	} {
		assert.ErrorIs(t, err, store.ErrMissing, name)
	}
	stacks, err := other.Stacks(ctx)
	require.NoError(t, err)
	assert.Empty(t, stacks)
	// A load that names a stranger's stack takes nothing off it.
	otherStove, err := other.AddStove(ctx, st)
	require.NoError(t, err)
	before := left(t, mine, stack)
	require.NoError(t, other.AddEntry(ctx, open(t, other, otherStove), load(stack, "q", noon)))
	assert.Equal(t, before, left(t, mine, stack))
}

func second[T any](_ T, err error) error { return err }

func TestNames(t *testing.T) {
	s := storetest.New(t)
	h, _, stack := furnished(t, s, "Tarn")
	_, err := h.AddStove(ctx, demo.Stoves()[0])
	assert.ErrorIs(t, err, store.ErrTaken)
	_, err = h.AddStack(ctx, demo.Stacks()[0], noon)
	assert.ErrorIs(t, err, store.ErrTaken)
	require.NoError(t, h.RemoveStack(ctx, stack, true))
	_, err = h.AddStack(ctx, demo.Stacks()[0], noon)
	require.NoError(t, err, "the name is free again")
	assert.ErrorIs(t, h.RemoveStack(ctx, stack, false), store.ErrTaken, "and now the old one cannot come back under it")
	_, err = s.Create(ctx, store.Profile{Name: "x", Zone: "UTC", Units: units.Metric}, "tARN", "hash")
	assert.ErrorIs(t, err, store.ErrTaken, "names of people differ in more than their capitals")
	u, err := s.UserByName(ctx, "TARN")
	require.NoError(t, err)
	assert.Equal(t, "Tarn", u.Name)
	_, err = s.UserByName(ctx, "nobody")
	assert.ErrorIs(t, err, store.ErrMissing)
}

func TestProfile(t *testing.T) {
	s := storetest.New(t)
	h := storetest.Household(t, s, "tarn")
	p, err := h.Profile(ctx)
	require.NoError(t, err)
	p.Units, p.Zone, p.House.Fan = units.Imperial, "Europe/Oslo", 300
	require.NoError(t, h.SaveProfile(ctx, p))
	got, err := h.Profile(ctx)
	require.NoError(t, err)
	assert.Equal(t, p, got)
	assert.Equal(t, "Europe/Oslo", got.Location().String())
	assert.Equal(t, time.UTC, store.Profile{Zone: "Nowhere/Land"}.Location())
	n, err := s.Migrate(ctx)
	require.NoError(t, err)
	assert.Zero(t, n, "migrating again does nothing")
}
