package kit

import (
	"strconv"
	"time"

	"smolder/internal/say"
	"smolder/internal/store"
)

// KeptLine is a kept plan for the first page.
type KeptLine struct {
	store.Planned
	When  string // "16:00", "tomorrow 06:30"
	Due   bool   // now
	Link  string
	Takes string // the wood it takes
}

// overdue is how long a kept plan waits after its time.
const overdue = 3 * time.Hour

// Soon is how far ahead a plan is still one for now; stale is how long after its time it
// may still be started: room, weather and coals are others later on.
const Soon, stale = 30 * time.Minute, 90 * time.Minute

// IsAhead tells whether a plan for a time is none for now yet.
func IsAhead(begins, now time.Time) bool { return begins.Sub(now) >= Soon }

// IsStale tells whether it must be worked out again.
func IsStale(begins, now time.Time) bool { return now.Sub(begins) > stale }

// Kept lists the plans kept for later, and those that are due.
func (q *Request) Kept() ([]KeptLine, error) {
	list, err := q.Home.KeptPlans(q.Ctx(), q.Now().Add(-overdue))
	out := make([]KeptLine, len(list))
	for i, k := range list {
		takes := ""
		if k.Burn != nil {
			takes, k.Sentence = say.Takes(*k.Burn, q.Locale()), say.Plan(*k.Burn, q.Locale())
		}
		out[i] = KeptLine{Takes: takes, Planned: k, When: q.DayWord(k.Begins), Due: k.Begins.Sub(q.Now()) < Soon, Link: PlanPath(k.ID)}
	}
	return out, err
}

// DayWord is a time today or on another day.
func (q *Request) DayWord(t time.Time) string {
	t, now := t.In(q.Profile.Location()), q.Now()
	day := func(t time.Time) string { return t.Format(time.DateOnly) }
	switch day(t) {
	case day(now):
		return t.Format("15:04")
	case day(now.AddDate(0, 0, 1)):
		return q.T("tomorrow at ") + t.Format("15:04")
	case day(now.AddDate(0, 0, -1)):
		return q.T("yesterday at ") + t.Format("15:04")
	}
	return q.F("%s at %s", q.Locale().Date(t, "2 January"), t.Format("15:04"))
}

// PlanPath is the address of a plan.
func PlanPath(id int64) string { return "/plans/" + strconv.FormatInt(id, 10) }
