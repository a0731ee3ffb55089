package say

import (
	"fmt"
	"math"
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/upkeep"
	"smolder/internal/lang"
)

// A Chore is what is said of a task.
type Chore struct {
	Name string
	Did  string // what a tap says was done
	Why  string
	How  string
	Look string // what to look for
	Who  string
}

// Chores are the words of every task.
var chores = map[upkeep.Key]struct{ name, did, why, how, look, who lang.Message }{
	upkeep.Sweep: {"Sweep the chimney", "Swept", "Deposits burn white-hot once they catch, and narrow the flue before that.",
		"Brush the whole flue, the connector and the cap with a brush of its size; take out what falls at the cleanout and behind the baffle.",
		"Flakes that brush off are right; a shiny glaze is not: it takes a sweep. Cracks, loose joints, a warped cap.",
		"A licensed sweep at least once a year; between, whoever has the brush, the ladder and a head for heights. No fire after a chimney fire " +
			"until a sweep has looked."},
	upkeep.LevelRun: {"Clean the horizontal run", "Cleaned", "Ash and deposits lie where the pipe is level, and choke it long before the rest.",
		"With the stove cold, open the cleanout or take the run apart; brush it and vacuum what lies in it.",
		"More than a finger's breadth on its floor; a run that sags.",
		"You, where a cleanout is there; whoever installed it, where pipes must come apart."},
	upkeep.Inlet: {"See that air comes in", "Seen", "A fire without its own air pulls smoke and carbon monoxide back into the room.",
		"Look at the grille from outside and inside: leaves, snow, mesh, a cushion. Open its gate once all the way.",
		"A flame that leans into the room at the open door; a window that runs with water.",
		"You. A new opening: a licensed installer, by the local code."},
	upkeep.Gasket: {"Test the door's gasket", "Tested", "Air that leaks in at the door cannot be turned down: the fire runs hot, eats wood and " +
		"does not hold the night.",
		"Cold stove. Shut the door on a strip of paper and pull: at the hinge side, the latch side, above and below, some places on each.",
		"A strip that slides out anywhere. A gasket that is flat, frayed or hard.",
		"You: a new rope of the size in the manual, with its own cement. Latch first, it may only want adjusting."},
	upkeep.Catalyst: {"Look at the catalyst", "Looked at, and cleaned", "A clogged or tired one leaves its smoke unburnt, and the draft with it.",
		"Cold stove, bypass shut off. Lift it out as the manual says; brush it with a soft brush or vacuum it with one. Never scrape, never oil.",
		"Cracks through it, a white and peeling face, cells that ash has shut. Light-off that comes later each month.",
		"You, as its manual says. A new one: of the same size and make."},
	upkeep.Baffle: {"Look behind the baffle and at the tubes", "Looked at",
		"What lies above the baffle chokes the way out; a warped or cracked one lets flame past.",
		"Cold stove. Take the baffle out as the manual says; vacuum what lies on it; see that every hole of the air tubes is free.",
		"Cracks, a sag, a blanket that is torn or out of place, tubes burnt thin.",
		"You; parts of the same make. A box that is burnt through: no fire, and a licensed installer."},
	upkeep.Cap: {"Look at the cap and its screen", "Looked at", "A spark screen clogs first, in the cold, and smoke comes back into the room.",
		"From the ground with field glasses; from a ladder only in dry, still weather.",
		"Soot that hangs from the screen, a nest, a cap that leans or is gone.", "You from the ground; a sweep from the roof."},
	upkeep.Grate: {"Look at the grate", "Looked at", "A grate that sticks or has gaps lets coals into the ash pan, where they burn the grate through.",
		"Cold stove. Work the riddle all its way; empty the pan, and the room behind it.",
		"Bars bent, cracked or burnt thin; clinker grown onto them; ash up to the bars.", "You; bars of the same make."},
	upkeep.Ash: {"Take ash out", "Taken out", "A thin bed keeps coals alive; a deep one shuts the air off and spills when the door opens.",
		"In the morning, before the coals are disturbed: from the front, a bed of a finger left for wood; for mineral fuel all of it, to the bare " +
			"grate. Into a metal bin with a tight lid, outdoors, on a surface that cannot burn, never in the rubbish.",
		"Coals stay live in it for days.", "You, with gloves; nobody near who could touch the bin."},
	upkeep.Glass: {"Clean the glass", "Cleaned", "What darkens it is smoke that found no air: the fire behind it cannot be read.",
		"Cold. Damp paper dipped in the stove's own fine ash, in circles; wipe dry. No blade, nothing that scratches.",
		"One corner always black: its gasket leaks. All of it within days: air shut too soon, or wet wood.", "You."},
	upkeep.Detectors: {"Test the CO and smoke alarms", "Tested", "Carbon monoxide has no smell. They are what wakes you.",
		"Press the test button of each until it sounds. A battery that chirps is changed today. A CO alarm in every room with a stove and where people sleep.",
		"The date on the back: past it, a new one, whatever the button says. In a boat or van one with a display.", "You, every month."},
	upkeep.Extinguisher: {"Look at the extinguisher and the way out", "Looked at", "It helps in the first minute or not at all.",
		"Its needle in its mark, its pin in, its place by the way out and not by the stove. Walk the way out once in the dark.",
		"Date of its last service; a way out that something stands in.",
		"You; its service: who does it by its label. A chimney fire is not for it: out, and the fire service."},
	upkeep.TravelCap: {"Travel cap on, stove cold and empty", "Done", "On the road or at sea a hot stove, or a cap that is forgotten on, hurts somebody.",
		"Cold, ash out, everything inside it wedged; flue cap changed for the travel cap; its loose pieces stowed. A note at the stove's door: cap on.",
		"The fire cap back on before the next match, seen from outside.", "You, before every move."},
	upkeep.CurePaint: {"First small fires", "All three done", "Paint cures as it warms, and fumes while it does; a big first fire blisters it " +
		"and cracks what is damp.",
		"Three small fires, each hotter than the one before, windows open, nobody leaning over it, let go cold between.",
		"Smoke and smell off the iron itself are right for the first two; off the third no more.",
		"You, and the manual's own first fires before these."},
	upkeep.Inspect: {"Have it inspected", "Inspected", "A brush cleans; it does not see a cracked liner, a joint that leaks, wood that chars behind a wall.",
		"Flue, connector, stove, hearth and clearances looked at, inside and out, where it needs it with a camera. Sweeping is not inspecting, " +
			"and who sweeps his own flue has not had it inspected.",
		"A written finding with a date.", "A licensed sweep or installer, every year; after a chimney fire before the next match (NFPA 211)."},
	upkeep.AlarmsLife: {"New CO and smoke alarms", "Replaced", "Their sensors age: an old one passes its own test and hears nothing.",
		"Read the date on the back of each. Past it, or with no date, a new one of its kind.", "Seven to ten years is usual; the label wins.",
		"You. Tell here when they were new."},
	upkeep.CatLife: {"A new catalyst", "Put in", "After some ten thousand hours its coating is used up, however clean it is.",
		"Of the size and make in the manual, with its own gasket. Tell here when the one in it was new.",
		"Smoke at the cap with the bypass shut and the probe hot; light-off later and later.", "You, as the manual says."},
	upkeep.Rope: {"A new rope for the door", "Renewed", "A rope goes flat and hard; then the air cannot be turned down.",
		"Old cement scraped out, the rope of the manual's thickness laid in without stretching it, door shut on it until the cement is hard.",
		"A strip of paper that slides out; a rope that shines.", "You."},
	upkeep.AshGasket: {"Test the ash door's gasket", "Tested", "It leaks air under the grate: the fire runs like a forge and cannot be shut down.",
		"Cold. A strip of paper at each side of the ash door, as at the big one; ash wiped off its seat.", "A strip that slides out; a latch that is loose.",
		"You: a new rope of its size."},
	upkeep.Bricks: {"Look at the firebricks", "Looked at", "Behind a brick that has gone the steel burns through.",
		"Cold and empty. A hairline that holds together may stay; what crumbles, gapes or is thinner by a third goes.",
		"Gaps over ⟦3 mm|⅛ in⟧, bricks that have moved, board that is soft.", "You: bricks of the manual's size and kind."},
	upkeep.GlassCrack: {"Look at the pane", "Looked at", "A cracked pane can fall out into the room with a fire behind it.",
		"Cold. Along the edges and at every clip; clips snug, never tight; its own gasket all round.", "Any crack; a pane that rattles.",
		"You: ceramic glass of the manual's size, never window glass. No fire until it is in."},
	upkeep.Joints: {"Look at the connector's joints", "Looked at", "A joint that comes apart lets smoke and sparks into the house.",
		"Cold. Every joint with three screws, none loose; crimped ends towards the stove; no rust you can press through.",
		"White or brown streaks at a joint; a pipe that sags.", "You; new pipe, and whatever passes a wall or ceiling: a licensed installer."},
	upkeep.Clearances: {"Look around the stove", "Looked at", "Most stove fires begin with something that was moved too near.",
		"Read the clearances off the plate. Basket, drying rack, curtain, chair, toys: outside them, also with the door open.",
		"Scorched paint, a wall too hot for a hand (with a fire in).", "You; a wall that gets hot: a licensed installer."},
	upkeep.Summer: {"Close it for the summer", "Closed", "Damp summer air and the acids in soot and ash eat steel and liner when nobody looks.",
		"Swept, ash out, soot brushed off every plate. Door and air a crack open, a bowl of something that dries beside it; cap and screen against birds. " +
			"A note on the door where the flue is shut.",
		"Rust, a nest in spring, a note that is gone in autumn.", "You, after the sweep."},
}

