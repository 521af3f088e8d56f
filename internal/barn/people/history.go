package people

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// HistoryQuery asks for what was done: by whom, at which trial, after so many of the latest.
type HistoryQuery struct {
	Person int64 `form:"person" binding:"min=0"`
	Trial  int64 `form:"trial" binding:"min=0"`
	Skip   int   `form:"skip" binding:"min=0,max=100000"`
}

// Deed is something that somebody did, and what was otherwise after it.
type Deed struct {
	store.Done
	Changes []FieldChange `json:"changes"`
}

// Deeds are some of what was done, the latest first.
type Deeds struct {
	Deeds []Deed `json:"deeds"`
	Next  int    `json:"next"` // to skip for those before; 0: there are none
}

// FieldChange is what a field was and is; empty is nothing.
type FieldChange struct {
	Field string `json:"field"`
	Was   string `json:"was"`
	Is    string `json:"is"`
}

// mostDeeds are listed at once.
const mostDeeds = 200

// History lists what was changed, taken back and brought back, the latest first. Of accounts
// one reads one's own; the pitmaster everybody's.
func History(ctx context.Context, b *barn.Barn, who store.Person, in *HistoryQuery) (Deeds, error) {
	of := store.DoneBy{Skip: in.Skip, Most: mostDeeds}
	if who.Role != store.Pitmaster {
		of.Accounts = &who.ID
	}
	if in.Person != 0 {
		of.PersonID = &in.Person
	}
	if in.Trial != 0 {
		of.TrialID = &in.Trial
	}
	rows, err := b.Store.History(ctx, of)
	out := Deeds{Deeds: make([]Deed, 0, len(rows))}
	if err != nil {
		return out, err
	}
	if len(rows) == mostDeeds {
		out.Next = in.Skip + mostDeeds
	}
	for _, r := range rows {
		d := Deed{r, differences(r.Before, r.After)}
		if r.WasArm != r.IsArm {
			d.Changes = append(d.Changes, FieldChange{"arm", r.WasArm, r.IsArm})
		}
		if n := len(out.Deeds); n == 0 || !out.Deeds[n-1].takes(d) {
			out.Deeds = append(out.Deeds, d)
		}
	}
	return out, nil
}

// takes joins to a deed another that was done with it and is of many alike, as the cuts of a
// draw are, and says whether it was.
func (d *Deed) takes(next Deed) bool {
	alike := d.At.Equal(next.At) && d.By == next.By && d.Subject == next.Subject && d.Why == next.Why && d.What == next.What &&
		number(d.TrialID) == number(next.TrialID)
	if !alike || !short(d.Changes) || !short(next.Changes) || d.Named == "" {
		return false
	}
	d.Named = withArm(*d) + ", " + withArm(next)
	d.Changes = []FieldChange{}
	return true
}

func number(id *int64) int64 {
	if id == nil {
		return 0
	}
	return *id
}

// short says whether what changed is said by a word beside the name.
func short(c []FieldChange) bool {
	return len(c) == 0 || len(c) == 1 && c[0].Field == "arm" && c[0].Is != ""
}

func withArm(d Deed) string {
	if len(d.Changes) == 0 {
		return d.Named
	}
	return d.Named + " to " + d.Changes[0].Is
}

// differences tells two values apart field by field, in words. Of what is new or gone it
// says what is said in a word.
func differences(before, after json.RawMessage) []FieldChange {
	was, is := map[string]string{}, map[string]string{}
	flatten("", value(before), was)
	flatten("", value(after), is)
	names := maps.Clone(was)
	maps.Copy(names, is)
	out := []FieldChange{}
	if (len(was) == 0 || len(is) == 0) && len(names) > 3 {
		return out // it is in the record as a whole
	}
	for _, name := range slices.Sorted(maps.Keys(names)) {
		if asTyped(names, name) {
			continue
		}
		if was[name] != is[name] {
			out = append(out, FieldChange{strings.ReplaceAll(name, "_", " "), was[name], is[name]})
		}
	}
	return out
}

// asTyped says whether what was typed for a field of a canonical unit stands beside it:
// set_point_typed for set_point_c, fuel_typed for fuel_kg_h.
func asTyped(names map[string]string, field string) bool {
	if strings.HasSuffix(field, "_typed") {
		return false
	}
	for range 2 {
		i := strings.LastIndexByte(field, '_')
		if i < 1 {
			return false
		}
		if field = field[:i]; names[field+"_typed"] != "" {
			return true
		}
	}
	return false
}

func value(text json.RawMessage) (v any) {
	d := json.NewDecoder(bytes.NewReader(text))
	d.UseNumber() // or a price is written as a power of ten
	if d.Decode(&v) != nil {
		return nil
	}
	if row, ok := v.(string); ok && strings.HasPrefix(row, "{") {
		return value(json.RawMessage(row)) // a row as the database wrote it
	}
	return v
}

// flatten writes what is in a value under its path: numbers that are but ids, and what is
// empty, are left out.
func flatten(path string, v any, into map[string]string) {
	at := func(name string) string {
		if path == "" {
			return name
		}
		return path + " " + name
	}
	switch v := v.(type) {
	case map[string]any:
		for name, x := range v {
			if name != "id" && !strings.HasPrefix(name, "recorded_") && !strings.HasSuffix(name, "_id") && !strings.HasSuffix(name, "_ids") {
				flatten(at(name), x, into)
			}
		}
	case []any:
		if words, plain := listed(v); plain {
			if words != "" {
				into[path] = words
			}
			return
		}
		for i, x := range v {
			flatten(at(strconv.Itoa(i+1)), x, into)
		}
	case nil:
	case bool:
		if v {
			into[path] = "yes"
		}
	default:
		if text := fmt.Sprint(v); text != "" && text != "0" {
			into[path] = text
		}
	}
}

// listed are the values of a list of plain ones, with commas between.
func listed(v []any) (words string, plain bool) {
	parts := make([]string, len(v))
	for i, x := range v {
		switch x.(type) {
		case map[string]any, []any:
			return "", false
		}
		parts[i] = fmt.Sprint(x)
	}
	return strings.Join(parts, ", "), true
}
