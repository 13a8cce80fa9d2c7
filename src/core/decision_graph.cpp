#include "decision_graph.h"

#include <algorithm>
#include <cmath>

namespace basanos {
namespace {

constexpr double kAsGood = 1e-12;  // of two worths that are equal but for rounding

}  // namespace

DecisionGraph::DecisionGraph(const Prepared& program, DecisionJob job)
    : PlayGraph(program.ready, std::move(job)),
      // Both objectives leave the same sums out.
      opposed_(program_, job_.is_opposed ? job_.opposed : Objective{}, job_.objective),
      model_(program_, nullptr, rewards_of_.registers()),
      graph_(model_, *this, job_.states, Keep::all) {}

GraphEnd DecisionGraph::build(const GraphPoll& poll) {
  graph_.start();
  at_start_ = false;
  GraphEnd end = GraphEnd::done;
  for (size_t node = 0; node < queue_.size() && end == GraphEnd::done; ++node) {
    visit(queue_[node]);
    const size_t bytes = stored_bytes() + graph_.bytes() + queue_.size() * sizeof(StateId);
    end = unopposed_ ? GraphEnd::unopposed : limits_.reached(count(), bytes, poll);
    if (node + 1 == queue_.size() && end != GraphEnd::unopposed && end != GraphEnd::stopped) end = GraphEnd::done;
  }
  number_targets();
  return unopposed_ ? GraphEnd::unopposed : end;
}

void DecisionGraph::visit(StateId state) {
  found_.clear();
  graph_.stand_at_found(state);
  site_ = model_.site();
  passed_ = false;
  graph_.expand(state);
  if (site_ >= 0 && !passed_) close_decision();
  else close_draw();
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
    add_edge(state, probability);
    lead_to(state);
  }
  close_node(-1, reward, pays);
}

void DecisionGraph::close_decision() {
  const auto best = std::find_if(found_.begin(), found_.end(), [this](const Found& f) { return cuts(f); });
  if (best != found_.end() && found_.size() > 1) {
    cuts_[count()] = static_cast<int32_t>(best - found_.begin());
    found_ = {*best};
  }
  for (const Found& f : found_) {
    add_edge(f.state, f.reward);
    lead_to(f.state);
  }
  close_node(site_, 0, false);
}

// Does it end the unit with as much as there can be, whatever another seat answers at the same time?
bool DecisionGraph::cuts(const Found& found) const {
  if (!job_.cut || !job_.has_range || found.state != kEnd) return false;
  if (job_.seats.size() > 1 && program_.sites[static_cast<size_t>(site_)].group >= 0) return false;
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

// Edges lead to states until all are known; then to nodes.
void DecisionGraph::number_targets() {
  std::vector<uint32_t> node(graph_.count(), kOpen);
  for (size_t k = 0; k < count(); ++k) node[queue_[k]] = static_cast<uint32_t>(k);
  for (Edge& edge : edges_)
    if (is_node(edge.to)) edge.to = node[edge.to];
  if (is_node(first_target_)) first_target_ = node[first_target_];
}

ProgramModel& DecisionGraph::stand_at_answers(size_t node) {
  graph_.stand_at_found(queue_[node]);
  model_.offer();
  return model_;
}

void DecisionGraph::expect_opposed() {
  if (job_.is_opposed && !(std::abs(pending_ + pending_opposed_) <= 1e-9 * std::max(1.0, std::abs(pending_))))
    unopposed_ = true;
}

bool DecisionGraph::ended(Stop how, const Step& step) {
  passed_ = step.value == Model::kPass && site_ >= 0;
  pending_ += rewards_of_.at_end(model_.frame, how);
  if (job_.is_opposed) pending_opposed_ += opposed_.at_end(model_.frame, how);
  expect_opposed();
  if (unopposed_ || how == Stop::round) return !unopposed_;
  if (at_start_) start_reward_ = pending_;
  else found_.push_back({kEnd, static_cast<double>(step.probability), pending_});
  return true;
}

bool DecisionGraph::arrive(StateId state, size_t, const Step& step) {
  passed_ = step.value == Model::kPass && site_ >= 0;
  pending_ += rewards_of_.of_growth(model_.frame);
  pending_opposed_ += opposed_.of_growth(model_.frame);
  expect_opposed();
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
