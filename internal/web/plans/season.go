package plans

import (
	"strconv"
	"time"

	"smolder/internal/app/shed"
	"smolder/internal/core/season"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// hoursOf are the hours that a fire is for: the night for one that is to hold through it.
func hoursOf(aim wish.Aim, begin time.Time) season.Hours {
	if aim == wish.Overnight {
		return season.Night
	}
	return season.HoursAt(begin)
}

// meant are the stacks that the season's allocation keeps for a fire of a stove, in their
// order, and the one that first splits are of; none where it keeps nothing for such hours.
// Where nobody knows what it is outdoors (nil) it is what is usual here.
func meant(q *kit.Request, st store.Stove, aim wish.Aim, begin time.Time, outdoor *units.Celsius) (
	out []shed.Stack, first *shed.Stack, hours season.Hours, err error,
) {
	hours = hoursOf(aim, begin)
	w, err := q.Winter()
	if err != nil || len(w.Woods) < 2 || w.Use.Loss.Middle <= 0 || w.End.IsZero() {
		return nil, nil, hours, err
	}
	air := season.UsualAir(w.Climate, begin)
	if outdoor != nil {
		air = *outdoor
	}
	suits := wish.Wish{Stove: st.Stove}
	a := w.Allot()
	for _, i := range a.For(begin, hours, air) {
		if suits.Suits(w.Stacks[i].Wood()) {
			out = append(out, w.Stacks[i])
		}
	}
	if w.First >= 0 && suits.Suits(w.Stacks[w.First].Wood()) {
		first = &w.Stacks[w.First]
	}
	return out, first, hours, nil
}

// bySeason starts the sentence from the wood that the season keeps for such hours, where
// nobody has said which.
func (p *planPage) bySeason(q *kit.Request, stoves []store.Stove) error {
	if p.Form.Has("wood") || len(stoves) == 0 || len(p.Stacks) < 2 {
		return nil
	}
	st := stoves[0]
	for _, s := range stoves {
		if s.ID == p.Form.Number("stove") {
			st = s
		}
	}
	at := q.Now()
	var outdoor *units.Celsius
	if t, err := units.ParseTemperature(p.Form.Text("outdoor"), q.Locale().System); err == nil {
		outdoor = &t
	} else if hours, ok := q.Site.Hourly(q, at, 1); ok && len(hours) > 0 {
		t := units.Celsius(hours[0].Temperature)
		outdoor = &t
	}
	found, first, hours, err := meant(q, st, wish.Aim(p.Form.Text("aim")), at, outdoor)
	if err != nil || len(found) == 0 {
		return err
	}
	p.Form.Values.Set("wood", strconv.FormatInt(found[0].ID, 10))
	if first != nil && first.ID != found[0].ID && !p.Form.Has("wood2") {
		p.Form.Values.Set("wood2", strconv.FormatInt(first.ID, 10)) // light wood for the first splits
	}
	p.Season = say.Meant(found[0].Name, hours, q.Locale())
	return nil
}

// seasonSays compares the wood of a plan with what the season keeps for such hours; empty
// where there is nothing to say.
func seasonSays(q *kit.Request, row store.Planned, st store.Stove) (string, error) {
	w := row.Burn.Wish
	found, _, hours, err := meant(q, st, w.Aim, row.Begins, &w.Outdoor)
	if err != nil || len(found) == 0 {
		return "", err
	}
	var names []string
	for _, s := range found[:min(2, len(found))] {
		if s.ID == w.Wood.ID {
			return say.Meant(s.Name, hours, q.Locale()), nil
		}
		names = append(names, s.Name)
	}
	return say.NotMeant(w.Wood.Stack.Name, q.Locale().Or(names), hours, q.Locale()), nil
}
