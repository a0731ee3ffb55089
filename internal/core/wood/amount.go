package wood

import (
	"errors"
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"

	"smolder/internal/core/units"
)

// A Way is how wood was counted.
type Way string

// The ways.
const (
	WithTape Way = "tape"   // a row, measured
	AsHeap   Way = "heap"   // tipped, measured
	Sold     Way = "sold"   // cords, crates, a volume, by somebody's word
	OnScale  Way = "scale"  // a mass
	Pieces   Way = "pieces" // a number of them
)

// A Counted is wood as somebody counted it.
type Counted struct {
	Amount
	Way     Way
	Outline units.Litre // with the air in it; 0 where it was weighed or counted by the piece
}

// A Kind is what a count has to know of the wood that is counted.
type Kind struct {
	Species     Species
	PieceMass   units.Kilogram // of a usual piece, as it is
	PieceLength units.Metre
	Moisture    units.Fraction
	Spread      units.Fraction // of the moisture, on either side
	Shape       Shape          // empty: splits stacked neatly, loose where it says so
}

const (
	mostAmount      = 300_000 // kg oven-dry, of one stack
	mostAmountTyped = 120     // signs
	amountTry       = "800 kg, 2.5 m3 stacked, 1 cord, 3 rm, 4 x 1.5 x 0.33 m, 12 crates of 60 L or 300 pieces"
)

// What is typed is looked at from the most particular to the most general: crates, then
// face cords, then the sides of a pile, then a plain volume, a number, a mass. Words that
// say how wood lies ("loose", "a trailer of") are noted first and left out then.
var (
	amountRows  = regexp.MustCompile(`^(\d+) rows?(?: of)? `)
	amountRise  = regexp.MustCompile(`(?:,| on a slope)? ?(?:rising|rises|slope of) (.+)$`)
	amountCrate = regexp.MustCompile(`^(\S+) (?:crates?|bags?|boxes|box|sacks?|nets?|barrows?|loads?)(?: of| at)? (.+)$`)
	amountFace  = regexp.MustCompile(`^(.*?) ?face ?cords?$`)
	amountWord  = regexp.MustCompile(`^(?:(\S+|half a) )?(rm|ster|steres?|srm|fm|ricks?|pallets?|bulk ?bags?)$`)
	amountSolid = regexp.MustCompile(`^(.*?) ?(?:solid|of solid wood)$`)
	amountLoose = regexp.MustCompile(`\b(loose|tipped|heaped|heap|trailer|pile)\b`)
	amountWords = regexp.MustCompile(`\b(a heap of|a trailer of|a trailer|a heap|a pile of|stacked|loose|tipped|heaped|heap|trailer|pile|in a row|neat|about|some)\b`)
	leadingUnit = regexp.MustCompile(`[^\d.,/ ]+$`)
)

// ParseAmount reads how much wood there is, in the way it was counted: a row by its
// length, height and depth ("4 x 1.5 x 0.33 m", "3 rows of 4 m x 1.5/1.2/0.9 m x 33 cm",
// "4 x 1.5 m, rising 0.5 m"), a heap or a trailer as it was tipped ("heap 3 x 2 x 1 m",
// "trailer 2 x 1.2 x 0.5 m"), "2.5 m3 stacked", "3 m3 loose", "1.5 cords", "2 face cords",
// "12 crates of 60 L", "800 kg", "300 pieces". A length without a unit has that of the
// others, or the one of the system.
func ParseAmount(typed string, sys units.System, k Kind) (Counted, error) {
	fail := func(why string) (Counted, error) {
		return Counted{}, &units.ParseError{Input: typed, What: "amount of wood", Reason: why, Try: amountTry}
	}
	if len(typed) > mostAmountTyped {
		return fail("it is too long")
	}
	text := strings.Join(strings.Fields(strings.ToLower(typed)), " ")
	text = strings.NewReplacer("×", " x ", "*", " x ", " by ", " x ").Replace(text)
	if text == "" {
		return Counted{}, &units.ParseError{What: "amount of wood", Try: amountTry}
	}
	text = fromGerman(text)
	loose := amountLoose.MatchString(text)
	c, err := parseAmount(text, sys, k, loose)
	switch {
	case err != nil:
		return Counted{}, (&units.ParseError{Input: typed, What: "amount of wood", Try: amountTry}).For(err)
	case !(c.Middle > 0):
		return fail("that is nothing")
	case c.Middle > mostAmount:
		return fail("that is more than any household has in one stack")
	}
	return c, nil
}

