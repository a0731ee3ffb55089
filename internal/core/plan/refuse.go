package plan

import (
	"fmt"
	"strings"
	"time"

	"smolder/internal/core/units"
)

// A Refusal says why there is no plan and what would do.
type Refusal struct {
	Why string
	Try string

	Before *Before `json:"-"` // the draft, where that is the reason

	say func(units.System) (why, try string) // nil: without quantities
}

func (r *Refusal) Error() string { return r.Why + " " + r.Try }

// In returns the refusal in the household's units; it is made in metric ones.
func (r *Refusal) In(sys units.System) *Refusal {
	if r.say == nil {
		return r
	}
	why, try := r.say(sys)
	return &Refusal{Why: why, Try: try, Before: r.Before, say: r.say}
}

func refusal(say func(units.System) (why, try string)) *Refusal {
	why, try := say(units.Metric)
	return &Refusal{Why: why, Try: try, say: say}
}

// doNotLight refuses to light against the draft. What is advised is what, by the
// figures, removes the reason.
func (w Wish) doNotLight(b Before) *Refusal {
	r := refusal(func(sys units.System) (string, string) {
		why := fmt.Sprintf("Do not light: the room pulls harder than the chimney (net draft %s), so smoke would come in.", sys.Draft(b.Net))
		if w.Help.Primed {
			why = fmt.Sprintf("Do not light: even with the flue warmed the draft is only %s, and a gust would turn it.", sys.Draft(b.Net))
		}
		var would []string
		for _, h := range helps {
			if next := h.on(w.Help); next != w.Help {
				try := w
				try.Help = next
				if after := BeforeLighting(try); !after.DoNot {
					would = append(would, fmt.Sprintf("%s it is %s", h.with, sys.Draft(after.Net)))
				}
			}
		}
		if len(would) > 0 {
			return why, units.UpperFirst(strings.Join(would, "; ")) + ". Choose it in the sentence, do it, and see a flame lean inwards at the open door."
		}
		all := w
		all.Help = Help{FansOff: true, Window: true, Primed: true}
		if after := BeforeLighting(all); !after.DoNot {
			return why, fmt.Sprintf("Only all together would do: fans off, a window open a crack and the flue warmed make it %s.", sys.Draft(after.Net))
		}
		return why, "Neither fans off, nor a window, nor a warmed flue is enough: leave it out today, and ask a licensed installer about the chimney."
	})
	r.Before = &b
	return r
}

// helps are what can be done for the draft, with the words of its effect.
var helps = []struct {
	on   func(Help) Help
	with string
}{
	{func(h Help) Help { h.FansOff = true; return h }, "with the fans off"},
	{func(h Help) Help { h.Window = true; return h }, "with a window on the stove's level open a crack"},
	{func(h Help) Help { h.Primed = true; return h }, "with the flue warmed first"},
}

// plain is a refusal without quantities.
func plain(why, try string) *Refusal { return &Refusal{Why: why, Try: try} }

// refuse says why nothing was good enough and what would help.
func (w Wish) refuse(verdicts []verdict) error {
	u := w.Wood.Stack.Moisture()
	until, _ := w.hands()
	switch {
	case len(verdicts) == 0:
		return plain("There are not enough pieces in this stack for a fire like this.", "Choose another stack, or another lay.")
	case verdicts[0].unsafe && verdicts[0].summary.TooHot <= maxTooHot:
		return refusal(func(sys units.System) (string, string) {
			return fmt.Sprintf("Smoke would come into the room: at its weakest the draft is %s.", sys.Draft(verdicts[0].summary.MinDraft)),
				"Warm the flue first, fans off, a window open a crack; if that is not enough, ask a licensed installer about the chimney."
		})
	case verdicts[0].unsafe:
		return plain("Every load tried would run this stove too hot.", "A stack of larger or denser pieces would do, or fewer of them.")
	case verdicts[0].late && !verdicts[0].dirty:
		return plain(fmt.Sprintf("No fire is charred, turned down and seen to burn steadily in the %s that somebody is there.", units.Duration(until+watched)),
			"Stay longer, light earlier, or leave the stove out until somebody is back; a load on a good bed of coals is ready soonest.")
	case w.Lay != "" && w.Start == Cold && verdicts[0].dirty && u <= 0.22:
		return plain(fmt.Sprintf("Laid %s, no setting tried burns clean: at best %.1f g of smoke per kg and %s of smouldering.", w.Lay,
			verdicts[0].summary.SmokePerKg, units.Duration(verdicts[0].summary.Smoulder.Round(time.Minute))), "Another lay would do: leave the choice open.")
	case u <= 0.22 && w.mostPieces(0) == 1 && w.Wood.Stack.Pieces() == 1:
		return plain(fmt.Sprintf("There is one piece left of %s, and one by itself does not keep this firebox hot.", w.Wood.Stack.Name), "Another stack would do, or a second one beside it.")
	case u <= 0.22 && w.mostPieces(0) == 1:
		return refusal(func(sys units.System) (string, string) {
			return fmt.Sprintf("One piece by itself does not keep this firebox hot: at best %.0f g of smoke per kg.", verdicts[0].summary.SmokePerKg),
				fmt.Sprintf("Smaller pieces would do: three within the manual's load of %s.", sys.Mass(w.Stove.MaxLoad))
		})
	case u > 0.22:
		return plain(fmt.Sprintf("Wood at %.0f %% smoulders here whatever the air: at best %.0f g of smoke per kg.", u.Percent(), verdicts[0].summary.SmokePerKg),
			"Wood under 20 % would do.")
	}
	if w.Start.few() {
		return plain(fmt.Sprintf("On so few coals no load burns clean here: at best %.0f g of smoke per kg.", verdicts[0].summary.SmokePerKg),
			"Rake them aside and plan it as from cold, with the kindling on top and lit there; or smaller and drier pieces.")
	}
	return plain(fmt.Sprintf("No setting tried burns clean: at best %.0f g of smoke per kg and %s of smouldering.",
		verdicts[0].summary.SmokePerKg, units.Duration(verdicts[0].summary.Smoulder.Round(time.Minute))),
		"Drier or smaller pieces, a good bed of coals to start from, or more draft would do.")
}
