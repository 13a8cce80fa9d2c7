#include "script.h"

#include "branch.h"

namespace basanos {
namespace {

class Player {
 public:
  Player(const Program& program, const Script& script) : program_(program), script_(script), frame_(program) {
    result_.draws_used.assign(script.draws.size(), 0);
    result_.answers_used.assign(script.answers.size(), 0);
  }

  ScriptResult go() {
    frame_.restart(program_);
    frame_.stop_at_asks = true;
    bool going = true;
    while (going) {
      switch (run<Branching>(program_, frame_)) {
        case Stop::chance: going = draw(); break;
        case Stop::ask: going = answer(); break;
        case Stop::trace: ++frame_.pc; break;
        case Stop::round: ++frame_.pc; break;
        case Stop::end: going = false; break;
        default: going = fail();
      }
    }
    result_.ints = frame_.ints;
    result_.reals = frame_.reals;
    result_.covered = frame_.covered;
    return std::move(result_);
  }

 private:
  bool draw() {
    const Instr& in = program_.code[static_cast<size_t>(frame_.pc)];
    const auto source = static_cast<size_t>(in.b);
    const auto used = static_cast<size_t>(result_.draws_used[source]);
    if (used >= script_.draws[source].size()) {
      // A draw with one possible result need not be given.
      std::vector<Branch> all;
      if (script_.stop_when_out || !branches_of(program_, frame_, all) || all.size() != 1)
        return out(ScriptEnd::out_of_draws, source);
      return take(program_, frame_, all[0].value) || fail();
    }
    const int32_t value = script_.draws[source][used];
    ++result_.draws_used[source];
    result_.value = value;
    if (!can_come_up(program_, frame_, value)) return end_with(ScriptEnd::impossible_draw, source);
    return take(program_, frame_, value) || fail();
  }

  bool answer() {
    const Instr& in = program_.code[static_cast<size_t>(frame_.pc)];
    const Script::Ask& ask = script_.asks.at(static_cast<size_t>(in.a));
    const auto decision = static_cast<size_t>(ask.decision);
    if (!script_.answered[decision]) {
      ++frame_.pc;
      return true;
    }
    const std::vector<int32_t>& given = script_.answers[decision];
    const auto used = static_cast<size_t>(result_.answers_used[decision]);
    if (used >= given.size()) return out(ScriptEnd::out_of_answers, decision);
    const size_t regs = ask.several ? static_cast<size_t>(given[used]) + 1 : 1;
    if (regs > 1 && !fits(in.c, given[used])) return fail_with(FAIL_ROOM);
    for (size_t k = 0; k < regs; ++k) frame_.ints[static_cast<size_t>(in.c) + k] = given.at(used + k);
    result_.answers_used[decision] += static_cast<int32_t>(regs);
    frame_.pc = in.d;
    return true;
  }

  // Is there a list at this register with room for n?
  bool fits(int32_t base, int32_t items) const {
    for (const List& list : program_.lists)
      if (list.base == base) return items <= list.room;
    return false;
  }

  bool fail_with(Fail why) {
    frame_.fail = why;
    return fail();
  }

  bool out(ScriptEnd how, size_t which) {
    if (!script_.stop_when_out) return end_with(how, which);
    frame_.pc = script_.closing;
    return true;
  }

  bool end_with(ScriptEnd how, size_t which) {
    result_.end = how;
    result_.which = static_cast<int32_t>(which);
    result_.at = program_.code[static_cast<size_t>(frame_.pc)].at;
    return false;
  }

  bool fail() {
    result_.failure = failure_of(program_, frame_);
    return end_with(ScriptEnd::failed, 0);
  }

  const Program& program_;
  const Script& script_;
  Frame frame_;
  ScriptResult result_;
};

}  // namespace

ScriptResult play_script(const Program& program, const Script& script) { return Player(program, script).go(); }

}  // namespace basanos
