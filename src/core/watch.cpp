#include "watch.h"

#include <algorithm>

#include "branch.h"

namespace basanos {
namespace {

class Watched {
 public:
  Watched(const Program& program, bool ask_again, const Watcher& watcher)
      : program_(program), ask_again_(ask_again), watcher_(watcher), frame_(program) {}

  WatchResult go(uint64_t seed, uint64_t unit) {
    frame_.restart(program_);
    frame_.stop_at_asks = frame_.stop_at_traces = true;
    for (size_t s = 0; s < program_.sources.size(); ++s)
      frame_.streams[s] = stream_start(source_key(seed, program_.sources[s]), unit);
    for (Stop stop = run<Branching>(program_, frame_); handle(stop); stop = next_) {
    }
    return result_;
  }

 private:
  const Instr& here() const { return program_.code[static_cast<size_t>(frame_.pc)]; }

  // Shows what has come up; false when the watcher wants no more.
  bool show(Seen what, int32_t which = 0, int32_t value = 0) {
    answer_.clear();
    if (watcher_({what, which, value, here().at}, frame_, answer_)) return true;
    result_.end = WatchEnd::stopped;
    return false;
  }

  // Deals with a stop and goes on to the next; false at the end.
  bool handle(Stop stop) {
    switch (stop) {
      case Stop::chance: return draw() && go_on();
      case Stop::ask: return ask();
      case Stop::open:
        open_decision(frame_);
        return go_on();
      case Stop::decision:
        if (!show(Seen::decision, here().b)) return false;
        return decide(program_, frame_, answer_.empty() ? 0 : static_cast<size_t>(answer_[0])) ? go_on() : fail();
      case Stop::trace:
        if (!show(Seen::trace, here().a)) return false;
        ++frame_.pc;
        return go_on();
      case Stop::round:
        if (!show(Seen::round)) return false;
        ++frame_.pc;
        frame_.budget = program_.step_budget;
        return go_on();
      case Stop::end: show(Seen::end); return false;
      default: return fail();
    }
  }

  bool go_on() {
    next_ = run<Branching>(program_, frame_);
    return true;
  }

  bool draw() {
    int32_t value = 0;
    if (!draw_from_stream(program_, frame_, value)) return fail();
    if (!show(Seen::draw, here().b, value)) return false;
    if (!answer_.empty()) value = answer_[0];
    if (!can_come_up(program_, frame_, value)) {
      result_.end = WatchEnd::impossible_draw;
      return false;
    }
    return take(program_, frame_, value) || fail();
  }

  // An answer of several items comes as their number and the items.
  bool ask() {
    const Frame before = frame_;
    for (int32_t times = 0;; times = 1) {
      if (!show(Seen::ask, here().a, times)) return false;
      const bool given = !answer_.empty();
      if (!given) ++frame_.pc;
      else if (!give_answer()) return false;
      go_on();
      if (!given || !ask_again_ || next_ != Stop::fail || frame_.fail != FAIL_ILLEGAL) return true;
      frame_ = before;
    }
  }

  bool give_answer() {
    const auto target = static_cast<size_t>(here().c);
    if (answer_.size() > frame_.ints.size() - target || (answer_.size() > 1 && !fits(here().c))) {
      frame_.fail = FAIL_ROOM;
      return fail();
    }
    std::copy(answer_.begin(), answer_.end(), frame_.ints.begin() + here().c);
    frame_.pc = here().d;
    return true;
  }

  bool fits(int32_t base) const {
    for (const List& list : program_.lists)
      if (list.base == base) return answer_.size() <= static_cast<size_t>(list.room) + 1;
    return false;
  }

  bool fail() {
    result_.end = WatchEnd::failed;
    result_.failure = failure_of(program_, frame_);
    show(Seen::failed);
    result_.end = WatchEnd::failed;
    return false;
  }

  const Program& program_;
  const bool ask_again_;
  const Watcher& watcher_;
  Frame frame_;
  std::vector<int32_t> answer_;
  Stop next_ = Stop::end;
  WatchResult result_;
};

}  // namespace

WatchResult watch(const Program& program, uint64_t seed, uint64_t unit, bool ask_again, const Watcher& watcher) {
  return Watched(program, ask_again, watcher).go(seed, unit);
}

}  // namespace basanos
