// Package hearth is the fire that burns: what is logged at the stove, and what comes next.
package hearth

import (
	"embed"

	"github.com/gin-gonic/gin"

	"smolder/internal/web/kit"
)

//go:embed templates
var templates embed.FS

// A Room serves these pages.
type Room struct {
	*kit.Site
	drawn   *drawings
	showing *showing
}

// New returns the room with its templates.
func New(s *kit.Site) (Room, error) { return Room{s, &drawings{}, &showing{}}, s.AddViews(templates) }

// Routes adds the addresses for those who are signed in.
func (s Room) Routes(in gin.IRoutes) {
	in.GET("/burns/:id/live", s.Handle(s.live))
	in.POST("/burns/:id/entries", s.Handle(s.addEntry))
	in.GET("/burns/:id/entries/:entry", s.Handle(s.entryForm))
	in.POST("/burns/:id/entries/:entry", s.Handle(s.correctEntry))
	in.POST("/burns/:id/entries/:entry/strike", s.Handle(s.undoEntry))
	in.POST("/burns/:id/entries/:entry/put-back", s.Handle(s.putBackEntry))
	in.POST("/burns/:id/done", s.Handle(s.done))
	in.POST("/burns/:id/taps/:tap/undo", s.Handle(s.undoTap))
	in.GET("/burns/:id/as-of", s.Handle(s.asOf))
	in.GET("/burns/:id/changes", s.Handle(s.changes))
	in.POST("/burns/:id/end", s.Handle(s.endBurn))
	in.POST("/burns/:id/reopen", s.Handle(s.reopenBurn))
}
