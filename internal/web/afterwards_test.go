package web_test

import (
	"bufio"
	"bytes"
	"compress/gzip"
	"crypto/sha256"
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
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/reviewing"
	"smolder/internal/core/burn"
	"smolder/internal/core/review"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

// reviewed is a burn of Auntie's with its whole review, which has findings.
func reviewed(s *site) string {
	s.t.Helper()
	h := s.store.Household(1)
	w := &reviewing.Worker{Store: s.store}
	for _, m := range regexp.MustCompile(`href="/burns/(\d+)">[^<]*</a></td>\s*<td>Auntie`).FindAllStringSubmatch(s.get("/burns?stove=1").body, 6) {
		var id int64
		_, err := fmt.Sscan(m[1], &id)
		require.NoError(s.t, err)
		require.NoError(s.t, w.One(s.t.Context(), h, id))
		r, err := h.ReviewOf(s.t.Context(), id)
		require.NoError(s.t, err)
		if len(r.Review().Findings) > 0 {
			return "/burns/" + m[1]
		}
	}
	s.t.Fatal("no burn of the season could have gone better")
	return ""
}

// A burn's page says what would have gone better, the strip shows it, and it is carried to
// the next plan.
func TestWhatWouldHaveGoneBetter(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	first := s.get(firstBurn(s)).words()
	assert.Contains(t, first, "is being worked out", "a quick review has no findings yet")
	b := reviewed(s)
	page := s.get(b)
	words := page.words()
	assert.Contains(t, words, "What would have gone better")
	assert.Contains(t, words, "Otherwise:")
	next := strings.TrimSpace(between(words, "Next time:", "The next plan says so too"))
	require.NotEmpty(t, next)
	assert.Contains(t, page.body, `class="margin-note"`, "its number stands at its moment")

	// The finding's own link shows it on the strip.
	link := b + "/otherwise?" + between(page.body, `href="`+b+`/otherwise?`, `"`)
	shown := s.get(strings.ReplaceAll(link, "&amp;", "&"))
	require.Equal(t, http.StatusOK, shown.status, shown.words())
	assert.Contains(t, shown.body, `class="pen second`)
	assert.Regexp(t, `% (less|more)|min less too hot|shorter|longer`, shown.words())

	zoomed := s.get(b + "?from=30&to=60")
	assert.Equal(t, http.StatusOK, zoomed.status)
	assert.NotEqual(t, page.body, zoomed.body)
	for _, odd := range []string{"?from=x&to=y", "?from=NaN&to=1e308", "?from=-5&to=-1", "?from=600&to=2"} {
		assert.Equal(t, http.StatusOK, s.get(b+odd).status, odd)
	}
}

// The last burn's one thing stands on the next plan.
func TestThePlanCarriesWhatWasFound(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b := reviewed(s)
	next := strings.TrimSpace(between(s.get(b).words(), "Next time:", "The next plan says so too"))
	// that burn is the last one: those after it are taken off the list
	for _, m := range regexp.MustCompile(`href="(/burns/\d+)">[^<]*</a></td>\s*<td>Auntie`).FindAllStringSubmatch(s.get("/burns?stove=1").body, 6) {
		if m[1] == b {
			break
		}
		s.post(m[1] + "/remove")
	}
	plan := s.wish("/plan?stove=1&aim=hold&for=5+h&low=19&high=21.5&room=16.5&outdoor=2&start=cold&wood=1&kindling=6").to
	assert.Contains(t, s.get(plan).words(), "From last time: "+next)
}

// The coach says it too, at the step that it is about, and at no other.
func TestTheCoachCarriesWhatWasFound(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	h := s.store.Household(1)
	id, err := strconv.ParseInt(regexp.MustCompile(`href="/burns/(\d+)">[^<]*</a></td>\s*<td>Auntie`).FindStringSubmatch(s.get("/burns?stove=1").body)[1], 10, 64)
	require.NoError(t, err)
	b, err := h.Burn(t.Context(), id)
	require.NoError(t, err)
	for matter, said := range map[review.Matter]bool{review.Lit: true, review.DownEarly: false, review.TooFar: false} {
		r := review.Quick(b.Burn)
		r.Findings = []review.Finding{{Code: matter, By: 6 * time.Minute, Control: b.Stove.Controls[0]}}
		require.NoError(t, h.KeepReview(t.Context(), b, true, r))
		plan := s.wish("/plan?stove=1&aim=hold&for=5+h&low=19&high=21.5&room=16.5&outdoor=2&start=cold&wood=1&kindling=6").to
		assert.Equal(t, matter == review.TooFar, strings.Contains(s.get(plan).words(), "where a step says otherwise, do what the step says"),
			"a setting of another load gives way: %s", matter)
		live := s.post(plan + "/start").to
		require.Contains(t, live, "/live")
		assert.Equal(t, said, strings.Contains(s.get(live).words(), "From last time: Light from above"), matter)
		s.post(strings.TrimSuffix(live, "/live") + "/remove")
	}
}

// Any burn can be tried otherwise; what makes no sense is said and changes nothing.
func TestTriedOtherwise(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b := regexp.MustCompile(`href="(/burns/\d+)">[^<]*</a></td>\s*<td>Auntie`).FindStringSubmatch(s.get("/burns?stove=1").body)[1]
	plain := s.get(b + "/otherwise")
	require.Equal(t, http.StatusOK, plain.status, plain.words())
	assert.Contains(t, plain.body, `role="slider"`)
	id := regexp.MustCompile(`data-entry="([^"]+)" data-kind="control"`).FindAllStringSubmatch(plain.body, -1)
	load := regexp.MustCompile(`data-entry="([^"]+)" data-kind="load"[^>]*data-to="[1-9]`).FindStringSubmatch(plain.body)
	require.NotEmpty(t, id)
	require.NotEmpty(t, load)
	last := id[len(id)/2-1][1] // both widths draw each
	for _, edits := range []string{"e=later:" + last + ":12", "e=to:" + last + ":0.6", "e=without:" + last, "entry=" + last + "&how=later&value=%E2%88%925",
		"e=to:" + load[1] + ":2", "entry=" + load[1] + "&how=to&value=2+pieces", "e=drier:0.14", "e=laid-out:top-down", "e=turned:lever:40:0.4"} {
		got := s.get(b + "/otherwise?" + edits)
		require.Equal(t, http.StatusOK, got.status, "%s: %s", edits, got.words())
		assert.Contains(t, got.words(), "as it was", edits)
	}
	for _, edits := range []string{"e=later:" + last + ":x", "e=later:nobody:5", "e=later:" + last + ":-900", "e=to:" + last + ":7",
		"e=to:" + load[1] + ":0", "e=dance:1",
		"e=later:" + last + ":1e308", "e=later:" + last + ":NaN", "e=turned:nothing:10:0.5", "entry=" + last + "&how=to&value=green", "e=laid-out:sideways",
		strings.Repeat("e=drier:0.2&", 60)} {
		got := s.get(b + "/otherwise?" + edits)
		assert.Equal(t, http.StatusUnprocessableEntity, got.status, edits)
		assert.Contains(t, got.body, `role="alert"`, edits)
	}
	require.Equal(t, http.StatusSeeOther, s.post("/stove", "stove", "1", "start", "good-coals").status)
	open := between(s.get("/burns?stove=1").body, `href="/burns/`, `"`)
	got := s.get("/burns/" + open + "/otherwise")
	assert.Equal(t, http.StatusUnprocessableEntity, got.status)
	assert.Contains(t, got.words(), "not over")
}

// The owner's eye is one tap a mark, and can be taken back; a picture is kept as pixels.
func TestTheOwnersEye(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b := firstBurn(s)
	require.Equal(t, b+"#eye", s.post(b+"/eye", "glass", "hazed").to)
	require.Equal(t, b+"#eye", s.post(b+"/eye", "meant", "a warm room for bread").to)
	page := s.get(b).body
	assert.Regexp(t, `value="" class="mark-tap"[^>]*aria-pressed="true"[^>]*>hazed`, page)
	assert.Contains(t, page, "a warm room for bread")
	s.post(b+"/eye", "glass", "")
	assert.NotRegexp(t, `aria-pressed="true"[^>]*>hazed`, s.get(b).body)
	assert.Contains(t, s.get(b).body, "a warm room for bread", "the other marks stay")
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(b+"/eye", "glass", "purple").status)
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(b+"/eye", "meant", strings.Repeat("x", 301)).status)
	assert.Equal(t, 1, strings.Count(s.get("/burns?text=bread").body, `name="b"`), "it is found by what was meant")
	assert.Contains(t, s.get("/burns?text=100%25").words(), "No burn is like that")

	var img bytes.Buffer
	require.NoError(t, png.Encode(&img, image.NewGray(image.Rect(0, 0, 60, 40))))
	photo := func(name string, data []byte) answer {
		var body bytes.Buffer
		w := multipart.NewWriter(&body)
		part, err := w.CreateFormFile("photo", name)
		require.NoError(t, err)
		_, _ = part.Write(data)
		require.NoError(t, w.Close())
		r, err := http.NewRequest(http.MethodPost, s.url+b+"/photos", &body)
		require.NoError(t, err)
		r.Header.Set("Content-Type", w.FormDataContentType())
		return s.do(r)
	}
	require.Equal(t, b+"#eye", photo("glass.png", img.Bytes()).to)
	at := b + "/photos/" + between(s.get(b).body, `src="`+b+`/photos/`, `"`)
	got := s.get(at)
	assert.Equal(t, "image/jpeg", got.header.Get("Content-Type"))
	assert.Equal(t, "nosniff", got.header.Get("X-Content-Type-Options"))
	assert.Equal(t, http.StatusUnprocessableEntity, photo("page.png", []byte("<html>")).status)
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(b+"/photos").status)
	for range 11 {
		require.Equal(t, http.StatusSeeOther, photo("glass.png", img.Bytes()).status)
	}
	full := photo("glass.png", img.Bytes())
	assert.Equal(t, http.StatusConflict, full.status)
	assert.Contains(t, full.words(), "up to 12")
	s.post(at + "/remove")
	assert.Equal(t, http.StatusNotFound, s.get(at).status)
	s.post(at + "/put-back")
	assert.Equal(t, http.StatusOK, s.get(at).status)
}

