// Command whitebarn is White Barn: the server, and its calculations by
// themselves.
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"os/signal"
	"syscall"
	_ "time/tzdata" // zones are known on machines without them

	"whitebarn/core/calc"
	"whitebarn/internal/barn/records"
	"whitebarn/internal/demo"
	"whitebarn/internal/server"
)

// version is that of this White Barn; CHANGELOG.md tells them apart.
const version = "0.22"

const usage = `White Barn settles how to smoke meat by trying it side by side.

  whitebarn serve [flags]       start White Barn
  whitebarn demo [flags]        the same, with demo data
  whitebarn backup              write all that is kept to one file, while all goes on
  whitebarn restore FILE        bring a backup, or the export of a barn, into an empty barn
  whitebarn export              write the barn, or one trial, as CSV tables for others
  whitebarn import FILE         take a trial of another barn in
  whitebarn user                list who has an account; user password NAME gives a new
                                password, user link NAME a link to choose one by
  whitebarn doctor              look at database, disk, clock, devices, certificate
  whitebarn version             say what program this is
  whitebarn calc                list the calculations
  whitebarn calc NAME < IN.json compute one
  whitebarn standin SCRIPT      play a day of simulated devices
  whitebarn openapi             describe the API
  whitebarn access              who may ask for what, by route and role
  whitebarn schema              the JSON Schema of a report
  whitebarn vocabulary          the keys and their words, for the front end
  whitebarn example-log         write the log of the demo's duck legs

Flags of each are shown by -h.
`

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := run(ctx, os.Args[1:], os.Stdin, os.Stdout); err != nil {
		if !errors.Is(err, flag.ErrHelp) {
			fmt.Fprintln(os.Stderr, "whitebarn:", err)
		}
		os.Exit(1)
	}
}

func run(ctx context.Context, args []string, in io.Reader, out io.Writer) error {
	if len(args) == 0 {
		fmt.Fprint(out, usage)
		return nil
	}
	switch command, rest := args[0], args[1:]; command {
	case "serve", "demo":
		return serve(ctx, command, rest, out)
	case "backup":
		return backUp(ctx, rest, out)
	case "restore":
		return restore(ctx, rest, out)
	case "export":
		return export(ctx, rest, out)
	case "import":
		return importTrial(ctx, rest, out)
	case "user":
		return user(ctx, rest, in, out)
	case "doctor":
		return doctor(ctx, rest, out)
	case "version":
		b := records.ThisBuild(version)
		_, err := fmt.Fprintf(out, "White Barn %s\nsource %s, %s\n", b.Version, b.Revision, b.Go)
		return err
	case "calc":
		return calculate(rest, in, out)
	case "standin":
		return playStandin(ctx, rest, out)
	case "vocabulary":
		return write(out, server.Vocabulary)
	case "openapi":
		return write(out, server.OpenAPI)
	case "access":
		return write(out, func() ([]byte, error) { return server.Access(), nil })
	case "schema":
		return write(out, func() ([]byte, error) {
			doc, err := server.OpenAPI()
			if err != nil {
				return nil, err
			}
			text, err := server.ReportSchema(doc)
			return append(text, '\n'), err
		})
	case "example-log":
		return write(out, demo.DuckLog)
	case "help", "-h", "--help":
		fmt.Fprint(out, usage)
		return nil
	default:
		return fmt.Errorf("there is no command %q\n\n%s", command, usage)
	}
}

func write(out io.Writer, make func() ([]byte, error)) error {
	data, err := make()
	if err != nil {
		return err
	}
	_, err = out.Write(data)
	return err
}

func calculate(args []string, in io.Reader, out io.Writer) error {
	switch len(args) {
	case 0:
		for _, c := range calc.All {
			fmt.Fprintf(out, "%-26s %s\n", c.Name, c.Title)
		}
		return nil
	case 1:
	default:
		return errors.New("give one calculation; its input comes on standard input")
	}
	c, ok := calc.Find(args[0])
	if !ok {
		return fmt.Errorf("there is no calculation %q; `whitebarn calc` lists them", args[0])
	}
	input, err := io.ReadAll(in)
	if err != nil {
		return fmt.Errorf("read the input: %w", err)
	}
	answer, err := c.Run(context.Background(), input)
	if err != nil {
		return err
	}
	_, err = fmt.Fprintf(out, "%s\n", answer)
	return err
}
