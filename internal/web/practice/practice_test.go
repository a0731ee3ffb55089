package practice_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/browsertest"
	"smolder/internal/core/practice"
	"smolder/internal/storetest"
	"smolder/internal/web/webtest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

// said is what the page's script is answered.
type said struct {
	Frames []struct {
		T      float64   `json:"t"`
		Lying  []any     `json:"lying"`
		Gauges []float64 `json:"gauges"`
	} `json:"frames"`
	Over    bool                 `json:"over"`
	Clock   string               `json:"clock"`
	Says    string               `json:"says"`
	Refused string               `json:"refused"`
	Door    int                  `json:"door"`
	Marks   map[string]string    `json:"marks"`
	Laid    string               `json:"laid"`
	Hint    *struct{ Do string } `json:"hint"`
}

// does sends something as the page's script does.
func does(t *testing.T, s *webtest.Site, page string, pairs ...string) (said, int) {
	t.Helper()
	got := s.Send(page+"/do", map[string]string{"Accept": "application/json"}, pairs...)
	var out said
	require.NoError(t, json.Unmarshal([]byte(got.Body), &out), got.Body)
	return out, got.Status
}

// A lesson from beginning to end: with the script, and without; then what it came to, and the same
// evening again, from a moment on.
func TestALesson(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	list := s.Get("/practice")
	require.Equal(t, http.StatusOK, list.Status)
	for _, l := range practice.Lessons {
		assert.Equal(t, l.Key != practice.Catalyst, strings.Contains(list.Body, `value="`+string(l.Key)+`"`), l.Key) // this stove has none
	}
	assert.Contains(t, s.Get("/practice?stove=family-plain").Words(), "for a stove with a catalyst")
	page := s.Post("/practice", "lesson", "first-fire", "stove", "1").To
	require.Regexp(t, `^/practice/\d+$`, page)
	shown := s.Get(page)
	assert.Contains(t, shown.Words(), "No flames.")
	assert.Contains(t, shown.Words(), "Now: ", "what comes first")

	a, status := does(t, s, page, "kind", "lay", "pieces", "1", "of", "0", "direction", "end-on", "lay", "top-down")
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, "One piece is laid.", a.Laid)
	a, status = does(t, s, page, "kind", "light")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Equal(t, "This cannot be done: there is no kindling: put it in first.", a.Refused)
	for _, act := range [][]string{{"kind", "kindling", "lay", "top-down"}, {"kind", "door", "door", "1"}, {"kind", "light"}} {
		_, status = does(t, s, page, act...)
		require.Equal(t, http.StatusOK, status)
	}
	a, _ = does(t, s, page, "pass", "300")
	assert.Contains(t, a.Says, "flames")
	assert.Len(t, a.Frames, 8)
	assert.InDelta(t, 300, a.Frames[7].T, 2.1)
	assert.Equal(t, "17:05", a.Clock)
	assert.Equal(t, 1, a.Door)
	// Without a script a button does the same, and the page says the fire.
	require.Equal(t, page+"#fire", s.Post(page+"/do", "kind", "door", "door", "0").To)
	assert.Contains(t, s.Get(page).Body, `data-door="0" aria-pressed="true"`)
	refused := s.Post(page+"/do", "kind", "load", "pieces", "60", "of", "0", "direction", "end-on")
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Status)
	assert.Contains(t, refused.Words(), "more of these pieces would do")

	a, _ = does(t, s, page, "pass", "36000")
	assert.True(t, a.Over)
	done := s.Get(page)
	assert.Regexp(t, `\d+ of 10`, done.Words())
	assert.Contains(t, done.Words(), "The door shut in time")
	require.Eventually(t, func() bool { return !strings.Contains(s.Get(page).Words(), "being worked out") }, time.Minute, 50*time.Millisecond)
	done = s.Get(page)
	assert.Contains(t, done.Body, `<svg class="strip"`)
	a, _ = does(t, s, page, "kind", "rake")
	assert.True(t, a.Over, "what is over stays as it is")
	assert.Contains(t, s.Get("/practice").Words(), "of 10", "how far somebody has come")

	from := regexp.MustCompile(`<option value="(\d+)">from minute 5`).FindStringSubmatch(done.Body)
	require.NotNil(t, from, done.Body)
	again := s.Post(page+"/again", "from", from[1]).To
	a, _ = does(t, s, again)
	assert.Equal(t, "17:05", a.Clock)
	assert.Equal(t, 1, a.Door, "as it stood then")
	whole := s.Post(page + "/again").To
	a, _ = does(t, s, whole)
	assert.Equal(t, "17:00", a.Clock)
	require.Equal(t, "/practice", s.Post(again+"/go").To)
	assert.Equal(t, http.StatusNotFound, s.Get(again).Status)
}

