package plan

import (
	"fmt"
	"math"
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
	Do   string // "Lever to a half"
	Sign string // "when the flue gas is at 237 °C and every piece is black all over"
	Why  string
	When string // "about 14–20 min in"; empty when it comes first
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
	in := Instruction{Step: s}
	t := s.Fire.When
	switch s.Kind {
	case LightIt:
		from := ""
		if len(p.Wish.Others) > 0 {
			from = " of " + p.nameOf(p.FirstOf)
		}
		in.Do = fmt.Sprintf(laySays[p.Lay], pieces(p.First)+from, p.Direction, sys.Mass(p.Kindling.Mass())) + ", door ajar"
		in.Sign = "All air open" + p.bypassWord() + "."
		if p.Before.Prime {
			in.Sign += " First warm the flue: a few sheets of paper burnt high under it, until the flame leans inwards."
		}
		in.Why = layWhy(p.Lay) + " Stay while the door is ajar."
	case ShutDoor:
		in.Do = "Shut the door" + p.briskWord(s)
		in.Sign = "when the fire keeps its own draft" + gaugeSign(t, sys) + ". If flames die down, open it again."
		in.Why = "Shut too early the fire starves and smokes; ajar for long it only heats the chimney."
	case LoadIt:
		in.Do = fmt.Sprintf("Load %s, %s, %s", pieces(p.Main), sys.Mass(p.MainOf.Stack.PieceMass*units.Kilogram(p.Main)), p.Direction)
		if len(p.Wish.Others) > 0 {
			in.Do += ", of " + p.nameOf(p.MainOf)
		}
		in.Do += p.briskWord(s)
		if p.Wish.Start == Cold {
			in.Sign = "when the first wood has burnt down to glowing coals. All air open; rake the coals forward; smallest piece on the coals."
			in.Why = "Big wood on a small fire smothers it; on coals it lights from below at once."
		} else {
			in.Sign = "Air open" + p.bypassWord() + ", wait a moment, open slowly; rake the coals to where the air comes in; smallest piece on the coals, largest at the back."
			in.Why = "Coals under the air inlet light the new wood quickly, and quick charring is what keeps the smoke down."
		}
	case CloseIt:
		in.Do = "Close the bypass"
		in.Sign = fmt.Sprintf("when the catalyst has been above %s for five minutes.", sys.Temperature(t.Above-10))
		in.Why = "Below light-off a catalyst burns nothing and clogs; above it, it burns what the flames leave."
	case TurnDown:
		in.Do, in.Sign, in.Why = p.sayTurnDown(s, sys)
	case ReloadTime:
		in.Do = "The next load, if you want more heat"
		in.Sign = "when flames are gone and the coals glow. Let the room begin to cool first."
		in.Why = "Now the coals light three pieces quickly; an hour later there may be too few."
	}
	return in
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

func (p Plan) sayTurnDown(s Step, sys units.System) (do, sign, why string) {
	c, _ := p.Wish.Stove.Control(s.Control)
	name := strings.ToLower(c.Name)
	do = fmt.Sprintf("%s to %s", upperFirst(name), c.Scale.Say(s.Opening))
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
	why := "enough to char with"
	if p.Capped {
		why = "fully open this stove runs too hot"
	}
	return fmt.Sprintf(", %s to %s: %s", strings.ToLower(c.Name), c.Scale.Say(s.Opening), why)
}

func (p Plan) bypassWord() string {
	if c, ok := p.Wish.Stove.Bypass(); ok {
		return ", " + strings.ToLower(c.Name) + " open"
	}
	return ""
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

func upperFirst(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

// Summary lines that a plan is introduced with.
func (p Plan) Sentence(sys units.System) string {
	air, _ := p.Wish.Stove.MainAir()
	total := sys.Mass(p.Mass() - p.Kindling.Mass())
	last := fmt.Sprintf("%s; %s down to %s.", p.Direction, strings.ToLower(air.Name), air.Scale.Say(p.Final))
	switch {
	case p.First > 0 && p.Main > 0 && p.FirstOf.Stack.Name != p.MainOf.Stack.Name:
		return fmt.Sprintf("%s in all: %s of %s to light, %s of %s on the coals, %s", total, pieces(p.First), p.nameOf(p.FirstOf), pieces(p.Main), p.nameOf(p.MainOf), last)
	case p.First > 0 && p.Main > 0:
		return fmt.Sprintf("%s: %s, %s; %s to light, %s on the coals, %s", p.MainOf.Stack.Name, pieces(p.Pieces()), total, pieces(p.First), pieces(p.Main), last)
	case p.First > 0:
		return fmt.Sprintf("%s: %s, %s, %s", p.FirstOf.Stack.Name, pieces(p.First), total, last)
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
		out = append(out, fmt.Sprintf("One burn does not hold the room: it comes down to about %s before the time is over. A second load, or other heating, would be needed; burning hotter is not the way.",
			sys.RoomTemperature(units.Celsius(math.Round(lowest)))))
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
	if w.Stove.Family == stove.Tiny {
		out = append(out, "A small space needs its own opening for fresh air all the time the fire is in, and a CO alarm with a display.")
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
	if p.Before.OnCoals {
		return []string{"Air open and a moment's wait before the door is opened.", "Enough coals to light the load: glowing across the floor of the firebox."}
	}
	b := p.Before
	var out []string
	switch {
	case b.DoNot:
		out = append(out, fmt.Sprintf("Do not light as things are: net draft %s, smoke would come into the room. Fans off makes it %s, with a window on the stove's level cracked open %s.",
			sys.Draft(b.Net), sys.Draft(b.FanOff), sys.Draft(b.Window)))
	case b.Prime:
		out = append(out, fmt.Sprintf("The cold chimney draws only %s. Warm it first: burning paper held high by the flue, or the starter on top of the lay, and see the flame lean inwards.", sys.Draft(b.Net)))
	default:
		out = append(out, fmt.Sprintf("The cold chimney draws %s: enough to light.", sys.Draft(b.Net)))
	}
	if p.Wish.House.Fan > 0 && !b.DoNot {
		out = append(out, fmt.Sprintf("Fans off: with them off the draft is %s.", sys.Draft(b.FanOff)))
	}
	if _, ok := p.Wish.Stove.Bypass(); ok {
		out = append(out, "Bypass open.")
	}
	for _, c := range p.Wish.Stove.Controls {
		if c.Role == stove.OutsideAir {
			out = append(out, "Outside-air gate open.")
		}
	}
	return append(out, "The right cap on; a little ash out, a thin bed left; grate and air inlet free.", "Nothing that burns within the clearance on the plate.")
}
