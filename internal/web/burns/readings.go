package burns

import (
	"errors"
	"io"
	"net/http"
	"strconv"
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/exchange"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// A badRow is a row that cannot be read, and why.
type badRow struct {
	Number int
	Why    string
}

// readingsPage matches the columns of a logger's file.
type readingsPage struct {
	kit.Page
	File     int64 // 0: none is chosen yet
	NoStove  bool
	Name     string
	Form     *kit.Form
	Stoves   []kit.Option
	Columns  []column
	First    [][]string
	Rows     int
	Degrees  []kit.Option
	Drafts   []kit.Option
	Zones    []kit.Option
	Orders   []kit.Option
	Wrong    string
	Looked   bool
	Readings int
	From, To string
	Preview  []string
	Twice    int // rows in the second of two hours that the clocks repeat
	TwiceAt  string
	Bad      []badRow
	BadRows  int
}

// column is one of the file with what it may hold.
type column struct {
	Name, Head string
	May        []kit.Option
}

// mostFile is how large such a file may be, in bytes.
const mostFile = 8 << 20

func (s Room) readingsFile(q *kit.Request) error {
	stoves, err := q.Stoves()
	if err != nil {
		return err
	}
	q.Show(http.StatusOK, "readings", &readingsPage{Page: kit.Page{Title: q.T("Readings of a logger"), Nav: "burns"}, NoStove: len(stoves) == 0, Form: kit.Filled()})
	return nil
}

// takeReadings keeps a file until its columns are matched.
func (s Room) takeReadings(q *kit.Request) error {
	refuse := func(status int, text string) error {
		q.Show(status, "readings", &readingsPage{Page: kit.Page{Title: q.T("Readings of a logger"), Nav: "burns"}, Form: kit.Filled(), Wrong: text})
		return nil
	}
	parts, err := q.Request.MultipartReader()
	if err != nil {
		return refuse(http.StatusUnprocessableEntity, q.T("Choose a file first: readings as CSV, as a logger writes them."))
	}
	for range 10 {
		part, err := parts.NextPart()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return refuse(http.StatusUnprocessableEntity, q.T("The file did not arrive whole; send it again."))
		}
		if part.FormName() != "file" || part.FileName() == "" {
			continue
		}
		body, err := io.ReadAll(io.LimitReader(part, mostFile+1))
		if err != nil {
			return refuse(http.StatusUnprocessableEntity, q.T("The file did not arrive whole; send it again."))
		}
		if len(body) > mostFile {
			return refuse(http.StatusRequestEntityTooLarge, q.T("That file is too large: up to 8 MB would do, such as a few days."))
		}
		if _, err := exchange.Look(body); err != nil {
			return refuse(http.StatusUnprocessableEntity, say.Sentence(say.Error(err, q.Locale()))+q.T(" Nothing was kept."))
		}
		name := shortened(part.FileName())
		id, err := q.Home.KeepUpload(q.Ctx(), name, body)
		if err != nil {
			return err
		}
		return q.SeeOther("/burns/import/readings/" + strconv.FormatInt(id, 10))
	}
	return refuse(http.StatusUnprocessableEntity, q.T("Choose a file first: readings as CSV, as a logger writes them."))
}

// matchReadings shows a file's columns, and what they come to once they are matched.
func (s Room) matchReadings(q *kit.Request) error {
	p, _, err := s.matched(q, kit.Filled())
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	if f.Has("look") {
		return s.showMatched(q, f, false)
	}
	q.Show(http.StatusOK, "readings", p)
	return nil
}

// keepReadings reads the readings in, all of them or none.
func (s Room) keepReadings(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	return s.showMatched(q, f, true)
}

// showMatched looks at a file as it is matched, and keeps it where that is asked for.
func (s Room) showMatched(q *kit.Request, f *kit.Form, keep bool) error {
	p, body, err := s.matched(q, f)
	if err != nil {
		return err
	}
	m := exchange.Matching{Fahrenheit: f.Text("degrees") == "f", InchWater: f.Text("draft") == "inwc", DayFirst: f.Text("order") == "day", Zone: time.UTC,
		Until: s.Now().Add(time.Hour)}
	if f.Text("zone") == "here" {
		m.Zone = q.Profile.Location()
	}
	for i := range p.Columns {
		m.Columns = append(m.Columns, f.Text("c"+strconv.Itoa(i)))
	}
	rows, bad, badRows, err := m.Read(body)
	status := http.StatusOK
	if err != nil {
		p.Wrong, status = say.Sentence(say.Error(err, q.Locale())), http.StatusUnprocessableEntity
		q.Show(status, "readings", p)
		return nil
	}
	p.looked(q, rows, bad, badRows)
	switch {
	case !keep:
	case len(rows) == 0:
		p.Wrong, status = q.T("There is no reading in it as it is matched now, so nothing was kept."), http.StatusUnprocessableEntity
	case badRows > 0 && !f.Has("without"):
		p.Wrong, status = q.T("Some rows cannot be read, so nothing was kept. Change the matching, or tick that they are left out."), http.StatusUnprocessableEntity
	default:
		stoveID := f.Number("stove")
		list := make([]store.Reported, len(rows))
		for i, r := range rows {
			list[i] = store.Reported{Stove: stoveID, Place: r.Place, At: r.At, Value: r.Value}
		}
		list = once(list)
		kept, err := q.Home.AddReported(q.Ctx(), list)
		if err != nil {
			return err
		}
		if err := q.Home.DropUpload(q.Ctx(), p.File); err != nil {
			return err
		}
		s.Work.Wake(q.Ctx(), q.Home.ID())
		said := q.F("%d readings are read in, %d were here already.", kept, len(list)-kept)
		if again := len(rows) - len(list); again > 0 {
			said += q.F(" %d stand in the file a second time, for the same gauge and moment.", again)
		}
		q.Say("%s They stand on the strips of the burns that they were of.", said)
		return q.SeeOther("/burns")
	}
	q.Show(status, "readings", p)
	return nil
}

