// The state graph of a game from some layer on, as a Markov chain: each state expanded once, its edges kept. Weight is
// sent along them until it has come to the ends.
#pragma once
#include <cstdint>
#include <functional>
#include <map>
#include <vector>

#include "weights.h"

namespace basanos {

class MarkovChain {
 public:
  explicit MarkovChain(size_t rotations) : rotations_(rotations) {}

  // Edges are added state by state, in the order of the states' numbers; close_state() behind the last of each.
  // `label` is the number of what sums grow by on the way; 0 where none does.
  void add_edge(uint32_t to, double probability, size_t rotation, uint32_t label = 0) {
    edges_.push_back({to, probability, static_cast<uint32_t>(rotation), label});
  }
  void add_edge_to_end(uint32_t end, double probability) {
    edges_.push_back({~static_cast<int64_t>(end), probability, 0, 0});
  }
  void close_state() { first_.push_back(edges_.size()); }
  void clear() {
    edges_.clear();
    first_ = {0};
  }
  size_t bytes() const { return edges_.size() * sizeof(Edge) + first_.size() * sizeof(size_t); }

  // Sends the weights `at` of the states on to the ends, and adds them to `ended`. Returns the weight that is left:
  // none where the graph has no cycle, else at most `negligible`, or more where `go_on` said no, or where weight goes
  // round for ever.
  Weight solve(std::vector<Weight>& at, std::vector<Weight>& ended, double negligible,
               const std::function<bool()>& go_on);

  bool has_cycle() const { return has_cycle_; }  // known when solved

  // The weight of the states with each sum that they have come to, whatever their rotation.
  using BySum = std::map<int32_t, std::vector<Weight>>;

  // Sends it on to the ends, sum by sum in ascending order, where an edge adds growth[label] to the sum. Shows the
  // weights that have come to the ends with each sum. `go_on` gets the number of states with a sum so far. False where
  // a sum gets smaller, or too large for a register. Comes after solve(), which knows whether there is a cycle.
  bool solve_by_sum(BySum at, size_t ends, const std::vector<int32_t>& growth, double negligible,
                    const std::function<bool(uint64_t)>& go_on,
                    const std::function<void(int32_t, const std::vector<Weight>&)>& show) const;

 private:
  struct Edge {
    int64_t to;  // a state, or the complement of an end's number
    double probability;
    uint32_t rotation, label;
  };

  static constexpr uint64_t kLevelsBetweenSums = 16;

  class Sweeps;
  bool has_self_loop() const;
  std::vector<bool> leads_to_an_end() const;
  size_t labels() const;

  const size_t rotations_;
  std::vector<Edge> edges_;
  bool has_cycle_ = false;
  std::vector<size_t> first_{0};  // of state k: edges first_[k] up to first_[k + 1]
};

}  // namespace basanos
