package probe_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/stove"
	"smolder/internal/core/wood"
	"smolder/internal/probe"
)

var start = time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)

func evening() burn.Burn {
	p := fixture.Stoves()[fixture.Loom]
	beech, _ := wood.SpeciesByKey("beech")
	return burn.Burn{Stove: p.Stove, House: p.Space.House, Outdoor: 2, Room: 18, Coals: 0.9, Warmth: 120, Started: start, Entries: []burn.Entry{
		{ID: "1", At: start, Kind: burn.Load, Load: &fire.Load{Species: beech, Moisture: 0.18, Pieces: 4, PieceMass: 1.4, PieceLength: 0.33,
			Direction: stove.EndOn, Lay: fire.OnCoals}},
		{ID: "2", At: start, Kind: burn.Control, Control: "bypass", Opening: 1}}}
}

// The same seed is the same stove, and not the one that its owner speaks of; its
// thermometers show every gauge, the draft, room and outdoors, and fall silent at times.
func TestTheDevice(t *testing.T) {
	assert.Equal(t, probe.Hidden(7), probe.Hidden(7))
	assert.NotEqual(t, probe.Hidden(7), probe.Hidden(8))
	assert.NotEqual(t, 1.0, probe.Hidden(7).Leak)
	d, b := probe.NewDevice(7), evening()
	silent, places, hottest := 0, map[string]bool{}, 0.0
	for at := time.Duration(0); at < 3*time.Hour; at += 15 * time.Second {
		readings := d.Read(b, 2, start.Add(at), 15*time.Second)
		if len(readings) == 0 {
			silent++
		}
		for _, r := range readings {
			places[r.Place] = true
			if r.Place == string(stove.CatalystProbe) {
				hottest = max(hottest, r.Value)
			}
			off := r.At.Sub(start.Add(at))
			assert.InDelta(t, at.Hours()*2, off.Seconds(), 0.01, "a clock that gains two seconds an hour")
		}
	}
	assert.Positive(t, silent)
	assert.Less(t, silent, 200)
	for _, p := range []string{"catalyst", "connector-probe", "draft", "room", "outdoors"} {
		assert.True(t, places[p], p)
	}
	assert.Greater(t, hottest, 200.0)
}

// Its stove follows what is logged, also what is logged late.
func TestItFollowsTheLog(t *testing.T) {
	read := func(b burn.Burn, minutes ...int) (last float64) {
		d := probe.NewDevice(7)
		d.Drops, d.Noise = 0, 0
		for _, m := range minutes {
			for _, r := range d.Read(b, 2, start.Add(time.Duration(m)*time.Minute), time.Second) {
				if r.Place == string(stove.ConnectorProbe) {
					last = r.Value
				}
			}
		}
		return last
	}
	open, shut := evening(), evening()
	shut.Entries = append(shut.Entries, burn.Entry{ID: "3", At: start.Add(20 * time.Minute), Kind: burn.Control, Control: "air", Opening: 0.02})
	require.Greater(t, read(open, 10, 20, 40), read(shut, 10, 20, 40)+20)
	assert.InDelta(t, read(shut, 40), read(shut, 10, 20, 40), 6, "step by step as at once")
}

func TestOptionsOfAProbe(t *testing.T) {
	good := probe.Options{Server: "http://127.0.0.1:8420", Token: "x", Stove: 1, Speed: 1, Every: time.Second}
	require.NoError(t, good.Check())
	for name, change := range map[string]func(*probe.Options){
		"server": func(o *probe.Options) { o.Server = "here" }, "token": func(o *probe.Options) { o.Token = "" },
		"stove": func(o *probe.Options) { o.Stove = 0 }, "speed": func(o *probe.Options) { o.Speed = 601 }, "every": func(o *probe.Options) { o.Every = 0 },
	} {
		o := good
		change(&o)
		require.Error(t, o.Check(), name)
	}
}
