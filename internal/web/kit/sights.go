package kit

import (
	"html/template"

	"smolder/internal/core/coach"
	"smolder/internal/core/plan"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// A Look is something to look for, drawn, with its word.
type Look struct {
	Says  string
	Drawn template.HTML
	Not   bool // its opposite: not yet, or not so
}

// looks are what is to be seen, and its opposite.
type looks struct{ is, not say.Sight }

var (
	black  = looks{say.AllBlack, say.StillBare}
	stand  = looks{say.Lively, say.Lazy}
	stay   = looks{say.Lively, say.NoFlames}
	onBed  = looks{say.Coals, say.FewCoals}
	burnt  = looks{say.Coals, say.FlamesOn}
	atCap  = looks{say.Vapour, say.BlueGrey}
	ofRule = map[coach.RuleID]looks{
		coach.NotCharred: black, coach.TurnDown: black, coach.InSteps: stay, coach.TooFar: stay, coach.Dies: stay,
		coach.Smoulders: atCap, coach.SmokeLong: atCap, coach.WatchCap: atCap,
		coach.AskCoals: burnt, coach.ReloadNow: onBed, coach.CoalsGoing: onBed, coach.LoadBy: burnt,
	}
	ofStep = map[plan.StepKind]looks{
		plan.GrowIt: stand, plan.ShutDoor: stand, plan.LoadIt: onBed, plan.FeedIt: burnt, plan.ReloadTime: burnt, plan.KeepIt: burnt, plan.CloseIt: black,
	}
)

// LooksOf are what a step's sign looks like, beside its opposite; of one that is a matter of a
// gauge or of the hour there are none.
func LooksOf(s plan.Step, loc lang.Locale) []Look {
	l, ok := ofStep[s.Kind]
	if s.Kind == plan.TurnDown {
		l, ok = stay, true
		if s.Fire.When.Charred {
			l = black
		}
	}
	if !ok {
		return nil
	}
	return l.drawn(loc)
}

// looksOf are those of an advice; where it has none, what is watched for.
func looksOf(a coach.Answer, loc lang.Locale) []Look {
	ad := a.Advice
	if ad.Code == coach.PlanStep && ad.Step != nil {
		if out := LooksOf(*ad.Step, loc); out != nil {
			return out
		}
	}
	if l, ok := ofRule[ad.Code]; ok {
		return l.drawn(loc)
	}
	for _, w := range a.Watch {
		if w.Code == coach.WatchCap {
			return atCap.drawn(loc)
		}
	}
	return nil
}

func (l looks) drawn(loc lang.Locale) []Look {
	return []Look{{loc.T(l.is.Says), DrawSight(l.is), false}, {loc.T(l.not.Says), DrawSight(l.not), true}}
}

// DrawSight draws a sight alone; its word stands beside it.
func DrawSight(s say.Sight) template.HTML {
	return template.HTML(`<svg class="strip sight" viewBox="0 0 64 40" width="96" height="60" aria-hidden="true">` + s.Drawn + `</svg>`) //nolint:gosec // of our own table
}
