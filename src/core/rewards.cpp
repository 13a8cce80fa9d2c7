#include "rewards.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace basanos {
namespace {

bool has_term_of(const std::vector<Objective::Term>& terms, const std::vector<size_t>& quantities, bool any) {
  return std::any_of(terms.begin(), terms.end(), [&](const Objective::Term& term) {
    return (any || !std::isnan(term.equals)) &&
           std::find(quantities.begin(), quantities.end(), term.quantity) != quantities.end();
  });
}

// What is recorded of a sum in each of several rounds is not what it grows by, and neither is whether it has come to a
// value.
std::vector<AdditiveRecord> sums_beside(const Program& program, const Objective& objective, const Objective& opposed) {
  const bool rounds = has_rounds(program);
  const auto is_read = [rounds](const AdditiveRecord& sum, const Objective& by) {
    return has_term_of(by.of_round, sum.quantities, rounds) || has_term_of(by.of_unit, sum.unit_quantities, false);
  };
  std::vector<AdditiveRecord> sums;
  for (const AdditiveRecord& sum : additive_records(program))
    if (!is_read(sum, objective) && !is_read(sum, opposed)) sums.push_back(sum);
  return sums;
}

std::vector<double> factors_of(const Objective& objective, const std::vector<AdditiveRecord>& records) {
  std::vector<double> factors(records.size());
  const auto add = [&](const std::vector<Objective::Term>& terms, std::vector<size_t> AdditiveRecord::*which) {
    for (size_t r = 0; r < records.size(); ++r)
      for (size_t q : records[r].*which)
        for (const Objective::Term& term : terms)
          if (term.quantity == q) factors[r] += term.factor;
  };
  add(objective.of_round, &AdditiveRecord::quantities);
  add(objective.of_unit, &AdditiveRecord::unit_quantities);
  return factors;
}

void check(const Objective& objective, const Program& p) {
  const auto within = [](const std::vector<Objective::Term>& terms, size_t count) {
    return std::all_of(terms.begin(), terms.end(), [count](const Objective::Term& t) { return t.quantity < count; });
  };
  const size_t outcomes = objective.by_outcome.size();
  if ((outcomes > 0 && outcomes != static_cast<size_t>(p.outcome_count)) ||
      !within(objective.of_round, p.quantities.size()) || !within(objective.of_unit, p.unit_quantities.size()))
    throw std::invalid_argument("broken objective");
}

double worth_of(const Objective::Term& term, double value) {
  return std::isnan(term.equals) ? term.factor * value : value == term.equals ? term.factor : 0;
}

const Program& checked(const Program& program, const Objective& objective) {
  check(objective, program);
  return program;
}

}  // namespace

Rewards::Rewards(const Program& program, const Objective& objective, const Objective& opposed)
    : program_(checked(program, objective)),
      objective_(objective),
      rounds_(has_rounds(program)),
      sums_(sums_beside(program, objective, opposed)),
      factors_(factors_of(objective, sums_)) {}

std::vector<int32_t> Rewards::registers() const {
  std::vector<int32_t> regs;
  for (const AdditiveRecord& sum : sums_) regs.push_back(sum.reg);
  return regs;
}

double Rewards::at_end(const Frame& frame, Stop how) const {
  const auto value = [&frame](const Quantity& q) {
    return q.real ? frame.reals[static_cast<size_t>(q.reg)] : frame.ints[static_cast<size_t>(q.reg)];
  };
  double reward = 0;
  if (how == Stop::round || !rounds_) {
    const auto outcome = static_cast<size_t>(frame.ints[static_cast<size_t>(program_.outcome_register)]);
    if (!objective_.by_outcome.empty()) reward += objective_.by_outcome.at(outcome - 1);
    for (const Objective::Term& term : objective_.of_round)
      reward += worth_of(term, value(program_.quantities[term.quantity]));
  }
  if (how != Stop::round)
    for (const Objective::Term& term : objective_.of_unit)
      reward += worth_of(term, value(program_.unit_quantities[term.quantity]));
  return reward;
}

double Rewards::of_growth(const Frame& frame) const {
  double reward = 0;
  for (size_t r = 0; r < sums_.size(); ++r)
    reward += factors_[r] * frame.ints[static_cast<size_t>(sums_[r].reg)];
  return reward;
}

bool Rewards::is_of_the_end() const {
  return std::all_of(factors_.begin(), factors_.end(), [](double factor) { return factor == 0; }) &&
         (!rounds_ || (objective_.by_outcome.empty() && objective_.of_round.empty()));
}

}  // namespace basanos
