package stoves_test

import (
	"bytes"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/web/webtest"
)

// A stove on one page for whoever has never run it: how it is lit, loaded and left, its marks, what
// is known to be wrong, and whom to call; on one sheet.
func TestForWhoeverIsAtHome(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	empty := s.Get("/stoves/4/at-home")
	require.Equal(t, http.StatusOK, empty.Status)
	assert.Contains(t, empty.Words(), "Never")
	made := s.Wish("/plan?stove=1&aim=hold&for=5+h&low=19&high=21.5&room=16.5&outdoor=2&start=cold&wood=1&kindling=6")
	require.Equal(t, http.StatusSeeOther, s.Post(made.To+"/start").Status)
	require.Equal(t, http.StatusSeeOther, s.Post("/trouble/found", "stove", "1", "cause", "gasket").Status)
	require.Equal(t, http.StatusSeeOther, s.Post("/upkeep/contacts", "name-sweep", "Beck", "phone-sweep", "01 234").Status)
	page := s.Get("/stoves/1/at-home")
	words := page.Words()
	for _, says := range []string{"Auntie, for whoever is at home", "As it was planned on 10 April 2026", "Light it", "Put wood on", "Turn it down and leave it", "Shut the door when the flames stand",
		"black all over", "lever, opens to the right", "too hot from 500 °C", "air leaks in at the door or the glass", "Beck 01 234", "out, then the emergency number"} {
		assert.Contains(t, words, says)
	}
	assert.Contains(t, page.Body, `class="qr"`)
	assert.Equal(t, http.StatusNotFound, s.Get("/stoves/99/at-home").Status)

	p := webtest.Browse(t, s, 390, 844)
	p.SignsIn()
	p.GoTo("/stoves/1/at-home")
	p.Fits("for whoever is at home")
	p.Legible("for whoever is at home")
	pdf, err := p.PDF()
	p.Must(err)
	assert.Equal(t, 1, bytes.Count(pdf, []byte("/Type /Page\n"))+bytes.Count(pdf, []byte("/Type/Page\n"))+bytes.Count(pdf, []byte("/Type /Page\r")), "one sheet")
}
