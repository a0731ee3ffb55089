package web

import (
	"net/http"

	"github.com/gin-gonic/gin"
)

// importPath is the one address that takes a file.
const importPath = "/burns/import"

// routes is the whole address book, but for what comes first ([Server.first]).
func (s *Server) routes() *gin.Engine {
	r := gin.New()
	r.RedirectTrailingSlash = true
	r.HandleMethodNotAllowed = true
	r.NoRoute(s.handle(func(*request) error { return &errInput{http.StatusNotFound, "There is no such page."} }))
	r.NoMethod(s.handle(func(*request) error {
		return &errInput{http.StatusMethodNotAllowed, "This address takes no such request; open the page and use its buttons."}
	}))

	r.GET("/setup", s.handle(s.setupForm))
	r.POST("/setup", s.handle(s.setup))
	r.GET("/sign-in", s.handle(s.signInForm))
	r.POST("/sign-in", s.handle(s.signIn))

	in := r.Group("/", s.signedIn)
	in.POST("/sign-out", s.handle(s.signOut))
	in.GET("/", s.handle(s.now))
	in.GET("/understand", s.handle(s.understand))
	in.GET("/held", s.handle(s.heldForm))

	in.GET("/plan", s.handle(s.plan))
	in.POST("/plan", s.handle(s.makePlan))
	in.GET("/plan/progress", s.handle(s.progress))
	in.GET("/plan/day", s.handle(s.day))
	in.POST("/plan/day", s.handle(s.makeDay))
	in.GET("/plans/:id", s.handle(s.planned))
	in.GET("/plans/:id/sheet", s.handle(s.sheet))
	in.GET("/plans/:id/plan.ics", s.handle(s.calendar))
	in.POST("/plans/:id/start", s.handle(s.startPlan))
	in.POST("/plans/:id/keep", s.handle(s.keepPlan))
	in.POST("/plans/:id/remove", s.handle(s.dropPlan))
	in.POST("/plans/:id/put-back", s.handle(s.putBackPlan))

	in.GET("/stove", s.handle(s.atTheStove))
	in.POST("/stove", s.handle(s.startUnplanned))
	in.GET("/burns/:id/live", s.handle(s.live))
	in.POST("/burns/:id/entries", s.handle(s.addEntry))
	in.GET("/burns/:id/entries/:entry", s.handle(s.entryForm))
	in.POST("/burns/:id/entries/:entry", s.handle(s.correctEntry))
	in.POST("/burns/:id/entries/:entry/strike", s.handle(s.undoEntry))
	in.POST("/burns/:id/entries/:entry/put-back", s.handle(s.putBackEntry))
	in.POST("/burns/:id/end", s.handle(s.endBurn))
	in.POST("/burns/:id/reopen", s.handle(s.reopenBurn))

	in.GET("/burns", s.handle(s.burns))
	in.POST(importPath, s.handle(s.importBurn))
	in.GET("/burns/:id", s.handle(s.burn))
	in.GET("/burns/:id/burn.csv", s.handle(s.exportCSV))
	in.GET("/burns/:id/burn.json", s.handle(s.exportJSON))
	in.POST("/burns/:id/remove", s.handle(s.removeBurn))
	in.POST("/burns/:id/put-back", s.handle(s.putBackBurn))

	in.GET("/wood", s.handle(s.wood))
	in.GET("/wood/new", s.handle(s.newStack))
	in.POST("/wood", s.handle(s.addStack))
	in.GET("/wood/:id", s.handle(s.stack))
	in.POST("/wood/:id", s.handle(s.saveStack))
	in.POST("/wood/:id/remove", s.handle(s.removeStack))
	in.POST("/wood/:id/put-back", s.handle(s.putBackStack))

	in.GET("/stoves", s.handle(s.stoves))
	in.GET("/stoves/new", s.handle(s.newStove))
	in.POST("/stoves", s.handle(s.addStove))
	in.GET("/stoves/:id", s.handle(s.stove))
	in.GET("/stoves/:id/edit", s.handle(s.editStove))
	in.GET("/stoves/:id/behaves", s.handle(s.behaves))
	in.POST("/stoves/:id", s.handle(s.saveStove))
	in.POST("/stoves/:id/remove", s.handle(s.removeStove))
	in.POST("/stoves/:id/put-back", s.handle(s.putBackStove))

	in.GET("/household", s.handle(s.household))
	in.POST("/household", s.handle(s.saveHousehold))
	in.POST("/household/password", s.handle(s.changePassword))
	in.POST("/household/sessions/:key/end", s.handle(s.endSession))
	in.POST("/household/sessions/end", s.handle(s.endSessions))
	in.GET("/spaces/new", s.handle(s.newSpace))
	in.POST("/spaces", s.handle(s.addSpace))
	in.GET("/spaces/:id", s.handle(s.space))
	in.POST("/spaces/:id", s.handle(s.saveSpace))
	in.POST("/spaces/:id/remove", s.handle(s.removeSpace))
	return r
}
