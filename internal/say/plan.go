package say

import (
	"fmt"
	"math"
	"strings"
	"time"

	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
)

type pick = wish.Pick

// nameOf is a stack's name up to its comma ("Beech, lean-to"), where no other at
// hand begins alike.
func (p speaker) nameOf(of pick) string {
	short, _, _ := strings.Cut(of.Stack.Name, ",")
	switch of.Stack.Size {
	case wood.ThinPieces:
		short += p.loc.T(" (its thin pieces)")
	case wood.ThickPieces:
		short += p.loc.T(" (its thick pieces)")
	}
	for _, other := range p.Wish.Woods() {
		if begins, _, _ := strings.Cut(other.Stack.Name, ","); begins == short && other.Stack.Name != of.Stack.Name {
			return of.Stack.Name
		}
	}
	return short
}

// Wish is what was wished, in a line.
func Wish(w wish.Wish, loc lang.Locale) string {
	from := Starts.Name(w.Start)
	if w.Start == wish.Cold {
		from = "from cold"
	}
	if w.Aim == wish.HoldGauge && w.Target != (wish.Target{}) {
		return loc.F("%s, %s, to hold the %s at %s for %s; %s inside, %s outside.", w.Stove.Name, from, Places.Short(w.Target.Place), loc.Temperature(w.Target.At),
			loc.Duration(w.For), loc.RoomTemperature(w.Room), loc.Temperature(w.Outdoor))
	}
	return loc.F("%s, %s, to %s for %s, between %s and %s; %s inside, %s outside.", w.Stove.Name, from, Aims.Name(w.Aim),
		loc.Duration(w.For), loc.Degrees(w.Low), loc.RoomTemperature(w.High), loc.RoomTemperature(w.Room), loc.Temperature(w.Outdoor))
}

// Plan introduces a plan in a sentence.
func Plan(made plan.Plan, loc lang.Locale) string {
	p := speaker{made, loc}
	air, _ := p.Wish.Stove.MainAir()
	total := loc.Mass(p.Mass() - p.Kindling.Mass())
	last := loc.F("%s; %s down to %s%s.", Direction(p.Direction), loc.Mid(air.Name), Mark(air.Scale, p.Final, loc), p.fed())
	first, main := p.FirstOf.Stack.Name, p.MainOf.Stack.Name
	switch {
	case p.First > 0 && p.Main > 0 && first != main:
		return loc.F("%s in all: %s of %s to light, %s of %s on the coals, %s",
			total, Pieces(p.First, loc), p.nameOf(p.FirstOf), Pieces(p.Main, loc), p.nameOf(p.MainOf), last)
	case p.First > 0 && p.Main > 0:
		return loc.F("%s: %s, %s; %s to light, %s on the coals, %s",
			main, Pieces(p.Pieces(), loc), total, Pieces(p.First, loc), Pieces(p.Main, loc), last)
	case p.First > 0 && len(p.Feeds) > 0:
		return loc.F("%s: %s, %s; %s to light, %s", first, Pieces(p.Pieces(), loc), total, Pieces(p.First, loc), last)
	case p.First > 0:
		return fmt.Sprintf("%s: %s, %s, %s", first, Pieces(p.First, loc), total, last)
	case len(p.Feeds) > 0:
		return loc.F("%s: %s, %s; %s first, %s", main, Pieces(p.Pieces(), loc), total, Pieces(p.Main, loc), last)
	}
	return fmt.Sprintf("%s: %s, %s, %s", main, Pieces(p.Main, loc), total, last)
}

// fed is how many more loads there are: "; then two more loads of two pieces".
func (p speaker) fed() string {
	if len(p.Feeds) == 0 {
		return ""
	}
	least, most := p.Feeds[0].Pieces, p.Feeds[0].Pieces
	for _, f := range p.Feeds {
		least, most = min(least, f.Pieces), max(most, f.Pieces)
	}
	each := Pieces(least, p.loc)
	if most > least {
		each = p.loc.F("%s to %s", number(least, p.loc), Pieces(most, p.loc))
	}
	if len(p.Feeds) == 1 {
		return p.loc.F("; then another load of %s when it is coals", each)
	}
	return p.loc.F("; then %s more loads of %s, each when the one before is coals", number(len(p.Feeds), p.loc), each)
}

