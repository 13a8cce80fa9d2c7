#include "belief_graph.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace basanos {
namespace {

constexpr double kWhole = 1099511627776.0;  // 2^40: weights are rounded to it, so that equal beliefs are one

}  // namespace

BeliefGraph::BeliefGraph(const Prepared& program, DecisionJob job)
    : PlayGraph(program.ready, std::move(job)),
      ways_from_(program_, job_.seats, rewards_of_, nullptr, [this] { return look_at_limits(); }) {}

GraphEnd BeliefGraph::build(const GraphPoll& poll) {
  poll_ = &poll;
  Way first = ways_from_.first();
  start_reward_ = first.reward;
  const auto roots = beliefs_of(first.arrivals);
  while (found_.size() < beliefs_.count() && !ways_from_.stopped()) {
    const std::vector<Weighted> here = belief(static_cast<uint32_t>(found_.size()));
    if (met_.size() < ways_from_.count()) met_.resize(ways_from_.count());
    for (const Weighted& each : here) ++met_[each.state];
    std::vector<Answer> all;
    const size_t count = ways_from_.answers(here[0].state);  // the seat sees it: that of all states here
    for (size_t k = 0; k < count && !ways_from_.stopped(); ++k) all.push_back(joined(here, k));
    if (!ways_from_.stopped()) found_.push_back(std::move(all));
  }
  if (ways_from_.endless()) limit_ = GraphEnd::states;
  failure_ = ways_from_.failure();
  write_nodes();
  first_target_ = first.fails ? kFailed : found_.empty() && !roots.empty() ? kOpen : static_cast<uint32_t>(count());
  write_draw(roots, 0);  // what comes first
  return limit_;
}

// Answers and draws count alike.
bool BeliefGraph::look_at_limits() {
  if (limit_ == GraphEnd::done) limit_ = limits_.reached(++visited_, bytes(), *poll_);
  return limit_ == GraphEnd::done;
}

size_t BeliefGraph::bytes() const {
  return ways_from_.bytes() + beliefs_.bytes() + arrivals_ * sizeof(Arrival) + ways_from_.count() * 64 +
         found_.size() * 96;
}

const BeliefGraph::Way& BeliefGraph::kept_way(State state, size_t answer) {
  if (ways_.size() <= state) ways_.resize(ways_from_.count());
  if (ways_[state].size() <= answer) ways_[state].resize(answer + 1);
  std::optional<Way>& kept = ways_[state][answer];
  if (!kept) {
    kept = ways_from_.after(state, answer);
    arrivals_ += kept->arrivals.size();
  }
  return *kept;
}

// An answer of the seat in a situation, over all states that it may be in.
BeliefGraph::Answer BeliefGraph::joined(const std::vector<Weighted>& belief, size_t answer) {
  Answer all{0, false, {}};
  std::vector<Arrival> arrivals;
  const auto add = [&](const Way& part, double probability) {
    all.reward += probability * part.reward;
    all.fails = all.fails || part.fails;
    for (const Arrival& a : part.arrivals) arrivals.push_back({a.seen, a.state, probability * a.probability});
  };
  for (const Weighted& here : belief) {
    const double probability = static_cast<double>(here.weight) / kWhole;
    if (met_[here.state] > 1) add(kept_way(here.state, answer), probability);
    else add(ways_from_.after(here.state, answer), probability);
  }
  if (!all.fails) all.beliefs = beliefs_of(arrivals);
  return all;
}

// What was seen tells arrivals apart: each is a situation of its own.
std::vector<std::pair<uint32_t, double>> BeliefGraph::beliefs_of(std::vector<Arrival>& arrivals) {
  std::sort(arrivals.begin(), arrivals.end(), [](const Arrival& a, const Arrival& b) {
    return a.seen[0] == b.seen[0] ? a.state < b.state : a.seen[0] < b.seen[0];
  });
  std::vector<std::pair<uint32_t, double>> beliefs;
  for (size_t from = 0, to = 0; from < arrivals.size(); from = to) {
    double all = 0;
    const SeenHash& seen = arrivals[from].seen[0];
    for (; to < arrivals.size() && arrivals[to].seen[0] == seen; ++to) all += arrivals[to].probability;
    beliefs.push_back({number_of(arrivals.data() + from, arrivals.data() + to, all), all});
  }
  return beliefs;
}

// The number of a distribution over states, which come in order.
uint32_t BeliefGraph::number_of(const Arrival* from, const Arrival* to, double all) {
  std::vector<uint8_t> key;
  while (from != to) {
    Weighted here{from->state, 0};
    double probability = 0;
    for (; from != to && from->state == here.state; ++from) probability += from->probability;
    here.weight = static_cast<uint64_t>(std::llround(probability / all * kWhole));
    if (here.weight == 0) continue;
    const auto* const bytes = reinterpret_cast<const uint8_t*>(&here.state);
    key.insert(key.end(), bytes, bytes + sizeof here.state);
    const auto* const weight = reinterpret_cast<const uint8_t*>(&here.weight);
    key.insert(key.end(), weight, weight + sizeof here.weight);
  }
  const uint32_t number = beliefs_.find_or_add(key);
  if (sizes_.size() <= number) sizes_.push_back(static_cast<uint32_t>(key.size() / kBytesOfState));
  return number;
}

std::vector<BeliefGraph::Weighted> BeliefGraph::belief(uint32_t number) const {
  std::vector<Weighted> all;
  const uint8_t* at = beliefs_.key(number);
  for (uint32_t k = 0; k < sizes_[number]; ++k, at += kBytesOfState) {
    Weighted here;
    std::memcpy(&here.state, at, sizeof here.state);
    std::memcpy(&here.weight, at + sizeof here.state, sizeof here.weight);
    all.push_back(here);
  }
  return all;
}

// A situation is a decision; each of its answers leads to a draw of what is seen next.
void BeliefGraph::write_nodes() {
  node_of_.assign(beliefs_.count(), kOpen);
  size_t node = 0;
  for (size_t k = 0; k < found_.size(); ++k) {
    node_of_[k] = node;
    node += 1 + found_[k].size();
  }
  for (size_t k = 0; k < found_.size(); ++k) {
    belief_of_[count()] = static_cast<uint32_t>(k);
    for (size_t answer = 0; answer < found_[k].size(); ++answer)
      add_edge(found_[k][answer].fails ? kFailed : static_cast<uint32_t>(count() + 1 + answer), 0);
    close_node(ways_from_.stand_at_answers(belief(static_cast<uint32_t>(k))[0].state).site(), 0, false);
    for (const Answer& answer : found_[k]) write_draw(answer.beliefs, answer.reward);
  }
}

void BeliefGraph::write_draw(const std::vector<std::pair<uint32_t, double>>& beliefs, double reward) {
  double ends = 1;
  for (const auto& [number, probability] : beliefs) {
    add_edge(static_cast<uint32_t>(node_of_[number]), probability);
    ends -= probability;
  }
  if (ends > 1e-12) add_edge(kEnd, ends);
  close_node(-1, reward, reward != 0 && !beliefs.empty());
}

ProgramModel& BeliefGraph::stand_at_answers(size_t node) {
  return ways_from_.stand_at_answers(belief(belief_of_.at(node))[0].state);
}

}  // namespace basanos
