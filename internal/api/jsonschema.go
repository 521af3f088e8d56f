package api

import (
	"encoding/json"
	"fmt"
	"strings"
)

// JSONSchema is the schema (draft 2020-12) of one type of the API with all it refers to, made
// from the description of the API.
func JSONSchema(openAPI []byte, root, id, title string) ([]byte, error) {
	var doc struct {
		Components struct{ Schemas map[string]any } `json:"components"`
	}
	if err := json.Unmarshal(openAPI, &doc); err != nil {
		return nil, err
	}
	out, ok := asJSONSchema(doc.Components.Schemas[root]).(map[string]any)
	if !ok {
		return nil, fmt.Errorf("the API has no type %s", root)
	}
	defs := map[string]any{}
	var follow func(any)
	follow = func(v any) {
		switch v := v.(type) {
		case map[string]any:
			if ref, ok := v["$ref"].(string); ok {
				name := strings.TrimPrefix(ref, "#/$defs/")
				if _, done := defs[name]; !done {
					defs[name] = asJSONSchema(doc.Components.Schemas[name])
					follow(defs[name])
				}
			}
			for _, x := range v {
				follow(x)
			}
		case []any:
			for _, x := range v {
				follow(x)
			}
		}
	}
	follow(out)
	out["$schema"], out["$id"], out["title"], out["$defs"] = "https://json-schema.org/draft/2020-12/schema", id, title, defs
	return json.MarshalIndent(out, "", " ")
}

// asJSONSchema turns what OpenAPI 3.0 says in its own way into what JSON Schema says.
func asJSONSchema(v any) any {
	switch v := v.(type) {
	case map[string]any:
		out := map[string]any{}
		for key, x := range v {
			switch key {
			case "nullable":
			case "$ref":
				out[key] = strings.Replace(x.(string), "#/components/schemas/", "#/$defs/", 1)
			default:
				out[key] = asJSONSchema(x)
			}
		}
		if v["nullable"] == true {
			if kind, ok := out["type"].(string); ok {
				out["type"] = []any{kind, "null"}
				return out
			}
			return map[string]any{"anyOf": []any{out, map[string]any{"type": "null"}}}
		}
		return out
	case []any:
		out := make([]any, len(v))
		for i, x := range v {
			out[i] = asJSONSchema(x)
		}
		return out
	}
	return v
}
