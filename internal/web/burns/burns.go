package burns

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"mime"
	"net/http"
	"path"
	"regexp"
	"strconv"
	"strings"
	"time"
	"unicode"

	"smolder/internal/exchange"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

func (s Room) exportCSV(q *kit.Request) error {
	return s.export(q, "text/csv; charset=utf-8", "csv", exchange.WriteCSV)
}

func (s Room) exportJSON(q *kit.Request) error {
	return s.export(q, "application/json", "json", exchange.WriteJSON)
}

func (s Room) export(q *kit.Request, kind, ending string, write func(io.Writer, exchange.File) error) error {
	b, err := s.BurnOf(q)
	if err != nil {
		return err
	}
	q.Header("Content-Type", kind)
	q.Header("Content-Disposition", mime.FormatMediaType("attachment",
		map[string]string{"filename": fmt.Sprintf("burn-%s-%s.%s", fileWord(b.Stove.Name), b.Started.Format("2006-01-02-1504"), ending)}))
	eye, err := q.Home.EyeOf(q.Ctx(), b.ID)
	if err != nil {
		return err
	}
	return write(q.Writer, exchange.File{Title: b.Title, Burn: b.Burn, Plan: b.Plan, Eye: eye})
}

// fileWord is a name as part of a file's name: its letters and digits, in whatever
// alphabet, and dashes between.
func fileWord(name string) string {
	return strings.Trim(strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToLower(r)
		}
		return '-'
	}, name), "-")
}

// mostWaiting is how many logbooks are held in memory at a time.
var mostWaiting = make(chan struct{}, 2)

// importBurn reads a burn, or a whole logbook, back in: each burn into the stove of the
// same name; a stove that is not here comes with it. One that is here already is not read
// in again, and of a file that is wrong somewhere nothing is.
func (s Room) importBurn(q *kit.Request) error {
	select {
	case mostWaiting <- struct{}{}:
		defer func() { <-mostWaiting }()
	case <-time.After(10 * time.Second):
		return kit.Answer(http.StatusServiceUnavailable, "Other files are being read in just now. Try again in a minute.")
	}
	files, name, err := s.readUpload(q)
	var input *kit.InputError
	switch {
	case errors.As(err, &input):
		return s.showBurns(q, input.Status, input.Text)
	case errors.Is(err, exchange.ErrFormat):
		return s.showBurns(q, http.StatusUnprocessableEntity, say.Sentence(say.Error(err, q.Units())))
	case err != nil:
		return err
	}
	list := make([]store.Import, len(files))
	for i, f := range files {
		list[i] = store.Import{Title: f.Title, Burn: f.Burn, Plan: f.Plan, Eye: f.Eye}
	}
	imported, err := q.Home.ImportBurns(q.Ctx(), list, told(q, name, len(list)))
	if errors.Is(err, store.ErrBurning) {
		return s.showBurns(q, http.StatusConflict, "A burn in it is not ended, and its stove has one already. End that one first. Nothing was read in.")
	}
	if err != nil {
		return err
	}
	s.After.Wake()
	if len(list) == 1 {
		text := fmt.Sprintf("Read in: %d entries.", len(list[0].Burn.Entries))
		if imported.Same == 1 {
			text = "This burn is here already, so it was not read in again."
		}
		q.Say("%s%s", text, came(imported.Stoves))
		return q.SeeOther(fmt.Sprintf("/burns/%d", imported.Last))
	}
	q.Say("Read in: %d burns. %d were here already.%s", imported.New, imported.Same, came(imported.Stoves))
	return q.SeeOther("/burns")
}

// came says which stoves came with burns.
func came(stoves []string) string {
	if len(stoves) == 0 {
		return ""
	}
	return fmt.Sprintf(" %s came with it, and stands under Stove and flue.", strings.Join(stoves, ", "))
}

// told keeps how far a logbook is, under the name that the page gave it.
func told(q *kit.Request, name string, of int) func(done int) {
	const every = 20
	return func(done int) {
		if name == "" || done%every != 0 && done != of {
			return
		}
		ctx, cancel := context.WithTimeout(q.Ctx(), 2*time.Second)
		defer cancel()
		_ = q.Home.Progress(ctx, name, done, of, 0) // whoever waits is told the next time
	}
}

// names are what a waiting page calls its file.
var names = regexp.MustCompile(`^[a-zA-Z0-9-]{8,64}$`)

