# Two commands are all a newcomer needs: make demo and make test.
.PHONY: demo test build console check format bench bench-brush bench-page bench-pictures bench-arrange bench-design bench-export bench-viewers soak fuzz kill screenshots api clean

PORT ?= 7410
WEIR := src/Weir.Cli/bin/Release/net10.0/weir

demo: build ## builds everything, makes the demo's data and serves it
	@./weir demo --port $(PORT)

test: build ## runs every test
	@scripts/test.sh

build: console
	@dotnet build Weir.slnx -c Release --nologo -v quiet -clp:ErrorsOnly

console: console/node_modules/.package-lock.json
	@cd console && npx --no-install vite build --logLevel warn && npx --no-install vite build -c vite.paper.config.ts --logLevel warn

console/node_modules/.package-lock.json: console/package.json console/package-lock.json
	@# Not npm ci: it refuses a lock file without the builds for other machines, which not every registry has.
	@cd console && npm install --no-audit --no-fund --loglevel=error

check: console/node_modules/.package-lock.json ## format, lint, types, architecture
	dotnet tool restore --verbosity quiet
	dotnet csharpier check .
	dotnet format style Weir.slnx --verify-no-changes --no-restore
	cd console && npm run --silent check

format:
	dotnet tool restore --verbosity quiet
	dotnet format style Weir.slnx
	dotnet csharpier format .
	cd console && npm run --silent format

bench: build ## measurements, as ratios in one run; with ROWS=10000000 on a generated table
	@dotnet run --project bench/Weir.Bench -c Release --no-build -- $(ROWS)

bench-page: build ## until a dashboard stands in headless Chromium, also on a processor four times slower
	@scripts/need-chromium.sh
	@node bench/page.mjs

bench-pictures: build ## drawing many marks, a tab of 20 tiles, scrolling long and wide tables, in headless Chromium
	@scripts/need-chromium.sh
	@node bench/pictures.mjs

bench-arrange: build ## opening a view of 2,000 edits, dragging one of 60 tiles, in headless Chromium
	@scripts/need-chromium.sh
	@node bench/arrange.mjs

bench-export: build ## files of a dashboard, drawn and written
	@scripts/need-chromium.sh
	@node bench/export.mjs

bench-design: build ## a change by hand until the page shows it, typing in a text of 5,000 lines, in headless Chromium
	@scripts/need-chromium.sh
	@node bench/design.mjs

bench-viewers: build ## 200 viewers of 20 rights, one question a second each
	@dotnet run --project bench/Weir.Bench -c Release --no-build -- viewers

bench-brush: build ## the brush index in headless Chromium, on 1,000,000 and ROWS rows (10,000,000 if left out)
	@scripts/need-chromium.sh
	@node bench/brush.mjs $(or $(ROWS),10000000)

soak: build ## random questions against every engine: make soak CASES=20000
	@scripts/need-servers.sh
	@WEIR_CASES=$(or $(CASES),20000) tests/Weir.Engines.Tests/bin/Release/net10.0/Weir.Engines.Tests -noColor -class '*DifferentialTests'

fuzz: build ## random SQL, formulas, definitions and requests against the readers and the real engines: make fuzz N=20000
	@scripts/need-servers.sh
	@WEIR_FUZZ=$(or $(N),20000) tests/Weir.Attack.Tests/bin/Release/net10.0/Weir.Attack.Tests -noColor -class '*TypedSqlTests' -class '*ApiFuzzTests' -class '*DefinitionFuzzTests'

kill: build ## kills the service at random moments while changes come in: make kill N=100
	@WEIR_KILL=$(or $(N),100) tests/Weir.Cli.Tests/bin/Release/net10.0/Weir.Cli.Tests -noColor -class '*RandomKillTests'

api: build ## makes the console's typed client from the service's OpenAPI document
	@scripts/api.sh

screenshots: ## takes the pictures of docs/screenshots from a running make demo
	node scripts/screenshots.mjs http://127.0.0.1:$(PORT)

clean:
	rm -rf console/dist console/node_modules .test
	dotnet clean Weir.slnx -c Release --nologo -v quiet
