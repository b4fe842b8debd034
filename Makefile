SHELL := bash
.SHELLFLAGS := -euo pipefail -c
.DEFAULT_GOAL := help
.DELETE_ON_ERROR:

# No C compiler is asked for.
export CGO_ENABLED := 0

VERSION := $(shell git describe --always --dirty 2>/dev/null || echo unversioned)
APP := internal/web/ui/dist/app/index.html
WEB_SOURCES := $(shell find web/src web/public web/scripts -type f) web/index.html web/vite.config.ts web/tsconfig.json
CORE_SOURCES := $(shell find internal/core internal/picture cmd/browsercore -name '*.go' -not -name '*_test.go') go.mod

.PHONY: help demo build test check-go check-sql check-web bench bench-table fuzz soak mutants install generate pictures screenshots format clean

help: ## List the targets
	@grep -hE '^[a-z-]+:.*##' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 14

demo: build ## Set everything up and run with demo data at a printed address
	@tools/need postgresql='/usr/lib/postgresql/*/bin/initdb'
	@exec bin/zealousknot demo $(ARGS)

build: $(APP) ## Build the program with its screens into bin/
	@echo "… building the program"
	@go build -trimpath -ldflags '-s -w -X main.version=$(VERSION)' -o bin/zealousknot ./cmd/zealousknot

test: check-go check-sql check-web build ## Set everything up and run every check
	@tools/need postgresql='/usr/lib/postgresql/*/bin/initdb' chromium=chromium nginx-light=/usr/sbin/nginx systemd=systemd-analyze
	@echo "… running the tests"
	@go test -vet=off -timeout 50m ./...
	@$(MAKE) -s bin/mutants-killed

check-go: bin/staticcheck bin/errcheck
	@echo "… checking the Go code"
	@test -z "$$(gofmt -l cmd internal tools)" || { echo "not formatted (make format):"; gofmt -l cmd internal tools; exit 1; }
	@go vet ./...
	@bin/staticcheck ./...
	@bin/errcheck -ignoretests -ignoregenerated -exclude tools/errcheck.txt ./...
	@go run ./tools/words

check-sql: bin/sqlc
	@echo "… checking the queries against the tables and the generated code"
	@cd internal/store && ../../bin/sqlc vet --no-remote && ../../bin/sqlc diff

check-web: web/node_modules/.installed
	@echo "… checking the front end"
	@cd web && npm run -s types -- -o src/api/schema.d.ts.new >/dev/null && { diff -q src/api/schema.d.ts src/api/schema.d.ts.new >/dev/null || { rm src/api/schema.d.ts.new; echo "API types are stale: make generate"; exit 1; }; }; rm src/api/schema.d.ts.new
	@cd web && npm run -s check
	@cd web && npm run -s contract >node_modules/.cache/contract.txt 2>&1 || { cat node_modules/.cache/contract.txt; exit 1; }

bench: ## Run the benchmarks
	@go test -run '^$$' -bench . -benchmem ./...

bench-table: bin/benchstat ## Run the benchmarks and write docs/benchmark-table.md (N=6 PACKAGES=./...)
	@go test -timeout 170m -run '^$$' -bench . -benchmem -count $(or $(N),6) $(or $(PACKAGES),./...) | tee bin/benchmarks.txt
	@{ echo "# Table of the benchmarks"; echo; \
	  echo "Written by \`make bench-table N=$(or $(N),6) PACKAGES=$(or $(PACKAGES),./...)\` on $$(date +%F), version $(VERSION), $$(nproc) cores: medians, with the spread."; \
	  echo "What each is for, and its target, stands in [benchmarks.md](benchmarks.md)."; echo; \
	  echo '```'; bin/benchstat bin/benchmarks.txt | grep -v "^cpu:"; echo '```'; } > docs/benchmark-table.md
	@echo "docs/benchmark-table.md"

fuzz: ## Fuzz every parser for a while each (TIME=30s)
	@for f in $$(grep -rlE '^func Fuzz' --include=*_test.go internal cmd); do \
	  for n in $$(grep -hoE '^func Fuzz[A-Za-z]+' $$f | cut -c6-); do \
	    echo "… $$n"; go test ./$$(dirname $$f) -run '^$$' -fuzz "^$$n$$" -fuzztime $(or $(TIME),30s) -fuzzminimizetime 1x; done; done

