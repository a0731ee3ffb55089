package burns

import (
	"fmt"
	"net/http"
	"strconv"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/review"
	"smolder/internal/core/stove"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// overPage is up to five burns over each other.
type overPage struct {
	kit.Page
	Strip strip.Pair
	Rows  []overRow
	Zeros []kit.Zoom
	Left  []string // that could not be laid over the others
}

// overRow is one of them in figures.
type overRow struct {
	Number, Name, Link string
	Way                string
	Outdoor, Wood      string
	Working, Smoke     string
	Heat, Hot, Lasted  string
}

// zeros are the moments that burns are laid over each other at.
var zeros = []struct {
	key        string
	word, line lang.Message
}{
	{"match", "the match", "lit"}, {"reload", "the first load on coals", "loaded"}, {"down", "the last turn-down", "air taken back"},
}

func (s Room) over(q *kit.Request) error {
	ids := q.QueryArray("b")
	if len(ids) < 2 || len(ids) > strip.MostOver {
		return kit.BadInput(q.F("Choose two to %d burns of the list; fewer, or more, cannot be told apart on one strip.", strip.MostOver))
	}
	zero := 0
	for i, z := range zeros {
		if q.Query("zero") == z.key {
			zero = i
		}
	}
	p := &overPage{Page: kit.Page{Title: q.T("Burns over each other"), Nav: "burns", Wide: true}}
	var overs []strip.Over
	var band stove.Gauge
	address := ""
	for _, text := range ids {
		id, err := strconv.ParseInt(text, 10, 64)
		if err != nil {
			return kit.BadInput(q.T("That is no burn of this household."))
		}
		address += "&b=" + strconv.FormatInt(id, 10)
		b, err := q.Home.DrawnBurn(q.Ctx(), id)
		if err != nil {
			return err
		}
		until := b.Ended
		if until.IsZero() {
			until = s.Now().UTC()
		}
		m := s.Replays.Measure(b.Burn.In(b.Known.Belief().Tuning()), until)
		number := strconv.Itoa(len(overs) + 1)
		name := b.Stove.Name + ", " + q.Locale().Date(b.Started.In(q.Profile.Location()), "2 Jan 2006, 15:04")
		at, ok := zeroOf(b.Burn, zeros[zero].key)
		if !ok {
			p.Left = append(p.Left, name+q.T(" has no ")+q.T(map[string]lang.Message{"match": "match", "reload": "load on coals", "down": "turn-down"}[zeros[zero].key])+q.T(" to be laid over the others at."))
			continue
		}
		if len(overs) == 0 {
			band = m.Gauge
		}
		o := strip.Over{Number: number, Name: name}
		curve := m.Curve(b.Burn)
		for t := time.Duration(0); t <= m.Length; t += max(time.Minute, m.Length/400) {
			if v, known := curve(t); known {
				o.Points = append(o.Points, strip.Point{At: t - at, V: float64(v)})
			}
		}
		for _, d := range downsOf(b.Burn) {
			o.Downs = append(o.Downs, d-at)
		}
		overs = append(overs, o)
		r := review.Upto(b.Burn, m)
		if kept, err := q.Home.ReviewOf(q.Ctx(), id); err == nil && kept.Revision == b.Revision && kept.MadeBy == review.Version {
			r = kept.Review()
		}
		p.Rows = append(p.Rows, overRowOf(q, number, name, id, r))
	}
	for i, z := range zeros {
		p.Zeros = append(p.Zeros, kit.Zoom{Label: q.Locale().T(z.word), Link: "/burns/over?zero=" + z.key + address, Chosen: i == zero})
	}
	if len(overs) > 0 {
		draw := func(width float64) strip.Pair {
			return strip.Pair{Wide: strip.Overlay(overs, band, q.Locale().T(zeros[zero].line), q.Locale(), width), Narrow: strip.Overlay(overs, band,
				q.Locale().T(zeros[zero].line), q.Locale(), strip.Phone)}
		}
		p.Strip = draw(strip.Page)
	}
	q.Show(http.StatusOK, "over", p)
	return nil
}

func overRowOf(q *kit.Request, number, name string, id int64, r review.Review) overRow {
	u := q.Locale()
	row := overRow{Number: number, Name: name, Link: fmt.Sprintf("/burns/%d", id), Outdoor: u.Temperature(r.Outdoor), Wood: u.Mass(r.Used),
		Working: q.T("not reached"), Smoke: q.T("not known"), Heat: q.T("not known"), Hot: q.Locale().Duration(r.TooHot), Lasted: q.Locale().Duration(r.Length)}
	if r.ToWorking >= 0 {
		row.Working = q.Locale().Duration(r.ToWorking)
	}
	if r.Simulated {
		row.Smoke, row.Heat = say.Smoke(r.SmokePerKg, q.Locale()), u.Energy(r.HeatMiddle)
	}
	if row.Way = q.T("on coals"); r.Way.Cold {
		row.Way = q.T(say.Lays.Name(r.Way.Lay))
	}
	if r.Way.Wood != "" {
		row.Way += ", " + q.Locale().Mid(r.Way.Wood) + q.T(" at ") + q.Locale().Percent(r.Way.Moisture, 0)
	}
	return row
}

// zeroOf is the moment at which a burn is laid over others, since its start.
func zeroOf(b burn.Burn, key string) (time.Duration, bool) {
	switch key {
	case "reload":
		for e := range b.NotReadings() {
			if e.Kind == burn.Load && e.Load != nil && e.Load.Lay == fire.OnCoals && !e.Load.Kindling {
				return e.At.Sub(b.Started), true
			}
		}
		return 0, false
	case "down":
		downs := downsOf(b)
		if len(downs) == 0 {
			return 0, false
		}
		return downs[len(downs)-1], true
	}
	for e := range b.NotReadings() {
		if e.Kind == burn.Light {
			return e.At.Sub(b.Started), true
		}
	}
	return 0, true // begun on coals: its start
}

// downsOf are the moments at which the main air was taken back.
func downsOf(b burn.Burn) []time.Duration {
	air, _ := b.Stove.MainAir()
	var out []time.Duration
	opening := 1.0
	for e := range b.NotReadings() {
		if e.Kind == burn.Control && e.Control == air.Key {
			if e.Opening < opening-0.02 {
				out = append(out, e.At.Sub(b.Started))
			}
			opening = e.Opening
		}
	}
	return out
}
