// Passes that make one operation of two that follow one another.
#include <cstddef>
#include <utility>

#include "liveness.h"
#include "passes.h"

namespace basanos {

// x <- a < b; jump if x  becomes  jump if a < b, where nobody else reads x.
void fuse_comparisons(Program& p) {
  const Liveness live(p);
  each_pair(p, [&](size_t i, const Instr& test, Instr& jump) {
    if (test.op != OP_EQ && test.op != OP_NE && test.op != OP_LT && test.op != OP_LE) return;
    if ((jump.op != OP_JZ && jump.op != OP_JNZ) || jump.a != test.a) return;
    if (live.live_after(i + 1, test.a) || test.a == test.b || test.a == test.c) return;
    const int fused = test.op == OP_EQ ? OP_JEQ : test.op == OP_NE ? OP_JNE : test.op == OP_LT ? OP_JLT : OP_JLE;
    const bool when = jump.op == OP_JNZ;
    jump = {fused, test.b, test.c, jump.b, 0, jump.at};
    if (!when) invert(jump, jump.c);
  });
}

// if (a < b) x <- x + n  becomes one addition without a jump.
void fuse_conditional_adds(Program& p) {
  each_pair(p, [](size_t i, Instr& skip, Instr& add) {
    if ((skip.op != OP_JLT && skip.op != OP_JLE) || skip.c != static_cast<int32_t>(i + 2)) return;
    if (add.op != OP_ADD || add.a != add.b) return;
    skip = {skip.op == OP_JLT ? OP_ADDLE : OP_ADDLT, add.a, skip.b, skip.a, add.c, add.at};
    add = no_op(add);
  });
}

// i <- i + 1; loop while i <= n.
void fuse_counting_loops(Program& p) {
  const std::vector<bool> written = written_ints(p);
  each_pair(p, [&](size_t, Instr& add, Instr& loop) {
    if (add.op != OP_ADD || add.a != add.b || loop.op != OP_LOOPLE || loop.a != add.a) return;
    if (written[index(add.c)] || p.int_start[index(add.c)] != 1) return;
    add = {OP_FORLE, loop.a, loop.b, loop.c, 0, loop.at};
    loop = no_op(loop);
  });
}

// total <- total + draw; n <- n + 1, the draw's range being constant.
void fuse_counted_draws(Program& p) {
  const std::vector<bool> written = written_ints(p);
  each_pair(p, [&](size_t, Instr& draw, Instr& add) {
    if (draw.op != OP_DRAWADD || add.op != OP_ADD || add.a != add.b || add.a == draw.a) return;
    if (written[index(draw.c)] || written[index(draw.d)] || written[index(add.c)]) return;
    const int32_t count = p.int_start[index(draw.d)];
    if (p.int_start[index(add.c)] != 1 || count <= 0) return;
    p.ranges.push_back({p.int_start[index(draw.c)], static_cast<uint32_t>(count)});
    draw = {OP_DRAWCNT, draw.a, draw.b, static_cast<int32_t>(p.ranges.size() - 1), add.a, draw.at};
    add = no_op(add);
  });
}

// t <- x + y; loop while t < n, where nobody else reads t.
void fuse_loop_sums(Program& p) {
  const Liveness live(p);
  each_pair(p, [&](size_t i, Instr& add, Instr& loop) {
    if (add.op != OP_ADD || loop.op != OP_LOOPLT || loop.a != add.a || loop.b == add.a) return;
    if (live.live_after(i + 1, add.a)) return;
    loop = {OP_LOOPSUMLT, add.b, add.c, loop.b, loop.c, loop.at};
    add = no_op(add);
  });
}

// t <- draw; x <- x + t where nobody else reads t.
void fuse_drawn_adds(Program& p) {
  const Liveness live(p);
  each_pair(p, [&](size_t i, Instr& draw, Instr& add) {
    if (draw.op != OP_DRAW || add.op != OP_ADD || add.a != add.b || add.c != draw.a || add.a == draw.a) return;
    if (live.live_after(i + 1, draw.a)) return;
    draw = {OP_DRAWADD, add.a, draw.b, draw.c, draw.d, draw.at};
    add = no_op(add);
  });
}

// x <- x + n; y <- x where nobody else reads x  becomes  y <- x + n, for any operation with one result.
void forward_results(Program& p) {
  const Liveness live(p);
  each_pair(p, [&](size_t i, Instr& made, Instr& copy) {
    if (copy.op != OP_MOV || copy.b == copy.a) return;
    if (op_info(made.op).roles[0] != 'i' || made.a != copy.b || live.live_after(i + 1, copy.b)) return;
    made.a = copy.a;
    copy = no_op(copy);
  });
}

}  // namespace basanos
