package wood

import (
	"math"
	"net/http"
	"strconv"

	"smolder/internal/app/shed"
	"smolder/internal/app/winter"
	"smolder/internal/core/season"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// tripPage is the fuel to carry for some days away.
type tripPage struct {
	kit.Page
	Form    *kit.Form
	Stoves  []kit.Option
	Stacks  []kit.Option
	Carry   string
	Lines   []option
	Before  []string
	NoStove bool
}

func (s Room) trip(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	f.Values.Del("part")
	p := &tripPage{Page: kit.Page{Title: q.T("Fuel for a trip"), Nav: "wood", Wide: true}, Form: f}
	stoves, err := q.Stoves()
	if err != nil {
		return err
	}
	stacks, err := q.Stacks()
	if err != nil {
		return err
	}
	p.NoStove = len(stoves) == 0
	for _, confined := range []bool{true, false} { // who travels has a small one
		for _, st := range stoves {
			if st.Confined() == confined {
				p.Stoves = append(p.Stoves, kit.Option{Value: strconv.FormatInt(st.ID, 10), Label: st.Name})
			}
		}
	}
	for _, st := range stacks {
		if !st.Kindling && !st.Species.Mineral {
			p.Stacks = append(p.Stacks, kit.Option{Value: strconv.FormatInt(st.ID, 10), Label: st.Name})
		}
	}
	status := http.StatusOK
	if f.Has("days") {
		if err := p.work(q, stoves, stacks); err != nil {
			return err
		}
		if !f.Ok() {
			status = http.StatusUnprocessableEntity
		}
	}
	q.Show(status, "trip", p)
	return nil
}

// work reckons what the trip takes.
func (p *tripPage) work(q *kit.Request, stoves []store.Stove, stacks []shed.Stack) error {
	f, u := p.Form, q.Locale()
	var st store.Stove
	for _, o := range stoves {
		if o.ID == f.Number("stove") {
			st = o
		}
	}
	kit.KnownChoice(f, "stove", st.ID != 0)
	wood1 := wood.Stack{Species: beech(), PieceMass: 0.3, PieceLength: 0.16, Reading: wood.Seasoned, Spread: 0.02}
	for _, o := range stacks {
		if o.ID == f.Number("wood") {
			wood1 = o.Wood()
		}
	}
	t := season.Trip{Room: 18, Hours: 10}
	t.Days = kit.Parse(f, "days", func(v string) (float64, error) { return units.ParseNumber(v, q.T("number of days"), 0.5, 90) })
	t.Outdoor = kit.Parse(f, "outdoor", kit.In(kit.ParseOutdoor, u.System))
	if room, typed := kit.Optional(f, "room", kit.In(kit.ParseRoom, u.System)); typed {
		t.Room = room
	}
	if hours, typed := kit.Optional(f, "hours", func(v string) (float64, error) { return units.ParseNumber(v, q.T("number of hours"), 0.5, 24) }); typed {
		t.Hours = hours
	}
	if !f.Ok() {
		return nil
	}
	w, err := q.Winter()
	if err != nil {
		return err
	}
	sticks, err := q.Home.Sticks(q.Ctx(), st.ID, q.Now().AddDate(-1, 0, 0), q.Now())
	if err != nil {
		return err
	}
	if sticks == 0 {
		sticks = winter.UsualSticks
	}
	const leastShare = 0.4 // of its output, that a small stove gives at least while it burns clean
	t.Loss, t.Efficiency, t.Least = st.Space.House.Loss(), units.Fraction(w.Efficiency.Middle), st.Output*leastShare
	middle, carry := t.Heat()
	each := wood1.NetEnergy()
	kg := func(j units.Joule) units.Kilogram { return units.Kilogram(j.MJ() / each) }
	load := wood.LoadOf(wood1.Species, wood1.Moisture(), kg(carry))
	pieces := int(math.Ceil(float64(kg(carry) / wood1.PieceMass)))
	p.Carry = q.F("Carry %s of %s: %s, %s stacked.", u.Mass(kg(carry)), say.Species(wood1.Species, q.Locale()), kit.PieceWord(pieces, q.Locale()), u.Volume(load.Stacked))
	p.Lines = []option{
		{q.T("it most likely takes"), u.Mass(kg(middle))}, {q.T("fires to light"), strconv.Itoa(t.Fires())},
		{q.T("kindling"), kit.PieceWord(int(math.Ceil(sticks*float64(t.Fires())*1.2)), q.Locale())}, {q.T("starters, and a dry match for each"), strconv.Itoa(t.Fires() + 2)},
		{q.T("heat loss of ") + st.Space.Name, u.HeatLoss(t.Loss)}, {q.T("kept at"), u.RoomTemperature(t.Room)},
		{q.T("efficiency, net"), q.Locale().Percent(t.Efficiency, 0)},
	}
	if t.Least > 0 {
		p.Lines = append(p.Lines, option{q.T("the least that it gives, burning clean"), u.Power(t.Least)})
	}
	if wood1.PieceLength > max(st.LongestPiece("sideways"), st.LongestPiece("end-on")) {
		p.Before = append(p.Before, q.F("Its pieces are %s long, and %s takes %s: saw them at home.", u.Size(wood1.PieceLength), st.Name,
			u.Size(max(st.LongestPiece("sideways"), st.LongestPiece("end-on")))))
	}
	if wood1.Moisture() > wood.ReadyTo {
		p.Before = append(p.Before, say.Readiness(wood.ReadinessOf(wood1.Moisture()), q.Locale()))
	}
	p.Before = append(p.Before, q.T("Dry bags for it, off the floor and out of the stove's clearance; nothing lies on the stove under way."),
		q.T("CO alarm with a display, tested, where people sleep; an extinguisher by the way out; a metal bin for ash."))
	return nil
}
