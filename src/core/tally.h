// The tally of a run: counts only, so that tallies merge exactly, in any order and grouping.
// Means, variances and intervals are worked out from the counts, never from running sums.
#pragma once
#include <basanos/job.h>

#include <array>
#include <cstdint>
#include <map>
#include <utility>
#include <vector>

#include "interpreter.h"

namespace basanos {

// The count of each value. Small whole numbers are counted in an array, the rest in a map.
class Histogram {
 public:
  inline void add(int32_t value, uint64_t times = 1) {
    const uint32_t slot = static_cast<uint32_t>(value) - static_cast<uint32_t>(NEAR_LEAST);
    if (slot < near_.size()) near_[slot] += times;
    else far_[value] += times;
  }
  void add(double value, uint64_t times = 1) {
    if (value != last_value_ || last_count_ == nullptr) {
      last_value_ = value + 0.0;  // -0 and 0 are one value
      last_count_ = &far_[last_value_];
    }
    *last_count_ += times;
  }
  void merge(const Histogram& other) {
    for (size_t i = 0; i < near_.size(); ++i) near_[i] += other.near_[i];
    for (const auto& [value, count] : other.far_) far_[value] += count;
  }
  std::map<double, uint64_t> counts() const {
    std::map<double, uint64_t> all = far_;
    for (size_t i = 0; i < near_.size(); ++i)
      if (near_[i] > 0) all[static_cast<double>(i) + NEAR_LEAST] += near_[i];
    return all;
  }

  uint64_t* near_counts() { return near_.data(); }

  Histogram() = default;
  Histogram(const Histogram& o) : near_(o.near_), far_(o.far_) {}
  Histogram& operator=(const Histogram&) = delete;

 private:
  std::array<uint64_t, NEAR_COUNT> near_{};
  std::map<double, uint64_t> far_;
  double last_value_ = 0;
  uint64_t* last_count_ = nullptr;
};

// For intervals where the rounds of a unit hang together: sums over the units of products of what each
// unit gave, in whole steps of 1/1024, so that they too merge exactly. `n` is the rounds of the unit.
struct Products {
  static constexpr double kSteps = 1024;
  Wide ss = 0;  // of the sum by itself
  SignedWide sn = 0;  // of the sum by n
  void merge(const Products& o) {
    ss += o.ss;
    sn += o.sn;
  }
};

struct Tally {
  uint64_t units = 0;
  uint64_t rounds = 0;
  Wide squared_rounds = 0;  // the sum of n by n
  std::vector<uint64_t> outcomes;
  std::vector<Histogram> quantities;
  std::vector<Histogram> unit_quantities;
  std::vector<Products> products;  // of the outcomes, then of the quantities
  uint64_t strays = 0;             // rounds that came to no outcome: the program is broken

  explicit Tally(const Program& p)
      : outcomes(static_cast<size_t>(p.outcome_count)),
        quantities(p.quantities.size()),
        unit_quantities(p.unit_quantities.size()) {
    if (has_rounds(p)) products.resize(outcomes.size() + quantities.size());
  }

  void merge(const Tally& other) {
    units += other.units;
    strays += other.strays;
    rounds += other.rounds;
    squared_rounds += other.squared_rounds;
    for (size_t k = 0; k < outcomes.size(); ++k) outcomes[k] += other.outcomes[k];
    for (size_t q = 0; q < quantities.size(); ++q) quantities[q].merge(other.quantities[q]);
    for (size_t q = 0; q < unit_quantities.size(); ++q) unit_quantities[q].merge(other.unit_quantities[q]);
    for (size_t k = 0; k < products.size(); ++k) products[k].merge(other.products[k]);
  }
};

// The registers of some quantities, with their counters.
class Counters {
 public:
  Counters(const std::vector<Quantity>& quantities, const Frame& f, std::vector<Histogram>& into) {
    for (size_t q = 0; q < quantities.size(); ++q) {
      const auto reg = static_cast<size_t>(quantities[q].reg);
      if (quantities[q].real) reals_.push_back({&f.reals[reg], &into[q]});
      else wholes_.push_back({&f.ints[reg], &into[q]});
    }
  }

  void add(uint64_t times) const {
    for (const auto& [value, histogram] : wholes_) histogram->add(*value, times);
    for (const auto& [value, histogram] : reals_) histogram->add(*value, times);
  }

 private:
  std::vector<std::pair<const int32_t*, Histogram*>> wholes_;
  std::vector<std::pair<const double*, Histogram*>> reals_;
};

constexpr double kMostSteps = 9e18;  // what goes beyond has no interval

// Adds finished rounds and units of one frame to one tally. This is in the path of every round, so it
// holds the addresses.
class Recorder {
 public:
  Recorder(const Program& p, const Frame& f, Tally& tally)
      : tally_(&tally),
        outcomes_(tally.outcomes.data()),
        outcome_count_(static_cast<uint32_t>(tally.outcomes.size())),
        outcome_(&f.ints[static_cast<size_t>(p.outcome_register)]),
        of_round_(p.quantities, f, tally.quantities),
        of_unit_(p.unit_quantities, f, tally.unit_quantities),
        program_(&p),
        frame_(&f),
        sums_(tally.products.size()) {}

  // A unit that is one round, or several alike.
  void add(uint64_t times = 1) const {
    tally_->units += times;
    tally_->rounds += times;
    count(times);
    of_unit_.add(times);
  }

  void add_round() {
    count(1);
    ++rounds_;
    if (static_cast<uint32_t>(*outcome_) - 1 < outcome_count_) sums_[static_cast<size_t>(*outcome_ - 1)] += 1;
    for (size_t q = 0; q < program_->quantities.size(); ++q)
      sums_[tally_->outcomes.size() + q] += value_of(program_->quantities[q]);
  }

  void add_unit() {
    ++tally_->units;
    tally_->rounds += rounds_;
    tally_->squared_rounds += static_cast<Wide>(rounds_) * rounds_;
    of_unit_.add(1);
    for (size_t k = 0; k < sums_.size(); ++k) {
      const double scaled = sums_[k] * Products::kSteps;
      const auto steps = static_cast<int64_t>(scaled > -kMostSteps && scaled < kMostSteps ? scaled : 0);
      const auto size = static_cast<uint64_t>(steps < 0 ? -steps : steps);
      tally_->products[k].ss += static_cast<Wide>(size) * size;
      tally_->products[k].sn += static_cast<SignedWide>(steps) * static_cast<SignedWide>(rounds_);
      sums_[k] = 0;
    }
    rounds_ = 0;
  }

 private:
  void count(uint64_t times) const {
    const uint32_t k = static_cast<uint32_t>(*outcome_) - 1;
    if (__builtin_expect(k < outcome_count_, 1)) outcomes_[k] += times;
    else tally_->strays += times;
    of_round_.add(times);
  }

  double value_of(const Quantity& q) const {
    const auto reg = static_cast<size_t>(q.reg);
    return q.real ? frame_->reals[reg] : frame_->ints[reg];
  }

  Tally* tally_;
  uint64_t* outcomes_;
  const uint32_t outcome_count_;
  const int32_t* outcome_;
  const Counters of_round_, of_unit_;
  const Program* program_;
  const Frame* frame_;
  std::vector<double> sums_;  // of the unit so far
  uint64_t rounds_ = 0;
};

// Plays a unit to its end and records its rounds.
class Recording final : public Sampling {
 public:
  explicit Recording(Recorder& recorder) : recorder_(recorder) {}
  void round(Frame&) override { recorder_.add_round(); }

 private:
  Recorder& recorder_;
};

}  // namespace basanos
