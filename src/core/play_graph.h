// What best play is worked out on: draws and open decisions, and where each of their edges leads. It is built by a
// DecisionGraph, where all is seen, or a BeliefGraph.
#pragma once
#include <chrono>
#include <functional>
#include <unordered_map>
#include <vector>

#include "model.h"
#include "rewards.h"

namespace basanos {

struct DecisionJob {
  Objective objective;
  std::vector<int32_t> seats;  // those that decide, one or two
  std::vector<double> signs;  // by site: 1 where the objective is to be great, -1 where it is to be small
  Objective opposed;          // of the other seat, if there is one: must add up to 0 with the first
  bool is_opposed = false;
  // The ends of what a unit can be worth, where they are known: then a graph that is too large gives bounds.
  bool has_range = false;
  double least = 0, greatest = 0;
  // Then too an answer that ends with the most that there can be may rule out the others: they are not followed.
  bool cut = false;
  uint64_t states = 5000000;
  uint64_t bytes = uint64_t{4} << 30;
  double seconds = 1e300;
};

enum class GraphEnd { done, states, bytes, seconds, stopped, unopposed };

// Called now and then with the states visited; false stops the walk.
using GraphPoll = std::function<bool(uint64_t)>;

class WalkLimits {
 public:
  explicit WalkLimits(const DecisionJob& job) : states_(job.states), bytes_(job.bytes), seconds_(job.seconds) {}
  GraphEnd reached(uint64_t states, size_t bytes, const GraphPoll& poll) const;

 private:
  const uint64_t states_, bytes_;
  const double seconds_;
  const std::chrono::steady_clock::time_point start_ = std::chrono::steady_clock::now();
};

class PlayGraph {
 public:
  // Where an edge leads, besides to a node: to the end, to a failure, to a state that was not visited.
  static constexpr uint32_t kEnd = UINT32_MAX, kFailed = UINT32_MAX - 1, kOpen = UINT32_MAX - 2;
  static bool is_node(uint32_t to) { return to < kOpen; }

  // `value`: of a draw its probability, of an answer what it brings at once.
  struct Edge {
    uint32_t to, value;
  };

  virtual ~PlayGraph() = default;

  // To be called once.
  virtual GraphEnd build(const GraphPoll& poll) = 0;

  size_t count() const { return sites_.size(); }
  size_t edges() const { return edges_.size(); }
  const std::vector<size_t>& first_edges() const { return first_; }
  const Edge* begin(size_t node) const { return edges_.data() + first_[node]; }
  const Edge* end(size_t node) const { return edges_.data() + first_[node + 1]; }
  double value(const Edge& edge) const { return values_[edge.value]; }
  uint32_t target(size_t edge) const { return edges_[edge].to; }

  bool is_decision(size_t node) const { return sites_[node] >= 0; }
  int32_t site(size_t node) const { return sites_[node]; }
  double sign(size_t node) const { return job_.signs[static_cast<size_t>(sites_[node])]; }
  // Do both seats answer at once there? Each answer of the first leads to the decision of the second, or fails.
  bool is_at_once(size_t node) const;
  // Then by the answers of the first and of the second: where they lead, and what they bring at once.
  struct Pair {
    uint32_t to;
    double value;
  };
  std::vector<Pair> pairs(size_t node) const;
  // Of a draw: what it brings on average at once; does it bring anything where play goes on?
  double reward(size_t node) const { return node_rewards_[node]; }
  bool pays_on_the_way(size_t node) const { return pays_[node]; }
  // Of a decision: the one answer that was followed, as it ends with the most that there can be; else -1.
  int32_t cut_to(size_t node) const;
  bool is_cut() const { return !cuts_.empty(); }

  uint32_t first_node() const { return first_target_; }  // or where the unit leads without any
  double start_reward() const { return start_reward_; }
  const DecisionJob& job() const { return job_; }
  const Failure& failure() const { return failure_; }
  virtual uint64_t visited() const { return count(); }  // states, counted in the same way as the limit
  size_t sums_left_out() const { return rewards_of_.sums().size(); }

  // Puts the model at the answers of a decision.
  virtual ProgramModel& stand_at_answers(size_t node) = 0;

 protected:
  PlayGraph(const Program& program, DecisionJob job);

  void add_edge(uint32_t to, double value) { edges_.push_back({to, interned(value)}); }
  void close_node(int32_t site, double reward, bool pays);
  size_t stored_bytes() const;

  const Program program_;
  DecisionJob job_;
  const WalkLimits limits_;
  const Rewards rewards_of_;
  std::vector<Edge> edges_;
  std::unordered_map<size_t, int32_t> cuts_;
  double start_reward_ = 0;
  uint32_t first_target_ = kEnd;
  Failure failure_;

 private:
  uint32_t interned(double value);

  std::vector<int32_t> sites_;  // by node; -1 a draw
  std::vector<double> node_rewards_;
  std::vector<bool> pays_;
  std::vector<size_t> first_{0};
  std::vector<double> values_;
  std::unordered_map<uint64_t, uint32_t> value_numbers_;
};

}  // namespace basanos
