package winter_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/shed"
	"smolder/internal/app/winter"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/season"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/demo"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

var (
	ctx = context.Background()
	now = storetest.Noon
)

// household has a stove and the demo's stacks.
func household(t *testing.T) (store.Household, int64) {
	t.Helper()
	s := storetest.New(t)
	h := storetest.Household(t, s, "tarn")
	spaces, err := h.Spaces(ctx)
	require.NoError(t, err)
	st := demo.Stoves()[0]
	st.Space = spaces[0]
	id, err := h.AddStove(ctx, st)
	require.NoError(t, err)
	for _, w := range demo.Stacks() {
		_, err := storetest.AddStack(h, w, now.AddDate(0, -1, 0))
		require.NoError(t, err)
	}
	return h, id
}

// Before anything was burnt a household's use is a usual one, and said to be; its wood is
// what is dry or will be; kindling is none of it.
func TestAHouseholdThatHasBurntNothing(t *testing.T) {
	h, _ := household(t)
	w, err := winter.For(ctx, new(shed.Shed), h, now)
	require.NoError(t, err)
	assert.False(t, w.Known)
	assert.Len(t, w.Woods, 5)
	assert.Len(t, w.Kindling, 1)
	assert.Len(t, w.All, 6)
	assert.Equal(t, season.UsualShares, w.Shares)
	assert.True(t, w.From.Equal(now) && w.End.After(now))
	o := w.Lasts()
	assert.NotEmpty(t, o.Weeks)
	assert.Positive(t, o.Needed[1])
	_, _, _, past, ok, err := w.HalfWay(ctx, h)
	require.NoError(t, err)
	assert.False(t, ok, "nothing was burnt: there is nothing to check")
	assert.NotEmpty(t, past)
	assert.Zero(t, w.Uncounted())
	assert.GreaterOrEqual(t, w.Densest(), 0)
	empty, err := winter.For(ctx, new(shed.Shed), storetest.Household(t, storetest.New(t), "nobody"), now)
	require.NoError(t, err)
	assert.Empty(t, empty.Woods)
	assert.Equal(t, -1, empty.Densest())
	assert.Empty(t, empty.Basket(nil, 0, 0, 12).Lines)
}

// A little wet wood is burnt as it is; wetter wood waits for its day; wood that is not dry
// before the winter ends is none of its wood.
func TestWhatIsThisWintersWood(t *testing.T) {
	sp, err := wood.SpeciesByKey("ash")
	require.NoError(t, err)
	fuel := func(u units.Fraction, likely time.Time) season.Fuelwood {
		s := shed.Stack{Stack: store.Stack{Stack: wood.Stack{Name: "ash", Species: sp, Reading: u, Spread: 0.01}}, Left: wood.Amount{Middle: 500, Own: 0.03, Same: 0.04}}
		s.Ready.Likely, s.Ready.Early, s.Ready.Late = likely, likely, likely.AddDate(0, 1, 0)
		return winter.Fuel(s, now)
	}
	assert.True(t, fuel(0.21, now.AddDate(0, 3, 0)).Ready.IsZero(), "people burn it")
	wet := fuel(0.3, now.AddDate(0, 3, 0))
	assert.True(t, wet.Ready.Equal(now.AddDate(0, 3, 0)))
	assert.Positive(t, wet.Doubt)
	assert.InDelta(t, 0.05, wet.Energy.Doubt, 1e-9)
	assert.Greater(t, fuel(0.3, time.Time{}).Ready.Sub(now).Hours(), 24*365.*20)
	h, _ := household(t)
	st, r, c := shed.Bare(wood.Stack{Name: "green", Species: sp, PieceMass: 3, PieceLength: 0.4, Reading: 0.6, WoodTemp: 10, Mass: 5000})
	_, err = h.AddStack(ctx, st, r, c, now)
	require.NoError(t, err)
	w, err := winter.For(ctx, new(shed.Shed), h, now)
	require.NoError(t, err)
	assert.Len(t, w.Woods, 6)
	assert.Less(t, len(w.Piles()), 6, "five tonnes of green ash warm nobody this winter")
}

