package fire

import (
	"context"
	"math"
	"time"
	"whitebarn/core/fault"
	"whitebarn/internal/barn"
)

// Trace is a probe's readings, reduced: per stretch its middle in milliseconds
// since 1970, lowest and highest in degrees Celsius.
type Trace struct {
	ProbeID     int64        `json:"probe_id"`
	Probe       string       `json:"probe"`
	CutID       *int64       `json:"cut_id"`
	PitRunID    *int64       `json:"pit_run_id"`
	HolderRunID *int64       `json:"holder_run_id"`
	Point       string       `json:"point"` // on a pit
	Points      [][3]float64 `json:"points"`
}

// Traces are the probes of a cook over a stretch of time.
type Traces struct {
	First   time.Time `json:"first"` // of all readings
	Last    time.Time `json:"last"`
	From    time.Time `json:"from"` // of this answer
	To      time.Time `json:"to"`
	Columns int       `json:"columns"` // in which it is reduced
	Traces  []Trace   `json:"traces"`
}

// TraceQuery asks for a stretch of time.
type TraceQuery struct {
	barn.ByID
	From    int64 `form:"from"` // milliseconds since 1970; 0: all
	To      int64 `form:"to"`
	Columns int   `form:"columns"`
}

// TracesOf are the probes of a cook over a stretch of time.
func TracesOf(ctx context.Context, b *barn.Barn, in *TraceQuery) (Traces, error) {
	out := Traces{Traces: []Trace{}}
	if _, err := b.Store.Cook(ctx, in.ID); err != nil {
		return out, err
	}
	var ok bool
	var err error
	if out.First, out.Last, ok, err = b.Store.Span(ctx, in.ID); err != nil || !ok {
		return out, err
	}
	out.From, out.To = out.First, out.Last
	if in.From > 0 {
		out.From = time.UnixMilli(in.From).UTC()
	}
	if in.To > 0 {
		out.To = time.UnixMilli(in.To).UTC()
	}
	if !out.To.After(out.From) {
		if in.From > 0 || in.To > 0 {
			return out, fault.New("to", "the end is not after the start", "give a later end")
		}
		out.To = out.From.Add(time.Second)
	}
	columns := min(max(in.Columns, 50), 4000)
	if in.Columns == 0 {
		columns = 800
	}
	out.Columns = columns
	assigned, err := b.Store.Assignments(ctx, in.ID)
	if err != nil {
		return out, err
	}
	buckets, err := b.Store.Traces(ctx, assigned, out.From, out.To, columns)
	if err != nil {
		return out, err
	}
	byProbe := map[int64][][3]float64{}
	width := float64(out.To.Sub(out.From).Milliseconds()) / float64(columns)
	for _, k := range buckets {
		at := float64(out.From.UnixMilli()) + (float64(k.N)+0.5)*width
		byProbe[k.ProbeID] = append(byProbe[k.ProbeID], [3]float64{math.Round(at), round2(k.Min), round2(k.Max)})
	}
	for _, a := range assigned {
		points := byProbe[a.ProbeID]
		if points == nil {
			points = [][3]float64{}
		}
		out.Traces = append(out.Traces, Trace{ProbeID: a.ProbeID, Probe: a.Probe, CutID: a.CutID, PitRunID: a.PitRunID,
			HolderRunID: a.HolderRunID,
			Point:       a.Point, Points: points})
	}
	return out, nil
}

func round2(v float64) float64 { return math.Round(v*100) / 100 }
