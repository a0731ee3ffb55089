package burn_test

import (
	"strings"
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
	said := func(minute int, k burn.Kind) burn.Entry { return at(minute, burn.Entry{ID: "k", Kind: k}) }
	again := func(e burn.Entry) burn.Entry { e.ID += "2"; return e }
	ppm := func(minute int, v float64) burn.Entry { return at(minute, burn.Entry{ID: "p", Kind: burn.CO, PPM: v}) }
	put := func(minute, kilos int) burn.Entry {
		return at(minute, burn.Entry{ID: "l", Kind: burn.Load, Load: load(float64(kilos))})
	}
	mineral := func(minute int) burn.Entry { return at(minute, burn.Entry{ID: "m", Kind: burn.Mineral, Load: load(2)}) }
	for name, c := range map[string]struct {
		log   []burn.Entry
		after int
		want  burn.FirstKind
	}{
		"nothing":                        {nil, 10, ""},
		"top over its limit":             {[]burn.Entry{reading(30, stove.ConnectorProbe, 400), reading(30, stove.Top, 429)}, 31, burn.OverLimit},
		"and back under it":              {[]burn.Entry{reading(30, stove.Top, 429), reading(40, stove.Top, 380)}, 41, ""},
		"too hot until it is read below": {[]burn.Entry{reading(30, stove.Top, 429)}, 170, burn.OverLimit},
		"but not once it went out":       {[]burn.Entry{reading(30, stove.Top, 429), said(90, burn.WentOut)}, 170, ""},
		"smoke until it is gone":         {[]burn.Entry{smoke(20, burn.SmokeRoom)}, 200, burn.Spillage},
		"also when the cap is clear":     {[]burn.Entry{smoke(20, burn.SmokeRoom), again(smoke(40, burn.SmokeClear))}, 200, burn.Spillage},
		"and it is gone":                 {[]burn.Entry{smoke(20, burn.SmokeRoom), again(smoke(40, burn.SmokeGone))}, 41, ""},
		"the alarm sounds":               {[]burn.Entry{said(5, burn.COAlarm), reading(6, stove.Top, 429)}, 300, burn.CarbonMonoxide},
		"and is silent":                  {[]burn.Entry{said(5, burn.COAlarm), ppm(40, 0)}, 41, ""},
		"a display at 40":                {[]burn.Entry{ppm(5, 40)}, 200, burn.CarbonMonoxide},
		"a display at 12":                {[]burn.Entry{ppm(5, 12)}, 200, burn.SomeMonoxide},
		"a chimney fire":                 {[]burn.Entry{said(5, burn.ChimneyFire), reading(6, stove.Top, 429)}, 300, burn.InTheChimney},
		"glaze":                          {[]burn.Entry{said(5, burn.Glaze)}, 6, burn.GlazeSeen},
		"twice the manual's load":        {[]burn.Entry{put(5, 12)}, 8, burn.Overload},
		"in two armfuls":                 {[]burn.Entry{put(5, 5), again(put(8, 5))}, 9, burn.Overload},
		"as the manual allows":           {[]burn.Entry{put(5, 6)}, 8, ""},
		"an hour after it":               {[]burn.Entry{put(5, 12)}, 65, ""},
		"mineral fuel on wood":           {[]burn.Entry{put(5, 3), mineral(9)}, 10, burn.MineralOnWood},
		"in a stove for wood":            {[]burn.Entry{mineral(9)}, 10, burn.MineralOnWood},
		"flares on kindling":             {[]burn.Entry{said(0, burn.Light), reading(5, stove.ConnectorProbe, 520)}, 6, ""},
		"flares for long":                {[]burn.Entry{said(0, burn.Light), reading(5, stove.ConnectorProbe, 520), reading(9, stove.ConnectorProbe, 521)}, 9, burn.OverLimit},
		"and far too hot":                {[]burn.Entry{said(0, burn.Light), reading(5, stove.ConnectorProbe, 620)}, 6, burn.OverLimit},
		"negative draft":                 {[]burn.Entry{at(5, burn.Entry{Kind: burn.Draft, Draft: -3})}, 6, burn.Spillage},
		"draft":                          {[]burn.Entry{at(5, burn.Entry{Kind: burn.Draft, Draft: 3})}, 6, ""},
		"too hot before the door":        {[]burn.Entry{door(1, fire.Open), reading(30, stove.Top, 429)}, 31, burn.OverLimit},
		"door ajar to light":             {[]burn.Entry{door(1, fire.Ajar)}, 12, ""},
		"door ajar and forgotten":        {[]burn.Entry{door(1, fire.Ajar)}, 25, burn.DoorForgotten},
		"door open and forgotten":        {[]burn.Entry{door(1, fire.Open)}, 8, burn.DoorForgotten},
		"door shut again":                {[]burn.Entry{door(1, fire.Ajar), door(20, fire.Shut)}, 40, ""},
		"grey smoke, cold flue":          {[]burn.Entry{smoke(20, burn.SmokeGrey), reading(20, stove.ConnectorProbe, 110)}, 22, burn.SmokeInCold},
		"grey smoke, hot flue":           {[]burn.Entry{smoke(20, burn.SmokeGrey), reading(20, stove.ConnectorProbe, 260)}, 22, ""},
		"grey smoke, nobody read":        {[]burn.Entry{smoke(20, burn.SmokeGrey)}, 22, ""},
		"clear since":                    {[]burn.Entry{smoke(20, burn.SmokeGrey), smoke(24, burn.SmokeClear), reading(24, stove.ConnectorProbe, 110)}, 25, ""},
		"white smoke in the cold":        {[]burn.Entry{smoke(20, burn.SmokeWhite), reading(20, stove.ConnectorProbe, 110)}, 22, ""},
		"an entry of later counts":       {[]burn.Entry{reading(60, stove.Top, 429)}, 30, ""},
	} {
		b := kitchen()
		if b.Entries = c.log; strings.HasPrefix(name, "flares") || strings.HasPrefix(name, "and far") {
			b.Coals = 0
		}
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

// An ash flap is for lighting: open on a fire that stands it is a danger within minutes, and
// shut again it is none.
func TestAFlapIsForLighting(t *testing.T) {
	b := kitchen()
	b.Stove.Controls = append(b.Stove.Controls, stove.Control{Key: "flap", Name: "Ash flap", Role: stove.AshFlap, Scale: b.Stove.Controls[0].Scale})
	move := func(minute int, opening float64) burn.Entry {
		return at(minute, burn.Entry{ID: "f" + start.Add(time.Duration(minute)*time.Minute).Format("1504"), Kind: burn.Control, Control: "flap", Opening: opening})
	}
	kindAt := func(minute int) burn.FirstKind {
		f, _ := b.First(start.Add(time.Duration(minute) * time.Minute))
		return f.Kind
	}
	b.Entries = []burn.Entry{at(0, burn.Entry{ID: "l", Kind: burn.Light}), move(0, 1)}
	assert.Empty(t, kindAt(6))
	assert.Equal(t, burn.FlapForgotten, kindAt(9))
	b.Entries = append(b.Entries, at(3, burn.Entry{ID: "t", Kind: burn.Temperature, Place: stove.ConnectorProbe, Reading: 230}))
	assert.Equal(t, burn.FlapForgotten, kindAt(4), "the flue is warm: it is not needed any more")
	b.Entries = append(b.Entries, move(5, 0))
	assert.Empty(t, kindAt(12))
}