// Burns are found by how they were made and what came of them, and laid over each other.
func TestBurnsAreFound(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	rows := func(query string) int { return strings.Count(s.get("/burns?"+query).body, `name="b"`) }
	all := rows("")
	assert.Equal(t, 40, all)
	assert.Positive(t, rows("lay=bottom-up"))
	assert.NotContains(t, s.get("/burns?stove=4").body, "<td>Auntie")
	assert.Positive(t, rows("result=hot"))
	assert.Less(t, rows("stove=1&wet=wet"), 20)
	assert.Positive(t, rows("stove=1&wet=wet"))
	assert.Zero(t, rows("stove=1&wood=alder"))
	assert.Equal(t, 40, rows("stove=x&wet=x&outdoor=x&result=x&direction="), "what makes no sense is not looked for")
	older := between(s.get("/burns?stove=1").body, `href="/burns?before`, `"`)
	assert.Contains(t, older, "stove=1", "older ones are looked for so too")

	ids := regexp.MustCompile(`name="b" value="(\d+)"`).FindAllStringSubmatch(s.get("/burns?stove=1").body, 6)
	query := ""
	for _, m := range ids[:5] {
		query += "&b=" + m[1]
	}
	for _, zero := range []string{"match", "reload", "down", "nonsense"} {
		got := s.get("/burns/over?zero=" + zero + query)
		require.Equal(t, http.StatusOK, got.status, got.words())
		assert.Contains(t, got.body, "over-5", zero)
	}
	for _, bad := range []string{"b=" + ids[0][1], query + "&b=" + ids[5][1], "b=x&b=y", ""} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.get("/burns/over?"+bad).status, bad)
	}
	assert.Equal(t, http.StatusNotFound, s.get("/burns/over?b=99999&b="+ids[0][1]).status)
}

