package parallel

import (
	"runtime"
	"syscall"
)

// niceness is how far behind others the threads of long work stand (nice(2)): at 15 they get a
// thirtieth of a core that somebody else wants, and all of one that nobody does.
const niceness = 15

// stepBehind ties the goroutine to a thread of its own and lets that stand behind others. The thread
// ends with the goroutine, so that no other work gets it.
func stepBehind() {
	runtime.LockOSThread()
	_ = syscall.Setpriority(syscall.PRIO_PROCESS, syscall.Gettid(), niceness) // where it may not: as before
}

// isBehind tells whether this goroutine's thread stands behind others.
func isBehind() bool {
	got, err := syscall.Getpriority(syscall.PRIO_PROCESS, 0)
	return err == nil && 20-got >= niceness // the call counts from 40 down to 1
}
