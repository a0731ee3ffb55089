package exchange_test

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"math"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/demo"
	"smolder/internal/exchange"
)

// Both forms of a simulated burn hold the same figures.
func TestSeriesAsTableAndAsJSON(t *testing.T) {
	b := demo.Burn()
	r := b.Replay(b.Started.Add(3 * time.Hour))
	var table, object bytes.Buffer
	require.NoError(t, exchange.WriteRunCSV(&table, r))
	require.NoError(t, exchange.WriteRunJSON(&object, "an evening", r))
	rows, err := csv.NewReader(&table).ReadAll()
	require.NoError(t, err)
	var run struct {
		Name   string
		Series []map[string]any
	}
	require.NoError(t, json.Unmarshal(object.Bytes(), &run))
	assert.Equal(t, "an evening", run.Name)
	require.Len(t, rows, len(run.Series)+1)
	require.Len(t, rows, len(r.Samples)+1)
	for i, row := range rows[1:] {
		for col, name := range rows[0] {
			switch want := run.Series[i][name].(type) {
			case float64:
				got, err := strconv.ParseFloat(row[col], 64)
				require.NoError(t, err, name)
				assert.InDelta(t, want, got, 1e-9, name)
			default:
				assert.Equal(t, want, row[col], name)
			}
		}
	}
	peak := 0.0
	for _, s := range run.Series {
		peak = math.Max(peak, s["top_c"].(float64))
	}
	assert.InDelta(t, float64(r.Summary.PeakTop), peak, 5)
}

func TestWhatWasNotReachedIsNull(t *testing.T) {
	nothing := fire.Run(demo.Burn().Setup(), nil, fire.Options{Until: time.Hour}).Summary
	s := exchange.SummaryOf(nothing)
	assert.Nil(t, s["duration_to_coals_min"])
	assert.Nil(t, s["time_to_working_band_min"])
	assert.Zero(t, s["minutes_smoulder"])
	b, err := json.Marshal(s)
	require.NoError(t, err, "no infinities")
	assert.NotContains(t, string(b), "-0,")
}
