package belief_test

import (
	"cmp"
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"reflect"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// learnedInflation is a fire that somebody makes, and what is said of it: lit from cold, loaded
// twice and turned down, by the clock.
type learnedInflation struct {
	setup fire.Setup
	moves []fire.Move
	guide stove.Place
}

func anEvening(i int, random *rand.Rand) learnedInflation {
	p := fixture.Stoves()[i%3]
	setup := fire.Setup{Stove: p.Stove, House: p.Space.House, Outdoor: 2, Room: 17}
	beech, _ := wood.SpeciesByKey("beech")
	soft, _ := wood.SpeciesByKey("softwood-offcuts")
	big := float64(p.Volume) / 55
	load := func(kilos float64, pieces int, lay fire.Lay) fire.Act {
		return fire.Act{Kind: fire.ActLoad, Load: &fire.Load{Species: beech, Moisture: 0.18, Pieces: pieces,
			PieceMass: units.Kilogram(kilos * big / float64(pieces)), PieceLength: p.Width * 0.7, Direction: stove.Sideways, Lay: lay}}
	}
	air, _ := p.MainAir()
	set := func(o float64) fire.Act { return fire.Act{Kind: fire.ActControl, Control: air.Key, Opening: o} }
	minute := func(m float64) fire.Trigger { return fire.Trigger{At: time.Duration(m * float64(time.Minute))} }
	final := 0.2 + 0.4*random.Float64()
	moves := []fire.Move{{Do: []fire.Act{set(1), {Kind: fire.ActDoor, Door: fire.Ajar}, load(2.6, 2, fire.TopDown),
		{Kind: fire.ActLoad, Load: &fire.Load{Species: soft, Moisture: 0.13, Pieces: 12, PieceMass: units.Kilogram(0.1 * big), PieceLength: 0.2,
			Kindling: true, Lay: fire.TopDown, StarterKind: fire.WaxBlock}}, {Kind: fire.ActLight}}},
		{When: minute(6), Do: []fire.Act{{Kind: fire.ActDoor, Door: fire.Shut}}}}
	at := 32 + 8*random.Float64()
	for range 2 {
		moves = append(moves, fire.Move{When: minute(at), Do: []fire.Act{set(1), load(4, 3, fire.OnCoals)}},
			fire.Move{When: minute(at + 8), Do: []fire.Act{set((1 + final) / 2), {Kind: fire.ActControl, Role: stove.BypassRole, Opening: 0}}},
			fire.Move{When: minute(at + 14), Do: []fire.Act{set(final)}})
		at += 110
	}
	guide, _ := p.Guide()
	return learnedInflation{setup, moves, guide.Place}
}

// disturbed is what a gauge reads of a hidden fire: no simulation is right, so what it
// is off by wanders, and a glance adds a little.
func disturbed(r fire.Result, p stove.Place, every time.Duration, random *rand.Rand) []float64 {
	wander, keeps := random.NormFloat64(), math.Exp(-float64(every)/float64(20*time.Minute))
	var out []float64
	for i := 0; i < len(r.Samples); i += int(every / time.Minute) {
		t, _ := r.Samples[i].Reading(p)
		sigma := max(10, 0.06*float64(t-r.Samples[i].Room))
		out = append(out, float64(t)+sigma*(wander+0.1*random.NormFloat64()))
		wander = keeps*wander + math.Sqrt(1-keeps*keeps)*random.NormFloat64()
	}
	return out
}

// record is an evening as it is logged between two moments.
func record(e learnedInflation, readings []float64, every, from, until time.Duration) []belief.Event {
	var out []belief.Event
	for _, m := range e.moves {
		for _, a := range m.Do {
			if m.When.At >= from && m.When.At < until {
				out = append(out, belief.Event{At: m.When.At, Act: &a})
			}
		}
	}
	for at := from; at < until; at += every {
		out = append(out, belief.Event{At: at, Seen: &belief.Seen{Sight: belief.Reading, Place: e.guide, Value: readings[at/every]}})
	}
	slices.SortStableFunc(out, func(a, b belief.Event) int { return cmp.Compare(a.At, b.At) })
	return out
}

// tally counts how a forecast of half an hour ahead came out.
type tally struct {
	n, held             int
	missed, plainMissed float64
}

func (t *tally) add(low, middle, high, plain, came float64) {
	t.n++
	if came >= low && came <= high {
		t.held++
	}
	t.missed += math.Abs(middle - came)
	t.plainMissed += math.Abs(plain - came)
}

// Fires of stoves that nobody knows are logged and foretold: the range of eight in ten
// holds seven to nine of what comes half an hour later, and what is foretold misses it
// by a third less than a simulation that learns nothing.
func TestHiddenFiresAreForetold(t *testing.T) {
	const every, ahead = 2 * time.Minute, 30 * time.Minute
	// Ten fires tell whether it learns at all; how much, as docs/coach.md says it, is told by more.
	report, fires, most := "\n", 10, 0.8
	if os.Getenv("SMOLDER_LONG") != "" {
		fires, most = 36, 2.0/3
	}
	for _, times := range []float64{1, 2} {
		tallies := map[time.Duration]*tally{}
		looks := []time.Duration{10 * time.Minute, 40 * time.Minute, 80 * time.Minute, 130 * time.Minute}
		for i, h := range belief.Draw(fires, 78, times) {
			random := rand.New(rand.NewPCG(uint64(i), 5))
			e := anEvening(i, random)
			came := disturbed(h.Burn(e.setup, e.moves, fire.Options{Until: 4 * time.Hour}), e.guide, every, random)
			plain := belief.Plain().Burn(e.setup, e.moves, fire.Options{Until: 4 * time.Hour})
			b := belief.New(belief.Usual(), e.setup, belief.Doubt{})
			from := time.Duration(0)
			for _, at := range looks {
				for _, event := range record(e, came, every, from, at) {
					b.Take(event)
				}
				from = at
				b.Until(at)
				b.FinishMoves()
				var rest []fire.Move
				for _, m := range e.moves {
					if m.When.At >= at {
						rest = append(rest, m)
					}
				}
				f := b.Forecast(rest, at+ahead+time.Minute)
				fan, k := f.Gauges[e.guide], int(ahead/f.Every)
				if tallies[at] == nil {
					tallies[at] = &tally{}
				}
				p, _ := plain.Samples[int((at+ahead)/time.Minute)].Reading(e.guide)
				tallies[at].add(fan.Low[k], fan.Middle[k], fan.High[k], float64(p), came[(at+ahead)/every])
			}
		}
		all := tally{}
		for _, at := range looks {
			x := tallies[at]
			n := float64(x.n)
			report += fmt.Sprintf("  hidden at %.0f × the usual spread, after %3.0f min: eight in ten hold %3.0f %%; misses %5.1f K, unlearned %5.1f K (%+.0f %%)\n",
				times, at.Minutes(), 100*float64(x.held)/n, x.missed/n, x.plainMissed/n, 100*(x.missed/x.plainMissed-1))
			if at >= 40*time.Minute {
				all.n, all.held, all.missed, all.plainMissed = all.n+x.n, all.held+x.held, all.missed+x.missed, all.plainMissed+x.plainMissed
			}
		}
		share := float64(all.held) / float64(all.n)
		// Its own fires are held more often than eight in ten: a forecast is as wide as stoves want
		// that the model has not made itself ([TestForecastsOfForeignStoves]).
		assert.Greater(t, share, 0.75, "hidden at %.0f", times)
		assert.Less(t, all.missed, all.plainMissed*most, "hidden at %.0f", times)
	}
	t.Log(report)
}

// stove is the kitchen's, on coals, with a load that is turned down.
func onCoals() (fire.Setup, []belief.Event) {
	p := fixture.Stoves()[0]
	setup := fire.Setup{Stove: p.Stove, House: p.Space.House, Outdoor: 2, Room: 17, Warmth: 110, Coals: 0.6}
	beech, _ := wood.SpeciesByKey("beech")
	act := func(minutes int, a fire.Act) belief.Event {
		return belief.Event{At: time.Duration(minutes) * time.Minute, Act: &a}
	}
	lever := func(o float64) fire.Act { return fire.Act{Kind: fire.ActControl, Control: "lever", Opening: o} }
	return setup, []belief.Event{act(0, lever(1)),
		act(0, fire.Act{Kind: fire.ActLoad, Load: &fire.Load{Species: beech, Moisture: 0.18, Pieces: 4, PieceMass: 1.3, PieceLength: 0.33,
			Direction: stove.EndOn, Lay: fire.OnCoals}}),
		act(10, lever(0.5)), act(16, lever(0.3))}
}

func saw(minutes int, s belief.Seen) belief.Event {
	return belief.Event{At: time.Duration(minutes) * time.Minute, Seen: &s}
}

func probe(minutes int, celsius float64) belief.Event {
	return saw(minutes, belief.Seen{Sight: belief.Reading, Place: stove.ConnectorProbe, Value: celsius})
}

// taken is the belief after events, with all that is owed paid.
func taken(setup fire.Setup, events ...belief.Event) *belief.Belief {
	b := belief.New(belief.Usual(), setup, belief.Doubt{})
	for _, e := range events {
		b.Take(e)
	}
	b.FinishMoves()
	return b
}

// mean is what is believed of a number of the stove, as a factor.
func mean(p belief.Prior, name string) float64 { return math.Exp(p.Mean[slices.Index(p.Names, name)]) }

func TestTheSameRecordGivesTheSameBelief(t *testing.T) {
	setup, acts := onCoals()
	events := append(slices.Clone(acts), probe(20, 330), probe(30, 250), probe(45, 240))
	a, b := taken(setup, events...), taken(setup, events...)
	assert.Equal(t, a.Posterior(), b.Posterior())
	assert.True(t, reflect.DeepEqual(a.Forecast(nil, 3*time.Hour), b.Forecast(nil, 3*time.Hour)))
	assert.Positive(t, a.Renewed())
}

// What is seen moves what it should.
func TestWhatIsSeenTeaches(t *testing.T) {
	setup, acts := onCoals()
	with := func(more ...belief.Event) belief.Prior {
		return taken(setup, append(slices.Clone(acts), more...)...).Posterior()
	}
	var hot, cold []belief.Event
	for m := 20; m <= 60; m += 4 {
		hot, cold = append(hot, probe(m, 470)), append(cold, probe(m, 230))
	}
	assert.Greater(t, mean(with(hot...), "probe")/mean(with(cold...), "probe"), 1.03, "what reads high may be the gauge")
	assert.Less(t, mean(with(hot...), "exchange"), mean(with(cold...), "exchange"), "or gas that gives less to the stove")
	smoke := func(colour string) belief.Prior {
		return with(saw(25, belief.Seen{Sight: belief.Smoke, Colour: colour}), saw(40, belief.Seen{Sight: belief.Smoke, Colour: colour}))
	}
	assert.Greater(t, mean(smoke(belief.Grey), "curve"), mean(smoke(belief.Clear), "curve"), "grey smoke at a third: the lever shuts sooner than it says")
	var chilly []belief.Event
	for m := 30; m <= 180; m += 30 {
		chilly = append(chilly, saw(m, belief.Seen{Sight: belief.Reading, Place: stove.RoomAir, Value: 16}))
	}
	assert.Greater(t, mean(with(chilly...), "room loss"), 1.1, "a room that stays cold loses more")
	early := with(saw(70, belief.Seen{Sight: belief.FlamesGone}))
	late := with(probe(70, 260), saw(190, belief.Seen{Sight: belief.FlamesGone}))
	assert.NotEqual(t, early, late)
	few := taken(setup, append(slices.Clone(acts), saw(240, belief.Seen{Sight: belief.CoalsLeft, Value: 0.05}))...).Forecast(nil, 5*time.Hour)
	many := taken(setup, append(slices.Clone(acts), saw(240, belief.Seen{Sight: belief.CoalsLeft, Value: 0.6}))...).Forecast(nil, 5*time.Hour)
	assert.Less(t, few.Coals.Middle[10], many.Coals.Middle[10])
}

// One odd reading decides nothing.
func TestAnOddReadingIsForgotten(t *testing.T) {
	setup, acts := onCoals()
	var fair []belief.Event
	for m := 20; m <= 70; m += 5 {
		fair = append(fair, probe(m, 330))
	}
	odd := slices.Clone(fair)
	odd[6] = probe(50, 20) // a wire that has come off
	a := taken(setup, append(slices.Clone(acts), fair...)...).Forecast(nil, 2*time.Hour)
	b := taken(setup, append(slices.Clone(acts), odd...)...).Forecast(nil, 2*time.Hour)
	assert.InDelta(t, a.Gauges[stove.ConnectorProbe].Middle[30], b.Gauges[stove.ConnectorProbe].Middle[30], 25)
}

// A forecast has its fans, its events in the order of a burn, and risks of what
// happens when nobody touches anything.
func TestAForecast(t *testing.T) {
	setup, acts := onCoals()
	b := taken(setup, acts[:2]...)
	b.Until(4 * time.Minute)
	wait := []fire.Move{{When: fire.Trigger{Charred: true, After: 4 * time.Minute}, Do: []fire.Act{{Kind: fire.ActControl, Control: "lever", Opening: 0.4}}},
		{When: fire.Trigger{Gauge: stove.ConnectorProbe, Above: 2000}}}
	f := b.Forecast(wait, 5*time.Hour)
	assert.Equal(t, 4*time.Minute, f.From)
	for p, fan := range f.Gauges {
		for i := range fan.Low {
			assert.True(t, fan.Low[i] <= fan.Middle[i] && fan.Middle[i] <= fan.High[i], "%s at %d", p, i)
		}
	}
	black, gone := f.Events[belief.Blackened], f.Events[belief.FlamesDie]
	assert.InDelta(t, 1, black.Share, 0.05)
	assert.Greater(t, gone.Likely, black.Likely+30*time.Minute)
	assert.LessOrEqual(t, black.Earliest, black.Likely)
	assert.LessOrEqual(t, black.Likely, black.Latest)
	assert.Greater(t, f.Moves[0].Share, 0.9)
	assert.Zero(t, f.Moves[1].Share, "a sign that this stove never shows")
	assert.Equal(t, time.Duration(-1), f.Moves[1].Likely)

	open := taken(setup, acts[:2]...)
	open.Until(15 * time.Minute)
	assert.Greater(t, open.Forecast(nil, time.Hour).Risks.TooHot, 0.1, "wide open on coals")
	lever := fire.Act{Kind: fire.ActControl, Control: "lever", Opening: 0.02}
	shut := taken(setup, append(slices.Clone(acts[:2]), belief.Event{At: 3 * time.Minute, Act: &lever})...)
	shut.Until(8 * time.Minute)
	risks := shut.Forecast(nil, time.Hour).Risks
	assert.Greater(t, risks.Smoulder, 0.6, "choked")
	assert.Less(t, risks.TooHot, 0.1)
}

// A posterior is a prior: plain numbers, from which the next burn knows more.
func TestAPosteriorIsAPrior(t *testing.T) {
	setup, acts := onCoals()
	var hot []belief.Event
	for m := 20; m <= 80; m += 4 {
		hot = append(hot, probe(m, 460))
	}
	p := taken(setup, append(slices.Clone(acts), hot...)...).Posterior()
	assert.Equal(t, belief.Version, p.Version)
	raw, err := json.Marshal(p)
	assert.NoError(t, err)
	var back belief.Prior
	assert.NoError(t, json.Unmarshal(raw, &back))
	assert.Equal(t, p, back)
	knows, blank := belief.New(back, setup, belief.Doubt{}), belief.New(belief.Usual(), setup, belief.Doubt{})
	for _, e := range acts {
		knows.Take(e)
		blank.Take(e)
	}
	at := func(b *belief.Belief) float64 {
		return b.Forecast(nil, time.Hour).Gauges[stove.ConnectorProbe].Middle[24]
	}
	assert.Greater(t, at(knows), at(blank)+20)
	back.Names[3] = "something that this version does not know"
	assert.NotPanics(t, func() { belief.New(back, setup, belief.Doubt{}) })
}

// Every sign that is heard or seen moves what is believed to where it is likely.
func TestSignsTeach(t *testing.T) {
	setup, acts := onCoals()
	with := func(minutes int, sights ...belief.Sight) *belief.Belief {
		events := acts[:2]
		if minutes > 16 {
			events = acts
		}
		events = slices.Clone(events)
		for _, s := range sights {
			events = append(events, saw(minutes, belief.Seen{Sight: s}), saw(minutes+2, belief.Seen{Sight: s}))
		}
		b := taken(setup, events...)
		b.Until(time.Duration(minutes+3) * time.Minute)
		return b
	}
	probeAt := func(b *belief.Belief) float64 { return b.Standing().Gauges[stove.ConnectorProbe].Middle }
	assert.Greater(t, probeAt(with(9, belief.AtTheBaffle)), probeAt(with(9))+2, "flames as high as the baffle: a hot fire")
	assert.Less(t, probeAt(with(9, belief.WoodHisses)), probeAt(with(9))-2, "wet wood: a cooler one")
	assert.Greater(t, probeAt(with(7, belief.MetalTicks)), probeAt(with(7)), "it warms quickly")
	assert.Greater(t, with(2, belief.InletDraws).Standing().Draft.Middle, with(2).Standing().Draft.Middle, "the flue draws")
	assert.Greater(t, mean(with(40, belief.GlassEdge).Posterior(), "curve"), mean(with(40, belief.GasFlames).Posterior(), "curve"), "the lever shuts sooner than it says")
	for _, s := range []belief.Sight{belief.AtTheBaffle, belief.WoodHisses, belief.MetalTicks, belief.InletDraws, belief.GlassEdge, belief.GasFlames} {
		assert.True(t, belief.Reads(s))
	}
}
