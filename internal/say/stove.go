package say

import (
	"fmt"
	"strings"

	"smolder/internal/core/flue"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// Chimney is a chimney in a line.
func Chimney(c flue.Chimney, u lang.Locale) string {
	text := u.Length(c.Height) + ", " + u.Size(c.Diameter) + " wide"
	switch c.Bends {
	case 0:
		text += ", straight"
	case 1:
		text += ", one bend"
	default:
		text += fmt.Sprintf(", %d bends", c.Bends)
	}
	if c.Horizontal > 0 {
		text += ", " + u.Length(c.Horizontal) + " level"
	}
	return text
}

// Scale says how a control is marked.
func Scale(s stove.Scale, loc lang.Locale) string {
	switch s.Kind {
	case stove.Notches:
		return "notches: " + strings.Join(s.Notches, ", ")
	case stove.Lever:
		if s.OpenLeft {
			return "lever, opens to the left"
		}
		return "lever, opens to the right"
	case stove.PercentOpen:
		return "percent"
	case stove.Sixteenths:
		return units.Number(s.Full, 0) + " sixteenths of an inch when open"
	}
	return units.Number(s.Full, 1) + " " + string(s.Kind) + " when open"
}
