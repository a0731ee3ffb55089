package kit

import (
	"smolder/internal/core/ways"
	"smolder/internal/store"
)

// StandingOf is how a trial stands by the burns since it was begun.
func (q *Request) StandingOf(t store.Trial) (ways.Standing, error) {
	kept, err := q.Home.ReviewsSince(q.Ctx(), t.Stove, t.Begun, 4*ways.MostBurns)
	var burns []ways.Burn
	for _, k := range kept {
		if !t.Ended.Valid || k.Started.Before(t.Ended.V) {
			burns = append(burns, k.Compared(q.Profile.Location()))
		}
	}
	return t.Standing(burns), err
}

// Asked is what a stove's trial asks of the next burn; false: none goes on.
func (q *Request) Asked(stove int64) (t store.Trial, way string, ok bool, err error) {
	list, err := q.Home.Trials(q.Ctx(), stove)
	if err != nil {
		return t, "", false, err
	}
	for _, t := range list {
		if t.Ended.Valid {
			continue
		}
		standing, err := q.StandingOf(t)
		return t, standing.Next, err == nil && standing.Next != "", err
	}
	return t, "", false, nil
}
