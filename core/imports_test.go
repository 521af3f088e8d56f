// Package core_test keeps the rule of what the core may import.
package core_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
)

func TestImportRules(t *testing.T) {
	for _, rule := range []struct {
		dir    string
		refuse func(path string) bool
		why    string
	}{
		{".", func(p string) bool {
			outside := strings.Contains(strings.Split(p, "/")[0], ".") && !strings.HasPrefix(p, "gonum.org/")
			inside := strings.HasPrefix(p, "whitebarn/") && !strings.HasPrefix(p, "whitebarn/core/")
			return outside || inside || p == "os" || p == "net/http" || p == "database/sql" || p == "log/slog"
		}, "the core is pure: standard library and gonum, no I/O"},
		{"../internal/store", func(p string) bool { return strings.HasPrefix(p, "net/http") || strings.HasPrefix(p, "github.com/gin") }, "the store knows no HTTP"},
	} {
		files := 0
		err := filepath.WalkDir(rule.dir, func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return err
			}
			files++
			f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
			if err != nil {
				return err
			}
			for _, i := range f.Imports {
				if p, _ := strconv.Unquote(i.Path.Value); rule.refuse(p) {
					t.Errorf("%s imports %s: %s", path, p, rule.why)
				}
			}
			return nil
		})
		if err != nil || files == 0 {
			t.Errorf("looked at %d files of %s: %v", files, rule.dir, err)
		}
	}
}
