package burns

import (
	"bufio"
	"compress/gzip"
	"context"
	"errors"
	"fmt"
	"io"
	"mime"
	"net/http"
	"os"
	"path"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"time"
	"unicode"

	"smolder/internal/core/burn"
	"smolder/internal/core/units"
	"smolder/internal/exchange"
	"smolder/internal/lang"
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
	if err == nil {
		b, err = q.Home.WholeBurn(q.Ctx(), b.ID)
	}
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

// mostWaiting is how many files are read in at a time. A place is taken when a file is here
// whole, so that nobody holds one by sending slowly.
var mostWaiting = make(chan struct{}, 2)

// arriving counts the files that arrive for each household.
var arriving = struct {
	sync.Mutex
	of map[int64]int
}{of: map[int64]int{}}

// mostArriving is how many files of one household may arrive at a time.
const mostArriving = 2

// arrive takes a household's place for a file that arrives; false: it has as many.
func arrive(household int64) (gone func(), ok bool) {
	arriving.Lock()
	defer arriving.Unlock()
	if arriving.of[household] >= mostArriving {
		return nil, false
	}
	arriving.of[household]++
	return func() {
		arriving.Lock()
		defer arriving.Unlock()
		if arriving.of[household]--; arriving.of[household] == 0 {
			delete(arriving.of, household)
		}
	}, true
}

// importBurn reads a burn, or a whole logbook, back in: each burn into the stove of the
// same name; a stove that is not here comes with it. One that is here already is not read
// in again. Of a file that is wrong somewhere nothing is; one that is too large to be held
// whole is read in burn by burn, up to the first that is wrong, and can be sent again.
func (s Room) importBurn(q *kit.Request) error {
	gone, ok := arrive(q.Home.ID())
	if !ok {
		return kit.Answer(http.StatusTooManyRequests, q.T("Two files of this household are arriving already. Wait for one of them."))
	}
	up, err := receive(q)
	gone()
	if err != nil {
		var input *kit.InputError
		if errors.As(err, &input) {
			return s.showBurns(q, input.Status, input.Text)
		}
		return err
	}
	defer up.Close()
	select {
	case mostWaiting <- struct{}{}:
		defer func() { <-mostWaiting }()
	case <-time.After(10 * time.Second):
		return kit.Answer(http.StatusServiceUnavailable, q.T("Other files are being read in just now. Try again in a minute."))
	}
	if up.large() {
		return s.importStream(q, up)
	}
	files, err := s.readUpload(up, q.Locale())
	var input *kit.InputError
	switch {
	case errors.As(err, &input):
		return s.showBurns(q, input.Status, input.Text)
	case errors.Is(err, exchange.ErrFormat):
		return s.showBurns(q, http.StatusUnprocessableEntity, say.Sentence(say.Error(err, q.Locale())))
	case err != nil:
		return err
	}
	list := make([]store.Import, len(files))
	for i, f := range files {
		list[i] = store.Import{Title: f.Title, Burn: f.Burn, Plan: f.Plan, Eye: f.Eye}
	}
	imported, err := q.Home.ImportBurns(q.Ctx(), list, told(q, up.page, len(list)))
	if errors.Is(err, store.ErrBurning) {
		return s.showBurns(q, http.StatusConflict, q.T("A burn in it is not ended, and its stove has one already. End that one first. Nothing was read in."))
	}
	if err != nil {
		return err
	}
	s.Work.Wake(q.Ctx(), q.Home.ID())
	if len(list) == 1 {
		text := q.F("Read in: %d entries.", len(list[0].Burn.Entries))
		if imported.Same == 1 {
			text = q.T("This burn is here already, so it was not read in again.")
		}
		q.Say("%s%s", text, came(imported.Stoves, q.Locale()))
		return q.SeeOther(fmt.Sprintf("/burns/%d", imported.Last))
	}
	q.Say("Read in: %d burns. %d were here already.%s", imported.New, imported.Same, came(imported.Stoves, q.Locale()))
	return q.SeeOther("/burns")
}

// importStream reads a large logbook in, each burn by itself.
func (s Room) importStream(q *kit.Request, up *upload) error {
	r, err := up.unpacked()
	if err != nil {
		return s.showBurns(q, http.StatusUnprocessableEntity, q.T("This is said to be packed with gzip, and is not. Nothing was read in."))
	}
	var all store.Imported
	open := http.NewResponseController(q.Writer)
	err = exchange.StreamLogbook(r, s.Now(), func(n int, f exchange.File) error {
		_ = open.SetWriteDeadline(time.Now().Add(2 * time.Minute)) // as long as it goes on
		one, err := q.Home.ImportBurns(q.Ctx(), []store.Import{{Title: f.Title, Burn: f.Burn, Plan: f.Plan, Eye: f.Eye}}, nil)
		if errors.Is(err, store.ErrBurning) {
			return kit.Answer(http.StatusConflict, q.F("Burn %d in it is not ended, and its stove has one already. End that one first.", n))
		}
		if err != nil {
			return err
		}
		all.New, all.Same, all.Stoves = all.New+one.New, all.Same+one.Same, append(all.Stoves, one.Stoves...)
		if up.page != "" && n%10 == 0 {
			_ = q.Home.Progress(q.Ctx(), up.page, n, 0, 0, q.Now()) // whoever waits is told the next time
		}
		return nil
	})
	s.Work.Wake(q.Ctx(), q.Home.ID())
	so := q.F("Read in: %d burns. %d were here already.%s", all.New, all.Same, came(all.Stoves, q.Locale()))
	var input *kit.InputError
	switch {
	case errors.As(err, &input):
		return s.showBurns(q, input.Status, input.Text+q.T(" Before it: ")+units.LowerFirst(so)+q.T(" Sent again, it goes on from there."))
	case errors.Is(err, exchange.ErrFormat):
		return s.showBurns(q, http.StatusUnprocessableEntity, say.Sentence(say.Error(err, q.Locale()))+q.T(" Before it: ")+units.LowerFirst(so)+
			q.T(" Mended and sent again, it goes on from there."))
	case err != nil:
		return err
	}
	q.Say("%s", so)
	return q.SeeOther("/burns")
}

// came says which stoves came with burns.
func came(stoves []string, loc lang.Locale) string {
	if len(stoves) == 0 {
		return ""
	}
	return loc.F(" %s came with it, and stands under Stove and flue.", strings.Join(stoves, ", "))
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
		_ = q.Home.Progress(ctx, name, done, of, 0, q.Now()) // whoever waits is told the next time
	}
}

