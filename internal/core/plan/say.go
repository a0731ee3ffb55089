package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// An Instruction is a step in words: what to do, on what sign, why, and about
// when.
type Instruction struct {
	Step
	Do       string // "Lever to a half"
	Sign     string // "when the flue gas is at 237 °C and every piece is black all over"
	Set      string // how it leaves the controls: "Lever fully right, bypass open"; empty where Do says it
	Why      string
	When     string // "about 14–20 min in"; empty when it comes first
	Settings []Setting
}

// Say puts the plan into words, in the household's units and each control's
// own marks.
func (p Plan) Say(sys units.System) []Instruction {
	out := make([]Instruction, 0, len(p.Steps))
	for i, s := range p.Steps {
		in := p.say(s, sys)
		if i > 0 {
			in.When = about(s.Earliest, s.Latest)
		}
		out = append(out, in)
	}
	return out
}

func (p Plan) say(s Step, sys units.System) Instruction {
	in := Instruction{Step: s, Settings: s.Settings(p.Wish.Stove)}
	in.Set = saySettings(in.Settings)
	t := s.Fire.When
	switch s.Kind {
	case LightIt:
		if p.Wish.Start.few() {
			from := ""
			if len(p.Wish.Others) > 0 {
				from = " of " + p.nameOf(p.FirstOf)
			}
			in.Do = fmt.Sprintf("Lay %s of kindling on the coals and %s%s, %s, %s on it, door ajar", sys.Mass(p.Kindling.Mass()), pieces(p.First), from, sys.Mass(p.FirstOf.Stack.PieceMass*units.Kilogram(p.First)), p.Direction)
			in.Sign = strings.TrimSpace(p.firstOfAll() + " Set the air first; rake what coals there are into a heap where the air comes in, kindling on them, then the smallest piece." + p.litBy())
			in.Why = "So few coals do not light big wood: it would lie there and smoke. The kindling does. Stay while the door is ajar."
			return in
		}
		from := ""
		if len(p.Wish.Others) > 0 {
			from = " of " + p.nameOf(p.FirstOf)
		}
		lay := laySays[p.Lay]
		if p.First == 1 {
			lay = onePieceSays[p.Lay]
		}
		in.Do = fmt.Sprintf(lay, pieces(p.First)+from, p.Direction, sys.Mass(p.Kindling.Mass())) + ", door ajar"
		in.Sign = strings.TrimSpace(p.firstOfAll() + " Set the controls before you light.")
		in.Why = layWhy(p.Lay) + " Stay while the door is ajar."
	case ShutDoor:
		in.Do = "Shut the door"
		if len(in.Settings) > 0 {
			in.Do += p.briskWord(s)
			in.Set = ""
		}
		in.Sign = "when the fire keeps its own draft" + gaugeSign(t, sys) + ". If flames die down, open it again."
		in.Why = "Shut too early the fire starves and smokes; ajar for long it only heats the chimney."
	case LoadIt:
		in.Do = fmt.Sprintf("Load %s, %s, %s", pieces(p.Main), sys.Mass(p.MainOf.Stack.PieceMass*units.Kilogram(p.Main)), p.Direction)
		if len(p.Wish.Others) > 0 {
			in.Do += ", of " + p.nameOf(p.MainOf)
		}
		switch {
		case p.Wish.Start.firstFire():
			in.Sign = "when the first wood has burnt down to glowing coals. The air stays as it is; open slowly; rake the coals forward; smallest piece on the coals."
			in.Why = "Big wood on a small fire smothers it; on coals it lights from below at once."
		default:
			in.Sign = strings.TrimSpace(p.firstOfAll() + " Set the air first, wait a moment, open slowly; rake the coals to where the air comes in; smallest piece on the coals, largest at the back.")
			in.Why = "Coals under the air inlet light the new wood quickly, and quick charring is what keeps the smoke down." + p.briskWhy(s)
		}
	case FeedIt:
		in.Do, in.Sign, in.Why = p.sayFeed(s, sys)
	case CloseIt:
		in.Do, in.Sign, in.Why = p.sayClose(s, sys)
		in.Set = ""
	case TurnDown:
		in.Do, in.Sign, in.Why = p.sayTurnDown(s, sys)
		in.Set = saySettings(without(in.Settings, s.Control))
	case ReloadTime:
		in.Do = "The next load, if you want more heat"
		in.Sign = "when flames are gone and the coals glow. Let the room begin to cool first."
		in.Why = "Now the coals light three pieces quickly; an hour later there may be too few."
	}
	return in
}

