package wish

import (
	"smolder/internal/core/reason"
	"smolder/internal/core/units"
)

// A Refusal is why there is no plan for a wish. What would do follows from its
// code and is said with it.
type Refusal struct {
	reason.Reason
	Before *Before // the draft, where that is the reason
	Would  []Would // what removes that reason, each by itself
	// Together: none by itself, and the one Would is all of them.
	Together bool
}

// A Would is a help for the draft that removes the reason not to light, and the
// net draft that is then left.
type Would struct {
	Add Help // to what is done already
	Net units.Pascal
}

// refuse makes a refusal of a code and its quantities.
func refuse(code reason.Code, values ...reason.Quantity) *Refusal {
	return &Refusal{Reason: reason.Of("", code, values...)}
}

// Refuse makes a refusal of another package's code.
func Refuse(code reason.Code, values ...reason.Quantity) *Refusal { return refuse(code, values...) }

// Why a wish cannot be planned for at all, with the quantities of each.
const (
	MineralWood    reason.Code = "wish/mineral"             // stack
	TooLong        reason.Code = "wish/pieces-too-long"     // stack, their length, the longest that fits
	UsedUp         reason.Code = "wish/used-up"             // stack
	HeavyUntold    reason.Code = "wish/pieces-heavy-untold" // stack, a piece, the load that is taken
	TooHeavy       reason.Code = "wish/pieces-too-heavy"    // stack, a piece, the manual's load
	TooWet         reason.Code = "wish/too-wet"             // stack, moisture
	Unattended     reason.Code = "wish/unattended"          //
	NobodyThere    reason.Code = "wish/nobody-there"        //
	NobodyYet      reason.Code = "wish/nobody-there-yet"    // how long until somebody is
	BandFalls      reason.Code = "wish/band-falls"          // a band that would do, from and to
	UnknownLay     reason.Code = "wish/unknown-lay"         // what was asked
	NightWet       reason.Code = "wish/night-wet"           // stack, moisture
	NoTarget       reason.Code = "wish/no-target"           //
	DoNotLight     reason.Code = "wish/do-not-light"        // net draft
	DoNotLightWarm reason.Code = "wish/do-not-light-warm"   // net draft, the flue warmed
)

// doNotLight refuses to light against the draft. What would do is what, by the
// figures, removes the reason.
func (w Wish) doNotLight(b Before) *Refusal {
	code := DoNotLight
	if w.Help.Primed {
		code = DoNotLightWarm
	}
	r := refuse(code, reason.Draft(b.Net))
	r.Before = &b
	for _, add := range helps {
		r.Would = w.wouldDo(r.Would, add)
	}
	if all := (Help{FansOff: true, Window: true, Primed: true}); len(r.Would) == 0 {
		r.Would = w.wouldDo(nil, all)
		r.Together = len(r.Would) > 0
	}
	return r
}

// wouldDo adds a help where with it a fire can be lit.
func (w Wish) wouldDo(list []Would, add Help) []Would {
	before := w.Help
	w.Help = before.With(add)
	if after := BeforeLighting(w); w.Help != before && !after.DoNot {
		list = append(list, Would{add, after.Net})
	}
	return list
}

// helps are what can be done for the draft, one at a time.
var helps = []Help{{FansOff: true}, {Window: true}, {Primed: true}}

// With is a help and another besides.
func (h Help) With(other Help) Help {
	return Help{h.FansOff || other.FansOff, h.Window || other.Window, h.Primed || other.Primed}
}
