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
		says  string
	}{
		{lever, "a third", 1. / 3, "a third"}, {lever, "half", 0.5, "a half"}, {lever, "right", 1, "fully right"}, {lever, "left", 0, "fully left"},
		{lever, "25%", 0.25, "a quarter"}, {lever, "1/8", 0.125, "an eighth"}, {lever, "0.42", 0.42, "42 %"}, {lever, "open", 1, "fully right"},
		{left, "left", 1, "fully left"}, {left, "right", 0, "fully right"}, {left, "shut", 0, "fully right"},
		{turns, "2.5 turns", 0.625, "2.5 turns"}, {turns, "1", 0.25, "1 turn"}, {turns, "closed", 0, "shut"}, {turns, "50%", 0.5, "2 turns"},
		{gap, "4 mm", 4. / 15, "4 mm"}, {gap, "15", 1, "fully open"}, {gap, "3/16 in", 4.7625 / 15, "4.76 mm"},
		{sixteenths, "3/16 in", 0.25, "3/16 in"}, {sixteenths, "6", 0.5, "3/8 in"},
		{notches, "two", 0.5, "two"}, {notches, "4", 0.75, "three"}, {notches, "Open", 1, "open"},
		{percent, "40%", 0.4, "40 %"}, {percent, "40", 0.4, "40 %"}, {percent, "0.25", 0.25, "25 %"},
	} {
		got, err := c.scale.Parse(c.typed)
		require.NoError(t, err, "%s %q", c.scale.Kind, c.typed)
		assert.InDelta(t, c.want, got, 1e-4, "%s %q", c.scale.Kind, c.typed)
		assert.Equal(t, c.says, c.scale.Say(got))
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
		{stove.Scale{Kind: stove.Lever}, 0.29, 1. / 4}, {stove.Scale{Kind: stove.Lever}, 0.30, 1. / 3}, {stove.Scale{Kind: stove.Lever}, 0.02, 0}, {stove.Scale{Kind: stove.Lever}, 0.97, 1},
		{stove.Scale{Kind: stove.Turns, Full: 4}, 0.29, 0.3125}, {stove.Scale{Kind: stove.Millimetres, Full: 15}, 0.29, 4. / 15}, {stove.Scale{Kind: stove.Sixteenths, Full: 12}, 0.29, 0.25},
		{stove.Scale{Kind: stove.PercentOpen}, 0.29, 0.3}, {stove.Scale{Kind: stove.Notches, Notches: []string{"shut", "half", "open"}}, 0.29, 0.5},
	} {
		got := c.scale.Nearest(c.from)
		assert.InDelta(t, c.want, got, 1e-9, "%s %v", c.scale.Kind, c.from)
		assert.InDelta(t, got, c.scale.Nearest(got), 1e-9, "a mark is its own nearest")
	}
}

// Every step offered for one tap is read back as itself.
func TestStepsAreReadBack(t *testing.T) {
	for _, s := range []stove.Scale{{Kind: stove.Lever}, {Kind: stove.Turns, Full: 4}, {Kind: stove.Millimetres, Full: 20}, {Kind: stove.PercentOpen},
		{Kind: stove.Sixteenths, Full: 16}, {Kind: stove.Notches, Notches: []string{"in", "half", "out"}}} {
		for _, o := range s.Steps() {
			got, err := s.Parse(s.Say(o))
			require.NoError(t, err, "%s: %q", s.Kind, s.Say(o))
			assert.InDelta(t, o, got, 0.022, "%s: %q", s.Kind, s.Say(o))
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
	for says, spoil := range map[string]func(*stove.Stove){
		"no name":                      func(s *stove.Stove) { s.Name = " " },
		"not a family":                 func(s *stove.Stove) { s.Family = "pellet" },
		"a firebox of 0 L":             func(s *stove.Stove) { s.Volume = 0 },
		"a firebox width of 20 mm":     func(s *stove.Stove) { s.Width = 0.02 },
		"one of them is off":           func(s *stove.Stove) { s.Volume = 200 },
		"a largest load of 50.0 kg":    func(s *stove.Stove) { s.MaxLoad = 50 },
		"no air control":               func(s *stove.Stove) { s.Controls = nil },
		"two controls":                 func(s *stove.Stove) { s.Controls = append(s.Controls, s.Controls[0]) },
		"its band must rise":           func(s *stove.Stove) { s.Gauges[0].Band.Low = 600 },
		"two thermometers":             func(s *stove.Stove) { s.Gauges = append(s.Gauges, s.Gauges[0]) },
		"double-wall pipe says little": func(s *stove.Stove) { s.Double, s.Gauges[0] = true, stove.NewGauge(stove.ConnectorSurface) },
		"makes no draft":               func(s *stove.Stove) { s.Chimney.Height = 0 },
	} {
		s := good()
		spoil(&s)
		assert.ErrorContains(t, s.Check(), says)
	}
}

func TestLoadIsChecked(t *testing.T) {
	beech, _ := wood.SpeciesByKey("beech")
	pine, _ := wood.SpeciesByKey("pine")
	s := good()
	require.NoError(t, s.CheckLoad(7, 0.18, beech))
	err := s.CheckLoad(7.5, 0.18, beech)
	require.ErrorIs(t, err, stove.ErrLoad)
	assert.ErrorContains(t, err, "up to 7.0 kg would do")
	s.MaxLoad = 20
	assert.ErrorContains(t, s.CheckLoad(15, 0.18, pine), "the firebox holds 55 L", "light wood fills the box first")
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
		assert.True(t, p.Key.Known())
		if p.Key.OfFire() {
			assert.NoError(t, stove.NewGauge(p.Key).Band.Check())
		}
	}
	assert.Equal(t, units.Celsius(0), stove.RoomAir.DefaultBand().Low)
}
