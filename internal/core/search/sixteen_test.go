package search_test

import (
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
)

// asked is a wish that people have, what somebody of twenty winters does for it, and what has
// to come of a plan.
type asked struct {
	name  string
	wish  wish.Wish
	own   plan.Recipe  // what a good burner does
	later []plan.Later // and puts on after
	none  bool         // a good burner makes no fire
}

// of is a stack of 400 kg of a species, in pieces of so many kilograms and metres.
func of(id int64, species string, mass units.Kilogram, length units.Metre, reading units.Fraction) wish.Pick {
	sp, err := wood.SpeciesByKey(species)
	if err != nil {
		panic("no species " + species)
	}
	return wish.Pick{ID: id, Stack: wood.Stack{Name: species, Species: sp, PieceMass: mass, PieceLength: length, Reading: reading, WoodTemp: 15, Mass: 400}}
}

// measured is a stove of a family and size on six insulated metres, one lever, a probe in the
// pipe and a gauge on its top.
func measured(f stove.Family, volume units.Litre, load units.Kilogram) stove.Stove {
	st := stove.Stove{Name: "the stove", Family: f, Volume: volume, MaxLoad: load, Chimney: flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.Insulated},
		Controls: []stove.Control{{Key: "air", Name: "Air", Role: stove.Combined, Scale: stove.Scale{Kind: stove.Lever}}},
		Gauges:   []stove.Gauge{stove.NewGauge(stove.ConnectorProbe), stove.NewGauge(stove.Top)}}
	if f == stove.Catalytic {
		st.Controls[0].Role = stove.PrimaryAir
		st.Controls = append(st.Controls, stove.Control{Key: "bypass", Name: "Bypass", Role: stove.BypassRole, Scale: stove.Scale{Kind: stove.Notches, Notches: []string{"shut", "open"}}})
		st.Gauges = append(st.Gauges, stove.NewGauge(stove.CatalystProbe))
	}
	return st.Assume()
}

// warmed is a house that loses so much, W/K.
func warmed(loss float64) house.House {
	b := house.Ordinary
	if loss < 90 {
		b = house.Tight
	}
	return house.House{Floor: loss / 1.3, Build: b, Volume: units.Litre(loss / 1.3 * 2500), Given: loss}
}

