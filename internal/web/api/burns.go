package api

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/exchange"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

func (q *request) name() string { return kit.NewEntryID() }

// burnAsked is how a program begins a burn.
type burnAsked struct {
	Stove   int64    `json:"stove"`
	Plan    int64    `json:"plan"`
	Started string   `json:"started"`
	Start   string   `json:"start"`
	Room    *float64 `json:"room_c"`
	Outdoor *float64 `json:"outdoor_c"`
	Air     bool     `json:"fresh_air"` // of a boat, van or hut: its opening is open, and the CO display at nothing
}

// noAir refuses a fire in a boat, a van or a hut whose fresh air nobody has confirmed.
func noAir() error {
	return refuse(http.StatusUnprocessableEntity, "In a boat, van or hut fresh air is confirmed before lighting: its opening open and free, "+
		"the CO alarm's display at nothing. "+
		`"fresh_air": true would say so.`, fault{Field: "fresh_air", Detail: "not confirmed"})
}

// startBurn begins a burn, by a plan or only to be logged. It may have begun a while ago.
func (r Room) startBurn(q *request) error {
	var asked burnAsked
	if err := q.read(&asked); err != nil {
		return err
	}
	ctx, now := q.Request.Context(), r.Now().UTC()
	started, err := moment("started", asked.Started, now.Truncate(time.Second))
	if err != nil {
		return err
	}
	if now.Sub(started) > burn.Longest {
		return refuse(http.StatusUnprocessableEntity, "No burn is longer than "+units.Duration(burn.Longest)+"; one that is over is read in from a file.",
			fault{Field: "started", Detail: "too long ago"})
	}
	if asked.Plan != 0 {
		id, err := r.startPlanned(q, asked, started, now)
		if err != nil {
			return err
		}
		return q.answer(http.StatusCreated, map[string]any{"id": id, "started": started.Format(time.RFC3339)})
	}
	st, err := q.home.Stove(ctx, asked.Stove)
	if err == nil {
		err = q.mine(asked.Stove)
	}
	if err != nil {
		return err
	}
	if err := r.inspected(q, st.ID, st.Name); err != nil {
		return err
	}
	b := burn.Burn{Stove: st.Stove, House: st.Space.House, Room: burn.AssumedRoom, Outdoor: burn.AssumedOutdoor, Started: started,
		RoomUnknown: asked.Room == nil, OutdoorUnknown: asked.Outdoor == nil,
		Wanted: [2]float64{float64(st.Space.Wanted[0]), float64(st.Space.Wanted[1])}}
	if asked.Room != nil {
		b.Room = units.Celsius(*asked.Room)
	}
	if asked.Outdoor != nil {
		b.Outdoor = units.Celsius(*asked.Outdoor)
	}
	start := wish.Cold
	if asked.Start != "" {
		start = wish.Start(asked.Start)
	}
	if !start.Known() {
		return refuse(http.StatusUnprocessableEntity, fmt.Sprintf("%q is not a start; cold, few-coals, layer-of-coals or good-coals would do.", asked.Start),
			fault{Field: "start", Detail: "not a start"})
	}
	if st.Confined() && !asked.Air {
		return noAir()
	}
	b.Coals, b.Warmth = start.Coals(st.Volume)
	if err := b.CheckStart(now); err != nil {
		return err
	}
	id, err := q.home.StartBurn(ctx, st.ID, "", b, nil)
	if err != nil {
		return err
	}
	return q.answer(http.StatusCreated, map[string]any{"id": id, "started": b.Started.Format(time.RFC3339)})
}

// inspected refuses a fire in a stove whose chimney has burnt, until an inspection is
// entered.
func (r Room) inspected(q *request, stove int64, name string) error {
	chimneys, err := q.home.BurntChimneys(q.Request.Context())
	at, burnt := chimneys[stove]
	if err != nil || !burnt {
		return err
	}
	return refuse(http.StatusConflict, say.NoFireAfter(name, at.In(q.profile.Location()), lang.Metric), fault{Field: "stove", Detail: "not inspected"})
}

