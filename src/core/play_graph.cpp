#include "play_graph.h"

#include <algorithm>
#include <cstring>
#include <stdexcept>

namespace basanos {

PlayGraph::PlayGraph(const Program& program, DecisionJob job)
    : program_(program), job_(std::move(job)), limits_(job_), rewards_of_(program_, job_.objective, job_.opposed) {
  if (job_.signs.size() != program_.sites.size()) throw std::invalid_argument("broken objective: signs");
  job_.has_range = job_.has_range && rewards_of_.is_of_the_end();
}

void PlayGraph::close_node(int32_t site, double reward, bool pays) {
  sites_.push_back(site);
  node_rewards_.push_back(reward);
  pays_.push_back(pays);
  first_.push_back(edges_.size());
}

uint32_t PlayGraph::interned(double value) {
  uint64_t bits;
  std::memcpy(&bits, &value, sizeof bits);
  const auto [place, fresh] = value_numbers_.emplace(bits, static_cast<uint32_t>(values_.size()));
  if (fresh) values_.push_back(value);
  return place->second;
}

size_t PlayGraph::stored_bytes() const {
  constexpr size_t a_node = sizeof(int32_t) + sizeof(double) + sizeof(size_t), a_value = sizeof(double) + 32;
  return edges_.size() * sizeof(Edge) + count() * a_node + values_.size() * a_value;
}

GraphEnd WalkLimits::reached(uint64_t states, size_t bytes, const GraphPoll& poll) const {
  if (states >= states_) return GraphEnd::states;
  if (states % 256 != 0) return GraphEnd::done;
  if (bytes > bytes_) return GraphEnd::bytes;
  const std::chrono::duration<double> took = std::chrono::steady_clock::now() - start_;
  if (took.count() > seconds_) return GraphEnd::seconds;
  return poll(states) ? GraphEnd::done : GraphEnd::stopped;
}

bool PlayGraph::is_at_once(size_t node) const {
  if (job_.seats.size() < 2 || !is_decision(node)) return false;
  const Site& own = program_.sites[static_cast<size_t>(site(node))];
  if (own.group < 0) return false;
  return std::all_of(begin(node), end(node), [&](const Edge& edge) {
    if (edge.to == kFailed) return true;
    if (!is_node(edge.to) || !is_decision(edge.to)) return false;
    // It comes behind; one before it is that of the next time that both are asked.
    return site(edge.to) > site(node) && program_.sites[static_cast<size_t>(site(edge.to))].group == own.group;
  });
}

std::vector<PlayGraph::Pair> PlayGraph::pairs(size_t node) const {
  size_t columns = 0;
  for (const Edge* edge = begin(node); edge != end(node); ++edge)
    if (is_node(edge->to)) columns = first_[edge->to + 1] - first_[edge->to];
  std::vector<Pair> all;
  for (const Edge* edge = begin(node); edge != end(node); ++edge) {
    if (!is_node(edge->to)) {
      all.resize(all.size() + columns, {kFailed, 0});
      continue;
    }
    if (first_[edge->to + 1] - first_[edge->to] != columns)
      throw std::logic_error("the answers of a seat show what the other has answered at once");
    for (const Edge* next = begin(edge->to); next != end(edge->to); ++next)
      all.push_back({next->to, value(*edge) + value(*next)});
  }
  return all;
}

int32_t PlayGraph::cut_to(size_t node) const {
  const auto found = cuts_.find(node);
  return found == cuts_.end() ? -1 : found->second;
}

}  // namespace basanos
