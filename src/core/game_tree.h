// Two seats that hide something from each other: what each can know and answer, as a tree, and what each pair of
// sequences of answers brings. (Koller, Megiddo and von Stengel 1996, "Efficient computation of equilibria for
// extensive two-person games".)
#pragma once
#include <array>
#include <unordered_map>
#include <vector>

#include "hash_cons.h"
#include "optimise.h"
#include "play_graph.h"
#include "ways.h"

namespace basanos {

class GameTree {
 public:
  // What a seat knows where it decides: all that it has seen and answered. Its answers are the sequences from `first`
  // on.
  struct Knowledge {
    int32_t site;
    uint32_t before;  // the sequence of the answers that came before
    uint32_t first, answers;
    Ways::State state;  // one of those in which the seat may be
  };
  // Where both seats answer by these sequences: how much that brings, times how likely the draws for it are.
  struct Payoff {
    std::array<uint32_t, 2> sequences;
    double value;
  };
  // How likely the draws are by which a seat comes to know something where the other answers by this sequence.
  struct Meeting {
    uint32_t knowledge, sequence;
    double probability;
  };

  GameTree(const Prepared& program, const DecisionJob& job);

  // To be called once.
  GraphEnd build(const GraphPoll& poll);

  // Of each seat. The sequence 0 is that of no answer. Knowledge comes behind the knowledge before it.
  const std::vector<Knowledge>& knowledge(size_t seat) const { return sides_[seat].knowledge; }
  const std::vector<Meeting>& meetings(size_t seat) const { return sides_[seat].meetings; }
  size_t sequences(size_t seat) const { return sides_[seat].fails.size(); }
  bool fails(size_t seat, size_t sequence) const { return sides_[seat].fails[sequence]; }
  const std::vector<Payoff>& payoffs() const { return payoffs_; }

  const DecisionJob& job() const { return job_; }
  uint64_t visited() const { return visited_; }
  size_t histories() const { return histories_; }
  size_t sums_left_out() const { return rewards_.sums().size(); }
  const Failure& failure() const { return ways_.failure(); }
  ProgramModel& stand_at_answers(size_t seat, size_t knowledge) {
    return ways_.stand_at_answers(sides_[seat].knowledge[knowledge].state);
  }

 private:
  struct Side {
    std::vector<Knowledge> knowledge;
    std::vector<bool> fails{false};  // by sequence
    std::vector<Meeting> meetings;
    HashConsTable numbers;  // of knowledge, by the sequence before and what was seen since
  };
  // Play so far, as far as it matters: where it is, and what each seat has answered and has seen since.
  struct History {
    Ways::State state;
    std::array<uint32_t, 2> sequences;
    std::array<SeenHash, 2> seen;
  };
  using Level = std::vector<std::pair<History, double>>;  // with how likely the draws are

  void follow(const History& history, double probability);
  void lead_to(const Ways::Way& way, const History& from, double probability);
  uint32_t known(size_t seat, const History& history);
  const Ways::Way& kept_way(Ways::State state, uint32_t answer);
  void spread_failures(Side& side);
  bool visit();
  bool stopped() const { return limit_ != GraphEnd::done || ways_.stopped(); }
  size_t bytes() const;

  const Program program_;
  const DecisionJob job_;
  const WalkLimits limits_;
  const Rewards rewards_, opposed_;
  Ways ways_;
  std::array<Side, 2> sides_;
  std::vector<std::vector<Ways::Way>> ways_of_;  // by state and answer
  std::vector<Payoff> payoffs_;
  std::unordered_map<uint64_t, uint32_t> payoff_numbers_;
  Level next_;  // histories with one answer more
  HashConsTable next_numbers_;
  uint64_t visited_ = 0;
  size_t histories_ = 0, arrivals_ = 0;
  GraphEnd limit_ = GraphEnd::done;
  const GraphPoll* poll_ = nullptr;
};

}  // namespace basanos
