// The weight that each value of a quantity has, added up.
#pragma once
#include <cstdint>
#include <map>
#include <vector>

#include "weights.h"

namespace basanos {

class ValueWeights {
 public:
  void add(int32_t value, Weight weight) {
    // Small whole numbers, as most are, have a place each: nothing is looked up for them.
    const uint32_t place = static_cast<uint32_t>(value) + kBelowZero;
    if (place < kPlaces) small_[place] += weight;
    else others_[value] += weight;
  }
  void add(double value, Weight weight) { others_[value + 0.0] += weight; }  // -0 and 0 are one value

  void add(const ValueWeights& other) {
    for (uint32_t place = 0; place < kPlaces; ++place) small_[place] += other.small_[place];
    for (const auto& [value, weight] : other.others_) others_[value] += weight;
  }

  std::map<double, double> rounded() const {
    std::map<double, double> all(others_.begin(), others_.end());
    for (uint32_t place = 0; place < kPlaces; ++place)
      if (small_[place] > 0) all[static_cast<int32_t>(place - kBelowZero)] += static_cast<double>(small_[place]);
    return all;
  }

 private:
  static constexpr uint32_t kBelowZero = 64, kPlaces = 320;
  std::vector<Weight> small_ = std::vector<Weight>(kPlaces);
  std::map<double, Weight> others_;
};

}  // namespace basanos
