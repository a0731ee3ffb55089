package parallel

import (
	"runtime"
	"syscall"
)

// stepBehind ties the goroutine to a thread of its own and lets that stand behind others. The thread
// ends with the goroutine, so that no other work gets it.
func stepBehind() {
	if n := int(niceness.Load()); n > 0 {
		runtime.LockOSThread()
		_ = syscall.Setpriority(syscall.PRIO_PROCESS, syscall.Gettid(), n) // where it may not: as before
	}
}

// isBehind tells whether this goroutine's thread stands behind others.
func isBehind() bool {
	n := int(niceness.Load())
	if n <= 0 {
		return false
	}
	got, err := syscall.Getpriority(syscall.PRIO_PROCESS, 0)
	return err == nil && 20-got >= n // the call counts from 40 down to 1
}
