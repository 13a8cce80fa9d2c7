#include "optimise.h"

#include <cstddef>
#include <utility>
#include <vector>

#include "live.h"
#include "reuse.h"
#include "rewrite.h"
#include "tabulate.h"

namespace basanos {
namespace {

void drop_stops(Program& p) {
  std::vector<bool> keep(p.code.size());
  for (size_t i = 0; i < p.code.size(); ++i) keep[i] = p.code[i].op != OP_ASK && p.code[i].op != OP_MARK;
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

// x <- a < b; jump if x  becomes  jump if a < b, where nobody else reads x.
void fuse_comparisons(Program& p) {
  const std::vector<bool> is_target = jump_targets(p);
  const Liveness live(p);
  for (size_t i = 0; i + 1 < p.code.size(); ++i) {
    const Instr test = p.code[i];
    Instr& jump = p.code[i + 1];
    if (test.op != OP_EQ && test.op != OP_NE && test.op != OP_LT && test.op != OP_LE) continue;
    if ((jump.op != OP_JZ && jump.op != OP_JNZ) || jump.a != test.a || is_target[i + 1]) continue;
    if (live.live_after(i + 1, test.a) || test.a == test.b || test.a == test.c) continue;
    const int fused = test.op == OP_EQ ? OP_JEQ : test.op == OP_NE ? OP_JNE : test.op == OP_LT ? OP_JLT : OP_JLE;
    const bool when = jump.op == OP_JNZ;
    jump = {fused, test.b, test.c, jump.b, 0, jump.at};
    if (!when) invert(jump, jump.c);
  }
}

// x <- constant, then a jump that hangs on x and constants: it is known where that goes.
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
    const auto value = [&](int32_t cell) -> const int32_t* {
      const int32_t from = cell == set.a ? set.b : cell;
      return written[index(from)] ? nullptr : &p.int_start[index(from)];
    };
    const std::optional<bool> jumps_on = known_jump(test, value);
    if (!jumps_on) continue;
    const int32_t goes = *jumps_on ? branch_target(test) : static_cast<int32_t>(test_at + 1);
    p.code[jumps ? i + 1 : i] = {OP_JMP, goes, 0, 0, 0, set.at};
  }
}

// if (a < b) x <- x + n  becomes one addition without a jump.
void fuse_conditional_adds(Program& p) {
  const std::vector<bool> is_target = jump_targets(p);
  for (size_t i = 0; i + 1 < p.code.size(); ++i) {
    const Instr skip = p.code[i];
    const Instr add = p.code[i + 1];
    if ((skip.op != OP_JLT && skip.op != OP_JLE) || skip.c != static_cast<int32_t>(i + 2) || is_target[i + 1]) continue;
    if (add.op != OP_ADD || add.a != add.b) continue;
    p.code[i] = {skip.op == OP_JLT ? OP_ADDLE : OP_ADDLT, add.a, skip.b, skip.a, add.c, add.at};
    p.code[i + 1] = {OP_MOV, add.a, add.a, 0, 0, add.at};
  }
}

// x <- constant; ...; x <- x + constant, with nothing that jumps between: the sum is known.
void add_known_values(Program& p) {
  const std::vector<bool> is_target = jump_targets(p);
  const std::vector<bool> written = written_ints(p);
  std::vector<std::pair<int32_t, int32_t>> values;  // cell -> value, in this stretch of code
  const auto forget = [&values](int32_t cell) {
    for (size_t k = values.size(); k-- > 0;)
      if (values[k].first == cell) values.erase(values.begin() + static_cast<std::ptrdiff_t>(k));
  };
  const auto known = [&](int32_t cell) -> const int32_t* {
    if (index(cell) < written.size() && !written[index(cell)]) return &p.int_start[index(cell)];
    for (const auto& [c, v] : values)
      if (c == cell) return &v;
    return nullptr;
  };
  for (size_t i = 0; i < p.code.size(); ++i) {
    if (is_target[i]) values.clear();
    Instr& in = p.code[i];
    if (in.op == OP_ADD && known(in.b) && known(in.c)) {
      int32_t sum;
      if (!__builtin_add_overflow(*known(in.b), *known(in.c), &sum)) in = {OP_MOV, in.a, constant_cell(p, written, sum), 0, 0, in.at};
    }
    if (in.op == OP_DRAWADD && known(in.a) && *known(in.a) == 0) in.op = OP_DRAW;
    const char* roles = op_info(in.op).roles;
    const int32_t* value = in.op == OP_MOV ? known(in.b) : nullptr;
    const int32_t kept = value == nullptr ? 0 : *value;
    for (int k = 0; k < 4; ++k)
      if (roles[k] == 'i' || roles[k] == 'U') forget(in.operand(k));
    for (int k = 0; k < 4; ++k)  // lists and arrays may write anywhere in their range
      if (writes_many(roles[k])) values.clear();
    if (value != nullptr) values.push_back({in.a, kept});
    if (never_falls_through(in.op)) values.clear();
  }
}

// i <- i + 1; loop while i <= n.
void fuse_counting_loops(Program& p) {
  const std::vector<bool> is_target = jump_targets(p);
  const std::vector<bool> written = written_ints(p);
  for (size_t i = 0; i + 1 < p.code.size(); ++i) {
    const Instr add = p.code[i];
    Instr& loop = p.code[i + 1];
    if (add.op != OP_ADD || add.a != add.b || loop.op != OP_LOOPLE || loop.a != add.a || is_target[i + 1]) continue;
    if (written[index(add.c)] || p.int_start[index(add.c)] != 1) continue;
    p.code[i] = {OP_FORLE, loop.a, loop.b, loop.c, 0, loop.at};
    loop = {OP_MOV, add.a, add.a, 0, 0, loop.at};
  }
}

// total <- total + draw; n <- n + 1, the draw's range being constant.
void fuse_counted_draws(Program& p) {
  const std::vector<bool> is_target = jump_targets(p);
  const std::vector<bool> written = written_ints(p);
  for (size_t i = 0; i + 1 < p.code.size(); ++i) {
    Instr& draw = p.code[i];
    Instr& add = p.code[i + 1];
    if (draw.op != OP_DRAWADD || add.op != OP_ADD || add.a != add.b || add.a == draw.a || is_target[i + 1]) continue;
    if (written[index(draw.c)] || written[index(draw.d)] || written[index(add.c)]) continue;
    const int32_t count = p.int_start[index(draw.d)];
    if (p.int_start[index(add.c)] != 1 || count <= 0) continue;
    p.ranges.push_back({p.int_start[index(draw.c)], static_cast<uint32_t>(count)});
    draw = {OP_DRAWCNT, draw.a, draw.b, static_cast<int32_t>(p.ranges.size() - 1), add.a, draw.at};
    add = {OP_MOV, add.a, add.a, 0, 0, add.at};
  }
}

// A loop back to a test that leaves just behind the loop is the opposite test, looping.
void rotate_loops(Program& p) {
  for (size_t i = 0; i + 1 < p.code.size(); ++i) {
    Instr& loop = p.code[i];
    if (loop.op != OP_LOOP) continue;
    const Instr test = p.code[index(loop.a)];
    if ((test.op != OP_JLT && test.op != OP_JLE) || test.c != static_cast<int32_t>(i + 1)) continue;
    loop = {test.op == OP_JLT ? OP_LOOPLE : OP_LOOPLT, test.b, test.a, loop.a + 1, 0, loop.at};
  }
}

// A test before a loop back, or around one, is a test that loops.
void fuse_loop_tests(Program& p) {
  const auto looping = [](const Instr& test, const Instr& loop) -> Instr { return {test.op == OP_JLT ? OP_LOOPLT : OP_LOOPLE, test.a, test.b, loop.a, 0, loop.at}; };
  for (Instr& test : p.code) {
    if (test.op != OP_JLT && test.op != OP_JLE) continue;
    const Instr loop = p.code[index(test.c)];
    if (loop.op == OP_LOOP) test = looping(test, loop);
  }
  const std::vector<bool> is_target = jump_targets(p);
  for (size_t i = 0; i + 2 < p.code.size(); ++i) {
    Instr& test = p.code[i];
    Instr& loop = p.code[i + 1];
    if ((test.op != OP_JLT && test.op != OP_JLE) || test.c != static_cast<int32_t>(i + 2) || loop.op != OP_LOOP || is_target[i + 1]) continue;
    invert(test, test.c);
    test = looping(test, loop);
    loop = idle(loop);
  }
}

// t <- x + y; loop while t < n, where nobody else reads t.
void fuse_loop_sums(Program& p) {
  const std::vector<bool> is_target = jump_targets(p);
  const Liveness live(p);
  for (size_t i = 0; i + 1 < p.code.size(); ++i) {
    Instr& add = p.code[i];
    Instr& loop = p.code[i + 1];
    if (add.op != OP_ADD || loop.op != OP_LOOPLT || loop.a != add.a || loop.b == add.a) continue;
    if (is_target[i + 1] || live.live_after(i + 1, add.a)) continue;
    loop = {OP_LOOPSUMLT, add.b, add.c, loop.b, loop.c, loop.at};
    add = idle(add);
  }
}

// t <- draw; x <- x + t where nobody else reads t.
void fuse_drawn_adds(Program& p) {
  const std::vector<bool> is_target = jump_targets(p);
  const Liveness live(p);
  for (size_t i = 0; i + 1 < p.code.size(); ++i) {
    const Instr draw = p.code[i];
    const Instr add = p.code[i + 1];
    if (draw.op != OP_DRAW || add.op != OP_ADD || add.a != add.b || add.c != draw.a || add.a == draw.a) continue;
    if (is_target[i + 1] || live.live_after(i + 1, draw.a)) continue;
    p.code[i] = {OP_DRAWADD, add.a, draw.b, draw.c, draw.d, draw.at};
    p.code[i + 1] = {OP_MOV, add.a, add.a, 0, 0, add.at};
  }
}

// if (c) d <- x else d <- y, both going on at the same place, becomes a choice without a jump.
void fuse_choices(Program& p) {
  const std::vector<bool> is_target = jump_targets(p);
  for (size_t i = 0; i + 4 < p.code.size(); ++i) {
    const Instr test = p.code[i], first = p.code[i + 1], leave = p.code[i + 2], second = p.code[i + 3], rest = p.code[i + 4];
    if ((test.op != OP_JZ && test.op != OP_JNZ) || test.b != static_cast<int32_t>(i + 3)) continue;
    if (first.op != OP_MOV || second.op != OP_MOV || first.a != second.a) continue;
    if (is_target[i + 1] || is_target[i + 2]) continue;
    const bool meets = (leave.op == OP_END && rest.op == OP_END) || (leave.op == OP_JMP && leave.a == static_cast<int32_t>(i + 4));
    if (!meets) continue;
    const bool swapped = test.op == OP_JNZ;
    const Instr chosen = {OP_SEL, first.a, test.a, swapped ? second.b : first.b, swapped ? first.b : second.b, first.at};
    p.code[i] = chosen;
    p.code[i + 1] = {OP_JMP, static_cast<int32_t>(i + 4), 0, 0, 0, first.at};
  }
}

// x <- x + n; y <- x where nobody else reads x  becomes  y <- x + n, for any operation with one result.
void forward_results(Program& p) {
  const std::vector<bool> is_target = jump_targets(p);
  const Liveness live(p);
  for (size_t i = 0; i + 1 < p.code.size(); ++i) {
    Instr& made = p.code[i];
    Instr& copy = p.code[i + 1];
    if (copy.op != OP_MOV || copy.b == copy.a || is_target[i + 1]) continue;
    if (op_info(made.op).roles[0] != 'i' || made.a != copy.b || live.live_after(i + 1, copy.b)) continue;
    made.a = copy.a;
    copy = {OP_MOV, copy.a, copy.a, 0, 0, copy.at};
  }
}

// A count that nothing but itself ever reads: it would only keep states apart. It cannot overflow, for it goes up by
// one and there are fewer steps in a unit than whole numbers.
void drop_unread_counts(Program& p) {
  const Effects effects(p);
  const std::vector<bool> written = written_ints(p);
  NumberSet read(effects.count());
  const auto counts_up = [&](const Instr& in) { return in.op == OP_ADD && in.a == in.b && !written[index(in.c)] && p.int_start[index(in.c)] == 1; };
  for (const Instr& in : p.code)
    if (!counts_up(in)) effects.each_read(in, [&read](size_t k) { read.put(k); });
  read.put(index(p.outcome_cell));
  for (const std::vector<Quantity>* list : {&p.quantities, &p.unit_quantities})
    for (const Quantity& q : *list)
      if (!q.real) read.put(index(q.cell));
  for (Instr& in : p.code)
    if (counts_up(in) && !read.has(index(in.a))) in = idle(in);
}

bool remove_idle(Program& p) {
  const Liveness live(p);
  std::vector<bool> keep(p.code.size(), true);
  for (size_t i = 0; i < p.code.size(); ++i) {
    const Instr& in = p.code[i];
    if (branch_target(in) == static_cast<int32_t>(i + 1)) keep[i] = false;
    else if (in.op == OP_MOV && in.a == in.b) keep[i] = false;
    else if (cannot_fail(p, in)) keep[i] = live.writes_live(i);
  }
  return compact(p, keep);
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

}  // namespace

Program optimised(const Program& program) {
  Program p = program;
  p.tells_rounds = has_rounds(program);
  drop_stops(p);
  settle_constant_lists(p);
  bool again = true;
  for (int round = 0; again && round < 20; ++round) {
    if (round < 4) reuse_results(p);
    thread_jumps(p);
    invert_over_jumps(p);
    fuse_comparisons(p);
    thread_known_values(p);
    fuse_conditional_adds(p);
    fuse_drawn_adds(p);
    fuse_choices(p);
    rotate_loops(p);
    add_known_values(p);
    fuse_counting_loops(p);
    forward_results(p);
    drop_unread_counts(p);
    again = remove_unreachable(p);
    again = remove_idle(p) || again;
  }
  fuse_counted_draws(p);
  fuse_loop_tests(p);
  fuse_loop_sums(p);
  remove_idle(p);
  tabulate_end(p);
  return p;
}

Prepared::Prepared(Program program, Optimise how) : written(std::move(program)), ready(how == Optimise::yes ? optimised(written) : written) {
  ready.tells_rounds = has_rounds(written);
}

}  // namespace basanos
