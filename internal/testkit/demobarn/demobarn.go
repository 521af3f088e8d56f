// Package demobarn gives tests clones of the demo barn as it is at one moment, which is filled
// once for the packages of all tests.
package demobarn

import (
	"context"
	"testing"
	"time"

	"whitebarn/internal/auth"
	"whitebarn/internal/demo"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// Now is when the demo begins.
var Now = time.Date(2026, 10, 1, 15, 0, 0, 0, time.UTC)

var shared = pgtest.Shared{Name: "demo", Fill: func(ctx context.Context, s *store.Store) error {
	return demo.Seed(ctx, s, auth.Cheap, Now)
}}

// Main runs the tests of a package that begins from the demo.
func Main(m *testing.M) int { return pgtest.Main(m, shared) }

// Store opens a store on a clone for one test.
func Store(t testing.TB) *store.Store { return shared.Store(t) }

// URL is the address of a clone for one test.
func URL(t testing.TB) string { return shared.URL(t) }
