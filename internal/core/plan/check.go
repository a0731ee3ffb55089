package plan

import (
	"errors"
	"fmt"
	"math"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/units"
)

// Limits of a plan that is read from a file: more than any that is made here.
const (
	mostSteps  = 60
	mostActs   = 40
	mostPoints = 2000 // of a predicted curve
	mostWoods  = 200
	longPlan   = 48 * time.Hour
)

// Check holds a plan that comes from elsewhere to what one made here could be:
// every number finite and in range, every curve and list bounded. A plan that
// passes can be followed, drawn and said.
func (p Plan) Check() error {
	w := p.Wish
	if err := w.Stove.Check(); err != nil {
		return fmt.Errorf("its stove: %w", err)
	}
	if err := w.House.Check(); err != nil {
		return fmt.Errorf("its house: %w", err)
	}
	in := func(low, high float64, values ...float64) bool {
		for _, v := range values {
			if !(v >= low && v <= high) {
				return false
			}
		}
		return true
	}
	switch {
	case !w.Aim.Known() || !w.Start.Known() || w.Lay != "" && !w.Lay.Known() || p.Lay != "" && !p.Lay.Known():
		return errors.New("its aim, start or lay is not known")
	case w.Starter != "" && !w.Starter.Known():
		return errors.New("its starter is not known")
	case w.For < 10*time.Minute || w.For > longPlan:
		return errors.New("it is for a time that makes no sense")
	case !in(-60, 60, float64(w.Outdoor), float64(w.Room), float64(w.Low), float64(w.High)) || !in(-60, 600, float64(w.Body)) || !in(0, 1, float64(w.Humidity), p.Final):
		return errors.New("its temperatures or openings make no sense")
	case len(w.Weather) > mostPoints || len(w.Beside) > mostPoints || len(w.Others) > mostWoods || len(w.There) > mostPoints:
		return errors.New("it has more weather, stacks or times than a plan has")
	case p.First < 0 || p.First > 1000 || p.Main < 0 || p.Main > 1000 || p.First+p.Main < 1 || len(p.Feeds) > 2*mostFeeds:
		return errors.New("its pieces make no sense")
	case len(p.Steps) == 0 || len(p.Steps) > mostSteps:
		return fmt.Errorf("%d steps; 1 to %d would do", len(p.Steps), mostSteps)
	case !in(-1e4, 1e4, float64(p.Before.Net), float64(p.Before.AsIs), float64(p.Before.FanOff), float64(p.Before.Window), float64(p.Before.Primed), p.Before.Flue):
		return errors.New("its draft makes no sense")
	case !in(0, 1e6, p.Air) || !in(-1e6, 1e6, p.Cold) || p.Tried < 0:
		return errors.New("its figures make no sense")
	}
	for _, h := range w.Weather {
		if h.At < 0 || h.At > 2*longPlan || !in(-60, 60, float64(h.Outdoor)) || !in(0, 60, h.Wind) {
			return errors.New("its weather makes no sense")
		}
	}
	for _, h := range w.Beside {
		if !in(0, 1e5, float64(h.Heat)) {
			return errors.New("the heat beside it makes no sense")
		}
	}
	for _, s := range w.There {
		if s.From < 0 || s.To < s.From {
			return errors.New("the times that somebody is there make no sense")
		}
	}
	picks := append(w.woods(), p.FirstOf, p.MainOf)
	for _, f := range p.Feeds {
		picks = append(picks, f.Of)
	}
	if w.Kindling != nil {
		picks = append(picks, *w.Kindling)
	}
	for _, pick := range picks {
		s := pick.Stack
		if s.Name != "" && units.NameProblem(s.Name, "a stack") != "" || !in(0, 100, float64(s.PieceMass)) || !in(0, 3, float64(s.PieceLength)) || !in(0, 2, float64(s.Reading)) ||
			!in(-60, 100, float64(s.WoodTemp)) || !in(0, 1e7, float64(s.Mass)) || !in(0, 2, s.Species.Gravity) || !in(0, 50, s.Species.Gross) || !in(-1, 1, s.Species.Offset) {
			return errors.New("a stack of it makes no sense")
		}
	}
	for _, f := range p.Feeds {
		if f.Pieces < 1 || f.Pieces > 1000 || !in(0, 1, f.Final) {
			return errors.New("its later loads make no sense")
		}
	}
	for i, s := range p.Steps {
		if err := s.check(); err != nil {
			return fmt.Errorf("step %d: %w", i+1, err)
		}
	}
	return p.checkFigures()
}

