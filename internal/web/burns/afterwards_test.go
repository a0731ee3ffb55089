package burns_test

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/png"
	"io"
	"mime/multipart"
	"net/http"
	"os"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/reviewing"
	"smolder/internal/core/burn"
	"smolder/internal/core/review"
	"smolder/internal/store"
	"smolder/internal/storetest"
	"smolder/internal/web/webtest"
)

// reviewed is a burn of Auntie's with its whole review, which has findings.
func reviewed(s *webtest.Site) string {
	s.T.Helper()
	h := s.Store.Household(1)
	w := &reviewing.Worker{Store: s.Store}
	for _, m := range regexp.MustCompile(`href="/burns/(\d+)">[^<]*</a></td>\s*<td>Auntie`).FindAllStringSubmatch(s.Get("/burns?stove=1").Body, 6) {
		var id int64
		_, err := fmt.Sscan(m[1], &id)
		require.NoError(s.T, err)
		require.NoError(s.T, w.One(s.T.Context(), h, id))
		r, err := h.ReviewOf(s.T.Context(), id)
		require.NoError(s.T, err)
		if len(r.Review().Findings) > 0 {
			return "/burns/" + m[1]
		}
	}
	s.T.Fatal("no burn of the season could have gone better")
	return ""
}

// A burn's page says what would have gone better, the strip shows it, and it is carried to
// the next plan.
func TestWhatWouldHaveGoneBetter(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	first := s.Get(webtest.FirstBurn(s)).Words()
	assert.Contains(t, first, "is being worked out", "a quick review has no findings yet")
	b := reviewed(s)
	page := s.Get(b)
	words := page.Words()
	assert.Contains(t, words, "What would have gone better")
	assert.Contains(t, words, "On the strip")
	next := strings.TrimSpace(webtest.Between(words, "Next time:", "Try it yourself"))
	require.NotEmpty(t, next)
	assert.Contains(t, page.Body, `class="margin-note"`, "its number stands at its moment")

	// The finding's own link shows it on the strip.
	link := b + "/otherwise?" + webtest.Between(page.Body, `href="`+b+`/otherwise?`, `"`)
	shown := s.Get(strings.ReplaceAll(link, "&amp;", "&"))
	require.Equal(t, http.StatusOK, shown.Status, shown.Words())
	assert.Contains(t, shown.Body, `class="pen second`)
	assert.Regexp(t, `% (less|more)|min less too hot|shorter|longer`, shown.Words())

	zoomed := s.Get(b + "?from=30&to=60")
	assert.Equal(t, http.StatusOK, zoomed.Status)
	assert.NotEqual(t, page.Body, zoomed.Body)
	for _, odd := range []string{"?from=x&to=y", "?from=NaN&to=1e308", "?from=-5&to=-1", "?from=600&to=2"} {
		assert.Equal(t, http.StatusOK, s.Get(b+odd).Status, odd)
	}
}

// The last burn's one thing stands on the next plan.
func TestThePlanCarriesWhatWasFound(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b := reviewed(s)
	next := strings.TrimSpace(webtest.Between(s.Get(b).Words(), "Next time:", "Try it yourself"))
	// that burn is the last one: those after it are taken off the list
	for _, m := range regexp.MustCompile(`href="(/burns/\d+)">[^<]*</a></td>\s*<td>Auntie`).FindAllStringSubmatch(s.Get("/burns?stove=1").Body, 6) {
		if m[1] == b {
			break
		}
		s.Post(m[1] + "/remove")
	}
	plan := s.Wish("/plan?stove=1&aim=hold&for=5+h&low=19&high=21.5&room=16.5&outdoor=2&start=cold&wood=1&kindling=6").To
	assert.Contains(t, s.Get(plan).Words(), "From last time: "+next)
}

