#include "witness.h"

#include <algorithm>

namespace basanos {
namespace {

class Search : public Visitor {
 public:
  // Only the program as it was written has the places that are looked for.
  Search(const Prepared& program, uint64_t most, const Sought& sought, const std::function<bool(uint64_t)>& poll)
      : model_(program.written.coverage_count > 0 ? program.written : program.ready),
        graph_(model_, *this, most, Keep::all),
        most_(most),
        sought_(sought),
        poll_(poll),
        reaches_(model_.frame.covered.size()) {}

  WitnessResult go() {
    if (!graph_.start()) return std::move(result_);
    for (StateId k = 0; k < graph_.count(); ++k) {
      if (graph_.count() > most_) return end_with(WitnessEnd::too_many_states);
      if (k % 64 == 0 && !poll_(k)) return end_with(WitnessEnd::stopped);
      ++result_.states;
      if (!graph_.expand(k)) return std::move(result_);
    }
    return end_with(passed_over_ ? WitnessEnd::too_many_states : WitnessEnd::none);
  }

  std::vector<Reach> reaches() { return std::move(reaches_); }

 private:
  WitnessResult end_with(WitnessEnd end) {
    result_.end = end;
    return std::move(result_);
  }

  bool ended(Stop, const Step& step) override { return goes_on(step, false); }
  bool failed(const Step& step) override { return goes_on(step, true); }
  bool arrive(StateId state, size_t, const Step& step) override {
    if (noticed(step)) return false;
    paths_.note(state, step);
    return true;
  }
  bool too_many_branches(StateId) override {
    passed_over_ = true;
    return true;
  }

  bool goes_on(const Step& step, bool failed) {
    if (noticed(step)) return false;
    if (!sought_(model_.program, model_.frame, failed)) return true;
    result_.draws = paths_.along(step);
    result_.end = WitnessEnd::found;
    return false;
  }

  // Keeps the way to each place that is reached for the first time; true when all have been.
  bool noticed(const Step& step) {
    bool all = !reaches_.empty();
    for (size_t k = 0; k < reaches_.size(); ++k) {
      if (model_.frame.covered[k] && !reaches_[k].found) reaches_[k] = {true, paths_.along(step)};
      all = all && reaches_[k].found;
    }
    if (all) result_.end = WitnessEnd::found;
    return all;
  }

  ProgramModel model_;
  StateGraph graph_;
  const uint64_t most_;
  const Sought& sought_;
  const std::function<bool(uint64_t)>& poll_;
  Paths paths_;
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
