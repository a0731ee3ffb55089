package intake

import (
	"bytes"
	"compress/gzip"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/url"
	"regexp"
	"sync"
	"time"

	"github.com/nats-io/nats.go"
	"github.com/nats-io/nats.go/jetstream"

	"smolder/internal/store"
	"smolder/internal/trail"
)

// Subject is where readings are published with a message log: the token in its middle says
// whose they are, as in [Topic].
const Subject = "smolder.*.readings"

const (
	streamName   = "SMOLDER_READINGS"
	consumerName = "smolder"
	// streamKeeps is how long what nobody has taken stays in the log.
	streamKeeps = 14 * 24 * time.Hour
	// streamBytes is how much waits in the log at the most. More is refused, so that whoever
	// publishes keeps it: what waits is not thrown out for it.
	streamBytes = 4 << 30
	// handIn is how long a message stays with a process that says nothing of it before another is
	// given it, and holdsOn how often one that has it in hand says so.
	handIn, holdsOn = 30 * time.Second, 8 * time.Second
	// A hand is what is kept in one go: so many messages, or bytes, or what has come this long
	// after the first.
	handMessages, handBytes, handWait = 500, 8 << 20, 50 * time.Millisecond
	// putsWithin is how long the log may take to say that it has a message.
	putsWithin = 5 * time.Second
	// packedFrom is the length from which a message is packed.
	packedFrom = 64 << 10
	// mostUnpacked is how long one may be, unpacked.
	mostUnpacked = 12 << 20
)

// A Stream is a log of messages (NATS JetStream) between those who send readings and the
// database. What is in it is not lost while the database is away, or Smolder: a message is
// taken out once its readings are committed, or it was refused for what it is. It may come
// twice; its readings are kept once, by their stove, place and time.
type Stream struct {
	conn *nats.Conn
	js   jetstream.JetStream
	log  *slog.Logger
}

// OpenStream joins a server of NATS with JetStream, such as nats://127.0.0.1:4222. One that is
// away is tried again for ever.
func OpenStream(address string, log *slog.Logger) (*Stream, error) {
	at, err := url.Parse(address)
	if err != nil || at.Host == "" {
		return nil, fmt.Errorf("%q is no address of a message log; nats://127.0.0.1:4222 would do", address)
	}
	conn, err := nats.Connect(address, nats.Name("smolder"), nats.RetryOnFailedConnect(true), nats.MaxReconnects(-1), nats.ReconnectWait(2*time.Second),
		nats.DisconnectErrHandler(func(_ *nats.Conn, err error) {
			if err != nil {
				log.Warn("the message log is away", "error", err)
			}
		}))
	if err != nil {
		return nil, fmt.Errorf("joining the message log at %s: %w", at.Host, err)
	}
	js, err := jetstream.New(conn)
	if err != nil {
		conn.Close()
		return nil, err
	}
	return &Stream{conn, js, log}, nil
}

// Close leaves the server.
func (s *Stream) Close() { s.conn.Close() }

// tokens are what may stand in the middle of a subject.
var tokens = regexp.MustCompile(`^[A-Za-z0-9_-]{1,200}$`)

// Put hands in what somebody has sent, to be kept later; nil: the log has it on its disk.
// form is the content type that it came with.
func (s *Stream) Put(ctx context.Context, token, form string, text []byte) error {
	if !tokens.MatchString(token) {
		return errors.New("this is no token")
	}
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), putsWithin)
	defer cancel()
	m := nats.NewMsg("smolder." + token + ".readings")
	m.Header.Set("Content-Type", form)
	m.Data = text
	if len(text) >= packedFrom {
		m.Header.Set("Content-Encoding", "gzip")
		var packed bytes.Buffer
		w := gzip.NewWriter(&packed)
		if _, err := w.Write(text); err != nil {
			return err
		}
		if err := w.Close(); err != nil {
			return err
		}
		m.Data = packed.Bytes()
	}
	_, err := s.js.PublishMsg(ctx, m)
	return err
}

