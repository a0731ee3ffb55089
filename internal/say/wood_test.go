package say_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/drying"
	"smolder/internal/core/season"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/upkeep"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/say"
)

var teatime = time.Date(2026, 3, 10, 16, 0, 0, 0, time.UTC)

func in(days int) time.Time { return teatime.AddDate(0, 0, days) }

// Ready dates are said as people say them: a part of a month, and how far off it may be.
func TestReadyDates(t *testing.T) {
	date := func(early, likely, late int) drying.Date {
		d := drying.Date{}
		for _, c := range []struct {
			at   *time.Time
			days int
		}{{&d.Early, early}, {&d.Likely, likely}, {&d.Late, late}} {
			if c.days >= 0 {
				*c.at = in(c.days)
			}
		}
		return d
	}
	for _, c := range []struct {
		d     drying.Date
		says  string
		short string
	}{
		{date(75, 107, 142), "late June, give or take five weeks", "late June"},
		{date(0, 0, 0), "ready", "ready"},
		{date(0, 0, 60), "probably ready; early May at the latest", "probably ready"},
		{date(0, 0, -1), "probably ready, not certainly: a reading would tell", "probably ready"},
		{date(20, 60, -1), "early May most likely, and it may be years", "early May"},
		{date(400, -1, -1), "hardly within three years as it lies; mid-April 2027 at the earliest", "not as it lies"},
		{date(-1, -1, -1), "not within three years as it lies", "not as it lies"},
		{date(280, 330, 420), "early February 2027, give or take three months", "early February 2027"},
		{date(100, 104, 106), "late June, give or take a week", "late June"},
	} {
		assert.Equal(t, c.says, say.ReadyDate(c.d, teatime, lang.Metric))
		assert.Equal(t, c.short, say.ReadyShort(c.d, teatime, lang.Metric))
	}
	assert.Equal(t, "Another reading after May, in four pieces, would halve that.", say.AnotherReading(in(75), 0.5, teatime, lang.Metric))
	assert.Equal(t, "Another reading, in four pieces today, would leave a third of that.", say.AnotherReading(in(1), 0.35, teatime, lang.Metric))
	for share, says := range map[float64]string{0.2: "a quarter", 0.7: "take a third off", 0.85: "a little"} {
		assert.Contains(t, say.AnotherReading(in(75), share, teatime, lang.Metric), says)
	}
}

// Everything that may be done for a stack, and everything that wants looking after, has its
// words; none of them shouts.
func TestEveryChangeAndChoreHasWords(t *testing.T) {
	for _, c := range []drying.Change{drying.Split, drying.Smaller, drying.UnderRoof, drying.Uncovered, drying.ToWind, drying.ToSun, drying.OffGround,
		drying.Turned, drying.Whole} {
		assert.NotEmpty(t, say.ChangeOf(c, lang.Metric), "%s", c)
	}
	for _, task := range upkeep.Tasks {
		chore := say.ChoreOf(task.Key, lang.Metric)
		for what, text := range map[string]string{"name": chore.Name, "did": chore.Did, "why": chore.Why, "how": chore.How, "look": chore.Look, "who": chore.Who} {
			assert.NotEmpty(t, text, "%s of %s", what, task.Key)
			assert.NotContains(t, text, "!", "%s of %s", what, task.Key)
			if len(text) > 40 {
				assert.True(t, strings.HasSuffix(text, "."), "%s of %s ends as a sentence: %s", what, task.Key, text)
			}
		}
	}
	assert.Equal(t, "a year and a half sooner: ready", say.Gained(drying.Option{Gain: 540 * 24 * time.Hour,
		Ready: drying.Date{Early: teatime, Likely: teatime, Late: teatime}}, teatime, lang.Metric))
	assert.Contains(t, say.Gained(drying.Option{Gain: 900 * 24 * time.Hour}, teatime, lang.Metric), "two and a half years sooner")
	assert.Contains(t, say.Gained(drying.Option{Gain: 730 * 24 * time.Hour}, teatime, lang.Metric), "two years sooner")
}

