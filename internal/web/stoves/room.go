// Package stoves is stoves with their chimneys, the spaces they heat, and how they behave.
package stoves

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
	in.GET("/stoves", s.Handle(s.stoves))
	in.GET("/stoves/new", s.Handle(s.newStove))
	in.GET("/stoves/so-far", s.Handle(s.stoveSoFar))
	in.POST("/stoves", s.Handle(s.addStove))
	in.GET("/stoves/:id", s.Handle(s.stove))
	in.GET("/stoves/:id/edit", s.Handle(s.editStove))
	in.GET("/stoves/:id/behaves", s.Handle(s.behaves))
	in.GET("/stoves/:id/known", s.Handle(s.known))
	in.GET("/stoves/:id/at-home", s.Handle(s.atHome))
	in.POST("/stoves/:id/changes", s.Handle(s.changeStove))
	in.POST("/stoves/:id/changes/:change/undo", s.Handle(s.undoChange(true)))
	in.POST("/stoves/:id/changes/:change/put-back", s.Handle(s.undoChange(false)))
	in.POST("/stoves/:id/back", s.Handle(s.goBack))
	in.POST("/stoves/:id", s.Handle(s.saveStove))
	in.POST("/stoves/:id/remove", s.Handle(s.removeStove))
	in.POST("/stoves/:id/put-back", s.Handle(s.putBackStove))
	in.POST("/stoves/:id/tokens", s.Handle(s.makeToken))
	in.POST("/stoves/:id/tokens/:token/revoke", s.Handle(s.revokeToken))
	in.GET("/spaces/new", s.Handle(s.newSpace))
	in.POST("/spaces", s.Handle(s.addSpace))
	in.GET("/spaces/:id", s.Handle(s.space))
	in.POST("/spaces/:id", s.Handle(s.saveSpace))
	in.POST("/spaces/:id/remove", s.Handle(s.removeSpace))
}
