package web

import (
	"errors"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"path"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
	"smolder/internal/exchange"
	"smolder/internal/store"
)

type burnsPage struct {
	page
	Form  *form
	Lines []burnLine
	More  string // the time before which older burns lie
	Error string
}

type burnLine struct {
	store.BurnLine
	Day, Clock, Length, Mass, Peak, Outdoor string
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
	Strip   pair
	Figures []figure
	Log     []logLine
	Gauges  []option
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
	m := burn.Measure(b.Burn, until)
	zone := q.profile.Location()
	p := &burnPage{page: page{Nav: "burns", Wide: true}, Burn: b, Closed: !b.Ended.IsZero(), Log: logOf(q, b),
		Strip: draw(burnChart(q, b, m, until, handGauge(q)), wideStrip), Figures: burnFigures(q, b, m)}
	p.Heading = b.Stove.Name + ", " + b.Started.In(zone).Format("2 January 2006, 15:04")
	if b.Title != "" {
		p.Heading += ", " + b.Title
	}
	p.Title = p.Heading
	p.Sub = burnSub(q, b, m)
	if b.Plan != nil {
		p.Planned = b.Plan.Sentence(q.units())
		p.Fact = planAgainstFact(q, b, m)
	}
	for _, g := range b.Stove.Gauges {
		if g.Place.OfFire() {
			p.Gauges = append(p.Gauges, option{Value: string(g.Place), Label: g.Place.Short(), Chosen: g.Place == m.Gauge.Place && handGauge(q) == "" || g.Place == handGauge(q)})
		}
	}
	q.render(http.StatusOK, "burn", p)
	return nil
}

func burnSub(q *request, b store.Burn, m burn.Measures) string {
	parts := []string{b.Stove.Room, q.units().Temperature(b.Outdoor) + " outside", q.units().RoomTemperature(b.Room) + " in the room before"}
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
	for _, e := range b.Valid() {
		if e.Kind == burn.Control && e.Control == air.Key && e.Opening < 0.95 {
			fact = e.At.Sub(b.Started)
		}
	}
	switch {
	case planned >= 0 && fact >= 0:
		text += fmt.Sprintf(" Last turn-down planned %s in, made %s in.", clockLength(planned), clockLength(fact))
	case planned >= 0:
		text += fmt.Sprintf(" Last turn-down planned %s in, never made.", clockLength(planned))
	}
	return text
}

// clockLength prints 1:05 h.
func clockLength(d time.Duration) string {
	m := int(d.Round(time.Minute) / time.Minute)
	if m < 60 {
		return fmt.Sprintf("%d min", m)
	}
	return fmt.Sprintf("%d:%02d h", m/60, m%60)
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
	name := strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= '0' && r <= '9' {
			return r
		}
		return '-'
	}, strings.ToLower(b.Stove.Name))
	q.Header("Content-Type", kind)
	q.Header("Content-Disposition", fmt.Sprintf(`attachment; filename="burn-%s-%s.%s"`, name, b.Started.Format("2006-01-02-1504"), ending))
	return write(q.Writer, exchange.File{Title: b.Title, Burn: b.Burn, Plan: b.Plan})
}

// importBurn reads a burn back in, into the stove of the same name.
func (s *Server) importBurn(q *request) error {
	if _, err := q.form(); err != nil {
		return err
	}
	upload, err := q.FormFile("file")
	if err != nil {
		return s.showBurns(q, http.StatusUnprocessableEntity, "Choose a file first: a burn as CSV or JSON, as it was taken out here.")
	}
	file, err := readUpload(upload)
	if err != nil {
		if !errors.Is(err, exchange.ErrFormat) {
			return err
		}
		return s.showBurns(q, http.StatusUnprocessableEntity, sentence(err.Error()))
	}
	stoves, err := q.house.Stoves(q.ctx())
	if err != nil {
		return err
	}
	var stoveID int64
	for _, st := range stoves {
		if strings.EqualFold(st.Name, file.Burn.Stove.Name) {
			stoveID = st.ID
		}
	}
	if stoveID == 0 {
		return s.showBurns(q, http.StatusUnprocessableEntity, fmt.Sprintf("This burn was in a stove called %q, and there is none of that name here. Add it under Stove and flue first.", file.Burn.Stove.Name))
	}
	if file.Burn.Started.After(s.Now()) {
		return s.showBurns(q, http.StatusUnprocessableEntity, "This burn starts in the future; its times are off.")
	}
	id, err := q.house.StartBurn(q.ctx(), stoveID, file.Title, s.foreign(file.Burn), file.Plan)
	if errors.Is(err, store.ErrBurning) {
		return s.showBurns(q, http.StatusConflict, "This burn is not ended, and its stove has one already. End that one first.")
	}
	if err != nil {
		return err
	}
	q.say("Read in: %d entries.", len(file.Burn.Entries))
	return q.seeOther(fmt.Sprintf("/burns/%d", id))
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

func readUpload(upload *multipart.FileHeader) (exchange.File, error) {
	r, err := upload.Open()
	if err != nil {
		return exchange.File{}, err
	}
	defer r.Close()
	if strings.EqualFold(path.Ext(upload.Filename), ".csv") {
		return exchange.ReadCSV(r)
	}
	return exchange.ReadJSON(r)
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
