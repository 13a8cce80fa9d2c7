// Sums that only grow on the way and are read at the end: for counting, where they only keep states apart.
#pragma once
#include <cstdint>
#include <vector>

#include "program.h"
#include "weights.h"

namespace basanos {

// A register to which is only added, and what is recorded of it: its value, or its value and something more.
struct AdditiveRecord {
  int32_t reg;
  std::vector<size_t> quantities, unit_quantities;
};

// The records of whole numbers that a count can leave out of its states. Their registers start once in a unit, are
// added to whatever they hold, and are read by nothing but what is recorded at an end.
std::vector<AdditiveRecord> additive_records(const Program& program);

// The weights of consecutive values. A single one, as most states have, needs no memory of its own.
class Distribution {
 public:
  static Distribution of(int32_t value) {
    Distribution one;
    one.first_ = value;
    one.single_ = one.size_ = 1;
    return one;
  }

  // Adds another, times `factor`, with each value greater by `growth`. False where the values are too many, or too
  // large.
  bool add(const Distribution& other, int32_t growth, Weight factor);

  size_t size() const { return size_; }
  template <class Visit>
  void each(Visit visit) const {
    for (size_t k = 0; k < size_; ++k)
      if (weights()[k] != 0) visit(first_ + static_cast<int64_t>(k), weights()[k]);
  }

 private:
  static constexpr int64_t kMostValues = 100000;
  const Weight* weights() const { return size_ == 1 ? &single_ : many_.data(); }
  void widen(int64_t first, int64_t end);

  int64_t first_ = 0;
  size_t size_ = 0;
  Weight single_ = 0;
  std::vector<Weight> many_;  // where there are several
};

// What each record has come to in each state of a layer.
class Totals {
 public:
  explicit Totals(size_t records) : records_(records) {}

  bool add(size_t state, size_t record, const Distribution& other, int32_t growth, Weight factor);
  const Distribution* of(size_t state) const { return &all_[state * records_]; }
  size_t states() const { return records_ == 0 ? 0 : all_.size() / records_; }
  void clear() { all_.clear(), values_ = 0; }
  size_t bytes() const { return all_.size() * sizeof(Distribution) + values_ * sizeof(Weight); }

 private:
  size_t records_, values_ = 0;
  std::vector<Distribution> all_;
};

}  // namespace basanos
