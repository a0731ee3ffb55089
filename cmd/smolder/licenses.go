package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"smolder/internal/notices"
)

func licensesCommand() *cobra.Command {
	cmd := &cobra.Command{Use: "licenses", Short: "Print the licences of what others have written and this ships", Args: cobra.NoArgs}
	cmd.RunE = func(cmd *cobra.Command, _ []string) error {
		_, err := fmt.Fprintf(cmd.OutOrStdout(), "Smolder %s\n\n%s", notices.Version(), notices.Text)
		return err
	}
	return cmd
}
