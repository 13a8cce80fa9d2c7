#include "branch.h"

#include <algorithm>

namespace basanos {
namespace {

const Instr& stopped_at(const Program& program, const Frame& frame) {
  return program.code[static_cast<size_t>(frame.pc)];
}

int32_t cell(const Frame& frame, int32_t k) { return frame.ints[static_cast<size_t>(k)]; }

// The range of a uniform draw; a count of 0 where the operation is another.
struct Span {
  int32_t low, count;
};

Span span_of(const Program& program, const Frame& frame) {
  const Instr& in = stopped_at(program, frame);
  if (in.op == OP_DRAW || in.op == OP_DRAWADD) return {cell(frame, in.c), cell(frame, in.d)};
  if (in.op != OP_DRAWCNT) return {0, 0};
  const Range& range = program.ranges[static_cast<size_t>(in.c)];
  return {range.low, static_cast<int32_t>(range.count)};
}

bool is_uniform(const Instr& in) { return in.op == OP_DRAW || in.op == OP_DRAWADD || in.op == OP_DRAWCNT; }

bool added(int32_t& target, int32_t amount) { return !__builtin_add_overflow(target, amount, &target); }

bool refuse(Frame& frame, Fail why) {
  frame.fail = why;
  return false;
}

}  // namespace

bool branches_of(const Program& program, Frame& frame, std::vector<Branch>& out) {
  out.clear();
  const Instr& in = stopped_at(program, frame);
  if (is_uniform(in)) {
    const auto [low, count] = span_of(program, frame);
    if (count <= 0) return refuse(frame, FAIL_NOTHING);
    for (int32_t k = 0; k < count; ++k) out.push_back({low + k, 1.0 / count});
  } else if (in.op == OP_DRAWW) {
    const std::vector<double>& weights = program.weights[static_cast<size_t>(in.c)];
    double total = 0;
    for (double w : weights) total += w;
    for (size_t k = 0; k < weights.size(); ++k)
      if (weights[k] > 0) out.push_back({static_cast<int32_t>(k) + 1, weights[k] / total});
  } else {
    const double p = frame.reals[static_cast<size_t>(in.c)];
    if (!(p >= 0 && p <= 1)) return refuse(frame, FAIL_PROBABILITY);
    if (p > 0) out.push_back({1, p});
    if (p < 1) out.push_back({0, 1 - p});
  }
  return true;
}

size_t branch_bound(const Program& program, const Frame& frame) {
  const Instr& in = stopped_at(program, frame);
  if (is_uniform(in)) return static_cast<size_t>(std::max(0, span_of(program, frame).count));
  return in.op == OP_DRAWW ? program.weights[static_cast<size_t>(in.c)].size() : 2;
}

bool can_come_up(const Program& program, const Frame& frame, int32_t value) {
  const Instr& in = stopped_at(program, frame);
  if (is_uniform(in)) {
    const auto [low, count] = span_of(program, frame);
    return value >= low && value < int64_t{low} + count;
  }
  if (in.op == OP_DRAWW) {
    const std::vector<double>& weights = program.weights[static_cast<size_t>(in.c)];
    return value >= 1 && static_cast<size_t>(value) <= weights.size() && weights[static_cast<size_t>(value) - 1] > 0;
  }
  const double p = frame.reals[static_cast<size_t>(in.c)];
  return value == 1 ? p > 0 : value == 0 && p < 1;
}

bool take(const Program& program, Frame& frame, int32_t value) {
  const Instr& in = stopped_at(program, frame);
  int32_t& target = frame.ints[static_cast<size_t>(in.a)];
  if (in.op == OP_DRAWADD || in.op == OP_DRAWCNT) {
    if (!added(target, value)) return refuse(frame, FAIL_OVERFLOW);
  } else target = value;
  if (in.op == OP_DRAWCNT && !added(frame.ints[static_cast<size_t>(in.d)], 1)) return refuse(frame, FAIL_OVERFLOW);
  ++frame.pc;
  return true;
}

}  // namespace basanos
