package say

import (
	"slices"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// What is moved besides the fire, in words: when, and what it brings.

// shutWindow is a window that may be shut again.
func (p speaker) shutWindow(in *Instruction) {
	in.Do = p.loc.T("Shut the window")
	in.Sign = p.loc.T("when the flue draws by itself") + p.gauge(in.Fire.When) + "."
	in.Why = p.loc.T("The warm flue holds its own draft now.")
	if p.firstOf(in.Step) {
		in.Why += p.brought(plan.ShutWindow)
	}
	in.Else = p.loc.T("If flames lean out of the door or you smell smoke: open it again, and leave it so. Open it before the next load.")
}

// blow is the room blower on.
func (p speaker) blow(in *Instruction) {
	c, _ := p.Wish.Stove.Control(in.Control)
	in.Do, in.Set = To(c, in.Opening, p.loc), ""
	in.Sign = p.loc.T("when the stove is warm") + p.gauge(in.Fire.When) + "."
	in.Why = p.loc.T("Before, it would cool a stove that has to get hot.")
	if p.firstOf(in.Step) {
		in.Why += p.brought(plan.BlowIt)
	}
	in.Else = p.loc.T("If the flames sink: off again. Off before you open the door.")
}

// bed is the last look before everybody sleeps or goes: what stays open, and why.
func (p speaker) bed(in *Instruction) {
	b := p.extra(plan.BedTime)
	in.Sign = p.loc.T("before you go to bed, or out.")
	var names []string
	for _, s := range in.Settings {
		names = append(names, s.Control.Name+" "+s.Says)
	}
	in.Do, in.Set = units.UpperFirst(joined(names, p.loc)), ""
	switch {
	case b.Burns:
		in.Why = p.loc.T("It burns: shut, it would smoke for hours and could send carbon monoxide into the room.")
	case b.Glows:
		in.Why = p.loc.T("For shutting more: less warm air goes up the flue. Against: coals without air make carbon monoxide for hours. So no further.") + p.brought(plan.BedTime)
	default:
		in.Why = p.loc.T("No coals are left: shut, the house keeps its warm air.") + p.brought(plan.BedTime)
	}
	switch {
	case slices.ContainsFunc(in.Settings, func(s Setting) bool { return s.Opening == 0 }):
		in.Else = p.loc.T("If anything still glows under the ash: leave it open.")
	case slices.ContainsFunc(in.Settings, func(s Setting) bool { return s.Control.Role == stove.Damper }):
		in.Else = p.loc.T("If there are still flames or wood: leave the damper open.")
	}
}

// joined are words with commas.
func joined(words []string, loc lang.Locale) string {
	out := ""
	for i, w := range words {
		if i > 0 {
			out += loc.T(", ")
		}
		out += w
	}
	return out
}

// extra is what a plan has of one thing that is moved besides the fire.
func (p speaker) extra(k plan.StepKind) plan.Extra {
	for _, b := range p.Extras {
		if b.Kind == k {
			return b
		}
	}
	return plan.Extra{}
}

// Less than this is not worth a word.
const (
	saysKilo = 0.1
	saysHeat = 0.05 // kWh
)

// brought is what it brings: heat into the room, coals.
func (p speaker) brought(k plan.StepKind) string {
	b := p.extra(k)
	out := ""
	if kwh := float64(b.Heat) / 3.6e6; kwh >= saysHeat {
		out += p.loc.F(" It brings %s more heat into the room.", p.loc.Energy(b.Heat))
	}
	if float64(b.Coals) >= saysKilo {
		out += p.loc.F(" %s more coals are left.", p.loc.Mass(b.Coals))
	}
	return out
}

// firstOf tells whether a step is the first of its kind that is a load's last: what all of
// them bring is said once.
func (p speaker) firstOf(s plan.Step) bool {
	for _, other := range p.Steps {
		if other.Kind == s.Kind && other.Last == s.Last {
			return other.Expected == s.Expected
		}
	}
	return true
}

// dampsFlue tells whether a step shuts a damper in the flue partly.
func (p speaker) dampsFlue(s plan.Step) bool {
	return s.Last && p.extra(plan.DampFlue).Kind != "" && slices.ContainsFunc(s.Fire.Do, func(a fire.Act) bool { return a.Kind == fire.ActControl && a.Role == stove.Damper })
}
