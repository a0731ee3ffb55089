// Command calibrate holds the fire against published figures and what owners see, and finds
// the vector of its uncertain numbers that agrees best with all of them at once.
//
//	calibrate                 the table, with the numbers as they are: some seconds
//	calibrate -sweep 12       a better vector, its numbers moved one at a time, printed as Go: some minutes
//	calibrate -fit 400        and so many tries by CMA-ES after that
//	calibrate -leave          each group predicted by a vector that was fitted without it, from the middle of
//	                          all ranges: a quarter of an hour
package main

import (
	"flag"
	"fmt"
	"math"
	"os"
	"strings"
	"sync"
	"time"

	"gonum.org/v1/gonum/optimize"

	"smolder/internal/core/fire"
)

var stride *float64

func main() {
	tries := flag.Int("fit", 0, "tries of a better vector; 0 only prints the table")
	sweeps := flag.Int("sweep", 0, "sweeps over the numbers one at a time before that: quick where the start is far off")
	leave := flag.Bool("leave", false, "leave each group out in turn")
	step := flag.Duration("step", 4*time.Second, "of the simulation")
	prior := flag.Float64("prior", 0.15, "weight of a number's own range against the rows")
	stride = flag.Float64("stride", 0.4, "of the first tries, in quarters of a number's range")
	flag.Parse()
	f := fitting{step: *step, prior: *prior, coarse: true}
	k := fire.Usual
	switch {
	case *leave:
		for _, g := range groups {
			f.without = g.name
			fitted := f.sweep(midway(), max(*sweeps, 3))
			in, all, miss := 0, 0, 0.0
			for _, r := range f.rows(&fitted) {
				if r.group == g.name {
					all++
					miss += math.Abs(r.off())
					if r.inside() {
						in++
					}
				}
			}
			fmt.Printf("%s: left out, %d of %d inside, mean distance from the middle %.2f half-widths\n", g.name, in, all, miss/float64(all))
		}
		return
	case *tries > 0 || *sweeps > 0:
		k = f.sweep(k, *sweeps)
		if *tries > 0 {
			k = f.fit(k, *tries)
		}
		fmt.Println(literal(k))
	}
	f.coarse = false
	print(f.rows(&k))
	fmt.Printf("misfit %.2f\n", f.misfit(&k))
}

func print(rows []row) {
	in := 0
	for _, r := range rows {
		mark := "NO "
		if r.inside() {
			mark = "   "
			in++
		}
		fmt.Printf("%s%-15s %-62s %8.3g   %g to %g (%s)\n", mark, r.group, r.name, r.got, r.low, r.high, r.source)
	}
	fmt.Printf("%d of %d inside\n", in, len(rows))
}

// midway is a vector that nothing was fitted to: every number in the middle of its range.
func midway() (k fire.Physics) {
	for _, n := range fire.Numbers {
		*n.Of(&k) = math.Sqrt(n.Low * n.High)
	}
	return k
}

// literal is a vector as Go source.
func literal(k fire.Physics) string {
	s := fmt.Sprintf("%#v", k)
	return strings.ReplaceAll(s, "fire.Physics", "Physics")
}

// A fitting is what a vector is judged by.
type fitting struct {
	step    time.Duration
	coarse  bool
	prior   float64
	without string // a group
}

// rows computes all rows with a vector, two groups at a time.
func (f fitting) rows(k *fire.Physics) []row {
	found := make([][]row, len(groups))
	var wait sync.WaitGroup
	turns := make(chan int)
	for range 2 {
		wait.Add(1)
		go func() {
			defer wait.Done()
			for i := range turns {
				g := groups[i]
				b := &bench{k: k, step: f.step, coarse: f.coarse && g.name[0] != 'C'} // a type test is set where it is cleanest: that must not hang on the step
				g.rows(b, func(name string, low, high, got float64, source string) {
					r := row{group: g.name, name: name, source: source, low: low, high: high, got: got}
					r.log = low > 0 && !strings.Contains(name, "points")
					found[i] = append(found[i], r)
				})
			}
		}()
	}
	for _, i := range []int{6, 1, 7, 2, 5, 0, 3, 4} { // the longest first
		turns <- i
	}
	close(turns)
	wait.Wait()
	var all []row
	for _, r := range found {
		all = append(all, r...)
	}
	return all
}