SEED ?= $(shell date +%Y%m%d)
soak: ## Run the long trials, with other chances each day (SEED=20261127 repeats a day's)
	@echo "… seed $(SEED)"
	@{ SEED=$(SEED) go test -count=1 -timeout 50m ./internal/core/moves -drops 2000 && \
	  SEED=$(SEED) go test -count=1 -timeout 50m ./internal/core/ask -covers 120 -rigs 300 && \
	  SEED=$(SEED) go test -count=1 -timeout 50m ./internal/core/fit -replays 20000 && \
	  SEED=$(SEED) go test -count=1 -timeout 50m ./internal/picture -spoilt 300 && \
	  SEED=$(SEED) go test -count=1 -timeout 20m ./internal/core/day -spoilt 1000 && \
	  SEED=$(SEED) go test -count=1 -timeout 20m ./internal/web -run TestAnyOrder -orders 3000 && \
	  go test -count=1 -timeout 20m ./internal/core/callout -ranged 1000 && \
	  go test -count=1 -timeout 50m ./internal/core/drill -exercises 1000 && \
	  go test -count=1 -timeout 20m ./cmd/zealousknot -several && \
	  SEED=$(SEED) go test -count=1 ./internal/core/... && $(MAKE) -s fuzz TIME=20s && \
	  echo "soak passed, seed $(SEED)"; } || { echo "soak failed; to repeat it: make soak SEED=$(SEED)"; exit 1; }

# Only where the core has changed, or what its tests are made of.
bin/mutants-killed: $(shell find internal/core internal/demo internal/chance internal/corpus internal/caught tools/mutants -type f) go.mod
	@echo "… changing one operator at a time, 24 times, to see a test fail"
	@go run ./tools/mutants -n 24 -seed 1 -sound
	@mkdir -p bin && touch $@

mutants: ## Change the rules one operator at a time; name the changes no test notices (N=24 S=1: a draw)
	@go run ./tools/mutants -n $(or $(N),0) -seed $(or $(S),1) $(PACKAGES)

generate: bin/sqlc web/node_modules/.installed ## Write again what is generated from the code
	@cd internal/store && ../../bin/sqlc generate
	@go run ./tools/publish
	@cd web && npm run -s types -- -o src/api/schema.d.ts

screenshots: build ## Take the pictures in docs/screenshots again
	@tools/need postgresql='/usr/lib/postgresql/*/bin/initdb' chromium=chromium
	@go run ./tools/screenshots

pictures: ## Write every drawing onto one sheet, bin/pictures.svg, for looking
	@go run ./tools/pictures

format: web/node_modules/.installed ## Format all code
	@gofmt -w cmd internal tools
	@cd web && npm run -s format

PREFIX ?= /usr/local
install: build ## Install the program (PREFIX=/usr/local, DESTDIR=)
	@install -D -m 755 bin/zealousknot $(DESTDIR)$(PREFIX)/bin/zealousknot
	@install -d $(DESTDIR)$(PREFIX)/share/bash-completion/completions
	@bin/zealousknot completion > $(DESTDIR)$(PREFIX)/share/bash-completion/completions/zealousknot

clean: ## Remove what was built (the demo's data stay)
	@rm -rf bin web/core internal/web/ui/dist/app

web/node_modules/.installed: web/package-lock.json web/package.json
	@echo "… installing npm packages"
	@cd web && npm ci --loglevel=error
	@touch $@

# The core for the browser, for where there is no signal. What is not inlined compresses better (2 216 to 2 149 kB for the
# libraries alone); the runtime, the search and the stances, which it judges a thousand times, are left as they are. The
# words of the schemas stay out (2 004 to 1 980 kB), and those of the rules.
CORE_FLAGS := -gcflags=all=-l $(foreach p,runtime internal/runtime/... $(addprefix zealousknot/internal/core/,search stance),-gcflags=$(p)=)
web/core/core.wasm: $(CORE_SOURCES) tools/lean/main.go Makefile
	@echo "… building the core for the browser"
	@mkdir -p web/core && cp "$$(go env GOROOT)/lib/wasm/wasm_exec.js" web/core/
	@lean=$$(mktemp -d) && trap 'rm -rf "$$lean"' EXIT && go run ./tools/lean "$$lean" && \
	  GOOS=js GOARCH=wasm go build -overlay "$$lean/overlay.json" -buildvcs=false -trimpath -ldflags '-s -w' $(CORE_FLAGS) -o $@ ./cmd/browsercore

$(APP): web/node_modules/.installed web/core/core.wasm $(WEB_SOURCES)
	@echo "… building the front end"
	@cd web && npm run -s build

bin/sqlc: tools/sqlc.mod tools/sqlc.sum
	@echo "… building sqlc (once, some minutes)"
	@go build -modfile=tools/sqlc.mod -o $@ github.com/sqlc-dev/sqlc/cmd/sqlc

bin/staticcheck: tools/staticcheck.mod tools/staticcheck.sum
	@echo "… building staticcheck (once)"
	@go build -modfile=tools/staticcheck.mod -o $@ honnef.co/go/tools/cmd/staticcheck

bin/benchstat: tools/benchstat.mod tools/benchstat.sum
	@echo "… building benchstat (once)"
	@go build -modfile=tools/benchstat.mod -o $@ golang.org/x/perf/cmd/benchstat

bin/errcheck: tools/errcheck.mod tools/errcheck.sum
	@echo "… building errcheck (once)"
	@go build -modfile=tools/errcheck.mod -o $@ github.com/kisielk/errcheck