// Two ways are compared, with "too few" where that is the answer; a trial says in the next
// plan which way it is.
func TestTwoWays(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	got := s.get("/burns/compare?stove=1&subject=lay").words()
	assert.Contains(t, got, "burns top-down")
	assert.Regexp(t, `Chance alone makes as much once in|No difference in .* that`, got)
	before, model, there := strings.Cut(got, "What the model computes of them")
	require.True(t, there)
	assert.NotContains(t, before, "g/kg", "smoke by the kilogram is the model's")
	assert.NotContains(t, model, "Chance alone", "and chance is not asked about it")
	assert.Regexp(t, `Too few burns to say|in one way of this`, s.get("/burns/compare?stove=4&subject=lay").words())
	for _, odd := range []string{"?stove=99", "?subject=x", "?a=x&b=x", "?stove=-1&subject=wood&a=oak&b=oak"} {
		assert.Equal(t, http.StatusOK, s.get("/burns/compare"+odd).status, odd)
	}
	trial := func(most string) answer {
		return s.post("/burns/compare", "stove", "1", "subject", "lay", "a", "top-down", "b", "bottom-up", "most", most)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, trial("2").status)
	assert.Equal(t, http.StatusUnprocessableEntity, trial("many").status)
	assert.Equal(t, http.StatusUnprocessableEntity, s.post("/burns/compare", "stove", "1", "subject", "lay", "a", "x", "b", "x", "most", "8").status)
	assert.Equal(t, http.StatusNotFound, s.post("/burns/compare", "stove", "99", "subject", "lay", "a", "top-down", "b", "bottom-up", "most", "8").status)
	require.Equal(t, http.StatusSeeOther, trial("8").status)
	page := s.get("/burns/compare?stove=1")
	assert.Contains(t, page.words(), "0 of up to 8 burns")
	way := strings.TrimSpace(between(page.words(), "The next time: lay it", "."))
	require.Contains(t, []string{"top-down", "bottom-up"}, way)
	plan := s.get("/plan?stove=1")
	assert.Contains(t, plan.words(), "By lot, for the trial: lay it "+way)
	assert.Regexp(t, `(?s)name="lay".*?value="`+way+`" selected`, plan.body)
	s.post("/trials/" + between(page.body, `action="/trials/`, `/`) + "/end")
	assert.NotContains(t, s.get("/plan?stove=1").words(), "By lot")
	assert.Contains(t, s.get("/burns/compare?stove=1").words(), "Trials that are over")
}