// startPlanned begins a plan that was made before.
func (r Room) startPlanned(q *request, asked burnAsked, started, now time.Time) (int64, error) {
	ctx := q.Request.Context()
	row, err := q.home.Planned(ctx, asked.Plan)
	if err != nil {
		return 0, err
	}
	if row.Burn == nil || asked.Stove != 0 && asked.Stove != row.StoveID {
		return 0, store.ErrMissing
	}
	if err := q.mine(row.StoveID); err != nil {
		return 0, err
	}
	if _, err := q.home.Stove(ctx, row.StoveID); err != nil {
		return 0, err // off the list since
	}
	if err := r.inspected(q, row.StoveID, row.Burn.Wish.Stove.Name); err != nil && row.BurnID == 0 {
		return 0, err
	}
	switch {
	case row.BurnID != 0: // it is this burn
	case kit.IsStale(row.Begins, started):
		return 0, refuse(http.StatusConflict, "This plan was made for "+row.Begins.UTC().Format(time.RFC3339)+
			": room, weather and coals are others by now. Plan it again.")
	case kit.IsAhead(row.Begins, started):
		return 0, refuse(http.StatusConflict, "This plan begins at "+row.Begins.UTC().Format(time.RFC3339)+
			": start it less than "+units.Duration(kit.Soon)+" before that, or plan it for now.")
	}
	if row.BurnID == 0 && row.Burn.Wish.Confined() && !asked.Air {
		return 0, noAir()
	}
	b := kit.BurnOfPlan(row, started)
	if err := b.CheckStart(now); err != nil {
		return 0, err
	}
	return q.home.StartPlan(ctx, row, b)
}

// burnOf says which burn is on in a stove.
func (r Room) burnOf(q *request) error {
	st, err := q.stove()
	if err != nil {
		return err
	}
	open, err := q.home.OpenBurns(q.Request.Context())
	if err != nil {
		return err
	}
	out := map[string]any{"burn": nil}
	for _, b := range open {
		if b.StoveID == st.ID {
			out["burn"], out["started"] = b.ID, b.Started.Format(time.RFC3339)
		}
	}
	return q.answer(http.StatusOK, out)
}

// burn is a burn with its log in the open form, what thermometers reported left out.
func (r Room) burn(q *request) error {
	id, err := q.id()
	if err != nil {
		return err
	}
	b, err := q.home.LoggedBurn(q.Request.Context(), id)
	if err == nil && b.Removed {
		err = store.ErrMissing
	}
	if err == nil {
		err = q.mine(b.StoveID)
	}
	if err != nil {
		return err
	}
	q.Header("Content-Type", "application/json; charset=utf-8")
	q.Header("Cache-Control", "no-store")
	return exchange.WriteJSON(q.Writer, exchange.File{Title: b.Title, Burn: b.Burn, Plan: b.Plan})
}

// entryAsked is an entry as a program writes it.
type entryAsked struct {
	ID      string   `json:"id"`
	At      string   `json:"at"`
	Kind    string   `json:"kind"`
	Control string   `json:"control"`
	Opening *float64 `json:"opening"`
	Says    string   `json:"says"`
	Place   string   `json:"place"`
	Reading *float64 `json:"reading_c"`
	Draft   *float64 `json:"draft_pa"`
	Depth   *float64 `json:"depth_m"`
	PPM     *float64 `json:"co_ppm"`
	Door    string   `json:"door"`
	Smoke   string   `json:"smoke"`
	Note    string   `json:"note"`
	Load    *struct {
		Stack     int64   `json:"stack"`
		Pieces    int     `json:"pieces"`
		Mass      float64 `json:"mass_kg"`
		Direction string  `json:"direction"`
		Lay       string  `json:"lay"`
		Starter   string  `json:"starter"`
	} `json:"load"`
}

