package exchange

import (
	"encoding/csv"
	"encoding/json"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// A column is one quantity of a simulated series.
type column struct {
	name string
	of   func(fire.Sample) any
}

func figure(v float64, decimals int) float64 {
	scale := math.Pow(10, float64(decimals))
	return math.Round(v*scale)/scale + 0 // no −0
}

func gauge(p stove.Place) func(fire.Sample) any {
	return func(s fire.Sample) any { t, _ := s.Reading(p); return figure(float64(t), 1) }
}

// gauges are the columns of all places.
func gauges() []column {
	var out []column
	for _, r := range stove.PlaceRows {
		out = append(out, column{r.Column, gauge(r.Place)})
	}
	return out
}

// series are the columns of a simulated burn, in order; docs/formats.md
// describes them.
var series = slices.Concat([]column{
	{"minute", func(s fire.Sample) any { return figure(s.At.Minutes(), 3) }},
	{"phase", func(s fire.Sample) any { return string(s.Phase) }},
}, gauges(), []column{
	{"draft_pa", func(s fire.Sample) any { return figure(float64(s.Draft), 2) }},
	{"primary_g_s", func(s fire.Sample) any { return figure(s.PrimaryAir*1e3, 3) }},
	{"secondary_g_s", func(s fire.Sample) any { return figure(s.SecondAir*1e3, 3) }},
	{"grate_g_s", func(s fire.Sample) any { return figure(s.GrateAir*1e3, 3) }},
	{"door_g_s", func(s fire.Sample) any { return figure(s.DoorAir*1e3, 3) }},
	{"air_g_s", func(s fire.Sample) any { return figure(s.Flow*1e3, 3) }},
	{"wood_kg", func(s fire.Sample) any { return figure(float64(s.Wood), 4) }},
	{"coals_kg", func(s fire.Sample) any { return figure(float64(s.Coals), 4) }},
	{"burn_rate_kg_h", func(s fire.Sample) any { return figure(s.BurnRate*3600, 4) }},
	{"heat_to_room_w", func(s fire.Sample) any { return figure(float64(s.ToRoom), 1) }},
	{"o2_pct", func(s fire.Sample) any { return figure(s.O2.Percent(), 2) }},
	{"co2_pct", func(s fire.Sample) any { return figure(s.CO2.Percent(), 2) }},
	{"co_pct", func(s fire.Sample) any { return figure(s.CO.Percent(), 4) }},
	{"air_factor", func(s fire.Sample) any { return figure(math.Min(s.Lambda, 99), 2) }},
	{"particulates_mg_s", func(s fire.Sample) any { return figure(s.Smoke*1e6, 4) }},
	{"vapour_g_s", func(s fire.Sample) any { return figure(s.Vapour*1e3, 4) }},
	{"cap", func(s fire.Sample) any { return string(s.Colour) }},
	{"deposits_g", func(s fire.Sample) any { return figure(s.Deposits, 3) }},
	{"glass_fouled_pct", func(s fire.Sample) any { return figure(s.Glass*100, 2) }},
	{"flags", func(s fire.Sample) any { return strings.Join(say.Flags(s.Flags, lang.Metric), "; ") }},
})

// SummaryOf returns a run's figures by their names; what was not reached is
// nil.
func SummaryOf(s fire.Summary) map[string]any {
	minutes := func(d time.Duration) any {
		if d < 0 {
			return nil
		}
		return figure(d.Minutes(), 2)
	}
	return map[string]any{
		"duration_to_coals_min": minutes(s.ToCoals), "efficiency_net_pct": figure(s.Efficiency.Percent(), 3), "smoke_g_per_kg": figure(s.SmokePerKg, 4),
		"deposits_g": figure(s.Deposits, 4), "peak_top_c": figure(float64(s.PeakTop), 2), "peak_flue_gas_c": figure(float64(s.PeakGas), 2),
		"min_draft_pa": figure(float64(s.MinDraft), 3), "coals_at_end_kg": figure(float64(s.Coals), 4), "minutes_smoulder": minutes(s.Smoulder),
		"minutes_working": minutes(s.Working), "minutes_too_hot": minutes(s.TooHot), "time_to_working_band_min": minutes(s.ToWorking),
		"heat_to_room_mj": figure(s.ToRoom.MJ(), 4), "energy_balance_error_pct": figure(s.BalanceErr.Percent(), 6),
		"efficiency_by_flue_gas_pct": figure(s.ByGas.Percent(), 3), "minutes_starved_coals": minutes(s.Starved), "spilled": s.Spilled,
		"glass_fouled_pct": figure(s.Glass*100, 2),
	}
}

// WriteRunJSON writes a simulated burn: its name, its summary and its series.
func WriteRunJSON(w io.Writer, name string, r fire.Result) error {
	rows := make([]map[string]any, len(r.Samples))
	for i, s := range r.Samples {
		rows[i] = make(map[string]any, len(series))
		for _, c := range series {
			rows[i][c.name] = c.of(s)
		}
	}
	return json.NewEncoder(w).Encode(map[string]any{"name": name, "summary": SummaryOf(r.Summary), "series": rows})
}

// WriteRunCSV writes the series of a simulated burn as a table.
func WriteRunCSV(w io.Writer, r fire.Result) error {
	out := csv.NewWriter(w)
	row := make([]string, len(series))
	for i, c := range series {
		row[i] = c.name
	}
	_ = out.Write(row) // errors are kept until Flush
	for _, s := range r.Samples {
		for i, c := range series {
			switch v := c.of(s).(type) {
			case float64:
				row[i] = strconv.FormatFloat(v, 'f', -1, 64)
			case string:
				row[i] = v
			}
		}
		_ = out.Write(row)
	}
	out.Flush()
	return out.Error()
}
