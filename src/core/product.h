// Plays two programs side by side on every branch of chance: do they draw the same, and does every round end the same?
#pragma once
#include <cstdint>
#include <functional>
#include <utility>
#include <vector>

#include "optimise.h"
#include "witness.h"

namespace basanos {

struct Matching {
  std::vector<int32_t> outcomes;                   // for each outcome of the first program that of the second, or 0
  std::vector<int32_t> sources;                    // for each source of the first that of the second, or -1
  std::vector<std::pair<int32_t, int32_t>> quantities;  // those that must be equal, by their places
};

enum class Parting { none, draw, round, failure, too_many_states, stopped };

struct ProductResult {
  Parting parting = Parting::none;
  uint64_t states = 0;
  std::vector<WitnessDraw> draws;  // of the first program, up to where they part
};

ProductResult explore_product(const Prepared& first, const Prepared& second, const Matching& matching,
                              uint64_t most_states, const std::function<bool(uint64_t)>& poll);

}  // namespace basanos
