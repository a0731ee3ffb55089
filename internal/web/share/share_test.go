package share_test

import (
	"bytes"
	"encoding/json"
	"html"
	"image"
	"image/jpeg"
	"mime/multipart"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/exchange"
	"smolder/internal/storetest"
	"smolder/internal/web/webtest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

// shared shares something and returns the link's path.
func shared(t *testing.T, s *webtest.Site, path string, pairs ...string) string {
	t.Helper()
	got := s.Post(path, append([]string{"days", "7"}, pairs...)...)
	require.Equal(t, http.StatusOK, got.Status, got.Words())
	assert.Contains(t, got.Body, `class="qr"`, "for the camera of a phone")
	link := regexp.MustCompile(`href="http://[^"/]+(/shared/[A-Z2-7]+)"`).FindStringSubmatch(got.Body)
	require.NotNil(t, link, got.Words())
	assert.NotContains(t, s.Get("/shares").Body, link[1], "it is shown once")
	return link[1]
}

// stranger is the same server to somebody who has no account.
func stranger(s *webtest.Site) *webtest.Site {
	other := *s
	other.NewPerson()
	return &other
}

// aBurn is a burn that is over, with a remark and somebody's name in it.
func aBurn(t *testing.T, s *webtest.Site) string {
	t.Helper()
	burn := webtest.FirstBurn(s)
	id := strings.TrimPrefix(burn, "/burns/")
	for _, change := range []string{
		`UPDATE entries SET by_name = 'Perpetua Gloam' WHERE burn_id = ` + id,
		`UPDATE burns SET title = 'Perpetua''s birthday' WHERE id = ` + id,
		`UPDATE burns SET spec = jsonb_set(spec, '{lit_by}', '"Perpetua Gloam"') WHERE id = ` + id,
	} {
		_, err := s.Store.DB().Exec(change)
		require.NoError(t, err)
	}
	return burn
}

// Another owner is shown a burn by a link, without an account and without names; tries a change,
// and leaves one answer, which its owner gets with the change.
func TestABurnIsShared(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	burn := aBurn(t, s)
	link := shared(t, s, burn+"/share")
	helper := stranger(s)
	page := helper.Get(link)
	require.Equal(t, http.StatusOK, page.Status)
	assert.Equal(t, "no-referrer", page.Header.Get("Referrer-Policy"))
	assert.Equal(t, "no-store", page.Header.Get("Cache-Control"))
	assert.Contains(t, page.Body, `<svg class="strip"`)
	assert.Contains(t, page.Words(), "A stove: ")
	for _, private := range []string{"Perpetua", "Gloam", "birthday", "lean-to", "Tarn", "Auntie", "Clinker", "Loom", "Pip", "/burns/", "/stoves/"} {
		assert.NotContains(t, webtest.Between(page.Body, `<main`, `</main>`), private)
	}
	tried := helper.Get(link + "/otherwise?e=drier:0.12")
	require.Equal(t, http.StatusOK, tried.Status)
	assert.Contains(t, tried.Body, `name="edits" value="e=drier%3A0.12"`)
	assert.Contains(t, tried.Body, `data-otherwise="`+link+`/otherwise"`)
	for _, private := range []string{"Perpetua", "lean-to", "Auntie", "Clinker", "Loom", "/burns/"} {
		assert.NotContains(t, webtest.Between(tried.Body, `<main`, `</main>`), private)
	}
	for _, bad := range []struct{ text, says string }{{"", "It says nothing"}, {strings.Repeat("x", 2001), "up to 2000 would do"}} {
		got := helper.Post(link+"/answer", "text", bad.text)
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status)
		assert.Contains(t, strings.ToLower(got.Words()), strings.ToLower(bad.says))
	}
	require.Equal(t, link, helper.Post(link+"/answer", "text", "Dry it <b>first</b>.", "edits", "e=drier%3A0.12").To)
	assert.Contains(t, helper.Get(link).Words(), "You have answered")
	assert.Equal(t, http.StatusConflict, helper.Post(link+"/answer", "text", "And again.").Status)

	assert.Contains(t, s.Get("/").Words(), "An answer has come")
	mine := s.Get("/shares")
	assert.Contains(t, mine.Body, "Dry it &lt;b&gt;first&lt;/b&gt;.")
	assert.Contains(t, html.UnescapeString(mine.Body), burn+"/otherwise?e=drier%3A0.12")
	assert.NotContains(t, s.Get("/").Words(), "An answer has come", "it was read")
}

