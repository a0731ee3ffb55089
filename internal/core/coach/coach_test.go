package coach_test

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
)

var start = time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)

// record is a burn in one of the mill's stoves, written as "minute what how much", one
// entry between two semicolons.
func record(t *testing.T, of int, coals units.Kilogram, text string) burn.Burn {
	t.Helper()
	p := fixture.Stoves()[of]
	b := burn.Burn{Stove: p.Stove, House: p.Space.House, Outdoor: 2, Room: 18, Wanted: [2]float64{19, 21.5}, Coals: coals, Started: start}
	if coals > 0 {
		b.Warmth = 120
	}
	beech, _ := wood.SpeciesByKey("beech")
	offcuts, _ := wood.SpeciesByKey("softwood-offcuts")
	air, _ := p.MainAir()
	places := map[string]stove.Place{"probe": stove.ConnectorProbe, "top": stove.Top, "cat": stove.CatalystProbe, "room": stove.RoomAir, "surface": stove.ConnectorSurface}
	kinds := map[string]burn.Kind{"coals": burn.ToCoals, "dead": burn.WentOut, "alarm": burn.COAlarm, "roar": burn.ChimneyFire, "glaze": burn.Glaze,
		"notyet": burn.NotYet}
	doors := map[string]fire.Door{"shut": fire.Shut, "ajar": fire.Ajar, "open": fire.Open}
	for i, line := range strings.Split(text, ";") {
		f := strings.Fields(line)
		if len(f) == 0 {
			continue
		}
		minute, err := strconv.ParseFloat(f[0], 64)
		require.NoError(t, err, line)
		e := burn.Entry{ID: fmt.Sprint("e", i), Seq: int64(i), At: start.Add(time.Duration(minute * float64(time.Minute)))}
		number := 0.0
		if len(f) > 2 {
			number, _ = strconv.ParseFloat(f[2], 64)
		}
		switch what := f[1]; {
		case what == "lit":
			e.Kind = burn.Light
		case what == "kindling":
			e.Kind, e.Load = burn.Load, &fire.Load{Species: offcuts, Moisture: 0.12, Pieces: 12, PieceMass: units.Kilogram(number / 12), PieceLength: 0.2,
				Kindling: true, Lay: fire.TopDown, StarterKind: fire.WaxBlock, Direction: stove.Sideways}
		case what == "load" || what == "wet":
			n := max(1, int(number/1.4+0.5))
			e.Kind, e.Load = burn.Load, &fire.Load{Species: beech, Moisture: 0.18, Pieces: n, PieceMass: units.Kilogram(number / float64(n)), PieceLength: p.Width * 0.7,
				Direction: stove.Sideways, Lay: fire.OnCoals}
			if what == "wet" {
				e.Load.Moisture = 0.45
			}
		case what == "air":
			e.Kind, e.Control, e.Opening = burn.Control, air.Key, number
		case what == "bypass":
			e.Kind, e.Control, e.Opening = burn.Control, "bypass", number
		case what == "door":
			e.Kind, e.Door = burn.Door, doors[f[2]]
		case what == "smoke":
			e.Kind, e.Smoke = burn.Smoke, f[2]
		case what == "draft":
			e.Kind, e.Draft = burn.Draft, units.Pascal(number)
		case what == "black":
			e.Kind = burn.Black
		case what == "out":
			e.Kind = burn.Out
		case what == "whistle":
			e.Kind = burn.Whistle
		case slices.Contains(burn.Signs, burn.Kind(what)):
			e.Kind = burn.Kind(what)
		case what == "grate" || what == "flap" || what == "gate":
			e.Kind, e.Control, e.Opening = burn.Control, what, number
			for _, c := range p.Controls {
				if what == "grate" && c.Role == stove.UnderGrate {
					e.Control = c.Key
				}
			}
		case what == "ovoids":
			l := fire.Load{Species: wood.Species{Name: "ovoids", Mineral: true}, Pieces: 10, PieceMass: units.Kilogram(number / 10)}
			e.Kind, e.Load = burn.Mineral, &l
		case what == "co":
			e.Kind, e.PPM = burn.CO, number
		case kinds[what] != "":
			e.Kind = kinds[what]
		case places[what] != "":
			e.Kind, e.Place, e.Reading = burn.Temperature, places[what], units.Celsius(number)
		default:
			t.Fatalf("not a line of a record: %q", line)
		}
		b.Entries = append(b.Entries, e)
	}
	return b
}

