package wish

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/flue"
	"smolder/internal/core/units"
)

// Before is the draft at the cold stove before lighting, with what each help
// alone would make of it, so that it can be shown what removes a reason not to
// light and what does not.
type Before struct {
	Net     units.Pascal // with the help that is wished
	AsIs    units.Pascal // without any
	FanOff  units.Pascal // with fans off
	Window  units.Pascal // with a window cracked
	Primed  units.Pascal // with the flue warmed
	Prime   bool         // warm the flue first
	DoNot   bool         // not like this: smoke would come in
	OnCoals bool         // nothing to light
	Flue    float64      // temperature assumed in the flue
}

// A Help is what somebody does for the draft before lighting, and leaves so
// while the fire burns.
type Help struct {
	FansOff bool
	Window  bool // a crack, on the stove's level
	Primed  bool // with burning paper, first
}

const (
	// enoughDraft is the net draft that starts a cold fire without help, Pa.
	enoughDraft = 4
	// WeakDraft is the draft below which a gust may turn it, Pa.
	WeakDraft = 1.5
	// primedAfter is how long after the paper was lit its draft is taken.
	primedAfter = 80 * time.Second
)

// BeforeLighting computes the draft of the cold chimney. A cold flue stands
// between room and outdoor temperature; on an outside wall it is as cold as
// the weather.
func BeforeLighting(w Wish) Before {
	s, room, outdoor := w.Stove, w.Room, w.Outdoor
	mean := s.Chimney.Still(room, outdoor)
	made := flue.StackDraft(s.Chimney.Height, mean, outdoor, s.Chimney.Altitude)
	net := func(h Help) units.Pascal {
		house := w.House
		if h.FansOff {
			house.Fan = 0
		}
		pull := house.Underpressure(room, outdoor, s.Chimney.Altitude)
		if h.Window {
			pull *= fire.WindowLeaves
		}
		return made - pull
	}
	b := Before{AsIs: net(Help{}), FanOff: net(Help{FansOff: true}), Window: net(Help{Window: true}), Primed: w.primedDraft(Help{}),
		Net: net(w.Help), Flue: float64(mean)}
	b.Prime = b.Net < enoughDraft || w.Help.Primed
	if w.Help.Primed {
		b.Net = w.primedDraft(w.Help)
		b.DoNot = b.Net < WeakDraft
		return b
	}
	b.DoNot = b.Net < 0
	return b
}

// primedDraft is the draft once the flue has been warmed with paper and before
// anything else burns, under other helps.
func (w Wish) primedDraft(h Help) units.Pascal {
	w.Help = Help{FansOff: h.FansOff, Window: h.Window}
	setup := w.Setup()
	setup.Warmth, setup.Coals, setup.Weather = 0, 0, nil // still air
	acts := append(w.Helping(), fire.Act{Kind: fire.ActDoor, Door: fire.Shut}, fire.Act{Kind: fire.ActPrime, Heat: fire.PaperPrimer})
	r := fire.Run(setup, []fire.Move{{Do: acts}}, fire.Options{Until: primedAfter, Every: primedAfter})
	return r.Samples[len(r.Samples)-1].Draft
}

// Helping are the acts of a wish's help that hold while the fire burns.
func (w Wish) Helping() []fire.Act {
	var acts []fire.Act
	if w.Help.FansOff {
		acts = append(acts, fire.Act{Kind: fire.ActFan})
	}
	if w.Help.Window {
		acts = append(acts, fire.Act{Kind: fire.ActWindow, Open: true})
	}
	return acts
}

// Primes tells whether the flue is warmed before lighting; it is asked for every
// candidate, so a search works it out once ([Wish.Prepared]).
func (w Wish) Primes() bool {
	if w.primed != nil {
		return *w.primed
	}
	return BeforeLighting(w).Prime
}

// Prepared is the wish with what is the same for every candidate worked out.
func (w Wish) Prepared() Wish {
	if w.Start == Cold && w.primed == nil {
		prime := BeforeLighting(w).Prime
		w.primed = &prime
	}
	return w
}
