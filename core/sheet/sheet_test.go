package sheet

import (
	"fmt"
	"strings"
	"testing"
)

var columns = []Column{{Key: "cut", Heads: []string{"cut", "name"}, Needed: true}, {Key: "trimmed", Heads: []string{"trimmed", "weight"}}}

func TestReadFindsColumnsByTheirHeads(t *testing.T) {
	for _, c := range []struct{ name, text, want string }{
		{"tabs", "Name\tWeight (lb)\n1L\t6 lb 3 oz\n\n1R\t\n", "2 cut=1L trimmed=6 lb 3 oz|4 cut=1R"},
		{"semicolons and quotes", "cut;note;trimmed\n1L;\"a; b\";2,82 kg\n", "2 cut=1L note=a; b trimmed=2,82 kg"},
		{"commas, Windows lines, a mark before", "\ufeffcut,trimmed\r\n1L,6 lb\r\n", "2 cut=1L trimmed=6 lb"},
		{"a cell that was made safe", "cut\ttrimmed\n'=1\t'-5\n", "2 cut==1 trimmed=-5"},
		{"more cells than heads", "cut\n1L\tx\n", "2 cut=1L"},
	} {
		table, err := Read(c.text, columns)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		var got []string
		for _, r := range table.Rows {
			text := fmt.Sprint(r.Line)
			for _, key := range []string{"cut", "note", "trimmed"} {
				if r.Cells[key] != "" {
					text += " " + key + "=" + r.Cells[key]
				}
			}
			got = append(got, text)
		}
		if strings.Join(got, "|") != c.want {
			t.Errorf("%s is read as %q, want %q", c.name, strings.Join(got, "|"), c.want)
		}
	}
}

func TestReadSaysWhatIsWrong(t *testing.T) {
	for text, says := range map[string]string{
		"":                                    "nothing is pasted",
		"\n \n":                               "nothing is pasted",
		"pair\tweight\n1\t2":                  `no column is called "cut"`,
		"cut\tname\n1\t2":                     "",
		"cut\tcut\n1\t2":                      "twice",
		"cut":                                 "no row",
		"cut\n" + strings.Repeat("1\n", 2001): "more than 2000 rows",
		"cut" + strings.Repeat("\t", 10_000) + "\n1": "10001 columns",
	} {
		_, err := Read(text, columns)
		if (err == nil) != (says == "") || err != nil && !strings.Contains(err.Error(), says) {
			t.Errorf("%.30q says %v, want %q", text, err, says)
		}
	}
}

func FuzzRead(f *testing.F) {
	f.Add("cut\tweight\n1L\t6 lb\n")
	f.Add("cut;\"x\n;;;\n\"")
	f.Add("\ufeffname,\n'=\x00,,\n")
	f.Fuzz(func(t *testing.T, text string) {
		table, err := Read(text, columns)
		if err == nil && (len(table.Rows) == 0 || len(table.Rows) > mostRows || len(table.Head) > mostColumns) {
			t.Fatalf("%d rows of %d columns", len(table.Rows), len(table.Head))
		}
	})
}
