package hearth

import (
	"errors"
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/follow"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// "Done" logs all that a step says, each as an entry of its own, by one tap; the entries
// carry the tap's id, by which they are undone together. "Differently" opens the same
// entries filled in. Both send the same form: whatever stands in it is what was done.

// A doing is one entry that the next thing to do makes.
type doing struct {
	Kind, Control, Value    string
	Stack                   int64
	Pieces, Mass            string
	Direction, Lay, Starter string
	Says                    string // "lever to a half"
	Steps                   []kit.Option
	StackName               string
	When                    string // clock time at which; empty: when the tap says
	Off                     bool   // it was not done
}

// IsLoad, IsControl and IsDoor choose its fields where it is done differently.
func (d doing) IsLoad() bool    { return d.Kind == string(burn.Load) }
func (d doing) IsControl() bool { return d.Kind == string(burn.Control) }
func (d doing) IsDoor() bool    { return d.Kind == string(burn.Door) }

// mostDoings is how many entries one tap makes at most.
const mostDoings = 24

// doingsOf are the entries that an advice makes when it is done: its controls that do
// not stand so already, the door, the loads. Not the sign: who taps has done it, and may
// not have seen it.
func doingsOf(q *kit.Request, b store.Burn, a coach.Advice) []doing {
	var out []doing
	for _, set := range a.Sets {
		if e, ok := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == set.Control.Key }); ok && near(e.Opening, set.Opening) {
			continue
		}
		says := say.Mark(set.Control.Scale, set.Opening, q.Locale())
		d := doing{Kind: string(burn.Control), Control: set.Control.Key, Value: says, Says: set.Control.Name + " " + says}
		for _, o := range set.Control.Scale.Steps() {
			d.Steps = append(d.Steps, kit.Option{Value: say.Mark(set.Control.Scale, o, q.Locale()), Label: say.Mark(set.Control.Scale, o, q.Locale()), Chosen: near(o, set.Opening)})
		}
		out = append(out, d)
	}
	for _, act := range a.Acts {
		switch act.Kind {
		case fire.ActDoor:
			out = append(out, doing{Kind: string(burn.Door), Value: doorValue(act.Door), Says: say.Door(act.Door, q.Locale())})
		case fire.ActWindow:
			kind := map[bool]burn.Kind{true: burn.WindowOpen, false: burn.WindowShut}[act.Open]
			out = append(out, doing{Kind: string(kind), Says: say.EntryWord(kind, q.Locale())})
		case fire.ActRake:
			out = append(out, doing{Kind: string(burn.Rake), Says: say.EntryWord(burn.Rake, q.Locale())})
		case fire.ActPrime:
			out = append(out, doing{Kind: string(burn.Prime), Says: say.EntryWord(burn.Prime, q.Locale())})
		case fire.ActLoad:
			if act.Load != nil && act.Load.StackID != 0 {
				out = append(out, loadDoing(q, *act.Load))
			}
		case fire.ActLight:
			again := a.Code == coach.NotCaught || a.Code == coach.Dies // a second match, and not the one that was logged
			if last, lit := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Light || e.Kind == burn.WentOut }); again || !lit || last.Kind == burn.WentOut {
				out = append(out, doing{Kind: string(burn.Light), Says: say.EntryWord(burn.Light, q.Locale())})
			}
		}
	}
	return out
}

// fewDoings are said on the button; of more the first of them, and how many more there are:
// the step above it says them all.
const fewDoings = 3

// DoneSays is what "Done" logs, in a line.
func (p *livePage) DoneSays() string {
	var said []string
	for i, d := range p.Doings {
		if len(p.Doings) > fewDoings && i == fewDoings-1 {
			said = append(said, p.Locale.F("and %d more", len(p.Doings)-i))
			break
		}
		said = append(said, d.Says)
	}
	return strings.Join(said, ", ")
}

func near(a, b float64) bool { return a-b < 0.02 && b-a < 0.02 }

