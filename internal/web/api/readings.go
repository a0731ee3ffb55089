package api

import (
	"errors"
	"net/http"

	"smolder/internal/core/stove"
	"smolder/internal/intake"
)

// readings keeps what thermometers report: good lines are kept, bad ones answered by
// number.
func (r Room) readings(q *request) error {
	text, err := q.body()
	if err != nil {
		return err
	}
	ctx := q.Request.Context()
	list, err := q.home.Stoves(ctx)
	if err != nil {
		return err
	}
	reader := intake.Reader{Now: r.Now().UTC(), Only: q.caller.StoveID.V}
	for _, st := range list {
		reader.Stoves = append(reader.Stoves, intake.Stove{ID: st.ID, Name: st.Name, Places: placesOf(st.Stove)})
	}
	batch, err := reader.Read(intake.FormOf(q.GetHeader("Content-Type"), text), text)
	if errors.Is(err, intake.ErrMany) {
		return refuse(http.StatusRequestEntityTooLarge, "A batch has up to 20000 lines; send the rest in the next.")
	}
	if err != nil {
		return refuse(http.StatusBadRequest, "This batch cannot be read: "+err.Error()+".")
	}
	faults := make([]fault, len(batch.Faults))
	for i, f := range batch.Faults {
		faults[i] = fault{Line: f.Line, Detail: f.Detail}
	}
	switch {
	case batch.Lines == 0:
		return refuse(http.StatusUnprocessableEntity, "The batch is empty; a reading a line would do.")
	case len(batch.Readings) == 0:
		return refuse(http.StatusUnprocessableEntity, "No line of this batch is a reading: "+faults[0].Detail+".", faults...)
	}
	kept, err := q.home.AddReported(ctx, batch.Readings)
	if err != nil {
		return err
	}
	return q.answer(http.StatusOK, map[string]any{"lines": batch.Lines, "kept": kept, "known": len(batch.Readings) - kept,
		"refused": batch.Lines - len(batch.Readings), "errors": faults})
}

// placesOf are the places of a stove's gauges.
func placesOf(st stove.Stove) []stove.Place {
	var out []stove.Place
	for _, g := range st.Gauges {
		out = append(out, g.Place)
	}
	return out
}
