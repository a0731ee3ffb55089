package intake

import (
	"context"
	"fmt"
	"log/slog"
	"net/url"
	"strings"
	"sync"
	"time"

	mqtt "github.com/eclipse/paho.mqtt.golang"

	"smolder/internal/store"
	"smolder/internal/trail"
)

// Topic is where devices publish readings: the token in its middle says whose they are.
// The broker is the household's own, and a token that may only send readings, for one
// stove, is what belongs there.
const Topic = "smolder/+/readings"

const (
	mostMessage = 4 << 20
	keepsFor    = 20 * time.Second
	// mostAtOnce is how many messages are kept at a time, of as many tokens: one token's
	// come one after the other, so that no device holds the others up.
	mostAtOnce = 4
	// aMinute is how many messages of one token are kept in a minute, as over HTTP; more wait
	// with the broker.
	aMinute = 240
	// firstWait is how long a message waits after it could not be kept because the database
	// was away, and doubles up to longestWait.
	firstWait, longestWait = time.Second, 30 * time.Second
)

// Listen takes in what is published at a broker, such as tcp://127.0.0.1:1883, until the
// context ends. A broker that is away is tried again. What a message is refused for goes
// to the log: over MQTT nobody is answered.
//
// Nothing at QoS 1 is lost: the client's name is the same at every start and its session
// is kept, so that the broker keeps what comes while Smolder is away; and a message is
// acknowledged only after it is committed, or was refused for what it is. While the
// database is away it waits here, unacknowledged, and is tried again.
func Listen(ctx context.Context, broker string, s *store.Store, log *slog.Logger, now func() time.Time) error {
	at, err := url.Parse(broker)
	if err != nil || at.Host == "" {
		return fmt.Errorf("%q is no address of a broker; tcp://127.0.0.1:1883 would do", broker)
	}
	name, err := clientOf(ctx, s)
	if err != nil {
		return err
	}
	l := &listener{store: s, log: log, now: now, turns: make(chan struct{}, mostAtOnce), tokens: map[string]*turn{}}
	options := mqtt.NewClientOptions().AddBroker(broker).SetClientID(name).SetCleanSession(false).SetResumeSubs(true).
		SetAutoReconnect(true).SetConnectRetry(true).SetConnectRetryInterval(2 * time.Second).SetMaxReconnectInterval(20 * time.Second).
		SetConnectTimeout(10 * time.Second).SetOrderMatters(false).SetAutoAckDisabled(true)
	take := func(_ mqtt.Client, m mqtt.Message) { l.take(ctx, m) }
	// What the broker has kept comes before the subscription is made anew.
	options.SetDefaultPublishHandler(take)
	options.SetOnConnectHandler(func(c mqtt.Client) {
		c.Subscribe(Topic, 1, take)
		log.Info("readings over MQTT", "broker", at.Host, "as", name)
	})
	options.SetConnectionLostHandler(func(_ mqtt.Client, err error) { log.Warn("the broker is away", "error", err) })
	client := mqtt.NewClient(options)
	client.Connect()
	defer client.Disconnect(250)
	<-ctx.Done()
	return nil
}

// clientOf is the client's name at the broker: of the database, so that it is the same at
// every start, and another for another Smolder at the same broker.
func clientOf(ctx context.Context, s *store.Store) (string, error) {
	wait := firstWait
	for {
		id, err := s.Identity(ctx)
		if err == nil || !store.Silent(err) || ctx.Err() != nil {
			return "smolder-" + id, err
		}
		select {
		case <-ctx.Done():
			return "", ctx.Err()
		case <-time.After(wait):
		}
		wait = min(2*wait, longestWait)
	}
}

// A listener keeps messages as they come, each in a goroutine of the client's.
type listener struct {
	store *store.Store
	log   *slog.Logger
	now   func() time.Time
	turns chan struct{} // so many at once

	mu     sync.Mutex
	tokens map[string]*turn
}

// A turn is one token's: its messages one after the other, and not too many a minute.
type turn struct {
	sync.Mutex
	waiting int
	minute  time.Time
	kept    int
}

// of is a token's turn, taken; give it back with done.
func (l *listener) of(token string) *turn {
	l.mu.Lock()
	t := l.tokens[token]
	if t == nil {
		t = &turn{}
		l.tokens[token] = t
	}
	t.waiting++
	l.mu.Unlock()
	t.Lock()
	return t
}

func (l *listener) done(token string, t *turn) {
	t.Unlock()
	l.mu.Lock()
	defer l.mu.Unlock()
	if t.waiting--; t.waiting == 0 && l.now().Sub(t.minute) > time.Minute {
		delete(l.tokens, token)
	}
}

// take keeps a message, however long that takes, and acknowledges it then.
func (l *listener) take(ctx context.Context, m mqtt.Message) {
	token, _, _ := strings.Cut(strings.TrimPrefix(m.Topic(), "smolder/"), "/")
	if len(token) > longestToken {
		m.Ack() // nobody has such a token
		return
	}
	t := l.of(token)
	defer l.done(token, t)
	if !l.mayGoOn(ctx, t) {
		return
	}
	for wait := firstWait; ; wait = min(2*wait, longestWait) {
		err := l.keep(ctx, token, m)
		switch {
		case ctx.Err() != nil:
			return // not acknowledged: it comes again
		case !store.Passing(err):
			if err != nil {
				l.log.Warn("readings over MQTT", "error", err)
			}
			m.Ack()
			return
		}
		l.log.Warn("readings over MQTT wait for the database", "error", err)
		select {
		case <-ctx.Done():
			return
		case <-time.After(wait):
		}
	}
}

// longestToken is how long a token may be.
const longestToken = 200

// mayGoOn waits until the token may send another message in its minute.
func (l *listener) mayGoOn(ctx context.Context, t *turn) bool {
	for {
		now := l.now()
		if now.Sub(t.minute) >= time.Minute {
			t.minute, t.kept = now, 0
		}
		if t.kept++; t.kept <= aMinute {
			return true
		}
		select {
		case <-ctx.Done():
			return false
		case <-time.After(time.Second):
		}
	}
}

// keep keeps a message in its turn among all tokens'.
func (l *listener) keep(ctx context.Context, token string, m mqtt.Message) error {
	select {
	case l.turns <- struct{}{}:
		defer func() { <-l.turns }()
	case <-ctx.Done():
		return ctx.Err()
	}
	ctx, done := trail.Begin(ctx, "readings over MQTT")
	err := take(ctx, l.store, token, m, l.now())
	done(err)
	return err
}

// take keeps the readings of one message.
func take(ctx context.Context, s *store.Store, token string, m mqtt.Message, now time.Time) error {
	text := m.Payload()
	if len(text) > mostMessage {
		return fmt.Errorf("a message of %d bytes; up to %d would do", len(text), mostMessage)
	}
	ctx, cancel := context.WithTimeout(ctx, keepsFor)
	defer cancel()
	caller, err := callerOf(ctx, s, token, now)
	if err != nil {
		return err
	}
	b, _, err := Keep(ctx, s.Household(caller.Home), caller, FormOf("", text), text, now)
	if err == nil && len(b.Faults) > 0 {
		err = fmt.Errorf("line %d: %s", b.Faults[0].Line, b.Faults[0].Detail)
	}
	return err
}
