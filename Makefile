# Two commands do all set-up: make demo, make test. README.md says the rest.
.PHONY: help dev demo demo-reset test unit scripts race fuzz-short fuzz e2e check looks-right format bench looks lighthouse formats shots assets build deps browser

LINT := .tools/bin/golangci-lint
LINT_VERSION := v2.15.0
SCRIPTS = $(shell git ls-files '*.js' '*.mjs') package.json web/tsconfig.json .prettierrc.json .stylelintrc.json
STYLES = $(shell git ls-files '*.scss')
VIEWS = $(shell git ls-files '*.html')
SOURCES := $(shell find web pieces -type f -not -path 'web/dist/*') package-lock.json

help: ## what can be made
	@grep -hE '^[a-z][a-z-]*:.*## ' $(MAKEFILE_LIST) | sed -E 's/^([a-z-]+):.*## /\1|/' | awk -F'|' '{printf "  make %-12s %s\n", $$1, $$2}'

demo: build ## start everything with demo data
	@bin/chrysagon demo

demo-reset: build ## forget the demo's data and begin anew
	@bin/chrysagon reset
	@bin/chrysagon demo

dev: build ## the demo, built and begun anew whenever a source changes; the studio reloads
	@node scripts/dev.mjs

test: build browser unit scripts fuzz-short e2e ## everything that is tested

unit: build ## the Go tests
	bin/chrysagon with-cluster -- go test ./...

scripts: assets ## the tests of the scripts, and their types
	node --test web/tests/*.test.mjs
	node_modules/.bin/tsc -p web/tsconfig.json

race: build ## the Go tests under the race detector
	@scripts/install.sh compiler
	CGO_ENABLED=1 bin/chrysagon with-cluster -- go test -race ./...

fuzz-short: build ## some seconds of fuzzing for each input
	@FUZZTIME=3s scripts/fuzz.sh

fuzz: build ## fuzz every input for a minute each; FUZZTIME=10m for longer
	@scripts/fuzz.sh

e2e: build browser ## the browser tests
	@# The time is a bound for a whole file on a slow machine; what a test waits for has bounds of its own.
	node --test --test-concurrency=1 --test-timeout=900000 e2e/*.test.mjs

check: $(LINT) build looks-right ## format, vet, lint
	@test -z "$$(gofmt -l $$(git ls-files '*.go'))" || { gofmt -l $$(git ls-files '*.go'); echo 'run gofmt -w on these'; exit 1; }
	go vet ./...
	$(LINT) run ./...

looks-right: assets
	node_modules/.bin/prettier --log-level warn --check $(SCRIPTS)
	node_modules/.bin/eslint .
	node_modules/.bin/stylelint $(STYLES)
	node scripts/views.mjs $(VIEWS)

format: assets ## put scripts and styles into their form
	gofmt -w $$(git ls-files '*.go')
	node_modules/.bin/prettier --log-level warn --write $(SCRIPTS)
	node_modules/.bin/stylelint --fix $(STYLES)

bench: build browser ## measure; docs/benchmarks.md keeps the results
	bin/chrysagon with-cluster --durable --data .data/bench -- go run ./bench
	BENCH_ONLY=products bin/chrysagon with-cluster --durable --data .data/bench -- go run ./bench
	@node bench/keystroke.mjs

looks: build browser ## draw every template and manner on four screens, and measure what is drawn; LOOKS=all for every combination
	@node bench/looks/looks.mjs

lighthouse: build browser ## Lighthouse on a page of every template
	@cd bench/lighthouse && npm ci --no-audit --no-fund --loglevel=error
	@node bench/lighthouse/run.mjs

formats: build ## write the schemas in docs/formats anew
	@bin/chrysagon formats docs/formats

shots: build browser ## take the pictures in docs/screenshots
	node e2e/shots.mjs

assets: web/dist/manifest.json

web/dist/manifest.json: $(SOURCES) node_modules/.package-lock.json
	@node web/build.mjs

node_modules/.package-lock.json: package-lock.json
	@npm ci --no-audit --no-fund --loglevel=error
	@touch $@

build: deps assets
	@go build -ldflags "-X 'main.built=$$(git log -1 --format=%h\ of\ %cs 2>/dev/null)'" -o bin/chrysagon ./cmd/chrysagon

deps:
	@scripts/install.sh server

browser:
	@scripts/install.sh browser

$(LINT):
	GOBIN=$(CURDIR)/.tools/bin go install github.com/golangci/golangci-lint/v2/cmd/golangci-lint@$(LINT_VERSION)
