package stove_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/flue"
	"smolder/internal/core/reason"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

func TestReadingsInTheOwnersMarks(t *testing.T) {
	lever := stove.Scale{Kind: stove.Lever}
	left := stove.Scale{Kind: stove.Lever, OpenLeft: true}
	turns := stove.Scale{Kind: stove.Turns, Full: 4}
	gap := stove.Scale{Kind: stove.Millimetres, Full: 15}
	sixteenths := stove.Scale{Kind: stove.Sixteenths, Full: 12}
	notches := stove.Scale{Kind: stove.Notches, Notches: []string{"shut", "one", "two", "three", "open"}}
	percent := stove.Scale{Kind: stove.PercentOpen}
	for _, c := range []struct {
		scale stove.Scale
		typed string
		want  float64
	}{
		{lever, "a third", 1. / 3}, {lever, "half", 0.5}, {lever, "right", 1}, {lever, "left", 0},
		{lever, "25%", 0.25}, {lever, "1/8", 0.125}, {lever, "0.42", 0.42}, {lever, "open", 1},
		{left, "left", 1}, {left, "right", 0}, {left, "shut", 0},
		{turns, "2.5 turns", 0.625}, {turns, "1", 0.25}, {turns, "closed", 0}, {turns, "50%", 0.5},
		{gap, "4 mm", 4. / 15}, {gap, "15", 1}, {gap, "3/16 in", 4.7625 / 15},
		{sixteenths, "3/16 in", 0.25}, {sixteenths, "6", 0.5},
		{notches, "two", 0.5}, {notches, "4", 0.75}, {notches, "Open", 1},
		{percent, "40%", 0.4}, {percent, "40", 0.4}, {percent, "0.25", 0.25},
	} {
		got, err := c.scale.Parse(c.typed)
		require.NoError(t, err, "%s %q", c.scale.Kind, c.typed)
		assert.InDelta(t, c.want, got, 1e-4, "%s %q", c.scale.Kind, c.typed)
	}
	for _, c := range []struct {
		scale       stove.Scale
		typed, says string
	}{
		{turns, "5 turns", "beyond fully open"}, {turns, "some", "a number was expected"}, {notches, "five", "no such notch"},
		{lever, "", "is missing"}, {lever, "sideways", "a share of the way"}, {gap, "a hair", "a gap was expected"}, {percent, "140", "beyond fully open"},
	} {
		_, err := c.scale.Parse(c.typed)
		assert.ErrorContains(t, err, c.says)
		assert.ErrorContains(t, err, "would do")
	}
}

func TestNearestMark(t *testing.T) {
	for _, c := range []struct {
		scale      stove.Scale
		from, want float64
	}{
		{stove.Scale{Kind: stove.Lever}, 0.29, 1. / 4}, {stove.Scale{Kind: stove.Lever}, 0.30, 1. / 3}, {stove.Scale{Kind: stove.Lever}, 0.02, 0},
		{stove.Scale{Kind: stove.Lever}, 0.97, 1},
		{stove.Scale{Kind: stove.Turns, Full: 4}, 0.29, 0.3125}, {stove.Scale{Kind: stove.Millimetres, Full: 15}, 0.29, 4. / 15},
		{stove.Scale{Kind: stove.Sixteenths, Full: 12}, 0.29, 0.25},
		{stove.Scale{Kind: stove.PercentOpen}, 0.29, 0.3}, {stove.Scale{Kind: stove.Notches, Notches: []string{"shut", "half", "open"}}, 0.29, 0.5},
	} {
		got := c.scale.Nearest(c.from)
		assert.InDelta(t, c.want, got, 1e-9, "%s %v", c.scale.Kind, c.from)
		assert.InDelta(t, got, c.scale.Nearest(got), 1e-9, "a mark is its own nearest")
		for _, least := range []float64{0, 0.2, 0.5, 0.9, 1} {
			no := c.scale.AtLeast(least)
			assert.GreaterOrEqual(t, no, least-1e-9, "%s", c.scale.Kind)
			assert.InDelta(t, no, c.scale.Nearest(no), 1e-9, "a mark")
			if below := c.scale.Nearest(least); below >= least {
				assert.InDelta(t, below, no, 1e-9, "%s: the lowest of them", c.scale.Kind)
			}
		}
	}
}

// No mark of a lever is a fifth of its way: not under it is a quarter, nearest a sixth.
func TestAFifthOfALever(t *testing.T) {
	lever := stove.Scale{Kind: stove.Lever}
	assert.InDelta(t, 1./6, lever.Nearest(0.2), 1e-9)
	assert.InDelta(t, 1./4, lever.AtLeast(0.2), 1e-9)
}

