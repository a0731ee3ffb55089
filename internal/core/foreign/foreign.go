// Package foreign has evenings of stoves that this program did not simulate: made by a model
// of another make, with people who have habits and hands that are late. They are no
// measurements; they are what a belief, a forecast, a coach and a room meet when their own
// model is wrong in its own way, as every real stove will be. Nothing is fitted to them but
// what says so; they are for tests.
package foreign

import (
	"bytes"
	"compress/gzip"
	_ "embed" // the evenings
	"encoding/json"
	"fmt"
	"math"
	"sort"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

//go:embed evenings/evenings.json.gz
var packed []byte

// An Evening is one of them, from four in the afternoon to eight in the morning.
type Evening struct {
	Name  string // STOVE-HOUSE-DAY-HABIT
	Stove string // key of its stove
	House string // and of its house
	Every time.Duration

	// By Every: what gauges read, °C; what an eye sees; and what nobody can see.
	Gauges map[stove.Place][]float64
	Flames []float64 // 0 none, 1 lazy, 2 lively
	Black  []float64 // share of the wood's surface
	Wood   []float64 // kg, dry
	Coals  []float64 // kg
	Heat   []float64 // to the room so far, J
	Smoke  []float64 // so far, g

	burn     burn.Burn
	moisture float64 // of the wood as it is, and not as it was read, dry basis
	acts     []burn.Entry
}

type doc struct {
	Every int `json:"every_min"`
	Stove struct {
		Key     string       `json:"key"`
		Family  stove.Family `json:"family"`
		Litres  float64      `json:"firebox_l"`
		Largest float64      `json:"largest_load_kg"`
		Moves   string       `json:"moves"`
		Output  float64      `json:"output_kw"`
		Bypass  bool         `json:"bypass"`
	} `json:"stove"`
	Flue struct {
		Bends    int         `json:"bends"`
		Diameter float64     `json:"diameter_m"`
		Height   float64     `json:"height_m"`
		Lining   flue.Lining `json:"lining"`
	} `json:"flue"`
	House struct {
		Build house.Build `json:"build"`
		Floor float64     `json:"heated_m2"`
		Loss  float64     `json:"loss_w_per_k"`
		N50   float64     `json:"n50"`
	} `json:"house"`
	Wood struct {
		Length  float64 `json:"length_m"`
		Piece   float64 `json:"piece_kg"`
		Read    float64 `json:"read_pct"`
		True    float64 `json:"true_pct"`
		Species string  `json:"species"`
	} `json:"wood"`
	Day struct {
		Outdoor []float64  `json:"outdoor_c_by_hour"`
		Wanted  [2]float64 `json:"wanted_c"`
		Wind    float64    `json:"wind_m_s"`
	} `json:"day"`
	Done []struct {
		Minute   float64 `json:"minute"`
		Do       string  `json:"do"`
		To       float64 `json:"to"`
		Pieces   int     `json:"pieces"`
		Piece    float64 `json:"piece_kg"`
		Kindling float64 `json:"kindling_kg"`
		Sticks   float64 `json:"sticks_kg"`
		Below    bool    `json:"kindling_below"`
		Sideways bool    `json:"sideways"`
	} `json:"done"`
	By map[string][]float64 `json:"by_minute"`
}

// Began is when every evening begins.
var Began = time.Date(2026, time.January, 14, 16, 0, 0, 0, time.UTC)

// Evenings are all of them, by name.
func Evenings() ([]Evening, error) {
	r, err := gzip.NewReader(bytes.NewReader(packed))
	if err != nil {
		return nil, err
	}
	var docs map[string]doc
	if err := json.NewDecoder(r).Decode(&docs); err != nil {
		return nil, err
	}
	names := make([]string, 0, len(docs))
	for name := range docs {
		names = append(names, name)
	}
	sort.Strings(names)
	out := make([]Evening, 0, len(names))
	for _, name := range names {
		e, err := docs[name].evening(name)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", name, err)
		}
		out = append(out, e)
	}
	return out, nil
}