func ask(b burn.Burn, p *plan.Plan, minute float64) coach.Answer {
	now := start.Add(time.Duration(minute * float64(time.Minute)))
	return coach.Ask(coach.Asked{Burn: b, Plan: p, Now: now, Belief: b.Believed(belief.Usual(), now)})
}

// A fire as it should be, as a beginning for others: lit from above, loaded on its coals.
const (
	lit     = "0 air 1; 0 door ajar; 0 load 2.6; 0 kindling 1.1; 0 lit;"
	stands  = lit + "7 door shut; 7 probe 190; 12 probe 230; 20 probe 250;"
	onCoals = "0 air 1; 0 load 4.2; 0 lit;"
)

// Every rule, from a short record.
func TestRules(t *testing.T) {
	bare := func(b *burn.Burn) { b.Stove.Gauges = nil }
	for name, c := range map[string]struct {
		stove  int
		coals  units.Kilogram
		record string
		minute float64
		change func(*burn.Burn)
		want   coach.RuleID
	}{
		"over its limit":           {0, 0.7, onCoals + "10 probe 250; 20 probe 560", 21, nil, coach.OverLimit},
		"climbing too fast":        {0, 0.9, onCoals + "3 probe 230; 6 probe 330; 8 probe 405; 9 probe 440", 9.5, nil, coach.Climbing},
		"cooled after it was shut": {0, 0.9, onCoals + "6 probe 400; 8 probe 500; 8.2 air 0; 12 probe 330", 12.5, nil, coach.Cooled},
		"goes out with wood on": {0, 0.4,
			onCoals + "6 probe 250; 8 probe 500; 8.2 air 0; 20 probe 90; 26 probe 60; 26 out; 27 air 1; 34 probe 45; 34 out; 40 probe 40", 41, nil, coach.Dies},
		"smoke in the room":           {0, 0.7, onCoals + "2 smoke room", 3, nil, coach.Spillage},
		"draft the wrong way":         {0, 0.7, onCoals + "2 draft -2", 3, nil, coach.Spillage},
		"a reading that cannot be":    {0, 0.7, onCoals + "5 probe 240; 6 probe 20", 6.5, nil, coach.Impossible},
		"colder than the room":        {0, 0.7, onCoals + "5 probe -25", 6, nil, coach.Impossible},
		"a top far over the flue gas": {0, 0.7, onCoals + "5 probe 200; 9 probe 210; 9 top 420", 9.5, nil, coach.Impossible},
		"a top a little over it":      {0, 0.7, onCoals + "5 probe 200; 9 probe 230; 9 top 290", 9.5, nil, coach.Fine},
		"died when the door was shut": {0, 0, lit + "3 door shut; 5 out", 6, nil, coach.DiedOnShut},
		"died, by the gauge":          {0, 0, lit + "3 probe 120; 4 door shut; 5 probe 108; 6.5 probe 90", 7, nil, coach.DiedOnShut},
		"door left ajar":              {0, 0, lit + "7 probe 190; 12 probe 230; 14 probe 245", 15, nil, coach.DoorAjar},
		"door ajar for long, by eye":  {0, 0, lit, 22, bare, coach.DoorAjar},
		"the load has not caught":     {0, 0.06, "0 air 1; 0 wet 5.6; 0 lit; 8 probe 60; 12 probe 55; 12 out", 14, nil, coach.NotCaught},
		"a load that only cools it":   {0, 0.7, "0 air 1; 0 load 2.6; 0 lit; 10 probe 260; 40 probe 215; 45 load 4.2; 48 probe 200; 51 probe 186; 54 probe 172", 54.5, nil, coach.NotCaught},
		"and one that lifts it":       {0, 0.7, "0 air 1; 0 load 2.6; 0 lit; 10 probe 260; 40 probe 215; 45 load 4.2; 48 probe 196; 51 probe 205; 54 probe 240", 54.5, nil, coach.Fine},
		"turned down, and it sinks":   {0, 0.9, "0 air 1; 0 load 5.6; 0 lit; 10 probe 290; 15 black; 15 air 0.33; 22 probe 215; 26 probe 199; 30 probe 190; 34 probe 181", 34.5, nil, coach.TooFar},
		"not caught, by eye":          {0, 0.06, "0 air 1; 0 wet 5.6; 0 lit; 12 out", 14, bare, coach.NotCaught},
		"big wood on a small fire":    {0, 0, lit + "5 door shut; 8 load 5; 11 out", 12, nil, coach.BigTooEarly},
		"turned down too far": {0, 0.7,
			onCoals + "12 probe 290; 15 black; 15 air 0.5; 24 probe 280; 25 air 0.1; 31 probe 210; 34 probe 180; 34 out", 35, nil, coach.TooFar},
		"too far, by eye":        {0, 0.7, onCoals + "15 black; 15 air 0.5; 25 air 0.1; 34 out", 35, bare, coach.TooFar},
		"not black yet":          {0, 0.5, onCoals + "4 air 0.2; 5 probe 150", 6, nil, coach.NotCharred},
		"all at once":            {0, 0.7, onCoals + "14 probe 260; 16 black; 16 air 0.05", 18.5, nil, coach.InSteps},
		"smoke from a cold flue": {0, 0.4, "0 air 1; 0 wet 5; 0 lit; 14 smoke grey; 14 probe 110; 14 door shut", 15, nil, coach.Smoulders},
		"smoke for too long":     {0, 0.7, onCoals + "15 probe 280; 15 black; 16 air 0.4; 40 smoke grey; 40 probe 240", 41, nil, coach.SmokeLong},
		"a whistle":              {0, 0, stands + "21 whistle", 22, nil, coach.Whistles},
		"the glass blackens":     {0, 0.7, onCoals + "12 probe 280; 15 black; 15 air 0.5; 22 air 0.15; 40 probe 250; 41 glass-edge", 42, cool, coach.GlassBlackens},
		"it did, and the air was opened since": {0, 0.7, onCoals + "12 probe 280; 15 black; 15 air 0.5; 22 air 0.15; 40 probe 250; 41 glass-edge; 42 air 0.3", 44, cool,
			coach.Fine},
		"the catalyst engaged too early": {1, 0.8,
			"0 air 1; 0 bypass 1; 0 load 5; 0 lit; 4 bypass 0; 4 cat 150; 11 cat 160; 12 probe 200", 12.5, nil, coach.BypassEarly},
		"the catalyst is ready": {1, 0.8,
			"0 air 1; 0 bypass 1; 0 load 5; 0 lit; 14 cat 300; 20 cat 330; 21 cat 340; 21 probe 300; 20 black", 21.5, nil, coach.BypassReady},
		"the catalyst has stalled": {1, 0.8,
			"0 air 1; 0 bypass 1; 0 load 6; 0 lit; 14 cat 300; 20 cat 330; 20 black; 20 bypass 0; 22 air 0.4; " +
				"45 cat 180; 45 probe 230; 48 cat 170; 48 probe 225", 49, nil, coach.Stalled},
		"coals without air":      {0, 0.7, onCoals + "15 black; 15 air 0.5; 215 out; 222 air 0", 224, nil, coach.Starved},
		"the flue does not draw": {0, 0, "0 draft 0.5", 1, nil, coach.Prime},
		"the next load":          {0, 0.7, onCoals + "12 probe 280; 15 black; 15 air 0.5; 215 out; 215 probe 130", 216, cold, coach.ReloadNow},
		"coals nearly gone":      {0, 0.7, onCoals + "12 probe 280; 15 black; 15 air 0.5; 215 out; 270 probe 90", 275, cold, coach.CoalsGoing},
		"warm enough, and coals": {0, 0.9,
			"0 air 1; 0 load 6.5; 0 lit; 12 probe 280; 15 black; 15 air 0.5; 265 out; 265 probe 140", 266, hot, coach.LetBurn},
		"nobody has read the gauge":    {0, 0.7, onCoals + "2 probe 180", 27, nil, coach.Silent},
		"nobody logs":                  {0, 0.9, "0 air 1; 0 load 6.5; 0 lit; 15 black; 15 air 0.3;", 95, bare, coach.NobodyLogs},
		"it is out":                    {0, 0.3, "0 air 1; 0 load 1.4; 0 lit; 90 out; 200 probe 30", 370, nil, coach.ItIsOut},
		"it went out, and was said so": {0, 0.3, "0 air 1; 0 load 1.4; 0 lit; 40 probe 60; 41 dead", 42, nil, coach.ItIsOut},
		"the alarm":                    {0, 0.7, onCoals + "5 probe 520; 6 alarm", 90, nil, coach.Monoxide},
		"12 ppm":                       {0, 0.7, onCoals + "6 co 12", 9, nil, coach.SomeMonoxide},
		"a roar in the chimney":        {0, 0.7, onCoals + "5 probe 520; 6 roar", 200, nil, coach.ChimneyFire},
		"glaze":                        {0, 0, "0 glaze", 3, nil, coach.Glazed},
		"twice the manual's load":      {0, 0.7, "0 air 1; 0 load 11; 0 lit; 3 probe 200", 4, nil, coach.Overloaded},
		"loads on each other":          {0, 0.7, "0 air 1; 0 load 4; 0 lit; 12 load 4; 24 load 5", 25, nil, coach.Overloaded},
		"two fuels":                    {2, 0.7, "0 air 1; 0 load 3; 0 lit; 20 ovoids 2", 21, nil, coach.TwoFuels},
		"the flap, nine minutes":       {2, 0.4, "0 air 1; 0 load 3; 0 lit; 0 flap 1; 9 surface 215", 9.1, withFlap, coach.FlapOpen},
		"air from below, for long": {2, 0.4, "0 air 1; 0 grate 1; 0 load 3; 0 lit; 10 surface 140; 17 surface 150; 20 black; 21 surface 150", 21.5, nil,
			coach.GrateOpen},
		"lit from below, as it must be": {2, 0.3, "0 air 0; 0 grate 1; 0 load 2; 0 lit; 6 surface 70; 8 surface 80", 8.5, nil, coach.Fine},
		"the fresh air is shut":         {0, 0.7, onCoals + "0 gate 0; 5 probe 210; 8 probe 240", 9, withGate, coach.GateShut},
		"nobody for four hours":         {0, 0.9, "0 air 1; 0 load 6.5; 0 lit; 15 black; 15 air 0.3", 300, nil, coach.Unheard},
		"the room stays cold": {0, 0.9, "0 air 1; 0 load 6.5; 0 lit; 15 probe 280; 15 black; 16 air 0.3; 30 room 16.9; 90 room 17; 90 probe 240; 90 smoke clear", 91,
			nil, coach.RoomCold},
		"it will be cold before ten": {0, 0.7,
			onCoals + "12 probe 290; 15 black; 15 air 0.5; 22 air 0.33; 40 probe 260; 45 smoke clear; 55 probe 245; 55 room 19.2", 56, frost, coach.LoadBy},
		"and with wood enough": {0, 0.7,
			"0 air 1; 0 load 6.8; 0 lit; 12 probe 290; 15 black; 15 air 0.5; 22 air 0.33; 40 probe 260; 45 smoke clear; 55 probe 245; 55 room 19.4", 56, nil, coach.Fine},
		"warm enough, with wood on": {0, 0.9,
			"0 air 1; 0 load 6.5; 0 lit; 12 probe 280; 15 black; 15 air 0.5; 22 air 0.33; 40 probe 260; 45 smoke clear; 55 probe 245; 55 room 21", 56, hot, coach.Enough},
		"black, and nobody has turned down": {0, 0.9, "0 air 1; 0 load 5.6; 0 lit; 6 probe 240; 10 probe 300; 13 black; 14 probe 320", 14.5, cool, coach.TurnDown},
		"black, and the room far too cold":  {0, 0.9, "0 air 1; 0 load 2.8; 0 lit; 6 probe 240; 10 probe 300; 11 black; 12 probe 320; 16 probe 310; 16 room 13", 16.5, frost, coach.SecondLoad},
		"the same in a mild room":           {0, 0.9, "0 air 1; 0 load 2.8; 0 lit; 6 probe 240; 10 probe 300; 11 black; 12 probe 320; 16 probe 310; 16 room 18.5", 16.5, nil, coach.TurnDown},
		"the same with a full stove":        {0, 0.9, "0 air 1; 0 load 5.6; 0 lit; 6 probe 240; 10 probe 300; 13 black; 14 probe 320; 14 room 13", 14.5, frost, coach.TurnDown},
		"black, the flue still cool":        {0, 0.9, "0 air 1; 0 load 5.6; 0 lit; 6 probe 150; 10 probe 180; 13 black; 14 probe 205", 14.5, nil, coach.Fine},
		"half open, black, minutes ago":     {0, 0.9, "0 air 1; 0 load 5.6; 0 lit; 6 probe 240; 10 probe 300; 13 black; 14 probe 320; 14 air 0.5; 16 probe 310", 17, nil, coach.Fine},
		"kindling flares":                   {0, 0, lit + "3 probe 250; 4 probe 320; 5 probe 400", 5.1, nil, coach.DoorAjar},
		"is it down to coals":               {0, 0.7, "0 air 1; 0 load 4.2; 0 lit; 15 black; 15 air 0.5; 150 smoke clear", 215, both(bare, hot), coach.AskCoals},
		"and somebody says: not yet":        {0, 0.7, "0 air 1; 0 load 4.2; 0 lit; 15 black; 15 air 0.5; 150 smoke clear; 213 notyet", 215, both(bare, hot), coach.Fine},
		"flames gone, and much air":         {0, 0.7, onCoals + "12 probe 280; 15 black; 15 air 0.5; 215 out; 215 probe 130", 216, hot, coach.KeepCoals},
		"as it should be: lighting":         {0, 0, lit + "3 probe 120", 4, nil, coach.Fine},
		"as it should be: charring":         {0, 0.7, onCoals + "5 probe 210; 8 probe 240", 9, nil, coach.Fine},
		"as it should be: cruising": {0, 0.7,
			onCoals + "12 probe 290; 15 black; 15 air 0.5; 22 air 0.33; 40 probe 260; 45 smoke clear; 55 probe 245", 56, cool, coach.Fine},
		"as it should be: cruising, by eye":  {0, 0.7, onCoals + "15 black; 15 air 0.5; 22 air 0.33; 45 smoke clear", 56, both(bare, cool), coach.Fine},
		"as it should be: turned down hot":   {0, 0.7, onCoals + "8 probe 380; 11 probe 430; 11.5 air 0.4; 13 probe 420", 13.5, nil, coach.Fine},
		"as it should be: catalyst warms up": {1, 0.8, "0 air 1; 0 bypass 1; 0 load 5; 0 lit; 6 cat 190; 9 cat 230", 9.5, nil, coach.Fine},
		"as it should be: coals at noon": {0, 0.7,
			onCoals + "12 probe 280; 15 black; 15 air 0.5; 200 air 0.3; 215 out; 215 probe 130", 216, hot, coach.Fine},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			b := record(t, c.stove, c.coals, c.record)
			if c.change != nil {
				c.change(&b)
			}
			a := ask(b, nil, c.minute)
			assert.Equal(t, c.want, a.Advice.Code, "phase %s, room %.2f then %.2f, flames %.2f, black %.2f, smoulder %.2f, wood %.2f, coals %.2f, risks %+v", a.Phase, a.Standing.Room.Middle, a.Forecast.Room.Middle[min(60, len(a.Forecast.Room.Middle)-1)],
				a.Standing.Flames, a.Standing.Black, a.Standing.Smoulder, a.Standing.Wood.Middle, a.Standing.Coals.Middle, a.Forecast.Risks)
			assert.LessOrEqual(t, len(a.Watch), 3)
		})
	}
}

