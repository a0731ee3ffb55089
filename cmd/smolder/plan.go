package main

import (
	"encoding/json"
	"errors"
	"math"
	"time"

	"github.com/spf13/cobra"

	"smolder/internal/core/plan"
	"smolder/internal/core/scenario"
	"smolder/internal/core/units"
	"smolder/internal/exchange"
)

// planCommand plans a burn from a scenario and prints it as JSON; it needs no
// database.
func planCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use: "plan --scenario FILE", Short: "Plan a burn from a scenario and print it as JSON",
		Long: "Reads stove, flue, house, weather and wood from the file (- for standard input) and what is wished from its field\n" +
			"\"plan\" (docs/formats.md), and prints the best plan with its alternatives, or why there is none and what would do.",
		Args: cobra.NoArgs,
	}
	file := cmd.Flags().String("scenario", "", "file with the scenario, - for standard input")
	cmd.RunE = func(cmd *cobra.Command, _ []string) error {
		b, err := readScenario(cmd, *file)
		if err != nil {
			return usageError{err}
		}
		w, err := scenario.ParseWish(b)
		if err != nil {
			return usageError{err}
		}
		enc := json.NewEncoder(cmd.OutOrStdout())
		enc.SetIndent("", "  ")
		c, err := plan.Search(cmd.Context(), w, nil)
		if refused := new(plan.Refusal); errors.As(err, &refused) {
			return enc.Encode(map[string]string{"refused": refused.Why, "would_do": refused.Try})
		}
		if err != nil {
			return err
		}
		return enc.Encode(choiceOut(c))
	}
	return cmd
}

// choiceOut is a choice of plans in the open form.
func choiceOut(c plan.Choice) map[string]any {
	plans := make([]map[string]any, len(c.Plans))
	for i, p := range c.Plans {
		first, main := p.Loads()
		plans[i] = map[string]any{
			"sentence": p.Sentence(units.Metric), "why": c.Why(i, units.Metric), "direction": p.Direction, "lay": p.Lay, "final_opening": p.Final,
			"first": loadOut(p.FirstOf.Stack.Name, first.Pieces, first.Mass()), "main": loadOut(p.MainOf.Stack.Name, main.Pieces, main.Mass()),
			"feeds": feedsOut(p), "kindling_kg": p.Kindling.Mass(), "wood_kg": p.Mass(), "steps": stepsOut(p), "checklist": append(p.Checklist(units.Metric), "CO and smoke alarms in place and tested."), "warnings": warnings(p),
			"summary": exchange.SummaryOf(p.Summary), "room_c": p.Predicted.Room, "room_every_min": p.Predicted.Every.Minutes(),
		}
	}
	b := c.Plans[0].Before
	return map[string]any{"tried": c.Tried, "plans": plans,
		"before": map[string]any{"net_draft_pa": b.Net, "as_is_pa": b.AsIs, "primed_pa": b.Primed, "fans_off_pa": b.FanOff, "window_pa": b.Window, "prime": b.Prime, "do_not_light": b.DoNot}}
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
	for _, in := range p.Say(units.Metric) {
		sets := []map[string]any{}
		for _, set := range in.Settings {
			sets = append(sets, map[string]any{"control": set.Control.Key, "name": set.Control.Name, "opening": set.Opening, "says": set.Says})
		}
		out = append(out, map[string]any{"kind": in.Kind, "do": in.Do, "sets": sets, "sign": in.Sign, "why": in.Why,
			"earliest_min": minutes(in.Earliest), "expected_min": minutes(in.Expected), "latest_min": minutes(in.Latest)})
	}
	return out
}

// warnings are what must be known though the plan is good, whether a fire is
// needed at all first.
func warnings(p plan.Plan) []string {
	out := p.Warnings(units.Metric)
	if alone := p.Wish.SayAlone(units.Metric); alone != "" {
		out = append([]string{alone}, out...)
	}
	if home := p.SayHome(units.Metric); home != "" {
		out = append(out, home)
	}
	return out
}