// saySettings lists controls with their marks: "Lever fully right, bypass open".
func saySettings(list []Setting) string {
	parts := make([]string, len(list))
	for i, s := range list {
		name := units.LowerFirst(s.Control.Name)
		if i == 0 {
			name = units.UpperFirst(s.Control.Name)
		}
		parts[i] = name + " " + s.Says
	}
	return strings.Join(parts, ", ")
}

// sayTo is what a hand does: "Lever to a half", "Bypass shut".
func sayTo(c stove.Control, opening float64) string {
	says := c.Scale.Say(opening)
	switch says {
	case "shut", "open", "fully open":
		return units.UpperFirst(c.Name) + " " + says
	}
	return fmt.Sprintf("%s to %s", units.UpperFirst(c.Name), says)
}

func without(list []Setting, key string) []Setting {
	return slices.DeleteFunc(slices.Clone(list), func(s Setting) bool { return s.Control.Key == key })
}

// firstOfAll is what is done for the draft before anything else.
func (p Plan) firstOfAll() string {
	var parts []string
	h := p.Wish.Help
	if h.FansOff {
		parts = append(parts, "Extraction fans off, and they stay off while it burns.")
	}
	if h.Window {
		parts = append(parts, "A window on the stove's level open a crack, and it stays so while it burns.")
	}
	if p.Before.Prime {
		parts = append(parts, "First warm the flue: a few sheets of paper burnt high under it, until the flame leans inwards.")
	}
	return strings.Join(parts, " ")
}

// litBy is what lights the kindling on few coals.
func (p Plan) litBy() string {
	if p.Kindling.StarterKind == "" && p.Kindling.Starter == 0 {
		return " If there is no flame in five minutes, blow on the coals or light the kindling."
	}
	return " A handful does not light it by itself: use the starter as from cold."
}

// sayFeed is a later load: its pieces, the coals that it waits for, and why not
// before.
func (p Plan) sayFeed(s Step, sys units.System) (do, sign, why string) {
	for _, a := range s.Fire.Do {
		if a.Load != nil {
			do = fmt.Sprintf("Put on %s, %s, %s", pieces(a.Load.Pieces), sys.Mass(a.Load.Mass()), a.Load.Direction)
		}
	}
	sign = "when the flames are gone and the coals glow across the floor. Set the air first, wait a moment, open slowly; rake the coals to where the air comes in."
	if len(s.Settings(p.Wish.Stove)) > 0 && p.Wish.High > 0 {
		sign += fmt.Sprintf(" If the room is over %s, let it cool first, as long as there are coals.", sys.RoomTemperature(p.Wish.High))
	}
	why = "On wood that still flames it would run too hot; on coals gone grey it would lie and smoke. With fewer coals than that, put kindling under it."
	return do, sign, why + p.briskWhy(s)
}

// fedSays is how many more loads there are: ", then two more of two pieces".
func (p Plan) fedSays() string {
	if len(p.Feeds) == 0 {
		return ""
	}
	least, most := p.Feeds[0].Pieces, p.Feeds[0].Pieces
	for _, f := range p.Feeds {
		least, most = min(least, f.Pieces), max(most, f.Pieces)
	}
	each := pieces(least)
	if most > least {
		each = fmt.Sprintf("%s to %s", strings.TrimSuffix(strings.TrimSuffix(pieces(least), " pieces"), " piece"), pieces(most))
	}
	if len(p.Feeds) == 1 {
		return fmt.Sprintf("; then another load of %s when it is coals", each)
	}
	return fmt.Sprintf("; then %s more loads of %s, each when the one before is coals", strings.TrimSuffix(strings.TrimSuffix(pieces(len(p.Feeds)), " pieces"), " piece"), each)
}

func (p Plan) sayClose(s Step, sys units.System) (do, sign, why string) {
	c, _ := p.Wish.Stove.Control(s.Control)
	t := s.Fire.When
	do = sayTo(c, 0)
	if p.Wish.Stove.Family != stove.Catalytic {
		return do, "when every piece is black all over and the fire is lively.", "Round the baffle the heat goes straight up the flue; shut, it goes by the plate first."
	}
	why = "Below light-off a catalyst burns nothing and clogs; above it, it burns what the flames leave."
	switch {
	case t.Gauge == stove.CatalystProbe:
		sign = fmt.Sprintf("when the catalyst has stood above %s for five minutes.", sys.Sign(t.Above))
	case t.Gauge != "":
		sign = fmt.Sprintf("when every piece is black all over and the %s has stood above %s for five minutes: there is no thermometer at the catalyst.", t.Gauge.Short(), sys.Sign(t.Above))
	default:
		sign = "a quarter of an hour after loading, when every piece is black all over and the flames fill the firebox."
	}
	return do, sign, why
}

