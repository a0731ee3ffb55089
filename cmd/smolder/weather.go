package main

import (
	"fmt"
	"net"
	"os"

	"github.com/spf13/cobra"

	"smolder/internal/weather"
)

// weatherCommand serves the stand-in forecast as a process of its own.
func weatherCommand() *cobra.Command {
	cmd := &cobra.Command{Use: "weather", Short: "Serve the stand-in forecast of the made-up island", Args: cobra.NoArgs}
	address := cmd.Flags().String("listen", "127.0.0.1:8430", "address to serve on")
	cmd.RunE = func(cmd *cobra.Command, _ []string) error {
		listener, err := net.Listen("tcp", *address)
		if err != nil {
			return fmt.Errorf("listening on %s: %w; another address would do, such as --listen 127.0.0.1:0", *address, err)
		}
		fmt.Fprintf(cmd.OutOrStdout(), "The weather is at http://%s/v1/hourly\n", listener.Addr())
		return serveUntil(cmd.Context(), newHTTPServer(weather.Handler(weather.Island{})), listener)
	}
	return cmd
}

// forecastFlag adds --weather with SMOLDER_WEATHER behind it.
func forecastFlag(cmd *cobra.Command) *string {
	return cmd.Flags().String("weather", os.Getenv("SMOLDER_WEATHER"),
		"address of a forecast service for every household that names none of its own; empty: they type the weather; SMOLDER_WEATHER says the same")
}

func forecastOf(address string) weather.Source {
	if address == "" {
		return nil
	}
	return weather.Service{Base: address}
}
