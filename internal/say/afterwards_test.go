package say_test

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/belief"
	"smolder/internal/core/fixture"
	"smolder/internal/core/learn"
	"smolder/internal/core/review"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/ways"
	"smolder/internal/lang"
	"smolder/internal/say"
)

var lever = stove.Control{Key: "lever", Name: "Lever", Role: stove.Combined, Scale: stove.Scale{Kind: stove.Lever}}

// Every finding has its words, in both systems of units, as sentences.
func TestFindingsInWords(t *testing.T) {
	for _, m := range review.Matters {
		for _, sys := range []units.System{units.Metric, units.Imperial} {
			got := say.Finding(review.Finding{Code: m, By: 8 * time.Minute, From: 0.25, To: 1. / 3, Control: lever}, lang.English(sys))
			for _, text := range []string{got.What, got.Next} {
				assert.Regexp(t, `^[A-Z].*\.$`, text, m)
				assert.NotContains(t, text, "%!", m)
				assert.NotContains(t, text, "  ", m)
			}
			assert.NotEmpty(t, got.Short, m)
		}
		for _, done := range []bool{true, false} {
			text := say.Answer(review.Answer{Code: m, Done: done, By: 6, Asked: 6, Smoke: -0.4, Beside: 3, Control: lever, From: 0.25, To: 0.5}, lang.Metric)
			assert.NotContains(t, text, "%!", m)
			if text != "" {
				assert.Contains(t, text, "About 40 % less smoke", m)
			}
		}
	}
	assert.Equal(t, say.Found{}, say.Finding(review.Finding{Code: "dance"}, lang.Metric))
	held := say.Answer(review.Answer{Code: review.DownEarly, Done: true, By: 6, Asked: 6, Smoke: -0.4, Beside: 3}, lang.Metric)
	assert.Equal(t, "You held the air 6 min longer. About 40 % less smoke for each kilogram than in the three burns before.", held)
	assert.Contains(t, say.Answer(review.Answer{Code: review.Lit, Done: true}, lang.Metric), "Too few burns before it")
	assert.Contains(t, say.Answer(review.Answer{Code: review.Lit, Smoke: 0.3, Beside: 3}, lang.Metric), "something else")
}

// What is sure is said, what is not is left out.
func TestWhatWouldHaveBeenInWords(t *testing.T) {
	got := say.Would(review.Difference{Smoke: review.Range{Low: -40, Middle: -30, High: -20}, Share: review.Range{Low: -0.7, Middle: -0.6, High: -0.55},
		Lasts: review.Range{Low: -25, Middle: -20, High: -15}, TooHot: review.Range{Low: -3, Middle: 0, High: 4}}, lang.Metric)
	assert.Equal(t, "55–70\u202f% less smoke, 20 min shorter", got)
	assert.Empty(t, say.Would(review.Difference{Smoke: review.Range{Middle: -30}, Share: review.Range{Low: -0.7, Middle: -0.3, High: 0.2}}, lang.Metric))
	assert.Contains(t, say.Would(review.Difference{TooHot: review.Range{Low: 4, Middle: 6, High: 9}}, lang.Metric), "more too hot")
	assert.Contains(t, say.Would(review.Difference{PerKilo: review.Range{Low: 0.001, Middle: 0.04, High: 0.08}}, lang.Metric), "up to 8\u202f% more heat")
}

