package exchange

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"time"
	"unicode/utf8"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/house"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/trouble"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/form"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// What is shared with another owner: one burn, one stove, or one trouble, as it was when it was
// shared, and without names. The same document stands behind a link and in a file, so that whoever
// helps sees the same with a network and without.

const (
	sharedFormat   = "smolder shared"
	answeredFormat = "smolder answer"
	sharedVersion  = 1
	// MostShared is how large such a document may be.
	MostShared = 8 << 20
	// MostSharedPhotos is how many pictures go with one, and MostPhoto how large each may be.
	MostSharedPhotos = 6
	MostPhoto        = 900 << 10
	mostCalls        = 12
	mostLines        = 40
	mostLine         = 400
	// MostAnswer is how long an answer may be, in letters, and MostAnswerEdits how many changes go
	// with it.
	MostAnswer      = 2000
	MostAnswerEdits = 12
	mostKey         = 64
)

// A SharedKind is what is shared.
type SharedKind string

// The kinds.
const (
	SharedBurn    SharedKind = "burn"
	SharedStove   SharedKind = "stove"
	SharedTrouble SharedKind = "trouble"
)

// A Shared is what somebody shares.
type Shared struct {
	Kind    SharedKind
	Key     string // by which an answer finds back
	Made    time.Time
	Burn    *burn.Burn // of a burn; of a trouble: the evening on which it happened, if there is one
	Plan    *plan.Plan // of a burn, or the last one of a stove from cold
	Known   *belief.Prior
	Stove   stove.Stove
	House   house.House
	Wish    *wish.Wish // of a trouble: an evening as it usually is
	Happens []trouble.Complaint
	Calls   []Call   // whom to call, where that was chosen
	Lines   []Line   // of a stove: wood, settings, what was learned, as its owner's pages say it
	Photos  [][]byte // JPEG, where that was chosen
}

// A Call is somebody to call.
type Call struct {
	Name  string `json:"name"`
	Phone string `json:"phone"`
	What  string `json:"what,omitempty"`
}

// A Line is one thing that is said of a stove.
type Line struct {
	Head string `json:"head"`
	Text string `json:"text"`
}

type sharedForm struct {
	Format  string      `json:"format"`
	Version int         `json:"version"`
	Kind    string      `json:"kind"`
	Key     string      `json:"key"`
	Made    time.Time   `json:"made"`
	Burn    *form.Burn  `json:"burn,omitempty"`
	Plan    *form.Plan  `json:"plan,omitempty"`
	Known   *form.Prior `json:"known,omitempty"`
	Stove   form.Stove  `json:"stove"`
	House   form.House  `json:"house"`
	Wish    *form.Wish  `json:"wish,omitempty"`
	Happens []string    `json:"happens,omitempty"`
	Calls   []Call      `json:"calls,omitempty"`
	Lines   []Line      `json:"lines,omitempty"`
	Photos  [][]byte    `json:"photos,omitempty"` // base64
}

// WriteShared writes one.
func WriteShared(w io.Writer, s Shared) error {
	f := sharedForm{Format: sharedFormat, Version: sharedVersion, Kind: string(s.Kind), Key: s.Key, Made: s.Made.UTC(),
		Stove: form.StoveOf(s.Stove), House: form.HouseOf(s.House),
		Calls: s.Calls, Lines: s.Lines, Photos: s.Photos}
	if s.Burn != nil {
		b := form.BurnOf(*s.Burn)
		f.Burn = &b
	}
	if s.Plan != nil {
		p := form.PlanOf(*s.Plan)
		f.Plan = &p
	}
	if s.Known != nil {
		k := form.PriorOf(*s.Known)
		f.Known = &k
	}
	if s.Wish != nil {
		v := form.WishOf(*s.Wish)
		f.Wish = &v
	}
	for _, c := range s.Happens {
		f.Happens = append(f.Happens, string(c))
	}
	return json.NewEncoder(w).Encode(f)
}

// ReadShared reads what [WriteShared] wrote and checks it, at the given time.
func ReadShared(r io.Reader, now time.Time) (Shared, error) {
	var f sharedForm
	if err := readDoc(r, &f, &f.Format, sharedFormat, &f.Version); err != nil {
		return Shared{}, err
	}
	s := Shared{Kind: SharedKind(f.Kind), Key: f.Key, Made: f.Made, Stove: f.Stove.Core(), House: f.House.Core(), Calls: f.Calls, Lines: f.Lines, Photos: f.Photos}
	if f.Burn != nil {
		b := f.Burn.Core()
		s.Burn = &b
	}
	if f.Plan != nil {
		p := f.Plan.Core()
		s.Plan = &p
	}
	if f.Known != nil {
		k := f.Known.Core()
		s.Known = &k
	}
	if f.Wish != nil {
		v := f.Wish.Core()
		s.Wish = &v
	}
	for _, c := range f.Happens {
		s.Happens = append(s.Happens, trouble.Complaint(c))
	}
	return s, s.check(now)
}

