// The situations of a seat that does not see everything: where it decides, with the distribution over the states that
// it cannot tell apart by what it has seen. (Astrom 1965, "Optimal control of Markov processes with incomplete state
// information".)
#pragma once
#include <map>
#include <unordered_map>
#include <utility>
#include <vector>

#include "hash_cons.h"
#include "optimise.h"
#include "play_graph.h"

namespace basanos {

class BeliefGraph : public PlayGraph {
 public:
  BeliefGraph(const Prepared& program, DecisionJob job);

  GraphEnd build(const GraphPoll& poll) override;
  ProgramModel& stand_at_answers(size_t node) override;
  uint64_t visited() const override { return visited_; }

 private:
  using State = uint32_t;

  // A decision that play arrives at, with what the seat has seen on the way, and how likely that is.
  struct Arrival {
    uint64_t seen;
    State state;
    double probability;
  };
  // What an answer leads to from a state: what it brings on average, and the decisions behind it.
  struct Way {
    double reward = 0;
    bool fails = false;
    bool known = false;
    std::vector<Arrival> arrivals;
  };
  struct Weighted {
    State state;
    uint64_t weight;  // in units of 2^-40
  };
  struct Answer {
    double reward;
    bool fails;
    std::vector<std::pair<uint32_t, double>> beliefs;  // their numbers, and how likely they are
  };

  Way way(State state, size_t answer);
  const Way& kept_way(State state, size_t answer);
  size_t answers(State state);
  Way followed();
  double explore(double probability, uint64_t seen, Way& way);
  uint64_t with_shown(uint64_t seen) const;
  uint64_t with_offers(uint64_t seen) const;
  Answer joined(const std::vector<Weighted>& belief, size_t answer);
  std::vector<std::pair<uint32_t, double>> beliefs_of(std::vector<Arrival>& arrivals);
  uint32_t number_of(const Arrival* from, const Arrival* to, double all);
  std::vector<Weighted> belief(uint32_t number) const;
  void write_nodes();
  void write_draw(const std::vector<std::pair<uint32_t, double>>& beliefs, double reward);
  size_t bytes() const;
  void look_at_limits();

  static constexpr size_t kBytesOfState = sizeof(State) + sizeof(uint64_t);

  ProgramModel model_;
  HashConsTable states_, beliefs_;
  std::vector<uint32_t> sizes_;            // of beliefs, in states
  HashConsTable ended_;                    // draws behind which the seat decides no more
  std::vector<double> ended_rewards_;
  std::vector<uint32_t> met_;              // in how many situations each state was
  std::vector<std::vector<Way>> ways_;     // by state and answer, of states that are met again
  std::vector<std::vector<Answer>> found_;  // by belief and answer
  std::vector<size_t> node_of_;            // of each belief
  std::unordered_map<size_t, uint32_t> belief_of_;  // of each node that is a decision
  size_t arrivals_ = 0;
  uint64_t visited_ = 0;
  int depth_ = 0;
  GraphEnd limit_ = GraphEnd::done;
  const GraphPoll* poll_ = nullptr;
};

}  // namespace basanos
