# The project's commands. `make demo` and `make test` do all the set-up they need.
.PHONY: demo test check lint bench worlds mutants docs site sanitize sanitize-package fuzz fuzz-core faults locales slurm install command clean

R := R --no-echo --no-save
RSCRIPT := Rscript --no-save
PREFIX ?= $(HOME)/.local
SOURCES := DESCRIPTION NAMESPACE $(shell find R src data exec inst man vignettes -type f ! -name '*.o' ! -name '*.so' 2>/dev/null)

demo: .build/installed
	$(RSCRIPT) exec/softsieve demo demo-results

test: .build/test-setup .build/installed
	$(RSCRIPT) tools/run-tests.R

install: .build/installed

# Puts the command `softsieve` on the path (PREFIX/bin), with completion and a man page.
SHARE := $(PREFIX)/share
INSTALLED = "$$($(RSCRIPT) -e 'cat(system.file("$(1)", package = "softsieve"))')"
command: .build/installed
	mkdir -p $(PREFIX)/bin $(SHARE)/bash-completion/completions $(SHARE)/zsh/site-functions $(SHARE)/man/man1
	ln -sf $(call INSTALLED,exec/softsieve) $(PREFIX)/bin/softsieve
	$(RSCRIPT) tools/command.R .build/command
	cp .build/command/softsieve.bash $(SHARE)/bash-completion/completions/softsieve
	cp .build/command/_softsieve $(SHARE)/zsh/site-functions/_softsieve
	cp .build/command/softsieve.1 $(SHARE)/man/man1/softsieve.1

check: .build/test-setup
	bash tools/check.sh

# The look of the code: .lintr for R, .clang-format for the core.
lint: .build/test-setup
	$(RSCRIPT) tools/lint.R

bench: .build/test-setup .build/installed
	$(RSCRIPT) bench/parallel-analysis.R
	$(RSCRIPT) bench/correlations.R
	$(RSCRIPT) bench/extraction-rotation.R
	$(RSCRIPT) bench/reliability.R
	$(RSCRIPT) bench/stability.R
	$(RSCRIPT) bench/scores.R
	$(RSCRIPT) bench/sifting.R
	$(RSCRIPT) bench/startup.R
	$(RSCRIPT) bench/reading.R
	$(RSCRIPT) bench/workers.R
	$(RSCRIPT) bench/random-groups.R
	$(RSCRIPT) bench/robust.R
	$(RSCRIPT) bench/wide.R

# The core under the address, undefined-behaviour and thread sanitizers, without R.
sanitize: .build/test-setup
	bash tools/sanitize.sh

# Everything that is exported, drawn, written or a verb, in small worlds unlike the demo data.
worlds: .build/test-setup .build/installed
	$(RSCRIPT) tests/worlds/run.R

# small faults put into the code, one at a time: how many do the tests see?
mutants: .build/test-setup .build/installed
	$(RSCRIPT) tools/mutants.R

docs: .build/test-setup .build/installed
	$(RSCRIPT) tools/setup.R docs
	$(RSCRIPT) tools/docs.R
	$(RSCRIPT) tools/schema.R
	$(RSCRIPT) tools/command.R

# The site, with a reference index by stage; needs no network once it is set up.
site: .build/test-setup .build/installed
	$(RSCRIPT) tools/setup.R site
	$(RSCRIPT) tools/site.R

# Files that nobody means, and a machine that fails (SECURITY.md).
fuzz: .build/test-setup .build/installed
	$(RSCRIPT) tools/fuzz.R 20000 1
	SOFTSIEVE_WRONG_SHARE=1 $(RSCRIPT) -e 'library(softsieve); testthat::test_file("tests/testthat/test-all-wrong-calls.R", package = "softsieve")'

# Each entry of the core under libFuzzer (clang), five minutes each.
fuzz-core: .build/test-setup
	bash tools/fuzz-core.sh

faults: .build/test-setup .build/installed
	bash tools/faults.sh

# What comes in and goes out, where letters are few, where i has two capitals, and where a comma is
# the mark of decimals.
DOORS := all-doors all-wrong-calls cli-main read-files read-inputs read-responses read-source \
	questionnaire-key study-read score-file report-write

locales: .build/test-setup .build/installed
	for locale in C tr_TR.UTF-8 de_DE.UTF-8; do \
	  LC_ALL=$$locale $(RSCRIPT) tools/run-tests.R $(DOORS) || exit 1; done

# Draws through a real batch system on this machine.
slurm: .build/test-setup .build/installed
	bash tools/slurm-check.sh

# The installed package under the sanitizers: its own tests.
sanitize-package: .build/test-setup
	bash tools/sanitize-package.sh

.build/setup: DESCRIPTION tools/setup.R
	@mkdir -p .build
	$(RSCRIPT) tools/setup.R run
	@touch $@

.build/test-setup: DESCRIPTION tools/setup.R
	@mkdir -p .build
	$(RSCRIPT) tools/setup.R test
	@touch $@

.build/installed: .build/setup $(SOURCES)
	@echo "installing softsieve (a minute the first time) ..."
	@bash tools/install.sh
	@touch $@

clean:
	rm -rf .build demo-results site softsieve.Rcheck softsieve_*.tar.gz src/*.o src/*.so
