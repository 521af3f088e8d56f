// Command comments writes what the types of the API say of themselves: their doc comments and
// those of their fields, for the description of the API.
package main

import (
	"encoding/json"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
)

func main() {
	said := map[string]string{}
	for _, root := range []string{"core", "internal"} {
		err := filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
			if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return err
			}
			f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ParseComments)
			if err != nil {
				return err
			}
			collect("whitebarn/"+filepath.ToSlash(filepath.Dir(path)), f, said)
			return nil
		})
		if err != nil {
			fmt.Fprintln(os.Stderr, "comments:", err)
			os.Exit(1)
		}
	}
	text, err := json.MarshalIndent(said, "", " ")
	if err != nil {
		fmt.Fprintln(os.Stderr, "comments:", err)
		os.Exit(1)
	}
	os.Stdout.Write(append(text, '\n'))
}

func collect(pkg string, f *ast.File, said map[string]string) {
	for _, d := range f.Decls {
		g, ok := d.(*ast.GenDecl)
		if !ok || g.Tok != token.TYPE {
			continue
		}
		for _, s := range g.Specs {
			t := s.(*ast.TypeSpec)
			if !t.Name.IsExported() {
				continue
			}
			doc := t.Doc.Text()
			if doc == "" && len(g.Specs) == 1 {
				doc = g.Doc.Text()
			}
			name := pkg + "." + t.Name.Name
			say(said, name, doc)
			if st, ok := t.Type.(*ast.StructType); ok {
				for _, field := range st.Fields.List {
					for _, n := range field.Names {
						text := field.Comment.Text()
						if text == "" {
							text = field.Doc.Text()
						}
						if field.Tag != nil && strings.Contains(field.Tag.Value, "json:") {
							say(said, name+"."+n.Name, text)
						}
					}
				}
			}
		}
	}
}

func say(said map[string]string, name, text string) {
	if text = strings.Join(strings.Fields(text), " "); text != "" {
		said[name] = text
	}
}
