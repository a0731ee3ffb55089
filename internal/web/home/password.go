package home

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"sync"
	"time"

	"smolder/internal/lang"

	"golang.org/x/crypto/argon2"
)

// Argon2id's parameters: the second recommendation of RFC 9106.
const (
	argonTime, argonMemory, argonThreads = 3, 64 * 1024, 2
	argonKey, argonSalt                  = 32, 16
)

// HashPassword returns the encoded argon2id hash of a password.
func HashPassword(password string) string {
	salt := make([]byte, argonSalt)
	_, _ = rand.Read(salt) // never fails
	key := argon2.IDKey([]byte(password), salt, argonTime, argonMemory, argonThreads, argonKey)
	enc := base64.RawStdEncoding
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemory, argonTime, argonThreads,
		enc.EncodeToString(salt), enc.EncodeToString(key))
}

// passwordMatches checks a password against an encoded hash. A hash that asks
// for more than these parameters is not one of ours.
func passwordMatches(encoded, password string) bool {
	parts := strings.Split(encoded, "$")
	if len(parts) != 6 || parts[1] != "argon2id" {
		return false
	}
	var memory, passes uint32
	var threads uint8
	if _, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=%d", &memory, &passes,
		&threads); err != nil || memory > argonMemory || passes > 10 || threads > 8 || passes == 0 || threads == 0 {
		return false
	}
	salt, err := base64.RawStdEncoding.DecodeString(parts[4])
	if err != nil {
		return false
	}
	want, err := base64.RawStdEncoding.DecodeString(parts[5])
	if err != nil || len(want) == 0 || len(want) > 64 {
		return false
	}
	got := argon2.IDKey([]byte(password), salt, passes, memory, threads, uint32(len(want))) //nolint:gosec // a few bytes
	return subtle.ConstantTimeCompare(got, want) == 1
}

// decoy is checked when a name is unknown, so that both answers take as long.
var decoy = sync.OnceValue(func() string { return HashPassword("nobody") })

const (
	mostHashing = 2  // at once: each takes 64 MB
	mostToHash  = 12 // and so many may wait for their turn
)

// errTooMany says that too many passwords are being checked already.
var errTooMany = errors.New("too many passwords are being checked")

// A turnstile lets a few through at a time and some wait.
type turnstile struct {
	inside  chan struct{}
	waiting chan struct{}
}

func newTurnstile(inside, waiting int) *turnstile {
	return &turnstile{make(chan struct{}, inside), make(chan struct{}, inside+waiting)}
}

// pass runs f when there is room; [errTooMany] when too many wait, or it takes
// too long.
func (t *turnstile) pass(ctx context.Context, f func()) error {
	select {
	case t.waiting <- struct{}{}:
	default:
		return errTooMany
	}
	defer func() { <-t.waiting }()
	ctx, cancel := context.WithTimeout(ctx, 10*time.Second)
	defer cancel()
	select {
	case t.inside <- struct{}{}:
	case <-ctx.Done():
		return errTooMany
	}
	defer func() { <-t.inside }()
	f()
	return nil
}

// checkPassword is passwordMatches in its turn.
func (s Room) checkPassword(ctx context.Context, hash, password string) (ok bool, err error) {
	err = s.hashing.pass(ctx, func() { ok = passwordMatches(hash, password) })
	return ok, err
}

// hashInTurn is [HashPassword] in its turn.
func (s Room) hashInTurn(ctx context.Context, password string) (hash string, err error) {
	err = s.hashing.pass(ctx, func() { hash = HashPassword(password) })
	return hash, err
}

// PasswordProblem says what is wrong with a new password, or nothing.
func PasswordProblem(password string, loc lang.Locale) string {
	if len([]rune(password)) < 10 || len(password) > 200 {
		return loc.T("a password of 10 to 200 letters would do; a few words are easy to keep")
	}
	return ""
}
