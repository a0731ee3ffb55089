package burn_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// What must be answered before a plan's step, from short records.
func TestWhatComesFirst(t *testing.T) {
	reading := func(minute int, p stove.Place, c float64) burn.Entry {
		e := at(minute, burn.Entry{Kind: burn.Temperature, Place: p})
		e.Reading, e.ID = units.Celsius(c), e.ID+string(p)+e.At.Format("1504")
		return e
	}
	door := func(minute int, d fire.Door) burn.Entry {
		return at(minute, burn.Entry{ID: "d", Kind: burn.Door, Door: d})
	}
	smoke := func(minute int, s string) burn.Entry {
		return at(minute, burn.Entry{ID: "s", Kind: burn.Smoke, Smoke: s})
	}
	for name, c := range map[string]struct {
		log   []burn.Entry
		after int
		want  burn.FirstKind
	}{
		"nothing":                  {nil, 10, ""},
		"top over its limit":       {[]burn.Entry{reading(30, stove.ConnectorProbe, 400), reading(30, stove.Top, 429)}, 31, burn.OverLimit},
		"and back under it":        {[]burn.Entry{reading(30, stove.Top, 429), reading(40, stove.Top, 380)}, 41, ""},
		"long ago":                 {[]burn.Entry{reading(30, stove.Top, 429)}, 70, ""},
		"negative draft":           {[]burn.Entry{at(5, burn.Entry{Kind: burn.Draft, Draft: -3})}, 6, burn.Spillage},
		"draft":                    {[]burn.Entry{at(5, burn.Entry{Kind: burn.Draft, Draft: 3})}, 6, ""},
		"too hot before the door":  {[]burn.Entry{door(1, fire.Open), reading(30, stove.Top, 429)}, 31, burn.OverLimit},
		"door ajar to light":       {[]burn.Entry{door(1, fire.Ajar)}, 12, ""},
		"door ajar and forgotten":  {[]burn.Entry{door(1, fire.Ajar)}, 25, burn.DoorForgotten},
		"door open and forgotten":  {[]burn.Entry{door(1, fire.Open)}, 8, burn.DoorForgotten},
		"door shut again":          {[]burn.Entry{door(1, fire.Ajar), door(20, fire.Shut)}, 40, ""},
		"grey smoke, cold flue":    {[]burn.Entry{smoke(20, burn.SmokeGrey), reading(20, stove.ConnectorProbe, 110)}, 22, burn.SmokeInCold},
		"grey smoke, hot flue":     {[]burn.Entry{smoke(20, burn.SmokeGrey), reading(20, stove.ConnectorProbe, 260)}, 22, ""},
		"grey smoke, nobody read":  {[]burn.Entry{smoke(20, burn.SmokeGrey)}, 22, ""},
		"clear since":              {[]burn.Entry{smoke(20, burn.SmokeGrey), smoke(24, burn.SmokeClear), reading(24, stove.ConnectorProbe, 110)}, 25, ""},
		"white smoke in the cold":  {[]burn.Entry{smoke(20, burn.SmokeWhite), reading(20, stove.ConnectorProbe, 110)}, 22, ""},
		"an entry of later counts": {[]burn.Entry{reading(60, stove.Top, 429)}, 30, ""},
	} {
		b := kitchen()
		b.Entries = c.log
		got, found := b.First(start.Add(time.Duration(c.after) * time.Minute))
		assert.Equal(t, c.want != "", found, name)
		if found {
			assert.Equal(t, c.want, got.Kind, name)
		}
	}
	draft := func(second int, pa float64) burn.Entry {
		return burn.Entry{Kind: burn.Draft, Draft: units.Pascal(pa), Reported: true, At: start.Add(10*time.Minute + time.Duration(second)*time.Second)}
	}
	lit := at(0, burn.Entry{ID: "l", Kind: burn.Light})
	for name, c := range map[string]struct {
		log  []burn.Entry
		want bool
	}{
		"one gust":              {[]burn.Entry{lit, draft(0, 6), draft(30, -1)}, false},
		"the only report":       {[]burn.Entry{lit, draft(30, -1)}, false},
		"a minute of it":        {[]burn.Entry{lit, draft(-90, 4), draft(0, -2), draft(20, -1), draft(40, -3)}, true},
		"and over":              {[]burn.Entry{lit, draft(0, -2), draft(20, -1), draft(40, 2)}, false},
		"nothing burns":         {[]burn.Entry{draft(0, -2), draft(20, -1)}, false},
		"written down, unlit":   {[]burn.Entry{at(10, burn.Entry{ID: "w", Kind: burn.Draft, Draft: -1})}, true},
		"written down, then +3": {[]burn.Entry{lit, at(9, burn.Entry{ID: "w", Kind: burn.Draft, Draft: -1}), draft(30, 3)}, false},
	} {
		b := kitchen()
		b.Coals, b.Entries = 0, c.log
		f, found := b.First(start.Add(11 * time.Minute))
		assert.Equal(t, c.want, found && f.Kind == burn.Spillage, "reported: %s", name)
	}
	byEye := kitchen()
	byEye.Stove.Gauges = nil
	byEye.Entries = []burn.Entry{smoke(20, burn.SmokeGrey)}
	got, found := byEye.First(start.Add(21 * time.Minute))
	assert.True(t, found, "without a thermometer the eye is enough")
	assert.False(t, got.Known)
	struck := kitchen()
	struck.Entries = []burn.Entry{reading(30, stove.Top, 429)}
	struck.Entries[0].Struck = true
	_, found = struck.First(start.Add(31 * time.Minute))
	assert.False(t, found, "an undone reading says nothing")
}
