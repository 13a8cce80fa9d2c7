// The optimiser against the code as written: random programs must draw, end and count the same.
#include <random>

#include "../../src/core/exact.h"
#include "../../src/core/optimise.h"
#include "../../src/core/sample.h"
#include "../../src/core/tabulate.h"
#include "test.h"

using namespace basanos;

namespace {

const auto go_on = [](uint64_t) { return true; };

// Cells: 0 the outcome, 1..6 variables, then the constants 0, 1, 2, 3, 6, and what counts the times round a loop.
constexpr int32_t kVariables = 6, kZero = 7, kOne = 8, kTwo = 9, kThree = 10, kSix = 11, kTimes = 12, kSum = 13;

class RandomProgram {
 public:
  explicit RandomProgram(unsigned seed) : random_(seed) {}

  Program make() {
    Program p;
    p.int_start = {0, 0, 0, 0, 0, 0, 0, 0, 1, 2, 3, 6, 0, 0};
    p.sources = {"a", "b"};
    p.outcome_count = 3;
    p.quantities = {{1, false}, {2, false}};
    const int length = 6 + below(14);
    p.code.push_back({OP_MOV, kTimes, kZero, 0, 0, 0});
    for (int32_t v = 1; v <= kVariables; ++v) p.code.push_back({OP_MOV, v, constant(), 0, 0, 0});
    const auto body = static_cast<int32_t>(p.code.size());
    for (int i = 0; i < length; ++i) p.code.push_back(operation(body + i, body + length));
    if (below(2) == 0) go_round(p, body);
    // At last an outcome from 1 to 3.
    p.code.push_back({OP_IMOD, 0, variable(), kThree, 0, 0});
    p.code.push_back({OP_ADD, 0, 0, kOne, 0, 0});
    p.code.push_back({OP_END, 0, 0, 0, 0, 0});
    validate(p);
    return p;
  }

 private:
  int below(int n) { return static_cast<int>(random_() % static_cast<unsigned>(n)); }
  int32_t variable() { return 1 + below(kVariables); }
  int32_t constant() { return kZero + below(5); }
  int32_t value() { return below(3) == 0 ? constant() : variable(); }

  // The body again, up to six times; sometimes that depends on a sum.
  void go_round(Program& p, int32_t body) {
    p.code.push_back({OP_ADD, kTimes, kTimes, kOne, 0, 0});
    const bool sums = below(2) == 0;
    if (sums) p.code.push_back({OP_ADD, kSum, kTimes, constant(), 0, 0});
    p.code.push_back({below(2) == 0 ? OP_LOOPLT : OP_LOOPLE, sums ? kSum : kTimes, constant(), body, 0, 0});
  }

  // Jumps within the body go forward only, so every program ends.
  Instr operation(int32_t here, int32_t end) {
    const int32_t ahead = std::min(end, here + 1 + below(4));
    switch (below(13)) {
      case 0: return {OP_DRAW, variable(), below(2), kOne, below(2) == 0 ? kSix : kTwo, 0};
      case 1: return {OP_ADD, variable(), value(), value(), 0, 0};
      case 2: {
        const int32_t x = variable();
        return {OP_ADD, x, x, value(), 0, 0};
      }
      case 3: return {OP_MOV, variable(), value(), 0, 0, 0};
      case 4: return {OP_LT, variable(), value(), value(), 0, 0};
      case 5: return {OP_EQ, variable(), value(), value(), 0, 0};
      case 6: return {OP_JZ, variable(), ahead, 0, 0, 0};
      case 7: return {OP_JNZ, variable(), ahead, 0, 0, 0};
      case 8: return {OP_JLT, value(), value(), ahead, 0, 0};
      case 9: return {OP_JLE, value(), value(), ahead, 0, 0};
      case 10: return {OP_JEQ, value(), value(), ahead, 0, 0};
      case 11: return {OP_JNE, value(), value(), ahead, 0, 0};
      default: return {OP_JMP, ahead, 0, 0, 0, 0};
    }
  }

