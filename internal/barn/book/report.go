package book

import (
	"context"

	"whitebarn/core/evidence"
	"whitebarn/internal/barn"
	"whitebarn/internal/exchange"
)

// mostPhotos of a report, so that it can be sent.
const mostPhotos = 12

// Report reads a settled trial for sending.
func (d *Desk) Report(ctx context.Context, b *barn.Barn, id int64) (exchange.Report, error) {
	out := exchange.Report{TrialID: id, At: b.Now().UTC(), Cooks: []exchange.ReportedCook{}}
	v, err := d.desk.Read(ctx, id)
	if err != nil {
		return out, err
	}
	out.ReadAt, out.Result, out.Standings = v.ReadAt, v.Result, v.Standings
	if v.Since != nil {
		out.Since = &exchange.ReadSince{At: v.Since.At, Because: v.Since.Because, Result: v.Since.Result}
	}
	known, _, err := d.desk.Case(ctx, id)
	if err != nil {
		return out, err
	}
	out.Ask = known.Ask
	row, err := d.store.Barn(ctx)
	if err != nil {
		return out, err
	}
	out.Barn, out.Zone = row.Name, row.TimeZone
	next, err := d.Proposed(ctx, b, &ProposedQuery{ByID: barn.ByID{ID: id}})
	if err != nil {
		return out, err
	}
	out.Proposals = next.Proposals
	cooks, err := d.store.Cooks(ctx, id)
	if err != nil {
		return out, err
	}
	runs, err := d.store.PitRuns(ctx, id)
	if err != nil {
		return out, err
	}
	photos, err := d.photos(ctx, known)
	if err != nil {
		return out, err
	}
	for _, k := range cooks {
		x := exchange.ReportedCook{ServedAt: k.ServeAt, Pits: []string{}, Cuts: len(known.InCook(k.ID)), Photos: []exchange.ReportedPhoto{}}
		for _, r := range runs {
			if r.CookID == k.ID {
				x.Pits = append(x.Pits, r.Pit+", "+r.SetPointTyped)
			}
		}
		x.Photos = append(x.Photos, photos[k.ID]...)
		out.Cooks = append(out.Cooks, x)
	}
	return out, nil
}

// photos are the pictures of a trial's cuts by cook, the first few.
func (d *Desk) photos(ctx context.Context, t evidence.Trial) (map[int64][]exchange.ReportedPhoto, error) {
	out := map[int64][]exchange.ReportedPhoto{}
	n := 0
	for _, c := range t.Cuts {
		lay, ok := c.Lies()
		if !ok {
			continue
		}
		for _, a := range c.Acts {
			if a.Detail.PhotoID == 0 || n >= mostPhotos {
				continue
			}
			p, err := d.store.Photo(ctx, a.Detail.PhotoID)
			if err != nil {
				return out, err
			}
			n++
			out[lay.CookID] = append(out[lay.CookID], exchange.ReportedPhoto{Cut: c.Name, Arm: t.Arm(c.ArmID), Note: string(a.Act), Media: p.Media, Bytes: p.Bytes})
		}
	}
	return out, nil
}

// Markdown writes a version of a card for others to read.
func (d *Desk) Markdown(ctx context.Context, version int64) (string, error) {
	v, err := d.store.ProcessVersion(ctx, version)
	if err != nil {
		return "", err
	}
	p, err := d.store.Process(ctx, v.ProcessID)
	if err != nil {
		return "", err
	}
	signed, err := d.store.Signatures(ctx, p.ID)
	if err != nil {
		return "", err
	}
	c := exchange.Card{Name: p.Name, Number: v.Number, Title: v.Title, Changed: v.Changed, Why: v.Why, Fault: v.Fault, Body: v.Body}
	for _, s := range signed {
		if s.VersionID == v.ID {
			c.Signed = append(c.Signed, s.Name+", "+s.SignedAt.UTC().Format("2006-01-02"))
		}
	}
	return exchange.CardMarkdown(c), nil
}