func loadDoing(q *kit.Request, l fire.Load) doing {
	d := doing{Kind: string(burn.Load), Stack: l.StackID, StackName: l.StackName, Pieces: strconv.Itoa(l.Pieces), Mass: q.Locale().Mass(l.Mass()),
		Direction: string(l.Direction), Lay: string(l.Lay), Starter: string(l.StarterKind)}
	if d.Says = q.F("%s of %s", say.Pieces(l.Pieces, q.Locale()), l.StackName); l.Kindling {
		d.Says = q.Locale().Mass(l.Mass()) + q.T(" of ") + l.StackName
	}
	return d
}

// doingsOfForm are the entries as they were sent, to be shown again.
func doingsOfForm(f *kit.Form) []doing {
	var out []doing
	for i := range min(mostDoings, max(0, int(f.Number("n")))) {
		field := func(name string) string { return f.Text(key(name, i)) }
		stack, _ := strconv.ParseInt(field("s"), 10, 64)
		d := doing{Kind: field("k"), Control: field("c"), Value: field("v"), Stack: stack, Pieces: field("p"), Mass: field("m"), Direction: field("d"),
			Lay: field("l"), Starter: field("a"), StackName: field("w"), Says: field("x"), Off: field("y") == ""}
		out = append(out, d)
	}
	return out
}

// done keeps what was done, all of it or none.
func (s Room) done(q *kit.Request) error {
	b, err := s.BurnOf(q)
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	if asNote(f) {
		return s.logs(q, b, f.Part(f.Values), "note", s.noteOf(q, f, b)) // whatever is wrong with it
	}
	n := int(f.Number("n"))
	if n < 1 || n > mostDoings {
		return kit.BadInput(q.T("Nothing was sent that could be logged."))
	}
	tap := f.Text("id")
	if tap == "" {
		tap = kit.NewEntryID()
	}
	if len(tap) > 56 {
		return kit.BadInput(q.T("What was typed is too long."))
	}
	at := parseWhen(f, s.Now(), b.Started, q.Profile.Location())
	var entries []burn.Entry
	for i := range n {
		if f.Text(key("y", i)) == "" {
			continue // it was not done
		}
		e, err := s.doingEntry(q, f, b, i)
		if err != nil {
			return err
		}
		e.ID, e.Tap, e.At = fmt.Sprintf("%s-%d", tap, i), tap, at
		if typed := f.Text(key("t", i)); typed != "" {
			e.At = momentIn(f, typed, s.Now(), b.Started, q.Profile.Location())
		}
		entries = append(entries, e)
	}
	if f.Ok() && len(entries) == 0 {
		f.Wrong("", q.T("tick what was done, or leave it"))
	}
	return s.logs(q, b, f, "differently", entries...)
}

// shorts are what the fields of an entry are called in the form.
var shorts = map[string]string{"control": "c", "value": "v", "stack": "s", "pieces": "p", "mass": "m", "direction": "d", "lay": "l", "starter": "a"}

func key(name string, i int) string { return name + strconv.Itoa(i) }

// doingEntry reads one of the entries of the form, by the reader of its kind.
func (s Room) doingEntry(q *kit.Request, f *kit.Form, b store.Burn, i int) (burn.Entry, error) {
	e := burn.Entry{Kind: burn.Kind(f.Text(key("k", i))), Typed: f.Text(key("v", i))}
	kind, known := kinds[e.Kind]
	if !known || len(e.Typed) > 200 {
		return e, kit.BadInput(q.T("That kind of entry is not known."))
	}
	if kind.read == nil {
		e.Typed = ""
		return e, nil
	}
	values := url.Values{}
	for field, short := range shorts {
		values.Set(field, f.Text(key(short, i)))
	}
	part := f.Part(values)
	err := kind.read(reading{s, q, part, b, &e, nil})
	if errors.Is(err, store.ErrMissing) {
		f.Wrong("", q.T("the stack of ")+f.Text(key("w", i))+q.T(" is no longer on the list; take another"))
		return e, nil
	}
	for field, text := range part.Errors {
		f.Wrong(field, text)
	}
	return e, err
}

