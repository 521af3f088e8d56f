package lan

import (
	"crypto/tls"
	"crypto/x509"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

// ask calls a server that shows a certificate of the barn's for the addresses.
func ask(t *testing.T, b *Barn, addresses []net.IP, trusts *x509.CertPool) (string, error) {
	t.Helper()
	cert, err := b.Certificate(addresses, time.Now())
	if err != nil {
		t.Fatal(err)
	}
	s := httptest.NewUnstartedServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { _, _ = io.WriteString(w, "the barn") }))
	s.TLS = &tls.Config{Certificates: []tls.Certificate{cert}}
	s.Config.ErrorLog = nil
	s.StartTLS()
	defer s.Close()
	client := &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: trusts}}}
	res, err := client.Get(s.URL)
	if err != nil {
		return "", err
	}
	defer res.Body.Close()
	text, err := io.ReadAll(res.Body)
	return string(text), err
}

func TestAPhoneThatTrustsTheBarnComesIn(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "lan")
	b, err := Open(dir, time.Now())
	if err != nil {
		t.Fatal(err)
	}
	again, err := Open(dir, time.Now())
	if err != nil || again.Fingerprint() != b.Fingerprint() || len(b.Fingerprint()) != 32*3-1 {
		t.Fatalf("opened again it is %q (%v), was %q", again.Fingerprint(), err, b.Fingerprint())
	}
	info, err := os.Stat(filepath.Join(dir, "authority.pem"))
	if err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("the key may be read by others: %v (%v)", info.Mode(), err)
	}
	trusts := x509.NewCertPool()
	trusts.AppendCertsFromPEM(b.PEM())
	loopback := []net.IP{net.IPv4(127, 0, 0, 1)}
	if text, err := ask(t, again, loopback, trusts); err != nil || text != "the barn" {
		t.Errorf("with the certificate it answers %q (%v)", text, err)
	}
	if _, err := ask(t, b, loopback, x509.NewCertPool()); err == nil {
		t.Error("without the certificate a phone trusts it")
	}
	if _, err := ask(t, b, []net.IP{net.IPv4(192, 168, 1, 7)}, trusts); err == nil {
		t.Error("a certificate of another address is trusted")
	}
	// Who has the key cannot stand for an address of the Internet.
	if _, err := ask(t, b, append(loopback, net.IPv4(203, 0, 113, 9)), trusts); err == nil {
		t.Error("the barn can speak for an address of the public Internet")
	}
	later, err := Open(dir, time.Now().Add(11*365*24*time.Hour))
	if err != nil || later.Fingerprint() == b.Fingerprint() {
		t.Errorf("after eleven years the authority is still the old one (%v)", err)
	}
}

func TestABrokenAuthorityIsSaid(t *testing.T) {
	dir := t.TempDir()
	for _, text := range []string{"", "not a certificate", "-----BEGIN CERTIFICATE-----\naGVsbG8=\n-----END CERTIFICATE-----\n"} {
		if err := os.WriteFile(filepath.Join(dir, "authority.pem"), []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
		if _, err := Open(dir, time.Now()); err == nil {
			t.Errorf("an authority of %q is opened", text)
		}
	}
}

func TestTheTrustPageGivesTheCertificateAndNoMore(t *testing.T) {
	b, err := Open(t.TempDir(), time.Now())
	if err != nil {
		t.Fatal(err)
	}
	info := b.InfoOf([]net.IP{net.IPv4(192, 168, 1, 7), net.IPv4(127, 0, 0, 1)}, Ports{"8443", "8080", "8081"})
	s := httptest.NewServer(b.TrustPage(info))
	defer s.Close()
	for path, want := range map[string]struct {
		status int
		words  string
	}{
		"/": {200, `href="https://192.168.1.7:8443"`}, "/white-barn.crt": {200, "BEGIN CERTIFICATE"}, "/api/trials": {404, ""}, "/authority.pem": {404, ""},
	} {
		res, err := http.Get(s.URL + path)
		if err != nil {
			t.Fatal(err)
		}
		text, _ := io.ReadAll(res.Body)
		_ = res.Body.Close()
		if res.StatusCode != want.status || !strings.Contains(string(text), want.words) || strings.Contains(string(text), "PRIVATE KEY") {
			t.Errorf("%s answers %d %.80s, want %d with %q", path, res.StatusCode, text, want.status, want.words)
		}
		if path == "/" && !strings.Contains(string(text), info.Fingerprint) {
			t.Error("the page does not show the fingerprint")
		}
	}
}

func TestHomeAddresses(t *testing.T) {
	for text, want := range map[string]bool{"192.168.0.4": true, "10.1.2.3": true, "172.31.0.1": true, "172.32.0.1": false, "8.8.8.8": false, "127.0.0.1": true, "fd00::1": true, "2001:db8::1": false} {
		if IsHome(net.ParseIP(text)) != want {
			t.Errorf("%s on a home network: %t", text, !want)
		}
	}
	all, err := Addresses()
	if err != nil {
		t.Fatal(err)
	}
	for i, ip := range all {
		if !IsHome(ip) || i > 0 && all[i-1].IsLoopback() && !ip.IsLoopback() {
			t.Errorf("the machine's addresses are %v", all)
		}
	}
}
