package plan

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/reason"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// Why a plan that comes from elsewhere cannot be followed, with the quantities
// of each.
const (
	BadStove    reason.Code = "plan/stove"       //
	BadHouse    reason.Code = "plan/house"       //
	BadKeys     reason.Code = "plan/keys"        // aim, start, lay
	BadStarter  reason.Code = "plan/starter"     //
	BadSpan     reason.Code = "plan/span"        //
	BadSettings reason.Code = "plan/settings"    // temperatures, openings
	ManyPoints  reason.Code = "plan/many-points" // weather, stacks, times
	BadPieces   reason.Code = "plan/pieces"      //
	StepCount   reason.Code = "plan/step-count"  // how many, most
	BadDraft    reason.Code = "plan/draft"       //
	BadFigures  reason.Code = "plan/figures"     //
	BadWeather  reason.Code = "plan/weather"     //
	BadBeside   reason.Code = "plan/beside"      //
	BadTimes    reason.Code = "plan/times"       // that somebody is there
	BadStack    reason.Code = "plan/stack"       //
	BadFeeds    reason.Code = "plan/feeds"       //
	BadKind     reason.Code = "plan/step-kind"   // which step, what was given
	BadTime     reason.Code = "plan/step-time"   // which step
	BadSign     reason.Code = "plan/step-sign"   // which step
	BadDoing    reason.Code = "plan/step-do"     // which step
	BadLoad     reason.Code = "plan/step-load"   // which step
	BadCurve    reason.Code = "plan/curve"       //
	BadGauge    reason.Code = "plan/gauge"       //
	BadState    reason.Code = "plan/state"       //
	BadSums     reason.Code = "plan/sums"        //
)

// Limits of a plan that is read from a file: more than any that is made here,
// and little enough to be drawn and burnt.
const (
	mostSteps  = 60
	mostActs   = 40
	mostPoints = 2000 // of a curve
	mostWoods  = 200
	mostPieces = 1000
	mostGauges = 12
	longestKey = 120
	shortSpan  = 10 * time.Minute
	longSpan   = 48 * time.Hour

	hot  = 600.  // °C, of a stove's body; cold is as far below nought as weather goes
	cold = 60.   //
	huge = 1e6   // of any figure that is drawn
	glow = 1500. // °C, of any gauge
)

// within tells whether every value is a number from low to high.
func within(low, high float64, values ...float64) bool {
	for _, v := range values {
		if !(v >= low && v <= high) {
			return false
		}
	}
	return true
}

func bad(code reason.Code, values ...reason.Quantity) error {
	return reason.Of("plan", code, values...)
}

// Check holds a plan that comes from elsewhere to what one made here could be:
// every number finite and in range, every curve and list bounded. A plan that
// passes can be followed, drawn and said. The error is a [reason.Reason].
func (p Plan) Check() error {
	// From the outside inwards: the stove and the house by their own rules, then what was
	// wished, then what the plan says of itself, then every step, curve and sum.
	if err := checkPlace(p.Wish); err != nil {
		return err
	}
	if err := checkWish(p.Wish); err != nil {
		return err
	}
	if err := p.checkSelf(); err != nil {
		return err
	}
	for i, s := range p.Steps {
		if err := s.check(reason.Count(i + 1)); err != nil {
			return err
		}
	}
	if err := p.checkCurve(); err != nil {
		return err
	}
	return checkSums(p.Summary)
}

// CheckWish holds a wish that comes from elsewhere to what can be computed: its stove, its space, its
// spans and its wood. Unlike [wish.Wish.Check] it does not ask whether that should be burnt: who has
// trouble may well burn what is too wet, on a chimney that does not draw.
func CheckWish(w wish.Wish) error {
	if err := checkPlace(w); err != nil {
		return err
	}
	if err := checkWish(w); err != nil {
		return err
	}
	picks := w.Woods()
	if w.Kindling != nil {
		picks = append(picks, *w.Kindling)
	}
	for _, pick := range picks {
		if s := pick.Stack; !possible(pick) || s.Species.Mineral || s.PieceMass < leastPiece || s.PieceLength < leastLength || s.Species.Gravity < leastGravity {
			return bad(BadStack)
		}
	}
	return nil
}

