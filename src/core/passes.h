// The passes of the optimiser, each on its own; optimise.cpp says in which order they run.
#pragma once
#include "rewrite.h"

namespace basanos {

// passes_jumps.cpp
void drop_stops(Program& p);
void thread_jumps(Program& p);
bool invert(Instr& in, int32_t target);
void invert_over_jumps(Program& p);
void thread_known_values(Program& p);
bool remove_unreachable(Program& p);

// passes_pairs.cpp
void fuse_comparisons(Program& p);
void fuse_conditional_adds(Program& p);
void fuse_counting_loops(Program& p);
void fuse_counted_draws(Program& p);
void fuse_loop_sums(Program& p);
void fuse_drawn_adds(Program& p);
void forward_results(Program& p);

// passes_loops.cpp
void rotate_loops(Program& p);
void fuse_loop_tests(Program& p);
void fuse_choices(Program& p);

// passes_values.cpp
void add_known_values(Program& p);
void drop_unread_sums(Program& p);
bool remove_no_ops(Program& p);

// Visits each two operations that follow one another, where nothing jumps to the second.
template <class Visit>
void each_pair(Program& p, Visit visit) {
  const std::vector<bool> is_target = jump_targets(p);
  for (size_t i = 0; i + 1 < p.code.size(); ++i)
    if (!is_target[i + 1]) visit(i, p.code[i], p.code[i + 1]);
}

}  // namespace basanos