// The coach says it too, at the step that it is about, and at no other.
func TestTheCoachCarriesWhatWasFound(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	h := s.Store.Household(1)
	id, err := strconv.ParseInt(regexp.MustCompile(`href="/burns/(\d+)">[^<]*</a></td>\s*<td>Auntie`).FindStringSubmatch(s.Get("/burns?stove=1").Body)[1], 10, 64)
	require.NoError(t, err)
	b, err := h.Burn(t.Context(), id)
	require.NoError(t, err)
	for matter, said := range map[review.Matter]bool{review.Lit: true, review.DownEarly: false, review.TooFar: false} {
		r := review.Quick(b.Burn)
		r.Findings = []review.Finding{{Code: matter, By: 6 * time.Minute, Control: b.Stove.Controls[0]}}
		require.NoError(t, h.KeepReview(t.Context(), b, true, r))
		plan := s.Wish("/plan?stove=1&aim=hold&for=5+h&low=19&high=21.5&room=16.5&outdoor=2&start=cold&wood=1&kindling=6").To
		assert.Equal(t, matter == review.TooFar, strings.Contains(s.Get(plan).Words(), "where a step says something else, do what the step says"),
			"a setting of another load gives way: %s", matter)
		live := s.Post(plan + "/start").To
		require.Contains(t, live, "/live")
		assert.Equal(t, said, strings.Contains(s.Get(live).Words(), "From last time: Light from above"), matter)
		s.Post(strings.TrimSuffix(live, "/live") + "/remove")
	}
}

// Any burn can be tried otherwise; what makes no sense is said and changes nothing.
func TestTriedOtherwise(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b := regexp.MustCompile(`href="(/burns/\d+)">[^<]*</a></td>\s*<td>Auntie`).FindStringSubmatch(s.Get("/burns?stove=1").Body)[1]
	plain := s.Get(b + "/otherwise")
	require.Equal(t, http.StatusOK, plain.Status, plain.Words())
	assert.Contains(t, plain.Body, `role="slider"`)
	id := regexp.MustCompile(`data-entry="([^"]+)" data-kind="control"`).FindAllStringSubmatch(plain.Body, -1)
	load := regexp.MustCompile(`data-entry="([^"]+)" data-kind="load"[^>]*data-to="[1-9]`).FindStringSubmatch(plain.Body)
	require.NotEmpty(t, id)
	require.NotEmpty(t, load)
	last := id[len(id)/2-1][1] // both widths draw each
	for _, edits := range []string{"e=later:" + last + ":12", "e=to:" + last + ":0.6", "e=without:" + last, "entry=" + last + "&how=later&value=%E2%88%925",
		"e=to:" + load[1] + ":2", "entry=" + load[1] + "&how=to&value=2+pieces", "e=drier:0.14", "e=laid-out:top-down", "e=turned:lever:40:0.4"} {
		got := s.Get(b + "/otherwise?" + edits)
		require.Equal(t, http.StatusOK, got.Status, "%s: %s", edits, got.Words())
		assert.Contains(t, got.Words(), "as it was", edits)
	}
	for _, edits := range []string{"e=later:" + last + ":x", "e=later:nobody:5", "e=later:" + last + ":-900", "e=to:" + last + ":7",
		"e=to:" + load[1] + ":0", "e=dance:1",
		"e=later:" + last + ":1e308", "e=later:" + last + ":NaN", "e=turned:nothing:10:0.5", "entry=" + last + "&how=to&value=green", "e=laid-out:sideways",
		strings.Repeat("e=drier:0.2&", 60)} {
		got := s.Get(b + "/otherwise?" + edits)
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, edits)
		assert.Contains(t, got.Body, `role="alert"`, edits)
	}
	require.Equal(t, http.StatusSeeOther, s.Post("/stove", "stove", "1", "start", "good-coals").Status)
	open := webtest.Between(s.Get("/burns?stove=1").Body, `href="/burns/`, `"`)
	got := s.Get("/burns/" + open + "/otherwise")
	assert.Equal(t, http.StatusUnprocessableEntity, got.Status)
	assert.Contains(t, got.Words(), "not over")
}

