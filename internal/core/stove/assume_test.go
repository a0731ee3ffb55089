package stove_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/flue"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

func told(v units.Litre) stove.Stove {
	return stove.Stove{Name: "the stove", Family: stove.SecondaryAir, Volume: v, Chimney: flue.Chimney{Height: 6, Outside: true},
		Controls: []stove.Control{{Key: "air", Name: "Air", Role: stove.Combined, Scale: stove.Scale{Kind: stove.Lever}}}}
}

// A stove of which only size, control and chimney height are told is a whole one,
// of any size there is.
func TestWhatIsTakenMakesAWholeStove(t *testing.T) {
	for _, v := range []units.Litre{3, 8, 12, 19.9, 20, 34, 35, 55, 80, 150, 400} {
		st := told(v).Assume()
		require.NoError(t, st.Check(), "%.1f L", v)
		assert.Equal(t, []string{"width", "depth", "height", "max-load", "diameter", "lining"}, st.Assumed, "%.1f L", v)
		assert.InEpsilon(t, float64(v), float64(st.Width*st.Depth*st.Height)*1000, 0.25, "the sides make about its volume")
		assert.Equal(t, st, st.Assume(), "what is taken once stays so")
	}
}

// What is told stays, and the rest gives way to it.
func TestWhatIsToldStays(t *testing.T) {
	st := told(60)
	st.Width, st.Chimney.Diameter = 0.6, 0.13
	whole := st.Assume()
	require.NoError(t, whole.Check())
	assert.InDelta(t, 0.6, float64(whole.Width), 1e-12)
	assert.InDelta(t, 0.13, float64(whole.Chimney.Diameter), 1e-12)
	assert.Equal(t, []string{"depth", "height", "max-load", "lining"}, whole.Assumed)
	assert.InEpsilon(t, 60, float64(whole.Width*whole.Depth*whole.Height)*1000, 0.1)
}

// What knowing a field is worth follows from the chimney and the box.
func TestStakes(t *testing.T) {
	st := told(55)
	st.Assumed = []string{"bends", "altitude"}
	worth := map[string]stove.Stake{}
	for _, k := range st.Assume().Stakes() {
		worth[k.Field] = k
		assert.True(t, k.Draft > 0 || k.Load > 0 || k.Piece > 0, "%s is worth something", k.Field)
	}
	require.Len(t, worth, 8)
	assert.InDelta(t, 4.4, float64(worth["max-load"].Load), 0.1, "manuals give 0.08 to 0.16 kg per litre, and the least is taken")
	tall := st
	tall.Chimney.Height = 12
	for _, k := range tall.Assume().Stakes() {
		if k.Field == "altitude" {
			assert.Greater(t, k.Draft, worth["altitude"].Draft, "thin air costs a tall chimney more")
		}
	}
}

// Of a largest load that nobody has read in the manual the least is planned with;
// what was really put on is logged up to what any manual allows.
func TestALargestLoadThatIsNotKnown(t *testing.T) {
	st := told(55).Assume()
	assert.InDelta(t, 4.4, float64(st.MaxLoad), 1e-9)
	beech, err := wood.SpeciesByKey("beech")
	require.NoError(t, err)
	require.NoError(t, st.CheckLoad(7, 0.18, beech))
	require.ErrorIs(t, st.CheckLoad(9.5, 0.18, beech), stove.ErrLoad)
	st.Assumed, st.MaxLoad = nil, 4.4
	require.ErrorIs(t, st.CheckLoad(7, 0.18, beech), stove.ErrLoad, "a manual's figure is never passed")
}

// A file may not make up what is unknown.
func TestOnlyWhatMayBeUnknownIs(t *testing.T) {
	for _, bad := range [][]string{{"family"}, {"lining", "lining"}, {"<script>"}} {
		st := told(55).Assume()
		st.Assumed = bad
		require.Error(t, st.Check(), "%v", bad)
	}
}
