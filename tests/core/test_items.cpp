// Cards, choices from lists, families of lists, words, rounds within a unit.
#include <algorithm>
#include <map>
#include <random>
#include <string>

#include "../../src/core/branch.h"
#include "../../src/core/exact.h"
#include "../../src/core/liveness.h"
#include "../../src/core/memo.h"
#include "../../src/core/sample.h"
#include "../../src/core/unit_rows.h"
#include "test.h"

using namespace basanos;

namespace {

const auto go_on = [](uint64_t) { return true; };

// Cells: 0 outcome, 1..3 free, 4 the constant 1, then a deck of three kinds at 5..7.
Program with_deck(const std::vector<int32_t>& counts) {
  Program p;
  p.int_start = {0, 0, 0, 0, 1, 0, 0, 0};
  p.outcome_count = 1;
  p.sources = {"deck"};
  p.arrays = {{5, 1, 3, false}};
  p.tables = {{1, 3, counts}};
  p.quantities = {{1, false}, {2, false}};
  p.code = {{OP_MOV, 0, 4, 0, 0, 0},  {OP_ATAB, 0, 0, 0, 0, 0}, {OP_DEAL, 1, 0, 0, 0, 0},
            {OP_DEAL, 2, 0, 0, 0, 0}, {OP_ASUM, 3, 0, 0, 0, 0}, {OP_END, 0, 0, 0, 0, 0}};
  validate(p);
  return p;
}

void cards_come_without_replacement() {
  const Program p = with_deck({2, 1, 1});
  const ExactResult r = exact(p, {}, go_on);
  CHECK(r.end == ExactEnd::done);
  CHECK(std::fabs(r.quantities[0].at(1) - 0.5) < 1e-15 && std::fabs(r.quantities[1].at(1) - 0.5) < 1e-15);
  std::map<std::pair<int, int>, int> pairs;
  Frame f(p);
  for (uint64_t unit = 1; unit <= 12000; ++unit) {
    f.restart(p);
    f.streams[0] = stream_start(source_key(7, "deck"), unit);
    CHECK(run<Sampling>(p, f) == Stop::end);
    ++pairs[{f.ints[1], f.ints[2]}];
    if (unit == 1) CHECK(f.ints[3] == 2);
  }
  CHECK((pairs.count({2, 2}) == 0 && pairs.count({3, 3}) == 0));
  CHECK(std::fabs(pairs[{1, 1}] / 12000.0 - 1.0 / 6) < 0.02);
  CHECK(std::fabs(pairs[{2, 3}] / 12000.0 - 1.0 / 12) < 0.015);
  CHECK(exact(with_deck({1, 0, 0}), {}, go_on).failure.fail == FAIL_EMPTY);
}

// What a chance operation comes up with in its stream is what sampling comes up with.
void streams_are_the_same_stopped_or_not() {
  const Program p = with_deck({5, 3, 4});
  for (uint64_t unit = 1; unit <= 50; ++unit) {
    Frame whole(p), stepped(p);
    for (Frame* f : {&whole, &stepped}) {
      f->restart(p);
      f->streams[0] = stream_start(source_key(3, "deck"), unit);
    }
    run<Sampling>(p, whole);
    while (run<Branching>(p, stepped) == Stop::chance) {
      int32_t value = 0;
      CHECK(draw_from_stream(p, stepped, value) && can_come_up(p, stepped, value) && take(p, stepped, value));
    }
    CHECK(whole.ints == stepped.ints);
  }
}

void cards_that_lie_about_are_taken_out() {
  Program p = with_deck({2, 1, 1});
  p.lists = {{8, 4}};
  p.int_start.insert(p.int_start.end(), {2, 1, 3, 0, 0});
  p.code = {{OP_ATAB, 0, 0, 0, 0, 0},
            {OP_ATAKEALL, 0, 0, 0, 0, 0},
            {OP_ATAKE, 0, 4, 0, 0, 0},
            {OP_ATAKE, 0, 2, 0, 0, 0},
            {OP_END, 0, 0, 0, 0, 0}};
  Frame f(p);
  f.restart(p);
  CHECK(run<Sampling>(p, f) == Stop::end);
  CHECK(f.ints[5] == 0 && f.ints[6] == 1 && f.ints[7] == 0);
  p.code.insert(p.code.begin() + 3, {OP_ATAKE, 0, 4, 0, 0, 0});
  Frame again(p);
  again.restart(p);
  CHECK(run<Sampling>(p, again) == Stop::fail && again.fail == FAIL_ABSENT);
}

// Lists: 0 at 1.. holds items, 1 empty, both with room for 6; cells 20 and up are free.
struct Lists {
  Program p;
  explicit Lists(const std::vector<int32_t>& items) {
    p.int_start.assign(30, 0);
    p.int_start[1] = static_cast<int32_t>(items.size());
    for (size_t k = 0; k < items.size(); ++k) p.int_start[2 + k] = items[k];
    p.lists = {{1, 6}, {8, 6}};
    p.list_arrays = {{0, 5, 2}};
    p.outcome_count = 1;
  }
  Frame go(const std::vector<Instr>& code, Stop expected = Stop::end) {
    p.code = code;
    p.code.push_back({OP_END, 0, 0, 0, 0, 0});
    validate(p);
    Frame f(p);
    f.restart(p);
    CHECK(run<Sampling>(p, f) == expected);
    return f;
  }
};

int count_subsets(const std::vector<int32_t>& items) {
  int32_t from[30] = {static_cast<int32_t>(items.size())}, out[30];
  for (size_t k = 0; k < items.size(); ++k) from[k + 1] = items[k];
  int count = 0;
  for (int32_t mask = -1; (mask = next_subset(mask, from, out)) >= 0;) {
    ++count;
    CHECK(lies_within(out, from));
  }
  return count;
}

void subsets_come_once() {
  CHECK(count_subsets({}) == 1);
  CHECK(count_subsets({4}) == 2);
  CHECK(count_subsets({1, 2, 2, 5}) == 12);
  CHECK(count_subsets({3, 3, 3, 3, 3}) == 6);
  CHECK(count_subsets({1, 2, 3, 4, 5, 6}) == 64);
  Lists many({});
  many.p.int_start.assign(60, 0);
  many.p.int_start[1] = 21;  // more than can be gone through
  many.p.lists = {{1, 25}, {28, 25}};
  many.p.list_arrays = {};
  CHECK(many.go({{OP_SUBSET, 58, 1, 0, 0, 0}}, Stop::fail).fail == FAIL_ROOM);
  Lists few({1, 2, 3});
  few.p.int_start[20] = -7;  // no place among the subsets
  CHECK(few.go({{OP_SUBSET, 20, 1, 0, 0, 0}}, Stop::fail).fail == FAIL_INDEX);
}

// Few items and many, in order or not, of few kinds and many: what the operations give against what the library's do.
void lists_are_as_the_library_has_them() {
  std::mt19937 random(11);
  for (int trial = 0; trial < 20000; ++trial) {
    const int n = trial % 100 == 0 ? 150 : static_cast<int>(random() % 24), kinds = 1 + static_cast<int>(random() % 9);
    std::vector<int32_t> items, bag{0}, list{n}, groups(200), expected;
    bag.resize(200);
    std::map<int32_t, int32_t> counts;
    for (int k = 0; k < n; ++k) {
      items.push_back(static_cast<int32_t>(random() % static_cast<unsigned>(kinds)) - 3);
      ++counts[items.back()];
      bag_insert(bag.data(), items.back());
    }
    list.insert(list.end(), items.begin(), items.end());
    std::sort(items.begin(), items.end());
    CHECK(bag[0] == n && std::equal(items.begin(), items.end(), bag.begin() + 1));
    for (const auto& [item, count] : counts) expected.push_back(count);
    std::sort(expected.rbegin(), expected.rend());
    for (const std::vector<int32_t>& from : {bag, list}) {
      list_groups(from.data(), groups.data());
      CHECK(groups[0] == static_cast<int32_t>(expected.size()) &&
            std::equal(expected.begin(), expected.end(), groups.begin() + 1));
    }
    CHECK(same_list(list.data(), bag.data()) == std::equal(items.begin(), items.end(), list.begin() + 1));
    std::vector<int32_t> other = list;
    if (n > 0) ++other[1 + random() % static_cast<unsigned>(n)];
    CHECK(same_list(list.data(), other.data()) == (n == 0));
  }
}

// Decks of few kinds and of many: each card comes as often as there are cards of its kind.
void cards_of_few_kinds_and_of_many_come_alike() {
  uint64_t stream = 5;
  for (int32_t size : {1, 13, 16, 17, 52}) {
    std::vector<int32_t> counts, came(static_cast<size_t>(size));
    int32_t total = 0;
    for (int32_t k = 0; k < size; ++k) total += counts.emplace_back(k % 4 == 1 ? 0 : 1 + k % 3);
    const int draws = 4000 * total;
    for (int k = 0; k < draws; ++k) ++came[static_cast<size_t>(draw_card(counts.data(), size, total, &stream))];
    for (size_t k = 0; k < counts.size(); ++k)
      CHECK(std::fabs(came[k] - 4000.0 * counts[k]) <= 5 * std::sqrt(4000.0 * counts[k]));
  }
}

// What is kept is found again, and nothing else.
void keys_are_found_by_what_is_in_them() {
  std::mt19937 random(12);
  HashConsTable known;
  std::map<std::vector<uint8_t>, uint32_t> expected;
  for (int trial = 0; trial < 20000; ++trial) {
    std::vector<uint8_t> key(1 + random() % 20);
    for (uint8_t& byte : key) byte = static_cast<uint8_t>(random() % 3);
    const auto there = expected.find(key);
    const uint32_t found = known.find(key.data(), key.size());
    CHECK(found == (there == expected.end() ? HashConsTable::kNone : there->second));
    if (found == HashConsTable::kNone && random() % 2 == 0) expected[key] = known.add(key.data(), key.size());
  }
  CHECK(expected.size() > 2000);
}

void families_and_members() {
  Lists a({4, 6, 6});
  a.p.int_start[20] = 6;
  a.p.int_start[21] = 5;
  CHECK(a.go({{OP_LFROM, 1, 21, 0, 0, 0}}).ints[8] == 3);
  CHECK(a.go({{OP_LINTO, 20, 0, 0, 0, 0}}).ints[10] == 6);
  CHECK(a.go({{OP_LHAS, 22, 20, 0, 0, 0}}).ints[22] == 1);
  CHECK(a.go({{OP_LHAS, 22, 21, 0, 0, 0}}).ints[22] == 0);
  CHECK(a.go({{OP_LWITHIN, 22, 1, 0, 0, 0}}).ints[22] == 1);
  CHECK(a.go({{OP_LWITHIN, 22, 0, 1, 0, 0}}).ints[22] == 0);
  for (int32_t last : {0, 1}) {
    CHECK(a.go({{OP_LPART, 22, 0, 0, last, 0}}).ints[22] == 1);  // all of it
    CHECK(a.go({{OP_LPART, 22, 0, 1, last, 0}}).ints[22] == 0);  // longer than the list
  }
  CHECK(a.go({{OP_LCOMMON, 1, 0, 0, 0, 0}}).ints[8] == 1);
  a.p.int_start[20] = 7;
  CHECK(a.go({{OP_LFROM, 1, 20, 0, 0, 0}}, Stop::fail).fail == FAIL_INDEX);
}

void drawing_from_a_list_and_successes() {
  Lists a({4, 6, 6});
  a.p.sources = {"s"};
  a.p.code = {{OP_DRAWL, 20, 0, 0, 0, 0}, {OP_END, 0, 0, 0, 0, 0}};
  Frame f(a.p);
  f.restart(a.p);
  CHECK(run<Branching>(a.p, f) == Stop::chance);
  std::vector<Branch> out;
  CHECK(branches_of(a.p, f, out) && out.size() == 2 && std::fabs(out[1].probability - 2.0 / 3) < 1e-15);
  a.p.real_start = {0.25};
  a.p.int_start[21] = 4;
  a.p.code = {{OP_DRAWN, 20, 0, 21, 0, 0}, {OP_END, 0, 0, 0, 0, 0}};
  Frame g(a.p);
  g.restart(a.p);
  CHECK(run<Branching>(a.p, g) == Stop::chance && branches_of(a.p, g, out) && out.size() == 5);
  CHECK(std::fabs(out[1].probability - 4 * 0.25 * 0.421875) < 1e-14);
  a.p.real_start = {1.5};
  CHECK(a.go({{OP_DRAWN, 20, 0, 21, 0, 0}}, Stop::fail).fail == FAIL_PROBABILITY);
}

int32_t code_of(const std::string& digits) {  // first letter first
  int32_t code = 0;
  for (size_t k = digits.size(); k-- > 0;) code = code * 3 + (digits[k] - '0');
  return code;
}

void marks_and_masks() {
  Words w;
  const auto marks = [&w](int guess, int secret, bool naive) {
    const auto letters = [&w](int word) { return w.letters.data() + w.start[static_cast<size_t>(word - 1)]; };
    return marks_of(letters(guess), letters(secret),
                    w.start[static_cast<size_t>(guess)] - w.start[static_cast<size_t>(guess - 1)], naive);
  };
  for (const char* text : {"geese", "eaten", "aabb", "bbaa", "abcd"}) {
    for (char c : std::string(text)) w.letters.push_back(c);
    w.start.push_back(static_cast<int32_t>(w.letters.size()));
  }
  CHECK(marks(1, 2, false) == code_of("01100"));
  CHECK(marks(1, 2, true) == code_of("01101"));
  CHECK(marks(3, 4, false) == code_of("1111"));
  CHECK(marks(3, 5, false) == code_of("2010"));
  CHECK(marks_seen(code_of("2010"), 2) == 1 && marks_seen(code_of("2010"), 1) == 1);
  Lists a({'e', 'n'});
  a.p.words = w;
  a.p.int_start[20] = 2;
  a.p.int_start[21] = 'n';
  const Frame f = a.go({{OP_WHIDE, 1, 20, 0, 0, 0},
                        {OP_WHAS, 22, 21, 20, 0, 0},
                        {OP_WMARK, 23, 20, 20, 0, 0},
                        {OP_MARKS, 24, 23, 2, 0, 0}});
  CHECK(f.ints[8] == 5 && f.ints[9] == 'e' && f.ints[10] == 0 && f.ints[13] == 'n' && f.ints[22] == 1 &&
        f.ints[24] == 5);
  CHECK(a.go({{OP_WLETTERS, 1, 20, 0, 0, 0}}).ints[10] == 'a');
  a.p.int_start[20] = 6;
  CHECK(a.go({{OP_WLETTERS, 1, 20, 0, 0, 0}}, Stop::fail).fail == FAIL_INDEX);
  a.p.int_start[20] = 3;
  a.p.int_start[21] = 1;
  CHECK(a.go({{OP_WMARK, 23, 20, 21, 0, 0}}, Stop::fail).fail == FAIL_INDEX);
}

// Three rounds in a unit: the draw of each is its outcome, the sum of all a quantity of the unit.
void rounds_within_a_unit() {
  Program p;
  p.int_start = {0, 0, 0, 1, 2, 3, 0};  // outcome, sum, rounds, 1, 2, 3
  p.outcome_count = 2;
  p.sources = {"coin"};
  p.quantities = {{0, false}};
  p.unit_quantities = {{1, false}};
  p.code = {{OP_MOV, 1, 6, 0, 0, 0},   {OP_MOV, 2, 6, 0, 0, 0}, {OP_DRAW, 0, 0, 3, 4, 0},   {OP_ADD, 1, 1, 0, 0, 0},
            {OP_TALLY, 0, 0, 0, 0, 0}, {OP_ADD, 2, 2, 3, 0, 0}, {OP_LOOPLT, 2, 5, 2, 0, 0}, {OP_END, 0, 0, 0, 0, 0}};
  validate(p);
  const ExactResult r = exact(p, {}, go_on);
  CHECK(std::fabs(r.rounds - 3) < 1e-12 && std::fabs(r.outcomes[0] - 1.5) < 1e-12);
  CHECK(std::fabs(r.unit_quantities[0].at(4) - 3.0 / 8) < 1e-12);
  // A row has the sum over the rounds, and before the hash what the unit came to: here the same.
  const UnitRows rows = unit_rows(p, 5, 1, 40, go_on);
  CHECK(rows.columns == 6);
  for (size_t u = 0; u < 40; ++u) CHECK(rows.values[6 * u] == 3 && rows.values[6 * u + 3] == rows.values[6 * u + 4]);
  const SampleResult one = sample(p, {5, 1, 4000, 1}, go_on), two = sample(p, {5, 1, 4000, 2}, go_on);
  CHECK(one.tally.units == 4000 && one.tally.rounds == 12000 && one.tally.outcomes[0] + one.tally.outcomes[1] == 12000);
  CHECK(one.tally.products[0].ss == two.tally.products[0].ss && one.tally.products[2].sn == two.tally.products[2].sn);
  CHECK(one.tally.squared_rounds == 4000 * 9);
}

void broken_items_are_refused() {
  const auto refused = [](const Program& p) {
    try {
      validate(p);
      return false;
    } catch (const std::invalid_argument&) {
      return true;
    }
  };
  Program p = with_deck({1, 1, 1});
  p.tables[0].values.pop_back();
  CHECK(refused(p));
  p = with_deck({1, 1, 1});
  p.list_arrays = {{0, 1, 1}};
  CHECK(refused(p));
  p = with_deck({1, 1, 1});
  p.arrays[0].first = INT32_MAX - 1;  // three kinds: the last key is no whole number
  CHECK(refused(p));
  p = with_deck({1, 1, 1});
  p.words.letters.push_back(3);
  CHECK(refused(p));
  p = with_deck({1, 1, 1});
  p.unit_quantities = {{99, false}};
  CHECK(refused(p));
}

}  // namespace

void test_items() {
  cards_come_without_replacement();
  streams_are_the_same_stopped_or_not();
  cards_that_lie_about_are_taken_out();
  subsets_come_once();
  lists_are_as_the_library_has_them();
  cards_of_few_kinds_and_of_many_come_alike();
  keys_are_found_by_what_is_in_them();
  families_and_members();
  drawing_from_a_list_and_successes();
  marks_and_masks();
  rounds_within_a_unit();
  broken_items_are_refused();
}
