// Passes about loops and choices: tests at the end instead of at the top, choices without a jump.
#include <cstddef>
#include <utility>

#include "liveness.h"
#include "passes.h"

namespace basanos {

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
  const auto looping = [](const Instr& test, const Instr& loop) -> Instr {
    return {test.op == OP_JLT ? OP_LOOPLT : OP_LOOPLE, test.a, test.b, loop.a, 0, loop.at};
  };
  for (Instr& test : p.code) {
    if (test.op != OP_JLT && test.op != OP_JLE) continue;
    const Instr loop = p.code[index(test.c)];
    if (loop.op == OP_LOOP) test = looping(test, loop);
  }
  const std::vector<bool> is_target = jump_targets(p);
  for (size_t i = 0; i + 2 < p.code.size(); ++i) {
    Instr& test = p.code[i];
    Instr& loop = p.code[i + 1];
    if ((test.op != OP_JLT && test.op != OP_JLE) || test.c != static_cast<int32_t>(i + 2) || loop.op != OP_LOOP ||
        is_target[i + 1])
      continue;
    invert(test, test.c);
    test = looping(test, loop);
    loop = no_op(loop);
  }
}

// if (c) d <- x else d <- y, both going on at the same place, becomes a choice without a jump.
void fuse_choices(Program& p) {
  const std::vector<bool> is_target = jump_targets(p);
  for (size_t i = 0; i + 4 < p.code.size(); ++i) {
    const Instr test = p.code[i], first = p.code[i + 1], leave = p.code[i + 2], second = p.code[i + 3],
                rest = p.code[i + 4];
    if ((test.op != OP_JZ && test.op != OP_JNZ) || test.b != static_cast<int32_t>(i + 3)) continue;
    if (first.op != OP_MOV || second.op != OP_MOV || first.a != second.a) continue;
    if (is_target[i + 1] || is_target[i + 2]) continue;
    const bool meets =
        (leave.op == OP_END && rest.op == OP_END) || (leave.op == OP_JMP && leave.a == static_cast<int32_t>(i + 4));
    if (!meets) continue;
    const bool swapped = test.op == OP_JNZ;
    const Instr chosen = {OP_SEL,  first.a, test.a, swapped ? second.b : first.b, swapped ? first.b : second.b,
                          first.at};
    p.code[i] = chosen;
    p.code[i + 1] = {OP_JMP, static_cast<int32_t>(i + 4), 0, 0, 0, first.at};
  }
}

}  // namespace basanos
