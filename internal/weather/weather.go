// Package weather is the stand-in for a forecast: the weather of the made-up
// island of Hallasey, hour by hour, the same whenever it is asked.
//
// It is served over HTTP like an outside service would be ([Handler], or
// `smolder weather` as a process of its own) and read through a [Source], so
// that a real one can take its place:
//
//	GET /v1/hourly?from=2026-01-14T18:00:00Z&hours=24        JSON
//	GET /v1/hourly.csv?from=2026-01-14T18:00:00Z&hours=24    CSV
//
// docs/formats.md describes both.
package weather

import (
	"context"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"net/http"
	"net/url"
	"strconv"
	"time"
)

// Place is where this weather is.
const Place = "Hallasey"

// An Hour is the weather from a full hour on.
type Hour struct {
	At          time.Time `json:"at"`
	Temperature float64   `json:"temperature_c"`
	Humidity    float64   `json:"humidity_pct"`
	Wind        float64   `json:"wind_m_s"`
}

// A Source gives the hours from a time on, beginning with the hour it lies in.
type Source interface {
	Hourly(ctx context.Context, from time.Time, hours int) ([]Hour, error)
}

// MostHours is as far as a forecast goes.
const MostHours = 14 * 24

// Island is the stand-in itself.
type Island struct{}

// Hourly returns the island's hours.
func (Island) Hourly(_ context.Context, from time.Time, hours int) ([]Hour, error) {
	if hours < 1 || hours > MostHours {
		return nil, fmt.Errorf("a forecast is 1 to %d hours long; 24 would do", MostHours)
	}
	out := make([]Hour, hours)
	first := from.UTC().Truncate(time.Hour)
	for i := range out {
		out[i] = at(first.Add(time.Duration(i) * time.Hour))
	}
	return out, nil
}

// at is a mild sea climate: the year, spells of some days, the day, and the
// weather's own unrest, all from the hour's number.
func at(t time.Time) Hour {
	h := float64(t.Unix() / 3600)
	day := h / 24
	year := -math.Cos(2 * math.Pi * (float64(t.YearDay()) - 20) / 365)
	spell := 2.6*math.Sin(2*math.Pi*day/5.3+1) + 1.7*math.Sin(2*math.Pi*day/11.7)
	sun := math.Cos(2 * math.Pi * (float64(t.Hour()) - 14) / 24)
	clear := 0.5 + 0.5*math.Sin(2*math.Pi*day/4.1+2) // 0 overcast, 1 clear
	temperature := 8 + 6*year + spell + (1+2*clear)*sun + 0.6*noise(h)
	wind := 5.5 + 2.5*math.Sin(2*math.Pi*day/3.7) - 1.2*year + 1.1*noise(h+9e5)
	humidity := 86 - 7*clear - 5*sun - 4*year + 3*noise(h+5e5)
	return Hour{t, round(temperature), round(math.Max(35, math.Min(100, humidity))), round(math.Max(0, wind))}
}

// noise is between −1 and 1 and follows from its number alone.
func noise(n float64) float64 {
	x := math.Sin(n*12.9898) * 43758.5453
	return 2*(x-math.Floor(x)) - 1
}

func round(v float64) float64 { return math.Round(v*10)/10 + 0 }

// answer is the JSON form.
type answer struct {
	Place string `json:"place"`
	Hours []Hour `json:"hours"`
}

// Handler serves a source.
func Handler(s Source) http.Handler {
	mux := http.NewServeMux()
	serve := func(kind string, write func(io.Writer, []Hour) error) http.HandlerFunc {
		return func(w http.ResponseWriter, r *http.Request) {
			hours, err := ask(r, s)
			if err != nil {
				w.Header().Set("Content-Type", "application/json")
				w.WriteHeader(http.StatusUnprocessableEntity)
				_ = json.NewEncoder(w).Encode(map[string]string{"error": err.Error()})
				return
			}
			w.Header().Set("Content-Type", kind)
			_ = write(w, hours)
		}
	}
	mux.HandleFunc("GET /v1/hourly", serve("application/json", func(w io.Writer, h []Hour) error { return json.NewEncoder(w).Encode(answer{Place, h}) }))
	mux.HandleFunc("GET /v1/hourly.csv", serve("text/csv; charset=utf-8", WriteCSV))
	return mux
}

