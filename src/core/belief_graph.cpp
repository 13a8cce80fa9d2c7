#include "belief_graph.h"

namespace basanos {

BeliefGraph::BeliefGraph(const Prepared& program, DecisionJob job)
    : PlayGraph(program.ready, std::move(job)),
      ways_from_(program_, job_.seats, rewards_of_, nullptr, [this] { return look_at_limits(); }) {}

GraphEnd BeliefGraph::build(const GraphPoll& poll) {
  poll_ = &poll;
  Way first = ways_from_.first();
  start_reward_ = first.reward;
  const auto roots = beliefs_.of(first.arrivals);
  while (found_.size() < beliefs_.count() && !ways_from_.stopped()) {
    const std::vector<Weighted> here = beliefs_.states(static_cast<uint32_t>(found_.size()));
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
    const double probability = here.probability;
    if (met_[here.state] > 1) add(kept_way(here.state, answer), probability);
    else add(ways_from_.after(here.state, answer), probability);
  }
  if (!all.fails) all.beliefs = beliefs_.of(arrivals);
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
    close_node(ways_from_.stand_at_answers(beliefs_.first_state(static_cast<uint32_t>(k))).site(), 0, false);
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
  return ways_from_.stand_at_answers(beliefs_.first_state(belief_of_.at(node)));
}

}  // namespace basanos
