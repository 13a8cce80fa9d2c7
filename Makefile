# Two commands set up what is missing and do everything:
#   make demo   the whole story on the fair's games, with a figure
#   make test   the tests: the core in C++, then the package
# A third opens the desk, a page to write and try games:
#   make desk
# What takes longer has commands of its own:
#   make test-long   calibration, shards, the demo
#   make check       the package as CRAN would look at it

CXX ?= g++
CORE_FLAGS = -std=c++17 -Iinst/include -g1 -pthread
sanitized = -fsanitize=address,undefined -fno-sanitize-recover=all
checked_flags = $(CORE_FLAGS) -Og -Wall -Wextra -Wshadow $(sanitized)
plain_flags = $(CORE_FLAGS) -O1
threads_flags = $(CORE_FLAGS) -O1 -fsanitize=thread
fused_flags = $(CORE_FLAGS) -O2 -mfma
fuzz_flags = $(CORE_FLAGS) -O2 $(sanitized)

.PHONY: demo test desk setup setup-demo setup-test setup-desk test-core test-r test-long check docs bench calibration battery fuzz valgrind threads fused clean

demo: setup-demo
	exec/basanos demo

test:
	@$(MAKE) --no-print-directory -j$(CORES) setup-test build/test_core_checked
	@$(MAKE) --no-print-directory test-core test-r

desk: setup-desk
	exec/basanos desk $(GAME)

setup:
	@Rscript tools/setup.R
setup-demo:
	@Rscript tools/setup.R ggplot2 htmltools
setup-desk:
	@Rscript tools/setup.R ggplot2 htmltools shiny bslib callr
setup-test:
	@Rscript tools/setup.R ggplot2 htmltools knitr testthat processx future generics

CORES := $(shell getconf _NPROCESSORS_ONLN)
CORE_HEADERS = $(wildcard src/core/*.h inst/include/basanos/*.h tests/core/*.h)
CORE_OBJECTS = $(patsubst %.cpp,%.o,$(wildcard src/core/*.cpp))
TEST_OBJECTS = $(CORE_OBJECTS) $(patsubst %.cpp,%.o,$(wildcard tests/core/*.cpp))
define compiled_as
build/$(1)/%.o: %.cpp $(CORE_HEADERS)
	@mkdir -p $$(@D)
	$(CXX) $$($(1)_flags) $(2) -c $$< -o $$@
endef
$(foreach how,checked plain threads fused,$(eval $(call compiled_as,$(how))))
$(eval $(call compiled_as,fuzz,-fsanitize-coverage=trace-pc))
build/test_core_%:
	$(CXX) $($*_flags) $^ -o $@
$(foreach how,checked plain threads fused,$(eval build/test_core_$(how): $(addprefix build/$(how)/,$(TEST_OBJECTS))))
test-core:
	@$(MAKE) --no-print-directory -j$(CORES) build/test_core_checked
	@$(MAKE) --no-print-directory -j$(CORES) core-part-1 core-part-2
# A report of the sanitizer names the innermost call alone that took memory. Without this it names all, in twice the
# time.
core-part-%:
	ASAN_OPTIONS=malloc_context_size=1 build/test_core_checked $*
test-r:
	@Rscript tools/test.R
test-long: setup-test
	@Rscript tools/test.R long

# The package as CRAN would look at it, as the set-up has installed it; its tests, which run the guides as well, have run
# already.
check: setup-test
	@rm -rf build/check && mkdir -p build/check
	cd build/check && R CMD build --no-build-vignettes ../.. && R_LIBS=$(CURDIR)/.lib _R_CHECK_FORCE_SUGGESTS_=false \
	  R CMD check --no-manual --no-tests --ignore-vignettes --install=check:$(CURDIR)/.lib/install.log \
	  --library=$(CURDIR)/.lib basanos_*.tar.gz

# NAMESPACE, man/ and the reference in docs/ from the sources.
docs:
	Rscript -e 'Rcpp::compileAttributes("."); roxygen2::roxygenise(".", load_code = "source")'
	Rscript tools/setup.R
	Rscript tools/reference.R

build/hand: bench/hand.cpp src/core/random.h src/core/random.cpp inst/include/basanos/chance.h
	@mkdir -p build
	$(CXX) -std=c++17 -Iinst/include -O2 bench/hand.cpp src/core/random.cpp -o $@
build/race: bench/race.cpp
	@mkdir -p build
	$(CXX) -std=c++17 -O2 $< -o $@
bench: setup build/hand build/race
	Rscript bench/rounds.R
	Rscript bench/choices.R
	Rscript bench/counts.R
	Rscript bench/best.R

# The coverage of the intervals, to docs/calibration.md.
calibration: setup
	Rscript bench/calibration.R

# Damaged programs under the sanitizers, guided by coverage; damaged rules files.
FUZZ_SECONDS ?= 120
build/fuzz_loader: tests/fuzz/loader.cpp $(addprefix build/fuzz/,$(CORE_OBJECTS))
	$(CXX) $(fuzz_flags) $^ -o $@
fuzz: setup
	@$(MAKE) --no-print-directory -j$(CORES) build/fuzz_loader
	Rscript tests/fuzz/programs.R build/programs
	build/fuzz_loader build/programs $(FUZZ_SECONDS)
	Rscript tests/fuzz/mutate.R 1000

# The core's tests and a run of the fair's games under valgrind, where it is installed.
valgrind: setup
	@$(MAKE) --no-print-directory -j$(CORES) build/test_core_plain
	valgrind -q --error-exitcode=1 build/test_core_plain
	R_LIBS=.lib R -d "valgrind -q --error-exitcode=1" --vanilla --no-echo -f tests/fuzz/fair.R

# The core's tests with an eye on what threads share.
threads:
	@$(MAKE) --no-print-directory -j$(CORES) build/test_core_threads
	build/test_core_threads

# The core's tests where the processor multiplies and adds in one step, rounded once, and the functions that do: the time
# that pieces of a run take, and nothing that counts, so that results do not depend on it.
fused:
	@$(MAKE) --no-print-directory -j$(CORES) build/test_core_fused
	build/test_core_fused
	objdump -dC --no-show-raw-insn build/fused/src/core/*.o | \
	  awk '/^[0-9a-f]+ </ { of = $$0 } /vfn?m/ { sub(/^[0-9a-f]+ /, "", of); print of }' | sort -u

# The generator's streams as they are used, through a battery of tests, where it is installed. Takes an hour or so.
build/streams: bench/streams.cpp src/core/random.h src/core/random.cpp inst/include/basanos/chance.h
	@mkdir -p build
	$(CXX) -std=c++17 -Iinst/include -O2 bench/streams.cpp src/core/random.cpp -o $@
battery: build/streams
	for how in first eight sources seeds; do build/streams $$how | dieharder -a -g 200 > build/battery-$$how.txt; done

clean:
	rm -rf build .lib src/*.o src/*.so src/core/*.o
