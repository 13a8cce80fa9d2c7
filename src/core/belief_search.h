// Best play of one seat that does not see everything, by branch and bound over its situations: where they are too many
// to be written down, as those of guessing games, and play surely ends. What a situation can be worth at most is known
// from what it would be worth if all were seen after the next answer. (Littman, Cassandra and Kaelbling 1995, "Learning
// policies for partially observable environments: scaling up".)
#pragma once
#include <vector>

#include "beliefs.h"
#include "best.h"
#include "optimise.h"

namespace basanos {

// What counts of an objective: its mean, or the worst that chance can bring.
enum class Aim { mean, worst };
// May chance draw after the first decision? In guessing games it does not.
enum class LaterDraws { followed, refused };

class BeliefSearch {
 public:
  BeliefSearch(const Prepared& program, DecisionJob job, Aim aim, LaterDraws later = LaterDraws::followed);

  GraphEnd search(const GraphPoll& poll);
  // False where the search does not fit: play need not end, an answer fails, or the worst case depends on draws after
  // the first decision.
  bool fits() const { return fits_ && !ways_from_.endless(); }
  Bounds value() const { return value_; }
  // By answer of the first decision, where all begin with the same one. Of answers that cannot be best the worth is
  // only known from one side.
  const std::vector<Bounds>& firsts() const { return firsts_; }
  ProgramModel& stand_at_first() { return ways_from_.stand_at_answers(beliefs_.first_state(0)); }
  int first_site() { return stand_at_first().site(); }

  size_t situations() const { return beliefs_.count(); }
  uint64_t visited() const { return visited_; }
  size_t sums_left_out() const { return rewards_.sums().size(); }

 private:
  using State = Ways::State;

  // What an answer leads to from a state: the arrivals of its way, from `first` on. Gains are worths, of which the
  // seat wants the greatest.
  struct KnownWay {
    uint32_t first = 0, count = 0;
    double gain = 0;
    bool known = false;
  };
  struct Arrival {
    SeenHash seen;
    State state;
    double probability;
  };
  // `lower` is what a way of playing that was found is worth.
  struct Node {
    double lower, upper;
    bool is_solved() const { return lower == upper; }
  };
  struct Child {
    uint32_t belief;
    double weight;
  };
  struct Candidate {
    size_t answer;
    double bound, spread;
    bool split = false;  // into children?
    double gain = 0;     // at once; of the worst case the least that ends
    std::vector<Child> children;
  };

  const KnownWay& way(State state, size_t answer);
  double seen_through(State state);
  std::vector<Candidate> candidates(uint32_t belief);
  void split(uint32_t belief, Candidate& candidate);
  double joined(const Candidate& candidate, double Node::*end) const;
  Node& node(uint32_t belief);
  double greedy(uint32_t belief);
  void solve(uint32_t belief, double enough, std::vector<Bounds>* firsts);
  bool solve_children(Candidate& candidate, double enough);
  void set_value(const std::vector<Child>& roots, double gain);
  bool count_visit(uint64_t visits);
  bool ended() const { return limit_ != GraphEnd::done || !fits_ || ways_from_.stopped(); }
  bool is_bounded() const { return job_.has_range && rewards_.is_of_the_end(); }
  Bounds as_worth(double lower, double upper) const;

  const Program program_;
  const DecisionJob job_;
  const Aim aim_;
  const bool sure_;  // each answer must lead from each state to one place
  const double sign_;
  const WalkLimits limits_;
  const Rewards rewards_;
  Ways ways_from_;
  Beliefs beliefs_;
  std::vector<Node> nodes_;
  std::vector<std::vector<KnownWay>> ways_;  // by state and answer
  std::vector<Arrival> arrivals_;
  std::vector<double> seen_through_;         // by state
  std::vector<Bounds> firsts_;
  Bounds value_;
  uint64_t visited_ = 0;
  int depth_ = 0;
  bool fits_ = true;
  GraphEnd limit_ = GraphEnd::done;
  const GraphPoll* poll_ = nullptr;
};

}  // namespace basanos