// How a task stands: by its day, by its use, or never told.
func TestHowATaskStands(t *testing.T) {
	p := upkeep.Place{Winter: true, Stove: stove.Stove{Volume: 55, Width: 0.46, Depth: 0.38}}
	find := func(k upkeep.Key) upkeep.Task {
		task, ok := upkeep.Find(k)
		require.True(t, ok)
		return task
	}
	for _, c := range []struct {
		key   upkeep.Key
		since time.Time
		use   upkeep.Use
		says  string
	}{
		{upkeep.Sweep, in(-30), upkeep.Use{Settled: []float64{40, 30, 20, 10, 0}},
			"Next about 8 February 2027. Last on 8 February 2026, about 100 g settled in the flue since."},
		{upkeep.Sweep, in(-400), upkeep.Use{}, "Due since 3 February 2026. Last on 3 February 2025."},
		{upkeep.Sweep, time.Time{}, upkeep.Use{}, "Nobody has said when it was done last."},
		{upkeep.Ash, in(-30), upkeep.Use{Dry: 400}, "Due by use, about 3.2 kg has come since. Last on 8 February 2026."},
		{upkeep.Ash, time.Time{}, upkeep.Use{Dry: 10}, "Nobody has said when last, about 0.1 kg has come since."},
		{upkeep.Glass, in(-30), upkeep.Use{Burns: 12, Smoulder: 0.5}, "12 burns since, 30 min of smouldering in them"},
		{upkeep.Catalyst, in(-30), upkeep.Use{Fallen: 60, Hours: 200}, "it reaches about 60 degrees less than it did"},
		{upkeep.CurePaint, time.Time{}, upkeep.Use{Painted: true}, "It is new or was painted, and has not had them."},
	} {
		assert.Contains(t, say.When(upkeep.Of(find(c.key), p, c.since, teatime, c.use), teatime, lang.Metric), c.says, "%s", c.key)
	}
	fahrenheit := say.When(upkeep.Of(find(upkeep.Catalyst), p, in(-30), teatime, upkeep.Use{Fallen: 60}), teatime, lang.Imperial)
	assert.Contains(t, fahrenheit, "108 degrees less")
	danger := say.Endangers(upkeep.Of(find(upkeep.Sweep), p, in(-500), teatime, upkeep.Use{}), "Auntie", teatime, lang.Metric)
	assert.True(t, strings.HasPrefix(danger, "Auntie: sweep the chimney. Due since"), danger)
	st := stove.Stove{}
	st.Chimney.Height, st.Chimney.Diameter, st.Chimney.Horizontal = 6, 0.15, 0.5
	sections := say.FlueSections([]float64{0, 50, 100, 636, 40}, st, lang.Metric)
	require.Len(t, sections, 5)
	assert.Equal(t, "Section 4 of 4 from the stove up: about 640 g, 3.0 mm were it even", sections[3])
	assert.Contains(t, sections[0], "next to nothing")
	assert.Contains(t, sections[4], "Horizontal run: about 40 g")
	assert.Contains(t, say.FlueSections([]float64{0, 50, 100, 636, 40}, st, lang.Imperial)[3], "in were it even")
	fire := say.FirstFire(1, upkeep.FirstFires(stove.Stove{MaxLoad: 7})[0], "Auntie", lang.Metric)
	assert.Contains(t, fire, "0.7 kg of kindling and no more")
}

