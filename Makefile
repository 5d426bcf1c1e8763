# Fair Lap. `make demo` and `make test` each work alone on a fresh Debian machine with Go and Node.
SHELL := /bin/bash
GO ?= go
ADDR ?= 127.0.0.1:8080
VERSION := $(shell git describe --always --dirty 2>/dev/null || echo unknown)
# No symbols, no folder names of whoever built it, and none of Gin's codecs that nobody asks for.
BUILD := -trimpath -tags nomsgpack -ldflags "-s -w -X main.version=$(VERSION)"
SUDO := $(shell [ "$$(id -u)" = 0 ] || echo sudo)

.PHONY: deb bench-scale chaos fuzz lighthouse demo dev test bench evaluate numbers backtest screenshots fmt build web types lint lint-deep race cover notices page unit check-types clean

demo: build
	./bin/fairlap demo --listen $(ADDR)

dev: .make/system .make/npm
	@trap 'kill 0' EXIT; $(GO) run ./cmd/fairlap demo --listen 127.0.0.1:8080 & cd web && npx vite

build: .make/system web
	CGO_ENABLED=0 $(GO) build $(BUILD) -o bin/fairlap ./cmd/fairlap

# A Debian package of what make build made; a later commit is a later version.
deb: build
	ARCH=$$($(GO) env GOARCH) VERSION="0.$$(TZ=UTC git log -1 --date=format-local:%Y%m%d.%H%M%S --format=%cd 2>/dev/null || echo 0)" $(GO) run github.com/goreleaser/nfpm/v2/cmd/nfpm@v2.48.0 package --config deploy/nfpm.yaml --packager deb --target bin/

# PostgreSQL, Chromium, a proxy and a pooler from Debian, when they are missing.
.make/system:
	@mkdir -p .make
	@missing=""; \
	 ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 || missing="$$missing postgresql"; \
	 [ -x /usr/bin/chromium ] || missing="$$missing chromium"; \
	 [ -x /usr/sbin/haproxy ] || missing="$$missing haproxy"; \
	 [ -x /usr/sbin/pgbouncer ] || missing="$$missing pgbouncer"; \
	 if [ -n "$$missing" ]; then $(SUDO) apt-get update -qq && DEBIAN_FRONTEND=noninteractive $(SUDO) apt-get install -y -qq $$missing; fi
	@touch $@

.make/npm: web/package-lock.json
	cd web && npm ci --no-audit --no-fund
	@mkdir -p .make && touch $@

web: .make/web

# The core for the browser's worker, and Go's own support for it there.
CORE := web/public/core.wasm
$(CORE): go.mod go.sum $(shell find core cmd/fairlap-wasm -name '*.go' -o -path 'core/*' -name '*.json')
	GOOS=js GOARCH=wasm $(GO) build -trimpath -ldflags "-s -w" -o $@ ./cmd/fairlap-wasm
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
chaos: build
	KILLS=$(KILLS) $(GO) test ./cmd/fairlap -count 1 -timeout 60m -v -run 'TestWhateverIsKilled|TestReplacingServers'

# Every fuzz target, a minute each.
FUZZTIME ?= 60s
fuzz: .make/system
	tools/fuzz.sh $(FUZZTIME)

lint: .make/npm
	@bad=$$(gofmt -l cmd core internal e2e web/*.go); [ -z "$$bad" ] || { echo "gofmt would change: $$bad"; exit 1; }
	$(GO) vet ./...
	cd web && npx biome check --diagnostic-level=error src build && npx tsc --noEmit && npx knip --no-config-hints

# What takes longer and finds less: .golangci.yml says what is asked and why; code that nothing reaches.
lint-deep: .make/npm
	$(GO) run github.com/golangci/golangci-lint/v2/cmd/golangci-lint@v2.15.0 run --timeout 9m ./...
	@dead=$$($(GO) run golang.org/x/tools/cmd/deadcode@v0.43.0 -test ./...); [ -z "$$dead" ] || { echo "$$dead"; exit 1; }

# Two at once on the same memory: rooms, store, API.
race: web
	$(GO) test -race -timeout 30m ./internal/app/... ./internal/store/... ./internal/api/... ./core/words/... ./core/judge/...

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

unit: build
	GOOS=js GOARCH=wasm $(GO) build ./core/...
	$(GO) test -timeout 30m -parallel 3 ./...

test: .make/system lint check-types page unit

bench: web
	$(GO) test -run '^$$' -bench . -benchmem ./core/... ./internal/...
	@ls -l web/dist/core.wasm web/dist/core.wasm.br | awk '{ print $$NF ": " $$5 / 1e6 " MB" }'
	@$(GO) test -count 1 -v ./cmd/fairlap-wasm | grep -o 'milliseconds of .*'

# The diagnosis judged on stops that an independent engine makes: docs/evaluation.md.
evaluate: .make/npm
	$(GO) run ./cmd/evaluate -write

# The table of the reasoning's numbers in docs/method.md.
numbers:
	$(GO) run ./cmd/evaluate -numbers

# Forecasts and the schools of when to clean, judged on two made-up companies and the
# demo's history.
backtest:
	$(GO) run ./cmd/backtest -write

screenshots: build
	$(GO) run ./e2e/shots

# The page as a phone on a slow line gets it: what is transferred, when it stands, how it answers.
lighthouse: build
	cd tools/lighthouse && npm ci --no-audit --no-fund --silent
	node tools/lighthouse/run.mjs ./bin/fairlap

fmt: .make/npm
	gofmt -w cmd core internal e2e web/*.go
	cd web && npx biome check --write src build

clean:
	rm -rf bin .make web/dist/assets web/dist/index.html