// Waiting is how many messages are in the log.
func (s *Stream) Waiting(ctx context.Context) (int, error) {
	st, err := s.js.Stream(ctx, streamName)
	if err != nil {
		return 0, err
	}
	return int(st.CachedInfo().State.Msgs), nil //nolint:gosec // far below
}

// Take keeps what is in the log until the context ends. Any number of processes may do so: the
// log gives each message to one of them.
func (s *Stream) Take(ctx context.Context, st *store.Store, now func() time.Time) {
	for wait := firstWait; ctx.Err() == nil; wait = min(2*wait, longestWait) {
		began := time.Now()
		err := s.take(ctx, st, now)
		if ctx.Err() != nil {
			break
		}
		s.log.Warn("readings from the message log", "error", err)
		if time.Since(began) > longestWait {
			wait = firstWait
		}
		select {
		case <-ctx.Done():
		case <-time.After(wait):
		}
	}
}

// take does so until something of the log breaks.
func (s *Stream) take(ctx context.Context, st *store.Store, now func() time.Time) error {
	stream, err := s.js.CreateOrUpdateStream(ctx, jetstream.StreamConfig{Name: streamName, Subjects: []string{Subject}, Retention: jetstream.WorkQueuePolicy,
		Storage: jetstream.FileStorage, Discard: jetstream.DiscardNew, MaxAge: streamKeeps, MaxBytes: streamBytes,
		Description: "readings of thermometers that Smolder has not kept yet"})
	if err != nil {
		return err
	}
	consumer, err := stream.CreateOrUpdateConsumer(ctx, jetstream.ConsumerConfig{Durable: consumerName, AckPolicy: jetstream.AckExplicitPolicy, AckWait: handIn,
		MaxAckPending: 4 * handMessages})
	if err != nil {
		return err
	}
	messages, err := consumer.Messages(jetstream.PullMaxMessagesWithBytesLimit(handMessages, handBytes))
	if err != nil {
		return err
	}
	defer giveBack(messages)
	s.log.Info("readings from the message log", "server", s.conn.ConnectedUrlRedacted(), "waiting", stream.CachedInfo().State.Msgs)
	for {
		hand, err := handOf(ctx, messages)
		if len(hand) > 0 {
			s.keep(ctx, st, hand, now)
		}
		if err != nil {
			return err
		}
	}
}

// giveBack ends the taking; what had come already and is in nobody's hand goes to whoever takes next.
func giveBack(from jetstream.MessagesContext) {
	from.Drain()
	for {
		m, err := from.Next(jetstream.NextMaxWait(time.Second))
		if err != nil {
			break
		}
		_ = m.Nak() // else it is given out when its time is over
	}
	from.Stop()
}

// handOf is the next hand of messages: what is there, and at least one.
func handOf(ctx context.Context, from jetstream.MessagesContext) (hand []jetstream.Msg, err error) {
	m, err := from.Next(jetstream.NextContext(ctx))
	if err != nil {
		return nil, err
	}
	hand, size := append(hand, m), len(m.Data())
	until, cancel := context.WithTimeout(ctx, handWait)
	defer cancel()
	for len(hand) < handMessages && size < handBytes {
		m, err := from.Next(jetstream.NextContext(until))
		if err != nil && until.Err() != nil {
			return hand, ctx.Err()
		}
		if err != nil {
			return hand, err
		}
		hand, size = append(hand, m), size+len(m.Data())
	}
	return hand, nil
}

// keep keeps a hand, the messages of one token in one go; it goes on waiting while the database
// is away, and gives back what it has when it is to stop.
func (s *Stream) keep(ctx context.Context, st *store.Store, hand []jetstream.Msg, now func() time.Time) {
	var order []string
	of := map[string][]jetstream.Msg{}
	for _, m := range hand {
		token := tokenOf(m.Subject())
		if of[token] == nil {
			order = append(order, token)
		}
		of[token] = append(of[token], m)
	}
	turns := make(chan struct{}, mostAtOnce)
	var all sync.WaitGroup
	for _, token := range order {
		turns <- struct{}{}
		all.Go(func() {
			defer func() { <-turns }()
			s.keepFor(ctx, st, token, of[token], now)
		})
	}
	all.Wait()
}

