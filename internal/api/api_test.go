package api

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"reflect"
	"strings"
	"testing"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	"whitebarn/core/prep"
	"whitebarn/internal/store"
)

type wood string

func (wood) Values() []string { return []string{"apricot", "alder"} }

type splitInput struct {
	Wood  wood     `json:"wood" binding:"required,oneof=apricot alder"`
	Count int      `json:"count" binding:"min=1,max=9"`
	Kg    *float64 `json:"kg"`
}

type splitIn struct {
	ID   int64 `uri:"id"`
	Dry  bool  `form:"dry"`
	Body splitInput
}

type splitOut struct {
	ID    int64       `json:"id"`
	Dry   bool        `json:"dry"`
	Input splitInput  `json:"input"`
	Next  *splitInput `json:"next"`
	Note  string      `json:"note,omitempty"`
	Span  [2]float64  `json:"span"`
	*ashes
}

type ashes struct {
	Grams int `json:"grams"`
}

func engine() (*gin.Engine, *Routes) {
	gin.SetMode(gin.ReleaseMode)
	slog.SetDefault(slog.New(slog.DiscardHandler))
	e, a := gin.New(), &Routes{}
	g := e.Group("/api")
	Handle(a, g, "POST", "/splits/:id", "split", 201, func(_ *gin.Context, in *splitIn) (splitOut, error) {
		return splitOut{ID: in.ID, Dry: in.Dry, Input: in.Body}, nil
	})
	Handle(a, g, "DELETE", "/splits", "burn", 204, func(*gin.Context, *None) (None, error) { return None{}, nil })
	Handle(a, g, "GET", "/fail/:how", "fail", 200, func(_ *gin.Context, in *struct {
		How string `uri:"how"`
	}) (None, error) {
		return None{}, map[string]error{
			"field": fault.New("kg", "is heavy", "lift less"), "many": fault.List{fault.New("a", "x", ""), fault.New("b", "y", "")},
			"gone": fmt.Errorf("look: %w", store.ErrNotFound), "first": store.ErrConflict, "said": Refuse(418, "No.", "Ask later."), "secret": errors.New("password=hunter2"),
		}[in.How]
	})
	Handle(a, g, "POST", "/files", "file", 200, func(_ *gin.Context, in *struct {
		File File
		Body splitInput
	}) (string, error) {
		return fmt.Sprintf("%s %d %s", in.File.Name, len(in.File.Data), in.Body.Wood), nil
	})
	Handle(a, g, "POST", "/pictures", "picture", 200, func(_ *gin.Context, in *struct{ File File }) (int, error) { return len(in.File.Data), nil })
	return e, a
}

func send(e *gin.Engine, method, path, kind string, body io.Reader) (int, string) {
	w := httptest.NewRecorder()
	r := httptest.NewRequest(method, path, body)
	r.Header.Set("Content-Type", kind)
	e.ServeHTTP(w, r)
	return w.Code, w.Body.String()
}

func TestBindTakesPathQueryAndBodyApart(t *testing.T) {
	e, _ := engine()
	for _, c := range []struct {
		path, body string
		status     int
		words      string
	}{
		{"/api/splits/7?dry=true", `{"wood":"alder","count":2}`, 201, `"id":7,"dry":true,"input":{"wood":"alder","count":2,"kg":null}`},
		{"/api/splits/7?id=9&ID=9", `{"wood":"alder","count":2}`, 201, `"id":7,`},
		{"/api/splits/7?Wood=apricot&Body=x", `{"wood":"alder","count":2}`, 201, `"wood":"alder"`},
		{"/api/splits/seven", `{"wood":"alder","count":2}`, 400, "does not fit"},
		{"/api/splits/7?dry=maybe", `{"wood":"alder","count":2}`, 400, "does not fit"},
		{"/api/splits/7", `{"wood":"oak","count":12}`, 422, `"field":"wood"`},
		{"/api/splits/7", `{"wood":"oak","count":12}`, 422, `"field":"count"`},
		{"/api/splits/7", `{}`, 422, "nothing is written"},
		{"/api/splits/7", `{"wood":"alder","count":"two"}`, 422, `"field":"count"`},
		{"/api/splits/7", `{"wood":"alder","size":2}`, 422, `"field":"size"`},
		{"/api/splits/7", `{"wood":"alder","count":2}{}`, 400, "after the JSON"},
		{"/api/splits/7", `{"wood"`, 400, "not JSON"},
		{"/api/splits/7", `"` + strings.Repeat("x", 2<<20) + `"`, 413, "too large"},
	} {
		if status, text := send(e, "POST", c.path, "application/json", strings.NewReader(c.body)); status != c.status || !strings.Contains(text, c.words) {
			t.Errorf("POST %s of %.60s answered %d %.200s, want %d with %q", c.path, c.body, status, text, c.status, c.words)
		}
	}
	if status, text := send(e, "DELETE", "/api/splits", "", nil); status != 204 || text != "" {
		t.Errorf("a handler without an answer answered %d %q", status, text)
	}
}

