// Mutants puts small faults into packages, one at a time, and tells which of them no test
// notices. A fault is an operator swapped, a condition turned round, a truth value returned the
// other way, a number a half more. What does not compile is not counted.
//
//	go run ./internal/tools/mutants [-n 20] [-seed 1] PACKAGE[=TESTS,TESTS]…
//
// PACKAGE is a directory below internal; TESTS are the packages whose tests are asked, its own
// where none is named. The source is never written to: the compiler reads each fault from an
// overlay.
package main

import (
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"time"
)

func main() {
	n := flag.Int("n", 20, "faults in each package")
	seed := flag.Uint64("seed", 1, "of the choice among them")
	patience := flag.Duration("patience", 4*time.Minute, "that the tests may take for one: what hangs is noticed")
	flag.Parse()
	if err := run(*n, *seed, *patience, flag.Args()); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func run(n int, seed uint64, patience time.Duration, packages []string) error {
	if len(packages) == 0 {
		return errors.New("name a package below internal, as core/policy")
	}
	fmt.Println("| package | faults | noticed | |\n|---|---|---|---|")
	for _, p := range packages {
		dir, tests, _ := strings.Cut(p, "=")
		asked := []string{"./internal/" + dir}
		if tests != "" {
			asked = nil
			for t := range strings.SplitSeq(tests, ",") {
				asked = append(asked, "./internal/"+t)
			}
		}
		if err := judge(dir, asked, n, seed, patience); err != nil {
			return err
		}
	}
	return nil
}

// fault is a mutant with its file.
type fault struct {
	mutant
	file   string
	source []byte
}

// judge prints the row of a package, and beneath it what nobody noticed.
func judge(dir string, tests []string, n int, seed uint64, patience time.Duration) error {
	files, err := filepath.Glob(filepath.Join("internal", dir, "*.go"))
	if err != nil {
		return err
	}
	var all []fault
	for _, f := range files {
		if strings.HasSuffix(f, "_test.go") {
			continue
		}
		source, err := os.ReadFile(f)
		if err != nil {
			return err
		}
		mutants, err := mutantsOf(f, source)
		if err != nil {
			return err
		}
		for _, m := range mutants {
			all = append(all, fault{m, f, source})
		}
	}
	rand.New(rand.NewPCG(seed, 1)).Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
	asked, noticed := 0, 0
	var survivors []string
	for _, f := range all {
		if asked == n {
			break
		}
		compiles, caught, err := notices(f, tests, patience)
		switch {
		case err != nil:
			return err
		case !compiles:
		case caught:
			asked, noticed = asked+1, noticed+1
		default:
			asked++
			survivors = append(survivors, fmt.Sprintf("  %s:%d %s", f.file, f.line, f.mutant))
		}
	}
	fmt.Printf("| %s | %d | %d | %.0f %% |\n", dir, asked, noticed, 100*float64(noticed)/float64(max(1, asked)))
	for _, s := range survivors {
		fmt.Println(s)
	}
	return nil
}

// notices tells whether a fault compiles, and whether a test fails by it.
func notices(f fault, tests []string, patience time.Duration) (compiles, caught bool, err error) {
	dir, err := os.MkdirTemp("", "mutant")
	if err != nil {
		return false, false, err
	}
	defer os.RemoveAll(dir)
	where, err := filepath.Abs(f.file)
	if err != nil {
		return false, false, err
	}
	changed, overlay := filepath.Join(dir, "mutant.go"), filepath.Join(dir, "overlay.json")
	if err := os.WriteFile(changed, f.in(f.source), 0o600); err != nil {
		return false, false, err
	}
	text, err := json.Marshal(map[string]map[string]string{"Replace": {where: changed}})
	if err != nil {
		return false, false, err
	}
	if err := os.WriteFile(overlay, text, 0o600); err != nil {
		return false, false, err
	}
	ctx, done := context.WithTimeout(context.Background(), patience)
	defer done()
	if exec.CommandContext(ctx, "go", "vet", "-overlay", overlay, "./"+filepath.Dir(f.file)).Run() != nil {
		return false, false, nil
	}
	args := append([]string{"test", "-overlay", overlay, "-count=1", "-failfast"}, tests...)
	return true, exec.CommandContext(ctx, "go", args...).Run() != nil, nil
}