// once leaves of readings of one gauge at one moment the first.
func once(list []store.Reported) []store.Reported {
	type key struct {
		place string
		at    time.Time
	}
	seen, out := make(map[key]bool, len(list)), list[:0:0]
	for _, r := range list {
		if k := (key{r.Place, r.At}); !seen[k] {
			seen[k] = true
			out = append(out, r)
		}
	}
	return out
}

// looked says what the readings come to.
func (p *readingsPage) looked(q *kit.Request, rows []exchange.Row, bad []exchange.BadRow, badRows int) {
	p.Looked, p.Readings, p.BadRows = true, len(rows), badRows
	for _, b := range bad {
		p.Bad = append(p.Bad, badRow{b.Number, say.Error(b.Why, q.Locale())})
	}
	if len(rows) == 0 {
		return
	}
	from, to := rows[0].At, rows[0].At
	for _, r := range rows {
		if r.At.Before(from) {
			from = r.At
		}
		if r.At.After(to) {
			to = r.At
		}
	}
	clock := func(t time.Time) string { return q.Locale().Date(t.In(q.Profile.Location()), "2 Jan 2006, 15:04:05") }
	p.From, p.To = clock(from), clock(to)
	for _, r := range rows {
		if r.Second {
			if p.Twice++; p.Twice == 1 {
				p.TwiceAt = q.Locale().Date(r.At.In(q.Profile.Location()), "2 January 2006, 15:04")
			}
		}
	}
	for _, r := range rows[:min(6, len(rows))] {
		name := "draft"
		if r.Place != exchange.ColumnDraft {
			name = q.T(say.Places.Short(stove.Place(r.Place)))
		}
		p.Preview = append(p.Preview, clock(r.At)+" · "+name+" "+r.Printed(q.Locale()))
	}
}

// matched is the page of a file that waits.
func (s Room) matched(q *kit.Request, f *kit.Form) (*readingsPage, []byte, error) {
	id, err := q.ID("file")
	if err != nil {
		return nil, nil, err
	}
	up, err := q.Home.Upload(q.Ctx(), id)
	if err != nil {
		return nil, nil, err
	}
	look, err := exchange.Look(up.Body)
	if err != nil {
		return nil, nil, kit.BadInput(say.Sentence(say.Error(err, q.Locale())))
	}
	stoves, err := q.Stoves()
	if err != nil {
		return nil, nil, err
	}
	p := &readingsPage{Page: kit.Page{Title: q.T("Readings of a logger"), Nav: "burns", Wide: true}, File: id, Name: up.Name, Form: f,
		First: look.First, Rows: look.Rows}
	for _, st := range stoves {
		p.Stoves = append(p.Stoves, kit.Option{Value: strconv.FormatInt(st.ID, 10), Label: st.Name})
	}
	may := []kit.Option{{Value: exchange.ColumnNone, Label: q.T("leave it out")}, {Value: exchange.ColumnMoment, Label: q.T("day and time")},
		{Value: exchange.ColumnDay, Label: q.T("day")},
		{Value: exchange.ColumnClock, Label: q.T("time of day")}}
	for _, place := range stove.Places {
		may = append(may, kit.Option{Value: string(place), Label: q.T(say.Places.Short(place))})
	}
	may = append(may, kit.Option{Value: exchange.ColumnDraft, Label: q.T("draft")})
	for i, guess := range look.Guess() {
		c := column{Name: "c" + strconv.Itoa(i), Head: q.F("column %d", i+1), May: may}
		if i < len(look.Head) && look.Head[i] != "" {
			c.Head = shortened(look.Head[i])
		}
		if _, sent := f.Values[c.Name]; !sent {
			f.Values.Set(c.Name, guess)
		}
		p.Columns = append(p.Columns, c)
	}
	p.Degrees = []kit.Option{{Value: "c", Label: "°C"}, {Value: "f", Label: "°F"}}
	p.Drafts = []kit.Option{{Value: "pa", Label: "Pa"}, {Value: "inwc", Label: q.T("inches of water")}}
	p.Zones = []kit.Option{{Value: "here", Label: q.T("the household's: ") + q.Profile.Location().String()}, {Value: "utc", Label: "UTC"}}
	p.Orders = []kit.Option{{Value: "day", Label: q.T("the third of April")}, {Value: "month", Label: q.T("the fourth of March")}}
	return p, up.Body, nil
}
