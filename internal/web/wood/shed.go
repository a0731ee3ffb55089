package wood

import (
	"bytes"
	"database/sql"
	"encoding/csv"
	"errors"
	"io"
	"net/http"
	"slices"
	"strconv"
	"time"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/exchange"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// Uploads is the address that wood is read in by.
const Uploads = "/wood/import"

// TakesFiles tells whether an address takes a file.
func TakesFiles(path string) bool { return path == Uploads }

// takeOut writes all stacks with their readings and counts as JSON.
func (s Room) takeOut(q *kit.Request) error {
	all, err := listed(q)
	if err != nil {
		return err
	}
	shed := exchange.Shed{Stacks: []exchange.ShedStack{}}
	for _, w := range all {
		shed.Stacks = append(shed.Stacks, shedOf(w))
	}
	var b bytes.Buffer
	if err := exchange.WriteShed(&b, shed); err != nil {
		return err
	}
	q.Header("Content-Disposition", `attachment; filename="wood.json"`)
	q.Data(http.StatusOK, "application/json", b.Bytes())
	return nil
}

// asTable writes every reading and every count as CSV, a row each.
func (s Room) asTable(q *kit.Request) error {
	all, err := listed(q)
	if err != nil {
		return err
	}
	var b bytes.Buffer
	out := csv.NewWriter(&b)
	number := func(v float64) string { return strconv.FormatFloat(v, 'g', 8, 64) }
	_ = out.Write([]string{"stack", "species", "time", "what", "moisture_pct", "spread_pct", "pieces", "wood_c", "dry_kg", "typed"})
	for _, w := range all {
		for _, r := range w.Readings {
			temp := ""
			if r.WoodTemp.Valid {
				temp = number(r.WoodTemp.V)
			}
			_ = out.Write(exchange.Guarded(w.Name, w.Species.Key, r.At.UTC().Format(time.RFC3339), "reading", number(r.Reading.Percent()), number(r.Spread.Percent()),
				strconv.Itoa(r.Pieces), temp, "", ""))
		}
		for _, c := range w.Counts {
			what := "count"
			if c.Adds {
				what = "added"
			}
			_ = out.Write(exchange.Guarded(w.Name, w.Species.Key, c.At.UTC().Format(time.RFC3339), what, "", "", "", "", number(float64(c.Amount.Middle)), c.Typed))
		}
	}
	if out.Flush(); out.Error() != nil {
		return out.Error()
	}
	q.Header("Content-Disposition", `attachment; filename="wood.csv"`)
	q.Data(http.StatusOK, "text/csv; charset=utf-8", b.Bytes())
	return nil
}

func pointer(v sql.Null[float64]) *float64 {
	if !v.Valid {
		return nil
	}
	return &v.V
}

func null(v *float64) (out sql.Null[float64]) {
	if v != nil {
		out.V, out.Valid = *v, true
	}
	return out
}

// listed are the household's stacks with all that was told of them, those off the list left out.
func listed(q *kit.Request) ([]store.Stack, error) {
	all, err := q.Home.Stacks(q.Ctx())
	return slices.DeleteFunc(all, func(s store.Stack) bool { return s.Removed }), err
}

func shedOf(w store.Stack) exchange.ShedStack {
	out := exchange.ShedStack{Name: w.Name, Species: w.Species.Key, PieceMass: float64(w.PieceMass), PieceMoisture: float64(w.PieceMoisture),
		PieceLength: float64(w.PieceLength), Thin: float64(w.Thin), Thick: float64(w.Thick), Kindling: w.Kindling, Round: w.Round, Crooked: w.Crooked, Cover: string(w.Cover), Wind: pointer(w.Wind),
		Sun: pointer(w.Sun), OnGround: w.OnGround, Heap: w.Heap, StandingDead: w.Dead, Assumed: w.Assumed}
	if !w.Since.IsZero() {
		out.Since = &w.Since
	}
	for _, r := range w.Readings {
		out.Readings = append(out.Readings, exchange.ShedReading{At: r.At, Reading: float64(r.Reading), Spread: float64(r.Spread), Pieces: r.Pieces,
			WoodTemp: pointer(r.WoodTemp), Guessed: r.Guessed})
	}
	for _, c := range w.Counts {
		out.Counts = append(out.Counts, exchange.ShedCount{At: c.At, Way: string(c.Way), Typed: c.Typed, Dry: float64(c.Amount.Middle), Own: c.Amount.Own,
			Same: c.Amount.Same, Adds: c.Adds})
	}
	return out
}

func rowOf(s exchange.ShedStack) store.Stack {
	species, _ := wood.SpeciesByKey(s.Species) // it was checked
	w := store.Stack{PieceMoisture: units.Fraction(s.PieceMoisture)}
	w.Stack = wood.Stack{Name: s.Name, Species: species, PieceMass: units.Kilogram(s.PieceMass), PieceLength: units.Metre(s.PieceLength),
		Thin: units.Kilogram(s.Thin), Thick: units.Kilogram(s.Thick),
		Kindling: s.Kindling, Assumed: s.Assumed}
	w.Siting = store.Siting{Cover: wood.Cover(s.Cover), Wind: null(s.Wind), Sun: null(s.Sun), OnGround: s.OnGround, Round: s.Round, Crooked: s.Crooked,
		Heap: s.Heap, Dead: s.StandingDead}
	if s.Since != nil {
		w.Since = *s.Since
	}
	for _, r := range s.Readings {
		w.Readings = append(w.Readings, store.StackReading{At: r.At, Reading: units.Fraction(r.Reading), Spread: units.Fraction(r.Spread), Pieces: r.Pieces,
			WoodTemp: null(r.WoodTemp), Guessed: r.Guessed})
	}
	for _, c := range s.Counts {
		w.Counts = append(w.Counts, store.StackCount{At: c.At, Way: wood.Way(c.Way), Typed: c.Typed, Adds: c.Adds,
			Amount: wood.Amount{Middle: units.Kilogram(c.Dry), Own: c.Own, Same: c.Same}})
	}
	return w
}

// readIn reads stacks in, all or none.
func (s Room) readIn(q *kit.Request) error {
	missing := kit.BadInput(q.T("Choose a file first: wood as JSON, as it was taken out here."))
	parts, err := q.Request.MultipartReader()
	if err != nil {
		return missing
	}
	for range 10 {
		part, err := parts.NextPart()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return kit.BadInput(q.T("The file did not arrive whole; send it again."))
		}
		if part.FormName() != "file" || part.FileName() == "" {
			continue
		}
		shed, err := exchange.ReadShed(part, s.Now())
		if errors.Is(err, exchange.ErrShed) {
			return kit.BadInput(say.Sentence(say.Error(err, q.Locale())) + q.T(" Nothing was read in."))
		}
		if err != nil {
			return err
		}
		list := make([]store.Stack, len(shed.Stacks))
		for i, st := range shed.Stacks {
			list[i] = rowOf(st)
		}
		added, err := q.Home.ImportStacks(q.Ctx(), list)
		if err != nil {
			return err
		}
		q.Say("Read in: %d stacks. %d were here already by their names, and are as they were.", added, len(list)-added)
		return q.SeeOther("/wood")
	}
	return missing
}
