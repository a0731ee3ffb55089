package burns

import (
	"errors"
	"fmt"
	"io"
	"mime"
	"net/http"
	"path"
	"strings"
	"unicode"

	"smolder/internal/core/burn"
	"smolder/internal/core/units"
	"smolder/internal/exchange"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

func (s Room) exportCSV(q *kit.Request) error {
	return s.export(q, "text/csv; charset=utf-8", "csv", exchange.WriteCSV)
}

func (s Room) exportJSON(q *kit.Request) error {
	return s.export(q, "application/json", "json", exchange.WriteJSON)
}

func (s Room) export(q *kit.Request, kind, ending string, write func(io.Writer, exchange.File) error) error {
	b, err := s.BurnOf(q)
	if err != nil {
		return err
	}
	q.Header("Content-Type", kind)
	q.Header("Content-Disposition", mime.FormatMediaType("attachment",
		map[string]string{"filename": fmt.Sprintf("burn-%s-%s.%s", fileWord(b.Stove.Name), b.Started.Format("2006-01-02-1504"), ending)}))
	return write(q.Writer, exchange.File{Title: b.Title, Burn: b.Burn, Plan: b.Plan})
}

// fileWord is a name as part of a file's name: its letters and digits, in whatever
// alphabet, and dashes between.
func fileWord(name string) string {
	return strings.Trim(strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToLower(r)
		}
		return '-'
	}, name), "-")
}

// importBurn reads a burn back in, into the stove of the same name; a stove that
// is not here comes with it. One that is here already is not read in again.
func (s Room) importBurn(q *kit.Request) error {
	file, err := s.readUpload(q)
	var input *kit.InputError
	switch {
	case errors.As(err, &input):
		return s.showBurns(q, input.Status, input.Text)
	case errors.Is(err, exchange.ErrFormat):
		return s.showBurns(q, http.StatusUnprocessableEntity, say.Sentence(say.Error(err, q.Units())))
	case err != nil:
		return err
	}
	stoveID, made, err := s.stoveFor(q, file.Burn)
	if err != nil {
		return err
	}
	same, err := q.Home.SameBurn(q.Ctx(), stoveID, file.Burn)
	if err != nil {
		return err
	}
	if same != 0 {
		q.Say("This burn is here already, so it was not read in again.")
		return q.SeeOther(fmt.Sprintf("/burns/%d", same))
	}
	id, err := q.Home.StartBurn(q.Ctx(), stoveID, file.Title, s.foreign(file.Burn), file.Plan)
	if errors.Is(err, store.ErrBurning) {
		return s.showBurns(q, http.StatusConflict, "This burn is not ended, and its stove has one already. End that one first.")
	}
	if err != nil {
		return err
	}
	text := fmt.Sprintf("Read in: %d entries.", len(file.Burn.Entries))
	if made {
		text += fmt.Sprintf(" %s came with it, and stands under Stove and flue.", file.Burn.Stove.Name)
	}
	q.Say("%s", text)
	return q.SeeOther(fmt.Sprintf("/burns/%d", id))
}

// stoveFor finds the stove of a burn by its name, or makes it from the file.
func (s Room) stoveFor(q *kit.Request, b burn.Burn) (id int64, made bool, err error) {
	stoves, err := q.Home.Stoves(q.Ctx())
	if err != nil {
		return 0, false, err
	}
	for _, st := range stoves {
		if store.NameKey(st.Name) == store.NameKey(b.Stove.Name) {
			return st.ID, false, nil
		}
	}
	spaces, err := q.Home.Spaces(q.Ctx())
	if err != nil {
		return 0, false, err
	}
	st := store.Stove{Stove: b.Stove}
	name := "where " + b.Stove.Name + " stands"
	if b.Stove.Room != "" {
		name = b.Stove.Room
	}
	if r := []rune(name); len(r) > 60 {
		name = string(r[:60])
	}
	for _, sp := range spaces {
		if store.NameKey(sp.Name) == store.NameKey(name) {
			st.Space.ID = sp.ID
		}
	}
	if st.Space.ID == 0 {
		sp := store.Space{Name: name, House: b.House, Wanted: kit.UsualBand}
		if b.Wanted[0] < b.Wanted[1] {
			sp.Wanted = [2]units.Celsius{units.Celsius(b.Wanted[0]), units.Celsius(b.Wanted[1])}
		}
		if st.Space.ID, err = q.Home.AddSpace(q.Ctx(), sp); err != nil {
			return 0, false, err
		}
	}
	id, err = q.Home.AddStove(q.Ctx(), st)
	return id, true, err
}

// foreign cuts the loads' ties to stacks of the household they came from.
func (s Room) foreign(b burn.Burn) burn.Burn {
	for i, e := range b.Entries {
		if e.Load != nil {
			l := *e.Load
			l.StackID = 0
			b.Entries[i].Load = &l
		}
	}
	return b
}

// readUpload reads the one file of a form as it comes, so that nothing of it is
// ever kept on disk.
func (s Room) readUpload(q *kit.Request) (exchange.File, error) {
	missing := kit.Answer(http.StatusUnprocessableEntity, "Choose a file first: a burn as CSV or JSON, as it was taken out here.")
	parts, err := q.Request.MultipartReader()
	if err != nil {
		return exchange.File{}, missing
	}
	for range 10 {
		part, err := parts.NextPart()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			if tooLarge := new(http.MaxBytesError); errors.As(err, &tooLarge) {
				return exchange.File{}, err
			}
			return exchange.File{}, kit.Answer(http.StatusUnprocessableEntity, "The file did not arrive whole; send it again.")
		}
		if part.FormName() != "file" || part.FileName() == "" {
			continue
		}
		if strings.EqualFold(path.Ext(part.FileName()), ".csv") {
			return exchange.ReadCSV(part, s.Now())
		}
		return exchange.ReadJSON(part, s.Now())
	}
	return exchange.File{}, missing
}

// removeBurn takes a burn off the list; its wood goes back on the stack.
func (s Room) removeBurn(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.RemoveBurn(q.Ctx(), id, true); err != nil {
		return err
	}
	q.Say("The burn is taken off the list, and its wood is back on the stack. Its page still opens, and can put it back.")
	return q.SeeOther(fmt.Sprintf("/burns/%d", id))
}

func (s Room) putBackBurn(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.RemoveBurn(q.Ctx(), id, false); err != nil {
		return err
	}
	q.Say("The burn is back on the list.")
	return q.SeeOther(fmt.Sprintf("/burns/%d", id))
}