// ChoreOf is what is said of a task.
func ChoreOf(k upkeep.Key, loc lang.Locale) Chore {
	c := chores[k]
	return Chore{loc.T(c.name), loc.T(c.did), loc.T(c.why), loc.T(c.how), loc.T(c.look), loc.T(c.who)}
}

// When says how a task stands.
func When(s upkeep.Status, now time.Time, loc lang.Locale) string {
	day := func(t time.Time) string { return loc.Date(t.In(now.Location()), "2 January 2006") }
	use := used(s, loc)
	if use != "" {
		use = ", " + use
	}
	switch {
	case s.Rests(now):
		out := loc.T("Put off until ") + day(s.PutOff)
		if s.Why != "" {
			out += ": " + s.Why
		}
		return out + "."
	case s.Use.Burnt && s.Task.Key == upkeep.Inspect:
		return loc.T("Its chimney burnt, and nobody has inspected it since: no fire before.")
	case s.Never() && s.Task.Key == upkeep.CurePaint && s.Use.Painted:
		return loc.T("It is new or was painted, and has not had them.")
	case s.Never() && !s.IsDue():
		return units.UpperFirst(loc.T("nobody has said when last")+use) + "."
	case s.Never():
		return loc.T("Nobody has said when it was done last") + use + "."
	case s.IsDue() && s.ByUse:
		return loc.F("Due by use%s. Last on %s.", use, day(s.Since))
	case s.IsDue():
		return loc.F("Due since %s. Last on %s%s.", day(s.Due), day(s.Since), use)
	case s.Due.IsZero():
		return loc.F("Last on %s%s.", day(s.Since), use)
	}
	as := ""
	if s.ByUse {
		as = loc.T(", as it goes")
	}
	return loc.F("Next about %s%s. Last on %s%s.", day(s.Due), as, day(s.Since), use)
}