// The year by week, beside the year before.
func TestTheSeason(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	got := s.get("/season")
	assert.Contains(t, got.body, "season-wood")
	assert.Contains(t, got.words(), "For each degree-day")
	assert.Equal(t, 5, strings.Count(got.body, "<td>this year</td>"), "all of them, and four stoves")
	assert.Contains(t, got.words(), "Week by week")
	assert.Contains(t, got.body, "<td>6 Apr 2026</td>", "the last week of the season")
	later := s.get("/season?to=2025-10-12")
	assert.Equal(t, http.StatusOK, later.status)
	assert.Contains(t, later.words(), "later")
	assert.Contains(t, s.get("/season?to=1999-01-01").words(), "Nothing was burnt")
	assert.Equal(t, http.StatusOK, s.get("/season?to=nonsense").status)
	s.clock.at = s.clock.at.AddDate(1, 0, 0)
	assert.Contains(t, s.get("/season").body, "season-before", "a year on, it is the year before")
}

// The whole logbook goes out, and comes into another household as it was; once.
func TestTheLogbookGoesOutAndComesBack(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	s.post(firstBurn(s)+"/eye", "smell", "a little")
	out := s.get("/burns/logbook.json")
	require.Equal(t, http.StatusOK, out.status)
	table := s.get("/burns/logbook.zip")
	assert.Equal(t, "application/zip", table.header.Get("Content-Type"))
	assert.True(t, strings.HasPrefix(table.body, "PK"))
	assert.Contains(t, s.get("/burns/logbook.schema.json").body, "smolder logbook")
	storetest.Household(t, s.store, "stranger")
	_, err := s.store.DB().Exec(`UPDATE users SET password = (SELECT password FROM users WHERE name = 'tarn') WHERE name = 'stranger'`)
	require.NoError(t, err)
	s.newPerson()
	require.Equal(t, "/", s.post("/sign-in", "name", "stranger", "password", "mill-on-the-tarn").to)
	half := out.body[:len(out.body)/2]
	got := s.upload("/burns/import", "logbook.json", half)
	assert.Equal(t, http.StatusUnprocessableEntity, got.status)
	assert.Contains(t, s.get("/burns").words(), "No burn is logged yet", "nothing of half a file")
	assert.Contains(t, s.get("/stoves").words(), "No stove yet")
	got = s.upload("/burns/import", "logbook.json", out.body)
	require.Equal(t, "/burns", got.to, got.words())
	again := s.get("/burns/logbook.json")
	strip := func(text string) string {
		return regexp.MustCompile(`,?"(stack_id|id)":\d+`).ReplaceAllString(text, "")
	}
	was, is := strings.Split(strip(out.body), "\n"), strings.Split(strip(again.body), "\n")
	require.Len(t, is, len(was))
	for i := range was {
		require.Equal(t, was[i], is[i])
	}
	s.upload("/burns/import", "logbook.json", out.body)
	assert.Contains(t, s.get("/burns").words(), "Read in: 0 burns.")
}

