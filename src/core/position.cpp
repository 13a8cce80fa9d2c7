#include "position.h"

#include <algorithm>
#include <vector>

#include "def_use.h"
#include "rewrite.h"
#include "state_graph.h"

namespace basanos {
namespace {

constexpr Weight kNegligible = 1e-13L;
constexpr int kMostDraws = 2000;  // in a row, before the position

// Sees where a state cannot come to the position any more: a place that is not what it must be and that nothing writes
// on any way from there to the position; a list that holds too much, and only grows on the way.
class Lookahead {
 public:
  Lookahead(const Program& program, const std::vector<Required>& required) : program_(program), required_(required) {
    const DefUse def_use(program);
    std::vector<std::vector<size_t>> before(program.code.size());
    std::vector<size_t> ends;
    for (size_t i = 0; i < program.code.size(); ++i) {
      Instr in = program.code[i];
      each_target(in, [&](int32_t t) { before[index(t)].push_back(i); });
      if (!never_falls_through(in.op) && i + 1 < program.code.size()) before[i + 1].push_back(i);
      if (in.op == OP_TRACE) ends.push_back(i);
    }
    const std::vector<bool> leads_there = backwards(before, ends);
    for (const Required& r : required) {
      const size_t place = r.place == Place::number ? static_cast<size_t>(r.at) : def_use.of_list(r.at);
      std::vector<size_t> writes, more_than_puts;
      for (size_t i = 0; i < program.code.size(); ++i) {
        const Instr& in = program.code[i];
        const bool puts = in.op == OP_LPUT || in.op == OP_BPUT || in.op == OP_LAPPEND || in.op == OP_BAPPEND;
        if (leads_there[i]) def_use.each_write(in, [&](size_t k) {
          if (k != place) return;
          writes.push_back(i);
          if (!puts) more_than_puts.push_back(i);
        });
      }
      open_.push_back(backwards(before, writes));
      may_shrink_.push_back(backwards(before, more_than_puts));
    }
  }

  bool is_lost(const Frame& frame) const {
    for (size_t k = 0; k < required_.size(); ++k) {
      const Required& r = required_[k];
      const auto held = frame.ints.begin() + (r.place == Place::number ? r.at : program_.lists[index(r.at)].base);
      if (!open_[k][index(frame.pc)] && !std::equal(r.values.begin(), r.values.end(), held)) return true;
      if (r.place != Place::number && !may_shrink_[k][index(frame.pc)] && !could_grow_to(r, &*held)) return true;
    }
    return false;
  }

 private:
  static bool could_grow_to(const Required& r, const int32_t* held) {
    const int32_t* const end = held + 1 + held[0];
    if (r.place == Place::bag) return std::includes(r.values.begin() + 1, r.values.end(), held + 1, end);
    return held[0] <= r.values[0] && std::equal(held + 1, end, r.values.begin() + 1);
  }

  // The operations from which these can be reached, themselves among them.
  static std::vector<bool> backwards(const std::vector<std::vector<size_t>>& before, std::vector<size_t> from) {
    std::vector<bool> seen(before.size());
    while (!from.empty()) {
      const size_t i = from.back();
      from.pop_back();
      if (seen[i]) continue;
      seen[i] = true;
      from.insert(from.end(), before[i].begin(), before[i].end());
    }
    return seen;
  }

  const Program& program_;
  const std::vector<Required>& required_;
  std::vector<std::vector<bool>> open_, may_shrink_;  // from each operation on: written, written by more than a put
};

// Stops at the position, and ends where it cannot be come to any more.
class ModelToPosition : public ProgramModel {
 public:
  ModelToPosition(const Program& p, const std::vector<Required>& required)
      : ProgramModel(p), lookahead_(p, required) {
    frame.stop_at_traces = true;
  }

  Stop run() override {
    const Stop stop = ProgramModel::run();
    return stop == Stop::chance && lookahead_.is_lost(frame) ? Stop::end : stop;
  }

 private:
  const Lookahead lookahead_;
};

// Follows every branch of chance up to the position.
class Ways : public Visitor {
 public:
  Ways(const Program& program, const PositionJob& job)
      : job_(job),
        model_(program, job.required),
        graph_(model_, *this, job.most_states, Keep::layers),
        here_(1),
        next_(1) {}

  // False where it is too much, or a round on the way cannot go on.
  bool follow_all() {
    if (!graph_.start()) return false;
    for (int draws = 0; graph_.found() > 0; ++draws) {
      graph_.next_layer();
      std::swap(here_, next_);
      next_.clear();
      if (here_.sum() < kNegligible) return true;
      if (draws >= kMostDraws) return false;
      for (StateId k = 0; k < graph_.count(); ++k) {
        if (++states_ > job_.most_states) return false;
        weight_ = *here_.of(k);
        if (!graph_.expand(k)) return false;
      }
    }
    return true;
  }

