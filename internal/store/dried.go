package store

import (
	"fmt"
	"runtime"
	"sync"
	"time"

	"golang.org/x/sync/errgroup"

	"smolder/internal/core/drying"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// How dry a stack is on a day follows from what is told of it, and takes some
// milliseconds: it is remembered for as long as neither changes.

// A dried is what is known of a stack's dryness on a day.
type dried struct {
	moist wood.Estimate
	ready drying.Date
}

// dryness remembers what was worked out.
type dryness struct {
	sync.Mutex
	known map[string]dried
}

// mostDried is how many are remembered; more than that begin anew.
const mostDried = 8192

func (d *dryness) of(s drying.Stack, now time.Time) dried {
	climate, day := drying.At(now.Location()), drying.EndOf(now)
	key := fmt.Sprintf("%v %v %v", s, day.Unix(), climate.Months[0].Air)
	d.Lock()
	found, there := d.known[key]
	d.Unlock()
	if there {
		return found
	}
	b := drying.Believe(s, climate, day)
	found = dried{b.Moisture(), b.Ready(wood.ReadyTo)}
	d.Lock()
	defer d.Unlock()
	if d.known == nil || len(d.known) >= mostDried {
		d.known = map[string]dried{}
	}
	d.known[key] = found
	return found
}

// leastSpread is of wood that is known as well as wood can be: no two pieces are the same.
const leastSpread units.Fraction = 0.005

// dry works out how dry stacks are, and what that makes of their masses.
func (h Household) dry(stacks []Stack, rows []stackRow, now time.Time) {
	var all errgroup.Group
	all.SetLimit(runtime.GOMAXPROCS(0))
	for i := range stacks {
		all.Go(func() error {
			stacks[i].dry(h.dried, rows[i], now)
			return nil
		})
	}
	_ = all.Wait() // none fails
}

func (s *Stack) dry(known *dryness, r stackRow, now time.Time) {
	if s.Species.Mineral {
		s.Reading, s.Spread, s.WoodTemp = wood.MineralMoisture, leastSpread, usualWoodTemp
		s.Mass = s.AsIs(s.Left.Middle)
		return
	}
	s.Reading, s.Spread = units.Fraction(r.PieceMoisture), leastSpread // as the pieces were when they were told
	d := known.of(s.Drying(), now)
	s.Moist, s.Ready = d.moist, d.ready
	s.Reading, s.Spread, s.WoodTemp = d.moist.Middle, max(leastSpread, d.moist.Spread()), usualWoodTemp
	s.PieceMass *= units.Kilogram((1 + float64(s.Reading)) / (1 + r.PieceMoisture))
	s.Mass = s.AsIs(s.Left.Middle)
	if !s.Metered() {
		s.Assumed = append(s.Assumed, "reading")
	}
}
