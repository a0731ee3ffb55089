package probe

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"strings"
	"time"

	mqtt "github.com/eclipse/paho.mqtt.golang"

	"smolder/internal/core/burn"
	"smolder/internal/exchange"
)

// Options are how a probe runs.
type Options struct {
	Server string // such as http://127.0.0.1:8420
	Token  string // may read, and send readings
	Stove  int64
	Seed   uint64
	Speed  float64       // 1 to 600: how quickly it catches up with a burn that began a while ago
	Every  time.Duration // between readings, on the stove's clock
	Broker string        // MQTT, such as tcp://127.0.0.1:1883; empty: over HTTP
	Log    *slog.Logger
	Now    func() time.Time
}

// Check says what is wrong with the options.
func (o Options) Check() error {
	switch {
	case !strings.HasPrefix(o.Server, "http://") && !strings.HasPrefix(o.Server, "https://"):
		return fmt.Errorf("--server %q is no address; http://127.0.0.1:8420 would do", o.Server)
	case o.Token == "":
		return errors.New("a token is missing: make one that may send readings and ask, on the page of the stove")
	case o.Stove <= 0:
		return errors.New("--stove is the number of a stove, as its page has it in its address")
	case o.Speed < 1 || o.Speed > 600:
		return errors.New("--speed lies between 1 and 600")
	case o.Every < time.Second || o.Every > 10*time.Minute:
		return errors.New("--every lies between a second and ten minutes")
	}
	return nil
}

const (
	turn     = time.Second // real time between two turns
	answers  = 15 * time.Second
	mostKept = 20_000 // readings that wait while the server is away
	aBatch   = 2_000
	looks    = 2 * time.Second // real time between two looks at the log
)

// runner is a probe that runs.
type runner struct {
	Options
	device *Device
	client *http.Client
	broker mqtt.Client
	id     int64 // of the burn; 0: none is on
	burn   burn.Burn
	at     time.Time // of the last reading, on the stove's clock
	looked time.Time
	waits  []Reading
}

// Run reads and sends until the context ends. A server that is away is waited for; what
// was read meanwhile is sent when it is back.
func Run(ctx context.Context, o Options) error {
	if err := o.Check(); err != nil {
		return err
	}
	if o.Now == nil {
		o.Now = time.Now
	}
	r := &runner{Options: o, device: NewDevice(o.Seed), client: &http.Client{Timeout: answers}}
	if o.Broker != "" {
		r.broker = mqtt.NewClient(mqtt.NewClientOptions().AddBroker(o.Broker).SetClientID(fmt.Sprintf("smolder-probe-%d", o.Stove)).
			SetAutoReconnect(true).SetConnectRetry(true).SetConnectTimeout(answers))
		r.broker.Connect()
		defer r.broker.Disconnect(250)
	}
	turns := time.NewTicker(turn)
	defer turns.Stop()
	for {
		if err := r.turn(ctx); err != nil && ctx.Err() == nil {
			r.Log.Warn("probe", "error", err)
		}
		select {
		case <-ctx.Done():
			return nil
		case <-turns.C:
		}
	}
}

// turn looks at the log, reads as many times as the stove's clock has come on, and sends.
func (r *runner) turn(ctx context.Context) error {
	now := r.Now()
	if now.Sub(r.looked) >= looks {
		r.looked = now
		if err := r.look(ctx); err != nil {
			return errors.Join(err, r.send(ctx))
		}
	}
	if r.id != 0 {
		until := r.at.Add(time.Duration(float64(turn) * r.Speed))
		for next := r.at.Add(r.Every); !next.After(until) && !next.After(now); next = r.at.Add(r.Every) {
			r.at = next
			r.waits = append(r.waits, r.device.Read(r.burn, r.Stove, next, r.Every)...)
		}
	}
	if over := len(r.waits) - mostKept; over > 0 {
		r.waits = r.waits[over:]
	}
	return r.send(ctx)
}

// look fetches which burn is on, and its log.
func (r *runner) look(ctx context.Context) error {
	var fire struct {
		Burn *int64 `json:"burn"`
	}
	if err := r.get(ctx, fmt.Sprintf("/stoves/%d/burn", r.Stove), &fire); err != nil {
		return err
	}
	if fire.Burn == nil {
		r.id = 0
		return nil
	}
	text, err := r.fetch(ctx, fmt.Sprintf("/burns/%d", *fire.Burn))
	if err != nil {
		return err
	}
	file, err := exchange.ReadJSON(bytes.NewReader(text), r.Now())
	if err != nil {
		return err
	}
	if r.burn = file.Burn; r.id != *fire.Burn {
		r.id, r.at = *fire.Burn, r.burn.Started
	}
	return nil
}

func (r *runner) get(ctx context.Context, path string, into any) error {
	text, err := r.fetch(ctx, path)
	if err != nil {
		return err
	}
	return json.Unmarshal(text, into)
}

func (r *runner) fetch(ctx context.Context, path string) ([]byte, error) {
	q, err := http.NewRequestWithContext(ctx, http.MethodGet, r.Server+"/api/v1"+path, nil)
	if err != nil {
		return nil, err
	}
	return r.do(q)
}

func (r *runner) do(q *http.Request) ([]byte, error) {
	q.Header.Set("Authorization", "Bearer "+r.Token)
	answer, err := r.client.Do(q)
	if err != nil {
		return nil, err
	}
	defer answer.Body.Close()
	text, err := io.ReadAll(io.LimitReader(answer.Body, 16<<20))
	if err == nil && answer.StatusCode >= 400 {
		err = fmt.Errorf("%s %s: %d %s", q.Method, q.URL.Path, answer.StatusCode, strings.TrimSpace(string(text)))
	}
	return text, err
}

// send sends what waits, a batch at a time.
func (r *runner) send(ctx context.Context) error {
	for len(r.waits) > 0 {
		n := min(aBatch, len(r.waits))
		var lines bytes.Buffer
		enc := json.NewEncoder(&lines)
		for _, reading := range r.waits[:n] {
			if err := enc.Encode(reading); err != nil {
				return err
			}
		}
		if err := r.deliver(ctx, lines.Bytes()); err != nil {
			return err
		}
		r.waits = r.waits[n:]
	}
	return nil
}

func (r *runner) deliver(ctx context.Context, lines []byte) error {
	if r.broker != nil {
		sent := r.broker.Publish("smolder/"+r.Token+"/readings", 1, false, lines)
		if !sent.WaitTimeout(answers) {
			return errors.New("the broker does not answer")
		}
		return sent.Error()
	}
	q, err := http.NewRequestWithContext(ctx, http.MethodPost, r.Server+"/api/v1/readings", bytes.NewReader(lines))
	if err != nil {
		return err
	}
	q.Header.Set("Content-Type", "application/x-ndjson")
	_, err = r.do(q)
	return err
}
