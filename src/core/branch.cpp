#include "branch.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace basanos {
namespace {

const Instr& stopped_at(const Program& program, const Frame& frame) {
  return program.code[static_cast<size_t>(frame.pc)];
}

int32_t reg(const Frame& frame, int32_t k) { return frame.ints[static_cast<size_t>(k)]; }

// The range of a uniform draw; a count of 0 where the operation is another.
struct Span {
  int32_t low, count;
};

Span span_of(const Program& program, const Frame& frame) {
  const Instr& in = stopped_at(program, frame);
  if (in.op == OP_DRAW || in.op == OP_DRAWADD) return {reg(frame, in.c), reg(frame, in.d)};
  if (in.op != OP_DRAWCNT) return {0, 0};
  const Range& range = program.ranges[static_cast<size_t>(in.c)];
  return {range.low, static_cast<int32_t>(range.count)};
}

bool is_uniform(const Instr& in) { return in.op == OP_DRAW || in.op == OP_DRAWADD || in.op == OP_DRAWCNT; }

bool added(int32_t& target, int32_t amount) { return !__builtin_add_overflow(target, amount, &target); }

const int32_t* list_of(const Program& program, const Frame& frame, int32_t list) {
  return frame.ints.data() + program.lists[static_cast<size_t>(list)].base;
}

// Each item of a list alike; equal ones are one branch.
void each_item(const int32_t* list, std::vector<Branch>& out) {
  std::vector<int32_t> items(list + 1, list + 1 + list[0]);
  std::sort(items.begin(), items.end());
  for (size_t k = 0; k < items.size(); ++k) {
    if (k == 0 || items[k] != items[k - 1]) out.push_back({items[k], 0});
    out.back().probability += 1.0L / list[0];
  }
}

// The binomial distribution by recurrence: each term follows from its neighbour, starting at the likeliest. All are
// then scaled to add up to 1.
void successes(int32_t n, double p, std::vector<Branch>& out) {
  if (p == 0 || p == 1) {
    out.push_back({p == 0 ? 0 : n, 1});
    return;
  }
  const auto mode = static_cast<int32_t>(std::min<double>(n, std::floor((n + 1.0) * p)));
  const long double odds = static_cast<long double>(p) / (1.0L - p);
  std::vector<long double> terms(static_cast<size_t>(n) + 1);
  const auto term = [&terms](int32_t k) -> long double& { return terms[static_cast<size_t>(k)]; };
  term(mode) = 1;
  for (int32_t k = mode; k > 0; --k) term(k - 1) = term(k) * k / (odds * (n - k + 1));
  for (int32_t k = mode; k < n; ++k) term(k + 1) = term(k) * odds * (n - k) / (k + 1);
  const long double total = std::accumulate(terms.begin(), terms.end(), 0.0L);
  for (int32_t k = 0; k <= n; ++k)
    if (static_cast<double>(term(k) / total) > 0) out.push_back({k, term(k) / total});
}

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
    for (int32_t k = 0; k < count; ++k) out.push_back({face_from(low, static_cast<uint32_t>(k)), 1.0L / count});
  } else if (in.op == OP_DRAWW) {
    const std::vector<double>& weights = program.weights[static_cast<size_t>(in.c)];
    long double total = 0;
    for (double w : weights) total += w;
    for (size_t k = 0; k < weights.size(); ++k)
      if (weights[k] > 0) out.push_back({static_cast<int32_t>(k) + 1, weights[k] / total});
  } else if (in.op == OP_DEAL) {
    const Array& deck = program.arrays[static_cast<size_t>(in.c)];
    const int32_t* counts = frame.ints.data() + deck.base;
    const int64_t total = sum_of(counts, deck.size);
    if (total <= 0 || total > INT32_MAX) return refuse(frame, FAIL_EMPTY);
    for (int32_t k = 0; k < deck.size; ++k)
      if (counts[k] > 0) out.push_back({deck.first + k, counts[k] / static_cast<long double>(total)});
  } else if (in.op == OP_DRAWL) {
    const int32_t* list = list_of(program, frame, in.c);
    if (list[0] <= 0) return refuse(frame, FAIL_NOTHING);
    each_item(list, out);
  } else if (in.op == OP_DRAWN) {
    const double p = frame.reals[static_cast<size_t>(in.d)];
    if (!(p >= 0 && p <= 1)) return refuse(frame, FAIL_PROBABILITY);
    if (reg(frame, in.c) < 0 || reg(frame, in.c) > MOST_TRIALS) return refuse(frame, FAIL_TRIALS);
    successes(reg(frame, in.c), p, out);
  } else if (in.op == OP_LANE) {
    for (int32_t lane = 1; lane <= in.c; ++lane) out.push_back({lane, 1});
  } else {
    const double p = frame.reals[static_cast<size_t>(in.c)];
    if (!(p >= 0 && p <= 1)) return refuse(frame, FAIL_PROBABILITY);
    if (p > 0) out.push_back({1, p});
    if (p < 1) out.push_back({0, 1.0L - p});
  }
  return true;
}

