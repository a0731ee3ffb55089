// Package plans is wishes, plans and days: asked, kept, printed and started.
package plans

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
	in.GET("/plan", s.Handle(s.plan))
	in.POST("/plan", s.Handle(s.makePlan))
	in.GET("/plan/progress", s.Handle(s.progress))
	in.GET("/plan/day", s.Handle(s.day))
	in.POST("/plan/day", s.Handle(s.makeDay))
	in.GET("/plans/:id", s.Handle(s.planned))
	in.GET("/plans/:id/sheet", s.Handle(s.sheet))
	in.GET("/plans/:id/plan.ics", s.Handle(s.calendar))
	in.POST("/plans/:id/start", s.Handle(s.startPlan))
	in.POST("/plans/:id/keep", s.Handle(s.keepPlan))
	in.POST("/plans/:id/remove", s.Handle(s.dropPlan))
	in.POST("/plans/:id/put-back", s.Handle(s.putBackPlan))
	in.GET("/stove", s.Handle(s.atTheStove))
	in.POST("/stove", s.Handle(s.startUnplanned))
}
