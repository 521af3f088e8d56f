package archive_test

import (
	"archive/zip"
	"bytes"
	"context"
	"errors"
	"io"
	"os"
	"strings"
	"testing"

	"whitebarn/core/fault"
	"whitebarn/internal/archive"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/demobarn"
	"whitebarn/internal/testkit/pgtest"
)

func TestMain(m *testing.M) { os.Exit(demobarn.Main(m)) }

var at = demobarn.Now

// seeded is a barn with the demo, and texts that are hard to write.
func seeded(t *testing.T) *store.Store {
	t.Helper()
	s := demobarn.Store(t)
	for _, text := range []string{`=cmd|' /C calc'!A1`, "+1", "-1", "@sum(1)", "'tis", "''", "", "\tx", "a,\"b\"\nc", `\.`, "é½", "\\N"} {
		if _, err := s.Pool().Exec(t.Context(), `insert into events (act, at, note, cook_id, press, recorded_by) values ('note', $1, $2, 1, gen_random_uuid(), 1)`, at, text); err != nil {
			t.Fatal(err)
		}
	}
	return s
}

func opened(t *testing.T, url string) *store.Store {
	t.Helper()
	s, err := store.Open(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Close)
	return s
}

func written(t *testing.T, s *store.Store, kind archive.Kind, trial int64) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := archive.Write(t.Context(), s, kind, trial, at, &b); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

func read(t *testing.T, data []byte) *archive.Archive {
	t.Helper()
	a, err := archive.Open(bytes.NewReader(data), int64(len(data)))
	if err == nil {
		err = a.Verify()
	}
	if err != nil {
		t.Fatal(err)
	}
	return a
}

// sums are the sums of all tables.
func sums(a *archive.Archive) map[string]string {
	out := map[string]string{}
	for _, r := range a.Resources {
		out[r.Name] = r.Hash
	}
	return out
}

func TestABarnComesBackAsItWas(t *testing.T) {
	s := seeded(t)
	for _, sql := range []string{
		"insert into passkeys (person_id, name, host, credential_id, credential) values (1, 'a phone', 'localhost', 'key', '{\"id\": \"key\"}')",
		"insert into entry_links (person_id, token_hash, ends_at) values (2, 'sum', now() + interval '1 hour')",
	} {
		if _, err := s.Pool().Exec(t.Context(), sql); err != nil {
			t.Fatal(err)
		}
	}
	for _, kind := range []archive.Kind{archive.Barn, archive.Backup} {
		t.Run(string(kind), func(t *testing.T) {
			was := read(t, written(t, s, kind, 0))
			url := pgtest.Empty(t)
			if err := was.Restore(t.Context(), url); err != nil {
				t.Fatal(err)
			}
			other := opened(t, url)
			now := read(t, written(t, other, kind, 0))
			for table, sum := range sums(was) {
				if sums(now)[table] != sum {
					t.Errorf("the table %s is not as it was", table)
				}
			}
			people, err := other.People(t.Context())
			if err != nil || len(people) < 6 {
				t.Fatalf("%d people came over (%v)", len(people), err)
			}
			var keys int
			if err := other.Pool().QueryRow(t.Context(), "select (select count(*) from passkeys where credential_id = 'key' or credential <> '{}')"+
				" + (select count(*) from entry_links where token_hash = 'sum')").Scan(&keys); err != nil || (keys == 2) != (kind == archive.Backup) ||
				keys != 0 && keys != 2 {
				t.Errorf("%d of a passkey and a link came over (%v)", keys, err)
			}
			if kept := people[0].PasswordHash != ""; kept != (kind == archive.Backup) {
				t.Errorf("passwords came over: %v, in a %s", kept, kind)
			}
			house, err := other.Barn(t.Context())
			if err != nil || len(house.Secret) != 32 {
				t.Errorf("the links of this barn are signed with %d bytes (%v), want 32", len(house.Secret), err)
			}
			// It goes on: new rows take new numbers, and what refers to nothing is refused.
			if _, err := other.AddPerson(t.Context(), store.Person{Name: "Neighbour", Role: store.Crew, SignIn: "neighbour"}); err != nil {
				t.Errorf("the barn that came over takes nobody in: %v", err)
			}
			if _, err := other.Pool().Exec(t.Context(), "insert into arms (trial_id, ordinal, tag, control) values (999, 1, 'X', false)"); err == nil {
				t.Error("an arm of no trial was taken: what holds between the tables did not come back")
			}
			if err := was.Restore(t.Context(), url); !errors.Is(err, store.ErrNotEmpty) {
				t.Errorf("a barn is written over: %v", err)
			}
		})
	}
}

// TestABackupIsOfOneMoment takes a backup while events are written in pairs: no pair is torn.
func TestABackupIsOfOneMoment(t *testing.T) {
	s := seeded(t)
	ctx, stop := context.WithCancel(t.Context())
	done := make(chan int)
	go func() {
		n := 0
		for ; ctx.Err() == nil; n++ {
			_, err := s.Pool().Exec(t.Context(), `with k as (insert into weighings (cut_id, stage, kg, typed, resolution_kg, resolution_typed, at, recorded_by, voided_at)
				values (1, 'off', 1, 'twin', 0.001, '', now(), 1, now()) returning 1)
				insert into events (act, at, note, cook_id, press, recorded_by) select 'note', now(), 'twin', 1, gen_random_uuid(), 1 from k`)
			if err != nil {
				t.Error(err)
			}
		}
		done <- n
	}()
	data := written(t, s, archive.Backup, 0)
	stop()
	if n := <-done; n < 3 {
		t.Fatalf("only %d pairs were written meanwhile", n)
	}
	url := pgtest.Empty(t)
	if err := read(t, data).Restore(t.Context(), url); err != nil {
		t.Fatal(err)
	}
	var events, weighings int
	if err := opened(t, url).Pool().QueryRow(t.Context(), `select (select count(*) from events where note = 'twin'), (select count(*) from weighings where typed = 'twin')`).Scan(&events, &weighings); err != nil {
		t.Fatal(err)
	}
	if events != weighings {
		t.Errorf("the backup has %d events and %d weighings that were written together", events, weighings)
	}
}