// The least that a piece of wood is, in kg, in m and in t/m³: below all that is burnt.
const leastPiece, leastLength, leastGravity = 0.005, 0.02, 0.05

// checkPlace holds a stove and its space to their own rules.
func checkPlace(w wish.Wish) error {
	if err := w.Stove.Check(); err != nil {
		return reason.Of("plan", BadStove).For(err)
	}
	if err := w.House.Check(); err != nil {
		return reason.Of("plan", BadHouse).For(err)
	}
	return nil
}

// checkWish holds what was wished.
func checkWish(w wish.Wish) error {
	switch {
	case !w.Aim.Known() || !w.Start.Known() || w.Lay != "" && !w.Lay.Known():
		return bad(BadKeys)
	// An empty choice is one: the best lay, the usual starter.
	case w.Starter != "" && !w.Starter.Known():
		return bad(BadStarter)
	case w.For < shortSpan || w.For > longSpan:
		return bad(BadSpan)
	case !within(-cold, cold, float64(w.Outdoor), float64(w.Room), float64(w.Low), float64(w.High)) ||
		!within(-cold, hot, float64(w.Body)) || !within(0, 1, float64(w.Humidity)):
		return bad(BadSettings)
	case len(w.Weather) > mostPoints || len(w.Beside) > mostPoints || len(w.Others) > mostWoods || len(w.There) > mostPoints:
		return bad(ManyPoints)
	}
	// Lists from elsewhere are bounded before they are gone through.
	for _, h := range w.Weather {
		if h.At < 0 || h.At > 2*longSpan || !within(-cold, cold, float64(h.Outdoor)) || !within(0, 60, h.Wind) {
			return bad(BadWeather)
		}
	}
	for _, h := range w.Beside {
		if !within(0, huge, float64(h.Heat)) {
			return bad(BadBeside)
		}
	}
	for _, s := range w.There {
		if s.From < 0 || s.To < s.From {
			return bad(BadTimes)
		}
	}
	return nil
}

// checkSelf holds what the plan says besides its steps and curves.
func (p Plan) checkSelf() error {
	b := p.Before
	switch {
	case p.Lay != "" && !p.Lay.Known():
		return bad(BadKeys)
	case !within(0, 1, p.Final):
		return bad(BadSettings)
	case !within(0, mostPieces, float64(p.First), float64(p.Main)) || p.First+p.Main < 1 || len(p.Feeds) > 2*MostFeeds:
		return bad(BadPieces)
	case len(p.Steps) == 0 || len(p.Steps) > mostSteps:
		return bad(StepCount, reason.Count(len(p.Steps)), reason.Count(mostSteps))
	case !within(-huge, huge, float64(b.Net), float64(b.AsIs), float64(b.FanOff), float64(b.Window), float64(b.Primed), b.Flue):
		return bad(BadDraft)
	case !within(0, huge, p.Air) || !within(-huge, huge, p.Cold) || p.Tried < 0:
		return bad(BadFigures)
	}
	if len(p.Extras) > mostSteps {
		return bad(StepCount, reason.Count(len(p.Extras)), reason.Count(mostSteps))
	}
	for _, b := range p.Extras {
		if !within(-huge, huge, float64(b.Heat)/1e6, b.Room, float64(b.Coals), b.Smoke) {
			return bad(BadFigures)
		}
	}
	// Every stack that the plan burns from, wherever it stands in it.
	picks := append(p.Wish.Woods(), p.FirstOf, p.MainOf)
	if p.Wish.Kindling != nil {
		picks = append(picks, *p.Wish.Kindling)
	}
	for _, f := range p.Feeds {
		if f.Pieces < 1 || f.Pieces > mostPieces || !within(0, 1, f.Final) {
			return bad(BadFeeds)
		}
		picks = append(picks, f.Of)
	}
	for _, pick := range picks {
		if !possible(pick) {
			return bad(BadStack)
		}
	}
	return nil
}

// possible tells whether a stack could be one.
func possible(pick wish.Pick) bool {
	s := pick.Stack
	return (s.Name == "" || units.FaultOfName(s.Name) == units.GoodName) &&
		within(0, 100, float64(s.PieceMass), float64(s.Thin), float64(s.Thick)) && s.Size.Known() && within(0, 3, float64(s.PieceLength)) && within(0, 2, float64(s.Reading)) &&
		within(0, 1, float64(s.Spread)) && within(0, 60, float64(s.Colder)) && within(-cold, 100, float64(s.WoodTemp)) && within(0, 1e7, float64(s.Mass)) &&
		within(0, 2, s.Species.Gravity) && within(0, 50, s.Species.Gross)
}

