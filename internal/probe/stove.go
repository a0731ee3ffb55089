// Package probe is the simulated thermometers that ship with Smolder: a flue probe, a
// stove top, a catalyst probe, a draft gauge, room and outdoor sensors on a stove that
// nobody has.
//
// It is a device and not a part of the server: it asks over HTTP, with a token, which
// burn is on and what was logged of it, lets a stove of its own burn by that log, and
// sends what its gauges show, over HTTP or MQTT. Its stove is not the one that the
// server believes in: leak, inlets, lever, gauges and wood differ ([Hidden]), its
// thermometers lag, are noisy and fall silent now and then, and its clock drifts.
package probe

import (
	"math"
	"math/rand/v2"
	"reflect"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
)

// Hidden is how the probe's stove differs from what its owner says of it, drawn by a
// seed. The numbers are within what stoves of one make differ by after some years.
func Hidden(seed uint64) fire.Tuning {
	r := rand.New(rand.NewPCG(seed, 31))
	factor := func(spread float64) float64 {
		z := math.Max(-1.5, math.Min(1.5, r.NormFloat64()))
		return math.Exp(z * math.Log(spread))
	}
	t := fire.Tuning{Leak: factor(1.5), Inlets: factor(1.2), Curve: factor(1.3), Exchange: factor(1.15), Shield: factor(1.15), CharRate: factor(1.2),
		FlueLoss: factor(1.2), Smoke: factor(1.4), RoomLoss: factor(1.25)}
	for _, g := range []*fire.GaugeTuning{&t.Probe, &t.Top, &t.Surface, &t.Catalyst, &t.Firebox} {
		*g = fire.GaugeTuning{Error: factor(1.06), Lag: factor(1.4)}
	}
	return t
}

// A Device is the thermometers of one stove.
type Device struct {
	Tuning fire.Tuning
	Noise  float64       // of a reading, as a share of it; 0.01 is usual
	Drops  float64       // falls silent so often an hour
	Drift  time.Duration // that its clock gains in an hour; negative: it loses
	random *rand.Rand
	silent time.Time // until then

	started time.Time // of the burn that its stove follows
	fire    *fire.Fire
	done    []fire.Move
	touched time.Duration
}

// NewDevice is one by a seed, with the usual faults.
func NewDevice(seed uint64) *Device {
	return &Device{Tuning: Hidden(seed), Noise: 0.006, Drops: 1, Drift: 2 * time.Second, random: rand.New(rand.NewPCG(seed, 32))}
}

// A Reading is what a gauge shows, as it is sent.
type Reading struct {
	At    time.Time `json:"at"`
	Stove int64     `json:"stove"`
	Place string    `json:"place"`
	Value float64   `json:"value"`
	Unit  string    `json:"unit"`
}

// simulated is the step of the stove's simulation, and longest how long one burns.
const simulated, longest = 4 * time.Second, 48 * time.Hour

// burnTo lets the stove burn by a log to a moment, from the match again where the log of
// before has changed.
func (d *Device) burnTo(b burn.Burn, at time.Duration) *fire.Fire {
	at = min(at, longest)
	moves := b.Steps()
	known := len(d.done) <= len(moves) && reflect.DeepEqual(d.done, moves[:min(len(d.done), len(moves))])
	if d.fire == nil || !known || !d.started.Equal(b.Started) || at < d.fire.Elapsed() ||
		len(moves) > len(d.done) && moves[len(d.done)].When.At < d.fire.Elapsed() {
		setup := b.Setup()
		setup.Tuning = d.Tuning
		d.fire, d.done, d.touched, d.started = fire.New(setup, simulated), nil, 0, b.Started
	}
	for _, move := range moves[len(d.done):] {
		if move.When.At > at {
			break
		}
		d.fire.BurnTo(move.When.At, d.touched)
		for _, a := range move.Do {
			d.fire.Do(a)
		}
		d.done, d.touched = append(d.done, move), move.When.At
	}
	d.fire.BurnTo(at, d.touched)
	return d.fire
}

// Read is what the gauges show at a moment of a burn, by a clock that drifts since the
// burn began. Nothing while the device is silent.
func (d *Device) Read(b burn.Burn, stoveID int64, at time.Time, every time.Duration) []Reading {
	if at.Before(d.silent) {
		return nil
	}
	if d.random.Float64() < d.Drops*every.Hours() {
		d.silent = at.Add(time.Duration(1+4*d.random.Float64()) * time.Minute)
		return nil
	}
	f := d.burnTo(b, at.Sub(b.Started))
	clock := at.Add(time.Duration(at.Sub(b.Started).Hours() * float64(d.Drift))).UTC().Truncate(time.Millisecond)
	out := []Reading{}
	add := func(place string, value, coarse float64, unit string) {
		out = append(out, Reading{clock, stoveID, place, math.Round(value/coarse) * coarse, unit})
	}
	for _, g := range b.Stove.Gauges {
		if v, ok := f.Reading(g.Place); ok && g.Place.OfFire() {
			add(string(g.Place), v*(1+d.Noise*d.random.NormFloat64())+0.3*d.random.NormFloat64(), 0.25, "C")
		}
	}
	room, _ := f.Reading(stove.RoomAir)
	outdoors, _ := f.Reading(stove.OutdoorAir)
	add(string(stove.RoomAir), room+0.05*d.random.NormFloat64(), 0.1, "C")
	add(string(stove.OutdoorAir), outdoors+0.1*d.random.NormFloat64(), 0.1, "C")
	add("draft", float64(f.Draft())+0.5*d.random.NormFloat64(), 0.1, "Pa")
	return out
}
