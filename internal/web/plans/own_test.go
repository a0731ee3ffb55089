package plans_test

import (
	"net/http"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/web/webtest"
)

// An owner's own way is kept by the plan, and what it costs is said; the best with nothing
// fixed stands beside it.
func TestAPlanInOnesOwnWay(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	wish := "/plan?stove=1&aim=hold&for=5+h&low=19&high=21.5&room=17&start=good-coals&kindling=6&wood=1"
	made := s.Wish(wish + "&own-main=4&own-way=sideways&own-leave=a+quarter")
	require.Equal(t, http.StatusOK, made.Status, made.Words())
	assert.Contains(t, made.Words(), "In your own way: four pieces on the coals, sideways, left at a quarter.")
	assert.Contains(t, made.Words(), "Against the best that was found with nothing fixed")
	assert.Contains(t, made.Words(), "With nothing fixed.", "which is one of the alternatives")
	assert.Equal(t, "4", webtest.FieldsOf(made)["own-main"], "the sentence keeps it")
	id, err := strconv.ParseInt(strings.TrimPrefix(made.To, "/plans/"), 10, 64)
	require.NoError(t, err)
	kept, err := s.Store.Household(1).Planned(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, 4, kept.Burn.Main)
	assert.Equal(t, 4, kept.Burn.Wish.Fixed.Main, "and so does what is kept of the plan")

	for field, bad := range map[string][2]string{
		"own-main": {"several", "a whole number of pieces"}, "own-first": {"99", "a whole number of pieces"}, "own-leave": {"shut", "a fire is not left with"},
		"own-char": {"sideways", "would do"}, "own-most": {"nothing", "would do"}, "own-way": {"diagonal", "choose one of the list"}, "own-main-of": {"999", "not there any more"},
	} {
		got := s.Wish(wish + "&" + field + "=" + bad[0])
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, field)
		assert.Contains(t, strings.ToLower(got.Words()), bad[1], field)
		if field != "own-way" && field != "own-main-of" {
			assert.Equal(t, bad[0], webtest.FieldsOf(got)[field], "what was typed is kept")
		}
	}
	over := s.Wish(wish + "&own-main=30")
	assert.Contains(t, over.Words(), "more than this stove takes", "the manual's load is a reason, not a field's error")
	gauge := s.Wish(strings.Replace(wish, "aim=hold", "aim=gauge", 1))
	assert.Equal(t, http.StatusUnprocessableEntity, gauge.Status)
	assert.Contains(t, gauge.Words(), "is to read")
	gauge = s.Wish(strings.Replace(wish, "aim=hold", "aim=gauge", 1) + "&gauge=top&gauge-at=170+C")
	assert.Equal(t, http.StatusOK, gauge.Status)
	assert.Regexp(t, "to hold the .* at 170 °C for", gauge.Words(), "what it is to read is said")
}

// What was done the last time is filled in, to be done again.
func TestAsLastTime(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	page := s.Get("/plan?stove=1&as=last")
	require.Equal(t, http.StatusOK, page.Status)
	assert.Contains(t, page.Words(), "as it was done the last time")
	fields := webtest.FieldsOf(page)
	assert.NotEmpty(t, fields["own-main"])
	assert.Contains(t, []string{"end-on", "sideways"}, fields["own-way"])
	s.Begun("/plan?stove=1&aim=hold&for=4+h&low=19&high=21.5&room=17&start=cold&kindling=6&wood=1")
	assert.NotEmpty(t, webtest.FieldsOf(s.Get("/plan?stove=1&as=last"))["own-main"], "a fire that was begun with nothing put on is none to do again")
	for _, none := range []string{"99", "x", ""} { // no stove, or nobody's
		assert.Less(t, s.Get("/plan?as=last&stove="+none).Status, http.StatusInternalServerError, none)
	}
}
