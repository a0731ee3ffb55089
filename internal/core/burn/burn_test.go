package burn_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/reason"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

var start = time.Date(2026, 1, 14, 18, 10, 0, 0, time.UTC)

func kitchen() burn.Burn {
	return burn.Burn{
		Stove: stove.Stove{Name: "Auntie", Room: "kitchen", Family: stove.SecondaryAir, Volume: 55, Width: 0.46, Depth: 0.38, Height: 0.33, MaxLoad: 7,
			Controls: []stove.Control{{Key: "lever", Name: "Lever", Role: stove.Combined, Scale: stove.Scale{Kind: stove.Lever}}},
			Gauges:   []stove.Gauge{stove.NewGauge(stove.ConnectorProbe), stove.NewGauge(stove.Top)},
			Chimney:  flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.Insulated}},
		House: house.Default(), Outdoor: 2, Room: 18, Warmth: 120, Coals: 0.7, Started: start,
	}
}

func load(kilos float64) *fire.Load {
	beech, _ := wood.SpeciesByKey("beech")
	return &fire.Load{Species: beech, Moisture: 0.18, Pieces: 4, PieceMass: units.Kilogram(kilos / 4), PieceLength: 0.33,
		Direction: stove.EndOn, Lay: fire.OnCoals, StackID: 7}
}

func at(minutes int, e burn.Entry) burn.Entry {
	e.At, e.ID = start.Add(time.Duration(minutes)*time.Minute), e.ID+string(e.Kind)
	return e
}

func TestWhatMayBeLogged(t *testing.T) {
	now := start.Add(time.Hour)
	for _, e := range []burn.Entry{
		{Kind: burn.Light}, {Kind: burn.Load, Load: load(6)}, {Kind: burn.Load, Load: load(11)}, {Kind: burn.ToCoals}, {Kind: burn.WentOut},
		{Kind: burn.NotYet, Note: "Not done: lever to a half"}, {Kind: burn.COAlarm}, {Kind: burn.ChimneyFire}, {Kind: burn.Glaze},
		{Kind: burn.Smoke, Smoke: burn.SmokeGone}, {Kind: burn.Control, Control: "lever", Opening: 0.25},
		{Kind: burn.Temperature, Place: stove.Top, Reading: 200},
		{Kind: burn.Door, Door: fire.Ajar}, {Kind: burn.Smoke, Smoke: burn.SmokeGrey}, {Kind: burn.Draft, Draft: 12},
		{Kind: burn.Note, Note: "hissing"}, {Kind: burn.Out}, {Kind: burn.Prime}, {Kind: burn.Rake}} {
		assert.NoError(t, kitchen().Check(at(5, e), now), "%s", e.Kind)
	}
	ended := kitchen()
	ended.Ended = start.Add(10 * time.Minute)
	assert.ErrorContains(t, ended.Check(at(20, burn.Entry{Kind: burn.Out}), now), string(burn.AfterEnd))
	for code, e := range map[reason.Code]burn.Entry{
		burn.Ahead:        at(90, burn.Entry{Kind: burn.Out}),
		burn.BeforeStart:  at(-10, burn.Entry{Kind: burn.Out}),
		burn.EmptyNote:    at(5, burn.Entry{Kind: burn.Note}),
		burn.BadNote:      at(5, burn.Entry{Kind: burn.NotYet, Note: "a\x00b"}),
		burn.LongNote:     at(5, burn.Entry{Kind: burn.Note, Note: strings.Repeat("a", 2001)}),
		burn.NoControl:    at(5, burn.Entry{Kind: burn.Control, Control: "throttle"}),
		burn.BadOpening:   at(5, burn.Entry{Kind: burn.Control, Control: "lever", Opening: 1.2}),
		burn.NoPlace:      at(5, burn.Entry{Kind: burn.Temperature, Reading: 200}),
		burn.ReadingRange: at(5, burn.Entry{Kind: burn.Temperature, Place: stove.Top, Reading: 4000}),
		burn.DraftRange:   at(5, burn.Entry{Kind: burn.Draft, Draft: 900}),
		burn.BadDoor:      at(5, burn.Entry{Kind: burn.Door, Door: 9}),
		burn.BadSmoke:     at(5, burn.Entry{Kind: burn.Smoke, Smoke: "pink"}),
		burn.LoadPieces:   at(5, burn.Entry{Kind: burn.Load}),
		burn.LoadNoRoom:   at(5, burn.Entry{Kind: burn.Load, Load: load(40)}),
		burn.UnknownKind:  at(5, burn.Entry{Kind: "song"}),
		burn.LoadMoisture: at(5, burn.Entry{Kind: burn.Load, Load: func() *fire.Load { l := load(6); l.Moisture = 4; return l }()}),
		burn.LoadLength:   at(5, burn.Entry{Kind: burn.Load, Load: func() *fire.Load { l := load(6); l.PieceLength = 4; return l }()}),
	} {
		err := kitchen().Check(e, now)
		require.ErrorIs(t, err, burn.ErrEntry, code)
		assert.ErrorContains(t, err, string(code))
	}
}

// evening is a load on coals, turned down in two steps, with a probe read now
// and then.
func evening() burn.Burn {
	b := kitchen()
	b.Entries = []burn.Entry{at(0, burn.Entry{ID: "1", Kind: burn.Load, Load: load(5.6)}),
		at(0, burn.Entry{ID: "2", Kind: burn.Control, Control: "lever", Opening: 1}),
		at(12, burn.Entry{ID: "3", Kind: burn.Control, Control: "lever", Opening: 0.5}),
		at(20, burn.Entry{ID: "4", Kind: burn.Control, Control: "lever", Opening: 0.25})}
	for i, r := range []units.Celsius{150, 210, 300, 310, 280, 240, 190} {
		e := at(5+20*i, burn.Entry{Kind: burn.Temperature, Place: stove.ConnectorProbe, Reading: r})
		e.ID += string(rune('a' + i))
		b.Entries = append(b.Entries, e)
	}
	return b
}

