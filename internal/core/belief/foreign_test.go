package belief_test

import (
	"fmt"
	"math"
	"os"
	"sort"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/foreign"
	"smolder/internal/core/stove"
)

// held is how often an interval held, and what else would have.
type held struct {
	n, in        int
	width        float64
	errors, stay []float64 // of the middle; of what is read now
	straight     []float64 // of a straight line through the last two readings
}

func (h *held) share() float64 { return float64(h.in) / math.Max(1, float64(h.n)) }

// covers is how wide an interval about some simple forecast has to be to hold eight in ten.
func covers(errors []float64) float64 {
	s := append([]float64(nil), errors...)
	for i := range s {
		s[i] = math.Abs(s[i])
	}
	sort.Float64s(s)
	if len(s) == 0 {
		return 0
	}
	return 2 * s[min(len(s)-1, int(0.8*float64(len(s))))]
}

// asked follows an evening with readings every ten minutes, and asks every half hour what
// the gauges will read half an hour and three hours on, what was done being done.
func asked(e foreign.Evening, into map[string]*held, eye map[string]*[2]int) {
	b := e.Burn(10 * time.Minute)
	record := b.Record(b.Ended)
	var acts []fire.Move
	for _, ev := range record {
		if ev.Act != nil {
			acts = append(acts, fire.Move{When: fire.Trigger{At: ev.At}, Do: []fire.Act{*ev.Act}})
		}
	}
	bel := belief.New(belief.Usual(), b.Setup(), b.Doubt())
	next, done := 0, 0
	for at := 30 * time.Minute; at <= 9*time.Hour; at += 30 * time.Minute {
		for ; next < len(record) && record[next].At <= at; next++ {
			bel.Take(record[next])
			if record[next].Act != nil {
				done++
			}
		}
		bel.Until(at)
		now := bel.Standing()
		count := func(what string, right bool) {
			c := eye[what]
			if c == nil {
				c = &[2]int{}
				eye[what] = c
			}
			c[1]++
			if right {
				c[0]++
			}
		}
		i := e.At(at)
		count("flames", (now.Flames > 0.5) == (e.Flames[i] > 0))
		count("coals within 0.15 kg", math.Abs(now.Coals.Middle-e.Coals[i]) <= 0.15)
		count("coals inside what is said", now.Coals.Low-0.02 <= e.Coals[i] && e.Coals[i] <= now.Coals.High+0.02)
		if os.Getenv("SMOLDER_COALS") != "" {
			fmt.Printf("%s %v coals %.2f believed %.2f (%.2f..%.2f) wood %.2f believed %.2f flames %.0f believed %.2f\n", e.Name, at, e.Coals[i], now.Coals.Middle,
				now.Coals.Low, now.Coals.High, e.Wood[i], now.Wood.Middle, e.Flames[i], now.Flames)
		}
		f := bel.Forecast(acts[done:], at+3*time.Hour)
		for lead, name := range map[time.Duration]string{30 * time.Minute: "0.5 h", 3 * time.Hour: "3 h"} {
			k := min(int((lead+f.Every/2)/f.Every), len(f.Room.Middle)-1)
			score := func(place stove.Place, fan belief.Fan) {
				values, ok := e.Gauges[place]
				if !ok {
					return
				}
				key := fmt.Sprint(place, " ", name)
				h := into[key]
				if h == nil {
					h = &held{}
					into[key] = h
				}
				truth, last, before := values[e.At(at+lead)], values[i], values[e.At(at-10*time.Minute)]
				h.n++
				if truth >= fan.Low[k] && truth <= fan.High[k] {
					h.in++
				}
				h.width += fan.High[k] - fan.Low[k]
				h.errors = append(h.errors, fan.Middle[k]-truth)
				h.stay = append(h.stay, last-truth)
				h.straight = append(h.straight, last+(last-before)/10*lead.Minutes()-truth)
			}
			for p, fan := range f.Gauges {
				score(p, fan)
			}
			score(stove.RoomAir, f.Room)
		}
	}
}

// What a forecast holds on stoves of another make, one by one. It takes minutes, and is asked
// for by SMOLDER_LONG=1; a few evenings are asked always.
func TestForecastsOfForeignStoves(t *testing.T) {
	all, err := foreign.Evenings()
	require.NoError(t, err)
	long := os.Getenv("SMOLDER_LONG") != ""
	into, eye := map[string]*held{}, map[string]*[2]int{}
	for i, e := range all {
		if long && strings.Contains(e.Name, os.Getenv("SMOLDER_EVENINGS")) || !long && i%22 == 3 {
			asked(e, into, eye)
		}
	}
	report := ""
	var keys []string
	for k := range into {
		keys = append(keys, k)
	}
	sort.Strings(keys)
	for _, k := range keys {
		h := into[k]
		report += fmt.Sprintf("%-28s held %3.0f %% of %d, width %.0f; middle ±%.0f, stays ±%.0f, straight ±%.0f\n", k, 100*h.share(), h.n, h.width/float64(h.n),
			covers(h.errors), covers(h.stay), covers(h.straight))
	}
	for what, c := range eye {
		report += fmt.Sprintf("%s right in %d of %d\n", what, c[0], c[1])
	}
	t.Log("\n" + report)
	for _, k := range keys {
		assert.Greater(t, into[k].share(), 0.5, k)
	}
}
