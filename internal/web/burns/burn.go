package burns

import (
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"smolder/internal/app/reviewing"
	"smolder/internal/core/burn"
	"smolder/internal/core/plan"
	"smolder/internal/core/review"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

type burnPage struct {
	kit.Page
	Burn     store.Burn
	Heading  string
	Sub      string
	Strip    strip.Pair
	Zooms    []kit.Zoom
	Answer   string   // what came of last time's one thing
	Dangers  []danger // before any finding
	Findings []finding
	Next     string // the one thing to change
	Fine     bool   // it was looked for, and nothing is worth changing
	Doing    string // what is being worked out meanwhile
	Figures  []kit.Figure
	Log      []kit.LogLine
	Hands    string // who lit and who ended it
	Older    int    // entries older than those shown
	Skip     int    // entries newer than those shown
	NextPage int
	Gauges   []kit.Option
	Mineral  string
	Closed   bool
	Planned  string
	Fact     string
	Eye      *eyePart
	Fresh    bool // ended a while ago, and nobody has marked what was seen
}

// finding is one of a review in words, with where it is seen on the strip.
type finding struct {
	say.Found
	Number string
	Clock  string
	Link   string // to the strip as it would have been
}

// looked is a burn with what it came to, as far as that is worked out.
type looked struct {
	store.Burn
	review review.Review
	m      burn.Measures
	until  time.Time
	whole  bool // the review has its findings
}

// look fetches a burn and what it came to. One that burns still, or was changed since it
// was reviewed, is measured now.
func (s Room) look(q *kit.Request) (looked, error) {
	id, err := q.ID("id")
	if err != nil {
		return looked{}, err
	}
	kept, err := q.Home.ReviewOf(q.Ctx(), id)
	if err != nil && !errors.Is(err, store.ErrMissing) {
		return looked{}, err
	}
	there := err == nil && kept.MadeBy == review.Version
	l := looked{}
	if there {
		l.Burn, err = q.Home.DrawnBurn(q.Ctx(), id)
	} else {
		l.Burn, err = q.Burn(id)
	}
	if err != nil {
		return l, err
	}
	if l.until = l.Ended; l.until.IsZero() {
		l.until = s.Now().UTC()
	}
	l.m = s.Replays.Measure(l.Burn.In(l.Known.Belief().Tuning()), l.until)
	if there && !l.Ended.IsZero() && kept.Revision == l.Revision {
		l.review, l.whole = kept.Review(), kept.Whole
		return l, nil
	}
	l.review = review.Upto(l.Burn.Burn, l.m)
	return l, nil
}

// burn is a burn reviewing.
func (s Room) burn(q *kit.Request) error {
	l, err := s.look(q)
	if err != nil {
		return err
	}
	b, zone := l.Burn, q.Profile.Location()
	p := &burnPage{Page: kit.Page{Nav: "burns", Wide: true}, Burn: b, Closed: !b.Ended.IsZero(), Figures: burnFigures(q, l)}
	p.findings(q, l)
	drawn, err := s.closer(q, l)
	if err != nil {
		return err
	}
	chart := strip.OfBurn(drawn, b.Plan, l.m, l.until, kit.HandGauge(q), q.View(b.Started))
	if len(l.review.Phases) > 0 && p.Closed {
		chart.States = nil
		for _, ph := range l.review.Phases {
			chart.States = append(chart.States, strip.State{At: ph.At, Name: string(ph.Name)})
		}
	}
	for _, f := range p.Findings {
		n, _ := strconv.Atoi(f.Number)
		chart.Notes = append(chart.Notes, strip.Note{At: l.review.Findings[n-1].At, Number: f.Number, Word: f.What})
	}
	p.zoom(q, l, &chart)
	p.Strip = strip.Draw(chart, strip.Page)
	skip, _ := strconv.Atoi(q.Query("older"))
	p.Skip = min(max(0, skip), len(b.Logged()))
	p.Log, p.Older = kit.LogOf(q, b, p.Skip)
	p.Hands = kit.LitAndEnded(q, b)
	p.NextPage = p.Skip + len(p.Log)
	if !l.m.Simulated {
		p.Mineral = q.T("Mineral fuel was burnt: it is recorded and not simulated. The gauges are shown as they were read; heat, efficiency, smoke and deposits are not known. It makes carbon monoxide for hours after the flames are gone: the alarm must work, and its air is never shut while it glows.")
	}
	p.Heading = b.Stove.Name + ", " + q.Locale().Date(b.Started.In(zone), "2 January 2006, 15:04")
	if b.Title != "" {
		p.Heading += ", " + b.Title
	}
	p.Title = p.Heading
	p.Sub = burnSub(q, b, l.m)
	if b.Plan != nil {
		p.Planned = say.Plan(*b.Plan, q.Locale())
		p.Fact = planAgainstFact(q, b, l.m)
	}
	for _, g := range b.Stove.Gauges {
		if g.Place.OfFire() {
			p.Gauges = append(p.Gauges, kit.Option{Value: string(g.Place), Label: q.T(say.Places.Short(g.Place)),
				Chosen: g.Place == l.m.Gauge.Place && kit.HandGauge(q) == "" || g.Place == kit.HandGauge(q)})
		}
	}
	if p.Eye, err = eyeOf(q, b); err != nil {
		return err
	}
	p.Fresh = p.Closed && p.Eye.None && s.Now().Sub(b.Ended) < fresh
	q.Show(http.StatusOK, "burn", p)
	return nil
}

// A danger is something of the burn that could have hurt somebody, in words.
type danger struct {
	say.Hurting
	Clock string
}

// findings puts what was found into words: what could have hurt somebody first.
func (p *burnPage) findings(q *kit.Request, l looked) {
	for _, d := range l.review.Dangers {
		p.Dangers = append(p.Dangers, danger{say.Hurt(d, q.Locale()), l.Started.Add(d.At).In(q.Profile.Location()).Format("15:04")})
	}
	if !p.Closed || !l.review.Simulated {
		return
	}
	if a := l.review.Answer; a != nil {
		p.Answer = say.Answer(*a, q.Locale())
	}
	if !l.whole {
		p.Doing = q.T("What would have gone better is being worked out.")
		if left := reviewing.ProgressOf(q.Ctx(), q.Home).Left; left > 1 {
			p.Doing += q.F(" %d burns are still to do.", left)
		}
		return
	}
	p.Fine = len(l.review.Findings) == 0
	for i, f := range l.review.Findings {
		said := say.Finding(f, q.Locale())
		p.Findings = append(p.Findings, finding{Found: said, Number: strconv.Itoa(i + 1),
			Clock: l.Started.Add(f.At).In(q.Profile.Location()).Format("15:04"), Link: fmt.Sprintf("/burns/%d/otherwise?%s", l.ID, editsQuery(f.Edits))})
		if i == 0 {
			p.Next = said.Next
		}
	}
	if len(p.Dangers) > 0 { // before any gram
		p.Next, p.Fine = p.Dangers[0].Next, false
	}
}

// fresh is how long after its end a burn is still before one's eyes.
const fresh = 18 * time.Hour

const (
	// aroundLoad is what is shown before and after a load.
	beforeLoad, afterLoad = 10 * time.Minute, 80 * time.Minute
)

// closer is a burn with what thermometers reported in the stretch that is looked at, as
// closely as a strip shows it: of the whole burn they are kept further apart.
func (s Room) closer(q *kit.Request, l looked) (burn.Burn, error) {
	from, to, ok := q.Zoomed()
	if !ok || !slices.ContainsFunc(l.Entries, func(e burn.Entry) bool { return e.Reported }) {
		return l.Burn.Burn, nil
	}
	fine, err := q.Home.ReportedIn(q.Ctx(), l.StoveID, l.Started.Add(from-time.Minute), l.Started.Add(to+time.Minute))
	b := l.Burn.Burn
	b.Entries = append(b.Logged(), fine...)
	slices.SortStableFunc(b.Entries, func(x, y burn.Entry) int { return x.At.Compare(y.At) })
	return b, err
}

// zoom cuts the strip to what is asked for, and offers the stretches worth a look.
func (p *burnPage) zoom(q *kit.Request, l looked, c *strip.Chart) {
	z := kit.ZoomsOf(q, c, "strip")
	n := 0
	for e := range l.NotReadings() {
		if at := e.At.Sub(l.Started); e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling && at > 20*time.Minute {
			n++
			z.Add(q.T("load of ")+e.At.In(q.Profile.Location()).Format("15:04"), at-beforeLoad, at+afterLoad)
		}
	}
	z.AddNear(q)
	p.Zooms = z.List
}

func burnSub(q *kit.Request, b store.Burn, m burn.Measures) string {
	outside, room := q.Locale().Temperature(b.Outdoor)+q.T(" outside"), q.Locale().RoomTemperature(b.Room)+q.T(" in the room before")
	if b.OutdoorUnknown {
		outside = q.T("outside not known")
	}
	if b.RoomUnknown {
		room = q.T("room before not known")
	}
	parts := []string{b.Stove.Room, outside, room}
	if b.Coals > 0 {
		parts = append(parts, q.T("on coals"))
	} else {
		parts = append(parts, q.T("from cold"))
	}
	parts = append(parts, kit.ClockLength(m.Length)+q.T(" long"))
	return strings.Join(parts, " · ")
}

// planAgainstFact says how the burn went against what was planned.
func planAgainstFact(q *kit.Request, b store.Burn, m burn.Measures) string {
	u := q.Locale()
	text := q.F("Planned: %s of wood. Burnt: %s.", u.Mass(b.Plan.Mass()), u.Mass(m.Used))
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
		text += q.F(" Last turn-down planned %s in, made %s in.", kit.ClockLength(planned), kit.ClockLength(fact))
	case planned >= 0:
		text += q.F(" Last turn-down planned %s in, never made.", kit.ClockLength(planned))
	}
	return text
}
