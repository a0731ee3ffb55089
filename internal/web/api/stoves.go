package api

import (
	"context"
	"errors"
	"math"
	"net/http"
	"time"

	"smolder/internal/app/planning"
	"smolder/internal/core/belief"
	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/search"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/exchange"
	"smolder/internal/exchange/scenario"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// stoves lists the stoves with their controls, gauges and the burn that is on.
func (r Room) stoves(q *request) error {
	ctx := q.Request.Context()
	list, err := q.home.Stoves(ctx)
	if err != nil {
		return err
	}
	open, err := q.home.OpenBurns(ctx)
	if err != nil {
		return err
	}
	burning := map[int64]int64{}
	for _, b := range open {
		burning[b.StoveID] = b.ID
	}
	out := []any{}
	for _, st := range list {
		if q.mine(st.ID) != nil {
			continue
		}
		controls, gauges := []any{}, []any{}
		for _, c := range st.Controls {
			marks := []any{}
			for _, o := range c.Scale.Steps() {
				marks = append(marks, map[string]any{"opening": o, "says": say.Mark(c.Scale, o, lang.Metric)})
			}
			controls = append(controls, map[string]any{"control": c.Key, "name": c.Name, "role": c.Role, "marks": marks})
		}
		for _, g := range st.Gauges {
			gauges = append(gauges, map[string]any{"place": g.Place, "works_from_c": g.Band.Low, "works_to_c": g.Band.High, "too_hot_c": g.Band.TooHot})
		}
		line := map[string]any{"id": st.ID, "name": st.Name, "room": st.Room, "family": st.Family, "controls": controls, "gauges": gauges, "burn": nil}
		if id := burning[st.ID]; id != 0 {
			line["burn"] = id
		}
		out = append(out, line)
	}
	return q.answer(http.StatusOK, map[string]any{"stoves": out})
}

// openBurn is the burn that is on in a stove, or the one that was at a moment.
func (q *request) openBurn(ctx context.Context, stoveID int64, at time.Time, asOf bool) (store.Burn, bool, error) {
	if !asOf {
		open, err := q.home.OpenBurns(ctx)
		if err != nil {
			return store.Burn{}, false, err
		}
		for _, b := range open {
			if b.StoveID == stoveID {
				full, err := q.home.Burn(ctx, b.ID)
				return full, err == nil, err
			}
		}
		return store.Burn{}, false, nil
	}
	lines, err := q.home.Burns(ctx, at.Add(time.Second), 20)
	if err != nil {
		return store.Burn{}, false, err
	}
	for _, l := range lines {
		if l.StoveID == stoveID && (!l.Ended.Valid || l.Ended.V.After(at)) {
			full, err := q.home.Burn(ctx, l.ID)
			return full, err == nil, err
		}
	}
	return store.Burn{}, false, nil
}

// now says how the fire in a stove is, what is next, what is watched for and what is
// foretold; as of a moment where one is asked for.
func (r Room) now(q *request) error {
	st, err := q.stove()
	if err != nil {
		return err
	}
	id, ctx, asOf := st.ID, q.Request.Context(), q.Query("at") != ""
	at, err := moment("at", q.Query("at"), r.Now().UTC())
	if err != nil {
		return err
	}
	if at.After(r.Now()) {
		return refuse(http.StatusUnprocessableEntity, "at is a moment that is past; leave it out for now.", fault{Field: "at", Detail: "not past"})
	}
	b, burns, err := q.openBurn(ctx, id, at, asOf)
	if err != nil {
		return err
	}
	out := map[string]any{"stove": id, "name": st.Name, "at": at.UTC().Format(time.RFC3339), "burn": nil, "phase": "none"}
	if !burns {
		return q.answer(http.StatusOK, out)
	}
	answer := r.Watch.Now(ctx, b, at)
	if asOf {
		answer = r.Watch.At(b, at)
	}
	fill(out, b, answer)
	return q.answer(http.StatusOK, out)
}

// since is a time since a burn's start as programs read it; null: not known.
func since(b store.Burn, d time.Duration) any {
	if d < 0 {
		return nil
	}
	return b.Started.Add(d).UTC().Format(time.RFC3339)
}

func tenth(v float64) float64 { return math.Round(v*10) / 10 }

// fill puts an answer of the coach into the open form.
func fill(out map[string]any, b store.Burn, a coach.Answer) {
	out["burn"], out["started"], out["at"] = b.ID, b.Started.Format(time.RFC3339), a.At.UTC().Format(time.RFC3339)
	out["phase"] = a.Phase
	if a.Phase == "" {
		out["phase"] = "not-simulated"
	}
	out["based_on"] = basedOn(b, a)
	gauges := []any{}
	for _, g := range a.Gauges {
		line := map[string]any{"place": g.Place, "value_c": nil, "age_s": nil, "rate_c_min": nil,
			"believed_c": []float64{tenth(g.Believed.Low), tenth(g.Believed.Middle), tenth(g.Believed.High)}, "guides": a.Guided && g.Place == a.Gauges[0].Place}
		if g.Read() {
			line["value_c"], line["age_s"] = tenth(float64(g.Value)), math.Round(g.Age.Seconds())
			if g.HasRate {
				line["rate_c_min"] = tenth(g.Rate)
			}
		}
		gauges = append(gauges, line)
	}
	out["gauges"] = gauges
	out["next"] = nextOf(b, a)
	watch := []any{}
	for _, w := range a.Watch {
		line := map[string]any{"kind": w.Code, "says": say.Watched(w, lang.Metric)}
		if w.Gauge != "" {
			line["gauge"], line["threshold_c"] = w.Gauge, tenth(float64(w.Limit))
		}
		watch = append(watch, line)
	}
	out["watch"], out["reworked"] = watch, nil
	if a.Reworked != "" {
		out["reworked"] = map[string]any{"kind": a.Reworked, "says": say.Reworked(a.Reworked, lang.Metric)}
	}
	if a.Phase == "" {
		out["forecast"], out["events"], out["risks"] = map[string]any{}, map[string]any{}, nil
		return
	}
	st := a.Standing
	three := func(t belief.Three) []float64 { return []float64{round3(t.Low), round3(t.Middle), round3(t.High)} }
	out["believed"] = map[string]any{"flames": round3(st.Flames), "black": round3(st.Black), "wood_kg": three(st.Wood), "coals_kg": three(st.Coals),
		"room_c": three(st.Room), "draft_pa": three(st.Draft)}
	out["forecast"] = forecastOf(b, a.Forecast)
	events := map[string]any{}
	for _, k := range belief.Events {
		if span, ok := a.Forecast.Events[k]; ok && span.Share > 0 {
			events[string(k)] = map[string]any{"earliest": since(b, span.Earliest), "expected": since(b, span.Likely), "latest": since(b, span.Latest),
				"share": round3(span.Share)}
		}
	}
	out["events"] = events
	risks := a.Forecast.Risks
	out["risks"] = map[string]any{"within_min": 15, "too_hot": round3(risks.TooHot), "smoulder": round3(risks.Smoulder), "spillage": round3(risks.Spilling)}
}

// basedOn is what an answer goes by, and how old that is.
func basedOn(b store.Burn, a coach.Answer) map[string]any {
	out := map[string]any{"heard_s": nil, "entries": 0, "plan": a.Plan != nil, "worked_out_anew": a.Stale}
	n, last := 0, time.Time{}
	for _, e := range b.Valid() {
		if !e.At.After(a.At) {
			n, last = n+1, e.At
		}
	}
	if out["entries"] = n; n > 0 {
		out["heard_s"] = math.Round(a.At.Sub(last).Seconds())
	}
	return out
}

func round3(v float64) float64 { return math.Round(v*1000) / 1000 }

// nextOf is the one thing to do: fields for a program, and the sentences.
func nextOf(b store.Burn, a coach.Answer) map[string]any {
	c := say.Coach(a, b.Stove, a.Plan, lang.Metric)
	ad := a.Advice
	kind := string(ad.Code)
	if ad.Step != nil {
		kind = string(ad.Step.Kind)
	}
	out := map[string]any{"kind": kind, "ready": ad.Ready, "urgent": ad.Urgent, "sees": c.Sees, "do": c.Do, "sign": c.Sign, "why": c.Why, "else": c.Else,
		"earliest": since(b, ad.Earliest), "expected": since(b, ad.Expected), "latest": since(b, ad.Latest),
		"gauge": nil, "threshold_c": nil, "look_again_s": ad.Again.Seconds(), "leave_s": nil}
	if a.Away != nil {
		out["leave_s"] = a.Away.For.Seconds()
	}
	if ad.Gauge != "" {
		out["gauge"] = ad.Gauge
		if ad.Limit > 0 {
			out["threshold_c"] = tenth(float64(ad.Limit))
		}
	}
	set := []any{}
	for _, s := range ad.Sets {
		set = append(set, map[string]any{"control": s.Control.Key, "opening": round3(s.Opening), "says": say.Mark(s.Control.Scale, s.Opening, lang.Metric)})
	}
	out["set"] = set
	for _, act := range ad.Acts {
		switch {
		case act.Kind == fire.ActLoad && act.Load != nil:
			loads, _ := out["load"].([]any)
			out["load"] = append(loads, map[string]any{"stack": act.Load.StackID, "name": act.Load.StackName, "pieces": act.Load.Pieces,
				"mass_kg": round3(float64(act.Load.Mass())), "direction": act.Load.Direction, "lay": act.Load.Lay, "kindling": act.Load.Kindling})
		case act.Kind == fire.ActDoor:
			out["door"] = map[fire.Door]string{fire.Shut: "shut", fire.Ajar: "ajar", fire.Open: "open"}[act.Door]
		case act.Kind == fire.ActRake:
			out["rake"] = true
		case act.Kind == fire.ActLight:
			out["light"] = true
		case act.Kind == fire.ActPrime:
			out["prime"] = true
		}
	}
	return out
}

// forecastOf is every gauge ahead, thinned to a value each five minutes.
func forecastOf(b store.Burn, f belief.Forecast) map[string]any {
	const every = 5 * time.Minute
	stride := max(1, int(every/max(f.Every, time.Second)))
	fan := func(of belief.Fan) map[string]any {
		pick := func(values []float64) []float64 {
			var out []float64
			for i := 0; i < len(values); i += stride {
				out = append(out, tenth(values[i]))
			}
			return out
		}
		return map[string]any{"p10": pick(of.Low), "p50": pick(of.Middle), "p90": pick(of.High)}
	}
	gauges := map[string]any{}
	for p, of := range f.Gauges {
		gauges[string(p)] = fan(of)
	}
	gauges[string(stove.RoomAir)] = fan(f.Room)
	return map[string]any{"from": since(b, f.From), "every_s": (time.Duration(stride) * f.Every).Seconds(), "gauges": gauges}
}

// plans works out a wish as `smolder plan` takes it, for a stove that stands here and
// the wood that is here, and keeps what is found for some days.
func (r Room) plans(q *request) error {
	st, err := q.stove()
	if err != nil {
		return err
	}
	id, ctx := st.ID, q.Request.Context()
	if err := r.inspected(q, id, st.Name); err != nil {
		return err
	}
	text, err := q.body()
	if err != nil {
		return err
	}
	page := r.AsPage(q.Context, q.home, q.profile)
	house := page.Planning()
	w, begin, err := r.wish(page, house, st, text)
	if err != nil {
		return err
	}
	var choice search.Choice
	err = r.Queue.Do(ctx, q.home.ID(), nil, func(ctx context.Context, m *search.Meter) (err error) {
		choice, err = search.Plans(ctx, w, *r.Effort, m)
		return err
	})
	if refused := new(wish.Refusal); errors.As(err, &refused) {
		said := say.Refusal(refused, lang.Metric)
		return refuse(http.StatusUnprocessableEntity, said.Why+" "+said.Try)
	}
	if err != nil {
		return err
	}
	ids, err := house.Keep(ctx, choice, planning.Asked{Stove: id, Name: q.name(), Begins: begin, Locale: lang.Metric})
	if err != nil {
		return err
	}
	out := exchange.PlansOf(choice)
	out["ids"] = ids
	return q.answer(http.StatusCreated, out)
}

// wish reads a program's wish, and fills in what was not said as a page does.
func (r Room) wish(page *kit.Request, house *planning.Household, st store.Stove, text []byte) (w wish.Wish, begin time.Time, err error) {
	ctx := page.Ctx()
	asked, err := scenario.ParseAsked(text, st.Stove, st.Space.House, st.Space.Wanted)
	if err != nil {
		return w, begin, err
	}
	if asked.NoRoom {
		if room, read, err := house.Room(ctx, st.ID); err != nil {
			return w, begin, err
		} else if read {
			asked.Room = room
		}
	}
	if begin, err = beginOf(asked.Begins, house.Now); err != nil {
		return w, begin, err
	}
	outdoor := func(time.Duration) units.Celsius { return asked.Outdoor }
	if asked.Mild {
		if hours, ok := r.Hourly(page, house.Now, int((begin.Sub(house.Now)+asked.For).Hours())+4); ok {
			outdoor = house.Forecast(&asked.Wish, hours, begin)
		}
	}
	house.Coast(&asked.Wish, begin, outdoor)
	picks, err := house.Picks(ctx, asked.Wish)
	if err != nil {
		return w, begin, err
	}
	if w, err = asked.With(picks); err != nil {
		return w, begin, err
	}
	if err := house.Drier(ctx, &w); err != nil {
		return w, begin, err
	}
	return w, begin, house.Know(ctx, &w, st, begin)
}

// longestAhead is how far ahead a program may have a burn begin.
const longestAhead = 24 * time.Hour

// beginOf is when a burn begins: now, or when it was asked for.
func beginOf(asked, now time.Time) (time.Time, error) {
	switch {
	case asked.IsZero():
		return now, nil
	case asked.Before(now.Add(-time.Minute)), asked.After(now.Add(longestAhead)):
		return now, refuse(http.StatusUnprocessableEntity, "begins lies within the next 24 hours; leave it out for now.", fault{Field: "begins", Detail: "not ahead, or too far"})
	}
	return asked.In(now.Location()), nil
}
