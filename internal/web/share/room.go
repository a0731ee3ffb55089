// Package share is how an owner asks another one: a burn, a stove or a trouble behind a link that
// ends by itself and can be withdrawn, or in a file.
//
// What is shared is a document ([exchange.Shared]), made when it is shared and without names.
// Whoever has the link is shown that document and nothing of the household: no address of theirs
// reaches its tables. They may try changes on it, and leave one answer.
package share

import (
	"embed"

	"github.com/gin-gonic/gin"

	"smolder/internal/web/burns"
	"smolder/internal/web/kit"
	"smolder/internal/web/trouble"
)

//go:embed templates
var templates embed.FS

// A Room serves these pages.
type Room struct {
	*kit.Site
	burns   burns.Room
	trouble trouble.Room
	reviews *kit.Works[kit.Reviewed]
}

// New returns the room with its templates; pages of burns and troubles are those of their rooms.
func New(s *kit.Site, b burns.Room, t trouble.Room) (Room, error) {
	return Room{s, b, t, kit.NewWorks[kit.Reviewed]("shared")}, s.AddViews(templates)
}

// uploads is the address that takes a file.
const uploads = "/shares/open"

// TakesFiles tells whether an address takes a file.
func TakesFiles(path string) bool { return path == uploads }

// Routes adds the addresses for those who are signed in.
func (s Room) Routes(in gin.IRoutes) {
	in.GET("/shares", s.Handle(s.shares))
	in.POST("/burns/:id/share", s.Handle(s.shareBurn))
	in.POST("/stoves/:id/share", s.Handle(s.shareStove))
	in.POST("/trouble/share", s.Handle(s.shareTrouble))
	in.POST("/shares/:id/withdraw", s.Handle(s.withdraw))
	in.GET("/shares/:id/file", s.Handle(s.file))
	in.POST(uploads, s.Handle(s.open))
	in.GET("/guests/:id", s.Handle(s.guest(s.show)))
	in.GET("/guests/:id/otherwise", s.Handle(s.guest(s.otherwise)))
	in.GET("/guests/:id/photos/:photo", s.Handle(s.guest(s.photo)))
	in.POST("/guests/:id/answer", s.Handle(s.guest(s.answerFile)))
	in.POST("/guests/:id/go", s.Handle(s.drop))
}

// Open adds the addresses for whoever has a link.
func (s Room) Open(out gin.IRoutes) {
	out.GET("/shared/:token", s.Handle(s.linked(s.show)))
	out.GET("/shared/:token/otherwise", s.Handle(s.linked(s.otherwise)))
	out.GET("/shared/:token/photos/:photo", s.Handle(s.linked(s.photo)))
	out.POST("/shared/:token/answer", s.Handle(s.linked(s.answer)))
}
