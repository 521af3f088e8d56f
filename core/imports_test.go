// Package core_test keeps the rules of what may import what, as docs/architecture.md
// draws them.
package core_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"
)

// under says whether a path is one of some packages, or below one.
func under(path string, packages ...string) bool {
	return slices.ContainsFunc(packages, func(p string) bool { return path == p || strings.HasPrefix(path, p+"/") })
}

// web and database are what belongs to the two ends of a request's way.
var (
	web      = []string{"net/http", "github.com/gin-gonic"}
	database = []string{"github.com/jackc", "database/sql", "github.com/pressly"}
)

func TestImportRules(t *testing.T) {
	for _, rule := range []struct {
		dir    string
		refuse func(path string) bool
		why    string
	}{
		{".", func(p string) bool {
			outside := strings.Contains(strings.Split(p, "/")[0], ".") && !under(p, "gonum.org")
			inside := under(p, "whitebarn") && !under(p, "whitebarn/core")
			return outside || inside || under(p, "os", "net/http", "database/sql", "log/slog")
		}, "the core is pure: standard library and gonum, no I/O"},
		{"evidence", func(p string) bool {
			return under(p, "whitebarn/core/plan", "whitebarn/core/forecast", "whitebarn/core/settle", "whitebarn/core/verdict", "whitebarn/core/alarm")
		}, "what judges, plans and forecasts reads the evidence, not the other way"},
		{"phase", func(p string) bool { return under(p, "whitebarn/core/plan", "whitebarn/core/evidence") }, "phases are there before a plan is made of them"},
		{"../internal/store", func(p string) bool { return under(p, web...) }, "the store knows no HTTP"},
		{"../internal/store", func(p string) bool {
			return under(p, "whitebarn/internal/evidence", "whitebarn/internal/barn", "whitebarn/internal/server", "whitebarn/internal/watch")
		}, "the store is the last room on the way"},
		{"../internal/evidence", func(p string) bool { return under(p, slices.Concat(web, database)...) }, "the reader of the evidence knows neither HTTP nor SQL"},
		{"../internal/barn", func(p string) bool {
			return under(p, slices.Concat(web, database, []string{"whitebarn/internal/server", "whitebarn/internal/api"})...)
		}, "use cases know neither HTTP nor SQL"},
		{"../internal/server", func(p string) bool { return under(p, slices.Concat(database, []string{"whitebarn/internal/store"})...) },
			"handlers bind, call and answer: the record is behind the use cases"},
		{"../internal/server", func(p string) bool {
			return under(p, "whitebarn/core") && !under(p, "whitebarn/core/fault", "whitebarn/core/calc", "whitebarn/core/settle", "whitebarn/core/vocabulary")
		}, "handlers hold no rules: of the core they know faults, the registry of calculations and what their answers carry"},
		{"../internal/archive", func(p string) bool { return under(p, slices.Concat(web, database)...) }, "archives know neither HTTP nor SQL"},
		{"../internal/keeping", func(p string) bool { return under(p, slices.Concat(web, database)...) }, "keeping knows neither HTTP nor SQL"},
		{"../internal/watch", func(p string) bool { return under(p, slices.Concat(web, database)...) }, "the watch knows neither HTTP nor SQL"},
		{"../internal/api", func(p string) bool {
			return under(p, "whitebarn/internal/server", "whitebarn/internal/watch")
		}, "how handlers are registered does not hang on what they do"},
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
