package web_test

import (
	"net/http"
	"regexp"
	"strings"
	"testing"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/store"
	"smolder/internal/web"
	"smolder/internal/web/home"
	"smolder/internal/web/webtest"
)

// posted is what changes something, as its route has it, and how many of the household's rows
// there are.
func posted(t *testing.T, s *webtest.Site) (routes []gin.RouteInfo) {
	t.Helper()
	site, err := web.New(webtest.Options(s, true))
	require.NoError(t, err)
	for _, r := range site.Gin.Routes() {
		if r.Method != http.MethodGet && !strings.HasPrefix(r.Path, "/sign-in") && r.Path != "/setup" && r.Path != "/sign-up" && r.Path != "/join/:token" &&
			r.Path != "/shared/:token/answer" {
			routes = append(routes, r)
		}
	}
	require.Greater(t, len(routes), 60)
	return routes
}

// Whoever looks on changes nothing but what is their own, at whatever address; a member all but
// the household, who is in it, and its programs' keys.
func TestWhoMayDoWhat(t *testing.T) {
	s := webtest.New(t, true)
	routes := posted(t, s)
	var tarn int64
	require.NoError(t, s.Store.DB().QueryRow(`SELECT id FROM users`).Scan(&tarn))
	part := regexp.MustCompile(`:\w+`)
	for _, role := range []store.Role{store.Looks, store.Member} {
		_, err := s.Store.DB().Exec(`UPDATE users SET role = $1`, role)
		require.NoError(t, err)
		s.NewPerson()
		s.SignIn()
		refused := 0
		for _, r := range routes {
			if home.May(role, r.Method, r.Path) {
				continue
			}
			refused++
			got := s.Post(part.ReplaceAllString(r.Path, "1"), "role", "owner", "household", "Taken over")
			assert.Equal(t, http.StatusForbidden, got.Status, "%s as %s", r.Path, role)
			assert.Contains(t, got.Words(), "nothing was changed", r.Path)
		}
		if role == store.Looks {
			assert.Equal(t, len(routes)-16, refused, "but what is their own")
		} else {
			assert.Equal(t, 9, refused)
		}
		var now string
		require.NoError(t, s.Store.DB().QueryRow(`SELECT role || name FROM users`).Scan(&now))
		assert.Equal(t, string(role)+"tarn", now)
	}
	assert.True(t, home.May(store.Owner, http.MethodPost, "/household"))
}

// A form that somebody may not send is not shown to them: those that everybody may are marked, and
// those that only an owner may.
func TestFormsAreMarkedByWhoMaySend(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	routes := posted(t, s)
	match := func(action string) string {
		action, _, _ = strings.Cut(action, "#")
		action, _, _ = strings.Cut(action, "?")
		for _, r := range routes {
			if regexp.MustCompile("^" + regexp.MustCompile(`:\w+`).ReplaceAllString(r.Path, `[\w-]+`) + "$").MatchString(action) {
				return r.Path
			}
		}
		require.Fail(t, "no route", action)
		return ""
	}
	s.Post("/household/invitations", "role", "member", "lasts", "day")
	forms := 0
	for _, path := range []string{"/", "/plan", "/stove", "/burns", "/burns/1", "/wood", "/wood/1", "/wood/basket", "/stoves", "/stoves/1", "/stoves/1/known", "/spaces/1",
		"/upkeep", "/household", "/household/people", "/calls", "/practice", s.Post("/practice", "lesson", "turn-down", "stove", "1").To, "/shares", "/trouble",
		"/stoves/1/at-home"} {
		page := s.Get(path)
		require.Equal(t, http.StatusOK, page.Status, path)
		for _, form := range regexp.MustCompile(`<form [^>]*method="post"[^>]*>`).FindAllString(page.Body, -1) {
			action := regexp.MustCompile(`action="([^"]*)"`).FindStringSubmatch(form)
			to := path
			if action != nil {
				to = action[1]
			}
			forms++
			route := match(to)
			assert.Equal(t, home.May(store.Looks, http.MethodPost, route), regexp.MustCompile(`data-own[ >]`).MatchString(form), "%s on %s: %s", route, path, form)
			assert.Equal(t, !home.May(store.Member, http.MethodPost, route), strings.Contains(form, "data-owners"), "%s on %s: %s", route, path, form)
		}
	}
	assert.Greater(t, forms, 40)
}
