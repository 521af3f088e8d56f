package archive

import (
	"archive/zip"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"time"

	"whitebarn/internal/store"
)

const packageFile = "datapackage.json"

const description = `One CSV a table. Weights are kilograms, temperatures degrees Celsius and moments UTC; what was typed stands beside.
An empty cell is nothing, a quoted empty one ("") the empty text. Text that a spreadsheet would compute begins with an apostrophe more.`

// Write writes the record, as it is at one moment, while all goes on. Trial is the number of
// the one trial for an archive of the kind Trial.
func Write(ctx context.Context, s *store.Store, kind Kind, trial int64, now time.Time, w io.Writer) error {
	house, err := s.Barn(ctx)
	if err != nil {
		return fmt.Errorf("read the barn: %w", err)
	}
	p := Package{Profile: "tabular-data-package", Name: "white-barn-" + string(kind), Title: house.Name, Description: description,
		Created: now.UTC().Truncate(time.Second), Kind: kind, Trial: trial}
	scope := store.Scope{Trial: trial, Secrets: kind == Backup}
	if kind == Trial {
		v, err := s.Trial(ctx, trial)
		if err != nil {
			return err
		}
		p.Title, p.Name = v.Ask.Question, fmt.Sprintf("white-barn-trial-%d", trial)
	}
	z := zip.NewWriter(w)
	err = s.Snapshot(ctx, func(snap *store.Snapshot) error {
		p.Version = snap.Version()
		for _, t := range snap.Tables() {
			if !scope.Holds(t.Name) {
				continue
			}
			r := describe(t)
			f, err := z.CreateHeader(&zip.FileHeader{Name: r.Path, Method: zip.Deflate, Modified: p.Created})
			if err != nil {
				return err
			}
			sum := sha256.New()
			if r.Rows, err = snap.CopyOut(ctx, t, scope, io.MultiWriter(f, sum)); err != nil {
				return err
			}
			r.Hash = "sha256:" + hex.EncodeToString(sum.Sum(nil))
			p.Resources = append(p.Resources, r)
		}
		return nil
	})
	if err != nil {
		return err
	}
	text, err := p.encode()
	if err != nil {
		return err
	}
	f, err := z.CreateHeader(&zip.FileHeader{Name: packageFile, Method: zip.Deflate, Modified: p.Created})
	if err != nil {
		return err
	}
	if _, err := f.Write(text); err != nil {
		return err
	}
	return z.Close()
}