// The owner's eye is one tap a mark, and can be taken back; a picture is kept as pixels.
func TestTheOwnersEye(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b := webtest.FirstBurn(s)
	require.Equal(t, b+"#eye", s.Post(b+"/eye", "glass", "hazed").To)
	require.Equal(t, b+"#eye", s.Post(b+"/eye", "meant", "a warm room for bread").To)
	page := s.Get(b).Body
	assert.Regexp(t, `value="" class="mark-tap"[^>]*aria-pressed="true"[^>]*>hazed`, page)
	assert.Contains(t, page, "a warm room for bread")
	s.Post(b+"/eye", "glass", "")
	assert.NotRegexp(t, `aria-pressed="true"[^>]*>hazed`, s.Get(b).Body)
	assert.Contains(t, s.Get(b).Body, "a warm room for bread", "the other marks stay")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(b+"/eye", "glass", "purple").Status)
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(b+"/eye", "meant", strings.Repeat("x", 301)).Status)
	assert.Equal(t, 1, strings.Count(s.Get("/burns?text=bread").Body, `name="b"`), "it is found by what was meant")
	assert.Contains(t, s.Get("/burns?text=100%25").Words(), "No burn is like that")

	var img bytes.Buffer
	require.NoError(t, png.Encode(&img, image.NewGray(image.Rect(0, 0, 60, 40))))
	photo := func(name string, data []byte) webtest.Answer {
		var body bytes.Buffer
		w := multipart.NewWriter(&body)
		part, err := w.CreateFormFile("photo", name)
		require.NoError(t, err)
		_, _ = part.Write(data)
		require.NoError(t, w.Close())
		r, err := http.NewRequest(http.MethodPost, s.URL+b+"/photos", &body)
		require.NoError(t, err)
		r.Header.Set("Content-Type", w.FormDataContentType())
		return s.Do(r)
	}
	require.Equal(t, b+"#eye", photo("glass.png", img.Bytes()).To)
	at := b + "/photos/" + webtest.Between(s.Get(b).Body, `src="`+b+`/photos/`, `"`)
	got := s.Get(at)
	assert.Equal(t, "image/jpeg", got.Header.Get("Content-Type"))
	assert.Equal(t, "nosniff", got.Header.Get("X-Content-Type-Options"))
	assert.Equal(t, http.StatusUnprocessableEntity, photo("page.png", []byte("<html>")).Status)
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(b+"/photos").Status)
	for range 11 {
		require.Equal(t, http.StatusSeeOther, photo("glass.png", img.Bytes()).Status)
	}
	full := photo("glass.png", img.Bytes())
	assert.Equal(t, http.StatusConflict, full.Status)
	assert.Contains(t, full.Words(), "up to 12")
	s.Post(at + "/remove")
	assert.Equal(t, http.StatusNotFound, s.Get(at).Status)
	s.Post(at + "/put-back")
	assert.Equal(t, http.StatusOK, s.Get(at).Status)
}

// Burns are found by how they were made and what came of them, and laid over each other.
func TestBurnsAreFound(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	rows := func(query string) int { return strings.Count(s.Get("/burns?"+query).Body, `name="b"`) }
	all := rows("")
	assert.Equal(t, 40, all)
	assert.Positive(t, rows("lay=bottom-up"))
	assert.NotContains(t, s.Get("/burns?stove=4").Body, "<td>Auntie")
	assert.Positive(t, rows("result=hot"))
	assert.Less(t, rows("stove=1&wet=wet"), 20)
	assert.Positive(t, rows("stove=1&wet=wet"))
	assert.Zero(t, rows("stove=1&wood=alder"))
	assert.Equal(t, 40, rows("stove=x&wet=x&outdoor=x&result=x&direction="), "what makes no sense is not looked for")
	older := webtest.Between(s.Get("/burns?stove=1").Body, `href="/burns?before`, `"`)
	assert.Contains(t, older, "stove=1", "older ones are looked for so too")

	ids := regexp.MustCompile(`name="b" value="(\d+)"`).FindAllStringSubmatch(s.Get("/burns?stove=1").Body, 6)
	query := ""
	for _, m := range ids[:5] {
		query += "&b=" + m[1]
	}
	for _, zero := range []string{"match", "reload", "down", "nonsense"} {
		got := s.Get("/burns/over?zero=" + zero + query)
		require.Equal(t, http.StatusOK, got.Status, got.Words())
		assert.Contains(t, got.Body, "over-5", zero)
	}
	for _, bad := range []string{"b=" + ids[0][1], query + "&b=" + ids[5][1], "b=x&b=y", ""} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.Get("/burns/over?"+bad).Status, bad)
	}
	assert.Equal(t, http.StatusNotFound, s.Get("/burns/over?b=99999&b="+ids[0][1]).Status)
}

