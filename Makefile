# Two commands set up what is missing and do everything:
#   make demo   the whole story on the fair's games, with a figure
#   make test   every test: the core in C++, then the package

CXX ?= g++
CORE_FLAGS = -std=c++17 -O1 -g -Wall -Wextra -Wshadow -fsanitize=address,undefined -fno-sanitize-recover=all -pthread

.PHONY: demo test setup setup-demo setup-test test-core test-r check docs bench calibration clean

demo: setup-demo
	exec/basanos demo

test: setup-test test-core test-r

setup:
	@Rscript tools/setup.R
setup-demo:
	@Rscript tools/setup.R ggplot2
setup-test:
	@Rscript tools/setup.R ggplot2 testthat processx future

build/test_core: $(wildcard tests/core/* src/core/*.cpp src/core/*.h)
	@mkdir -p build
	$(CXX) $(CORE_FLAGS) tests/core/*.cpp src/core/*.cpp -o $@
test-core: build/test_core
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

build/hand: bench/hand.cpp src/core/random.h src/core/random.cpp
	@mkdir -p build
	$(CXX) -std=c++17 -O2 bench/hand.cpp src/core/random.cpp -o $@
bench: setup build/hand
	Rscript bench/rounds.R

# The coverage of the intervals, to docs/calibration.md.
calibration: setup
	Rscript bench/calibration.R

clean:
	rm -rf build .lib src/*.o src/*.so src/core/*.o