func (d doc) evening(name string) (Evening, error) {
	species, err := wood.SpeciesByKey(d.Wood.Species)
	if err != nil {
		return Evening{}, err
	}
	kindling, err := wood.SpeciesByKey("softwood-offcuts")
	if err != nil {
		return Evening{}, err
	}
	parts := strings.Split(name, "-")
	e := Evening{Name: name, Stove: parts[0], House: parts[1], Every: time.Duration(d.Every) * time.Minute, Flames: d.By["flames"], Black: d.By["black"],
		Wood: d.By["hidden_wood_kg"], Coals: d.By["hidden_coals_kg"], Smoke: d.By["hidden_smoke_g"], moisture: d.Wood.True / 100, Gauges: map[stove.Place][]float64{}}
	for _, kwh := range d.By["hidden_to_room_kwh"] {
		e.Heat = append(e.Heat, kwh*3.6e6)
	}
	st := stove.Stove{Name: d.Stove.Key, Family: d.Stove.Family, Volume: units.Litre(d.Stove.Litres), MaxLoad: units.Kilogram(d.Stove.Largest),
		Output:  units.Watt(1000 * d.Stove.Output),
		Chimney: flue.Chimney{Height: units.Metre(d.Flue.Height), Diameter: units.Metre(d.Flue.Diameter), Lining: d.Flue.Lining, Bends: d.Flue.Bends}}
	side := units.Metre(math.Cbrt(d.Stove.Litres / 1000))
	st.Width, st.Depth, st.Height = 1.15*side, side, side/1.15
	role := stove.Combined
	if d.Stove.Moves == "primary" {
		role = stove.PrimaryAir
	}
	st.Controls = []stove.Control{{Key: "air", Name: "Air", Role: role, Scale: stove.Scale{Kind: stove.PercentOpen}}}
	if d.Stove.Bypass {
		st.Controls = append(st.Controls, stove.Control{Key: "bypass", Name: "Bypass", Role: stove.BypassRole,
			Scale: stove.Scale{Kind: stove.Notches, Notches: []string{"shut", "open"}}})
	}
	for key, place := range map[string]stove.Place{"flue_c": stove.ConnectorProbe, "top_c": stove.Top, "catalyst_c": stove.CatalystProbe, "room_c": stove.RoomAir} {
		if values, ok := d.By[key]; ok {
			e.Gauges[place] = values
		}
	}
	for _, p := range []stove.Place{stove.ConnectorProbe, stove.Top, stove.CatalystProbe, stove.RoomAir} {
		if _, ok := e.Gauges[p]; ok {
			st.Gauges = append(st.Gauges, stove.NewGauge(p))
		}
	}
	h := house.Default()
	h.Build, h.Floor, h.N50, h.Given = d.House.Build, d.House.Floor, d.House.N50, d.House.Loss
	room := units.Celsius(e.Gauges[stove.RoomAir][0])
	e.burn = burn.Burn{Stove: st, House: h, Room: room, Warmth: room, Outdoor: units.Celsius(d.Day.Outdoor[0]), Wind: d.Day.Wind, Wanted: d.Day.Wanted, Started: Began}
	for i, t := range d.Day.Outdoor {
		e.burn.Weather = append(e.burn.Weather, fire.Weather{At: time.Duration(i) * time.Hour, Outdoor: units.Celsius(t), Wind: d.Day.Wind})
	}
	for _, a := range d.Done {
		e.do(a.Minute, a.Do, a.To, species, kindling, d, a.Pieces, a.Piece, a.Kindling+a.Sticks, a.Below, a.Sideways)
	}
	return e, nil
}

