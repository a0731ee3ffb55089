package web

import (
	"errors"
	"fmt"
	"io"
	"mime"
	"net/http"
	"path"
	"strconv"
	"strings"
	"time"
	"unicode"

	"smolder/internal/core/burn"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
	"smolder/internal/exchange"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
)

type burnsPage struct {
	page
	Form  *form
	Lines []burnLine
	More  string // the time before which older burns lie
	Error string
}

const burnsAPage = 40

func (s *Server) burns(q *request) error { return s.showBurns(q, http.StatusOK, "") }

func (s *Server) showBurns(q *request, status int, wrong string) error {
	before := s.Now().Add(24 * time.Hour)
	if t, err := time.Parse(time.RFC3339Nano, q.Query("before")); err == nil {
		before = t
	}
	rows, err := q.house.Burns(q.ctx(), before, burnsAPage+1)
	if err != nil {
		return err
	}
	p := &burnsPage{page: page{Title: "Burns", Nav: "burns"}, Error: wrong}
	if len(rows) > burnsAPage {
		rows = rows[:burnsAPage]
		p.More = rows[len(rows)-1].Started.UTC().Format(time.RFC3339Nano)
	}
	zone, u := q.profile.Location(), q.units()
	for _, r := range rows {
		l := burnLine{BurnLine: r, Day: r.Started.In(zone).Format("Mon 2 Jan 2006"), Clock: r.Started.In(zone).Format("15:04"),
			Mass: u.Mass(r.Mass), Outdoor: u.Temperature(r.Outdoor), Length: "burning"}
		if r.Ended.Valid {
			l.Length = clockLength(r.Ended.V.Sub(r.Started))
		}
		if r.Mineral > 0 {
			l.Mineral = u.Mass(r.Mineral) + " mineral fuel"
			if r.Mass == 0 {
				l.Mass = ""
			}
		}
		if r.Unknown {
			l.Outdoor = "not known"
		}
		if r.Peak.Valid {
			l.Peak = u.Temperature(units.Celsius(r.Peak.V))
		}
		p.Lines = append(p.Lines, l)
	}
	q.render(status, "burns", p)
	return nil
}

type burnPage struct {
	page
	Burn    store.Burn
	Heading string
	Sub     string
	Strip   strip.Pair
	Figures []figure
	Log     []logLine
	Older   int // entries older than those shown
	Newer   bool
	Skip    int // entries newer than those shown
	Next    int
	Gauges  []option
	Mineral string
	Closed  bool
	Planned string
	Fact    string
}

// burn is a burn afterwards.
func (s *Server) burn(q *request) error {
	id, err := q.id("id")
	if err != nil {
		return err
	}
	b, err := q.house.Burn(q.ctx(), id)
	if err != nil {
		return err
	}
	until := b.Ended
	if until.IsZero() {
		until = s.Now().UTC()
	}
	m := s.replays.Measure(b.Burn, until)
	zone := q.profile.Location()
	p := &burnPage{page: page{Nav: "burns", Wide: true}, Burn: b, Closed: !b.Ended.IsZero(),
		Strip: strip.Draw(strip.OfBurn(b.Burn, b.Plan, m, until, handGauge(q), q.view(b.Started)), strip.Page), Figures: burnFigures(q, b, m)}
	skip, _ := strconv.Atoi(q.Query("older"))
	p.Skip = min(max(0, skip), len(b.Entries))
	p.Log, p.Older = logOf(q, b, p.Skip)
	p.Next = p.Skip + len(p.Log)
	if !m.Simulated {
		p.Mineral = "Mineral fuel was burnt: it is recorded and not simulated. The gauges are shown as they were read; heat, efficiency, smoke and deposits are not known. It makes carbon monoxide for hours after the flames are gone: the alarm must work, and its air is never shut while it glows."
	}
	p.Heading = b.Stove.Name + ", " + b.Started.In(zone).Format("2 January 2006, 15:04")
	if b.Title != "" {
		p.Heading += ", " + b.Title
	}
	p.Title = p.Heading
	p.Sub = burnSub(q, b, m)
	if b.Plan != nil {
		p.Planned = say.Plan(*b.Plan, q.units())
		p.Fact = planAgainstFact(q, b, m)
	}
	for _, g := range b.Stove.Gauges {
		if g.Place.OfFire() {
			p.Gauges = append(p.Gauges, option{Value: string(g.Place), Label: say.Places.Short(g.Place), Chosen: g.Place == m.Gauge.Place && handGauge(q) == "" || g.Place == handGauge(q)})
		}
	}
	q.render(http.StatusOK, "burn", p)
	return nil
}

