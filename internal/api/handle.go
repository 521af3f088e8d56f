// Package api registers typed handlers on Gin: bind the request, validate,
// call, answer; and remembers their types, from which the OpenAPI description
// and so the front end's types are made.
package api

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"mime"
	"mime/multipart"
	"net/http"
	"os"
	"reflect"
	"strings"
	"unicode/utf8"

	"github.com/gin-gonic/gin"
	"github.com/gin-gonic/gin/binding"

	"whitebarn/core/fault"
	"whitebarn/internal/barn"
)

// Routes collects what is registered.
type Routes struct{ routes []route }

type route struct {
	method, path, id string
	in, out          reflect.Type
	status           int
}

// None is the input or output of a handler that has none.
type None = barn.None

// File is the part "file" of a multipart form, whose part "body" is
// the JSON of the input's Body.
type File = barn.File

// Body sizes: JSON, and a form with a file.
const (
	mostJSON = 1 << 20
	MostFile = 24 << 20
)

// Group is where handlers are registered: routes under one path that the same people may ask.
type Group interface {
	BasePath() string
	Handle(method, path string, h ...gin.HandlerFunc) gin.IRoutes
}

// Handle registers a handler. In may have fields tagged uri for the path and
// form for the query, a field Body for JSON, and a field File for an upload.
func Handle[In, Out any](a *Routes, g Group, method, path, id string, status int, h func(*gin.Context, *In) (Out, error)) {
	a.routes = append(a.routes, route{method, g.BasePath() + path, id, reflect.TypeFor[In](), reflect.TypeFor[Out](), status})
	g.Handle(method, path, func(c *gin.Context) {
		in := new(In)
		if err := bind(c, in); err != nil {
			Fail(c, err)
			return
		}
		out, err := h(c, in)
		switch {
		case err != nil:
			Fail(c, err)
		case status == http.StatusNoContent:
			c.Status(status)
		default:
			answer(c, status, out)
		}
	})
}

// answer sends what can be encoded whole; what cannot is an internal error, not half
// an answer.
func answer(c *gin.Context, status int, out any) {
	text, err := json.Marshal(out)
	if err != nil {
		Fail(c, fmt.Errorf("encode the answer: %w", err))
		return
	}
	c.Data(status, "application/json; charset=utf-8", text)
}

func bind(c *gin.Context, in any) error {
	v := reflect.ValueOf(in).Elem()
	body, file := v.FieldByName("Body"), v.FieldByName("File")
	path := map[string][]string{}
	for _, p := range c.Params {
		path[p.Key] = []string{p.Value}
	}
	for tag, values := range map[string]map[string][]string{"form": c.Request.URL.Query(), "uri": path} {
		if err := binding.MapFormWithTag(in, tagged(v.Type(), tag, values), tag); err != nil {
			return bad("the address has a value that does not fit: %v", err)
		}
	}
	switch {
	case file.IsValid():
		if err := bindForm(c, body, file); err != nil {
			return err
		}
	case body.IsValid():
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, mostJSON)
		if err := decode(c.Request.Body, body.Addr().Interface()); err != nil {
			return err
		}
	}
	if field, ok := unwritable(v, ""); ok {
		return fault.New(field, "there is a character in it that no text has", "type it anew")
	}
	return Validate(in)
}

// unwritable finds a text that no record can keep: one with a null in it, or that is not
// UTF-8. It names the field as JSON does.
func unwritable(v reflect.Value, path string) (field string, found bool) {
	switch v.Kind() {
	case reflect.String:
		return path, strings.ContainsRune(v.String(), 0) || !utf8.ValidString(v.String())
	case reflect.Pointer, reflect.Interface:
		if !v.IsNil() {
			return unwritable(v.Elem(), path)
		}
	case reflect.Slice, reflect.Array:
		if v.Type().Elem().Kind() == reflect.Uint8 {
			return "", false // the bytes of a file, or JSON that was read as such
		}
		for i := range v.Len() {
			if field, found = unwritable(v.Index(i), fmt.Sprintf("%s[%d]", path, i)); found {
				return field, true
			}
		}
	case reflect.Map:
		for at := v.MapRange(); at.Next(); {
			for _, x := range []reflect.Value{at.Key(), at.Value()} {
				if field, found = unwritable(x, path); found {
					return field, true
				}
			}
		}
	case reflect.Struct:
		for i := range v.NumField() {
			f := v.Type().Field(i)
			if !f.IsExported() {
				continue
			}
			if field, found = unwritable(v.Field(i), named(path, f)); found {
				return field, true
			}
		}
	}
	return "", false
}

