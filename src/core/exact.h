// Counts exactly: follows every branch of chance with its weight and merges equal live states.
#pragma once
#include <cstdint>
#include <functional>
#include <map>
#include <vector>

#include "alike_kinds.h"
#include "interpreter.h"
#include "optimise.h"

namespace basanos {

struct ExactLimits {
  uint64_t states = 5000000;           // states visited, together with those on the frontier
  uint64_t frontier = 0;               // where given: the limit of the frontier; `states` then counts visits alone
  uint64_t bytes = uint64_t{3} << 30;  // that all states and edges kept may take
  uint64_t steps = UINT64_MAX;         // backward jumps of the program in all: a bound on the time that is no clock
  double seconds = 1e300;
  // A game may have no longest round. After `draws` draws in a row, or `many_states` states, the weight that is left is
  // dropped once it is negligible. It is reported as the residual probability.
  uint64_t draws = 2000;
  uint64_t many_states = 200000;
  double negligible = 1e-14;
  // A game is taken to be cyclic where the frontier has `frontier_before_cyclic` states and most of them are known.
  // At most `seen` states are remembered for that.
  uint64_t frontier_before_cyclic = 256, seen = 1 << 20;
  bool merge_kinds = true;  // of cards that are alike
  bool leave_out_sums = true;  // of states, where they only grow and are recorded
  // Draws as sets of what they may still show (deferred_draws.h). That can make more states than it saves.
  enum class Defer { never, where_shorter, always };
  Defer defer = Defer::where_shorter;
};

// Registers that belong together, from `base` on: a state variable, a deck.
struct RegisterGroup {
  int32_t base, size;
};

// What was counted. Of a lane: what was counted in it and before any lane.
struct Counts {
  std::vector<double> outcomes;                      // weight of each
  std::vector<std::map<double, double>> quantities;  // value -> weight; as the outcomes, over all rounds
  double rounds = 0;                                 // rounds in a unit, on average
  std::vector<std::map<double, double>> unit_quantities;
};

enum class ExactEnd { done, failed, too_large, stopped };
enum class ExactLimit { none, states, bytes, steps, seconds };

struct ExactResult : Counts {
  ExactEnd end = ExactEnd::done;
  ExactLimit limit = ExactLimit::none;  // what was too large
  uint64_t states = 0;
  double residual = 0;                               // probability not followed to an end, of all lanes together
  std::vector<Counts> lanes;                         // where the program has some
  Failure failure;
  double failure_weight = 0;
  KindsMerged kinds;
  uint64_t sums_left_out = 0;
  uint64_t draws_deferred = 0;
  uint64_t draws = 0;  // in a row, that were gone through
  std::vector<uint64_t> values;  // when too large: how many values each group takes over the frontier
};

// Called every few thousand states with the states visited; false stops the count.
using ExactPoll = std::function<bool(uint64_t)>;

ExactResult exact(const Prepared& program, const ExactLimits& limits, const ExactPoll& poll,
                  const std::vector<RegisterGroup>& groups = {});

}  // namespace basanos