// misfit is the sum over the rows of how far each lies from the middle of its range, a little
// inside it and much outside, and over the numbers of how far they lie from theirs.
// Directions that every owner knows weigh three times.
func (f fitting) misfit(k *fire.Physics) float64 {
	sum := 0.0
	for _, r := range f.rows(k) {
		if r.group == f.without {
			continue
		}
		off := math.Abs(r.off())
		if math.IsNaN(off) {
			off = 6
		}
		off = min(off, 6)
		cost := 0.25 * off * off
		if off > 0.9 {
			cost += 2 * (off - 0.9)
		}
		if off > 1 {
			cost += 1
		}
		if strings.HasPrefix(r.group, "G") {
			cost *= 2
		}
		sum += cost
	}
	for _, n := range fire.Numbers {
		v := math.Log(*n.Of(k))
		low, high := math.Log(n.Low), math.Log(n.High)
		off := (v - (low+high)/2) / ((high - low) / 2)
		sum += f.prior * off * off
		if over := math.Abs(off) - 1; over > 0 {
			sum += 20 * over
		}
	}
	return sum
}

// sweep moves the numbers one at a time, each by a quarter of its range and less, as long as
// that helps. It finds the valley; [fitting.fit] goes along it.
func (f fitting) sweep(k fire.Physics, sweeps int) fire.Physics {
	best := f.misfit(&k)
	strides := make([]float64, len(fire.Numbers))
	for i := range strides {
		strides[i] = 0.2
	}
	for n := range sweeps {
		before := best
		for i, num := range fire.Numbers {
			width := math.Log(num.High / num.Low)
			helped := false
			for _, way := range []float64{1, -1} {
				tried := k
				*num.Of(&tried) = *num.Of(&k) * math.Exp(way*strides[i]*width)
				if m := f.misfit(&tried); m < best {
					best, k, helped = m, tried, true
					break
				}
			}
			if helped {
				strides[i] = min(0.4, 1.3*strides[i])
			} else {
				strides[i] /= 2
			}
		}
		fmt.Fprintf(os.Stderr, "sweep %d: %.2f\n%s\n", n+1, best, literal(k))
		if before-best < 0.05 {
			break
		}
	}
	return k
}

// fit looks for a better vector by the evolution of a covariance (CMA-ES), in logarithms
// over the numbers' usual ranges.
func (f fitting) fit(from fire.Physics, tries int) fire.Physics {
	n := len(fire.Numbers)
	vector := func(x []float64) fire.Physics {
		k := from
		for i, num := range fire.Numbers {
			width := math.Log(num.High/num.Low) / 4
			*num.Of(&k) = *num.Of(&from) * math.Exp(width*x[i])
		}
		return k
	}
	best, bestAt, done := f.misfit(&from), from, 0 // never worse than where it began
	problem := optimize.Problem{Func: func(x []float64) float64 {
		k := vector(x)
		m := f.misfit(&k)
		if done++; done%60 == 0 {
			fmt.Fprintf(os.Stderr, "%4d tries\n", done)
		}
		if m < best {
			best, bestAt = m, k
			_ = os.WriteFile("calibrated.txt", []byte(literal(k)), 0o600)
			fmt.Fprintf(os.Stderr, "%4d  %.2f\n", done, m)
		}
		return m
	}}
	_, err := optimize.Minimize(problem, make([]float64, n), &optimize.Settings{FuncEvaluations: tries, Converger: optimize.NeverTerminate{}},
		&optimize.CmaEsChol{InitStepSize: *stride, Population: 14})
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
	}
	return bestAt
}
