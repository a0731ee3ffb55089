// Package home is the first page of a day, the household with its people and alarms, and who gets in.
package home

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
	hashing *turnstile
}

// New returns the room with its templates.
func New(s *kit.Site) (Room, error) {
	return Room{s, newTurnstile(mostHashing, mostToHash)}, s.AddViews(templates)
}

// Routes adds the addresses for whoever comes, and for those who are signed in.
func (s Room) Routes(out, in gin.IRoutes) {
	out.GET("/setup", s.Handle(s.setupForm))
	out.POST("/setup", s.Handle(s.setup))
	out.GET("/sign-in", s.Handle(s.signInForm))
	out.POST("/sign-in", s.Handle(s.signIn))
	out.POST("/sign-in/passkey/ask", s.Handle(s.askWho))
	out.POST("/sign-in/passkey", s.Handle(s.signInBy))
	out.GET("/sign-up", s.Handle(s.signUpForm))
	out.POST("/sign-up", s.Handle(s.signUp))
	out.GET("/join/:token", s.Handle(s.joinForm))
	out.POST("/join/:token", s.Handle(s.join))
	out.GET("/about", s.Handle(s.about))
	in.GET("/words", s.Handle(s.words))
	in.GET("/find", s.Handle(s.find))
	in.POST("/sign-out", s.Handle(s.signOut))
	in.GET("/", s.Handle(s.now))
	in.GET("/held", s.Handle(s.heldForm))
	in.GET("/household", s.Handle(s.household))
	in.POST("/household/own", s.Handle(s.saveOwn))
	in.GET("/household/people", s.Handle(s.people))
	in.POST("/household/invitations", s.Handle(s.invite))
	in.POST("/household/invitations/:id/withdraw", s.Handle(s.withdraw))
	in.POST("/household/people/:id/role", s.Handle(s.changeRole))
	in.POST("/household/people/:id/go", s.Handle(s.letGo))
	in.POST("/household/leave", s.Handle(s.leave))
	in.GET("/calls", s.Handle(s.callsForm))
	in.POST("/calls", s.Handle(s.saveCalls))
	in.GET("/calls/now", s.Handle(s.callsNow))
	in.POST("/calls/browser", s.Handle(s.addBrowser))
	in.POST("/calls/browser/gone", s.Handle(s.removeBrowser))
	in.POST("/household", s.Handle(s.saveHousehold))
	in.POST("/household/password", s.Handle(s.changePassword))
	in.GET("/household/passkeys", s.Handle(s.passkeys))
	in.POST("/household/passkeys/ask", s.Handle(s.askForPasskey))
	in.POST("/household/passkeys", s.Handle(s.addPasskey))
	in.POST("/household/passkeys/:key/remove", s.Handle(s.removePasskey))
	in.POST("/household/sessions/:key/end", s.Handle(s.endSession))
	in.POST("/household/sessions/end", s.Handle(s.endSessions))
}
