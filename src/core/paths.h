// The first way to each state: the draws that lead there.
#pragma once
#include <algorithm>
#include <vector>

#include "state_graph.h"

namespace basanos {

struct WitnessDraw {
  int32_t source, value;
};

class Paths {
 public:
  // States come in the order of their numbers.
  void note(StateId state, const Step& step) {
    if (state == ways_.size()) ways_.push_back({step.from, {step.source, step.value}});
  }

  std::vector<WitnessDraw> to(StateId state) const {
    std::vector<WitnessDraw> draws;
    for (; state != kNoState && ways_[state].from != kNoState; state = ways_[state].from)
      draws.push_back(ways_[state].draw);
    std::reverse(draws.begin(), draws.end());
    return draws;
  }
  std::vector<WitnessDraw> along(const Step& step) const {
    std::vector<WitnessDraw> draws = to(step.from);
    if (step.from != kNoState) draws.push_back({step.source, step.value});
    return draws;
  }

 private:
  struct Way {
    StateId from;
    WitnessDraw draw;
  };
  std::vector<Way> ways_;
};

}  // namespace basanos
