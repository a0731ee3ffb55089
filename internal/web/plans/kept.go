package plans

import (
	"fmt"
	"net/http"

	"smolder/internal/core/burn"
	"smolder/internal/lang"
	"smolder/internal/say"

	"smolder/internal/web/kit"
)

// keepPlan keeps a plan that begins later; twice is as good as once.
func (s Room) keepPlan(q *kit.Request) error {
	row, err := s.plannedOf(q)
	if err != nil {
		return err
	}
	switch {
	case row.BurnID != 0:
		return kit.Answer(http.StatusConflict, q.T("This plan has been started already."))
	case !kit.IsAhead(row.Begins, s.Now()):
		return kit.BadInput(q.T("A plan is kept for half an hour from now or later; one for now is started."))
	}
	if err := q.Home.MarkKept(q.Ctx(), row.ID, s.Now()); err != nil {
		return err
	}
	q.Say("Kept for %s. It stands here until then.", q.DayWord(row.Begins))
	return q.SeeOther("/")
}

func (s Room) dropPlan(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.DropPlan(q.Ctx(), id, true, q.Now()); err != nil {
		return err
	}
	q.Show(http.StatusOK, "plan-gone", &keptPage{Page: kit.Page{Title: q.T("The plan"), Nav: "now"}, ID: id})
	return nil
}

func (s Room) putBackPlan(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.DropPlan(q.Ctx(), id, false, q.Now()); err != nil {
		return err
	}
	return q.SeeOther("/")
}

type keptPage struct {
	kit.Page
	ID int64
}

// startPlan begins a burn from a plan as it was made and seen. A second tap leads
// to the same burn.
func (s Room) startPlan(q *kit.Request) error {
	row, err := s.plannedOf(q)
	if err != nil {
		return err
	}
	if row.Burn == nil {
		return kit.BadInput(q.T("There is no burn in this plan to start."))
	}
	if row.BurnID == 0 {
		p, err := s.planPageOf(q, row)
		if err != nil {
			return err
		}
		if !p.Startable {
			p.Said = firstOf(p.Stale, p.Gone, q.T("This plan begins later: keep it until then, or plan it for now."))
			q.Show(http.StatusUnprocessableEntity, "plan", p)
			return nil
		}
	}
	if text, err := q.Lit(row.StoveID, row.Burn.Wish.Stove.Name); err != nil {
		return err
	} else if text != "" && row.BurnID == 0 {
		return kit.BadInput(text)
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	begun := kit.BurnOfPlan(row, s.Now())
	if row.BurnID == 0 && row.Burn.Wish.Confined() {
		if !aired(f) {
			p, err := s.planPageOf(q, row)
			if err != nil {
				return err
			}
			p.Said = q.T(say.NotAired)
			q.Show(http.StatusUnprocessableEntity, "plan", p)
			return nil
		}
		begun.Entries = append(begun.Entries, airedNote(begun, q.Locale()))
	}
	left, err := q.LeftOver(row.StoveID, begun.Started)
	if err != nil {
		return err
	}
	begun.Entries = append(begun.Entries, left...)
	id, err := q.Home.StartPlan(q.Ctx(), row, begun)
	if err != nil {
		return err
	}
	return q.SeeOther(fmt.Sprintf("/burns/%d/live", id))
}

func firstOf(texts ...string) string {
	for _, t := range texts {
		if t != "" {
			return t
		}
	}
	return ""
}

// aired tells whether somebody has confirmed, in a boat, a van or a hut, that fresh air
// comes in and that the CO alarm shows nothing.
func aired(f *kit.Form) bool { return f.Has("air") && f.Has("co") }

// airedNote keeps in the log that it was confirmed.
func airedNote(b burn.Burn, loc lang.Locale) burn.Entry {
	return burn.Entry{ID: kit.NewEntryID(), At: b.Started, Kind: burn.Note, Note: loc.T(say.Aired)}
}
