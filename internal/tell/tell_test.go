package tell_test

import (
	"context"
	"encoding/json"
	"log/slog"
	"net"
	"sync"
	"testing"
	"time"

	paho "github.com/eclipse/paho.mqtt.golang"
	mqtt "github.com/mochi-mqtt/server/v2"
	"github.com/mochi-mqtt/server/v2/hooks/auth"
	"github.com/mochi-mqtt/server/v2/listeners"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/tell"
)

// A display that comes later finds what was told, and the hub what it needs to show it.
func TestADisplayAtHome(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	server := mqtt.New(&mqtt.Options{Logger: slog.New(slog.DiscardHandler)})
	require.NoError(t, server.AddHook(new(auth.AllowHook), nil))
	require.NoError(t, server.AddListener(listeners.NewNet("test", l)))
	go func() { _ = server.Serve() }()
	t.Cleanup(func() { _ = server.Close() })
	broker := "tcp://" + l.Addr().String()

	ctx, stop := context.WithCancel(t.Context())
	looks := 0
	look := func(context.Context) ([]tell.Display, error) {
		looks++
		return []tell.Display{{ID: 3, Stove: "Auntie", State: "Burning well", Do: "Lever to a third", Looked: time.Now()}}, nil
	}
	done := make(chan error, 1)
	go func() { done <- tell.Run(ctx, broker, "home", 5, look, slog.New(slog.DiscardHandler)) }()

	var mu sync.Mutex
	heard := map[string][]byte{}
	both := make(chan struct{})
	client := paho.NewClient(paho.NewClientOptions().AddBroker(broker).SetClientID("display"))
	require.True(t, client.Connect().WaitTimeout(10*time.Second))
	client.Subscribe("#", 1, func(_ paho.Client, m paho.Message) {
		mu.Lock()
		defer mu.Unlock()
		if heard[m.Topic()] = m.Payload(); len(heard) == 2 {
			close(both)
		}
	})
	select {
	case <-both:
	case <-time.After(20 * time.Second):
		t.Fatal("nothing was told")
	}
	stop()
	require.NoError(t, <-done)
	client.Disconnect(100)

	mu.Lock()
	defer mu.Unlock()
	var state struct{ Stove, State, Do string }
	require.NoError(t, json.Unmarshal(heard[tell.Topic(5, 3)], &state))
	assert.Equal(t, "Burning well", state.State)
	var found struct {
		Topic string `json:"state_topic"`
		ID    string `json:"unique_id"`
	}
	require.NoError(t, json.Unmarshal(heard["home/sensor/smolder_5_3/config"], &found))
	assert.Equal(t, tell.Topic(5, 3), found.Topic)

	// It is kept by the broker for whoever comes when Smolder is away.
	late := make(chan string, 4)
	client = paho.NewClient(paho.NewClientOptions().AddBroker(broker).SetClientID("late"))
	require.True(t, client.Connect().WaitTimeout(10*time.Second))
	defer client.Disconnect(100)
	client.Subscribe(tell.Topic(5, 3), 1, func(_ paho.Client, m paho.Message) { late <- string(m.Payload()) })
	select {
	case text := <-late:
		assert.Contains(t, text, "Burning well")
	case <-time.After(20 * time.Second):
		t.Fatal("nothing was kept")
	}
	assert.Error(t, tell.Run(t.Context(), "nonsense", "", 1, look, nil))
}
