// Package trouble is where somebody looks for why a stove does not do what it should.
package trouble

import (
	"embed"

	"github.com/gin-gonic/gin"

	"smolder/internal/core/trouble"
	"smolder/internal/web/kit"
)

//go:embed templates
var templates embed.FS

// A Room serves these pages.
type Room struct {
	*kit.Site
	weighing *kit.Works[trouble.Weighed]
	shared   *kit.Works[trouble.Weighed] // for whoever has a link: they do not hold up who lives here
}

// New returns the room with its templates.
func New(s *kit.Site) (Room, error) {
	return Room{s, kit.NewWorks[trouble.Weighed]("trouble"), kit.NewWorks[trouble.Weighed]("shared trouble")}, s.AddViews(templates)
}

// Routes adds the addresses for those who are signed in.
func (s Room) Routes(in gin.IRoutes) {
	in.GET("/trouble", s.Handle(s.trouble))
	in.POST("/trouble/found", s.Handle(s.found))
	in.POST("/trouble/:id/righted", s.Handle(s.righted))
}
