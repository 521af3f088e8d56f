package e2e

import (
	"fmt"
	"io"
	"testing"
	"time"

	"whitebarn/internal/demo"
)

// TestALogIsPutInItsTime imports a file that was written in UTC, whose readings would lie ahead, and one that
// counts minutes from its start.
func TestALogIsPutInItsTime(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 900)
	u.visit(site, "/trials/4/fire", "[data-testid=wire]", "live")
	choose := func(name string, write func(io.Writer)) {
		u.click("[data-testid=open-import]")
		u.find("[data-testid=log-file]").MustSetFiles(file(t, name, write))
		u.see("[data-testid=log-read]", "61 readings")
	}
	from := time.Now().UTC().Add(-90 * time.Minute)
	choose("grey box.csv", func(w io.Writer) {
		fmt.Fprintln(w, "time,probe (F)")
		for i := range 61 {
			fmt.Fprintf(w, "%s,%d\n", from.Add(time.Duration(i)*time.Minute).Format(time.DateTime), 245+i%11)
		}
	})
	u.see("[data-testid=future]", "61 readings lie after now")
	u.Expect("/logs answered 422")
	u.click("[data-testid=import-log]")
	u.see("[data-testid=problem]", "as times of UTC none of them does")
	u.whole()
	u.click("[data-testid=likely-zone]")
	u.see("[data-testid=log-read]", "(UTC)")
	u.gone("[data-testid=future]")
	u.click("[data-testid=import-log]")
	u.see("[data-testid=imported]", "61 readings added")
	u.click("[data-testid=import-done]")

	choose("no clock.csv", func(w io.Writer) {
		fmt.Fprintln(w, "t,core (F)")
		for i := range 61 {
			fmt.Fprintf(w, "%d,%d\n", i, 40+i)
		}
	})
	u.pressIn("[data-testid=log-elapsed] button", "minutes")
	zone, err := time.LoadLocation(demo.Zone)
	if err != nil {
		t.Fatal(err)
	}
	u.day(`input[aria-label="Start of the log, day"]`, time.Now().In(zone).AddDate(0, 0, -1).Format(time.DateOnly))
	u.enter(`input[aria-label="Start of the log, clock"]`, "1205")
	u.see("[data-testid=log-read]", "12:05 to")
	u.see("[data-testid=log-read]", "13:05")
	u.whole()
	u.click("[data-testid=import-log]")
	u.see("[data-testid=imported]", "61 readings added")
}
