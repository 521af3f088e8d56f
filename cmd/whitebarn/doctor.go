package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"math"
	"os"
	"path/filepath"
	"time"

	"whitebarn/internal/archive"
	"whitebarn/internal/keeping"
	"whitebarn/internal/lan"
	"whitebarn/internal/store"
)

// finding is what the doctor saw of one thing; without words all is well.
type finding struct{ of, saw, do string }

// doctor looks at what a barn stands on and says what to do.
func doctor(ctx context.Context, args []string, out io.Writer) error {
	var data, backups string
	_, err := command("doctor", args, out, func(f *flag.FlagSet) {
		dataFlag(f, &data)
		f.StringVar(&backups, "backups", "", "folder of the backups; empty: backups in the data folder")
	})
	if err != nil {
		return err
	}
	if backups == "" {
		backups = filepath.Join(data, "backups")
	}
	ill := 0
	say := func(f finding) {
		if f.do == "" {
			fmt.Fprintf(out, "well  %-12s %s\n", f.of, f.saw)
			return
		}
		ill++
		fmt.Fprintf(out, "LOOK  %-12s %s\n      %-12s -> %s\n", f.of, f.saw, "", f.do)
	}
	own := os.Getenv("DATABASE_URL") == ""
	if own {
		say(ofDisk(data))
	}
	err = within(ctx, data, func(s *store.Store) error {
		for _, f := range ofRecord(ctx, s) {
			say(f)
		}
		return nil
	})
	if err != nil {
		say(finding{"database", err.Error(), "Start White Barn once and read what it says; the server's own log is " + filepath.Join(data, "server.log")})
	}
	say(ofBackups(backups))
	if own {
		say(ofCertificate(data))
	}
	if ill > 0 {
		return fmt.Errorf("%d things want a look", ill)
	}
	return nil
}

func ofDisk(data string) finding {
	var d keeping.Disk
	d.Dir = data
	d.Look(0)
	r := d.Room()
	f := finding{of: "disk", saw: fmt.Sprintf("%.1f GB are free for %s", float64(r.FreeBytes)/(1<<30), data)}
	if r.Words != "" {
		f.saw, f.do = r.Words, r.Remedy
	}
	if _, err := os.Stat(data); err != nil {
		f.saw, f.do = "there is no folder "+data, "Give the folder of the barn with -data FOLDER."
	}
	return f
}

// ofRecord looks at the database, its clock and the devices.
func ofRecord(ctx context.Context, s *store.Store) []finding {
	server, bytes, made, err := s.KeptAs(ctx)
	if err != nil {
		return []finding{{"database", err.Error(), "Look into the log of the database."}}
	}
	out := []finding{{of: "database", saw: fmt.Sprintf("%s, %d MB, version %d of the record", server, bytes>>20, made[0].Version)}}
	if now, err := s.Now(ctx); err == nil {
		f := finding{of: "clock", saw: "the machine and the database agree: " + now.UTC().Format("2006-01-02 15:04:05 UTC")}
		if off := time.Since(now).Seconds(); math.Abs(off) > 2 {
			f.saw, f.do = fmt.Sprintf("the database is %.0f s off this machine", off), "Set both by a time server: timedatectl set-ntp true."
		} else if now.Year() < 2024 {
			f.saw, f.do = "it is "+now.Format("2006")+" on this machine", "Set the clock: timedatectl set-ntp true."
		}
		out = append(out, f)
	}
	devices, err := s.Devices(ctx)
	if err != nil {
		return append(out, finding{"devices", err.Error(), "Look into the log of the database."})
	}
	live, silent, off := 0, 0, 0
	for _, d := range devices {
		if d.Retired {
			continue
		}
		live++
		if d.LastSeen == nil || time.Since(*d.LastSeen) > 24*time.Hour {
			silent++
		}
		if d.SkewS != nil && math.Abs(*d.SkewS) > 60 {
			off++
		}
	}
	f := finding{of: "devices", saw: fmt.Sprintf("%d, of which %d were heard today", live, live-silent)}
	if off > 0 {
		f.saw, f.do = fmt.Sprintf("the clocks of %d devices are over a minute off", off), "Set them; their readings are dated by their own clocks. Pits shows which."
	}
	return append(out, f)
}

func ofBackups(dir string) finding {
	age := keeping.AgeOf(&keeping.Backups{Dir: dir}, time.Now())
	switch {
	case age < 0:
		return finding{"backups", "there is none in " + dir, "Run whitebarn backup, or have the server take them: -backups FOLDER."}
	case age > 72*time.Hour:
		return finding{"backups", fmt.Sprintf("the newest in %s is %.0f days old", dir, age.Hours()/24),
			"Look for \"no backup was taken\" in the server's log; run whitebarn backup now."}
	}
	found, err := archive.Kept(dir)
	if err == nil {
		var a *archive.Archive
		var end func() error
		if a, end, err = archive.OpenFile(found[len(found)-1]); err == nil {
			err = errors.Join(a.Verify(), end())
		}
	}
	if err != nil {
		return finding{"backups", "the newest cannot be read: " + err.Error(), "Run whitebarn backup now, and look at the disk."}
	}
	return finding{of: "backups", saw: fmt.Sprintf("%d, the newest is %.0f h old and whole; whitebarn backup -check restores one to see", len(found), age.Hours())}
}

func ofCertificate(data string) finding {
	dir := filepath.Join(data, "lan")
	if _, err := os.Stat(dir); err != nil {
		return finding{of: "certificate", saw: "none: the barn is not open to the local network"}
	}
	b, err := lan.Open(dir, time.Now())
	if err != nil {
		return finding{"certificate", err.Error(), "Remove " + dir + " and start with -lan: phones must trust the new one."}
	}
	left := time.Until(b.Until())
	if left < 60*24*time.Hour {
		return finding{"certificate", fmt.Sprintf("the barn's authority ends in %.0f days", left.Hours()/24),
			"Remove " + dir + " and start with -lan: phones must trust the new one."}
	}
	return finding{of: "certificate", saw: "the barn's authority stands until " + b.Until().Format("2006-01-02")}
}
