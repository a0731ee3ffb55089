package home_test

import (
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/web/webtest"
)

// linkIn is the path of the invitation that a page shows.
func linkIn(t *testing.T, page webtest.Answer) string {
	t.Helper()
	found := regexp.MustCompile(`value="https?://[^"/]+(/join/\w+)"`).FindStringSubmatch(page.Body)
	require.NotNil(t, found, page.Words())
	return found[1]
}

// joins lets one more person in by an invitation of whoever is signed in, and stays with them.
func joins(t *testing.T, s *webtest.Site, name, role string, change ...string) {
	t.Helper()
	link := linkIn(t, s.Post("/household/invitations", "role", role, "lasts", "day"))
	s.NewPerson()
	got := s.Post(link, webtest.Change([]string{"name", name, "password", "a hatchet and a basket"}, change...)...)
	require.Equal(t, "/", got.To, got.Words())
}

// An owner asks somebody in by a link: it says who asks and as what, keeps what was typed wrong,
// lets one in, and nobody after that, nor when it has ended or was taken back.
func TestInvited(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	owner := s.Client
	made := s.Post("/household/invitations", "role", "member", "lasts", "hour")
	assert.Contains(t, made.Body, `class="qr"`)
	link := linkIn(t, made)
	again := s.Get("/household/people")
	assert.NotContains(t, again.Body, "/join/", "it is shown once")
	assert.Contains(t, again.Words(), "member by tarn, until 10 April 2026, 19:00")

	s.NewPerson()
	page := s.Get(link)
	assert.Contains(t, page.Words(), "Join Tarn Mill")
	assert.Contains(t, page.Words(), "tarn asks you in, as a member.")
	assert.Equal(t, "no-referrer", page.Header.Get("Referrer-Policy"))
	short := s.Post(link, "name", "Fell", "password", "short")
	assert.Equal(t, http.StatusUnprocessableEntity, short.Status)
	assert.Contains(t, short.Body, `value="Fell"`)
	taken := s.Post(link, "name", "TARN", "password", "a hatchet and a basket")
	assert.Equal(t, http.StatusConflict, taken.Status)
	assert.Contains(t, taken.Words(), "has that name already")
	require.Equal(t, "/", s.Post(link, "name", "Fell", "password", "a hatchet and a basket").To)
	assert.Contains(t, s.Get("/household").Words(), "Signed in as Fell, member.")
	s.NewPerson()
	for _, late := range []webtest.Answer{s.Get(link), s.Post(link, "name", "Beck", "password", "a hatchet and a basket"), s.Get("/join/nonsense")} {
		assert.Equal(t, http.StatusGone, late.Status)
		assert.Contains(t, late.Words(), "This link has ended")
	}

	s.Client = owner
	old := linkIn(t, s.Post("/household/invitations", "role", "looks", "lasts", "hour"))
	s.Clock.At = s.Clock.At.Add(61 * time.Minute)
	assert.Equal(t, http.StatusGone, s.Get(old).Status)
	back := linkIn(t, s.Post("/household/invitations", "role", "looks", "lasts", "week"))
	n := regexp.MustCompile(`/household/invitations/(\d+)/withdraw`).FindStringSubmatch(s.Get("/household/people").Body)
	require.NotNil(t, n)
	require.Equal(t, http.StatusSeeOther, s.Post("/household/invitations/"+n[1]+"/withdraw").Status)
	assert.Equal(t, http.StatusGone, s.Get(back).Status)
	for _, wrong := range [][]string{{"role", "captain", "lasts", "day"}, {"role", "member", "lasts", "for ever"}} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/household/invitations", wrong...).Status)
	}
	for range 20 {
		made = s.Post("/household/invitations", "role", "looks", "lasts", "week")
	}
	require.Equal(t, http.StatusOK, made.Status)
	full := s.Post("/household/invitations", "role", "looks", "lasts", "week")
	assert.Equal(t, http.StatusConflict, full.Status)
	assert.Contains(t, full.Words(), "take one back first")
}

