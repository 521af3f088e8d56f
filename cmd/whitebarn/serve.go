package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"runtime/debug"
	"strings"
	"syscall"
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/core/plan"
	"whitebarn/internal/auth"
	"whitebarn/internal/barn/records"
	"whitebarn/internal/demo"
	"whitebarn/internal/keeping"
	"whitebarn/internal/lan"
	"whitebarn/internal/pgrun"
	"whitebarn/internal/server"
	"whitebarn/internal/services"
	"whitebarn/internal/store"
	"whitebarn/web"
)

// serve starts the database, if none is given, and the server, and stops both
// when ctx ends.
func serve(ctx context.Context, command string, args []string, out io.Writer) error {
	flags := flag.NewFlagSet(command, flag.ContinueOnError)
	flags.SetOutput(out)
	addr := flags.String("addr", "127.0.0.1:8080", "address to answer on")
	data := flags.String("data", dataFolder(command), "folder of White Barn's own database")
	reset := flags.Bool("reset", false, "remove the data first and start over")
	openTo := flags.Bool("lan", false, "open to the local network, over HTTPS; without -addr on port 8443 of all addresses")
	trust := flags.String("trust", "0.0.0.0:8080", "with -lan: address of the page that tells phones how to trust it")
	guests := flags.String("guests", "0.0.0.0:8081", "with -lan: plain address of the guests' ballots, where the pitmaster turns it on")
	backups := flags.String("backups", "", "folder of the backups by the clock; empty: backups in the data folder, or none with a database of yours; off: none")
	every := flags.Duration("backup-every", 24*time.Hour, "time between backups by the clock")
	keep := flags.Int("backup-keep", 7, "how many of them are kept")
	hosts := flags.String("host", "", "names that browsers ask for it by over HTTPS, where a proxy stands before it, with commas between")
	logs := flags.String("log", "text", "how the log is written: text or json")
	if err := flags.Parse(args); err != nil {
		return err
	}
	if *every < time.Minute || *keep < 1 {
		return errors.New("take a backup every minute at the most, and keep at least one: -backup-every 24h -backup-keep 7")
	}
	if given := false; *openTo {
		flags.Visit(func(f *flag.Flag) { given = given || f.Name == "addr" })
		if !given {
			*addr = "0.0.0.0:8443"
		}
	}
	ctx, cancel := context.WithCancelCause(ctx)
	defer cancel(nil)
	var lines slog.Handler = slog.NewTextHandler(os.Stderr, nil)
	if *logs == "json" {
		lines = slog.NewJSONHandler(os.Stderr, nil)
	}
	slog.SetDefault(slog.New(server.LogHandler(lines)))
	gin.SetMode(gin.ReleaseMode)
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(usualMemory)
	}
	listener, err := net.Listen("tcp", *addr)
	if errors.Is(err, syscall.EADDRINUSE) {
		return fmt.Errorf("%s is taken, perhaps by another White Barn; stop that one, or choose another address with ADDR=127.0.0.1:8081", *addr)
	}
	if err != nil {
		return fmt.Errorf("listen on %s: %w; choose another address with ADDR=HOST:PORT", *addr, err)
	}
	defer listener.Close()
	url, disk := os.Getenv("DATABASE_URL"), &keeping.Disk{}
	if url == "" {
		disk.Dir = *data
		pg, err := ownDatabase(ctx, *data, *reset, disk)
		if err != nil {
			return err
		}
		defer func() {
			cancel(nil) // or the fall of the database would be mended
			if err := pg.Stop(); err != nil {
				slog.Error("stop the database", "error", err)
			}
		}()
		url = pg.URL
	} else if *reset {
		return errors.New("RESET=1 is for White Barn's own database; empty the one behind DATABASE_URL by its own means")
	}
	s, err := store.Open(ctx, url)
	if err != nil {
		return err
	}
	defer s.Close()
	if command == "demo" {
		if err := demo.Seed(ctx, s, auth.Usual, time.Now()); err != nil {
			return fmt.Errorf("write the demo data: %w", err)
		}
	}
	disk.Store = s
	options := server.Options{Dist: web.Dist(), Hosts: namesIn(*hosts), Disk: disk, About: records.ThisBuild(version)}
	if *backups == "" && disk.Dir != "" {
		*backups = filepath.Join(*data, "backups")
	}
	if *backups != "" && *backups != "off" {
		options.Backups = &keeping.Backups{Store: s, Dir: *backups, Every: *every, Keep: *keep, Now: time.Now}
	}
	var plain net.Listener
	if *openTo {
		gate, err := openGate(filepath.Join(*data, "lan"), listener, *trust, *guests)
		if err != nil {
			return err
		}
		defer gate.Close()
		listener, plain, options.LAN = gate.secure, gate.guests, &gate.info
	}
	srv, handler := server.New(services.New(s, time.Now, auth.Usual, new(plan.Memory)), options)
	defer srv.Close()
	h := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, BaseContext: func(net.Listener) context.Context { return ctx }}
	if err := srv.Play(ctx); err != nil {
		return fmt.Errorf("play the simulated cooks: %w", err)
	}
	if plain != nil {
		ballots := &http.Server{Handler: srv.Guests(handler), ReadHeaderTimeout: 10 * time.Second}
		defer ballots.Close()
		go func() { _ = ballots.Serve(plain) }() // until it is closed
	}
	greet(out, command, listener.Addr().String(), options.LAN)
	if err := server.Serve(ctx, h, func() error { return h.Serve(listener) }); err != nil && !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	if cause := context.Cause(ctx); cause != nil && !errors.Is(cause, context.Canceled) {
		return cause
	}
	fmt.Fprintln(out, "White Barn is shut. The data are kept.")
	return nil
}

