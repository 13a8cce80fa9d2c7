# Two commands set up what is missing and do everything:
#   make demo   the whole story on the fair's games, with a figure
#   make test   every test: the core in C++, then the package

CXX ?= g++
CORE_FLAGS = -std=c++17 -Iinst/include -O1 -g -Wall -Wextra -Wshadow -fsanitize=address,undefined -fno-sanitize-recover=all -pthread

.PHONY: demo test setup setup-demo setup-test test-core test-r check docs bench calibration battery fuzz valgrind clean

demo: setup-demo
	exec/basanos demo

test: setup-test test-core test-r

setup:
	@Rscript tools/setup.R
setup-demo:
	@Rscript tools/setup.R ggplot2
setup-test:
	@Rscript tools/setup.R ggplot2 testthat processx future

CORES := $(shell getconf _NPROCESSORS_ONLN)
CORE_HEADERS = $(wildcard src/core/*.h inst/include/basanos/*.h tests/core/*.h)
CORE_OBJECTS = $(patsubst %.cpp,%.o,$(wildcard src/core/*.cpp))
TEST_OBJECTS = $(CORE_OBJECTS) $(patsubst %.cpp,%.o,$(wildcard tests/core/*.cpp))
build/checked/%.o: %.cpp $(CORE_HEADERS)
	@mkdir -p $(@D)
	$(CXX) $(CORE_FLAGS) -c $< -o $@
build/test_core: $(addprefix build/checked/,$(TEST_OBJECTS))
	$(CXX) $(CORE_FLAGS) $^ -o $@
test-core:
	@$(MAKE) --no-print-directory -j$(CORES) build/test_core
	build/test_core
test-r:
	@Rscript tools/test.R

# The package as CRAN would look at it.
check: setup-test
	@mkdir -p build
	cd build && R CMD build .. && _R_CHECK_FORCE_SUGGESTS_=false R CMD check --no-manual basanos_*.tar.gz

# NAMESPACE, man/ and the reference in docs/ from the sources.
docs:
	Rscript -e 'Rcpp::compileAttributes("."); roxygen2::roxygenise(".", load_code = "source")'
	Rscript tools/setup.R
	Rscript tools/reference.R

build/hand: bench/hand.cpp src/core/random.h src/core/random.cpp inst/include/basanos/chance.h
	@mkdir -p build
	$(CXX) -std=c++17 -Iinst/include -O2 bench/hand.cpp src/core/random.cpp -o $@
bench: setup build/hand
	Rscript bench/rounds.R

# The coverage of the intervals, to docs/calibration.md.
calibration: setup
	Rscript bench/calibration.R

# Damaged programs under the sanitizers, guided by coverage; damaged rules files.
FUZZ_SECONDS ?= 120
FUZZ_FLAGS = -std=c++17 -Iinst/include -O2 -g -fsanitize=address,undefined -fno-sanitize-recover=all -pthread
build/fuzz/%.o: %.cpp $(CORE_HEADERS)
	@mkdir -p $(@D)
	$(CXX) $(FUZZ_FLAGS) -fsanitize-coverage=trace-pc -c $< -o $@
build/fuzz_loader: tests/fuzz/loader.cpp $(addprefix build/fuzz/,$(CORE_OBJECTS))
	$(CXX) $(FUZZ_FLAGS) $^ -o $@
fuzz: setup
	@$(MAKE) --no-print-directory -j$(CORES) build/fuzz_loader
	Rscript tests/fuzz/programs.R build/programs
	build/fuzz_loader build/programs $(FUZZ_SECONDS)
	Rscript tests/fuzz/mutate.R 1000

# The core's tests and a run of the fair's games under valgrind, where it is installed.
PLAIN_FLAGS = -std=c++17 -Iinst/include -O1 -g -pthread
build/plain/%.o: %.cpp $(CORE_HEADERS)
	@mkdir -p $(@D)
	$(CXX) $(PLAIN_FLAGS) -c $< -o $@
build/test_core_plain: $(addprefix build/plain/,$(TEST_OBJECTS))
	$(CXX) $(PLAIN_FLAGS) $^ -o $@
valgrind: setup
	@$(MAKE) --no-print-directory -j$(CORES) build/test_core_plain
	valgrind -q --error-exitcode=1 build/test_core_plain
	R_LIBS=.lib R -d "valgrind -q --error-exitcode=1" --vanilla --no-echo -f tests/fuzz/fair.R

# The generator's streams as they are used, through a battery of tests, where it is installed. Takes an hour or so.
build/streams: bench/streams.cpp src/core/random.h src/core/random.cpp inst/include/basanos/chance.h
	@mkdir -p build
	$(CXX) -std=c++17 -Iinst/include -O2 bench/streams.cpp src/core/random.cpp -o $@
battery: build/streams
	for how in first eight sources seeds; do build/streams $$how | dieharder -a -g 200 > build/battery-$$how.txt; done

clean:
	rm -rf build .lib src/*.o src/*.so src/core/*.o
