package kit

import (
	"bytes"
	"embed"
	"encoding/json"
	"fmt"
	"html/template"
	"io"
	"io/fs"
	"net/http"
	"path"
	"regexp"
	"slices"
	"strings"
	"sync"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/say"
)

//go:embed templates
var templateFiles embed.FS

// A Page is what the skeleton of every page needs.
type Page struct {
	Title string
	Nav   string // which entry of the margin is marked
	Fire  bool   // the dark theme, by the fire

	Role    string // of whoever reads it: what they may not do is not shown
	Colours string // that this browser wants: light, dark; empty: as the device has it, and the page at the stove dark
	Wide    bool
	Inside  bool
	Home    string // the household's name
	Locale  lang.Locale
	Zone    *time.Location
	Now     time.Time
	Said    string // what was just done, for the top of the page
	House   int64  // the household's number: entries that wait on the device are of one

	Bare    bool         // a part of another page, which says what endangers itself
	OwnBurn int64        // the fire that the page is about, and says itself what endangers by it
	Worse   []Endangered // what endangers by the household's other fires, first on every page
	Lesser  []Endangered // less than what the page's own fire does: under that
}

// An Endangered is what endangers somebody by one of the household's fires, in words.
type Endangered struct {
	Burn  int64
	Stove string
	say.Alarm
	rank int
}

func (p *Page) base() *Page { return p }

// A view is a page with its own data.
type view interface{ base() *Page }

type errorPage struct {
	Page
	Text string
	ID   string // of the request, for whoever looks after the server; empty: nothing is wrong there
}

// views are the parsed templates of every language.
type views struct {
	files *files
	in    map[*lang.Language]*viewsIn
}

// viewsIn are the templates of one language, one set a page, each with the shared parts.
type viewsIn struct {
	lang   *lang.Language
	shared *template.Template
	pages  map[string]*template.Template
}

// newViews parses the kit's own templates, in English and in all languages.
func newViews(f *files, languages *lang.Languages) (*views, error) {
	v := &views{files: f, in: map[*lang.Language]*viewsIn{}}
	for _, l := range append([]*lang.Language{nil}, languages.All()...) {
		in := &viewsIn{lang: l, pages: map[string]*template.Template{}}
		in.shared = template.New("").Funcs(functions(lang.In(l, units.Metric))).Funcs(template.FuncMap{"file": f.address})
		for _, name := range []string{"layout", "parts", "emergency-parts"} {
			if err := in.parse(in.shared, templateFiles, "templates/"+name+".html"); err != nil {
				return nil, err
			}
		}
		v.in[l] = in
	}
	return v, v.add(templateFiles)
}

// parse adds a file to a set of templates, in the set's language.
func (in *viewsIn) parse(t *template.Template, files fs.FS, name string) error {
	source, err := fs.ReadFile(files, name)
	if err != nil {
		return err
	}
	text, err := in.lang.Markup(string(source))
	if err != nil {
		return fmt.Errorf("%s: %w", name, err)
	}
	_, err = t.New(path.Base(name)).Parse(text)
	return err
}

// AddViews parses a room's templates.
func (s *Site) AddViews(files fs.FS) error { return s.views.add(files) }

func (v *views) add(files fs.FS) error {
	names, err := fs.Glob(files, "templates/*.html")
	if err != nil {
		return err
	}
	for _, in := range v.in {
		for _, name := range names {
			t, err := in.shared.Clone()
			if err != nil {
				return err
			}
			if err := in.parse(t, files, name); err != nil {
				return err
			}
			page := strings.TrimSuffix(path.Base(name), ".html")
			if _, taken := in.pages[page]; taken { // it would be shown in the other's place
				return fmt.Errorf("two rooms have a page %q", page)
			}
			in.pages[page] = t
		}
	}
	return nil
}

// write renders a page whole; nothing is written should it fail.
func (v *views) write(w io.Writer, name string, data view) error {
	return v.part(w, name, "layout", data)
}

// part renders one named part of a page.
func (v *views) part(w io.Writer, name, part string, data view) error {
	in, ok := v.in[data.base().Locale.Language()]
	if !ok {
		in = v.in[nil]
	}
	t, ok := in.pages[name]
	if !ok {
		return fmt.Errorf("no template %q", name)
	}
	var b bytes.Buffer
	if err := t.ExecuteTemplate(&b, part, data); err != nil {
		return fmt.Errorf("template %s: %w", name, err)
	}
	_, err := w.Write(together(withUnits(b.Bytes(), data.base().Locale)))
	return err
}

