#include "play_graph.h"

#include <cstring>
#include <stdexcept>

namespace basanos {

PlayGraph::PlayGraph(const Program& program, DecisionJob job)
    : program_(program), job_(std::move(job)), rewards_of_(program_, job_.objective, job_.opposed) {
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

GraphEnd PlayGraph::limit_reached(uint64_t states, size_t bytes, const GraphPoll& poll) {
  if (states >= job_.states) return GraphEnd::states;
  if (states % 256 != 0) return GraphEnd::done;
  if (bytes > job_.bytes) return GraphEnd::bytes;
  const std::chrono::duration<double> took = std::chrono::steady_clock::now() - start_;
  if (took.count() > job_.seconds) return GraphEnd::seconds;
  return poll(states) ? GraphEnd::done : GraphEnd::stopped;
}

int32_t PlayGraph::cut_to(size_t node) const {
  const auto found = cuts_.find(node);
  return found == cuts_.end() ? -1 : found->second;
}

}  // namespace basanos
