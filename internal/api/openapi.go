package api

import (
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"regexp"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3gen"
)

var pathParam = regexp.MustCompile(`:(\w+)`)

// OpenAPI describes all registered handlers.
func (a *Routes) OpenAPI(title string) ([]byte, error) {
	doc := &openapi3.T{
		OpenAPI: "3.0.3", Info: &openapi3.Info{Title: title, Version: "1"},
		Paths: openapi3.NewPaths(), Components: &openapi3.Components{Schemas: openapi3.Schemas{}},
	}
	generator := openapi3gen.NewGenerator(openapi3gen.UseAllExportedFields(), openapi3gen.CreateComponentSchemas(openapi3gen.ExportComponentSchemasOptions{ExportComponentSchemas: true, ExportTopLevelSchema: true}),
		openapi3gen.SchemaCustomizer(customize))
	schema := func(t reflect.Type) (*openapi3.SchemaRef, error) {
		if t.Kind() == reflect.Pointer {
			t = t.Elem()
		}
		ref, err := generator.NewSchemaRefForValue(reflect.New(t).Elem().Interface(), doc.Components.Schemas)
		if err != nil {
			return nil, fmt.Errorf("describe %s: %w", t, err)
		}
		return ref, nil
	}
	problem, err := schema(reflect.TypeFor[Problem]())
	if err != nil {
		return nil, err
	}
	known := map[string]reflect.Type{}
	for _, r := range a.routes {
		if err := errors.Join(oneName(known, r.in), oneName(known, r.out)); err != nil {
			return nil, err
		}
		op := &openapi3.Operation{OperationID: r.id, Responses: openapi3.NewResponsesWithCapacity(2)}
		if err := parameters(op, r.in, schema); err != nil {
			return nil, err
		}
		answer := openapi3.NewResponse().WithDescription("done")
		if r.out != reflect.TypeFor[None]() {
			ref, err := schema(r.out)
			if err != nil {
				return nil, err
			}
			answer = answer.WithJSONSchemaRef(ref)
		}
		op.Responses.Set(fmt.Sprint(r.status), &openapi3.ResponseRef{Value: answer})
		op.Responses.Set("default", &openapi3.ResponseRef{Value: openapi3.NewResponse().WithDescription("refused").WithContent(openapi3.NewContentWithSchemaRef(problem, []string{"application/problem+json"}))})
		doc.AddOperation(pathParam.ReplaceAllString(r.path, "{$1}"), r.method, op)
	}
	return json.MarshalIndent(doc, "", " ")
}

// oneName refuses two struct types of one name: the description would have
// only one of them.
func oneName(known map[string]reflect.Type, t reflect.Type) error {
	switch t.Kind() {
	case reflect.Pointer, reflect.Slice, reflect.Array, reflect.Map:
		return oneName(known, t.Elem())
	case reflect.Struct:
		if t.Name() == "" {
			break
		}
		if other := known[t.Name()]; other == t {
			return nil
		} else if other != nil {
			return fmt.Errorf("%s and %s would have one name in the description: rename one", other, t)
		}
		known[t.Name()] = t
	default:
		return nil
	}
	var err error
	for i := range t.NumField() {
		if t.Field(i).IsExported() {
			err = errors.Join(err, oneName(known, t.Field(i).Type))
		}
	}
	return err
}

// parameters adds what a handler takes from path, query and body.
func parameters(op *openapi3.Operation, in reflect.Type, schema func(reflect.Type) (*openapi3.SchemaRef, error)) error {
	upload := false
	for _, f := range reflect.VisibleFields(in) {
		uri, form := f.Tag.Get("uri"), f.Tag.Get("form")
		switch {
		case uri != "" || form != "":
			ref, err := schema(f.Type)
			if err != nil {
				return err
			}
			p := openapi3.NewQueryParameter(form)
			if uri != "" {
				p = openapi3.NewPathParameter(uri)
			}
			p.Schema = ref
			op.AddParameter(p)
		case f.Name == "File":
			upload = true
		}
	}
	form := openapi3.NewObjectSchema().WithProperty("file", openapi3.NewStringSchema().WithFormat("binary"))
	f, described := in.FieldByName("Body")
	if !described && !upload {
		return nil
	}
	body := openapi3.NewRequestBody().WithRequired(true)
	if described {
		ref, err := schema(f.Type)
		if err != nil {
			return err
		}
		form.Properties["body"] = ref
		body = body.WithJSONSchemaRef(ref)
	}
	if upload {
		body = openapi3.NewRequestBody().WithRequired(true).WithFormDataSchema(form)
	}
	op.RequestBody = &openapi3.RequestBodyRef{Value: body}
	return nil
}

// customize adds what the library cannot know: the values of a named string
// and which fields are always there.
func customize(_ string, t reflect.Type, _ reflect.StructTag, s *openapi3.Schema) error {
	describe(t, s)
	if v, ok := reflect.Zero(t).Interface().(interface{ Values() []string }); ok && t.Kind() == reflect.String {
		for _, value := range v.Values() {
			s.Enum = append(s.Enum, value)
		}
	}
	switch t.Kind() {
	case reflect.Array:
		items := openapi3.NewFloat64Schema()
		s.Type, s.Items = &openapi3.Types{openapi3.TypeArray}, openapi3.NewSchemaRef("", items)
		s.MinItems, s.MaxItems = uint64(t.Len()), openapi3.Ptr(uint64(t.Len()))
	case reflect.Struct:
		for _, f := range reflect.VisibleFields(t) {
			name, options, _ := strings.Cut(f.Tag.Get("json"), ",")
			property, there := s.Properties[name]
			if !there {
				continue
			}
			if !strings.Contains(options, "omitempty") && !behindPointer(t, f) {
				s.Required = append(s.Required, name)
			}
			// A reference cannot be null by itself.
			if f.Type.Kind() == reflect.Pointer && f.Type.Elem().Kind() == reflect.Struct && f.Type.Elem().Name() != "Time" {
				s.Properties[name] = openapi3.NewSchemaRef("", &openapi3.Schema{Nullable: true, AllOf: openapi3.SchemaRefs{property}})
			}
		}
	}
	return nil
}

// behindPointer says whether a field stands in an embedded struct that may be nil.
func behindPointer(t reflect.Type, f reflect.StructField) bool {
	for i := 1; i < len(f.Index); i++ {
		if t.FieldByIndex(f.Index[:i]).Type.Kind() == reflect.Pointer {
			return true
		}
	}
	return false
}
