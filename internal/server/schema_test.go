package server

import (
	"bytes"
	"encoding/json"
	"os"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
)

// TestReportsAreAsTheirSchemaSays holds the reports of the demo against the published schema,
// and a report that lacks something too.
func TestReportsAreAsTheirSchemaSays(t *testing.T) {
	doc, err := OpenAPI()
	if err != nil {
		t.Fatal(err)
	}
	text, err := ReportSchema(doc)
	if err != nil {
		t.Fatal(err)
	}
	published, err := os.ReadFile("../../docs/schemas/report.json")
	if err != nil || !bytes.Equal(bytes.TrimSpace(published), bytes.TrimSpace(text)) {
		t.Errorf("docs/schemas/report.json is stale (%v): run make types", err)
	}
	parsed, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	if err != nil {
		t.Fatal(err)
	}
	c := jsonschema.NewCompiler()
	if err := c.AddResource("report.json", parsed); err != nil {
		t.Fatal(err)
	}
	schema, err := c.Compile("report.json")
	if err != nil {
		t.Fatal(err)
	}
	odalys, _, _ := demoBarn(t)
	for _, path := range []string{"/api/trials/3/report.json", "/api/trials/6/report.json", "/api/trials/7/report.json", "/api/trials/9/report.json"} {
		status, text := odalys.send("GET", path, "", nil)
		report, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
		if status != 200 || err != nil {
			t.Fatalf("%s answered %d (%v)", path, status, err)
		}
		if err := schema.Validate(report); err != nil {
			t.Errorf("%s is not as its schema says: %v", path, err)
		}
		lacking := report.(map[string]any)
		delete(lacking, "result")
		if schema.Validate(lacking) == nil {
			t.Errorf("a report without a result is taken for whole")
		}
	}
}

// TestTheAPISaysWhatItsFieldsAre reads the description as a browser of it would.
func TestTheAPISaysWhatItsFieldsAre(t *testing.T) {
	odalys, _, _ := demoBarn(t)
	status, text := odalys.send("GET", "/api/openapi.json", "", nil)
	var doc struct {
		Paths      map[string]map[string]struct{ OperationID string }
		Components struct {
			Schemas map[string]struct {
				Description string
				Properties  map[string]struct{ Description string }
			}
		}
	}
	if err := json.Unmarshal(text, &doc); err != nil || status != 200 || len(doc.Paths) < 100 {
		t.Fatalf("the description answered %d with %d paths (%v)", status, len(doc.Paths), err)
	}
	pair := doc.Components.Schemas["Pair"]
	if !strings.Contains(pair.Description, "verdict on two arms") || pair.Properties["varied"].Description != "the factors in which the two differ" {
		t.Errorf("the pair is described as %+v", pair)
	}
	silent := 0
	for _, s := range doc.Components.Schemas {
		if s.Description == "" {
			silent++
		}
	}
	if silent > len(doc.Components.Schemas)/20 {
		t.Errorf("%d of %d types say nothing of themselves", silent, len(doc.Components.Schemas))
	}
}