// A link that has ended, was withdrawn, is another's or was never made opens nothing, whatever is
// asked of it; and nobody guesses at them for long.
func TestLinksThatOpenNothing(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	burn := aBurn(t, s)
	ended, withdrawn := shared(t, s, burn+"/share"), shared(t, s, burn+"/share")
	_, err := s.Store.DB().Exec(`UPDATE shares SET ends_at = $1 WHERE id = 1`, s.Clock.Now().Add(-time.Minute))
	require.NoError(t, err)
	require.Equal(t, "/shares", s.Post("/shares/2/withdraw").To)
	require.Equal(t, "/shares", s.Post("/shares/2/withdraw").To, "twice is fine")
	helper := stranger(s)
	for _, link := range []string{ended, withdrawn, "/shared/AAAABBBBCCCCDDDDEEEEFFFFGG", "/shared/x"} {
		for _, path := range []string{"", "/otherwise", "/photos/1"} {
			got := helper.Get(link + path)
			assert.Equal(t, http.StatusNotFound, got.Status, link+path)
			assert.Contains(t, got.Words(), "This link opens nothing", link+path)
		}
		assert.Equal(t, http.StatusNotFound, helper.Post(link+"/answer", "text", "Hello").Status, link)
	}
	assert.Equal(t, 2, webtest.Count(s, "shares WHERE note = ''"), "nothing was changed")
	require.Eventually(t, func() bool { return helper.Get("/shared/NOTHING").Status == http.StatusTooManyRequests }, time.Minute, time.Millisecond)

	// Of another household nothing is withdrawn, taken out or opened.
	_, err = s.Store.DB().Exec(`UPDATE shares SET withdrawn_at = NULL, ends_at = $1`, s.Clock.Now().Add(time.Hour))
	require.NoError(t, err)
	_, err = s.Store.DB().Exec(`WITH h AS (INSERT INTO households (name, zone, units) VALUES ('Else', 'UTC', 'metric') RETURNING id) UPDATE shares SET household_id = h.id FROM h`)
	require.NoError(t, err)
	assert.Equal(t, http.StatusNotFound, s.Post("/shares/1/withdraw").Status)
	assert.Equal(t, http.StatusNotFound, s.Get("/shares/1/file").Status)
	assert.NotContains(t, s.Get("/shares").Words(), "withdraw")
	assert.Equal(t, http.StatusNotFound, s.Get("/guests/1").Status)
}

// What is shared is bounded, and ends.
func TestSharesAreBounded(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	burn := aBurn(t, s)
	for _, days := range []string{"", "0", "401", "-1", "x", "1e9"} {
		got := s.Post(burn+"/share", "days", days)
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, days)
		assert.Contains(t, got.Words(), "400 days at the most", days)
	}
	assert.Equal(t, http.StatusNotFound, s.Post("/burns/99999/share", "days", "7").Status)
	assert.Equal(t, http.StatusNotFound, s.Post("/stoves/99999/share", "days", "7").Status)
	shared(t, s, burn+"/share")
	_, err := s.Store.DB().Exec(`INSERT INTO shares (household_id, kind, title, link, key, hash, doc, made_at, ends_at)
		SELECT household_id, kind, title, link, key || n, decode(md5(n::text), 'hex'), doc, made_at, ends_at FROM shares, generate_series(1, 39) AS n`)
	require.NoError(t, err)
	got := s.Post(burn+"/share", "days", "7")
	assert.Equal(t, http.StatusUnprocessableEntity, got.Status)
	assert.Contains(t, got.Words(), "40 things are shared at a time")
}

