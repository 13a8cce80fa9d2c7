#include "markov.h"

#include <algorithm>

namespace basanos {

// All states, each behind those that lead to it; empty where the graph has a cycle. (Kahn 1962, "Topological sorting
// of large networks".)
std::vector<size_t> MarkovChain::topological_order() const {
  const size_t n = first_.size() - 1;
  std::vector<uint32_t> incoming(n);
  for (const Edge& edge : edges_)
    if (edge.to >= 0) ++incoming[static_cast<size_t>(edge.to)];
  std::vector<size_t> order;
  order.reserve(n);
  for (size_t k = 0; k < n; ++k)
    if (incoming[k] == 0) order.push_back(k);
  for (size_t next = 0; next < order.size(); ++next)
    for (size_t e = first_[order[next]]; e < first_[order[next] + 1]; ++e)
      if (edges_[e].to >= 0 && --incoming[static_cast<size_t>(edges_[e].to)] == 0)
        order.push_back(static_cast<size_t>(edges_[e].to));
  if (order.size() < n) order.clear();
  return order;
}

// The probability with which each state leads straight back to itself.
std::vector<Weight> MarkovChain::self_loops() const {
  std::vector<Weight> stays(first_.size() - 1);
  for (size_t state = 0; state < stays.size(); ++state)
    for (size_t e = first_[state]; e < first_[state + 1]; ++e)
      if (is_self_loop(edges_[e], state)) stays[state] += edges_[e].probability;
  return stays;
}

// A state that leads back to itself is left with all its weight at once, in the proportions of its other edges. `sent`
// has room for a state's weights.
void MarkovChain::send_from(size_t state, Weight stays, Weight* sent, Weight* at, Weight* ended) const {
  Weight* const here = at + state * rotations_;
  if (std::all_of(here, here + rotations_, [](Weight weight) { return weight == 0; }) || stays >= 1) return;
  for (size_t s = 0; s < rotations_; ++s) sent[s] = here[s] / (1 - stays);
  std::fill(here, here + rotations_, Weight{0});
  for (size_t e = first_[state]; e < first_[state + 1]; ++e) {
    const Edge& edge = edges_[e];
    if (stays > 0 && is_self_loop(edge, state)) continue;
    Weight* const to = edge.to >= 0 ? at + static_cast<size_t>(edge.to) * rotations_
                                    : ended + static_cast<size_t>(~edge.to) * rotations_;
    add_rotated(to, sent, rotations_, edge.probability, edge.rotation);
  }
}

// Without a cycle one pass does. Else Gauss-Seidel sweeps over the states in the order in which they were found.
Weight MarkovChain::solve(std::vector<Weight>& at, std::vector<Weight>& ended, double negligible,
                          const std::function<bool()>& go_on) {
  const std::vector<size_t> order = topological_order();
  has_cycle_ = order.empty();
  const std::vector<Weight> stays = self_loops();
  std::vector<Weight> sent(rotations_);
  const auto send = [&](size_t state) { send_from(state, stays[state], sent.data(), at.data(), ended.data()); };
  if (!has_cycle_) {
    for (size_t state : order) send(state);
    return 0;
  }
  const auto left = [&at] { return std::accumulate(at.begin(), at.end(), Weight{0}); };
  for (Weight before = left(); before > 0;) {
    for (size_t state = 0; state + 1 < first_.size(); ++state) send(state);
    const Weight moving = left();
    if (moving <= negligible || moving >= before || !go_on()) return moving;
    before = moving;
  }
  return 0;
}

}  // namespace basanos