// Takes is the wood that a plan takes, stack by stack, as a part of a sentence.
func Takes(made plan.Plan, loc lang.Locale) string {
	p := speaker{made, loc}
	var names []string
	mass := map[string]units.Kilogram{}
	for _, l := range append(p.AllLoads(), p.Kindling) {
		if l.Pieces == 0 {
			continue
		}
		name := loc.T("kindling")
		if !l.Kindling {
			name, _, _ = strings.Cut(l.StackName, ",")
		}
		if mass[name] == 0 {
			names = append(names, name)
		}
		mass[name] += l.Mass()
	}
	for i, name := range names {
		names[i] = loc.Mass(mass[name]) + loc.T(" of ") + name
	}
	return strings.Join(names, ", ")
}

// Best says why a plan won.
func Best(p plan.Plan, loc lang.Locale) string {
	return loc.F("The best by all that counts: %s of smoke, too cold by %s, %s of wood.",
		Smoke(p.SmokePerKg(), loc), aDegreeFor(p.Cold, 1, loc), loc.Mass(p.Mass()-p.Kindling.Mass()))
}

// Differs says how a plan differs from the best.
func Differs(p, best plan.Plan, loc lang.Locale) string {
	var parts []string
	if p.Main > 0 && best.Main > 0 && p.MainOf.Stack.Name != best.MainOf.Stack.Name {
		parts = append(parts, loc.T("from ")+p.MainOf.Stack.Name)
	}
	if p.Direction != best.Direction {
		parts = append(parts, loc.T(Direction(p.Direction)))
	}
	if p.Lay != best.Lay {
		parts = append(parts, loc.F("laid %s", Lays.Name(p.Lay)))
	}
	return units.UpperFirst(strings.Join(append(parts, comings(p.Coming().Against(best.Coming()), loc)...), ", ")) + "."
}

// comings say what else comes of a burn than of another.
func comings(d plan.Coming, loc lang.Locale) []string {
	var parts []string
	if d.ToCoals != 0 {
		parts = append(parts, loc.Duration(d.ToCoals.Abs().Round(5*time.Minute))+" "+either(d.ToCoals > 0, loc.T("longer"), loc.T("shorter")))
	}
	if d.Kilos != 0 {
		parts = append(parts, loc.Mass(units.Kilogram(math.Abs(d.Kilos)))+loc.T(" of wood ")+either(d.Kilos > 0, loc.T("more"), loc.T("less")))
	}
	if d.Smoke != 0 {
		parts = append(parts, loc.F("%.1f g of smoke per kg %s", math.Abs(d.Smoke), either(d.Smoke > 0, loc.T("more"), loc.T("less"))))
	}
	if d.Cold != 0 {
		parts = append(parts, either(d.Cold > 0, loc.F("colder by %s", aDegreeFor(math.Abs(d.Cold), 0, loc)), loc.F("warmer by %s", aDegreeFor(math.Abs(d.Cold), 0, loc))))
	}
	return parts
}

func either(first bool, a, b string) string {
	if first {
		return a
	}
	return b
}

const (
	fallsShort = 1.5 // K under the wanted band that one must know of
)