// Chances are winters of ten, and the day it runs out is said where it may.
func TestChances(t *testing.T) {
	for p, says := range map[float64]string{1: "almost certainly", 0: "almost certainly not", 0.8: "in eight winters of ten", 0.1: "in one winter of ten",
		0.96: "in nineteen winters of twenty", 0.04: "in one winter of twenty", 0.5: "in five winters of ten"} {
		assert.Equal(t, says, say.Chance(p, lang.Metric), "%.2f", p)
	}
	end := time.Date(2026, 5, 1, 0, 0, 0, 0, time.UTC)
	o := season.Outlook{Lasts: 0.6, Weeks: make([]season.Week, 7), RunsOut: [3]time.Time{in(10), in(25), in(45)}}
	assert.Equal(t, "The wood lasts to the end of April in six winters of ten. Should it not, it is gone about early April, between mid-March and late April.",
		say.Lasts(o, end, teatime, lang.Metric))
	o.Lasts = 0
	assert.Contains(t, say.Lasts(o, end, teatime, lang.Metric), "The wood does not last to the end of April.")
	assert.Contains(t, say.Lasts(season.Outlook{}, end, teatime, lang.Metric), "season is over")
	assert.Equal(t, "changes nothing", say.Better(0.5, 0.51, lang.Metric))
	assert.Equal(t, "5 of 10 to 8 of 10", say.Better(0.5, 0.8, lang.Metric))
	assert.Equal(t, "a little likelier", say.Better(0.51, 0.54, lang.Metric))
	assert.Equal(t, "a little less likely", say.Better(0.54, 0.51, lang.Metric))
	assert.Equal(t, "hardly to 9 of 10", say.Better(0.01, 0.94, lang.Metric))
	half := in(-20)
	assert.Contains(t, say.HalfWay(half, teatime, 0.3, 0.4, lang.Metric), "the wood keeps up with it")
	assert.Contains(t, say.HalfWay(half, teatime, 0.4, 0.3, lang.Metric), "goes faster than the winter")
	assert.Contains(t, say.HalfWay(in(20), teatime, 0.6, 0.7, lang.Metric), "Until then more than half")
	assert.Equal(t, "nights between −4 °C and 2 °C", say.Portion(season.Portion{Hours: season.Night, From: -4.2, To: 2.1}, lang.Metric))
	assert.Contains(t, say.Uncounted(1, lang.Metric), "Nobody has counted it")
	assert.Contains(t, say.Uncounted(0.4, lang.Metric), "40 % of that")
	assert.Empty(t, say.Uncounted(0.1, lang.Metric))
}

// What recounts teach is said once it is more than counting is off.
func TestWhatRecountsTeach(t *testing.T) {
	assert.Empty(t, say.Unlogged(wood.Unlogged{}, lang.Metric))
	assert.Contains(t, say.Unlogged(wood.Unlogged{Low: 1.03, Middle: 1.08, High: 1.13, Recounts: 3}, lang.Metric), "You burn about 8 % more than you log, by three recounts.")
	assert.Contains(t, say.Unlogged(wood.Unlogged{Low: 0.8, Middle: 0.9, High: 0.97, Recounts: 2}, lang.Metric), "10 % less than you log")
	assert.Contains(t, say.Unlogged(wood.Unlogged{Low: 0.9, Middle: 1.02, High: 1.2, Recounts: 1}, lang.Metric),
		"One recount so far: what is burnt is within 10 % less and 20 % more")
}

// The display of a CO alarm: nothing, a warning, everybody out.
func TestCODisplay(t *testing.T) {
	assert.Empty(t, say.CODisplay(0, lang.Metric))
	assert.Contains(t, say.CODisplay(12, lang.Metric), "look again in five minutes")
	for _, ppm := range []float64{30, 45, 400} {
		assert.Contains(t, say.CODisplay(ppm, lang.Metric), "everybody out now")
	}
	for piece, says := range map[units.Kilogram]string{0.02: "small pieces", 0.05: "a middling size", 0.2: "large pieces"} {
		all := strings.Join(say.MineralStack(piece, lang.Metric), " ")
		assert.Contains(t, all, says)
		assert.Contains(t, all, "Never in a stove for wood alone")
		assert.Contains(t, all, "carbon monoxide for hours")
	}
}

// What rain and winter do to a stack, by its forecast.
func TestWhereAStackGoes(t *testing.T) {
	course := func(us ...units.Fraction) []drying.Point {
		var out []drying.Point
		for i, u := range us {
			out = append(out, drying.Point{At: in(60 * i), Moisture: wood.Estimate{Low: u, Middle: u, High: u}})
		}
		return out
	}
	assert.Contains(t, say.Dries(course(0.18, 0.24, 0.15), teatime, lang.Metric), "takes water up to 24 % in May, over what burns clean")
	assert.Contains(t, say.Dries(course(0.14, 0.17, 0.13), teatime, lang.Metric), "takes water up to 17 % in May")
	assert.Contains(t, say.Dries(course(0.4, 0.3, 0.2), teatime, lang.Metric), "comes down to 20 % in July")
	assert.Contains(t, say.Dries(course(0.15, 0.151), teatime, lang.Metric), "stays about as it is")
	assert.Empty(t, say.Dries(nil, teatime, lang.Metric))
}
