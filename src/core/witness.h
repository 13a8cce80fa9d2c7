// Finds the shortest unit (the fewest draws) in which a condition holds or a place is reached, however rare: breadth
// first over the states that chance can reach, each remembering how it was come to.
#pragma once
#include <cstdint>
#include <functional>
#include <vector>

#include "optimise.h"
#include "paths.h"

namespace basanos {

enum class WitnessEnd { found, none, too_many_states, stopped };

struct WitnessResult {
  WitnessEnd end = WitnessEnd::none;
  uint64_t states = 0;
  std::vector<WitnessDraw> draws;
};

// Is this what is looked for? Asked at the end of each round, and where a unit fails.
using Sought = std::function<bool(const Program&, const Frame&, bool failed)>;

// Paths to the places of COVER operations.
struct Reach {
  bool found = false;
  std::vector<WitnessDraw> draws;  // the fewest that lead there; what follows is left open
};

struct ReachResult {
  bool all_seen = false;  // every state was gone through: what was not found cannot be reached
  bool stopped = false;   // the poll asked to stop
  std::vector<Reach> places;
};

ReachResult find_reaches(const Prepared& program, uint64_t most_states, const std::function<bool(uint64_t)>& poll);

// The first of n sampled units that reaches each place, 0 where none does; empty where the poll asks to stop. Units
// that fail are left out.
std::vector<uint64_t> first_reaching(const Program& program, uint64_t seed, uint64_t units,
                                     const std::function<bool(uint64_t)>& poll);

WitnessResult find_witness(const Prepared& program, uint64_t most_states, const Sought& sought,
                           const std::function<bool(uint64_t)>& poll);

}  // namespace basanos
