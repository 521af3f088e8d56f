package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"os"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"

	"whitebarn/internal/barn/people"
	"whitebarn/internal/store"
)

// TestReportsAreAsTheirSchemaSays holds the reports of the demo against the published schema,
// and a report that lacks something too.
func TestReportsAreAsTheirSchemaSays(t *testing.T) {
	t.Parallel()
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
	t.Parallel()
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

// TestTheExamplesForScriptsRun plays what docs/api.md shows, by a token of each scope's making.
func TestTheExamplesForScriptsRun(t *testing.T) {
	t.Parallel()
	text, err := os.ReadFile("../../docs/api.md")
	if err != nil {
		t.Fatal(err)
	}
	odalys, _, _ := demoBarn(t)
	var made people.MadeScriptToken
	odalys.must("POST", "/api/records/tokens", people.NewScriptToken{Name: "examples", Scope: store.ScopeAll}, 201, &made)
	played := 0
	for _, block := range strings.Split(string(text), "```http\n")[1:] {
		lines := strings.Split(strings.TrimSpace(strings.Split(block, "```")[0]), "\n")
		method, path, _ := strings.Cut(lines[0], " ")
		status, says, _ := strings.Cut(lines[len(lines)-1], " ")
		req, err := http.NewRequest(method, odalys.url+path, strings.NewReader(strings.Join(lines[1:len(lines)-1], "\n")))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Authorization", "Bearer "+made.Token)
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("X-Request-Id", "example-12345")
		res, err := http.DefaultClient.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		body, err := io.ReadAll(res.Body)
		res.Body.Close()
		if err != nil || fmt.Sprint(res.StatusCode) != status || !strings.Contains(string(body), says) {
			t.Errorf("%s answers %d %.300s; the page says %s with %s", lines[0], res.StatusCode, body, status, says)
		}
		if got := res.Header.Get("X-Request-Id"); got != "example-12345" {
			t.Errorf("%s comes back under the number %q", lines[0], got)
		}
		played++
	}
	if played < 7 {
		t.Errorf("only %d examples were found", played)
	}
	// How the server does is told to this machine, and to no proxy's guest.
	for path, want := range map[string]int{"/metrics": 200, "/health": 200, "/ready": 200} {
		if status, body := odalys.send("GET", path, "", nil); status != want || path == "/metrics" && !strings.Contains(string(body),
			`whitebarn_request_seconds_count{method="POST",route="/api/cuts/:id/weighings",status="4xx"} 1`) {
			t.Errorf("%s answered %d %.200s", path, status, body)
		}
	}
	req, err := http.NewRequest("GET", odalys.url+"/metrics", nil)
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("X-Forwarded-For", "203.0.113.9")
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	res.Body.Close()
	if res.StatusCode != 404 {
		t.Errorf("through a proxy, metrics answered %d", res.StatusCode)
	}
}
