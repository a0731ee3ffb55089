// Command smolder serves the Smolder web application and answers questions
// about wood fires on the command line.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/signal"
	"syscall"

	_ "time/tzdata" // zones also where the system has none

	"github.com/spf13/cobra"
)

// usageError marks input that cannot be understood; it exits with status 2.
type usageError struct{ error }

func (e usageError) Unwrap() error { return e.error }

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := root().ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, err)
		if errors.As(err, new(usageError)) {
			os.Exit(2)
		}
		os.Exit(1)
	}
}

func root() *cobra.Command {
	cmd := &cobra.Command{
		Use:           "smolder",
		Short:         "Plans, watches and reviews wood fires",
		Long:          "Smolder is a web application for people who heat with wood: it plans each burn, watches it with you\nat the stove and shows afterwards what to do differently.",
		SilenceUsage:  true,
		SilenceErrors: true,
	}
	cmd.SetFlagErrorFunc(func(_ *cobra.Command, err error) error { return usageError{err} })
	cmd.AddCommand(serveCommand(), migrateCommand(), inviteCommand(), spreadCommand(), backupCommand(), restoreCommand(), pushKeysCommand(), demoCommand(),
		calcCommand(), simulateCommand(), planCommand(), probeCommand(), weatherCommand(),
		languageCommand(), passwordCommand(), licensesCommand(), schemaCommand(), withPostgresCommand())
	return cmd
}
