package main

import (
	"crypto/tls"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"time"

	"whitebarn/internal/lan"
)

// gate is White Barn's way into the local network.
type gate struct {
	secure net.Listener // TLS, with a certificate of the barn's own
	info   lan.Info
	trust  *http.Server
	guests net.Listener // plain: ballots alone
}

// openGate puts HTTPS before a listener and tells phones how to trust it.
func openGate(dir string, plain net.Listener, trustAddr, guestAddr string) (*gate, error) {
	barn, err := lan.Open(dir, time.Now())
	if err != nil {
		return nil, err
	}
	addresses, err := lan.Addresses()
	if err != nil {
		return nil, err
	}
	cert, err := barn.Certificate(addresses, time.Now())
	if err != nil {
		return nil, err
	}
	page, err := net.Listen("tcp", trustAddr)
	if err != nil {
		return nil, fmt.Errorf("listen on %s for the page that tells phones how to trust White Barn: %w; choose another with -trust HOST:PORT", trustAddr, err)
	}
	guests, err := net.Listen("tcp", guestAddr)
	if err != nil {
		_ = page.Close()
		return nil, fmt.Errorf("listen on %s for the guests' ballots: %w; choose another with -guests HOST:PORT", guestAddr, err)
	}
	port := func(l net.Listener) string {
		_, p, _ := net.SplitHostPort(l.Addr().String())
		return p
	}
	info := barn.InfoOf(addresses, lan.Ports{Site: port(plain), Trust: port(page), Guests: port(guests)})
	g := &gate{
		secure: tls.NewListener(plain, &tls.Config{Certificates: []tls.Certificate{cert}, MinVersion: tls.VersionTLS12}),
		info:   info,
		guests: guests,
		trust:  &http.Server{Handler: barn.TrustPage(info), ReadHeaderTimeout: 10 * time.Second},
	}
	go func() {
		if err := g.trust.Serve(page); err != http.ErrServerClosed {
			slog.Error("the page that tells phones how to trust White Barn has ended", "error", err)
		}
	}()
	return g, nil
}

// Close ends the trust page and the guests' port.
func (g *gate) Close() {
	_ = g.trust.Close()
	_ = g.guests.Close()
}
