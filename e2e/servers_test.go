package e2e

import (
	"net/http"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
	"sync/atomic"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"

	"whitebarn/internal/auth"
	"whitebarn/internal/server"
	"whitebarn/internal/services"
	"whitebarn/internal/store"
	"whitebarn/web"
)

// TestTwoServersShareOneBarn follows a burning cook through two servers of one database, behind
// a proxy as a barn that outgrew one machine has it: what is pressed at one is seen at the
// other, and when one is killed its browser moves over, still signed in, with nothing lost.
func TestTwoServersShareOneBarn(t *testing.T) {
	t.Parallel()
	first := demoSeed.Store(t)
	second, err := store.Open(t.Context(), first.Pool().Config().ConnString())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(second.Close)
	var to [2]*httptest.Server
	var kill [2]func()
	for i, s := range []*store.Store{first, second} {
		srv, handler := server.New(services.New(s, time.Now, auth.Cheap, &plans), server.Options{Dist: web.Dist()})
		to[i] = httptest.NewServer(handler)
		kill[i] = func() { to[i].CloseClientConnections(); to[i].Close(); srv.Close() }
	}
	t.Cleanup(kill[1])
	var at atomic.Int32
	front := httptest.NewServer(&httputil.ReverseProxy{FlushInterval: -1, Rewrite: func(r *httputil.ProxyRequest) {
		target, _ := url.Parse(to[at.Load()].URL)
		r.SetURL(target)
		r.Out.Host = r.In.Host
	}, ErrorHandler: func(w http.ResponseWriter, _ *http.Request, _ error) { w.WriteHeader(http.StatusBadGateway) }})
	t.Cleanup(front.Close)

	moving := open(t, front.URL, "/", 1280, 800)
	moving.Expect("answered 502")
	moving.Expect("net::ERR_")
	moving.Expect("failed")
	moving.signIn("tove")
	moving.visit(front.URL, "/trials/4/fire", "[data-testid=wire]", "live")
	stays := open(t, to[1].URL, "/", 1280, 800)
	stays.signIn("bram")
	stays.visit(to[1].URL, "/trials/4/fire", "[data-testid=wire]", "live")

	// One wrote through the first server, the other reads through the second, and back.
	moving.key(input.KeyB)
	stays.see("[data-testid=event-log]", "Bark")
	stays.key(input.KeyS)
	moving.see("[data-testid=event-log]", "Spritz")

	kill[0]()
	moving.see("[data-testid=wire]", "Connection lost")
	moving.key(input.KeyL)
	at.Store(1)
	moving.see("[data-testid=wire]", "live")
	// The press waits on its device until the other server has it.
	lids := func() (n int) {
		err := second.Pool().QueryRow(t.Context(), `select count(distinct press) from events where act = 'lid' and recorded_by =
			(select id from people where name = 'Tove') and recorded_at > now() - interval '5 minutes'`).Scan(&n)
		if err != nil {
			t.Fatal(err)
		}
		return n
	}
	for end := time.Now().Add(30 * time.Second); lids() == 0 && time.Now().Before(end); {
		time.Sleep(50 * time.Millisecond)
	}
	moving.gone("[data-testid=outbox]")
	if n := lids(); n != 1 {
		t.Errorf("what was pressed between the servers is there %d times, want once", n)
	}
}