// Two tend one fire: the log says who did what, in the file too, and of one who is alone nothing.
func TestWhoDidWhat(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	owner := s.Client
	lit := s.Post("/stove", "stove", "1", "start", "good-coals", "room", "18 C", "outdoor", "2 C")
	require.Equal(t, http.StatusSeeOther, lit.Status, lit.Words())
	burn := strings.TrimSuffix(lit.To, "/live")
	log := func(kind, value string) {
		t.Helper()
		got := s.Post(burn+"/entries", "kind", kind, "note", value)
		require.Equal(t, http.StatusSeeOther, got.Status, got.Words())
	}
	log("note", "a quiet start")
	assert.NotContains(t, s.Get(burn+"/live").Words(), "a quiet start tarn", "who is alone needs no name")
	joins(t, s, "Fell", "member")
	fell := s.Client
	log("note", "a log from the yew")
	page := s.Get(burn + "/live").Words()
	assert.Contains(t, page, "a quiet start tarn")
	assert.Contains(t, page, "a log from the yew Fell")
	strike := regexp.MustCompile(`action="(` + burn + `/entries/[\w-]+/strike)"`).FindStringSubmatch(s.Get(burn + "/live").Body)
	require.NotNil(t, strike)
	s.Client = owner
	require.Equal(t, http.StatusSeeOther, s.Post(strike[1]).Status)
	assert.Contains(t, s.Get(burn+"/live").Words(), "a log from the yew Fell undone by tarn")
	require.Equal(t, http.StatusSeeOther, s.Post(strings.TrimSuffix(strike[1], "strike")+"put-back").Status)
	assert.NotContains(t, s.Get(burn+"/live").Words(), "undone by")
	s.Client = fell
	require.Equal(t, http.StatusSeeOther, s.Post(burn+"/end").Status)
	ended := s.Get(burn).Words()
	assert.Contains(t, ended, "Lit by tarn, ended by Fell.")
	file := s.Get(burn + "/burn.json").Body
	for _, has := range []string{`"lit_by": "tarn"`, `"ended_by": "Fell"`, `"by": "Fell"`} {
		assert.Contains(t, file, has)
	}

	require.Equal(t, http.StatusSeeOther, s.Post("/upkeep/done", "task", "detectors").Status)
	assert.NotContains(t, s.Get("/upkeep").Words(), "by Fell", "one's own needs no name")
	s.Client = owner
	assert.Contains(t, s.Get("/upkeep").Words(), "by Fell")
}

// Each reads in their own units, language and colours, and the household's own stay as they are.
func TestEachReadsTheirOwn(t *testing.T) {
	s := webtest.InGerman(t)
	s.SignIn()
	owner := s.Client
	require.Equal(t, http.StatusSeeOther, s.Post("/household/own", "own-language", "en", "own-units", "", "colours", "").Status)
	joins(t, s, "Fell", "member", "units", "imperial")
	assert.Contains(t, s.Get("/stoves/1").Words(), "°F")
	require.Equal(t, http.StatusSeeOther, s.Post("/household/own", "own-language", "de", "own-units", "imperial", "colours", "dark").Status)
	fell := s.Get("/").Body
	assert.Contains(t, fell, `lang="de"`)
	assert.Contains(t, fell, `<body class="fire`)
	s.Client = owner
	mine := s.Get("/stoves/1")
	assert.NotContains(t, mine.Words(), "°F")
	assert.Contains(t, mine.Body, `lang="en"`)
	assert.NotContains(t, mine.Body, `<body class="fire`)
	for _, wrong := range [][]string{{"own-units", "furlongs"}, {"colours", "mauve"}, {"own-language", "xx"}} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/household/own", wrong...).Status, wrong)
	}
}

