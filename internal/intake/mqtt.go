package intake

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net/url"
	"slices"
	"strings"
	"time"

	mqtt "github.com/eclipse/paho.mqtt.golang"

	"smolder/internal/store"
)

// Topic is where devices publish readings: the token in its middle says whose they are.
// The broker is the household's own, and a token that may only send readings, for one
// stove, is what belongs there.
const Topic = "smolder/+/readings"

const (
	mostMessage = 4 << 20
	keepsFor    = 20 * time.Second
	waitsAtOnce = 256 // messages
)

// Listen takes in what is published at a broker, such as tcp://127.0.0.1:1883, until the
// context ends. A broker that is away is tried again. What a message is refused for goes
// to the log: over MQTT nobody is answered.
func Listen(ctx context.Context, broker string, s *store.Store, log *slog.Logger, now func() time.Time) error {
	at, err := url.Parse(broker)
	if err != nil || at.Host == "" {
		return fmt.Errorf("%q is no address of a broker; tcp://127.0.0.1:1883 would do", broker)
	}
	messages := make(chan mqtt.Message, waitsAtOnce)
	options := mqtt.NewClientOptions().AddBroker(broker).SetClientID("smolder-" + fmt.Sprint(now().UnixNano())).
		SetAutoReconnect(true).SetConnectRetry(true).SetConnectRetryInterval(5 * time.Second).SetConnectTimeout(10 * time.Second).
		SetOrderMatters(false).SetAutoAckDisabled(true)
	options.SetOnConnectHandler(func(c mqtt.Client) {
		c.Subscribe(Topic, 1, func(_ mqtt.Client, m mqtt.Message) {
			select {
			case messages <- m:
			case <-ctx.Done():
			}
		})
		log.Info("readings over MQTT", "broker", at.Host)
	})
	options.SetConnectionLostHandler(func(_ mqtt.Client, err error) { log.Warn("the broker is away", "error", err) })
	client := mqtt.NewClient(options)
	client.Connect()
	defer client.Disconnect(250)
	for {
		select {
		case <-ctx.Done():
			return nil
		case m := <-messages:
			err := take(ctx, s, m, now())
			if store.Silent(err) {
				log.Error("readings over MQTT", "error", err) // not acknowledged: it comes again
				continue
			}
			if err != nil {
				log.Warn("readings over MQTT", "error", err)
			}
			m.Ack()
		}
	}
}

// take keeps the readings of one message.
func take(ctx context.Context, s *store.Store, m mqtt.Message, now time.Time) error {
	token, _, _ := strings.Cut(strings.TrimPrefix(m.Topic(), "smolder/"), "/")
	text := m.Payload()
	if len(text) > mostMessage {
		return fmt.Errorf("a message of %d bytes; up to %d would do", len(text), mostMessage)
	}
	ctx, cancel := context.WithTimeout(ctx, keepsFor)
	defer cancel()
	caller, err := s.Call(ctx, token, now)
	switch {
	case errors.Is(err, store.ErrMissing):
		return errors.New("a message with a token that is not known here")
	case err != nil:
		return err
	case !slices.Contains(caller.Scopes, store.ScopeReadings):
		return errors.New("a message with a token that may not send readings")
	}
	b, _, err := Keep(ctx, s.Household(caller.Home), caller, FormOf("", text), text, now)
	if err == nil && len(b.Faults) > 0 {
		err = fmt.Errorf("line %d: %s", b.Faults[0].Line, b.Faults[0].Detail)
	}
	return err
}
