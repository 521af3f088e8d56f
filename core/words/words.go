// Package words puts numbers and lists into sentences as people say them.
package words

import (
	"fmt"
	"strings"
)

// Plural counts things: "1 cut", "3 cuts".
func Plural(n int, what string) string {
	if n == 1 {
		return "1 " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}

// And joins words: "rub", "rub and wrap", "rub, wrap and trim".
func And(items []string) string { return list(items, "and") }

// Or lists items: one, two or three.
func Or(items []string) string { return list(items, "or") }

func list(items []string, last string) string {
	if len(items) < 2 {
		return strings.Join(items, "")
	}
	return strings.Join(items[:len(items)-1], ", ") + " " + last + " " + items[len(items)-1]
}

// Short cuts a sentence to so many letters.
func Short(s string, most int) string {
	if r := []rune(s); len(r) > most {
		return string(r[:most-1]) + "…"
	}
	return s
}

// Lower is a sentence with its first letter small, to stand behind another.
func Lower(s string) string {
	if s == "" {
		return s
	}
	return strings.ToLower(s[:1]) + s[1:]
}

// Capital is a sentence with its first letter large.
func Capital(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}
