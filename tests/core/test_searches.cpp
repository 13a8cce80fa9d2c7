// What walks over programs in other ways than the engines: unit by unit, two side by side, to every place.
#include "../../src/core/exact.h"
#include "../../src/core/position.h"
#include "../../src/core/product.h"
#include "../../src/core/sample.h"
#include "../../src/core/unit_rows.h"
#include "../../src/core/witness.h"
#include "test.h"

using namespace basanos;

namespace {

const auto go_on = [](uint64_t) { return true; };

// Draws 1..6 into cell 1; outcome 1 when it is at least cell 2, else 2. Cell 1 is a quantity. Place 0 is noted when
// it is, place 1 when a second draw (of another source) is a six as well, place 2 never.
Program die_of(int32_t least) {
  Program p;
  p.int_start = {0, 0, least, 1, 6, 2, 0};
  p.code = {{OP_DRAW, 1, 0, 3, 4, 0}, {OP_JLT, 1, 2, 7, 0, 0},  {OP_COVER, 0, 0, 0, 0, 0}, {OP_MOV, 0, 3, 0, 0, 0},
            {OP_DRAW, 6, 1, 3, 4, 0}, {OP_JNE, 6, 4, 8, 0, 0},  {OP_COVER, 1, 0, 0, 0, 0}, {OP_JLE, 2, 1, 9, 0, 0},
            {OP_JLE, 2, 1, 9, 0, 0},  {OP_JLE, 2, 1, 11, 0, 0}, {OP_MOV, 0, 5, 0, 0, 0},   {OP_END, 0, 0, 0, 0, 0}};
  p.sources = {"die", "other"};
  p.outcome_count = 2;
  p.quantities = {{1, false}};
  p.coverage_count = 3;
  validate(p);
  return p;
}

void places_are_reached_by_the_fewest_draws() {
  const Program p = die_of(5);
  const ReachResult r = find_reaches(p, 1000, go_on);
  CHECK(r.all_seen && r.places.size() == 3);
  CHECK(r.places[0].found && r.places[0].draws.size() == 1 && r.places[0].draws[0].value == 5);
  CHECK(r.places[1].found && r.places[1].draws.size() == 2 && r.places[1].draws[1].value == 6 &&
        r.places[1].draws[1].source == 1);
  CHECK(!r.places[2].found);
  const std::vector<uint64_t> first = first_reaching(p, 1, 200, go_on);
  CHECK(first[0] > 0 && first[1] >= first[0] && first[2] == 0);
  const auto stop = [](uint64_t) { return false; };
  CHECK(first_reaching(p, 1, 200, stop).empty());
  CHECK(find_reaches(p, 1000, stop).stopped && !r.stopped);
  const ReachResult few = find_reaches(p, 0, go_on);
  CHECK(!few.all_seen);
}

// A die into cell 1, a second into cell 6; the position is where the first shows `wanted`. Outcome 1 where the second
// shows more than the first. Only rounds from the position on are told.
Program two_dice(int32_t wanted) {
  Program p;
  p.int_start = {2, 0, wanted, 1, 6, 1, 0};
  p.code = {{OP_DRAW, 1, 0, 3, 4, 0}, {OP_JNE, 1, 2, 7, 0, 0}, {OP_TRACE, 0, 0, 0, 0, 0}, {OP_DRAW, 6, 1, 3, 4, 0},
            {OP_JLE, 6, 1, 6, 0, 0},  {OP_MOV, 0, 5, 0, 0, 0}, {OP_TALLY, 0, 0, 0, 0, 0}, {OP_END, 0, 0, 0, 0, 0}};
  p.sources = {"first", "second"};
  p.outcome_count = 2;
  p.quantities = {{6, false}};
  validate(p);
  return p;
}

void rounds_begin_at_a_position() {
  PositionJob job;
  job.last = 60000;
  for (const bool looks_ahead : {false, true}) {
    if (looks_ahead) job.required = {{Place::number, 1, {4}}};
    const PositionResult r = sample_from_position(two_dice(4), job, go_on);
    CHECK(r.complete && r.ways == 1 && std::abs(r.share - 1.0 / 6) < 1e-15);
    CHECK(r.played[0].tally.units == 60000 && r.played[0].tally.rounds == 60000);
    CHECK(std::abs(static_cast<double>(r.played[0].tally.outcomes[0]) - 20000) < 4 * std::sqrt(60000 * 2.0 / 9));
  }
  CHECK(sample_from_position(two_dice(7), job, go_on).share == 0);
  job.most_states = 0;
  CHECK(!sample_from_position(two_dice(4), job, go_on).complete);
  job.most_states = 1000;
  job.most_values = 3;
  CHECK(!sample_from_position(two_dice(4), job, go_on).complete);
}

// A walk from `start`, up or down by one alike, until it comes to 0 (outcome 1) or to `top` (outcome 2).
Program walk_from(int32_t start, int32_t top) {
  Program p;
  p.int_start = {0, 0, 0, start, 0, top, 2, 1};
  p.code = {{OP_MOV, 1, 3, 0, 0, 0},  {OP_DRAW, 2, 0, 4, 6, 0}, {OP_JZ, 2, 5, 0, 0, 0},  {OP_ADD, 1, 1, 7, 0, 0},
            {OP_JMP, 6, 0, 0, 0, 0},  {OP_SUB, 1, 1, 7, 0, 0},  {OP_JEQ, 1, 4, 9, 0, 0}, {OP_JEQ, 1, 5, 11, 0, 0},
            {OP_LOOP, 1, 0, 0, 0, 0}, {OP_MOV, 0, 7, 0, 0, 0},  {OP_END, 0, 0, 0, 0, 0}, {OP_MOV, 0, 6, 0, 0, 0},
            {OP_END, 0, 0, 0, 0, 0}};
  p.sources = {"coin"};
  p.outcome_count = 2;
  p.quantities = {{1, false}};
  validate(p);
  return p;
}

// The chance of ruin of an even walk is 1 - start / top (Feller 1968, "An introduction to probability theory", XIV.2).
void a_walk_that_goes_round_ends_as_the_formula_says() {
  ExactLimits limits;
  limits.frontier_before_cyclic = 1;
  for (const auto& [start, top] : {std::pair{3, 10}, {1, 2}, {40, 100}, {1, 200}}) {
    const ExactResult r = exact(walk_from(start, top), limits, go_on);
    CHECK(r.end == ExactEnd::done && r.residual <= 1e-14);
    CHECK(std::abs(r.outcomes[0] - (1 - static_cast<double>(start) / top)) < 1e-10);
    CHECK(std::abs(r.outcomes[0] + r.outcomes[1] - 1) < 1e-10);
    CHECK(r.states <= 4 + 2 * static_cast<uint64_t>(top));  // each once, but for the first draws
    CHECK(std::abs(r.quantities[0].at(top) - r.outcomes[1]) < 1e-12);
  }
  limits.states = 50;  // not all of them: bounds
  const ExactResult few = exact(walk_from(40, 100), limits, go_on);
  CHECK(few.end == ExactEnd::too_large && few.residual > 0 && few.outcomes[0] <= 0.6 &&
        few.outcomes[0] + few.residual >= 0.6);
  // The same from state to state as from layer to layer.
  const Program die = die_of(5);
  limits = {};
  const ExactResult layers = exact(die, limits, go_on);
  limits.frontier_before_cyclic = 1;
  const ExactResult round = exact(die, limits, go_on);
  CHECK(round.residual == 0 && std::abs(round.outcomes[0] - layers.outcomes[0]) < 1e-15 &&
        round.quantities[0].size() == layers.quantities[0].size());
}

void unit_rows_add_up_to_the_tally() {
  const Program p = die_of(5);
  const UnitRows rows = unit_rows(p, 3, 1, 500, go_on);
  CHECK(rows.columns == 5 && rows.values.size() == 2500);
  double first = 0, sum = 0;
  for (size_t u = 0; u < 500; ++u) {
    const double* row = rows.values.data() + 5 * u;
    CHECK(row[0] == 1 && row[1] + row[2] == 1 && (row[1] == 1) == (row[3] >= 5));
    first += row[1];
    sum += row[3];
  }
  const SampleResult s = sample(p, {3, 1, 500, 1}, go_on);
  double counted = 0;
  for (const auto& [value, count] : s.tally.quantities[0].counts()) counted += value * static_cast<double>(count);
  CHECK(static_cast<double>(s.tally.outcomes[0]) == first && counted == sum);
  const UnitRows later = unit_rows(p, 3, 401, 500, go_on);
  CHECK(std::equal(later.values.begin(), later.values.end(), rows.values.begin() + 2000));
}

void lockstep_proves_or_finds_where_two_part() {
  const Matching same{{1, 2}, {0, 1}, {{0, 0}}};
  const ProductResult equal_dice = explore_product(die_of(5), die_of(5), same, 1000, go_on);
  CHECK(equal_dice.parting == Parting::none && equal_dice.states > 0);
  const ProductResult apart = explore_product(die_of(5), die_of(4), same, 1000, go_on);
  CHECK(apart.parting != Parting::none && apart.draws.size() == 1 && apart.draws[0].value == 4);
  const Matching crossed{{2, 1}, {0, 1}, {}};
  CHECK(explore_product(die_of(5), die_of(5), crossed, 1000, go_on).parting == Parting::round);
  const Matching other{{1, 2}, {1, 0}, {}};
  CHECK(explore_product(die_of(5), die_of(5), other, 1000, go_on).parting == Parting::draw);
  CHECK(explore_product(die_of(5), die_of(5), same, 0, go_on).parting == Parting::too_many_states);
  bool refused = false;
  try {
    explore_product(die_of(5), die_of(5), {{1}, {0, 1}, {}}, 1000, go_on);
  } catch (const std::invalid_argument&) {
    refused = true;
  }
  CHECK(refused);
}

void a_hostile_program_is_refused_or_stopped() {
  Program loops = die_of(5);
  loops.code[1] = {OP_JLT, 1, 2, 0, 0, 0};  // back, uncounted
  CHECK(rejected(loops));
  loops.code[1] = {OP_JMP, 0, 0, 0, 0, 0};
  CHECK(rejected(loops));
  count_jumps_back(loops);
  CHECK(!rejected(loops) && sample(loops, {1, 1, 1, 1}, go_on).failure.fail == FAIL_ENDLESS);

  Program stray = die_of(5);
  stray.int_start[5] = 99;  // an outcome that there is not
  int thrown = 0;
  try { sample(stray, {1, 1, 50, 1}, go_on); } catch (const std::invalid_argument&) { ++thrown; }
  try { exact(stray, {}, go_on); } catch (const std::invalid_argument&) { ++thrown; }
  try { unit_rows(stray, 1, 1, 50, go_on); } catch (const std::invalid_argument&) { ++thrown; }
  CHECK(thrown == 3);

  Program lists = die_of(5);
  lists.lists = {{1, 3}};  // its size would be the face drawn
  CHECK(rejected(lists));
  lists = die_of(5);
  lists.int_start.insert(lists.int_start.end(), {9, 0, 0});
  lists.lists = {{7, 2}};  // nine items where there is room for two
  CHECK(rejected(lists));
  lists.int_start[7] = 2;
  CHECK(!rejected(lists));
  lists.lists.push_back({8, 1});
  CHECK(rejected(lists));

  Program coverage_count = die_of(5);
  coverage_count.coverage_count = 1;
  CHECK(rejected(coverage_count));
  for (const std::vector<double>& weights : {std::vector<double>{}, {0, 0}, {1, -1}, {1, std::nan("")}, {INFINITY}}) {
    bool refused = false;
    try { check_weights(weights); } catch (const std::invalid_argument&) { refused = true; }
    CHECK(refused);
  }
}

// Round after round without an end, and without a draw.
void a_match_that_never_ends_is_stopped() {
  Program p;
  p.int_start = {1};
  p.code = {{OP_TALLY, 0, 0, 0, 0, 0}, {OP_LOOP, 0, 0, 0, 0, 0}};
  p.outcome_count = 1;
  p.step_budget = 1000;
  validate(p);
  CHECK(sample(p, {1, 1, 1, 1}, go_on).failure.fail == FAIL_ENDLESS);
  const ExactResult r = exact(p, {}, go_on);
  CHECK(r.end == ExactEnd::failed && r.failure.fail == FAIL_ENDLESS);
}

// TALLY that cannot be reached: no round is told, though the optimiser takes it out.
void rounds_that_are_never_told_are_none() {
  Program p = die_of(5);
  p.code.back() = {OP_JMP, 13, 0, 0, 0, 0};
  p.code.push_back({OP_TALLY, 0, 0, 0, 0, 0});
  p.code.push_back({OP_END, 0, 0, 0, 0, 0});
  validate(p);
  const SampleResult s = sample(p, {1, 1, 100, 1}, go_on);
  CHECK(s.tally.units == 100 && s.tally.rounds == 0);
  CHECK(exact(p, {}, go_on).rounds == 0);
}

void limits_of_exact_say_what_they_are() {
  ExactLimits limits;
  limits.seconds = 0;
  CHECK(exact(die_of(5), limits, go_on).limit == ExactLimit::seconds);
  limits = {};
  limits.states = 1;
  const ExactResult r = exact(die_of(5), limits, go_on, {{1, 1}, {0, 2}});
  CHECK(r.end == ExactEnd::too_large && r.limit == ExactLimit::states && r.values.size() == 2);
}

}  // namespace

void test_searches() {
  places_are_reached_by_the_fewest_draws();
  rounds_begin_at_a_position();
  a_walk_that_goes_round_ends_as_the_formula_says();
  unit_rows_add_up_to_the_tally();
  lockstep_proves_or_finds_where_two_part();
  a_hostile_program_is_refused_or_stopped();
  a_match_that_never_ends_is_stopped();
  rounds_that_are_never_told_are_none();
  limits_of_exact_say_what_they_are();
}
