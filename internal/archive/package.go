// Package archive keeps a record as one file: a zip of a CSV a table, with datapackage.json that
// says what each field is (Frictionless Data Package). A backup is the whole of it, an export
// lets nobody in, and one trial is such a file too.
package archive

import (
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"whitebarn/internal/store"
)

// Kind says what an archive holds.
type Kind string

// The kinds of archives.
const (
	Backup Kind = "backup" // all there is, passwords and keys among it
	Barn   Kind = "barn"   // all but what lets people and devices in
	Trial  Kind = "trial"  // one trial and what it refers to
)

// ExportOf is the kind of an export: of one trial, or with 0 of the barn.
func ExportOf(trial int64) Kind {
	if trial != 0 {
		return Trial
	}
	return Barn
}

// Package describes an archive: datapackage.json.
type Package struct {
	Profile     string     `json:"profile"`
	Name        string     `json:"name"`
	Title       string     `json:"title"`
	Description string     `json:"description"`
	Created     time.Time  `json:"created"`
	Kind        Kind       `json:"whitebarn_kind"`
	Version     int64      `json:"whitebarn_version"` // of the record's schema
	Trial       int64      `json:"whitebarn_trial,omitempty"`
	Resources   []Resource `json:"resources"`
}

// Resource is a table.
type Resource struct {
	Name      string `json:"name"`
	Path      string `json:"path"`
	Profile   string `json:"profile"`
	Title     string `json:"title,omitempty"`
	Format    string `json:"format"`
	MediaType string `json:"mediatype"`
	Encoding  string `json:"encoding"`
	Rows      int64  `json:"rows"`
	Hash      string `json:"hash"` // sha256 of the file
	Schema    Schema `json:"schema"`
}

// Schema is a Table Schema.
type Schema struct {
	Fields        []Field      `json:"fields"`
	PrimaryKey    []string     `json:"primaryKey,omitempty"`
	ForeignKeys   []ForeignKey `json:"foreignKeys,omitempty"`
	MissingValues []string     `json:"missingValues"`
}

// Field is a column.
type Field struct {
	Name        string          `json:"name"`
	Type        string          `json:"type"`
	Format      string          `json:"format,omitempty"`
	Unit        string          `json:"unit,omitempty"`
	Description string          `json:"description,omitempty"`
	Constraints map[string]bool `json:"constraints,omitempty"`
}

// ForeignKey says whose ids a field has.
type ForeignKey struct {
	Fields    string `json:"fields"`
	Reference struct {
		Resource string `json:"resource"`
		Fields   string `json:"fields"`
	} `json:"reference"`
}

// Columns lists the names of a resource's fields.
func (r Resource) Columns() []string {
	out := make([]string, len(r.Schema.Fields))
	for i, f := range r.Schema.Fields {
		out[i] = f.Name
	}
	return out
}

// types are the words of Table Schema for those of the database.
var types = map[string][2]string{
	"bigint": {"integer"}, "integer": {"integer"}, "double precision": {"number"}, "boolean": {"boolean"}, "text": {"string"}, "character": {"string"},
	"timestamp with time zone": {"datetime", "%Y-%m-%dT%H:%M:%S.%fZ"}, "jsonb": {"any", "json"}, "uuid": {"string", "uuid"}, "bytea": {"string", "hex"},
	"text[]": {"string", "list in braces"}, "bigint[]": {"string", "list in braces"}, "double precision[]": {"string", "list in braces"},
}

// units are told by how a name ends.
var units = []struct{ ending, unit string }{
	{"_kg", "kg"}, {"_c", "degrees Celsius"}, {"_ml", "ml"}, {"_g", "g"}, {"_s", "s"}, {"_m", "m"}, {"_cents",
		"hundredths of the barn's currency"}, {"_at", "UTC"},
}

func unitOf(table, name string) string {
	if u, ok := told[table+"."+name]; ok && u[0] != "" {
		return u[0]
	}
	for _, u := range units {
		if strings.HasSuffix(name, u.ending) || name == u.ending[1:] {
			return u.unit
		}
	}
	return ""
}

// describe makes the resource of a table.
func describe(t store.Table) Resource {
	r := Resource{Name: t.Name, Path: "data/" + t.Name + ".csv", Profile: "tabular-data-resource", Title: titles[t.Name], Format: "csv",
		MediaType: "text/csv", Encoding: "utf-8"}
	r.Schema = Schema{PrimaryKey: t.Key, MissingValues: []string{""}, Fields: []Field{}}
	for _, c := range t.Columns {
		kind, ok := types[c.Type]
		if !ok {
			kind = [2]string{"any"}
		}
		f := Field{Name: c.Name, Type: kind[0], Format: kind[1], Unit: unitOf(t.Name, c.Name), Description: descriptionOf(t.Name, c.Name)}
		if !c.Nullable {
			f.Constraints = map[string]bool{"required": true}
		}
		r.Schema.Fields = append(r.Schema.Fields, f)
	}
	for _, ref := range t.Refers {
		f := ForeignKey{Fields: ref.Column}
		f.Reference.Fields = "id"
		if f.Reference.Resource = ref.Table; ref.Table == t.Name {
			f.Reference.Resource = "" // itself, as the standard has it
		}
		r.Schema.ForeignKeys = append(r.Schema.ForeignKeys, f)
	}
	return r
}

// encode writes datapackage.json.
func (p Package) encode() ([]byte, error) {
	text, err := json.MarshalIndent(p, "", "  ")
	if err != nil {
		return nil, fmt.Errorf("describe the archive: %w", err)
	}
	return append(text, '\n'), nil
}

// Alike says whether two archives hold the same rows.
func Alike(a, b Package) error {
	sums := map[string]string{}
	for _, r := range b.Resources {
		sums[r.Name] = r.Hash
	}
	for _, r := range a.Resources {
		if sums[r.Name] != r.Hash {
			return fmt.Errorf("the table %s differs", r.Name)
		}
	}
	return nil
}
