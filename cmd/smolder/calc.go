package main

import (
	"encoding/json"
	"fmt"
	"io"
	"math"

	"github.com/spf13/cobra"

	"smolder/internal/core/flue"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// calcCommand is the calculator: one JSON object out, no database. Quantities
// are typed as people say them; one that makes no sense exits 2.
func calcCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "calc",
		Short: "Compute one figure and print it as JSON",
		Args:  cobra.ArbitraryArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			return usageError{fmt.Errorf("calc needs to know what: moisture, emc, draft, load, house-pressure or loss")}
		},
	}
	cmd.AddCommand(calcMoisture(), calcEMC(), calcDraft(), calcLoad(), calcHousePressure(), calcLoss())
	return cmd
}

// question builds one sub-command whose flags are quantities.
func question(use, short string, flags map[string][2]string, answer func(q *quantities) map[string]float64) *cobra.Command {
	typed := map[string]*string{}
	cmd := &cobra.Command{
		Use: use, Short: short, Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			q := &quantities{typed: typed}
			figures := answer(q)
			if q.err != nil {
				return usageError{q.err}
			}
			return printJSON(cmd.OutOrStdout(), figures)
		},
	}
	for name, f := range flags {
		typed[name] = cmd.Flags().String(name, f[0], f[1])
	}
	return cmd
}

// quantities reads flags and keeps the first error.
type quantities struct {
	typed map[string]*string
	err   error
}

func read[T any](q *quantities, flag string, parse func(string) (T, error)) T {
	v, err := parse(*q.typed[flag])
	if err != nil && q.err == nil {
		q.err = fmt.Errorf("--%s: %w", flag, err)
	}
	return v
}

// metric binds a parser to metric units, for bare numbers.
func metric[T any](parse func(string, units.System) (T, error)) func(string) (T, error) {
	return func(s string) (T, error) { return parse(s, units.Metric) }
}

func (q *quantities) refuse(format string, args ...any) {
	if q.err == nil {
		q.err = fmt.Errorf(format, args...)
	}
}

func calcMoisture() *cobra.Command {
	return question("moisture", "correct a pin meter's reading for the wood's temperature", map[string][2]string{
		"reading": {"", "what the meter reads, such as 18%"}, "wood-temp": {"20C", "temperature of the wood"},
	}, func(q *quantities) map[string]float64 {
		reading := read(q, "reading", units.ParseMoisture)
		t := read(q, "wood-temp", metric(units.ParseTemperature))
		if t < -40 || t > 60 {
			q.refuse("--wood-temp: the correction holds for wood between −40 and 60 °C")
		}
		u := wood.DryBasis(reading, t)
		return map[string]float64{"dry_basis_pct": u.Percent(), "wet_basis_pct": wood.WetBasis(u).Percent(),
			"net_energy_mj_per_kg": wood.NetEnergy(20, u)}
	})
}

func calcEMC() *cobra.Command {
	return question("emc", "moisture that wood comes to in this air", map[string][2]string{
		"temp": {"", "air temperature"}, "rh": {"", "relative humidity"},
	}, func(q *quantities) map[string]float64 {
		t, rh := read(q, "temp", metric(units.ParseTemperature)), read(q, "rh", units.ParsePercent)
		switch {
		case t < -30 || t > 70:
			q.refuse("--temp: the formula holds from −30 to 70 °C")
		case rh > 0.98:
			q.refuse("--rh: above 98 %% wood takes on liquid water and the formula ends: up to 98%% would do")
		}
		return map[string]float64{"emc_pct": wood.Equilibrium(t, rh).Percent()}
	})
}

