package stoves

import (
	"net/http"
	"strconv"
	"time"

	"smolder/internal/app/shed"
	"smolder/internal/core/behave"
	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// A behavesPage shows what a stove makes of a load, and another over it.
type behavesPage struct {
	kit.Page
	Stove      store.Stove
	Form       *kit.Form
	Woods      []kit.Option
	Others     []kit.Option // the same, and none
	Directions []kit.Option
	Strip      strip.Pair
	Rows       []behaviour
	Two        bool
	NoWood     bool
	Known      string // that it is the stove as its burns have taught it
	Hint       string
}

// behaviour is one figure of one or two settings.
type behaviour struct{ Label, One, Other string }

// trialSpan is how long a trial is looked at.
const trialSpan = 10 * time.Hour

// behaves burns one or two settings in the simulator and lays them over each
// other.
func (s Room) behaves(q *kit.Request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	stacks, err := q.Stacks()
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	p := &behavesPage{Page: kit.Page{Title: st.Name + q.T(", how it behaves"), Nav: "stoves", Wide: true}, Stove: st, Form: f}
	p.choices(q, st, stacks)
	if p.NoWood {
		q.Show(http.StatusOK, "behaves", p)
		return nil
	}
	status, err := p.compute(q, st, stacks)
	if err != nil {
		return err
	}
	q.Show(status, "behaves", p)
	return nil
}

// choices fills the lists and what nobody has typed yet.
func (p *behavesPage) choices(q *kit.Request, st store.Stove, stacks []shed.Stack) {
	for _, w := range stacks {
		if !w.Kindling && !w.Species.Mineral {
			p.Woods = append(p.Woods, kit.Option{Value: strconv.FormatInt(w.ID, 10), Label: w.Name + ", " + q.Locale().Percent(w.Moisture(), 0)})
		}
	}
	p.NoWood = len(p.Woods) == 0
	p.Others = append([]kit.Option{{Value: "", Label: q.T("nothing")}}, p.Woods...)
	p.Directions = []kit.Option{{Value: string(stove.EndOn), Label: q.T("end-on")}, {Value: string(stove.Sideways), Label: q.T("sideways")}}
	air, _ := st.MainAir()
	p.Hint = say.Own(air.Scale.Example(), q.Locale())
	set := func(name, value string) {
		if _, there := p.Form.Values[name]; !there {
			p.Form.Values.Set(name, value)
		}
	}
	set("outdoor", q.Locale().Temperature(2))
	for _, w := range stacks {
		if len(p.Woods) > 0 && p.Woods[0].Value == strconv.FormatInt(w.ID, 10) {
			// What fits, so that the page opens with something burnt.
			most := strconv.Itoa(max(1, min(4, int(st.MaxLoad/w.PieceMass+1e-9))))
			set("pieces", most)
			set("other-pieces", most)
			if w.PieceLength > st.LongestPiece(stove.EndOn) {
				set("direction", string(stove.Sideways))
				set("other-direction", string(stove.Sideways))
			}
		}
	}
	set("pieces", "4")
	set("air", say.Mark(air.Scale, air.Scale.Nearest(0.25), q.Locale()))
	set("other-pieces", "4")
	set("other-air", say.Mark(air.Scale, air.Scale.Nearest(0.5), q.Locale()))
	set("other-direction", string(stove.EndOn))
	if len(p.Woods) > 0 {
		set("wood", p.Woods[0].Value)
	}
}

// compute reads both settings, burns them and draws them.
func (p *behavesPage) compute(q *kit.Request, st store.Stove, stacks []shed.Stack) (int, error) {
	outdoor := kit.Parse(p.Form, "outdoor", kit.In(kit.ParseOutdoor, q.Locale().System))
	one, err := p.trial(q, st, stacks, "", outdoor)
	if err != nil {
		return 0, err
	}
	runs := []*strip.Run{one, nil}
	if p.Form.Has("other-wood") {
		if runs[1], err = p.trial(q, st, stacks, "other-", outdoor); err != nil {
			return 0, err
		}
		p.Two = true
	}
	if !p.Form.Ok() {
		return http.StatusUnprocessableEntity, nil
	}
	burn := func(r *strip.Run) {
		if r != nil {
			r.Result = fire.Run(r.Setup, r.Steps, fire.Options{Until: trialSpan, StopAtEnd: true})
		}
	}
	parallel.InParallel(len(runs), func(i int) { burn(runs[i]) })
	c := strip.RunChart("behaves", q.Locale(), *runs[0], runs[1])
	c.To = min(c.To, worthSeeing(runs))
	p.Strip = strip.Draw(c, strip.Wide)
	p.figures(q, runs)
	return http.StatusOK, nil
}

// worthSeeing is until a good while after the wood of both has gone to coals.
func worthSeeing(runs []*strip.Run) time.Duration {
	until := 2 * time.Hour
	for _, r := range runs {
		if r == nil {
			continue
		}
		if r.Result.Summary.ToCoals < 0 {
			return trialSpan
		}
		until = max(until, r.Result.Summary.ToCoals+90*time.Minute)
	}
	return until
}

// trial reads one setting; prefix tells the two apart.
func (p *behavesPage) trial(q *kit.Request, st store.Stove, stacks []shed.Stack, prefix string, outdoor units.Celsius) (*strip.Run, error) {
	f := p.Form
	var stack *shed.Stack
	for i := range stacks {
		if stacks[i].ID == f.Number(prefix+"wood") {
			stack = &stacks[i]
		}
	}
	if stack == nil {
		return nil, store.ErrMissing
	}
	pieces := kit.Parse(f, prefix+"pieces", units.ParsePieces)
	air, _ := st.MainAir()
	final := kit.Parse(f, prefix+"air", say.ReadMark(air.Scale, q.Locale()))
	direction := stove.EndOn
	if f.Text(prefix+"direction") == string(stove.Sideways) {
		direction = stove.Sideways
	}
	if !f.Ok() {
		return nil, nil //nolint:nilnil // the form says what is wrong
	}
	w := wish.Wish{Stove: st.Stove, House: st.Space.House, Outdoor: outdoor, Room: 18, Wood: wish.Pick{ID: stack.ID, Stack: stack.Wood()}}
	known, err := q.KnownOf(st.ID)
	if err != nil {
		return nil, err
	}
	if w.Known = known.ForPlans(); w.Known != nil {
		p.Known = say.GoesBy(*w.Known, q.Locale())
	}
	setup, steps := behave.Trial(w, pieces, direction, final)
	if err := st.CheckLoad(stack.PieceMass*units.Kilogram(pieces), stack.Moisture(), stack.Species); err != nil {
		f.Fails(prefix+"pieces", err)
	}
	if longest := st.LongestPiece(direction); stack.PieceLength > longest {
		f.Wrong(prefix+"direction", q.T("pieces of ")+q.Locale().Size(stack.PieceLength)+q.T(" do not fit ")+q.T(say.Direction(direction))+q.T(" here: up to ")+q.Locale().Size(longest)+q.T(" would do"))
	}
	return &strip.Run{Setup: setup, Steps: steps}, nil
}

// figures are what both settings come to.
func (p *behavesPage) figures(q *kit.Request, runs []*strip.Run) {
	u := q.Locale()
	span := func(d time.Duration) string {
		if d < 0 {
			return q.T("not in ") + q.Locale().Duration(trialSpan)
		}
		return q.Locale().Duration(d)
	}
	for _, row := range []struct {
		label string
		say   func(fire.Summary) string
	}{
		{q.T("wood gone to coals after"), func(s fire.Summary) string { return span(s.ToCoals) }},
		{q.T("heat to the room"), func(s fire.Summary) string { return u.Energy(s.ToRoom) }},
		{q.T("efficiency, net"), func(s fire.Summary) string { return q.Locale().Percent(s.Efficiency, 0) }},
		{q.T("smoke per kg"), func(s fire.Summary) string { return say.Smoke(s.SmokePerKg, q.Locale()) }},
		{q.T("deposits in the flue"), func(s fire.Summary) string { return q.Locale().Number(s.Deposits, 1) + " g" }},
		{q.T("hottest: flue gas, top"), func(s fire.Summary) string { return u.Degrees(s.PeakGas) + ", " + u.Temperature(s.PeakTop) }},
		{q.T("working · too hot · smouldering"), func(s fire.Summary) string {
			return q.Locale().Duration(s.Working) + " · " + q.Locale().Duration(s.TooHot) + " · " + q.Locale().Duration(s.Smoulder)
		}},
		{q.T("coals left"), func(s fire.Summary) string { return u.Mass(s.Coals) }},
	} {
		b := behaviour{Label: row.label, One: row.say(runs[0].Result.Summary)}
		if runs[1] != nil {
			b.Other = row.say(runs[1].Result.Summary)
		}
		p.Rows = append(p.Rows, b)
	}
}