// both is a text in metric and imperial units.
var both = regexp.MustCompile(`⟦([^|⟧]*)\|([^⟧]*)⟧`)

// posts is the beginning of a form that is posted.
var posts = regexp.MustCompile(`<form method="post"[^>]*>`)

// withUnits puts into every form that is posted which units its page was shown in, so that
// none is forgotten.
//
// What a page says for both, ⟦45 m2|480 sq ft⟧, becomes what its household reads.
func withUnits(page []byte, u lang.Locale) []byte {
	if bytes.ContainsRune(page, '⟦') {
		side := "${1}"
		if u.System == units.Imperial {
			side = "${2}"
		}
		page = both.ReplaceAll(page, []byte(side))
	}
	if u.System == "" {
		return page
	}
	hidden := []byte(`<input type="hidden" name="` + unitsField + `" value="` + string(u.System) + `">`)
	return posts.ReplaceAllFunc(page, func(form []byte) []byte { return append(bytes.Clone(form), hidden...) })
}

// Show answers with a page.
func (q *Request) Show(status int, name string, data view) {
	if q.Inside && data.base().Said == "" {
		data.base().Said = q.Site.Sessions.PopString(q.Ctx(), "said")
	}
	part := "layout"
	if q.Query("part") != "" {
		part = "part"
	}
	q.Header("Content-Type", "text/html; charset=utf-8")
	q.Header("Cache-Control", "no-store")
	q.Status(status)
	if err := q.render(q.Writer, name, part, data); err != nil {
		q.Site.Log.ErrorContext(q.Ctx(), "render", "page", name, "error", err)
		q.Status(500)
	}
}

// Part is the part of a page that changes, without answering with it.
func (q *Request) Part(name string, data view) ([]byte, error) {
	var b bytes.Buffer
	err := q.render(&b, name, "part", data)
	return b.Bytes(), err
}

// render fills in what all pages have, and writes one.
func (q *Request) render(w io.Writer, name, part string, data view) error {
	p := data.base()
	p.Inside, p.House, p.Home, p.Locale, p.Zone, p.Now = q.Inside, q.Home.ID(), q.Profile.Name, q.Locale(), q.Profile.Location(), q.Now()
	p.Colours, p.Role = q.Tint(), string(q.User.Role)
	if q.Inside && !p.Bare {
		q.endanger(p)
	}
	return q.Site.views.part(w, name, part, data)
}

// endanger fills in what endangers by the household's fires, by their logs alone: the worst
// first, whichever page somebody looks at.
func (q *Request) endanger(p *Page) {
	fires, err := q.Fires()
	if err != nil { // the page itself tells where the database is away
		q.Site.Log.WarnContext(q.Ctx(), "what endangers", "error", err)
		return
	}
	now := q.Site.Now().UTC()
	own := len(burn.FirstKinds)
	var all []Endangered
	for _, b := range fires {
		if b.Unreadable != nil {
			q.Site.Log.WarnContext(q.Ctx(), "what endangers", "burn", b.ID, "error", b.Unreadable)
			continue
		}
		for i, f := range b.Dangers(now) {
			if b.ID == p.OwnBurn {
				own = min(own, f.Kind.Rank())
				break
			}
			if i > 0 {
				break // one of each fire
			}
			all = append(all, Endangered{b.ID, b.Stove.Name, say.First(f, b.DoorOpen(now), q.Locale()), f.Kind.Rank()})
		}
	}
	slices.SortStableFunc(all, func(a, b Endangered) int { return a.rank - b.rank })
	for _, e := range all {
		if e.rank < own {
			p.Worse = append(p.Worse, e)
		} else {
			p.Lesser = append(p.Lesser, e)
		}
	}
	if p.OwnBurn == 0 {
		p.Worse, p.Lesser = all, nil
	}
}

// Say leaves a sentence for the top of the next page.
func (q *Request) Say(format lang.Message, args ...any) {
	q.Site.Sessions.Put(q.Ctx(), "said", q.F(format, args...))
}

// An undo is something that can be taken back, or put back, at an address.
type undo struct {
	Undone bool
	To     string
}

// undoable puts an address together of its parts.
func undoable(undone bool, parts ...any) undo { return undo{undone, fmt.Sprint(parts...)} }