func burnSub(q *request, b store.Burn, m burn.Measures) string {
	outside, room := q.units().Temperature(b.Outdoor)+" outside", q.units().RoomTemperature(b.Room)+" in the room before"
	if b.OutdoorUnknown {
		outside = "outside not known"
	}
	if b.RoomUnknown {
		room = "room before not known"
	}
	parts := []string{b.Stove.Room, outside, room}
	if b.Coals > 0 {
		parts = append(parts, "on coals")
	} else {
		parts = append(parts, "from cold")
	}
	parts = append(parts, clockLength(m.Length)+" long")
	return strings.Join(parts, " · ")
}

// planAgainstFact says how the burn went against what was planned.
func planAgainstFact(q *request, b store.Burn, m burn.Measures) string {
	u := q.units()
	text := fmt.Sprintf("Planned: %s of wood. Burnt: %s.", u.Mass(b.Plan.Mass()), u.Mass(m.Used))
	planned, fact := time.Duration(-1), time.Duration(-1)
	for _, s := range b.Plan.Steps {
		if s.Kind == plan.TurnDown && s.Last {
			planned = s.Expected
		}
	}
	air, _ := b.Stove.MainAir()
	if e, ok := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == air.Key && e.Opening < 0.95 }); ok {
		fact = e.At.Sub(b.Started)
	}
	switch {
	case planned >= 0 && fact >= 0:
		text += fmt.Sprintf(" Last turn-down planned %s in, made %s in.", clockLength(planned), clockLength(fact))
	case planned >= 0:
		text += fmt.Sprintf(" Last turn-down planned %s in, never made.", clockLength(planned))
	}
	return text
}

func (s *Server) exportCSV(q *request) error {
	return s.export(q, "text/csv; charset=utf-8", "csv", exchange.WriteCSV)
}

func (s *Server) exportJSON(q *request) error {
	return s.export(q, "application/json", "json", exchange.WriteJSON)
}

func (s *Server) export(q *request, kind, ending string, write func(io.Writer, exchange.File) error) error {
	b, err := s.burnOf(q)
	if err != nil {
		return err
	}
	q.Header("Content-Type", kind)
	q.Header("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": fmt.Sprintf("burn-%s-%s.%s", fileWord(b.Stove.Name), b.Started.Format("2006-01-02-1504"), ending)}))
	return write(q.Writer, exchange.File{Title: b.Title, Burn: b.Burn, Plan: b.Plan})
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

// importBurn reads a burn back in, into the stove of the same name; a stove that
// is not here comes with it. One that is here already is not read in again.
func (s *Server) importBurn(q *request) error {
	file, err := s.readUpload(q)
	var input *errInput
	switch {
	case errors.As(err, &input):
		return s.showBurns(q, input.status, input.text)
	case errors.Is(err, exchange.ErrFormat):
		return s.showBurns(q, http.StatusUnprocessableEntity, say.Sentence(say.Error(err, q.units())))
	case err != nil:
		return err
	}
	stoveID, made, err := s.stoveFor(q, file.Burn)
	if err != nil {
		return err
	}
	same, err := q.house.SameBurn(q.ctx(), stoveID, file.Burn)
	if err != nil {
		return err
	}
	if same != 0 {
		q.say("This burn is here already, so it was not read in again.")
		return q.seeOther(fmt.Sprintf("/burns/%d", same))
	}
	id, err := q.house.StartBurn(q.ctx(), stoveID, file.Title, s.foreign(file.Burn), file.Plan)
	if errors.Is(err, store.ErrBurning) {
		return s.showBurns(q, http.StatusConflict, "This burn is not ended, and its stove has one already. End that one first.")
	}
	if err != nil {
		return err
	}
	text := fmt.Sprintf("Read in: %d entries.", len(file.Burn.Entries))
	if made {
		text += fmt.Sprintf(" %s came with it, and stands under Stove and flue.", file.Burn.Stove.Name)
	}
	q.say("%s", text)
	return q.seeOther(fmt.Sprintf("/burns/%d", id))
}

