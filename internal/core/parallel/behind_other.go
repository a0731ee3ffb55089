//go:build !linux

package parallel

// Threads have no priority of their own elsewhere: long work is done like any other.

func stepBehind() {}

func isBehind() bool { return false }