// sixteen are the wishes of which we have written down what good burners do.
func sixteen() []asked {
	const gauge15 = 1.5
	hours := func(h float64) time.Duration { return time.Duration(h * float64(time.Hour)) }
	by := func(h float64) when.Presence { return when.Presence{{From: 0, To: hours(h)}} }
	ask := func(st stove.Stove, h house.House, aim wish.Aim, long float64, out, room units.Celsius, start wish.Start, w wish.Pick) wish.Wish {
		return wish.Wish{Stove: st, House: h, Aim: aim, For: hours(long), Outdoor: out, Room: room, Low: 19, High: 21.5, Start: start, Wood: w}
	}
	beech := of(1, "beech", gauge15, 0.33, 0.17)
	mid, large := measured(stove.SecondaryAir, 55, 11), measured(stove.SecondaryAir, 120, 22)
	small := measured(stove.Plain, 20, 1.5)
	small.Chimney.Diameter = 0.125
	tiny := measured(stove.Tiny, 9, 1.6)
	tiny.Chimney = flue.Chimney{Height: 2.2, Diameter: 0.1, Lining: flue.SingleRun}

	night := ask(mid, warmed(150), wish.Overnight, 8.5, -5, 20, wish.GoodCoals, beech)
	night.There = by(1)
	mildNight := ask(mid, warmed(150), wish.Overnight, 8.5, 6, 20, wish.GoodCoals, beech)
	mildNight.There = by(1)
	work := ask(measured(stove.SecondaryAir, 70, 14), warmed(150), wish.Away, 10, -15, 20, wish.GoodCoals, of(1, "oak", 1.8, 0.4, 0.17))
	work.There = by(0.75)
	catalytic := ask(measured(stove.Catalytic, 70, 12), warmed(110), wish.Overnight, 10, -5, 20, wish.GoodCoals, of(1, "oak", 1.8, 0.4, 0.17))
	catalytic.There = by(1.5)
	plain := ask(measured(stove.Plain, 45, 8), warmed(150), wish.Hold, 5, -3, 18, wish.GoodCoals, of(1, "beech", 1.2, 0.33, 0.17))
	singles := ask(small, warmed(90), wish.Hold, 6, -3, 18, wish.GoodCoals, of(1, "beech", 0.8, 0.25, 0.17))
	singlesNight := ask(small, warmed(90), wish.Overnight, 9, -3, 19, wish.GoodCoals, of(1, "beech", 0.8, 0.25, 0.17))
	quick := ask(mid, warmed(150), wish.WarmUp, 3, 0, 14, wish.Cold, of(1, "beech", 1.2, 0.33, 0.17))
	tight := ask(mid, warmed(70), wish.Hold, 5, 4, 19, wish.Cold, of(1, "beech", 1.2, 0.33, 0.17))
	tight.Low, tight.High = 20, 21.5
	wet := ask(mid, warmed(150), wish.Hold, 5, 0, 17, wish.Cold, of(1, "beech", 1.3, 0.33, 0.25))
	ten := of(2, "beech", 1.3, 0.33, 0.17)
	ten.Stack.Mass = 13
	wet.Others = []wish.Pick{ten}
	multi := measured(stove.MultiFuel, 35, 5)
	multi.Controls = []stove.Control{{Key: "top", Name: "Top air", Role: stove.TopAir, Scale: stove.Scale{Kind: stove.PercentOpen}},
		{Key: "grate", Name: "Grate air", Role: stove.UnderGrate, Scale: stove.Scale{Kind: stove.PercentOpen}}}
	grate := ask(multi, warmed(110), wish.Hold, 5, 0, 17, wish.Cold, of(1, "beech", 1, 0.28, 0.17))
	eight := ask(large, warmed(350), wish.Overnight, 8, -10, 20, wish.GoodCoals, of(1, "beech", 2.2, 0.45, 0.17))
	eight.There = by(1.25)
	van := ask(tiny, house.House{Floor: 8, Build: house.Vehicle, N50: 9, Volume: 14_000, Given: 45}, wish.WarmUp, 1.5, 4, 5, wish.Cold, of(1, "beech", 0.2, 0.16, 0.15))
	van.Low, van.High = 16, 20
	day := ask(measured(stove.Refractory, 150, 20), warmed(180), wish.Hold, 12, -3, 18, wish.Cold, of(1, "beech", 1.3, 0.33, 0.17))
	morning := ask(mid, warmed(150), wish.WarmUp, 1.2, 0, 16, wish.FewCoals, of(1, "beech", 1.2, 0.33, 0.17))
	morning.There = by(1.2)
	fixed := ask(mid, warmed(150), wish.Hold, 6, 0, 18, wish.GoodCoals, beech)
	fixed.Fixed = wish.Fixed{Main: 4, Direction: stove.EndOn, Final: 0.2}

	return []asked{
		{"55 L, −5 °C, night of 8.5 h", night, plan.Recipe{Main: 5, Direction: stove.Sideways, Final: 0.25}, nil, false},
		{"55 L, +6 °C, night", mildNight, plan.Recipe{}, nil, true},
		{"70 L, −15 °C, 10 h at work", work, plan.Recipe{Main: 6, Direction: stove.Sideways, Final: 0.25}, nil, false},
		{"70 L catalytic, −5 °C, night of 10 h", catalytic, plan.Recipe{Main: 6, Direction: stove.Sideways, Final: 0.25}, nil, false},
		{"45 L plain, −3 °C, evening of 5 h", plain, plan.Recipe{Main: 3, Direction: stove.EndOn, Final: 0.5}, []plan.Later{{Pieces: 3, Left: 0.04, Brisk: 1, Final: 0.5}, {Pieces: 3, Left: 0.04, Brisk: 1, Final: 0.5}}, false},
		{"20 L, one log at a time, −3 °C, evening of 6 h", singles, plan.Recipe{Main: 1, Direction: stove.Sideways, Final: 0.5}, singly(7, 0.5), false},
		{"20 L, one log at a time, night", singlesNight, plan.Recipe{}, nil, true},
		{"55 L from cold, 14 °C, warm soonest", quick, plan.Recipe{First: 3, Lay: fire.TopDown, Main: 5, Direction: stove.EndOn, Final: 0.5}, nil, false},
		{"55 L, tight house, +4 °C, evening", tight, plan.Recipe{First: 3, Lay: fire.TopDown, Direction: stove.EndOn, Final: 0.5}, nil, false},
		{"55 L, wood of 25 % and ten dry pieces", wet, plan.Recipe{First: 3, FirstOf: 1, MainOf: 1, Lay: fire.TopDown, Main: 4, Direction: stove.EndOn, Final: 0.5}, nil, false},
		{"35 L multi-fuel, evening on wood", grate, plan.Recipe{First: 2, Lay: fire.TopDown, Main: 3, Direction: stove.EndOn, Final: 0.5}, nil, false},
		{"120 L, −10 °C, 8 h", eight, plan.Recipe{Main: 7, Direction: stove.Sideways, Final: 0.25}, nil, false},
		{"9 L in a van, 4 °C, an hour's warmth", van, plan.Recipe{First: 4, Lay: fire.TopDown, Main: 3, Direction: stove.Sideways, Final: 0.5}, nil, false},
		{"refractory 150 L, a day's heat", day, plan.Recipe{First: 4, Lay: fire.TopDown, Main: 8, Direction: stove.EndOn, Final: 0.75}, nil, false},
		{"55 L, few coals, 1.2 h till work", morning, plan.Recipe{First: 3, Direction: stove.EndOn, Final: 0.25}, nil, false},
		{"55 L, four pieces end-on, down to a fifth", fixed, plan.Recipe{Main: 4, Direction: stove.EndOn, Final: 0.2}, nil, false},
	}
}

