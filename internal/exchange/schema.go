package exchange

import (
	"encoding/json"
	"reflect"
	"strings"
	"time"
)

// Schema is the JSON Schema (draft 2020-12) of a logbook, made from the forms that it is
// written by, so that it never says anything else.
func Schema() []byte {
	s := schemer{defs: map[string]any{}}
	doc := map[string]any{
		"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "A Smolder logbook", "type": "object",
		"description": "Burns as they were logged: SI units, degrees Celsius, moments as RFC 3339. Entries that were undone or corrected are left out.",
		"required":    []string{"format", "version", "burns"},
		"properties": map[string]any{
			"format": map[string]any{"const": logbookName}, "version": map[string]any{"const": logbookVersion},
			"burns": map[string]any{"type": "array", "maxItems": MostBurns, "items": s.of(reflect.TypeFor[fileForm]())},
		},
	}
	doc["$defs"] = s.defs
	b, err := json.MarshalIndent(doc, "", " ")
	if err != nil {
		panic(err) // it is made of strings and maps of them
	}
	return append(b, '\n')
}

// A schemer describes types.
type schemer struct{ defs map[string]any }

func (s schemer) of(t reflect.Type) map[string]any {
	switch {
	case t == reflect.TypeFor[time.Time]():
		return map[string]any{"type": "string", "format": "date-time"}
	case t == reflect.TypeFor[json.RawMessage]():
		return map[string]any{}
	}
	switch t.Kind() {
	case reflect.Pointer:
		return s.of(t.Elem())
	case reflect.String:
		return map[string]any{"type": "string"}
	case reflect.Bool:
		return map[string]any{"type": "boolean"}
	case reflect.Float64:
		return map[string]any{"type": "number"}
	case reflect.Int, reflect.Int64, reflect.Uint8:
		return map[string]any{"type": "integer"}
	case reflect.Slice:
		return map[string]any{"type": []string{"array", "null"}, "items": s.of(t.Elem())}
	case reflect.Array:
		return map[string]any{"type": "array", "items": s.of(t.Elem()), "minItems": t.Len(), "maxItems": t.Len()}
	case reflect.Map:
		return map[string]any{"type": []string{"object", "null"}, "additionalProperties": s.of(t.Elem())}
	case reflect.Struct:
		return s.object(t)
	}
	return map[string]any{}
}

// object describes a struct once and refers to it.
func (s schemer) object(t reflect.Type) map[string]any {
	name := strings.ReplaceAll(t.String(), ".", "-")
	ref := map[string]any{"$ref": "#/$defs/" + name}
	if _, there := s.defs[name]; there {
		return ref
	}
	def := map[string]any{"type": "object"}
	s.defs[name] = def
	properties, required := map[string]any{}, []string{}
	for i := range t.NumField() {
		field := t.Field(i)
		key, options, _ := strings.Cut(field.Tag.Get("json"), ",")
		if key == "-" || !field.IsExported() {
			continue
		}
		if key == "" {
			key = field.Name
		}
		properties[key] = s.of(field.Type)
		if !strings.Contains(options, "omit") {
			required = append(required, key)
		}
	}
	def["properties"] = properties
	if len(required) > 0 {
		def["required"] = required
	}
	return ref
}
