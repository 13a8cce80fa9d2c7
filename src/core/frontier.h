// Hash-consed states with their weights: the states of one layer that are yet to be expanded, or the ends of a chain.
// A state stands for itself and for its rotations over the seats, and has a weight for each.
#pragma once
#include <numeric>

#include "hash_cons.h"
#include "pack.h"

namespace basanos {

// Weights are added up millions of times: the wider type keeps their sum at 1 to the last bit of a double.
using Weight = long double;

class Frontier {
 public:
  explicit Frontier(size_t rotations) : rotations_(rotations) {}

  static constexpr uint32_t kNone = HashConsTable::kNone;
  uint32_t find(const std::vector<uint8_t>& key) const { return index_.find(key.data(), key.size()); }
  uint32_t find_or_add(const std::vector<uint8_t>& key) {
    const uint32_t number = index_.find_or_add(key);
    weights_.resize(index_.count() * rotations_);
    return number;
  }
  void clear() {
    index_.clear();
    weights_.clear();
  }
  size_t count() const { return index_.count(); }
  size_t bytes() const { return index_.bytes() + weights_.size() * sizeof(Weight); }
  const uint8_t* key(size_t number) const { return index_.key(static_cast<uint32_t>(number)); }
  uint64_t hash(size_t number) const { return index_.hash(static_cast<uint32_t>(number)); }
  Weight* weights(size_t number) { return &weights_[number * rotations_]; }
  Weight weight(size_t number) const {
    const auto first = weights_.begin() + static_cast<std::ptrdiff_t>(number * rotations_);
    return std::accumulate(first, first + static_cast<std::ptrdiff_t>(rotations_), Weight{0});
  }
  Weight weight() const { return std::accumulate(weights_.begin(), weights_.end(), Weight{0}); }
  const std::vector<Weight>& all_weights() const { return weights_; }

 private:
  size_t rotations_;
  HashConsTable index_;
  std::vector<Weight> weights_;
};

}  // namespace basanos
