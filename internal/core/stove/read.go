package stove

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"smolder/internal/core/units"
)

// Shares are the shares of a lever's way that have a word, in the order tried.
var Shares = []struct {
	Words   string
	Opening float64
}{
	{"an eighth", 1. / 8}, {"a sixth", 1. / 6}, {"a quarter", 1. / 4}, {"a third", 1. / 3}, {"a half", 1. / 2},
	{"two thirds", 2. / 3}, {"three quarters", 3. / 4},
}

// Parse reads the owner's reading and returns the opening. It takes what the
// scale is marked in, and always "open", "shut", a fraction or a percentage.
func (s Scale) Parse(typed string) (float64, error) {
	text := strings.ToLower(units.Plainly(typed))
	fail := func(reason string) (float64, error) {
		return 0, &units.ParseError{Input: typed, What: "position of this control", Reason: reason, Try: s.Example()}
	}
	// Everybody says these of every control, whatever it is marked in.
	switch text {
	case "":
		return fail("nothing was typed")
	case "open", "full", "fully open", "wide open", "all the way":
		return 1, nil
	case "shut", "closed", "close":
		return 0, nil
	}
	var opening float64
	var err error
	if len(typed) > 100 {
		return fail("it is too long")
	}
	// Then what this one is marked in.
	switch s.Kind {
	case Notches:
		return s.parseNotch(strings.ToLower(strings.TrimSpace(typed)), fail)
	case Lever:
		opening, err = s.parseLever(text)
	case Turns:
		opening, err = inScale(text, s.Full, "turns", "turn", "t")
	case Sixteenths:
		opening, err = s.parseSixteenths(text)
	case Millimetres:
		opening, err = s.parseGap(text)
	default: // a bare number up to one is a share: nobody sets half a percent
		if opening, err = strconv.ParseFloat(text, 64); err != nil || opening > 1 {
			opening, err = inScale(text, 100, "%", "percent")
		}
	}
	if err != nil {
		return fail(err.Error())
	}
	// A mark that is read off as fully open may be so by a rounding more.
	if opening < 0 || opening > 1+1e-9 || math.IsNaN(opening) {
		return fail("it is beyond fully open, or below shut")
	}
	return math.Min(1, opening), nil
}

// parseNotch finds a notch by its name, or counts it from the shut end, the first being 1.
func (s Scale) parseNotch(text string, fail func(string) (float64, error)) (float64, error) {
	last := float64(len(s.Notches) - 1)
	for i, n := range s.Notches {
		if strings.ToLower(n) == text {
			return float64(i) / last, nil
		}
	}
	if n, err := strconv.Atoi(text); err == nil && n >= 1 && n <= len(s.Notches) {
		return float64(n-1) / last, nil
	}
	return fail("it has no such notch")
}

// parseLever reads a lever by the side it is on, which is open or shut by how the stove
// is built, by a share that has a word, or by a share in figures.
func (s Scale) parseLever(text string) (float64, error) {
	text = strings.TrimPrefix(text, "lever ")
	sides := map[string]float64{"right": 1, "fully right": 1, "left": 0, "fully left": 0, "middle": 0.5, "half": 0.5, "half way": 0.5, "1/2 way": 0.5}
	opening, known := sides[text]
	if known {
		if s.OpenLeft {
			opening = 1 - opening
		}
		return opening, nil
	}
	for _, f := range Shares {
		if text == f.Words || text == strings.TrimPrefix(strings.TrimPrefix(f.Words, "an "), "a ") {
			return f.Opening, nil
		}
	}
	return ParseShare(text)
}

// ParseShare reads "30%", "1/3", "½" or "0.3" as a share of the whole way.
func ParseShare(text string) (float64, error) {
	if strings.HasSuffix(text, "%") {
		f, err := units.ParsePercent(text)
		return float64(f), err
	}
	// "0.3" is a share; "30" was meant as one of a hundred.
	v, err := units.ParseNumber(text, "share", 0, 100)
	if err == nil && v > 1 {
		v /= 100
	}
	if err != nil {
		return 0, fmt.Errorf("a share of the way was expected")
	}
	return v, nil
}

// parseSixteenths reads a gap: "3/16 in" as it is measured, or "3" as the mark counts.
func (s Scale) parseSixteenths(text string) (float64, error) {
	if strings.Contains(text, "/") || strings.ContainsAny(text, "i\"m") {
		l, err := units.ParseSmallLength(text, units.Imperial)
		if err != nil {
			return 0, fmt.Errorf("a gap was expected")
		}
		return float64(l) / 0.0254 * 16 / s.Full, nil
	}
	return inScale(text, s.Full, "sixteenths", "16ths")
}

// parseGap reads a gap in millimetres, or any length.
func (s Scale) parseGap(text string) (float64, error) {
	l, err := units.ParseSmallLength(text, units.Metric)
	if err != nil {
		return 0, fmt.Errorf("a gap was expected")
	}
	return float64(l) * 1000 / s.Full, nil
}

// inScale reads a number with one of the given unit words, as a share of full.
// A percentage of the whole way is always understood.
func inScale(text string, full float64, names ...string) (float64, error) {
	if strings.HasSuffix(text, "%") {
		f, err := units.ParsePercent(text)
		return float64(f), err
	}
	for _, n := range names {
		text = strings.TrimSpace(strings.TrimSuffix(text, n))
	}
	v, err := units.ParseNumber(text, "position", 0, 1000)
	if err != nil {
		return 0, fmt.Errorf("a number was expected")
	}
	return v / full, nil
}

// Example returns a reading that this scale understands.
func (s Scale) Example() string {
	switch s.Kind {
	case Turns:
		return "1.5 turns, open or shut"
	case Millimetres:
		return "4 mm, open or shut"
	case Sixteenths:
		return "3/16 in, open or shut"
	case Notches:
		return strings.Join(s.Notches, ", ")
	case Lever:
		return "a third, half, right or 25%"
	}
	return "40%"
}
