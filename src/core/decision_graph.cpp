#include "decision_graph.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <stdexcept>

#include "pack.h"

namespace basanos {
namespace {

std::vector<int32_t> registers_of(const std::vector<AdditiveRecord>& records) {
  std::vector<int32_t> regs;
  for (const AdditiveRecord& record : records) regs.push_back(record.reg);
  return regs;
}

// By how much the objective grows with each of the sums.
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

constexpr double kAsGood = 1e-12;  // of two worths that are equal but for rounding

double worth_of(const Objective::Term& term, double value) {
  return std::isnan(term.equals) ? term.factor * value : value == term.equals ? term.factor : 0;
}

bool has_term_of(const std::vector<Objective::Term>& terms, const std::vector<size_t>& quantities, bool any) {
  return std::any_of(terms.begin(), terms.end(), [&](const Objective::Term& term) {
    return (any || !std::isnan(term.equals)) &&
           std::find(quantities.begin(), quantities.end(), term.quantity) != quantities.end();
  });
}

// The sums that are counted beside the states, as what an edge brings. What is recorded of a sum in each of several
// rounds is not what it grows by, and neither is whether it has come to a value.
std::vector<AdditiveRecord> sums_beside(const Program& program, const DecisionJob& job) {
  const bool rounds = has_rounds(program);
  const auto is_read = [rounds](const AdditiveRecord& sum, const Objective& objective) {
    return has_term_of(objective.of_round, sum.quantities, rounds) ||
           has_term_of(objective.of_unit, sum.unit_quantities, false);
  };
  std::vector<AdditiveRecord> sums;
  for (const AdditiveRecord& sum : additive_records(program))
    if (!is_read(sum, job.objective) && !is_read(sum, job.opposed)) sums.push_back(sum);
  return sums;
}

// Is a unit worth nothing before it ends?
bool is_of_the_end(const Objective& objective, bool rounds, const std::vector<double>& growth) {
  return std::all_of(growth.begin(), growth.end(), [](double factor) { return factor == 0; }) &&
         (!rounds || (objective.by_outcome.empty() && objective.of_round.empty()));
}

}  // namespace

DecisionGraph::DecisionGraph(const Prepared& program, DecisionJob job)
    : program_(program.ready),
      job_(std::move(job)),
      rounds_(has_rounds(program_)),
      records_(sums_beside(program_, job_)),
      growth_factors_(factors_of(job_.objective, records_)),
      opposed_factors_(factors_of(job_.opposed, records_)),
      model_(program_, nullptr, registers_of(records_)),
      graph_(model_, *this, job_.states, Keep::all) {
  check(job_.objective, program_);
  check(job_.opposed, program_);
  if (job_.signs.size() != program_.sites.size()) throw std::invalid_argument("broken objective: signs");
  job_.has_range = job_.has_range && is_of_the_end(job_.objective, rounds_, growth_factors_);
}

GraphEnd DecisionGraph::build(const GraphPoll& poll) {
  start_ = std::chrono::steady_clock::now();
  graph_.start();
  at_start_ = false;
  GraphEnd end = GraphEnd::done;
  for (size_t node = 0; node < queue_.size() && end == GraphEnd::done; ++node) {
    visit(queue_[node]);
    end = unopposed_ ? GraphEnd::unopposed : limit_reached(poll);
    if (node + 1 == queue_.size() && end != GraphEnd::unopposed && end != GraphEnd::stopped) end = GraphEnd::done;
  }
  number_targets();
  return unopposed_ ? GraphEnd::unopposed : end;
}

GraphEnd DecisionGraph::limit_reached(const GraphPoll& poll) {
  if (count() >= job_.states) return GraphEnd::states;
  if (count() % 256 != 0) return GraphEnd::done;
  if (bytes() > job_.bytes) return GraphEnd::bytes;
  const std::chrono::duration<double> took = std::chrono::steady_clock::now() - start_;
  if (took.count() > job_.seconds) return GraphEnd::seconds;
  return poll(count()) ? GraphEnd::done : GraphEnd::stopped;
}

size_t DecisionGraph::bytes() const {
  return graph_.bytes() + edges_.size() * sizeof(Edge) + count() * (sizeof(int32_t) + sizeof(double) + sizeof(size_t)) +
         queue_.size() * sizeof(StateId) + values_.size() * (sizeof(double) + 32);
}

void DecisionGraph::visit(StateId state) {
  found_.clear();
  graph_.stand_at_found(state);
  site_ = model_.site();
  passed_ = false;
  graph_.expand(state);
  if (site_ >= 0 && !passed_) close_decision();
  else close_draw();
  first_.push_back(edges_.size());
}

// Equal targets of a draw are one edge. Where there is no answer to a decision, play goes on by itself.
void DecisionGraph::close_draw() {
  std::sort(found_.begin(), found_.end(), [](const Found& a, const Found& b) { return a.state < b.state; });
  double reward = 0;
  bool pays = false;
  for (size_t k = 0; k < found_.size();) {
    const uint32_t state = found_[k].state;
    double probability = 0;
    for (; k < found_.size() && found_[k].state == state; ++k) {
      probability += found_[k].probability;
      reward += found_[k].probability * found_[k].reward;
      pays = pays || (is_node(state) && found_[k].reward != 0);
    }
    edges_.push_back({state, interned(probability)});
    lead_to(state);
  }
  sites_.push_back(-1);
  rewards_.push_back(reward);
  pays_.push_back(pays);
}

void DecisionGraph::close_decision() {
  const auto best = std::find_if(found_.begin(), found_.end(), [this](const Found& f) { return cuts(f); });
  if (best != found_.end() && found_.size() > 1) {
    cuts_[count()] = static_cast<int32_t>(best - found_.begin());
    found_ = {*best};
  }
  for (const Found& f : found_) {
    edges_.push_back({f.state, interned(f.reward)});
    lead_to(f.state);
  }
  sites_.push_back(site_);
  rewards_.push_back(0);
  pays_.push_back(false);
}

// Does it end the unit with as much as there can be?
bool DecisionGraph::cuts(const Found& found) const {
  if (!job_.cut || !job_.has_range || found.state != kEnd) return false;
  const double sign = job_.signs[static_cast<size_t>(site_)];
  const double most = sign > 0 ? job_.greatest : job_.least;
  return sign * found.reward >= sign * most - kAsGood * std::max(1.0, std::abs(most));
}

void DecisionGraph::lead_to(uint32_t state) {
  if (!is_node(state)) return;
  if (reached_.size() <= state) reached_.resize(std::max<size_t>(state + 1, 2 * reached_.size()));
  if (reached_[state]) return;
  reached_[state] = true;
  queue_.push_back(state);
}

uint32_t DecisionGraph::interned(double value) {
  uint64_t bits;
  std::memcpy(&bits, &value, sizeof bits);
  const auto [place, fresh] = value_numbers_.emplace(bits, static_cast<uint32_t>(values_.size()));
  if (fresh) values_.push_back(value);
  return place->second;
}

// Edges lead to states until all are known; then to nodes.
void DecisionGraph::number_targets() {
  std::vector<uint32_t> node(graph_.count(), kOpen);
  for (size_t k = 0; k < count(); ++k) node[queue_[k]] = static_cast<uint32_t>(k);
  for (Edge& edge : edges_)
    if (is_node(edge.to)) edge.to = node[edge.to];
  if (is_node(first_target_)) first_target_ = node[first_target_];
}

int32_t DecisionGraph::cut_to(size_t node) const {
  const auto found = cuts_.find(node);
  return found == cuts_.end() ? -1 : found->second;
}

ProgramModel& DecisionGraph::stand_at_answers(size_t node) {
  graph_.stand_at_found(queue_[node]);
  model_.offer();
  return model_;
}

// What the frame is worth at the end of a round or a unit.
void DecisionGraph::add(const Objective& objective, Stop how, double& to) const {
  const Frame& frame = model_.frame;
  const auto value = [&frame](const Quantity& q) {
    return q.real ? frame.reals[static_cast<size_t>(q.reg)] : frame.ints[static_cast<size_t>(q.reg)];
  };
  if (how == Stop::round || !rounds_) {
    const auto outcome = static_cast<size_t>(frame.ints[static_cast<size_t>(program_.outcome_register)]);
    if (!objective.by_outcome.empty()) to += objective.by_outcome.at(outcome - 1);
    for (const Objective::Term& term : objective.of_round)
      to += worth_of(term, value(program_.quantities[term.quantity]));
  }
  if (how != Stop::round)
    for (const Objective::Term& term : objective.of_unit)
      to += worth_of(term, value(program_.unit_quantities[term.quantity]));
}

void DecisionGraph::add_growth() {
  for (size_t r = 0; r < records_.size(); ++r) {
    const int32_t growth = model_.frame.ints[static_cast<size_t>(records_[r].reg)];
    pending_ += growth_factors_[r] * growth;
    pending_opposed_ += opposed_factors_[r] * growth;
  }
  expect_opposed();
}

void DecisionGraph::expect_opposed() {
  if (job_.is_opposed && !(std::abs(pending_ + pending_opposed_) <= 1e-9 * std::max(1.0, std::abs(pending_))))
    unopposed_ = true;
}

bool DecisionGraph::ended(Stop how, const Step& step) {
  passed_ = step.value == Model::kPass && site_ >= 0;
  add(job_.objective, how, pending_);
  if (job_.is_opposed) add(job_.opposed, how, pending_opposed_);
  expect_opposed();
  if (unopposed_ || how == Stop::round) return !unopposed_;
  if (at_start_) start_reward_ = pending_;
  else found_.push_back({kEnd, static_cast<double>(step.probability), pending_});
  return true;
}

bool DecisionGraph::arrive(StateId state, size_t, const Step& step) {
  passed_ = step.value == Model::kPass && site_ >= 0;
  add_growth();
  if (at_start_) {
    start_reward_ = pending_;
    first_target_ = state;
    lead_to(state);
    pending_ = pending_opposed_ = 0;
  } else found_.push_back({state, static_cast<double>(step.probability), pending_});
  return !unopposed_;
}

bool DecisionGraph::failed(const Step& step) {
  failure_ = failure_of(program_, model_.frame);
  if (at_start_) first_target_ = kFailed;
  else found_.push_back({kFailed, static_cast<double>(step.probability), 0});
  return true;
}

// As if it had not been visited.
bool DecisionGraph::too_many_branches(StateId) {
  found_.push_back({kOpen, 1, 0});
  return true;
}

bool DecisionGraph::branch_taken() {
  pending_ = pending_opposed_ = 0;
  return true;
}

}  // namespace basanos