// A stove is a sheet on a phone, for whoever is at home: with whom to call, or all that a new owner
// asks for; a trouble lets whoever helps weigh it otherwise.
func TestAStoveAndATroubleAreShared(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	home := shared(t, s, "/stoves/1/share", "calls", "1", "all", "1")
	helper := stranger(s)
	sheet := helper.Get(home)
	require.Equal(t, http.StatusOK, sheet.Status)
	for _, says := range []string{"Never", "Call", "Chimney", "What its burns have shown", "for whoever is at home"} {
		assert.Contains(t, sheet.Words(), says)
	}
	assert.NotContains(t, sheet.Body, "/stoves/1")
	bare := helper.Get(shared(t, s, "/stoves/1/share"))
	assert.NotContains(t, bare.Words(), "Auntie", "without whom to call it is for a helper, and has no name")
	learned := helper.Get(shared(t, s, "/stoves/1/share", "all", "1"))
	assert.Contains(t, learned.Words(), "What its burns have shown")
	assert.NotContains(t, learned.Words(), "Auntie", "nor has what a new owner is given")
	assert.Equal(t, http.StatusNotFound, helper.Get(home+"/otherwise").Status, "there is no burn in it")

	trouble := shared(t, s, "/trouble/share", "query", "stove=1&happens=runs-away")
	asked := func(path string) (got webtest.Answer) {
		require.Eventually(t, func() bool { got = helper.Get(path); return strings.Contains(got.Body, `<ol class="causes">`) }, 2*time.Minute, 50*time.Millisecond)
		return got
	}
	page := asked(trouble)
	assert.NotContains(t, page.Body, "/trouble/found", "nothing is kept in somebody else's household")
	assert.NotContains(t, webtest.Between(page.Body, "<main", "</main>"), "Auntie")
	assert.Contains(t, page.Body, `value="runs-away" checked`)

	// A file with its key in it is another one all the same: what was weighed for one is not shown
	// for the other.
	doc, err := s.Store.Household(1).SharedDoc(t.Context(), 4)
	require.NoError(t, err)
	forged, err := exchange.ReadShared(bytes.NewReader(doc), s.Clock.Now().Add(26*time.Hour))
	require.NoError(t, err)
	forged.Wish.Wood.Stack.Reading = 0.40
	var file bytes.Buffer
	require.NoError(t, exchange.WriteShared(&file, forged))
	took := s.Upload("/shares/open", "shared.json", file.String())
	require.Equal(t, http.StatusSeeOther, took.Status, took.Words())
	own := took.To
	require.Regexp(t, `^/guests/\d+$`, own)
	causes := func(body string) string { return webtest.Between(body, `<ol class="causes">`, "</ol>") }
	require.Eventually(t, func() bool { return strings.Contains(s.Get(own).Body, `<ol class="causes">`) }, 2*time.Minute, 50*time.Millisecond)
	assert.NotEqual(t, causes(page.Body), causes(s.Get(own).Body))
	other := asked(trouble + "?tried=1&happens=smokes-out")
	assert.Contains(t, other.Body, `value="smokes-out" checked`)
	assert.NotContains(t, other.Body, `value="runs-away" checked`)
	require.Equal(t, trouble, helper.Post(trouble+"/answer", "text", "The rope of the door.").To)
}

// A burn's photos go with it where that was chosen, and only then.
func TestPhotosAreShared(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	burn := aBurn(t, s)
	var form, picture bytes.Buffer
	require.NoError(t, jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, 60, 40)), nil))
	w := multipart.NewWriter(&form)
	part, err := w.CreateFormFile("photo", "Perpetua.jpg")
	require.NoError(t, err)
	_, err = part.Write(picture.Bytes())
	require.NoError(t, err)
	require.NoError(t, w.Close())
	r, err := http.NewRequest(http.MethodPost, s.URL+burn+"/photos", &form)
	require.NoError(t, err)
	r.Header.Set("Content-Type", w.FormDataContentType())
	require.Equal(t, http.StatusSeeOther, s.Do(r).Status)

	with, without := shared(t, s, burn+"/share", "photos", "1"), shared(t, s, burn+"/share")
	helper := stranger(s)
	assert.Contains(t, helper.Get(with).Body, with+"/photos/1")
	got := helper.Get(with + "/photos/1")
	assert.Equal(t, http.StatusOK, got.Status)
	assert.True(t, strings.HasPrefix(got.Body, "\xff\xd8"))
	assert.Equal(t, http.StatusNotFound, helper.Get(with+"/photos/2").Status)
	assert.NotContains(t, helper.Get(without).Body, "/photos/")
	assert.Equal(t, http.StatusNotFound, helper.Get(without+"/photos/1").Status)
}

