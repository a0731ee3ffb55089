package say

import (
	"math"
	"strings"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

const (
	atAnEnd   = 0.005 // of the way, within which a control is called shut or open
	nearShare = 0.03  // within which a lever is at a share that has a word
)

// Mark prints an opening in the owner's marks: "2.5 turns", "4 mm", "a third".
// What it prints, [stove.Scale.Parse] reads.
func Mark(s stove.Scale, opening float64, loc lang.Locale) string {
	return mark(s, opening, false, loc)
}

// ShortMark is [Mark] for a drawing: "¼", "right".
func ShortMark(s stove.Scale, opening float64, loc lang.Locale) string {
	return mark(s, opening, true, loc)
}

func mark(s stove.Scale, opening float64, short bool, loc lang.Locale) string {
	opening = math.Max(0, math.Min(1, opening))
	switch s.Kind {
	case stove.Notches:
		if len(s.Notches) == 0 {
			return ""
		}
		return s.Notches[int(math.Round(opening*float64(len(s.Notches)-1)))]
	case stove.PercentOpen:
		return loc.Percent(units.Fraction(opening), 0)
	}
	switch {
	case opening < atAnEnd:
		return end(s, loc.T("shut"), loc.T("left"), loc.T("right"), short, loc)
	case opening > 1-atAnEnd:
		return end(s, loc.T("open"), loc.T("right"), loc.T("left"), short, loc)
	}
	switch s.Kind {
	case stove.Turns:
		if n := trimZero(opening*s.Full, loc); n != "1" {
			return n + loc.T(" turns")
		}
		return loc.T("1 turn")
	case stove.Millimetres:
		return trimZero(opening*s.Full, loc) + loc.T(" mm")
	case stove.Sixteenths:
		return sixteenths(opening*s.Full, loc)
	}
	return share(opening, short, loc)
}

// end is the name of an end: shut or open, or the side that a lever is on.
func end(s stove.Scale, plain, side, other string, short bool, loc lang.Locale) string {
	word := plain
	if s.Kind == stove.Lever {
		if word = side; s.OpenLeft {
			word = other
		}
	}
	if short || word == "shut" {
		return word
	}
	return loc.T("fully ") + word
}

// shareSigns are the shares of a lever's way as a drawing has them.
var shareSigns = map[string]string{"an eighth": "⅛", "a sixth": "⅙", "a quarter": "¼", "a third": "⅓", "a half": "½", "two thirds": "⅔",
	"three quarters": "¾"}

func share(opening float64, short bool, loc lang.Locale) string {
	best, gap := stove.Shares[0].Words, math.Inf(1)
	for _, f := range stove.Shares {
		if d := math.Abs(f.Opening - opening); d < gap {
			best, gap = f.Words, d
		}
	}
	if gap > nearShare {
		return units.Percent(units.Fraction(opening), 0)
	}
	if sign, there := shareSigns[best]; short && there {
		return sign
	}
	return loc.T(shares[best])
}

// trimZero is a number with as many decimals as it wants, up to two.
func trimZero(v float64, loc lang.Locale) string {
	_, decimals, _ := strings.Cut(strings.TrimRight(units.Number(v, 2), "0"), ".")
	return loc.Number(v, len(decimals))
}

func sixteenths(n float64, loc lang.Locale) string {
	whole := int(math.Round(n))
	den := 16
	if whole == 0 {
		return loc.T("under 1/16 in")
	}
	for whole%2 == 0 && den > 1 {
		whole, den = whole/2, den/2
	}
	if den == 1 {
		return loc.F("%d in", whole)
	}
	return loc.F("%d/%d in", whole, den)
}

// ReadMark reads an opening as somebody types it: in English, or in the words that [Mark]
// prints for them.
func ReadMark(s stove.Scale, loc lang.Locale) func(typed string) (float64, error) {
	return func(typed string) (float64, error) {
		if loc.Language() == nil {
			return s.Parse(typed)
		}
		text := strings.TrimSpace(typed)
		for _, o := range s.Steps() {
			if strings.EqualFold(text, Mark(s, o, loc)) || strings.EqualFold(text, ShortMark(s, o, loc)) {
				return s.Parse(Mark(s, o, lang.Locale{System: loc.System}))
			}
		}
		for _, share := range stove.Shares {
			if s.Kind == stove.Lever && strings.EqualFold(text, loc.T(shares[share.Words])) {
				return share.Opening, nil
			}
		}
		if number, ok := strings.CutSuffix(text, loc.T(" turns")); ok && s.Kind == stove.Turns {
			text = number
		}
		return s.Parse(text)
	}
}