// singly are so many further loads of one piece.
func singly(n int, final float64) []plan.Later {
	out := make([]plan.Later, n)
	for i := range out {
		out[i] = plan.Later{Pieces: 1, Left: 0.1, Brisk: 1, Final: final}
	}
	return out
}

// The sixteen wishes answered, beside what a good burner does: the table of docs/plan.md.
func TestSixteenWishes(t *testing.T) {
	only := os.Getenv("SMOLDER_SIXTEEN")
	if os.Getenv("SMOLDER_LONG") == "" && only == "" {
		t.Skip("minutes: SMOLDER_LONG=1")
	}
	for i, a := range sixteen() {
		if only != "" && only != "all" && only != fmt.Sprint(i+1) {
			continue
		}
		begun := time.Now()
		c, err := search.Plans(t.Context(), a.wish, search.Usual, nil)
		t.Logf("%d %s (%.0f s)", i+1, a.name, time.Since(begun).Seconds())
		if err != nil {
			t.Logf("  refused: %v", err)
		}
		for _, p := range c.Plans {
			t.Log("  plan " + told(p))
		}
		if a.none {
			continue
		}
		a.own.Brisk, a.own.Most, a.own.Pause = 1, 1, 8*time.Minute
		if a.own.Lay == "" {
			a.own.Lay = fire.OnCoals
		}
		burnt := plan.Run(a.wish, plan.Steps(a.wish, a.own, a.later...))
		p := plan.Make(a.wish, a.own, a.later, burnt, plan.Worlds)
		t.Log("  own  " + told(p))
	}
}

// What of the sixteen a good burner would not forgive: a full load for a night in a large
// stove, kept cool; logs one after the other on a stove that bears one; no fire for a night that
// it would not warm.
func TestAsGoodBurnersDo(t *testing.T) {
	all := sixteen()
	of := func(name string) plan.Plan {
		i := slices.IndexFunc(all, func(a asked) bool { return a.name == name })
		require.GreaterOrEqual(t, i, 0, name)
		p, err := search.Best(t.Context(), all[i].wish, search.Usual, nil)
		require.NoError(t, err, name)
		return p
	}
	large := of("120 L, −10 °C, 8 h")
	assert.GreaterOrEqual(t, float64(large.Mass()), 14.0, told(large))
	assert.LessOrEqual(t, float64(large.Summary.PeakTop), 350.0, told(large))
	assert.LessOrEqual(t, large.Final, 0.3, told(large))
	singles := of("20 L, one log at a time, −3 °C, evening of 6 h")
	assert.GreaterOrEqual(t, len(singles.Feeds), 2, told(singles))
	for _, f := range singles.Feeds {
		assert.Equal(t, 1, f.Pieces)
	}
	_, out := of("20 L, one log at a time, night").LetOut()
	assert.True(t, out)
	_, out = of("55 L, −5 °C, night of 8.5 h").LetOut()
	assert.False(t, out)
}

// told is a plan in a line.
func told(p plan.Plan) string {
	var b strings.Builder
	at := func(h float64) int {
		return min(int(h*float64(time.Hour)/float64(p.Predicted.Every)), len(p.Predicted.Room)-1)
	}
	fmt.Fprintf(&b, "%4.1f kg, %d + %d × %.1f kg", float64(p.Mass()), p.First, p.Main, float64(p.MainOf.Stack.PieceMass))
	for _, f := range p.Feeds {
		fmt.Fprintf(&b, " + %d", f.Pieces)
	}
	fmt.Fprintf(&b, " of %s %s, down to %.2f; top", p.MainOf.Stack.Name, p.Direction, p.Final)
	for _, h := range []float64{1, 3, 6, 9} {
		if top := p.Predicted.Gauges[stove.Top]; h <= p.Wish.For.Hours() && len(top) > 0 {
			fmt.Fprintf(&b, " %.0f", top[at(h)])
		}
	}
	end := at(p.Wish.For.Hours())
	low, high := p.Predicted.Room[0], p.Predicted.Room[0]
	for _, r := range p.Predicted.Room[:end+1] {
		low, high = min(low, r), max(high, r)
	}
	fmt.Fprintf(&b, "; coals %.2f; room %.1f at the end (%.1f to %.1f); %.1f g/kg, safe %d, clean %d of %d", p.Predicted.Coals[end], p.Predicted.Room[end], low, high,
		p.SmokePerKg(), p.Trust.Safe, p.Trust.Kept, p.Trust.Of)
	if without, is := p.LetOut(); is {
		fmt.Fprintf(&b, "; let it go out: %.1f without", float64(without))
	}
	return b.String()
}
