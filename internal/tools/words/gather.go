package main

import (
	"fmt"
	"go/ast"
	"go/constant"
	"go/types"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/tools/go/packages"

	"smolder/internal/lang"
)

// A gathering is the catalogue while it is made, with what is wrong with messages.
type gathering struct {
	lang.Catalogue
	root   string
	faults []string
}

// Gather finds the messages of the program whose module is at root. Faults are formats that
// are given other arguments than they name.
func Gather(root string) (lang.Catalogue, []string, error) {
	g := &gathering{root: root, Catalogue: lang.Catalogue{Messages: map[lang.Message][]string{}, Plurals: map[lang.Message]lang.Plural{}, Layouts: map[lang.Message][]string{}}}
	if err := g.code(); err != nil {
		return lang.Catalogue{}, nil, err
	}
	if err := g.templates(); err != nil {
		return lang.Catalogue{}, nil, err
	}
	if err := g.scripts(); err != nil {
		return lang.Catalogue{}, nil, err
	}
	slices.Sort(g.faults)
	return g.Catalogue, g.faults, nil
}

// add notes where a message stands.
func add(to map[lang.Message][]string, m lang.Message, where string) {
	if m != "" && !slices.Contains(to[m], where) {
		to[m] = append(to[m], where)
		slices.Sort(to[m])
	}
}

func (g *gathering) code() error {
	list, err := packages.Load(&packages.Config{Dir: g.root, Mode: packages.NeedName | packages.NeedFiles | packages.NeedSyntax | packages.NeedTypes |
		packages.NeedTypesInfo | packages.NeedImports | packages.NeedDeps}, "./internal/...", "./cmd/...")
	if err != nil {
		return err
	}
	for _, p := range list {
		if len(p.Errors) > 0 {
			return fmt.Errorf("%s: %w", p.PkgPath, p.Errors[0])
		}
		room := strings.TrimPrefix(p.PkgPath, "smolder/internal/")
		if strings.HasPrefix(room, "lang") && room != "lang" || room == "tools/words" {
			continue
		}
		for _, f := range p.Syntax {
			g.file(p, f, room+"/"+filepath.Base(p.Fset.Position(f.Pos()).Filename))
		}
	}
	return nil
}

func isMessage(t types.Type) bool {
	return t != nil && strings.HasSuffix(t.String(), "smolder/internal/lang.Message")
}

// file looks through a file for constants that are messages, the largest ones.
func (g *gathering) file(p *packages.Package, f *ast.File, where string) {
	ast.Inspect(f, func(n ast.Node) bool {
		if call, ok := n.(*ast.CallExpr); ok && g.call(p, call, where) {
			return false
		}
		e, ok := n.(ast.Expr)
		if !ok {
			return true
		}
		if m, is := messageOf(p, e); is {
			add(g.Messages, m, where)
			return false
		}
		return true
	})
}

func messageOf(p *packages.Package, e ast.Expr) (lang.Message, bool) {
	tv := p.TypesInfo.Types[e]
	if !isMessage(tv.Type) || tv.Value == nil || tv.Value.Kind() != constant.String {
		return "", false
	}
	if _, conversion := e.(*ast.CallExpr); conversion {
		return "", false // lang.Message("…"): its argument is looked at
	}
	return lang.Message(constant.StringVal(tv.Value)), true
}

