# Zesty Tin. `make help` lists what can be made.
SHELL := /bin/bash
.DEFAULT_GOAL := help
WEB := $(shell find web/src web/public web/*.html web/*.ts web/package-lock.json -type f 2>/dev/null)
GO := $(shell find cmd core internal web -name '*.go' -o -path '*/migrations/*.sql' 2>/dev/null | grep -v node_modules) go.mod go.sum

.PHONY: help demo demo-reset build format test test-go test-web test-browser bench hostile keystrokes kills load pitr-test licences api screenshots setup clean

help: ## this list
	@grep -hE '^[a-z-]+:.*## ' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 16

demo: setup build ## the demo kitchen on http://127.0.0.1:8080, with a private database
	bin/zestytin demo $(ARGS)

demo-reset: ## throw the demo's database away, so that the next demo starts over
	rm -rf .zestytin "/var/lib/zestytin/$$(pwd | sed 's|^/||; s|/|-|g')-.zestytin"

build: bin/zestytin ## the one binary, with the front end in it

setup:
	@tools/setup

web/node_modules/.done: web/package-lock.json
	cd web && npm ci --no-progress
	@touch $@

e2e/node_modules/.done: e2e/package-lock.json
	cd e2e && npm ci --no-progress
	@touch $@

web/dist/index.html: web/node_modules/.done $(WEB)
	@tools/licences >/dev/null
	cd web && npm run --silent build
	@touch web/dist/.gitkeep $@

bin/zestytin: web/dist/index.html $(GO)
	go build -o $@ ./cmd/zestytin

test: ## everything: rules, server, front end, browser
	@tools/setup test
	@$(MAKE) --no-print-directory test-go test-web test-browser

test-go: web/dist/index.html
	@test -z "$$(gofmt -l cmd core internal web/*.go)" || { echo "not formatted:"; gofmt -l cmd core internal web/*.go; exit 1; }
	go vet ./...
	@[ "$$(id -u)" = 0 ] || echo "NOT TESTED: a full disk, which needs root"
	go test -vet=off ./... # vetted above

# The API document and the client types made from it must be those of the code. The front end is checked where it is built.
test-web: bin/zestytin
	@cd web && npx prettier --check --log-level warn src "*.js" "*.ts" && npx prettier --check --log-level warn --config prettier.config.js --ignore-path /dev/null "../e2e/*.ts" || { echo "not formatted: run make format"; exit 1; }
	cd web && npx eslint --max-warnings 0 src
	@bin/zestytin openapi | diff -q - docs/openapi.json >/dev/null || { echo "docs/openapi.json is stale: run make api"; exit 1; }
	@bin/zestytin families | diff -q - web/src/api/families.json >/dev/null || { echo "web/src/api/families.json is stale: run make api"; exit 1; }
	@cd web && npx openapi-typescript ../docs/openapi.json -o ../bin/schema.d.ts >/dev/null && diff -q ../bin/schema.d.ts src/api/schema.d.ts || { echo "web/src/api/schema.d.ts is stale: run make api"; exit 1; }
	@cd web && REDOCLY_TELEMETRY=off REDOCLY_SUPPRESS_UPDATE_NOTICE=true npx redocly lint ../docs/openapi.json 2>../bin/lint.txt || { cat ../bin/lint.txt; exit 1; }

test-browser: bin/zestytin e2e/node_modules/.done
	cd e2e && npx tsc
	cd e2e && npx playwright test

keystrokes: e2e/node_modules/.done ## how long a keystroke takes in a treat of 40 steps and 12 designs: the demo must be running (ARGS=its address)
	cd e2e && node keystrokes.mjs $(ARGS)

api: ## the API document and the client made from it
	go build -o bin/zestytin ./cmd/zestytin
	bin/zestytin openapi > docs/openapi.json
	bin/zestytin families > web/src/api/families.json
	cd web && npm run --silent api

format: web/node_modules/.done ## Go and TypeScript as they are to be written
	gofmt -w cmd core internal web/*.go
	cd web && npx prettier --write --log-level warn src "*.js" "*.ts" && npx prettier --write --log-level warn --config prettier.config.js --ignore-path /dev/null "../e2e/*.ts"

licences: web/node_modules/.done ## the bill of materials in bin/, and the licences of what is in the program, which it serves at /licences.txt
	@tools/licences

hostile: ## ten thousand hostile requests, and the memory that the process took
	HOSTILE=10000 go test -c -o bin/app.test ./internal/app
	cd internal/app && HOSTILE=10000 /usr/bin/env time -v ../../bin/app.test -test.run Hostile -test.v 2>&1 | grep -a -E 'SEED|requests|PASS|FAIL|Maximum resident|Elapsed'

kills: ## a thousand kills of servers and a hundred of the database, under eight clients
	KILLS=1000 DATABASE_KILLS=100 go test -count=1 -timeout 60m -v -run "TestServersAreKilled|TestTheDatabaseOfTwoServersIsKilled" ./cmd/zestytin

pitr-test: build ## tries docs/recovery.md: a mistake, and the database as it was a second before
	@tools/pitr-test

load: build ## clients at a demo server of its own: how long each kind of request takes
	@dir=$$(mktemp -d) && chmod 755 $$dir && { bin/zestytin demo --fast --data $$dir --addr 127.0.0.1:18099 --now 2026-09-03T10:20:00-04:00 >/dev/null 2>&1 & pid=$$!; \
	trap "kill $$pid; wait $$pid; rm -rf $$dir" EXIT; until curl -fs http://127.0.0.1:18099/readyz >/dev/null; do sleep 0.2; done; sleep 1; go run ./tools/load -url http://127.0.0.1:18099 $(ARGS); }

bench: ## benchmarks of the rules, and a load on the running server
	go test -run '^$$' -bench . -benchmem ./core/...
	go test -run '^$$' -bench . -benchtime 3s ./internal/app/

screenshots: bin/zestytin e2e/node_modules/.done ## the pictures in docs/screenshots, from the demo kitchen
	cd e2e && SCREENSHOTS=1 npx playwright test --project=screenshots

clean: ## what was built
	rm -rf bin web/dist/* web/node_modules e2e/node_modules e2e/test-results && touch web/dist/.gitkeep