// undoTap undoes all that one tap has logged.
func (s Room) undoTap(q *kit.Request) error {
	b, err := s.BurnOf(q)
	if err != nil {
		return err
	}
	if err := q.Home.UndoTap(q.Ctx(), b.ID, q.Param("tap"), q.Now()); err != nil {
		return err
	}
	q.Say("Undone, all of that tap. Each stands struck through in the log and can be put back alone.")
	return q.SeeOther(s.backTo(b))
}

// tapID is the id of the tap that does what is advised: the same on every page that shows
// it, so that two phones, a double click, a slow page and a reload do it once. It is of
// the step of the plan, or of the advice and what had been done by then; and of how many
// such taps there were before, so that what was undone can be done again.
func tapID(b store.Burn, a coach.Answer) string {
	base := ""
	if a.Advice.Code == coach.PlanStep {
		base = fmt.Sprintf("step-%d-%d", b.ID, a.Progress.Done)
	} else {
		done := 0
		for i := range b.Entries {
			switch e := &b.Entries[i]; e.Kind {
			case burn.Control, burn.Door, burn.Load, burn.Light, burn.Rake, burn.Prime:
				done++
			}
		}
		base = fmt.Sprintf("did-%d-%s-%d", b.ID, a.Advice.Code, done)
	}
	return fmt.Sprintf("%s-%d", base, tapsBefore(b, base))
}

// tapsBefore is how many taps there were of that base.
func tapsBefore(b store.Burn, base string) int {
	taps := map[string]bool{}
	for i := range b.Entries {
		if tap := b.Entries[i].Tap; strings.HasPrefix(tap, base+"-") {
			taps[tap] = true
		}
	}
	return len(taps)
}

// An unlogged is a step whose sign has long come and of which nothing was logged, with the stages
// after it that are due by now: it is asked about once.
type unlogged struct {
	Steps []unloggedStep
	Note  string // what is kept where it was not done
	ID    string // of that answer
	Tap   string // of the step, as on its "Done"
}

// An unloggedStep is one of them.
type unloggedStep struct {
	Says   string // "Lever to a half"
	Then   string // clock time at which it was likely done
	Doings []doing
}

// Doings are the entries of all its steps, each with its time.
func (u *unlogged) Doings() (out []doing) {
	for _, s := range u.Steps {
		for _, d := range s.Doings {
			d.When = s.Then
			out = append(out, d)
		}
	}
	return out
}

// askAfter is how long after a step's sign somebody is asked, and again never. Who turns down in
// stages is asked as soon as the next of them is due: whoever stands there with the lever in hand
// says it once, when the last is done.
const askAfter = 15 * time.Minute

// unloggedOf is the step to ask about, if any.
func unloggedOf(q *kit.Request, b store.Burn, c *kit.Coached) *unlogged {
	a := c.Answer
	now := q.Site.Now()
	if a.Plan == nil || !a.Progress.Has || a.Progress.Done == 0 || a.Progress.Next.Kind == plan.ReloadTime || !a.Progress.Ready && (!seemsBurnt(a) || b.IsOut(now)) {
		return nil
	}
	// Of whoever was away with the plan in hand, what is asked is what the plan had said; where
	// its steps were worked out anew, what stands there now.
	step, planned := a.Progress.Next, b.Plan.Steps
	if len(planned) == len(a.Plan.Steps) && isStage(step) && isStage(planned[a.Progress.Done]) {
		step = planned[a.Progress.Done]
	} else if len(planned) != len(a.Plan.Steps) {
		planned = a.Plan.Steps
	}
	due := func(i int) time.Time {
		return a.Progress.Since.Add(max(0, planned[min(i, len(planned)-1)].Expected-planned[min(a.Progress.Done, len(planned))-1].Expected))
	}
	then := due(a.Progress.Done)
	if then.After(now) || step.Expected < 0 {
		return nil
	}
	id := fmt.Sprintf("asked-%d-%d", b.ID, a.Progress.Done)
	for _, e := range b.Entries {
		if e.ID == id || e.At.After(then) && !e.Undone && !e.Reported && e.Kind != burn.Temperature {
			return nil // it was asked already, or something else was logged since
		}
	}
	out := &unlogged{ID: id}
	add := func(step plan.Step, at time.Time) coach.Advice {
		asAdvice := adviceOf(b, step)
		says := say.Step(*a.Plan, step, q.Locale()).Do
		out.Steps = append(out.Steps, unloggedStep{Says: says, Then: at.In(q.Profile.Location()).Format("15:04"), Doings: doingsOf(q, b, asAdvice)})
		return asAdvice
	}
	first := add(step, then)
	out.Note, out.Tap = q.T("Not done: ")+q.Locale().Mid(out.Steps[0].Says), tapID(b, coach.Answer{Advice: first, Progress: a.Progress})
	for i := a.Progress.Done + 1; !doorAlone(step) && i < len(planned) && isStage(planned[i]) && !due(i).After(now); i++ {
		add(planned[i], due(i))
	}
	if len(out.Steps) == 1 {
		if now.Sub(then) < askAfter {
			return nil
		}
		out.Steps[0].Says = q.Locale().Mid(out.Steps[0].Says) // in a sentence
	}
	return out
}

