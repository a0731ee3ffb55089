package store_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/shed"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/demo"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

var (
	ctx   = context.Background()
	noon  = storetest.Noon
	later = noon.Add(time.Hour)
)

// furnished is a household with one stove and one stack.
func furnished(t *testing.T, s *store.Store, owner string) (h store.Household, stoveID, stackID int64) {
	h = storetest.Household(t, s, owner)
	stoveID, err := h.AddStove(ctx, inSpace(t, h, demo.Stoves()[0]))
	require.NoError(t, err)
	stackID, err = storetest.AddStack(h, demo.Stacks()[0], noon.Add(-time.Hour))
	require.NoError(t, err)
	return h, stoveID, stackID
}

// inSpace puts a stove into the household's first space.
func inSpace(t *testing.T, h store.Household, st store.Stove) store.Stove {
	spaces, err := h.Spaces(ctx)
	require.NoError(t, err)
	st.Space = spaces[0]
	return st
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
	s, err := new(shed.Shed).Stack(ctx, h, stack, noon)
	require.NoError(t, err)
	return s.Mass
}

func TestWhatIsLeftOfAStackFollowsTheLog(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, stack := furnished(t, s, "tarn")
	b := open(t, h, stoveID)
	whole := left(t, h, stack)

	require.NoError(t, h.AddEntry(ctx, b, load(stack, "a", noon), later))
	require.NoError(t, h.AddEntry(ctx, b, load(stack, "a", noon), later), "the same entry sent again is kept once")
	assert.InDelta(t, 5.2, float64(whole-left(t, h, stack)), 0.01)

	e := load(stack, "b", noon)
	e.Load.Pieces = 2
	require.NoError(t, h.CorrectEntry(ctx, b, "a", e, later))
	assert.InDelta(t, 2.6, float64(whole-left(t, h, stack)), 0.01, "a correction takes the old one's place")
	require.NoError(t, h.UndoEntry(ctx, b, "b", noon))
	assert.InDelta(t, 5.2, float64(whole-left(t, h, stack)), 0.01, "undoing a correction brings back what it corrected")
	require.NoError(t, h.PutBackEntry(ctx, b, "b"))
	assert.InDelta(t, 2.6, float64(whole-left(t, h, stack)), 0.01)

	require.NoError(t, h.RemoveBurn(ctx, b, true, noon))
	assert.Equal(t, whole, left(t, h, stack), "a burn off the list gives its wood back")
	require.NoError(t, h.RemoveBurn(ctx, b, true, noon), "removing twice is fine")
	require.NoError(t, h.RemoveBurn(ctx, b, false, noon))

	st, err := new(shed.Shed).Stack(ctx, h, stack, noon)
	require.NoError(t, err)
	dry := wood.DryMass(100, st.Moisture())
	require.NoError(t, h.AddCount(ctx, stack, store.StackCount{At: noon.Add(time.Hour), Way: wood.OnScale, Typed: "100 kg",
		Amount: wood.Amount{Middle: dry, Own: 0.02}}))
	assert.InDelta(t, 100, float64(left(t, h, stack)), 1e-6, "a new count starts from there")
	require.NoError(t, h.AddCount(ctx, stack, store.StackCount{At: noon.Add(2 * time.Hour), Way: wood.OnScale, Typed: "50 kg",
		Amount: wood.Amount{Middle: dry / 2}, Adds: true}))
	assert.InDelta(t, 150, float64(left(t, h, stack)), 1e-6, "what is put on it comes to it")
	counts, err := h.CountsOf(ctx, stack)
	require.NoError(t, err)
	require.Len(t, counts, 3)
	require.NoError(t, h.UndoCount(ctx, stack, counts[0].ID, true, noon))
	assert.InDelta(t, 100, float64(left(t, h, stack)), 1e-6, "and goes when that is taken back")
	require.NoError(t, h.UndoCount(ctx, stack, counts[1].ID, true, noon))
	assert.InDelta(t, float64(whole)-2.6, float64(left(t, h, stack)), 0.01)
	require.ErrorIs(t, h.UndoCount(ctx, stack+1, counts[0].ID, true, noon), store.ErrMissing)
}