// Cautions says what the owner must know though the plan is good.
func Cautions(made plan.Plan, loc lang.Locale) []string {
	p, w := speaker{made, loc}, made.Wish
	out := append(p.unclean(), p.wet()...)
	if text := Unsafe(made, loc); text != "" {
		out = append([]string{text}, out...)
	}
	if lowest, _ := p.RoomRange(); float64(w.Low)-lowest > fallsShort {
		one := loc.T("One burn does not hold the room")
		if len(p.Feeds) > 0 {
			one = loc.T("This stove with this wood does not hold the room, load after load")
		}
		out = append(out, loc.F("%s: it comes down to about %s before the time is over. Other heating would be needed for the rest; burning hotter is not the way.",
			one, loc.RoomTemperature(units.Celsius(math.Round(lowest)))))
	}
	if main := p.MainOf.Stack; w.MostPieces(p.MainIndex()) == 1 && float64(w.Stove.MaxLoad) < 2*float64(main.PieceMass) {
		out = append(out, loc.F("The largest load is one piece of %s (%s): it is planned piece by piece. Put the next on when this one has gone to coals that still glow; a single piece smokes more for each kilogram than three together.",
			main.Name, loc.Mass(main.PieceMass)))
	}
	if until, limited := w.Hands(); limited {
		out = append(out, loc.F("All hands-on steps are done by %s after the start, and then it is watched for %s before the last one goes. Door shut, nothing near it; if it is late, do not load.",
			loc.Duration(until), loc.Duration(wish.Watched)))
	}
	if often(p.Trust.Cooled, p.Trust.Of) {
		out = append(out, loc.T("With drier wood, a stronger draft or a lever that opens further than it says, this load nears the limit: "+
			"do not miss the first turn-down, and never leave it before the last."))
	}
	if weakest := p.WeakestDraft(); weakest < wish.WeakDraft {
		out = append(out, loc.F("Gusts take the draft of the dying fire down to about %s: coals make carbon monoxide, so the alarm must work, and the air stays open a little.",
			loc.Draft(max(0, weakest))))
	}
	if text := LeftWet(w, loc); text != "" {
		out = append(out, text)
	}
	if w.LeftOut > 0 {
		out = append(out, loc.F("Of your stacks %d were tried, from light to dense; %d more were left out.", len(w.Woods()), w.LeftOut))
	}
	if w.Stove.Takes("max-load") {
		out = append(out, loc.F("The manual's largest load is not known here. %s is planned with, the least of stoves this size: look it up before the first fire, and put it on the stove's page.", loc.Mass(w.Stove.MaxLoad)))
	}
	out = append(out, guessed(p.stacks(), loc)...)
	if w.Mild {
		const colder = 10 // K
		out = append(out, loc.F("What it is outside was not said: %s is taken. At %s the house would take %s more, and the chimney would draw harder.",
			loc.Temperature(w.Outdoor), loc.Temperature(w.Outdoor-colder), loc.Power(units.Watt(w.House.Loss()*colder))))
	}
	if w.Feels {
		out = append(out, loc.F("No thermometer says how warm the room is: %s is taken for it.", loc.RoomTemperature(w.Room)))
	}
	out = append(out, confined(w, loc)...)
	if text := WetClothes(p.Plan, loc); text != "" {
		out = append(out, text)
	}
	return out
}

// often tells whether something happens in a quarter of the stoves like this one.
func often(n, of int) bool { return of > 0 && 4*n >= of }

// Unsafe is the warning of a plan that is unsafe in more than one of ten stoves like this
// one; empty: it is not.
func Unsafe(p plan.Plan, loc lang.Locale) string {
	if !p.Unsafe() {
		return ""
	}
	return loc.F("Careful: in %d of %d stoves like this one this runs too hot or lets smoke into the room, even with all that each step says besides. "+
		"A smaller load is safer. Stay by it, watch the gauge, and have the CO alarm on.", p.Trust.Of-p.Trust.Safe, p.Trust.Of)
}

// LeftWet says which stack a plan leaves where it lies, because it is wet and enough dry
// wood is there; empty: none.
func LeftWet(w wish.Wish, loc lang.Locale) string {
	if w.LeftWet == "" {
		return ""
	}
	return loc.F("%s is over %s and was left where it lies: enough drier wood is there.", units.UpperFirst(w.LeftWet), loc.Percent(wish.WetFrom, 0))
}

