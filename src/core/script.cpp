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
        case Stop::end: going = false; break;
        case Stop::fail: going = fail(); break;
      }
    }
    result_.ints = frame_.ints;
    result_.reals = frame_.reals;
    return std::move(result_);
  }

 private:
  bool draw() {
    const Instr& in = program_.code[static_cast<size_t>(frame_.pc)];
    const auto source = static_cast<size_t>(in.b);
    const auto used = static_cast<size_t>(result_.draws_used[source]);
    if (used >= script_.draws[source].size()) return out(ScriptEnd::out_of_draws, source);
    const int32_t value = script_.draws[source][used];
    ++result_.draws_used[source];
    result_.value = value;
    if (!can_come_up(program_, frame_, value)) return end_with(ScriptEnd::impossible_draw, source);
    return take(program_, frame_, value) || fail();
  }

  bool answer() {
    const Instr& in = program_.code[static_cast<size_t>(frame_.pc)];
    const auto decision = static_cast<size_t>(in.a);
    if (!script_.answered[decision]) {
      ++frame_.pc;
      return true;
    }
    const auto used = static_cast<size_t>(result_.answers_used[decision]);
    if (used >= script_.answers[decision].size()) return out(ScriptEnd::out_of_answers, decision);
    frame_.ints[static_cast<size_t>(in.c)] = script_.answers[decision][used];
    ++result_.answers_used[decision];
    frame_.pc = in.d;
    return true;
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
