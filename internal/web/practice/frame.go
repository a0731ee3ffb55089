package practice

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/practice"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/say"
	"smolder/internal/web/kit"
)

// A frame is what is drawn of a moment; between two the page goes evenly.
type frame struct {
	T      float64   `json:"t"` // s since the lesson began
	Lying  []lying   `json:"lying"`
	Bed    float64   `json:"bed"`
	Glow   float64   `json:"glow"`  // °C of the coals
	Reach  float64   `json:"reach"` // of the way to the baffle
	Burns  float64   `json:"burns"` // of what fills the box
	Jets   float64   `json:"jets"`
	Comb   float64   `json:"comb"` // °C
	Glass  float64   `json:"glass"`
	Dense  float64   `json:"dense"`
	Vapour float64   `json:"vapour"`
	Spills bool      `json:"spills,omitempty"`
	Gauges []float64 `json:"gauges"` // in the reader's degrees, in the stove's order
	Room   float64   `json:"room"`
	Door   int       `json:"door"`
}

// lying is a load in it.
type lying struct {
	Pieces   int     `json:"n"`
	Kindling bool    `json:"k,omitempty"`
	Left     float64 `json:"l"`
	Black    float64 `json:"b"`
	Flames   float64 `json:"f"`
	Match    bool    `json:"m,omitempty"`
}

// burnsFull is the gas in flame, kg/s a litre, of a fire that fills its box.
const burnsFull = 1.6e-5

// frameOf is a practice as it stands.
func frameOf(p *practice.Practice, sys units.System) frame {
	f := frameOfScene(p.Scene(), p.Shown(), p.Room(), p.Spec.Stove, sys)
	f.T, f.Door = p.Now().Seconds(), int(p.Door())
	return f
}

// frameOfScene is what is seen at a moment, with what the dials and the room show.
func frameOfScene(s fire.Scene, dials []units.Celsius, room units.Celsius, st stove.Stove, sys units.System) frame {
	f := frame{Bed: round(s.Bed), Glow: round(float64(s.Glow)), Reach: round(s.Reach), Burns: round(s.Burns / (burnsFull * float64(st.Volume))),
		Jets: round(s.Jets), Comb: round(float64(s.Comb)), Glass: round(s.Glass), Dense: round(s.Dense), Vapour: round(s.Vapour), Spills: s.Spilling,
		Lying: []lying{}, Gauges: []float64{}, Room: round(shown(room, sys))}
	for _, l := range s.Lying {
		f.Lying = append(f.Lying, lying{l.Pieces, l.Kindling, round(l.Left), round(l.Black), round(l.Flames), l.Match})
	}
	for _, t := range dials {
		f.Gauges = append(f.Gauges, round(shown(t, sys)))
	}
	return f
}

// shown is a temperature in the reader's degrees.
func shown(t units.Celsius, sys units.System) float64 {
	if sys == units.Imperial {
		return t.Fahrenheit()
	}
	return float64(t)
}

// round keeps three places: no drawing shows more.
func round(v float64) float64 { return float64(int(v*1000+0.5)) / 1000 }

// An answer is what the page hears after it has let time pass, or done something.
type answer struct {
	Frames   []frame            `json:"frames"`
	Over     bool               `json:"over,omitempty"`
	Clock    string             `json:"clock"`
	Left     string             `json:"left"`
	Says     string             `json:"says"` // the fire in words
	Hint     *hinted            `json:"hint,omitempty"`
	Happened []string           `json:"happened,omitempty"`
	Refused  string             `json:"refused,omitempty"`
	Door     int                `json:"door"`
	Window   bool               `json:"window,omitempty"`
	Fan      bool               `json:"fan,omitempty"`
	Controls map[string]float64 `json:"controls"`
	Marks    map[string]string  `json:"marks"`
	Laid     string             `json:"laid,omitempty"`
	Burns    bool               `json:"burns,omitempty"` // it is lit, or there are coals
}

// hinted is what is said over the shoulder.
type hinted struct {
	Do   string `json:"do"`
	Why  string `json:"why,omitempty"`
	Now  bool   `json:"now,omitempty"`
	Does bool   `json:"does,omitempty"` // it can be done by one tap
}

// began is the clock of a practice: lessons begin in the evening, the morning's in the morning.
var began = map[practice.Key]time.Duration{practice.FewCoals: 6*time.Hour + 30*time.Minute, practice.Night: 21 * time.Hour}

// usualBegin is when the others begin.
const usualBegin = 17 * time.Hour

// clockOf is what the clock shows at a practice.
func clockOf(p *practice.Practice) string {
	return time.Time{}.Add(beginOf(p.Lesson.Key) + p.Now()).Format("15:04")
}

func beginOf(k practice.Key) time.Duration {
	if at, own := began[k]; own {
		return at
	}
	return usualBegin
}

// answerOf is a practice as it stands, with the frames that led there.
func answerOf(q *kit.Request, p *practice.Practice, frames []frame) answer {
	loc := q.Locale()
	a := answer{Frames: append(frames, frameOf(p, loc.System)), Over: p.Left() == 0, Clock: clockOf(p), Left: loc.Duration(p.Left().Round(time.Minute)),
		Says: say.Scene(p.Scene(), loc), Door: int(p.Door()), Window: p.Window(), Fan: p.Fan(), Controls: map[string]float64{}, Marks: map[string]string{}, Burns: p.Burns()}
	for _, c := range p.Spec.Stove.Controls {
		o := p.Opening(c.Key)
		a.Controls[c.Key], a.Marks[c.Key] = o, say.Mark(c.Scale, o, loc)
	}
	if n, kindled := p.Laid(); n > 0 || kindled {
		a.Laid = loc.N(n, "One piece is laid", "%d pieces are laid")
		if kindled {
			a.Laid += loc.T(", and the kindling")
		}
		a.Laid += "."
	}
	if h := p.Hint(); h.Says() {
		do, why := say.Hint(p, h, loc)
		now := h.Act != nil || h.Ready
		a.Hint = &hinted{do, why, now, now && len(p.Does(h)) > 0}
	}
	return a
}

// through lets time pass, and keeps frames on the way: so many that between two of them nothing is
// missed.
func through(p *practice.Practice, by time.Duration, sys units.System) []frame {
	const most, least = 8, 4 * time.Second
	every := max(by/most, least)
	end := p.Now() + by
	var out []frame
	for at := p.Now() + every; at < end && p.Left() > 0; at += every {
		p.GoTo(at)
		out = append(out, frameOf(p, sys))
	}
	p.GoTo(end)
	return out
}
