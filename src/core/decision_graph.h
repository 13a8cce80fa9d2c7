// The states of a game whose decisions are open, each with its draws or answers, walked once and kept.
#pragma once
#include <vector>

#include "optimise.h"
#include "play_graph.h"
#include "state_graph.h"

namespace basanos {

class DecisionGraph : public PlayGraph, private Visitor {
 public:
  DecisionGraph(const Prepared& program, DecisionJob job);

  GraphEnd build(const GraphPoll& poll) override;
  ProgramModel& stand_at_answers(size_t node) override;

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
  void expect_opposed();
  void number_targets();

  const Rewards opposed_;
  ProgramModel model_;
  StateGraph graph_;
  std::vector<StateId> queue_;  // the states that are visited, in the order of the nodes
  std::vector<bool> reached_;   // by state
  std::vector<Found> found_;    // of the state that is expanded
  int32_t site_ = -1;
  bool passed_ = false;         // there was no answer
  double pending_ = 0, pending_opposed_ = 0;  // what the branch has brought so far
  bool at_start_ = true, unopposed_ = false;
};

}  // namespace basanos
