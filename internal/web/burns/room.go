// Package burns is burns that were: their page, their list, files in and out.
package burns

import (
	"embed"
	"strings"

	"github.com/gin-gonic/gin"

	"smolder/internal/web/kit"
)

//go:embed templates
var templates embed.FS

// Uploads is the address that burns are read in by.
const Uploads = "/burns/import"

// TakesFiles tells whether an address takes a file.
func TakesFiles(path string) bool {
	return path == Uploads || strings.HasPrefix(path, Uploads+"/") || strings.HasPrefix(path, "/burns/") && strings.HasSuffix(path, "/photos")
}

// A Room serves these pages.
type Room struct {
	*kit.Site
	pasts *pasts
}

// New returns the room with its templates.
func New(s *kit.Site) (Room, error) { return Room{s, &pasts{}}, s.AddViews(templates) }

// Routes adds the addresses for those who are signed in.
func (s Room) Routes(in gin.IRoutes) {
	in.GET("/burns", s.Handle(s.burns))
	in.POST(Uploads, s.Handle(s.importBurn))
	in.GET("/burns/logbook.json", s.Handle(s.exportLogbook))
	in.GET("/burns/logbook.json.gz", s.Handle(s.exportLogbook))
	in.GET("/burns/logbook.zip", s.Handle(s.exportLogbook))
	in.GET("/burns/logbook.schema.json", s.Handle(s.schema))
	in.GET("/burns/import/readings", s.Handle(s.readingsFile))
	in.POST("/burns/import/readings", s.Handle(s.takeReadings))
	in.GET("/burns/import/readings/:file", s.Handle(s.matchReadings))
	in.POST("/burns/import/readings/:file", s.Handle(s.keepReadings))
	in.GET("/burns/over", s.Handle(s.over))
	in.GET("/burns/compare", s.Handle(s.compare))
	in.POST("/burns/compare", s.Handle(s.beginTrial))
	in.POST("/trials/:id/end", s.Handle(s.endTrial))
	in.GET("/burns/:id", s.Handle(s.burn))
	in.POST("/burns/:id/eye", s.Handle(s.keepEye))
	in.POST("/burns/:id/photos", s.Handle(s.addPhoto))
	in.GET("/burns/:id/photos/:photo", s.Handle(s.photo))
	in.POST("/burns/:id/photos/:photo/remove", s.Handle(s.removePhoto(true)))
	in.POST("/burns/:id/photos/:photo/put-back", s.Handle(s.removePhoto(false)))
	in.GET("/burns/:id/otherwise", s.Handle(s.otherwise))
	in.GET("/burns/:id/burn.csv", s.Handle(s.exportCSV))
	in.GET("/burns/:id/burn.json", s.Handle(s.exportJSON))
	in.POST("/burns/:id/remove", s.Handle(s.removeBurn))
	in.POST("/burns/:id/put-back", s.Handle(s.putBackBurn))
}