func parseAmount(text string, sys units.System, k Kind, loose bool) (Counted, error) {
	shape := k.Shape
	if shape == "" {
		shape = Neat
	}
	if loose {
		shape = Tipped
	}
	sold := func(outline units.Litre, shape Shape) (Counted, error) {
		return Counted{AsSold(k.Species, outline, shape), Sold, outline}, nil
	}
	if m := amountCrate.FindStringSubmatch(text); m != nil {
		n, err := manyOf(m[1])
		if err != nil {
			return Counted{}, err
		}
		if each, err := units.ParseVolume(strip(m[2]), sys); err == nil {
			return sold(units.Litre(n)*each, crated(k.Shape))
		}
		each, err := units.ParseMass(strip(m[2]), sys)
		if err != nil {
			return Counted{}, fmt.Errorf("what one of them holds was expected, such as 60 L or 20 kg")
		}
		return Counted{Weighed(each*units.Kilogram(n), k.Moisture, k.Spread), Sold, 0}, nil
	}
	if m := amountFace.FindStringSubmatch(text); m != nil {
		n, err := manyOf(m[1])
		if err != nil {
			return Counted{}, err
		}
		return sold(FaceCords(n, k.PieceLength), shape)
	}
	if m := amountWord.FindStringSubmatch(digitsApart.ReplaceAllString(text, "$1 $2")); m != nil {
		n, err := manyOf(m[1])
		if err != nil {
			return Counted{}, err
		}
		return byWord(m[2], n, k, shape)
	}
	if m := amountSolid.FindStringSubmatch(text); m != nil {
		v, err := units.ParseVolume(withOne(strip(m[1])), sys)
		if err != nil {
			return Counted{}, fmt.Errorf("a volume was expected before solid, such as 3 m3 solid")
		}
		return Counted{SolidWood(k.Species, v), Sold, 0}, nil
	}
	if strings.Contains(text, "x") && strings.Count(" "+spaced(text)+" ", " x ") > 0 {
		return parsePile(text, sys, k, shape, loose)
	}
	plain := strip(text)
	if v, err := units.ParseVolume(withOne(plain), sys); err == nil {
		return sold(v, shape)
	}
	if n, err := units.ParsePieces(plain); err == nil {
		return Counted{ByPiece(n, k.PieceMass, k.Moisture, k.Spread), Pieces, 0}, nil
	}
	m, err := units.ParseMass(plain, sys)
	if err != nil {
		return Counted{}, fmt.Errorf("a mass, a volume, a number of pieces or the sides of a pile were expected")
	}
	return Counted{Weighed(m, k.Moisture, k.Spread), OnScale, 0}, nil
}

// digitsApart sets a unit apart from its figure: 3rm.
var digitsApart = regexp.MustCompile(`^([\d.,]+)([a-z])`)

// What a word of the trade is, L with the air in it. A pallet and a builder's bag are what
// most are, and may be a quarter more or less.
const (
	cubicMetre = 1000
	palletful  = 1200
	bulkBag    = 800
)

// byWord is an amount by a word of the trade: a metre stacked (rm, stere), tipped (srm) or
// of solid wood (fm); a rick, which is a face cord; a pallet, a bulk bag.
func byWord(word string, n float64, k Kind, shape Shape) (Counted, error) {
	by := func(litres float64, shape Shape) (Counted, error) {
		o := units.Litre(n * litres)
		return Counted{AsSold(k.Species, o, shape), Sold, o}, nil
	}
	switch strings.TrimSuffix(strings.ReplaceAll(word, " ", ""), "s") {
	case "rm", "ster", "stere":
		return by(cubicMetre, shape)
	case "srm":
		return by(cubicMetre, Tipped)
	case "fm":
		return Counted{SolidWood(k.Species, units.Litre(n*cubicMetre)), Sold, 0}, nil
	case "rick":
		o := FaceCords(n, k.PieceLength)
		return Counted{AsSold(k.Species, o, shape), Sold, o}, nil
	case "pallet":
		c, err := by(palletful, shape)
		c.Own = math.Hypot(c.Own, wordDoubt)
		return c, err
	}
	c, err := by(bulkBag, Tipped)
	c.Own = math.Hypot(c.Own, wordDoubt)
	return c, err
}

// crated is how wood lies in a crate: loose, unless somebody says that it is stacked.
func crated(s Shape) Shape {
	if s == "" {
		return Tipped
	}
	return s
}

// parsePile reads the sides of a row, a heap or a trailer.
func parsePile(text string, sys units.System, k Kind, shape Shape, loose bool) (Counted, error) {
	r, rise := Row{Rows: 1}, ""
	if m := amountRise.FindStringSubmatch(text); m != nil {
		rise, text = m[1], strings.TrimSuffix(text, m[0])
	}
	trailer := strings.Contains(text, "trailer")
	text = strip(text)
	if m := amountRows.FindStringSubmatch(text); m != nil {
		r.Rows, _ = strconv.Atoi(m[1])
		text = strings.TrimPrefix(text, m[0])
	}
	sides, err := parseSides(text, sys, loose)
	if err != nil {
		return Counted{}, err
	}
	if r.Rise, err = parseRise(rise, sys, sides[0][0]); err != nil {
		return Counted{}, err
	}
	if loose {
		return looseOf(sides, k, trailer)
	}
	r.Length, r.High, r.Depth = sides[0][0], sides[1][0], k.PieceLength
	switch heights := sides[1]; len(heights) {
	case 2:
		r.Low = heights[1]
	case 3:
		r.Middle, r.Low = heights[1], heights[2]
	}
	if len(sides) == 3 {
		r.Depth = sides[2][0]
	}
	return Counted{ByTape(k.Species, r.Outline(), shape), WithTape, r.Outline()}, nil
}

