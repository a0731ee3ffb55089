// Package tell says how a household's stoves are to its broker, for a display at home: one retained
// topic a stove, and what a hub of the home needs to find it by itself.
package tell

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net/url"
	"time"

	mqtt "github.com/eclipse/paho.mqtt.golang"

	"smolder/internal/app/calls"
)

// A Display is how a stove is, as it is told.
type Display struct {
	ID     int64        `json:"-"`
	Stove  string       `json:"stove"`
	State  string       `json:"state"`             // in a word or two
	Do     string       `json:"do"`                // the one thing to do; empty: nothing
	Ready  bool         `json:"ready"`             // now, else when its sign comes
	Next   string       `json:"next"`              // what comes after, and when
	Gauge  *float64     `json:"gauge_c,omitempty"` // of the stove's guiding gauge, as it was read last
	Room   *float64     `json:"room_c,omitempty"`
	Coals  *float64     `json:"coals_kg,omitempty"`
	Calls  []calls.Call `json:"calls"`
	Looked time.Time    `json:"at"`
}

const (
	// Every is how often it is looked whether something is otherwise.
	Every    = 30 * time.Second
	answers  = 10 * time.Second
	retained = true
)

// Topic is where a stove's display is told.
func Topic(household, stove int64) string {
	return fmt.Sprintf("smolder/%d/%d/state", household, stove)
}

// Run tells a broker, such as tcp://127.0.0.1:1883, how the stoves of a household are until the
// context ends: at the start, and when something is otherwise. Where a prefix is given, each
// stove is told as a sensor below it, as hubs of the home that share that convention find them:
// PREFIX/sensor/NAME/config, a retained JSON with its name, its topic and its device.
func Run(ctx context.Context, broker, prefix string, household int64, look func(context.Context) ([]Display, error), log *slog.Logger) error {
	at, err := url.Parse(broker)
	if err != nil || at.Host == "" {
		return fmt.Errorf("%q is no address of a broker; tcp://127.0.0.1:1883 would do", broker)
	}
	told := map[int64]string{}
	options := mqtt.NewClientOptions().AddBroker(broker).SetClientID(fmt.Sprintf("smolder-display-%d", household)).
		SetAutoReconnect(true).SetConnectRetry(true).SetConnectRetryInterval(2 * time.Second).SetMaxReconnectInterval(20 * time.Second).SetConnectTimeout(answers)
	client := mqtt.NewClient(options)
	client.Connect()
	defer client.Disconnect(250)
	tick := time.NewTicker(Every)
	defer tick.Stop()
	for {
		if client.IsConnectionOpen() {
			list, err := look(ctx)
			if err != nil && ctx.Err() == nil {
				log.Warn("the display at home", "error", err)
			}
			for _, d := range list {
				if err := tell(client, prefix, household, d, told); err != nil {
					log.Warn("the display at home", "broker", at.Host, "error", err)
				}
			}
		}
		wait := tick.C
		if len(told) == 0 { // not connected yet
			soon := time.NewTimer(500 * time.Millisecond)
			wait = soon.C
		}
		select {
		case <-ctx.Done():
			return nil
		case <-wait:
		}
	}
}

// tell publishes a stove where it is otherwise than it was told last.
func tell(client mqtt.Client, prefix string, household int64, d Display, told map[int64]string) error {
	was, known := told[d.ID]
	looked := d.Looked
	d.Looked = time.Time{}
	same, err := json.Marshal(d)
	if err != nil || known && was == string(same) {
		return err
	}
	d.Looked = looked.UTC().Truncate(time.Second)
	text, err := json.Marshal(d)
	if err != nil {
		return err
	}
	if !known && prefix != "" {
		if err := publish(client, fmt.Sprintf("%s/sensor/smolder_%d_%d/config", prefix, household, d.ID), discovery(household, d)); err != nil {
			return err
		}
	}
	if err := publish(client, Topic(household, d.ID), text); err != nil {
		return err
	}
	told[d.ID] = string(same)
	return nil
}

// discovery is what a hub needs to show a stove.
func discovery(household int64, d Display) []byte {
	id := fmt.Sprintf("smolder_%d_%d", household, d.ID)
	text, _ := json.Marshal(map[string]any{"name": d.Stove, "unique_id": id, "object_id": id, "state_topic": Topic(household, d.ID), // strings and numbers: it cannot fail
		"value_template": "{{ value_json.state }}", "json_attributes_topic": Topic(household, d.ID),
		"device": map[string]any{"identifiers": []string{fmt.Sprintf("smolder_%d", household)}, "name": "Smolder"}})
	return text
}

func publish(client mqtt.Client, topic string, text []byte) error {
	token := client.Publish(topic, 1, retained, text)
	if !token.WaitTimeout(answers) {
		return fmt.Errorf("%s: the broker does not answer", topic)
	}
	return token.Error()
}