// tokenOf is the token of a subject.
func tokenOf(subject string) string {
	const before, after = len("smolder."), len(".readings")
	if len(subject) < before+after {
		return ""
	}
	return subject[before : len(subject)-after]
}

// keepFor keeps the messages of a token.
func (s *Stream) keepFor(ctx context.Context, st *store.Store, token string, messages []jetstream.Msg, now func() time.Time) {
	over := make(chan struct{})
	var holding sync.WaitGroup
	holding.Go(func() {
		holds := time.NewTicker(holdsOn)
		defer holds.Stop()
		for {
			select {
			case <-over:
				return
			case <-holds.C:
				each(messages, func(m jetstream.Msg) error { return m.InProgress() })
			}
		}
	})
	defer holding.Wait()
	defer close(over)
	for wait := firstWait; ; wait = min(2*wait, longestWait) {
		tracing, done := trail.Begin(ctx, "readings from the message log")
		err := keepMessages(tracing, st, token, messages, now())
		done(err)
		switch {
		case ctx.Err() != nil:
			each(messages, func(m jetstream.Msg) error { return m.Nak() }) // another process is given it at once
			return
		case !store.Passing(err):
			if err != nil {
				s.log.Warn("readings from the message log", "error", err)
			}
			each(messages, func(m jetstream.Msg) error { return m.Ack() }) // one that is lost comes again, and is kept once
			return
		}
		s.log.Warn("readings in the message log wait for the database", "error", err)
		select {
		case <-ctx.Done():
		case <-time.After(wait):
		}
	}
}

func each(messages []jetstream.Msg, do func(jetstream.Msg) error) {
	for _, m := range messages {
		_ = do(m) // the log gives it out again
	}
}

// keepMessages keeps the readings of a token's messages; one without a time of its own is of
// when it came into the log.
func keepMessages(ctx context.Context, s *store.Store, token string, messages []jetstream.Msg, now time.Time) error {
	ctx, cancel := context.WithTimeout(ctx, keepsFor)
	defer cancel()
	caller, err := callerOf(ctx, s, token, now)
	if err != nil {
		return err
	}
	home := s.Household(caller.Home)
	reader, err := readerOf(ctx, home, caller, now)
	if err != nil {
		return err
	}
	var readings []store.Reported
	var single [][]store.Reported
	var wrong error
	for _, m := range messages {
		text, err := unpacked(m)
		if err != nil {
			wrong = err
			continue
		}
		if about, err := m.Metadata(); err == nil {
			reader.Now = about.Timestamp.UTC()
		}
		b, err := reader.Read(FormOf(m.Headers().Get("Content-Type"), text), text)
		if err == nil && len(b.Faults) > 0 {
			err = fmt.Errorf("line %d: %s", b.Faults[0].Line, b.Faults[0].Detail)
		}
		if err != nil {
			wrong = err
		}
		readings, single = append(readings, b.Readings...), append(single, b.Readings)
	}
	keeping, done := trail.Step(ctx, "readings are kept")
	_, err = home.AddReported(keeping, readings)
	if err != nil && !store.Passing(err) && len(single) > 1 {
		err = nil // what is refused of one of them, such as more than a day may have, is not of those before it
		for _, of := range single {
			_, one := home.AddReported(keeping, of)
			err = errors.Join(err, one)
		}
	}
	done(err)
	return errors.Join(err, wrong)
}

// unpacked is what a message says.
func unpacked(m jetstream.Msg) ([]byte, error) {
	if m.Headers().Get("Content-Encoding") != "gzip" {
		return m.Data(), nil
	}
	r, err := gzip.NewReader(bytes.NewReader(m.Data()))
	if err != nil {
		return nil, fmt.Errorf("a message that is said to be packed, and is not: %w", err)
	}
	text, err := io.ReadAll(io.LimitReader(r, mostUnpacked+1))
	if err == nil && len(text) > mostUnpacked {
		err = fmt.Errorf("a message of more than %d MB; up to that would do", mostUnpacked>>20)
	}
	return text, err
}
