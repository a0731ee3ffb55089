// Package upkeep is what a stove, its chimney and its household want looked after.
package upkeep

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
	in.GET("/upkeep", s.Handle(s.upkeep))
	in.GET("/upkeep/calendar.ics", s.Handle(s.calendar))
	in.POST("/upkeep/done", s.Handle(s.done))
	in.POST("/upkeep/put-off", s.Handle(s.putOff))
	in.POST("/upkeep/contacts", s.Handle(s.contacts))
	in.POST("/upkeep/chimney-fire", s.Handle(s.burnt))
	in.POST("/upkeep/done/:id/undo", s.Handle(s.undo(true)))
	in.POST("/upkeep/done/:id/put-back", s.Handle(s.undo(false)))
	in.GET("/upkeep/first-fires/:stove", s.Handle(s.firstFires))
}
