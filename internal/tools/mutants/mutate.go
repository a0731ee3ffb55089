package main

import (
	"bytes"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"strconv"
)

// A mutant is one small fault in a file: what stood at a place, and what stands there instead.
type mutant struct {
	line     int
	from, to int // bytes of the source that are replaced
	was, is  string
}

// in is a source with the fault in it.
func (m mutant) in(source []byte) []byte {
	return bytes.Join([][]byte{source[:m.from], []byte(m.is), source[m.to:]}, nil)
}

func (m mutant) String() string { return fmt.Sprintf("%q for %q", m.is, m.was) }

// swaps are the operators that are taken for each other by a slip of the hand, or of a mind.
var swaps = map[token.Token]token.Token{
	token.LSS: token.LEQ, token.LEQ: token.LSS, token.GTR: token.GEQ, token.GEQ: token.GTR, token.EQL: token.NEQ, token.NEQ: token.EQL,
	token.LAND: token.LOR, token.LOR: token.LAND, token.ADD: token.SUB, token.SUB: token.ADD, token.MUL: token.QUO, token.QUO: token.MUL,
}

// mutantsOf are all faults of a source: operators swapped, a condition turned round, a truth
// value returned the other way, a number a half more.
func mutantsOf(name string, source []byte) ([]mutant, error) {
	set := token.NewFileSet()
	file, err := parser.ParseFile(set, name, source, parser.SkipObjectResolution)
	if err != nil {
		return nil, fmt.Errorf("reading %s: %w", name, err)
	}
	var out []mutant
	add := func(from, to token.Pos, is string) {
		a, b := set.Position(from), set.Position(to)
		out = append(out, mutant{a.Line, a.Offset, b.Offset, string(source[a.Offset:b.Offset]), is})
	}
	ast.Inspect(file, func(n ast.Node) bool {
		switch n := n.(type) {
		case *ast.ImportSpec:
			return false
		case *ast.BinaryExpr:
			if other, ok := swaps[n.Op]; ok && !text(n) {
				add(n.OpPos, n.OpPos+token.Pos(len(n.Op.String())), other.String())
			}
		case *ast.IfStmt:
			add(n.Cond.Pos(), n.Cond.End(), "!("+string(source[set.Position(n.Cond.Pos()).Offset:set.Position(n.Cond.End()).Offset])+")")
		case *ast.ReturnStmt:
			for _, r := range n.Results {
				if id, ok := r.(*ast.Ident); ok && (id.Name == "true" || id.Name == "false") {
					add(id.Pos(), id.End(), strconv.FormatBool(id.Name == "false"))
				}
			}
		case *ast.BasicLit:
			if v, err := strconv.ParseFloat(n.Value, 64); err == nil && n.Kind == token.FLOAT && v != 0 {
				add(n.Pos(), n.End(), strconv.FormatFloat(1.5*v, 'g', -1, 64))
			}
		}
		return true
	})
	return out, nil
}

// text tells whether an expression joins strings.
func text(n *ast.BinaryExpr) bool {
	for _, x := range []ast.Expr{n.X, n.Y} {
		if lit, ok := x.(*ast.BasicLit); ok && lit.Kind == token.STRING {
			return true
		}
		if b, ok := x.(*ast.BinaryExpr); ok && text(b) {
			return true
		}
	}
	return false
}
