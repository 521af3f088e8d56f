// Package sheet reads a table that was copied out of a spreadsheet: its rows by what their
// columns are called.
package sheet

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"

	"whitebarn/core/fault"
)

// Bounds of a table.
const (
	mostRows    = 2000
	mostColumns = 100
	mostCell    = 500 // letters
)

// Table is a table with a head.
type Table struct {
	Head []string // as they stand
	Rows []Row
}

// Row is a line of it.
type Row struct {
	Line  int // from 1, the head is 1
	Cells map[string]string
}

// Column is something that a table may tell.
type Column struct {
	Key    string   // of the cells
	Heads  []string // what it may be called, in small letters
	Needed bool
}

// Read reads a table whose columns are asked for; others stay under their heads. A cell that a
// spreadsheet was kept from running by an apostrophe loses it.
func Read(text string, columns []Column) (Table, error) {
	text = strings.TrimPrefix(strings.ReplaceAll(text, "\r\n", "\n"), "\ufeff")
	text = strings.Trim(strings.ReplaceAll(text, "\r", "\n"), "\n")
	if strings.TrimSpace(text) == "" {
		return Table{}, fault.New("text", "nothing is pasted", "copy the rows with their head out of the spreadsheet")
	}
	first, _, _ := strings.Cut(text, "\n")
	r := csv.NewReader(strings.NewReader(text))
	r.Comma, r.FieldsPerRecord, r.LazyQuotes = delimiter(first), -1, true
	var t Table
	keys := []string{}
	for {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return t, fault.New("text", "it is no table: "+err.Error(), "copy the rows out of the spreadsheet again")
		}
		line, _ := r.FieldPos(0)
		if t.Head == nil {
			if t.Head, keys, err = headOf(cells, columns); err != nil {
				return t, err
			}
			continue
		}
		if len(t.Rows) >= mostRows {
			return t, fault.New("text", fmt.Sprintf("it has more than %d rows", mostRows), "paste it in parts")
		}
		row := Row{Line: line, Cells: map[string]string{}}
		for i, c := range cells[:min(len(cells), len(keys))] {
			c = strings.TrimSpace(c)
			if len(c) > 1 && c[0] == '\'' && strings.ContainsRune("=+-@'", rune(c[1])) {
				c = c[1:]
			}
			if runes := []rune(c); len(runes) > mostCell {
				c = string(runes[:mostCell])
			}
			if c != "" {
				row.Cells[keys[i]] = c
			}
		}
		if len(row.Cells) > 0 {
			t.Rows = append(t.Rows, row)
		}
	}
	if len(t.Rows) == 0 {
		return t, fault.New("text", "there is a head and no row", "copy the rows under it too")
	}
	return t, nil
}

// delimiter is what parts the fields of the head.
func delimiter(head string) rune {
	for _, d := range "\t;,|" {
		if strings.ContainsRune(head, d) {
			return d
		}
	}
	return '\t'
}

// headOf finds which column of the table is which that is asked for.
func headOf(cells []string, columns []Column) (head, keys []string, err error) {
	if len(cells) > mostColumns {
		return nil, nil, fault.New("text", fmt.Sprintf("it has %d columns", len(cells)), fmt.Sprintf("paste %d at the most", mostColumns))
	}
	found := map[string]bool{}
	for _, c := range cells {
		c = strings.TrimSpace(c)
		plain := strings.ToLower(strings.NewReplacer("_", " ", "-", " ").Replace(c))
		plain, _, _ = strings.Cut(plain, "(")
		plain = strings.TrimSpace(plain)
		key := c
		for _, column := range columns {
			for _, h := range append(column.Heads, column.Key) {
				if plain == strings.ReplaceAll(h, "_", " ") && !found[column.Key] {
					key = column.Key
				}
			}
		}
		if found[key] && key != "" {
			return nil, nil, fault.New("text", fmt.Sprintf("the column %q is there twice", c), "leave one of them out")
		}
		found[key] = true
		head, keys = append(head, c), append(keys, key)
	}
	for _, column := range columns {
		if column.Needed && !found[column.Key] {
			return nil, nil, fault.New("text", fmt.Sprintf("no column is called %q", column.Heads[0]), "give the table a head with that name above the column")
		}
	}
	return head, keys, nil
}
