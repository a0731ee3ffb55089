package say_test

import (
	"errors"
	"flag"
	"os"
	"strings"
	"testing"

	"pgregory.net/rapid"

	"smolder/internal/core/fixturetest"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// TestMain draws a few wishes, the same every time.
func TestMain(m *testing.M) {
	flag.Parse()
	for name, value := range map[string]string{"rapid.checks": "10", "rapid.seed": "20261125"} {
		if f := flag.Lookup(name); f.Value.String() == f.DefValue {
			_ = f.Value.Set(value)
		}
	}
	os.Exit(m.Run())
}

// Whatever is asked and whatever comes of it is said, in both systems of units:
// nothing empty, no broken format.
func TestEveryAnswerIsSaid(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		w := fixturetest.AnyWish(t)
		c, err := search.Plans(t.Context(), w, search.Quick, nil)
		for _, sys := range []units.System{units.Metric, units.Imperial} {
			if refused := new(wish.Refusal); errors.As(err, &refused) {
				r := say.Refusal(refused, lang.English(sys))
				well(t, r.Why, r.Try, say.Error(err, lang.English(sys)))
				continue
			}
			for _, p := range c.Plans {
				saidOf(t, p, sys)
				well(t, say.Differs(p, c.Plans[0], lang.English(sys))+".") // of the best from itself: nothing
			}
		}
	})
}

// saidOf is all that is said of a plan.
func saidOf(t *rapid.T, p plan.Plan, sys units.System) {
	well(t, say.Plan(p, lang.English(sys)), say.Best(p, lang.English(sys)))
	for _, in := range say.Steps(p, lang.English(sys)) {
		well(t, in.Do, in.Sign+in.How, in.Why) // what comes first waits for no sign
	}
	well(t, append(say.Checklist(p, lang.English(sys)), say.Cautions(p, lang.English(sys))...)...)
}

func well(t *rapid.T, said ...string) {
	for _, s := range said {
		if s == "" || strings.Contains(s, "%!") || strings.Contains(s, "NaN") {
			t.Fatalf("badly said: %q", s)
		}
	}
}