// What is known of a stove, in its owner's marks.
func TestTraitsInWords(t *testing.T) {
	for text, trait := range map[string]learn.Trait{
		"It leaks about as much air as the lever lets in at 12 % of its way (8 % to 18 %).": {Kind: learn.Leaks, Control: lever, Mark: 0.12, Low: 0.08, High: 0.18},
		"It leaks no more than the lever lets in when it is next to shut.":                  {Kind: learn.Leaks, Control: lever, Mark: 0.004},
		"The useful part of the lever, where a usual load burns clean and not too hot, is from a sixth to a third.": {Kind: learn.Useful, Control: lever,
			Low: 1. / 6, High: 1. / 3},
		"Its inlets let in 10–20 % less air than is usual.":     {Kind: learn.Inlets, Share: -0.15, Low: -0.2, High: -0.1},
		"Wood turns to gas 5–15 % quicker in it than is usual.": {Kind: learn.Burning, Share: 0.1, Low: 0.05, High: 0.15},
		"The flue gas gauge reads about 20 °C low at 325 °C (12 °C to 28 °C).": {Kind: learn.Reads, Place: stove.ConnectorProbe, Reading: 325,
			Off: -20, OffLow: -28, OffHigh: -12},
	} {
		assert.Equal(t, text, say.Trait(trait, lang.Metric))
	}
	for _, k := range []learn.TraitKind{learn.Exchange, learn.Late, learn.RoomLoss, learn.Inlets} {
		got := say.Trait(learn.Trait{Kind: k, Share: 0.02, Low: -0.05, High: 0.1}, lang.Imperial)
		assert.Contains(t, got, "about 2 %", k)
	}
	assert.Contains(t, say.Trait(learn.Trait{Kind: learn.Reads, Place: stove.Top, Reading: 300, Off: 10, OffLow: 5, OffHigh: 15}, lang.Imperial), "18 °F high")
}

func TestForetellsInWords(t *testing.T) {
	st := fixture.Stoves()[0].Stove
	known := learn.New()
	assert.Contains(t, say.Foretells(known, st, lang.Metric), "Nothing is known")
	known.Burns = 1
	assert.Contains(t, say.Foretells(known, st, lang.Metric), "One burn taken in")
	known.Burns, known.Trials = 14, []learn.Trial{{Usual: 38, Known: 21}, {Usual: 38, Known: 21}, {Usual: 38, Known: 21}}
	assert.Equal(t, "Forecasts the flue gas to 21 °C, 38 °C by what is usual of such stoves; from the last three burns of 14. So plans, the coach and the reviews go by what was learned.",
		say.Foretells(known, st, lang.Metric))
	assert.Contains(t, say.Foretells(known, st, lang.Imperial), "38 °F, 68 °F")
	known.Trials = known.Trials[:2]
	assert.Contains(t, say.Foretells(known, st, lang.Metric), "once it has forecast three")
	known.Trials = []learn.Trial{{Usual: 5, Known: 9}, {Usual: 5, Known: 9}, {Usual: 5, Known: 9}}
	assert.Contains(t, say.Foretells(known, st, lang.Metric), "no better")
	for _, c := range belief.Changes {
		assert.NotEmpty(t, say.Changed(c, lang.Metric), c)
		assert.NotEmpty(t, say.Widens(c, lang.Metric), c)
	}
}