func (s Step) check() error {
	switch s.Kind {
	case LightIt, ShutDoor, LoadIt, CloseIt, TurnDown, ReloadTime, FeedIt:
	default:
		return fmt.Errorf("%q is not a kind of step", string(s.Kind))
	}
	for _, at := range []time.Duration{s.Earliest, s.Expected, s.Latest} {
		if at < -1 || at > longPlan {
			return errors.New("its time makes no sense")
		}
	}
	t := s.Fire.When
	for _, span := range []time.Duration{t.At, t.After, t.Held, t.Latest} {
		if span < 0 || span > longPlan {
			return errors.New("its sign makes no sense")
		}
	}
	if !(s.Opening >= 0 && s.Opening <= 1) || !(math.Abs(float64(t.Above)) <= 1500) || !(t.WoodLeft >= 0 && t.WoodLeft <= 200) || len(s.Fire.Do) > mostActs {
		return errors.New("its sign or setting makes no sense")
	}
	for _, a := range s.Fire.Do {
		if !(a.Opening >= 0 && a.Opening <= 1) || a.Door < fire.Shut || a.Door > fire.Open || !(a.Heat >= 0 && a.Heat <= 1e8) || !(a.Flow >= 0 && a.Flow <= 1e5) || len(a.Control) > 120 {
			return errors.New("what is done makes no sense")
		}
		if l := a.Load; l != nil && (l.Pieces < 1 || l.Pieces > 1000 || !(l.PieceMass > 0 && l.PieceMass <= 100) || !(l.PieceLength > 0 && l.PieceLength <= 3) ||
			!(l.Moisture >= 0 && l.Moisture <= 2) || !(l.Species.Gravity > 0.1 && l.Species.Gravity < 2) || !(l.Species.Gross > 5 && l.Species.Gross < 50) || !(l.Starter >= 0 && l.Starter <= 1e8)) {
			return errors.New("its load makes no sense")
		}
	}
	return nil
}

// checkFigures holds curves and sums to what can be drawn.
func (p Plan) checkFigures() error {
	c := p.Predicted
	if c.Every < 30*time.Second || c.Every > time.Hour || len(c.Room) > mostPoints || len(c.Room) < 2 || time.Duration(len(c.Room))*c.Every > 2*longPlan {
		return errors.New("its curve makes no sense")
	}
	if len(c.Phases) > mostPoints || len(c.Gauges) > 12 {
		return errors.New("its curve is longer than one is")
	}
	curves := map[string][]float64{"room": c.Room, "draft": c.Draft, "smoke": c.Smoke, "coals": c.Coals, "heat": c.Heat, "low": p.Low, "high": p.High}
	for place, values := range c.Gauges {
		curves[string(place)] = values
		if !place.Known() {
			return errors.New("its curve is of a gauge that is not known")
		}
	}
	for name, values := range curves {
		if len(values) > mostPoints {
			return fmt.Errorf("its %s curve is longer than one is", name)
		}
		for _, v := range values {
			if !(math.Abs(v) <= 1e6) {
				return fmt.Errorf("its %s curve makes no sense", name)
			}
		}
	}
	if len(c.Draft) != len(c.Room) || len(c.Coals) != len(c.Room) || len(c.Heat) != len(c.Room) {
		return errors.New("its curves are not equally long")
	}
	for _, phase := range c.Phases {
		switch phase {
		case fire.Preparing, fire.Lighting, fire.Establishing, fire.Charring, fire.Cruising, fire.Coaling, fire.Out:
		default:
			return errors.New("its curve has a state that is not known")
		}
	}
	s := p.Summary
	for _, v := range []float64{float64(s.Efficiency), float64(s.ByGas), s.SmokePerKg, s.Smoke, s.SmokeEarly, s.Deposits, float64(s.PeakTop), float64(s.PeakGas), float64(s.MinDraft), float64(s.Coals),
		float64(s.Wood), float64(s.Mineral), s.Glass, s.DryPerHour, float64(s.In) / 1e6, float64(s.ToRoom) / 1e6} {
		if !(math.Abs(v) <= 1e6) {
			return errors.New("its sums make no sense")
		}
	}
	return nil
}
