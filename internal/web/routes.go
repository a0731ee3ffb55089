package web

import (
	"net/http"

	"github.com/gin-gonic/gin"
)

// routes is the whole address book.
func (s *Server) routes() http.Handler {
	r := gin.New()
	r.RedirectTrailingSlash = true
	r.Use(gin.CustomRecovery(func(c *gin.Context, err any) {
		s.Log.Error("panic", "path", c.Request.URL.Path, "error", err)
		s.plainError(c.Writer, http.StatusInternalServerError, "Something went wrong here, and nothing was changed. Try again.")
		c.Abort()
	}))
	r.NoRoute(s.handle(func(q *request) error { return &errInput{http.StatusNotFound, "There is no such page."} }))
	r.GET("/static/*file", gin.WrapH(http.StripPrefix("/static", static())))
	r.GET("/healthz", s.health)

	// Open to everybody: they must open when everything else fails.
	r.GET("/co-alarm", s.emergency("co-alarm"))
	r.GET("/chimney-fire", s.emergency("chimney-fire"))

	r.GET("/setup", s.handle(s.setupForm))
	r.POST("/setup", s.handle(s.setup))
	r.GET("/sign-in", s.handle(s.signInForm))
	r.POST("/sign-in", s.handle(s.signIn))

	in := r.Group("/", s.signedIn)
	in.POST("/sign-out", s.handle(s.signOut))
	in.GET("/", s.handle(s.now))
	in.GET("/understand", s.handle(s.understand))

	in.GET("/plan", s.handle(s.plan))
	in.POST("/plan", s.handle(s.startPlan))
	in.GET("/plan/sheet", s.handle(s.sheet))
	in.POST("/plan/keep", s.handle(s.keepPlan))
	in.POST("/plan/kept/:id/remove", s.handle(s.dropPlan))
	in.POST("/plan/kept/:id/put-back", s.handle(s.putBackPlan))
	in.GET("/plan/progress", s.handle(s.progress))
	in.GET("/plan/day", s.handle(s.day))
	in.GET("/plan/day/sheet", s.handle(s.daySheet))
	in.GET("/plan/day.ics", s.handle(s.dayCalendar))

	in.GET("/stove", s.handle(s.atTheStove))
	in.POST("/stove", s.handle(s.startUnplanned))
	in.GET("/burns/:id/live", s.handle(s.live))
	in.POST("/burns/:id/entries", s.handle(s.addEntry))
	in.GET("/burns/:id/entries/:entry", s.handle(s.entryForm))
	in.POST("/burns/:id/entries/:entry", s.handle(s.correctEntry))
	in.POST("/burns/:id/entries/:entry/strike", s.handle(s.strikeEntry))
	in.POST("/burns/:id/entries/:entry/put-back", s.handle(s.putBackEntry))
	in.POST("/burns/:id/end", s.handle(s.endBurn))
	in.POST("/burns/:id/reopen", s.handle(s.reopenBurn))

	in.GET("/burns", s.handle(s.burns))
	in.POST("/burns/import", s.handle(s.importBurn))
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

	in.GET("/household", s.handle(s.household))
	in.POST("/household", s.handle(s.saveHousehold))
	return r
}
