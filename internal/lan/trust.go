package lan

import (
	"html/template"
	"net"
	"net/http"
)

// Info is what a phone needs to know to come in.
type Info struct {
	Sites       []string `json:"sites"`       // addresses of White Barn on this network
	Names       []string `json:"names"`       // its certificate is for too
	Trust       []string `json:"trust"`       // of the page that says how to trust it
	Guests      []string `json:"guests"`      // of the plain port of ballots; empty where there is none
	Fingerprint string   `json:"fingerprint"` // of the authority
}

// Ports are those of White Barn, of the trust page and of the guests' ballots.
type Ports struct{ Site, Trust, Guests string }

// InfoOf lists the addresses for the ports.
func (b *Barn) InfoOf(addresses []net.IP, p Ports) Info {
	out := Info{Sites: []string{}, Names: Names(), Trust: []string{}, Guests: []string{}, Fingerprint: b.Fingerprint()}
	for _, ip := range addresses {
		if ip.IsLoopback() {
			continue
		}
		out.Sites = append(out.Sites, "https://"+net.JoinHostPort(ip.String(), p.Site))
		out.Trust = append(out.Trust, "http://"+net.JoinHostPort(ip.String(), p.Trust))
		out.Guests = append(out.Guests, "http://"+net.JoinHostPort(ip.String(), p.Guests))
	}
	if len(out.Sites) == 0 { // a machine without a network
		out.Sites, out.Trust = []string{"https://localhost:" + p.Site}, []string{"http://localhost:" + p.Trust}
		out.Guests = []string{"http://localhost:" + p.Guests}
	}
	return out
}

// TrustPage answers without HTTPS, since a phone cannot trust before it has the
// certificate: how to do that, the certificate, and the way to White Barn. It
// gives nothing else.
func (b *Barn) TrustPage(info Info) http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /white-barn.crt", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "application/x-x509-ca-cert")
		w.Header().Set("Content-Disposition", `attachment; filename="white-barn.crt"`)
		_, _ = w.Write(b.PEM())
	})
	mux.HandleFunc("GET /{$}", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		w.Header().Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'")
		_ = page.Execute(w, info)
	})
	return mux
}

var page = template.Must(template.New("trust").Parse(`<!doctype html>
<html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>Trust this White Barn</title>
<style>body{font:17px/1.4 sans-serif;max-width:40rem;margin:1rem auto;padding:0 1rem;color:#12181A;background:#F1F4F0}
a.do{display:inline-block;padding:1rem;border:2px solid #12181A;border-radius:6px;background:#fff;color:#12181A;font-weight:700}
code{overflow-wrap:anywhere}</style>
<h1>Trust this White Barn</h1>
<p>A phone keeps its screen awake, tells you of alarms and works offline only on a page it trusts. Once it holds the barn's certificate, it does.</p>
<ol>
<li><p><a class="do" href="/white-barn.crt">Get the certificate</a></p></li>
<li><p>Compare its SHA-256 fingerprint with the one on the screen of the machine that runs White Barn, under Crew:</p><p><code>{{.Fingerprint}}</code></p></li>
<li><p>Install it. On iOS: open it, then Settings, General, VPN &amp; Device Management, install; then Settings, General, About, Certificate Trust Settings, turn it on. On Android: Settings, Security, Encryption and credentials, Install a certificate, CA certificate. On a computer: import it among the authorities of the browser or the system.</p></li>
<li>{{range .Sites}}<p><a class="do" href="{{.}}">Open White Barn</a> <code>{{.}}</code></p>{{end}}</li>
</ol>
<p>The certificate can speak for addresses of home networks alone, and its key never leaves that machine. Remove it from the phone when you no longer use White Barn.</p>
</html>`))
