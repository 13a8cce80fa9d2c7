// Operations on reals, arrays, lists and tables, one by one.
#include "../../src/core/interpreter.h"
#include "test.h"

using namespace basanos;

namespace {

// A program of int cells, real cells and lists, run once without chance.
struct Bench {
  Program p;
  Frame* frame = nullptr;

  Bench(std::vector<int32_t> ints, std::vector<double> reals) {
    p.int_start = std::move(ints);
    p.real_start = std::move(reals);
    p.outcome_count = 1;
  }

  Frame run_code(std::vector<Instr> code, Stop expected = Stop::end) {
    code.push_back({OP_END, 0, 0, 0, 0, 0});
    p.code = std::move(code);
    validate(p);
    Frame f(p);
    f.restart(p);
    CHECK(run<Sampling>(p, f) == expected);
    return f;
  }
};

double real_of(int op, double x, double y = 0) {
  Bench b({1, 0, 0}, {0, x, y});
  return b.run_code({{op, 0, 1, 2, 0, 0}}).reals[0];
}

int32_t whole_of(int op, double x, double y = 0) {
  Bench b({1, 0, 0}, {0, x, y});
  return b.run_code({{op, 1, 1, 2, 0, 0}}).ints[1];
}

Fail real_failure(int op, double x, double y = 0) {
  Bench b({1, 0, 0}, {0, x, y});
  return b.run_code({{op, 0, 1, 2, 0, 0}}, Stop::fail).fail;
}

void reals() {
  CHECK(real_of(OP_DADD, 1.5, 2) == 3.5);
  CHECK(real_of(OP_DSUB, 1.5, 2) == -0.5);
  CHECK(real_of(OP_DMUL, 1.5, 2) == 3);
  CHECK(real_of(OP_DDIV, 3, 2) == 1.5);
  CHECK(real_of(OP_DPOW, 2, 0.5) == std::sqrt(2.0));
  CHECK(real_of(OP_DNEG, 2) == -2);
  CHECK(real_of(OP_DABS, -2) == 2);
  CHECK(real_of(OP_DMIN, 1, -1) == -1);
  CHECK(real_of(OP_DMAX, 1, -1) == 1);
  CHECK(real_of(OP_DLOG, 1) == 0);
  CHECK(real_of(OP_DEXP, 0) == 1);
  CHECK(real_of(OP_DSQRT, 9) == 3);
  CHECK(whole_of(OP_DEQ, 2, 2) == 1 && whole_of(OP_DEQ, 2, 3) == 0);
  CHECK(whole_of(OP_DNE, 2, 2) == 0 && whole_of(OP_DNE, 2, 3) == 1);
  CHECK(whole_of(OP_DLT, 2, 2) == 0 && whole_of(OP_DLT, 2, 3) == 1);
  CHECK(whole_of(OP_DLE, 2, 2) == 1 && whole_of(OP_DLE, 3, 2) == 0);
  CHECK(whole_of(OP_FLOOR, -1.5) == -2 && whole_of(OP_FLOOR, 1.5) == 1);
  CHECK(whole_of(OP_CEIL, -1.5) == -1 && whole_of(OP_CEIL, 1.5) == 2);
  CHECK(whole_of(OP_ROUND, 2.5) == 3 && whole_of(OP_ROUND, -2.5) == -2);
}

void reals_that_are_none() {
  CHECK(real_failure(OP_DDIV, 1, 0) == FAIL_DIVIDE);
  CHECK(real_failure(OP_DLOG, 0) == FAIL_FRACTION);
  CHECK(real_failure(OP_DSQRT, -1) == FAIL_FRACTION);
  CHECK(real_failure(OP_DEXP, 1e6) == FAIL_FRACTION);
  CHECK(real_failure(OP_DPOW, -1, 0.5) == FAIL_FRACTION);
  Bench b({1, 0, 0}, {0, 3e9, 0});
  CHECK(b.run_code({{OP_FLOOR, 1, 1, 0, 0, 0}}, Stop::fail).fail == FAIL_FRACTION);
}

void wholes() {
  Bench b({1, 0, 7, -3}, {0});
  const auto got = [&b](int op) { return b.run_code({{op, 1, 2, 3, 0, 0}}).ints[1]; };
  CHECK(got(OP_ADD) == 4 && got(OP_SUB) == 10 && got(OP_MUL) == -21);
  CHECK(got(OP_IMIN) == -3 && got(OP_IMAX) == 7 && got(OP_NEG) == -7);
  CHECK(got(OP_EQ) == 0 && got(OP_NE) == 1 && got(OP_LT) == 0 && got(OP_LE) == 0);
  CHECK(b.run_code({{OP_IABS, 1, 3, 0, 0, 0}}).ints[1] == 3);
  CHECK(b.run_code({{OP_NOT, 1, 2, 0, 0, 0}}).ints[1] == 0);
  CHECK(b.run_code({{OP_TOREAL, 0, 3, 0, 0, 0}}).reals[0] == -3);
}

void arrays_keep_their_bounds() {
  Bench b({1, 0, 5, 6, 7, 2, 42}, {0, 1.5, 2.5, 3.5, 9});  // cells 2..4: one value for the labels 1..3
  b.p.arrays = {{2, 1, 3, false}, {1, 1, 3, true}};
  CHECK(b.run_code({{OP_LDX, 1, 5, 0, 0, 0}}).ints[1] == 6);
  CHECK(b.run_code({{OP_STX, 5, 0, 6, 0, 0}}).ints[3] == 42);
  CHECK(b.run_code({{OP_DLDX, 0, 5, 1, 0, 0}}).reals[0] == 2.5);
  CHECK(b.run_code({{OP_DSTX, 5, 1, 4, 0, 0}}).reals[2] == 9);
  for (int32_t outside : {0, 4, -1, std::numeric_limits<int32_t>::max()}) {
    b.p.int_start[5] = outside;
    CHECK(b.run_code({{OP_LDX, 1, 5, 0, 0, 0}}, Stop::fail).fail == FAIL_INDEX);
    CHECK(b.run_code({{OP_STX, 5, 0, 6, 0, 0}}, Stop::fail).fail == FAIL_INDEX);
    CHECK(b.run_code({{OP_DLDX, 0, 5, 1, 0, 0}}, Stop::fail).fail == FAIL_INDEX);
    CHECK(b.run_code({{OP_DSTX, 5, 1, 4, 0, 0}}, Stop::fail).fail == FAIL_INDEX);
  }
}

void tables_keep_their_bounds() {
  Bench b({1, 0, 3, 4}, {0});
  b.p.tables = {{3, 2, {10, 20}}, {3, 2, {1, 2, 3, 4}}};
  CHECK(b.run_code({{OP_TAB, 1, 3, 0, 0, 0}}).ints[1] == 20);
  CHECK(b.run_code({{OP_TAB2, 1, 2, 3, 1, 0}}).ints[1] == 2);
  CHECK(b.run_code({{OP_TAB2, 1, 3, 2, 1, 0}}).ints[1] == 3);
  b.p.int_start[2] = 5;
  CHECK(b.run_code({{OP_TAB, 1, 2, 0, 0, 0}}, Stop::fail).fail == FAIL_INDEX);
  CHECK(b.run_code({{OP_TAB2, 1, 3, 2, 1, 0}}, Stop::fail).fail == FAIL_INDEX);
}

// Two lists of room 6 at cells 2 and 9; a third of room 2 at 16.
Bench with_lists(std::vector<int32_t> first, std::vector<int32_t> second) {
  std::vector<int32_t> ints(20, 0);
  ints[0] = 1;
  ints[2] = static_cast<int32_t>(first.size());
  for (size_t k = 0; k < first.size(); ++k) ints[3 + k] = first[k];
  ints[9] = static_cast<int32_t>(second.size());
  for (size_t k = 0; k < second.size(); ++k) ints[10 + k] = second[k];
  Bench b(ints, {0});
  b.p.lists = {{2, 6}, {9, 6}, {16, 2}};
  return b;
}

std::vector<int32_t> list_at(const Frame& f, size_t base) {
  return {f.ints.begin() + static_cast<std::ptrdiff_t>(base) + 1,
          f.ints.begin() + static_cast<std::ptrdiff_t>(base) + 1 + f.ints[base]};
}

void lists() {
  using L = std::vector<int32_t>;
  CHECK(list_at(with_lists({5, 1}, {4, 2}).run_code({{OP_LAPPEND, 0, 1, 0, 0, 0}}), 2) == (L{5, 1, 4, 2}));
  CHECK(list_at(with_lists({1, 5}, {4, 2}).run_code({{OP_BAPPEND, 0, 1, 0, 0, 0}}), 2) == (L{1, 2, 4, 5}));
  CHECK(list_at(with_lists({1, 5}, {}).run_code({{OP_LAPPEND, 0, 0, 0, 0, 0}}), 2) == (L{1, 5, 1, 5}));
  CHECK(list_at(with_lists({1, 5}, {}).run_code({{OP_LCOPY, 1, 0, 0, 0, 0}}), 9) == (L{1, 5}));
  CHECK(list_at(with_lists({1, 5}, {}).run_code({{OP_LCLEAR, 0, 0, 0, 0, 0}}), 2).empty());
  CHECK(list_at(with_lists({3, 5, 3, 3, 5}, {}).run_code({{OP_LGROUPS, 1, 0, 0, 0, 0}}), 9) == (L{3, 2}));
  CHECK(list_at(with_lists({6, 5, 4}, {}).run_code({{OP_LGROUPS, 1, 0, 0, 0, 0}}), 9) == (L{1, 1, 1}));
  CHECK(list_at(with_lists({}, {9}).run_code({{OP_LGROUPS, 1, 0, 0, 0, 0}}), 9).empty());
  const auto taken = [](const L& of, int32_t n, int32_t highest) {
    Bench b = with_lists(of, {9, 9});
    b.p.int_start[1] = n;
    return list_at(b.run_code({{OP_LHIGH, 1, 0, 1, highest, 0}}), 9);
  };
  CHECK(taken({3, 6, 1, 6, 2}, 3, 1) == (L{6, 6, 3}) && taken({3, 6, 1, 6, 2}, 3, 0) == (L{1, 2, 3}));
  CHECK(taken({3, 1}, 6, 1) == (L{3, 1}) && taken({3, 1}, 1, 0) == (L{1}));
  const auto dropped = [](const L& of, int32_t place) {
    Bench b = with_lists(of, {});
    b.p.int_start[1] = place;
    return list_at(b.run_code({{OP_LDROP, 0, 1, 0, 0, 0}}), 2);
  };
  CHECK(dropped({2, 1, 2}, 3) == (L{2, 1}) && dropped({2, 1, 2}, 1) == (L{1, 2}) && dropped({7}, 1).empty());
  CHECK(taken({3, 1}, 0, 1).empty() && taken({3, 1}, -2, 1).empty() && taken({}, 2, 1).empty());
  CHECK(with_lists({3, 1, 2, 6, 5}, {}).run_code({{OP_LRUN, 1, 0, 0, 0, 0}}).ints[1] == 3);
  CHECK(with_lists({4, 4, 4}, {}).run_code({{OP_LRUN, 1, 0, 0, 0, 0}}).ints[1] == 1);
  CHECK(with_lists({}, {}).run_code({{OP_LRUN, 1, 0, 0, 0, 0}}).ints[1] == 0);
  CHECK(with_lists({2147483647, -2147483647 - 1}, {}).run_code({{OP_LRUN, 1, 0, 0, 0, 0}}).ints[1] == 1);
  CHECK(with_lists({1, 2}, {1, 2}).run_code({{OP_LSAME, 1, 0, 1, 0, 0}}).ints[1] == 1);
  CHECK(with_lists({1, 2}, {1}).run_code({{OP_LSAME, 1, 0, 1, 0, 0}}).ints[1] == 0);
  CHECK(with_lists({1, 2}, {2, 1}).run_code({{OP_LSAME, 1, 0, 1, 0, 0}}).ints[1] == 0);
}

void lists_keep_their_room() {
  CHECK(with_lists({1, 2, 3, 4}, {5, 6, 7}).run_code({{OP_LAPPEND, 0, 1, 0, 0, 0}}, Stop::fail).fail == FAIL_ROOM);
  CHECK(with_lists({1, 2, 3, 4}, {5, 6, 7}).run_code({{OP_BAPPEND, 0, 1, 0, 0, 0}}, Stop::fail).fail == FAIL_ROOM);
  CHECK(with_lists({1, 2, 3}, {}).run_code({{OP_LCOPY, 2, 0, 0, 0, 0}}, Stop::fail).fail == FAIL_ROOM);
  CHECK(with_lists({1, 2, 3}, {}).run_code({{OP_LGROUPS, 2, 0, 0, 0, 0}}, Stop::fail).fail == FAIL_ROOM);
  CHECK(with_lists({1, 2, 3}, {}).run_code({{OP_LHIGH, 2, 0, 0, 1, 0}}, Stop::fail).fail == FAIL_ROOM);
  Bench b = with_lists({7, 8}, {});
  for (int32_t outside : {0, 3, -1}) {
    b.p.int_start[19] = outside;
    CHECK(b.run_code({{OP_LGET, 1, 19, 0, 0, 0}}, Stop::fail).fail == FAIL_INDEX);
    CHECK(b.run_code({{OP_LDROP, 0, 19, 0, 0, 0}}, Stop::fail).fail == FAIL_INDEX);
  }
  b.p.int_start[19] = 2;
  CHECK(b.run_code({{OP_LGET, 1, 19, 0, 0, 0}}).ints[1] == 8);
}

void counting_loops() {
  Bench b({1, 1, 4, 0, 1}, {0});
  const Frame f = b.run_code({{OP_ADD, 3, 3, 4, 0, 0}, {OP_FORLE, 1, 2, 0, 0, 0}});
  CHECK(f.ints[3] == 4 && f.ints[1] == 5);
  CHECK(f.budget == b.p.step_budget - 3);  // three jumps back
  CHECK(b.run_code({{OP_ADD, 3, 3, 4, 0, 0}, {OP_LOOPSUMLT, 3, 1, 2, 0, 0}}).ints[3] == 3);
  b.p.int_start[3] = 2147483646;
  CHECK(b.run_code({{OP_ADD, 3, 3, 4, 0, 0}, {OP_LOOPSUMLT, 3, 1, 2, 0, 0}}, Stop::fail).fail == FAIL_OVERFLOW);
}

}  // namespace

void test_operations() {
  reals();
  reals_that_are_none();
  wholes();
  arrays_keep_their_bounds();
  tables_keep_their_bounds();
  lists();
  lists_keep_their_room();
  counting_loops();
}
