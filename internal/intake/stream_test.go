package intake_test

import (
	"context"
	"fmt"
	"log/slog"
	"strings"
	"testing"
	"time"

	"github.com/nats-io/nats.go"
	"github.com/nats-io/nats.go/jetstream"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/stove"
	"smolder/internal/demo"
	"smolder/internal/intake"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

// A pipe is a stove with a probe that reports, and a fire in it that began an hour ago.
type pipe struct {
	s     *store.Store
	h     store.Household
	token string
	began time.Time
	burn  int64
}

func newPipe(t testing.TB, s *store.Store, owner string) *pipe {
	t.Helper()
	ctx := t.Context()
	p := &pipe{s: s, began: time.Now().UTC().Add(-time.Hour).Truncate(time.Minute)}
	p.h = storetest.Household(t, p.s, owner)
	spaces, err := p.h.Spaces(ctx)
	require.NoError(t, err)
	auntie := demo.Stoves()[0]
	auntie.Space = spaces[0]
	id, err := p.h.AddStove(ctx, auntie)
	require.NoError(t, err)
	p.burn, err = p.h.StartBurn(ctx, id, "", burn.Burn{Stove: auntie.Stove, Started: p.began}, nil)
	require.NoError(t, err)
	p.token, err = p.h.MakeToken(ctx, "pipe", id, []string{store.ScopeReadings})
	require.NoError(t, err)
	return p
}

func (p *pipe) line(minute, value int) string {
	return fmt.Sprintf(`{"at": %q, "place": "connector-probe", "value": %d}`, p.began.Add(time.Duration(minute)*time.Minute).Format(time.RFC3339), value)
}

func (p *pipe) kept(t *testing.T) int {
	t.Helper()
	full, err := p.h.Burn(t.Context(), p.burn)
	require.NoError(t, err)
	return full.ReadingsAt(stove.ConnectorProbe)
}

// takes lets a process take what is in the log, until it is stopped.
func takes(t testing.TB, m *storetest.MessageLog, s *store.Store) (stop func()) {
	t.Helper()
	in, err := intake.OpenStream(m.Address(), slog.New(slog.NewTextHandler(t.Output(), nil)))
	require.NoError(t, err)
	ctx, cancel := context.WithCancel(t.Context())
	over := make(chan bool)
	go func() { defer close(over); in.Take(ctx, s, time.Now) }()
	return func() { cancel(); <-over; in.Close() }
}

const soon, often = time.Minute, 50 * time.Millisecond

// What a device publishes, or a process hands in, is kept once however often it comes; what it
// may not, or what is nonsense, is not; and nothing stays in the log.
func TestReadingsFromTheMessageLog(t *testing.T) {
	m, p := storetest.NewMessageLog(t), newPipe(t, storetest.New(t), "tarn")
	defer takes(t, m, p.s)()
	in, err := intake.OpenStream(m.Address(), slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	defer in.Close()
	conn, err := nats.Connect(m.Address())
	require.NoError(t, err)
	defer conn.Close()
	device, err := jetstream.New(conn)
	require.NoError(t, err)
	publish := func(token, text string) error {
		_, err := device.Publish(t.Context(), "smolder."+token+".readings", []byte(text))
		return err
	}
	require.Eventually(t, func() bool { return publish(p.token, p.line(1, 101)) == nil }, soon, often, "once somebody takes")
	other, err := p.h.MakeToken(t.Context(), "wall", 0, []string{store.ScopeRead})
	require.NoError(t, err)
	for _, sent := range [][2]string{{"nobody", p.line(2, 102)}, {other, p.line(3, 103)}, {p.token, "nonsense"}, {p.token, p.line(1, 101)},
		{p.token, p.line(4, 104) + "\n" + p.line(5, 105) + "\n" + `{"place": "oven", "value": 3}`}} {
		require.NoError(t, publish(sent[0], sent[1]))
	}
	require.NoError(t, in.Put(t.Context(), p.token, "text/csv", []byte("at,stove,place,value\n"+p.began.Add(6*time.Minute).Format(time.RFC3339)+",Auntie,connector-probe,106\n")))
	long := strings.Builder{} // packed on its way
	for i := range 1500 {
		fmt.Fprintln(&long, strings.Replace(p.line(7, 107), ":00Z", fmt.Sprintf(":%02d.%03dZ", i/1000, i%1000), 1))
	}
	require.NoError(t, in.Put(t.Context(), p.token, "", []byte(long.String())))
	require.Error(t, in.Put(t.Context(), "no token.>", "", []byte(p.line(8, 108))))
	require.Eventually(t, func() bool { n, err := in.Waiting(t.Context()); return err == nil && n == 0 }, soon, often)
	var seconds int
	require.NoError(t, p.s.DB().QueryRow(`SELECT count(*) FROM reported`).Scan(&seconds))
	assert.Equal(t, 4+1500, seconds)

	before := time.Now().Add(-time.Second)
	require.NoError(t, publish(p.token, `{"place": "connector-probe", "value": 150}`))
	require.Eventually(t, func() bool { n, err := in.Waiting(t.Context()); return err == nil && n == 0 }, soon, often)
	var at time.Time
	require.NoError(t, p.s.DB().QueryRow(`SELECT max(at) FROM reported`).Scan(&at))
	assert.WithinRange(t, at, before, time.Now(), "without a time of its own it is of when it came")
	_, err = intake.OpenStream("nowhere", nil)
	require.Error(t, err)
}

// Nothing is lost that the log has: not while the database is away, nor when the process that has
// it in hand goes, nor when the log's own server is killed; and nothing is kept twice.
func TestNothingIsLostInTheMessageLog(t *testing.T) {
	m, p := storetest.NewMessageLog(t), newPipe(t, storetest.New(t), "tarn")
	one, wireOfOne := storetest.OnAWire(t, p.s)
	other, wireOfOther := storetest.OnAWire(t, p.s)
	stopOne := takes(t, m, one)
	defer takes(t, m, other)()
	in, err := intake.OpenStream(m.Address(), slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	defer in.Close()
	sent := 0
	put := func() {
		sent++
		require.Eventually(t, func() bool { return in.Put(t.Context(), p.token, "", []byte(p.line(sent%50, 100+sent%50))) == nil }, soon, often)
	}
	put()
	require.Eventually(t, func() bool { return p.kept(t) == 1 }, soon, often)

	wireOfOne.Cut()
	wireOfOther.Cut()
	for range 20 {
		put()
	}
	stopOne() // with some of them in its hands
	m.Kill()
	m.Start()
	for range 20 {
		put()
	}
	assert.Equal(t, 1, p.kept(t))
	wireOfOther.Mend()
	require.Eventually(t, func() bool { return p.kept(t) == 41 }, 2*soon, often)
	require.Eventually(t, func() bool { n, err := in.Waiting(t.Context()); return err == nil && n == 0 }, 2*soon, often)
	assert.Equal(t, 41, p.kept(t))
}
