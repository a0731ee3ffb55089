package web_test

import (
	"net/http"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/units"
	"smolder/internal/web/webtest"
)

// In an imperial household nothing is left in metric units, on any page.
func TestNothingMetricInAnImperialHousehold(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b := webtest.AtTheStove(s)
	h := s.Store.Household(1)
	p, err := h.Profile(ctx)
	require.NoError(t, err)
	p.Units = units.Imperial
	require.NoError(t, h.SaveProfile(ctx, p))
	// Plans and reviews are made first, so that their pages have all that they can have.
	made := s.Wish("/plan?stove=2&aim=hold&for=5+h&low=66&high=71&room=61&outdoor=30&start=cold&wood=1&kindling=6")
	require.NotEmpty(t, made.To)
	for _, path := range []string{"/", "/plan", made.To, made.To + "/sheet", "/plan/day", b + "/live", b, "/burns", webtest.FirstBurn(s), "/burns/compare?stove=1",
		"/season", "/wood", "/wood/1", "/wood/1/edit", "/wood/new", "/wood/winter", "/wood/next", "/wood/basket", "/wood/offer", "/stoves", "/stoves/1", "/stoves/1/edit", "/stoves/1/known",
		"/stoves/new", "/spaces/1", "/spaces/new", "/upkeep", "/household", "/burns/import/readings"} {
		page := s.Get(path)
		require.Equal(t, http.StatusOK, page.Status, path)
		words := page.Words()
		for _, at := range webtest.Metric.FindAllStringIndex(words, 9) {
			if strings.HasPrefix(words[at[1]:], " as wet as today") {
				continue // in the owner's own words
			}
			assert.Fail(t, "metric", "%s: …%s…", path, words[max(0, at[0]-60):min(len(words), at[1]+30)])
		}
	}
}

// A form is read in the units that its page was shown in: what is typed on a page in °F is in
// °F, whatever was set meanwhile in another window, and the other way round.
func TestAFormCarriesItsUnits(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b := webtest.AtTheStove(s)
	h := s.Store.Household(1)
	set := func(u units.System) {
		p, err := h.Profile(ctx)
		require.NoError(t, err)
		p.Units = u
		require.NoError(t, h.SaveProfile(ctx, p))
	}
	last := func() float64 {
		var v float64
		require.NoError(t, s.Store.DB().QueryRow(`SELECT reading FROM readings ORDER BY seq DESC LIMIT 1`).Scan(&v))
		return v
	}
	set(units.Imperial)
	page := s.Get(b + "/live").Body
	forms := regexp.MustCompile(`<form method="post"[^>]*>`).FindAllString(page, -1)
	require.NotEmpty(t, forms)
	assert.Equal(t, len(forms), strings.Count(page, `name="shown-in" value="imperial"`), "every form says it")
	set(units.Metric)
	require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "temperature", "place", "top", "value", "300", "shown-in", "imperial").To)
	assert.InDelta(t, 148.9, last(), 0.1)
	set(units.Imperial)
	require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "temperature", "place", "top", "value", "150", "shown-in", "metric").To)
	assert.InDelta(t, 150, last(), 0.1)
	require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "temperature", "place", "top", "value", "310", "shown-in", "cubits").To)
	assert.InDelta(t, 154.4, last(), 0.1, "nonsense is as if it were not there")
	wrong := s.Post(b+"/entries", "kind", "temperature", "place", "top", "value", "hot", "shown-in", "metric")
	assert.Equal(t, http.StatusUnprocessableEntity, wrong.Status)
	assert.Contains(t, wrong.Body, `value="hot"`)
}
