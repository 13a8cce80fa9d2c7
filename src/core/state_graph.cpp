#include "state_graph.h"

#include <numeric>
#include <utility>

namespace basanos {

bool StateGraph::start() {
  model_.start();
  return follow({kNoState, 0, 0, 1});
}

bool StateGraph::expand(StateId state) {
  model_.unpack(here_.key(state));
  untaken_ = 0;
  if (model_.at_split()) return follow_parts({state, 0, 0, 1});
  if (model_.branch_bound() > most_branches_) {
    untaken_ = 1;
    return visitor_.too_many_branches(state);
  }
  Step step{state, model_.source(), 0, 1};
  if (!model_.branches(branches_)) return visitor_.failed(step);
  for (size_t k = 0; k < branches_.size(); ++k) {
    if (k > 0) model_.unpack(here_.key(state));
    step.value = branches_[k].value;
    step.probability = branches_[k].probability;
    const bool goes_on = model_.take(step.value) ? follow(step) : visitor_.failed(step);
    if (visitor_.branch_taken() && goes_on) continue;
    for (++k; k < branches_.size(); ++k) untaken_ += branches_[k].probability;
    return false;
  }
  return true;
}

// Runs to the next draw or open decision. The ends of rounds on the way are no states.
bool StateGraph::follow(const Step& step) {
  for (;;) {
    const Stop stop = model_.run();
    switch (stop) {
      case Stop::round:
        if (!visitor_.ended(stop, step)) return false;
        model_.go_on();
        break;
      case Stop::end: case Stop::trace: return visitor_.ended(stop, step);
      case Stop::chance: case Stop::open: return arrive(step);
      case Stop::split: return follow_parts(step);
      default: return visitor_.failed(step);
    }
  }
}

// Each part of a set is a branch of its own, on the way to the next state. Where the ways from one state are many, the
// split is a state itself.
bool StateGraph::follow_parts(const Step& step) {
  if (ways_ > kMostWays) return arrive(step);
  const size_t parts = model_.split();
  ways_ *= parts;
  bool goes_on = true;
  for (size_t k = 0; k < parts; ++k) {
    Step part = step;
    part.probability *= model_.enter(k);
    if (goes_on) goes_on = follow(part) && visitor_.branch_taken();
    else untaken_ += part.probability;
  }
  ways_ /= parts;
  model_.join();
  return goes_on;
}

bool StateGraph::arrive(const Step& step) {
  pack();
  const size_t rotation = model_.rotations() > 1 ? rotate_to_known() : 0;
  return visitor_.arrive(to().find_or_add(key_), rotation, step);
}

// Rotates the seats until the state is one that is there; gives the rotation. A new one stays as it is.
size_t StateGraph::rotate_to_known() {
  const size_t rotations = model_.rotations();
  for (size_t rotation = 0; rotation < rotations; ++rotation) {
    if (to().find(key_.data(), key_.size()) != HashConsTable::kNone) return rotation;
    model_.rotate();
    pack();
  }
  return 0;
}

void StateGraph::pack() {
  key_.clear();
  model_.pack(key_);
}

void StateGraph::next_layer() {
  std::swap(here_, next_);
  next_.clear();
}

}  // namespace basanos
