// Best play of two seats that hide something from each other: mixes of answers, found by regret matching.
// (Tammelin 2014, "Solving large imperfect information games using CFR+"; Farina, Kroer and Sandholm 2021, "Faster game
// solving via predictive Blackwell approachability".)
#pragma once
#include <array>
#include <functional>
#include <vector>

#include "best.h"
#include "game_tree.h"

namespace basanos {

class Equilibrium {
 public:
  explicit Equilibrium(const GameTree& tree);

  // Ends when the bounds differ by at most `gap` times the scale of the payoffs, or after so many sweeps or seconds.
  // False where `go_on` said no.
  bool solve(const std::function<bool()>& go_on, double gap, size_t most_sweeps, double seconds = 1e300);

  // The objective: what the first seat's mixes are sure of, and what the second's let it get.
  Bounds value() const;
  bool fails() const { return tree_.fails(0, 0) || tree_.fails(1, 0); }
  size_t sweeps() const { return sweeps_; }

  // What a seat knows where it decides, how often both come there, and the share and the worth of each answer. The
  // worth is that of the rest of the unit, where both go on as here; not a number for answers that cannot be gone on
  // from.
  struct Mix {
    size_t seat, knowledge;
    int32_t site;
    double reach;
    std::vector<double> shares;
    std::vector<Bounds> worths;
  };
  std::vector<Mix> mixes(size_t most) const;  // those that are come to most often
  std::vector<Mix> all_mixes() const;
  std::vector<SiteUse> uses() const;

 private:
  using Numbers = std::vector<double>;
  struct Side {
    double sign;  // 1 where the objective is to be great
    Numbers regrets, last;   // by sequence: of the sweeps so far, of the last one
    Numbers shares, plan;    // of the answers; of all answers up to it
    Numbers sum;             // of the plans, the later the heavier
  };

  Numbers worths(size_t seat, const Numbers& against) const;
  void match_regrets(size_t seat);
  void learn(size_t seat, Numbers& worths);
  void write_plan(size_t seat, const Numbers& shares, Numbers& plan) const;
  Numbers average(size_t seat) const;
  double best_against(size_t seat, const Numbers& against) const;
  double look_at_bounds();
  void add_mixes(size_t seat, std::vector<Mix>& all) const;

  const GameTree& tree_;
  std::array<Side, 2> sides_;
  double lower_, upper_, scale_ = 0;
  size_t sweeps_ = 0;
};

}  // namespace basanos
