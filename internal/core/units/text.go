package units

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// Printable tells whether text is fit to be kept and shown: well-formed, and
// without control characters. lines allows breaks between lines and tabs.
func Printable(text string, lines bool) bool {
	if !utf8.ValidString(text) {
		return false
	}
	return !strings.ContainsFunc(text, func(r rune) bool {
		if lines && (r == '\n' || r == '\t') {
			return false
		}
		// Cc is control, Cs half a pair; U+2028 and U+2029 break lines in scripts,
		// and the others turn the order of letters round.
		return unicode.Is(unicode.Cc, r) || r == '\u2028' || r == '\u2029' || r >= '\u202a' && r <= '\u202e' || r >= '\u2066' && r <= '\u2069'
	})
}

// A NameFault is what is wrong with a name.
type NameFault int

// The faults.
const (
	GoodName NameFault = iota
	NoName             // blank
	LongName           // more than [LongestName] letters
	BadName            // has signs that cannot be shown
)

// LongestName is how many letters a name may have.
const LongestName = 60

// FaultOfName tells what is wrong with a name, if anything.
func FaultOfName(name string) NameFault {
	switch {
	case strings.TrimSpace(name) == "":
		return NoName
	case utf8.RuneCountInString(name) > LongestName:
		return LongName
	case !Printable(name, false):
		return BadName
	}
	return GoodName
}

// UpperFirst gives a text a capital, whatever its alphabet.
func UpperFirst(s string) string {
	r, n := utf8.DecodeRuneInString(s)
	if n == 0 {
		return s
	}
	return string(unicode.ToUpper(r)) + s[n:]
}

// LowerFirst takes the capital off a text that goes on in a sentence.
func LowerFirst(s string) string {
	r, n := utf8.DecodeRuneInString(s)
	if n == 0 {
		return s
	}
	return string(unicode.ToLower(r)) + s[n:]
}