// do notes what somebody did.
func (e *Evening) do(minute float64, what string, to float64, species, kindling wood.Species, d doc, pieces int, piece, sticks float64, below, sideways bool) {
	at := Began.Add(time.Duration(minute * float64(time.Minute)))
	add := func(x burn.Entry) {
		x.At, x.Seq = at, int64(len(e.acts)+1)
		x.ID = fmt.Sprint("a", len(e.acts))
		e.acts = append(e.acts, x)
	}
	switch what {
	case "air", "bypass":
		add(burn.Entry{Kind: burn.Control, Control: what, Opening: to})
	case "door":
		add(burn.Entry{Kind: burn.Door, Door: fire.Door(int(to + 0.5))})
	case "light":
		add(burn.Entry{Kind: burn.Light})
	case "rake":
		add(burn.Entry{Kind: burn.Rake})
	case "prime":
		add(burn.Entry{Kind: burn.Prime})
	case "load":
		lay := fire.OnCoals
		if sticks > 0 && minute < 30 {
			if lay = fire.TopDown; below {
				lay = fire.BottomUp
			}
		}
		l := fire.Load{Species: species, Moisture: units.Fraction(d.Wood.Read / 100), Spread: 0.02, Pieces: pieces, PieceMass: units.Kilogram(piece),
			PieceLength: units.Metre(d.Wood.Length), Direction: stove.EndOn, Lay: lay}
		if sideways || lay != fire.OnCoals {
			l.Direction = stove.Sideways
		}
		if pieces > 0 {
			add(burn.Entry{Kind: burn.Load, Load: &l})
		}
		if sticks > 0 {
			k := fire.Load{Species: kindling, Moisture: 0.13, Pieces: int(sticks/0.09 + 0.5), PieceMass: 0.09, PieceLength: 0.25, Direction: stove.Sideways,
				Lay: lay, Kindling: true, StarterKind: fire.WaxBlock}
			add(burn.Entry{Kind: burn.Load, Load: &k})
		}
	}
}

// Burn is the evening as somebody would have logged it who reads every gauge so often, from
// its beginning to its end.
func (e Evening) Burn(every time.Duration) burn.Burn {
	b := e.burn
	b.Entries = append([]burn.Entry(nil), e.acts...)
	for place, values := range e.Gauges {
		for i := range values {
			at := time.Duration(i) * e.Every
			if at == 0 || at%every != 0 {
				continue
			}
			b.Entries = append(b.Entries, burn.Entry{ID: fmt.Sprint(place, i), Kind: burn.Temperature, Place: place, Reading: units.Celsius(values[i]), At: Began.Add(at)})
		}
	}
	sort.SliceStable(b.Entries, func(i, j int) bool { return b.Entries[i].At.Before(b.Entries[j].At) })
	for i := range b.Entries {
		b.Entries[i].Seq = int64(i + 1)
	}
	b.Ended = Began.Add(time.Duration(len(e.Wood)-1) * e.Every)
	return b
}

// Acts are what was done, in its order, each with its time since the beginning.
func (e Evening) Acts() []fire.Move {
	var out []fire.Move
	for i := range e.acts {
		x := &e.acts[i]
		a, ok := fire.Act{}, true
		switch x.Kind {
		case burn.Control:
			c, _ := e.burn.Stove.Control(x.Control)
			a = fire.Act{Kind: fire.ActControl, Control: c.Key, Role: c.Role, Opening: x.Opening}
		case burn.Door:
			a = fire.Act{Kind: fire.ActDoor, Door: x.Door}
		case burn.Light:
			a = fire.Act{Kind: fire.ActLight}
		case burn.Load:
			a = fire.Act{Kind: fire.ActLoad, Load: x.Load}
		default:
			ok = false
		}
		if ok {
			out = append(out, fire.Move{When: fire.Trigger{At: x.At.Sub(Began)}, Do: []fire.Act{a}})
		}
	}
	return out
}

// At is where a moment stands in the series.
func (e Evening) At(since time.Duration) int {
	return min(len(e.Wood)-1, int((since+e.Every/2)/e.Every))
}