// nameOf is a stack's name up to its comma ("Beech, lean-to"), where no other at
// hand begins alike.
func (p Plan) nameOf(pick Pick) string {
	short, _, _ := strings.Cut(pick.Stack.Name, ",")
	for _, other := range p.Wish.woods() {
		if begins, _, _ := strings.Cut(other.Stack.Name, ","); begins == short && other.Stack.Name != pick.Stack.Name {
			return pick.Stack.Name
		}
	}
	return short
}

// laySays tells how to lay and where to light: the pieces, their direction, the
// kindling.
var laySays = map[fire.Lay]string{
	fire.TopDown:  "Lay %s %s, %s of kindling on top; light on top in two places",
	fire.Raft:     "Lay %s as a raft, %s below, a finger apart, each layer turned a little, %s of kindling on it; light on top in two places",
	fire.OpenV:    "Lay %s in a V, %s, open to the air inlet, %s of kindling between them; light the kindling low, by the door",
	fire.LeanTo:   "Lay %s, %s, the largest at the back, %s of kindling leaned on it; light under the leaning sticks",
	fire.BottomUp: "Lay %s, %s, on a cabin of %s of crossed kindling; light the kindling from below",
}

func layWhy(l fire.Lay) string {
	switch l {
	case fire.TopDown, fire.Raft:
		return "Lit from above, the gases of the wood below pass through the flames and burn."
	case fire.BottomUp:
		return "It is hot soon, but the wood above smokes before it flames: more smoke at the start than lit from above."
	}
	return "The kindling lights the wood beside it, and part of its gases pass the flames: between lighting above and below."
}

// onePieceSays is laySays for a single piece: nothing can be made of one that
// wants two.
var onePieceSays = map[fire.Lay]string{
	fire.TopDown:  laySays[fire.TopDown],
	fire.Raft:     "Lay %s, %s, off the floor on two sticks, %s of kindling on it; light on top in two places",
	fire.OpenV:    "Lay %s, %s, %s of kindling beside it; light the kindling low, by the door",
	fire.LeanTo:   "Lay %s, %s, at the back, %s of kindling leaned on it; light under the leaning sticks",
	fire.BottomUp: laySays[fire.BottomUp],
}

func (p Plan) sayTurnDown(s Step, sys units.System) (do, sign, why string) {
	c, _ := p.Wish.Stove.Control(s.Control)
	do = sayTo(c, s.Opening)
	switch {
	case s.Fire.When.Charred:
		sign = "when every piece is black all over" + gaugeSign(s.Fire.When, sys) + "."
		why = "Until then the pieces are still driving water off: turned down now they would smoke."
	case s.Last:
		sign = "some minutes later, with flames still there, lazy and high."
		why = "This is the lowest setting that still burns clean with this load. If the flames vanish and the gauge falls, go back one step."
	default:
		sign = "some minutes later, if the flames stay."
		why = "In steps, because the lining must be hot enough to burn the gas that less air leaves."
	}
	return do, sign, why
}

// gaugeSign adds the gauge to a sign, if the trigger has one.
func gaugeSign(t fire.Trigger, sys units.System) string {
	if t.Gauge == "" {
		return ""
	}
	return fmt.Sprintf(" and the %s is at %s", t.Gauge.Short(), sys.Sign(t.Above))
}

// briskWord says how far the air stays open while it chars, where that is not
// all the way.
func (p Plan) briskWord(s Step) string {
	c, ok := p.Wish.Stove.Control(s.Control)
	if !ok || s.Opening >= 0.99 {
		return ""
	}
	return fmt.Sprintf(", %s to %s: %s", units.LowerFirst(c.Name), c.Scale.Say(s.Opening), p.briskReason())
}

// briskWhy is the same as a reason of its own.
func (p Plan) briskWhy(s Step) string {
	c, ok := p.Wish.Stove.Control(s.Control)
	if !ok || s.Opening >= 0.99 {
		return ""
	}
	return fmt.Sprintf(" %s to %s and not further: %s.", units.UpperFirst(c.Name), c.Scale.Say(s.Opening), p.briskReason())
}

func (p Plan) briskReason() string {
	if p.Capped {
		return "fully open this stove runs too hot"
	}
	return "that is enough to char with"
}

