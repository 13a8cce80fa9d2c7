// The weights of states, by their numbers. A state stands for itself and for its rotations over the seats, and has a
// weight for each.
#pragma once
#include <cstddef>
#include <numeric>
#include <vector>

namespace basanos {

// Weights are added up millions of times: the wider type keeps their sum at 1 to the last bit of a double.
using Weight = long double;

class Weights {
 public:
  explicit Weights(size_t rotations) : rotations_(rotations) {}

  // Those of a state that is new are 0.
  Weight* of(size_t state) {
    if (all_.size() <= state * rotations_) all_.resize((state + 1) * rotations_);
    return &all_[state * rotations_];
  }
  Weight sum(size_t state) {
    const Weight* const first = of(state);
    return std::accumulate(first, first + rotations_, Weight{0});
  }
  Weight sum() const { return std::accumulate(all_.begin(), all_.end(), Weight{0}); }
  void clear() { all_.clear(); }
  size_t bytes() const { return all_.size() * sizeof(Weight); }
  std::vector<Weight> all(size_t states) const {
    std::vector<Weight> all = all_;
    all.resize(states * rotations_);
    return all;
  }

 private:
  size_t rotations_;
  std::vector<Weight> all_;
};

// Adds to a state's weights what comes to it over an edge that rotates the seats.
inline void add_rotated(Weight* to, const Weight* from, size_t rotations, Weight probability, size_t rotation) {
  const size_t whole = rotations - rotation;
  for (size_t s = 0; s < whole; ++s) to[s + rotation] += from[s] * probability;
  for (size_t s = whole; s < rotations; ++s) to[s - whole] += from[s] * probability;
}

}  // namespace basanos
