package intake_test

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"net"
	"strings"
	"testing"
	"time"

	paho "github.com/eclipse/paho.mqtt.golang"
	mqtt "github.com/mochi-mqtt/server/v2"
	"github.com/mochi-mqtt/server/v2/hooks/auth"
	"github.com/mochi-mqtt/server/v2/listeners"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	sdk "go.opentelemetry.io/otel/sdk/trace"
	"go.opentelemetry.io/otel/sdk/trace/tracetest"

	"smolder/internal/core/burn"
	"smolder/internal/core/stove"
	"smolder/internal/demo"
	"smolder/internal/intake"
	"smolder/internal/store"
	"smolder/internal/storetest"
	"smolder/internal/trail"
)

func TestMain(m *testing.M) { storetest.Main(m) }

// broker is one of its own, on loopback.
func broker(t *testing.T) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	server := mqtt.New(&mqtt.Options{Logger: slog.New(slog.DiscardHandler)})
	require.NoError(t, server.AddHook(new(auth.AllowHook), nil))
	require.NoError(t, server.AddListener(listeners.NewNet("test", l)))
	go func() { _ = server.Serve() }()
	t.Cleanup(func() { _ = server.Close() })
	return "tcp://" + l.Addr().String()
}

// What a device publishes is kept; what it may not, or what is nonsense, is not, and the
// next is taken all the same.
func TestReadingsOverMQTT(t *testing.T) {
	ctx, s := t.Context(), storetest.New(t)
	h := storetest.Household(t, s, "tarn")
	spaces, err := h.Spaces(ctx)
	require.NoError(t, err)
	auntie := demo.Stoves()[0]
	auntie.Space = spaces[0]
	id, err := h.AddStove(ctx, auntie)
	require.NoError(t, err)
	began := time.Now().UTC().Add(-time.Hour)
	b, err := h.StartBurn(ctx, id, "", burn.Burn{Stove: auntie.Stove, Started: began}, nil)
	require.NoError(t, err)
	token, err := h.MakeToken(ctx, "pipe", id, []string{store.ScopeReadings})
	require.NoError(t, err)
	other, err := h.MakeToken(ctx, "wall", 0, []string{store.ScopeRead})
	require.NoError(t, err)

	at := broker(t)
	spans := tracetest.NewInMemoryExporter()
	listening, stop := context.WithCancel(trail.With(ctx, sdk.NewTracerProvider(sdk.WithSyncer(spans))))
	over := make(chan error, 1)
	go func() {
		over <- intake.Listen(listening, at, s, slog.New(slog.NewTextHandler(io.Discard, nil)), time.Now)
	}()
	device := paho.NewClient(paho.NewClientOptions().AddBroker(at).SetClientID("device"))
	require.True(t, device.Connect().WaitTimeout(10*time.Second))
	t.Cleanup(func() { device.Disconnect(100) })
	publish := func(token, text string) {
		sent := device.Publish("smolder/"+token+"/readings", 1, false, text)
		require.True(t, sent.WaitTimeout(10*time.Second))
		require.NoError(t, sent.Error())
	}
	line := func(minute, value int) string {
		return fmt.Sprintf(`{"at": %q, "place": "connector-probe", "value": %d}`, began.Add(time.Duration(minute)*time.Minute).Format(time.RFC3339), value)
	}
	kept := func() int {
		full, err := h.Burn(ctx, b)
		require.NoError(t, err)
		return full.ReadingsAt(stove.ConnectorProbe)
	}
	require.Eventually(t, func() bool { publish(token, line(1, 101)); return kept() == 1 }, 20*time.Second, 50*time.Millisecond, "once it listens")
	publish("nobody", line(2, 102))
	publish(other, line(3, 103))
	publish(token, "nonsense")
	publish(token, line(4, 104)+"\n"+line(5, 105))
	require.Eventually(t, func() bool { return kept() == 3 }, 20*time.Second, 50*time.Millisecond)
	stop()
	require.NoError(t, <-over)
	require.Error(t, intake.Listen(ctx, "nowhere", s, nil, time.Now))
	assert.False(t, strings.Contains(at, "nowhere"))
	within := map[string]int{}
	for _, one := range spans.GetSpans() {
		for _, outer := range spans.GetSpans() {
			if outer.Name == "readings over MQTT" && one.Parent.SpanID() == outer.SpanContext.SpanID() {
				within[one.Name]++
			}
		}
	}
	assert.GreaterOrEqual(t, within["readings are kept"], 2, "each message is a trace: %v", within)
}

// Nothing that was published at QoS 1 is lost: not while Smolder is away, and not while the
// database is.
func TestNothingIsLostOverMQTT(t *testing.T) {
	ctx, s := t.Context(), storetest.New(t)
	h := storetest.Household(t, s, "tarn")
	spaces, err := h.Spaces(ctx)
	require.NoError(t, err)
	auntie := demo.Stoves()[0]
	auntie.Space = spaces[0]
	id, err := h.AddStove(ctx, auntie)
	require.NoError(t, err)
	began := time.Now().UTC().Add(-time.Hour)
	b, err := h.StartBurn(ctx, id, "", burn.Burn{Stove: auntie.Stove, Started: began}, nil)
	require.NoError(t, err)
	token, err := h.MakeToken(ctx, "pipe", id, []string{store.ScopeReadings})
	require.NoError(t, err)
	at := broker(t)
	listen := func() (stop func()) {
		listening, cancel := context.WithCancel(ctx)
		over := make(chan error, 1)
		go func() { over <- intake.Listen(listening, at, s, slog.New(slog.DiscardHandler), time.Now) }()
		return func() { cancel(); require.NoError(t, <-over) }
	}
	device := paho.NewClient(paho.NewClientOptions().AddBroker(at).SetClientID("device"))
	require.True(t, device.Connect().WaitTimeout(10*time.Second))
	t.Cleanup(func() { device.Disconnect(100) })
	published := 0
	publish := func() {
		published++
		sent := device.Publish("smolder/"+token+"/readings", 1, false, fmt.Sprintf(`{"at": %q, "place": "connector-probe", "value": %d}`,
			began.Add(time.Duration(published)*time.Minute).Format(time.RFC3339), 100+published))
		require.True(t, sent.WaitTimeout(10*time.Second))
		require.NoError(t, sent.Error())
	}
	kept := func() int {
		full, err := h.Burn(ctx, b)
		require.NoError(t, err)
		return full.ReadingsAt(stove.ConnectorProbe)
	}
	stop := listen()
	require.Eventually(t, func() bool { publish(); return kept() > 0 }, 20*time.Second, 50*time.Millisecond, "once it listens")

	stop()
	before := kept() // those before it listened were for nobody
	for range 20 {
		publish()
	}
	stop = listen()
	require.Eventually(t, func() bool { return kept() >= before+20 }, 30*time.Second, 50*time.Millisecond, "while Smolder was away")

	// A database that does not answer: the table is held.
	tx, err := s.DB().BeginTx(ctx, nil)
	require.NoError(t, err)
	_, err = tx.Exec(`LOCK TABLE tokens IN ACCESS EXCLUSIVE MODE`)
	require.NoError(t, err)
	for range 5 {
		publish()
	}
	stop() // and Smolder goes with them in its hands
	require.NoError(t, tx.Rollback())
	stop = listen()
	defer stop()
	require.Eventually(t, func() bool { return kept() >= before+25 }, 30*time.Second, 50*time.Millisecond, "while the database was away")
}
