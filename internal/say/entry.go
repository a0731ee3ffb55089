package say

import (
	"fmt"

	"smolder/internal/core/burn"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// smokeWords are what is seen at the cap.
var smokeWords = map[string]string{
	burn.SmokeClear: "nothing but shimmer at the cap",
	burn.SmokeWhite: "white vapour at the cap",
	burn.SmokeGrey:  "blue-grey smoke at the cap",
}

// Smoke says what is seen at the cap, as a part of a sentence.
func Smoke(seen string) string { return smokeWords[seen] }

// entries put each kind of entry into words for the log.
var entries = map[burn.Kind]func(burn.Burn, burn.Entry, units.System) string{
	burn.Light: func(burn.Burn, burn.Entry, units.System) string { return "Lit" },
	burn.Out:   func(burn.Burn, burn.Entry, units.System) string { return "Flames gone, left alone" },
	burn.Prime: func(burn.Burn, burn.Entry, units.System) string { return "Flue warmed with burning paper" },
	burn.Rake:  func(burn.Burn, burn.Entry, units.System) string { return "Coals raked to the air" },
	burn.Note:  func(_ burn.Burn, e burn.Entry, _ units.System) string { return e.Note },
	burn.Door:  func(_ burn.Burn, e burn.Entry, _ units.System) string { return units.UpperFirst(Door(e.Door)) },
	burn.Smoke: func(_ burn.Burn, e burn.Entry, _ units.System) string { return units.UpperFirst(Smoke(e.Smoke)) },
	burn.Draft: func(_ burn.Burn, e burn.Entry, sys units.System) string { return "Draft " + sys.Draft(e.Draft) },
	burn.Temperature: func(_ burn.Burn, e burn.Entry, sys units.System) string {
		if e.Place == stove.RoomAir {
			return "Room " + sys.RoomTemperature(e.Reading)
		}
		return units.UpperFirst(Places.Short(e.Place)) + " " + sys.Temperature(e.Reading)
	},
	burn.Control: func(b burn.Burn, e burn.Entry, _ units.System) string {
		c, ok := b.Stove.Control(e.Control)
		if !ok {
			return ""
		}
		return c.Name + " to " + Mark(c.Scale, e.Opening)
	},
	burn.Mineral: func(_ burn.Burn, e burn.Entry, sys units.System) string {
		if e.Load == nil {
			return ""
		}
		return fmt.Sprintf("Mineral fuel: %s of %s, recorded", sys.Mass(e.Load.Mass()), e.Load.StackName)
	},
	burn.Load: func(_ burn.Burn, e burn.Entry, sys units.System) string {
		l := e.Load
		switch {
		case l == nil:
			return ""
		case l.Kindling:
			return fmt.Sprintf("Kindling: %s of %s", sys.Mass(l.Mass()), l.StackName)
		}
		return fmt.Sprintf("Load: %d × %s of %s, %s at %s, %s", l.Pieces, sys.Piece(l.PieceMass), l.StackName, sys.Mass(l.Mass()),
			units.Percent(l.Moisture, 0), l.Direction)
	},
}

// Entry puts an entry into words for the log, without a full stop.
func Entry(b burn.Burn, e burn.Entry, sys units.System) string {
	if words, known := entries[e.Kind]; known {
		if text := words(b, e, sys); text != "" {
			return text
		}
	}
	return string(e.Kind)
}
