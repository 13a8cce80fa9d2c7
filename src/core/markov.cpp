#include "markov.h"

#include <algorithm>
#include <utility>

#include "components.h"

namespace basanos {

// One solution of the chain: what the sweeps over its components work on.
class MarkovChain::Sweeps {
 public:
  // `at` and `ended` are of `rotations` weights each.
  Sweeps(const MarkovChain& chain, size_t rotations, const std::function<bool()>& go_on)
      : chain_(chain), rotations_(rotations), go_on_(go_on), sent_(rotations) {}

  // Edges that leave the sum as it is lead to `at`; the others, by their label, to what has a greater sum.
  void begin(std::vector<Weight>& at, std::vector<Weight>& ended, std::vector<Weight*> by_label) {
    ended_ = ended.data();
    at_ = at.data();
    by_label_ = std::move(by_label);
    if (stays_.empty()) stays_ = self_loops();
  }

  bool stopped() const { return stopped_; }

  // Sends the weight of a component round it until no more than `enough` of it is left, or all of it where none can
  // leave. Gives what is left.
  Weight empty(const Components& all, size_t component, Weight enough) {
    const uint32_t *const from = all.begin(component), *const to = all.end(component);
    Weight moving = sweep(from, to);
    if (moving <= enough || !has_exit(all, component)) return moving;
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
  // A Gauss-Seidel sweep, each state before those that it leads to. Gives what is left on them.
  Weight sweep(const uint32_t* from, const uint32_t* to) {
    for (const uint32_t* state = to; state-- != from;) send_from(*state);
    poll(static_cast<size_t>(to - from));
    Weight moving = 0;
    for (const uint32_t* state = from; state != to; ++state) {
      const Weight* const here = weights(*state);
      moving = std::accumulate(here, here + rotations_, moving);
    }
    return moving;
  }

  // A state that leads back to itself is left with all its weight at once, in the proportions of its other edges.
  void send_from(size_t state) {
    const size_t rotations = rotations_;
    const Weight stays = stays_[state];
    Weight* const here = weights(state);
    if (std::all_of(here, here + rotations, [](Weight weight) { return weight == 0; }) || stays >= 1) return;
    for (size_t s = 0; s < rotations; ++s) sent_[s] = here[s] / (1 - stays);
    std::fill(here, here + rotations, Weight{0});
    for (size_t e = chain_.first_[state]; e < chain_.first_[state + 1]; ++e) {
      const Edge& edge = chain_.edges_[e];
      if (stays > 0 && is_self_loop(edge, state)) continue;
      Weight* const to = edge.to >= 0 ? by_label_[edge.label] + static_cast<size_t>(edge.to) * rotations
                                      : ended_ + static_cast<size_t>(~edge.to) * rotations;
      add_rotated(to, sent_.data(), rotations, edge.probability, rotation_of(edge));
    }
  }

  void poll(size_t sends) {
    sends_ += sends;
    if (sends_ < kSendsBetweenPolls) return;
    sends_ = 0;
    stopped_ = !go_on_();
  }

  Weight* weights(size_t state) { return at_ + state * rotations_; }
  size_t rotation_of(const Edge& edge) const { return rotations_ == 1 ? 0 : edge.rotation; }
  bool stays_here(const Edge& edge) const { return edge.to >= 0 && by_label_[edge.label] == at_; }
  bool is_self_loop(const Edge& edge, size_t state) const {
    return stays_here(edge) && edge.to == static_cast<int64_t>(state) && rotation_of(edge) == 0;
  }

  // The probability with which each state leads straight back to itself, not rotated.
  std::vector<Weight> self_loops() const {
    std::vector<Weight> stays(chain_.first_.size() - 1);
    for (size_t state = 0; state < stays.size(); ++state)
      for (size_t e = chain_.first_[state]; e < chain_.first_[state + 1]; ++e)
        if (is_self_loop(chain_.edges_[e], state)) stays[state] += chain_.edges_[e].probability;
    return stays;
  }

  // Can weight leave these states?
  bool has_exit(const Components& all, size_t component) const {
    const auto leads_out = [&](const Edge& edge) {
      return !stays_here(edge) || !all.has(component, static_cast<size_t>(edge.to));
    };
    const auto& first = chain_.first_;
    return std::any_of(all.begin(component), all.end(component), [&](uint32_t state) {
      return std::any_of(chain_.edges_.data() + first[state], chain_.edges_.data() + first[state + 1], leads_out);
    });
  }

  static constexpr size_t kSendsBetweenPolls = 1 << 18;
  const MarkovChain& chain_;
  const size_t rotations_;
  const std::function<bool()>& go_on_;
  Weight *at_ = nullptr, *ended_ = nullptr;
  std::vector<Weight*> by_label_;
  std::vector<Weight> stays_;
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

// From which states can weight come to an end?
std::vector<bool> MarkovChain::leads_to_an_end() const {
  std::vector<bool> leads(first_.size() - 1);
  for (bool again = true; again;) {
    again = false;
    for (size_t state = leads.size(); state-- > 0;)
      for (size_t e = first_[state]; e < first_[state + 1] && !leads[state]; ++e)
        if (edges_[e].to < 0 || leads[static_cast<size_t>(edges_[e].to)]) leads[state] = again = true;
  }
  return leads;
}

// The number of labels.
size_t MarkovChain::labels() const {
  uint32_t greatest = 0;
  for (const Edge& edge : edges_) greatest = std::max(greatest, edge.label);
  return size_t{greatest} + 1;
}

// Component by component, first those that lead to others.
Weight MarkovChain::solve(std::vector<Weight>& at, std::vector<Weight>& ended, double negligible,
                          const std::function<bool()>& go_on) {
  const Components all = ComponentSearch(first_, [this](size_t e) { return edges_[e].to; }).search();
  Sweeps sweeps(*this, rotations_, go_on);
  sweeps.begin(at, ended, std::vector<Weight*>(labels(), at.data()));
  has_cycle_ = all.count() + 1 < first_.size() || has_self_loop();
  const Weight enough = negligible / static_cast<Weight>(std::max<size_t>(1, all.count()));
  Weight left = 0;
  for (size_t k = all.count(); k-- > 0 && !sweeps.stopped();) left += sweeps.empty(all, k, enough);
  return sweeps.stopped() ? std::accumulate(at.begin(), at.end(), Weight{0}) : left;
}

bool MarkovChain::solve_by_sum(BySum at, size_t ends, const std::vector<int32_t>& growth, double negligible,
                               const std::function<bool(uint64_t)>& go_on,
                               const std::function<void(int32_t, const std::vector<Weight>&)>& show) const {
  if (std::any_of(growth.begin(), growth.end(), [](int32_t by) { return by < 0; })) return false;
  const size_t states = first_.size() - 1;
  const auto with_the_same_sum = [&](size_t e) { return growth[edges_[e].label] == 0 ? edges_[e].to : -1; };
  const Components all = ComponentSearch(first_, with_the_same_sum).search();
  const std::vector<bool> leads = leads_to_an_end();
  const Weight enough = negligible / 10 / static_cast<Weight>(std::max<size_t>(1, all.count()));
  uint64_t visited = 0;
  const std::function<bool()> goes_on = [&] { return go_on(visited); };
  Sweeps sweeps(*this, 1, goes_on);
  std::vector<Weight> ended(ends);
  const auto moving = [&at] {
    return std::accumulate(at.begin(), at.end(), Weight{0}, [](Weight sum, const auto& level) {
      return std::accumulate(level.second.begin(), level.second.end(), sum);
    });
  };
  for (uint64_t levels = 0; !at.empty() && goes_on(); ++levels) {
    if (has_cycle_ && levels % kLevelsBetweenSums == 0 && moving() <= negligible) break;
    auto level = at.extract(at.begin());
    const int32_t sum = level.key();
    std::vector<Weight>& here = level.mapped();
    here.resize(states);
    const uint64_t before = visited;
    for (size_t state = 0; state < states; ++state) {
      if (!leads[state]) here[state] = 0;
      visited += here[state] != 0;
    }
    if (visited == before) continue;
    std::vector<Weight*> by_label;
    for (int32_t by : growth) {
      if (sum > INT32_MAX - by) return false;
      if (by > 0) at[sum + by].resize(states);
      by_label.push_back(by > 0 ? at[sum + by].data() : here.data());
    }
    std::fill(ended.begin(), ended.end(), Weight{0});
    sweeps.begin(here, ended, std::move(by_label));
    for (size_t k = all.count(); k-- > 0;) sweeps.empty(all, k, enough);
    show(sum, ended);
  }
  return true;
}

}  // namespace basanos