// A logbook with thermometers goes out and comes back whole: packed, burn by burn, each once,
// and from where it broke off.
func TestALogbookWithThermometers(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	roundTrip(t, s, 6, 30*time.Second)
}

// Ten winters of three thermometers at a tenth of a hertz. It takes minutes.
func TestTenWintersGoOutAndComeBack(t *testing.T) {
	if os.Getenv("SMOLDER_LONG") == "" {
		t.Skip("some minutes: SMOLDER_LONG=1")
	}
	s := newSite(t, true)
	s.signIn()
	roundTrip(t, s, 1500, 10*time.Second)
}

// roundTrip lets three gauges of so many burns report every so often, takes the logbook out,
// and reads it into another household.
func roundTrip(t *testing.T, s *site, burns int, every time.Duration) {
	const hours = 12
	h := s.store.Household(1)
	mill, err := h.Stove(ctx, 1)
	require.NoError(t, err)
	first := time.Date(2015, 10, 1, 16, 0, 0, 0, time.UTC)
	_, err = s.store.DB().Exec(`UPDATE burns SET removed_at = now()`)
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
	out := s.get("/burns/logbook.json.gz")
	require.Equal(t, http.StatusOK, out.status)
	t.Logf("out: %d kB in %s", len(out.body)>>10, time.Since(began).Round(time.Second))

	storetest.Household(t, s.store, "stranger")
	_, err = s.store.DB().Exec(`UPDATE users SET password = (SELECT password FROM users WHERE name = 'tarn') WHERE name = 'stranger'`)
	require.NoError(t, err)
	s.newPerson()
	require.Equal(t, "/", s.post("/sign-in", "name", "stranger", "password", "mill-on-the-tarn").to)
	half := s.upload("/burns/import", "logbook.json.gz", out.body[:len(out.body)*2/3])
	assert.Equal(t, http.StatusUnprocessableEntity, half.status)
	assert.Contains(t, half.words(), "sent again, it goes on from there", half.words()[:300])
	began = time.Now()
	whole := s.upload("/burns/import", "logbook.json.gz", out.body)
	require.Equal(t, "/burns", whole.to, whole.words())
	t.Logf("in: %s", time.Since(began).Round(time.Second))
	var here int
	require.NoError(t, s.store.DB().QueryRow(`SELECT count(*) FROM reported WHERE household_id = 2`).Scan(&here))
	assert.Equal(t, readings, here, "every reading once")
	again := s.get("/burns/logbook.json.gz")
	assert.Equal(t, unpacked(t, out.body), unpacked(t, again.body))
	twice := s.upload("/burns/import", "logbook.json.gz", out.body)
	require.Equal(t, "/burns", twice.to)
	assert.Contains(t, s.get("/burns").words(), fmt.Sprintf("Read in: 0 burns. %d were here already.", burns))
}