// Every step offered for one tap lies between shut and open.
func TestStepsOffered(t *testing.T) {
	for _, s := range []stove.Scale{{Kind: stove.Lever}, {Kind: stove.Turns, Full: 4}, {Kind: stove.Millimetres, Full: 20}, {Kind: stove.PercentOpen},
		{Kind: stove.Sixteenths, Full: 16}, {Kind: stove.Notches, Notches: []string{"in", "half", "out"}}} {
		for _, o := range s.Steps() {
			assert.True(t, o >= 0 && o <= 1)
		}
		assert.NoError(t, s.Check())
		assert.NotEmpty(t, s.Example())
	}
	for _, s := range []stove.Scale{{Kind: stove.Turns}, {Kind: stove.Notches, Notches: []string{"one"}}, {Kind: "feel"}} {
		assert.Error(t, s.Check())
	}
}

func good() stove.Stove {
	return stove.Stove{Name: "Auntie", Family: stove.SecondaryAir, Volume: 55, Width: 0.46, Depth: 0.38, Height: 0.33, MaxLoad: 7,
		Controls: []stove.Control{{Key: "lever", Name: "Lever", Role: stove.Combined, Scale: stove.Scale{Kind: stove.Lever}}},
		Gauges:   []stove.Gauge{stove.NewGauge(stove.Top), stove.NewGauge(stove.ConnectorProbe)},
		Chimney:  flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.Insulated}}
}

func TestStoveIsChecked(t *testing.T) {
	require.NoError(t, good().Check())
	roomy := good()
	roomy.Gauges = append(roomy.Gauges, stove.NewGauge(stove.RoomAir))
	require.NoError(t, roomy.Check(), "a room has no working band")
	for code, spoil := range map[reason.Code]func(*stove.Stove){
		stove.NoName:        func(s *stove.Stove) { s.Name = " " },
		stove.UnknownFamily: func(s *stove.Stove) { s.Family = "pellet" },
		stove.VolumeRange:   func(s *stove.Stove) { s.Volume = 0 },
		stove.SideRange:     func(s *stove.Stove) { s.Width = 0.02 },
		stove.BoxAndVolume:  func(s *stove.Stove) { s.Volume = 200 },
		stove.MaxLoadRange:  func(s *stove.Stove) { s.MaxLoad = 50 },
		stove.NoAir:         func(s *stove.Stove) { s.Controls = nil },
		stove.ControlTwice:  func(s *stove.Stove) { s.Controls = append(s.Controls, s.Controls[0]) },
		stove.GaugeBand:     func(s *stove.Stove) { s.Gauges[0].Band.Low = 600 },
		stove.GaugeTwice:    func(s *stove.Stove) { s.Gauges = append(s.Gauges, s.Gauges[0]) },
		stove.SurfaceDouble: func(s *stove.Stove) { s.Double, s.Gauges[0] = true, stove.NewGauge(stove.ConnectorSurface) },
		flue.HeightLow:      func(s *stove.Stove) { s.Chimney.Height = 0 },
	} {
		s := good()
		spoil(&s)
		assert.ErrorContains(t, s.Check(), string(code))
	}
}

func TestLoadIsChecked(t *testing.T) {
	beech, _ := wood.SpeciesByKey("beech")
	pine, _ := wood.SpeciesByKey("pine")
	s := good()
	require.NoError(t, s.CheckLoad(7, 0.18, beech))
	err := s.CheckLoad(7.5, 0.18, beech)
	require.ErrorIs(t, err, stove.ErrLoad)
	assert.ErrorContains(t, err, string(stove.LoadOverManual))
	s.MaxLoad = 20
	assert.ErrorContains(t, s.CheckLoad(15, 0.18, pine), string(stove.LoadOverBox), "light wood fills the box first")
}

func TestWhichGaugeToSteerBy(t *testing.T) {
	g, ok := good().Guide()
	assert.True(t, ok)
	assert.Equal(t, stove.ConnectorProbe, g.Place)
	s := good()
	s.Gauges = []stove.Gauge{stove.NewGauge(stove.RoomAir)}
	_, ok = s.Guide()
	assert.False(t, ok, "a room thermometer says nothing of the fire")
	assert.InDelta(t, 0.35, float64(s.LongestPiece(stove.EndOn)), 1e-5)
	for _, p := range stove.Places {
		assert.True(t, p.Known())
		if p.OfFire() {
			assert.NoError(t, stove.NewGauge(p).Band.Check())
		}
	}
	assert.Equal(t, units.Celsius(0), stove.RoomAir.DefaultBand().Low)
}
