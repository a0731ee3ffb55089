package kit

import (
	"strings"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/review"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
)

// A Coached is what the coach says of a fire, in words.
type Coached struct {
	say.Counsel
	Answer   coach.Answer
	State    string
	Now      bool   // it is to be done now; else when its sign comes
	When     string // "18:20–18:28, likely 18:24"
	Watch    []string
	Reworked string
	Done     bool     // the plan is done, and nothing is said
	Taps     []string // what it asks for, each as it is logged
	Looks    []Look   // what its sign looks like, beside its opposite
	Aim      string   // what the last burn says to do otherwise, where this step is about it
}

// Coach asks the coach about a fire that burns.
func (q *Request) Coach(b store.Burn) *Coached {
	return q.Coached(b, q.Site.Watch.Now(q.Ctx(), b, q.Site.Now().UTC()))
}

// Teaches is the thing that is advised, by which a device remembers that its reason was shown.
func (c *Coached) Teaches() string {
	if step := c.Answer.Advice.Step; step != nil {
		return "step-" + string(step.Kind)
	}
	return string(c.Answer.Advice.Code)
}

// neverLit tells whether nobody has lit anything yet, and there were no coals to begin with.
func neverLit(b burn.Burn) bool {
	_, lit := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Light || e.Kind == burn.WentOut })
	return !lit && b.Coals == 0
}

// Coached puts an answer into words.
func (q *Request) Coached(b store.Burn, a coach.Answer) *Coached {
	p := a.Plan
	c := &Coached{Answer: a, Counsel: say.Coach(a, b.Stove, p, q.Locale()), State: say.Phase(a.Phase, q.Locale()), Now: a.Advice.Asks() && a.Advice.Ready}
	switch {
	case !b.Simulated():
		c.State = q.T("on mineral fuel")
	case a.Smoulders():
		c.State = say.Phase(review.Smouldering, q.Locale())
	case c.State == "", a.Phase == fire.Out && neverLit(b.Burn):
		c.State = say.Phase(fire.Preparing, q.Locale())
	}
	if a.Advice.Code == coach.PlanStep && !a.Advice.Ready {
		c.When = q.Span(b, a.Advice.Earliest, a.Advice.Expected, a.Advice.Latest)
	}
	if a.Advice.Code == coach.PlanStep {
		if lack := say.Lack(a.Progress.Lacks, q.Locale()); lack != "" {
			c.Sign = strings.TrimSpace(c.Sign + " " + q.F("Now %s.", lack))
		}
	}
	if !a.Advice.Urgent {
		c.Looks = looksOf(a, q.Locale())
	}
	for _, w := range a.Watch {
		if text := say.Watched(w, q.Locale()); text != "" {
			c.Watch = append(c.Watch, text)
		}
	}
	if a.Reworked != "" {
		c.Reworked = say.Reworked(a.Reworked, q.Locale())
	}
	if step := a.Advice.Step; step != nil {
		if aim, err := q.AimOf(b.StoveID, b.Started); err == nil && aim.IsAbout(step.Kind) { // without it the advice stands as well
			c.Aim = aim.Text
		}
	}
	c.Done = p != nil && a.Advice.Code == coach.Fine && !a.Progress.Has
	return c
}

// Span is when something comes, by the clock: "18:20–18:28, likely 18:24"; empty where
// it is not known.
func (q *Request) Span(b store.Burn, earliest, expected, latest time.Duration) string {
	if earliest < 0 || latest < 0 || expected < 0 {
		return ""
	}
	clock := func(d time.Duration) string { return b.Started.Add(d).In(q.Profile.Location()).Format("15:04") }
	if clock(earliest) == clock(latest) {
		return q.T("about ") + clock(expected)
	}
	return clock(earliest) + "–" + clock(latest) + q.T(", likely ") + clock(expected)
}

// Risk words what is likely to go wrong within a quarter of an hour; empty: nothing
// much.
func Risk(r belief.Risks, loc lang.Locale) string {
	const worthSaying = 0.2
	var parts []string
	for _, risk := range []struct {
		share float64
		says  string
	}{{r.TooHot, loc.T("too hot")}, {r.Smoulder, loc.T("smouldering")}, {r.Spilling, loc.T("smoke into the room")}} {
		if risk.share >= worthSaying {
			parts = append(parts, risk.says+" "+say.OfTen(risk.share, loc))
		}
	}
	return strings.Join(parts, ", ")
}