// Nothing is lost with the process: another one burns what was done once more, and goes on where
// whoever asks has come to.
func TestPracticeGoesOnElsewhere(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	page := s.Post("/practice", "lesson", "turn-down", "stove", "1").To
	_, _ = does(t, s, page, "pass", "600")
	a, _ := does(t, s, page, "kind", "rake", "pass", "120")
	last := a.Frames[len(a.Frames)-1]
	var kept float64
	require.NoError(t, s.Store.DB().QueryRow(`SELECT elapsed FROM practices`).Scan(&kept))
	assert.InDelta(t, 720, kept, 2)
	_, err := s.Store.DB().Exec(`UPDATE practices SET acts = acts || '[{"at": 842000000000, "act": {"kind": "door", "door": 2}}]', acts_count = 2, elapsed = 900`)
	require.NoError(t, err)
	a, _ = does(t, s, page)
	assert.Equal(t, 2, a.Door, "what another process has done is here")
	assert.Greater(t, a.Frames[0].T, last.T)
	a, _ = does(t, s, page, "at", "1500")
	assert.InDelta(t, 1500, a.Frames[0].T, 2, "and whoever asks has come further")
}

// Somebody else's practice is nobody's; nonsense is refused with a sentence; who looks on may practise.
func TestPracticeIsOnesOwn(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	page := s.Post("/practice", "lesson", "boat", "stove", "1").To
	_, err := s.Store.DB().Exec(`INSERT INTO users (household_id, name, name_key, password, role) SELECT household_id, 'Else', 'else', password, 'looks' FROM users`)
	require.NoError(t, err)
	s.NewPerson()
	require.Equal(t, "/", s.Post("/sign-in", "name", "Else", "password", "mill-on-the-tarn").To)
	assert.Equal(t, http.StatusNotFound, s.Get(page).Status)
	assert.Equal(t, http.StatusNotFound, s.Post(page+"/do", "kind", "rake").Status)
	assert.Equal(t, http.StatusNotFound, s.Post(page+"/again").Status)
	own := s.Post("/practice", "lesson", "shut-the-door", "stove", "family-tiny").To
	assert.Equal(t, http.StatusOK, s.Get(own).Status)
	for _, bad := range []struct {
		pairs []string
		says  string
	}{
		{[]string{"lesson", "juggling"}, "There is no such lesson"},
		{[]string{"lesson", "catalyst", "stove", "family-plain"}, "cannot be had with that stove"},
		{[]string{"lesson", "night", "stove", "family-tiny"}, "cannot be had with that stove"},
	} {
		got := s.Post("/practice", bad.pairs...)
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, bad.pairs)
		assert.Contains(t, got.Words(), bad.says)
	}
	for _, odd := range [][]string{{"kind", "dance"}, {"kind", "control", "control", "x", "opening", "50"},
		{"kind", "control", "control", "primary", "opening", "NaN"},
		{"kind", "control", "control", "primary"}, {"kind", "door", "door", "-1"}, {"kind", "load", "pieces", "9999999999999", "direction", "end-on"}} {
		a, status := does(t, s, own, odd...)
		assert.Equal(t, http.StatusUnprocessableEntity, status, odd)
		assert.Contains(t, a.Refused, "This cannot be done", odd)
	}
	a, status := does(t, s, own, "pass", "-5", "at", "NaN")
	assert.Equal(t, http.StatusOK, status)
	assert.Len(t, a.Frames, 1)
	assert.Equal(t, http.StatusNotFound, s.Get("/practice/0").Status)
}

// A practice stays in bounds: the oldest goes when there are too many of one's.
func TestPracticesAreBounded(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	_, err := s.Store.DB().Exec(`INSERT INTO practices (household_id, user_id, lesson, on_stove, spec, begun)
		SELECT household_id, id, 'free', 'x', '{}', now() - n * interval '1 day' FROM users, generate_series(1, 300) AS n`)
	require.NoError(t, err)
	s.Post("/practice", "lesson", "free", "stove", "1")
	assert.Equal(t, 200, webtest.Count(s, "practices"))
}

// What each setting gives is tried once, and said for eight of ten stoves.
func TestSettings(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	var got webtest.Answer
	require.Eventually(t, func() bool {
		got = s.Get("/practice/settings?stove=1&pieces=3&outdoor=2+C")
		return strings.Contains(got.Body, "data-given-row")
	}, time.Minute, 20*time.Millisecond)
	assert.Contains(t, got.Words(), "The longest of those that burn clean.")
	assert.Contains(t, got.Body, `class="strip given"`)
	assert.Greater(t, strings.Count(got.Body, "data-given-row"), 4)
	for _, bad := range []struct{ query, says string }{{"stove=1&pieces=900", "are more than the manual and the firebox hold"},
		{"stove=1&pieces=x", ""}, {"stove=1&outdoor=hot", ""}} {
		got := s.Get("/practice/settings?" + bad.query)
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, bad.query)
		assert.Contains(t, got.Words(), bad.says)
		assert.NotContains(t, got.Body, "data-given-row")
	}
}