// names are what a waiting page calls its file.
var names = regexp.MustCompile(`^[a-zA-Z0-9-]{8,64}$`)

// An upload is a file that has arrived, on a disk where nobody else finds it: it has no
// name there, and is gone when it is closed.
type upload struct {
	*os.File
	name string // as its owner calls it
	page string // what the page that waits calls it
	size int64
}

// receive takes the one file of a form in.
func receive(q *kit.Request) (*upload, error) {
	missing := kit.Answer(http.StatusUnprocessableEntity, q.T("Choose a file first: a burn as CSV or JSON, or a logbook as JSON, as it was taken out here."))
	parts, err := q.Request.MultipartReader()
	if err != nil {
		return nil, missing
	}
	up := &upload{}
	for range 10 {
		part, err := parts.NextPart()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, cutOff(err, q.Locale())
		}
		if part.FormName() == "search" {
			text, _ := io.ReadAll(io.LimitReader(part, 100))
			if names.Match(text) {
				up.page = string(text)
			}
			continue
		}
		if part.FormName() != "file" || part.FileName() == "" {
			continue
		}
		up.name = part.FileName()
		if up.File, err = os.CreateTemp("", "smolder-upload-"); err != nil {
			return nil, err
		}
		_ = os.Remove(up.File.Name())
		if up.size, err = io.Copy(up.File, part); err == nil {
			_, err = up.File.Seek(0, io.SeekStart)
		}
		if err != nil {
			return nil, errors.Join(cutOff(err, q.Locale()), up.File.Close())
		}
		return up, nil
	}
	return nil, missing
}

