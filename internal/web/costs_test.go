package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"mime"
	"net/http"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/shed"
	"smolder/internal/core/burn"
	"smolder/internal/core/units"
	"smolder/internal/demo"
	"smolder/internal/exchange"
	"smolder/internal/storetest"
)

// A file that would harm is refused with a sentence, and nothing of it is kept.
func TestFilesThatAreRefused(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	mine := regexp.MustCompile(`href="(/burns/\d+)">[^<]*</a></td>\s*<td>Auntie`).FindStringSubmatch(s.get("/burns").body)
	require.NotEmpty(t, mine)
	out := s.get(mine[1] + "/burn.json").body
	table := s.get(mine[1] + "/burn.csv").body
	before := s.get("/burns").words()
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
		got := s.upload("/burns/import", "burn."+map[bool]string{true: "csv", false: "json"}[name == "not a number"], text)
		assert.Contains(t, []int{http.StatusUnprocessableEntity, http.StatusRequestEntityTooLarge}, got.status, name)
		assert.NotContains(t, got.words(), "EOF", name)
	}
	assert.Equal(t, before, s.get("/burns").words())

	// A burn whose stove is not here brings it along, once.
	foreign := strings.ReplaceAll(out, `"name": "Auntie"`, `"name": "Elsewhere"`)
	got := s.upload("/burns/import", "burn.json", foreign)
	require.Equal(t, http.StatusSeeOther, got.status, got.words())
	assert.Contains(t, s.get("/stoves").words(), "Elsewhere")
	assert.Equal(t, got.to, s.upload("/burns/import", "burn.json", foreign).to, "twice is as good as once")
}

// With very many stacks a search takes no longer than with six: the rest is left
// out, and the plan says so. Many searches at once wait for each other, household
// by household, and none costs another its answer.
func TestManyStacksAndManySearches(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	h := s.store.Household(1)
	stack, err := new(shed.Shed).Stack(ctx, h, 1, s.clock.now())
	require.NoError(t, err)
	for i := range 150 {
		more := stack.Wood()
		more.Name, more.PieceMass = fmt.Sprintf("Stack %d", i), stack.PieceMass*units.Kilogram(0.6+float64(i%9)/10)
		_, err := storetest.AddStack(h, more, s.clock.now())
		require.NoError(t, err)
	}
	wish := "/plan?stove=1&aim=take-off&for=3+h&low=19&high=21.5&room=17&outdoor=2&start=cold&wood=1&wood2=all&kindling=6"
	made := s.wish(wish)
	require.Equal(t, http.StatusOK, made.status, made.words())
	assert.Regexp(t, `Of your stacks \d were tried, from light to dense; \d+ more were left out`, made.words())
	row, err := h.Planned(ctx, idOf(t, made.to))
	require.NoError(t, err)
	assert.Less(t, row.Burn.Tried, 8000)
	assert.LessOrEqual(t, len(row.Burn.Wish.Others), 5)

	var wg sync.WaitGroup
	statuses := make([]int, 12)
	for i := range statuses {
		wg.Go(func() { statuses[i] = s.wish(strings.Replace(wish, "wood2=all", "wood2=", 1)).status })
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
	s := newSite(t, true)
	s.signIn()
	require.Equal(t, http.StatusSeeOther, s.post("/stoves/1", with(fields(s.get("/stoves/1/edit").body), "name", "Öffner")...).status)
	uids := map[string]int{}
	for stove, wood := range map[string]string{"1": "1", "2": "2"} {
		made := s.wish("/plan?aim=hold&for=5+h&low=19&high=21.5&room=16.5&outdoor=1&start=cold&kindling=6&stove=" + stove + "&wood=" + wood)
		require.Equal(t, http.StatusOK, made.status, made.words())
		ics := s.get(made.to + "/plan.ics")
		require.Equal(t, http.StatusOK, ics.status)
		for _, m := range regexp.MustCompile(`UID:(\S+)`).FindAllStringSubmatch(ics.body, -1) {
			uids[m[1]]++
		}
		if stove == "1" {
			assert.Contains(t, strings.ReplaceAll(ics.body, "\r\n ", ""), "Öffner: ")
		}
	}
	require.Greater(t, len(uids), 6)
	for uid, n := range uids {
		assert.Equal(t, 1, n, uid)
	}
	b := atTheStove(s)
	require.Equal(t, b, s.post(b+"/end").to)
	out := s.get(b + "/burn.json")
	_, sent, err := mime.ParseMediaType(out.header.Get("Content-Disposition"))
	require.NoError(t, err)
	assert.Contains(t, sent["filename"], "burn-öffner-", "a name in other letters")
	var doc map[string]any
	require.NoError(t, json.Unmarshal([]byte(out.body), &doc))
}

// largeBurn is a burn of so many entries: a thermometer that reads itself.
func largeBurn(t testing.TB, s *site, entries int) string {
	h := s.store.Household(1)
	st, err := h.Stove(ctx, 1)
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
	id, err := h.StartBurn(ctx, 1, "", b, nil)
	require.NoError(t, err)
	return fmt.Sprintf("/burns/%d", id)
}

// A burn of very many entries opens, with as much on its page as anybody reads.
func TestABurnOfManyEntries(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b := largeBurn(t, s, 20_000)
	page := s.get(b)
	require.Equal(t, http.StatusOK, page.status)
	assert.Less(t, len(page.body), 1<<20, "the page does not grow with the log")
	assert.Less(t, strings.Count(page.body, "<li"), 2000)
	assert.Contains(t, page.words(), "older")
	assert.Equal(t, http.StatusOK, s.get("/burns").status)
}
