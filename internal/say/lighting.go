package say

import (
	"strings"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// light is the first fire: laid to light from cold, or kindled on few coals.
func (p speaker) light(in *Instruction) {
	if p.Wish.Start.Few() {
		mass := p.FirstOf.Stack.PieceMass * units.Kilogram(p.First)
		in.Do = p.loc.F("Lay %s of kindling on the coals, %s%s, %s, %s on it",
			p.loc.Mass(p.Kindling.Mass()), Pieces(p.First, p.loc), p.of(p.FirstOf)+p.split(), p.loc.Mass(mass), Direction(p.Direction)) + p.doorToLight()
		in.Sign = p.firstOfAll()
		in.How = p.loc.T("Set the air first; rake what coals there are into a heap where the air comes in, kindling on them, then the smallest piece.") + p.litBy()
		if p.Kindling.StarterKind != "" {
			in.How += p.starting()
		}
		in.How += p.helping()
		in.Why = p.loc.T("So few coals do not light big wood: it would lie there and smoke. The kindling does.") + p.stay()
		return
	}
	if p.Wish.Fixed.BySize {
		fine, _ := p.Wish.KindlingBySize(p.Lay)
		in.Do = p.loc.F("Lay %s of fine kindling, crossed, the starter under it", p.loc.Mass(fine.Mass())) + p.doorToLight()
		in.Sign = p.firstOfAll()
		in.How = strings.TrimSpace(p.loc.T("Set the controls before you light. Have the thicker sizes ready beside you.") + p.starting() + p.helping())
		in.Why = p.loc.T("Each size lights the next: what is too thick too early lies there and smokes.") + p.stay()
		return
	}
	lay := layFormats[p.Lay]
	if first, _ := p.Loads(); first.Pieces == 1 {
		lay = onePieceFormats[p.Lay]
	}
	in.Do = p.loc.F(lay, Pieces(p.First, p.loc)+p.of(p.FirstOf)+p.split(), Direction(p.Direction), p.loc.Mass(p.Kindling.Mass())) + p.doorToLight()
	in.Sign = p.firstOfAll()
	in.How = strings.TrimSpace(p.loc.T("Set the controls before you light.") + p.loc.T(layHow[p.Lay]) + p.starting() + p.helping())
	in.Why = whyLay(p.Lay, p.loc) + p.stay()
}

// grow is the next size on a young fire.
func (p speaker) grow(in *Instruction) {
	for _, a := range in.Fire.Do {
		switch {
		case a.Load == nil:
		case a.Load.Kindling:
			in.Do = p.loc.F("Lay %s of thumb-thick sticks on it", p.loc.Mass(a.Load.Mass()))
			in.Sign = p.loc.T("when flames stand over all of the fine wood.")
			in.How = p.loc.T("Crosswise, with gaps of a finger.")
		default:
			in.Do = p.loc.F("Lay %s, wrist-thick, on it", Pieces(p.First, p.loc)+p.of(p.FirstOf)+p.split())
			in.Sign = p.loc.T("when the sticks burn over their whole length.")
			in.How = p.loc.T("Two fingers of air between them; one across the other.")
		}
	}
	in.Why = p.loc.T("Each size lights the next: what is too thick too early lies there and smokes.")
}

// startings tell what is done with each starter; a block is only lit.
var startings = map[fire.Starter]lang.Message{
	fire.TwoBlocks: " One block on the kindling, one under it: light both.",
	fire.Paper:     " Loose sheets, free ends out; nothing glossy.",
	fire.Knots:     " Knot the sheets and tuck them among the kindling; nothing glossy.",
	fire.Gel:       " A spoonful in two places. Cap on and bottle away before the match.",
	fire.Torch:     " Hold the torch low under the kindling until the wood itself burns: two or three minutes.",
	fire.HotAir:    " Hold the hot air to the kindling until flames stand, then take it away.",
	fire.Igniter:   " Press its button and leave the door on the latch until its cycle ends: about twelve minutes.",
}

// starting is what is done with the starter.
func (p speaker) starting() string {
	m, ok := startings[p.Wish.Starter]
	if !ok {
		return ""
	}
	return p.loc.T(m)
}

// doorToLight says how the door stands while the fire is lit, by the rule or the manual.
func (p speaker) doorToLight() string {
	door := p.Wish.Stove.Manual.Door
	if p.Wish.Starter.Row().Latched && p.Wish.Stove.Ajar() {
		door = stove.DoorLatch
	}
	switch door {
	case stove.DoorLatch:
		return p.loc.T(", door on the latch")
	case stove.DoorShut:
		return p.loc.T(", door shut, as its manual says")
	}
	return p.loc.T(", door ajar")
}

// stay asks to stay by a door that is not shut.
func (p speaker) stay() string {
	if !p.Wish.Stove.Ajar() {
		return ""
	}
	return p.loc.T(" Stay while the door is ajar.")
}

// pressedLogs are broken by hand, and not split.
const pressedLogs = "pressed-logs"

// split says into how many parts each piece of the first fire is split.
func (p speaker) split() string {
	first, _ := p.Loads()
	switch {
	case p.First == 0 || first.Pieces <= p.First:
		return ""
	case first.Species.Key == pressedLogs && p.First == 1:
		return p.loc.T(" (broken into pieces)")
	case first.Species.Key == pressedLogs:
		return p.loc.T(" (each broken into pieces)")
	case first.Pieces == 2*p.First && p.First == 1:
		return p.loc.T(" (split in two)")
	case first.Pieces == 2*p.First:
		return p.loc.T(" (each split in two)")
	case p.First == 1:
		return p.loc.T(" (split in three)")
	}
	return p.loc.T(" (each split in three)")
}

// layFormats tell how to lay: the pieces, their direction, the kindling.
var layFormats = map[fire.Lay]lang.Message{
	fire.TopDown:  "Lay %s %s, %s of kindling on top",
	fire.Raft:     "Lay %s as a raft, %s, %s of kindling on it",
	fire.OpenV:    "Lay %s in a V, %s, %s of kindling between them",
	fire.LeanTo:   "Lay %s, %s, %s of kindling leaned on it",
	fire.BottomUp: "Lay %s, %s, on a cabin of %s of kindling",
}

// layHow is how each is laid and where it is lit.
var layHow = map[fire.Lay]lang.Message{
	fire.TopDown:  " Light on top in two places.",
	fire.Raft:     " A finger apart, each layer turned a little. Light on top in two places.",
	fire.OpenV:    " The V opens to the air inlet. Light the kindling low, by the door.",
	fire.LeanTo:   " The largest at the back. Light under the leaning sticks.",
	fire.BottomUp: " Light the kindling from below.",
}

// onePieceFormats are the same for a single piece: nothing can be made of one
// that wants two.
var onePieceFormats = map[fire.Lay]lang.Message{
	fire.TopDown:  layFormats[fire.TopDown],
	fire.Raft:     "Lay %s, %s, off the floor on two sticks, %s of kindling on it",
	fire.OpenV:    "Lay %s, %s, %s of kindling beside it",
	fire.LeanTo:   "Lay %s, %s, at the back, %s of kindling leaned on it",
	fire.BottomUp: layFormats[fire.BottomUp],
}

func whyLay(l fire.Lay, loc lang.Locale) string {
	switch l {
	case fire.TopDown, fire.Raft:
		return loc.T("Lit from above, the gases of the wood below pass through the flames and burn.")
	case fire.BottomUp:
		return loc.T("It is hot soon, but the wood above smokes before it flames: more smoke at the start than lit from above.")
	}
	return loc.T("The kindling lights the wood beside it, and part of its gases pass the flames: between lighting above and below.")
}

// firstOfAll is what is done for the draft before anything else, in a few words.
func (p speaker) firstOfAll() string {
	var parts []string
	h := p.Wish.Help
	if h.FansOff {
		parts = append(parts, p.loc.T("Extraction fans off."))
	}
	if h.Window {
		parts = append(parts, p.loc.T("A window open a crack."))
	}
	if p.Before.Prime {
		parts = append(parts, p.loc.T("Warm the flue first."))
	}
	return strings.Join(parts, " ")
}

// helping is how what helps the draft is done, and for how long.
func (p speaker) helping() string {
	out, h := "", p.Wish.Help
	if h.FansOff {
		out += p.loc.T(" The extraction fans stay off while it burns.")
	}
	switch {
	case h.Window && p.extra(plan.ShutWindow).Kind != "":
		out += p.loc.T(" The window on the stove's level stays open until the flue draws by itself.")
	case h.Window:
		out += p.loc.T(" The window on the stove's level stays open while it burns.")
	}
	if p.Before.Prime {
		out += p.loc.T(" To warm the flue burn a few sheets of paper high under it, until the flame leans inwards.")
	}
	return out
}