func TestOneFireInAStoveAtATime(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	b := open(t, h, stoveID)
	st, _ := h.Stove(ctx, stoveID)
	_, err := h.StartBurn(ctx, stoveID, "", burn.Burn{Stove: st.Stove, Started: noon}, nil)
	assert.ErrorIs(t, err, store.ErrBurning)
	ended := noon.Add(3 * time.Hour)
	_, err = h.EndBurn(ctx, b, ended, ended)
	require.NoError(t, err)
	again, err := h.EndBurn(ctx, b, ended.Add(50*time.Hour), ended.Add(50*time.Hour))
	require.NoError(t, err)
	assert.True(t, ended.Equal(again), "ending again moves nothing")
	require.ErrorIs(t, h.AddEntry(ctx, b, burn.Entry{ID: "late", At: ended.Add(time.Hour), Kind: burn.Out}, ended.Add(2*time.Hour)),
		burn.ErrEntry, "after the end nothing is kept")
	require.NoError(t, h.AddEntry(ctx, b, burn.Entry{ID: "of-before", At: ended.Add(-time.Hour), Kind: burn.Out}, ended.Add(2*time.Hour)),
		"but what was of before")
	second := open(t, h, stoveID)
	assert.ErrorIs(t, h.ReopenBurn(ctx, b), store.ErrBurning, "opening the first again would make two")
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
	valid := got.Valid()
	for i := range valid {
		valid[i].Seq = 0 // its place in this database
	}
	assert.Equal(t, want.Valid(), valid)
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
	require.NoError(t, mine.AddEntry(ctx, b, load(stack, "a", noon), later))
	other := storetest.Household(t, s, "stranger")
	st, w := demo.Stoves()[1], demo.Stacks()[1]
	for name, err := range map[string]error{
		"stove":       second(other.Stove(ctx, stoveID)),
		"save stove":  other.SaveStove(ctx, store.Stove{ID: stoveID, Stove: st.Stove, Version: 1}),
		"take stove":  other.RemoveStove(ctx, stoveID, true, noon),
		"space":       second(other.Space(ctx, 1)),
		"save space":  other.SaveSpace(ctx, store.Space{ID: 1, Version: 1, Name: "x"}),
		"stack":       second(new(shed.Shed).Stack(ctx, other, stack, noon)),
		"save stack":  other.SaveStack(ctx, store.Stack{ID: stack, Version: 1, Stack: w}),
		"read stack":  other.AddReading(ctx, stack, store.StackReading{At: noon, Reading: 0.2, Pieces: 1}),
		"count stack": other.AddCount(ctx, stack, store.StackCount{At: noon, Way: wood.OnScale}),
		"undo read":   other.UndoReading(ctx, stack, 1, true, noon),
		"carry":       second(other.Carry(ctx, stack, 3, noon)),
		"take stack":  other.RemoveStack(ctx, stack, true, noon),
		"start":       second(other.StartBurn(ctx, stoveID, "", burn.Burn{Stove: st.Stove, Started: noon}, nil)),
		"burn":        second(other.Burn(ctx, b)),
		"entry":       other.AddEntry(ctx, b, load(stack, "z", noon), later),
		"correct":     other.CorrectEntry(ctx, b, "a", load(stack, "z", noon), later),
		"strike":      other.UndoEntry(ctx, b, "a", noon),
		"put back":    other.PutBackEntry(ctx, b, "a"),
		"end":         second(other.EndBurn(ctx, b, noon, noon)),
		"remove burn": other.RemoveBurn(ctx, b, true, noon),
	} {
		assert.ErrorIs(t, err, store.ErrMissing, name)
	}
	stacks, err := other.Stacks(ctx)
	require.NoError(t, err)
	assert.Empty(t, stacks)
	// A load that names a stranger's stack takes nothing off it.
	otherStove, err := other.AddStove(ctx, inSpace(t, other, st))
	require.NoError(t, err)
	before := left(t, mine, stack)
	require.NoError(t, other.AddEntry(ctx, open(t, other, otherStove), load(stack, "q", noon), later))
	assert.Equal(t, before, left(t, mine, stack))
}

func second[T any](_ T, err error) error { return err }

