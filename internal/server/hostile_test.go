package server

import (
	"encoding/json"
	"maps"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"
)

// hostile are values that a field may get from anybody, by the kind of the field.
var hostile = map[string][]any{
	"string":  {"", "a\x00b", strings.Repeat("x", 5000)},
	"integer": {-1, int64(9_223_372_036_854_775_807)},
	"number":  {-1, 1e308},
	"boolean": {"yes"},
	"array":   {[]any{}, []any{nil}},
	"object":  {map[string]any{}},
}

// TestNoInputIsAnErrorOfOurs sends every route of the description, on the demo, a body that is
// plausible, and it again with each field as nobody should send it: what is wrong with a
// request is said, and no request is an error of the server's own.
func TestNoInputIsAnErrorOfOurs(t *testing.T) {
	t.Parallel()
	odalys, _ := demoAt(t, goldenNow)
	text, err := OpenAPI()
	if err != nil {
		t.Fatal(err)
	}
	var doc described
	if err := json.Unmarshal(text, &doc); err != nil {
		t.Fatal(err)
	}
	sent, wrong := 0, map[string]bool{}
	try := func(method, path, pattern string, body any) {
		sent++
		text, err := json.Marshal(body)
		if err != nil {
			t.Fatal(err)
		}
		status, answer := odalys.send(method, path, "application/json", strings.NewReader(string(text)))
		if key := method + " " + pattern; (status >= 500 || strings.Contains(string(answer), "fit the record")) && !wrong[key+string(answer)] {
			wrong[key+string(answer)] = true
			t.Errorf("%s %s answered %d to %.300s: %.200s", method, path, status, text, answer)
		}
	}
	for _, pattern := range slices.Sorted(maps.Keys(doc.Paths)) {
		for _, method := range []string{"get", "post", "put", "delete"} {
			op, has := doc.Paths[pattern][method]
			if !has || noWalk[strings.ToUpper(method)+" "+ginPath(pattern)] != "" {
				continue
			}
			for _, id := range []string{"1", "999999999", "%00", "%ff"} {
				path := regexp.MustCompile(`\{\w+\}`).ReplaceAllString(pattern, id)
				if id == "1" {
					for _, q := range op.Parameters {
						if q.In == "query" {
							for _, v := range []string{"%00", "-1", "%ff"} {
								try(strings.ToUpper(method), path+"?"+q.Name+"="+v, pattern, nil)
							}
						}
					}
				}
				schema, typed := op.RequestBody.Content["application/json"]
				if !typed {
					try(strings.ToUpper(method), path, pattern, nil)
					continue
				}
				base := doc.plausible(schema.Schema, 0)
				try(strings.ToUpper(method), path, pattern, base)
				if id != "1" {
					continue
				}
				for _, bad := range doc.spoilt(schema.Schema, base, 0) {
					try(strings.ToUpper(method), path, pattern, bad)
				}
			}
		}
	}
	t.Logf("%d requests", sent)
	if sent < 2000 {
		t.Errorf("only %d requests were sent", sent)
	}
}

func ginPath(pattern string) string {
	return regexp.MustCompile(`\{(\w+)\}`).ReplaceAllString(pattern, ":$1")
}

// described is what of the description the walk needs.
type described struct {
	Paths map[string]map[string]struct {
		Parameters  []struct{ Name, In string }
		RequestBody struct {
			Content map[string]struct{ Schema *shape }
		}
	}
	Components struct{ Schemas map[string]*shape }
}

type shape struct {
	Ref                  string `json:"$ref"`
	Type                 string
	Format               string
	Enum                 []any
	Properties           map[string]*shape
	Items                *shape
	AllOf                []*shape
	AdditionalProperties json.RawMessage
}

func (d *described) of(s *shape) *shape {
	for s != nil && (s.Ref != "" || len(s.AllOf) == 1) {
		if s.Ref != "" {
			s = d.Components.Schemas[strings.TrimPrefix(s.Ref, "#/components/schemas/")]
		} else {
			s = s.AllOf[0]
		}
	}
	if s == nil {
		s = &shape{}
	}
	return s
}

// plausible is a value as somebody would send it.
func (d *described) plausible(s *shape, depth int) any {
	switch s = d.of(s); {
	case len(s.Enum) > 0:
		return s.Enum[len(s.Enum)-1]
	case depth > 6:
		return nil
	case s.Type == "object":
		out := map[string]any{}
		for name, p := range s.Properties {
			if out[name] = d.plausible(p, depth+1); out[name] == "3 lb" {
				out[name] = typed(name)
			}
		}
		return out
	case s.Type == "array":
		return []any{d.plausible(s.Items, depth+1)}
	case s.Type == "integer":
		return 1
	case s.Type == "number":
		return 0.9
	case s.Type == "boolean":
		return false
	case s.Format == "date-time":
		return goldenNow.Add(-time.Hour)
	case s.Type == "string":
		return "3 lb"
	}
	return nil
}

// typed is a text as it stands in a field of that name.
func typed(field string) string {
	for _, as := range [][2]string{{"why", "the tare was on"}, {"press", "5f0c7a52-8f3e-4a55-9f65-0d7a3c1c9a10"}, {"set_point", "250 F"},
		{"dial", "160 F"}, {"target", "150 F"}, {"lowest", "140 F"}, {"temperature", "203 F"}, {"resolution", "1/4 oz"},
		{"code", "117"}, {"text", "cut\tweight\n1L\t3 lb"},
		{"zone", "UTC"}, {"password", "hornbeam in the morning"}, {"amount", "3 kg"}} {
		if strings.Contains(field, as[0]) {
			return as[1]
		}
	}
	return "3 lb"
}

// spoilt are the value with each of its fields in turn as nobody should send it.
func (d *described) spoilt(s *shape, base any, depth int) (out []any) {
	s = d.of(s)
	if depth > 4 {
		return nil
	}
	out = append(out, hostile[s.Type]...)
	switch base := base.(type) {
	case map[string]any:
		for _, name := range slices.Sorted(maps.Keys(base)) {
			for _, bad := range append(d.spoilt(s.Properties[name], base[name], depth+1), nil) {
				next := maps.Clone(base)
				next[name] = bad
				out = append(out, next)
			}
		}
	case []any:
		for _, bad := range d.spoilt(s.Items, base[0], depth+1) {
			out = append(out, []any{bad}, []any{base[0], bad})
		}
	}
	return out
}
