package main

import (
	"encoding/csv"
	"encoding/json"
	"encoding/xml"
	"errors"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const evening = "../../scenarios/auntie-evening.json"

func TestSimulate(t *testing.T) {
	out, err := ask("simulate --scenario " + evening)
	require.NoError(t, err)
	var run struct {
		Name    string
		Summary map[string]any
		Series  []map[string]any
	}
	require.NoError(t, json.Unmarshal([]byte(out), &run))
	for _, key := range []string{"duration_to_coals_min", "efficiency_net_pct", "smoke_g_per_kg", "deposits_g", "peak_top_c",
		"peak_flue_gas_c", "min_draft_pa",
		"coals_at_end_kg", "minutes_smoulder", "minutes_working", "minutes_too_hot", "time_to_working_band_min", "heat_to_room_mj", "energy_balance_error_pct"} {
		assert.Contains(t, run.Summary, key)
	}
	assert.Len(t, run.Series, 8*60+1)
	assert.InDelta(t, 77, run.Summary["efficiency_net_pct"], 7)
	again, err := ask("simulate --scenario " + evening)
	require.NoError(t, err)
	assert.Equal(t, out, again, "the same scenario gives the same run")

	table, err := ask("simulate --out csv --scenario " + evening)
	require.NoError(t, err)
	series, summary, _ := strings.Cut(table, "{")
	rows, err := csv.NewReader(strings.NewReader(series)).ReadAll()
	require.NoError(t, err)
	assert.Len(t, rows, 8*60+2)
	assert.Contains(t, summary, "smoke_g_per_kg", "the summary stands beside the table")

	drawing, err := ask("simulate --out svg --scenario " + evening)
	require.NoError(t, err)
	svg, _, _ := strings.Cut(drawing, "\n{")
	d := xml.NewDecoder(strings.NewReader(svg))
	for err == nil {
		_, err = d.Token()
	}
	assert.True(t, errors.Is(err, io.EOF), "%v", err)
}

func TestSimulateRefuses(t *testing.T) {
	bad := filepath.Join(t.TempDir(), "bad.json")
	require.NoError(t, os.WriteFile(bad, []byte(`{"stove": {"family": "secondary-air", "firebox": "55 L"}, "flue": {"height": "0 m"}}`), 0o600))
	for args, says := range map[string]string{
		"simulate":                                 "scenarios/auntie-evening.json would do",
		"simulate --scenario /no/such/file":        "no such file",
		"simulate --out pdf --scenario " + evening: "json, csv or svg would do",
		"simulate --scenario " + bad:               "flue.height: a chimney of 0.0 m makes no draft",
	} {
		_, err := ask(args)
		require.ErrorAs(t, err, new(usageError), args)
		assert.ErrorContains(t, err, says, args)
	}
}

func TestPlan(t *testing.T) {
	out, err := ask("plan --scenario ../../scenarios/plans/auntie-night.json")
	require.NoError(t, err)
	var choice struct {
		Tried int
		Plans []struct {
			Sentence, Why string
			Wood          float64 `json:"wood_kg"`
			Steps         []map[string]any
			Summary       map[string]any
			Room          []float64 `json:"room_c"`
		}
		Before map[string]any
	}
	require.NoError(t, json.Unmarshal([]byte(out), &choice))
	assert.GreaterOrEqual(t, choice.Tried, 1000)
	require.NotEmpty(t, choice.Plans)
	for _, p := range choice.Plans {
		assert.NotEmpty(t, p.Sentence)
		assert.NotEmpty(t, p.Why)
		assert.Greater(t, len(p.Steps), 3)
		assert.Contains(t, p.Summary, "smoke_g_per_kg")
		assert.NotEmpty(t, p.Room)
	}
	assert.Equal(t, true, choice.Before["prime"])

	wet := filepath.Join(t.TempDir(), "wet.json")
	b, err := os.ReadFile("../../scenarios/plans/auntie-night.json")
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(wet, []byte(strings.Replace(string(b), `"moisture": "18%"`, `"moisture": "60%"`, 1)), 0o600))
	out, err = ask("plan --scenario " + wet)
	require.NoError(t, err, "no plan is an answer too")
	assert.Contains(t, out, `"would_do"`)
	_, err = ask("plan --scenario ../../scenarios/plans/none.json")
	assert.ErrorAs(t, err, new(usageError))
}
