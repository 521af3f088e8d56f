package api

import (
	_ "embed"
	"encoding/json"
	"reflect"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"
)

// comments are what types and fields say of themselves; make types writes them.
//
//go:embed comments.gen.json
var comments []byte

var said = func() map[string]string {
	out := map[string]string{}
	if err := json.Unmarshal(comments, &out); err != nil {
		panic(err) // the file is generated, and a test reads it
	}
	return out
}()

// describe gives a schema the words of its type and of its fields. A field that refers to
// another type has that one's.
func describe(t reflect.Type, s *openapi3.Schema) {
	name := t.PkgPath() + "." + t.Name()
	s.Description = said[name]
	if t.Kind() != reflect.Struct {
		return
	}
	for _, f := range reflect.VisibleFields(t) {
		key, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		property, there := s.Properties[key]
		if !there || strings.HasPrefix(property.Ref, "#/") || property.Value == nil {
			continue
		}
		owner := t
		for _, i := range f.Index[:len(f.Index)-1] {
			owner = owner.Field(i).Type
			if owner.Kind() == reflect.Pointer {
				owner = owner.Elem()
			}
		}
		if text := said[owner.PkgPath()+"."+owner.Name()+"."+f.Name]; text != "" {
			own := *property.Value // the library shares one between fields of a type
			own.Description = text
			s.Properties[key] = openapi3.NewSchemaRef("", &own)
		}
	}
}
