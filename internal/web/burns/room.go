// Package burns is burns that were: their page, their list, files in and out.
package burns

import (
	"embed"

	"github.com/gin-gonic/gin"

	"smolder/internal/web/kit"
)

//go:embed templates
var templates embed.FS

// Uploads is the address that takes a file.
const Uploads = "/burns/import"

// A Room serves these pages.
type Room struct{ *kit.Site }

// New returns the room with its templates.
func New(s *kit.Site) (Room, error) { return Room{s}, s.AddViews(templates) }

// Routes adds the addresses for those who are signed in.
func (s Room) Routes(in gin.IRoutes) {
	in.GET("/burns", s.Handle(s.burns))
	in.POST(Uploads, s.Handle(s.importBurn))
	in.GET("/burns/:id", s.Handle(s.burn))
	in.GET("/burns/:id/burn.csv", s.Handle(s.exportCSV))
	in.GET("/burns/:id/burn.json", s.Handle(s.exportJSON))
	in.POST("/burns/:id/remove", s.Handle(s.removeBurn))
	in.POST("/burns/:id/put-back", s.Handle(s.putBackBurn))
}
