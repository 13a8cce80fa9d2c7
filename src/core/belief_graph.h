// The situations of a seat that does not see everything: where it decides, with the distribution over the states that
// it cannot tell apart by what it has seen. (Astrom 1965, "Optimal control of Markov processes with incomplete state
// information".)
#pragma once
#include <optional>
#include <unordered_map>
#include <utility>
#include <vector>

#include "beliefs.h"
#include "optimise.h"
#include "play_graph.h"
#include "ways.h"

namespace basanos {

class BeliefGraph : public PlayGraph {
 public:
  BeliefGraph(const Prepared& program, DecisionJob job);

  GraphEnd build(const GraphPoll& poll) override;
  ProgramModel& stand_at_answers(size_t node) override;
  uint64_t visited() const override { return visited_; }

 private:
  using State = Ways::State;
  using Arrival = Ways::Arrival;
  using Way = Ways::Way;

  using Weighted = Beliefs::Weighted;
  struct Answer {
    double reward;
    bool fails;
    std::vector<std::pair<uint32_t, double>> beliefs;  // their numbers, and how likely they are
  };

  const Way& kept_way(State state, size_t answer);
  Answer joined(const std::vector<Weighted>& belief, size_t answer);
  void write_nodes();
  void write_draw(const std::vector<std::pair<uint32_t, double>>& beliefs, double reward);
  size_t bytes() const;
  bool look_at_limits();

  Ways ways_from_;
  Beliefs beliefs_;
  std::vector<uint32_t> met_;              // in how many situations each state was
  std::vector<std::vector<std::optional<Way>>> ways_;  // by state and answer, of states that are met again
  std::vector<std::vector<Answer>> found_;  // by belief and answer
  std::vector<size_t> node_of_;            // of each belief
  std::unordered_map<size_t, uint32_t> belief_of_;  // of each node that is a decision
  size_t arrivals_ = 0;
  uint64_t visited_ = 0;
  GraphEnd limit_ = GraphEnd::done;
  const GraphPoll* poll_ = nullptr;
};

}  // namespace basanos