// call looks at a call of the methods that fill messages: plurals and layouts of dates go
// their own way, and a format must name as many arguments as it gets. It tells whether all
// that is in the call has been looked at.
func (g *gathering) call(p *packages.Package, call *ast.CallExpr, where string) bool {
	s, ok := call.Fun.(*ast.SelectorExpr)
	if !ok || len(call.Args) == 0 {
		return false
	}
	t := p.TypesInfo.TypeOf(s.X)
	if t == nil || !strings.HasSuffix(t.String(), "internal/lang.Locale") && !strings.HasSuffix(t.String(), "web/kit.Request") {
		return false
	}
	rest := func(from int) {
		for _, a := range call.Args[from:] {
			ast.Inspect(a, func(n ast.Node) bool {
				if inner, ok := n.(*ast.CallExpr); ok && g.call(p, inner, where) {
					return false
				}
				if e, ok := n.(ast.Expr); ok {
					if m, is := messageOf(p, e); is {
						add(g.Messages, m, where)
						return false
					}
				}
				return true
			})
		}
	}
	if sum, is := call.Args[0].(*ast.BinaryExpr); is && (s.Sel.Name == "T" || s.Sel.Name == "F") && p.TypesInfo.Types[call.Args[0]].Value == nil {
		g.faults = append(g.faults, fmt.Sprintf("%s: a message put together of parts is in no catalogue (at %s)", where, p.Fset.Position(sum.Pos())))
	}
	switch s.Sel.Name {
	case "N":
		one, isOne := messageOf(p, call.Args[1])
		many, isMany := messageOf(p, call.Args[2])
		if !isOne || !isMany {
			return false
		}
		g.Plurals[many] = lang.Plural{One: one, In: appended(g.Plurals[many].In, where)}
		rest(3)
		return true
	case "Date":
		layout, is := messageOf(p, call.Args[1])
		if !is {
			return false
		}
		add(g.Layouts, layout, where)
		ast.Inspect(call.Args[0], func(n ast.Node) bool {
			inner, ok := n.(*ast.CallExpr)
			return !ok || !g.call(p, inner, where)
		})
		return true
	case "F":
		if m, is := messageOf(p, call.Args[0]); is && call.Ellipsis == 0 {
			if want := lang.Fills(m.English()); want != len(call.Args)-1 {
				g.faults = append(g.faults, fmt.Sprintf("%s: %q wants %d arguments and has %d", where, m, want, len(call.Args)-1))
			}
		}
	}
	return false
}

func appended(list []string, where string) []string {
	if !slices.Contains(list, where) {
		list = append(list, where)
		slices.Sort(list)
	}
	return list
}

// said is a message in an action of a template.
var said = regexp.MustCompile(`\b(?:t|fill) "((?:[^"\\]|\\.)*)"`)

func (g *gathering) templates() error {
	names, err := filepath.Glob(filepath.Join(g.root, "internal/web/*/templates/*.html"))
	if err != nil {
		return err
	}
	for _, name := range names {
		source, err := os.ReadFile(name)
		if err != nil {
			return err
		}
		where, err := filepath.Rel(filepath.Join(g.root, "internal"), name)
		if err != nil {
			return err
		}
		where = strings.Replace(filepath.ToSlash(where), "/templates", "", 1)
		messages, err := lang.MarkupMessages(string(source))
		if err != nil {
			return fmt.Errorf("%s: %w", name, err)
		}
		for _, m := range messages {
			add(g.Messages, m, where)
		}
		for _, m := range said.FindAllStringSubmatch(string(source), -1) {
			text, err := strconv.Unquote(`"` + m[1] + `"`)
			if err != nil {
				return fmt.Errorf("%s: %s: %w", name, m[0], err)
			}
			add(g.Messages, lang.Message(text), where)
		}
	}
	return nil
}

// spoken is a message in the page's script.
var spoken = regexp.MustCompile(`\bt\('((?:[^'\\]|\\.)*)'`)

func (g *gathering) scripts() error {
	names, err := filepath.Glob(filepath.Join(g.root, "assets/src/*.js"))
	if err != nil {
		return err
	}
	g.Script = nil
	for _, name := range names {
		source, err := os.ReadFile(name)
		if err != nil {
			return err
		}
		for _, m := range spoken.FindAllStringSubmatch(string(source), -1) {
			text := strings.ReplaceAll(m[1], `\'`, `'`)
			add(g.Messages, lang.Message(text), "script/"+filepath.Base(name))
			if !slices.Contains(g.Script, lang.Message(text)) {
				g.Script = append(g.Script, lang.Message(text))
			}
		}
	}
	slices.Sort(g.Script)
	return nil
}
