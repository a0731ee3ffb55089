package exchange_test

import (
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/stove"
	"smolder/internal/core/trouble"
	"smolder/internal/core/wish"
	"smolder/internal/exchange"
)

// aShared is a burn as it is shared, and its owner's own.
func aShared(t *testing.T) (exchange.Shared, burn.Burn) {
	t.Helper()
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
	at := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	load := w.LoadOf(0, 3, stove.EndOn, fire.TopDown)
	b := burn.Burn{Stove: w.Stove, House: w.House, Outdoor: 2, Room: 17, Started: at, Ended: at.Add(3 * time.Hour), LitBy: "Perpetua", EndedBy: "Perpetua"}
	for i, e := range []burn.Entry{{Kind: burn.Light}, {Kind: burn.Load, Load: &load}, {Kind: burn.Note, Note: "as Perpetua said"},
		{Kind: burn.Temperature, Place: stove.ConnectorProbe, Reading: 240, Typed: "240, says Perpetua"}} {
		e.ID, e.At, e.By, e.Seq = string(rune('a'+i)), at.Add(time.Duration(i)*time.Minute), "Perpetua", int64(i)
		b.Entries = append(b.Entries, e)
	}
	one, known := b.Unnamed("a stove"), belief.Usual()
	return exchange.Shared{Kind: exchange.SharedBurn, Key: "K", Made: at, Burn: &one, Stove: one.Stove, House: one.House, Known: &known,
		Happens: []trouble.Complaint{trouble.SmokesOut}, Photos: [][]byte{{0xff, 0xd8, 1, 2, 3}}, Lines: []exchange.Line{{Head: "Wood", Text: "beech"}},
		Calls: []exchange.Call{{Name: "Sweep", Phone: "123"}}}, b
}

// What is shared comes back as it went; no name goes with it, and what is computed of it stays the
// same.
func TestSharedComesBack(t *testing.T) {
	s, own := aShared(t)
	var b bytes.Buffer
	require.NoError(t, exchange.WriteShared(&b, s))
	for _, private := range []string{"Perpetua", own.Stove.Name, own.Entries[1].Load.StackName} {
		assert.NotContains(t, b.String(), private)
	}
	got, err := exchange.ReadShared(bytes.NewReader(b.Bytes()), own.Ended.Add(time.Hour))
	require.NoError(t, err)
	for i := range s.Burn.Entries {
		s.Burn.Entries[i].Seq = 0 // the order of a file is that of its lines
	}
	assert.Equal(t, s.Burn.Entries, got.Burn.Entries)
	assert.Equal(t, *s.Known, *got.Known)
	assert.Equal(t, s.Photos, got.Photos)
	assert.Equal(t, own.Replay(own.Ended).Summary, got.Burn.Replay(own.Ended).Summary)
	assert.Len(t, own.Entries, 4, "the owner's own stays as it is")
	assert.Equal(t, "Perpetua", own.LitBy)
}

// aTrouble is a wish as a trouble has it, of wood that no plan would be made for.
func aTrouble(s *exchange.Shared) *wish.Wish {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
	w.Wood.Stack.Name, w.Wood.Stack.Reading = "beech", 0.45
	s.Kind, s.Wish = exchange.SharedTrouble, &w
	return &w
}

// Who has trouble burns what nobody should: that is shared as it is.
func TestTroubleIsSharedAsItIs(t *testing.T) {
	s, own := aShared(t)
	w := aTrouble(&s)
	require.Error(t, w.Check(), "no plan is made of it")
	var b bytes.Buffer
	require.NoError(t, exchange.WriteShared(&b, s))
	got, err := exchange.ReadShared(&b, own.Ended.Add(time.Hour))
	require.NoError(t, err)
	assert.InDelta(t, 0.45, float64(got.Wish.Wood.Stack.Reading), 1e-9)
}

// What is none is refused, with a reason.
func TestSharedIsChecked(t *testing.T) {
	for name, change := range map[string]func(*exchange.Shared){
		"a kind of none":  func(s *exchange.Shared) { s.Kind = "house" },
		"no burn":         func(s *exchange.Shared) { s.Burn = nil },
		"no wish":         func(s *exchange.Shared) { s.Kind = exchange.SharedTrouble },
		"no key":          func(s *exchange.Shared) { s.Key = "" },
		"a long key":      func(s *exchange.Shared) { s.Key = strings.Repeat("k", 65) },
		"a stove of none": func(s *exchange.Shared) { s.Stove.Volume = 1e6 },
		"nothing happens": func(s *exchange.Shared) { s.Happens = []trouble.Complaint{"it sings"} },
		"no picture":      func(s *exchange.Shared) { s.Photos = [][]byte{[]byte("<svg onload=x>")} },
		"a large picture": func(s *exchange.Shared) {
			s.Photos = [][]byte{append([]byte{0xff, 0xd8}, make([]byte, exchange.MostPhoto)...)}
		},
		"many pictures":       func(s *exchange.Shared) { s.Photos = make([][]byte, 7) },
		"a long line":         func(s *exchange.Shared) { s.Lines[0].Text = strings.Repeat("x", 401) },
		"signs":               func(s *exchange.Shared) { s.Lines[0].Text = "a\u202eb" },
		"many lines":          func(s *exchange.Shared) { s.Lines = make([]exchange.Line, 41) },
		"a belief of none":    func(s *exchange.Shared) { s.Known.Mean = s.Known.Mean[1:] },
		"a belief too far":    func(s *exchange.Shared) { s.Known.Mean[0] = 9 },
		"a belief of nothing": func(s *exchange.Shared) { s.Known.Covariance[0] = 0 },
		"an hour too many":    func(s *exchange.Shared) { aTrouble(s).For = 1e6 * time.Hour },
		"an impossible frost": func(s *exchange.Shared) { aTrouble(s).Outdoor = -1e9 },
		"wood of nothing":     func(s *exchange.Shared) { aTrouble(s).Wood.Stack.PieceMass = 0 },
		"wood of no length":   func(s *exchange.Shared) { aTrouble(s).Wood.Stack.PieceLength = 0 },
		"wood like a feather": func(s *exchange.Shared) { aTrouble(s).Wood.Stack.Species.Gravity = 1e-9 },
		"another stove":       func(s *exchange.Shared) { aTrouble(s).Stove.MaxLoad = 1e9 },
		"a burn of none":      func(s *exchange.Shared) { s.Burn.Ended = s.Burn.Started.Add(-time.Hour) },
	} {
		s, own := aShared(t)
		change(&s)
		var b bytes.Buffer
		require.NoError(t, exchange.WriteShared(&b, s), name)
		_, err := exchange.ReadShared(&b, own.Ended.Add(time.Hour))
		assert.ErrorIs(t, err, exchange.ErrFormat, name)
	}
	_, err := exchange.ReadShared(strings.NewReader(strings.Repeat(" ", exchange.MostShared+2)), time.Now())
	assert.ErrorContains(t, err, "over 8 MB")
	for name, text := range map[string]string{"none": "", "other": `{"format":"smolder shared","version":1}`,
		"newer": `{"format":"smolder answer","version":2,"of":"k","text":"x"}`,
		"empty": `{"format":"smolder answer","version":1,"of":"k","text":""}`, "long": `{"format":"smolder answer","version":1,"of":"k","text":"` + strings.Repeat("x", 2001) + `"}`} {
		_, err := exchange.ReadAnswered(strings.NewReader(text))
		assert.Error(t, err, name)
	}
}
