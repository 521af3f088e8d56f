package archive

import (
	"archive/zip"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/csv"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"hash"
	"io"
	"regexp"
	"slices"

	"whitebarn/core/fault"
	"whitebarn/internal/store"
)

// Bounds of what is read: a small file may say that it holds the world.
const (
	mostPackage = 8 << 20   // bytes of datapackage.json
	mostTables  = 500       // of an archive
	mostColumns = 500       // of a table
	mostTable   = 200 << 30 // bytes of a table, unpacked
	mostFolded  = 2000      // bytes that one byte may unfold to, over the first 64 MB
)

// Archive is one that was opened and described; its tables are not read yet.
type Archive struct {
	Package
	files map[string]*zip.File
}

// ErrKind is given where an archive is of another kind than is asked for.
var ErrKind = errors.New("it is another kind of archive")

var tableName = regexp.MustCompile(`^[a-z][a-z0-9_]{0,62}$`)

func wrong(what, remedy string) error { return fault.New("file", what, remedy) }

const takeWhole = "take the file as White Barn wrote it"

// Open reads what an archive says of itself and checks that it holds just that.
func Open(r io.ReaderAt, size int64) (*Archive, error) {
	z, err := zip.NewReader(r, size)
	if err != nil {
		return nil, wrong("this is not a zip file: "+err.Error(), "choose an archive that White Barn wrote")
	}
	a := &Archive{files: map[string]*zip.File{}}
	var described *zip.File
	for _, f := range z.File {
		if f.Name == packageFile {
			described = f
		}
		if a.files[f.Name] != nil || len(a.files) > mostTables {
			return nil, wrong(fmt.Sprintf("it holds %q twice, or more than %d files", f.Name, mostTables), takeWhole)
		}
		a.files[f.Name] = f
	}
	if described == nil {
		return nil, wrong("it has no "+packageFile, "choose an archive that White Barn wrote")
	}
	in, err := described.Open()
	if err != nil {
		return nil, wrong(packageFile+" cannot be read: "+err.Error(), takeWhole)
	}
	defer in.Close()
	text, err := io.ReadAll(io.LimitReader(in, mostPackage+1))
	if err != nil || len(text) > mostPackage {
		return nil, wrong(fmt.Sprintf("%s cannot be read, or is over %d MB", packageFile, mostPackage>>20), takeWhole)
	}
	if err := json.Unmarshal(text, &a.Package); err != nil {
		return nil, wrong(packageFile+" is not as it should be: "+err.Error(), takeWhole)
	}
	return a, a.check()
}

// check looks at the names before any of them is used.
func (a *Archive) check() error {
	if !slices.Contains([]Kind{Backup, Barn, Trial}, a.Kind) || a.Version < 1 {
		return wrong(fmt.Sprintf("it says that it is a %q of version %d", a.Kind, a.Version), "choose an archive that White Barn wrote")
	}
	seen := map[string]bool{packageFile: true}
	for _, r := range a.Resources {
		if !tableName.MatchString(r.Name) || r.Path != "data/"+r.Name+".csv" || seen[r.Path] {
			return wrong(fmt.Sprintf("the table %q lies at %q", r.Name, r.Path), takeWhole)
		}
		seen[r.Path] = true
		f := a.files[r.Path]
		if f == nil {
			return wrong(r.Path+" is missing", takeWhole)
		}
		if n := len(r.Schema.Fields); n == 0 || n > mostColumns {
			return wrong(fmt.Sprintf("the table %s has %d columns", r.Name, n), takeWhole)
		}
		for _, c := range r.Schema.Fields {
			if !tableName.MatchString(c.Name) {
				return wrong(fmt.Sprintf("the table %s has a column %q", r.Name, c.Name), takeWhole)
			}
		}
		if big := f.UncompressedSize64; big > mostTable || big > 64<<20 && big/max(f.CompressedSize64, 1) > mostFolded {
			return wrong(fmt.Sprintf("%s would unfold to %d bytes", r.Path, big), takeWhole)
		}
	}
	for name := range a.files {
		if !seen[name] {
			return wrong(fmt.Sprintf("it holds %q, which it does not speak of", name), takeWhole)
		}
	}
	return nil
}