// TestTextThatNoRecordKeepsIsRefusedAtTheEdge: a null, or what is not UTF-8, wherever it stands.
func TestTextThatNoRecordKeepsIsRefusedAtTheEdge(t *testing.T) {
	type part struct {
		Name string `json:"name"`
	}
	type whole struct {
		ID   string `uri:"id"`
		Body struct {
			Parts []part            `json:"parts"`
			Words map[string]string `json:"words"`
			Next  *part             `json:"next"`
			Raw   []byte            `json:"raw"`
		}
	}
	fill := func(set func(*whole)) *whole {
		w := &whole{ID: "1"}
		w.Body.Parts, w.Body.Words, w.Body.Next, w.Body.Raw = []part{{"a"}, {"b"}}, map[string]string{"k": "v"}, &part{"c"}, []byte{0, 255}
		set(w)
		return w
	}
	for want, w := range map[string]*whole{
		"":              fill(func(*whole) {}),
		"id":            fill(func(w *whole) { w.ID = "\xff" }),
		"parts[1].name": fill(func(w *whole) { w.Body.Parts[1].Name = "a\x00b" }),
		"words":         fill(func(w *whole) { w.Body.Words["k\x00"] = "v" }),
		"next.name":     fill(func(w *whole) { w.Body.Next.Name = "\xc3" }),
	} {
		if field, found := unwritable(reflect.ValueOf(w), ""); field != want && found || found != (want != "") {
			t.Errorf("found %v at %q, want it at %q", found, field, want)
		}
	}
}

func TestErrorsHaveOneShape(t *testing.T) {
	e, _ := engine()
	for _, c := range []struct {
		how    string
		status int
		title  string
		fields int
	}{
		{"field", 422, "is heavy", 1}, {"many", 422, "x", 2}, {"gone", 404, "There is no such thing here.", 0},
		{"first", 409, "Somebody was there first.", 0}, {"said", 418, "No.", 0}, {"secret", 500, "Something went wrong on the server. Nothing was changed.", 0},
	} {
		status, text := send(e, "GET", "/api/fail/"+c.how, "", nil)
		var p Problem
		if err := json.Unmarshal([]byte(text), &p); err != nil || status != c.status || p.Status != c.status || p.Title != c.title || len(p.Errors) != c.fields {
			t.Errorf("%s answered %d %s (%v), want %d %q with %d fields", c.how, status, text, err, c.status, c.title, c.fields)
		}
		if strings.Contains(text, "hunter2") {
			t.Errorf("an internal error tells its secret: %s", text)
		}
	}
}

func TestUploads(t *testing.T) {
	e, _ := engine()
	form := func(parts map[string]string) (string, *bytes.Buffer) {
		var b bytes.Buffer
		w := multipart.NewWriter(&b)
		for _, name := range []string{"body", "file"} {
			text, ok := parts[name]
			if !ok {
				continue
			}
			var part io.Writer
			if name == "file" {
				part, _ = w.CreateFormFile("file", "log.csv")
			} else {
				part, _ = w.CreateFormField(name)
			}
			_, _ = io.WriteString(part, text)
		}
		_ = w.Close()
		return w.FormDataContentType(), &b
	}
	body := `{"wood":"alder","count":1}`
	for _, c := range []struct {
		name   string
		parts  map[string]string
		status int
		words  string
	}{
		{"both", map[string]string{"body": body, "file": "abc"}, 200, "log.csv 3 alder"},
		{"no file", map[string]string{"body": body}, 200, " 0 alder"},
		{"no body", map[string]string{"file": "abc"}, 422, "wood"},
		{"a wrong body", map[string]string{"body": "{", "file": "abc"}, 400, "not JSON"},
		{"too large", map[string]string{"body": body, "file": strings.Repeat("x", MostFile+2<<20)}, 413, "over 24 MB"},
	} {
		kind, b := form(c.parts)
		if status, text := send(e, "POST", "/api/files", kind, b); status != c.status || !strings.Contains(text, c.words) {
			t.Errorf("%s answered %d %.200s, want %d with %q", c.name, status, text, c.status, c.words)
		}
	}
	// A file alone, whether or not something is sent along.
	for _, parts := range []map[string]string{{"file": "abc"}, {"file": "abc", "body": body}} {
		kind, b := form(parts)
		if status, text := send(e, "POST", "/api/pictures", kind, b); status != 200 || text != "3" {
			t.Errorf("a picture sent as %v answered %d %s", parts, status, text)
		}
	}
	kind, b := form(map[string]string{"body": body, "file": "abc"})
	b.Truncate(b.Len() - 30)
	if status, text := send(e, "POST", "/api/files", kind, b); status != 400 || !strings.Contains(text, "broke off") {
		t.Errorf("half an upload answered %d %s", status, text)
	}
	if status, _ := send(e, "POST", "/api/files", "text/plain", strings.NewReader("x")); status != http.StatusBadRequest {
		t.Errorf("plain text in place of a form answered %d", status)
	}
}

