package say

import (
	"strings"
	"time"

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

// Manual says what the stove's manual says where the rule says otherwise; empty: nothing.
func Manual(s stove.Stove, loc lang.Locale) string {
	m := s.Manual
	var parts []string
	atMost := func(d time.Duration) string {
		if d == 0 {
			return ""
		}
		return loc.F(", %s at most", loc.Duration(d))
	}
	switch {
	case m.Door != "":
		parts = append(parts, loc.F("door %s", DoorRules.Name(m.Door))+atMost(m.DoorFor))
	case m.DoorFor > 0:
		parts = append(parts, loc.F("door ajar for %s at most", loc.Duration(m.DoorFor)))
	}
	switch {
	case m.Flap != "":
		parts = append(parts, loc.F("ash flap %s", FlapRules.Name(m.Flap))+atMost(m.FlapFor))
	case m.FlapFor > 0:
		parts = append(parts, loc.F("ash flap open for %s at most", loc.Duration(m.FlapFor)))
	}
	if m.Engage > 0 {
		parts = append(parts, loc.F("bypass shut from %s", loc.Temperature(m.Engage)))
	}
	for _, c := range s.Controls {
		if c.ToLight != "" {
			parts = append(parts, loc.F("%s to light: %s", c.Name, ToLights.Name(c.ToLight)))
		}
	}
	return strings.Join(parts, "; ")
}
