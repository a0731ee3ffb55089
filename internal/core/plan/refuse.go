package plan

import (
	"fmt"
	"time"

	"smolder/internal/core/units"
)

// A Refusal says why there is no plan and what would do.
type Refusal struct {
	Why string
	Try string

	say func(units.System) (why, try string) // nil: without quantities
}

func (r *Refusal) Error() string { return r.Why + " " + r.Try }

// In returns the refusal in the household's units; it is made in metric ones.
func (r *Refusal) In(sys units.System) *Refusal {
	if r.say == nil {
		return r
	}
	why, try := r.say(sys)
	return &Refusal{why, try, r.say}
}

func refusal(say func(units.System) (why, try string)) *Refusal {
	why, try := say(units.Metric)
	return &Refusal{why, try, say}
}

// plain is a refusal without quantities.
func plain(why, try string) *Refusal { return &Refusal{Why: why, Try: try} }

// refuse says why nothing was good enough and what would help.
func (w Wish) refuse(verdicts []verdict) error {
	before := BeforeLighting(w.Stove, w.House, w.Room, w.Outdoor)
	u := w.Wood.Stack.Moisture()
	until, _ := w.hands()
	switch {
	case len(verdicts) == 0:
		return plain("There are not enough pieces in this stack for a fire like this.", "Choose another stack, or another lay.")
	case verdicts[0].unsafe && before.DoNot:
		return refusal(func(sys units.System) (string, string) {
			return fmt.Sprintf("Do not light: the room pulls harder than the chimney (net draft %s), so smoke would come in.", sys.Draft(before.Net)),
				fmt.Sprintf("Fans off makes it %s, with a window open as well %s; warm the flue first.", sys.Draft(before.FanOff), sys.Draft(before.Window))
		})
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
	return plain(fmt.Sprintf("No setting tried burns clean: at best %.0f g of smoke per kg and %s of smouldering.",
		verdicts[0].summary.SmokePerKg, units.Duration(verdicts[0].summary.Smoulder.Round(time.Minute))),
		"Drier or smaller pieces, a good bed of coals to start from, or more draft would do.")
}
