package main

import (
	"os"
	"time"

	"github.com/spf13/cobra"

	"smolder/internal/probe"
)

// probeCommand is the simulated thermometers, as a process of their own.
func probeCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use: "probe --stove NUMBER", Short: "Simulated thermometers on a stove that is not quite as its owner says",
		Long: "Follows the log of the burn that is on in a stove, lets a stove of its own burn by it whose leak, inlets, lever and gauges\n" +
			"differ, and sends what its thermometers show: with lag, noise, silences and a clock that drifts. A burn that began a while\n" +
			"ago is caught up with at --speed. The token is in --token or SMOLDER_TOKEN; it may send readings and ask.",
		Args: cobra.NoArgs,
	}
	o := probe.Options{Log: logger()}
	cmd.Flags().StringVar(&o.Server, "server", "http://127.0.0.1:8420", "where Smolder is")
	cmd.Flags().StringVar(&o.Token, "token", os.Getenv("SMOLDER_TOKEN"), "made on the page of the stove; SMOLDER_TOKEN in the environment says the same")
	cmd.Flags().Int64Var(&o.Stove, "stove", 0, "number of the stove")
	cmd.Flags().Uint64Var(&o.Seed, "seed", 7, "which stove it is")
	cmd.Flags().Float64Var(&o.Speed, "speed", 60, "1 to 600: how quickly it catches up with the log")
	cmd.Flags().DurationVar(&o.Every, "every", 5*time.Second, "between readings")
	cmd.Flags().StringVar(&o.Broker, "mqtt", "", "broker to publish at, such as tcp://127.0.0.1:1883, in place of HTTP")
	cmd.RunE = func(cmd *cobra.Command, _ []string) error {
		if err := o.Check(); err != nil {
			return usageError{err}
		}
		return probe.Run(cmd.Context(), o)
	}
	return cmd
}