// Two ways are compared, with "too few" where that is the answer; a trial says in the next
// plan which way it is.
func TestTwoWays(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	got := s.Get("/burns/compare?stove=1&subject=lay").Words()
	assert.Contains(t, got, "burns top-down")
	assert.Regexp(t, `Chance alone makes as much once in|No difference in .* that`, got)
	before, model, there := strings.Cut(got, "What the model computes of them")
	require.True(t, there)
	assert.NotContains(t, before, "g/kg", "smoke by the kilogram is the model's")
	assert.NotContains(t, model, "Chance alone", "and chance is not asked about it")
	assert.Regexp(t, `Too few burns to say|in one way of this`, s.Get("/burns/compare?stove=4&subject=lay").Words())
	for _, odd := range []string{"?stove=99", "?subject=x", "?a=x&b=x", "?stove=-1&subject=wood&a=oak&b=oak"} {
		assert.Equal(t, http.StatusOK, s.Get("/burns/compare"+odd).Status, odd)
	}
	trial := func(most string) webtest.Answer {
		return s.Post("/burns/compare", "stove", "1", "subject", "lay", "a", "top-down", "b", "bottom-up", "most", most)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, trial("2").Status)
	assert.Equal(t, http.StatusUnprocessableEntity, trial("many").Status)
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/burns/compare", "stove", "1", "subject", "lay", "a", "x", "b", "x", "most", "8").Status)
	assert.Equal(t, http.StatusNotFound, s.Post("/burns/compare", "stove", "99", "subject", "lay", "a", "top-down", "b", "bottom-up", "most", "8").Status)
	require.Equal(t, http.StatusSeeOther, trial("8").Status)
	page := s.Get("/burns/compare?stove=1")
	assert.Contains(t, page.Words(), "0 of up to 8 burns")
	way := strings.TrimSpace(webtest.Between(page.Words(), "The next time: lay it", "."))
	require.Contains(t, []string{"top-down", "bottom-up"}, way)
	plan := s.Get("/plan?stove=1")
	assert.Contains(t, plan.Words(), "By lot, for the trial: lay it "+way)
	assert.Regexp(t, `(?s)name="lay".*?value="`+way+`" selected`, plan.Body)
	s.Post("/trials/" + webtest.Between(page.Body, `action="/trials/`, `/`) + "/end")
	assert.NotContains(t, s.Get("/plan?stove=1").Words(), "By lot")
	assert.Contains(t, s.Get("/burns/compare?stove=1").Words(), "Trials that are over")
}

// The year by week, beside the year before.
func TestTheSeason(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	got := s.Get("/season")
	assert.Contains(t, got.Body, "season-wood")
	assert.Contains(t, got.Words(), "For each degree-day")
	assert.Equal(t, 5, strings.Count(got.Body, "<td>this year</td>"), "all of them, and four stoves")
	assert.Contains(t, got.Words(), "Week by week")
	assert.Contains(t, got.Body, "<td>6 Apr 2026</td>", "the last week of the season")
	later := s.Get("/season?to=2025-10-12")
	assert.Equal(t, http.StatusOK, later.Status)
	assert.Contains(t, later.Words(), "later")
	assert.Contains(t, s.Get("/season?to=1999-01-01").Words(), "Nothing was burnt")
	assert.Equal(t, http.StatusOK, s.Get("/season?to=nonsense").Status)
	s.Clock.At = s.Clock.At.AddDate(1, 0, 0)
	assert.Contains(t, s.Get("/season").Body, "season-before", "a year on, it is the year before")
}

