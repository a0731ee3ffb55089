package house_test

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/house"
	"smolder/internal/core/reason"
	"smolder/internal/core/units"
)

func always(t units.Celsius) house.Forecast { return func(time.Duration) units.Celsius { return t } }

func heater(w units.Watt) house.Heater { return func(time.Duration) units.Watt { return w } }

func TestHeatWantedHoldsTheRoom(t *testing.T) {
	h := house.Default()
	w := h.HeatWanted(20, 0)
	assert.InDelta(t, 1.6*45*20, float64(w), 1e-6)
	assert.Zero(t, h.HeatWanted(20, 25), "summer")
	rooms := h.Through(house.Settled(20), 96*time.Hour, heater(w), always(0))
	end := rooms[len(rooms)-1]
	assert.InDelta(t, 20, float64(end.Air), 1.5, "at that heat it stays about there")
	more := h.Through(house.Settled(20), 6*time.Hour, heater(2*w), always(0))
	assert.Greater(t, more[len(more)-1].Air, units.Celsius(20.5))
}

func TestHowLongTheHouseCoasts(t *testing.T) {
	tight, leaky := house.Default(), house.Default()
	tight.Build, leaky.Build = house.Tight, house.Draughty
	start := house.Settled(21)
	long, short := tight.Coast(start, 18, always(0), 24*time.Hour), leaky.Coast(start, 18, always(0), 24*time.Hour)
	assert.Greater(t, long, short, "a tight house coasts longer")
	assert.Positive(t, short)
	assert.Equal(t, 24*time.Hour, tight.Coast(start, 5, always(15), 24*time.Hour))
	assert.Greater(t, leaky.Coast(start, 18, always(10), 24*time.Hour), short, "and longer in a milder night")
}

// What the house really loses is found again from what would be logged.
func TestLossIsLearned(t *testing.T) {
	h := house.Default()
	truth := h.WithLoss(house.Learned{Loss: 130, Spans: 1})
	var spans []house.Span
	for night := range 12 {
		outdoor := units.Celsius(-4 + night)
		power := units.Watt(1500 + 200*float64(night%4))
		rooms := truth.Through(house.Even(19), 8*time.Hour, heater(power), always(outdoor))
		mean := units.Celsius(0)
		for _, r := range rooms {
			mean += r.Air / units.Celsius(len(rooms))
		}
		spans = append(spans, house.Span{Length: 8 * time.Hour, Room: mean, Outdoor: outdoor, Rise: rooms[len(rooms)-1].Air - 19,
			Heat: units.Joule(float64(power) * 8 * 3600)})
	}
	learned := h.LearnLoss(spans)
	assert.Equal(t, 12, learned.Spans)
	assert.InEpsilon(t, 130, learned.Loss, 0.15)
	assert.Less(t, learned.Doubt, 0.4*h.Loss(), "surer than by floor and build")
	few := h.LearnLoss(spans[:2])
	assert.Greater(t, few.Doubt, learned.Doubt)
	assert.Less(t, math.Abs(learned.Loss-130), math.Abs(h.Loss()-130))
	nothing := h.LearnLoss([]house.Span{{Length: time.Minute, Room: 20, Outdoor: 0, Heat: 1e6}, {Length: 5 * time.Hour, Room: 20, Outdoor: 19, Heat: 1e6}})
	assert.InEpsilon(t, h.Loss(), nothing.Loss, 0.1, "short or mild spans say nothing")
	assert.Equal(t, h, h.WithLoss(nothing))
	require.NoError(t, h.WithLoss(learned).Check())
}

func TestHouseIsChecked(t *testing.T) {
	require.NoError(t, house.Default().Check())
	for code, spoil := range map[reason.Code]func(*house.House){
		house.FloorRange:   func(h *house.House) { h.Floor = 0 },
		house.LeaksRange:   func(h *house.House) { h.N50 = math.NaN() },
		house.VolumeRange:  func(h *house.House) { h.Volume = 1 },
		house.FanRange:     func(h *house.House) { h.Fan = -1 },
		house.LearnedRange: func(h *house.House) { h.Learned = -4 },
		house.UnknownHelp:  func(h *house.House) { h.Helper = "a dragon" },
		house.UnknownBuild: func(h *house.House) { h.Build = "castle" },
	} {
		h := house.Default()
		spoil(&h)
		assert.ErrorContains(t, h.Check(), string(code))
	}
	h := house.Default()
	h.Fan = 300
	assert.Greater(t, h.Underpressure(20, 0, 0), house.Default().Underpressure(20, 0, 0))
}