// used says what has been through it since, of the use that its task goes by.
func used(s upkeep.Status, loc lang.Locale) string {
	u := s.Use
	grams := 0.0
	for _, g := range u.Settled {
		grams += g
	}
	switch s.Task.Key {
	case upkeep.Sweep:
		if grams >= 1 {
			return loc.T("about ") + roughly(grams) + loc.T(" g settled in the flue since")
		}
	case upkeep.LevelRun:
		if n := len(u.Settled); n > 0 && u.Settled[n-1] >= 0.5 {
			return loc.T("about ") + roughly(u.Settled[n-1]) + loc.T(" g lie in it")
		}
	case upkeep.Ash:
		if ash := upkeep.AshOf(u); ash >= 0.05 {
			if u.Charcoal > 0 {
				return loc.T("about as much as ") + loc.Mass(ash) + loc.T(" of ash has come since, with its charcoal")
			}
			return loc.T("about ") + loc.Mass(ash) + loc.T(" has come since")
		}
	case upkeep.Catalyst:
		if u.Fallen > 15 {
			return loc.F("it reaches about %.0f degrees less than it did", inDegrees(u.Fallen, loc))
		}
		fallthrough
	case upkeep.Baffle, upkeep.Grate:
		if u.Hours >= 1 {
			return loc.Number(u.Hours, 0) + loc.T(" hours of fire since")
		}
	case upkeep.Gasket, upkeep.Glass:
		if u.Burns > 0 {
			out := loc.F("%d burns since", u.Burns)
			if s.Task.Key == upkeep.Glass && u.Smoulder >= 0.2 {
				out += ", " + loc.Duration(time.Duration(u.Smoulder*float64(time.Hour)).Round(time.Minute)) + loc.T(" of smouldering in them")
			}
			return out
		}
	}
	return ""
}

