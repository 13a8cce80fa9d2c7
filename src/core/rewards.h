// What a unit is worth, and what each stretch of it brings: for best play, where that is a sum.
#pragma once
#include <cstdint>
#include <limits>
#include <vector>

#include "additive.h"
#include "interpreter.h"

namespace basanos {

// What a unit is worth: a sum over its rounds and its end.
struct Objective {
  struct Term {
    size_t quantity;
    double factor;  // times its value; or, with `equals`, where it has this value
    double equals = std::numeric_limits<double>::quiet_NaN();
  };
  std::vector<double> by_outcome;  // of each round; empty where the outcome alone is worth nothing
  std::vector<Term> of_round, of_unit;
};

// Sums that only grow on the way are no part of a state: what they grow by is a reward.
class Rewards {
 public:
  // `opposed`: another objective that reads the same sums.
  Rewards(const Program& program, const Objective& objective, const Objective& opposed);

  const std::vector<AdditiveRecord>& sums() const { return sums_; }
  std::vector<int32_t> registers() const;  // of the sums

  // Of a frame that has come from a state, and has stopped: at the end of a round or a unit, or on the way.
  double at_end(const Frame& frame, Stop how) const;
  double of_growth(const Frame& frame) const;

  // Is a unit worth nothing before it ends?
  bool is_of_the_end() const;

 private:
  const Program& program_;
  const Objective objective_;
  const bool rounds_;
  const std::vector<AdditiveRecord> sums_;
  const std::vector<double> factors_;  // by how much the objective grows with each of the sums
};

}  // namespace basanos
