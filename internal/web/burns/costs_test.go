package burns_test

import (
	"encoding/json"
	"fmt"
	"mime"
	"net/http"
	"regexp"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/shed"
	"smolder/internal/core/units"
	"smolder/internal/storetest"
	"smolder/internal/web/webtest"
)

// A file that would harm is refused with a sentence, and nothing of it is kept.
func TestFilesThatAreRefused(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	mine := regexp.MustCompile(`href="(/burns/\d+)">[^<]*</a></td>\s*<td>Auntie`).FindStringSubmatch(s.Get("/burns").Body)
	require.NotEmpty(t, mine)
	out := s.Get(mine[1] + "/burn.json").Body
	table := s.Get(mine[1] + "/burn.csv").Body
	before := s.Get("/burns").Words()
	for name, text := range map[string]string{
		"an endless curve":   regexp.MustCompile(`"room_c": \[\s*[\d.]+`).ReplaceAllString(out, `"room_c": [1e308`),
		"of 1700":            regexp.MustCompile(`"started": "\d{4}`).ReplaceAllString(out, `"started": "1700`),
		"an id that climbs":  regexp.MustCompile(`"id": "[^"]*"`).ReplaceAllString(out, `"id": "../remove?"`),
		"a title of 2 MB":    strings.Replace(out, `"format"`, `"title": "`+strings.Repeat("x", 2<<20)+`", "format"`, 1),
		"a name with NUL":    strings.ReplaceAll(out, `"name": "Auntie"`, `"name": "Aun\u0000tie"`),
		"not a number":       regexp.MustCompile(`,\d{3},`).ReplaceAllString(table, ",NaN,"),
		"another format":     `{"cat": 1}`,
		"nothing":            "",
		"cut off":            out[:len(out)/2],
		"too large for here": strings.Repeat("x", 9<<20),
	} {
		if name == "of 1700" && !strings.Contains(text, `"started": "1700`) {
			text = strings.Replace(out, `"started":"2`, `"started":"17`, 1)
		}
		got := s.Upload("/burns/import", "burn."+map[bool]string{true: "csv", false: "json"}[name == "not a number"], text)
		assert.Contains(t, []int{http.StatusUnprocessableEntity, http.StatusRequestEntityTooLarge}, got.Status, name)
		assert.NotContains(t, got.Words(), "EOF", name)
	}
	assert.Equal(t, before, s.Get("/burns").Words())

	// A burn whose stove is not here brings it along, once.
	foreign := strings.ReplaceAll(out, `"name": "Auntie"`, `"name": "Elsewhere"`)
	got := s.Upload("/burns/import", "burn.json", foreign)
	require.Equal(t, http.StatusSeeOther, got.Status, got.Words())
	assert.Contains(t, s.Get("/stoves").Words(), "Elsewhere")
	assert.Equal(t, got.To, s.Upload("/burns/import", "burn.json", foreign).To, "twice is as good as once")
}

// With very many stacks a search takes no longer than with six: the rest is left
// out, and the plan says so. Many searches at once wait for each other, household
// by household, and none costs another its answer.
func TestManyStacksAndManySearches(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	h := s.Store.Household(1)
	stack, err := new(shed.Shed).Stack(ctx, h, 1, s.Clock.Now())
	require.NoError(t, err)
	for i := range 150 {
		more := stack.Wood()
		more.Name, more.PieceMass = fmt.Sprintf("Stack %d", i), stack.PieceMass*units.Kilogram(0.6+float64(i%9)/10)
		_, err := storetest.AddStack(h, more, s.Clock.Now())
		require.NoError(t, err)
	}
	wish := "/plan?stove=1&aim=take-off&for=3+h&low=19&high=21.5&room=17&outdoor=2&start=cold&wood=1&wood2=all&kindling=6"
	made := s.Wish(wish)
	require.Equal(t, http.StatusOK, made.Status, made.Words())
	assert.Regexp(t, `Of your stacks \d were tried, from light to dense; \d+ more were left out`, made.Words())
	row, err := h.Planned(ctx, webtest.IDOf(t, made.To))
	require.NoError(t, err)
	assert.Less(t, row.Burn.Tried, 8000)
	assert.LessOrEqual(t, len(row.Burn.Wish.Others), 5)

	var wg sync.WaitGroup
	statuses := make([]int, 12)
	for i := range statuses {
		wg.Go(func() { statuses[i] = s.Wish(strings.Replace(wish, "wood2=all", "wood2=", 1)).Status })
	}
	wg.Wait()
	fine := 0
	for _, status := range statuses {
		require.Contains(t, []int{http.StatusOK, http.StatusServiceUnavailable}, status, "answered, or told to come again")
		if status == http.StatusOK {
			fine++
		}
	}
	assert.GreaterOrEqual(t, fine, 2)
}

// Events of two stoves and of two plans never share an identity, and a name from
// far away stays whole on its way through.
func TestCalendarsAndFileNames(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	require.Equal(t, http.StatusSeeOther, s.Post("/stoves/1", webtest.Change(webtest.Fields(s.Get("/stoves/1/edit").Body), "name", "Öffner")...).Status)
	uids := map[string]int{}
	for stove, wood := range map[string]string{"1": "1", "2": "2"} {
		made := s.Wish("/plan?aim=hold&for=5+h&low=19&high=21.5&room=16.5&outdoor=1&start=cold&kindling=6&stove=" + stove + "&wood=" + wood)
		require.Equal(t, http.StatusOK, made.Status, made.Words())
		ics := s.Get(made.To + "/plan.ics")
		require.Equal(t, http.StatusOK, ics.Status)
		for _, m := range regexp.MustCompile(`UID:(\S+)`).FindAllStringSubmatch(ics.Body, -1) {
			uids[m[1]]++
		}
		if stove == "1" {
			assert.Contains(t, strings.ReplaceAll(ics.Body, "\r\n ", ""), "Öffner: ")
		}
	}
	require.Greater(t, len(uids), 6)
	for uid, n := range uids {
		assert.Equal(t, 1, n, uid)
	}
	b := webtest.AtTheStove(s)
	require.Equal(t, b, s.Post(b+"/end").To)
	out := s.Get(b + "/burn.json")
	_, sent, err := mime.ParseMediaType(out.Header.Get("Content-Disposition"))
	require.NoError(t, err)
	assert.Contains(t, sent["filename"], "burn-öffner-", "a name in other letters")
	var doc map[string]any
	require.NoError(t, json.Unmarshal([]byte(out.Body), &doc))
}

// A burn of very many entries opens, with as much on its page as anybody reads.
func TestABurnOfManyEntries(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b := webtest.LargeBurn(t, s, 20_000)
	page := s.Get(b)
	require.Equal(t, http.StatusOK, page.Status)
	assert.Less(t, len(page.Body), 1<<20, "the page does not grow with the log")
	assert.Less(t, strings.Count(page.Body, "<li"), 2000)
	assert.Contains(t, page.Words(), "older")
	assert.Equal(t, http.StatusOK, s.Get("/burns").Status)
}