  size_t count() const { return upto_.size(); }
  double share() const { return static_cast<double>(upto_.empty() ? 0 : upto_.back()); }

  // One of the ways, by its weight.
  size_t pick(double at) const {
    const auto found = std::upper_bound(upto_.begin(), upto_.end(), at * upto_.back());
    return std::min(static_cast<size_t>(found - upto_.begin()), upto_.size() - 1);
  }

  void restore(size_t way, Frame& frame) const {
    std::copy_n(ints_.begin() + static_cast<std::ptrdiff_t>(way * frame.ints.size()), frame.ints.size(),
                frame.ints.begin());
    std::copy_n(reals_.begin() + static_cast<std::ptrdiff_t>(way * frame.reals.size()), frame.reals.size(),
                frame.reals.begin());
    frame.pc = at_[way];
  }

 private:
  // What ends without the position is of no interest.
  bool ended(Stop how, const Step& step) override { return how != Stop::trace || keep(weight_ * step.probability); }

  bool arrive(StateId state, size_t, const Step& step) override {
    *next_.of(state) += weight_ * step.probability;
    return graph_.found() + states_ <= job_.most_states;
  }

  bool failed(const Step&) override { return false; }
  bool too_many_branches(StateId) override { return false; }

  bool keep(Weight weight) {
    const Frame& frame = model_.frame;
    if (ints_.size() + frame.ints.size() > job_.most_values) return false;
    ints_.insert(ints_.end(), frame.ints.begin(), frame.ints.end());
    reals_.insert(reals_.end(), frame.reals.begin(), frame.reals.end());
    at_.push_back(frame.pc + 1);
    upto_.push_back((upto_.empty() ? 0 : upto_.back()) + weight);
    return true;
  }

  const PositionJob& job_;
  ModelToPosition model_;
  StateGraph graph_;
  Weights here_, next_;
  Weight weight_ = 1;  // of the state that is expanded
  uint64_t states_ = 0;
  std::vector<int32_t> ints_, at_;
  std::vector<double> reals_;
  std::vector<Weight> upto_;  // the weight of a way and all before it
};

// The registers that say which lane is played.
std::vector<size_t> lane_choices(const Program& program) {
  std::vector<size_t> choices;
  for (const Instr& in : program.code)
    if (in.op == OP_LANE) choices.push_back(index(in.b));
  return choices;
}

SampleResult played_on(const Prepared& prepared, const PositionJob& job, const Ways& ways, int32_t lane,
                       const Poll& poll) {
  const Program& program = prepared.written;
  SampleResult played{Tally(prepared.ready), {}, 0, false};
  if (ways.count() == 0) return played;
  Frame frame(program);
  Recorder recorder(prepared.ready, frame, played.tally);
  Recording mode(recorder);
  std::vector<uint64_t> keys;
  for (const std::string& source : program.sources) keys.push_back(source_key(job.seed, source));
  const uint64_t position_key = source_key(job.seed, "the way to the position");
  const std::vector<size_t> choices = lane_choices(program);
  for (uint64_t unit = job.first; unit <= job.last; ++unit) {
    if (!poll(unit - job.first)) {
      played.stopped = true;
      break;
    }
    uint64_t stream = stream_start(position_key, unit);
    frame.restart(program);
    ways.restore(ways.pick(uniform_unit(&stream)), frame);
    for (size_t choice : choices) frame.ints[choice] = lane;
    for (size_t s = 0; s < keys.size(); ++s) frame.streams[s] = stream_start(keys[s], unit);
    if (run(program, frame, mode) != Stop::end) {
      played.failure = failure_of(program, frame);
      played.failed_unit = unit;
      break;
    }
    recorder.add_unit();
  }
  return played;
}

}  // namespace

PositionResult sample_from_position(const Prepared& prepared, const PositionJob& job, const Poll& poll) {
  const Program& program = prepared.written;  // the optimised one has no TRACE
  PositionResult result;
  Ways ways(program, job);
  if (!ways.follow_all()) return result;
  result.complete = true;
  result.share = ways.share();
  result.ways = ways.count();
  const size_t runs = std::max<size_t>(1, job.lanes.size());
  for (size_t k = 0; k < runs; ++k) {
    const uint64_t before = k * (job.last - job.first + 1);
    const Poll poll_of_all = [&poll, before](uint64_t done) { return poll(before + done); };
    result.played.push_back(played_on(prepared, job, ways, job.lanes.empty() ? 0 : job.lanes[k], poll_of_all));
    if (result.played.back().stopped || result.played.back().failure.fail != FAIL_NONE) break;
  }
  return result;
}

}  // namespace basanos
