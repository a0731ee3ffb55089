package exchange

import (
	"encoding/json"
	"errors"
	"io"
	"math"
	"slices"
	"strconv"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// What thermometers reported stands beside the entries of a burn, a list of moments and
// one of values for each gauge: of ten winters it is millions of readings, which as entries
// would be twenty times as long.

// A gaugeSeries is what one gauge reported.
type gaugeSeries struct {
	Place   string    `json:"place"`   // of a gauge; "draft"
	Seconds []float64 `json:"seconds"` // since the burn was started
	Values  []float64 `json:"values"`  // °C, or Pa of a draft
}

const draftSeries = "draft"

// MostReported is how many reported readings one burn may have in a file: two days of six
// gauges, one a second.
const MostReported = 1_100_000

// seriesOf are the reported readings of a burn.
func seriesOf(b burn.Burn) []gaugeSeries {
	var out []gaugeSeries
	at := map[string]int{}
	for _, e := range b.Entries {
		if !e.Reported || e.Struck {
			continue
		}
		place, value := string(e.Place), float64(e.Reading)
		if e.Kind == burn.Draft {
			place, value = draftSeries, float64(e.Draft)
		}
		i, there := at[place]
		if !there {
			i = len(out)
			at[place] = i
			out = append(out, gaugeSeries{Place: place})
		}
		out[i].Seconds = append(out[i].Seconds, math.Round(e.At.Sub(b.Started).Seconds()*1e3)/1e3)
		out[i].Values = append(out[i].Values, math.Round(value*100)/100)
	}
	return out
}

// errSeries is the cause of reported readings that cannot be.
var errSeries = lang.Errorf("its reported readings")

// addSeries puts reported readings among the entries of a burn, in order.
func addSeries(b *burn.Burn, all []gaugeSeries) error {
	n := 0
	for _, s := range all {
		place := stove.Place(s.Place)
		if len(s.Seconds) != len(s.Values) {
			return lang.Errorf("%w: %w: %q has %d moments and %d values", ErrFormat, errSeries, shortened(s.Place), len(s.Seconds), len(s.Values))
		}
		if s.Place != draftSeries && !place.Known() {
			return lang.Errorf("%w: %w: there is no gauge %q", ErrFormat, errSeries, shortened(s.Place))
		}
		if n += len(s.Seconds); n > MostReported {
			return lang.Errorf("%w: %w: more than %d in one burn", ErrFormat, errSeries, MostReported)
		}
		for i, at := range s.Seconds {
			v := s.Values[i]
			if !(at >= -60 && at <= (burn.Longest+time.Hour).Seconds()) || !(v >= -200 && v <= 1500) {
				return lang.Errorf("%w: %w: %g after %g s cannot be", ErrFormat, errSeries, v, at)
			}
			e := burn.Entry{At: b.Started.Add(time.Duration(at * float64(time.Second))), Kind: burn.Temperature, Place: place, Reading: units.Celsius(v), Reported: true}
			if s.Place == draftSeries {
				e.Kind, e.Place, e.Reading, e.Draft = burn.Draft, "", 0, units.Pascal(v)
			}
			e.ID = "r" + strconv.FormatInt(e.At.UnixMicro(), 10) + "-" + s.Place
			b.Entries = append(b.Entries, e)
		}
	}
	if n > 0 {
		slices.SortStableFunc(b.Entries, func(x, y burn.Entry) int { return x.At.Compare(y.At) })
	}
	return nil
}

// StreamLogbook reads a logbook of any length burn by burn, as far as it goes: each burn is
// checked and handed on before the next is read, so that it never lies in memory whole. It
// ends at the first that is wrong, or that is not taken; those before it were handed on,
// and whoever keeps each once can be sent the file again.
func StreamLogbook(r io.Reader, now time.Time, each func(n int, f File) error) error {
	dec := json.NewDecoder(newSqueezed(r))
	fail := func(err error) error {
		if errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
			return lang.Errorf("%w: the file ends in the middle", ErrFormat)
		}
		return lang.Errorf("%w: %w", ErrFormat, err)
	}
	if t, err := dec.Token(); err != nil {
		return fail(err)
	} else if t != json.Delim('{') {
		return lang.Errorf("%w: it is no JSON object", ErrFormat)
	}
	format, version, n := "", 0, 0
	for dec.More() {
		key, err := dec.Token()
		if err != nil {
			return fail(err)
		}
		switch key {
		case "format":
			err = dec.Decode(&format)
		case "version":
			err = dec.Decode(&version)
		case "burns":
			if format != logbookName || version != logbookVersion {
				return notALogbook(format, version)
			}
			if t, e := dec.Token(); e != nil || t != json.Delim('[') {
				return lang.Errorf(`%w: its "burns" are no list`, ErrFormat)
			}
			for dec.More() {
				n++
				var read fileForm
				if err := dec.Decode(&read); err != nil {
					return lang.Errorf("burn %d: %w", n, fail(err))
				}
				f, err := read.checked(now)
				if err != nil {
					return lang.Errorf("burn %d: %w", n, err)
				}
				if err := each(n, f); err != nil {
					return err
				}
			}
			_, err = dec.Token()
		default:
			var skipped json.RawMessage
			err = dec.Decode(&skipped)
		}
		if err != nil {
			return fail(err)
		}
	}
	if format != logbookName || version != logbookVersion {
		return notALogbook(format, version)
	}
	return nil
}

func notALogbook(format string, version int) error {
	return lang.Errorf("%w: its format is %q, version %d; %q, version %d would do", ErrFormat, shortened(format), version, logbookName, logbookVersion)
}

// checked is a burn of a logbook, brought to this version and held to what the application
// itself would have kept.
func (read fileForm) checked(now time.Time) (File, error) {
	f := read.file()
	f.Format, f.Version = formatName, max(f.Version, oldVersion)
	f.upgrade()
	if err := f.check(now); err != nil {
		return f, err
	}
	return f, addSeries(&f.Burn, read.Reported)
}
