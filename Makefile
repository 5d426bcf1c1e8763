# Fair Lap. `make demo` and `make test` each work alone on a fresh Debian machine with Go and Node.
SHELL := /bin/bash
GO ?= go
ADDR ?= 127.0.0.1:8080
VERSION := $(shell git describe --always --dirty 2>/dev/null || echo unknown)
SUDO := $(shell [ "$$(id -u)" = 0 ] || echo sudo)

# One set of flags for every command, so that nothing is compiled twice: no C, no folder names of whoever built it,
# none of the codecs that the HTTP framework brings, nothing for a debugger (GOFLAGS= go test … for one), and a
# package of generics, the API, compiled as it is written.
export CGO_ENABLED := 0
export GOFLAGS := -trimpath -tags=nomsgpack -gcflags=all=-dwarf=false '-gcflags=fairlap/internal/api=-l -dwarf=false'
# The compiler has memory enough to clean up after itself less often: a fourteenth of its time.
COMPILE := GOGC=400 $(GO)
LINK := -ldflags "-s -w -X main.version=$(VERSION)"

.PHONY: deb bench-scale chaos fuzz lighthouse demo dev test test-long test-days bench evaluate numbers backtest
.PHONY: screenshots fmt build web types lint lint-deep race cover notices page check-types clean checks core house

demo: build
	./bin/fairlap demo --listen $(ADDR)

dev: .make/postgres .make/npm
	@trap 'kill 0' EXIT; $(GO) run ./cmd/fairlap demo --listen 127.0.0.1:8080 & cd web && npx vite

# Side by side: PostgreSQL from Debian, the page with the core in it, and all Go packages but the two that hold it.
build:
	@$(MAKE) --no-print-directory -j4 .make/postgres .make/web .make/packages
	$(COMPILE) build $(LINK) -o bin/fairlap ./cmd/fairlap

.PHONY: .make/packages
.make/packages:
	@$(COMPILE) build $$($(GO) list -f '{{range .Imports}}{{println .}}{{end}}' ./cmd/fairlap | grep -v '^fairlap/web$$')

# A Debian package of what make build made; a later commit is a later version.
deb: build
	ARCH=$$($(GO) env GOARCH) VERSION="0.$$(TZ=UTC git log -1 --date=format-local:%Y%m%d.%H%M%S --format=%cd 2>/dev/null || echo 0)" \
	  GOFLAGS= $(GO) run github.com/goreleaser/nfpm/v2/cmd/nfpm@v2.48.0 package --config deploy/nfpm.yaml --packager deb --target bin/

# What is missing from Debian: the demo needs PostgreSQL alone, the tests a browser too, the long ones a proxy and a
# pooler.
fetch = @mkdir -p .make; missing=""; for each in $(1); do ls $${each\#*=} >/dev/null 2>&1 || missing="$$missing $${each%%=*}"; done; \
  if [ -n "$$missing" ]; then $(SUDO) apt-get update -qq && DEBIAN_FRONTEND=noninteractive $(SUDO) apt-get install -y -qq --no-install-recommends $$missing; fi

.make/postgres:
	$(call fetch,"postgresql=/usr/lib/postgresql/*/bin/initdb")
	@touch $@

.make/browser: .make/postgres
	$(call fetch,"chromium-headless-shell=/usr/bin/chromium-headless-shell")
	@touch $@

.make/system: .make/browser
	$(call fetch,"haproxy=/usr/sbin/haproxy" "pgbouncer=/usr/sbin/pgbouncer")
	@touch $@

.make/npm: web/package-lock.json
	cd web && npm ci --no-audit --no-fund --prefer-offline
	@mkdir -p .make && touch $@

web: .make/web

# The core for the browser's worker, and Go's own support for it there.
CORE := web/public/core.wasm
$(CORE): go.mod go.sum $(shell find core cmd/fairlap-wasm -name '*.go' -o -path 'core/*' -name '*.json')
	GOOS=js GOARCH=wasm $(COMPILE) build -ldflags "-s -w" -o $@ ./cmd/fairlap-wasm
	cp "$$($(GO) env GOROOT)/lib/wasm/wasm_exec.js" web/public/

.make/web: .make/npm $(CORE) $(shell find web/src web/build web/public -type f) core/figure/rules.json core/units/measures.json web/index.html web/vite.config.ts
	cd web && npx vite build
	@touch $@

# The contract and the types that the front end reads from it.
types: .make/npm
	$(GO) run ./cmd/fairlap openapi > web/openapi.yaml
	cd web && npx openapi-typescript openapi.yaml -o src/api/schema.d.ts

check-types: .make/npm
	@$(GO) run ./cmd/fairlap openapi | diff -q - web/openapi.yaml >/dev/null || { echo "web/openapi.yaml is stale: run make types"; exit 1; }
	@cd web && npx openapi-typescript openapi.yaml -o ../.make/schema.d.ts >/dev/null && diff -q ../.make/schema.d.ts src/api/schema.d.ts >/dev/null || { echo "web/src/api/schema.d.ts is stale: run make types"; exit 1; }

# Fair Lap at a size: POOLS=50000 for the large one (some 40 GB of disk); DIR keeps the company.
POOLS ?= 5000
bench-scale: build
	$(GO) run ./cmd/scale --pools $(POOLS) $(if $(DIR),--dir $(DIR))

# Servers and the database killed at random behind a proxy; make test does it a few times.
KILLS ?= 200
chaos: build .make/system
	KILLS=$(KILLS) $(GO) test -tags nomsgpack,long ./cmd/fairlap -count 1 -timeout 60m -v -run 'TestWhateverIsKilled|TestReplacingServers'

# Every fuzz target, a minute each.
FUZZTIME ?= 60s
fuzz: .make/system
	tools/fuzz.sh $(FUZZTIME)

GO_FILES := *.go cmd core internal e2e web/*.go without

lint: .make/npm
	@bad=$$(gofmt -l $(GO_FILES)); [ -z "$$bad" ] || { echo "gofmt would change: $$bad"; exit 1; }
	@tools/house.sh
	$(GO) vet ./...
	cd web && npx biome check --diagnostic-level=error src build && npx tsc --noEmit && npx knip --no-config-hints

# What takes longer and finds less: .golangci.yml says what is asked and why; code that nothing reaches.
lint-deep: .make/npm
	GOFLAGS= CGO_ENABLED=1 $(GO) run github.com/golangci/golangci-lint/v2/cmd/golangci-lint@v2.15.0 run --timeout 9m ./...
	@dead=$$(GOFLAGS= $(GO) run golang.org/x/tools/cmd/deadcode@v0.43.0 -test ./...); [ -z "$$dead" ] || { echo "$$dead"; exit 1; }

# Two at once on the same memory: rooms, store, API.
race: web
	CGO_ENABLED=1 $(GO) test -race -timeout 30m ./internal/app/... ./internal/store/... ./internal/api/... ./core/words/... ./core/judge/...

# How much of each package its own tests and the API's run through.
cover: web
	@mkdir -p .make
	$(GO) test -timeout 20m -coverprofile=.make/cover -coverpkg=./core/...,./internal/... ./core/... ./internal/... ./cmd/... >/dev/null
	@awk 'NR > 1 { n[$$1] = $$2; if ($$3 > 0) hit[$$1] = 1 } \
	  END { for (k in n) { p = k; sub(/\/[^\/]*:.*/, "", p); all[p] += n[k]; if (k in hit) run[p] += n[k] } \
	    for (p in all) printf "%5.1f %% %s\n", 100 * run[p] / all[p], p }' .make/cover | sort -k3

