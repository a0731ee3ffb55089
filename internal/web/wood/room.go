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
	in.GET("/wood/winter", s.Handle(s.winter))
	in.GET("/wood/next", s.Handle(s.next))
	in.GET("/wood/basket", s.Handle(s.basket))
	in.POST("/wood/basket", s.Handle(s.carryAll))
	in.GET("/wood/offer", s.Handle(s.offer))
	in.GET("/wood/trip", s.Handle(s.trip))
	in.GET("/wood/wood.json", s.Handle(s.takeOut))
	in.GET("/wood/wood.csv", s.Handle(s.asTable))
	in.POST(Uploads, s.Handle(s.readIn))
	in.GET("/wood/so-far", s.Handle(s.stackSoFar))
	in.POST("/wood", s.Handle(s.addStack))
	in.GET("/wood/:id", s.Handle(s.stack))
	in.POST("/wood/:id", s.Handle(s.saveStack))
	in.GET("/wood/:id/edit", s.Handle(s.editStack))
	in.POST("/wood/:id/readings", s.Handle(s.addReading))
	in.POST("/wood/:id/readings/:n/undo", s.Handle(s.undoReading))
	in.POST("/wood/:id/readings/:n/put-back", s.Handle(s.undoReading))
	in.POST("/wood/:id/counts", s.Handle(s.addCount))
	in.POST("/wood/:id/counts/:n/undo", s.Handle(s.undoCount))
	in.POST("/wood/:id/counts/:n/put-back", s.Handle(s.undoCount))
	in.POST("/wood/:id/carried", s.Handle(s.carry))
	in.POST("/wood/:id/carried/:n/undo", s.Handle(s.undoCarry))
	in.POST("/wood/:id/carried/:n/put-back", s.Handle(s.undoCarry))
	in.POST("/wood/:id/remove", s.Handle(s.removeStack))
	in.POST("/wood/:id/put-back", s.Handle(s.putBackStack))
}
