package wood

import (
	"math"
	"net/http"

	"smolder/internal/app/shed"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/say"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

type woodPage struct {
	kit.Page
	Stacks    []woodLine
	Gone      []shed.Stack
	Shed      strip.Pair
	Sum       string // what is left, in all
	Uncounted string // how much of it is taken for a stack of unknown size
	Lasts     string // whether it lasts
	Teaches   string // what recounts say
	Wet       int    // stacks that are not ready
}

type woodLine struct {
	ID                                                 int64
	Name, Kind, Moisture, Ready, Left, Energy, Verdict string
	Pieces                                             int
	Share                                              int // of what was counted, percent
	Wet                                                bool
}

func (s Room) wood(q *kit.Request) error {
	w, err := q.Winter()
	if err != nil {
		return err
	}
	stacks := w.All
	all, err := q.Wood()
	if err != nil {
		return err
	}
	gone := q.Site.Shed.Gone(all, q.Now())
	p := &woodPage{Page: kit.Page{Title: q.T("Wood"), Nav: "wood", Wide: true}, Gone: gone}
	var shed strip.Shed
	var mass, uncounted units.Kilogram
	heat := 0.0
	for _, st := range stacks {
		l := woodLine{ID: st.ID, Name: st.Name, Kind: say.Species(st.Species, q.Locale()), Moisture: say.Moisture(st.Wood()), Left: q.Locale().Mass(st.Mass),
			Energy: q.Locale().Energy(units.Joule(st.NetEnergy() * float64(st.Mass) * 1e6)), Pieces: st.Pieces(),
			Verdict: say.Readiness(st.Readiness(), q.Locale()), Ready: say.ReadyShort(st.Ready, q.Now(), q.Locale()), Wet: st.Moisture() > wood.ReadyTo}
		if st.Species.Mineral {
			l.Moisture, l.Energy, l.Ready, l.Wet = "–", "–", "–", false
		}
		if !st.Species.Mineral {
			each := st.NetEnergy() * 1e6 // J per kg
			held := float64(st.Mass) * each
			mass, heat = mass+st.Mass, heat+held
			if st.Takes("mass") {
				uncounted += st.Mass
			}
			shed.Piles = append(shed.Piles, strip.Pile{Name: st.Name, Says: q.Locale().Energy(units.Joule(held)) + ", " + l.Moisture, Left: held,
				Counted: float64(st.Counted()) * each, Moisture: st.Moisture()})
			if l.Wet {
				p.Wet++
			}
		}
		if st.Count.Middle > 0 {
			l.Share = int(math.Round(float64(100 * st.Left.Middle / st.Count.Middle)))
		}
		p.Stacks = append(p.Stacks, l)
	}
	if uncounted > 0 {
		p.Uncounted = q.F("%s of that nobody has counted: a usual stack is taken.", q.Locale().Mass(uncounted))
	}
	p.Shed, p.Sum = shed.Drawn(q.Locale()), q.F("%s in all, which holds %s; some three quarters of that reach the rooms.", q.Locale().Mass(mass),
		q.Locale().Energy(units.Joule(heat)))
	if len(w.Woods) > 0 && w.Use.Loss.Middle > 0 && !w.End.IsZero() {
		p.Lasts, p.Teaches = say.Lasts(w.Lasts(), w.End, w.Now, q.Locale())+say.Uncounted(w.Uncounted(), q.Locale()), say.Unlogged(w.Unlogged, q.Locale())
	}
	q.Show(http.StatusOK, "wood", p)
	return nil
}