// The whole logbook goes out, and comes into another household as it was; once.
func TestTheLogbookGoesOutAndComesBack(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	s.Post(webtest.FirstBurn(s)+"/eye", "smell", "a little")
	out := s.Get("/burns/logbook.json")
	require.Equal(t, http.StatusOK, out.Status)
	table := s.Get("/burns/logbook.zip")
	assert.Equal(t, "application/zip", table.Header.Get("Content-Type"))
	assert.True(t, strings.HasPrefix(table.Body, "PK"))
	assert.Contains(t, s.Get("/burns/logbook.schema.json").Body, "smolder logbook")
	storetest.Household(t, s.Store, "stranger")
	_, err := s.Store.DB().Exec(`UPDATE users SET password = (SELECT password FROM users WHERE name = 'tarn') WHERE name = 'stranger'`)
	require.NoError(t, err)
	s.NewPerson()
	require.Equal(t, "/", s.Post("/sign-in", "name", "stranger", "password", "mill-on-the-tarn").To)
	half := out.Body[:len(out.Body)/2]
	got := s.Upload("/burns/import", "logbook.json", half)
	assert.Equal(t, http.StatusUnprocessableEntity, got.Status)
	assert.Contains(t, s.Get("/burns").Words(), "No burn is logged yet", "nothing of half a file")
	assert.Contains(t, s.Get("/stoves").Words(), "No stove yet")
	got = s.Upload("/burns/import", "logbook.json", out.Body)
	require.Equal(t, "/burns", got.To, got.Words())
	again := s.Get("/burns/logbook.json")
	strip := func(text string) string {
		return regexp.MustCompile(`,?"(stack_id|id)":\d+`).ReplaceAllString(text, "")
	}
	was, is := strings.Split(strip(out.Body), "\n"), strings.Split(strip(again.Body), "\n")
	require.Len(t, is, len(was))
	for i := range was {
		require.Equal(t, was[i], is[i])
	}
	s.Upload("/burns/import", "logbook.json", out.Body)
	assert.Contains(t, s.Get("/burns").Words(), "Read in: 0 burns.")
}

// A logbook with thermometers goes out and comes back whole: packed, burn by burn, each once,
// and from where it broke off.
func TestALogbookWithThermometers(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	roundTrip(t, s, 6, 30*time.Second)
}

// Ten winters of three thermometers at a tenth of a hertz. It takes minutes.
func TestTenWintersGoOutAndComeBack(t *testing.T) {
	if os.Getenv("SMOLDER_LONG") == "" {
		t.Skip("some minutes: SMOLDER_LONG=1")
	}
	s := webtest.New(t, true)
	s.SignIn()
	roundTrip(t, s, 1500, 10*time.Second)
}

// roundTrip lets three gauges of so many burns report every so often, takes the logbook out,
// and reads it into another household.
func roundTrip(t *testing.T, s *webtest.Site, burns int, every time.Duration) {
	const hours = 12
	h := s.Store.Household(1)
	mill, err := h.Stove(ctx, 1)
	require.NoError(t, err)
	first := time.Date(2015, 10, 1, 16, 0, 0, 0, time.UTC)
	_, err = s.Store.DB().Exec(`UPDATE burns SET removed_at = now()`)
	require.NoError(t, err)
	began, readings := time.Now(), 0
	for i := range burns {
		start := first.AddDate(0, 0, 2*i)
		b := burn.Burn{Stove: mill.Stove, House: mill.Space.House, Room: 18, Outdoor: 2, Wanted: [2]float64{19, 21}, Started: start, Ended: start.Add(hours * time.Hour),
			Entries: []burn.Entry{{ID: fmt.Sprint("lit", i), At: start, Kind: burn.Light}}}
		_, err := h.StartBurn(ctx, 1, "", b, nil)
		require.NoError(t, err)
		var list []store.Reported
		for at := every; at < hours*time.Hour; at += every {
			for k, place := range []string{"connector-probe", "top", "room"} {
				list = append(list, store.Reported{Stove: 1, Place: place, At: start.Add(at), Value: 20 + float64(k)*100 + float64(at/every%50)})
			}
		}
		_, err = h.AddReported(ctx, list)
		require.NoError(t, err)
		readings += len(list)
	}
	t.Logf("%d readings kept in %s", readings, time.Since(began).Round(time.Second))
	began = time.Now()
	out := s.Get("/burns/logbook.json.gz")
	require.Equal(t, http.StatusOK, out.Status)
	t.Logf("out: %d kB in %s", len(out.Body)>>10, time.Since(began).Round(time.Second))

	storetest.Household(t, s.Store, "stranger")
	_, err = s.Store.DB().Exec(`UPDATE users SET password = (SELECT password FROM users WHERE name = 'tarn') WHERE name = 'stranger'`)
	require.NoError(t, err)
	s.NewPerson()
	require.Equal(t, "/", s.Post("/sign-in", "name", "stranger", "password", "mill-on-the-tarn").To)
	half := s.Upload("/burns/import", "logbook.json.gz", out.Body[:len(out.Body)*2/3])
	assert.Equal(t, http.StatusUnprocessableEntity, half.Status)
	assert.Contains(t, half.Words(), "sent again, it goes on from there", half.Words()[:300])
	began = time.Now()
	whole := s.Upload("/burns/import", "logbook.json.gz", out.Body)
	require.Equal(t, "/burns", whole.To, whole.Words())
	t.Logf("in: %s", time.Since(began).Round(time.Second))
	var here int
	require.NoError(t, s.Store.DB().QueryRow(`SELECT count(*) FROM reported WHERE household_id = 2`).Scan(&here))
	assert.Equal(t, readings, here, "every reading once")
	again := s.Get("/burns/logbook.json.gz")
	assert.Equal(t, webtest.Unpacked(t, out.Body), webtest.Unpacked(t, again.Body))
	twice := s.Upload("/burns/import", "logbook.json.gz", out.Body)
	require.Equal(t, "/burns", twice.To)
	assert.Contains(t, s.Get("/burns").Words(), fmt.Sprintf("Read in: 0 burns. %d were here already.", burns))
}

