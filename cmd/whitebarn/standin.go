package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"time"

	"whitebarn/internal/standin"
)

const standinUsage = `whitebarn standin [flags] SCRIPT.yaml plays a day of devices against a White Barn.

The device is added under Pits; its token goes with -token or in BARN_TOKEN.
Without -at the day is printed as CSV lines instead, as fast as it can be
played. docs/standin.md describes the script.

`

// playStandin is the command standin.
func playStandin(ctx context.Context, args []string, out io.Writer) error {
	flags := flag.NewFlagSet("standin", flag.ContinueOnError)
	flags.SetOutput(out)
	flags.Usage = func() { fmt.Fprint(out, standinUsage); flags.PrintDefaults() }
	site := flags.String("at", "", "address of White Barn, as http://127.0.0.1:8080")
	token := flags.String("token", os.Getenv("BARN_TOKEN"), "token of the device")
	rate := flags.Float64("rate", 1, "times as fast as the true time, 1 to 600")
	if err := flags.Parse(args); err != nil {
		return err
	}
	if flags.NArg() != 1 {
		flags.Usage()
		return errors.New("give one script")
	}
	if !(*rate >= 1 && *rate <= 600) {
		return fmt.Errorf("-rate %g is outside 1 to 600", *rate)
	}
	text, err := os.ReadFile(flags.Arg(0))
	if err != nil {
		return err
	}
	script, err := standin.Parse(text)
	if err != nil {
		return fmt.Errorf("%s: %w", flags.Arg(0), err)
	}
	if *site == "" {
		return printDay(script, out)
	}
	at := standin.Site{Address: *site, Token: *token}
	last, now, err := self(ctx, at)
	if err != nil {
		return err
	}
	b, err := standin.New(script, now)
	if err != nil {
		return err
	}
	// A device goes on numbering where it stopped.
	s := standin.NewSender(at.Deliver)
	s.From(last)
	began := time.Now()
	clock := func() time.Time { return now.Add(time.Duration(float64(time.Since(began)) * *rate)) }
	fmt.Fprintf(out, "Playing %s at %g times the true time, from %s.\n", script.Name, *rate, now.Format(time.RFC3339))
	err = standin.Run(ctx, b, s, clock, nil)
	if errors.Is(err, context.Canceled) && ctx.Err() != nil {
		err = nil
	}
	if n := s.Waiting(); n > 0 {
		fmt.Fprintf(out, "%d readings were not acknowledged.\n", n)
	}
	return err
}

// self waits for a barn that does not answer yet.
func self(ctx context.Context, at standin.Site) (last int64, now time.Time, err error) {
	for wait := 200 * time.Millisecond; ; wait = min(2*wait, 5*time.Second) {
		last, now, err = at.Self(ctx)
		if err == nil || errors.Is(err, standin.ErrRefused) {
			return last, now, err
		}
		select {
		case <-ctx.Done():
			return 0, now, fmt.Errorf("reach the barn: %w", err)
		case <-time.After(wait):
		}
	}
}

// printDay plays a whole day and prints its readings as a device sends them.
func printDay(script standin.Script, out io.Writer) error {
	if script.Length <= 0 {
		return errors.New("the script has no length; give it one, or -at")
	}
	start := time.Date(2026, 10, 3, 9, 0, 0, 0, time.UTC)
	b, err := standin.New(script, start)
	if err != nil {
		return err
	}
	fmt.Fprintln(out, "seq,channel,at,value,unit")
	n := 0
	return b.Advance(start.Add(time.Duration(script.Length)), func(r standin.Reading) {
		n++
		unit := "C"
		if r.Weight {
			unit = "kg"
		}
		fmt.Fprintf(out, "%d,%s,%s,%.2f,%s\n", n, r.Channel, r.At.Format(time.RFC3339), r.Value, unit)
	})
}