// The sheet of a stove opens on a phone without a network, also when it was seen only once; what
// was withdrawn does not.
func TestTheSheetWithoutANetwork(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 390, 844)
	s.SignIn()
	link := shared(t, s, "/stoves/1/share", "calls", "1")
	kept := `caches.match(` + "`" + link + "`" + `).then(Boolean)`
	p.GoTo(link)
	p.Waits(kept)
	p.Must(p.Offline(true))
	p.GoTo(link)
	p.Sees("Never")
	p.Must(p.Offline(false))
	for _, withdraw := range regexp.MustCompile(`action="(/shares/\d+/withdraw)"`).FindAllStringSubmatch(s.Get("/shares").Body, -1) {
		s.Post(withdraw[1])
	}
	p.GoTo(link)
	p.Waits(`caches.match(` + "`" + link + "`" + `).then(hit => !hit)`)
}

// The same in a file, without a network between: it is opened, tried on and answered, and the
// answer finds back; what is no such file is refused with a sentence.
func TestSharedInAFile(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	burn := aBurn(t, s)
	shared(t, s, burn+"/share")
	file := s.Get("/shares/1/file")
	require.Equal(t, http.StatusOK, file.Status)
	for _, private := range []string{"Perpetua", "Gloam", "birthday", "lean-to", "Auntie", "Clinker", "Loom", "Tarn"} {
		assert.NotContains(t, file.Body, private)
	}
	guest := s.Upload("/shares/open", "shared.json", file.Body).To
	require.Regexp(t, `^/guests/\d+$`, guest)
	assert.Contains(t, s.Get(guest).Words(), "Another owner shares this burn")
	assert.Equal(t, http.StatusOK, s.Get(guest+"/otherwise?e=drier:0.12").Status)
	before := webtest.Count(s, "burns")
	answer := s.Post(guest+"/answer", "text", "Less wood.", "edits", "e=drier%3A0.12")
	require.Equal(t, http.StatusOK, answer.Status)
	assert.Contains(t, answer.Header.Get("Content-Disposition"), "smolder-answer.json")
	require.Equal(t, "/shares", s.Upload("/shares/open", "answer.json", answer.Body).To)
	assert.Contains(t, s.Get("/shares").Words(), "Less wood.")
	assert.Equal(t, http.StatusConflict, s.Upload("/shares/open", "answer.json", answer.Body).Status, "once")
	assert.Equal(t, before, webtest.Count(s, "burns"), "nothing of it goes into the log")
	require.Equal(t, "/shares", s.Post(guest+"/go").To)
	assert.Equal(t, http.StatusNotFound, s.Get(guest).Status)

	strange := strings.Replace(answer.Body, `"of":"`, `"of":"X`, 1)
	assert.Equal(t, http.StatusUnprocessableEntity, s.Upload("/shares/open", "answer.json", strange).Status)
	for name, bad := range map[string]string{"empty": "", "no JSON": "stove", "other": `{"format":"x"}`, "newer": `{"format":"smolder shared","version":9}`,
		"without a burn": `{"format":"smolder shared","version":1,"kind":"burn","key":"k"}`, "cut off": file.Body[:len(file.Body)/2]} {
		got := s.Upload("/shares/open", "bad.json", bad)
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, name)
		assert.NotEmpty(t, webtest.Between(got.Body, `class="wrong-box"`, `</p>`), name)
	}
	assert.Zero(t, webtest.Count(s, "guests"))
	var doc map[string]any
	require.NoError(t, json.Unmarshal([]byte(file.Body), &doc))
	_, err := exchange.ReadShared(bytes.NewReader([]byte(file.Body)), s.Clock.Now().Add(48*time.Hour))
	require.NoError(t, err)
}
