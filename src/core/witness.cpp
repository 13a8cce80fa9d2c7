#include "witness.h"

#include <algorithm>

#include "branch.h"
#include "optimise.h"
#include "hash_cons.h"
#include "pack.h"

namespace basanos {
namespace {

// The path to a state at a draw.
struct Node {
  size_t parent;
  WitnessDraw draw;
};

constexpr size_t kRoot = SIZE_MAX;

class Search {
 public:
  Search(const Prepared& program, uint64_t most, const Sought& sought, const std::function<bool(uint64_t)>& poll)
      : program_(program.written.coverage_count > 0 ? program.written : program.ready),
        stops_(program_),
        most_(most),
        sought_(sought),
        poll_(poll),
        frame_(program_),
        reaches_(frame_.covered.size()) {}

  WitnessResult go() {
    frame_.restart(program_);
    if (follow(kRoot, {0, 0})) return std::move(result_);
    for (size_t k = 0; k < nodes_.size(); ++k) {
      if (nodes_.size() > most_) return end_with(WitnessEnd::too_many_states);
      if (k % 64 == 0 && !poll_(k)) return end_with(WitnessEnd::stopped);
      ++result_.states;
      if (expand(k)) return std::move(result_);
    }
    return end_with(passed_over_ ? WitnessEnd::too_many_states : WitnessEnd::none);
  }

  std::vector<Reach> reaches() { return std::move(reaches_); }

 private:
  WitnessResult end_with(WitnessEnd end) {
    result_.end = end;
    return std::move(result_);
  }

  bool expand(size_t k) {
    std::vector<Branch> branches;
    restore(k);
    const int32_t source = program_.code[static_cast<size_t>(frame_.pc)].b;
    if (branch_bound(program_, frame_) > most_) {
      passed_over_ = true;
      return false;
    }
    if (!branches_of(program_, frame_, branches)) return failed(k, {source, 0});
    for (const Branch& b : branches) {
      restore(k);
      const WitnessDraw draw{source, b.value};
      if (!take(program_, frame_, b.value) ? failed(k, draw) : follow(k, draw)) return true;
    }
    return false;
  }

  // Runs to the next draw; true when what is sought was found on the way.
  bool follow(size_t parent, WitnessDraw draw) {
    for (;;) {
      const Stop stop = run<Branching>(program_, frame_);
      if (!reaches_.empty() && noticed(parent, draw)) return true;
      switch (stop) {
        case Stop::round:
          if (sought_(program_, frame_, false)) return found(parent, draw);
          ++frame_.pc;
          frame_.budget = program_.step_budget;
          break;
        case Stop::end: return sought_(program_, frame_, false) && found(parent, draw);
        case Stop::chance: keep(parent, draw); return false;
        default: return failed(parent, draw);
      }
    }
  }

  bool failed(size_t parent, WitnessDraw draw) { return sought_(program_, frame_, true) && found(parent, draw); }

  bool found(size_t parent, WitnessDraw draw) {
    result_.draws = path_to(parent, draw);
    result_.end = WitnessEnd::found;
    return true;
  }

  std::vector<WitnessDraw> path_to(size_t parent, WitnessDraw last) const {
    std::vector<WitnessDraw> draws;
    if (parent != kRoot) draws.push_back(last);
    for (size_t k = parent; k != kRoot && nodes_[k].parent != kRoot; k = nodes_[k].parent)
      draws.push_back(nodes_[k].draw);
    std::reverse(draws.begin(), draws.end());
    return draws;
  }

  // Keeps the way to each place that is reached for the first time; true when all have been.
  bool noticed(size_t parent, WitnessDraw draw) {
    bool all = true;
    for (size_t k = 0; k < reaches_.size(); ++k) {
      if (frame_.covered[k] && !reaches_[k].found) reaches_[k] = {true, path_to(parent, draw)};
      all = all && reaches_[k].found;
    }
    if (all) result_.end = WitnessEnd::found;
    return all;
  }

  void restore(size_t k) { stops_.unpack(states_.key(static_cast<uint32_t>(k)), frame_); }

  void keep(size_t parent, WitnessDraw draw) {
    key_.clear();
    stops_.pack(frame_, key_);
    if (states_.find_or_add(key_) == nodes_.size()) nodes_.push_back({parent, draw});
  }

  const Program& program_;  // places that are told of are in the program as it was written
  const Stops stops_;
  const uint64_t most_;
  const Sought& sought_;
  const std::function<bool(uint64_t)>& poll_;
  Frame frame_;
  std::vector<Node> nodes_;
  HashConsTable states_;  // of the nodes
  std::vector<uint8_t> key_;
  std::vector<Reach> reaches_;
  bool passed_over_ = false;  // a state with too many branches
  WitnessResult result_;
};

}  // namespace

WitnessResult find_witness(const Prepared& program, uint64_t most_states, const Sought& sought,
                           const std::function<bool(uint64_t)>& poll) {
  return Search(program, most_states, sought, poll).go();
}

ReachResult find_reaches(const Prepared& program, uint64_t most_states, const std::function<bool(uint64_t)>& poll) {
  const Sought nothing = [](const Program&, const Frame&, bool) { return false; };
  Search search(program, most_states, nothing, poll);
  const WitnessEnd end = search.go().end;
  return {end == WitnessEnd::found || end == WitnessEnd::none, end == WitnessEnd::stopped, search.reaches()};
}

std::vector<uint64_t> first_reaching(const Program& program, uint64_t seed, uint64_t units,
                                     const std::function<bool(uint64_t)>& poll) {
  std::vector<uint64_t> first(static_cast<size_t>(program.coverage_count)), keys;
  for (const std::string& source : program.sources) keys.push_back(source_key(seed, source));
  Frame frame(program);
  for (uint64_t unit = 1; unit <= units; ++unit) {
    if (!poll(unit)) return {};
    frame.restart(program);
    std::fill(frame.covered.begin(), frame.covered.end(), uint8_t{0});
    for (size_t s = 0; s < keys.size(); ++s) frame.streams[s] = stream_start(keys[s], unit);
    if (run<Sampling>(program, frame) != Stop::end) continue;
    for (size_t k = 0; k < first.size(); ++k)
      if (frame.covered[k] && first[k] == 0) first[k] = unit;
  }
  return first;
}

}  // namespace basanos