// functions are what templates may call, in a language.
func functions(loc lang.Locale) template.FuncMap {
	return template.FuncMap{
		"listed": loc.And, // "a, b and c"
		"isRoom": func(nav string) bool {
			return slices.Contains([]string{"wood", "stoves", "upkeep", "trouble", "practice", "household", "find"}, nav)
		},
		"fill":        func(m lang.Message, args ...any) string { return loc.F(m, args...) },
		"t":           loc.T, // a message in an action
		"tag":         loc.Tag,
		"own":         func(text string) string { return say.Own(text, loc) }, // a word of the core
		"scriptWords": sync.OnceValues(func() (string, error) { return scriptWords(loc) }),
		"entryWords":  func() (string, error) { return entryWords(loc) },
		"field":       newField,
		"choice":      newChoice,
		"percent":     loc.Percent,
		"duration":    loc.Duration,
		"since":       loc.Since,
		"number":      loc.Number,
		"species":     wood.AllSpecies,
		"families":    func() any { return say.Families },
		"roles":       func() any { return say.Roles },
		"scales":      func() any { return say.Scales },
		"family":      func(f stove.Family) string { return loc.T(say.Families.Name(f)) },
		"places":      func() any { return say.Places },
		"lays":        func() any { return say.Lays },
		"starters":    func() any { return say.Starters },
		"doorWords":   func() []Option { return doorOptions(loc) },
		"looks":       func(s plan.Step) []Look { return LooksOf(s, loc) },
		"sight":       func(name string) template.HTML { return DrawSight(say.Sights[name]) },
		"upper":       units.UpperFirst,
		"lowerFirst":  units.LowerFirst,
		"pieces":      func(n int) string { return PieceWord(n, loc) },
		"clock":       func(t time.Time, z *time.Location) string { return t.In(z).Format("15:04") },
		"day":         func(t time.Time, z *time.Location) string { return loc.Date(t.In(z), "2 January 2006") },
		"dayShort":    func(t time.Time, z *time.Location) string { return loc.Date(t.In(z), "2 Jan") },
		"iso":         func(t time.Time) string { return t.UTC().Format(time.RFC3339) },
		"seq":         func(n int) []int { return make([]int, n) },
		"add":         func(a, b int) int { return a + b },
		"logArgs":     func(id int64, lines []LogLine) logArgs { return logArgs{ID: id, Lines: lines} },
		"undoable":    undoable,
		"pair":        func(line any, list string) any { return struct{ L, List any }{line, list} },
		"join":        strings.Join,
		"lower":       strings.ToLower,
	}
}

// doorOptions are the ways in which a door may stand.
func doorOptions(loc lang.Locale) []Option {
	return []Option{{Value: "shut", Label: loc.T("shut")}, {Value: "ajar", Label: loc.T("ajar")}, {Value: "open", Label: loc.T("open")}}
}

// scriptWords are the words of the page's script in another language than English.
func scriptWords(loc lang.Locale) (string, error) {
	if loc.Language() == nil {
		return "", nil
	}
	all, err := lang.Catalogued()
	if err != nil {
		return "", err
	}
	words := map[lang.Message]string{}
	for _, m := range all.Script {
		words[m] = loc.T(m)
	}
	text, err := json.Marshal(words)
	return string(text), err
}

// entryWords are the words of all kinds of entry, for the page's script.
func entryWords(loc lang.Locale) (string, error) {
	words, err := json.Marshal(say.EntryWords(loc))
	return string(words), err
}

// coloursCookie keeps which colours a browser wants.
const coloursCookie = "smolder-colours"

// Tint is which colours somebody wants, or this browser where nobody is signed in; empty: as its
// device has it.
func (q *Request) Tint() string {
	if q.User.ID != 0 {
		return q.User.Colours
	}
	if q.Request == nil {
		return ""
	}
	if c, err := q.Request.Cookie(coloursCookie); err == nil && (c.Value == "light" || c.Value == "dark") {
		return c.Value
	}
	return ""
}

// Colours are what somebody may want, with their names.
var Colours = []Choice{{"", "as the device has it; dark at the stove"}, {"light", "light everywhere"}, {"dark", "dark everywhere"}}

// IsColour tells whether there are such colours.
func IsColour(which string) bool {
	return slices.ContainsFunc(Colours, func(c Choice) bool { return c.Value == which })
}

// KeepColours lets this browser have somebody's colours when they are not signed in, too.
func (q *Request) KeepColours(which string) {
	const year = 365 * 24 * 3600
	http.SetCookie(q.Writer, &http.Cookie{Name: coloursCookie, Value: which, Path: "/", MaxAge: year, HttpOnly: true, Secure: q.Site.Secure, SameSite: http.SameSiteLaxMode})
}