// namesIn are the names of a list with commas or spaces between.
func namesIn(list string) []string {
	return strings.FieldsFunc(strings.ToLower(list), func(r rune) bool { return r == ',' || r == ' ' })
}

// usualMemory is what the collector keeps the server under where it can, so that a large log
// file takes no more than it must on a small machine; GOMEMLIMIT says otherwise.
const usualMemory = 224 << 20

// again is how long a database that ended is left before it is started once more.
const again = 2 * time.Second

// ownDatabase starts a PostgreSQL and starts it again whenever it falls. While it cannot be
// started, as on a full disk, the server stays up and says so.
func ownDatabase(ctx context.Context, data string, reset bool, disk *keeping.Disk) (*pgrun.Server, error) {
	if reset {
		if err := pgrun.Reset(data); err != nil {
			return nil, err
		}
	}
	pg, err := pgrun.Start(ctx, data, pgrun.Options{})
	if err != nil {
		return nil, err
	}
	go func() {
		for {
			select {
			case <-ctx.Done():
				return
			case <-pg.Done():
			}
			for ctx.Err() == nil {
				slog.Error("the database ended by itself; starting it again", "room", disk.Room().State)
				if err := pg.Restart(ctx); err == nil {
					break
				} else if ctx.Err() == nil {
					slog.Error("the database cannot be started yet", "error", err, "again_in", again)
				}
				select {
				case <-ctx.Done():
				case <-time.After(again):
				}
			}
		}
	}()
	return pg, nil
}

// dataFolder is where data are kept: for real ones a lasting place, for the
// demo one that the system may sweep.
func dataFolder(command string) string {
	if command == "demo" {
		return fmt.Sprintf("/var/tmp/white-barn-demo-%d", os.Geteuid())
	}
	if os.Geteuid() == 0 {
		return "/var/lib/white-barn"
	}
	if home, err := os.UserHomeDir(); err == nil {
		return filepath.Join(home, ".local", "share", "white-barn")
	}
	return "white-barn-data"
}

func greet(out io.Writer, command, addr string, network *lan.Info) {
	if network == nil {
		fmt.Fprintf(out, "\nWhite Barn answers at http://%s\n", addr)
	} else {
		fmt.Fprintf(out, "\nOn this network White Barn answers at %s\nPhones learn to trust it at %s\nThe fingerprint of its certificate is %s\n",
			strings.Join(network.Sites, " "), strings.Join(network.Trust, " "), network.Fingerprint)
	}
	if command == "demo" {
		fmt.Fprintf(out, "\nSign in as odalys (pitmaster), or as bram, tove, ife, marisol or joren (crew).\nThe password is: %s\n", demo.Password)
	} else {
		fmt.Fprintln(out, "The first visit makes the pitmaster's account.")
	}
	fmt.Fprintln(out, "\nCtrl-C stops it.")
}
