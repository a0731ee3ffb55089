package winter

import (
	"context"
	"math"
	"time"

	"smolder/internal/app/shed"
	"smolder/internal/core/drying"
	"smolder/internal/core/season"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/store"
)

// Inside is what of each stack lies by the stove.
type Inside map[int64][]store.Carried

// InsideOf gathers it.
func InsideOf(ctx context.Context, h store.Household, now time.Time) (Inside, error) {
	carried, err := h.Indoors(ctx, now)
	out := Inside{}
	for _, c := range carried {
		out[c.StackID] = append(out[c.StackID], c)
	}
	return out, err
}

// Pieces are how many of a stack lie by the stove.
func (in Inside) Pieces(stack int64) (n int) {
	for _, c := range in[stack] {
		n += c.Left
	}
	return n
}

// warms is how long pieces take to be as warm as the room, all but some kelvins: a split of
// 8 cm in still air.
const warms = 10 * time.Hour

// AtHand is a stack's wood as it would be put on: pieces by the stove are drier and warm;
// where a household carries wood in and has none of a stack inside, its pieces are as cold
// as it is outdoors. Who never says what is carried in has wood that is warm: nothing is
// known of it.
func (in Inside) AtHand(s shed.Stack, room, outdoor units.Celsius, now time.Time) wood.Stack {
	w := s.Wood()
	if len(in) == 0 || w.Species.Mineral || s.Cover == wood.Inside {
		return w
	}
	pieces, sum, colder := 0, 0.0, 0.0
	cold := math.Max(0, math.Min(50, float64(room-outdoor)))
	p := drying.Pieces{Species: s.Species, Thickness: s.PieceThickness(), Round: s.Round}
	for _, c := range in[s.ID] {
		since := now.Sub(c.At)
		pieces += c.Left
		sum += float64(c.Left) * float64(drying.Indoors(w.Reading, p, since.Hours()/24))
		colder += float64(c.Left) * cold * math.Exp(-3*since.Hours()/warms.Hours())
	}
	if pieces == 0 {
		w.Colder = units.Celsius(cold)
		return w
	}
	w.PieceMass *= units.Kilogram((1 + sum/float64(pieces)) / (1 + float64(w.Reading)))
	w.Reading, w.Colder = units.Fraction(sum/float64(pieces)), units.Celsius(colder/float64(pieces))
	return w
}

// UsualSticks is how many sticks of kindling one fire takes, where no fire was lit yet.
const UsualSticks = 12

// A Basket is what tonight and tomorrow want by the stove.
type Basket struct {
	Outdoor [2]units.Celsius // tonight, tomorrow
	Lines   []BasketLine
	Fires   float64 // that are lit from cold until tomorrow night
}

// A BasketLine is one stack's part of it.
type BasketLine struct {
	Stack    shed.Stack
	Tonight  int // pieces
	Tomorrow int
	Inside   int
}

// Carry is how many pieces are still to be carried in.
func (l BasketLine) Carry() int { return max(0, l.Tonight+l.Tomorrow-l.Inside) }

// Basket works out what tonight and tomorrow ask for, by the season's allocation and the
// temperature outdoors of both; sticks is how much kindling one fire takes.
func (w *Winter) Basket(in Inside, tonight, tomorrow units.Celsius, sticks float64) Basket {
	b := Basket{Outdoor: [2]units.Celsius{tonight, tomorrow}, Fires: 2 * w.BurnsAWeek() / 7}
	a := w.Allot()
	perDay := w.Use.Loss.Middle * w.Use.Share.Middle / math.Max(0.05, w.Efficiency.Middle) * 86400
	need := func(h season.Hours, out units.Celsius) float64 {
		return perDay * w.Shares[h] * math.Max(0, float64(season.Base-out))
	}
	energy := map[int]*[2]float64{}
	add := func(at time.Time, day int, h season.Hours, out units.Celsius) {
		order := a.For(at, h, out)
		if len(order) == 0 {
			for i, f := range w.Woods {
				if !f.Ready.After(w.Now) {
					order = append(order, i)
					break
				}
			}
		}
		if len(order) > 0 {
			if energy[order[0]] == nil {
				energy[order[0]] = &[2]float64{}
			}
			energy[order[0]][day] += need(h, out)
		}
	}
	for _, h := range []season.Hours{season.Evening, season.Night} {
		add(w.Now, 0, h, tonight)
	}
	for _, h := range []season.Hours{season.Morning, season.Day, season.Evening, season.Night} {
		add(w.Now.Add(24*time.Hour), 1, h, tomorrow)
	}
	w.insideFirst(in, energy)
	for i, s := range w.Stacks {
		l := BasketLine{Stack: s, Inside: in.Pieces(s.ID)}
		if e := energy[i]; e != nil {
			each := s.NetEnergy() * float64(s.PieceMass) * 1e6
			l.Tonight, l.Tomorrow = pieces(e[0], each), pieces(e[1], each)
		}
		if l.Tonight+l.Tomorrow+l.Inside > 0 || !w.Woods[i].Ready.After(w.Now) {
			b.Lines = append(b.Lines, l)
		}
	}
	for _, s := range w.Kindling {
		n := int(math.Ceil(b.Fires * sticks))
		b.Lines = append(b.Lines, BasketLine{Stack: s, Tonight: (n + 1) / 2, Tomorrow: n / 2, Inside: in.Pieces(s.ID)})
		break
	}
	return b
}

// insideFirst lets what lies by the stove be burnt first, whichever it is: tonight, then
// tomorrow.
func (w *Winter) insideFirst(in Inside, energy map[int]*[2]float64) {
	for i, s := range w.Stacks {
		each := s.NetEnergy() * float64(s.PieceMass) * 1e6
		lies := float64(in.Pieces(s.ID)) * each
		for day := range 2 {
			for j := range w.Stacks {
				e := energy[j]
				if e == nil || j == i || lies <= 0 {
					continue
				}
				if own := energy[i]; own != nil && lies <= own[day] {
					continue // all of it is for its own hours
				}
				taken := min(lies, e[day])
				if energy[i] == nil {
					energy[i] = &[2]float64{}
				}
				e[day], energy[i][day], lies = e[day]-taken, energy[i][day]+taken, lies-taken
			}
		}
	}
}

func pieces(energy, each float64) int {
	if each <= 0 {
		return 0
	}
	return int(math.Ceil(energy/each - 0.2))
}