// A file that is sent slowly, a byte now and then, holds no place of anybody's.
func TestAFileThatComesSlowly(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	out := s.Get(webtest.FirstBurn(s) + "/burn.json")
	done, stop := context.WithCancel(t.Context())
	var slow sync.WaitGroup
	defer slow.Wait()
	defer stop()
	for range 2 {
		slow.Go(func() {
			// An upload that looks whether both are here may take the place of one of
			// them: that one is told so, and comes again.
			for done.Err() == nil {
				r, w := io.Pipe()
				req, err := http.NewRequest(http.MethodPost, s.URL+"/burns/import", r)
				if !assert.NoError(t, err) {
					return
				}
				req.Header.Set("Content-Type", "multipart/form-data; boundary=xx")
				req.Header.Set("Sec-Fetch-Site", "same-origin")
				go func() { _, _ = w.Write([]byte("--xx\r\n")) }()
				cut := context.AfterFunc(done, func() { _ = w.CloseWithError(io.ErrUnexpectedEOF) })
				if resp, err := s.Client.Do(req); err == nil {
					_ = resp.Body.Close()
				}
				cut()
				_ = w.CloseWithError(io.ErrUnexpectedEOF)
			}
		})
	}
	require.Eventually(t, func() bool {
		return s.Upload("/burns/import", "burn.json", out.Body).Status == http.StatusTooManyRequests
	}, time.Minute, 20*time.Millisecond, "two of this household are arriving")
	storetest.Household(t, s.Store, "stranger")
	_, err := s.Store.DB().Exec(`UPDATE users SET password = (SELECT password FROM users WHERE name = 'tarn') WHERE name = 'stranger'`)
	require.NoError(t, err)
	other := &webtest.Site{T: t, URL: s.URL, Store: s.Store, Clock: s.Clock}
	other.NewPerson()
	require.Equal(t, "/", other.Post("/sign-in", "name", "stranger", "password", "mill-on-the-tarn").To)
	assert.Equal(t, http.StatusSeeOther, other.Upload("/burns/import", "burn.json", out.Body).Status, "another household's is read in at once")
}

