package plan_test

import (
	"context"
	"encoding/json"
	"errors"
	"flag"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"pgregory.net/rapid"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// TestMain draws a few wishes, for each is a search of some hundred burns, and
// the same every time; -rapid.checks=300 -rapid.seed=7 tries others.
func TestMain(m *testing.M) {
	flag.Parse()
	for name, value := range map[string]string{"rapid.checks": "25", "rapid.seed": "20261125"} {
		if f := flag.Lookup(name); f.Value.String() == f.DefValue {
			_ = f.Value.Set(value)
		}
	}
	os.Exit(m.Run())
}

// anyWish is what somebody might ask for: any family, weather, aim, wood.
func anyWish(t *rapid.T) plan.Wish {
	family := rapid.SampledFrom(stove.Families).Draw(t, "family").Key
	w := familyWish(family, rapid.SampledFrom(plan.Starts).Draw(t, "start").Key)
	number := func(name string, low, high float64) float64 { return rapid.Float64Range(low, high).Draw(t, name) }
	w.Aim = rapid.SampledFrom(plan.Aims).Draw(t, "aim").Key
	w.For = time.Duration(number("for", 1, 10)*60) * time.Minute
	w.Outdoor, w.Room = units.Celsius(number("outdoor", -15, 15)), units.Celsius(number("room", 12, 20))
	w.Wood.Stack.Reading = units.Fraction(number("reading", 0.10, 0.32))
	w.Wood.Stack.Mass = units.Kilogram(number("left", 0.2, 60) + rapid.SampledFrom([]float64{0, 4, 40}).Draw(t, "more"))
	if family != stove.Tiny {
		w.Wood.Stack.PieceMass = units.Kilogram(number("piece", 0.5, 2.5))
	}
	w.Stove.Chimney.Height = units.Metre(number("height", 3, 9))
	w.House.Fan = units.Flow(rapid.SampledFrom([]float64{0, 0, 150}).Draw(t, "fan"))
	if w.Start == plan.Cold {
		w.Lay = rapid.SampledFrom([]fire.Lay{"", "", fire.TopDown, fire.Raft, fire.OpenV, fire.LeanTo, fire.BottomUp}).Draw(t, "lay")
	}
	if rapid.Bool().Draw(t, "leaves") {
		w.There = plan.Presence{{To: time.Duration(number("leave", 0.5, 3)*60) * time.Minute}}
		if rapid.Bool().Draw(t, "returns") {
			back := w.There[0].To + time.Duration(number("out", 1, 6)*60)*time.Minute
			w.There = append(w.There, plan.Span{From: back, To: back + 4*time.Hour})
		}
	}
	return w
}

// Whatever is asked, the answer is a plan that is safe and clean, within the
// manual and made of pieces that are there, in words; or a refusal that says
// why and what would do.
func TestEveryWishIsAnswered(t *testing.T) {
	plans, refusals := 0, 0
	rapid.Check(t, func(t *rapid.T) {
		w := anyWish(t)
		c, err := plan.Search(context.Background(), w, nil)
		if refused := new(plan.Refusal); errors.As(err, &refused) {
			refusals++
			for _, r := range []*plan.Refusal{refused, refused.In(units.Imperial)} {
				if r.Why == "" || r.Try == "" || strings.Contains(r.Error(), "%!") {
					t.Fatalf("a refusal without its reason: %+v", r)
				}
			}
			return
		}
		if err != nil {
			t.Fatal(err)
		}
		for i, p := range c.Plans {
			plans++
			for _, sys := range []units.System{units.Metric, units.Imperial} {
				if why := c.Why(i, sys); len(why) < 5 || strings.Contains(why, "%!") || strings.Contains(why, "NaN") {
					t.Fatalf("each plan has its sentence, and this is %q", why)
				}
			}
			holds(t, p)
		}
	})
	t.Logf("%d plans, %d refusals", plans, refusals)
	if plans == 0 || refusals == 0 {
		t.Errorf("%d plans and %d refusals: the wishes are all of a kind", plans, refusals)
	}
}

func holds(t *rapid.T, p plan.Plan) {
	w := p.Wish
	switch {
	case p.Summary.TooHot > 2*time.Minute:
		t.Fatalf("too hot for %s", p.Summary.TooHot)
	case p.Summary.SmokePerKg > 9 || p.Summary.Smoulder > 25*time.Minute:
		t.Fatalf("it smokes: %.1f g/kg, smoulders %s", p.Summary.SmokePerKg, p.Summary.Smoulder)
	case p.Pieces() < 1 || p.Pieces() > w.Wood.Stack.Pieces():
		t.Fatalf("%d pieces of %d", p.Pieces(), w.Wood.Stack.Pieces())
	case w.Lay != "" && p.Lay != w.Lay:
		t.Fatalf("%s was asked, %s came", w.Lay, p.Lay)
	}
	for i, s := range p.Steps {
		if s.Earliest > s.Latest || s.Expected < s.Earliest || s.Expected > s.Latest {
			t.Fatalf("%s: %s to %s, expected %s", s.Kind, s.Earliest, s.Latest, s.Expected)
		}
		if i > 0 && s.Expected >= 0 && s.Expected < p.Steps[i-1].Expected {
			t.Fatalf("%s comes before the step before it", s.Kind)
		}
		if s.Kind == plan.ReloadTime && !w.There.Somebody(s.Expected+55*time.Minute) {
			t.Fatalf("a load at %s, and there is somebody %v", s.Expected, w.There)
		}
		if !w.There.Somebody(s.Expected) || s.Kind != plan.ReloadTime && !w.There.Somebody(s.Expected+15*time.Minute) {
			t.Fatalf("%s at %s, and there is somebody %v", s.Kind, s.Expected, w.There)
		}
		for _, a := range s.Fire.Do {
			if a.Load != nil && a.Load.Mass() > w.Stove.MaxLoad+1e-9 {
				t.Fatalf("%v kg is over the manual's load", a.Load.Mass())
			}
		}
	}
	for _, sys := range []units.System{units.Metric, units.Imperial} {
		said := []string{p.Sentence(sys)}
		for _, in := range p.Say(sys) {
			said = append(said, in.Do, in.Sign, in.Why)
		}
		said = append(append(said, p.Checklist(sys)...), p.Warnings(sys)...)
		if i := slices.IndexFunc(said, func(s string) bool {
			return s == "" || strings.Contains(s, "%!") || strings.Contains(s, "NaN")
		}); i >= 0 {
			t.Fatalf("badly said: %q", said[i])
		}
	}
	kept, err := json.Marshal(p)
	if err != nil {
		t.Fatalf("a plan that cannot be kept: %v", err)
	}
	var back plan.Plan
	if err := json.Unmarshal(kept, &back); err != nil {
		t.Fatal(err)
	}
	if again, _ := json.Marshal(back); string(again) != string(kept) {
		t.Fatal("a plan that is not read back as it was kept")
	}
}
