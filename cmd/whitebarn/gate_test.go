package main

import (
	"crypto/tls"
	"crypto/x509"
	"io"
	"net/http"
	"strings"
	"testing"
)

func TestTheLocalNetworkComesInOverHTTPS(t *testing.T) {
	folder := freshFolder(t)
	r := start(t, "serve", "-lan", "-addr", "0.0.0.0:0", "-trust", "0.0.0.0:0", "-guests", "0.0.0.0:0", "-data", folder)
	_, after, _ := strings.Cut(r.output.String(), "trust it at ")
	trust := strings.Fields(after)[0]
	res, err := http.Get(trust + "/white-barn.crt")
	if err != nil {
		t.Fatal(err)
	}
	cert, _ := io.ReadAll(res.Body)
	_ = res.Body.Close()
	trusts := x509.NewCertPool()
	if !strings.HasPrefix(r.site, "https://") || !trusts.AppendCertsFromPEM(cert) {
		t.Fatalf("at %s the certificate is %q, of %s", trust, cert, r.site)
	}
	phone := &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: trusts}}}
	if res, err = phone.Get(r.site + "/api/session"); err != nil {
		t.Fatal(err)
	}
	_ = res.Body.Close()
	if res.StatusCode != http.StatusOK {
		t.Errorf("a phone that trusts the barn is answered with %s", res.Status)
	}
	if _, err := http.Get(r.site + "/api/session"); err == nil {
		t.Error("one that does not trust it comes in")
	}
	if res, err = http.Get(trust + "/api/session"); err != nil || res.StatusCode != http.StatusNotFound {
		t.Errorf("without HTTPS the barn itself answers: %v (%v)", res.Status, err)
	}
	if _, err := openGate(folder+"/lan", nil, strings.TrimPrefix(trust, "http://"), "127.0.0.1:0"); err == nil ||
		!strings.Contains(err.Error(), "-trust HOST:PORT") {
		t.Errorf("with the port of the trust page taken: %v", err)
	}
	r.end()
}
