package form

import (
	"encoding/json"
	"fmt"

	"smolder/internal/core/day"
)

// An upgrade turns a form of one version into the next; it changes only what has
// changed.
type upgrade func(map[string]any) error

// upgrades are those of each kind by the version that they start from. A kind
// that is not there reads as it was written.
var upgrades = map[int]map[kind]upgrade{
	1: {"day": dayFrom1},
}

// upgraded brings a form to the present version.
func upgraded(k kind, version int, b []byte) ([]byte, error) {
	var doc map[string]any
	for v := version; v < Version; v++ {
		up, changed := upgrades[v][k]
		if !changed {
			continue
		}
		if doc == nil {
			if err := json.Unmarshal(b, &doc); err != nil {
				return nil, err
			}
		}
		if err := up(doc); err != nil {
			return nil, fmt.Errorf("from form %d: %w", v, err)
		}
	}
	if doc == nil {
		return b, nil
	}
	return json.Marshal(doc)
}

// dayFrom1: a load that could not be planned had its sentences, one a system of
// units; now it has a reason. The sentence stays as what it said then.
func dayFrom1(doc map[string]any) error {
	refused, there := doc["refused"].(map[string]any)
	if !there {
		return nil
	}
	metric, _ := refused["metric"].(map[string]any)
	why, _ := metric["Why"].(string)
	if why == "" {
		delete(doc, "refused")
		return nil
	}
	doc["refused"] = map[string]any{"code": day.RefusedThen, "values": []any{map[string]any{"kind": "text", "text": why}}}
	return nil
}
