package kit

import (
	"fmt"
	"time"

	"smolder/internal/core/plan"
	"smolder/internal/core/review"
	"smolder/internal/say"
)

// An Aim is the one thing that a stove's last burn says to do otherwise, in words.
type Aim struct {
	Text string
	Link string // to where it was found
	Code review.Matter
}

const (
	// aimsIn is in how many of the last burns it is looked for, and aimFor how long it holds.
	aimsIn = 3
	aimFor = 60 * 24 * time.Hour
)

// AimOf is what the last burns of a stove before a moment say to do otherwise; nil: nothing.
func (q *Request) AimOf(stove int64, before time.Time) (*Aim, error) {
	reviews, err := q.Home.ReviewsBefore(q.Ctx(), stove, before, aimsIn)
	if err != nil {
		return nil, err
	}
	for _, r := range reviews {
		if r.Whole && before.Sub(r.Started) < aimFor {
			if hurt := r.Review().Dangers; len(hurt) > 0 { // before any gram
				return &Aim{say.Hurt(hurt[0], q.Locale()).Next, fmt.Sprintf("/burns/%d", r.Burn), afterHurt[hurt[0].Code]}, nil
			}
			if found := r.Review().Findings; len(found) > 0 {
				return &Aim{say.Aim(found[0], q.Locale()), fmt.Sprintf("/burns/%d", r.Burn), found[0].Code}, nil
			}
			return nil, nil //nolint:nilnil // the last burn went well: there is nothing to change
		}
	}
	return nil, nil //nolint:nilnil // no burn says anything
}

// afterHurt is the finding whose step of a plan is where a danger is met next time.
var afterHurt = map[review.Hurt]review.Matter{review.RanHot: review.DownLate, review.RoomSmoke: review.Lit, review.Died: review.Lit,
	review.DoorLong: review.AjarLong, review.FlapLong: review.Lit, review.Overload: review.TooMuch}

// stepOf is the step of a plan that an aim is about.
var stepOf = map[review.Matter]plan.StepKind{
	review.Lit: plan.LightIt, review.ShutEarly: plan.ShutDoor, review.AjarLong: plan.ShutDoor, review.Wet: plan.LoadIt, review.DownEarly: plan.TurnDown,
	review.DownLate: plan.TurnDown, review.TooFar: plan.TurnDown, review.TooOpen: plan.TurnDown, review.LateLoad: plan.LoadIt, review.BypassOut: plan.CloseIt,
	review.TooMuch:   plan.LoadIt,
	review.EarlyLoad: plan.FeedIt,
}

// IsAbout tells whether an aim is about a step of this kind.
func (a *Aim) IsAbout(k plan.StepKind) bool { return a != nil && stepOf[a.Code] == k }
