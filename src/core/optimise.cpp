#include "optimise.h"

#include <utility>

#include "common_subexpressions.h"
#include "passes.h"
#include "tabulate.h"

namespace basanos {
Program optimised(const Program& program) {
  Program p = program;
  p.records_rounds = has_rounds(program);
  drop_stops(p);
  settle_constant_lists(p);
  bool again = true;
  for (int round = 0; again && round < 20; ++round) {
    if (round < 4) reuse_common_subexpressions(p);
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
    drop_unread_sums(p);
    again = remove_unreachable(p);
    again = remove_no_ops(p) || again;
  }
  fuse_counted_draws(p);
  fuse_loop_tests(p);
  fuse_loop_sums(p);
  remove_no_ops(p);
  tabulate_end(p);
  return p;
}

Prepared::Prepared(Program program, Optimise how)
    : written(with_lanes_found(std::move(program))), ready(how == Optimise::yes ? optimised(written) : written) {
  ready.records_rounds = has_rounds(written);
}

}  // namespace basanos
