package web

import (
	"strconv"
	"time"

	"smolder/internal/store"
)

// keptLine is a kept plan for the first page.
type keptLine struct {
	store.Planned
	When string // "16:00", "tomorrow 06:30"
	Due  bool   // now
	Link string
}

// overdue is how long a kept plan waits after its time.
const overdue = 3 * time.Hour

// soon is how far ahead a plan is still one for now.
const soon = 30 * time.Minute

// kept lists the plans kept for later, and those that are due.
func (q *request) kept() ([]keptLine, error) {
	list, err := q.house.KeptPlans(q.ctx(), q.now().Add(-overdue))
	out := make([]keptLine, len(list))
	for i, k := range list {
		out[i] = keptLine{Planned: k, When: q.dayWord(k.Begins), Due: k.Begins.Sub(q.now()) < soon, Link: planPath(k.ID)}
	}
	return out, err
}

// dayWord is a time today or on another day.
func (q *request) dayWord(t time.Time) string {
	t, now := t.In(q.profile.Location()), q.now()
	day := func(t time.Time) string { return t.Format(time.DateOnly) }
	switch day(t) {
	case day(now):
		return t.Format("15:04")
	case day(now.AddDate(0, 0, 1)):
		return "tomorrow at " + t.Format("15:04")
	case day(now.AddDate(0, 0, -1)):
		return "yesterday at " + t.Format("15:04")
	}
	return t.Format("2 January at 15:04")
}

func planPath(id int64) string { return "/plans/" + strconv.FormatInt(id, 10) }