// roughly prints grams to two figures: no more is known of them.
func roughly(g float64) string {
	if g < 1 {
		return units.Number(g, 0)
	}
	step := math.Pow(10, math.Max(0, math.Floor(math.Log10(g))-1))
	return units.Number(math.Round(g/step)*step, 0)
}

func inDegrees(k float64, loc lang.Locale) float64 {
	if loc.System == units.Imperial {
		return math.Round(k * 1.8)
	}
	return math.Round(k)
}

// Endangers says that something overdue endangers, for the first page and before lighting.
func Endangers(s upkeep.Status, stove string, now time.Time, loc lang.Locale) string {
	of, name := "", ChoreOf(s.Task.Key, loc).Name
	if stove != "" {
		of, name = stove+": ", loc.Mid(name)
	}
	return fmt.Sprintf("%s%s. %s %s", of, name, When(s, now, loc), ChoreOf(s.Task.Key, loc).Why)
}

// FirstFire says one of a stove's first fires.
func FirstFire(n int, f upkeep.FirstFire, st string, loc lang.Locale) string {
	what := loc.F("%s of small dry splits with kindling under the first", loc.Mass(f.Wood))
	if f.Kindling {
		what = loc.F("%s of kindling and no more, lit with a starter on top", loc.Mass(f.Wood))
	}
	return loc.F("Fire %d. %s: air open, door shut once it draws, windows open. Top to about %s and not over it, for %s; then let it "+
		"burn out and go cold, with the door shut.",
		n, units.UpperFirst(what), loc.Temperature(f.Top), loc.Duration(f.Hold))
}

// FlueSections says what has settled in each section of a flue since the sweep, the
// horizontal run on its own.
func FlueSections(settled []float64, st stove.Stove, loc lang.Locale) []string {
	layers := upkeep.Layers(settled, st)
	var out []string
	for i, mm := range layers {
		out = append(out, loc.F("Section %d of %d from the stove up: about %s g, %s", i+1, len(layers), roughly(settled[i]), thick(mm, loc)))
	}
	if st.Chimney.Horizontal > 0 && len(settled) > 0 {
		out = append(out, loc.F("Horizontal run: about %s g, %s on its floor", roughly(settled[len(settled)-1]), thick(upkeep.RunThick(settled, st), loc)))
	}
	return out
}

func thick(mm float64, loc lang.Locale) string {
	if mm < 0.05 {
		return loc.T("next to nothing")
	}
	if loc.System == units.Imperial {
		return loc.Number(mm/25.4, 3) + loc.T(" in were it even")
	}
	return loc.Number(mm, 1) + loc.T(" mm were it even")
}

// NoFireAfter says that a stove is not lit after its chimney burnt, before it was inspected.
func NoFireAfter(name string, at time.Time, loc lang.Locale) string {
	return loc.F("No fire in %s before its flue was inspected after the chimney fire of %s. When a sweep or installer has, enter it under Upkeep: "+
		"have it inspected. Swept by oneself is not inspected.", name, loc.Date(at, "2 January 2006"))
}