// A burn is gone through: what would you do, what was done, what it did; one that is not there is
// not, and mineral fuel is not simulated.
func TestThroughABurn(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	burn := webtest.FirstBurn(s)
	id := strings.TrimPrefix(burn, "/burns/")
	assert.Contains(t, s.Get(burn).Body, "/practice/through?burn="+id)
	first := s.Get("/practice/through?burn=" + id)
	require.Equal(t, http.StatusOK, first.Status)
	assert.Contains(t, first.Words(), "What would you do now?")
	assert.NotContains(t, first.Words(), "You:", "before it is said what was done")
	told := s.Get("/practice/through?burn=" + id + "&at=0&said=nothing")
	assert.Contains(t, told.Words(), "You: nothing yet. It was different:")
	assert.Contains(t, told.Words(), "Without it there would be no fire.")
	later := s.Get("/practice/through?burn=" + id + "&at=2&said=less-air")
	assert.Contains(t, later.Words(), "15 min later, with it and without:")
	assert.Contains(t, s.Get("/practice/through?burn="+id+"&at=999").Words(), "That was all that was done.")
	for _, odd := range []string{"&at=-5", "&at=x", "&at=1&said=magic"} {
		assert.Equal(t, http.StatusOK, s.Get("/practice/through?burn="+id+odd).Status, odd)
	}
	assert.Equal(t, http.StatusNotFound, s.Get("/practice/through?burn=999999").Status)
	assert.Equal(t, "/practice", s.Get("/practice/through?burn=x").To)
}

// Whoever has burnt nothing yet goes through the example; nothing in it leads to a burn that is
// not there.
func TestThroughTheExample(t *testing.T) {
	s := webtest.New(t, false)
	s.SetUp()
	const example = "/practice/through?burn=example"
	assert.Contains(t, s.Get("/practice").Body, `value="example"`)
	var said []string
	for at := range 40 {
		page := s.Get(fmt.Sprintf("%s&at=%d&said=nothing", example, at))
		require.Equal(t, http.StatusOK, page.Status)
		assert.NotContains(t, page.Body, `href="/burns/0"`)
		said = append(said, page.Words())
		if strings.Contains(page.Words(), "That was all that was done.") {
			break
		}
	}
	assert.Greater(t, len(said), 5)
	assert.Contains(t, said[len(said)-1], "That was all that was done.")
	assert.Contains(t, strings.Join(said, " "), "with it and without:")
}

// At the page itself: the fire is drawn, and said for those who cannot see it; all of it by keys,
// on a laptop and a phone.
func TestPracticeInTheBrowser(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 1280, 800)
	p.SignsIn()
	p.GoTo("/practice")
	p.Clicks(`button[aria-label="Begin: Shutting the door"]`)
	p.Arrives(`^/practice/\d+$`)
	p.Waits(`Number(document.querySelector("[data-practice]").dataset.drawn) > 3`)
	inked, err := browsertest.Eval[bool](p.Browser, `(() => { const c = document.querySelector("canvas"), d = c.getContext("2d").getImageData(0, 0, c.width, c.height).data;
		let n = 0; for (let i = 3; i < d.length; i += 4) if (d[i] > 0) n++; return n > d.length / 16; })()`)
	require.NoError(t, err)
	assert.True(t, inked, "something is drawn")
	described, err := browsertest.Eval[string](p.Browser, `document.getElementById(document.querySelector("canvas").getAttribute("aria-describedby")).textContent`)
	require.NoError(t, err)
	assert.Contains(t, described, "flames", "and read out")
	p.Legible("a practice")
	p.Fits("a practice")
	before, err := browsertest.Eval[string](p.Browser, `(document.activeElement?.blur(), document.querySelector("[data-clock]").textContent)`)
	require.NoError(t, err)
	// Each time the fire is another one: of some the door is to be shut at once.
	due, err := browsertest.Eval[bool](p.Browser, `document.querySelector("[data-hint]").textContent.startsWith("Now: ")`)
	require.NoError(t, err)
	p.Hits(" ") // run
	p.Waits(`document.querySelector("[data-clock]").textContent > "` + before + `"`)
	if due { // it was not run past unseen
		p.Hits(" ")
	}
	p.Waits(`document.querySelector("[data-hint]").textContent.startsWith("Now: ") && document.querySelector("[data-run]").getAttribute("aria-pressed") === "false"`)
	p.Hits("h") // does what is said, which it was stopped for
	p.Waits(`document.querySelector('[data-door="0"]').getAttribute("aria-pressed") === "true"`)
	p.Hits("d")
	p.Waits(`document.querySelector('[data-door="1"]').getAttribute("aria-pressed") === "true"`)
	p.Presses("ArrowDown")
	p.Waits(`Number(document.querySelector("[data-main]").value) < 100`)
	p.Clicks(`form[data-act] button[data-window]`)
	p.Waits(`document.querySelector("[data-window]").getAttribute("aria-pressed") === "true"`)
	p.Must(p.Size(390, 844))
	p.Fits("a practice on a phone")
	_, err = browsertest.Eval[bool](p.Browser, `([...document.querySelectorAll("form[data-act] button")].find((b) => b.textContent === "to the end").click(), true)`)
	require.NoError(t, err)
	p.Waits(`document.querySelector(".practice-score")`)
	p.Sees("of 10")
}
