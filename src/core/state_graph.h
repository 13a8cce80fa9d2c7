// The states of a game at its draws and open decisions, and the ways between them. Each state is expanded once, into
// every branch of chance or every legal answer; states that are alike in all that is alive are one. What is made of it
// is the visitor's.
#pragma once
#include <cstdint>
#include <utility>
#include <vector>

#include "hash_cons.h"
#include "model.h"
#include "weights.h"

namespace basanos {

using StateId = uint32_t;
constexpr StateId kNoState = UINT32_MAX;

// One branch out of a state.
struct Step {
  StateId from;           // kNoState at the start
  int32_t source, value;  // what was drawn; of a decision the number of the answer
  Weight probability;     // of a decision 1 for each answer
};

// Is shown where the branches lead, while the model stands there. An answer of false ends the walk.
class Visitor {
 public:
  virtual ~Visitor() = default;
  virtual bool ended(Stop how, const Step& step) = 0;  // the end of a round or a unit, or a trace
  // A draw or an open decision. The state has this number after its seats are rotated `rotation` times.
  virtual bool arrive(StateId state, size_t rotation, const Step& step) = 0;
  virtual bool failed(const Step& step) = 0;
  virtual bool too_many_branches(StateId state) = 0;
  virtual bool branch_taken() { return true; }  // asked after each
};

enum class Keep { layers, all };

class StateGraph {
 public:
  // In layers, the states that are found make the next layer, and are numbered anew; else all are numbered as they are
  // found.
  StateGraph(Model& model, Visitor& visitor, uint64_t most_branches, Keep keep)
      : model_(model), visitor_(visitor), most_branches_(most_branches), keep_(keep) {}

  // Both are false where the visitor ended the walk.
  bool start();
  bool expand(StateId state);

  // The probability of the branches that were not taken when the state was expanded.
  Weight untaken() const { return untaken_; }

  void next_layer();
  void keep_all() { before_ = here_, keep_ = Keep::all; }
  void undo_keep_all() { here_ = std::move(before_), keep_ = Keep::layers; }

  size_t count() const { return here_.count(); }     // states that can be expanded
  size_t found() const { return to().count(); }      // states where arrivals are kept
  size_t bytes() const { return here_.bytes() + next_.bytes(); }
  uint64_t hash(StateId state) const { return here_.hash(state); }
  void stand_at_found(StateId state) { model_.unpack(to().key(state)); }

 private:
  bool follow(const Step& step);
  bool follow_parts(const Step& step);
  bool arrive(const Step& step);
  size_t rotate_to_known();
  void pack();
  HashConsTable& to() { return keep_ == Keep::all ? here_ : next_; }
  const HashConsTable& to() const { return keep_ == Keep::all ? here_ : next_; }

  Model& model_;
  Visitor& visitor_;
  const uint64_t most_branches_;
  Keep keep_;
  HashConsTable here_, next_, before_;
  std::vector<Branch> branches_;
  std::vector<uint8_t> key_;
  Weight untaken_ = 0;
  static constexpr size_t kMostWays = 1000;
  size_t ways_ = 1;  // of the parts of sets, since the last state
};

}  // namespace basanos