// unpacked is a logbook's text without the numbers of its household.
func unpacked(t *testing.T, packed string) string {
	r, err := gzip.NewReader(strings.NewReader(packed))
	require.NoError(t, err)
	sum := sha256.New()
	lines := bufio.NewScanner(r)
	lines.Buffer(nil, 64<<20)
	n := 0
	for lines.Scan() {
		n++
		sum.Write(regexp.MustCompile(`,?"(stack_id|id)":\d+`).ReplaceAll(lines.Bytes(), nil))
	}
	require.NoError(t, lines.Err())
	return fmt.Sprintf("%d lines, %x", n, sum.Sum(nil))
}

// A file that is sent slowly, a byte now and then, holds no place of anybody's.
func TestAFileThatComesSlowly(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	out := s.get(firstBurn(s) + "/burn.json")
	pipes := make([]*io.PipeWriter, 0, 3)
	for range 2 {
		r, w := io.Pipe()
		pipes = append(pipes, w)
		req, err := http.NewRequest(http.MethodPost, s.url+"/burns/import", r)
		require.NoError(t, err)
		req.Header.Set("Content-Type", "multipart/form-data; boundary=xx")
		req.Header.Set("Sec-Fetch-Site", "same-origin")
		go func() {
			if resp, err := s.client.Do(req); err == nil {
				_ = resp.Body.Close()
			}
		}()
		_, err = w.Write([]byte("--xx\r\n"))
		require.NoError(t, err)
	}
	defer func() {
		for _, w := range pipes {
			_ = w.CloseWithError(io.ErrUnexpectedEOF)
		}
	}()
	require.Eventually(t, func() bool {
		return s.upload("/burns/import", "burn.json", out.body).status == http.StatusTooManyRequests
	}, 10*time.Second,
		20*time.Millisecond, "two of this household are arriving")
	storetest.Household(t, s.store, "stranger")
	_, err := s.store.DB().Exec(`UPDATE users SET password = (SELECT password FROM users WHERE name = 'tarn') WHERE name = 'stranger'`)
	require.NoError(t, err)
	other := &site{t: t, url: s.url, store: s.store, clock: s.clock}
	other.newPerson()
	require.Equal(t, "/", other.post("/sign-in", "name", "stranger", "password", "mill-on-the-tarn").to)
	assert.Equal(t, http.StatusSeeOther, other.upload("/burns/import", "burn.json", out.body).status, "another household's is read in at once")
}

