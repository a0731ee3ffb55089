// Package practice is where somebody tries a fire that cannot hurt them: their own stove,
// computed, seen through its glass.
//
// The fire burns on the server, and the page draws what it is told of it: there is one fire in
// Smolder, in one language, and what a practice shows is what plans and reviews are computed
// with. A step of two seconds costs some microseconds, so that fifty practices at a hundred times
// the pace of life are a few hundredths of a processor; what the network takes is hidden by being
// half a second ahead of what is drawn.
package practice

import (
	"embed"

	"github.com/gin-gonic/gin"

	"smolder/internal/core/behave"
	"smolder/internal/web/kit"
)

//go:embed templates
var templates embed.FS

// A Room serves these pages.
type Room struct {
	*kit.Site
	fires   *fires
	reviews *kit.Works[kit.Reviewed]
	given   *kit.Works[[]behave.Given]
}

// New returns the room with its templates.
func New(s *kit.Site) (Room, error) {
	return Room{s, newFires(), kit.NewWorks[kit.Reviewed]("practice"), kit.NewWorks[[]behave.Given]("settings")}, s.AddViews(templates)
}

// Routes adds the addresses for those who are signed in.
func (s Room) Routes(in gin.IRoutes) {
	in.GET("/practice", s.Handle(s.lessons))
	in.POST("/practice", s.Handle(s.begin))
	in.GET("/practice/settings", s.Handle(s.settings))
	in.GET("/practice/through", s.Handle(s.through))
	in.GET("/practice/:id", s.Handle(s.practice))
	in.POST("/practice/:id/do", s.Handle(s.do))
	in.POST("/practice/:id/again", s.Handle(s.again))
	in.POST("/practice/:id/go", s.Handle(s.drop))
}