# THIRD-PARTY.txt, from what is built in.
notices: .make/npm
	$(GO) run ./cmd/notices

# The page's own logic.
page: .make/npm
	cd web && npx vitest run

# Beside each other what reads the sources and the core's own tests, which keep two cores busy; then all that needs
# the program, of which a browser waits most of the time.
test: .make/browser
	@$(MAKE) --no-print-directory build
	@$(MAKE) --no-print-directory -j2 --output-sync=target checks core
	@$(MAKE) --no-print-directory house

checks:
	@$(MAKE) --no-print-directory lint check-types page

core:
	GOOS=js GOARCH=wasm $(GO) build ./core/...
	$(GO) test -short ./core/...

house:
	$(GO) run ./internal/demo/stage/open $(GO) test -short -timeout 30m -parallel 4 $$($(GO) list ./... | grep -v '^fairlap/core/')

# What takes long and finds little more, in full: every draw, 200 kills, each fuzz target, and the suite as of days on
# which clocks, months and years are at an edge.
test-long: test .make/system
	cd web && VITE_LONG=1 npx vitest run
	$(GO) run ./internal/demo/stage/open $(GO) test -tags nomsgpack,long -timeout 90m -parallel 3 ./...
	$(MAKE) chaos
	$(MAKE) fuzz
	$(MAKE) test-days

# The browser's journeys and whatever reads a clock, as of other days and on machines of two zones.
test-days: .make/browser build
	tools/days.sh

bench: build .make/npm
	$(GO) test -run '^$$' -bench . -benchmem ./core/... ./internal/...
	@ls -l web/public/core.wasm web/dist/core.wasm.br bin/fairlap | awk '{ print $$NF ": " $$5 / 1e6 " MB" }'
	@$(GO) test -count 1 -v ./cmd/fairlap-wasm | grep -o 'milliseconds of .*'
	@for i in 1 2 3 4 5; do /usr/bin/env bash -c 'TIMEFORMAT="fairlap solve: %U s user, %S s system, %R s"; time ./bin/fairlap solve docs/examples/de-with-spa.pad.json >/dev/null'; done

# The diagnosis judged on stops that an independent engine makes: docs/evaluation.md.
evaluate: .make/npm
	$(GO) run ./cmd/evaluate -write
	$(GO) run ./cmd/evaluate -worlds -write

# The table of the reasoning's numbers in docs/method.md.
numbers:
	$(GO) run ./cmd/evaluate -numbers

# Forecasts and the schools of when to clean, judged on two made-up companies and the
# demo's history.
backtest:
	$(GO) run ./cmd/backtest -write

screenshots: build .make/browser
	$(GO) run ./e2e/shots

# The page as a phone on a slow line gets it: what is transferred, when it stands, how it answers.
lighthouse: build
	$(call fetch,"chromium=/usr/bin/chromium")
	cd tools/lighthouse && npm ci --no-audit --no-fund --silent
	node tools/lighthouse/run.mjs ./bin/fairlap

fmt: .make/npm
	gofmt -w $(GO_FILES)
	cd web && npx biome check --write src build

clean:
	rm -rf bin .make web/dist/assets web/dist/index.html
