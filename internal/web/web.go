// Package web serves Smolder's pages: server-rendered HTML that works without
// scripts, made lighter by a little Alpine where a hand is busy. Each place of
// the work is a room of its own below a common kit; this package puts them
// together.
package web

import (
	"embed"
	"io/fs"
	"net/http"

	"github.com/gin-gonic/gin"

	"smolder/internal/trail"
	"smolder/internal/web/api"
	"smolder/internal/web/burns"
	"smolder/internal/web/hearth"
	"smolder/internal/web/home"
	"smolder/internal/web/kit"
	"smolder/internal/web/leaving"
	"smolder/internal/web/plans"
	"smolder/internal/web/practice"
	"smolder/internal/web/season"
	"smolder/internal/web/share"
	"smolder/internal/web/stoves"
	"smolder/internal/web/trouble"
	"smolder/internal/web/upkeep"
	"smolder/internal/web/wood"
)

// Options configure a server.
type Options = kit.Options

// PushKeys are those by which push services know the server.
type PushKeys = kit.PushKeys

// DisplayAt is where the stoves are told for a display at home.
type DisplayAt = kit.DisplayAt

// Demo is the sign-in that the demo shows on its page.
type Demo = kit.Demo

// static are the built styles, scripts and fonts.
//
//go:embed static
var static embed.FS

// A room adds its addresses, for those who are signed in.
type room interface{ Routes(in gin.IRoutes) }

// New returns a server with every room.
func New(o Options) (*kit.Site, error) {
	files, err := fs.Sub(static, "static")
	if err != nil {
		return nil, err
	}
	s, err := kit.NewSite(o, files)
	if err != nil {
		return nil, err
	}
	r := gin.New()
	r.RedirectTrailingSlash = true
	r.HandleMethodNotAllowed = true
	r.Use(func(c *gin.Context) { trail.Route(c.Request.Context(), c.FullPath()) })
	r.NoRoute(s.Handle(func(*kit.Request) error {
		return &kit.InputError{Status: http.StatusNotFound, Text: "There is no such page."}
	}))
	r.NoMethod(s.Handle(func(*kit.Request) error {
		return &kit.InputError{Status: http.StatusMethodNotAllowed, Text: "This address takes no such request; open the page and use its buttons."}
	}))
	door, err := home.New(s)
	if err != nil {
		return nil, err
	}
	s.Meanwhile = append(s.Meanwhile, door.CallOut, door.TellHome)
	in := r.Group("/", door.SignedIn)
	door.Routes(r, in)
	in.GET("/understand", s.Handle(s.Understand))
	// What is shared with other owners shows pages of burns and of troubles.
	logged, err := burns.New(s)
	if err != nil {
		return nil, err
	}
	wrong, err := trouble.New(s)
	if err != nil {
		return nil, err
	}
	for _, open := range []func(*kit.Site) (room, error){
		func(s *kit.Site) (room, error) { return plans.New(s) },
		func(s *kit.Site) (room, error) { return hearth.New(s) },
		func(*kit.Site) (room, error) { return logged, nil },
		func(s *kit.Site) (room, error) { return season.New(s) },
		func(s *kit.Site) (room, error) { return wood.New(s) },
		func(s *kit.Site) (room, error) { return stoves.New(s) },
		func(s *kit.Site) (room, error) { return upkeep.New(s) },
		func(*kit.Site) (room, error) { return wrong, nil },
		func(s *kit.Site) (room, error) { return practice.New(s) },
		func(s *kit.Site) (room, error) { return leaving.New(s) },
	} {
		pages, err := open(s)
		if err != nil {
			return nil, err
		}
		pages.Routes(in)
	}
	shared, err := share.New(s, logged, wrong)
	if err != nil {
		return nil, err
	}
	shared.Open(r)
	shared.Routes(in)
	s.ServeAPI(api.New(s))
	return s, s.Serve(r, func(path string) bool {
		return burns.TakesFiles(path) || wood.TakesFiles(path) || share.TakesFiles(path)
	})
}
