#include "markov.h"

#include <algorithm>

#include "components.h"

namespace basanos {

// One solution of the chain: what the sweeps over its components work on.
class MarkovChain::Sweeps {
 public:
  Sweeps(const MarkovChain& chain, std::vector<Weight>& at, std::vector<Weight>& ended,
         const std::function<bool()>& go_on)
      : chain_(chain), at_(at), ended_(ended), go_on_(go_on), stays_(chain.self_loops()), sent_(chain.rotations_) {}

  bool stopped() const { return stopped_; }

  // Sends the weight of a component round it until no more than `enough` of it is left, or all of it where none can
  // leave. Gives what is left.
  Weight empty(const uint32_t* from, const uint32_t* to, Weight enough) {
    Weight moving = sweep(from, to);
    if (moving <= enough || !chain_.has_exit(from, to)) return moving;
    // In as many sweeps as there are states some weight gets out, unless it is too little for a number.
    const auto size = static_cast<size_t>(to - from);
    Weight before = moving;
    for (size_t sweeps = 1; moving > enough && (moving < before || sweeps <= size + 1) && !stopped_; ++sweeps) {
      before = moving;
      moving = sweep(from, to);
    }
    return moving;
  }

 private:
  // A Gauss-Seidel sweep, in the order in which the states were found. Gives what is left on them.
  Weight sweep(const uint32_t* from, const uint32_t* to) {
    for (const uint32_t* state = from; state != to; ++state) send_from(*state);
    poll(static_cast<size_t>(to - from));
    Weight moving = 0;
    for (const uint32_t* state = from; state != to; ++state) {
      const Weight* const here = weights(*state);
      moving = std::accumulate(here, here + chain_.rotations_, moving);
    }
    return moving;
  }

  // A state that leads back to itself is left with all its weight at once, in the proportions of its other edges.
  void send_from(size_t state) {
    const size_t rotations = chain_.rotations_;
    const Weight stays = stays_[state];
    Weight* const here = weights(state);
    if (std::all_of(here, here + rotations, [](Weight weight) { return weight == 0; }) || stays >= 1) return;
    for (size_t s = 0; s < rotations; ++s) sent_[s] = here[s] / (1 - stays);
    std::fill(here, here + rotations, Weight{0});
    for (size_t e = chain_.first_[state]; e < chain_.first_[state + 1]; ++e) {
      const Edge& edge = chain_.edges_[e];
      if (stays > 0 && is_self_loop(edge, state)) continue;
      Weight* const to = edge.to >= 0 ? weights(static_cast<size_t>(edge.to)) : &ended_[~edge.to * rotations];
      add_rotated(to, sent_.data(), rotations, edge.probability, edge.rotation);
    }
  }

  void poll(size_t sends) {
    sends_ += sends;
    if (sends_ < kSendsBetweenPolls) return;
    sends_ = 0;
    stopped_ = !go_on_();
  }

  Weight* weights(size_t state) { return &at_[state * chain_.rotations_]; }

  static constexpr size_t kSendsBetweenPolls = 1 << 18;
  const MarkovChain& chain_;
  std::vector<Weight>&at_, &ended_;
  const std::function<bool()>& go_on_;
  const std::vector<Weight> stays_;
  std::vector<Weight> sent_;  // of one state
  size_t sends_ = 0;
  bool stopped_ = false;
};

// Does a state lead straight back to itself, or to a rotation of itself?
bool MarkovChain::has_self_loop() const {
  for (size_t state = 0; state + 1 < first_.size(); ++state)
    for (size_t e = first_[state]; e < first_[state + 1]; ++e)
      if (edges_[e].to == static_cast<int64_t>(state)) return true;
  return false;
}

// The probability with which each state leads straight back to itself, not rotated.
std::vector<Weight> MarkovChain::self_loops() const {
  std::vector<Weight> stays(first_.size() - 1);
  for (size_t state = 0; state < stays.size(); ++state)
    for (size_t e = first_[state]; e < first_[state + 1]; ++e)
      if (is_self_loop(edges_[e], state)) stays[state] += edges_[e].probability;
  return stays;
}

// Can weight leave these states?
bool MarkovChain::has_exit(const uint32_t* from, const uint32_t* to) const {
  const auto leads_out = [&](const Edge& edge) {
    return edge.to < 0 || !std::binary_search(from, to, static_cast<uint32_t>(edge.to));
  };
  return std::any_of(from, to, [&](uint32_t state) {
    return std::any_of(edges_.data() + first_[state], edges_.data() + first_[state + 1], leads_out);
  });
}

// Component by component, first those that lead to others.
Weight MarkovChain::solve(std::vector<Weight>& at, std::vector<Weight>& ended, double negligible,
                          const std::function<bool()>& go_on) {
  const Components all = ComponentSearch(first_, [this](size_t e) { return edges_[e].to; }).search();
  Sweeps sweeps(*this, at, ended, go_on);
  has_cycle_ = all.count() + 1 < first_.size() || has_self_loop();
  const Weight enough = negligible / static_cast<Weight>(std::max<size_t>(1, all.count()));
  Weight left = 0;
  for (size_t k = all.count(); k-- > 0 && !sweeps.stopped();) left += sweeps.empty(all.begin(k), all.end(k), enough);
  return sweeps.stopped() ? std::accumulate(at.begin(), at.end(), Weight{0}) : left;
}

}  // namespace basanos