// doorAlone tells whether a step is about the door and nothing else: that is asked by itself.
func doorAlone(step plan.Step) bool {
	return !slices.ContainsFunc(step.Fire.Do, func(act fire.Act) bool { return act.Kind != fire.ActDoor })
}

// seemsBurnt tells whether a step is held back because by what is computed nothing flames any more:
// with the air as it was logged. Whoever has turned it down and not said so still has a fire.
func seemsBurnt(a coach.Answer) bool {
	return a.Progress.Lacks.Kind == follow.NoFlames || a.Progress.Lacks.Kind == follow.ItIsOut
}

// isStage tells whether a step only moves what another has moved before: no door, no wood.
func isStage(step plan.Step) bool {
	if step.Expected < 0 || step.Kind.Extra() || len(step.Fire.Do) == 0 {
		return false
	}
	for _, act := range step.Fire.Do {
		if act.Kind != fire.ActControl {
			return false
		}
	}
	return true
}

// adviceOf is a step of the plan as the coach would advise it.
func adviceOf(b store.Burn, step plan.Step) coach.Advice {
	out := coach.Advice{Code: coach.PlanStep, Step: &step, Sets: step.Settings(b.Stove)}
	for _, act := range step.Fire.Do {
		if act.Kind != fire.ActControl {
			out.Acts = append(out.Acts, act)
		}
	}
	return out
}

// A question is something that only somebody at the stove can see, with its two answers.
type question struct {
	Says    string
	Because string // what is not there yet
	Yes     burn.Kind
	YesWord string
	No      string // what is kept of "not yet"
	ID      string // of the answers: each is given once
}

// questionOf is what is asked where what is seen and what is computed disagree, or what
// nobody has said; nil: nothing.
func questionOf(q *kit.Request, b store.Burn, a coach.Answer) *question {
	if a.Advice.Urgent {
		return nil
	}
	ask := a.Progress.Ask
	if ask == "" && a.Advice.Code == coach.AskCoals {
		ask = follow.AskCoals
	}
	yes := map[follow.Ask]burn.Kind{follow.AskCoals: burn.ToCoals, follow.AskBlack: burn.Black}[ask]
	if yes == "" {
		return nil
	}
	answered := 0
	for i := range b.Entries {
		if b.Entries[i].Kind == burn.NotYet || b.Entries[i].Kind == yes {
			answered++
		}
	}
	out := &question{Says: say.Asked(ask, q.Locale()), Yes: yes, YesWord: q.T("yes, ") + say.EntryWord(yes, q.Locale()), No: q.T("Not yet: ") + units.LowerFirst(say.EntryWord(yes, q.Locale())),
		ID: fmt.Sprintf("ask-%d-%s-%d", b.ID, yes, answered)}
	if lack := say.Lack(a.Progress.Lacks, q.Locale()); lack != "" && a.Progress.Ask != "" {
		out.Because = units.UpperFirst(lack) + "."
	}
	return out
}