func TestDescriptionSaysWhatGoTypesSay(t *testing.T) {
	_, a := engine()
	text, err := a.OpenAPI("test")
	if err != nil {
		t.Fatal(err)
	}
	var doc struct {
		Paths      map[string]map[string]any
		Components struct {
			Schemas map[string]struct {
				Required   []string
				Properties map[string]map[string]any
			}
		}
	}
	if err := json.Unmarshal(text, &doc); err != nil {
		t.Fatal(err)
	}
	if doc.Paths["/api/splits/{id}"]["post"] == nil || doc.Paths["/api/splits"]["delete"] == nil {
		t.Errorf("paths are %v", doc.Paths)
	}
	out := doc.Components.Schemas["splitOut"]
	if got := strings.Join(out.Required, " "); got != "id dry input next span" {
		t.Errorf("of an answer %q is always there, want all but the note", got)
	}
	if out.Properties["next"]["nullable"] != true || out.Properties["span"]["minItems"] != 2.0 {
		t.Errorf("a pointer is %v and an array %v", out.Properties["next"], out.Properties["span"])
	}
	if got := fmt.Sprint(doc.Components.Schemas["splitInput"].Properties["wood"]["enum"]); got != "[apricot alder]" {
		t.Errorf("a named string offers %s", got)
	}
}

func TestTwoTypesOfOneNameAreRefused(t *testing.T) {
	type Body = struct{ Line prep.Line }
	a := &Routes{}
	Handle(a, gin.New().Group("/"), "GET", "/x", "x", 200, func(*gin.Context, *None) (Body, error) { return Body{}, nil })
	if _, err := a.OpenAPI("t"); err != nil {
		t.Fatal(err)
	}
	type Line struct{ Feet int }
	Handle(a, gin.New().Group("/"), "GET", "/y", "y", 200, func(*gin.Context, *None) (struct{ Line Line }, error) { return struct{ Line Line }{}, nil })
	if _, err := a.OpenAPI("t"); err == nil || !strings.Contains(err.Error(), "one name") {
		t.Errorf("two types named Line are described: %v", err)
	}
}

// A word for a number is refused with what would do, in words.
func TestWhatDoesNotFitAFieldIsSaidInWords(t *testing.T) {
	var into struct {
		N    float64 `json:"n"`
		I    int     `json:"i"`
		B    bool    `json:"b"`
		S    string  `json:"s"`
		L    []int   `json:"l"`
		P    *int    `json:"p"`
		Deep struct {
			X float64 `json:"x"`
		} `json:"deep"`
	}
	for body, want := range map[string]string{
		`{"n":"two"}`: "n: a string does not fit here; give a number, without quotes",
		`{"i":"two"}`: "i: a string does not fit here; give a whole number, without quotes",
		`{"b":"yes"}`: "b: a string does not fit here; give true or false", `{"s":5}`: "s: a number does not fit here; give words in quotes",
		`{"l":5}`:   "give a list in square brackets",
		`{"p":"x"}`: "give a whole number", `{"deep":5}`: "give an object in braces",
		`{"deep":{"x":"y"}}`: "deep.x: a string does not fit here; give a number",
	} {
		if err := decode(strings.NewReader(body), &into); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s is refused with %v, want %q", body, err, want)
		}
	}
}
