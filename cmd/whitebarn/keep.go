package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"strings"
	"time"

	"whitebarn/internal/archive"
	"whitebarn/internal/auth"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/pgrun"
	"whitebarn/internal/store"
)

// database is the one behind DATABASE_URL, else that of a White Barn which runs on the folder,
// else the folder's own, started for as long as it is needed.
func database(ctx context.Context, data string, mayMake bool) (url string, end func(), err error) {
	end = func() {}
	if url := os.Getenv("DATABASE_URL"); url != "" {
		return url, end, nil
	}
	if url, err := pgrun.Running(data); err != nil || url != "" {
		return url, end, err
	}
	if _, err := os.Stat(data); errors.Is(err, os.ErrNotExist) && !mayMake {
		return "", end, fmt.Errorf("there is no barn in %s; give its folder with -data FOLDER, or DATABASE_URL", data)
	}
	pg, err := pgrun.Start(ctx, data, pgrun.Options{})
	if err != nil {
		return "", end, err
	}
	return pg.URL, func() { _ = pg.Stop() }, nil
}

// within opens the record of a folder for f.
func within(ctx context.Context, data string, f func(*store.Store) error) error {
	url, end, err := database(ctx, data, false)
	if err != nil {
		return err
	}
	defer end()
	s, err := store.Open(ctx, url)
	if err != nil {
		return err
	}
	defer s.Close()
	return f(s)
}

// dataFlag is the folder of a barn's own database.
func dataFlag(f *flag.FlagSet, data *string) {
	f.StringVar(data, "data", dataFolder("serve"), "folder of White Barn's own database")
}

// command reads the flags of a command, which may stand before and after its words.
func command(name string, args []string, out io.Writer, define func(*flag.FlagSet), words ...string) ([]string, error) {
	flags := flag.NewFlagSet(name, flag.ContinueOnError)
	flags.SetOutput(out)
	define(flags)
	var given []string
	for len(args) > 0 {
		if err := flags.Parse(args); err != nil {
			return nil, err
		}
		if args = flags.Args(); len(args) > 0 {
			given, args = append(given, args[0]), args[1:]
		}
	}
	if len(given) != len(words) {
		return nil, fmt.Errorf("whitebarn %s wants %s; whitebarn %[1]s -h says more", name, strings.Join(append([]string{fmt.Sprintf("%d words",
			len(words))}, words...), " "))
	}
	return given, nil
}

// backUp writes a backup while all goes on; with -check it restores it beside and compares.
func backUp(ctx context.Context, args []string, out io.Writer) error {
	var data, to string
	var check bool
	_, err := command("backup", args, out, func(f *flag.FlagSet) {
		dataFlag(f, &data)
		f.StringVar(&to, "o", archive.Name(time.Now()), "file to write")
		f.BoolVar(&check, "check", false, "restore it into a database of its own and compare all tables")
	})
	if err != nil {
		return err
	}
	return within(ctx, data, func(s *store.Store) error {
		if err := archive.WriteFile(ctx, s, archive.Backup, 0, time.Now(), to); err != nil {
			return err
		}
		fmt.Fprintf(out, "The backup is %s. It holds passwords and keys: keep it where nobody else reads.\n", to)
		if !check {
			return nil
		}
		if err := restoredAlike(ctx, to); err != nil {
			return fmt.Errorf("the backup does not come back as it was: %w", err)
		}
		fmt.Fprintln(out, "It was restored into a database of its own: all tables are the same.")
		return nil
	})
}

// restoredAlike restores an archive into a throwaway database and writes it from there again.
func restoredAlike(ctx context.Context, path string) error {
	dir, err := os.MkdirTemp("/var/tmp", "white-barn-check-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	if err := os.Chmod(dir, 0o711); err != nil {
		return err
	}
	pg, err := pgrun.Start(ctx, dir, pgrun.Options{Throwaway: true})
	if err != nil {
		return err
	}
	defer func() { _ = pg.Stop() }()
	a, end, err := archive.OpenFile(path)
	if err != nil {
		return err
	}
	defer end()
	if err := a.Restore(ctx, pg.URL); err != nil {
		return err
	}
	s, err := store.Open(ctx, pg.URL)
	if err != nil {
		return err
	}
	defer s.Close()
	again := dir + "/again.zip"
	if err := archive.WriteFile(ctx, s, archive.Backup, 0, a.Created, again); err != nil {
		return err
	}
	b, endAgain, err := archive.OpenFile(again)
	if err != nil {
		return err
	}
	defer endAgain()
	return archive.Alike(a.Package, b.Package)
}

