package say

import (
	"strings"

	"smolder/internal/core/day"
	"smolder/internal/core/reason"
	"smolder/internal/core/search"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
)

// A Refused is a refusal in words: why there is no plan, and what would do.
type Refused struct{ Why, Try string }

// refusals are why there is no plan, and what would do; the quantities are the
// reason's, in both.
var refusals = map[reason.Code]struct{ Why, Try lang.Message }{
	wish.MineralWood: {"%s is manufactured mineral fuel: its burns are recorded and not simulated, so there is nothing to plan with.",
		"Burn it as the stove's manual says, or plan with wood."},
	wish.TooLong: {"The pieces of %s are %s long and this firebox takes %s.", "Cut them, or burn from another stack."},
	wish.UsedUp:  {"%s is used up.", "Choose another stack, or count it again under Wood."},
	wish.HeavyUntold: {"One piece of %s weighs %s; the manual's largest load is not known here, and %s is taken, the least of stoves this size.",
		"Look it up in the manual and put it on the stove's page; or split the pieces."},
	wish.TooHeavy: {"One piece of %s weighs %s and the manual's largest load is %s.",
		"Split the pieces, or burn from another stack."},
	wish.TooWet: {"%s is at %s %%: no setting burns that clean.", "Burn wood under 20 %%, and let this stack dry."},
	wish.Unattended: {"In a boat, van or hut nobody sleeps or goes away with a fire in, unless the stove's manual allows it: the air in it is soon used up.",
		"Plan it for while somebody is awake by the stove. If the manual allows a fire at night or alone, say so under Stove and flue."},
	wish.NobodyThere: {"Nobody is there to light it.", "Say when somebody is."},
	wish.NobodyYet:   {"Nobody is there to light it for another %s.", "Plan it when somebody is back, or light it now and say so."},
	wish.BandFalls:   {"The wanted room temperature must rise from a lower to a higher one.", "%s to %s would do."},
	wish.NightWet: {"%s is at %s %%, and no drier wood is at hand: turned down for a night it smoulders for hours with nobody by, and tars the flue.",
		"Dry wood for the night, if only a few pieces; or burn this by day, with more air, and let it go out before bed."},
	wish.NoTarget:    {"Nobody has said what the gauge is to read.", "Say it under your own way: 220 °C, or 430 °F."},
	wish.FixedWay:    {"Laid %s, none of these pieces goes in: up to %s would.", "The other way round would do, or shorter pieces."},
	wish.FixedPieces: {"%s pieces at once are %s, more than this stove takes.", "%[3]s of them would do."},
	wish.FixedAir:    {"The setting to leave %s at is as far open as that to char with.", "Leave it further shut than it chars."},
	wish.FixedLittle: {"%s of wood in all is less than one piece.", "%[2]s would do."},
	wish.UnknownLay: {"There is no lay called %q to light from cold.",
		"top-down, raft, open-v, lean-to or bottom-up would do, or none: then the best is chosen."},
	wish.DoNotLight:     {"Do not light: the room pulls harder than the chimney (net draft %s), so smoke would come in.", ""},
	wish.DoNotLightWarm: {"Do not light: even with the flue warmed the draft is only %s, and a gust would turn it.", ""},

	day.RefusedThen: {"%s", ""},

	search.NoSetting: {"%s has no setting between shut and open, and a fire is left at neither.",
		"If it holds anywhere between, enter it as a lever, or with more notches."},
	search.TooFewPieces: {"There are not enough pieces in this stack for a fire like this.", "Choose another stack, or another lay."},
	search.SmokeComesIn: {"Smoke would come into the room: at its weakest the draft is %s.",
		"Warm the flue first, fans off, a window open a crack; if that is not enough, ask a licensed installer about the chimney."},
	search.TooHot: {"Every load tried would run this stove too hot.", "A stack of larger or denser pieces would do, or fewer of them."},
	search.NotInTime: {"No fire is charred, turned down and seen to burn steadily in the %s that somebody is there.",
		"Stay longer, light earlier, or leave the stove out until somebody is back; a load on a good bed of coals is ready soonest."},
	search.LayNotClean: {"Laid %s, no setting tried burns clean: at best %s g of smoke per kg and %s of smouldering.",
		"Another lay would do: leave the choice open."},
	search.LastPiece: {"There is one piece left of %s, and one by itself does not keep this firebox hot.",
		"Another stack would do, or a second one beside it."},
	search.OneUntold: {"One piece by itself does not keep this firebox hot: at best %s g of smoke per kg. The manual's largest load is not known here, and %[2]s is taken, the least of stoves this size.",
		"Look it up and put it on the stove's page; or smaller pieces: three within %[2]s."},
	search.OnePiece: {"One piece by itself does not keep this firebox hot: at best %s g of smoke per kg.",
		"Smaller pieces would do: three within the manual's load of %[2]s."},
	search.WetSmoulders: {"Wood at %s %% smoulders here whatever the air: at best %s g of smoke per kg.", "Wood under 20 %% would do."},
	search.FewCoals: {"On so few coals no load burns clean here: at best %s g of smoke per kg.",
		"Rake them aside and plan it as from cold, with the kindling on top and lit there; or smaller and drier pieces."},
	search.FixedTooHot: {"Done in your own way it runs too hot: up to %s in the flue.",
		"Less wood, larger pieces, or the air less far open while it chars; or leave one of these to be found."},
	search.FixedSmokes: {"Done in your own way smoke comes into the room: at its weakest the draft is %s.",
		"Leave the air further open, or leave the last setting to be found."},
	search.FixedLate: {"Done in your own way it is not turned down and seen to burn in the %s that somebody is there.",
		"Fewer steps down, less wood, or longer there would do."},
	search.FixedUnclean: {"Done in your own way it only smoulders: %s g of smoke per kg.",
		"More air at the end, more pieces together or drier wood; or leave one of these to be found."},
	search.FixedNothing: {"Nothing can be found that keeps all that is fixed.", "Leave one of these to be found: the pieces, the way round, a setting, or how much wood in all."},
	search.NothingClean: {"No setting tried burns clean: at best %s g of smoke per kg and %s of smouldering.",
		"Drier or smaller pieces, a good bed of coals to start from, or more draft would do."},
}

