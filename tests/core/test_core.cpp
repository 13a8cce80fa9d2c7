// Tests of the core on its own, without R. Build and run with `make test-core`.
#include <string>

#include "../../src/core/branch.h"
#include "../../src/core/exact.h"
#include "../../src/core/liveness.h"
#include "../../src/core/optimise.h"
#include "../../src/core/sample.h"
#include "../../src/core/script.h"
#include "test.h"

using namespace basanos;

namespace {

const auto go_on = [](uint64_t) { return true; };

// A program over int cells given with their start values; the outcome is cell 0.
Program program_of(std::vector<int32_t> ints, std::vector<Instr> code, int outcomes = 2) {
  Program p;
  p.int_start = std::move(ints);
  p.code = std::move(code);
  p.outcome_count = outcomes;
  p.sources = {"die"};
  return p;
}

// Rolls 1..6 into cell 1; outcome 1 when above 4, else 2; cell 1 is recorded.
Program one_die() {
  Program p = program_of({0, 0, 0, 1, 6, 4, 2},  // outcome, face, unused, 1, 6, 4, 2
                         {{OP_DRAW, 1, 0, 3, 4, 0},
                          {OP_LT, 0, 5, 1, 0, 0},
                          {OP_JZ, 0, 4, 0, 0, 0},
                          {OP_JMP, 6, 0, 0, 0, 0},
                          {OP_MOV, 0, 6, 0, 0, 0},
                          {OP_JMP, 6, 0, 0, 0, 0},
                          {OP_END, 0, 0, 0, 0, 0}});
  p.quantities = {{1, false}};
  return p;
}

// Runs a straight piece of code over the given cells and returns the frame.
Frame ran(std::vector<int32_t> ints, std::vector<Instr> code, Stop expected = Stop::end) {
  code.push_back({OP_END, 0, 0, 0, 0, 0});
  const Program p = program_of(std::move(ints), std::move(code));
  validate(p);
  Frame f(p);
  f.restart(p);
  CHECK(run<Sampling>(p, f) == expected);
  return f;
}

void generator_gives_known_answers() {
  uint64_t s = 1234567;  // reference values of SplitMix64
  for (uint64_t expected : {6457827717110365317ULL, 3203168211198807973ULL, 9817491932198370423ULL,
                            4593380528125082431ULL, 16408922859458223821ULL})
    CHECK(next_u64(&s) == expected);
  CHECK(hash_name("") == 0xCBF29CE484222325ULL);  // reference values of FNV-1a
  CHECK(hash_name("a") == 0xAF63DC4C8601EC8CULL);
  CHECK(hash_name("foobar") == 0x85944171F73967E8ULL);
}

void streams_differ_by_seed_unit_and_source() {
  const uint64_t key = source_key(1, "die");
  CHECK(key != source_key(2, "die"));
  CHECK(key != source_key(1, "dice"));
  CHECK(stream_start(key, 1) != stream_start(key, 2));
  CHECK(stream_start(key, 1) == stream_start(source_key(1, "die"), 1));
}

// Pearson's statistic for first draws of successive units stays below its 0.9999 point.
void draws_are_uniform() {
  for (uint32_t n : {2u, 3u, 6u, 10u}) {
    const uint64_t key = source_key(7, "die");
    std::vector<double> seen(n);
    const int units = 300000;
    for (uint64_t unit = 1; unit <= units; ++unit) {
      uint64_t stream = stream_start(key, unit);
      const uint32_t x = uniform_below(&stream, n);
      if (x >= n) return CHECK(x < n);
      ++seen[x];
    }
    double statistic = 0;
    for (double k : seen) statistic += (k - units / double(n)) * (k - units / double(n)) / (units / double(n));
    CHECK(statistic < n - 1 + 3.72 * std::sqrt(2.0 * (n - 1)) + 10);
  }
}

void alias_table_keeps_weights() {
  const std::vector<double> weights{1, 0, 3, 6};
  const AliasTable table(weights);
  uint64_t stream = 99;
  std::vector<double> seen(4);
  const int n = 400000;
  for (int k = 0; k < n; ++k) ++seen[alias_draw(table.slots(), table.size(), &stream)];
  CHECK(seen[1] == 0);
  for (size_t k : {0u, 2u, 3u}) {
    const double p = weights[k] / 10;
    CHECK(std::fabs(seen[k] / n - p) < 5 * std::sqrt(p * (1 - p) / n));
  }
}

void whole_division_rounds_down() {
  for (int x : {-7, -6, 0, 6, 7})
    for (int y : {-3, -2, 2, 3}) {
      const Frame f = ran({0, 0, 0, x, y}, {{OP_IDIV, 1, 3, 4, 0, 0}, {OP_IMOD, 2, 3, 4, 0, 0}});
      CHECK(f.ints[1] == static_cast<int>(std::floor(double(x) / y)));
      CHECK(f.ints[1] * y + f.ints[2] == x);
    }
}

void failures_are_found() {
  const int32_t big = std::numeric_limits<int32_t>::max(), small = std::numeric_limits<int32_t>::min();
  auto fails = [](std::vector<int32_t> ints, Instr in) { return ran(std::move(ints), {in}, Stop::fail).fail; };
  CHECK(fails({0, 0, big, 1}, {OP_ADD, 1, 2, 3, 0, 0}) == FAIL_OVERFLOW);
  CHECK(fails({0, 0, small, 1}, {OP_SUB, 1, 2, 3, 0, 0}) == FAIL_OVERFLOW);
  CHECK(fails({0, 0, big, 2}, {OP_MUL, 1, 2, 3, 0, 0}) == FAIL_OVERFLOW);
  CHECK(fails({0, 0, small}, {OP_NEG, 1, 2, 0, 0, 0}) == FAIL_OVERFLOW);
  CHECK(fails({0, 0, small}, {OP_IABS, 1, 2, 0, 0, 0}) == FAIL_OVERFLOW);
  CHECK(fails({0, 0, small, -1}, {OP_IDIV, 1, 2, 3, 0, 0}) == FAIL_OVERFLOW);
  CHECK(fails({0, big, 1, 1, 2}, {OP_ADDLT, 1, 3, 4, 2, 0}) == FAIL_OVERFLOW);
  CHECK(fails({0, 0, 7, 0}, {OP_IDIV, 1, 2, 3, 0, 0}) == FAIL_DIVIDE);
  CHECK(fails({0, 0, 7, 0}, {OP_IMOD, 1, 2, 3, 0, 0}) == FAIL_DIVIDE);
  CHECK(fails({0, 0, 0, 1, 0}, {OP_DRAW, 1, 0, 3, 4, 0}) == FAIL_NOTHING);
  CHECK(fails({0}, {OP_LOOP, 0, 0, 0, 0, 0}) == FAIL_ENDLESS);
}

void additions_and_choices_without_jumps() {
  for (int a : {1, 2, 3}) {
    CHECK(ran({0, 10, 5, a, 2}, {{OP_ADDLT, 1, 3, 4, 2, 0}}).ints[1] == (a < 2 ? 15 : 10));
    CHECK(ran({0, 10, 5, a, 2}, {{OP_ADDLE, 1, 3, 4, 2, 0}}).ints[1] == (a <= 2 ? 15 : 10));
    CHECK(ran({0, 0, a - 2, 8, 9}, {{OP_SEL, 1, 2, 3, 4, 0}}).ints[1] == (a != 2 ? 8 : 9));
  }
  CHECK(ran({0, 0, 1, 7}, {{OP_WHO, 1, 2, 3, 0, 0}}).ints[1] == 7);
  CHECK(ran({0, 4, 1, 7}, {{OP_WHO, 1, 2, 3, 0, 0}}).ints[1] == -1);
  CHECK(ran({0, 4, 0, 7}, {{OP_WHO, 1, 2, 3, 0, 0}}).ints[1] == 4);
}

void lists_and_bags_keep_their_room_and_order() {
  Program p = program_of({0, 3, 1, 2, 0, 0, 0, 0}, {{OP_BPUT, 0, 1, 0, 0, 5},
                                                   {OP_BPUT, 0, 2, 0, 0, 5},
                                                   {OP_BPUT, 0, 3, 0, 0, 5},
                                                   {OP_LREMOVE, 0, 3, 0, 0, 6},
                                                   {OP_LREMOVE, 0, 3, 0, 0, 7},
                                                   {OP_END, 0, 0, 0, 0, 0}});
  p.lists = {{4, 3}};
  validate(p);
  Frame f(p);
  f.restart(p);
  CHECK(run<Sampling>(p, f) == Stop::fail);
  CHECK(f.fail == FAIL_ABSENT && failure_of(p, f).at == 7);
  CHECK(f.ints[4] == 2 && f.ints[5] == 1 && f.ints[6] == 3);
  p.code[3] = p.code[4] = {OP_BPUT, 0, 1, 0, 0, 8};
  f.restart(p);
  f.ints = p.int_start;
  CHECK(run<Sampling>(p, f) == Stop::fail);
  CHECK(f.fail == FAIL_ROOM && failure_of(p, f).at == 8);
}

void broken_programs_are_refused() {
  Program p = one_die();
  CHECK(!rejected(p));
  p.code[2] = {OP_DECIDE, 1, 0, 0, 0, 0};
  CHECK(rejected(p));  // a decision without a site
  p.sites = {{0, 1, -1, true}};
  CHECK(rejected(p));  // one answer where the site has several
  p.sites[0].several = false;
  CHECK(!rejected(p));
  p.code[2] = {OP_OPEN, 1, 0, 0, 0, 0};
  CHECK(rejected(p));
  p = one_die();
  p.code[0].a = 99;
  CHECK(rejected(p));
  p = one_die();
  p.code[2].b = -1;
  CHECK(rejected(p));
  p = one_die();
  p.code.pop_back();
  p.code.pop_back();
  CHECK(rejected(p));
  p = one_die();
  p.code[0].op = OP_COUNT;
  CHECK(rejected(p));
  for (int32_t why : {-1, static_cast<int32_t>(FAIL_NONE), static_cast<int32_t>(FAIL_COUNT)}) {
    p = one_die();
    p.code.back() = {OP_FAIL, why, 0, 0, 0, 0};
    CHECK(rejected(p));
  }
  p = one_die();
  p.code.back() = {OP_FAIL, FAIL_OUTCOME, 0, 0, 0, 0};
  CHECK(!rejected(p));
  p = one_die();
  p.lists = {{5, 100}};
  CHECK(rejected(p));
  p = one_die();
  p.code.clear();
  CHECK(rejected(p));
}

void exact_counts_one_die() {
  const ExactResult r = exact(one_die(), {}, go_on);
  CHECK(r.end == ExactEnd::done && r.residual == 0);
  CHECK(std::fabs(r.outcomes[0] - 2.0 / 6) < 1e-15 && std::fabs(r.outcomes[1] - 4.0 / 6) < 1e-15);
  CHECK(r.quantities[0].size() == 6);
  for (const auto& [face, weight] : r.quantities[0])
    CHECK(face >= 1 && face <= 6 && std::fabs(weight - 1.0 / 6) < 1e-15);
}

// Rolls until a six: no bound on the rounds, so a little weight stays open and is reported.
void exact_reports_what_it_did_not_follow() {
  const Program p =
      program_of({1, 0, 0, 1, 6}, {{OP_DRAW, 1, 0, 3, 4, 0}, {OP_LOOPLT, 1, 4, 0, 0, 0}, {OP_END, 0, 0, 0, 0, 0}});
  ExactResult r = exact(p, {}, go_on);
  CHECK(r.end == ExactEnd::done && r.residual >= 0 && r.residual < 1e-14);
  CHECK(std::fabs(r.outcomes[0] + r.residual - 1) < 1e-12);
  ExactLimits few;
  few.states = 10;
  r = exact(p, few, go_on);
  CHECK(r.end == ExactEnd::too_large && r.limit == ExactLimit::states &&
        std::fabs(r.residual - std::pow(5.0 / 6, 10)) < 1e-12);
  CHECK(exact(one_die(), few, [](uint64_t) { return false; }).end == ExactEnd::done);  // polled only now and then
}

// A single state may have very many branches, as a word of thousands: it is polled as well.
void exact_polls_within_a_state() {
  Program p = one_die();
  for (const int32_t faces : {255, 256}) {
    p.int_start[4] = faces;
    const ExactResult r = exact(p, {}, [](uint64_t) { return false; });
    CHECK((r.end == ExactEnd::stopped) == (faces == 256));
  }
  p.int_start[4] = 512;
  const ExactResult half = exact(p, {}, [](uint64_t) { return false; });
  CHECK(half.end == ExactEnd::stopped && half.rounds == 0.5 && half.residual == 0.5);  // what is left is told
}

void sampling_is_the_same_in_any_pieces() {
  const Program p = one_die();
  const SampleResult whole = sample(p, {5, 1, 50000, 1}, go_on);
  for (int threads : {2, 3}) {
    const SampleResult same = sample(p, {5, 1, 50000, threads}, go_on);
    CHECK(same.tally.outcomes == whole.tally.outcomes);
    CHECK(same.tally.quantities[0].counts() == whole.tally.quantities[0].counts());
  }
  SampleResult first = sample(p, {5, 1, 20001, 1}, go_on);
  const SampleResult second = sample(p, {5, 20002, 50000, 2}, go_on);
  first.tally.merge(second.tally);
  CHECK(first.tally.units == 50000 && first.tally.outcomes == whole.tally.outcomes);
  CHECK(std::fabs(whole.tally.outcomes[0] / 50000.0 - 1.0 / 3) < 5 * std::sqrt(2.0 / 9 / 50000));
  CHECK(sample(p, {5, 1, 50000, 1}, [](uint64_t) { return false; }).stopped);
}

// Fails where the die shows a six: the lowest failing unit is the same for any number of threads.
void the_first_failure_is_reported() {
  Program p = one_die();
  p.code = {{OP_DRAW, 1, 0, 3, 4, 0},
            {OP_JNE, 1, 4, 3, 0, 0},
            {OP_FAIL, FAIL_ILLEGAL, 42, 0, 0, 9},
            {OP_MOV, 0, 3, 0, 0, 0},
            {OP_END, 0, 0, 0, 0, 0}};
  const SampleResult one = sample(p, {1, 1, 200000, 1}, go_on), three = sample(p, {1, 1, 200000, 3}, go_on);
  CHECK(one.failure.fail == FAIL_ILLEGAL && one.failure.info == 42 && one.failure.at == 9);
  CHECK(one.failed_unit > 0 && one.failed_unit == three.failed_unit);
  CHECK(exact(p, {}, go_on).end == ExactEnd::failed);
}

void optimising_changes_nothing_but_the_length() {
  Program p = one_die();
  p.code.insert(p.code.begin() + 1, {OP_MOV, 1, 1, 0, 0, 0});
  for (Instr& in : p.code)
    if (in.op == OP_JMP) ++in.a;
    else if (in.op == OP_JZ) ++in.b;
  validate(p);
  const Program o = optimised(p);
  validate(o);
  CHECK(o.code.size() < p.code.size());
  const ExactResult a = exact(p, {}, go_on), b = exact(o, {}, go_on);
  CHECK(a.outcomes == b.outcomes && a.quantities == b.quantities);
}

void liveness_sees_what_is_read() {
  const Program p = one_die();
  const Liveness live(p);
  CHECK(live.live_after(0, 1) && !live.live_after(0, 0));
  const std::vector<LiveRegisters> regs = live.at_stops();
  CHECK(regs[0].ints.empty());  // constants do not make states differ
}

// Two draws are put into a list. What is in it makes states differ only where it is read.
void a_list_counts_by_its_size_where_only_that_is_read() {
  // outcome, face, size, 1, 6, then the list
  const auto drawn = [](const Instr& read) {
    Program p = program_of({0, 0, 0, 1, 6, 0, 0, 0, 0},
                           {{OP_LCLEAR, 0, 0, 0, 0, 0},
                            {OP_DRAW, 1, 0, 3, 4, 0},
                            {OP_LPUT, 0, 1, 0, 0, 0},
                            {OP_DRAW, 1, 0, 3, 4, 0},
                            {OP_LPUT, 0, 1, 0, 0, 0},
                            read,
                            {OP_LT, 0, 3, 2, 0, 0},
                            {OP_ADD, 0, 0, 3, 0, 0},
                            {OP_END, 0, 0, 0, 0, 0}});
    p.lists = {{5, 3}};
    validate(p);
    return p;
  };
  const Program sized = drawn({OP_LSIZE, 2, 0, 0, 0, 0}), summed = drawn({OP_LSUM, 2, 0, 0, 0, 0});
  const LiveRegisters regs = Liveness(sized).at_stops()[3];
  CHECK(regs.lists.empty() && regs.ints == std::vector<int32_t>{5});
  CHECK(Liveness(summed).at_stops()[3].lists.size() == 1);
  const ExactResult by_size = exact(sized, {}, go_on), by_sum = exact(summed, {}, go_on);
  CHECK(by_size.outcomes[1] == 1 && by_sum.outcomes[1] == 1);
  CHECK(by_size.states == 2 && by_sum.states == 7);
}

void scripts_force_draws_and_answers() {
  Program p = one_die();
  Script script{{{6}}, {}, {}, {}, false, 0};
  ScriptResult r = play_script(p, script);
  CHECK(r.end == ScriptEnd::done && r.ints[0] == 1 && r.draws_used[0] == 1);
  script.draws = {{7}};
  CHECK(play_script(p, script).end == ScriptEnd::impossible_draw);
  script.draws = {{}};
  CHECK(play_script(p, script).end == ScriptEnd::out_of_draws);
  script.stop_when_out = true;
  script.closing = 6;
  CHECK(play_script(p, script).end == ScriptEnd::done);
  p.code[0] = {OP_ASK, 0, 3, 1, 1, 0};
  r = play_script(p, {{{}}, {{5}}, {{0, false}}, {true}, false, 0});
  CHECK(r.end == ScriptEnd::done && r.ints[1] == 5 && r.answers_used[0] == 1);
  CHECK(play_script(p, {{{}}, {{}}, {{0, false}}, {true}, false, 0}).end == ScriptEnd::out_of_answers);
}

}  // namespace

// Without an argument everything; `1` and `2` are two parts that take about as long, to be run side by side.
int main(int count, char** arguments) {
  const std::string part = count > 1 ? arguments[1] : "";
  if (part != "2") {
    generator_gives_known_answers();
    streams_differ_by_seed_unit_and_source();
    draws_are_uniform();
    alias_table_keeps_weights();
    whole_division_rounds_down();
    failures_are_found();
    additions_and_choices_without_jumps();
    lists_and_bags_keep_their_room_and_order();
    broken_programs_are_refused();
    exact_counts_one_die();
    exact_reports_what_it_did_not_follow();
    exact_polls_within_a_state();
    sampling_is_the_same_in_any_pieces();
    the_first_failure_is_reported();
    optimising_changes_nothing_but_the_length();
    liveness_sees_what_is_read();
    a_list_counts_by_its_size_where_only_that_is_read();
    scripts_force_draws_and_answers();
    test_operations();
    test_items();
    test_random_programs();
  }
  if (part != "1") {
    test_searches();
    test_transitions();
    test_symmetry();
    test_markov();
    test_optimise();
    test_random_best_play();
  }
  std::printf("core: %d passed, %d failed\n", passed, failed);
  return failed == 0 ? 0 : 1;
}
