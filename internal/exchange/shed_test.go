package exchange_test

import (
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/exchange"
)

// A file of wood comes back as it went out, and what makes no sense is refused by its stack,
// with a sentence, in bounded time and memory.
func TestShed(t *testing.T) {
	now := time.Date(2026, 1, 14, 12, 0, 0, 0, time.UTC)
	since, wind, temp := now.AddDate(-2, 0, 0), 0.5, -3.0
	shed := exchange.Shed{Stacks: []exchange.ShedStack{
		{Name: "Beech, lean-to", Species: "beech", PieceMass: 1.3, PieceMoisture: 0.18, PieceLength: 0.33, Cover: "roof", Wind: &wind, Since: &since, Crooked: true,
			Assumed: []string{"mass"}, Readings: []exchange.ShedReading{{At: now.AddDate(0, -1, 0), Reading: 0.19, Spread: 0.02, Pieces: 4, WoodTemp: &temp}},
			Counts: []exchange.ShedCount{{At: now.AddDate(0, -2, 0), Way: "tape", Typed: "4 x 1.5 x 0.33 m", Dry: 720, Own: 0.04, Same: 0.06},
				{At: now.AddDate(0, -1, 0), Way: "scale", Dry: 50, Adds: true}}},
		{Name: "Öl & <Kienspan>", Species: "pine", PieceMass: 0.05, PieceLength: 0.2, Kindling: true, Round: true, OnGround: true},
	}}
	var b bytes.Buffer
	require.NoError(t, exchange.WriteShed(&b, shed))
	back, err := exchange.ReadShed(bytes.NewReader(b.Bytes()), now)
	require.NoError(t, err)
	assert.Equal(t, shed.Stacks, back.Stacks)
	text := b.String()
	for name, c := range map[string][2]string{
		"its cover":      {`"cover": "roof"`, `"cover": "tarp"`},
		"its wind":       {`"wind": 0.5`, `"wind": 5`},
		"its name":       {`"name": "Beech, lean-to"`, `"name": ""`},
		"its split":      {`"since": "2024`, `"since": "2094`},
		"its reading":    {`"reading": 0.19`, `"reading": 19`},
		"its pieces":     {`"pieces": 4`, `"pieces": 0`},
		"its count":      {`"dry_kg": 720`, `"dry_kg": -720`},
		"its doubt":      {`"own_doubt": 0.04`, `"own_doubt": 1e9`},
		"what is taken":  {`"mass"`, `"everything"`},
		"a piece's mass": {`"piece_mass_kg": 1.3`, `"piece_mass_kg": 1300`},
	} {
		require.Contains(t, text, c[0], name)
		_, err := exchange.ReadShed(strings.NewReader(strings.Replace(text, c[0], c[1], 1)), now)
		require.ErrorIs(t, err, exchange.ErrShed, name)
		assert.Contains(t, err.Error(), "stack 1", name)
	}
	many := exchange.Shed{}
	for range exchange.MostStacks + 1 {
		many.Stacks = append(many.Stacks, shed.Stacks[1])
	}
	b.Reset()
	require.NoError(t, exchange.WriteShed(&b, many))
	_, err = exchange.ReadShed(&b, now)
	assert.ErrorContains(t, err, "more than 400 stacks")
	_, err = exchange.ReadShed(strings.NewReader(`{"format":"smolder wood","stacks":[`+strings.Repeat(" ", exchange.MostShed+10)), now)
	assert.ErrorContains(t, err, "larger than 4 MB")
	_, err = exchange.ReadShed(strings.NewReader(""), now)
	assert.ErrorContains(t, err, "ends in the middle")
	assert.Equal(t, []string{"'=1+1", "-3"}, exchange.Guarded("=1+1", "-3"), "no cell is a formula")
}
