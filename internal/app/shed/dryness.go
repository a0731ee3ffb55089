package shed

import (
	"fmt"
	"sync"
	"time"

	"smolder/internal/core/drying"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/store"
)

// What is taken where nobody told.
const (
	usualWind                    = 0.5   // 0 sheltered, 1 open to it
	usualSun                     = 0.3   // 0 shade, 1 most of the day
	usualWoodTemp units.Celsius  = 20    // °C of the wood that a meter was stuck into: what meters are made for
	leastSpread   units.Fraction = 0.005 // standard deviation between pieces that are known as well as wood can be: no two are the same
)

// Place is how a stack lies, with what is usual where it is not told.
func Place(t store.Siting) drying.Place {
	p := drying.Place{Cover: t.Cover, Wind: usualWind, Sun: usualSun, OnGround: t.OnGround, Heap: t.Heap}
	if t.Wind.Valid {
		p.Wind = t.Wind.V
	}
	if t.Sun.Valid {
		p.Sun = t.Sun.V
	}
	return p
}

// Temp is how warm the wood was that a meter was stuck into.
func Temp(r store.StackReading) units.Celsius {
	if r.WoodTemp.Valid {
		return units.Celsius(r.WoodTemp.V)
	}
	return usualWoodTemp
}

// Corrected is what a meter read, corrected for the wood's temperature and its kind.
func Corrected(r store.StackReading, sp wood.Species) drying.Reading {
	out := drying.Reading{At: r.At, Mean: r.Reading, Spread: r.Spread, Pieces: r.Pieces}
	if !r.Guessed {
		out.Mean = wood.Stack{Species: sp, Reading: r.Reading, WoodTemp: Temp(r)}.Moisture()
	}
	return out
}

// Drying is a stack as the drying of it is reckoned.
func Drying(s store.Stack) drying.Stack {
	d := drying.Stack{Place: Place(s.Siting), Since: s.Since,
		Pieces: drying.Pieces{Species: s.Species, Thickness: s.PieceThickness(), Length: s.PieceLength, Round: s.Round}, Dead: s.Dead}
	for _, r := range s.Readings {
		d.Readings = append(d.Readings, Corrected(r, s.Species))
	}
	return d
}

// Metered tells whether a meter was ever read in a stack.
func Metered(s store.Stack) bool {
	for _, r := range s.Readings {
		if !r.Guessed {
			return true
		}
	}
	return false
}

// dries works out how dry a stack is, and what that makes of its piece and its mass.
func (s *Stack) dries(known *memory[dried], now time.Time) {
	if s.Species.Mineral {
		s.Reading, s.Spread, s.WoodTemp = wood.MineralMoisture, leastSpread, usualWoodTemp
		s.Mass = s.AsIs(s.Left.Middle)
		return
	}
	s.Reading, s.Spread = s.PieceMoisture, leastSpread // as the pieces were when they were told
	d := driesTo(known, Drying(s.Stack), now)
	s.Moist, s.Ready = d.moist, d.ready
	s.Reading, s.Spread, s.WoodTemp = d.moist.Middle, max(leastSpread, d.moist.Spread()), usualWoodTemp
	wetter := units.Kilogram((1 + float64(s.Reading)) / (1 + float64(s.PieceMoisture)))
	s.PieceMass, s.Thin, s.Thick = s.PieceMass*wetter, s.Thin*wetter, s.Thick*wetter
	s.Mass = s.AsIs(s.Left.Middle)
	if !Metered(s.Stack) {
		s.Assumed = append(s.Assumed, "reading")
	}
}

// SplitBy is [drying.SplitBy], remembered.
func (s *Shed) SplitBy(p drying.Pieces, l drying.Place, c drying.Climate, ready, now time.Time) (by time.Time, ok bool) {
	day := drying.EndOf(now)
	d := s.split.get(fmt.Sprintf("%v %v %v %v %v", p, l, c, ready.Unix(), day.Unix()), func() drying.Date {
		at, ok := drying.SplitBy(p, l, c, wood.ReadyTo, ready, day)
		if !ok {
			at = time.Time{}
		}
		return drying.Date{Likely: at}
	})
	return d.Likely, !d.Likely.IsZero()
}

// What follows from how a stack lies on a day takes some milliseconds: it is remembered for as
// long as neither changes.
type memory[T any] struct {
	sync.Mutex
	known map[string]T
}

// mostKnown is how many are remembered; more than that begin anew.
const mostKnown = 8192

func (m *memory[T]) get(key string, work func() T) T {
	m.Lock()
	found, there := m.known[key]
	m.Unlock()
	if there {
		return found
	}
	found = work()
	m.Lock()
	defer m.Unlock()
	if m.known == nil || len(m.known) >= mostKnown {
		m.known = map[string]T{}
	}
	m.known[key] = found
	return found
}

// A dried is what is known of a stack's dryness on a day.
type dried struct {
	moist wood.Estimate
	ready drying.Date
}

func driesTo(known *memory[dried], s drying.Stack, now time.Time) dried {
	climate, day := drying.At(now.Location()), drying.EndOf(now)
	return known.get(fmt.Sprintf("%v %v %v", s, day.Unix(), climate.Months[0].Air), func() dried {
		b := drying.Believe(s, climate, day)
		return dried{b.Moisture(), b.Ready(wood.ReadyTo)}
	})
}