// Refusal says a refusal.
func Refusal(r *wish.Refusal, loc lang.Locale) Refused {
	said, known := refusals[r.Code]
	if !known {
		return Refused{Why: Sentence(r.Error()), Try: ""}
	}
	out := Refused{Why: filled(loc.T(said.Why), r.Values, loc), Try: filled(loc.T(said.Try), r.Values, loc)}
	if r.Before != nil {
		out.Try = helped(r, loc)
	}
	return out
}

// helped says what, by the figures, removes the reason not to light.
func helped(r *wish.Refusal, loc lang.Locale) string {
	switch {
	case len(r.Would) == 0:
		return loc.T("Neither fans off, nor a window, nor a warmed flue is enough: leave it out today, and ask a licensed installer about the chimney.")
	case r.Together:
		return loc.T("Only all together would do: fans off, a window open a crack and the flue warmed make it ") + loc.Draft(r.Would[0].Net) + "."
	}
	would := make([]string, len(r.Would))
	for i, w := range r.Would {
		would[i] = loc.T(withHelp[w.Add]) + loc.T(" it is ") + loc.Draft(w.Net)
	}
	return units.UpperFirst(strings.Join(would, "; ")) + loc.T(". Choose it in the sentence, do it, and see a flame lean inwards at the open door.")
}

// withHelp is what is done for the draft, as a part of a sentence.
var withHelp = map[wish.Help]lang.Message{
	{FansOff: true}: "with the fans off",
	{Window: true}:  "with a window on the stove's level open a crack",
	{Primed: true}:  "with the flue warmed first",
}
