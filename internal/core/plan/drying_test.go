package plan_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A fire dries a room by the air it draws; a duct from outdoors draws none.
func TestDrying(t *testing.T) {
	w := wish(0, 0, plan.Cold)
	w.Aim, w.Outdoor, w.Humidity = plan.DryOut, 6, 0.85
	p, err := plan.Make(w)
	require.NoError(t, err)
	d, known := p.Drying()
	require.True(t, known)
	assert.InDelta(t, 0.33, float64(d.Warmed), 0.05, "winter air is dry once it is warm")
	assert.True(t, d.Air > 15 && d.Air < 300, "%.0f m³ in five hours", d.Air)
	assert.Positive(t, float64(d.Water))
	assert.Contains(t, p.SayDrying(units.Metric), "m³ of it through the room")
	assert.Contains(t, p.SayDrying(units.Imperial), "ft³ of it through the room")

	p.Wish.Outdoor, p.Wish.Humidity = 22, 1
	assert.Contains(t, p.SayDrying(units.Metric), "too damp to dry with")
	p.Wish.Humidity = 0
	assert.Empty(t, p.SayDrying(units.Metric), "not known is an answer")
	p.Wish.Humidity = 0.8
	p.Wish.Stove.Controls = append(p.Wish.Stove.Controls, stove.Control{Key: "gate", Name: "Gate", Role: stove.OutsideAir})
	_, known = p.Drying()
	assert.False(t, known, "its air comes from outdoors")
	p.Wish.Aim = plan.Hold
	assert.Empty(t, p.SayDrying(units.Metric), "nobody asked")
}

// Towards the end a fire's draft is weak, and coals make carbon monoxide: a
// stormy night says so, a still one does not need to.
func TestGustsAreSaid(t *testing.T) {
	w := wish(1, 1, plan.Cold)
	w.Aim, w.For = plan.Overnight, 9*time.Hour
	still, err := plan.Make(w)
	require.NoError(t, err)
	for i := range still.Predicted.Draft {
		still.Predicted.Draft[i] = 6
	}
	assert.NotContains(t, strings.Join(still.Warnings(units.Metric), " "), "Gusts")
	still.Predicted.Draft[len(still.Predicted.Draft)*2/3] = 0.4
	still.Predicted.Coals[len(still.Predicted.Coals)*2/3] = 0.3
	assert.Contains(t, strings.Join(still.Warnings(units.Metric), " "), "Gusts take the draft of the dying fire down to about 0.4 Pa")
}

// Whether to light at all is the first question.
func TestARoomThatHoldsByItself(t *testing.T) {
	said := func(outdoor, room units.Celsius, aim plan.Aim) string {
		w := wish(0, 0, plan.Cold)
		w.Outdoor, w.Room, w.Aim = outdoor, room, aim
		p, err := plan.Make(w)
		require.NoError(t, err)
		return p.Wish.SayAlone(units.Metric)
	}
	assert.Contains(t, said(18, 20.5, plan.Hold), "No fire is needed: by itself the room stays above 19 °C all that time")
	assert.Regexp(t, `By itself the room stays above 19 °C for about .*: lighting later would do`, said(13, 21, plan.Hold))
	for _, s := range []string{said(2, 17, plan.Hold), said(18, 20.5, plan.DryOut)} {
		assert.Empty(t, s)
	}
}