// Trust says how far a plan is to be trusted: what became of it in stoves like this
// one.
func Trust(p plan.Plan, loc lang.Locale) string {
	t := p.Trust
	if t.Of == 0 {
		return ""
	}
	out := loc.F("Burnt in %d stoves like this one, each with its own leak, lever, gauges, wood and weather, it burns clean and safe in %d", t.Of, t.Kept)
	if t.Safe > t.Kept {
		out += loc.F(", smokes or smoulders in %d", t.Safe-t.Kept)
	}
	if t.Safe < t.Of {
		out += loc.F(", is too hot or lets smoke in in %d", t.Of-t.Safe)
	}
	out += loc.F(": by somebody who also does what each step says besides. It makes %.0f g of smoke per kg there on average.", max(1, t.Smoke))
	var helped []string
	for _, h := range []struct {
		n    int
		what string
	}{{t.Cooled, loc.T("the air goes down sooner")}, {t.Raised, loc.T("flames go out and want a step back")}, {t.Ajar, loc.T("a load wants the door ajar")}} {
		if h.n > 0 {
			helped = append(helped, loc.F("in %d %s", h.n, h.what))
		}
	}
	if len(helped) > 0 {
		out += " " + units.UpperFirst(strings.Join(helped, ", ")) + "."
	}
	return out
}

// Sure says in how many of the stoves like this one a plan burns clean and safe; empty: it was
// burnt in none. [Trust] says the rest.
func Sure(p plan.Plan, loc lang.Locale) string {
	if p.Trust.Of == 0 {
		return ""
	}
	return loc.F("Clean and safe in %d of %d stoves like this one.", p.Trust.Kept, p.Trust.Of)
}

// stacks are those that the plan burns from.
func (p speaker) stacks() (out []wood.Stack) {
	seen := map[int64]bool{}
	for _, pick := range append([]wish.Pick{p.Wish.Wood}, p.Wish.Others...) {
		for _, l := range p.AllLoads() {
			if l.StackID == pick.ID && !seen[pick.ID] {
				seen[pick.ID] = true
				out = append(out, pick.Stack)
			}
		}
	}
	return out
}

// unclean is the caution of a plan that is only the cleanest there is.
func (p speaker) unclean() []string {
	if !p.Unclean() {
		return nil
	}
	out := p.loc.F("This burn is not clean: it makes %s of smoke, where a clean one makes 1 to 4", Smoke(p.SmokePerKg(), p.loc))
	if s := p.Summary.Smoulder; s >= time.Minute {
		out += p.loc.F(", and smoulders for %s", p.loc.Duration(s.Round(time.Minute)))
	}
	out += p.loc.T(". It is the cleanest that was found, and safe. Drier wood, thinner pieces or two together, or lighting at another time do better; " +
		"made often, it tars the chimney: have it looked at sooner.")
	return []string{out}
}

// wet are the cautions for wood over 20 %, with what it costs.
func (p speaker) wet() []string {
	var out []string
	for i, s := range []wood.Stack{p.FirstOf.Stack, p.MainOf.Stack} {
		used := i == 0 && p.First > 0 || i == 1 && p.Main > 0 && (p.First == 0 || p.MainOf.ID != p.FirstOf.ID)
		if u := s.Moisture(); used && u > wood.ReadyTo {
			out = append(out, p.loc.F("%s is at %s: it chars slowly, smokes longer and makes more deposits.%s Wood under 20 %% would burn better.",
				s.Name, p.loc.Percent(u, 0), p.costOfWet()))
		}
	}
	return out
}

// costOfWet says what the same pieces would do if they were dry.
func (p speaker) costOfWet() string {
	if p.IfDry == nil {
		return ""
	}
	dry, more := p.loc.Percent(wood.Seasoned, 0), p.IfDry.ToRoom-p.Summary.ToRoom
	if p.IfDry.SmokePerKg >= p.Summary.SmokePerKg { // they gas faster than this setting has air for
		out := p.loc.F(" Dried to %s the same pieces would want their air further open", dry)
		if more > 0 {
			out += p.loc.F(", and give about %s more heat", p.loc.Energy(more))
		}
		return out + "."
	}
	out := p.loc.F(" Dried to %s the same pieces would make %s of the smoke", dry, partOf(p.IfDry.SmokePerKg/p.Summary.SmokePerKg, p.loc))
	if more > 0.02*p.Summary.ToRoom {
		out += p.loc.F(" and give about %s more heat", p.loc.Energy(more))
	}
	return out + "."
}

