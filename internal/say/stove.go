package say

import (
	"strings"

	"smolder/internal/core/flue"
	"smolder/internal/core/stove"
	"smolder/internal/lang"
)

// Chimney is a chimney in a line.
func Chimney(c flue.Chimney, u lang.Locale) string {
	text := u.Length(c.Height) + ", " + u.Size(c.Diameter) + u.T(" wide")
	switch c.Bends {
	case 0:
		text += u.T(", straight")
	case 1:
		text += u.T(", one bend")
	default:
		text += u.F(", %d bends", c.Bends)
	}
	if c.Horizontal > 0 {
		text += ", " + u.Length(c.Horizontal) + u.T(" level")
	}
	return text
}

// Scale says how a control is marked.
func Scale(s stove.Scale, loc lang.Locale) string {
	switch s.Kind {
	case stove.Notches:
		return loc.T("notches: ") + strings.Join(s.Notches, ", ")
	case stove.Lever:
		if s.OpenLeft {
			return loc.T("lever, opens to the left")
		}
		return loc.T("lever, opens to the right")
	case stove.PercentOpen:
		return loc.T("percent")
	case stove.Sixteenths:
		return loc.Number(s.Full, 0) + loc.T(" sixteenths of an inch when open")
	}
	return loc.Number(s.Full, 1) + " " + string(s.Kind) + loc.T(" when open")
}
