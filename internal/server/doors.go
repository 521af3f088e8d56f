package server

import (
	"fmt"
	"net"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"whitebarn/internal/lan"
)

// secure says whether browsers come in over HTTPS: from the local network, or by a name that a
// proxy answers for. On the machine itself there is none.
func (s *Server) secure() bool { return s.lan != nil || len(s.hosts) > 0 }

// cookie is the name of a cookie. Over HTTPS its prefix keeps others on the network, and plain
// ports of the same name, from setting it.
func (s *Server) cookie(name string) string {
	if s.secure() {
		return "__Host-" + name
	}
	return name
}

// siteOf is where links lead that are sent to others.
func (s *Server) siteOf(c *gin.Context) string {
	switch {
	case s.lan != nil && len(s.lan.Sites) > 0:
		return s.lan.Sites[0]
	case len(s.hosts) > 0:
		return "https://" + s.hosts[0]
	}
	return s.address(c)
}

// scheme is what the page that asks came over; a proxy answers for our names over HTTPS.
func (s *Server) scheme(c *gin.Context) string {
	if c.Request.TLS != nil || slices.Contains(s.hosts, hostOf(c.Request)) {
		return "https"
	}
	return "http"
}

// address is this site as the page that asks names it.
func (s *Server) address(c *gin.Context) string { return s.scheme(c) + "://" + c.Request.Host }

// hostOf is the name or address that a request asks for, in small letters.
func hostOf(r *http.Request) string {
	host := r.Host
	if name, _, err := net.SplitHostPort(host); err == nil {
		host = name
	}
	return strings.ToLower(strings.Trim(host, "[]"))
}

// knownHosts answers only where it is asked for by an address, as localhost, by a name of the
// machine, or by one it was given: a page elsewhere whose name was made to lead here gets nothing.
func (s *Server) knownHosts(next http.Handler) http.Handler {
	names := slices.Concat([]string{"localhost"}, lan.Names(), s.hosts)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if host := hostOf(r); net.ParseIP(host) == nil && !slices.Contains(names, host) {
			w.Header().Set("Content-Type", "application/problem+json")
			w.WriteHeader(http.StatusMisdirectedRequest)
			fmt.Fprint(w, `{"status":421,"title":"This barn does not go by that name.",`+
				`"remedy":"Open it by its address, or start it with -host NAME.","errors":[]}`)
			return
		}
		next.ServeHTTP(w, r)
	})
}

// aYear is how long a browser asks for the barn's name over HTTPS alone.
const aYear = "max-age=31536000"

func (s *Server) securityHeaders(next http.Handler) http.Handler {
	const csp = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; " +
		"object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", csp)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		h.Set("Permissions-Policy", "camera=(self), geolocation=(), microphone=(), payment=(), usb=()")
		if inAPI(r.URL.Path) {
			h.Set("Cache-Control", "no-store")
		} else if s.secure() && !strings.HasPrefix(r.URL.Path, "/assets/") {
			h.Set("Strict-Transport-Security", s.strictly(r))
		}
		next.ServeHTTP(w, r)
	})
}

// strictly says how long a browser asks for the barn over HTTPS alone. Where guests come in by
// the plain port of the same name it must not: a browser that was told so forgets it.
func (s *Server) strictly(r *http.Request) string {
	if s.lan == nil {
		return aYear
	}
	if open, err := s.guestsComeIn(r.Context()); open || err != nil {
		return "max-age=0"
	}
	return aYear
}
