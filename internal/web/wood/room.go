// Package wood is the stacks.
package wood

import (
	"embed"

	"github.com/gin-gonic/gin"

	"smolder/internal/web/kit"
)

//go:embed templates
var templates embed.FS

// A Room serves these pages.
type Room struct{ *kit.Site }

// New returns the room with its templates.
func New(s *kit.Site) (Room, error) { return Room{s}, s.AddViews(templates) }

// Routes adds the addresses for those who are signed in.
func (s Room) Routes(in gin.IRoutes) {
	in.GET("/wood", s.Handle(s.wood))
	in.GET("/wood/new", s.Handle(s.newStack))
	in.GET("/wood/so-far", s.Handle(s.stackSoFar))
	in.POST("/wood", s.Handle(s.addStack))
	in.GET("/wood/:id", s.Handle(s.stack))
	in.POST("/wood/:id", s.Handle(s.saveStack))
	in.POST("/wood/:id/remove", s.Handle(s.removeStack))
	in.POST("/wood/:id/put-back", s.Handle(s.putBackStack))
}
