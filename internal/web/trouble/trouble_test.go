package trouble_test

import (
	"html"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/storetest"
	"smolder/internal/web/webtest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

// weighed asks until the causes are weighed.
func weighed(t *testing.T, s *webtest.Site, path string) webtest.Answer {
	t.Helper()
	var got webtest.Answer
	require.Eventually(t, func() bool {
		got = s.Get(path)
		require.Equal(t, http.StatusOK, got.Status, got.Words())
		if strings.Contains(got.Body, "<ol class=\"causes\">") {
			return true
		}
		assert.Equal(t, "2", got.Header.Get("Refresh"))
		assert.Regexp(t, `\d+ of 100 done`, got.Words())
		return false
	}, 2*time.Minute, 50*time.Millisecond)
	return got
}

// Somebody says what happens, is told what may be the cause and the test that tells most, and what
// they answer moves the causes, and can be taken back.
func TestTrouble(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	first := s.Get("/trouble")
	require.Equal(t, http.StatusOK, first.Status)
	assert.Contains(t, first.Words(), "Smoke comes into the room when I open the door")
	nothing := s.Get("/trouble?stove=1")
	assert.Equal(t, http.StatusUnprocessableEntity, nothing.Status)
	assert.Contains(t, nothing.Words(), "Say what happens, or choose an evening")

	page := weighed(t, s, "/trouble?stove=1&happens=smoke-in&happens=not-hot")
	words := page.Words()
	assert.Contains(t, words, "What would tell most now")
	assert.Contains(t, words, "Nothing stands out")
	causes := webtest.Between(page.Body, `<ol class="causes">`, `</ol>`)
	assert.Less(t, strings.Index(causes, "The house pulls harder"), strings.Index(causes, "The wood is wetter"), "what endangers first")
	yes := regexp.MustCompile(`href="(/trouble\?[^"]*yes=match[^"]*)"`).FindStringSubmatch(page.Body)
	require.NotNil(t, yes, words)
	to := strings.TrimSuffix(html.UnescapeString(yes[1]), "#found")
	answered := weighed(t, s, to)
	assert.Contains(t, answered.Words(), "A flame at the open door: it leans out, or with the fans on take it back")
	assert.Contains(t, answered.Words(), "your tests speak for it")
	assert.NotContains(t, answered.Body, "yes=match&amp;yes=match", "it is not asked again")
	back := regexp.MustCompile(`href="([^"]*)">take it back`).FindStringSubmatch(answered.Body)
	require.NotNil(t, back)
	assert.NotContains(t, weighed(t, s, strings.TrimSuffix(html.UnescapeString(back[1]), "#found")).Words(), "it leans out, or with the fans on take it back")
}

// On an evening: one of this household, of this stove; nonsense is left aside.
func TestTroubleOnAnEvening(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	var burn, stove, other string
	require.NoError(t, s.Store.DB().QueryRow(`SELECT id, stove_id FROM burns ORDER BY id DESC LIMIT 1`).Scan(&burn, &stove))
	require.NoError(t, s.Store.DB().QueryRow(`SELECT id FROM stoves WHERE id <> $1 LIMIT 1`, stove).Scan(&other))
	assert.Contains(t, s.Get("/burns/"+burn).Body, "/trouble?stove="+stove+"&amp;burn="+burn)
	page := weighed(t, s, "/trouble?stove="+stove+"&burn="+burn)
	assert.Contains(t, page.Body, `href="/burns/`+burn+`"`)
	assert.Equal(t, http.StatusNotFound, s.Get("/trouble?stove="+stove+"&burn=999999").Status)
	assert.Equal(t, http.StatusUnprocessableEntity, s.Get("/trouble?stove="+other+"&burn="+burn).Status, "of another stove")
	for _, odd := range []string{"stove=x&happens=smoke-in&burn=x", "stove=1&happens=smoke-in&happens=%00&yes=nothing&no=split", "stove=-1&happens=runs-away"} {
		weighed(t, s, "/trouble?"+odd)
	}
}

// What was found stands before lighting, whoever plans, until it is put right.
func TestFoundTroubleIsSaidBeforeLighting(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	const wish = "/plan?stove=1&aim=hold&for=5+h&low=19&high=21.5&room=16.5&outdoor=2&start=cold&wood=1&kindling=6"
	assert.NotContains(t, s.Wish(wish).Words(), "Found on")
	for _, cause := range []string{"blocked", "wet", "blocked"} {
		require.Equal(t, "/trouble?stove=1&found=1", s.Post("/trouble/found", "stove", "1", "cause", cause).To)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/trouble/found", "stove", "1", "cause", "gremlins").Status)
	assert.Equal(t, http.StatusNotFound, s.Post("/trouble/found", "stove", "99", "cause", "wet").Status)
	page := s.Get("/trouble?stove=1&found=1")
	assert.Equal(t, 1, strings.Count(page.Words(), "partly blocked."), "once, however often")
	plan := s.Wish(wish).Words()
	assert.Contains(t, plan, "Found on 10 April 2026: the cap or the flue is partly blocked. No fire until it has been looked at")
	assert.Contains(t, plan, "the wood is wetter than was said")
	assert.NotContains(t, s.Wish(strings.Replace(wish, "stove=1", "stove=2", 1)).Words(), "Found on", "of another stove")
	for _, m := range regexp.MustCompile(`action="(/trouble/\d+/righted)"`).FindAllStringSubmatch(page.Body, -1) {
		require.Equal(t, "/trouble", s.Post(m[1]).To)
	}
	assert.NotContains(t, s.Wish(wish).Words(), "Found on")
	assert.Equal(t, http.StatusNotFound, s.Post("/trouble/99/righted").Status)
}