func TestNames(t *testing.T) {
	s := storetest.New(t)
	h, _, stack := furnished(t, s, "Tarn")
	_, err := h.AddStove(ctx, inSpace(t, h, demo.Stoves()[0]))
	assert.ErrorIs(t, err, store.ErrTaken)
	_, err = storetest.AddStack(h, demo.Stacks()[0], noon)
	assert.ErrorIs(t, err, store.ErrTaken)
	require.NoError(t, h.RemoveStack(ctx, stack, true, noon))
	_, err = storetest.AddStack(h, demo.Stacks()[0], noon)
	require.NoError(t, err, "the name is free again")
	assert.ErrorIs(t, h.RemoveStack(ctx, stack, false, noon), store.ErrTaken, "and now the old one cannot come back under it")
	_, _, err = s.Create(ctx, store.Profile{Name: "x", Zone: "UTC", Units: units.Metric}, store.Space{Name: "x"}, "tARN", "hash")
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
	p.Units, p.Zone, p.WeatherURL = units.Imperial, "Europe/Oslo", "http://weather.example"
	require.NoError(t, h.SaveProfile(ctx, p))
	got, err := h.Profile(ctx)
	require.NoError(t, err)
	require.ErrorIs(t, h.SaveProfile(ctx, p), store.ErrStale, "of a page that was opened before")
	p.Version++
	assert.Equal(t, p, got)
	assert.Equal(t, "Europe/Oslo", got.Location().String())
	assert.Equal(t, time.UTC, store.Profile{Zone: "Nowhere/Land"}.Location())
	n, err := s.Migrate(ctx)
	require.NoError(t, err)
	assert.Zero(t, n, "migrating again does nothing")
}

// Two who change one thing from pages opened before: the second is told.
func TestWhoComesTooLateIsTold(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, stackID := furnished(t, s, "tarn")
	st, err := h.Stove(ctx, stoveID)
	require.NoError(t, err)
	require.NoError(t, h.SaveStove(ctx, st))
	require.ErrorIs(t, h.SaveStove(ctx, st), store.ErrStale)
	w, err := new(shed.Shed).Stack(ctx, h, stackID, noon)
	require.NoError(t, err)
	require.NoError(t, h.SaveStack(ctx, w.Row()))
	require.ErrorIs(t, h.SaveStack(ctx, w.Row()), store.ErrStale)
	require.ErrorIs(t, h.SaveStack(ctx, store.Stack{ID: 999, Version: 1, Stack: w.Wood()}), store.ErrMissing)
	require.NoError(t, h.SaveSpace(ctx, st.Space))
	require.ErrorIs(t, h.SaveSpace(ctx, st.Space), store.ErrStale)
}

func TestStovesAndSpacesComeAndGo(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	st, err := h.Stove(ctx, stoveID)
	require.NoError(t, err)
	require.ErrorIs(t, h.RemoveSpace(ctx, st.Space.ID, true, noon), store.ErrUsed, "a stove stands in it")
	b := open(t, h, stoveID)
	require.ErrorIs(t, h.RemoveStove(ctx, stoveID, true, noon), store.ErrBurning)
	_, err = h.EndBurn(ctx, b, noon.Add(time.Hour), noon.Add(time.Hour))
	require.NoError(t, err)
	require.NoError(t, h.RemoveStove(ctx, stoveID, true, noon))
	require.NoError(t, h.RemoveStove(ctx, stoveID, true, noon), "twice is fine")
	gone, err := h.GoneStoves(ctx)
	require.NoError(t, err)
	require.Len(t, gone, 1)
	lines, err := h.Burns(ctx, noon.Add(time.Hour), 10)
	require.NoError(t, err)
	assert.Len(t, lines, 1, "its burns stay")
	require.NoError(t, h.RemoveStove(ctx, stoveID, false, noon))
	van, err := h.AddSpace(ctx, store.Space{Name: "Åsas van", House: st.Space.House, Wanted: st.Space.Wanted})
	require.NoError(t, err)
	_, err = h.AddSpace(ctx, store.Space{Name: "åsas  VAN", House: st.Space.House, Wanted: st.Space.Wanted})
	require.ErrorIs(t, err, store.ErrTaken)
	require.NoError(t, h.RemoveSpace(ctx, van, true, noon))
}

