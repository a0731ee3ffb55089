package say

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// An Instruction is a step in words: what to do, on what sign, why, and about
// when.
type Instruction struct {
	plan.Step
	Do       string // "Lever to a half"
	Sign     string // "when the flue gas is at 237 °C and every piece is black all over"
	Set      string // how it leaves the controls: "Lever fully right, bypass open"; empty where Do says it
	How      string // how it is done by hand
	Why      string
	Second   string // another sign of the same
	Else     string // what to do when its sign does not come, or what should follow it does not
	When     string // "about 14–20 min in"; empty when it comes first
	Settings []Setting
}

// A Setting is how a step leaves a control, with its mark: "a quarter", "shut".
type Setting struct {
	plan.Setting
	Says string
}

// Steps puts a plan's steps into words, in the household's units and each
// control's own marks.
func Steps(p plan.Plan, loc lang.Locale) []Instruction {
	out := make([]Instruction, 0, len(p.Steps))
	for i, s := range p.Steps {
		in := Step(p, s, loc)
		if i > 0 {
			in.When = about(s.Earliest, s.Latest, loc)
		}
		out = append(out, in)
	}
	return out
}

// Step puts one step of a plan into words.
func Step(p plan.Plan, s plan.Step, loc lang.Locale) Instruction {
	in := Instruction{Step: s, Settings: settings(s.Settings(p.Wish.Stove), loc)}
	in.Set = list(in.Settings, loc)
	speak := speaker{Plan: p, loc: loc}
	in.Else, in.Second = speak.otherwise(s), speak.second(s)
	switch s.Kind {
	case plan.LightIt:
		speak.light(&in)
	case plan.GrowIt:
		speak.grow(&in)
	case plan.ShutDoor:
		speak.shutDoor(&in)
	case plan.LoadIt:
		speak.load(&in)
	case plan.FeedIt:
		speak.feed(&in)
	case plan.CloseIt:
		speak.closeBypass(&in)
	case plan.TurnDown:
		speak.turnDown(&in)
	case plan.KeepIt:
		c, _ := p.Wish.Stove.Control(s.Control)
		in.Do, in.Set = To(c, s.Opening, loc), ""
		in.Sign = loc.T("when the flames are gone and the coals glow.")
		in.Why = loc.T("If nothing more goes on: glowing coals need little air, and less of it keeps them for hours. Never none: they would make carbon monoxide.")
	case plan.ShutWindow:
		speak.shutWindow(&in)
	case plan.BlowIt:
		speak.blow(&in)
	case plan.BedTime:
		speak.bed(&in)
	case plan.ReloadTime:
		in.Do = loc.T("The next load, if you want more heat")
		in.Sign = loc.T("when the flames are gone and the coals glow.")
		in.How = loc.T("Let the room begin to cool first.")
		in.Why = loc.T("Now the coals light it quickly: ") + Reload(p.Wish.Stove, loc) + loc.T(". An hour later there may be too few.")
	}
	return in
}

// speaker is a plan while it is said.
type speaker struct {
	plan.Plan
	loc lang.Locale
}

// litBy is what lights the kindling on few coals.
func (p speaker) litBy() string {
	if p.Kindling.StarterKind == "" && p.Kindling.Starter == 0 {
		return p.loc.T(" If there is no flame in five minutes, blow on the coals or light the kindling.")
	}
	return p.loc.T(" A handful does not light it by itself: use the starter as from cold.")
}

func (p speaker) shutDoor(in *Instruction) {
	in.Do = p.loc.T("Shut the door")
	if !p.Wish.Stove.Ajar() {
		in.Do = p.loc.T("It burns by itself")
	}
	if len(in.Settings) > 0 {
		in.Do += p.briskly(in.Step)
		in.Set = ""
	}
	in.Sign = p.loc.T("when the flames stand by themselves") + p.gauge(in.Fire.When) + "."
	in.Why = p.loc.T("Shut too early the fire starves and smokes; ajar for long it only heats the chimney.")
	m := p.Wish.Stove.Manual
	switch {
	case !p.Wish.Stove.Ajar():
		in.Why = p.loc.T("Its manual opens it to light, and no longer.")
	case m.DoorFor > 0:
		in.Why += p.loc.F(" Its manual has it ajar for %s at most.", p.loc.Duration(m.DoorFor))
	}
}

