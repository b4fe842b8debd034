package web

import (
	"context"
	"errors"
	"net/http"
	"net/netip"
	"runtime"
	"strings"
	"sync/atomic"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/google/uuid"
	"golang.org/x/sync/semaphore"
)

const (
	// free is how many wrong guesses at one thing are not slowed; each after them doubles
	// the wait, up to longestWait.
	free        = 3
	longestWait = time.Minute
	// wrongFrom is how many wrong guesses there may be from one address in a quarter of an
	// hour, from devices that never signed in.
	wrongFrom = 300
	// deviceCookie names a device to those who signed in on it; it opens nothing.
	deviceCookie = "zealousknot_device"
	deviceLife   = 400 * 24 * time.Hour
	// onDevice is how many sign-ins a device is known by.
	onDevice = 5
)

// WaitAfter is the delay before the next guess, counted from the last of some wrong ones.
func WaitAfter(wrong int) time.Duration {
	if wrong < free {
		return 0
	}
	if n := wrong - free + 1; n < 6 {
		return time.Second << n
	}
	return longestWait
}

// mayGuess refuses a guess at something that was guessed at wrongly a moment ago.
func (c *Config) mayGuess(ctx context.Context, key string) error {
	wrong, ago, err := c.Store.Wrong(ctx, key)
	if err != nil {
		return failed(ctx, err)
	}
	return slowDown(WaitAfter(wrong) - ago)
}

// guess compares a password with a hash, and notes a wrong one under all keys. The first
// key is what is guessed at. It is checked once the guess has its turn, so that parallel
// guesses are slowed too. The error is a problem, ready to be answered.
func (c *Config) guess(ctx context.Context, password, hash string, keys ...string) (right bool, err error) {
	var refused error
	err = inTurn(ctx, func() error {
		if refused = c.mayGuess(ctx, keys[0]); refused != nil {
			return nil
		}
		if right, err = argon2id.ComparePasswordAndHash(password, hash); err != nil || right {
			return err
		}
		c.metrics.wrong.Inc()
		return c.Store.NoteWrong(ctx, keys...)
	})
	if err != nil {
		return false, failed(ctx, err)
	}
	return right, refused
}

// mayGuessFrom refuses what comes from an address of too many wrong guesses.
func (c *Config) mayGuessFrom(ctx context.Context, address string) error {
	wrong, ago, err := c.Store.Wrong(ctx, "from "+address)
	if err != nil {
		return failed(ctx, err)
	}
	if wrong < wrongFrom {
		return nil
	}
	return slowDown(longestWait - ago)
}

func slowDown(wait time.Duration) error {
	if wait <= 0 {
		return nil
	}
	p := NewProblem(http.StatusTooManyRequests, "too many wrong attempts; try again in "+seconds(wait)+" s")
	return huma.ErrorWithHeaders(p, http.Header{"Retry-After": {seconds(wait)}})
}

// from is where a request comes from, and on which device: by the peer, or by what
// proxies that are trusted say of it.
type from struct {
	address string
	device  []uuid.UUID
}

// addressed is a body with where it comes from.
type addressed struct {
	RawBody []byte
	Device  string `cookie:"zealousknot_device"`
	from
}

// Resolve notes from where a request comes. What a header says of it counts only where
// the peer is a proxy that is trusted.
func (a *addressed) Resolve(ctx huma.Context) []error {
	a.address = middleware.GetClientIP(ctx.Context())
	if a.address == "" {
		a.address = ctx.RemoteAddr()
		if peer, err := netip.ParseAddrPort(a.address); err == nil {
			a.address = peer.Addr().String()
		}
	}
	for _, part := range strings.Split(a.Device, ".") {
		if id, err := uuid.Parse(part); err == nil && len(a.device) < onDevice {
			a.device = append(a.device, id)
		}
	}
	return nil
}

// cookie is the device's with one more sign-in.
func (f *from) cookie(signIn uuid.UUID, secure bool) http.Cookie {
	ids := []string{signIn.String()}
	for _, id := range f.device {
		if len(ids) < onDevice {
			ids = append(ids, id.String())
		}
	}
	return http.Cookie{
		Name: deviceCookie, Value: strings.Join(ids, "."), Path: "/api", MaxAge: int(deviceLife.Seconds()), HttpOnly: true, Secure: secure, SameSite: http.SameSiteLaxMode,
	}
}

// errBusy is returned where too many passwords wait to be hashed.
var errBusy = errors.New("too many people sign in at this moment")

const (
	// hashingMost bounds how many wait to be hashed, hashingWait how long one waits.
	hashingMost = 64
	hashingWait = 2 * time.Second
)

// hashing bounds how many passwords are hashed at once, since each takes memory; waiting
// is how many wait for it.
var (
	hashing = semaphore.NewWeighted(int64(runtime.NumCPU()))
	waiting atomic.Int64
)

// inTurn hashes when there is room; where that is not soon it gives errBusy.
func inTurn(ctx context.Context, hash func() error) error {
	defer waiting.Add(-1)
	if waiting.Add(1) > hashingMost {
		return errBusy
	}
	soon, cancel := context.WithTimeout(ctx, hashingWait)
	defer cancel()
	if err := hashing.Acquire(soon, 1); err != nil {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		return errBusy
	}
	defer hashing.Release(1)
	return hash()
}
