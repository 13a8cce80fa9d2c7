// What the units of a count have come to, in weights: their outcomes and what is recorded of them.
#pragma once
#include <stdexcept>
#include <utility>
#include <vector>

#include "additive.h"
#include "exact.h"
#include "value_weights.h"

namespace basanos {

class Ended {
 public:
  // The sums of `records` are not in the frame: it has what they grew by since, and what they were comes in weights.
  Ended(const Program& p, const Frame& frame, const std::vector<AdditiveRecord>& records)
      : program_(p),
        frame_(frame),
        record_of_(numbers(records, p.quantities.size(), &AdditiveRecord::quantities)),
        unit_record_of_(numbers(records, p.unit_quantities.size(), &AdditiveRecord::unit_quantities)),
        lanes_(static_cast<size_t>(p.lanes) + 1, Lane(p)) {}

  void add_outcome(int32_t outcome, Weight weight) { lane().outcomes[static_cast<size_t>(outcome - 1)] += weight; }

  // Of a round or a unit that ends here with this weight; each record had `totals` times `probability`. False where a
  // sum is too large for a register.
  bool add_round(Weight weight, const Distribution* totals, Weight probability) {
    lane().rounds += weight;
    return add(program_.quantities, record_of_, lane().quantities, weight, totals, probability);
  }
  bool add_unit(Weight weight, const Distribution* totals, Weight probability) {
    return add(program_.unit_quantities, unit_record_of_, lane().unit_quantities, weight, totals, probability);
  }

  // The same of one record alone, which had come to `sum`.
  bool add_sum_of_round(size_t record, int64_t sum, Weight weight) {
    return add_sum(program_.quantities, record_of_, lane().quantities, record, sum, weight);
  }
  bool add_sum_of_unit(size_t record, int64_t sum, Weight weight) {
    return add_sum(program_.unit_quantities, unit_record_of_, lane().unit_quantities, record, sum, weight);
  }

  Counts before_lanes() const { return lanes_[0].counts(); }

  // Of each lane, with what ended before any.
  std::vector<Counts> in_lanes() {
    std::vector<Counts> all;
    for (size_t k = 1; k < lanes_.size(); ++k) {
      lanes_[k].add(lanes_[0]);
      all.push_back(lanes_[k].counts());
    }
    return all;
  }

 private:
  struct Lane {
    std::vector<Weight> outcomes;
    std::vector<ValueWeights> quantities, unit_quantities;
    Weight rounds = 0;

    explicit Lane(const Program& p)
        : outcomes(static_cast<size_t>(p.outcome_count)),
          quantities(p.quantities.size()),
          unit_quantities(p.unit_quantities.size()) {}

    void add(const Lane& other) {
      for (size_t k = 0; k < outcomes.size(); ++k) outcomes[k] += other.outcomes[k];
      for (size_t q = 0; q < quantities.size(); ++q) quantities[q].add(other.quantities[q]);
      for (size_t q = 0; q < unit_quantities.size(); ++q) unit_quantities[q].add(other.unit_quantities[q]);
      rounds += other.rounds;
    }

    Counts counts() const {
      return {std::vector<double>(outcomes.begin(), outcomes.end()), rounded(quantities), static_cast<double>(rounds),
              rounded(unit_quantities)};
    }

    static std::vector<std::map<double, double>> rounded(const std::vector<ValueWeights>& from) {
      std::vector<std::map<double, double>> to;
      for (const ValueWeights& weights : from) to.push_back(weights.rounded());
      return to;
    }
  };

  // Which record each quantity goes by: its number, or -1.
  static std::vector<int> numbers(const std::vector<AdditiveRecord>& records, size_t quantities,
                                  std::vector<size_t> AdditiveRecord::*which) {
    std::vector<int> all(quantities, -1);
    for (size_t r = 0; r < records.size(); ++r)
      for (size_t q : records[r].*which) all[q] = static_cast<int>(r);
    return all;
  }

  // The lane of the unit that ends; 0 before any.
  Lane& lane() {
    if (program_.lanes == 0) return lanes_[0];
    const auto lane = static_cast<size_t>(frame_.ints[static_cast<size_t>(program_.lane_register)]);
    if (lane >= lanes_.size()) throw std::invalid_argument("broken program: lane");
    return lanes_[lane];
  }

  bool add(const std::vector<Quantity>& quantities, const std::vector<int>& record_of, std::vector<ValueWeights>& into,
           Weight weight, const Distribution* totals, Weight probability) {
    bool fits = true;
    for (size_t q = 0; q < quantities.size(); ++q) {
      const auto reg = static_cast<size_t>(quantities[q].reg);
      if (quantities[q].real) into[q].add(frame_.reals[reg], weight);
      else if (record_of[q] < 0) into[q].add(frame_.ints[reg], weight);
      else
        totals[static_cast<size_t>(record_of[q])].each([&](int64_t sum, Weight of_sum) {
          fits = add_value(into[q], sum + frame_.ints[reg], of_sum * probability) && fits;
        });
    }
    return fits;
  }

  bool add_sum(const std::vector<Quantity>& quantities, const std::vector<int>& record_of,
               std::vector<ValueWeights>& into, size_t record, int64_t sum, Weight weight) {
    bool fits = true;
    for (size_t q = 0; q < quantities.size(); ++q)
      if (record_of[q] == static_cast<int>(record))
        fits = add_value(into[q], sum + frame_.ints[static_cast<size_t>(quantities[q].reg)], weight) && fits;
    return fits;
  }

  static bool add_value(ValueWeights& into, int64_t value, Weight weight) {
    if (value < INT32_MIN || value > INT32_MAX) return false;
    into.add(static_cast<int32_t>(value), weight);
    return true;
  }

  const Program& program_;
  const Frame& frame_;
  const std::vector<int> record_of_, unit_record_of_;
  std::vector<Lane> lanes_;
};

}  // namespace basanos