// A household is handed over by making somebody else owner; one without an owner there never is.
func TestHandedOver(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	tarn := s.Client
	alone := s.Post("/household/leave")
	assert.Equal(t, http.StatusConflict, alone.Status)
	assert.Contains(t, alone.Words(), "Somebody must be owner")
	joins(t, s, "Fell", "looks")
	fell := s.Client
	assert.Equal(t, http.StatusForbidden, s.Post("/wood/basket").Status)
	s.Client = tarn
	of := func(name, what string) string {
		t.Helper()
		for _, form := range regexp.MustCompile(`(?s)<li>.*?</li>`).FindAllString(s.Get("/household/people").Body, -1) {
			if strings.Contains(form, ">"+name+"<") {
				to := regexp.MustCompile(`action="(/household/people/\d+/` + what + `)"`).FindStringSubmatch(form)
				require.NotNil(t, to, form)
				return to[1]
			}
		}
		require.Fail(t, "nobody of that name", name)
		return ""
	}
	role := of("Fell", "role")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(role, "role", "captain").Status)
	require.Equal(t, http.StatusSeeOther, s.Post(role, "role", "owner").Status)
	require.Equal(t, "/sign-in", s.Post("/household/leave").To)
	assert.Equal(t, "/sign-in", s.Get("/household").To[:8], "whoever has left is out")
	s.Client = fell
	assert.Contains(t, s.Get("/household").Words(), "Signed in as Fell, owner.")
	joins(t, s, "Beck", "member")
	beck := s.Client
	s.Client = fell
	require.Equal(t, http.StatusSeeOther, s.Post(of("Beck", "role"), "role", "owner").Status)
	s.Client = beck
	own := linkIn(t, s.Post("/household/invitations", "role", "owner", "lasts", "week"))
	s.Client = fell
	require.Equal(t, http.StatusSeeOther, s.Post(of("Beck", "go")).Status)
	assert.Equal(t, http.StatusGone, s.Get(own).Status, "nobody comes back by their own link")
	s.Client = beck
	assert.Equal(t, "/sign-in", s.Get("/").To, "and whoever was let go")
	other := webtest.New(t, true)
	other.SignIn()
	assert.Equal(t, http.StatusNotFound, other.Post("/household/people/99/role", "role", "member").Status, "nobody of this household")
}

// Whoever looks on sees the fire and no button that would change something; the server holds to it.
func TestLooksOn(t *testing.T) {
	s := webtest.New(t, true)
	one, two := webtest.Browse(t, s, 1280, 800), webtest.Browse(t, s, 390, 844)
	one.OnCoals()
	at, err := one.Path()
	require.NoError(t, err)
	s.SignIn()
	two.GoTo(linkIn(t, s.Post("/household/invitations", "role", "looks", "lasts", "hour")))
	two.Types("name", "Beck")
	two.Types("password", "a hatchet and a basket\r")
	two.Arrives("^/$")
	two.GoTo(at)
	two.Sees("You look on here")
	two.Waits(`[...document.querySelectorAll('main form[method="post"]')].every(f => f.offsetParent === null)`)
	two.Presses("n")
	two.Waits(`!document.querySelector('details.sheet[open]')`)
	two.Fits("the stove of who looks on")
	two.GoTo("/household")
	two.Waits(`document.querySelector('form[action="/household/own"]').offsetParent !== null && document.querySelector('form[action="/household"]').offsetParent === null`)
}

// Two at the stove see the same at once, each by name.
func TestTwoAtTheStove(t *testing.T) {
	s := webtest.New(t, true)
	one, two := webtest.Browse(t, s, 1280, 800), webtest.Browse(t, s, 390, 844)
	one.OnCoals()
	at, err := one.Path()
	require.NoError(t, err)
	s.SignIn()
	link := linkIn(t, s.Post("/household/invitations", "role", "member", "lasts", "hour"))
	two.GoTo(link)
	two.Types("name", "Fell")
	two.Types("password", "a hatchet and a basket\r")
	two.Arrives("^/$")
	two.GoTo(at)
	two.Presses("n")
	two.Waits(`document.activeElement.name === "note"`)
	two.Hits("The yew spits.")
	two.Clicks(`details[data-key="n"] .btn`)
	two.Told("The yew spits.")
	one.Waits(`document.querySelector('[data-swap="log"]').textContent.includes("The yew spits.")`)
	one.Presses("n")
	one.Waits(`document.activeElement.name === "note"`)
	one.Hits("Not here.")
	one.Clicks(`details[data-key="n"] .btn`)
	for _, p := range []*webtest.Person{one, two} {
		p.Waits(`/Not here\.\s+tarn/.test(document.querySelector('[data-swap="log"]').textContent)`)
		p.Waits(`/The yew spits\.\s+Fell/.test(document.querySelector('[data-swap="log"]').textContent)`)
	}
}
