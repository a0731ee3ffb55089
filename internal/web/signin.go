package web

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"sync"
	"time"

	"golang.org/x/crypto/argon2"

	"smolder/internal/core/house"
	"smolder/internal/core/units"
	"smolder/internal/store"
)

// Argon2id's parameters: the second recommendation of RFC 9106.
const (
	argonTime, argonMemory, argonThreads = 3, 64 * 1024, 2
	argonKey, argonSalt                  = 32, 16
)

// HashPassword returns the encoded argon2id hash of a password.
func HashPassword(password string) string {
	salt := make([]byte, argonSalt)
	_, _ = rand.Read(salt) // never fails
	key := argon2.IDKey([]byte(password), salt, argonTime, argonMemory, argonThreads, argonKey)
	enc := base64.RawStdEncoding
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemory, argonTime, argonThreads,
		enc.EncodeToString(salt), enc.EncodeToString(key))
}

// passwordMatches checks a password against an encoded hash.
func passwordMatches(encoded, password string) bool {
	parts := strings.Split(encoded, "$")
	if len(parts) != 6 || parts[1] != "argon2id" {
		return false
	}
	var memory, passes uint32
	var threads uint8
	if _, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=%d", &memory, &passes, &threads); err != nil {
		return false
	}
	salt, err := base64.RawStdEncoding.DecodeString(parts[4])
	if err != nil {
		return false
	}
	want, err := base64.RawStdEncoding.DecodeString(parts[5])
	if err != nil || len(want) == 0 {
		return false
	}
	got := argon2.IDKey([]byte(password), salt, passes, memory, threads, uint32(len(want))) //nolint:gosec // a few bytes
	return subtle.ConstantTimeCompare(got, want) == 1
}

// A signInGuard slows down guessing: after some failures for a name, that name
// waits.
type signInGuard struct {
	mu    sync.Mutex
	fails map[string][]time.Time
}

const (
	guardFails  = 6
	guardWindow = 5 * time.Minute
	guardNames  = 5000
)

func newSignInGuard() *signInGuard { return &signInGuard{fails: map[string][]time.Time{}} }

// blocked tells whether a name must wait.
func (g *signInGuard) blocked(name string, now time.Time) bool {
	g.mu.Lock()
	defer g.mu.Unlock()
	recent := g.fails[name][:0]
	for _, t := range g.fails[name] {
		if now.Sub(t) < guardWindow {
			recent = append(recent, t)
		}
	}
	if len(recent) == 0 {
		delete(g.fails, name)
	} else {
		g.fails[name] = recent
	}
	return len(recent) >= guardFails
}

func (g *signInGuard) failed(name string, now time.Time) {
	g.mu.Lock()
	defer g.mu.Unlock()
	if len(g.fails) > guardNames {
		clear(g.fails)
	}
	g.fails[name] = append(g.fails[name], now)
}

type signInPage struct {
	page
	Form *form
	Demo *Demo
}

// signInForm shows the sign-in, or the first run when nobody lives here yet.
func (s *Server) signInForm(q *request) error {
	empty, err := s.Store.Empty(q.ctx())
	if err != nil {
		return err
	}
	if empty {
		return q.seeOther("/setup")
	}
	q.render(http.StatusOK, "sign-in", &signInPage{page: page{Title: "Sign in"}, Form: filled(), Demo: s.Demo})
	return nil
}

// decoy is checked when a name is unknown, so that both answers take as long.
var decoy = sync.OnceValue(func() string { return HashPassword("nobody") })

func (s *Server) signIn(q *request) error {
	f, err := q.form()
	if err != nil {
		return err
	}
	name, now := strings.ToLower(f.text("name")), s.Now()
	if s.guard.blocked(name, now) {
		f.wrong("password", "too many wrong passwords for this name; wait five minutes and try again")
		q.render(http.StatusTooManyRequests, "sign-in", &signInPage{page: page{Title: "Sign in"}, Form: f, Demo: s.Demo})
		return nil
	}
	user, err := s.Store.UserByName(q.ctx(), name)
	if err != nil && !errors.Is(err, store.ErrMissing) {
		return err
	}
	hash := user.Password
	if err != nil {
		hash = decoy()
	}
	if !passwordMatches(hash, f.Values.Get("password")) || err != nil {
		s.guard.failed(name, now)
		f.wrong("password", "name and password do not go together")
		f.Values.Del("password")
		q.render(http.StatusUnprocessableEntity, "sign-in", &signInPage{page: page{Title: "Sign in"}, Form: f, Demo: s.Demo})
		return nil
	}
	return s.enter(q, user.Household, user.Name)
}