// At hand: what lies by the stove is drier and warm; what was left outside is cold once a
// household says what it carries in, and is taken as warm before.
func TestAtHand(t *testing.T) {
	h, _ := household(t)
	stacks, err := new(shed.Shed).Stacks(ctx, h, now)
	require.NoError(t, err)
	oak, beech := stacks[1], stacks[0]
	in, err := winter.InsideOf(ctx, h, now)
	require.NoError(t, err)
	assert.Equal(t, oak.Wood(), in.AtHand(oak, 18, -4, now), "nobody says what is carried in")
	_, err = h.Carry(ctx, oak.ID, 12, now)
	require.NoError(t, err)
	later := now.AddDate(0, 0, 4)
	in, err = winter.InsideOf(ctx, h, later)
	require.NoError(t, err)
	assert.Equal(t, 12, in.Pieces(oak.ID))
	inside := in.AtHand(oak, 18, -4, later)
	assert.Less(t, inside.Reading, oak.Reading)
	assert.Less(t, inside.PieceMass, oak.PieceMass, "water has left it")
	assert.InDelta(t, 0, float64(inside.Colder), 0.1)
	outside := in.AtHand(beech, 18, -4, later)
	assert.InDelta(t, 22, float64(outside.Colder), 1e-9)
	assert.Equal(t, beech.Reading, outside.Reading)
	assert.Zero(t, in.AtHand(beech, 10, 20, later).Colder, "in summer nothing is cold")
	in, err = winter.InsideOf(ctx, h, now.Add(time.Hour))
	require.NoError(t, err)
	assert.Greater(t, float64(in.AtHand(oak, 18, -4, now.Add(time.Hour)).Colder), 10., "an hour does not warm it through")
	kept := beech
	kept.Cover = wood.Inside
	assert.Zero(t, in.AtHand(kept, 18, -4, now).Colder, "a stack that lies indoors is warm")
}

// The basket asks for more when it is colder, burns first what lies there, and has kindling
// for the fires to come.
func TestTheBasketByTheCold(t *testing.T) {
	h, _ := household(t)
	w, err := winter.For(ctx, new(shed.Shed), h, now)
	require.NoError(t, err)
	w.Lately.Burns, w.Weeks = 42, 6
	sum := func(b winter.Basket) (n, kindling int) {
		for _, l := range b.Lines {
			if l.Stack.Kindling {
				kindling += l.Carry()
				continue
			}
			n += l.Tonight + l.Tomorrow
		}
		return n, kindling
	}
	cold, kindling := sum(w.Basket(nil, -8, -8, 10))
	mild, _ := sum(w.Basket(nil, 8, 8, 10))
	assert.Greater(t, cold, mild)
	assert.Equal(t, 20, kindling, "two fires of ten sticks")
	warm, _ := sum(w.Basket(nil, 25, 25, 10))
	assert.Zero(t, warm)
	spruce := w.Stacks[2]
	in := winter.Inside{spruce.ID: {{StackID: spruce.ID, Pieces: 200, Left: 200, At: now}}}
	for _, l := range w.Basket(in, -8, -8, 10).Lines {
		if !l.Stack.Kindling {
			assert.Zero(t, l.Carry(), "%s: enough lies there", l.Stack.Name)
		}
	}
}

// Winters that were logged count, without any review of them, and what a model thinks of the
// stove meanwhile changes nothing: it goes by the wood.
func TestWintersThatWereLogged(t *testing.T) {
	h, stoveID := household(t)
	stacks, err := new(shed.Shed).Stacks(ctx, h, now)
	require.NoError(t, err)
	st, err := h.Stove(ctx, stoveID)
	require.NoError(t, err)
	before, err := winter.For(ctx, new(shed.Shed), h, now)
	require.NoError(t, err)
	require.False(t, before.Known)
	assert.NotZero(t, before.Unasked, "nobody has said what else heats")
	var one int64
	for i := range 20 {
		at := now.AddDate(-1, 0, -5*i)
		id, err := h.StartBurn(ctx, stoveID, "", burn.Burn{Stove: st.Stove, House: st.Space.House, Started: at}, nil)
		require.NoError(t, err)
		for _, e := range []burn.Entry{
			{ID: fmt.Sprintf("load-%d", i), At: at, Kind: burn.Load, Load: &fire.Load{Species: stacks[0].Species, Moisture: 0.18, Pieces: 4, PieceMass: 1.3, PieceLength: 0.33, Direction: "end-on", Lay: fire.OnCoals, StackName: stacks[0].Name, StackID: stacks[0].ID}},
			{ID: fmt.Sprintf("lit-%d", i), At: at, Kind: burn.Light},
		} {
			require.NoError(t, h.AddEntry(ctx, id, e, at.Add(time.Hour)))
		}
		_, err = h.EndBurn(ctx, id, at.Add(4*time.Hour), at.Add(4*time.Hour))
		require.NoError(t, err)
		one = id
	}
	w, err := winter.For(ctx, new(shed.Shed), h, now)
	require.NoError(t, err)
	assert.True(t, w.Known)
	assert.Equal(t, 1, w.Behind)
	assert.Zero(t, w.Unasked, "what was burnt tells more than an answer")
	needed := w.Lasts().Needed[1]
	assert.Less(t, needed, 0.5*before.Lasts().Needed[1], "twenty evenings are no winter of a stove alone")
	dry := 20 * 4 * 1.3 / 1.18
	assert.Less(t, needed, dry*wood.NetEnergyDry(stacks[0].Species.Gross)*1e6*2)
	assert.Greater(t, needed, dry*wood.NetEnergyDry(stacks[0].Species.Gross)*1e6/3)
	require.NoError(t, h.RemoveBurn(ctx, one, true, now))
	less, err := winter.For(ctx, new(shed.Shed), h, now)
	require.NoError(t, err)
	assert.Less(t, less.Lasts().Needed[1], needed, "what was removed is not counted")
}
