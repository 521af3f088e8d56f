package units

import (
	"fmt"
	"regexp"
	"strings"

	"whitebarn/core/fault"
)

// Numbers whose thousands are marked, and the one whose comma may be either.
var (
	spacedThousands = regexp.MustCompile(`^[1-9]\d{0,2}([ \x{202f}\x{a0}'’]\d{3})+([.,]\d+)?\b`)
	commaThousands  = regexp.MustCompile(`^[1-9]\d{0,2}((,\d{3})+\.\d+|(,\d{3}){2,})\b`)
	pointThousands  = regexp.MustCompile(`^[1-9]\d{0,2}((\.\d{3})+,\d+|(\.\d{3}){2,})\b`)
	eitherComma     = regexp.MustCompile(`^[1-9]\d{0,2},\d{3}\b`)
)

// unmarked is a quantity as it was typed without the marks between the thousands of its first number. One whose
// comma can be a decimal one or stand between thousands is refused: "1,655 g".
func unmarked(typed string) (string, error) {
	drop := func(marks string) func(string) string {
		return func(number string) string {
			return strings.Map(func(r rune) rune {
				if strings.ContainsRune(marks, r) {
					return -1
				}
				return r
			}, number)
		}
	}
	plain := spacedThousands.ReplaceAllStringFunc(typed, drop(" \u202f\u00a0'’"))
	plain = commaThousands.ReplaceAllStringFunc(plain, drop(","))
	plain = pointThousands.ReplaceAllStringFunc(plain, drop("."))
	if m := eitherComma.FindString(plain); m != "" {
		return "", fault.New("", fmt.Sprintf("%q can be read in two ways", typed), fmt.Sprintf("write %s or %s", strings.Replace(m, ",", "", 1),
			strings.Replace(m, ",", ".", 1)))
	}
	return plain, nil
}