func (s Step) check(number reason.Quantity) error {
	switch s.Kind {
	case LightIt, GrowIt, ShutDoor, LoadIt, CloseIt, TurnDown, KeepIt, ReloadTime, FeedIt, ShutWindow, BlowIt, BedTime:
	default:
		return bad(BadKind, number, reason.Text(string(s.Kind)))
	}
	for _, at := range []time.Duration{s.Earliest, s.Expected, s.Latest} {
		if at < -1 || at > longSpan {
			return bad(BadTime, number)
		}
	}
	// A sign may wait for hours, never for days and never for the past.
	t := s.Fire.When
	for _, span := range []time.Duration{t.At, t.After, t.Held, t.Latest} {
		if span < 0 || span > longSpan {
			return bad(BadSign, number)
		}
	}
	if !within(0, 1, s.Opening) || !within(-glow, glow, float64(t.Above), float64(t.Least)) || !within(0, mostWoods, float64(t.WoodLeft), float64(t.PassedBy)) || len(s.Fire.Do) > mostActs {
		return bad(BadSign, number)
	}
	for _, a := range s.Fire.Do {
		if !within(0, 1, a.Opening) || a.Door < fire.Shut || a.Door > fire.Open || !within(0, 100*huge, float64(a.Heat)) ||
			!within(0, huge, float64(a.Flow)) || len(a.Control) > longestKey {
			return bad(BadDoing, number)
		}
		if a.Load != nil && !possibleLoad(*a.Load) {
			return bad(BadLoad, number)
		}
	}
	return nil
}

// possibleLoad tells whether a load could be one.
func possibleLoad(l fire.Load) bool {
	return l.Pieces >= 1 && l.Pieces <= mostPieces && l.PieceMass > 0 && l.PieceMass <= 100 && l.PieceLength > 0 && l.PieceLength <= 3 &&
		within(0, 2, float64(l.Moisture)) && within(0, 1, float64(l.Spread)) && within(0.1, 2, l.Species.Gravity) && within(5, 50, l.Species.Gross) &&
		within(0, 100*huge, float64(l.Starter))
}

// checkCurve holds curves to what can be drawn.
func (p Plan) checkCurve() error {
	c := p.Predicted
	n := len(c.Room)
	// Curves are drawn against one time axis, so all have one length.
	if c.Every < 30*time.Second || c.Every > time.Hour || n < 2 || time.Duration(n)*c.Every > 2*longSpan ||
		len(c.Phases) > mostPoints || len(c.Gauges) > mostGauges || len(c.Draft) != n || len(c.Coals) != n || len(c.Heat) != n {
		return bad(BadCurve)
	}
	curves := [][]float64{c.Room, c.Draft, c.Smoke, c.Coals, c.Heat, p.Low, p.High}
	for place, values := range c.Gauges {
		if !place.Known() {
			return bad(BadGauge)
		}
		curves = append(curves, values)
	}
	for _, values := range curves {
		if len(values) > mostPoints || !within(-huge, huge, values...) {
			return bad(BadCurve)
		}
	}
	for _, phase := range c.Phases {
		switch phase {
		case fire.Preparing, fire.Lighting, fire.Establishing, fire.Charring, fire.Cruising, fire.Coaling, fire.Out:
		default:
			return bad(BadState)
		}
	}
	return nil
}

// checkSums holds what the burn came to.
func checkSums(s fire.Summary) error {
	if !within(-huge, huge, float64(s.Efficiency), float64(s.ByGas), s.SmokePerKg, s.Smoke, s.SmokeEarly, s.Deposits, float64(s.PeakTop),
		float64(s.PeakGas), float64(s.MinDraft), float64(s.Coals), float64(s.Wood), float64(s.Mineral), s.Glass, s.DryPerHour,
		float64(s.In)/1e6, float64(s.ToRoom)/1e6) {
		return bad(BadSums)
	}
	return nil
}
