// Rounds from a position on. Every way of coming to it is followed with its weight, as exact does; rounds are then
// played on from what was found, each from one of the ways by its weight.
#pragma once
#include <cstdint>
#include <vector>

#include "sample.h"

namespace basanos {

// The values of registers at the position: of a list its size and items, those of a bag in ascending order.
enum class Place { number, list, bag };
struct Required {
  Place place = Place::number;
  int32_t at = 0;  // the register, or the number of the list
  std::vector<int32_t> values;
};

struct PositionJob {
  uint64_t seed = 1, first = 1, last = 1;
  uint64_t most_states = 200000;  // followed before the position
  uint64_t most_values = 20000000;  // registers kept of all ways together
  std::vector<Required> required;   // what helps to see early that a way does not lead there
  std::vector<int32_t> lanes;       // in each of which the units are played; where there are none, once
};

struct PositionResult {
  bool complete = false;  // all the ways were followed; otherwise nothing was played
  double share = 0;       // of the units that come to the position
  uint64_t ways = 0;
  std::vector<SampleResult> played;  // in each lane
};

// The position is where the program says TRACE, for the first time in a unit.
PositionResult sample_from_position(const Prepared& program, const PositionJob& job, const Poll& poll);

}  // namespace basanos