// mostEntries is how many entries one request brings.
const mostEntries = 200

// addEntries keeps one entry or several, all or none, each once by its id.
func (r Room) addEntries(q *request) error {
	id, err := q.id()
	if err != nil {
		return err
	}
	ctx := q.Request.Context()
	b, err := q.home.Burn(ctx, id)
	if err == nil && b.Removed {
		err = store.ErrMissing
	}
	if err == nil {
		err = q.mine(b.StoveID)
	}
	if err != nil {
		return err
	}
	text, err := q.body()
	if err != nil {
		return err
	}
	asked, err := entriesOf(text)
	if err != nil {
		return err
	}
	var faults []fault
	entries := make([]burn.Entry, len(asked))
	for i, a := range asked {
		if entries[i], err = r.entry(q, b, a); err != nil {
			var no *refusal
			if !errors.As(err, &no) {
				return err
			}
			faults = append(faults, fault{Field: fmt.Sprintf("[%d]", i), Detail: no.detail})
		}
	}
	if len(faults) > 0 {
		return refuse(http.StatusUnprocessableEntity, faults[0].Detail, faults...)
	}
	var other *burn.Another
	if err := q.home.AddEntries(ctx, id, r.Now(), entries...); errors.As(err, &other) {
		kept := fmt.Sprintf("%s, at %s", say.Entry(b.Burn, other.Kept, lang.Metric), other.Kept.At.Format(time.RFC3339))
		return refuse(http.StatusConflict, fmt.Sprintf("The id %q is kept already, as: %s. Nothing of this request was kept; another id would do.", other.Kept.ID, kept),
			fault{Field: "id", Detail: "kept as: " + kept})
	} else if err != nil {
		return err
	}
	said := make([]map[string]any, len(entries))
	for i, e := range entries {
		said[i] = map[string]any{"id": e.ID, "at": e.At.Format(time.RFC3339), "said": say.Entry(b.Burn, e, lang.Metric)}
	}
	return q.answer(http.StatusOK, map[string]any{"entries": said})
}

// entriesOf reads one entry, a list of them, or an object with a list.
func entriesOf(text []byte) ([]entryAsked, error) {
	var list []entryAsked
	trimmed := strings.TrimSpace(string(text))
	into := any(&list)
	var one entryAsked
	var wrapped struct {
		Entries []entryAsked `json:"entries"`
	}
	switch {
	case strings.HasPrefix(trimmed, "["):
	case strings.HasPrefix(trimmed, "{") && strings.Contains(trimmed, `"entries"`):
		into = &wrapped
	default:
		into = &one
	}
	dec := json.NewDecoder(strings.NewReader(trimmed))
	dec.DisallowUnknownFields()
	if err := dec.Decode(into); err != nil {
		return nil, refuse(http.StatusBadRequest, "This is not an entry, nor a list of them: "+wrongJSON(err))
	}
	switch into {
	case any(&wrapped):
		list = wrapped.Entries
	case any(&one):
		list = []entryAsked{one}
	}
	if len(list) == 0 || len(list) > mostEntries {
		return nil, refuse(http.StatusUnprocessableEntity, fmt.Sprintf("A request brings 1 to %d entries; send the rest in the next.", mostEntries))
	}
	return list, nil
}