// A logger's file is matched, looked at, and read in whole or not at all.
func TestReadingsOfALogger(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	at := s.Clock.At.Add(-48 * time.Hour).UTC()
	file := "Time,Flue temp F,Room\n"
	for i := range 200 {
		file += fmt.Sprintf("%s,%d,68\n", at.Add(time.Duration(i)*time.Minute).Format("2006-01-02 15:04:05"), 400+i%50)
	}
	bad := file + "yesterday,1,2\n"
	up := s.Upload("/burns/import/readings", "log.csv", bad)
	require.Equal(t, http.StatusSeeOther, up.Status, up.Words())
	page := s.Get(up.To)
	assert.Regexp(t, `(?s)name="c1".*?value="connector-probe" selected`, page.Body, "its columns are guessed")
	look := s.Get(up.To + "?look=1&c0=moment&c1=connector-probe&c2=room&degrees=f&draft=pa&zone=utc&order=day&stove=1")
	assert.Contains(t, look.Words(), "400 readings")
	assert.Contains(t, look.Words(), "row 202")
	match := []string{"c0", "moment", "c1", "connector-probe", "c2", "room", "degrees", "f", "draft", "pa", "zone", "utc", "order", "day", "stove", "1"}
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(up.To, match...).Status)
	assert.Zero(t, webtest.Count(s, "reported"), "nothing is half read in")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(up.To, "c0", "", "c1", "", "c2", "", "stove", "1").Status)
	assert.Equal(t, http.StatusNotFound, s.Post(up.To, append(match[:len(match)-1:len(match)-1], "99", "without", "yes")...).Status)
	assert.Zero(t, webtest.Count(s, "reported"))
	got := s.Post(up.To, append(match, "without", "yes")...)
	require.Equal(t, "/burns", got.To, got.Words())
	assert.Equal(t, 400, webtest.Count(s, "reported"))
	assert.Equal(t, http.StatusNotFound, s.Get(up.To).Status, "the file is let go")
	up = s.Upload("/burns/import/readings", "log.csv", file)
	require.Equal(t, "/burns", s.Post(up.To, match...).To)
	assert.Contains(t, s.Get("/burns").Words(), "400 were here already")
	for name, text := range map[string]string{"nothing": "", "a picture": "\x89PNG\r\n\x1a\n\x00\xff", "one column": "1\n2\n"} {
		got := s.Upload("/burns/import/readings", "x.csv", text)
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, name)
		assert.Contains(t, got.Body, `role="alert"`, name)
	}
}

// What burns have taught a stove, and what makes it unknown again.
func TestWhatIsKnownOfAStove(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	assert.Contains(t, s.Get("/stoves/4/known").Words(), "Nothing is known of this stove yet")
	w := &reviewing.Worker{Store: s.Store}
	require.NoError(t, w.Learn(t.Context(), s.Store.Household(1), 4))
	page := s.Get("/stoves/4/known")
	assert.Contains(t, page.Words(), "Forecasts the pipe")
	assert.Contains(t, page.Words(), "So plans, the coach and the reviews go by what was learned")
	assert.Contains(t, page.Words(), "keeps 19")
	assert.Contains(t, page.Body, "told-known")
	back := webtest.Between(page.Body, `name="burn" value="`, `"`)
	for _, bad := range [][]string{{"kind", "dance", "at", "today"}, {"kind", "gasket", "at", "2999-01-01"}, {"kind", "gasket", "at", "soon"}} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/stoves/4/changes", bad...).Status, bad)
	}
	require.Equal(t, "/stoves/4/known", s.Post("/stoves/4/changes", "kind", "gasket", "at", "today").To)
	assert.Contains(t, s.Get("/stoves/4/known").Words(), "a new door or glass gasket")
	require.Equal(t, "/stoves/4/known", s.Post("/stoves/4/back", "burn", back).To)
	assert.Equal(t, http.StatusNotFound, s.Post("/stoves/4/back", "burn", "99999").Status)
	change := webtest.Between(s.Get("/stoves/4/known").Body, `action="/stoves/4/changes/`, `/`)
	require.Equal(t, "/stoves/4/known", s.Post("/stoves/4/changes/"+change+"/undo").To)
	require.NoError(t, w.Learn(t.Context(), s.Store.Household(1), 4))
	plan := s.Wish("/plan?stove=4&aim=hold&for=2+h&low=16&high=21.5&room=12&outdoor=5&start=cold&wood=5&kindling=6")
	require.NotEmpty(t, plan.To, plan.Words())
	assert.Contains(t, s.Get(plan.To).Words(), "have shown it, and not for a usual one of its kind")
	assert.Contains(t, s.Get("/stoves/4/behaves").Words(), "have shown it, and not for a usual one of its kind")
}