func (p speaker) load(in *Instruction) {
	in.Do = p.loc.F("Load %s, %s, %s", Pieces(p.Main, p.loc), p.loc.Mass(p.MainOf.Stack.PieceMass*units.Kilogram(p.Main)), Direction(p.Direction))
	if len(p.Wish.Others) > 0 {
		in.Do += p.loc.T(", of ") + p.nameOf(p.MainOf)
	}
	if p.Wish.Start.FirstFire() {
		in.Sign = p.loc.T("when over half of the first wood has burnt and coals glow under its last flames.")
		in.How = p.loc.T("Open slowly; rake the coals forward; the smallest piece on the coals.")
		in.Why = p.loc.T("Big wood on a small fire smothers it; on coals it lights from below at once.")
		return
	}
	in.Sign = p.firstOfAll()
	in.How = p.loc.T("Set the air first, wait a moment, open slowly; rake the coals to where the air comes in; the smallest piece on the coals, the largest at the back.") + p.helping()
	in.Why = p.loc.T("Coals under the air inlet light the new wood quickly, and quick charring is what keeps the smoke down.") + p.notFurther(in.Step)
}

// feed is a later load: its pieces, the coals that it waits for, and why not
// before.
func (p speaker) feed(in *Instruction) {
	for _, a := range in.Fire.Do {
		if a.Load != nil {
			in.Do = p.loc.F("Put on %s, %s, %s", Pieces(a.Load.Pieces, p.loc), p.loc.Mass(a.Load.Mass()), Direction(a.Load.Direction))
		}
	}
	in.Sign = p.loc.T("when at most a last small flame stands over glowing coals.")
	in.How = p.loc.T("Set the air first, wait a moment, open slowly; rake the coals to where the air comes in.")
	if slices.Contains(in.Fire.Do, fire.Act{Kind: fire.ActWindow, Open: true}) {
		in.How += p.loc.T(" The window open a crack first.")
	}
	if len(in.Settings) > 0 && p.Wish.High > 0 {
		in.How += p.loc.F(" If the room is over %s, let it cool first, as long as there are coals.", p.loc.RoomTemperature(p.Wish.High))
	}
	in.Why = p.loc.T("On wood that still flames it would run too hot; on coals gone grey it would lie and smoke. "+
		"With fewer coals than that, put kindling under it.") + p.notFurther(in.Step)
}

func (p speaker) closeBypass(in *Instruction) {
	in.Set = ""
	c, _ := p.Wish.Stove.Control(in.Control)
	in.Do = To(c, 0, p.loc)
	if p.Wish.Stove.Family != stove.Catalytic {
		in.Sign = p.loc.T("when all of it is black and the fire is lively.")
		in.Why = p.loc.T("Round the baffle the heat goes straight up the flue; shut, it goes by the plate first.")
		return
	}
	in.Why = p.loc.T("Below light-off a catalyst burns nothing and clogs; above it, it burns what the flames leave.")
	switch t := in.Fire.When; {
	case t.Gauge == stove.CatalystProbe:
		in.Sign = p.loc.F("when all of it is black and the catalyst has been over %s for five minutes.", p.loc.Sign(t.Above))
		if t.Least > 0 {
			in.How = p.loc.F("After %s %s will do.", p.loc.Duration(t.Latest), p.loc.Sign(t.Least))
		}
	case t.Gauge != "":
		in.Sign = p.loc.F("when all of it is black and the %s has been over %s for five minutes.", Places.Short(t.Gauge), p.loc.Sign(t.Above))
		in.How = p.loc.T("There is no thermometer at the catalyst.")
	default:
		in.Sign = p.loc.T("a quarter of an hour after loading, when all of it is black and flames fill the firebox.")
	}
}

func (p speaker) turnDown(in *Instruction) {
	c, _ := p.Wish.Stove.Control(in.Control)
	in.Do = To(c, in.Opening, p.loc)
	in.Set = list(slices.DeleteFunc(slices.Clone(in.Settings), func(s Setting) bool { return s.Control.Key == in.Control }), p.loc)
	switch {
	case in.Fire.When.Charred:
		in.Sign = p.loc.T("when all of it is black") + p.gauge(in.Fire.When) + "."
		in.Why = p.loc.T("Until then the pieces are still driving water off: turned down now they would smoke.")
	case in.Last:
		in.Sign = p.loc.T("some minutes later, with flames still there.")
		in.How = p.loc.T("Right are flames that are lazy and high.")
		in.Why = p.loc.T("This is the lowest setting that still burns clean with this load.")
		if in.Opening < plan.Floor {
			in.Why = p.loc.T("Your own burns were clean down here.")
		}
		if p.Unclean() {
			in.Why = p.loc.T("No setting that was tried burns this load clean; this one does best.")
		}
	default:
		in.Sign = p.loc.T("some minutes later, if the flames stay.")
		in.Why = p.loc.T("In steps, because the lining must be hot enough to burn the gas that less air leaves.")
	}
	if p.dampsFlue(in.Step) {
		in.Why += p.loc.T(" Your chimney draws more than this fire needs: the damper keeps heat in the stove. Open it before you open the door.")
		if p.firstOf(in.Step) {
			in.Why += p.brought(plan.DampFlue)
		}
	}
}

