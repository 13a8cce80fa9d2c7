// Units that go along the trail, against the same units in the machine: the same tally and the same failures.
#include "../../src/core/optimise.h"
#include "../../src/core/sample.h"
#include "../../src/core/replay.h"
#include "test.h"

using namespace basanos;

namespace {

const auto go_on = [](uint64_t) { return true; };

SampleResult played(const Program& p, Caching caching, uint64_t units, int threads = 1) {
  return sample(p, {7, 1, units, threads, nullptr, caching}, go_on);
}

bool same(const Tally& a, const Tally& b) {
  bool equal =
      a.units == b.units && a.rounds == b.rounds && a.squared_rounds == b.squared_rounds && a.outcomes == b.outcomes;
  for (size_t q = 0; q < a.quantities.size(); ++q)
    equal = equal && a.quantities[q].counts() == b.quantities[q].counts();
  for (size_t q = 0; q < a.unit_quantities.size(); ++q)
    equal = equal && a.unit_quantities[q].counts() == b.unit_quantities[q].counts();
  for (size_t k = 0; k < a.products.size(); ++k)
    equal = equal && a.products[k].ss == b.products[k].ss && a.products[k].sn == b.products[k].sn;
  return equal;
}

void check_same(const Program& p, uint64_t units, Fail expected = FAIL_NONE) {
  const SampleResult machine = played(p, Caching::never, units);
  CHECK(machine.failure.fail == expected);
  for (int threads : {1, 3}) {
    const SampleResult along = played(p, Caching::always, units, threads);
    CHECK(along.failure.fail == machine.failure.fail && along.failed_unit == machine.failed_unit &&
          along.failure.at == machine.failure.at && along.failure.info == machine.failure.info);
    if (machine.failure.fail == FAIL_NONE) CHECK(same(along.tally, machine.tally));
  }
  if (machine.failure.fail == FAIL_NONE) CHECK(same(played(p, Caching::where_it_pays, units).tally, machine.tally));
}

// One draw of each kind in a loop, until a die (register 2, 1 to `faces`) shows at least 3. Register 1 is the sum.
enum Cell { OUTCOME, SUM, DIE, DRAWN, ONE, FACES, THREE, TWELVE, TWO, BAG, DECK = BAG + 4, INT_ROW = DECK + 3 };

Program every_draw(int32_t faces) {
  Program p;
  p.int_start = {0, 0, 0, 0, 1, faces, 3, 12, 2, 3, 4, 4, 9, 0, 0, 0};
  p.real_start = {0.25};
  p.arrays = {{DECK, 0, 3, false}};
  p.lists = {{BAG, 3}};
  p.tables = {{0, 3, {2, 1, 1}}};
  p.weights = {{1, 0, 2.5}};
  p.aliases = {AliasTable(p.weights[0])};
  p.code = {{OP_SUB, SUM, SUM, SUM, 0, 0},
            {OP_ATAB, 0, 0, 0, 0, 0},
            {OP_DRAW, DIE, 0, ONE, FACES, 0},
            {OP_ADD, SUM, SUM, DIE, 0, 0},
            {OP_DRAWW, DRAWN, 1, 0, 0, 0},
            {OP_ADD, SUM, SUM, DRAWN, 0, 0},
            {OP_DRAWP, DRAWN, 2, 0, 0, 0},
            {OP_ADD, SUM, SUM, DRAWN, 0, 0},
            {OP_DEAL, DRAWN, 3, 0, 0, 0},
            {OP_ADD, SUM, SUM, DRAWN, 0, 0},
            {OP_DEAL, DRAWN, 3, 0, 0, 0},
            {OP_ADD, SUM, SUM, DRAWN, 0, 0},
            {OP_DRAWL, DRAWN, 4, 0, 0, 0},
            {OP_ADD, SUM, SUM, DRAWN, 0, 0},
            {OP_DRAWN, DRAWN, 5, THREE, 0, 0},
            {OP_ADD, SUM, SUM, DRAWN, 0, 0},
            {OP_LOOPLT, DIE, THREE, 1, 0, 5},
            {OP_MOV, OUTCOME, ONE, 0, 0, 0},
            {OP_JLT, TWELVE, SUM, 20, 0, 0},
            {OP_MOV, OUTCOME, TWO, 0, 0, 0},
            {OP_END, 0, 0, 0, 0, 0}};
  p.sources = {"die", "weighted", "coin", "deck", "bag", "trials"};
  p.outcome_count = 2;
  p.quantities = {{SUM, false}};
  validate(p);
  return p;
}

void every_draw_comes_out_the_same() {
  const Program p = every_draw(6);
  const SampleResult s = played(p, Caching::always, 20000);
  CHECK(s.failure.fail == FAIL_NONE && s.tally.units == 20000 && s.tally.outcomes[0] > 0 && s.tally.outcomes[1] > 0 &&
        s.tally.quantities[0].counts().size() > 20);
  check_same(p, 20000);
  check_same(every_draw(100000), 5000);  // more ways than are remembered
}

void failures_are_those_of_the_machine() {
  Program p = every_draw(6);
  p.step_budget = 4;
  check_same(p, 20000, FAIL_ENDLESS);
  check_same(every_draw(0), 5000, FAIL_NOTHING);  // nothing to draw from
  Program illegal = every_draw(6);
  illegal.code[19] = {OP_FAIL, FAIL_ILLEGAL, 42, 0, 0, 9};
  check_same(illegal, 20000, FAIL_ILLEGAL);
  Program far = every_draw(6);
  far.int_start[FACES] = 3;
  far.code[17] = {OP_MUL, SUM, SUM, SUM, 0, 3};
  far.code[18] = {OP_LOOPLT, TWELVE, SUM, 17, 0, 6};
  check_same(far, 5000, FAIL_OVERFLOW);  // beyond the whole numbers
}

// Three rounds a unit, each told.
void rounds_of_a_match_are_told_the_same() {
  Program p = every_draw(6);
  p.int_start.push_back(0);
  p.code[20] = {OP_TALLY, 0, 0, 0, 0, 0};
  p.code.push_back({OP_ADD, INT_ROW, INT_ROW, ONE, 0, 0});
  p.code.push_back({OP_LOOPLT, INT_ROW, THREE, 0, 0, 0});
  p.code.push_back({OP_MOV, INT_ROW, DRAWN, 0, 0, 0});
  p.code.push_back({OP_SUB, INT_ROW, INT_ROW, INT_ROW, 0, 0});
  p.code.push_back({OP_END, 0, 0, 0, 0, 0});
  p.unit_quantities = {{SUM, false}};
  validate(p);
  CHECK(played(p, Caching::always, 6000).tally.rounds == 18000);
  check_same(p, 6000);
  p.step_budget = 2;
  check_same(p, 6000, FAIL_ENDLESS);
}

// Where there is no room for more, the machine goes on from the last state that is known.
void a_full_trail_is_left_on_the_way() {
  const Program p = optimised(every_draw(6));
  const SampleResult machine = played(p, Caching::never, 3000);
  std::vector<uint64_t> keys;
  for (const std::string& source : p.sources) keys.push_back(source_key(7, source));
  for (const TransitionCache::Room& room :
       {TransitionCache::Room{0, 0, 0, 0}, TransitionCache::Room{1, 1, 0, 0},
        TransitionCache::Room{40, 1000, 1000, 10000}, TransitionCache::Room{1000, 60, 1000, 10000},
        TransitionCache::Room{1000, 1000, 20, 10000}, TransitionCache::Room{1000, 5000, 1000, 300}}) {
    TransitionCache trail(p, room);
    Frame frame(p);
    Tally tally(p);
    {
      Replay walk(p, trail, frame, keys, tally);
      CHECK(walk.play(1, 3000));
    }
    CHECK(same(tally, machine.tally));
  }
}

}  // namespace

void test_transitions() {
  every_draw_comes_out_the_same();
  failures_are_those_of_the_machine();
  rounds_of_a_match_are_told_the_same();
  a_full_trail_is_left_on_the_way();
}
