package plans

import (
	"context"
	"errors"
	"net/http"
	"regexp"
	"time"

	"smolder/internal/core/search"
	"smolder/internal/web/kit"

	"github.com/gin-gonic/gin"
)

// searchNames are what a waiting page calls its search.
var searchNames = regexp.MustCompile(`^[a-zA-Z0-9-]{8,64}$`)

// searched runs a search in its turn and keeps how far it is, under the name
// that the waiting page gave it, where any process can tell.
func searched(q *kit.Request, f *kit.Form, work func(context.Context, *search.Meter) error) error {
	name := f.Text("search")
	report := func(burnt, fires, waiting int) {
		if !searchNames.MatchString(name) {
			return
		}
		// Also when the asker has just gone: the last count is kept.
		ctx, cancel := context.WithTimeout(context.WithoutCancel(q.Ctx()), 2*time.Second)
		defer cancel()
		if err := q.Home.Progress(ctx, name, burnt, fires, waiting, q.Now()); err != nil && !errors.Is(err, context.DeadlineExceeded) {
			q.Site.Log.WarnContext(q.Ctx(), "progress", "error", err)
		}
	}
	return q.Site.Queue.Do(q.Ctx(), q.Home.ID(), report, work)
}

// progress answers how many fires a search has burnt, of how many so far, and
// how many searches come before it; zeros when nothing is known of it.
func (s Room) progress(q *kit.Request) error {
	name := q.Query("search")
	q.Header("Cache-Control", "no-store")
	if !searchNames.MatchString(name) {
		q.JSON(http.StatusOK, gin.H{"burnt": 0, "of": 0, "waiting": 0})
		return nil
	}
	burnt, of, waiting, err := q.Home.ProgressOf(q.Ctx(), name)
	if err != nil {
		return err
	}
	q.JSON(http.StatusOK, gin.H{"burnt": burnt, "of": of, "waiting": waiting})
	return nil
}