// parseSides reads two or three sides, set apart by an x. Of what is stacked the second, its
// height, may be up to three: an uneven top is told by its ends and its middle.
func parseSides(text string, sys units.System, loose bool) (sides [][]units.Metre, err error) {
	words := strings.Split(spaced(text), " x ")
	unit := "" // a side without one has that of the next
	for i := len(words) - 1; i >= 0; i-- {
		if words[i] = strings.TrimSpace(words[i]); leadingUnit.FindString(words[i]) == "" {
			words[i] += " " + unit
		}
		unit = leadingUnit.FindString(words[i])
	}
	if len(words) < 2 || len(words) > 3 {
		return nil, errors.New("a pile has a length, a height and a depth")
	}
	for i, side := range words {
		heights := []string{side}
		if i == 1 && !loose {
			heights = strings.Split(side, "/")
		}
		lengths, err := parseHeights(heights, sys)
		if err != nil {
			return nil, err
		}
		sides = append(sides, lengths)
	}
	return sides, nil
}

// mostSide is how long a side of a pile may be.
const mostSide units.Metre = 100

// parseHeights reads lengths; one without a unit has that of the last.
func parseHeights(words []string, sys units.System) (out []units.Metre, err error) {
	if len(words) > 3 {
		return nil, errors.New("one height would do, or three: at the ends and in the middle")
	}
	unit := leadingUnit.FindString(strings.TrimSpace(words[len(words)-1]))
	for _, w := range words {
		if w = strings.TrimSpace(w); leadingUnit.FindString(w) == "" {
			w = strings.TrimSpace(w + " " + unit)
		}
		v, err := units.ParseLength(w, sys)
		if err != nil {
			return nil, units.Because{Format: "%q is no length", Args: []any{w}}
		}
		if v <= 0 || v > mostSide {
			return nil, errors.New("a side of a pile is between nothing and 100 m")
		}
		out = append(out, v)
	}
	return out, nil
}

// parseRise reads how much higher one end of a row stands; nothing where nobody said so.
func parseRise(text string, sys units.System, length units.Metre) (units.Metre, error) {
	if text == "" {
		return 0, nil
	}
	v, err := units.ParseLength(text, sys)
	if err != nil {
		return 0, errors.New("how much higher one end stands was expected after the slope, such as 0.5 m")
	}
	if v >= length {
		return 0, errors.New("a slope that rises as much as the row is long")
	}
	return v, nil
}

// looseOf is what was tipped: in a trailer, a box by its sides, or on the ground, a heap.
func looseOf(sides [][]units.Metre, k Kind, trailer bool) (Counted, error) {
	if len(sides) < 3 {
		return Counted{}, errors.New("a heap has a length, a width and a height")
	}
	length, width, height := sides[0][0], sides[1][0], sides[2][0]
	if trailer {
		o := units.Litre(1000 * length * width * height)
		return Counted{AsSold(k.Species, o, Tipped), AsHeap, o}, nil
	}
	o := Heap{length, width, height}.Outline()
	return Counted{ByHeap(k.Species, o), AsHeap, o}, nil
}

// spaced sets every x between figures apart.
func spaced(text string) string {
	return strings.Join(strings.Fields(regexpX.ReplaceAllString(text, "$1 x ")), " ")
}

var regexpX = regexp.MustCompile(`([\d.,a-z"'/]) ?x ?`)

// strip leaves words out that say how wood lies.
func strip(text string) string {
	return strings.Join(strings.Fields(amountWords.ReplaceAllString(text, " ")), " ")
}

// withOne puts a figure before a unit that stands alone: "a cord".
func withOne(text string) string {
	if rest, there := strings.CutPrefix(text, "a "); there {
		return "1 " + rest
	}
	return strings.Replace(text, "half a ", "0.5 ", 1)
}

// manyOf reads how many of something: "2", "1.5", "a", "half a".
func manyOf(text string) (float64, error) {
	switch text = strings.TrimSpace(text); text {
	case "", "a", "one":
		return 1, nil
	case "half a":
		return 0.5, nil
	}
	n, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
	if err != nil || !(n > 0 && n <= 10000) { // "nan" is read as a number, that is neither
		return 0, fmt.Errorf("how many was expected first")
	}
	return n, nil
}