func calcDraft() *cobra.Command {
	return question("draft", "draft of a chimney", map[string][2]string{
		"height": {"", "flue collar to cap"}, "flue": {"", "mean gas temperature"},
		"outdoor": {"", "outdoor temperature"}, "altitude": {"0m", "above the sea"},
	}, func(q *quantities) map[string]float64 {
		h := read(q, "height", metric(units.ParseLength))
		if h <= 0 || h > 100 {
			q.refuse("--height: a chimney is between 0 and 100 m tall; 6m would do")
		}
		return map[string]float64{"draft_pa": float64(flue.StackDraft(h, read(q, "flue", metric(units.ParseTemperature)),
			read(q, "outdoor", metric(units.ParseTemperature)), read(q, "altitude", metric(units.ParseLength))))}
	})
}

func calcLoad() *cobra.Command {
	return question("load", "what a load of wood holds", map[string][2]string{
		"species": {"", "kind of wood, such as beech"}, "moisture": {"", "dry basis, such as 18%"}, "mass": {"", "of the load"},
	}, func(q *quantities) map[string]float64 {
		s, u := read(q, "species", wood.SpeciesByKey), read(q, "moisture", units.ParseMoisture)
		m := read(q, "mass", metric(units.ParseMass))
		if m <= 0 {
			q.refuse("--mass: a load weighs something; 6kg would do")
		}
		l := wood.LoadOf(s, u, m)
		return map[string]float64{"dry_mass_kg": float64(l.DryMass), "energy_mj": l.Energy.MJ(),
			"energy_kwh": l.Energy.KWh(), "stacked_volume_l": float64(l.Stacked)}
	})
}

func calcHousePressure() *cobra.Command {
	return question("house-pressure", "how far fans pull the room below outdoors", map[string][2]string{
		"fan": {"", "flow of the fan"}, "n50": {"", "air changes per hour at 50 Pa"}, "volume": {"", "of the house"},
	}, func(q *quantities) map[string]float64 {
		n50 := read(q, "n50", func(s string) (float64, error) { return units.ParseNumber(s, "air change rate", 0.05, 60) })
		v := read(q, "volume", metric(units.ParseVolume))
		if v < 1000 {
			q.refuse("--volume: a house holds at least 1 m³; 400m3 would do")
		}
		return map[string]float64{"pressure_pa": float64(flue.HousePressure(read(q, "fan", metric(units.ParseFlow)), n50, v))}
	})
}

func calcLoss() *cobra.Command {
	return question("loss", "heat lost by the flue gas", map[string][2]string{
		"flue": {"", "gas temperature"}, "room": {"20C", "room temperature"}, "co2": {"", "of the dry gas, or give --o2"},
		"o2": {"", "of the dry gas, instead of --co2"}, "co": {"0%", "of the dry gas"}, "moisture": {"18%", "of the wood, dry basis"},
	}, func(q *quantities) map[string]float64 {
		s := flue.Sample{Gas: read(q, "flue", metric(units.ParseTemperature)), Room: read(q, "room", metric(units.ParseTemperature)),
			CO: read(q, "co", units.ParsePercent), Moisture: read(q, "moisture", units.ParseMoisture)}
		if *q.typed["o2"] != "" && *q.typed["co2"] == "" {
			s.O2 = read(q, "o2", units.ParsePercent)
		} else {
			s.CO2 = read(q, "co2", units.ParsePercent)
			if s.CO2 == 0 {
				q.refuse("--co2: %v; 9%% would do", flue.ErrGas)
			}
		}
		l, err := flue.LossOf(s)
		if err != nil {
			q.refuse("--co2: %w; 9%% would do", err)
		}
		return map[string]float64{"sensible_pct": l.Sensible.Percent(), "co_pct": l.CO.Percent(), "latent_pct": l.Latent.Percent(),
			"efficiency_net_pct": l.Net.Percent(), "efficiency_gross_pct": l.Gross.Percent(), "o2_pct": l.O2.Percent(), "air_factor": l.AirFactor}
	})
}

// printJSON prints figures to a millionth: beyond that they say nothing.
func printJSON(w io.Writer, figures map[string]float64) error {
	for k, v := range figures {
		figures[k] = math.Round(v*1e6) / 1e6
	}
	enc := json.NewEncoder(w)
	enc.SetIndent("", "  ")
	return enc.Encode(figures)
}
