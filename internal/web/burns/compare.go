package burns

import (
	"crypto/rand"
	"encoding/binary"
	"errors"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strconv"

	"smolder/internal/core/units"
	"smolder/internal/core/ways"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// comparePage is two ways of doing it, by the burns of one stove.
type comparePage struct {
	kit.Page
	Form     *kit.Form
	Stoves   []kit.Option
	Subjects []kit.Option
	Ways     []kit.Option
	Rows     []compared
	Model    []string // what is computed of them
	Mixed    []string // what else differs between the ways
	Unseen   []string // figures that nobody has observed
	Counts   string
	By       []kit.Option
	None     string
	Stove    int64
	Question ways.Question
	Trial    *trialPart
	Old      []trialPart
	Usual    int
}

// compared is one figure of both.
type compared struct {
	Name, Says    string
	Drawing, Thin template.HTML
	Sure          bool
}

// trialPart is a trial in words.
type trialPart struct {
	ID         int64
	What, Says string
	Next       string
	Over       bool
}

// mostCompared is how many of a stove's burns are compared at most: the newest.
const mostCompared = 400

func (s Room) compare(q *kit.Request) error {
	return s.showCompare(q, http.StatusOK, kit.Filled("stove", q.Query("stove"), "subject", q.Query("subject"), "a", q.Query("a"), "b", q.Query("b")))
}

func (s Room) showCompare(q *kit.Request, status int, f *kit.Form) error {
	stoves, err := q.Stoves()
	if err != nil {
		return err
	}
	p := &comparePage{Page: kit.Page{Title: q.T("Two ways of doing it"), Nav: "burns", Wide: true}, Form: f, Usual: ways.UsualBurns}
	for _, st := range stoves {
		p.Stoves = append(p.Stoves, kit.Option{Value: strconv.FormatInt(st.ID, 10), Label: st.Name})
	}
	if len(stoves) == 0 {
		p.None = q.T("Two ways are compared by the burns of one stove. Add a stove, and log some burns, first.")
		q.Show(status, "compare", p)
		return nil
	}
	if !f.Has("stove") || !slices.ContainsFunc(p.Stoves, func(o kit.Option) bool { return o.Value == f.Text("stove") }) {
		f.Values.Set("stove", p.Stoves[0].Value)
	}
	p.Stove = f.Number("stove")
	for _, figure := range ways.Observed {
		name, _ := say.FigureName(figure, q.Locale())
		p.By = append(p.By, kit.Option{Value: string(figure), Label: name})
	}
	for _, w := range say.Subjects {
		p.Subjects = append(p.Subjects, kit.Option{Value: string(w.Key), Label: q.T(w.Name)})
	}
	if !slices.Contains(ways.Subjects, ways.Subject(f.Text("subject"))) {
		f.Values.Set("subject", string(ways.Lay))
	}
	kept, err := q.Home.ReviewsBefore(q.Ctx(), p.Stove, s.Now(), mostCompared)
	if err != nil {
		return err
	}
	burns := make([]ways.Burn, len(kept))
	for i, k := range kept {
		burns[i] = k.Compared(q.Profile.Location())
	}
	p.compare(q, burns)
	if err := p.trials(q, s); err != nil {
		return err
	}
	q.Show(status, "compare", p)
	return nil
}

// compare holds the ways that are asked for against each other, or the two commonest.
func (p *comparePage) compare(q *kit.Request, burns []ways.Burn) {
	f := p.Form
	p.Question.Subject = ways.Subject(f.Text("subject"))
	all := ways.Ways(p.Question.Subject, burns)
	for _, w := range all {
		p.Ways = append(p.Ways, kit.Option{Value: w, Label: say.Way(p.Question.Subject, w, q.Locale())})
	}
	pick := func(name string, not string) string {
		if w := f.Text(name); slices.Contains(all, w) && w != not {
			return w
		}
		for _, w := range all {
			if w != not {
				f.Values.Set(name, w)
				return w
			}
		}
		return ""
	}
	p.Question.A = pick("a", "")
	p.Question.B = pick("b", p.Question.A)
	if !p.Question.Whole() {
		p.None = q.T("All burns of this stove were made in one way of this. Try another, and there will be something to compare.")
		return
	}
	names := [2]string{say.Way(p.Question.Subject, p.Question.A, q.Locale()), say.Way(p.Question.Subject, p.Question.B, q.Locale())}
	var counts [2]int
	for _, b := range burns {
		switch ways.WayIn(p.Question.Subject, b.Way) {
		case p.Question.A:
			counts[0]++
		case p.Question.B:
			counts[1]++
		}
	}
	for _, c := range ways.Confounds(p.Question, burns) {
		p.Mixed = append(p.Mixed, say.Confound(p.Question, c, q.Locale()))
	}
	asked := 0
	for _, v := range ways.Together(p.Question, ways.Observed, burns) {
		name, unit := say.FigureName(v.Figure, q.Locale())
		if len(v.A)+len(v.B) == 0 {
			p.Unseen = append(p.Unseen, name)
			continue
		}
		if !v.TooFew {
			asked++
		}
		c := strip.Compared{Names: names, Unit: unit, Marks: eyeWords(say.FigureMarks(v.Figure), q.Locale()), HasBar: !v.TooFew && !v.Mixed}
		turn := func(x float64) float64 { return say.FigureValue(v.Figure, x, q.Locale()) }
		for i, values := range [][]float64{v.A, v.B} {
			for _, x := range values {
				c.Values[i] = append(c.Values[i], turn(x))
			}
		}
		c.Medians = [2]float64{turn(v.MedianA), turn(v.MedianB)}
		c.Range = [2]float64{turn(v.MedianA + v.Low), turn(v.MedianA + v.High)}
		p.Rows = append(p.Rows, compared{units.UpperFirst(name), say.Compared(p.Question, v, q.Locale()), c.Drawn(660, q.Locale()), c.Drawn(strip.Phone, q.Locale()), v.Sure()})
	}
	for _, v := range ways.CompareAll(p.Question, ways.Computed, burns) {
		if len(v.A) > 0 && len(v.B) > 0 {
			p.Model = append(p.Model, say.ByModel(p.Question, v, q.Locale()))
		}
	}
	taken := q.T("Outdoor temperature and moisture are")
	if p.Question.Subject == ways.Dryness {
		taken = q.T("Outdoor temperature is")
	}
	p.Counts = q.F("%d burns %s, %d %s. %s taken out by least squares; medians are compared, so that one odd evening does not decide.",
		counts[0], names[0], counts[1], names[1], taken)
	if asked > 1 {
		p.Counts += q.F(" %d figures are asked at once, and their chances counted for that.", asked)
	}
}

// trials puts those of the stove into words.
func (p *comparePage) trials(q *kit.Request, s Room) error {
	list, err := q.Home.Trials(q.Ctx(), p.Stove)
	if err != nil {
		return err
	}
	for _, t := range list {
		part, err := trialOf(q, t)
		if err != nil {
			return err
		}
		if !t.Ended.Valid && p.Trial == nil {
			p.Trial = &part
		} else {
			p.Old = append(p.Old, part)
		}
	}
	return nil
}

// trialOf is a trial as it stands.
func trialOf(q *kit.Request, t store.Trial) (trialPart, error) {
	standing, err := q.StandingOf(t)
	if err != nil {
		return trialPart{}, err
	}
	part := trialPart{ID: t.ID, Over: standing.Over || t.Ended.Valid,
		What: q.F("%s: %s or %s, by lot, since %s", units.UpperFirst(q.T(say.Subjects.Name(t.Subject))), say.Way(t.Subject, t.A, q.Locale()),
			say.Way(t.Subject, t.B, q.Locale()), q.DayWord(t.Begun)),
		Says: q.F("%d of up to %d burns, %d of them as the lot said. %s", standing.Burns, t.Most, standing.Kept, say.Compared(t.Question,
			standing.Verdict, q.Locale()))}
	switch {
	case standing.Clear:
		part.Says += q.T(" It is clear, so it ends here.")
	case standing.Next != "" && !t.Ended.Valid:
		part.Next = q.T("The next time: ") + say.WayToDo(t.Subject, standing.Next, q.Locale()) + "."
	}
	return part, nil
}

// beginTrial begins a trial of the two ways that are compared.
func (s Room) beginTrial(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	question := ways.Question{Subject: ways.Subject(f.Text("subject")), A: f.Text("a"), B: f.Text("b")}
	if !question.Whole() || say.Way(question.Subject, question.A, q.Locale()) == "" || say.Way(question.Subject, question.B, q.Locale()) == "" {
		return kit.BadInput(q.T("A trial is of two ways of one thing. Choose them on the page and begin it there."))
	}
	most, err := strconv.Atoi(f.Text("most"))
	if err != nil || most < ways.LeastBurns || most > ways.MostBurns {
		f.Wrong("most", q.F("a trial has %d to %d burns; %d would do", ways.LeastBurns, ways.MostBurns, ways.UsualBurns))
		return s.showCompare(q, http.StatusUnprocessableEntity, f)
	}
	var seed [8]byte
	_, _ = rand.Read(seed[:]) // never fails
	by := ways.Figure(f.Text("by"))
	if by == "" {
		by = ways.Early
	}
	if !slices.Contains(ways.Observed, by) {
		return kit.BadInput(q.T("A trial is decided by something that is observed. Choose it on the page and begin it there."))
	}
	trial := ways.Trial{Question: question, By: by, Seed: binary.LittleEndian.Uint64(seed[:]), Most: most}
	switch err := q.Home.BeginTrial(q.Ctx(), f.Number("stove"), trial, s.Now().UTC()); {
	case errors.Is(err, store.ErrMany):
		return kit.Answer(http.StatusConflict, q.T("There are as many trials as are kept."))
	case err != nil:
		return err
	}
	q.Say("The trial begins with the next burn. Its plan will say which way it is.")
	back := url.Values{"stove": {f.Text("stove")}, "subject": {f.Text("subject")}, "a": {question.A}, "b": {question.B}}
	return q.SeeOther("/burns/compare?" + back.Encode())
}

func (s Room) endTrial(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.EndTrial(q.Ctx(), id, s.Now().UTC()); err != nil {
		return err
	}
	q.Say("The trial is ended. What it has shown stays below.")
	return q.SeeOther("/burns/compare")
}

// eyeWords are what an eye may have seen, in somebody's language.
func eyeWords(marks []string, loc lang.Locale) []string {
	out := make([]string, len(marks))
	for i, m := range marks {
		out[i] = say.EyeMark(m, loc)
	}
	return out
}
