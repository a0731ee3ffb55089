package share

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"net/http"

	"smolder/internal/exchange"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// file takes out what is shared, for whoever helps without a network.
func (s Room) file(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	doc, err := q.Home.SharedDoc(q.Ctx(), id)
	if err != nil {
		return err
	}
	q.Header("Content-Disposition", `attachment; filename="smolder-shared.json"`)
	q.Data(http.StatusOK, "application/json", doc)
	return nil
}

// open takes a file in: what another owner shares, or an answer to what was shared here.
func (s Room) open(q *kit.Request) error {
	parts, err := q.Request.MultipartReader()
	if err != nil {
		return s.list(q, http.StatusUnprocessableEntity, "", q.T("Choose the file that you were sent."))
	}
	for {
		part, err := parts.NextPart()
		if errors.Is(err, io.EOF) {
			return s.list(q, http.StatusUnprocessableEntity, "", q.T("Choose the file that you were sent."))
		}
		if err != nil {
			return kit.Answer(http.StatusUnprocessableEntity, q.T("The file did not arrive whole; send it again."))
		}
		if part.FormName() != "file" || part.FileName() == "" {
			continue
		}
		text, err := io.ReadAll(io.LimitReader(part, exchange.MostShared+1))
		if err != nil {
			return kit.Answer(http.StatusUnprocessableEntity, q.T("The file did not arrive whole; send it again."))
		}
		return s.took(q, text)
	}
}

func (s Room) took(q *kit.Request, text []byte) error {
	if a, err := exchange.ReadAnswered(bytes.NewReader(text)); err == nil {
		switch err := q.Home.AnswerByKey(q.Ctx(), a.Of, a.Text, a.Edits, s.Now()); {
		case errors.Is(err, store.ErrMissing):
			return s.list(q, http.StatusUnprocessableEntity, "", q.T("This is an answer to something that was not shared from here, or was let go since. Nothing was kept."))
		case errors.Is(err, store.ErrStale):
			return s.list(q, http.StatusConflict, "", q.T("There is an answer to that already, and one is what is taken. Nothing was changed."))
		case err != nil:
			return err
		}
		q.Say("The answer is here.")
		return q.SeeOther("/shares")
	}
	doc, err := exchange.ReadShared(bytes.NewReader(text), s.Now().Add(ahead))
	if err != nil {
		return s.list(q, http.StatusUnprocessableEntity, "", say.Sentence(q.Locale().Error(err, func(err error) string { return say.Error(err, q.Locale()) })))
	}
	var b bytes.Buffer
	if err := exchange.WriteShared(&b, doc); err != nil {
		return err
	}
	id, err := q.Home.TakeGuest(q.Ctx(), b.Bytes(), s.Now())
	if err != nil {
		return err
	}
	return q.SeeOther(fmt.Sprintf("/guests/%d", id))
}

// drop lets go what came in a file.
func (s Room) drop(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.DropGuest(q.Ctx(), id); err != nil {
		return err
	}
	return q.SeeOther("/shares")
}
