package auth

import (
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"
)

func TestPasswords(t *testing.T) {
	hash, err := Hash("apricot wood", Cheap)
	if err != nil {
		t.Fatal(err)
	}
	if again, _ := Hash("apricot wood", Cheap); again == hash {
		t.Error("two hashes of one password are alike, so they have no salt")
	}
	for _, c := range []struct {
		password, hash string
		want           bool
	}{
		{"apricot wood", hash, true}, {"alder wood", hash, false}, {"", hash, false},
		{"apricot wood", "", false}, {"apricot wood", "$argon2id$v=19$nonsense$a$b", false}, {"apricot wood", strings.Replace(hash, "argon2id", "md5", 1), false},
	} {
		if got := Matches(c.password, c.hash); got != c.want {
			t.Errorf("Matches(%q, %q) = %v", c.password, c.hash, got)
		}
	}
}

func TestTasterTokens(t *testing.T) {
	secret := []byte("barn")
	token := TasterToken(secret, 41)
	if id, ok := TasterOf(secret, token); !ok || id != 41 {
		t.Errorf("the token %q names %d (%v), want 41", token, id, ok)
	}
	for _, forged := range []string{"", "41", "-", TasterToken([]byte("other"), 41), strings.Replace(token, "15-", "16-", 1), token + "a", TasterToken(secret, 42)[:4] + token[4:]} {
		if id, ok := TasterOf(secret, forged); ok {
			t.Errorf("the forged token %q was taken for taster %d", forged, id)
		}
	}
}

// A link opens what it was made for alone.
func TestALinkIsForOnePurpose(t *testing.T) {
	secret := []byte("barn")
	if id, ok := TasterOf(secret, CalendarToken(secret, 41)); ok {
		t.Errorf("the link to a calendar opens the plate of taster %d", id)
	}
	if id, ok := CalendarOf(secret, TasterToken(secret, 41)); ok {
		t.Errorf("a taster's link opens the calendar of cook %d", id)
	}
}

func TestTheLimiterKeepsItsMemorySmall(t *testing.T) {
	l := NewLimiter(1, time.Hour)
	for i := range mostKeys + 10 {
		l.Allow(fmt.Sprint("guess ", i))
	}
	if len(l.keys) > mostKeys {
		t.Errorf("it remembers %d names, at most %d are wanted", len(l.keys), mostKeys)
	}
}

func TestFewPasswordsAreHashedAtOnce(t *testing.T) {
	var wait sync.WaitGroup
	most := 0
	for range 20 {
		wait.Go(func() { Matches("apricot wood", "$argon2id$v=19$m=64,t=1,p=1$c2FsdHNhbHRzYWx0$a2V5") })
		most = max(most, len(hashing))
	}
	wait.Wait()
	if most > cap(hashing) || len(hashing) != 0 {
		t.Errorf("%d were hashed at once, and %d still are", most, len(hashing))
	}
}

func TestLimiterStopsGuessing(t *testing.T) {
	l := NewLimiter(3, time.Hour)
	for i := range 3 {
		if !l.Allow("bram") {
			t.Errorf("try %d was stopped", i+1)
		}
	}
	if l.Allow("bram") {
		t.Error("the fourth try went through")
	}
	if !l.Allow("tove") {
		t.Error("another's first try was stopped")
	}
}

// TestMadeUpNamesFreeNobody: whoever was stopped stays so, whatever else is tried meanwhile.
func TestMadeUpNamesFreeNobody(t *testing.T) {
	l := NewLimiter(2, time.Hour)
	for range 3 {
		l.Allow("odalys")
	}
	for i := range 2 * mostKeys {
		l.Allow(fmt.Sprint("made up ", i))
	}
	if l.Allow("odalys") {
		t.Error("a name that was stopped may be tried again after made-up ones")
	}
	quick := NewLimiter(1, time.Nanosecond)
	for i := range mostKeys + 10 {
		if !quick.Allow(fmt.Sprint("guest ", i)) {
			t.Fatalf("guest %d is kept out though all before have their tries again", i)
		}
	}
}
