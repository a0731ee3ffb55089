package exchange_test

import (
	"bytes"
	"errors"
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/exchange"
)

func TestCalendarIsReadBack(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Berlin")
	require.NoError(t, err)
	// The hour that comes twice, when the clocks go back.
	at := time.Date(2026, 10, 25, 2, 40, 0, 0, zone)
	list := []exchange.Appointment{
		{ID: "a@smolder", From: at, Till: at.Add(time.Hour), Title: "Auntie: load on the coals, 4 pieces",
			Text: "5.2 kg of beech; then, in steps, to a third. " + strings.Repeat("Slowly. ", 30)},
		{ID: "b@smolder", From: at.Add(5 * time.Hour), Till: at.Add(6 * time.Hour), Title: "Zimt, Öl & Nüsse", Text: "one\ntwo"},
	}
	var out bytes.Buffer
	require.NoError(t, exchange.WriteICal(&out, "Fires in Auntie", at, list))
	for line := range strings.SplitSeq(strings.TrimSuffix(out.String(), "\r\n"), "\r\n") {
		assert.LessOrEqual(t, len(line), 75, "lines are folded")
		assert.NotContains(t, line, "\n", "and end with CR LF")
	}
	cal, err := ics.ParseCalendar(&out)
	require.NoError(t, err)
	require.Len(t, cal.Events(), len(list))
	for i, e := range cal.Events() {
		from, err := e.GetStartAt()
		require.NoError(t, err)
		till, err := e.GetEndAt()
		require.NoError(t, err)
		assert.True(t, from.Equal(list[i].From), "the same moment whatever the clock says")
		assert.Equal(t, time.Hour, till.Sub(from))
		assert.Equal(t, list[i].Title, e.GetProperty(ics.ComponentPropertySummary).Value)
		assert.Equal(t, list[i].Text, e.GetProperty(ics.ComponentPropertyDescription).Value)
		assert.Equal(t, list[i].ID, e.Id())
		require.Len(t, e.Alarms(), 1)
	}
}

// broken is a place that takes nothing.
type broken struct{}

func (broken) Write([]byte) (int, error) { return 0, errors.New("the line is down") }

func TestCalendarThatCannotBeWritten(t *testing.T) {
	err := exchange.WriteICal(broken{}, "x", time.Now(), nil)
	assert.ErrorContains(t, err, "the line is down")
}