// entry makes an entry of what a program wrote.
func (r Room) entry(q *request, b store.Burn, a entryAsked) (burn.Entry, error) {
	no := func(format string, args ...any) (burn.Entry, error) {
		return burn.Entry{}, refuse(http.StatusUnprocessableEntity, fmt.Sprintf(format, args...))
	}
	at, err := moment("at", a.At, r.Now().UTC())
	if err != nil {
		return burn.Entry{}, err
	}
	e := burn.Entry{ID: a.ID, At: at, Kind: burn.Kind(a.Kind), Note: a.Note, Smoke: a.Smoke, Place: stove.Place(a.Place)}
	if e.ID == "" {
		e.ID = q.name()
	}
	switch e.Kind {
	case burn.Control:
		c, ok := b.Stove.Control(a.Control)
		if !ok {
			return no("This stove has no control %q.", a.Control)
		}
		e.Control, e.Typed = c.Key, a.Says
		switch {
		case a.Opening != nil:
			e.Opening = *a.Opening
		case a.Says != "":
			o, err := c.Scale.Parse(a.Says)
			if err != nil {
				return no("%s: %s.", c.Name, err)
			}
			e.Opening = o
		default:
			return no("How far is missing: opening, 0 to 1, or says, as the control is marked.")
		}
	case burn.Temperature:
		if a.Reading == nil {
			return no("reading_c is missing.")
		}
		e.Reading = units.Celsius(*a.Reading)
	case burn.Draft:
		if a.Draft == nil {
			return no("draft_pa is missing.")
		}
		e.Draft = units.Pascal(*a.Draft)
	case burn.CO:
		if a.PPM == nil {
			return no("co_ppm is missing.")
		}
		e.PPM = *a.PPM
	case burn.Bed:
		if a.Depth == nil {
			return no("depth_m is missing.")
		}
		e.Depth = units.Metre(*a.Depth)
	case burn.Door:
		door, ok := map[string]fire.Door{"shut": fire.Shut, "ajar": fire.Ajar, "open": fire.Open}[a.Door]
		if !ok {
			return no("The door is shut, ajar or open.")
		}
		e.Door = door
	case burn.Load, burn.Mineral:
		l, err := r.load(q, b, a)
		if err != nil {
			return e, err
		}
		if e.Load = l; l.Species.Mineral {
			e.Kind = burn.Mineral
		}
	default:
		if !e.Kind.Known() {
			return no("%q is not a kind of entry.", a.Kind)
		}
	}
	return e, nil
}

// load is what a program says was put on, from a stack.
func (r Room) load(q *request, b store.Burn, a entryAsked) (*fire.Load, error) {
	if a.Load == nil {
		return nil, refuse(http.StatusUnprocessableEntity, "load is missing: a stack and how many pieces.")
	}
	stack, err := r.Shed.Stack(q.Request.Context(), q.home, a.Load.Stack, r.Now().In(q.profile.Location()))
	if errors.Is(err, store.ErrMissing) {
		return nil, refuse(http.StatusUnprocessableEntity, fmt.Sprintf("There is no stack %d.", a.Load.Stack))
	}
	if err != nil {
		return nil, err
	}
	l := kit.LoadFrom(stack, b.Stove, a.Load.Pieces, stove.Direction(a.Load.Direction), fire.Lay(a.Load.Lay), fire.Starter(a.Load.Starter))
	if a.Load.Mass > 0 && a.Load.Pieces > 0 {
		l.PieceMass = units.Kilogram(a.Load.Mass / float64(a.Load.Pieces))
	}
	return l, nil
}

// endBurn ends a burn, now or at an earlier moment.
func (r Room) endBurn(q *request) error {
	id, err := q.id()
	if err != nil {
		return err
	}
	var asked struct {
		At string `json:"at"`
	}
	if err := q.read(&asked); err != nil {
		return err
	}
	ctx := q.Request.Context()
	at, err := moment("at", asked.At, r.Now().UTC())
	if err != nil {
		return err
	}
	b, err := q.home.Burn(ctx, id)
	if err == nil {
		err = q.mine(b.StoveID)
	}
	if err != nil {
		return err
	}
	ended, err := q.home.EndBurn(ctx, id, at, r.Now().UTC())
	if err != nil {
		return err
	}
	r.Work.Wake(q.Request.Context(), q.home.ID())
	return q.answer(http.StatusOK, map[string]any{"id": id, "ended": ended.Format(time.RFC3339)})
}
