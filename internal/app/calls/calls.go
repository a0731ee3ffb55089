// Package calls is what calls somebody to a stove who does not look: turn down, the next load, a
// door that stands ajar, too hot, it goes out, carry wood in, upkeep. It says what stands now, in
// one sentence each, for a browser's notification, a push service, a broker and a calendar alike.
//
// A call is never the only carrier of a danger: what hurts stands on every page, and an alarm
// hangs in the room.
package calls

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/core/plan"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
)

// A Kind is what a call is about; each can be off.
type Kind string

// The kinds.
const (
	TurnDown Kind = "turn-down"
	Reload   Kind = "reload"
	DoorAjar Kind = "door-ajar"
	TooHot   Kind = "too-hot"
	GoingOut Kind = "going-out"
	CarryIn  Kind = "carry-in"
	Upkeep   Kind = "upkeep"
)

// Kinds are they with their names, in the order in which they are shown.
var Kinds = []struct {
	Key  Kind
	Name lang.Message
}{
	{TooHot, "too hot, or dangerous"}, {DoorAjar, "the door stands ajar"}, {TurnDown, "turn down"}, {Reload, "the next load"},
	{GoingOut, "it goes out"}, {CarryIn, "carry wood in"}, {Upkeep, "upkeep is overdue"},
}

// A Call is one of them, as it stands.
type Call struct {
	Key    string `json:"key"` // the same as long as it is the same call
	Kind   Kind   `json:"kind"`
	Stove  string `json:"stove,omitempty"`
	Title  string `json:"title"`
	Text   string `json:"text"`
	Link   string `json:"link"`
	Urgent bool   `json:"urgent"` // it is not held back in quiet hours
}

// rules are what a rule of the coach is called for; what is in none is not worth a call.
var rules = map[coach.RuleID]Kind{
	coach.Monoxide: TooHot, coach.ChimneyFire: TooHot, coach.OverLimit: TooHot, coach.Climbing: TooHot, coach.Spillage: TooHot, coach.SomeMonoxide: TooHot,
	coach.FlapOpen: DoorAjar, coach.DoorAjar: DoorAjar, coach.GrateOpen: DoorAjar,
	coach.TurnDown: TurnDown, coach.InSteps: TurnDown,
	coach.ReloadNow: Reload, coach.LoadBy: Reload, coach.SecondLoad: Reload,
	coach.CoalsGoing: GoingOut, coach.Dies: GoingOut, coach.DiedOnShut: GoingOut, coach.NotCaught: GoingOut, coach.TooFar: GoingOut,
}

// steps are likewise what a step of a plan is called for, when its sign is there.
var steps = map[plan.StepKind]Kind{
	plan.TurnDown: TurnDown, plan.CloseIt: TurnDown, plan.KeepIt: TurnDown, plan.BedTime: TurnDown, plan.ShutDoor: DoorAjar,
	plan.LoadIt: Reload, plan.FeedIt: Reload, plan.ReloadTime: Reload, plan.GrowIt: Reload,
}

// OfFire is what a fire calls for; false: nothing, or nothing that cannot wait for the next look.
func OfFire(b store.Burn, a coach.Answer, loc lang.Locale) (Call, bool) {
	ad := a.Advice
	kind, ok := rules[ad.Code]
	mark := string(ad.Code)
	if ad.Step != nil && ad.Code == coach.PlanStep {
		kind, ok = steps[ad.Step.Kind]
		ok = ok && ad.Ready
		mark = fmt.Sprintf("%s-%d", ad.Step.Kind, a.Progress.Done)
	}
	if a.Stale || !ok || !ad.Ready && !ad.Urgent && ad.Code != coach.LoadBy {
		return Call{}, false
	}
	c := say.Coach(a, b.Stove, a.Plan, loc)
	text := c.Do
	if text == "" {
		text = c.Sees
	} else if ad.Urgent && c.Sees != "" {
		text = c.Sees + " " + say.Sentence(c.Do)
	}
	return Call{Key: fmt.Sprintf("burn-%d-%s", b.ID, mark), Kind: kind, Stove: b.Stove.Name, Title: b.Stove.Name + ": " + loc.T(nameOf(kind)),
		Text: say.Sentence(text), Link: fmt.Sprintf("/burns/%d/live", b.ID), Urgent: kind == TooHot || kind == DoorAjar}, true
}

func nameOf(k Kind) lang.Message {
	for _, row := range Kinds {
		if row.Key == k {
			return row.Name
		}
	}
	return ""
}

// Overdue is upkeep that endangers, as a call: once a week, until it is done.
func Overdue(text string, now time.Time, loc lang.Locale) Call {
	year, week := now.ISOWeek()
	name, _, _ := strings.Cut(text, ".")
	return Call{Key: fmt.Sprintf("upkeep-%d-%d-%s", year, week, name), Kind: Upkeep, Title: loc.T("Upkeep"), Text: text, Link: "/upkeep"}
}

// Carrying is the hour from which wood is called for that is wanted by the stove tonight.
const Carrying = 16

// Carry is a call for wood to be carried in, once a day; what is how much of which.
func Carry(what []string, now time.Time, loc lang.Locale) (Call, bool) {
	if len(what) == 0 || now.Hour() < Carrying {
		return Call{}, false
	}
	return Call{Key: "carry-" + now.Format(time.DateOnly), Kind: CarryIn, Title: loc.T("Carry wood in"),
		Text: loc.F("For tonight and tomorrow: %s.", strings.Join(what, ", ")), Link: "/wood/basket"}, true
}

// A Wish is which calls somebody wants, and when not to be called.
type Wish struct {
	On    bool     // they are called at all
	Off   []string // kinds that they do not want
	Quiet [2]int   // from which minute of the day to which nothing is called that is not urgent; the same: never
}

// Wants tells whether somebody wants a call at a moment, in their own zone.
func (w Wish) Wants(c Call, at time.Time) bool {
	return w.On && !slices.Contains(w.Off, string(c.Kind)) && (c.Urgent || !w.quiet(at))
}

func (w Wish) quiet(at time.Time) bool {
	minute, from, to := at.Hour()*60+at.Minute(), w.Quiet[0], w.Quiet[1]
	switch {
	case from == to:
		return false
	case from < to:
		return minute >= from && minute < to
	}
	return minute >= from || minute < to // over midnight
}

// Burns reports whether a fire is one that anything can be called for.
func Burns(b burn.Burn, now time.Time) bool { return b.Simulated() && !b.IsOut(now) }
