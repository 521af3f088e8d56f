// Package exchange writes a barn's records in open formats and reads them back.
package exchange

import (
	"fmt"
	"io"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"

	"whitebarn/core/plan"
)

// Calendar is what a cook's calendar is made from.
type Calendar struct {
	Name    string // of the trial
	CookID  int64
	Link    string // to the plan
	Stamped time.Time
	Plan    plan.Plan
	People  []string
	Pits    []string
}

// WriteCalendar writes the tasks of a cook and its serving as iCalendar (RFC
// 5545), times in UTC. The same plan gives the same bytes, and a task keeps its
// UID when it moves, so that a subscribed calendar moves it too.
func WriteCalendar(w io.Writer, c Calendar) error {
	cal := ics.NewCalendarFor("White Barn")
	cal.SetMethod(ics.MethodPublish)
	cal.SetXWRCalName(c.Name)
	cal.SetRefreshInterval("PT15M", ics.WithValue(string(ics.ValueDataTypeDuration)))
	cal.SetXPublishedTTL("PT15M")
	add := func(uid string, from time.Time, length time.Duration, summary, description string, warn bool) {
		e := cal.AddEvent(fmt.Sprintf("%s-cook%d@white-barn", uid, c.CookID))
		e.SetDtStampTime(c.Stamped.UTC())
		e.SetStartAt(from.UTC())
		e.SetEndAt(from.Add(length).UTC())
		e.SetSummary(summary)
		e.SetDescription(description)
		e.SetURL(c.Link)
		if warn {
			a := e.AddAlarm()
			a.SetAction(ics.ActionDisplay)
			a.SetTrigger("-PT10M")
			a.SetProperty(ics.ComponentPropertyDescription, summary)
		}
	}
	seen := map[string]int{}
	for _, t := range c.Plan.Tasks {
		who := "nobody yet"
		if t.Person >= 0 && t.Person < len(c.People) {
			who = c.People[t.Person]
		}
		about := []string{"By " + who + "."}
		if t.Pit >= 0 && t.Pit < len(c.Pits) {
			about = append(about, "At "+c.Pits[t.Pit]+".")
		}
		if spread := t.At.Late.Sub(t.At.Early); spread > 0 {
			about = append(about, fmt.Sprintf("Likely between %s and %s, 8 times in 10.", t.At.Early.In(c.Plan.Serve.Location()).Format("Mon 15:04"), t.At.Late.In(c.Plan.Serve.Location()).Format("Mon 15:04")))
		}
		kind := fmt.Sprintf("%s-%d-%d", strings.ReplaceAll(string(t.Act), " ", "-"), t.Arm+1, t.Pit+1)
		seen[kind]++
		add(fmt.Sprintf("%s-%d", kind, seen[kind]), t.At.Middle, time.Duration(t.ForS*float64(time.Second)), t.Words, strings.Join(about, " "), true)
	}
	add("table", c.Plan.Serve, time.Hour, "On the table: "+c.Name, fmt.Sprintf("All is ready in time %s.", plan.Tens(c.Plan.Ready)), false)
	return cal.SerializeTo(w)
}