func pieces(n int) string {
	words := []string{"no pieces", "one piece", "two pieces", "three pieces", "four pieces", "five pieces", "six pieces", "seven pieces", "eight pieces", "nine pieces"}
	if n >= 0 && n < len(words) {
		return words[n]
	}
	return fmt.Sprintf("%d pieces", n)
}

// about prints a range of times since the start.
func about(low, high time.Duration) string {
	if low < 0 || high < 0 {
		return ""
	}
	if high-low < 2*time.Minute {
		low, high = low-low/20, high+high/20+time.Minute
	}
	if high < time.Hour {
		return fmt.Sprintf("about %.0f–%.0f min in", low.Minutes(), high.Minutes())
	}
	if clock(low) == clock(high) {
		return fmt.Sprintf("about %s in", clock(low))
	}
	return fmt.Sprintf("about %s–%s in", strings.TrimSuffix(clock(low), " h"), clock(high))
}

// clock prints 1:20 for an hour and twenty minutes.
func clock(d time.Duration) string {
	m := int(d.Round(5*time.Minute) / time.Minute)
	return fmt.Sprintf("%d:%02d h", m/60, m%60)
}

// Summary lines that a plan is introduced with.
func (p Plan) Sentence(sys units.System) string {
	air, _ := p.Wish.Stove.MainAir()
	total := sys.Mass(p.Mass() - p.Kindling.Mass())
	last := fmt.Sprintf("%s; %s down to %s%s.", p.Direction, units.LowerFirst(air.Name), air.Scale.Say(p.Final), p.fedSays())
	switch {
	case p.First > 0 && p.Main > 0 && p.FirstOf.Stack.Name != p.MainOf.Stack.Name:
		return fmt.Sprintf("%s in all: %s of %s to light, %s of %s on the coals, %s", total, pieces(p.First), p.nameOf(p.FirstOf), pieces(p.Main), p.nameOf(p.MainOf), last)
	case p.First > 0 && p.Main > 0:
		return fmt.Sprintf("%s: %s, %s; %s to light, %s on the coals, %s", p.MainOf.Stack.Name, pieces(p.Pieces()), total, pieces(p.First), pieces(p.Main), last)
	case p.First > 0:
		if len(p.Feeds) > 0 {
			return fmt.Sprintf("%s: %s, %s; %s to light, %s", p.FirstOf.Stack.Name, pieces(p.Pieces()), total, pieces(p.First), last)
		}
		return fmt.Sprintf("%s: %s, %s, %s", p.FirstOf.Stack.Name, pieces(p.First), total, last)
	}
	if len(p.Feeds) > 0 {
		return fmt.Sprintf("%s: %s, %s; %s first, %s", p.MainOf.Stack.Name, pieces(p.Pieces()), total, pieces(p.Main), last)
	}
	return fmt.Sprintf("%s: %s, %s, %s", p.MainOf.Stack.Name, pieces(p.Main), total, last)
}

