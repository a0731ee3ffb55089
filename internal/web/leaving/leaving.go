// Package leaving is where a household takes everything out, and goes.
package leaving

import (
	"archive/zip"
	"embed"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"smolder/internal/core/burn"
	"smolder/internal/exchange"
	"smolder/internal/store"
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
	in.GET("/household/leaving", s.Handle(s.page))
	in.POST("/household/archive", s.Handle(s.archive))
	in.POST("/household/leaving", s.Handle(s.leave))
}

type page struct {
	kit.Page
	Form *kit.Form
	Name string
}

func (s Room) page(q *kit.Request) error {
	q.Show(http.StatusOK, "leaving", &page{Page: kit.Page{Title: q.T("Take everything out, and go"), Nav: "household"}, Form: kit.Filled(), Name: q.Profile.Name})
	return nil
}

// archive is everything that is kept of the household in one file: the logbook as it can be read in
// again, every table as lines of JSON, the pictures, and the code by which the household is deleted.
func (s Room) archive(q *kit.Request) error {
	code, err := q.Home.LeaveCode(q.Ctx())
	if err != nil {
		return err
	}
	q.Header("Content-Type", "application/zip")
	q.Header("Content-Disposition", `attachment; filename="smolder-everything.zip"`)
	if err := s.write(q, q.Writer, code); err != nil {
		if q.Ctx().Err() == nil {
			s.Log.ErrorContext(q.Ctx(), "taking everything out", "error", err)
		}
		panic(http.ErrAbortHandler) // half a file is not taken for a whole one
	}
	return nil
}

func (s Room) write(q *kit.Request, w io.Writer, code string) error {
	out := zip.NewWriter(w)
	open := http.NewResponseController(q.Writer)
	longer := func() { _ = open.SetWriteDeadline(time.Now().Add(time.Minute)) } // each part has its own while to be sent
	log, err := out.Create("logbook.json")
	if err != nil {
		return err
	}
	book, err := exchange.NewLogbook(log)
	if err != nil {
		return err
	}
	if err := q.Home.EachBurn(q.Ctx(), store.Span{From: time.Unix(0, 0), To: s.Now().Add(24 * time.Hour)}, func(b store.Burn, eye burn.Eye) error {
		longer()
		return book.Add(exchange.File{Title: b.Title, Burn: b.Burn, Plan: b.Plan, Eye: eye})
	}); err != nil {
		return err
	}
	if err := book.Close(); err != nil {
		return err
	}
	var table string
	var lines io.Writer
	if err := q.Home.EachRow(q.Ctx(), func(of string, row []byte) (err error) {
		longer()
		if of != table {
			if lines, err = out.Create("tables/" + of + ".jsonl"); err != nil {
				return err
			}
			table = of
		}
		_, err = lines.Write(append(row, '\n'))
		return err
	}); err != nil {
		return err
	}
	if err := q.Home.EachPicture(q.Ctx(), func(burn, id int64, jpeg []byte) error {
		longer()
		picture, err := out.Create(fmt.Sprintf("pictures/burn-%d-%d.jpg", burn, id))
		if err == nil {
			_, err = picture.Write(jpeg)
		}
		return err
	}); err != nil {
		return err
	}
	last, err := out.Create("code.txt") // at the end: who has it has the whole file
	if err != nil {
		return err
	}
	if _, err := io.WriteString(last, code+"\n"); err != nil {
		return err
	}
	return out.Close()
}

// leave deletes the household, for whoever has its archive and types its name.
func (s Room) leave(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	p := &page{Page: kit.Page{Title: q.T("Take everything out, and go"), Nav: "household"}, Form: f, Name: q.Profile.Name}
	if !strings.EqualFold(f.Text("name"), q.Profile.Name) {
		f.Wrong("name", q.F("the household is called %q: type that, so that it is no slip", q.Profile.Name))
	}
	if !f.Has("code") {
		f.Wrong("code", q.T("the code is missing: it stands in code.txt, in the file with everything"))
	}
	if f.Ok() {
		switch err := q.Home.Leave(q.Ctx(), f.Text("code")); {
		case errors.Is(err, store.ErrMissing):
			f.Wrong("code", q.T("that is not the code of the newest file: take everything out anew, and look into code.txt"))
		case err != nil:
			return err
		default:
			if err := s.Sessions.Destroy(q.Ctx()); err != nil {
				return err
			}
			return q.SeeOther("/sign-in")
		}
	}
	q.Show(http.StatusUnprocessableEntity, "leaving", p)
	return nil
}
