// Package auth keeps passwords and tasters' links, and slows down those who
// guess at them.
package auth

import (
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base32"
	"fmt"
	"maps"
	"math/big"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"
	"golang.org/x/time/rate"
)

// Cost is how dear a password hash is.
type Cost struct {
	Time, MemoryKiB uint32
	Threads         uint8
}

// Usual costs about 70 ms (OWASP's second argon2id setting); Cheap is for tests.
var (
	Usual = Cost{Time: 2, MemoryKiB: 19 * 1024, Threads: 1}
	Cheap = Cost{Time: 1, MemoryKiB: 8, Threads: 1}
)

// hashing bounds how many passwords are hashed at once, and so the memory that callers
// who sign in together can claim.
var hashing = make(chan struct{}, 2)

// Hash hashes a password with argon2id and a salt of its own.
func Hash(password string, c Cost) (string, error) {
	hashing <- struct{}{}
	defer func() { <-hashing }()
	return argon2id.CreateHash(password, &argon2id.Params{Memory: c.MemoryKiB, Iterations: c.Time, Parallelism: c.Threads, SaltLength: 16, KeyLength: 32})
}

// Matches says whether the password belongs to the hash.
func Matches(password, hash string) bool {
	hashing <- struct{}{}
	defer func() { <-hashing }()
	same, err := argon2id.ComparePasswordAndHash(password, hash)
	return err == nil && same
}

var base32Lower = base32.NewEncoding("abcdefghijkmnpqrstuvwxyz23456789").WithPadding(base32.NoPadding)

// Links that need no sign-in carry the number of what they are for and its
// signature with the barn's secret. Nothing needs to be stored to know one again.
const (
	forTaster   = "taster"
	forCalendar = "calendar"
	forDevice   = "device" // on which somebody signed in
)

// TasterToken makes the token in a taster's link.
func TasterToken(secret []byte, id int64) string { return token(secret, forTaster, id) }

// TasterOf reads a token; ok is false for one this barn did not sign.
func TasterOf(secret []byte, text string) (id int64, ok bool) { return signed(secret, forTaster, text) }

// CalendarToken makes the token in the link to a cook's calendar.
func CalendarToken(secret []byte, cook int64) string { return token(secret, forCalendar, cook) }

// CalendarOf reads a token; ok is false for one this barn did not sign.
func CalendarOf(secret []byte, text string) (cook int64, ok bool) {
	return signed(secret, forCalendar, text)
}

// DeviceToken makes the mark of a device on which somebody signed in.
func DeviceToken(secret []byte, person int64) string { return token(secret, forDevice, person) }

// DeviceOf reads one; ok is false for one this barn did not sign.
func DeviceOf(secret []byte, text string) (person int64, ok bool) {
	return signed(secret, forDevice, text)
}

func token(secret []byte, purpose string, id int64) string {
	mac := hmac.New(sha256.New, secret)
	fmt.Fprintf(mac, "%s %d", purpose, id)
	return strconv.FormatInt(id, 36) + "-" + base32Lower.EncodeToString(mac.Sum(nil)[:15])
}

func signed(secret []byte, purpose, text string) (id int64, ok bool) {
	number, _, _ := strings.Cut(text, "-")
	id, err := strconv.ParseInt(number, 36, 64)
	if err != nil {
		return 0, false
	}
	return id, subtle.ConstantTimeCompare([]byte(token(secret, purpose, id)), []byte(text)) == 1
}

// Limiter lets each key through a few times a minute.
type Limiter struct {
	every time.Duration
	burst int

	mu    sync.Mutex
	keys  map[string]*tries
	swept time.Time // when those that have all their tries again were last let go
}

// tries are those of a key, and when the last one was.
type tries struct {
	*rate.Limiter
	last time.Time
}

// NewLimiter allows burst tries at once and one more each interval.
func NewLimiter(burst int, every time.Duration) *Limiter {
	return &Limiter{every: every, burst: burst, keys: map[string]*tries{}}
}

// mostKeys bounds the memory that guessers can claim.
const mostKeys = 10_000

// Allow counts a try of key and says whether it may go on. While very many keys are tried at
// once, none that was not known may: those that are known stay limited.
func (l *Limiter) Allow(key string) bool {
	l.mu.Lock()
	defer l.mu.Unlock()
	now := time.Now()
	one, ok := l.keys[key]
	if !ok {
		if len(l.keys) >= mostKeys && now.Sub(l.swept) >= l.every {
			l.forget(now)
		}
		if len(l.keys) >= mostKeys {
			return false
		}
		one = &tries{Limiter: rate.NewLimiter(rate.Every(l.every), l.burst)}
		l.keys[key] = one
	}
	one.last = now
	return one.AllowN(now, 1)
}

// forget lets the keys go that have all their tries again.
func (l *Limiter) forget(now time.Time) {
	l.swept = now
	full := time.Duration(l.burst) * l.every
	maps.DeleteFunc(l.keys, func(_ string, t *tries) bool { return now.Sub(t.last) >= full })
}

// Letters draws a code of so many of the letters, each as likely as any other.
func Letters(of string, n int) (string, error) {
	code := make([]byte, n)
	for i := range code {
		at, err := rand.Int(rand.Reader, big.NewInt(int64(len(of))))
		if err != nil {
			return "", err
		}
		code[i] = of[at.Int64()]
	}
	return string(code), nil
}
