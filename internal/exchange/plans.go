package exchange

import (
	"math"
	"time"

	"smolder/internal/form"
	"smolder/internal/lang"

	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/units"
	"smolder/internal/say"
)

// PlansOf is a choice of plans in the open form, its sentences in metric units.
func PlansOf(c search.Choice) map[string]any {
	plans := make([]map[string]any, len(c.Plans))
	for i, p := range c.Plans {
		first, main := p.Loads()
		plans[i] = map[string]any{
			"sentence": say.Plan(p, lang.Metric), "why": why(c, i), "direction": p.Direction, "lay": p.Lay, "final_opening": p.Final,
			"first": loadOut(p.FirstOf.Stack.Name, first.Pieces, first.Mass()), "main": loadOut(p.MainOf.Stack.Name, main.Pieces, main.Mass()),
			"feeds": feedsOut(p), "kindling_kg": p.Kindling.Mass(), "wood_kg": p.Mass(), "steps": stepsOut(p),
			"checklist": append(say.Checklist(p, lang.Metric), "CO and smoke alarms in place and tested."), "warnings": warnings(p),
			"trust": form.TrustOf(p.Trust), "summary": SummaryOf(p.Summary), "room_c": p.Predicted.Room, "room_every_min": p.Predicted.Every.Minutes(),
		}
	}
	b := c.Plans[0].Before
	return map[string]any{"tried": c.Tried, "plans": plans,
		"before": map[string]any{"net_draft_pa": b.Net, "as_is_pa": b.AsIs, "primed_pa": b.Primed, "fans_off_pa": b.FanOff, "window_pa": b.Window,
			"prime": b.Prime, "do_not_light": b.DoNot}}
}

// feedsOut are the later loads of a wish that is longer than one.
func feedsOut(p plan.Plan) []any {
	out := []any{}
	for _, f := range p.Feeds {
		out = append(out, loadOut(f.Of.Stack.Name, f.Pieces, f.Mass()))
	}
	return out
}

func loadOut(stack string, pieces int, mass units.Kilogram) any {
	if pieces == 0 {
		return nil
	}
	return map[string]any{"stack": stack, "pieces": pieces, "kg": mass}
}

func stepsOut(p plan.Plan) []map[string]any {
	var out []map[string]any
	minutes := func(d time.Duration) any {
		if d < 0 {
			return nil
		}
		return math.Round(d.Minutes()*10) / 10
	}
	for _, in := range say.Steps(p, lang.Metric) {
		sets := []map[string]any{}
		for _, set := range in.Settings {
			sets = append(sets, map[string]any{"control": set.Control.Key, "name": set.Control.Name, "opening": set.Opening, "says": set.Says})
		}
		when := in.Fire.When
		out = append(out, map[string]any{"kind": in.Kind, "do": in.Do, "sets": sets, "control": in.Control, "opening": in.Opening,
			"gauge": when.Gauge, "above_c": when.Above, "held_min": when.Held.Minutes(), "charred": when.Charred, "wood_left_kg": when.WoodLeft,
			"after_min": when.After.Minutes(), "at_the_latest_min": when.Latest.Minutes(), "at_the_latest_above_c": when.Least, "passed_over_at_kg": when.PassedBy,
			"sign": in.Sign, "second": in.Second, "how": in.How, "why": in.Why, "else": in.Else, "share": in.Share,
			"earliest_min": minutes(in.Earliest), "expected_min": minutes(in.Expected), "latest_min": minutes(in.Latest)})
	}
	return out
}

// warnings are what must be known though the plan is good, whether a fire is
// needed at all first.
func warnings(p plan.Plan) []string {
	out := say.Cautions(p, lang.Metric)
	if alone := say.Lull(p.Wish, lang.Metric); alone != "" {
		out = append([]string{alone}, out...)
	}
	if home := say.Return(p, lang.Metric); home != "" {
		out = append(out, home)
	}
	return out
}

// why says why the first plan won, or how one of the others differs from it.
func why(c search.Choice, i int) string {
	if i == 0 {
		return say.Best(c.Plans[0], lang.Metric)
	}
	return say.Differs(c.Plans[i], c.Plans[0], lang.Metric)
}