// readDoc decodes a document and holds it to its format and version.
func readDoc(r io.Reader, into any, format *string, want string, version *int) error {
	limited := &io.LimitedReader{R: r, N: MostShared + 1}
	if err := json.NewDecoder(limited).Decode(into); err != nil {
		switch {
		case limited.N <= 0:
			return lang.Errorf("%w: it is over %d MB", ErrFormat, MostShared>>20)
		case errors.Is(err, io.EOF):
			return lang.Errorf("%w: the file is empty", ErrFormat)
		}
		return lang.Errorf("%w: %w", ErrFormat, err)
	}
	if *format != want {
		return lang.Errorf(`%w: its "format" is %q; %q would do`, ErrFormat, shortened(*format), want)
	}
	if *version != sharedVersion {
		return lang.Errorf("%w: its version is %d; version %d would do", ErrFormat, *version, sharedVersion)
	}
	return nil
}

func (s Shared) check(now time.Time) error {
	if !slices.Contains([]SharedKind{SharedBurn, SharedStove, SharedTrouble}, s.Kind) || s.Kind == SharedBurn && s.Burn == nil ||
		s.Kind == SharedTrouble && s.Wish == nil {
		return lang.Errorf("%w: it has neither a burn, nor a stove, nor a trouble in it", ErrFormat)
	}
	if s.Key == "" || len(s.Key) > mostKey || !units.Printable(s.Key, false) {
		return lang.Errorf("%w: it has no key", ErrFormat)
	}
	if err := s.Stove.Check(); err != nil {
		return lang.Errorf("%w: %s", ErrFormat, say.Error(err, lang.Metric))
	}
	if err := s.House.Check(); err != nil {
		return lang.Errorf("%w: %s", ErrFormat, say.Error(err, lang.Metric))
	}
	if s.Burn != nil {
		f := File{Burn: *s.Burn, Plan: s.Plan}
		if err := f.check(now); err != nil {
			return err
		}
	} else if s.Plan != nil {
		if err := s.Plan.Check(); err != nil {
			return lang.Errorf("%w: %s", ErrFormat, say.Error(err, lang.Metric))
		}
	}
	if s.Wish != nil {
		if err := plan.CheckWish(*s.Wish); err != nil {
			return lang.Errorf("%w: %s", ErrFormat, say.Error(err, lang.Metric))
		}
	}
	if s.Known != nil {
		if err := s.Known.Check(); err != nil {
			return fmt.Errorf("%w: %w", ErrFormat, err)
		}
	}
	for _, c := range s.Happens {
		if !slices.Contains(trouble.Complaints, c) {
			return lang.Errorf("%w: %q is nothing that happens", ErrFormat, shortened(string(c)))
		}
	}
	return s.checkTexts()
}

// checkTexts holds what is only shown to what can be shown.
func (s Shared) checkTexts() error {
	ok := len(s.Calls) <= mostCalls && len(s.Lines) <= mostLines && len(s.Photos) <= MostSharedPhotos
	for _, c := range s.Calls {
		ok = ok && fits(c.Name) && fits(c.Phone) && fits(c.What)
	}
	for _, l := range s.Lines {
		ok = ok && fits(l.Head) && fits(l.Text)
	}
	for _, p := range s.Photos {
		ok = ok && len(p) <= MostPhoto && len(p) > 3 && p[0] == 0xff && p[1] == 0xd8
	}
	if !ok {
		return lang.Errorf("%w: there is more in it, or longer lines, than can be shown", ErrFormat)
	}
	return nil
}

func fits(text string) bool {
	return utf8.RuneCountInString(text) <= mostLine && units.Printable(text, false)
}

// An Answered is what somebody says to what was shared with them.
type Answered struct {
	Of    string // key of what was shared
	Text  string
	Edits string // the changes that they tried and mean, as an address has them
	At    time.Time
}

type answeredForm struct {
	Format  string    `json:"format"`
	Version int       `json:"version"`
	Of      string    `json:"of"`
	Text    string    `json:"text"`
	Edits   string    `json:"edits,omitempty"`
	At      time.Time `json:"at"`
}

// WriteAnswered writes one.
func WriteAnswered(w io.Writer, a Answered) error {
	return json.NewEncoder(w).Encode(answeredForm{answeredFormat, sharedVersion, a.Of, a.Text, a.Edits, a.At.UTC()})
}

// ReadAnswered reads what [WriteAnswered] wrote.
func ReadAnswered(r io.Reader) (Answered, error) {
	var f answeredForm
	if err := readDoc(r, &f, &f.Format, answeredFormat, &f.Version); err != nil {
		return Answered{}, err
	}
	a := Answered{f.Of, f.Text, f.Edits, f.At}
	if a.Of == "" || len(a.Of) > mostKey {
		return a, lang.Errorf("%w: it has no key", ErrFormat)
	}
	return a, a.Check()
}

// ErrAnswer is the cause of an answer that cannot be kept.
var ErrAnswer = lang.Errorf("this answer cannot be kept")

// Check refuses an answer that says nothing, or too much.
func (a Answered) Check() error {
	switch n := utf8.RuneCountInString(a.Text); {
	case n == 0:
		return lang.Errorf("%w: it says nothing", ErrAnswer)
	case n > MostAnswer:
		return lang.Errorf("%w: it is %d letters long; up to %d would do", ErrAnswer, n, MostAnswer)
	case !units.Printable(a.Text, true), len(a.Edits) > 2000, !units.Printable(a.Edits, false):
		return lang.Errorf("%w: there are signs in it that cannot be shown", ErrAnswer)
	}
	return nil
}
