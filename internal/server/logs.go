package server

import (
	"crypto/sha256"
	"fmt"
	"math"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/units"
	"whitebarn/internal/api"
	guard "whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// LogOptions are a person's answers to what a log file leaves open; empty is
// for the reader to find out.
type LogOptions struct {
	Logger    string                  `json:"logger"` // names the file's source; its file name if empty
	Zone      string                  `json:"zone"`   // place or offset; the barn's if empty
	Scale     string                  `json:"scale"`
	DateOrder string                  `json:"date_order"`
	Fold      string                  `json:"fold"`
	Targets   map[string]store.Target `json:"targets"` // by column
}

// LogColumn is a column of a log as recognised.
type LogColumn struct {
	Name      string       `json:"name"`
	Scale     units.Scale  `json:"scale"`
	ScaleFrom string       `json:"scale_from"`
	Readings  int          `json:"readings"`
	Empty     int          `json:"empty"`
	MinC      float64      `json:"min_c"`
	MaxC      float64      `json:"max_c"`
	Target    store.Target `json:"target"` // suggested
}

// LogPreview is what was recognised in a log, before anything is written.
type LogPreview struct {
	Logger       string             `json:"logger"`
	Encoding     string             `json:"encoding"`
	Delimiter    string             `json:"delimiter"`
	DecimalComma bool               `json:"decimal_comma"`
	TimeLayout   string             `json:"time_layout"`
	Zone         string             `json:"zone"`
	Lines        int                `json:"lines"`
	Repeated     int                `json:"repeated"`
	Readings     int                `json:"readings"`
	Known        int                `json:"known"` // readings of this logger in that time already there
	From         time.Time          `json:"from"`
	To           time.Time          `json:"to"`
	Columns      []LogColumn        `json:"columns"`
	Trouble      []logbook.Trouble  `json:"trouble"` // the first of them
	TroubleCount int                `json:"trouble_count"`
	Questions    []logbook.Question `json:"questions"`
}

// LogImported is what an import did.
type LogImported struct {
	Added        int       `json:"added"`
	AlreadyThere int       `json:"already_there"`
	TroubleCount int       `json:"trouble_count"`
	Trial        TrialView `json:"trial"`
}

// Trace is a probe's readings, reduced: per stretch its middle in milliseconds
// since 1970, lowest and highest in degrees Celsius.
type Trace struct {
	ProbeID     int64        `json:"probe_id"`
	Probe       string       `json:"probe"`
	CutID       *int64       `json:"cut_id"`
	PitRunID    *int64       `json:"pit_run_id"`
	HolderRunID *int64       `json:"holder_run_id"`
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

type logUpload struct {
	byID
	File api.File
	Body LogOptions
}

type traceQuery struct {
	byID
	From    int64 `form:"from"` // milliseconds since 1970; 0: all
	To      int64 `form:"to"`
	Columns int   `form:"columns"`
}

func (s *Server) registerLogs(a *api.Routes, crew *gin.RouterGroup) {
	api.Handle(a, crew, "POST", "/cooks/:id/logs/preview", "previewLog", 200, s.previewLog)
	alter(s, a, crew, door{of: "cook", kind: guard.Record, what: "imported a log"}, "POST", "/cooks/:id/logs", "importLog", 201, (*Server).importLog)
	alter(s, a, crew, door{of: "import", kind: guard.Record, what: "took a log back", corrects: true}, "POST", "/imports/:id/void",
		"voidImport", 200, (*Server).voidImport)
	api.Handle(a, crew, "GET", "/cooks/:id/traces", "getTraces", 200, s.traces)
}

// readLog reads an upload under its options, in the barn's zone where none is
// given.
func (s *Server) readLog(c *gin.Context, in *logUpload) (*logbook.Log, string, error) {
	o := in.Body
	barn, err := s.store.Barn(c)
	if err != nil {
		return nil, "", err
	}
	if o.Zone == "" {
		o.Zone = barn.TimeZone
	}
	zone, err := parseZone(o.Zone)
	if err != nil {
		return nil, "", err
	}
	var wrong fault.List
	for _, f := range []struct {
		field, value string
		allowed      []string
	}{{"scale", o.Scale, units.Scale("").Values()}, {"date_order", o.DateOrder, []string{"dmy", "mdy"}}, {"fold", o.Fold, []string{"first", "second"}}} {
		if f.value != "" && !slices.Contains(f.allowed, f.value) {
			wrong.Add(f.field, fmt.Sprintf("%q is not one", f.value), "use "+strings.Join(f.allowed, " or "))
		}
	}
	if len(in.File.Data) == 0 && in.File.Name == "" {
		wrong.Add("file", "no file was sent", "choose the logger's file")
	}
	if err := wrong.Err(); err != nil {
		return nil, "", err
	}
	log, err := logbook.Read(in.File.Data, logbook.Options{Zone: zone, Scale: units.Scale(o.Scale), DateOrder: o.DateOrder, Fold: o.Fold})
	return log, zone.String(), err
}

// parseZone reads a place, or an offset like +02:00.
func parseZone(name string) (*time.Location, error) {
	if t, err := time.Parse("-07:00", name); err == nil {
		_, offset := t.Zone()
		return time.FixedZone(name, offset), nil
	}
	if err := checkZone(name); err != nil {
		return nil, err
	}
	return time.LoadLocation(name)
}

// loggerOf names the source of a file: as typed, else its file name without
// what a logger counts up or dates in it.
func loggerOf(o LogOptions, f api.File) string {
	if name := strings.TrimSpace(o.Logger); name != "" {
		return name
	}
	name := strings.TrimSuffix(filepath.Base(f.Name), filepath.Ext(f.Name))
	if name == "" || name == "." {
		return "logger"
	}
	return name
}

func (s *Server) previewLog(c *gin.Context, in *logUpload) (LogPreview, error) {
	trialID, err := s.store.TrialOf(c, "cook", in.ID)
	if err != nil {
		return LogPreview{}, err
	}
	log, zone, err := s.readLog(c, in)
	if err != nil {
		return LogPreview{}, err
	}
	const mostShown = 200
	p := LogPreview{
		Logger: loggerOf(in.Body, in.File), Encoding: log.Encoding, Delimiter: map[rune]string{'\t': "tab", ';': "semicolon", ',': "comma", '|': "bar"}[log.Delimiter],
		DecimalComma: log.DecimalComma, TimeLayout: log.TimeLayout, Zone: zone, Lines: log.DataLines, Repeated: log.Repeated, Readings: log.Readings(),
		Columns: []LogColumn{}, Trouble: log.Trouble[:min(len(log.Trouble), mostShown)], TroubleCount: len(log.Trouble), Questions: log.Questions,
	}
	if p.Trouble == nil {
		p.Trouble = []logbook.Trouble{}
	}
	if p.Questions == nil {
		p.Questions = []logbook.Question{}
	}
	p.From, p.To = log.Span()
	if p.Known, err = s.store.Known(c, p.Logger, p.From, p.To); err != nil {
		return p, err
	}
	suggest, err := s.suggestions(c, trialID, in.ID, p.Logger)
	if err != nil {
		return p, err
	}
	for _, col := range log.Columns {
		v := LogColumn{Name: col.Name, Scale: col.Scale, ScaleFrom: col.ScaleFrom, Readings: len(col.Readings), Empty: col.Empty, MinC: math.Inf(1), MaxC: math.Inf(-1), Target: suggest(col.Name)}
		for _, r := range col.Readings {
			v.MinC, v.MaxC = math.Min(v.MinC, r.C), math.Max(v.MaxC, r.C)
		}
		if v.Readings == 0 {
			v.MinC, v.MaxC = 0, 0
		}
		p.Columns = append(p.Columns, v)
	}
	return p, nil
}

// suggestions says what a column most likely measures: what it did in this
// cook before, else the cut or pit whose name it carries.
func (s *Server) suggestions(c *gin.Context, trialID, cookID int64, logger string) (func(column string) store.Target, error) {
	last, err := s.store.LastTargets(c, cookID, logger)
	if err != nil {
		return nil, err
	}
	cuts, err := s.store.Cuts(c, trialID)
	if err != nil {
		return nil, err
	}
	runs, err := s.store.PitRuns(c, trialID)
	if err != nil {
		return nil, err
	}
	runs = slices.DeleteFunc(runs, func(r store.PitRun) bool { return r.CookID != cookID })
	var names []string
	var targets []store.Target
	for _, cut := range cuts {
		names, targets = append(names, cut.Name), append(targets, store.Target{CutID: &cut.ID})
	}
	for _, r := range runs {
		names, targets = append(names, r.Pit), append(targets, store.Target{PitRunID: &r.ID})
	}
	return func(column string) store.Target {
		if t, ok := last[column]; ok {
			return t
		}
		if i := logbook.SuggestTarget(column, names); i >= 0 {
			return targets[i]
		}
		if len(runs) == 1 && logbook.SuggestTarget(column, []string{"pit"}) == 0 {
			return store.Target{PitRunID: &runs[0].ID}
		}
		return store.Target{}
	}, nil
}

func (s *Server) importLog(c *gin.Context, in *logUpload) (LogImported, error) {
	trialID := s.changing.trialID
	log, _, err := s.readLog(c, in)
	if err != nil {
		return LogImported{}, err
	}
	targets, err := s.checkTargets(c, trialID, in)
	if err != nil {
		return LogImported{}, err
	}
	sum := sha256.Sum256(in.File.Data)
	added, there, err := s.store.ImportLog(c, who(c).ID, store.NewImport{CookID: in.ID, Logger: loggerOf(in.Body, in.File), FileName: in.File.Name, SHA256: sum[:], Log: log, Targets: targets})
	if err != nil {
		return LogImported{}, err
	}
	v, err := s.view(c, trialID)
	return LogImported{Added: added, AlreadyThere: there, TroubleCount: len(log.Trouble), Trial: v}, err
}

func (s *Server) voidImport(c *gin.Context, in *struct {
	byID
	Body Why
}) (TrialView, error) {
	if err := s.gate.VoidImport(c, who(c), s.changing.trialID, in.ID, in.Body.Why); err != nil {
		return TrialView{}, err
	}
	return s.view(c, s.changing.trialID)
}

// checkTargets refuses targets outside the cook, and two columns on one cut
// are allowed: a cut may have several probes.
func (s *Server) checkTargets(c *gin.Context, trialID int64, in *logUpload) (map[string]store.Target, error) {
	placed, err := s.store.Placements(c, trialID)
	if err != nil {
		return nil, err
	}
	runs, err := s.store.PitRuns(c, trialID)
	if err != nil {
		return nil, err
	}
	out := map[string]store.Target{}
	for column, t := range in.Body.Targets {
		if t == (store.Target{}) {
			continue
		}
		ok := t.CutID != nil && t.PitRunID == nil && slices.ContainsFunc(placed, func(l store.Placement) bool { return l.CutID == *t.CutID && l.CookID == in.ID }) ||
			t.PitRunID != nil && t.CutID == nil && slices.ContainsFunc(runs, func(r store.PitRun) bool { return r.ID == *t.PitRunID && r.CookID == in.ID })
		if !ok {
			return nil, fault.New("targets."+column, "that is no cut or pit of this cook", "choose one of the list; a cut needs its pit in Plan first")
		}
		out[column] = t
	}
	return out, nil
}

func (s *Server) traces(c *gin.Context, in *traceQuery) (Traces, error) {
	out := Traces{Traces: []Trace{}}
	if _, err := s.store.Cook(c, in.ID); err != nil {
		return out, err
	}
	var ok bool
	var err error
	if out.First, out.Last, ok, err = s.store.Span(c, in.ID); err != nil || !ok {
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
	assigned, err := s.store.Assignments(c, in.ID)
	if err != nil {
		return out, err
	}
	buckets, err := s.store.Traces(c, assigned, out.From, out.To, columns)
	if err != nil {
		return out, err
	}
	byProbe := map[int64][][3]float64{}
	width := float64(out.To.Sub(out.From).Milliseconds()) / float64(columns)
	for _, b := range buckets {
		at := float64(out.From.UnixMilli()) + (float64(b.N)+0.5)*width
		byProbe[b.ProbeID] = append(byProbe[b.ProbeID], [3]float64{math.Round(at), round2(b.Min), round2(b.Max)})
	}
	for _, a := range assigned {
		points := byProbe[a.ProbeID]
		if points == nil {
			points = [][3]float64{}
		}
		out.Traces = append(out.Traces, Trace{ProbeID: a.ProbeID, Probe: a.Probe, CutID: a.CutID, PitRunID: a.PitRunID, HolderRunID: a.HolderRunID, Points: points})
	}
	return out, nil
}

func round2(v float64) float64 { return math.Round(v*100) / 100 }