// named is the path of a field: embedded ones and the body are none.
func named(path string, f reflect.StructField) string {
	name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
	if tag := f.Tag.Get("uri") + f.Tag.Get("form"); name == "" {
		name = tag
	}
	switch {
	case name == "":
		return path
	case path == "":
		return name
	}
	return path + "." + name
}

// tagged keeps the values that a field asks for: Gin would fill untagged
// fields by their names, Body among them.
func tagged(t reflect.Type, tag string, values map[string][]string) map[string][]string {
	out := map[string][]string{}
	for _, f := range reflect.VisibleFields(t) {
		if name := f.Tag.Get(tag); name != "" && values[name] != nil {
			out[name] = values[name]
		}
	}
	return out
}

func bad(format string, v ...any) error {
	return &Refusal{Status: http.StatusBadRequest, Title: fmt.Sprintf(format, v...)}
}

// bindForm reads the parts body and file of a form.
func bindForm(c *gin.Context, body, file reflect.Value) error {
	kind, params, err := mime.ParseMediaType(c.GetHeader("Content-Type"))
	if err != nil || kind != "multipart/form-data" {
		return bad("send the file as multipart/form-data")
	}
	tooLarge := &Refusal{Status: http.StatusRequestEntityTooLarge, Title: fmt.Sprintf("The file is over %d MB.", MostFile>>20), Remedy: "Export a shorter stretch, or split the file by day; each part can be imported by itself."}
	if c.Request.ContentLength > MostFile+mostJSON {
		// A browser that is still sending would not see the answer.
		_, _ = io.Copy(io.Discard, io.LimitReader(c.Request.Body, 10*MostFile))
		return tooLarge
	}
	r := multipart.NewReader(http.MaxBytesReader(c.Writer, c.Request.Body, MostFile+mostJSON), params["boundary"])
	for {
		part, err := r.NextPart()
		if errors.Is(err, io.EOF) {
			return nil
		}
		var large *http.MaxBytesError
		if errors.As(err, &large) {
			return tooLarge
		}
		if err != nil {
			return bad("the upload broke off: %v", err)
		}
		switch name := part.FormName(); {
		case name == "body" && body.IsValid():
			if err := decode(part, body.Addr().Interface()); err != nil {
				return err
			}
		case name == "file":
			var data bytes.Buffer
			data.Grow(int(max(0, min(c.Request.ContentLength, MostFile))) + bytes.MinRead) // once: growing would take its size again
			_, err := data.ReadFrom(part)
			if errors.As(err, &large) {
				return tooLarge
			}
			if err != nil {
				return bad("the upload broke off: %v", err)
			}
			file.Set(reflect.ValueOf(File{Name: part.FileName(), Data: data.Bytes()}))
		}
	}
}

// wanted says in words what a field takes.
func wanted(t reflect.Type) string {
	switch t.Kind() {
	case reflect.Bool:
		return "true or false"
	case reflect.Int, reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64, reflect.Uint, reflect.Uint8, reflect.Uint16, reflect.Uint32, reflect.Uint64:
		return "a whole number, without quotes"
	case reflect.Float32, reflect.Float64:
		return "a number, without quotes"
	case reflect.String:
		return "words in quotes"
	case reflect.Slice, reflect.Array:
		return "a list in square brackets"
	case reflect.Pointer:
		return wanted(t.Elem())
	}
	return "an object in braces"
}

func decode(r io.Reader, into any) error {
	d := json.NewDecoder(r)
	d.DisallowUnknownFields()
	err := d.Decode(into)
	var wrong *json.UnmarshalTypeError
	var large *http.MaxBytesError
	switch {
	case errors.As(err, &wrong):
		return fault.New(wrong.Field, "a "+wrong.Value+" does not fit here", "give "+wanted(wrong.Type))
	case errors.As(err, &large):
		return &Refusal{Status: http.StatusRequestEntityTooLarge, Title: "The request is too large."}
	case errors.Is(err, os.ErrDeadlineExceeded):
		return &Refusal{Status: http.StatusRequestTimeout, Title: "The request came in too slowly.", Remedy: "Send it again, nearer to the network."}
	case err != nil && strings.HasPrefix(err.Error(), "json: unknown field "):
		return fault.New(strings.Trim(strings.TrimPrefix(err.Error(), "json: unknown field "), `"`), "there is no such field", "check the spelling")
	case err != nil:
		return bad("the request is not JSON: %v", err)
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return bad("there is something after the JSON")
	}
	return nil
}

// Validate checks the binding tags of a struct and names every field at fault
// as JSON does.
func Validate(in any) error {
	return tagErrors(reflect.TypeOf(in).Elem().Name(), binding.Validator.ValidateStruct(in))
}
