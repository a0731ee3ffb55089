package main

import (
	"encoding/json"
	"errors"

	"github.com/spf13/cobra"

	"smolder/internal/core/search"
	"smolder/internal/core/wish"
	"smolder/internal/exchange"
	"smolder/internal/exchange/scenario"
	"smolder/internal/lang"
	"smolder/internal/say"
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
		c, err := search.Plans(cmd.Context(), w, search.Usual, nil)
		if refused := new(wish.Refusal); errors.As(err, &refused) {
			said := say.Refusal(refused, lang.Metric)
			return enc.Encode(map[string]string{"refused": said.Why, "would_do": said.Try})
		}
		if err != nil {
			return err
		}
		return enc.Encode(exchange.PlansOf(c))
	}
	return cmd
}