size_t branch_bound(const Program& program, const Frame& frame) {
  const Instr& in = stopped_at(program, frame);
  if (is_uniform(in)) return static_cast<size_t>(std::max(0, span_of(program, frame).count));
  switch (in.op) {
    case OP_DRAWW: return program.weights[static_cast<size_t>(in.c)].size();
    case OP_DEAL: return static_cast<size_t>(program.arrays[static_cast<size_t>(in.c)].size);
    case OP_DRAWL: return static_cast<size_t>(list_of(program, frame, in.c)[0]);
    case OP_DRAWN: return static_cast<size_t>(std::max<int64_t>(0, int64_t{reg(frame, in.c)} + 1));
    case OP_LANE: return static_cast<size_t>(in.c);
    default: return 2;
  }
}

int32_t value_at(const Program& program, const Frame& frame, uint32_t k) {
  const Instr& in = stopped_at(program, frame);
  if (is_uniform(in)) return face_from(span_of(program, frame).low, k);
  const auto steps = static_cast<int32_t>(k);
  switch (in.op) {
    case OP_DRAWW: return steps + 1;
    case OP_DEAL: return program.arrays[static_cast<size_t>(in.c)].first + steps;
    case OP_DRAWL: return list_of(program, frame, in.c)[1 + k];
    default: return steps;
  }
}

bool can_come_up(const Program& program, Frame& frame, int32_t value) {
  if (is_uniform(stopped_at(program, frame))) {
    const auto [low, count] = span_of(program, frame);
    return value >= low && value < int64_t{low} + count;
  }
  std::vector<Branch> all;
  if (!branches_of(program, frame, all)) return false;
  return std::any_of(all.begin(), all.end(), [value](const Branch& b) { return b.value == value; });
}

bool take(const Program& program, Frame& frame, int32_t value) {
  const Instr& in = stopped_at(program, frame);
  int32_t& target = frame.ints[static_cast<size_t>(in.a)];
  if (in.op == OP_DRAWADD || in.op == OP_DRAWCNT) {
    if (!added(target, value)) return refuse(frame, FAIL_OVERFLOW);
  } else target = value;
  if (in.op == OP_DRAWCNT && !added(frame.ints[static_cast<size_t>(in.d)], 1)) return refuse(frame, FAIL_OVERFLOW);
  if (in.op == OP_DEAL) {
    const Array& deck = program.arrays[static_cast<size_t>(in.c)];
    --frame.ints[static_cast<size_t>(deck.base + value - deck.first)];
  }
  ++frame.pc;
  return true;
}

void open_decision(Frame& frame) {
  frame.offers.clear();
  frame.shown.clear();
  ++frame.pc;
}

bool decide(const Program& program, Frame& frame, size_t k) {
  const Instr& in = stopped_at(program, frame);
  if (frame.offers.full()) return refuse(frame, FAIL_ROOM);
  if (k >= frame.offers.count()) return refuse(frame, FAIL_NOTHING);
  const int32_t* const answer = frame.offers[k];
  if (in.op == OP_DECIDE) frame.ints[static_cast<size_t>(in.a)] = *answer;
  else {
    const List& list = program.lists[static_cast<size_t>(in.a)];
    if (*answer > list.room) return refuse(frame, FAIL_ROOM);
    std::copy_n(answer, *answer + 1, frame.ints.begin() + list.base);
  }
  ++frame.pc;
  return true;
}

bool draw_from_stream(const Program& program, Frame& frame, int32_t& value) {
  const Instr& in = stopped_at(program, frame);
  uint64_t& stream = frame.streams[static_cast<size_t>(in.b)];
  if (is_uniform(in)) {
    const auto [low, count] = span_of(program, frame);
    if (count <= 0) return refuse(frame, FAIL_NOTHING);
    value = face_from(low, uniform_below(&stream, static_cast<uint32_t>(count)));
    return true;
  }
  std::vector<Branch> possible;
  if (!branches_of(program, frame, possible)) return false;
  switch (in.op) {
    case OP_DRAWW:
      value = 1 + static_cast<int32_t>(alias_draw(program.aliases[static_cast<size_t>(in.c)].slots(),
                                                  program.aliases[static_cast<size_t>(in.c)].size(), &stream));
      break;
    case OP_DRAWP: value = uniform_unit(&stream) < frame.reals[static_cast<size_t>(in.c)]; break;
    case OP_DEAL: {
      const Array& deck = program.arrays[static_cast<size_t>(in.c)];
      const int32_t* counts = frame.ints.data() + deck.base;
      value = deck.first + draw_card(counts, deck.size, static_cast<int32_t>(sum_of(counts, deck.size)), &stream);
      break;
    }
    case OP_DRAWL: {
      const int32_t* list = list_of(program, frame, in.c);
      value = list[1 + uniform_below(&stream, static_cast<uint32_t>(list[0]))];
      break;
    }
    default: value = draw_successes(reg(frame, in.c), frame.reals[static_cast<size_t>(in.d)], &stream);
  }
  return true;
}

}  // namespace basanos