func TestMinutesInTheBand(t *testing.T) {
	m := burn.Measure(evening(), start.Add(135*time.Minute))
	assert.Equal(t, burn.FromReadings, m.Source)
	assert.Equal(t, stove.ConnectorProbe, m.Gauge.Place)
	// 150 at 5 min rises through 200 at 21.7 min; 240 at 105 min falls through 200 at 121 min.
	assert.InDelta(t, 22, m.ToWorking.Minutes(), 1)
	assert.InDelta(t, 99, m.Working.Minutes(), 2)
	assert.InDelta(t, 5, m.Unknown.Minutes(), 1, "before the first reading nothing is known")
	assert.Zero(t, m.TooHot)
	assert.InDelta(t, 135, (m.Cold + m.Working + m.TooHot + m.Unknown).Minutes(), 1)

	hot := evening()
	hot.Entries[6].Reading = 560
	assert.Positive(t, burn.Measure(hot, start.Add(135*time.Minute)).TooHot)

	// A gauge that does not guide has its limit too.
	top := evening()
	for i, r := range []units.Celsius{300, 429, 428, 300} {
		e := at(30+10*i, burn.Entry{Kind: burn.Temperature, Place: stove.Top, Reading: r})
		e.ID += string(rune('m' + i))
		top.Entries = append(top.Entries, e)
	}
	assert.InDelta(t, 10, burn.Measure(top, start.Add(135*time.Minute)).TooHot.Minutes(), 2, "top at 429 °C against 425")

	sparse := kitchen()
	sparse.Entries = evening().Entries[:4]
	m = burn.Measure(sparse, start.Add(2*time.Hour))
	assert.Equal(t, burn.FromReplay, m.Source, "without readings the replay is asked")
	assert.Nil(t, m.ByGas)
	assert.Positive(t, m.Working)
}

func TestHeatAndWood(t *testing.T) {
	b := evening()
	m := burn.Measure(b, start.Add(8*time.Hour))
	assert.InDelta(t, 5.6, float64(m.Used), 1e-9)
	assert.InDelta(t, 5.6, float64(b.UsedFrom(7)), 1e-9)
	assert.Zero(t, b.UsedFrom(8))
	assert.InDelta(t, wood.NetEnergy(19.7, 0.18)*5.6, m.In.MJ(), 1e-6)
	assert.Less(t, m.HeatLow, m.HeatHigh, "an estimate is a range")
	assert.Positive(t, m.HeatLow)
	assert.Less(t, float64(m.HeatHigh), float64(m.In)+0.7*31e6, "no more than wood and coals hold")
	require.NotNil(t, m.ByGas)
	assert.InDelta(t, 0.75, float64(*m.ByGas), 0.15)
	b.Entries[0].Struck = true
	assert.Zero(t, b.Used(), "an undone load is no load")
	early := burn.Measure(evening(), start.Add(20*time.Minute))
	assert.Less(t, early.HeatHigh, m.HeatLow, "only what has burnt has given heat")
}

// Mineral fuel is no wood: nothing is simulated, and its gauges are read as they
// are.
func TestMineralFuelIsRecorded(t *testing.T) {
	mineral, _ := wood.SpeciesByKey("mineral-fuel")
	l := load(3)
	l.Species, l.Moisture = mineral, 0.05
	b := evening()
	b.Entries[0] = at(0, burn.Entry{ID: "1", Kind: burn.Mineral, Load: l})
	require.NoError(t, b.Check(b.Entries[0], start.Add(time.Hour)))
	wrong := b.Entries[0]
	wrong.Kind = burn.Load
	require.ErrorContains(t, b.Check(wrong, start.Add(time.Hour)), string(burn.LoadMixed))
	m := burn.Measure(b, start.Add(3*time.Hour))
	assert.False(t, m.Simulated)
	assert.Zero(t, m.Used, "it is not wood")
	assert.InDelta(t, 3, float64(m.Mineral), 1e-9)
	assert.Empty(t, m.Replay.Samples)
	assert.Equal(t, burn.FromReadings, m.Source)
	assert.InDelta(t, 99, m.Working.Minutes(), 2, "the gauge was read")
	assert.Zero(t, m.HeatHigh)
}

func TestStepsOfTheReplay(t *testing.T) {
	steps := evening().Steps()
	require.Len(t, steps, 4, "readings change nothing")
	assert.Equal(t, 12*time.Minute, steps[2].When.At)
	assert.InDelta(t, 0.5, steps[2].Do[0].Opening, 1e-9)
	warmed := evening()
	warmed.Entries = append(warmed.Entries, at(0, burn.Entry{Kind: burn.Prime}), at(50, burn.Entry{Kind: burn.Rake}))
	more := warmed.Steps()
	require.Len(t, more, 6, "what the hand did to flue and coals is burnt again")
	draft := func(b burn.Burn) units.Pascal { return b.Replay(start.Add(90 * time.Second)).Samples[1].Draft }
	assert.Greater(t, draft(warmed), draft(evening()), "a warmed flue draws")
	last, ok := evening().Last(func(e burn.Entry) bool { return e.Kind == burn.Temperature })
	assert.True(t, ok)
	assert.Equal(t, units.Celsius(190), last.Reading)
	long := evening().Replay(start.Add(400 * time.Hour))
	assert.LessOrEqual(t, long.Samples[len(long.Samples)-1].At, 48*time.Hour)
}