// second is another sign of the same: by eye where the first is a gauge, by how a gauge
// goes where the first is by eye.
func (p speaker) second(s plan.Step) string {
	g, guided := p.Wish.Stove.Guide()
	fallen := ""
	if guided {
		fallen = p.loc.F("The %s has then fallen by a third from its highest, and falls on.", Places.Short(g.Place))
	}
	switch s.Kind {
	case plan.GrowIt:
		return p.loc.T("It crackles, and the flames lean inwards.")
	case plan.ShutDoor:
		if s.Fire.When.Gauge != "" {
			return p.loc.T("By eye: the flames stand by themselves and lean inwards while the door is nearly shut.")
		}
		return p.loc.T("The flames lean inwards while the door is nearly shut.")
	case plan.LoadIt:
		if guided && p.Wish.Start.FirstFire() {
			return p.loc.F("The %s has stopped climbing, and begins to fall.", Places.Short(g.Place))
		}
	case plan.KeepIt, plan.ReloadTime, plan.FeedIt:
		return fallen
	case plan.CloseIt:
		if p.Wish.Stove.Family == stove.Catalytic {
			return p.loc.T("By eye: only shimmer at the cap, and flames over all of the wood.")
		}
	case plan.TurnDown:
		switch {
		case s.Fire.When.Charred && s.Fire.When.Gauge != "":
			return p.loc.T("By eye: no pale wood anywhere, and flames over all of it.")
		case s.Fire.When.Charred && guided:
			return p.loc.F("The %s has stopped climbing.", Places.Short(g.Place))
		case guided:
			return p.loc.F("The %s holds.", Places.Short(g.Place))
		}
		return p.loc.T("Nothing but shimmer at the cap.")
	}
	return ""
}

// otherwise says what to do when a step's sign does not come, or what should follow it
// does not: what [plan.Live] does in stoves like this one.
func (p speaker) otherwise(s plan.Step) string {
	switch s.Kind {
	case plan.LightIt:
		if !p.Wish.Stove.Ajar() {
			return p.loc.T("If nothing flames after six minutes: more kindling where it glows, and all air open. The door stays shut, as its manual says.")
		}
		return p.loc.T("If nothing flames after six minutes: more kindling where it glows, all air open, and the door stays ajar. Never shut it on a fire that dies.")
	case plan.ShutDoor:
		if !p.Wish.Stove.Ajar() {
			return p.loc.T("If the flames die: open it again until they stand by themselves.")
		}
		return p.loc.T("If the flames die: ajar again until they stand by themselves.")
	case plan.GrowIt:
		return p.loc.T("If the flames sink when it is on: nothing more until they stand again.")
	case plan.LoadIt, plan.FeedIt:
		if !p.Wish.Stove.Ajar() {
			return p.loc.T("If nothing flames on it after six minutes: all air open, and small dry sticks where it glows. The door stays shut, as its manual says.") + p.hotFirst(s)
		}
		return p.loc.T("If nothing flames on it after six minutes: all air open, then the door ajar until something does, and somebody beside it.") + p.hotFirst(s)
	case plan.KeepIt:
		return p.loc.T("If it goes grey within the hour: a little more air.")
	case plan.TurnDown:
		c, _ := p.Wish.Stove.Control(s.Control)
		back := p.loc.Mid(To(c, p.before(s), p.loc))
		return p.loc.F("If no flame is seen for two minutes while there is wood: %s again, and leave it there.", back) + p.hotFirst(s)
	}
	return ""
}

// before is how a turn-down's control stands before it.
func (p speaker) before(s plan.Step) float64 {
	opening := 1.0
	for _, other := range p.Steps {
		if other.Kind == s.Kind && other.Expected == s.Expected && other.Opening == s.Opening {
			break
		}
		for _, a := range other.Fire.Do {
			if a.Kind == fire.ActControl && a.Control == s.Control {
				opening = a.Opening
			}
		}
	}
	return opening
}

