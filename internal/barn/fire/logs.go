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
	Start     string                  `json:"start"`   // when the file began, 2026-09-19T08:05 on the clock of its zone, where it counts from there
	Elapsed   string                  `json:"elapsed"` // in what it counts: s, min or h
	Future    string                  `json:"future"`  // what lies after now: leave it out
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
	Future       int                `json:"future"` // readings of after now
	FutureTo     time.Time          `json:"future_to"`
	LikelyZone   string             `json:"likely_zone"` // in which none of them is of after now; empty where there is none
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
func readLog(ctx context.Context, s *store.Store, now time.Time, in *LogUpload) (*readAs, error) {
	o := in.Body
	house, err := s.Barn(ctx)
	if err != nil {
		return nil, err
	}
	if o.Zone == "" {
		o.Zone = house.TimeZone
	}
	zone, err := parseZone(o.Zone)
	if err != nil {
		return nil, err
	}
	var wrong fault.List
	for _, f := range []struct {
		field, value string
		allowed      []string
	}{{"scale", o.Scale, units.Scale("").Values()}, {"date_order", o.DateOrder, []string{"dmy", "mdy"}}, {"fold", o.Fold,
		[]string{"first", "second"}}, {"outside", o.Outside, []string{"leave", "keep"}}, {"shape", o.Shape, logbook.Shape("").Values()},
		{"lines", o.Lines, []string{"good", "all"}},
		{"elapsed", o.Elapsed, logbook.Elapsed("").Values()}, {"future", o.Future, []string{"leave"}}} {
		if f.value != "" && !slices.Contains(f.allowed, f.value) {
			wrong.Add(f.field, fmt.Sprintf("%q is not one", f.value), "use "+strings.Join(f.allowed, " or "))
		}
	}
	if len(in.File.Data) == 0 && in.File.Name == "" {
		wrong.Add("file", "no file was sent", "choose the logger's file")
	}
	if err := wrong.Err(); err != nil {
		return nil, err
	}
	var day, start time.Time
	if o.Day != "" {
		if day, err = time.Parse(time.DateOnly, o.Day); err != nil {
			return nil, fault.New("day", fmt.Sprintf("%.40q is not a day", o.Day), "give it as 2026-09-19")
		}
	}
	if o.Start != "" {
		if start, err = time.Parse("2006-01-02T15:04", o.Start); err != nil {
			return nil, fault.New("start", fmt.Sprintf("%.40q is not a day and a clock", o.Start), "give it as 2026-09-19T08:05")
		}
	}
	log, err := logbook.Read(in.File.Data, logbook.Options{Zone: zone, Scale: units.Scale(o.Scale), DateOrder: o.DateOrder, Fold: o.Fold,
		Shape: logbook.Shape(o.Shape), Day: day, Start: start, Elapsed: logbook.Elapsed(o.Elapsed)})
	if err != nil {
		return nil, err
	}
	k, err := s.Cook(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	r := &readAs{Log: log, zone: zone, cook: k, now: k.Clock.Now(now)}
	if r.undated() {
		return r, nil
	}
	r.outside, r.outsideFrom, r.outsideTo = log.Outside(k.ServeAt)
	r.future, r.futureTo = log.After(r.now)
	r.likelyZone = log.LikelyZone(zone, r.now)
	if r.outside > 0 && o.Outside == "" {
		log.Questions = append(log.Questions, logbook.AskOutside)
	}
	if r.future > 0 && o.Future == "" {
		log.Questions = append(log.Questions, logbook.AskFuture)
	}
	if o.Outside == "leave" {
		log.LeaveOutside(k.ServeAt)
	}
	if o.Future == "leave" {
		log.LeaveAfter(r.now)
	}
	return r, nil
}

// readAs is a log as it was read for a cook.
type readAs struct {
	*logbook.Log
	zone *time.Location
	cook store.Cook
	now  time.Time // by the cook's clock

	// Before any were left out.
	outside                int
	outsideFrom, outsideTo time.Time
	future                 int
	futureTo               time.Time
	likelyZone             string
}

// undated says whether nobody said yet of when the log is.
func (r *readAs) undated() bool {
	return slices.Contains(r.Questions, logbook.AskDay) || slices.Contains(r.Questions, logbook.AskStart)
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
	log, err := readLog(ctx, b.Store, b.Now(), in)
	if err != nil {
		return LogPreview{}, err
	}
	const mostShown = 200
	p := LogPreview{
		Logger: loggerOf(in.Body, in.File), Encoding: log.Encoding, Delimiter: map[rune]string{'\t': "tab", ';': "semicolon", ',': "comma", '|': "bar"}[log.Delimiter],
		Shape: log.Shape, Objects: log.Objects, Remembered: remembered, DecimalComma: log.DecimalComma, TimeLayout: log.TimeLayout, Zone: log.zone.String(), Lines: log.DataLines, Repeated: log.Repeated, Readings: log.Readings(),
		Columns: []LogColumn{}, Trouble: log.Trouble[:min(len(log.Trouble), mostShown)], TroubleCount: log.TroubleCount, Questions: log.Questions,
	}
	if p.Trouble == nil {
		p.Trouble = []logbook.Trouble{}
	}
	if p.Questions == nil {
		p.Questions = []logbook.Question{}
	}
	p.From, p.To = log.Span()
	p.Outside, p.OutsideFrom, p.OutsideTo = log.outside, log.outsideFrom, log.outsideTo
	p.Future, p.FutureTo, p.LikelyZone = log.future, log.futureTo, log.likelyZone
	if p.Known, err = b.Store.Known(ctx, p.Logger, p.From, p.To); err != nil {
		return p, err
	}
	suggested, err := suggestions(ctx, b.Store, trialID, in.ID, p.Logger, before.Targets, log.Columns)
	if err != nil {
		return p, err
	}
	for i, col := range log.Columns {
		v := LogColumn{Name: col.Name, Scale: col.Scale, ScaleFrom: col.ScaleFrom, Readings: len(col.Readings), Empty: col.Empty, MinC: math.Inf(1), MaxC: math.Inf(-1), Target: suggested[i]}
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
	log, err := readLog(ctx, a.Store, a.Now(), in)
	if err != nil {
		return LogImported{}, err
	}
	switch {
	case slices.Contains(log.Questions, logbook.AskDay):
		return LogImported{}, fault.New("day", "the file has times of day alone", "say of which day its first reading is")
	case slices.Contains(log.Questions, logbook.AskStart):
		return LogImported{}, fault.New("start", "the file counts its times from its start", "say when it was started")
	}
	if n := log.TroubleCount; in.Body.Lines == "all" && n > 0 {
		return LogImported{}, fault.New("lines", fmt.Sprintf("%d of its lines have trouble, the first is line %d: %s", n, log.Trouble[0].Line,
			log.Trouble[0].Problem),
			"mend the file, or take the good lines; nothing was taken in")
	}
	if slices.Contains(log.Questions, logbook.AskOutside) {
		return LogImported{}, log.farAway()
	}
	if slices.Contains(log.Questions, logbook.AskFuture) {
		return LogImported{}, log.toCome()
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
			FileName: in.File.Name, SHA256: sum[:], Log: log.Log, Targets: targets, Burns: burns})
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
func (r *readAs) farAway() error {
	day := func(t time.Time) string { return t.In(r.zone).Format("2 Jan 2006") }
	return fault.New("outside", fmt.Sprintf("%d readings of %s to %s are far from this cook's table of %s", r.outside, day(r.outsideFrom), day(r.outsideTo), day(r.cook.ServeAt)),
		"say whether to keep them or to leave them out; or choose the right cook")
}

// toCome refuses a log of which a part is not read yet by the cook's clock, with the zone it is likely in.
func (r *readAs) toCome() error {
	problem := fmt.Sprintf("%d readings lie after now, to %s", r.future, r.futureTo.In(r.zone).Format("2 Jan 15:04"))
	if r.likelyZone == "" {
		return fault.New("future", problem, "set the logger's clock and export it again, or leave them out")
	}
	return fault.New("zone", problem, fmt.Sprintf("read as times of %s none of them does: say so if that is where it was written, or leave them out", r.likelyZone))
}
