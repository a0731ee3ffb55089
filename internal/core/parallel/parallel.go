// Package parallel does the same for many things at once, on all cores.
package parallel

import (
	"fmt"
	"runtime"
	"runtime/debug"
	"sync"
	"sync/atomic"
)

// InParallel runs f for 0 ≤ i < n on all cores and waits for all of them. Should
// one panic, the others still end, and InParallel panics in its caller with what
// happened: whoever asked for the work answers for it, and not the process.
//
// While several others wait for an answer ([Beside]) it leaves one core to them.
func InParallel(n int, f func(int)) {
	if beside.Load() >= several {
		Aside(n, f)
		return
	}
	on(runtime.GOMAXPROCS(0), n, f)
}

// several is how many must wait before work on all cores makes room for them.
const several = 3

var beside atomic.Int64

// Beside says that somebody waits for an answer that is soon made, until it is called off.
func Beside() (answered func()) {
	beside.Add(1)
	return sync.OnceFunc(func() { beside.Add(-1) })
}

// Aside is InParallel for what nobody waits for: it leaves one core to those who do.
func Aside(n int, f func(int)) { on(max(1, runtime.GOMAXPROCS(0)-1), n, f) }

// UsualNiceness is how far behind others the threads of long work stand (nice(2)): at 15 they get a
// thirtieth of a core that somebody else wants, and all of one that nobody does.
const UsualNiceness = 15

var niceness atomic.Int32

func init() { Niceness(UsualNiceness) }

// Niceness sets how far behind they stand, 0 to 19; 0: not at all, as where whoever asked waits for
// them and the machine is full of others that nobody waits for.
func Niceness(n int) { niceness.Store(int32(max(0, min(19, n)))) } //nolint:gosec // within its bounds

// Behind runs f, and all that it does in parallel, so that whoever is answered in the meantime goes
// first: work of seconds, such as a search for plans, on threads of a lower priority. The machine is
// theirs as long as nobody else wants it, in this process or another. Should f panic, so does Behind.
func Behind(f func()) {
	var cause any
	done := make(chan struct{})
	go func() {
		defer close(done)
		defer func() {
			if p := recover(); p != nil {
				cause = fmt.Errorf("%v\n%s", p, debug.Stack())
			}
		}()
		stepBehind()
		f()
	}()
	<-done
	if cause != nil {
		panic(cause)
	}
}

func on(cores, n int, f func(int)) {
	var (
		group sync.WaitGroup
		once  sync.Once
		cause any
	)
	workers, behind := min(cores, max(1, n)), isBehind()
	for first := range workers {
		group.Go(func() {
			defer func() {
				if p := recover(); p != nil {
					once.Do(func() { cause = fmt.Errorf("%v\n%s", p, debug.Stack()) })
				}
			}()
			if behind {
				stepBehind()
			}
			for i := first; i < n; i += workers {
				f(i)
			}
		})
	}
	group.Wait()
	if cause != nil {
		panic(cause)
	}
}