// Both ways of every subject have a name, and something that a trial can ask for.
func TestWaysInWords(t *testing.T) {
	both := map[ways.Subject][2]string{ways.Lay: {"top-down", "raft"}, ways.Wood: {"beech", "ash"}, ways.Direction: {"end-on", "sideways"}}
	for _, s := range ways.Subjects {
		pair, there := both[s]
		if !there {
			if pair = [2]string{ways.Long, ways.Short}; s == ways.Setting || s == ways.Dryness {
				pair = [2]string{ways.High, ways.Low}
			}
		}
		for _, w := range pair {
			assert.NotEmpty(t, say.Way(s, w, lang.Metric), "%s %s", s, w)
			assert.NotEmpty(t, say.WayToDo(s, w, lang.Metric), "%s %s", s, w)
			assert.False(t, strings.HasSuffix(say.WayToDo(s, w, lang.Metric), "."), "%s %s", s, w)
		}
		assert.NotEqual(t, say.Way(s, pair[0], lang.Metric), say.Way(s, pair[1], lang.Metric), s)
	}
	q := ways.Question{Subject: ways.Lay, A: "top-down", B: "bottom-up"}
	few := ways.Verdict{Figure: ways.Early, A: []float64{1}, B: []float64{1, 2}, TooFew: true}
	assert.Equal(t, "Too few burns to say: 1 and 2, and each way wants 4.", say.Compared(q, few, lang.Metric))
	none := ways.Verdict{Figure: ways.Early, MedianA: 5, MedianB: 9.5, Difference: 4.5, Low: -1, High: 8, Chance: 0.6}
	assert.Contains(t, say.Compared(q, none, lang.Metric), "No difference in time to the working band that chance does not make: 5.0 min and 9.5 min")
	sure := ways.Verdict{Figure: ways.Early, MedianA: 5, MedianB: 9, Difference: 4, Low: 2, High: 6, Chance: 0.002}
	assert.Equal(t, "Bottom-up: 4.0 min more time to the working band than top-down, 2.0 to 6.0 in 9 of 10 tries by chance. Chance alone makes as much once in 500 times.", say.Compared(q, sure, lang.Metric))
	small := sure
	small.Small = true
	assert.Contains(t, say.Compared(q, small, lang.Metric), "No difference in time to the working band that matters")
	mixed := sure
	mixed.Mixed = true
	assert.Contains(t, say.Compared(q, mixed, lang.Metric), "cannot be told")
	black := ways.Verdict{Figure: ways.Glass, MedianA: 0, MedianB: 1.5, Difference: 1.5, Low: 1, High: 2, Chance: 0.01}
	assert.Equal(t, "Bottom-up: between hazed and black, and with top-down clear, in the middle. Chance alone makes as much once in 100 times.", say.Compared(q, black, lang.Metric))
	assert.Equal(t, "Smoke: top-down 5.0 g/kg, bottom-up 9.0 g/kg in the middle.",
		say.ByModel(q, ways.Verdict{Figure: ways.Smoke, MedianA: 5, MedianB: 9}, lang.Metric))
	assert.Equal(t, "None of the burns top-down were lit for the night, and all of those bottom-up.", say.Confound(q, ways.Confound{Trait: ways.ByHours,
		Shares: [2]float64{0, 1}, Whole: true}, lang.Metric))
	assert.Contains(t, say.Confound(q, ways.Confound{Trait: ways.ByTime, Number: true, Shares: [2]float64{9, 3}}, lang.Metric),
		"You burnt bottom-up first and top-down later")
	for _, trait := range []ways.Trait{ways.ByOutdoor, ways.ByWater, ways.ByLoad} {
		assert.Contains(t, say.Confound(q, ways.Confound{Trait: trait, Number: true, Shares: [2]float64{0.1, 0.3}}, lang.Imperial), "Not the same in other things")
	}
	for _, f := range slices.Concat(ways.Observed, ways.Computed) {
		for _, sys := range []units.System{units.Metric, units.Imperial} {
			name, unit := say.FigureName(f, lang.English(sys))
			assert.NotEmpty(t, name)
			assert.True(t, unit != "" || f == ways.Cap || f == ways.Glass, f)
		}
	}
}

// A finding tells its first gain and whatever it would have cost; the strip tells all.
func TestAFindingTellsWhatItCosts(t *testing.T) {
	d := review.Difference{Smoke: review.Range{Low: -60, Middle: -50, High: -40}, Share: review.Range{Low: -0.6, Middle: -0.5, High: -0.4},
		PerKilo: review.Range{Low: 0.05, Middle: 0.06, High: 0.08}, Lasts: review.Range{Low: -25, Middle: -20, High: -15}}
	would := func() string { return say.Finding(review.Finding{Code: review.DownLate, Would: d}, lang.Metric).Would }
	assert.Equal(t, "40–60\u202f% less smoke, 20 min shorter", would())
	assert.Equal(t, "40–60\u202f% less smoke, 5–8\u202f% more heat from each kilogram, 20 min shorter", say.Would(d, lang.Metric))
	d.PerKilo = review.Range{Low: -0.08, Middle: -0.06, High: -0.05}
	assert.Equal(t, "40–60\u202f% less smoke, 5–8\u202f% less heat from each kilogram, 20 min shorter", would())
}