// restore writes a backup or an export of a barn into an empty database.
func restore(ctx context.Context, args []string, out io.Writer) error {
	var data string
	given, err := command("restore", args, out, func(f *flag.FlagSet) {
		f.StringVar(&data, "data", dataFolder("serve"), "folder of White Barn's own database, empty or not there yet")
	}, "FILE")
	if err != nil {
		return err
	}
	a, endFile, err := archive.OpenFile(given[0])
	if err != nil {
		return err
	}
	defer endFile()
	url, end, err := database(ctx, data, true)
	if err != nil {
		return err
	}
	defer end()
	err = a.Restore(ctx, url)
	if errors.Is(err, store.ErrNotEmpty) {
		return fmt.Errorf("%w: give an empty folder with -data FOLDER; nothing was changed", err)
	}
	if err != nil {
		return err
	}
	fmt.Fprintf(out, "%s is back, as it was on %s.\n", a.Title, a.Created.Format("2006-01-02 15:04 MST"))
	if a.Kind == archive.Barn {
		fmt.Fprintln(out, "It is an export, so nobody has a password: whitebarn user password SIGN-IN gives one. Devices need new tokens.")
	}
	return nil
}

// export writes a barn, or one trial of it, for others to read.
func export(ctx context.Context, args []string, out io.Writer) error {
	var data, to string
	var trial int64
	_, err := command("export", args, out, func(f *flag.FlagSet) {
		dataFlag(f, &data)
		f.StringVar(&to, "o", "", "file to write")
		f.Int64Var(&trial, "trial", 0, "number of the one trial to write; 0 is the whole barn")
	})
	if err != nil {
		return err
	}
	return within(ctx, data, func(s *store.Store) error {
		kind := archive.ExportOf(trial)
		if to == "" {
			to = fmt.Sprintf("white-barn-%s.zip", kind)
		}
		if err := archive.WriteFile(ctx, s, kind, trial, time.Now(), to); err != nil {
			return err
		}
		fmt.Fprintf(out, "Written to %s: a table is a CSV file, and datapackage.json says what each field is.\n", to)
		return nil
	})
}

// importTrial takes a trial of another barn in.
func importTrial(ctx context.Context, args []string, out io.Writer) error {
	var data, as string
	given, err := command("import", args, out, func(f *flag.FlagSet) {
		dataFlag(f, &data)
		f.StringVar(&as, "as", "", "sign-in of the pitmaster who takes it in")
	}, "FILE")
	if err != nil {
		return err
	}
	return within(ctx, data, func(s *store.Store) error {
		a, endFile, err := archive.OpenFile(given[0])
		if err != nil {
			return err
		}
		defer endFile()
		if a.Kind != archive.Trial {
			return errors.New("this is a whole barn: whitebarn restore brings it into an empty database")
		}
		who, err := s.PersonBySignIn(ctx, as)
		if err != nil || who.Role != store.Pitmaster {
			return errors.New("say which pitmaster takes it in, with -as SIGN-IN; whitebarn user lists them")
		}
		id, err := a.Adopt(ctx, s, who.ID)
		if errors.Is(err, store.ErrConflict) {
			return errors.New("this trial is here already")
		}
		if err != nil {
			return err
		}
		fmt.Fprintf(out, "%s\nIt is trial %d of this barn.\n", a.Title, id)
		return nil
	})
}

// user lists who has an account, or gives one a new password, which is read from the input.
func user(ctx context.Context, args []string, in io.Reader, out io.Writer) error {
	var data, site string
	words := []string{}
	if len(args) > 0 && (args[0] == "password" || args[0] == "link") {
		words = []string{args[0], "NAME"}
	}
	given, err := command("user", args, out, func(f *flag.FlagSet) {
		dataFlag(f, &data)
		f.StringVar(&site, "site", "http://127.0.0.1:8080", "with link: where White Barn answers")
	}, words...)
	if err != nil {
		return err
	}
	return within(ctx, data, func(s *store.Store) error {
		desk := people.New(&barn.Barn{Store: s, Now: time.Now}, auth.Usual)
		switch {
		case len(given) == 0:
			return listPeople(ctx, s, out)
		case given[0] == "link":
			e, err := desk.LinkFor(ctx, given[1])
			if err != nil {
				return err
			}
			fmt.Fprintf(out, "%s sets a password at %s/enter#%s\nuntil %s, once.\n", e.Person.Name, strings.TrimSuffix(site, "/"), e.Token,
				e.EndsAt.Format("2006-01-02 15:04 MST"))
			return nil
		}
		fmt.Fprintf(out, "A new password for %s, then Enter:\n", given[1])
		line, err := io.ReadAll(io.LimitReader(in, 1000))
		if err != nil {
			return err
		}
		password, _, _ := strings.Cut(string(line), "\n")
		if err := desk.SetPassword(ctx, given[1], strings.TrimRight(password, "\r")); err != nil {
			return err
		}
		fmt.Fprintln(out, "It is changed, and their sessions are ended.")
		return nil
	})
}

// listPeople writes who is and was of the crew.
func listPeople(ctx context.Context, s *store.Store, out io.Writer) error {
	all, err := s.People(ctx)
	for _, p := range all {
		state := ""
		switch {
		case p.LeftAt != nil:
			state = "left " + p.LeftAt.Format(time.DateOnly)
		case p.CameAt == nil:
			state = "has not come yet"
		}
		fmt.Fprintf(out, "%-20s %-12s %-24s %s\n", p.SignIn, p.Role, p.Name, state)
	}
	return err
}
