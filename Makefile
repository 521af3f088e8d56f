# Without the paths of this folder, what was built in one clone is not built again in the next.
export GOFLAGS := -tags=nomsgpack -trimpath
ADDR ?= 127.0.0.1:8080
STATICCHECK := go tool -modfile=tools/go.mod staticcheck

# LAN=1 opens it to the local network over HTTPS.
flags = $(if $(LAN),-lan,-addr $(ADDR)) $(if $(DATA),-data $(DATA)) $(if $(RESET),-reset)

.PHONY: demo run test test-fast slow lint lint-go lint-types lint-web build bench bench-forecast bench-live bench-verdict types chaos golden dump licences audit screenshots debian check-prerequisites clean

# White Barn with the made-up demo barn. RESET=1 starts over.
demo: build
	@exec bin/whitebarn demo $(flags)

# White Barn with your own data.
run: build
	@exec bin/whitebarn serve $(flags)

# Everything, against a throwaway PostgreSQL and headless Chromium; then each benchmark
# once, small, so that none rots.
test: build
	go test -count=1 -timeout 30m -parallel 4 ./e2e ./...
	go test -count=1 -timeout 10m -short -run '^$$' -bench . -benchtime 1x $(benched)

# All but the browser's walks.
test-fast: build
	go test -count=1 -timeout 10m $$(go list ./... | grep -v /e2e)

# What takes long: simulations at length, kills as in a bad night, the race detector where
# goroutines meet, a minute of each fuzzer. Run before a change of any size is done.
slow: build
	SLOW=1 go test -count=1 -timeout 30m ./core/settle
	KILLS=10 go test -count=1 -timeout 15m -run TestNoPressIsLostOrDoubledUnderKills ./cmd/whitebarn
	go test -race -count=1 -timeout 30m ./internal/live ./internal/watch ./internal/store ./internal/standin
	go test -race -count=1 -timeout 30m -run 'Live|Stream|Hear|Killed|Race|Phones|Device|Reading' ./internal/server
	@for f in $$(grep -rlE '^func Fuzz' --include=*_test.go core internal); do \
		for n in $$(sed -nE 's/^func (Fuzz[A-Za-z0-9]*)\(.*/\1/p' $$f); do \
			echo "$$n of $$(dirname $$f)"; \
			go test -run '^$$' -fuzz "^$$n\$$" -fuzztime 1m ./$$(dirname $$f) || exit 1; \
		done; \
	done

benched = $(addprefix ./,$(shell grep -rl '^func Benchmark' --include=*_test.go core internal e2e | xargs -n1 dirname | sort -u))

lint: build
	@$(MAKE) --no-print-directory -j2 -O lint-types lint-web lint-go

lint-go:
	@out=$$(gofmt -l cmd core e2e internal web/*.go); [ -z "$$out" ] || { echo "gofmt would change: $$out"; exit 1; }
	go vet ./...
	$(STATICCHECK) ./...

lint-types:
	cd web && npm run -s check

lint-web:
	cd web && npm run -s lint

# The golden answers of the demo, written anew; read the diff.
golden:
	go test -count=1 -run TestEveryAnswerOfTheDemo ./internal/server -update

# The demo as it is kept now, thinned, for the tests to bring over once a
# migration has come: before a new one, make dump NAME=0006-said.
dump:
	go test -count=1 -run TestDump ./internal/store -dump $(NAME)

# Presses under a server and a database that are killed at random, ten times as in a bad night.
chaos:
	KILLS=10 go test -count=1 -run TestNoPressIsLostOrDoubledUnderKills -v ./cmd/whitebarn

bench:
	go test -run '^$$' -bench . -benchmem ./core/... ./internal/store/... ./internal/standin/...
	go test -run "^$$" -bench . ./internal/server/...

# How good forecasts are on synthetic cooks of other kinds; about five minutes.
bench-forecast:
	go test -v -count=1 -timeout 30m -run TestForecastTable ./core/forecast -cooks 250

# How often what a verdict says is so, over simulated trials as they are kept, of several trials
# pooled, and of cards' charts; about twenty minutes.
bench-verdict:
	go test -run '^$$' -bench 'BenchmarkVerdicts|BenchmarkPooled|BenchmarkCharts' -benchtime 1x -timeout 60m ./core/settle ./core/process

# From a device's send to the painted frame in five browsers, and a board of a
# million readings; about three minutes.
bench-live: build
	go test -run '^$$' -bench . -benchtime 1x ./e2e

build: check-prerequisites debian bin/whitebarn

bin/whitebarn: web/dist/index.html $(shell find cmd core internal web/embed.go -name '*.go' -o -name '*.sql') go.mod go.sum
	go build -o $@ ./cmd/whitebarn

web/dist/index.html: web/node_modules/.package-lock.json $(shell find web/src web/public -type f) web/index.html web/vite.config.ts
	cd web && npm run -s build

web/node_modules/.package-lock.json: web/package.json web/package-lock.json | check-prerequisites debian
	cd web && npm ci --no-progress
	@touch $@

# The API's types for the front end; committed, and a test fails when they are stale.
types: web/node_modules/.package-lock.json
	go run ./internal/api/comments > internal/api/comments.new && mv internal/api/comments.new internal/api/comments.gen.json
	go run ./cmd/whitebarn openapi > web/openapi.json
	go run ./cmd/whitebarn schema > docs/schemas/report.json
	go run ./cmd/whitebarn access > docs/access.md
	go run ./cmd/whitebarn vocabulary > web/src/api/vocabulary.gen.ts
	cd web && npm run -s types

# What of others ships, and under which terms; a test fails when it is stale.
licences: web/node_modules/.package-lock.json
	go run ./internal/licences > web/public/licences.new && mv web/public/licences.new web/public/licences.json

# Known holes in what is built on; it asks the network, so that it is run by hand.
audit: web/node_modules/.package-lock.json
	go run golang.org/x/vuln/cmd/govulncheck@latest ./...
	cd web && npm audit --omit=dev

screenshots: build
	go run ./e2e/shots -demo bin/whitebarn

check-prerequisites:
	@sh tools/prerequisites.sh

debian:
	@sh tools/debian.sh

clean:
	rm -rf bin web/dist/assets web/dist/index.html web/node_modules
