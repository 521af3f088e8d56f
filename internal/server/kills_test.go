package server

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/internal/testkit/pgtest"
)

// TestNoPressIsLostOrDoubledUnderKills kills PostgreSQL at random while four hands press
// and send again what was not acknowledged, as an outbox does. KILLS says how often;
// make chaos kills oftener.
func TestNoPressIsLostOrDoubledUnderKills(t *testing.T) {
	kills := 3
	if n, err := strconv.Atoi(os.Getenv("KILLS")); err == nil {
		kills = n
	}
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	path := fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID)
	over := make(chan struct{})
	var writers sync.WaitGroup
	pressed := make([][]string, 4)
	for w := range pressed {
		writers.Go(func() {
			for n := 0; ; n++ {
				select {
				case <-over:
					return
				default:
				}
				press := uuid.NewString()
				body, _ := json.Marshal(EventInput{Act: logbook.Note, Note: fmt.Sprintf("hand %d, press %d", w, n), Press: press})
				for status, tries := 0, 0; status != 201; tries++ {
					if status, _ = odalys.send("POST", path, "application/json", strings.NewReader(string(body))); status != 201 {
						time.Sleep(20 * time.Millisecond)
					}
					if tries > 500 {
						t.Errorf("press %s is answered %d for ten seconds", press, status)
						return
					}
				}
				pressed[w] = append(pressed[w], press)
			}
		})
	}
	for range kills {
		time.Sleep(time.Duration(200+rand.IntN(800)) * time.Millisecond)
		pgtest.Kill(t)
	}
	time.Sleep(300 * time.Millisecond)
	close(over)
	writers.Wait()
	total := 0
	for _, mine := range pressed {
		total += len(mine)
		for _, press := range mine {
			if n := b.count("select count(*) from events where press = '" + press + "'"); n != 1 {
				t.Errorf("the acknowledged press %s stands %d times", press, n)
			}
		}
	}
	if all := b.count("select count(distinct press) from events where act = 'note'"); total < 4*kills || all != total {
		t.Errorf("%d presses were acknowledged and %v are there", total, all)
	}
	t.Logf("%d presses, %d kills", total, kills)
}
