// Seats that are alike: exact odds with and without that.
#include "../../src/core/exact.h"
#include "../../src/core/optimise.h"
#include "../../src/core/symmetry.h"
#include "test.h"

using namespace basanos;

namespace {

const auto go_on = [](uint64_t) { return true; };

// Three seats in turn throw a die of 0 to 2 and add it up, by seat; who comes to `top` first wins.
Program race_of_three(int32_t top) {
  enum { OUTCOME, MOVER, SCORE, FACE = SCORE + 3, NOW, ZERO, ONE, THREE, TOP };
  Program p;
  p.int_start = {0, 0, 0, 0, 0, 0, 0, 0, 1, 3, top};
  p.arrays = {{SCORE, 1, 3, false}};
  p.code = {{OP_MOV, MOVER, ONE, 0, 0, 0},
            {OP_DRAW, FACE, 0, ZERO, THREE, 1},
            {OP_LDX, NOW, MOVER, 0, 0, 0},
            {OP_ADD, NOW, NOW, FACE, 0, 0},
            {OP_STX, MOVER, 0, NOW, 0, 0},
            {OP_JLE, TOP, NOW, 9, 0, 0},
            {OP_FORLE, MOVER, THREE, 1, 0, 0},
            {OP_MOV, MOVER, ONE, 0, 0, 0},
            {OP_LOOP, 1, 0, 0, 0, 0},
            {OP_MOV, OUTCOME, MOVER, 0, 0, 0},
            {OP_END, 0, 0, 0, 0, 0}};
  p.sources = {"die"};
  p.outcome_count = 3;
  p.quantities = {{FACE, false}};
  p.symmetry = {3, {SCORE}, {}, {MOVER}, {}, {}, {2, 3, 1}};
  validate(p);
  return p;
}

void seats_that_are_alike_come_to_the_same_in_fewer_states() {
  Program p = race_of_three(12);
  ExactLimits limits;
  limits.frontier_before_cyclic = 8;
  const ExactResult symmetry = exact(p, limits, go_on);
  const SymmetryTable recorded = p.symmetry;
  p.symmetry = {};
  const ExactResult each = exact(p, limits, go_on);
  CHECK(symmetry.end == ExactEnd::done && each.end == ExactEnd::done && symmetry.states * 3 < each.states * 2);
  for (size_t k = 0; k < 3; ++k) CHECK(std::abs(symmetry.outcomes[k] - each.outcomes[k]) < 1e-12);
  CHECK(each.outcomes[0] > each.outcomes[1] && each.outcomes[1] > each.outcomes[2]);
  for (const auto& [value, weight] : each.quantities[0])
    CHECK(std::abs(symmetry.quantities[0].at(value) - weight) < 1e-12);
  // In layers as well.
  limits.seen = 0;
  p.symmetry = recorded;
  const ExactResult layers = exact(p, limits, go_on);
  for (size_t k = 0; k < 3; ++k) CHECK(std::abs(layers.outcomes[k] - each.outcomes[k]) < 1e-12);
}

// A cell of which it is not known whether it holds a seat, or a part of what turns that is known there: then not.
void seats_are_taken_for_alike_only_where_all_is_known() {
  const auto symmetry = [](const Program& p, int32_t draw) {
    const Program o = optimised(p);
    const SeatSymmetry seats(p, o);
    for (size_t i = 0; i < o.code.size(); ++i)
      if (is_chance(o.code[i].op) && o.code[i].at == draw) return seats.is_symmetric_at(static_cast<int32_t>(i));
    return false;
  };
  Program p = race_of_three(12);
  CHECK(symmetry(p, 1));
  p.symmetry.regs = {};
  CHECK(!symmetry(p, 1));
  p = race_of_three(12);
  p.symmetry.arrays = {};
  CHECK(!symmetry(p, 1));
  p = race_of_three(12);
  p.code[6] = {OP_JMP, 9, 0, 0, 0, 0};  // only the first seat ever moves
  CHECK(!symmetry(p, 1));
  p = race_of_three(12);
  p.code[5] = {OP_DRAW, 0, 0, 7, 8, 1};  // two draws at one place
  CHECK(!symmetry(p, 1));
}

void what_is_told_of_seats_is_looked_at() {
  const auto with = [](void (*change)(SymmetryTable&)) {
    Program p = race_of_three(12);
    change(p.symmetry);
    return p;
  };
  CHECK(rejected(with([](SymmetryTable& a) { a.count = 1; })) &&
        rejected(with([](SymmetryTable& a) { a.count = -3; })) && rejected(with([](SymmetryTable& a) {
          a.count = 4;
          a.arrays = {8};
        })));
  CHECK(rejected(with([](SymmetryTable& a) { a.arrays = {-1}; })) &&
        rejected(with([](SymmetryTable& a) { a.arrays = {10}; })));
  CHECK(rejected(with([](SymmetryTable& a) { a.list_arrays = {0}; })) &&
        rejected(with([](SymmetryTable& a) { a.regs = {99}; })));
  Program listed = race_of_three(12);
  listed.int_start.insert(listed.int_start.end(), {0, 0, 0});
  listed.lists = {{11, 2}};
  CHECK(!rejected(listed));
  for (int32_t reg : {11, 13}) {
    listed.symmetry.regs = {reg};  // what turns may not change how many items a list has
    CHECK(rejected(listed));
  }
  CHECK(rejected(with([](SymmetryTable& a) { a.plain_regs = {99}; })) &&
        rejected(with([](SymmetryTable& a) { a.plain_lists = {0}; })));
  CHECK(rejected(with([](SymmetryTable& a) {
          a.outcomes = {1, 2};
        })) &&
        rejected(with([](SymmetryTable& a) {
          a.outcomes = {1, 1, 2};
        })) &&
        rejected(with([](SymmetryTable& a) {
          a.outcomes = {2, 3, 4};
        })));
}

}  // namespace

void test_symmetry() {
  seats_that_are_alike_come_to_the_same_in_fewer_states();
  seats_are_taken_for_alike_only_where_all_is_known();
  what_is_told_of_seats_is_looked_at();
}