// both are two changes of a burn.
func both(a, b func(*burn.Burn)) func(*burn.Burn) { return func(of *burn.Burn) { a(of); b(of) } }

// withFlap and withGate give a stove an ash flap and a gate for air from outdoors.
func withFlap(b *burn.Burn) {
	with(b, stove.Control{Key: "flap", Name: "Ash flap", Role: stove.AshFlap})
}
func withGate(b *burn.Burn) {
	with(b, stove.Control{Key: "gate", Name: "Air from outdoors", Role: stove.OutsideAir})
}

func with(b *burn.Burn, c stove.Control) {
	b.Stove.Controls = append(slices.Clone(b.Stove.Controls), c)
}

func frost(b *burn.Burn) { b.Outdoor = -12 }
func cold(b *burn.Burn)  { b.Wanted = [2]float64{24, 26} }
func cool(b *burn.Burn)  { b.Wanted = [2]float64{17, 20} }
func hot(b *burn.Burn)   { b.Wanted = [2]float64{12, 14} }

// A fire that went out while it is still wanted is lit again, with what lies there and what is
// missing; not at the end of the evening, and not in a warm room.
func TestItWentOutWithTheWishStillRunning(t *testing.T) {
	p := best(t, fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold))
	kinds := func(a coach.Answer) (out []fire.ActKind) {
		require.Equal(t, coach.ItIsOut, a.Advice.Code)
		for _, act := range a.Advice.Acts {
			out = append(out, act.Kind)
		}
		return out
	}
	text := lit + "7 door shut; 7 probe 190; 20 probe 120; 40 probe 50; 41 dead;"
	assert.Equal(t, []fire.ActKind{fire.ActLoad, fire.ActLoad, fire.ActDoor, fire.ActLight}, kinds(ask(record(t, fixture.Auntie, 0, lit+"12 door shut; 12 probe 260; 30 probe 280; 60 probe 190; 100 coals; 120 probe 90; 150 dead"), &p, 151)))
	lies := ask(record(t, fixture.Auntie, 0, text+"42 load 2.8"), &p, 43)
	assert.Equal(t, []fire.ActKind{fire.ActLoad, fire.ActDoor, fire.ActLight}, kinds(lies), "wood lies there: kindling on it")
	assert.True(t, lies.Advice.Acts[0].Load.Kindling)
	late := strings.ReplaceAll(text, "41 dead", "250 dead")
	assert.Empty(t, kinds(ask(record(t, fixture.Auntie, 0, late), &p, 251)))
	assert.Empty(t, kinds(ask(record(t, fixture.Auntie, 0, text+"41 room 21"), &p, 42)), "a warm room")
	for _, harm := range []string{"21 co 18; 30 co 0;", "21 smoke room;"} {
		for _, act := range ask(record(t, fixture.Auntie, 0, text+harm), &p, 100).Advice.Acts {
			assert.NotEqual(t, fire.ActLight, act.Kind, "a fire that let something into the room is not lit again: %s", harm)
		}
	}
}

