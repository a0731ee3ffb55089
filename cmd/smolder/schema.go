package main

import (
	"github.com/spf13/cobra"

	"smolder/internal/exchange"
)

// schemaCommand prints what a logbook as JSON holds.
func schemaCommand() *cobra.Command {
	return &cobra.Command{Use: "schema", Short: "Print the JSON Schema of a logbook", Args: cobra.NoArgs, RunE: func(cmd *cobra.Command, _ []string) error {
		_, err := cmd.OutOrStdout().Write(exchange.Schema())
		return err
	}}
}