// cutOff is what is answered to a file that did not arrive whole.
func cutOff(err error, loc lang.Locale) error {
	if tooLarge := new(http.MaxBytesError); errors.As(err, &tooLarge) {
		return err
	}
	return kit.Answer(http.StatusUnprocessableEntity, loc.T("The file did not arrive whole; send it again."))
}

// packed tells whether the file is packed with gzip, by its first bytes.
func (u *upload) packed() bool {
	head := make([]byte, 2)
	n, _ := u.ReadAt(head, 0)
	return n == 2 && head[0] == 0x1f && head[1] == 0x8b
}

// large tells whether the file is read in burn by burn.
func (u *upload) large() bool { return u.packed() || u.size > exchange.MostLogbook }

// unpacked is what is in the file.
func (u *upload) unpacked() (io.Reader, error) {
	from := bufio.NewReaderSize(u.File, 256<<10)
	if !u.packed() {
		return from, nil
	}
	return gzip.NewReader(from)
}

// readUpload reads a file that is held whole.
func (s Room) readUpload(u *upload, loc lang.Locale) (files []exchange.File, err error) {
	if strings.EqualFold(path.Ext(u.name), ".csv") {
		f, err := exchange.ReadCSV(u.File, s.Now())
		return []exchange.File{f}, err
	}
	buffered := bufio.NewReaderSize(u.File, 64<<10)
	head, _ := buffered.Peek(200)
	if exchange.IsLogbook(head) {
		files, err = exchange.ReadLogbook(buffered, s.Now())
		if err == nil && len(files) == 0 {
			err = kit.Answer(http.StatusUnprocessableEntity, loc.T("There is no burn in this logbook, so nothing was read in."))
		}
		return files, err
	}
	f, err := exchange.ReadJSON(buffered, s.Now())
	return []exchange.File{f}, err
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
	asCSV, asGzip := strings.HasSuffix(q.FullPath(), ".zip"), strings.HasSuffix(q.FullPath(), ".gz")
	kind, ending := "application/json", ".json"
	switch {
	case asCSV:
		kind, ending = "application/zip", ".zip"
	case asGzip:
		kind, ending = "application/gzip", ".json.gz"
	}
	q.Header("Content-Type", kind)
	q.Header("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": "smolder-" + name + ending}))
	var sink io.Writer = q.Writer
	pack := gzip.NewWriter(q.Writer)
	if asGzip {
		sink = pack
	}
	add, finish, err := logbookTo(sink, asCSV)
	if err != nil {
		return err
	}
	open := http.NewResponseController(q.Writer)
	err = q.Home.EachBurn(q.Ctx(), store.Span{From: from, To: to}, func(b store.Burn, eye burn.Eye) error {
		// Each burn has its own while to be sent: a logbook of many winters takes minutes.
		_ = open.SetWriteDeadline(time.Now().Add(time.Minute))
		return add(b.ID, exchange.File{Title: b.Title, Burn: b.Burn, Plan: b.Plan, Eye: eye})
	})
	if err != nil {
		return s.brokenOff(q, err)
	}
	err = finish()
	if asGzip {
		err = errors.Join(err, pack.Close())
	}
	if err != nil {
		return s.brokenOff(q, err)
	}
	return nil
}

// brokenOff ends an answer that has begun, so that half a file is not taken for a whole one.
func (s Room) brokenOff(q *kit.Request, err error) error {
	if q.Ctx().Err() == nil {
		s.Log.ErrorContext(q.Ctx(), "taking out the logbook", "error", err)
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
	if err := q.Home.RemoveBurn(q.Ctx(), id, true, q.Now()); err != nil {
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
	if err := q.Home.RemoveBurn(q.Ctx(), id, false, q.Now()); err != nil {
		return err
	}
	q.Say("The burn is back on the list.")
	return q.SeeOther(fmt.Sprintf("/burns/%d", id))
}
