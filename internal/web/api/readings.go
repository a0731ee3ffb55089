package api

import (
	"errors"
	"net/http"

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
	batch, known, err := intake.Keep(ctx, q.home, q.caller, intake.FormOf(q.GetHeader("Content-Type"), text), text, r.Now())
	if errors.Is(err, intake.ErrMany) {
		return refuse(http.StatusRequestEntityTooLarge, "A batch has up to 20000 lines; send the rest in the next.")
	}
	if err != nil {
		return err
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
	return q.answer(http.StatusOK, map[string]any{"lines": batch.Lines, "kept": len(batch.Readings) - known, "known": known,
		"refused": batch.Lines - len(batch.Readings), "errors": faults})
}