// A logger's file is matched, looked at, and read in whole or not at all.
func TestReadingsOfALogger(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	at := s.clock.at.Add(-48 * time.Hour).UTC()
	file := "Time,Flue temp F,Room\n"
	for i := range 200 {
		file += fmt.Sprintf("%s,%d,68\n", at.Add(time.Duration(i)*time.Minute).Format("2006-01-02 15:04:05"), 400+i%50)
	}
	bad := file + "yesterday,1,2\n"
	up := s.upload("/burns/import/readings", "log.csv", bad)
	require.Equal(t, http.StatusSeeOther, up.status, up.words())
	page := s.get(up.to)
	assert.Regexp(t, `(?s)name="c1".*?value="connector-probe" selected`, page.body, "its columns are guessed")
	look := s.get(up.to + "?look=1&c0=moment&c1=connector-probe&c2=room&degrees=f&draft=pa&zone=utc&order=day&stove=1")
	assert.Contains(t, look.words(), "400 readings")
	assert.Contains(t, look.words(), "row 202")
	match := []string{"c0", "moment", "c1", "connector-probe", "c2", "room", "degrees", "f", "draft", "pa", "zone", "utc", "order", "day", "stove", "1"}
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(up.to, match...).status)
	assert.Zero(t, count(s, "reported"), "nothing is half read in")
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(up.to, "c0", "", "c1", "", "c2", "", "stove", "1").status)
	assert.Equal(t, http.StatusNotFound, s.post(up.to, append(match[:len(match)-1:len(match)-1], "99", "without", "yes")...).status)
	assert.Zero(t, count(s, "reported"))
	got := s.post(up.to, append(match, "without", "yes")...)
	require.Equal(t, "/burns", got.to, got.words())
	assert.Equal(t, 400, count(s, "reported"))
	assert.Equal(t, http.StatusNotFound, s.get(up.to).status, "the file is let go")
	up = s.upload("/burns/import/readings", "log.csv", file)
	require.Equal(t, "/burns", s.post(up.to, match...).to)
	assert.Contains(t, s.get("/burns").words(), "400 were here already")
	for name, text := range map[string]string{"nothing": "", "a picture": "\x89PNG\r\n\x1a\n\x00\xff", "one column": "1\n2\n"} {
		got := s.upload("/burns/import/readings", "x.csv", text)
		assert.Equal(t, http.StatusUnprocessableEntity, got.status, name)
		assert.Contains(t, got.body, `role="alert"`, name)
	}
}

// What burns have taught a stove, and what makes it unknown again.
func TestWhatIsKnownOfAStove(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	assert.Contains(t, s.get("/stoves/4/known").words(), "Nothing is known of this stove yet")
	w := &reviewing.Worker{Store: s.store}
	require.NoError(t, w.Learn(t.Context(), s.store.Household(1), 4))
	page := s.get("/stoves/4/known")
	assert.Contains(t, page.words(), "Foretells the pipe")
	assert.Contains(t, page.words(), "So plans, the coach and the reviews go by what was learned")
	assert.Contains(t, page.words(), "keeps 19")
	assert.Contains(t, page.body, "told-known")
	back := between(page.body, `name="burn" value="`, `"`)
	for _, bad := range [][]string{{"kind", "dance", "at", "today"}, {"kind", "gasket", "at", "2999-01-01"}, {"kind", "gasket", "at", "soon"}} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.post("/stoves/4/changes", bad...).status, bad)
	}
	require.Equal(t, "/stoves/4/known", s.post("/stoves/4/changes", "kind", "gasket", "at", "today").to)
	assert.Contains(t, s.get("/stoves/4/known").words(), "a new door or glass gasket")
	require.Equal(t, "/stoves/4/known", s.post("/stoves/4/back", "burn", back).to)
	assert.Equal(t, http.StatusNotFound, s.post("/stoves/4/back", "burn", "99999").status)
	change := between(s.get("/stoves/4/known").body, `action="/stoves/4/changes/`, `/`)
	require.Equal(t, "/stoves/4/known", s.post("/stoves/4/changes/"+change+"/undo").to)
	require.NoError(t, w.Learn(t.Context(), s.store.Household(1), 4))
	plan := s.wish("/plan?stove=4&aim=hold&for=2+h&low=16&high=21.5&room=12&outdoor=5&start=cold&wood=5&kindling=6")
	require.NotEmpty(t, plan.to, plan.words())
	assert.Contains(t, s.get(plan.to).words(), "have taught it, and not for a usual one of its kind")
	assert.Contains(t, s.get("/stoves/4/behaves").words(), "have taught it, and not for a usual one of its kind")
}