// stoveFor finds the stove of a burn by its name, or makes it from the file.
func (s *Server) stoveFor(q *request, b burn.Burn) (id int64, made bool, err error) {
	stoves, err := q.house.Stoves(q.ctx())
	if err != nil {
		return 0, false, err
	}
	for _, st := range stoves {
		if store.NameKey(st.Name) == store.NameKey(b.Stove.Name) {
			return st.ID, false, nil
		}
	}
	spaces, err := q.house.Spaces(q.ctx())
	if err != nil {
		return 0, false, err
	}
	st := store.Stove{Stove: b.Stove}
	name := "where " + b.Stove.Name + " stands"
	if b.Stove.Room != "" {
		name = b.Stove.Room
	}
	if r := []rune(name); len(r) > 60 {
		name = string(r[:60])
	}
	for _, sp := range spaces {
		if store.NameKey(sp.Name) == store.NameKey(name) {
			st.Space.ID = sp.ID
		}
	}
	if st.Space.ID == 0 {
		sp := store.Space{Name: name, House: b.House, Wanted: usualBand}
		if b.Wanted[0] < b.Wanted[1] {
			sp.Wanted = [2]units.Celsius{units.Celsius(b.Wanted[0]), units.Celsius(b.Wanted[1])}
		}
		if st.Space.ID, err = q.house.AddSpace(q.ctx(), sp); err != nil {
			return 0, false, err
		}
	}
	id, err = q.house.AddStove(q.ctx(), st)
	return id, true, err
}

// foreign cuts the loads' ties to stacks of the household they came from.
func (s *Server) foreign(b burn.Burn) burn.Burn {
	for i, e := range b.Entries {
		if e.Load != nil {
			l := *e.Load
			l.StackID = 0
			b.Entries[i].Load = &l
		}
	}
	return b
}

// readUpload reads the one file of a form as it comes, so that nothing of it is
// ever kept on disk.
func (s *Server) readUpload(q *request) (exchange.File, error) {
	missing := &errInput{http.StatusUnprocessableEntity, "Choose a file first: a burn as CSV or JSON, as it was taken out here."}
	parts, err := q.Request.MultipartReader()
	if err != nil {
		return exchange.File{}, missing
	}
	for range 10 {
		part, err := parts.NextPart()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			if tooLarge := new(http.MaxBytesError); errors.As(err, &tooLarge) {
				return exchange.File{}, err
			}
			return exchange.File{}, &errInput{http.StatusUnprocessableEntity, "The file did not arrive whole; send it again."}
		}
		if part.FormName() != "file" || part.FileName() == "" {
			continue
		}
		if strings.EqualFold(path.Ext(part.FileName()), ".csv") {
			return exchange.ReadCSV(part, s.Now())
		}
		return exchange.ReadJSON(part, s.Now())
	}
	return exchange.File{}, missing
}

// removeBurn takes a burn off the list; its wood goes back on the stack.
func (s *Server) removeBurn(q *request) error {
	id, err := q.id("id")
	if err != nil {
		return err
	}
	if err := q.house.RemoveBurn(q.ctx(), id, true); err != nil {
		return err
	}
	q.say("The burn is taken off the list, and its wood is back on the stack. Its page still opens, and can put it back.")
	return q.seeOther(fmt.Sprintf("/burns/%d", id))
}

func (s *Server) putBackBurn(q *request) error {
	id, err := q.id("id")
	if err != nil {
		return err
	}
	if err := q.house.RemoveBurn(q.ctx(), id, false); err != nil {
		return err
	}
	q.say("The burn is back on the list.")
	return q.seeOther(fmt.Sprintf("/burns/%d", id))
}
