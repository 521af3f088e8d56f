package archive_test

import (
	"archive/zip"
	"bytes"
	"testing"

	"whitebarn/internal/archive"
)

// FuzzOpen: no file makes the reader fall; the description of one that holds a table is drawn by
// the fuzzer too.
func FuzzOpen(f *testing.F) {
	f.Add([]byte("PK\x03\x04"), []byte(`{"whitebarn_kind":"barn","whitebarn_version":1,"resources":[{"name":"cuts","path":"data/cuts.csv","schema":{"fields":[{"name":"id"}]}}]}`), []byte("id\n1\n"))
	f.Add([]byte{}, []byte(`{"resources":[{"name":"../x","path":"data/../x.csv"}]}`), []byte("\"\n"))
	f.Fuzz(func(t *testing.T, raw, described, rows []byte) {
		if a, err := archive.Open(bytes.NewReader(raw), int64(len(raw))); err == nil {
			_ = a.Verify()
		}
		var b bytes.Buffer
		w := zip.NewWriter(&b)
		for name, text := range map[string][]byte{"datapackage.json": described, "data/cuts.csv": rows} {
			out, err := w.Create(name)
			if err != nil {
				t.Fatal(err)
			}
			if _, err := out.Write(text); err != nil {
				t.Fatal(err)
			}
		}
		if err := w.Close(); err != nil {
			t.Fatal(err)
		}
		if a, err := archive.Open(bytes.NewReader(b.Bytes()), int64(b.Len())); err == nil {
			for _, r := range a.Resources {
				if r.Name == "" || len(r.Columns()) == 0 {
					t.Fatalf("a table %q of %d columns is taken", r.Name, len(r.Columns()))
				}
			}
			_ = a.Verify()
		}
	})
}
