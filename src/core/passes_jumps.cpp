// Passes about jumps: where they go, and what cannot be reached.
#include <cstddef>
#include <utility>

#include "liveness.h"
#include "passes.h"

namespace basanos {

void drop_stops(Program& p) {
  std::vector<bool> keep(p.code.size());
  for (size_t i = 0; i < p.code.size(); ++i) keep[i] = p.code[i].op != OP_ASK && p.code[i].op != OP_TRACE;
  compact(p, keep);
}

// A jump to a jump goes where that goes; a jump to the end is the end.
void thread_jumps(Program& p) {
  for (Instr& in : p.code) {
    each_target(in, [&p](int32_t& t) {
      for (int hops = 0; p.code[index(t)].op == OP_JMP && hops < 100; ++hops) t = p.code[index(t)].a;
    });
    if (in.op == OP_JMP && p.code[index(in.a)].op == OP_END) in = p.code[index(in.a)];
  }
}

bool invert(Instr& in, int32_t target) {
  switch (in.op) {
    case OP_JZ: in.op = OP_JNZ; in.b = target; return true;
    case OP_JNZ: in.op = OP_JZ; in.b = target; return true;
    case OP_JEQ: in.op = OP_JNE; in.c = target; return true;
    case OP_JNE: in.op = OP_JEQ; in.c = target; return true;
    case OP_JLT: in = {OP_JLE, in.b, in.a, target, 0, in.at}; return true;
    case OP_JLE: in = {OP_JLT, in.b, in.a, target, 0, in.at}; return true;
    default: return false;
  }
}

// A conditional jump over a jump is the opposite jump.
void invert_over_jumps(Program& p) {
  const std::vector<bool> is_target = jump_targets(p);
  for (size_t i = 0; i + 2 < p.code.size(); ++i) {
    Instr& skip = p.code[i + 1];
    if (branch_target(p.code[i]) != static_cast<int32_t>(i + 2) || skip.op != OP_JMP || is_target[i + 1]) continue;
    if (invert(p.code[i], skip.a)) skip.a = static_cast<int32_t>(i + 2);
  }
}

// x <- constant, then a jump that depends on x and constants: it is known where that goes.
void thread_known_values(Program& p) {
  const std::vector<bool> written = written_ints(p);
  const Liveness live(p);
  for (size_t i = 0; i + 1 < p.code.size(); ++i) {
    const Instr set = p.code[i];
    if (set.op != OP_MOV || written[index(set.b)]) continue;
    const bool jumps = p.code[i + 1].op == OP_JMP;
    const size_t test_at = jumps ? index(p.code[i + 1].a) : i + 1;
    const Instr test = p.code[test_at];
    if (live.live_after(test_at, set.a)) continue;
    const auto value = [&](int32_t reg) -> const int32_t* {
      const int32_t from = reg == set.a ? set.b : reg;
      return written[index(from)] ? nullptr : &p.int_start[index(from)];
    };
    const std::optional<bool> jumps_on = known_jump(test, value);
    if (!jumps_on) continue;
    const int32_t goes = *jumps_on ? branch_target(test) : static_cast<int32_t>(test_at + 1);
    p.code[jumps ? i + 1 : i] = {OP_JMP, goes, 0, 0, 0, set.at};
  }
}

bool remove_unreachable(Program& p) {
  std::vector<bool> reached(p.code.size());
  std::vector<size_t> open{0};
  while (!open.empty()) {
    const size_t i = open.back();
    open.pop_back();
    if (reached[i]) continue;
    reached[i] = true;
    if (!never_falls_through(p.code[i].op)) open.push_back(i + 1);
    each_target(p.code[i], [&open](int32_t& t) { open.push_back(index(t)); });
  }
  return compact(p, reached);
}

}  // namespace basanos