// partOf is a share under one, in words.
func partOf(share float64, loc lang.Locale) string {
	switch {
	case share < 0.29:
		return loc.T("a quarter")
	case share < 0.42:
		return loc.T("a third")
	case share < 0.58:
		return loc.T("half")
	case share < 0.7:
		return loc.T("two thirds")
	case share < 0.9:
		return loc.T("four fifths")
	}
	return loc.T("nearly all")
}

// confined are the cautions that go with a place or a stove, whatever is planned.
func confined(w wish.Wish, loc lang.Locale) []string {
	var out []string
	if w.Confined() {
		out = append(out, loc.T("A small space needs its own opening for fresh air all the time the fire is in, and a CO alarm with a display."))
		if !w.Unattended() {
			out = append(out, loc.T("Nobody sleeps while it burns, unless its manual allows it; the last load is down to coals before anybody does."))
		}
		out = append(out, loc.T("The travel cap off and the fire cap on, seen from outside."))
		if w.Unattended() {
			out = append(out, loc.T("You have said that the manual allows a fire here at night or while nobody is in. Check it once more: the vent open, the CO alarm beside the bed, nothing that could fall against the stove."))
		}
	}
	for _, c := range w.Stove.Controls {
		if c.Role == stove.AshFlap && w.Stove.Manual.Flap == stove.FlapLight && w.Start.FirstFire() {
			out = append(out, loc.F("%s is open to light only, as this stove's manual allows%s: on a fire that stands it runs the stove too hot.", c.Name, flapFor(w.Stove.Manual, loc)))
		} else if c.Role == stove.AshFlap {
			out = append(out, loc.F("%s stays shut on a wood fire: through it the wood is gone in half the time, and the stove may overheat.", c.Name))
		}
	}
	if w.Stove.Family == stove.MultiFuel {
		out = append(out, loc.T("This is for wood alone. Mineral fuel on wood or coals burns in another way: it makes carbon monoxide for hours, more when the air is shut early; never mix the two."))
	}
	return out
}

// Checklist is what to look at before lighting, for this stove and this day.
func Checklist(p plan.Plan, loc lang.Locale) []string {
	general := []string{loc.T("Nothing that burns within the clearance on the plate; children and pets kept away, and never alone with it."),
		loc.T("No burn ban in force here today.")}
	b := p.Before
	switch {
	case b.OnCoals && p.Wish.Start.Few():
		return append([]string{loc.T("Some coals that still glow under the ash. If there are none, plan it from cold; if they glow all over the floor, plan it for a good bed: then it needs no kindling.")}, general...)
	case b.OnCoals:
		return append([]string{loc.T("Enough coals to light the load: glowing across the floor of the firebox. If there are fewer, plan it for few coals: they want kindling with them.")}, general...)
	}
	var out []string
	if b.Prime {
		out = append(out, loc.F("The cold chimney draws only %s. Warm it first: burning paper held high by the flue, or the starter on top of the lay, and see the flame lean inwards.", loc.Draft(unprimed(p))))
	} else {
		out = append(out, loc.F("The cold chimney draws %s: enough to light.", loc.Draft(b.Net)))
	}
	if p.Wish.House.Fan > 0 && !p.Wish.Help.FansOff {
		out = append(out, loc.F("With the fans running; off, the draft is %s.", loc.Draft(b.FanOff)))
	}
	out = append(out, loc.T("The right cap on; grate and air inlet free."),
		loc.T("A little ash out, a thin bed left. Coals stay live in it for days: into a metal bin with a tight lid, outdoors, on a surface that cannot burn."))
	return append(out, general...)
}

// unprimed is the draft without the flue warmed.
func unprimed(p plan.Plan) units.Pascal {
	w := p.Wish
	w.Help.Primed = false
	return wish.BeforeLighting(w).Net
}

// flapFor is how long the manual has the ash flap open at most.
func flapFor(m stove.Manual, loc lang.Locale) string {
	if m.FlapFor == 0 {
		return ""
	}
	return loc.F(", for %s at most", loc.Duration(m.FlapFor))
}