// Who taps through an evening in three minutes is asked whether it is really so far, before
// anything is said by it; who does it in its time is not.
func TestTappedThrough(t *testing.T) {
	p := best(t, fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold))
	tap := func(after func(i int) float64) coach.Answer {
		text, last := "", 0.0
		for i, s := range p.Steps[:5] {
			last = after(i)
			switch s.Kind {
			case plan.LightIt:
				text += fmt.Sprintf("%[1]g air 1; %[1]g door ajar; %[1]g load 1.3; %[1]g kindling 1.1; %[1]g lit;", last)
			case plan.ShutDoor:
				text += fmt.Sprintf("%g door shut;", last)
			case plan.LoadIt:
				text += fmt.Sprintf("%g load 3.9;", last)
			case plan.TurnDown:
				text += fmt.Sprintf("%g air %g;", last, s.Opening)
			}
		}
		return ask(record(t, fixture.Auntie, 0, text), &p, last+0.5)
	}
	assert.Equal(t, coach.TooQuick, tap(func(i int) float64 { return 0.7 * float64(i) }).Advice.Code)
	inTime := tap(func(i int) float64 { return p.Steps[i].Expected.Minutes() })
	assert.NotEqual(t, coach.TooQuick, inTime.Advice.Code)
}

// best is a plan made quickly: safe and clean, if not the best there is.
func best(t *testing.T, w wish.Wish) plan.Plan {
	t.Helper()
	p, err := search.Best(context.Background(), w, search.Quick, nil)
	require.NoError(t, err)
	return p
}
