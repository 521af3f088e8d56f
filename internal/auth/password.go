package auth

import (
	"bufio"
	"compress/gzip"
	"embed"
	"fmt"
	"strings"
	"sync"
	"unicode"
	"unicode/utf8"

	"whitebarn/core/fault"
)

// LeastPassword is how many letters a password has at least.
const LeastPassword = 12

// The ten thousand most used passwords of 12 letters and more, in small letters, one a line:
// from the SecLists project's list of a million (CC BY-SA 3.0).
//
//go:embed common.txt.gz
var files embed.FS

// common reads the list when a password is first set.
var common = sync.OnceValues(func() (map[string]bool, error) {
	f, err := files.Open("common.txt.gz")
	if err != nil {
		return nil, err
	}
	z, err := gzip.NewReader(f)
	if err != nil {
		return nil, err
	}
	out := make(map[string]bool, 10_000)
	lines := bufio.NewScanner(z)
	for lines.Scan() {
		out[lines.Text()] = true
	}
	return out, lines.Err()
})

// rows are what lies side by side on a keyboard, in the alphabet or among numbers.
var rows = []string{"abcdefghijklmnopqrstuvwxyz", "01234567890", "qwertyuiop", "qwertzuiop", "asdfghjkl", "zxcvbnm", "1qaz2wsx3edc4rfv5tgb6yhn"}

// ofThisPlace are words that are guessed first here.
var ofThisPlace = []string{"white barn", "whitebarn", "barbecue", "pitmaster", "password", "smoker", "brisket"}

// CheckPassword refuses a password that is guessed early: one that is short, much used, a run
// of a keyboard, a few letters again and again, or little beside the words given (the barn's
// and the person's names). What is in it besides is left to the person.
func CheckPassword(password string, words ...string) error {
	wrong := func(problem string) error {
		return fault.New("password", problem, fmt.Sprintf("use %d letters or more that nobody would think of; four words do well", LeastPassword))
	}
	n := utf8.RuneCountInString(password)
	if n < LeastPassword {
		return wrong(fmt.Sprintf("the password is too short: %d of %d letters", n, LeastPassword))
	}
	small := strings.ToLower(password)
	used, err := common()
	switch {
	case err != nil:
		return fmt.Errorf("read the list of common passwords: %w", err)
	case used[small]:
		return wrong("it is one of the most used passwords")
	case repeats(small):
		return wrong("it is a few letters again and again")
	case isRun(small):
		return wrong("it is a run of keys")
	}
	rest := small
	for _, w := range append(words, ofThisPlace...) {
		if w = strings.ToLower(strings.TrimSpace(w)); utf8.RuneCountInString(w) >= 3 {
			rest = strings.ReplaceAll(rest, w, "")
		}
	}
	if len(rest) < len(small) && letters(rest) < LeastPassword/2 {
		return wrong("it is little beside a name of the barn or yours")
	}
	return nil
}

// repeats says whether a text is up to six letters over and over, or of hardly any different
// ones.
func repeats(text string) bool {
	seen := map[rune]bool{}
	for _, r := range text {
		seen[r] = true
	}
	if len(seen) < 4 {
		return true
	}
	for n := 1; n <= min(6, len(text)/2); n++ {
		if strings.HasPrefix(strings.Repeat(text[:n], len(text)/n+1), text) {
			return true
		}
	}
	return false
}

// isRun says whether nearly all of a text follows a row of keys, up or down.
func isRun(text string) bool {
	follows := 0
	for i := range len(text) - 1 {
		pair, back := text[i:i+2], string([]byte{text[i+1], text[i]})
		for _, row := range rows {
			if strings.Contains(row, pair) || strings.Contains(row, back) {
				follows++
				break
			}
		}
	}
	return follows >= len(text)*3/4
}

// letters counts letters and digits.
func letters(text string) (n int) {
	for _, r := range text {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			n++
		}
	}
	return n
}
