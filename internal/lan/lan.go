// Package lan lets a barn's own network in over HTTPS. It makes the barn a
// certificate authority of its own, once, and with it a certificate for the
// addresses the machine has now.
package lan

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"errors"
	"fmt"
	"io/fs"
	"math/big"
	"net"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// Barn is the authority of a barn, which its phones are told to trust.
type Barn struct {
	cert *x509.Certificate
	key  *ecdsa.PrivateKey
}

// Lifetimes: phones refuse a server's certificate of more than 398 days; it is
// made anew at each start.
const (
	authorityFor = 10 * 365 * 24 * time.Hour
	serverFor    = 397 * 24 * time.Hour
	early        = time.Hour // for phones whose clocks are slow
)

// home are the networks that the authority can speak for: those that no
// address of the public Internet lies in (RFC 1918, RFC 3927, RFC 4193, RFC 4291).
var home = []string{"10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "127.0.0.0/8", "fc00::/7", "fe80::/10", "::1/128"}

// Open reads the authority from its folder, or makes one there. Its key stays
// in that folder.
func Open(dir string, now time.Time) (*Barn, error) {
	text, err := os.ReadFile(filepath.Join(dir, "authority.pem"))
	if errors.Is(err, fs.ErrNotExist) {
		return found(dir, now)
	}
	if err != nil {
		return nil, fmt.Errorf("read the barn's authority: %w", err)
	}
	b := &Barn{}
	for block, rest := pem.Decode(text); block != nil; block, rest = pem.Decode(rest) {
		switch block.Type {
		case "CERTIFICATE":
			b.cert, err = x509.ParseCertificate(block.Bytes)
		case "EC PRIVATE KEY":
			b.key, err = x509.ParseECPrivateKey(block.Bytes)
		}
		if err != nil {
			return nil, fmt.Errorf("read the barn's authority: %w", err)
		}
	}
	if b.cert == nil || b.key == nil {
		return nil, fmt.Errorf("%s holds no certificate and key; remove it, and phones must trust the new one", filepath.Join(dir, "authority.pem"))
	}
	if now.After(b.cert.NotAfter) {
		return found(dir, now)
	}
	return b, nil
}

// found makes an authority and keeps it.
func found(dir string, now time.Time) (*Barn, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	b := &Barn{}
	var err error
	if b.key, err = ecdsa.GenerateKey(elliptic.P256(), rand.Reader); err != nil {
		return nil, err
	}
	host := hostName()
	t := &x509.Certificate{
		SerialNumber: serial(), Subject: pkix.Name{CommonName: "White Barn at " + host}, NotBefore: now.Add(-early), NotAfter: now.Add(authorityFor),
		IsCA: true, BasicConstraintsValid: true, MaxPathLenZero: true, KeyUsage: x509.KeyUsageCertSign,
		PermittedDNSDomainsCritical: true, PermittedDNSDomains: []string{"localhost", "local", "lan", "home.arpa", host},
	}
	for _, n := range home {
		_, network, err := net.ParseCIDR(n)
		if err != nil {
			return nil, err
		}
		t.PermittedIPRanges = append(t.PermittedIPRanges, network)
	}
	der, err := x509.CreateCertificate(rand.Reader, t, t, &b.key.PublicKey, b.key)
	if err != nil {
		return nil, fmt.Errorf("make the barn's authority: %w", err)
	}
	if b.cert, err = x509.ParseCertificate(der); err != nil {
		return nil, err
	}
	key, err := x509.MarshalECPrivateKey(b.key)
	if err != nil {
		return nil, err
	}
	text := append(b.PEM(), pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: key})...)
	return b, os.WriteFile(filepath.Join(dir, "authority.pem"), text, 0o600)
}

func serial() *big.Int {
	n, _ := rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 120))
	return n
}

func hostName() string {
	name, err := os.Hostname()
	if err != nil || name == "" {
		return "white-barn"
	}
	return strings.ToLower(name)
}

// Names are those of the machine that a certificate is for.
func Names() []string { return []string{hostName(), hostName() + ".local"} }

// PEM is the authority's certificate, without its key.
func (b *Barn) PEM() []byte {
	return pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: b.cert.Raw})
}

// Fingerprint is what a person compares on two screens.
func (b *Barn) Fingerprint() string {
	sum := sha256.Sum256(b.cert.Raw)
	return strings.ReplaceAll(fmt.Sprintf("% X", sum), " ", ":")
}

// Certificate is one for the given addresses and the machine's names.
func (b *Barn) Certificate(addresses []net.IP, now time.Time) (tls.Certificate, error) {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return tls.Certificate{}, err
	}
	host := hostName()
	t := &x509.Certificate{
		SerialNumber: serial(), Subject: pkix.Name{CommonName: host}, NotBefore: now.Add(-early), NotAfter: now.Add(serverFor),
		KeyUsage: x509.KeyUsageDigitalSignature, ExtKeyUsage: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
		DNSNames: append([]string{"localhost"}, Names()...), IPAddresses: addresses,
	}
	der, err := x509.CreateCertificate(rand.Reader, t, b.cert, &key.PublicKey, b.key)
	if err != nil {
		return tls.Certificate{}, fmt.Errorf("make the server's certificate: %w", err)
	}
	return tls.Certificate{Certificate: [][]byte{der, b.cert.Raw}, PrivateKey: key}, nil
}

// Addresses are the machine's own on networks of a home, loopback last.
func Addresses() ([]net.IP, error) {
	all, err := net.InterfaceAddrs()
	if err != nil {
		return nil, fmt.Errorf("ask for the machine's addresses: %w", err)
	}
	var out []net.IP
	for _, a := range all {
		n, ok := a.(*net.IPNet)
		if ok && IsHome(n.IP) && !n.IP.IsLinkLocalUnicast() {
			out = append(out, n.IP)
		}
	}
	slices.SortStableFunc(out, func(a, b net.IP) int {
		rank := map[bool]int{false: 0, true: 1}
		return rank[a.IsLoopback()] - rank[b.IsLoopback()]
	})
	return out, nil
}

// IsHome says whether an address lies on a network of a home.
func IsHome(ip net.IP) bool {
	return slices.ContainsFunc(home, func(n string) bool {
		_, network, err := net.ParseCIDR(n)
		return err == nil && network.Contains(ip)
	})
}

// Until is when the authority ends.
func (b *Barn) Until() time.Time { return b.cert.NotAfter }