// readUpload reads the one file of a form as it comes, so that nothing of it is
// ever kept on disk; name is what the page calls it while it waits.
func (s Room) readUpload(q *kit.Request) (files []exchange.File, name string, err error) {
	missing := kit.Answer(http.StatusUnprocessableEntity, "Choose a file first: a burn as CSV or JSON, or a logbook as JSON, as it was taken out here.")
	parts, err := q.Request.MultipartReader()
	if err != nil {
		return nil, "", missing
	}
	for range 10 {
		part, err := parts.NextPart()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			if tooLarge := new(http.MaxBytesError); errors.As(err, &tooLarge) {
				return nil, "", err
			}
			return nil, "", kit.Answer(http.StatusUnprocessableEntity, "The file did not arrive whole; send it again.")
		}
		if part.FormName() == "search" {
			text, _ := io.ReadAll(io.LimitReader(part, 100))
			if names.Match(text) {
				name = string(text)
			}
			continue
		}
		if part.FormName() != "file" || part.FileName() == "" {
			continue
		}
		if strings.EqualFold(path.Ext(part.FileName()), ".csv") {
			f, err := exchange.ReadCSV(part, s.Now())
			return []exchange.File{f}, name, err
		}
		buffered := bufio.NewReaderSize(part, 512)
		head, _ := buffered.Peek(200)
		if exchange.IsLogbook(head) {
			files, err = exchange.ReadLogbook(buffered, s.Now())
			if err == nil && len(files) == 0 {
				err = kit.Answer(http.StatusUnprocessableEntity, "There is no burn in this logbook, so nothing was read in.")
			}
			return files, name, err
		}
		f, err := exchange.ReadJSON(buffered, s.Now())
		return []exchange.File{f}, name, err
	}
	return nil, "", missing
}

// exportLogbook takes out all burns, or those of a year.
func (s Room) exportLogbook(q *kit.Request) error {
	from, to := time.Unix(0, 0), s.Now().Add(24*time.Hour)
	name := "logbook"
	if year, err := strconv.Atoi(q.Query("year")); err == nil && year >= 1990 && year < 2200 {
		zone := q.Profile.Location()
		from, to = time.Date(year, 1, 1, 0, 0, 0, 0, zone), time.Date(year+1, 1, 1, 0, 0, 0, 0, zone)
		name += "-" + strconv.Itoa(year)
	}
	list, err := q.Home.BurnNumbers(q.Ctx(), from, to)
	if err != nil {
		return err
	}
	asCSV := strings.HasSuffix(q.FullPath(), ".zip")
	kind, ending := "application/json", ".json"
	if asCSV {
		kind, ending = "application/zip", ".zip"
	}
	q.Header("Content-Type", kind)
	q.Header("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": "smolder-" + name + ending}))
	add, finish, err := logbookTo(q.Writer, asCSV)
	if err != nil {
		return err
	}
	open := http.NewResponseController(q.Writer)
	for _, n := range list {
		// Each burn has its own while to be sent: a logbook of many winters takes minutes.
		_ = open.SetWriteDeadline(time.Now().Add(time.Minute))
		b, err := q.Home.Burn(q.Ctx(), n.ID)
		if errors.Is(err, store.ErrMissing) {
			continue // taken off meanwhile
		}
		if err != nil {
			return s.brokenOff(q, err)
		}
		eye, err := q.Home.EyeOf(q.Ctx(), n.ID)
		if err != nil {
			return s.brokenOff(q, err)
		}
		if err := add(n.ID, exchange.File{Title: b.Title, Burn: b.Burn, Plan: b.Plan, Eye: eye}); err != nil {
			return s.brokenOff(q, err)
		}
	}
	if err := finish(); err != nil {
		return s.brokenOff(q, err)
	}
	return nil
}

// brokenOff ends an answer that has begun, so that half a file is not taken for a whole one.
func (s Room) brokenOff(q *kit.Request, err error) error {
	if q.Ctx().Err() == nil {
		s.Log.Error("taking out the logbook", "error", err)
	}
	panic(http.ErrAbortHandler)
}

// logbookTo writes a logbook burn by burn.
func logbookTo(w io.Writer, asCSV bool) (add func(int64, exchange.File) error, finish func() error, err error) {
	if asCSV {
		t, err := exchange.NewTables(w)
		if err != nil {
			return nil, nil, err
		}
		return t.Add, t.Close, nil
	}
	l, err := exchange.NewLogbook(w)
	if err != nil {
		return nil, nil, err
	}
	return func(_ int64, f exchange.File) error { return l.Add(f) }, l.Close, nil
}

// schema answers what a logbook as JSON holds.
func (s Room) schema(q *kit.Request) error {
	q.Data(http.StatusOK, "application/schema+json", exchange.Schema())
	return nil
}

// removeBurn takes a burn off the list; its wood goes back on the stack.
func (s Room) removeBurn(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.RemoveBurn(q.Ctx(), id, true); err != nil {
		return err
	}
	q.Say("The burn is taken off the list, and its wood is back on the stack. Its page still opens, and can put it back.")
	return q.SeeOther(fmt.Sprintf("/burns/%d", id))
}

func (s Room) putBackBurn(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.RemoveBurn(q.Ctx(), id, false); err != nil {
		return err
	}
	q.Say("The burn is back on the list.")
	return q.SeeOther(fmt.Sprintf("/burns/%d", id))
}