// hotFirst says what to do where a gauge nears its limit, once: with the load on the
// coals, or where there is none the first turn-down.
func (p speaker) hotFirst(s plan.Step) string {
	for _, other := range p.Steps {
		if other.Kind == plan.LoadIt || other.Kind == plan.TurnDown {
			if other.Kind != s.Kind || other.Expected != s.Expected {
				return ""
			}
			break
		}
	}
	g, at, ok := plan.Limit(p.Wish.Stove)
	c, found := p.Wish.Stove.MainAir()
	if !ok || !found {
		return ""
	}
	return p.loc.F(" Should the %s near %s at any time: %s to half of what it is at once, charred or not, and no further open until the next load.",
		Places.Short(g.Place), p.loc.Sign(at), p.loc.Mid(c.Name))
}

// gauge adds the gauge to a sign, if the trigger has one.
func (p speaker) gauge(t fire.Trigger) string {
	if t.Gauge == "" {
		return ""
	}
	return p.loc.F(" and the %s is at %s", Places.Short(t.Gauge), p.loc.Sign(t.Above))
}

// fullyOpen is the opening from which a control counts as fully open.
const fullyOpen = 0.99

// brisk is the control of a step and its mark, where it is not fully open.
func (p speaker) brisk(s plan.Step) (c stove.Control, mark string, less bool) {
	c, ok := p.Wish.Stove.Control(s.Control)
	return c, Mark(c.Scale, s.Opening, p.loc), ok && s.Opening < fullyOpen
}

// briskly says how far the air stays open while it chars, where that is not all
// the way.
func (p speaker) briskly(s plan.Step) string {
	c, mark, less := p.brisk(s)
	if !less {
		return ""
	}
	return p.loc.F(", %s to %s: %s", p.loc.Mid(c.Name), mark, p.whyBrisk())
}

// notFurther is the same as a reason of its own.
func (p speaker) notFurther(s plan.Step) string {
	c, mark, less := p.brisk(s)
	if !less {
		return ""
	}
	return p.loc.F(" %s to %s and not further: %s.", units.UpperFirst(c.Name), mark, p.whyBrisk())
}

func (p speaker) whyBrisk() string {
	if p.Capped {
		return p.loc.T("fully open this stove runs too hot")
	}
	return p.loc.T("that is enough to char with")
}

// of names a stack where there are several: " of Beech".
func (p speaker) of(pick pick) string {
	if len(p.Wish.Others) == 0 {
		return ""
	}
	return p.loc.T(" of ") + p.nameOf(pick)
}

// To is what a hand does: "Lever to a half", "Bypass shut".
func To(c stove.Control, opening float64, loc lang.Locale) string {
	mark := Mark(c.Scale, opening, loc)
	switch mark {
	case "shut", "open", "fully open":
		return units.UpperFirst(c.Name) + " " + mark
	}
	return loc.F("%s to %s", units.UpperFirst(c.Name), mark)
}

func settings(of []plan.Setting, loc lang.Locale) []Setting {
	out := make([]Setting, len(of))
	for i, s := range of {
		out[i] = Setting{s, Mark(s.Control.Scale, s.Opening, loc)}
	}
	return out
}

// list is controls with their marks: "Lever fully right, bypass open".
func list(settings []Setting, loc lang.Locale) string {
	var marks []string
	names := map[string][]string{}
	for i, s := range settings {
		name := loc.Mid(s.Control.Name)
		if i == 0 {
			name = units.UpperFirst(s.Control.Name)
		}
		if len(names[s.Says]) == 0 {
			marks = append(marks, s.Says)
		}
		names[s.Says] = append(names[s.Says], name)
	}
	parts := make([]string, len(marks))
	for i, mark := range marks {
		parts[i] = strings.Join(names[mark], ", ") + " " + mark
	}
	return strings.Join(parts, "; ")
}

// LaterLoads is a line for loads that go on later, from the first to the last, and about when.
func LaterLoads(n int, first, last time.Duration, loc lang.Locale) (says, when string) {
	if n == 1 {
		return loc.T("Another load"), about(first, first, loc)
	}
	return units.UpperFirst(loc.F("%s more loads", number(n, loc))), about(first, last, loc)
}

// about prints a range of times since the start.
func about(low, high time.Duration, loc lang.Locale) string {
	if low < 0 || high < 0 {
		return ""
	}
	if high-low < 2*time.Minute {
		low, high = low-low/20, high+high/20+time.Minute
	}
	if high < time.Hour {
		return loc.F("about %.0f–%.0f min in", low.Minutes(), high.Minutes())
	}
	from, to := hours(low), hours(high)
	if from == to {
		return loc.T("about ") + from + loc.T(" h in")
	}
	return loc.T("about ") + from + "–" + to + loc.T(" h in")
}

// hours prints 1:20 for an hour and twenty minutes.
func hours(d time.Duration) string {
	m := int(d.Round(5*time.Minute) / time.Minute)
	return fmt.Sprintf("%d:%02d", m/60, m%60)
}
