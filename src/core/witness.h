// Finds the shortest unit (the fewest draws) in which something holds, however rare: breadth first over the
// states that chance can reach, each remembering how it was come to.
#pragma once
#include <cstdint>
#include <functional>
#include <vector>

#include "machine.h"

namespace basanos {

struct WitnessDraw {
  int32_t source, value;
};

enum class WitnessEnd { found, none, too_many_states, stopped };

struct WitnessResult {
  WitnessEnd end = WitnessEnd::none;
  uint64_t states = 0;
  std::vector<WitnessDraw> draws;
};

// Is this what is looked for? Asked at the end of each round, and where a unit fails.
using Sought = std::function<bool(const Program&, const Frame&, bool failed)>;

WitnessResult find_witness(const Program& program, uint64_t most_states, const Sought& sought, const std::function<bool(uint64_t)>& poll);

}  // namespace basanos
