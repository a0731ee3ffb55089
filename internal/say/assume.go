package say

import (
	"fmt"
	"math"
	"strings"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
)

// Taken says, field by field, what is taken for what a stove's owner does not
// know, and what knowing it would change.
func Taken(st stove.Stove, loc lang.Locale) map[string]string {
	out := map[string]string{}
	for _, k := range st.Stakes() {
		if k.Load > 0 {
			out[k.Field] = loc.F("not known: %s taken, the least of stoves this size; the manual may allow up to %s more",
				taken(st, k.Field, loc), loc.Mass(k.Load))
			continue
		}
		out[k.Field] = loc.T("not known: ") + taken(st, k.Field, loc) + loc.T(" taken; knowing it may change ") + stake(k, loc)
	}
	return out
}

// taken is the value of a field that is assumed.
func taken(st stove.Stove, field string, loc lang.Locale) string {
	switch field {
	case "width":
		return loc.Size(st.Width)
	case "depth":
		return loc.Size(st.Depth)
	case "height":
		return loc.Size(st.Height)
	case "max-load":
		return loc.Mass(st.MaxLoad)
	case "diameter":
		return loc.Size(st.Chimney.Diameter)
	case "lining":
		return loc.T(Linings.Name(st.Chimney.Lining))
	case "altitude":
		return loc.T("sea level")
	}
	return loc.T("none")
}

// leastDraft is the least that is said of a draft, Pa: less shows on no gauge.
const leastDraft = 0.3

func stake(k stove.Stake, loc lang.Locale) string {
	if k.Piece > 0 {
		return "± " + loc.Size(k.Piece) + loc.T(" of what fits")
	}
	return "± " + loc.Draft(max(k.Draft, leastDraft)) + loc.T(" of draft")
}

// TakenOfStack says, field by field, what is taken for what nobody knows of a
// stack, and what it is good for.
func TakenOfStack(s wood.Stack, loc lang.Locale) map[string]string {
	out := map[string]string{}
	for _, field := range s.Assumed {
		switch field {
		case "piece-mass":
			out[field] = loc.T("not known: ") + loc.Piece(s.PieceMass) + loc.T(" taken; it sets how many pieces a load is, and how fast they burn")
		case "piece-length":
			out[field] = loc.T("not known: ") + loc.Size(s.PieceLength) + loc.T(" taken; it sets which way it fits")
		case "mass":
			out[field] = loc.T("not known: ") + loc.Mass(s.Mass) + loc.T(" taken, a usual stack; it sets how long it lasts")
		case "cover":
			out[field] = loc.T("not known: covered on top taken; it sets how soon it dries, and what rain does")
		}
	}
	if s.Takes("reading") && s.Spread > 0 {
		change := math.Abs(wood.NetEnergy(s.Species.Gross, s.Moisture()-s.Spread)-wood.NetEnergy(s.Species.Gross, s.Moisture()+s.Spread)) / 2
		out["reading"] = loc.F("not read: %s by its time; a reading may change ± %s, and how it catches", Moisture(s), loc.HeatOf(change))
	}
	return out
}

// Estimated says how dry wood is by what is told of it.
func Estimated(e wood.Estimate, loc lang.Locale) string {
	return loc.F("by that about %s, four out of five between %s and %s", loc.Percent(e.Middle, 0), loc.Percent(max(0, e.Low), 0),
		loc.Percent(e.High, 0))
}

// Moisture says a stack's moisture, with how far off it may be.
func Moisture(s wood.Stack) string {
	if s.Spread < 0.01 {
		return units.Percent(s.Moisture(), 0)
	}
	return fmt.Sprintf("%s ± %s", units.Percent(s.Moisture(), 0), units.Number(s.Spread.Percent(), 0))
}

// guessed are the cautions for wood that nobody has measured.
func guessed(stacks []wood.Stack, loc lang.Locale) []string {
	var out []string
	for _, s := range stacks {
		if s.Takes("reading") && s.Spread >= 0.01 {
			out = append(out, loc.F("How dry %s is, %s, is worked out from how long it has lain. The grey range is as wide as that; a meter on a freshly split face would narrow it.", s.Name, Moisture(s)))
		}
		var usual []string
		for field, word := range map[string]string{"piece-mass": loc.T("weight"), "piece-length": loc.T("length")} {
			if s.Takes(field) {
				usual = append(usual, word)
			}
		}
		if len(usual) == 2 {
			usual = []string{loc.T("weight and length")}
		}
		if len(usual) > 0 {
			out = append(out, loc.F("The %s of a piece of %s is a usual one: go by the weight of the load rather than by the count.",
				strings.Join(usual, ""), s.Name))
		}
	}
	return out
}

// assumable are the fields of a stove that may stay unknown, in words.
var assumable = map[string]lang.Message{"width": "the firebox's width", "depth": "its depth", "height": "its height",
	"diameter": "the flue's diameter", "lining": "its lining", "bends": "bends", "horizontal": "a level run", "altitude": "the altitude"}

// Unknown lists what is taken as usual of a stove, beside its largest load; empty:
// nothing.
func Unknown(st stove.Stove, loc lang.Locale) string {
	var out []string
	for _, field := range st.Assumed {
		if field != "max-load" {
			out = append(out, loc.T(assumable[field]))
		}
	}
	return strings.Join(out, ", ")
}