func TestNameKeys(t *testing.T) {
	for _, same := range [][2]string{{"Åse", "åse"}, {"Åse", "A\u030ase"}, {"ÖFFNER", "öffner"}, {" two  words ", "Two Words"}, {"STRASSE", "straße"}} {
		assert.Equal(t, store.NameKey(same[0]), store.NameKey(same[1]), "%q", same)
	}
	assert.NotEqual(t, store.NameKey("Ase"), store.NameKey("Åse"))
	s := storetest.New(t)
	storetest.Household(t, s, "Åse")
	u, err := s.UserByName(ctx, "ÅSE")
	require.NoError(t, err, "she can sign in again")
	assert.Equal(t, "Åse", u.Name)
}

// The log against a plain model, through the database: what is left of a stack
// is what was counted less the loads that count.
func TestTheKeptLogAgainstAPlainModel(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, stack := furnished(t, s, "tarn")
	whole := left(t, h, stack)
	for seed := range uint64(6) {
		r := rand.New(rand.NewPCG(seed, 7)) //nolint:gosec // the same every time
		id := open(t, h, stoveID)
		type plain struct {
			corrects string
			undone   bool
			pieces   int
		}
		model := map[string]plain{}
		var counts func(string) bool
		counts = func(id string) bool {
			if model[id].undone {
				return false
			}
			for other, e := range model {
				if e.corrects == id && counts(other) {
					return false
				}
			}
			return true
		}
		for step := range 30 {
			which, pieces := fmt.Sprintf("e%d", r.IntN(5)), 1+r.IntN(5)
			_, there := model[which]
			switch r.IntN(4) {
			case 0:
				e := load(stack, which, noon)
				e.Load.Pieces = pieces
				err := h.AddEntry(ctx, id, e, later)
				if there && model[which].pieces != pieces {
					require.ErrorIs(t, err, burn.ErrOther, "the same id says something else")
					break
				}
				require.NoError(t, err)
				if !there {
					model[which] = plain{pieces: pieces}
				}
			case 1:
				e := load(stack, fmt.Sprintf("c%d", step), noon)
				e.Load.Pieces = pieces
				err := h.CorrectEntry(ctx, id, which, e, later)
				switch {
				case !there:
					require.ErrorIs(t, err, store.ErrMissing)
				case !counts(which):
					require.ErrorIs(t, err, burn.ErrChanged)
				default:
					require.NoError(t, err)
					model[e.ID] = plain{corrects: which, pieces: pieces}
				}
			default:
				undo := r.IntN(2) == 0
				err := error(nil)
				if undo {
					err = h.UndoEntry(ctx, id, which, later)
				} else {
					err = h.PutBackEntry(ctx, id, which)
				}
				if !there {
					require.ErrorIs(t, err, store.ErrMissing)
					continue
				}
				require.NoError(t, err)
				e := model[which]
				e.undone = undo
				model[which] = e
			}
		}
		want := units.Kilogram(0)
		for id, e := range model {
			if counts(id) {
				want += 1.3 * units.Kilogram(e.pieces)
			}
		}
		assert.InDelta(t, float64(want), float64(whole-left(t, h, stack)), 0.01)
		b, err := h.Burn(ctx, id)
		require.NoError(t, err)
		assert.InDelta(t, float64(want), float64(b.Used()), 1e-6)
		require.NoError(t, h.RemoveBurn(ctx, id, true, noon))
	}
}

