# The two commands that do everything on a fresh Debian machine:
#   make demo   installs packages, builds, makes the demo data, runs the benchmark, writes the page
#   make test   installs packages, builds, and runs every test
# CONFIGURE takes further options for CMake, such as -DMNEMON_WARNINGS_AS_ERRORS=ON.
BUILD := build/release
CONFIGURE ?=

.PHONY: demo tests test test-cluster coverage python bench fuzz style screenshots
demo:
	@tools/install_packages demo
	@cmake --preset release -DMNEMON_TESTS=OFF -DMNEMON_EXAMPLES=OFF $(CONFIGURE)
	@cmake --build --preset release
	@$(BUILD)/bin/mnemon demo --to demo

# All that the tests need, without running them.
tests:
	@tools/install_packages test
	@cmake --preset release -DMNEMON_TESTS=ON -DMNEMON_EXAMPLES=ON -DMNEMON_PYTHON=ON $(CONFIGURE)
	@cmake --build --preset release

test: tests
	@ctest --preset release -j 3

# A plan over a real Slurm of two nodes on this machine, as root.
test-cluster:
	@tools/install_packages cluster
	@cmake --preset release $(CONFIGURE)
	@cmake --build --preset release --target mnemon
	@MNEMON_PROGRAM=$(CURDIR)/$(BUILD)/bin/mnemon /usr/bin/python3 -m pytest -q -p no:cacheprovider tests/cluster

# Which lines of the library the tests run: of each file, and of all. Fails below 90 of 100. Threads that count at once may
# count to below 0, which is no error of ours.
coverage:
	@tools/install_packages coverage
	@cmake --preset coverage $(CONFIGURE)
	@cmake --build --preset coverage
	@find build/coverage -name '*.gcda' -delete
	@ctest --preset coverage -j 2
	@gcovr --root . --object-directory build/coverage --filter 'mnemon/' --exclude '.*embedded_.*' --exclude-throw-branches \
	  --gcov-ignore-parse-errors --fail-under-line 90 --sort-percentage

# The Python package, into $(BUILD)/python.
python:
	@tools/install_packages test
	@cmake --preset release -DMNEMON_PYTHON=ON $(CONFIGURE)
	@cmake --build --preset release --target mnemon_python mnemon_python_files
	@echo "export PYTHONPATH=$(CURDIR)/$(BUILD)/python"

bench:
	@tools/install_packages bench
	@cmake --preset release -DMNEMON_BENCH=ON $(CONFIGURE)
	@cmake --build --preset release
	@$(BUILD)/bench/mnemon_bench

# Each reader of data from outside is fed damaged data for SECONDS.
SECONDS ?= 300
fuzz:
	@tools/install_packages fuzz
	@cmake --preset fuzz
	@cmake --build --preset fuzz
	@tools/fuzz_all build/fuzz/fuzz $(SECONDS)

# ROOMS="track score" keeps clang-tidy, which is slow, to these rooms.
ROOMS ?=
style:
	@tools/install_packages test
	@tools/check_style $(ROOMS)
	@tools/check_documented

screenshots:
	@tools/install_packages docs
	@tools/make_screenshots
