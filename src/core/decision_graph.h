// The states of a game whose decisions are open, each with its draws or answers, walked once and kept: what best play
// is worked out on.
#pragma once
#include <chrono>
#include <functional>
#include <limits>
#include <unordered_map>
#include <vector>

#include "additive.h"
#include "optimise.h"
#include "state_graph.h"

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

struct DecisionJob {
  Objective objective;
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

class DecisionGraph : private Visitor {
 public:
  // Where an edge leads, besides to a node: to the end, to a failure, to a state that was not visited.
  static constexpr uint32_t kEnd = UINT32_MAX, kFailed = UINT32_MAX - 1, kOpen = UINT32_MAX - 2;
  static bool is_node(uint32_t to) { return to < kOpen; }

  // `value`: of a draw its probability, of an answer what it brings at once.
  struct Edge {
    uint32_t to, value;
  };

  DecisionGraph(const Prepared& program, DecisionJob job);

  // To be called once.
  GraphEnd build(const GraphPoll& poll);

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
  // Of a draw: what it brings on average at once; does it bring anything where play goes on?
  double reward(size_t node) const { return rewards_[node]; }
  bool pays_on_the_way(size_t node) const { return pays_[node]; }
  // Of a decision: the one answer that was followed, as it ends with the most that there can be; else -1.
  int32_t cut_to(size_t node) const;
  bool is_cut() const { return !cuts_.empty(); }

  uint32_t first_node() const { return first_target_; }  // or where the unit leads without any
  double start_reward() const { return start_reward_; }
  const DecisionJob& job() const { return job_; }
  const Failure& failure() const { return failure_; }
  size_t sums_left_out() const { return records_.size(); }
  size_t bytes() const;

  // Puts the model at the answers of a decision.
  ProgramModel& stand_at_answers(size_t node);

 private:
  struct Found {
    uint32_t state;  // or where it leads else
    double probability, reward;
  };

  bool ended(Stop how, const Step& step) override;
  bool arrive(StateId state, size_t rotation, const Step& step) override;
  bool failed(const Step& step) override;
  bool too_many_branches(StateId) override;
  bool branch_taken() override;

  void visit(StateId state);
  void lead_to(uint32_t state);
  void close_draw();
  void close_decision();
  bool cuts(const Found& found) const;
  uint32_t interned(double value);
  void add(const Objective& objective, Stop how, double& to) const;
  void add_growth();
  void expect_opposed();
  GraphEnd limit_reached(const GraphPoll& poll);
  void number_targets();

  const Program program_;
  DecisionJob job_;
  const bool rounds_;
  const std::vector<AdditiveRecord> records_;
  std::vector<double> growth_factors_, opposed_factors_;  // of the records
  ProgramModel model_;
  StateGraph graph_;

  std::vector<StateId> queue_;   // the states that are visited, in the order of the nodes
  std::vector<bool> reached_;    // by state
  std::vector<int32_t> sites_;   // by node; -1 a draw
  std::vector<double> rewards_;
  std::vector<bool> pays_;
  std::vector<size_t> first_{0};
  std::vector<Edge> edges_;
  std::vector<double> values_;
  std::unordered_map<uint64_t, uint32_t> value_numbers_;
  std::unordered_map<size_t, int32_t> cuts_;

  std::vector<Found> found_;     // of the state that is expanded
  int32_t site_ = -1;
  bool passed_ = false;          // there was no answer
  double pending_ = 0, pending_opposed_ = 0;  // what the branch has brought so far
  bool at_start_ = true, unopposed_ = false;
  std::chrono::steady_clock::time_point start_;
  double start_reward_ = 0;
  uint32_t first_target_ = kEnd;
  Failure failure_;
};

}  // namespace basanos