  std::mt19937 random_;
};

// Plays units through the interpreter alone, without the optimiser in between.
Tally played_as_written(const Program& p, uint64_t seed, uint64_t units) {
  Tally tally(p);
  Frame frame(p);
  const Recorder recorder(p, frame, tally);
  for (uint64_t unit = 1; unit <= units; ++unit) {
    frame.restart(p);
    for (size_t s = 0; s < p.sources.size(); ++s) frame.streams[s] = stream_start(source_key(seed, p.sources[s]), unit);
    CHECK(run<Sampling>(p, frame) == Stop::end);
    recorder.add();
  }
  return tally;
}

void random_programs_stay_the_same() {
  int shorter = 0;
  for (unsigned seed = 1; seed <= 3000; ++seed) {
    const Program p = RandomProgram(seed).make();
    const Program o = optimised(p);
    validate(o);
    shorter += o.code.size() < p.code.size();
    const Tally before = played_as_written(p, seed, 40);
    const SampleResult after = sample(p, {seed, 1, 40, 1}, go_on);
    CHECK(after.failure.fail == FAIL_NONE);
    CHECK(before.outcomes == after.tally.outcomes);
    for (size_t q = 0; q < p.quantities.size(); ++q)
      CHECK(before.quantities[q].counts() == after.tally.quantities[q].counts());
  }
  CHECK(shorter > 2900);  // the test would be worth little if nothing were ever changed
}

void exact_of_random_programs_agrees_with_sampling() {
  for (unsigned seed = 1; seed <= 60; ++seed) {
    const Program p = RandomProgram(seed).make();
    const ExactResult e = exact(p, {}, go_on);
    CHECK(e.end == ExactEnd::done && e.residual == 0);
    const uint64_t units = 4000;
    const SampleResult s = sample(p, {seed, 1, units, 1}, go_on);
    double total = 0;
    for (size_t k = 0; k < e.outcomes.size(); ++k) {
      const double w = e.outcomes[k], seen = static_cast<double>(s.tally.outcomes[k]) / static_cast<double>(units);
      total += w;
      CHECK(std::fabs(seen - w) <= 5 * std::sqrt(std::max(0.0, w * (1 - w)) / static_cast<double>(units)) + 1e-12);
    }
    CHECK(std::fabs(total - 1) < 1e-12);
  }
}

// Two dice, the higher wins: everything after the second draw becomes one table.
Program two_dice() {
  Program p;
  p.int_start = {0, 0, 0, 0, 0, 0, 0, 0, 1, 2, 3, 6};
  p.sources = {"a", "b"};
  p.outcome_count = 3;
  p.code = {{OP_DRAW, 1, 0, kOne, kSix, 0}, {OP_DRAW, 2, 1, kOne, kSix, 0}, {OP_MOV, 0, kThree, 0, 0, 0},
            {OP_JLE, 1, 2, 5, 0, 0},        {OP_MOV, 0, kOne, 0, 0, 0},     {OP_JLE, 2, 1, 7, 0, 0},
            {OP_MOV, 0, kTwo, 0, 0, 0},     {OP_END, 0, 0, 0, 0, 0}};
  validate(p);
  return p;
}

void a_short_end_becomes_a_table() {
  Program p = two_dice();
  CHECK(tabulate_end(p));
  CHECK(p.code.size() == 4 && p.code[2].op == OP_TAB2);
  const ExactResult e = exact(two_dice(), {}, go_on), t = exact(p, {}, go_on);
  CHECK(e.outcomes == t.outcomes);
  CHECK(std::fabs(e.outcomes[0] - 15.0 / 36) < 1e-14 && std::fabs(e.outcomes[2] - 6.0 / 36) < 1e-14);
}

void an_end_is_not_a_table_where_more_hangs_on_it() {
  Program p = two_dice();
  p.quantities = {{1, false}};  // what is drawn is measured as well
  CHECK(!tabulate_end(p));
  p = two_dice();
  p.code[0].d = 2;  // a range that changes
  p.code[0].b = 1;
  CHECK(!tabulate_end(p));
  p = two_dice();
  p.code[6] = {OP_FAIL, FAIL_ILLEGAL, 0, 0, 0, 0};  // an end that may fail
  CHECK(!tabulate_end(p));
  p = two_dice();
  p.code[7] = {OP_LOOP, 2, 0, 0, 0, 0};  // an end that loops
  CHECK(!tabulate_end(p));
}

// A sum that only a loop asks for is part of the loop; where it is read again it is not.
void a_sum_that_loops_is_one_operation() {
  Program p;
  p.int_start = {1, 0, 0, 1, 6, 50};
  p.sources = {"a"};
  p.outcome_count = 1;
  p.quantities = {{1, false}};
  p.code = {{OP_DRAWADD, 1, 0, 3, 4, 0}, {OP_ADD, 2, 1, 4, 0, 0}, {OP_LOOPLT, 2, 5, 0, 0, 7}, {OP_END, 0, 0, 0, 0, 0}};
  const auto sums = [](const Program& o) {
    int count = 0;
    for (const Instr& in : o.code) count += in.op == OP_LOOPSUMLT;
    return count;
  };
  CHECK(sums(optimised(p)) == 1);
  CHECK(played_as_written(p, 3, 500).quantities[0].counts() ==
        sample(p, {3, 1, 500, 1}, go_on).tally.quantities[0].counts());
  p.step_budget = 5;
  CHECK(sample(p, {3, 1, 500, 1}, go_on).failure.at == 7);
  p.quantities = {{2, false}};
  CHECK(sums(optimised(p)) == 0);
}

void failing_operations_are_kept() {
  const int32_t big = std::numeric_limits<int32_t>::max();
  Program p;
  p.int_start = {1, 0, big, 1};
  p.outcome_count = 1;
  p.code = {{OP_ADD, 1, 2, 3, 0, 4}, {OP_END, 0, 0, 0, 0, 0}};  // nobody reads the sum, but it overflows
  CHECK(exact(p, {}, go_on).end == ExactEnd::failed);
  CHECK(sample(p, {1, 1, 5, 1}, go_on).failure.at == 4);
}

}  // namespace

void test_optimise() {
  random_programs_stay_the_same();
  exact_of_random_programs_agrees_with_sampling();
  a_short_end_becomes_a_table();
  an_end_is_not_a_table_where_more_hangs_on_it();
  a_sum_that_loops_is_one_operation();
  failing_operations_are_kept();
}