// Warnings says what the owner must know though the plan is good.
func (p Plan) Warnings(sys units.System) []string {
	var out []string
	w := p.Wish
	for i, s := range []wood.Stack{p.FirstOf.Stack, p.MainOf.Stack} {
		used := i == 0 && p.First > 0 || i == 1 && p.Main > 0 && (p.First == 0 || p.MainOf.ID != p.FirstOf.ID)
		if u := s.Moisture(); used && u > wetWood {
			out = append(out, fmt.Sprintf("%s is at %.0f %%: it chars slowly, smokes longer and makes more deposits.%s Wood under 20 %% would burn better.", s.Name, u.Percent(), p.costOfWet(sys)))
		}
	}
	if lowest, _ := p.RoomRange(); float64(w.Low)-lowest > 1.5 {
		one := "One burn does not hold the room"
		if len(p.Feeds) > 0 {
			one = "This stove with this wood does not hold the room, load after load"
		}
		out = append(out, fmt.Sprintf("%s: it comes down to about %s before the time is over. Other heating would be needed for the rest; burning hotter is not the way.",
			one, sys.RoomTemperature(units.Celsius(math.Round(lowest)))))
	}
	if main := p.MainOf.Stack; w.mostPieces(p.mainIndex()) == 1 && float64(w.Stove.MaxLoad) < 2*float64(main.PieceMass) {
		out = append(out, fmt.Sprintf("The manual's load is one piece of %s (%s): it is planned piece by piece. Put the next on when this one has gone to coals that still glow; a single piece smokes more for each kilogram than three together.",
			main.Name, sys.Mass(main.PieceMass)))
	}
	if until, limited := w.hands(); limited {
		out = append(out, fmt.Sprintf("All hands-on steps are done by %s after the start, and then it is watched for %s before the last one goes. Door shut, nothing near it; if it is late, do not load.",
			units.Duration(until), units.Duration(watched)))
	}
	if p.NearHot {
		out = append(out, "With drier wood, a stronger draft or a slower hand this load runs too hot: do not miss the first turn-down, and never leave it before the last.")
	}
	if weakest := p.weakestDraft(); weakest < weakDraft {
		out = append(out, fmt.Sprintf("Gusts take the draft of the dying fire down to about %s: coals make carbon monoxide, so the alarm must work, and the air stays open a little.", sys.Draft(max(0, weakest))))
	}
	if w.LeftOut > 0 {
		out = append(out, fmt.Sprintf("Of your stacks %d were tried, from light to dense; %d more were left out.", len(w.woods()), w.LeftOut))
	}
	if w.confined() {
		out = append(out, "A small space needs its own opening for fresh air all the time the fire is in, and a CO alarm with a display.")
		if w.unattended() {
			out = append(out, "You have said that the manual allows a fire here at night or while nobody is in. Check it once more: the vent open, the CO alarm beside the bed, nothing that could fall against the stove.")
		}
	}
	for _, c := range w.Stove.Controls {
		if c.Role == stove.AshFlap {
			out = append(out, fmt.Sprintf("%s stays shut on a wood fire: through it the wood is gone in half the time, and the stove may overheat.", c.Name))
		}
	}
	if w.Stove.Family == stove.MultiFuel {
		out = append(out, "This is for wood alone. Mineral fuel on wood or coals burns otherwise: it makes carbon monoxide for hours, more when the air is shut early; never mix the two.")
	}
	return out
}

// costOfWet says what the same pieces would do if they were dry.
func (p Plan) costOfWet(sys units.System) string {
	if p.IfDry == nil {
		return ""
	}
	out := fmt.Sprintf(" Dried to %.0f %% the same pieces would make %.1f g of smoke per kg instead of %.1f", dryWood.Percent(), p.IfDry.SmokePerKg, p.Summary.SmokePerKg)
	if more := p.IfDry.ToRoom - p.Summary.ToRoom; more > 0.02*p.Summary.ToRoom {
		out += fmt.Sprintf(" and give about %s more heat", sys.Energy(more))
	}
	return out + "."
}

// mainIndex is the place of the main wood among the wish's stacks.
func (p Plan) mainIndex() int {
	for i, pick := range p.Wish.woods() {
		if pick.ID == p.MainOf.ID && pick.Stack.Name == p.MainOf.Stack.Name {
			return i
		}
	}
	return 0
}

// Checklist is what to look at before lighting, for this stove and this day.
func (p Plan) Checklist(sys units.System) []string {
	general := []string{"Nothing that burns within the clearance on the plate; children and pets kept away, and never alone with it.",
		"No burn ban in force here today."}
	if p.Before.OnCoals && p.Wish.Start.few() {
		return append([]string{"Some coals that still glow under the ash. If there are none, plan it from cold; if they glow all over the floor, plan it for a good bed: then it needs no kindling."}, general...)
	}
	if p.Before.OnCoals {
		return append([]string{"Enough coals to light the load: glowing across the floor of the firebox. If there are fewer, plan it for few coals: they want kindling with them."}, general...)
	}
	b := p.Before
	var out []string
	if b.Prime {
		out = append(out, fmt.Sprintf("The cold chimney draws only %s. Warm it first: burning paper held high by the flue, or the starter on top of the lay, and see the flame lean inwards.", sys.Draft(p.beforePriming())))
	} else {
		out = append(out, fmt.Sprintf("The cold chimney draws %s: enough to light.", sys.Draft(b.Net)))
	}
	if p.Wish.House.Fan > 0 && !p.Wish.Help.FansOff {
		out = append(out, fmt.Sprintf("Reckoned with the fans running; off, the draft is %s.", sys.Draft(b.FanOff)))
	}
	out = append(out, "The right cap on; grate and air inlet free.",
		"A little ash out, a thin bed left. Coals stay live in it for days: into a metal bin with a tight lid, outdoors, on a surface that cannot burn.")
	return append(out, general...)
}

// beforePriming is the draft without the flue warmed.
func (p Plan) beforePriming() units.Pascal {
	w := p.Wish
	w.Help.Primed = false
	return BeforeLighting(w).Net
}
