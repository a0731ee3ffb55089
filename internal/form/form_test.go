package form_test

import (
	"encoding/json"
	"flag"
	"os"
	"path/filepath"
	"reflect"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/day"
	"smolder/internal/core/house"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/form"
)

var update = flag.Bool("update", false, "write the golden files of the present version anew")

// readers read every kind and write it again as it is written now.
var readers = map[string]func([]byte) (core any, again []byte, err error){
	"stove": func(b []byte) (any, []byte, error) { return both(b, form.Read[form.Stove], form.StoveOf) },
	"house": func(b []byte) (any, []byte, error) { return both(b, form.Read[form.House], form.HouseOf) },
	"burn":  func(b []byte) (any, []byte, error) { return both(b, form.Read[form.Burn], form.BurnOf) },
	"entry": func(b []byte) (any, []byte, error) { return both(b, form.Read[form.Entry], form.EntryOf) },
	"plan":  func(b []byte) (any, []byte, error) { return both(b, form.Read[form.Plan], form.PlanOf) },
	"day":   func(b []byte) (any, []byte, error) { return both(b, form.Read[form.Day], form.DayOf) },
}

type writable interface {
	form.Stove | form.House | form.Burn | form.Entry | form.Plan | form.Day | form.Eye
}

func both[C any, F writable](b []byte, read func([]byte) (C, error), write func(C) F) (any, []byte, error) {
	v, err := read(b)
	if err != nil {
		return nil, nil, err
	}
	again, err := writeAny(write(v))
	return v, again, err
}

func writeAny(f any) ([]byte, error) {
	switch v := f.(type) {
	case form.Stove:
		return form.Write(v)
	case form.House:
		return form.Write(v)
	case form.Burn:
		return form.Write(v)
	case form.Entry:
		return form.Write(v)
	case form.Plan:
		return form.Write(v)
	case form.Eye:
		return form.Write(v)
	}
	return form.Write(f.(form.Day))
}

// What was kept by any version is read, and means the same once it is written
// again. The files of the present version are the form itself: when one changes
// without a new version, this fails.
func TestEveryVersionIsRead(t *testing.T) {
	for name, read := range readers {
		oldest, err := os.ReadFile(filepath.Join("testdata", "1", name+".json"))
		require.NoError(t, err)
		first, written, err := read(oldest)
		require.NoError(t, err, name)
		here := filepath.Join("testdata", strconv.Itoa(form.Version), name+".json")
		if *update {
			require.NoError(t, os.MkdirAll(filepath.Dir(here), 0o750))
			require.NoError(t, os.WriteFile(here, append(written, '\n'), 0o600))
		}
		golden, err := os.ReadFile(here)
		require.NoError(t, err)
		assert.JSONEq(t, string(golden), string(written), "%s: its form has changed; give it a new version", name)
		for v := 1; v <= form.Version; v++ {
			kept, err := os.ReadFile(filepath.Join("testdata", strconv.Itoa(v), name+".json"))
			require.NoError(t, err, "every version keeps its golden files")
			got, _, err := read(kept)
			require.NoError(t, err, "%s of version %d", name, v)
			assert.Equal(t, first, got, "%s of version %d", name, v)
		}
	}
}

// What a day could not plan before reasons had codes is still said.
func TestADayKeepsWhatItSaidThen(t *testing.T) {
	kept, err := os.ReadFile(filepath.Join("testdata", "1", "day.json"))
	require.NoError(t, err)
	d, err := form.Read[form.Day](kept)
	require.NoError(t, err)
	require.NotNil(t, d.Refused)
	assert.Equal(t, day.RefusedThen, d.Refused.Code)
	assert.Contains(t, d.Refused.Values[0].Text, "is used up")
}

func TestANewerFormIsNotGuessedAt(t *testing.T) {
	for name, read := range readers {
		_, _, err := read([]byte(`{"form":99,"name":"x"}`))
		require.ErrorContains(t, err, "its form is 99", name)
		_, _, err = read([]byte(`not json`))
		assert.Error(t, err, name)
	}
}

// Nothing that the core keeps is forgotten: with every field set to something,
// what is written comes back as it was. A field that is not kept is named here.
func TestNoFieldIsForgotten(t *testing.T) {
	round(t, plan.Plan{}, form.PlanOf, form.Read[form.Plan])
	round(t, day.Day{}, form.DayOf, form.Read[form.Day])
	round(t, burn.Burn{}, form.BurnOf, form.Read[form.Burn])
	round(t, stove.Stove{}, form.StoveOf, form.Read[form.Stove])
	round(t, house.House{}, form.HouseOf, form.Read[form.House])
	round(t, burn.Eye{}, form.EyeOf, form.Read[form.Eye])
}

// notKept are fields that belong to a moment, or to the row.
var notKept = map[string]bool{"OneLoad": true, "Undone": true, "UndoneBy": true, "Seq": true, "Cause": true}

func round[C any, F writable](t *testing.T, v C, write func(C) F, read func([]byte) (C, error)) {
	t.Helper()
	n := 0
	fill(reflect.ValueOf(&v).Elem(), &n, 0)
	require.Greater(t, n, 4)
	b, err := writeAny(write(v))
	require.NoError(t, err)
	require.True(t, json.Valid(b))
	got, err := read(b)
	require.NoError(t, err)
	assert.Equal(t, v, got)
}

// fill sets every field that is kept to a value of its own.
func fill(v reflect.Value, n *int, depth int) {
	*n++
	switch v.Kind() {
	case reflect.Pointer:
		v.Set(reflect.New(v.Type().Elem()))
		fill(v.Elem(), n, depth+1)
	case reflect.Slice:
		v.Set(reflect.MakeSlice(v.Type(), 2, 2))
		fill(v.Index(0), n, depth+1)
		fill(v.Index(1), n, depth+1)
	case reflect.Array:
		for i := range v.Len() {
			fill(v.Index(i), n, depth+1)
		}
	case reflect.Map:
		key, value := reflect.New(v.Type().Key()).Elem(), reflect.New(v.Type().Elem()).Elem()
		fill(key, n, depth+1)
		fill(value, n, depth+1)
		v.Set(reflect.MakeMap(v.Type()))
		v.SetMapIndex(key, value)
	case reflect.Struct:
		if v.Type() == reflect.TypeFor[time.Time]() {
			v.Set(reflect.ValueOf(time.Date(2026, 1, 14, 18, *n%60, 0, 0, time.UTC)))
			return
		}
		for i := range v.NumField() {
			if f := v.Type().Field(i); f.IsExported() && !notKept[f.Name] {
				fill(v.Field(i), n, depth+1)
			}
		}
	case reflect.String:
		v.SetString("x" + strconv.Itoa(*n))
	case reflect.Bool:
		v.SetBool(true)
	case reflect.Float64:
		v.SetFloat(float64(*n) + 0.5)
	case reflect.Int, reflect.Int64:
		v.SetInt(int64(*n))
	default:
		panic(v.Type().String() + " cannot be filled")
	}
}
