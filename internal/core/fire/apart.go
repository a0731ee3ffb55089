package fire

import (
	"time"

	"smolder/internal/core/stove"
)

// What an ensemble of fires needs: to copy one, to believe another tuning of it,
// to burn it to a moment, and to let a copy go on with moves of its own.

// Clone returns the same fire once more, which goes its own way from here.
func (s *Fire) Clone() *Fire {
	clone := *s
	// Two that go on from one must not share the wood: what one burns would be gone for
	// the other.
	clone.batches = append(make([]batch, 0, len(s.batches)+1), s.batches...)
	return &clone
}

// Retune lets the fire go on as a stove of another tuning. What has burnt and warmed
// until now stays as it is.
func (s *Fire) Retune(t Tuning) {
	s.setup.Tuning = t
	if s.k = s.setup.Physics; s.k == nil {
		s.k = &Usual
	}
	s.k = t.burns(s.k)
	s.p = paramsOf(s.setup.Stove, t, s.k)
	s.walls = s.setup.House.Walls().Times(factor(t.RoomLoss))
	before := s.vents
	s.vents.n, s.fixed.primary, s.fixed.secondary = 0, 0, 0
	s.layVents()
	for i := range s.vents.of[:s.vents.n] {
		s.vents.of[i].opening = before.of[i].opening
	}
	s.addVents()
	s.dt = s.fine.dt
	s.follows = s.usePaces()
}

// Do does one thing to the fire.
func (s *Fire) Do(a Act) {
	switch a.Kind {
	case ActLight:
		s.gone = false
	case ActLoad:
		if a.Load != nil {
			s.Load(*a.Load)
		}
	case ActControl:
		if a.Control != "" {
			s.SetControl(a.Control, a.Opening)
		} else {
			s.Set(a.Role, a.Opening)
		}
	case ActDoor:
		s.SetDoor(a.Door)
	case ActPrime:
		s.Prime(a.Heat)
	case ActRake:
		s.Rake()
	case ActFan:
		s.SetFan(a.Flow)
	case ActWindow:
		s.SetWindow(a.Open)
	case ActOut:
		s.GoOut()
	}
}

// BurnTo lets the fire burn to a moment since its start, in the longer steps of a
// coarse run; touched is when somebody last did something to it.
func (s *Fire) BurnTo(at, touched time.Duration) {
	s.rough = true
	for s.now < at.Seconds()-0.5*s.fine.dt {
		s.pace(s.now > touched.Seconds()+settling)
		// The last step of a stretch is as long as what is left of it.
		if left := at.Seconds() - s.now; s.dt > left && s.dt > s.fine.dt {
			s.dt, s.follows = s.fine.dt, s.fine.follows
		}
		s.Step()
	}
}

// GoOn burns a copy of a fire further by moves that are still to come, the last move
// before them having been done at a moment, and the last act of any kind at touched;
// Until is counted from the fire's start, as the moves are.
func GoOn(f *Fire, last, touched time.Duration, moves []Move, opt Options) Result {
	if opt.Every == 0 {
		opt.Every = time.Minute
	}
	sim := f.Clone()
	sim.rough = opt.Coarse
	r := runner{sim: sim, opt: opt, steps: moves, measure: newMeasure(sim), lastStep: last.Seconds(), touched: touched.Seconds(),
		sample: sim.now, look: sim.now, lit: true}
	r.result.Done = notDone(len(moves))
	r.result.Watched = opt.Watch
	r.goOn(len(moves))
	return r.end()
}

// Reading is what the gauge at a place shows at this moment, °C; no gauge of the
// stove's, no reading.
func (s *Fire) Reading(p stove.Place) (celsius float64, ok bool) {
	switch p {
	case stove.RoomAir:
		return float64(s.room.Air), true
	case stove.OutdoorAir:
		return s.weather.outdoor - 273.15, true
	}
	i, ok := placeIndex[p]
	if !ok {
		return 0, false
	}
	return s.reading(i), true
}

// A Look is what an eye sees of a fire at a moment.
type Look struct {
	Dense    float64 // kg of particulates per kg of gas at the cap, over what is seen as grey
	Vapour   float64 // of water, over what is seen as white
	Flame    float64 // kg/s of gas in flame, for each kg of a full bed
	Burnout  float64 // share of the gas that burns
	Alight   float64 // share of the last load's faces
	Black    bool    // it is black all over
	Wood     float64 // kg of dry wood that is not yet char
	Coals    float64 // kg
	Hot      bool    // a gauge is over its limit, or would be if it hung there
	Smoulder bool
	Spilling bool
	Out      bool
}

// Look looks at the fire, judged by the stove's own bands.
func (s *Fire) Look() Look {
	flow := max(s.air.total, 1e-4)
	l := Look{
		Dense: s.gas.smoke / flow / greySmoke, Vapour: s.gas.vapour / flow / (whiteVapour + whiteWarmer*(s.weather.outdoor-273.15)),
		Flame: s.out.flaming / s.p.coalBed, Burnout: s.gas.burnout, Alight: s.alightOfLast(), Black: s.charred(), Wood: s.woodLeft(), Coals: s.coals,
		Hot: s.tooHot(s.limits), Smoulder: s.smoulders(), Spilling: s.air.spilling && s.burning(), Out: !s.burning() && s.total.Fuel > 0,
	}
	return l
}

// alightOfLast is the share of the last load's faces that burns.
func (s *Fire) alightOfLast() float64 {
	share := 1.0
	for i := range s.batches {
		if b := &s.batches[i]; !b.spent() {
			share = min(share, b.alight)
		}
	}
	return share
}
