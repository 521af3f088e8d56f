package fire

import (
	"context"
	"crypto/sha256"
	"fmt"
	"math"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/units"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/barn/people"
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
	Outside   string                  `json:"outside"` // what is far from the days of the cook: leave it out, or keep it
	Shape     string                  `json:"shape"`   // wide or long
	Day       string                  `json:"day"`     // of the first reading, 2026-09-19, where the file has times of day alone
	Lines     string                  `json:"lines"`   // good: those that can be read; all: none, if one has trouble. good if empty
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
	Remembered   bool               `json:"remembered"` // read and assigned as the last file of this logger was
	Shape        logbook.Shape      `json:"shape"`
	Objects      bool               `json:"objects"` // an object a line
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
	Outside      int                `json:"outside"` // readings far from the days of the cook
	OutsideFrom  time.Time          `json:"outside_from"`
	OutsideTo    time.Time          `json:"outside_to"`
}

// LogImported is what an import did.
type LogImported struct {
	Added        int `json:"added"`
	AlreadyThere int `json:"already_there"`
	TroubleCount int `json:"trouble_count"`
}

// LogUpload is a log file with what was said of it.
type LogUpload struct {
	barn.ByID
	File barn.File
	Body LogOptions
}

// readLog reads an upload under its options, in the barn's zone where none is
// given.
func readLog(ctx context.Context, s *store.Store, in *LogUpload) (*logbook.Log, string, error) {
	o := in.Body
	house, err := s.Barn(ctx)
	if err != nil {
		return nil, "", err
	}
	if o.Zone == "" {
		o.Zone = house.TimeZone
	}
	zone, err := parseZone(o.Zone)
	if err != nil {
		return nil, "", err
	}
	var wrong fault.List
	for _, f := range []struct {
		field, value string
		allowed      []string
	}{{"scale", o.Scale, units.Scale("").Values()}, {"date_order", o.DateOrder, []string{"dmy", "mdy"}}, {"fold", o.Fold,
		[]string{"first", "second"}}, {"outside", o.Outside, []string{"leave", "keep"}}, {"shape", o.Shape, logbook.Shape("").Values()},
		{"lines", o.Lines, []string{"good", "all"}}} {
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
	var day time.Time
	if o.Day != "" {
		if day, err = time.Parse(time.DateOnly, o.Day); err != nil {
			return nil, "", fault.New("day", fmt.Sprintf("%.40q is not a day", o.Day), "give it as 2026-09-19")
		}
	}
	log, err := logbook.Read(in.File.Data, logbook.Options{Zone: zone, Scale: units.Scale(o.Scale), DateOrder: o.DateOrder, Fold: o.Fold,
		Shape: logbook.Shape(o.Shape), Day: day})
	if err != nil {
		return nil, "", err
	}
	k, err := s.Cook(ctx, in.ID)
	if err != nil {
		return nil, "", err
	}
	if n, _, _ := log.Outside(k.ServeAt); n > 0 && o.Outside == "" && !slices.Contains(log.Questions, logbook.AskDay) {
		log.Questions = append(log.Questions, logbook.AskOutside)
	}
	if o.Outside == "leave" {
		log.LeaveOutside(k.ServeAt)
	}
	return log, zone.String(), nil
}

// parseZone reads a place, or an offset like +02:00.
func parseZone(name string) (*time.Location, error) {
	if t, err := time.Parse("-07:00", name); err == nil {
		_, offset := t.Zone()
		return time.FixedZone(name, offset), nil
	}
	if err := people.CheckZone(name); err != nil {
		return nil, err
	}
	return time.LoadLocation(name)
}

// loggerOf names the source of a file: as typed, else its file name without
// what a logger counts up or dates in it.
func loggerOf(o LogOptions, f barn.File) string {
	if name := strings.TrimSpace(o.Logger); name != "" {
		return name
	}
	name := strings.TrimSuffix(filepath.Base(f.Name), filepath.Ext(f.Name))
	if name == "" || name == "." {
		return "logger"
	}
	return name
}

// PreviewLog says what was recognised in a log; nothing is kept.
func PreviewLog(ctx context.Context, b *barn.Barn, in *LogUpload) (LogPreview, error) {
	trialID, err := b.Store.TrialOf(ctx, "cook", in.ID)
	if err != nil {
		return LogPreview{}, err
	}
	before, remembered, err := recall(ctx, b.Store, in)
	if err != nil {
		return LogPreview{}, err
	}
	log, zone, err := readLog(ctx, b.Store, in)
	if err != nil {
		return LogPreview{}, err
	}
	const mostShown = 200
	p := LogPreview{
		Logger: loggerOf(in.Body, in.File), Encoding: log.Encoding, Delimiter: map[rune]string{'\t': "tab", ';': "semicolon", ',': "comma", '|': "bar"}[log.Delimiter],
		Shape: log.Shape, Objects: log.Objects, Remembered: remembered, DecimalComma: log.DecimalComma, TimeLayout: log.TimeLayout, Zone: zone, Lines: log.DataLines, Repeated: log.Repeated, Readings: log.Readings(),
		Columns: []LogColumn{}, Trouble: log.Trouble[:min(len(log.Trouble), mostShown)], TroubleCount: log.TroubleCount, Questions: log.Questions,
	}
	if p.Trouble == nil {
		p.Trouble = []logbook.Trouble{}
	}
	if p.Questions == nil {
		p.Questions = []logbook.Question{}
	}
	p.From, p.To = log.Span()
	k, err := b.Store.Cook(ctx, in.ID)
	if err != nil {
		return p, err
	}
	p.Outside, p.OutsideFrom, p.OutsideTo = log.Outside(k.ServeAt)
	if p.Known, err = b.Store.Known(ctx, p.Logger, p.From, p.To); err != nil {
		return p, err
	}
	suggest, err := suggestions(ctx, b.Store, trialID, in.ID, p.Logger, before.Targets)
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

func importLog(ctx context.Context, a *barn.Act, in *LogUpload) (LogImported, error) {
	if _, _, err := recall(ctx, a.Store, in); err != nil {
		return LogImported{}, err
	}
	log, _, err := readLog(ctx, a.Store, in)
	if err != nil {
		return LogImported{}, err
	}
	if slices.Contains(log.Questions, logbook.AskDay) {
		return LogImported{}, fault.New("day", "the file has times of day alone", "say of which day its first reading is")
	}
	if n := log.TroubleCount; in.Body.Lines == "all" && n > 0 {
		return LogImported{}, fault.New("lines", fmt.Sprintf("%d of its lines have trouble, the first is line %d: %s", n, log.Trouble[0].Line,
			log.Trouble[0].Problem),
			"mend the file, or take the good lines; nothing was taken in")
	}
	if slices.Contains(log.Questions, logbook.AskOutside) {
		return LogImported{}, farAway(ctx, a, in.ID, log)
	}
	targets, err := checkTargets(ctx, a, in)
	if err != nil {
		return LogImported{}, err
	}
	burns, err := burnTimes(ctx, a)
	if err != nil {
		return LogImported{}, err
	}
	if err := rememberPoints(ctx, a, targets); err != nil {
		return LogImported{}, err
	}
	if err := remember(ctx, a, in, targets); err != nil {
		return LogImported{}, err
	}
	sum := sha256.Sum256(in.File.Data)
	var added, there int
	err = gate.New(a.Store, a.Now).Add(ctx, a.TrialID, func() (err error) {
		added, there, err = a.Store.ImportLog(ctx, a.Who.ID, store.NewImport{CookID: in.ID, Logger: loggerOf(in.Body, in.File),
			FileName: in.File.Name, SHA256: sum[:], Log: log, Targets: targets, Burns: burns})
		return err
	})
	if err != nil {
		return LogImported{}, err
	}
	return LogImported{Added: added, AlreadyThere: there, TroubleCount: log.TroubleCount}, nil
}

func voidImport(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) error {
	_, err := gate.New(a.Store, a.Now).Change(ctx, store.PendingChange{TrialID: a.TrialID, ByID: a.Who.ID, ImportID: &in.ID,
		What: "take a log back", Why: in.Body.Why})
	return err
}

// farAway refuses a log that was read on other days than its cook, until somebody says
// what to do with those readings.
func farAway(ctx context.Context, a *barn.Act, cookID int64, log *logbook.Log) error {
	k, err := a.Store.Cook(ctx, cookID)
	if err != nil {
		return err
	}
	n, from, to := log.Outside(k.ServeAt)
	day := func(t time.Time) string { return t.UTC().Format("2 Jan 2006") }
	return fault.New("outside", fmt.Sprintf("%d readings of %s to %s are far from this cook's table of %s", n, day(from), day(to), day(k.ServeAt)),
		"say whether to keep them or to leave them out; or choose the right cook")
}
