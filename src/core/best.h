// Best play: what a unit is worth where the open decisions are made as well as can be, and what each answer is worth.
#pragma once
#include <functional>
#include <vector>

#include "components.h"
#include "matrix_game.h"
#include "play_graph.h"

namespace basanos {

// The worth lies between the two. They differ where a play need not end, or where not all states were visited.
struct Bounds {
  double lower = 0, upper = 0;
  double middle() const { return lower + (upper - lower) / 2; }
};

// An open decision at which play arrives.
struct Situation {
  size_t node;
  double reach;                // how often in a unit, where all play as well as can be
  std::vector<double> shares;  // of each answer, where both seats answer at once; else nothing
  std::vector<Bounds> worths;  // of each answer, none of the unit before; not a number: it cannot go on, or is unknown
};

// What the decisions of one site come to in a unit, where all play as well as can be.
struct SiteUse {
  double met = 0;      // with two answers or more
  double matters = 0;  // of these, where the answers are not all worth the same
  double to_next = 0, to_worst = 0;  // what the next best and the worst answer would lose, added up
};

// Adds a decision that is come to so often. Worths of which the great ones are good where `sign` is 1, the small ones
// where it is -1; those that are as near as `equal` are the same.
void add_use(double reach, const std::vector<Bounds>& worths, double sign, double equal, SiteUse& use);

class BestPlay {
 public:
  explicit BestPlay(const PlayGraph& graph);

  // False where `go_on` said no. `worst`: as badly as can be, in a graph that was not cut.
  bool solve(const std::function<bool()>& go_on, bool worst = false);

  Bounds at_start() const;
  bool fails() const;      // whatever is answered, play comes to where it cannot go on
  bool goes_round() const { return goes_round_; }  // what is paid on the way is paid in a circle

  // To be called when solved. The answers are those that are worth most; of equal ones the first.
  void follow();
  std::vector<Situation> situations(size_t most) const;
  // Every situation of the graph, with the shares of its answers.
  void each_situation(const std::function<void(const Situation&)>& visit) const;
  std::vector<SiteUse> uses() const;
  Bounds worth_of(size_t node, const PlayGraph::Edge& edge) const;

 private:
  class Circle;
  struct Flow;

  using Pairs = std::vector<PlayGraph::Pair>;

  Bounds of_target(uint32_t to) const;
  Bounds worth_at_once(size_t node) const;
  MatrixGame game_at(size_t node, const Pairs& pairs) const;
  std::vector<Situation> situations_at_once(size_t node) const;
  Bounds evaluated(size_t node) const;
  size_t chosen(size_t node) const;
  Situation situation(size_t node) const;
  std::vector<Situation> met_at(size_t node) const;
  void each_next(size_t node, const std::function<void(uint32_t, double)>& visit) const;
  void follow(size_t component, Flow& flow);

  const PlayGraph& graph_;
  const Components components_;
  std::vector<double> lower_, upper_;
  std::vector<double> reach_;
  std::vector<bool> at_once_, second_;  // by node: of the first seat that answers, and of the other
  double side_ = 1;  // -1: as badly as can be
  double scale_ = 1; // of worths: differences far below it are rounding
  bool goes_round_ = false;
};

}  // namespace basanos
