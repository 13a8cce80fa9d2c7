// The strongly connected components of a graph. (Tarjan 1972, "Depth-first search and linear graph algorithms".)
#pragma once
#include <algorithm>
#include <cstdint>
#include <vector>

namespace basanos {

// The components, each behind those that it leads to. In each a state is behind those that it leads to as well, but for
// the edges that close its circles.
struct Components {
  std::vector<uint32_t> states;
  std::vector<uint32_t> place;   // of a state among `states`
  std::vector<size_t> first{0};  // component k: states[first[k]] up to states[first[k + 1]]

  size_t count() const { return first.size() - 1; }
  const uint32_t* begin(size_t k) const { return states.data() + first[k]; }
  const uint32_t* end(size_t k) const { return states.data() + first[k + 1]; }
  bool has(size_t k, size_t state) const { return place[state] >= first[k] && place[state] < first[k + 1]; }
};

// Edges first_edge[k] up to first_edge[k + 1] leave state k; `target` gives where one leads, or a negative number where
// it leaves the graph. The search keeps a stack of its own, since a path may be longer than the machine's.
template <class Target>
class ComponentSearch {
 public:
  ComponentSearch(const std::vector<size_t>& first_edge, Target target)
      : first_edge_(first_edge), target_(target), found_(first_edge.size() - 1), lowest_(first_edge.size() - 1) {
    components_.place.resize(found_.size());
  }

  Components search() {
    for (size_t root = 0; root < found_.size(); ++root) {
      if (found_[root] == 0) enter(root);
      while (!path_.empty()) go_on();
    }
    return std::move(components_);
  }

 private:
  struct Visit {
    size_t state, next_edge;
  };

  void enter(size_t state) {
    found_[state] = lowest_[state] = ++count_;
    path_.push_back({state, first_edge_[state]});
  }

  // Follows the next edge of the state at the end of the path, or goes back from it.
  void go_on() {
    const auto [state, edge] = path_.back();
    if (edge == first_edge_[state + 1]) return leave(state);
    ++path_.back().next_edge;
    const int64_t target = target_(edge);
    if (target < 0) return;
    const auto to = static_cast<size_t>(target);
    if (found_[to] == 0) enter(to);
    else lowest_[state] = std::min(lowest_[state], found_[to]);
  }

  void leave(size_t state) {
    path_.pop_back();
    open_.push_back(static_cast<uint32_t>(state));
    if (lowest_[state] == found_[state]) close(state);
    else lowest_[path_.back().state] = std::min(lowest_[path_.back().state], lowest_[state]);
  }

  // A component is complete when the search leaves the first of its states, behind which it left all the others.
  void close(size_t root) {
    auto from = open_.end();
    while (from != open_.begin() && found_[from[-1]] >= found_[root]) --from;
    for (auto state = from; state != open_.end(); ++state) {
      components_.place[*state] = static_cast<uint32_t>(components_.states.size());
      components_.states.push_back(*state);
    }
    for (auto state = from; state != open_.end(); ++state) found_[*state] = kClosed;
    open_.erase(from, open_.end());
    components_.first.push_back(components_.states.size());
  }

  static constexpr size_t kClosed = SIZE_MAX;
  const std::vector<size_t>& first_edge_;
  const Target target_;
  std::vector<size_t> found_;   // 0 where the search has not been
  std::vector<size_t> lowest_;  // what a state's path leads back to
  size_t count_ = 0;
  std::vector<uint32_t> open_;  // left, their component not complete
  std::vector<Visit> path_;
  Components components_;
};

}  // namespace basanos