// TestASpreadsheetRunsNothing looks at the cells of an export as a spreadsheet would.
func TestASpreadsheetRunsNothing(t *testing.T) {
	data := written(t, seeded(t), archive.Barn, 0)
	text := string(file(t, data, "data/events.csv"))
	for _, bad := range []string{`,=cmd`, `,"=cmd`, ",+1,", ",-1,", ",@sum"} {
		if strings.Contains(text, bad) {
			t.Errorf("a cell begins %q", bad)
		}
	}
	if !strings.Contains(text, `'=cmd|' /C calc'!A1`) {
		t.Error("what was typed is not there any more")
	}
	if strings.Contains(string(file(t, data, "data/people.csv")), "$argon2") {
		t.Error("an export carries passwords")
	}
}

func file(t *testing.T, data []byte, name string) []byte {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		t.Fatal(err)
	}
	f, err := z.Open(name)
	if err != nil {
		t.Fatal(err)
	}
	out, err := io.ReadAll(f)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// TestEveryFieldIsDescribed holds the description against the tables.
func TestEveryFieldIsDescribed(t *testing.T) {
	for _, r := range read(t, written(t, seeded(t), archive.Barn, 0)).Resources {
		if r.Title == "" {
			t.Errorf("the table %s has no title", r.Name)
		}
		for _, f := range r.Schema.Fields {
			if f.Type == "any" && f.Format != "json" {
				t.Errorf("%s.%s has a type that is not described", r.Name, f.Name)
			}
		}
	}
}

// TestATornArchiveLeavesNothing restores archives that were damaged.
func TestATornArchiveLeavesNothing(t *testing.T) {
	good := written(t, seeded(t), archive.Barn, 0)
	rewrite := func(change func(name string, text []byte) (string, []byte)) []byte {
		var b bytes.Buffer
		z, err := zip.NewReader(bytes.NewReader(good), int64(len(good)))
		if err != nil {
			t.Fatal(err)
		}
		w := zip.NewWriter(&b)
		for _, f := range z.File {
			name, text := change(f.Name, file(t, good, f.Name))
			if name == "" {
				continue
			}
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
		return b.Bytes()
	}
	only := func(file string, change func([]byte) []byte) func(string, []byte) (string, []byte) {
		return func(name string, text []byte) (string, []byte) {
			if name == file {
				text = change(text)
			}
			return name, text
		}
	}
	for _, c := range []struct {
		name, says string
		data       []byte
	}{
		{"cut off", "not a zip file", good[:len(good)/2]},
		{"a path out of the folder", "is missing", rewrite(func(n string, b []byte) (string, []byte) {
			if n == "data/cuts.csv" {
				return "../../cuts.csv", b
			}
			return n, b
		})},
		{"a table gone", "missing", rewrite(func(n string, b []byte) (string, []byte) {
			if n == "data/cuts.csv" {
				return "", nil
			}
			return n, b
		})},
		{"a cell changed", "sum differs", rewrite(only("data/arms.csv", func(b []byte) []byte { return bytes.Replace(b, []byte("PAPER"), []byte("PAPIR"), 1) }))},
		{"no description", "no datapackage.json", rewrite(func(n string, b []byte) (string, []byte) {
			return strings.ReplaceAll(n, "datapackage.json", "data/x.csv"), b
		})},
		{"a strange table", "lies at", rewrite(only("datapackage.json", func(b []byte) []byte {
			return bytes.Replace(b, []byte(`"data/cuts.csv"`), []byte(`"/etc/passwd"`), 1)
		}))},
		{"a strange column", "has a column", rewrite(only("datapackage.json", func(b []byte) []byte {
			return bytes.ReplaceAll(b, []byte(`"arm_id"`), []byte(`"arm_id; drop table arms"`))
		}))},
		{"from the future", "newer White Barn", rewrite(only("datapackage.json", func(b []byte) []byte {
			return bytes.Replace(b, []byte(`"whitebarn_version": `), []byte(`"whitebarn_version": 9`), 1)
		}))},
	} {
		t.Run(c.name, func(t *testing.T) {
			url := pgtest.Empty(t)
			a, err := archive.Open(bytes.NewReader(c.data), int64(len(c.data)))
			if err == nil {
				err = a.Restore(t.Context(), url)
			}
			if err == nil || !strings.Contains(err.Error(), c.says) {
				t.Fatalf("it says %v, want something with %q", err, c.says)
			}
			var f *fault.Error
			if c.name == "a cell changed" && !errors.As(err, &f) {
				t.Errorf("%T names no field", err)
			}
			if n, err := opened(t, url).People(t.Context()); err != nil || len(n) != 0 {
				t.Errorf("%d people are left of it (%v)", len(n), err)
			}
		})
	}
}

func TestAZipThatUnfoldsToTheWorldIsRefused(t *testing.T) {
	var b bytes.Buffer
	w := zip.NewWriter(&b)
	add := func(name string, text []byte) {
		f, err := w.Create(name)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := f.Write(text); err != nil {
			t.Fatal(err)
		}
	}
	add("datapackage.json", bytes.Repeat([]byte(" "), 9<<20))
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
	if _, err := archive.Open(bytes.NewReader(b.Bytes()), int64(b.Len())); err == nil || !strings.Contains(err.Error(), "over 8 MB") {
		t.Errorf("it says %v", err)
	}
}
