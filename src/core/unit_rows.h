// The results of single units, to compare two programs on common random numbers.
#pragma once
#include <cstdint>
#include <functional>
#include <vector>

#include "interpreter.h"
#include "optimise.h"

namespace basanos {

// One row a unit, row after row: the number of rounds; over those rounds how often each outcome came up and the
// sum of each quantity; of a unit of several rounds what it came to as a whole; and a hash of the rounds in their
// order.
struct UnitRows {
  size_t columns = 0;
  std::vector<double> values;
  Failure failure;  // of the unit after the last row
  bool stopped = false;  // the poll asked to stop
  uint64_t steps = 0;    // backward jumps in all
};

// Polled every few thousand units with the units done; false stops.
UnitRows unit_rows(const Prepared& program, uint64_t seed, uint64_t first, uint64_t last,
                   const std::function<bool(uint64_t)>& poll);

}  // namespace basanos
