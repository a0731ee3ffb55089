package webtest

import (
	"bytes"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/units"
	"smolder/internal/demo"
	"smolder/internal/exchange"
)

// LargeBurn is a burn of so many entries: a thermometer that reads itself.
func LargeBurn(t testing.TB, s *Site, entries int) string {
	h := s.Store.Household(1)
	st, err := h.Stove(t.Context(), 1)
	require.NoError(t, err)
	b := demo.Burn()
	b.Stove, b.Entries = st.Stove, b.Valid()
	first := b.Started
	for i := range entries - len(b.Entries) {
		b.Entries = append(b.Entries, burn.Entry{ID: fmt.Sprintf("auto-%d", i), Seq: int64(1000 + i), Kind: burn.Temperature, Place: "connector-probe",
			At: first.Add(time.Duration(i) * b.Ended.Sub(first) / time.Duration(entries)), Reading: units.Celsius(180 + i%60)})
	}
	b.Started = b.Started.Add(-time.Minute)
	var out bytes.Buffer
	require.NoError(t, exchange.WriteCSV(&out, exchange.File{Burn: b}))
	id, err := h.StartBurn(t.Context(), 1, "", b, nil)
	require.NoError(t, err)
	return fmt.Sprintf("/burns/%d", id)
}