// What was kept by a server of before is what this one reads: readings that were
// typed, corrected or undone, in whichever table they stood, and plans in forms
// without a version.
func TestOldRowsAreReadAsTheyWere(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	id := open(t, h, stoveID)
	for i, e := range []burn.Entry{
		{ID: "plain", Kind: burn.Temperature, Place: stove.Top, Reading: 181.25},
		{ID: "typed", Kind: burn.Temperature, Place: stove.ConnectorProbe, Reading: 232, Typed: "450\tF\n\"about\""},
		{ID: "undone", Kind: burn.Temperature, Place: stove.Top, Reading: 90},
		{ID: "note", Kind: burn.Note, Note: "hissing\nand crackling"},
	} {
		e.At = noon.Add(time.Duration(i+1) * time.Minute)
		require.NoError(t, h.AddEntry(ctx, id, e, noon.Add(time.Hour)))
	}
	require.NoError(t, h.CorrectEntry(ctx, id, "plain",
		burn.Entry{ID: "better", Kind: burn.Temperature, Place: stove.Top, Reading: 182, At: noon.Add(time.Minute)}, noon.Add(time.Hour)))
	require.NoError(t, h.UndoEntry(ctx, id, "undone", noon))
	before, err := h.Burn(ctx, id)
	require.NoError(t, err)
	require.Len(t, before.Entries, 5)
	const withoutReadings = 7
	require.NoError(t, s.MigrateTo(ctx, withoutReadings))
	_, err = s.DB().Exec(`UPDATE burns SET spec = spec - 'form'; UPDATE stoves SET spec = spec - 'form'; UPDATE spaces SET spec = spec - 'form'; UPDATE entries SET doc = doc - 'form'`)
	require.NoError(t, err)
	_, err = s.Migrate(ctx)
	require.NoError(t, err)
	after, err := h.Burn(ctx, id)
	require.NoError(t, err)
	before.Revision = after.Revision // the column was not there before
	assert.Equal(t, before, after)
	assert.Equal(t, "450\tF\n\"about\"", after.Entries[2].Typed)
	n, err := h.SameBurn(ctx, stoveID, after.Burn)
	require.NoError(t, err)
	assert.Equal(t, id, n)
	require.NoError(t, h.PutBackEntry(ctx, id, "undone"))
}

// Stacks of a server of before come with their meter's reading, or with what was reckoned
// by their time, and with their count: as dry and as much as they were said to be.
func TestOldStacksAreReadAsTheyWere(t *testing.T) {
	s := storetest.New(t)
	h, _, _ := furnished(t, s, "tarn")
	const withoutHistory = 11
	require.NoError(t, s.MigrateTo(ctx, withoutHistory))
	insert := func(name, species string, reading, temp, mass, spread float64, assumed string) {
		_, err := s.DB().Exec(`
			INSERT INTO stacks (household_id, name, name_key, species, piece_mass, piece_length, reading, wood_temp, mass, spread, assumed, counted_at)
			VALUES ($1, $2, lower($2), $3, 1.3, 0.33, $4, $5, $6, $7, $8, $9)`, h.ID(), name, species, reading, temp, mass, spread, assumed, noon.Add(-time.Hour))
		require.NoError(t, err)
	}
	insert("Metered", "ash", 0.24, 0, 800, 0, "")
	insert("Guessed", "ash", 0.31, 20, 700, 0.08, "mass piece-mass")
	insert("Ovoids", "mineral-fuel", 0.05, 20, 300, 0, "")
	_, err := s.Migrate(ctx)
	require.NoError(t, err)
	all, err := new(shed.Shed).Stacks(ctx, h, noon)
	require.NoError(t, err)
	by := map[string]shed.Stack{}
	for _, st := range all {
		by[st.Name] = st
	}
	metered, guessed, ovoids := by["Metered"], by["Guessed"], by["Ovoids"]
	assert.InDelta(t, float64(wood.DryBasis(0.24, 0)), float64(metered.Moisture()), 0.01, "corrected for the cold")
	assert.InDelta(t, 800, float64(metered.Mass), 8)
	assert.True(t, shed.Metered(metered.Stack))
	assert.InDelta(t, 0.31, float64(guessed.Moisture()), 0.02)
	assert.Greater(t, float64(guessed.Spread), 0.05)
	assert.False(t, shed.Metered(guessed.Stack))
	assert.True(t, guessed.Takes("mass") && guessed.Takes("reading"))
	assert.InDelta(t, 300, float64(ovoids.Mass), 1e-6)
	assert.InDelta(t, 1.3, float64(metered.PieceMass), 0.02)
	require.NoError(t, s.MigrateTo(ctx, withoutHistory), "and back")
	var mass, reading float64
	require.NoError(t, s.DB().QueryRow(`SELECT mass, reading FROM stacks WHERE name = 'Metered'`).Scan(&mass, &reading))
	assert.InDelta(t, 800, mass, 1e-6)
	assert.InDelta(t, 0.24, reading, 1e-9)
}