// table opens the rows of a table, bounded and summed up as they are read.
func (a *Archive) table(r Resource) (*summed, error) {
	f, err := a.files[r.Path].Open()
	if err != nil {
		return nil, wrong(r.Path+" cannot be read: "+err.Error(), takeWhole)
	}
	s := &summed{Closer: f, sum: sha256.New(), want: r.Hash}
	s.Reader = io.TeeReader(io.LimitReader(f, mostTable), s.sum)
	return s, nil
}

// summed is a file whose sum is known once it was read.
type summed struct {
	io.Reader
	io.Closer
	sum  hash.Hash
	want string
}

// whole says whether what was read is what was written.
func (s *summed) whole() error {
	if _, err := io.Copy(io.Discard, s); err != nil {
		return err
	}
	if got := "sha256:" + hex.EncodeToString(s.sum.Sum(nil)); got != s.want {
		return errors.New("it is not as it was written: its sum differs")
	}
	return nil
}

// Verify reads all tables and checks their sums and how many rows they have.
func (a *Archive) Verify() error {
	for _, r := range a.Resources {
		f, err := a.table(r)
		if err != nil {
			return err
		}
		rows := csv.NewReader(f)
		rows.ReuseRecord = true
		rows.FieldsPerRecord = len(r.Schema.Fields)
		n := int64(-1) // the header
		for err == nil {
			if _, err = rows.Read(); err == nil {
				n++
			}
		}
		if errors.Is(err, io.EOF) {
			err = f.whole()
		}
		f.Close()
		if err == nil && n != r.Rows {
			err = fmt.Errorf("it has %d rows and should have %d", n, r.Rows)
		}
		if err != nil {
			return wrong(fmt.Sprintf("%s: %v", r.Path, err), takeWhole)
		}
	}
	return nil
}

// Restore writes a backup or a barn's export into the empty database at url: all of it, or
// nothing. After an export nobody has a password and devices have no tokens.
func (a *Archive) Restore(ctx context.Context, url string) error {
	if a.Kind == Trial {
		return fmt.Errorf("%w: this is one trial; bring it into a barn with import", ErrKind)
	}
	return store.Restore(ctx, url, a.Version, func(to *store.Restoring) error {
		err := a.each(func(r Resource, f io.Reader) (int64, error) { return to.CopyIn(ctx, r.Name, r.Columns(), f) })
		if err != nil {
			return err
		}
		if a.Kind == Backup {
			return nil
		}
		secret := make([]byte, 32) // the tasters' links of the other barn open nothing here
		if _, err := rand.Read(secret); err != nil {
			return err
		}
		return to.Set(ctx, "barn", "secret", secret)
	})
}

// Adopt takes the one trial of an archive into a barn, all of it or nothing, and returns its
// number there.
func (a *Archive) Adopt(ctx context.Context, s *store.Store, who int64) (int64, error) {
	if a.Kind != Trial {
		return 0, fmt.Errorf("%w: this is a whole barn; restore it into an empty one", ErrKind)
	}
	return s.Adopt(ctx, who, func(to *store.Adopting) error {
		if v, err := to.Version(ctx); err != nil || v != a.Version {
			return errors.Join(err, wrong(fmt.Sprintf("it was written by another version of White Barn (%d, this is %d)", a.Version, v),
				"bring both barns to the same version, and export the trial again"))
		}
		return a.each(func(r Resource, f io.Reader) (int64, error) { return to.CopyIn(ctx, r.Name, r.Columns(), f) })
	})
}

// each has take read the tables one by one, and checks that each came in whole; -1 rows is a
// table that stays out.
func (a *Archive) each(take func(Resource, io.Reader) (int64, error)) error {
	for _, r := range a.Resources {
		f, err := a.table(r)
		if err != nil {
			return err
		}
		n, err := take(r, f)
		if err == nil {
			err = f.whole()
		}
		f.Close()
		if err == nil && n != r.Rows && n != -1 {
			err = fmt.Errorf("%d of %d rows came in", n, r.Rows)
		}
		if err != nil {
			return wrong(fmt.Sprintf("%s: %v", r.Path, err), takeWhole)
		}
	}
	return nil
}
