// What is kept of a run: counts only, so that tallies merge exactly, in any order and grouping.
// Means, variances and intervals are worked out from the counts, never from running sums.
#pragma once
#include <array>
#include <cstdint>
#include <map>
#include <utility>
#include <vector>

#include "machine.h"

namespace basanos {

// How often each value came up. Small whole numbers are counted in place, the rest in a map.
class Histogram {
 public:
  inline void add(int32_t value) {
    const uint32_t slot = static_cast<uint32_t>(value) + kBelow;
    if (slot < near_.size()) ++near_[slot];
    else ++far_[value];
  }
  void add(double value) {
    if (value == last_value_ && last_count_ != nullptr) {
      ++*last_count_;
      return;
    }
    last_value_ = value + 0.0;  // -0 and 0 are one value
    last_count_ = &far_[last_value_];
    ++*last_count_;
  }
  void merge(const Histogram& other) {
    for (size_t i = 0; i < near_.size(); ++i) near_[i] += other.near_[i];
    for (const auto& [value, count] : other.far_) far_[value] += count;
  }
  std::map<double, uint64_t> counts() const {
    std::map<double, uint64_t> all = far_;
    for (size_t i = 0; i < near_.size(); ++i)
      if (near_[i] > 0) all[static_cast<double>(i) - kBelow] += near_[i];
    return all;
  }

  Histogram() = default;
  Histogram(const Histogram& o) : near_(o.near_), far_(o.far_) {}
  Histogram& operator=(const Histogram&) = delete;

 private:
  static constexpr uint32_t kBelow = 256;
  std::array<uint64_t, 1024> near_{};
  std::map<double, uint64_t> far_;
  double last_value_ = 0;
  uint64_t* last_count_ = nullptr;
};

struct Tally {
  uint64_t units = 0;
  std::vector<uint64_t> outcomes;
  std::vector<Histogram> quantities;

  explicit Tally(const Program& p)
      : outcomes(static_cast<size_t>(p.outcome_count)), quantities(p.quantities.size()) {}

  void merge(const Tally& other) {
    units += other.units;
    for (size_t k = 0; k < outcomes.size(); ++k) outcomes[k] += other.outcomes[k];
    for (size_t q = 0; q < quantities.size(); ++q) quantities[q].merge(other.quantities[q]);
  }
};

// Adds finished units of one frame to one tally. This is in the path of every round, so it holds
// the addresses.
class Recorder {
 public:
  Recorder(const Program& p, const Frame& f, Tally& tally)
      : units_(&tally.units), outcomes_(tally.outcomes.data()), outcome_(&f.ints[static_cast<size_t>(p.outcome_cell)]) {
    for (size_t q = 0; q < p.quantities.size(); ++q) {
      const auto cell = static_cast<size_t>(p.quantities[q].cell);
      if (p.quantities[q].real) reals_.push_back({&f.reals[cell], &tally.quantities[q]});
      else wholes_.push_back({&f.ints[cell], &tally.quantities[q]});
    }
  }

  void add() const {
    ++*units_;
    ++outcomes_[*outcome_ - 1];
    for (const auto& [value, histogram] : wholes_) histogram->add(*value);
    for (const auto& [value, histogram] : reals_) histogram->add(*value);
  }

 private:
  uint64_t* units_;
  uint64_t* outcomes_;
  const int32_t* outcome_;
  std::vector<std::pair<const int32_t*, Histogram*>> wholes_;
  std::vector<std::pair<const double*, Histogram*>> reals_;
};

}  // namespace basanos
