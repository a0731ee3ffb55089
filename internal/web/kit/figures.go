package kit

import "bytes"

// symbols are the units that a number stands before.
var symbols = map[string]bool{"kg": true, "g": true, "mg": true, "lb": true, "oz": true, "t": true, "L": true, "m": true, "m²": true, "m³": true,
	"mm": true, "cm": true, "ft": true, "ft²": true, "ft³": true, "in": true, "°C": true, "°F": true, "K": true, "W": true, "kW": true, "kWh": true,
	"MJ": true, "BTU": true, "kBTU": true, "Pa": true, "mph": true, "min": true, "h": true, "s": true, "%": true, "ppm": true, "cfm": true,
	"m/s": true, "W/K": true, "MJ/kg": true, "BTU/h": true, "BTU/lb": true, "m³/h": true, "g/kg": true, "kB": true, "MB": true, "GB": true,
	"°": true}

const (
	nbsp        = "\u00a0"
	joiner      = "\u2060" // no line ends here
	dash        = "–"
	longestUnit = 8 // bytes
)

// together lets no number part from its unit at a line's end, nor the two numbers of a range:
// the blank between them, in the text of a page and not in its tags, becomes one that does
// not break.
func together(page []byte) []byte {
	var out bytes.Buffer
	out.Grow(len(page) + len(page)/64)
	from, inTag, typed := 0, false, false // typed: in a field of several lines, which comes back as it is
	for i, c := range page {
		switch {
		case c == '<':
			inTag = true
			typed = bytes.HasPrefix(page[i:], []byte("<textarea")) || bytes.HasPrefix(page[i:], []byte("<script"))
		case c == '>':
			inTag = false
		case inTag, typed:
		case c == ' ' && i > 0 && digit(page[i-1]) && symbols[unitAt(page[i+1:])]:
			out.Write(page[from:i])
			out.WriteString(nbsp)
			from = i + 1
		case c == dash[0] && i > 0 && digit(page[i-1]) && bytes.HasPrefix(page[i:], []byte(dash)) && i+len(dash) < len(page) && digit(page[i+len(dash)]):
			out.Write(page[from : i+len(dash)])
			out.WriteString(joiner)
			from = i + len(dash)
		}
	}
	if from == 0 {
		return page
	}
	out.Write(page[from:])
	return out.Bytes()
}

func digit(c byte) bool { return c >= '0' && c <= '9' }

// unitAt is what a text begins with, up to a blank, a tag or a mark; what is longer than any
// unit is none.
func unitAt(text []byte) string {
	end := bytes.IndexAny(text[:min(len(text), longestUnit+1)], " \n<,.;:!?)–\"'")
	if end < 0 {
		end = len(text)
	}
	if end > longestUnit {
		return ""
	}
	return string(text[:end])
}