func ask(r *http.Request, s Source) ([]Hour, error) {
	q := r.URL.Query()
	from, err := time.Parse(time.RFC3339, q.Get("from"))
	if err != nil {
		return nil, fmt.Errorf("from: %q is not a time; 2026-01-14T18:00:00Z would do", q.Get("from"))
	}
	hours := 24
	if q.Has("hours") {
		if hours, err = strconv.Atoi(q.Get("hours")); err != nil {
			return nil, fmt.Errorf("hours: %q is not a whole number; 24 would do", q.Get("hours"))
		}
	}
	return s.Hourly(r.Context(), from, hours)
}

// WriteCSV writes hours as a table.
func WriteCSV(w io.Writer, hours []Hour) error {
	out := csv.NewWriter(w)
	_ = out.Write([]string{"at", "temperature_c", "humidity_pct", "wind_m_s"}) // errors are kept until Flush
	for _, h := range hours {
		_ = out.Write([]string{h.At.Format(time.RFC3339), number(h.Temperature), number(h.Humidity), number(h.Wind)})
	}
	out.Flush()
	return out.Error()
}

func number(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// A Service is a source behind an address that speaks the same JSON.
type Service struct {
	Base   string // such as http://127.0.0.1:8430
	Client *http.Client
}

// Hourly asks the service. It waits no longer than three seconds: a plan can
// always be made with the weather typed in.
func (s Service) Hourly(ctx context.Context, from time.Time, hours int) ([]Hour, error) {
	ctx, cancel := context.WithTimeout(ctx, 3*time.Second)
	defer cancel()
	q := url.Values{"from": {from.UTC().Format(time.RFC3339)}, "hours": {strconv.Itoa(hours)}}
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, s.Base+"/v1/hourly?"+q.Encode(), nil)
	if err != nil {
		return nil, fmt.Errorf("asking for the weather: %w", err)
	}
	client := s.Client
	if client == nil {
		client = http.DefaultClient
	}
	resp, err := client.Do(r)
	if err != nil {
		return nil, fmt.Errorf("asking for the weather: %w", err)
	}
	defer resp.Body.Close()
	if resp.StatusCode != http.StatusOK {
		return nil, fmt.Errorf("asking for the weather: it answers %s", resp.Status)
	}
	return Read(io.LimitReader(resp.Body, 1<<20), from)
}

// Read takes hours in the JSON form that begin about from: in their order, not
// more than are asked for, and each as weather can be.
func Read(r io.Reader, from time.Time) ([]Hour, error) {
	var a answer
	if err := json.NewDecoder(r).Decode(&a); err != nil {
		return nil, fmt.Errorf("reading the weather: %w", err)
	}
	if len(a.Hours) > MostHours+24 {
		return nil, fmt.Errorf("reading the weather: %d hours are more than were asked for", len(a.Hours))
	}
	for i, h := range a.Hours {
		if i > 0 && !h.At.After(a.Hours[i-1].At) || h.At.Before(from.Add(-48*time.Hour)) || h.At.After(from.Add((MostHours+48)*time.Hour)) {
			return nil, fmt.Errorf("reading the weather: its hours do not follow each other from %s on", from.UTC().Format(time.RFC3339))
		}
		if !(h.Temperature > -60 && h.Temperature < 60 && h.Wind >= 0 && h.Wind < 80 && h.Humidity >= 0 && h.Humidity <= 100) {
			return nil, fmt.Errorf("reading the weather: %v makes no sense", h)
		}
	}
	return a.Hours, nil
}
