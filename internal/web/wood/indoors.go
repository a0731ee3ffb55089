package wood

import (
	"fmt"

	"smolder/internal/core/units"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// carriedStack is what of a stack lies indoors.
type carriedStack struct {
	Lines []carriedLine
	Sum   int
}

type carriedLine struct {
	ID   int64
	Says string
}

// mostCarriedAtOnce is how many pieces are carried in at once: a barrow of kindling.
const mostCarriedAtOnce = 500

func (p *stackPage) indoors(q *kit.Request, st store.Stack) error {
	inside, err := q.Home.Indoors(q.Ctx(), q.Now())
	if err != nil {
		return err
	}
	for _, c := range inside {
		if c.StackID != st.ID {
			continue
		}
		p.Carried.Sum += c.Left
		p.Carried.Lines = append(p.Carried.Lines, carriedLine{c.ID, fmt.Sprintf("%s, %d carried in %s", kit.PieceWord(c.Left), c.Pieces, q.DayWord(c.At))})
	}
	return nil
}

func (s Room) carry(q *kit.Request) error {
	return s.addTo(q, func(st store.Stack, f *kit.Form) error {
		n := kit.Parse(f, "pieces", units.ParsePieces)
		if f.Ok() && (n < 1 || n > mostCarriedAtOnce) {
			f.Wrong("pieces", fmt.Sprintf("between 1 and %d pieces are carried in at once", mostCarriedAtOnce))
		}
		if !f.Ok() {
			return nil
		}
		_, err := q.Home.Carry(q.Ctx(), st.ID, n, s.Now())
		return err
	})
}

func (s Room) undoCarry(q *kit.Request) error { return s.undo(q, q.Home.UndoCarry) }
