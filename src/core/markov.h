// The state graph of a game from some layer on, as a Markov chain: each state expanded once, its edges kept. Weight is
// sent along them until it has come to the ends.
#pragma once
#include <cstdint>
#include <functional>
#include <vector>

#include "weights.h"

namespace basanos {

class MarkovChain {
 public:
  explicit MarkovChain(size_t rotations) : rotations_(rotations) {}

  // Edges are added state by state, in the order of the states' numbers; close_state() behind the last of each.
  void add_edge(uint32_t to, double probability, size_t rotation) { edges_.push_back({to, probability, rotation}); }
  void add_edge_to_end(uint32_t end, double probability) {
    edges_.push_back({~static_cast<int64_t>(end), probability, 0});
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

 private:
  struct Edge {
    int64_t to;  // a state, or the complement of an end's number
    double probability;
    size_t rotation;
  };

  static bool is_self_loop(const Edge& edge, size_t state) {
    return edge.to == static_cast<int64_t>(state) && edge.rotation == 0;
  }
  class Sweeps;
  bool has_self_loop() const;
  bool has_exit(const uint32_t* from, const uint32_t* to) const;
  std::vector<Weight> self_loops() const;

  const size_t rotations_;
  std::vector<Edge> edges_;
  bool has_cycle_ = false;
  std::vector<size_t> first_{0};  // of state k: edges first_[k] up to first_[k + 1]
};

}  // namespace basanos
