package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"

	"smolder/internal/exchange"
	"smolder/internal/exchange/scenario"
	"smolder/internal/lang"
	"smolder/internal/strip"
)

// mostScenario is the largest scenario that is read, in bytes.
const mostScenario = 1 << 20

// simulateCommand burns a scenario and prints it; it needs no database.
func simulateCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use: "simulate --scenario FILE [--out json|csv|svg]", Short: "Simulate a burn from a scenario and print it",
		Long: "Burns the scenario in the file (- for standard input; docs/formats.md describes it, the scenarios folder has\n" +
			"examples) and prints its series: as JSON with the summary in it, as CSV, or as a strip in SVG. With CSV and SVG\nthe summary goes to standard error.",
		Args: cobra.NoArgs,
	}
	file := cmd.Flags().String("scenario", "", "file with the scenario, - for standard input")
	out := cmd.Flags().String("out", "json", "json, csv or svg")
	cmd.RunE = func(cmd *cobra.Command, _ []string) error {
		write, known := runWriters[*out]
		if !known {
			return usageError{fmt.Errorf("--out: %q is not a form of output: json, csv or svg would do", *out)}
		}
		b, err := readScenario(cmd, *file)
		if err != nil {
			return usageError{err}
		}
		s, err := scenario.Parse(b)
		if err != nil {
			return usageError{err}
		}
		return write(cmd.OutOrStdout(), cmd.ErrOrStderr(), s)
	}
	return cmd
}

func readScenario(cmd *cobra.Command, file string) ([]byte, error) {
	if file == "" {
		return nil, errors.New("--scenario: a file is missing; scenarios/auntie-evening.json would do")
	}
	in := cmd.InOrStdin()
	if file != "-" {
		f, err := os.Open(file)
		if err != nil {
			return nil, fmt.Errorf("--scenario: %w", err)
		}
		defer f.Close()
		in = f
	}
	b, err := io.ReadAll(io.LimitReader(in, mostScenario+1))
	if err == nil && len(b) > mostScenario {
		err = errors.New("--scenario: the file is larger than 1 MB; a scenario of a few kB would do")
	}
	return b, err
}

var runWriters = map[string]func(out, beside io.Writer, s scenario.Scenario) error{
	"json": func(out, _ io.Writer, s scenario.Scenario) error { return exchange.WriteRunJSON(out, s.Name, s.Run()) },
	"csv": func(out, beside io.Writer, s scenario.Scenario) error {
		r := s.Run()
		return errors.Join(exchange.WriteRunCSV(out, r), json.NewEncoder(beside).Encode(exchange.SummaryOf(r.Summary)))
	},
	"svg": func(out, beside io.Writer, s scenario.Scenario) error {
		r := s.Run()
		c := strip.RunChart("run", lang.Metric, strip.Run{Setup: s.Setup, Steps: s.Steps, Result: r}, nil)
		c.Width = 1060
		_, err := io.WriteString(out, c.Standalone())
		return errors.Join(err, json.NewEncoder(beside).Encode(exchange.SummaryOf(r.Summary)))
	},
}
