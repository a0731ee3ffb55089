package burns

import (
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"time"

	"smolder/internal/app/reviewing"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

type burnsPage struct {
	kit.Page
	Form     *kit.Form
	Lines    []line
	More     string // the address of older burns
	Error    string
	Stoves   []kit.Option
	Woods    []kit.Option
	Lays     []kit.Option
	Wets     []kit.Option
	Ways     []kit.Option
	Starts   []kit.Option
	Outdoors []kit.Option
	Results  []kit.Option
	Text     string
	Sought   bool
	ByMore   bool // by what is folded away
	Doing    string
	Name     string // what the page calls a file that it sends
	Year     int
}

// line is a burn of the list in words.
type line struct {
	kit.BurnLine
	Thumb                    template.HTML
	Smoke, Heat, Way, Result string
}

const burnsAPage = 40

func (s Room) burns(q *kit.Request) error { return s.showBurns(q, http.StatusOK, "") }

// The moistures and outdoor temperatures that are looked for: dry basis, °C.
var (
	wets = []struct {
		key       string
		low, high float64
	}{{"dry", 0, 0.15}, {"usual", 0.15, 0.20}, {"wet", 0.20, 2}}
	outdoors = []struct {
		key       string
		low, high float64
	}{{"frost", -80, 0}, {"cold", 0, 5}, {"cool", 5, 10}, {"mild", 10, 60}}
	results = []kit.Choice{{Value: "clean", Label: "clean"}, {Value: "smoky", Label: "smoky"}, {Value: "hot", Label: "too hot"},
		{Value: "find", Label: "could have gone better"}, {Value: "planned", Label: "planned first"}}
)

// sought reads what is looked for; what makes no sense is not looked for.
func sought(q *kit.Request) store.BurnFilter {
	s := store.BurnFilter{Species: q.Query("wood"), Lay: q.Query("lay"), Direction: q.Query("direction"), Start: q.Query("start"), Text: q.Query("text")}
	s.Stove, _ = strconv.ParseInt(q.Query("stove"), 10, 64)
	for _, w := range wets {
		if q.Query("wet") == w.key {
			s.HasWet, s.Moisture = true, [2]float64{w.low, w.high}
		}
	}
	for _, o := range outdoors {
		if q.Query("outdoor") == o.key {
			s.HasOut, s.Outdoor = true, [2]float64{o.low, o.high}
		}
	}
	if slices.ContainsFunc(results, func(o kit.Choice) bool { return o.Value == q.Query("result") }) {
		s.Result = q.Query("result")
	}
	if len(s.Text) > 200 || !units.Printable(s.Text, false) {
		s.Text = ""
	}
	if s.Start != "cold" && s.Start != "coals" {
		s.Start = ""
	}
	return s
}

func (s Room) showBurns(q *kit.Request, status int, wrong string) error {
	before := s.Now().Add(24 * time.Hour)
	if t, err := time.Parse(time.RFC3339Nano, q.Query("before")); err == nil {
		before = t
	}
	asked := sought(q)
	rows, err := q.Home.FindBurns(q.Ctx(), asked, before, burnsAPage+1)
	if err != nil {
		return err
	}
	p := &burnsPage{Page: kit.Page{Title: q.T("Burns"), Nav: "burns", Wide: true}, Form: kit.Filled(), Name: kit.NewEntryID(), Year: q.Now().Year(),
		Error: wrong, Sought: asked.Any(), Text: asked.Text}
	p.ByMore = asked.Species+asked.Lay+asked.Direction+asked.Start != "" || asked.HasWet || asked.HasOut
	if len(rows) > burnsAPage {
		rows = rows[:burnsAPage]
		more := url.Values{}
		for name, values := range q.Request.URL.Query() {
			if name != "part" {
				more[name] = values
			}
		}
		more.Set("before", rows[len(rows)-1].Started.UTC().Format(time.RFC3339Nano))
		p.More = "/burns?" + more.Encode()
	}
	for _, r := range rows {
		p.Lines = append(p.Lines, s.lineOf(q, r))
	}
	if d := reviewing.ProgressOf(q.Ctx(), q.Home); d.Left > 1 {
		p.Doing = q.F("Burns are being looked at: %d of %d are still to do.", d.Left, d.All)
	}
	if err := p.choices(q); err != nil {
		return err
	}
	q.Show(status, "burns", p)
	return nil
}

// lineOf is a burn of the list in words.
func (s Room) lineOf(q *kit.Request, r store.FoundBurn) line {
	zone, u := q.Profile.Location(), q.Locale()
	l := line{BurnLine: kit.BurnLine{BurnLine: r.BurnLine, Day: q.Locale().Date(r.Started.In(zone), "Mon 2 Jan 2006"), Clock: r.Started.In(zone).Format("15:04"),
		Mass: u.Mass(r.Mass), Outdoor: u.Temperature(r.Outdoor), Length: q.T("burning")}}
	if r.Ended.Valid {
		l.Length = kit.ClockLength(r.Ended.V.Sub(r.Started))
	}
	if r.Mineral > 0 {
		l.Mineral = u.Mass(r.Mineral) + q.T(" mineral fuel")
		if r.Mass == 0 {
			l.Mass = ""
		}
	}
	if r.Unknown {
		l.Outdoor = q.T("not known")
	}
	if !r.Reviewed {
		return l
	}
	l.Thumb = strip.Thumb(r.Thumb.V, r.GaugeBand())
	if r.Peak.Valid {
		l.Peak = u.Temperature(units.Celsius(r.Peak.V))
	}
	if r.Mineral == 0 && r.Mass > 0 {
		l.Smoke, l.Heat = say.Smoke(r.Smoke.V, q.Locale()), u.Energy(units.Joule(r.Heat.V))
	}
	if r.Lay.V != "" && r.Lay.V != string(fire.OnCoals) {
		l.Way = q.T(say.Lays.Name(fire.Lay(r.Lay.V)))
	} else if r.Mass > 0 {
		l.Way = q.T("on coals")
	}
	if r.Hot.V >= 120 {
		l.Result = q.T("too hot ") + q.Locale().Duration(time.Duration(r.Hot.V)*time.Second)
	}
	return l
}

// choices are what may be looked for.
func (p *burnsPage) choices(q *kit.Request) error {
	stoves, err := q.Stoves()
	if err != nil {
		return err
	}
	woods, err := q.Home.Woods(q.Ctx())
	if err != nil {
		return err
	}
	list := func(name, all string, options ...kit.Option) []kit.Option {
		out := []kit.Option{{Value: "", Label: all}}
		p.Form.Values.Set(name, q.Query(name))
		return append(out, options...)
	}
	var of []kit.Option
	for _, st := range stoves {
		of = append(of, kit.Option{Value: strconv.FormatInt(st.ID, 10), Label: st.Name})
	}
	p.Stoves = list("stove", q.T("every stove"), of...)
	of = nil
	for _, w := range woods {
		of = append(of, kit.Option{Value: w[0], Label: say.Species(wood.Species{Key: w[0], Name: w[1]}, q.Locale())})
	}
	p.Woods = list("wood", q.T("any wood"), of...)
	of = nil
	for _, l := range say.Lays {
		of = append(of, kit.Option{Value: string(l.Key), Label: q.T(l.Name)})
	}
	p.Lays = list("lay", q.T("any lay"), of...)
	p.Wets = list("wet", q.T("dry or wet"), kit.Option{Value: "dry", Label: q.T("under 15\u202f%")}, kit.Option{Value: "usual",
		Label: q.T("15 to 20\u202f%")}, kit.Option{Value: "wet", Label: q.T("over 20\u202f%")})
	p.Ways = list("direction", q.T("either way round"), kit.Option{Value: string(stove.EndOn), Label: q.T("end-on")},
		kit.Option{Value: string(stove.Sideways), Label: q.T("sideways")})
	p.Starts = list("start", q.T("any start"), kit.Option{Value: "cold", Label: q.T("from cold")}, kit.Option{Value: "coals", Label: q.T("on coals")})
	u := q.Locale()
	p.Outdoors = list("outdoor", q.T("any weather"), kit.Option{Value: "frost", Label: q.T("under ") + u.Temperature(0)}, kit.Option{Value: "cold",
		Label: u.Degrees(0) + q.T(" to ") + u.Temperature(5)},
		kit.Option{Value: "cool", Label: u.Degrees(5) + q.T(" to ") + u.Temperature(10)}, kit.Option{Value: "mild", Label: q.T("over ") + u.Temperature(10)})
	p.Results = list("result", q.T("any result"), kit.Said(results, q.Locale())...)
	return nil
}
