# Two commands matter: make demo and make test. Both install what is missing
# from Debian's packages and need no network once that is done.
GO ?= go
BIN := bin/smolder

.PHONY: demo test build bench assets notices screenshots check help

help:
	@echo "make demo          the demo household on http://127.0.0.1:8420 (FRESH=1 starts over, LISTEN=host:port)"
	@echo "make test          everything that must pass"
	@echo "make bench         speed, against floors measured in the same run"
	@echo "make assets        styles, scripts and fonts anew (needs Node 20)"
	@echo "make notices       the licences of what is shipped, anew (after go.mod or the assets change)"
	@echo "make screenshots   docs/screenshots anew"

build:
	@$(GO) build -o $(BIN) ./cmd/smolder

demo:
	@scripts/need postgresql
	@$(GO) build -o $(BIN) ./cmd/smolder
	@exec $(BIN) demo $(if $(FRESH),--fresh) $(if $(LISTEN),--listen $(LISTEN))

test: check
	@scripts/need postgresql chromium
	@$(GO) build -o $(BIN) ./cmd/smolder
	$(BIN) with-postgres -- $(GO) test -count=1 ./...

# Form, vet, staticcheck, and the built assets against their sources. The
# manifest is always compared (a Go test does it too); where Node 20 is at hand
# the assets are built again and must come out the same.
check:
	@bad=$$(gofmt -l cmd internal); test -z "$$bad" || { echo "not gofmt'ed: $$bad"; exit 1; }
	$(GO) vet ./...
	$(GO) tool staticcheck ./...
	@scripts/check-assets

bench:
	$(GO) test -run '^$$' -bench . -benchmem ./internal/...

assets:
	cd assets && npm ci --no-fund --no-audit && npm run build

notices:
	$(GO) run ./internal/tools/notices

screenshots:
	@scripts/need postgresql chromium
	@scripts/screenshots
