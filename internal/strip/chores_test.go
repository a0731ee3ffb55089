package strip

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/lang"
)

// What is due stands before today, what comes after it by its day; no word lies on another or
// sticks out, and where there is no room for one it is in the title of its dot.
func TestTheYearAhead(t *testing.T) {
	now := time.Date(2026, time.December, 1, 9, 0, 0, 0, time.UTC)
	row := YearRow{Name: "Auntie", Chores: []Chore{{Name: "Look at the grate", Due: true, At: now.AddDate(0, -1, 0)}, {Name: "See that air comes in", Due: true, Danger: true}}}
	for i := range 9 {
		row.Chores = append(row.Chores, Chore{Name: fmt.Sprintf("Look at the cap and its screen %d", i), At: now.AddDate(0, 0, 20+40*i)})
	}
	row.Chores = append(row.Chores, Chore{Name: "Sweep the chimney", At: now.AddDate(0, 0, 22)})
	drawn := Year{Now: now, Rows: []YearRow{row, {Name: "the household"}}}.Drawn(lang.Locale{})
	for name, svg := range map[string]string{"wide": string(drawn.Wide), "phone": string(drawn.Narrow)} {
		width := map[string]float64{"wide": Page, "phone": Phone}[name]
		assert.Equal(t, 10, strings.Count(svg, `class="year-coming"`), name)
		assert.Contains(t, svg, "<title>Sweep the chimney</title>", name)
		today, err := strconv.ParseFloat(regexp.MustCompile(`now-word" x="([\d.]+)"`).FindStringSubmatch(svg)[1], 64)
		require.NoError(t, err)
		number := func(s string) float64 {
			f, err := strconv.ParseFloat(s, 64)
			require.NoError(t, err)
			return f
		}
		for _, c := range regexp.MustCompile(`class="year-(\w+)" cx="([\d.]+)"`).FindAllStringSubmatch(svg, -1) {
			assert.Equal(t, c[1] != "coming", number(c[2]) < today, c[0])
		}
		danger := regexp.MustCompile(`year-danger" cx="([\d.]+)"`).FindStringSubmatch(svg)
		due := regexp.MustCompile(`year-due" cx="([\d.]+)"`).FindStringSubmatch(svg)
		assert.Greater(t, number(danger[1]), number(due[1]), "what endangers stands next to today")
		ends := map[string]float64{}
		words := 0
		for _, w := range regexp.MustCompile(`<text class="quiet" x="([\d.]+)" y="([\d.]+)">([^<]*)<`).FindAllStringSubmatch(svg, -1) {
			words++
			assert.GreaterOrEqual(t, number(w[1]), ends[w[2]], "%s: %s lies on another", name, w[3])
			ends[w[2]] = number(w[1]) + widthOf(w[3])
			assert.LessOrEqual(t, ends[w[2]], width, w[3])
		}
		assert.Positive(t, words, name)
	}
}