// enter starts a session under a new token.
func (s *Server) enter(q *request, household int64, user string) error {
	if err := s.sessions.RenewToken(q.ctx()); err != nil {
		return err
	}
	s.sessions.Put(q.ctx(), sessionHousehold, household)
	s.sessions.Put(q.ctx(), sessionUser, user)
	return q.seeOther("/")
}

func (s *Server) signOut(q *request) error {
	if err := s.sessions.Destroy(q.ctx()); err != nil {
		return err
	}
	return q.seeOther("/sign-in")
}

type setupPage struct {
	page
	Form  *form
	Zones []option
	Kinds []option
}

func newSetupPage(f *form) *setupPage {
	return &setupPage{page: page{Title: "Welcome"}, Form: f, Zones: zoneOptions(), Kinds: unitOptions()}
}

func unitOptions() []option {
	return []option{{Value: "metric", Label: "°C, kg, metres, pascals"}, {Value: "imperial", Label: "°F, lb, feet, inches of water"}}
}

// zoneOptions offers a zone of each hour and the usual ones; any other IANA
// name can be typed.
func zoneOptions() []option {
	names := []string{"UTC", "Europe/London", "Europe/Dublin", "Europe/Lisbon", "Europe/Paris", "Europe/Berlin", "Europe/Vienna", "Europe/Oslo",
		"Europe/Stockholm", "Europe/Helsinki", "Europe/Athens", "America/St_Johns", "America/Halifax", "America/New_York", "America/Chicago",
		"America/Denver", "America/Los_Angeles", "America/Anchorage", "Asia/Tokyo", "Australia/Hobart", "Australia/Sydney", "Pacific/Auckland"}
	out := make([]option, len(names))
	for i, n := range names {
		out[i] = option{Value: n, Label: n}
	}
	return out
}

func (s *Server) setupForm(q *request) error {
	empty, err := s.Store.Empty(q.ctx())
	if err != nil {
		return err
	}
	if !empty {
		return q.seeOther("/sign-in")
	}
	q.render(http.StatusOK, "setup", newSetupPage(filled("zone", "UTC", "units", "metric")))
	return nil
}

// setup is the first run: it creates the household and its owner, once.
func (s *Server) setup(q *request) error {
	empty, err := s.Store.Empty(q.ctx())
	if err != nil {
		return err
	}
	if !empty {
		return &errInput{http.StatusConflict, "A household lives here already. Sign in instead."}
	}
	f, err := q.form()
	if err != nil {
		return err
	}
	p := store.Profile{Name: f.name("household", "the household's name"), House: house.Default(), Wanted: [2]units.Celsius{19, 21.5}}
	owner := f.name("name", "your name")
	p.Zone = parse(f, "zone", parseZone)
	p.Units = parse(f, "units", units.ParseSystem)
	password := f.Values.Get("password")
	if len([]rune(password)) < 10 || len(password) > 200 {
		f.wrong("password", "a password of 10 to 200 letters would do; a few words are easy to keep")
	}
	if !f.ok() {
		q.render(http.StatusUnprocessableEntity, "setup", newSetupPage(f))
		return nil
	}
	id, err := s.Store.Create(q.ctx(), p, owner, HashPassword(password))
	if err != nil {
		return err
	}
	return s.enter(q, id, owner)
}

// parseZone accepts any IANA time zone.
func parseZone(name string) (string, error) {
	if name == "" || name == "Local" {
		return "", errors.New("a time zone is missing: Europe/Oslo would do")
	}
	if _, err := time.LoadLocation(name); err != nil {
		return "", fmt.Errorf("%q is not a time zone: Europe/Oslo or America/Halifax would do", name)
	}
	return name, nil
}
