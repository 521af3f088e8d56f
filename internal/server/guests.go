package server

import (
	"context"
	"log/slog"
	"net/http"
	"path"
	"strings"

	"whitebarn/internal/barn/people"
)

// Guests is the plain port of the local network, for phones that trust no certificate of the
// barn: it answers ballots and what their page is made of, and nothing else, while the
// pitmaster lets guests in by it. No session is known here: each link opens its own ballot,
// on its own phone.
func (s *Server) Guests(all http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		open, err := s.guestsComeIn(r.Context())
		switch {
		case err != nil:
			slog.ErrorContext(r.Context(), "guests cannot be let in", "error", err)
			http.Error(w, "The record cannot be reached just now. Try again in a moment.", http.StatusServiceUnavailable)
			return
		case !open:
			http.Error(w, "The pitmaster has not let guests in this way. Ask for the code on your place card.", http.StatusForbidden)
			return
		case !forGuests(path.Clean(r.URL.Path)):
			http.Error(w, "Only ballots are answered here.", http.StatusNotFound)
			return
		}
		cookies := r.Cookies()
		r.Header.Del("Cookie")
		for _, c := range cookies {
			if c.Name == phoneCookie || c.Name == guestCookie {
				r.AddCookie(c)
			}
		}
		all.ServeHTTP(w, r)
	})
}

// forGuests says whether a path is of a ballot or of its page.
func forGuests(p string) bool {
	for _, of := range []string{"/taste/", "/api/taste/", "/join/", "/api/join/", "/assets/"} {
		if strings.HasPrefix(p, of) {
			return true
		}
	}
	return p == "/join" || p == "/api/join" || p == "/favicon.svg" || p == "/icon-192.png" || p == "/barn.webmanifest"
}

func (s *Server) guestsComeIn(ctx context.Context) (bool, error) {
	house, _, err := s.People.Here(ctx, people.Session{})
	return house != nil && house.Guests, err
}

// guestSite is where a taster's code leads: to the plain port where guests come in by it,
// else empty, to this site.
func (s *Server) guestSite(ctx context.Context) (string, error) {
	if s.lan == nil || len(s.lan.Guests) == 0 {
		return "", nil
	}
	open, err := s.guestsComeIn(ctx)
	if err != nil || !open {
		return "", err
	}
	return s.lan.Guests[0], nil
}
