package home

import (
	"errors"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"smolder/internal/core/house"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// Limits of guessing, which every process of the server shares. An owner who has
// signed in from an address before is not locked out there by whoever guesses
// elsewhere.
const (
	guessesHere     = 6 // at one name from one address
	guessesHereIn   = 5 * time.Minute
	guessesAddress  = 30 // at any name from one address
	guessesAddrIn   = 10 * time.Minute
	guessesAnywhere = 60 // at one name from addresses it has not signed in from
	guessesAnyIn    = time.Hour
	setupsAddress   = 20 // codes tried from one address
)

type signInPage struct {
	kit.Page
	Form *kit.Form
	Demo *kit.Demo
	Back string // where to go on to
	Held string // a form that was sent without being signed in, encoded

	SignUp   bool // a household may begin here
	Passkeys bool // browsers sign in by them at this address
}

// newSignIn is the page that asks who is there.
func (s Room) newSignIn(q *kit.Request, f *kit.Form) *signInPage {
	site, err := s.relying(q.Request)
	return &signInPage{Page: kit.Page{Title: q.T("Sign in")}, Form: f, Demo: s.Demo, SignUp: s.takesIn(), Passkeys: err == nil && site != nil}
}

// address tells who asks, for limits.
func (s Room) address(r *http.Request) string { return kit.AddressOf(r, s.Proxy) }

// askToSignIn sends a visitor to the sign-in and remembers where to. What was
// sent in a form goes with it, and comes back.
func (s Room) askToSignIn(c *gin.Context) {
	if c.Request.Method == http.MethodGet {
		to := "/sign-in"
		if back := c.Request.URL.RequestURI(); back != "/" {
			to += "?back=" + url.QueryEscape(back)
		}
		c.Redirect(http.StatusSeeOther, to)
		return
	}
	q := &kit.Request{Context: c, Site: s.Site}
	p := s.newSignIn(q, kit.Filled())
	if f, err := q.Form(); err == nil && mayBeHeld(c.Request.URL.Path) {
		p.Back, p.Held = c.Request.URL.Path, f.Values.Encode()
		p.Said = q.T("You are not signed in any more. What you typed is kept: sign in, and it comes back.")
	}
	q.Show(http.StatusUnauthorized, "sign-in", p)
}

// heldPaths are the forms whose content comes back after a sign-in. Each shows
// itself again with what is wrong with it, and a held form is always wrong: it
// is for its sender to look at, and nothing is kept or done by itself.
var heldPaths = regexp.MustCompile(`^/(plan|plan/day|stove|stoves|stoves/\d+|wood|wood/\d+|wood/\d+/(readings|counts|carried)|wood/basket|upkeep/done|household|spaces|spaces/\d+|burns/\d+/entries|burns/\d+/entries/[\w-]+)$`)

func mayBeHeld(path string) bool { return heldPaths.MatchString(path) }

// within tells whether an address is one of these pages.
func within(back string) bool {
	u, err := url.Parse(back)
	return err == nil && u.Host == "" && u.Scheme == "" && strings.HasPrefix(back, "/") && !strings.HasPrefix(back,
		"//") && !strings.HasPrefix(back, `/\`) && len(back) < 4000
}

// signInForm shows the sign-in, or the first run when nobody lives here yet.
func (s Room) signInForm(q *kit.Request) error {
	empty, err := s.Store.Empty(q.Ctx())
	if err != nil {
		return err
	}
	if empty {
		return q.SeeOther("/setup")
	}
	p := s.newSignIn(q, kit.Filled())
	p.Back = q.Query("back")
	q.Show(http.StatusOK, "sign-in", p)
	return nil
}

func (s Room) signIn(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	p := s.newSignIn(q, f)
	p.Back, p.Held = f.Values.Get("back"), f.Values.Get("held")
	name, password := f.Text("name"), f.Values.Get("password")
	f.Values.Del("password")
	refuse := func(status int, text string) error {
		f.Wrong("password", text)
		q.Show(status, "sign-in", p)
		return nil
	}
	unlike := q.T("name and password do not go together")
	if units.FaultOfName(name) != units.GoodName || len(password) > 200 {
		return refuse(http.StatusUnprocessableEntity, unlike)
	}
	full, taken, err := s.attempt(q, name)
	if err != nil {
		return err
	}
	if full != nil {
		return refuse(http.StatusTooManyRequests, q.T("too many wrong passwords; wait ")+q.Locale().Duration(full.Within)+q.T(" and try again"))
	}
	user, err := s.Store.UserByName(q.Ctx(), name)
	if err != nil && !errors.Is(err, store.ErrMissing) {
		return err
	}
	hash := user.Password
	if err != nil {
		hash = decoy()
	}
	ok, busy := s.checkPassword(q.Ctx(), hash, password)
	switch {
	case busy != nil:
		if err := s.Store.Forgive(q.Ctx(), taken); err != nil {
			return err
		}
		return refuse(http.StatusServiceUnavailable, q.T("many people are signing in just now; try again in a moment"))
	case !ok || err != nil:
		return refuse(http.StatusUnprocessableEntity, unlike)
	}
	if err := s.Store.Forgive(q.Ctx(), taken); err != nil {
		return err
	}
	if err := s.Store.Remember(q.Ctx(), user.ID, s.address(q.Request), s.Now()); err != nil {
		return err
	}
	q.KeepColours(user.Colours)
	return s.enter(q, user.ID, p.Back, p.Held)
}

// attempt counts one guess against its limits.
func (s Room) attempt(q *kit.Request, name string) (*store.Limit, []int64, error) {
	address, key := s.address(q.Request), store.NameKey(name)
	limits := []store.Limit{{Key: "address " + address, Most: guessesAddress, Within: guessesAddrIn},
		{Key: "name " + key + q.T(" from ") + address, Most: guessesHere, Within: guessesHereIn}}
	known, err := s.Store.Knows(q.Ctx(), name, address)
	if err != nil {
		return nil, nil, err
	}
	if !known {
		limits = append(limits, store.Limit{Key: "name " + key, Most: guessesAnywhere, Within: guessesAnyIn})
	}
	return s.Store.Attempt(q.Ctx(), s.Now(), limits...)
}

// enter starts a session and goes on to where its person
// wanted to.
func (s Room) enter(q *kit.Request, user int64, back, held string) error {
	if err := s.begin(q, user); err != nil {
		return err
	}
	if !within(back) {
		return q.SeeOther("/")
	}
	if held != "" && mayBeHeld(back) {
		s.Sessions.Put(q.Ctx(), sessionHeldTo, back)
		s.Sessions.Put(q.Ctx(), sessionHeld, held)
		return q.SeeOther("/held")
	}
	return q.SeeOther(back)
}

// begin starts a session under a new token.
func (s Room) begin(q *kit.Request, user int64) error {
	if err := s.Sessions.RenewToken(q.Ctx()); err != nil {
		return err
	}
	s.Sessions.Put(q.Ctx(), store.SessionUser, user)
	s.Sessions.Put(q.Ctx(), store.SessionAgent, agentOf(q.Request))
	return nil
}

const (
	sessionHeldTo = "held to"
	sessionHeld   = "held"
)

// heldForm shows the form that somebody sent while they were not signed in, with
// what was typed in it.
func (s Room) heldForm(q *kit.Request) error {
	to, held := s.Sessions.PopString(q.Ctx(), sessionHeldTo), s.Sessions.PopString(q.Ctx(), sessionHeld)
	if !mayBeHeld(to) {
		return q.SeeOther("/")
	}
	r := q.Request.Clone(kit.WithHeld(q.Ctx()))
	r.Method, r.URL, r.RequestURI = http.MethodPost, &url.URL{Path: to}, to
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Body, r.ContentLength = http.NoBody, 0
	values, err := url.ParseQuery(held)
	if err != nil {
		return q.SeeOther("/")
	}
	r.Form, r.PostForm = values, values
	q.Context.Request = r
	s.Gin.HandleContext(q.Context)
	return nil
}

// agentOf is what a browser says it is, in its most telling words: itself and its system,
// with a tab between them.
func agentOf(r *http.Request) string {
	agent := r.UserAgent()
	system, browser := "", ""
	for _, k := range [][2]string{{"Android", "Android"}, {"iPhone", "iPhone"}, {"iPad", "iPad"}, {"Windows", "Windows"}, {"Mac OS", "a Mac"},
		{"CrOS", "ChromeOS"}, {"Linux", "Linux"}} {
		if strings.Contains(agent, k[0]) {
			system = k[1]
			break
		}
	}
	for _, k := range [][2]string{{"Firefox", "Firefox"}, {"Edg", "Edge"}, {"Chrome", "Chrome"}, {"Safari", "Safari"}} {
		if strings.Contains(agent, k[0]) {
			browser = k[1]
			break
		}
	}
	return browser + "\t" + system
}

// agentWord says where somebody is signed in.
func agentWord(agent string, loc lang.Locale) string {
	browser, system, _ := strings.Cut(agent, "\t")
	switch {
	case browser != "" && system != "":
		return loc.F("%s on %s", browser, system)
	case browser != "" || system != "":
		return browser + system
	}
	return loc.T("a program")
}

func (s Room) signOut(q *kit.Request) error {
	if err := s.Sessions.Destroy(q.Ctx()); err != nil {
		return err
	}
	return q.SeeOther("/sign-in")
}

type setupPage struct {
	kit.Page
	Form  *kit.Form
	Zones []kit.Option
	Kinds []kit.Option
	Coded bool // the code came with the address, and nothing is wrong with it

	Action string // address of the form
	Code   bool   // one is asked for
}

func newSetupPage(f *kit.Form, how founding) *setupPage {
	return &setupPage{Action: how.Action, Code: how.code, Page: kit.Page{Title: f.Locale().T("Welcome")}, Form: f, Zones: zoneOptions(),
		Kinds: unitOptions(f.Locale()),
		Coded: f.Has("code") && f.Errors["code"] == ""}
}

func unitOptions(loc lang.Locale) []kit.Option {
	return []kit.Option{{Value: "metric", Label: loc.T("°C, kg, metres, pascals")}, {Value: "imperial", Label: loc.T("°F, lb, feet, inches of water")}}
}

// zoneOptions offers a zone of each hour and the usual ones; any other IANA
// name can be typed.
func zoneOptions() []kit.Option {
	names := []string{"UTC", "Europe/London", "Europe/Dublin", "Europe/Lisbon", "Europe/Paris", "Europe/Berlin", "Europe/Vienna", "Europe/Oslo",
		"Europe/Stockholm", "Europe/Helsinki", "Europe/Athens", "America/St_Johns", "America/Halifax", "America/New_York", "America/Chicago",
		"America/Denver", "America/Los_Angeles", "America/Anchorage", "Asia/Tokyo", "Australia/Hobart", "Australia/Sydney", "Pacific/Auckland"}
	out := make([]kit.Option, len(names))
	for i, n := range names {
		out[i] = kit.Option{Value: n, Label: n}
	}
	return out
}

func (s Room) setupForm(q *kit.Request) error {
	empty, err := s.Store.Empty(q.Ctx())
	if err != nil {
		return err
	}
	if !empty {
		return q.SeeOther("/sign-in")
	}
	q.Show(http.StatusOK, "setup", newSetupPage(
		kit.Filled("household", q.T("our house"), "zone", "UTC", "units", "metric", "code", q.Query("code")), founding{Action: "/setup", code: true}))
	return nil
}

// setup is the first run: it creates the household and its owner, once, for
// whoever has the code that was printed where the server was started.
func (s Room) setup(q *kit.Request) error {
	empty, err := s.Store.Empty(q.Ctx())
	if err != nil {
		return err
	}
	lived := kit.Answer(http.StatusConflict, q.T("A household lives here already. Sign in instead."))
	if !empty {
		return lived
	}
	return s.founds(q, founding{Action: "/setup", code: true, missing: q.T("the set-up code is missing: it stands where the server was started"),
		wrong: q.T("that is not the code; it stands where the server was started"), taken: lived,
		create: func(f *kit.Form, p store.Profile, first store.Space, owner, hash string) (int64, error) {
			_, user, err := s.Store.CreateFirst(q.Ctx(), f.Text("code"), p, first, owner, hash)
			return user, err
		}})
}

// A founding is a way in which a household comes to be.
type founding struct {
	Action         string // address of its form
	code           bool   // one is asked for
	missing, wrong string // said of it
	taken          error  // where another was there before
	create         func(f *kit.Form, p store.Profile, first store.Space, owner, hash string) (user int64, err error)
}

// founds makes a household and its owner of a form, and signs them in.
func (s Room) founds(q *kit.Request, how founding) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	p := store.Profile{Name: f.Name("household", "household-name")}
	owner := f.Name("name", "your-name")
	p.Zone = kit.Parse(f, "zone", parseZone)
	p.Units = kit.Parse(f, "units", parseUnits)
	password := f.Values.Get("password")
	f.Values.Del("password")
	if text := PasswordProblem(password, q.Locale()); text != "" {
		f.Wrong("password", text)
	}
	if how.code && !f.Has("code") {
		f.Wrong("code", how.missing)
	}
	answer := func() error {
		q.Show(http.StatusUnprocessableEntity, "setup", newSetupPage(f, how))
		return nil
	}
	if !f.Ok() {
		return answer()
	}
	full, _, err := s.Store.Attempt(q.Ctx(), s.Now(), store.Limit{Key: "setup from " + s.address(q.Request), Most: setupsAddress, Within: guessesAddrIn})
	if err != nil {
		return err
	}
	if full != nil {
		f.Wrong("code", q.T("too many codes were tried from here; wait ten minutes"))
		return answer()
	}
	hash, err := s.hashInTurn(q.Ctx(), password)
	if err != nil {
		return kit.Answer(http.StatusServiceUnavailable, q.T("Many people are signing in just now; try again in a moment."))
	}
	user, err := how.create(f, p, store.Space{Name: q.T("the house"), House: house.Default(), Wanted: kit.UsualBand}, owner, hash)
	switch {
	case errors.Is(err, store.ErrMissing):
		f.Wrong("code", how.wrong)
		return answer()
	case errors.Is(err, store.ErrTaken) && how.taken != nil:
		return how.taken
	case errors.Is(err, store.ErrTaken):
		f.Wrong("name", q.T("somebody here has that name already: another one would do"))
		return answer()
	case err != nil:
		return err
	}
	return s.enter(q, user, "/stoves/new", "")
}

// parseUnits reads a choice of [unitOptions].
func parseUnits(typed string) (units.System, error) { return units.ParseSystem(typed) }

// parseZone accepts any IANA time zone.
func parseZone(name string) (string, error) {
	if name == "" || name == "Local" {
		return "", errors.New("a time zone is missing: Europe/Oslo would do")
	}
	if _, err := time.LoadLocation(name); err != nil || len(name) > 60 {
		return "", errors.New("that is not a time zone: Europe/Oslo or America/Halifax would do")
	}
	return name, nil
}

// SignedIn lets only those pass who are signed in; it loads who they are and
// their household. A database that does not answer is not a sign-out.
func (s Room) SignedIn(c *gin.Context) {
	ctx := c.Request.Context()
	if id := s.Sessions.GetInt64(ctx, store.SessionUser); id != 0 {
		user, err := s.Store.User(ctx, id)
		var profile store.Profile
		if err == nil {
			profile, err = s.Store.Household(user.Household).Profile(ctx)
		}
		switch {
		case err == nil:
			q := &kit.Request{Site: s.Site, Home: s.Store.Household(user.Household).As(user.Name), Profile: profile, User: user, Inside: true}
			c.Set("request", q)
			if !May(user.Role, c.Request.Method, c.FullPath()) {
				s.Handle(refused)(c)
				c.Abort()
			}
			return
		case !errors.Is(err, store.ErrMissing):
			s.Log.ErrorContext(c.Request.Context(), "session", "error", err)
			s.Unavailable(c.Writer, c.Request)
			c.Abort()
			return
		}
	}
	if c.GetHeader("Accept") == "application/json" {
		c.AbortWithStatusJSON(http.StatusUnauthorized, gin.H{"error": "Sign in again; the entry is kept on this device."})
		return
	}
	s.askToSignIn(c)
	c.Abort()
}
