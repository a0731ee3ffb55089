package hearth_test

import (
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/web/webtest"
)

// What the log refuses can be kept as a note all the same, in its own words, at its time or as
// near to it as the burn goes.
func TestRefusedAndKeptAsANote(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	lit := s.Post("/stove", "stove", "1", "start", "good-coals", "room", "18 C", "outdoor", "2 C")
	require.Equal(t, http.StatusSeeOther, lit.Status, lit.Words())
	burn := strings.TrimSuffix(lit.To, "/live")
	s.Clock.At = s.Clock.At.Add(20 * time.Minute)
	for _, c := range []struct {
		path string
		form []string
		note string // as the log has it
	}{
		{"/entries", []string{"kind", "load", "stack", "1", "pieces", "99", "mass", "150 kg", "direction", "end-on"}, "18:20 Load: 99 pieces, 150 kg"},
		{"/entries", []string{"kind", "temperature", "place", "connector-probe", "value", "white hot", "when", "5 min ago"}, "18:15 Temperature: white hot; 5 min ago"},
		{"/entries", []string{"kind", "control", "control", "lever", "value", "sideways", "when", "yesteryear"}, "18:20 Lever: sideways; yesteryear"},
		{"/entries", []string{"kind", "rake", "when", "17:40"}, "18:00 Coals raked; 17:40"},
		{"/done", []string{"n", "2", "y0", "yes", "x0", "lever to a half", "k0", "control", "c0", "lever", "v0", "sideways", "x1", "not this", "k1", "door"}, "18:20 Lever to a half: sideways"},
	} {
		refused := s.Post(burn+c.path, c.form...)
		assert.Equal(t, http.StatusUnprocessableEntity, refused.Status, c.note)
		if c.form[1] != "rake" { // a tap has no sheet
			assert.Contains(t, refused.Body, `name="as" value="note"`, c.note)
		}
		kept := s.Post(burn+c.path, append(c.form, "as", "note")...)
		require.Equal(t, http.StatusSeeOther, kept.Status, kept.Words())
		assert.Contains(t, s.Get(burn+"/live").Words(), c.note)
	}
	require.Equal(t, http.StatusSeeOther, s.Post(burn+"/end").Status)
	s.Clock.At = s.Clock.At.Add(time.Hour)
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(burn+"/entries", "kind", "rake").Status)
	require.Equal(t, http.StatusSeeOther, s.Post(burn+"/entries", "kind", "rake", "as", "note").Status)
	assert.Contains(t, s.Get(burn).Words(), "18:20 Coals raked")
	nothing := s.Post(burn+"/entries", "kind", "\x07", "value", "\x07", "as", "note")
	require.Equal(t, http.StatusSeeOther, nothing.Status, nothing.Words())
	assert.Contains(t, s.Get(burn).Words(), "Something that the log did not take.")
}

// On the device too, from what waits there.
func TestWhatWaitsIsKeptAsANote(t *testing.T) {
	p := webtest.Browse(t, webtest.New(t, true), 390, 844)
	p.OnCoals()
	p.Presses("t")
	p.Waits(`document.activeElement.name === "value"`)
	p.Hits("hot\r")
	p.Waits(`document.querySelector("[data-waiting]").innerText.includes("is not a temperature")`)
	p.Must(p.Press("Escape"))
	p.Waits(`(() => { const b = [...document.querySelectorAll("[data-waiting] button")].find(b => b.textContent === "Keep it as a note"); b?.click(); return Boolean(b); })()`)
	p.Waits(webtest.WhatWaits + ` === 0`)
	p.Waits(`document.querySelector('[data-swap="log"]').textContent.includes("Temperature: hot")`)
}
