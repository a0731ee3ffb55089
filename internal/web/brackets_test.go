package web_test

import (
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/lang/langtest"
	"smolder/internal/web/webtest"
)

// TestEveryPageInBrackets asks every page in a language in which each word stands in
// brackets: a word without is one that no language can say.
func TestEveryPageInBrackets(t *testing.T) {
	s := webtest.InBrackets(t, true)
	s.SignIn()
	live, _ := s.Begun(webtest.ColdEvening)
	left := map[string]string{}
	for _, path := range []string{"/", live + "/live", live, "/plan", "/plan/day", "/burns", "/burns/1", "/burns/compare", "/season", "/wood", "/wood/1",
		"/wood/winter", "/wood/next", "/wood/basket", "/wood/trip", "/wood/offer", "/stoves", "/stoves/1", "/stoves/1/known", "/stoves/1/edit",
		"/stoves/1/behaves", "/spaces/1", "/upkeep", "/household", "/about", "/burns/99999", "/co-alarm", "/chimney-fire", "/sign-in"} {
		got := s.Get(path)
		require.Less(t, got.Status, http.StatusInternalServerError, path)
		for _, text := range s.Unsaid(got.Body) {
			if left[text] == "" {
				left[text] = path
			}
		}
	}
	var list []string
	for text, path := range left {
		list = append(list, path+": "+text)
	}
	slices.Sort(list)
	assert.Empty(t, strings.Join(list, "\n"))
}

// TestAHouseholdChoosesItsLanguage: once it has chosen, its browsers are not asked; a
// language that is not here is refused, and nothing is changed.
func TestAHouseholdChoosesItsLanguage(t *testing.T) {
	s := webtest.InBrackets(t, true)
	s.SignIn()
	keep := func(tag string) webtest.Answer {
		page := s.Get("/household").Body
		version := webtest.Between(page, `name="version" value="`, `"`)
		return s.Post("/household", "household", "Tarn Mill, Hallasey", "zone", "Etc/UTC", "units", "metric", "version", version, "language", tag)
	}
	assert.Contains(t, s.Get("/household").Body, "[Household]", "as the browser asks")
	got := keep("en")
	require.Equal(t, http.StatusSeeOther, got.Status, got.Body)
	page := s.Get("/household").Body
	assert.NotContains(t, page, "[Household]")
	assert.Contains(t, page, `<html lang="en">`)

	got = keep("xx")
	assert.Equal(t, http.StatusUnprocessableEntity, got.Status)
	assert.Contains(t, got.Words(), "no such language here")
	got = keep(langtest.Tag)
	require.Equal(t, http.StatusSeeOther, got.Status, got.Body)
	page = s.Get("/household").Body
	assert.Contains(t, page, "[Household]")
	assert.Contains(t, page, `<html lang="`+langtest.Tag+`">`)
	assert.Contains(t, page, `data-words="`, "the script speaks it too")
}
