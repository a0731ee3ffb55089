# Two commands matter: make demo and make test. Both install what is missing
# from Debian's packages and need no network once that is done.
GO ?= go
BIN := bin/smolder

.PHONY: demo test race clocks processes load brackets build bench mutants assets notices screenshots check help deb

help:
	@echo "make demo          the demo household on http://127.0.0.1:8420 (FRESH=1 starts over, LISTEN=host:port)"
	@echo "make test          everything that must pass"
	@echo "make processes     what the tests ask of the pages, of three processes behind a pooler (half an hour)"
	@echo "make load          a village of households on three processes, one killed, then the database"
	@echo "make bench         speed, against floors measured in the same run"
	@echo "make assets        styles, scripts and fonts anew (needs Node 20)"
	@echo "make words         the catalogue of messages anew (after a sentence changes)"
	@echo "make notices       the licences of what is shipped, anew (after go.mod or the assets change)"
	@echo "make screenshots   docs/screenshots anew"
	@echo "make deb           a Debian package, in bin/ (VERSION=1.2)"

build:
	@$(GO) build -o $(BIN) ./cmd/smolder

demo:
	@scripts/need postgresql
	@$(GO) build -o $(BIN) ./cmd/smolder
	@exec $(BIN) demo $(if $(FRESH),--fresh) $(if $(LISTEN),--listen $(LISTEN))

test: check
	@scripts/need postgresql chromium pgbouncer pgbackrest nats-server
	@$(GO) build -o $(BIN) ./cmd/smolder
	@outside="$$($(OUTSIDE))"; rest="$$($(GO) list ./... | grep -vxF "$$outside")"; set -x; \
	$(BIN) with-postgres -- $(GO) test -count=1 -timeout 30m -p 3 ./internal/web ./cmd/smolder ./internal/web/hearth $$outside && \
	$(GO) test -timeout 30m -p 3 ./internal/core/belief $$rest
	@$(MAKE) --no-print-directory race

# The packages whose tests ask a database, a browser or another program, and run each time. What all
# others say depends on their source alone: Go keeps it, and runs again what has changed.
OUTSIDE = $(GO) list -f '{{.ImportPath}} {{.Imports}} {{.TestImports}} {{.XTestImports}}' ./... | awk '/storetest|browsertest|webtest|pgserver|os.exec/{print $$1}'

# The race detector over what is concurrent: all of the store, the turns of the
# searches, the replays, and what many do to the pages at once. It needs a C
# compiler.
race:
	@scripts/need gcc libc6-dev
	$(BIN) with-postgres -- $(GO) test -race -short -count=1 ./internal/store ./internal/planner ./internal/core/parallel
	$(BIN) with-postgres -- $(GO) test -race -short -count=1 -run 'AtOnce|GivenUp' ./internal/web/home ./internal/web/hearth ./internal/live ./internal/core/burn ./internal/core/search

# Form, vet, staticcheck, and the built assets against their sources. The
# manifest is always compared (a Go test does it too); where Node 20 is at hand
# the assets are built again and must come out the same.
check:
	@bad=$$(gofmt -l cmd internal); test -z "$$bad" || { echo "not gofmt'ed: $$bad"; exit 1; }
	$(GO) vet ./...
	$(GO) tool staticcheck ./...
	@scripts/check-assets
	$(GO) run ./internal/tools/words -check

# The catalogue of all that is said, from which a language is made.
words:
	$(GO) run ./internal/tools/words

# Every page that the tests of the pages ask for, asked once more in a language in which
# each word stands in brackets: what does not is listed in bin/brackets. Half an hour.
brackets: build
	@rm -f bin/brackets
	-SMOLDER_BRACKETS=$(CURDIR)/bin/brackets $(BIN) with-postgres -- $(GO) test -count=1 -timeout 40m -p 3 ./internal/web/...
	@test ! -s bin/brackets || { cut -f2 bin/brackets | sort | uniq -c | sort -rn; exit 1; }

# The pages' tests as if it were a summer afternoon, and the last hour of a year.
clocks:
	@scripts/need postgresql chromium
	SMOLDER_CLOCK=2027-07-15T15:30:00Z $(BIN) with-postgres -- $(GO) test -count=1 ./internal/web/...
	SMOLDER_CLOCK=2027-12-31T23:20:00Z $(BIN) with-postgres -- $(GO) test -count=1 ./internal/web/...

# The pages' tests with every request answered by the next of three processes, behind a pooler in
# transaction mode.
processes: build
	@scripts/need postgresql chromium pgbouncer
	SMOLDER_TEST_PROCESSES=3 SMOLDER_TEST_POOLED=1 $(BIN) with-postgres -- $(GO) test -count=1 -timeout 40m -p 2 ./internal/store ./internal/app/... ./internal/web/...

# A thousand households, two hundred fires, three processes, a first database and its standby; of
# which one and then the first database is killed. Some minutes; on a quiet machine.
load:
	@scripts/need postgresql
	$(GO) run ./internal/tools/load

bench:
	$(GO) test -run '^$$' -bench . -benchmem ./internal/...

# Small faults in the core, one at a time: which of them no test notices. Minutes.
mutants: build
	$(BIN) with-postgres -- $(GO) run ./internal/tools/mutants -n 20 core/policy core/plan core/follow core/coach store

assets:
	cd assets && npm ci --no-fund --no-audit && npm run build

notices:
	$(GO) run ./internal/tools/notices

screenshots:
	@scripts/need postgresql chromium
	@scripts/screenshots

# A Debian package of the program, its unit and its settings, in bin/.
deb:
	@packaging/deb $(VERSION)
