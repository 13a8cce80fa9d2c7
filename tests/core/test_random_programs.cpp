// Random programs over every kind of operation: optimised and as written they draw, decide, end, fail and count the
// same.
#include <cmath>
#include <map>
#include <random>
#include <set>

#include "../../src/core/additive.h"
#include "../../src/core/belief_graph.h"
#include "../../src/core/belief_search.h"
#include "../../src/core/best.h"
#include "../../src/core/branch.h"
#include "../../src/core/decision_graph.h"
#include "../../src/core/equilibrium.h"
#include "../../src/core/exact.h"
#include "../../src/core/generate_c.h"
#include "../../src/core/optimise.h"
#include "../../src/core/pack.h"
#include "../../src/core/sample.h"
#include "../../src/core/transitions.h"
#include "test.h"

using namespace basanos;

namespace {

const auto go_on = [](uint64_t) { return true; };

// Int registers: 0 the outcome, 1 to 8 variables, constants from 9, a pile of four cards at 16, then three lists of
// nine. Real registers: 0 to 4 variables, then constants.
// A second deck, of six kinds in two columns, has a bag and three registers of its own behind them.
constexpr int32_t kVariables = 8, kThree = 12, kOne = 10, kCards = 16, kLists = 20, kRoom = 9, kRealVariables = 5,
                  kSecond = kLists + 3 * (kRoom + 1), kLane = kSecond + 9 + kRoom + 1, kOnly = kLane + 1,
                  kSum = kOnly + 1, kSumAndMore = kSum + 1, kSecret = kSumAndMore + 1, kSix = 14;
constexpr int32_t kMostLanes = 3;

class AnyProgram {
 public:
  explicit AnyProgram(unsigned seed) : random_(seed) {}

  // A unit starts with what the unit before left: first of all a program writes everything that it reads.
  enum class With { all, decisions, cards, lanes, sums, secrets };

  Program make(With what = With::all) {
    set_up();
    for (int32_t v = 1; v <= kVariables; ++v) add({OP_MOV, v, constant(), 0, 0, 0});
    for (int32_t v = 0; v < kRealVariables; ++v) add({OP_DMOV, v, kRealVariables + below(3), 0, 0, 0});
    add({OP_ATAB, 3, 4, 0, 0, 0});
    add({OP_LCLEAR, 3, 0, 0, 0, 0});
    add({OP_ATAB, 1, 1, 0, 0, 0});
    for (int32_t list = 0; list < 3; ++list) {
      add({OP_LCLEAR, list, 0, 0, 0, 0});
      for (int n = below(4); n > 0; --n) add({OP_LPUT, list, value(), 0, 0, 0});
    }
    if (what == With::lanes) add({OP_MOV, kLane, 9, 0, 0, 0});
    if (what == With::sums) add({OP_MOV, kSum, 9, 0, 0, 0});
    for (int32_t k = 0; what == With::secrets && k < 2; ++k) secret_draw(kSecret + k);
    const int32_t body = here();
    segment(3 + below(9));
    for (int k = what == With::sums ? 2 + below(4) : 0; k > 0; --k) {
      grow();
      if (below(2) == 0) segment(1 + below(3));
    }
    if (what == With::lanes) lanes();
    for (int k = what == With::decisions ? 1 + below(3) : 0; k > 0; --k) open_decision();
    for (int k = what == With::cards ? 3 + below(8) : 0; k > 0; --k) second_deck();
    for (int k = what == With::secrets ? 2 + below(5) : 0; k > 0; --k) read_secret();
    if (below(2) == 0) remembered_segment();
    if (below(3) == 0) loop_back_to(body);
    if (below(4) == 0) end_round();
    segment(below(4));
    for (int32_t list = 0; list < 3; ++list) add({below(2) == 0 ? OP_LSIZE : OP_LSUM, variable(), list, 0, 0, 0});
    if (what == With::sums) {
      add({OP_ADD, kSumAndMore, kSum, variable(), 0, 0});
      for (int32_t reg : {kSum, kSumAndMore}) p_.quantities.push_back({reg, false});
    }
    end_with(OP_END);
    for (size_t i = 0; i < p_.code.size(); ++i) p_.code[i].at = static_cast<int32_t>(i);
    validate(p_);
    return p_;
  }

  // Draws, of which some are shown, decisions, and an outcome that depends on all of them.
  Program make_hidden(bool two_seats = false) {
    set_up();
    if (two_seats) p_.sites[1].seat = 2;
    for (int32_t v = 1; v <= kVariables; ++v) add({OP_MOV, v, constant(), 0, 0, 0});
    for (int32_t list = 0; list < 3; ++list) {
      add({OP_LCLEAR, list, 0, 0, 0, 0});
      add({OP_LPUT, list, constant(), 0, 0, 0});
    }
    for (int k = 1 + below(3); k > 0; --k) {
      for (int draws = 1 + below(2); draws > 0; --draws) add({OP_DRAW, variable(), 0, kOne, kThree, 0});
      if (below(2) == 0) maybe_skipped();
      if (below(3) > 0) {
        const int watcher = two_seats ? 1 + below(2) : 1;
        add({OP_SEE, watcher * kFirstEvent + below(2), variable(), 0, 0, 0});
      }
      add({OP_LT, variable(), variable(), variable(), 0, 0});
      open_decision();
      if (below(4) == 0) end_round();
    }
    for (int32_t v = 2; v <= kVariables; ++v) add({OP_ADD, 1, 1, v, 0, 0});
    add({OP_IMOD, 0, 1, kThree, 0, 0});
    add({OP_ADD, 0, 0, kOne, 0, 0});
    add({OP_END, 0, 0, 0, 0, 0});
    validate(p_);
    return p_;
  }

 private:
  int below(int n) { return static_cast<int>(random_() % static_cast<unsigned>(n)); }
  int32_t here() const { return static_cast<int32_t>(p_.code.size()); }
  void add(const Instr& in) { p_.code.push_back(in); }
  int32_t variable() { return 1 + below(kVariables); }
  int32_t constant() { return 1 + kVariables + below(7); }
  int32_t value() { return below(3) == 0 ? constant() : variable(); }

  void set_up() {
    p_.int_start = {0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 2, 3, 4, 6, -1, 0, 0, 0, 0};
    p_.int_start.resize(kSecret + 2);
    p_.real_start = {0, 0, 0, 0, 0, 0.5, 1, 2};
    p_.arrays = {{1, 1, 4, false}, {kCards, 1, 4, false}, {0, 0, 3, true}, {kSecond, 1, 6, false}};
    for (int32_t k = 0; k < 3; ++k) p_.lists.push_back({kLists + k * (kRoom + 1), kRoom});
    p_.lists.push_back({kSecond + 9, kRoom});
    p_.list_arrays = {{1, 1, 2}};
    p_.words.start = {0, 3, 6, 9};
    p_.words.letters = {1, 2, 2, 3, 1, 2, 2, 2, 1};
    p_.tables = {{0, 4, {3, 1, 4, 1, 5, 9, 2, 6, 5, 3, 5, 8, 9, 7, 9, 3}}, {1, 4, {2, 1, 0, 3}},
                 {1, 6, {7, 7, 3, 3, 3, 7}}, {1, 6, {1, 1, 1, 2, 2, 2}}, {1, 6, {1, 2, 1, 3, 1, 1}},
                 {0, 7, {9, 7, 7, 3, 3, 3, 7}}};
    p_.ranges = {{1, 6}, {-1, 3}};
    p_.weights = {{1, 0, 2}, {0.5, 0.25, 0.125, 0.125}};
    for (const std::vector<double>& w : p_.weights) p_.aliases.emplace_back(w);
    p_.sources = {"a", "b"};
    p_.outcome_count = 3;
    p_.sites = {{0, 1, -1, false}, {1, 1, -1, true}};
    p_.coverage_count = 3;
    p_.step_budget = 300;
    for (int k = 0; k < 3; ++k) p_.quantities.push_back({variable(), false});
    p_.quantities.push_back({below(kRealVariables), true});
  }

  void segment(int length) {
    const int32_t end = here() + length;
    for (int i = 0; i < length; ++i) add(operation(end));
  }

  void remembered_segment() {
    add({OP_MEMO, 0, 0, 0, 0, 0});
    segment(1 + below(4));
    add({OP_STORE, 0, 0, 0, 0, 0});
  }

  // Cards are dealt, kept and looked up; now and then one is told from another, and then all kinds count.
  void second_deck() {
    const int32_t card = kSecond + 6 + below(3), other = kSecond + 6 + below(3);
    switch (below(7)) {
      case 0: return add({OP_DEAL, card, 0, 3, 0, 0});
      case 1: return add({sorted_ ? OP_BPUT : OP_LPUT, 3, card, 0, 0, 0});
      case 2: return add({OP_MOV, card, other, 0, 0, 0});
      case 3:
        add({OP_JZ, card, here() + 2, 0, 0, 0});
        return add({OP_TAB, variable(), card, 2 + below(2), 0, 0});
      case 4:
        add({OP_LSIZE, kVariables, 3, 0, 0, 0});
        add({OP_JZ, kVariables, here() + 2, 0, 0, 0});
        return add({OP_LGET, card, kVariables, 3, 0, 0});
      case 5:
        if (!told_apart_) return add({OP_DEAL, card, 0, 3, 0, 0});
        break;
      default:
        if (!told_apart_) return add({OP_DEAL, other, 0, 3, 0, 0});
    }
    switch (below(7)) {
      case 0: return add({OP_EQ, variable(), card, other, 0, 0});
      case 5: return add({OP_TAB, variable(), card, 5, 0, 0});  // also of no card
      case 6:
        add({OP_JZ, kSecond + below(6), here() + 2, 0, 0, 0});
        return add({OP_MOV, variable(), constant(), 0, 0, 0});
      case 1: return add({OP_LHAS, variable(), card, 3, 0, 0});
      case 2: return add({OP_LSUM, variable(), 3, 0, 0, 0});
      case 3: return add({OP_LREMOVE, 3, card, 0, 0, 0});
      default: return add({OP_ATAKE, 3, card, 0, 0, 0});
    }
  }

  // Something is added to a sum; now and then it is read, and then it must stay in the states.
  void grow() {
    switch (below(9)) {
      case 0: return add({OP_DRAWADD, kSum, 0, kOne, kThree, 0});
      case 1: return add({OP_DRAWCNT, variable(), below(2), below(2), kSum, 0});
      case 2: return add({OP_SUB, kSum, kSum, constant(), 0, 0});
      case 3: return add({OP_ADDLT, kSum, variable(), variable(), constant(), 0});
      case 4:
        if (below(3) == 0) return add({OP_LT, variable(), kSum, kThree, 0, 0});
        [[fallthrough]];
      case 5:
        add({OP_DRAW, variable(), 1, kOne, kThree, 0});
        [[fallthrough]];
      default: return add({OP_ADD, kSum, kSum, value(), 0, 0});
    }
  }

  // Drawn once, maybe; it may be put back to what it was.
  void secret_draw(int32_t secret) {
    if (below(2) == 0) add({OP_MOV, secret, 9, 0, 0, 0});
    if (below(3) == 0) maybe_skipped();
    add({OP_DRAW, secret, 0, kOne, below(2) == 0 ? kThree : kSix, 0});
    if (below(8) == 0) add({OP_ADD, secret, secret, kOne, 0, 0});
  }

  // Compared, looked up, copied, added up or put into a list, with draws between.
  void read_secret() {
    const int32_t secret = kSecret + below(2);
    if (below(2) == 0) add({OP_DRAW, variable(), 1, kOne, kThree, 0});
    switch (below(10)) {
      case 0: return add({OP_JEQ, secret, value(), here() + 1 + below(2), 0, 0});
      case 1: add({OP_JLT, value(), secret, here() + 2, 0, 0}); return add({OP_DRAW, variable(), 0, kOne, kThree, 0});
      case 2: return add({OP_LE, variable(), secret, value(), 0, 0});
      case 3: return add({OP_TAB, variable(), secret, 5, 0, 0});
      case 4: return add({OP_ADDLT, variable(), variable(), value(), secret, 0});
      case 5: return add({OP_LPUT, below(3), secret, 0, 0, 0});
      case 6: return add({OP_TOREAL, below(kRealVariables), secret, 0, 0, 0});
      case 7: return add({OP_NE, variable(), kSecret, kSecret + below(2), 0, 0});
      case 8: return add({OP_IDIV, variable(), value(), secret, 0, 0});
      default: return add({OP_MOV, variable(), secret, 0, 0, 0});
    }
  }

  // Entered once in a unit, and not by all; each does something of its own.
  void lanes() {
    add({OP_JZ, variable(), here() + 3, 0, 0, 0});
    add({OP_JNZ, kLane, here() + 2, 0, 0, 0});
    add({OP_LANE, kLane, kOnly, kMostLanes, 0, 0});
    segment(below(3));
    add({OP_ADD, variable(), variable(), kLane, 0, 0});
  }

  // Some answers may not be offered, and where none is the decision is passed over.
  void open_decision() {
    if (below(2) == 0) add({OP_SEE, kFirstEvent + below(2), variable(), 0, 0, 0});
    const bool several = below(2) == 0;
    add({OP_OPEN, several, 0, 0, 0, 0});
    segment(below(4));
    add({OP_SEE, 0, variable(), 0, 0, 0});
    add({OP_SEEL, 1, below(3), 0, 0, 0});
    if (several) {
      for (int32_t list = 0; list < 3; ++list) {
        maybe_skipped();
        add({OP_OFFERSET, list, 0, 0, 0, 0});
      }
      add({OP_JZ, variable(), here() + 2, 0, 0, 0});
      add({OP_DECIDESET, below(3), 1, 0, 0, 0});
      return;
    }
    maybe_skipped();
    add({OP_OFFER, value(), 0, 0, 0, 0});
    maybe_skipped();
    add({OP_OFFERR, constant(), constant(), 0, 0, 0});
    add({OP_OFFERL, below(3), 0, 0, 0, 0});
    add({OP_JZ, variable(), here() + 2, 0, 0, 0});
    add({OP_DECIDE, variable(), 0, 0, 0, 0});
  }

  void maybe_skipped() { add({OP_JZ, variable(), here() + 2, 0, 0, 0}); }

  void loop_back_to(int32_t body) {
    const int32_t counter = variable();
    switch (below(5)) {
      case 0: return add({OP_FORLE, counter, constant(), body, 0, 0});
      case 1: return add({OP_LOOPSUMLT, counter, constant(), constant(), body, 0});
      case 2: return add({OP_LOOPLE, counter, constant(), body, 0, 0});
      case 3: return add({OP_LOOPLT, counter, constant(), body, 0, 0});
      default:
        add({OP_JLT, counter, constant(), here() + 2, 0, 0});
        add({OP_LOOP, body, 0, 0, 0, 0});
    }
  }

  void end_with(int op) {
    add({OP_IMOD, 0, variable(), kThree, 0, 0});
    add({OP_ADD, 0, 0, kOne, 0, 0});
    add({op, 0, 0, 0, 0, 0});
  }
  void end_round() { end_with(OP_TALLY); }

  static bool stands_alone(int op) {
    switch (op) {
      case OP_MEMO: case OP_STORE: case OP_TALLY: case OP_ASK: case OP_END:
      case OP_LOOP: case OP_LOOPLT: case OP_LOOPLE: case OP_FORLE: case OP_LOOPSUMLT: return true;
      case OP_OPEN: case OP_OFFER: case OP_OFFERR: case OP_OFFERL: case OP_OFFERSET:
      case OP_DECIDE: case OP_DECIDESET: case OP_LANE: case OP_SEE: case OP_SEER: case OP_SEEL:
      case OP_DEFER: case OP_SPLIT: return true;
      default: return false;
    }
  }

  // Any operation, with operands of the kinds that it takes. Jumps go forward, no further than `end`.
  Instr operation(int32_t end) {
    int op = below(OP_COUNT);
    while (stands_alone(op) || (op == OP_FAIL && below(4) != 0)) op = below(OP_COUNT);
    const bool real_array = op == OP_DLDX || op == OP_DSTX;
    int32_t operands[4] = {0, 0, 0, 0};
    const std::string roles = op_info(op).roles;
    for (int k = 0; k < 4; ++k) operands[k] = operand(op, roles[static_cast<size_t>(k)], end, real_array, k);
    // No list is made anew from itself.
    const size_t made = roles.find('N'), read = roles.find('L');
    if (made != std::string::npos && read != std::string::npos) operands[read] = (operands[made] + 1 + below(2)) % 3;
    return {op, operands[0], operands[1], operands[2], operands[3], 0};
  }

  int32_t operand(int op, char role, int32_t end, bool real_array, int k) {
    switch (role) {
      case 'i': case 'U': return variable();
      case 'I': return value();
      case 'd': return below(kRealVariables);
      case 'D': return below(kRealVariables + 3);
      case 'A': case 'W': return real_array ? 2 : below(2);
      case 'B': case 'X': return 1;
      case 'L': case 'M': case 'N': return below(3);
      case 'S': case 'R': case 'V': return below(2);
      case 'T': return op == OP_ATAB ? 1 : 0;
      case 'J': return std::min(end, here() + 1 + below(4));
      case 'K': return op == OP_FAIL && k == 0 ? FAIL_ILLEGAL : op == OP_FAIL ? 0 : below(3);
      default: return 0;
    }
  }

  std::mt19937 random_;
  const bool sorted_ = below(2) == 0, told_apart_ = below(3) == 0;
  Program p_;
};

void check_same_run(const SampleResult& plain, const SampleResult& other) {
  CHECK(plain.failure.fail == other.failure.fail && plain.failed_unit == other.failed_unit);
  CHECK(plain.failure.at == other.failure.at && plain.failure.info == other.failure.info);
  CHECK(plain.tally.outcomes == other.tally.outcomes && plain.tally.rounds == other.tally.rounds);
  for (size_t q = 0; q < plain.tally.quantities.size(); ++q)
    CHECK(plain.tally.quantities[q].counts() == other.tally.quantities[q].counts());
}

void sampled_the_same_as_written() {
  std::set<int> kinds;
  int ended = 0, shorter = 0;
  constexpr unsigned programs = 1500;
  for (unsigned seed = 1; seed <= programs; ++seed) {
    const Program p = AnyProgram(seed).make();
    for (const Instr& in : p.code) kinds.insert(in.op);
    const Prepared plain(p, Optimise::no), optimised(p, Optimise::yes);
    shorter += optimised.ready.code.size() < p.code.size();
    for (uint64_t unit = 1; unit <= 6; ++unit) {
      SampleJob job{seed, unit, unit + 1, 1};
      job.caching = Caching::never;
      const SampleResult written = sample(plain, job, go_on);
      ended += written.failure.fail == FAIL_NONE;
      check_same_run(written, sample(optimised, job, go_on));
    }
    if (seed % 10 != 0) continue;
    SampleJob job{seed, 1, 8, 1};
    job.caching = Caching::never;
    const SampleResult written = sample(plain, job, go_on);
    job.caching = Caching::always;
    check_same_run(written, sample(optimised, job, go_on));
  }
  CHECK(kinds.size() == OP_COUNT - 1 - 7 - 1 - 3 - 2);  // all but asks, open decisions, lanes, what is shown, sets
  CHECK(ended > static_cast<int>(programs));   // the test would be worth little if most of them failed
  CHECK(shorter > static_cast<int>(programs) * 9 / 10);
}

void check_same_outcomes(const Counts& one, const Counts& other) {
  CHECK(std::fabs(one.rounds - other.rounds) < 1e-12);
  for (size_t k = 0; k < one.outcomes.size(); ++k) CHECK(std::fabs(one.outcomes[k] - other.outcomes[k]) < 1e-12);
}

void counted_the_same_as_written() {
  ExactLimits limits;
  limits.states = 3000;
  int done = 0;
  for (unsigned seed = 1; seed <= 500; ++seed) {
    const Program p = AnyProgram(seed).make();
    const ExactResult plain = exact(Prepared(p, Optimise::no), limits, go_on), optimised = exact(p, limits, go_on);
    if (plain.end != ExactEnd::done) continue;
    ++done;
    CHECK(optimised.end == ExactEnd::done);
    check_same_outcomes(plain, optimised);
  }
  CHECK(done > 80);
}

// All lanes in one count: each is as the program of that lane alone, which is sampled as well.
void counted_in_lanes() {
  ExactLimits limits;
  limits.states = 1500;
  int done = 0, differ = 0, failed = 0;
  for (unsigned seed = 1; seed <= 1500; ++seed) {
    Program p = AnyProgram(seed).make(AnyProgram::With::lanes);
    const ExactResult all = exact(p, limits, go_on);
    if (all.end == ExactEnd::too_large) continue;
    bool fails = false, too_large = false;
    std::vector<Counts> each;
    for (int32_t lane = 1; lane <= kMostLanes; ++lane) {
      p.int_start[kOnly] = lane;
      const ExactResult one = exact(p, limits, go_on);
      each.push_back(one.lanes[static_cast<size_t>(lane) - 1]);
      fails = fails || one.end == ExactEnd::failed;
      too_large = too_large || one.end == ExactEnd::too_large;
      if (seed % 20 == 0) check_same_run(sample(p, {seed, 1, 8, 1}, go_on),
                                         sample(Prepared(p, Optimise::no), {seed, 1, 8, 1}, go_on));
    }
    if (too_large) continue;
    CHECK(fails == (all.end == ExactEnd::failed));
    failed += fails;
    if (fails) continue;
    ++done;
    differ += all.lanes[0].quantities != all.lanes[1].quantities;
    for (size_t lane = 0; lane < each.size(); ++lane) {
      check_same_outcomes(each[lane], all.lanes[lane]);
      for (size_t q = 0; q < each[lane].quantities.size(); ++q)
        for (const auto& [value, weight] : each[lane].quantities[q])
          CHECK(std::fabs(all.lanes[lane].quantities[q].at(value) - weight) < 1e-12);
    }
  }
  CHECK(done > 150 && differ > 20 && failed > 50);
  Program p = AnyProgram(1).make(AnyProgram::With::lanes);
  CHECK(sample(p, {1, 1, 50, 1}, go_on).failure.fail != FAIL_NONE);  // no lane is chosen
}

// Where a count has no longest round, values of tiny weights may be missing.
void check_same_counts(const ExactResult& each, const ExactResult& counted) {
  check_same_outcomes(each, counted);
  for (size_t q = 0; q < each.quantities.size(); ++q)
    for (const auto& [value, weight] : each.quantities[q]) {
      const auto found = counted.quantities[q].find(value);
      if (each.residual == 0) CHECK(found != counted.quantities[q].end());
      CHECK(weight < 1e-12 || (found != counted.quantities[q].end() && std::fabs(found->second - weight) < 1e-12));
    }
}

// With sums beside the states the count is the same: in layers, and where a program runs in circles.
void counted_the_same_without_sums() {
  ExactLimits all, limits;
  limits.states = all.states = 1500;
  all.leave_out_sums = false;
  int left_out = 0, fewer = 0, failed = 0, kept = 0;
  for (unsigned seed = 1; seed <= 3000; ++seed) {
    const Program p = AnyProgram(seed).make(AnyProgram::With::sums);
    limits.frontier_before_cyclic = seed % 2 == 0 ? 1 : 256;
    const ExactResult each = exact(p, all, go_on), counted = exact(p, limits, go_on);
    CHECK(each.sums_left_out == 0);
    if (each.end == ExactEnd::too_large || counted.end == ExactEnd::too_large) continue;
    CHECK(counted.end == each.end && counted.failure.fail == each.failure.fail);
    if (counted.sums_left_out == 0) {
      ++kept;
      continue;
    }
    ++left_out;
    fewer += counted.states < each.states;
    failed += each.end == ExactEnd::failed;
    if (each.end == ExactEnd::failed) continue;
    check_same_counts(each, counted);
  }
  CHECK(left_out > 300 && fewer > 100 && failed > 20 && kept > 50);
}

// A die of three until it shows the least; each throw adds itself, or 1, to what is recorded, or is taken from it.
Program throws_until_one(int op, int32_t start, bool itself) {
  Program p;
  p.int_start = {1, 0, 0, start, 1, 3};  // the outcome, the sum, the die
  p.code = {{OP_MOV, 1, 3, 0, 0, 0}, {OP_DRAW, 2, 0, 4, 5, 0}, {op, 1, 1, itself ? 2 : 4, 0, 0},
            {OP_JEQ, 2, 4, 5, 0, 0}, {OP_LOOP, 1, 0, 0, 0, 0}, {OP_END, 0, 0, 0, 0, 0}};
  p.sources = {"die"};
  p.outcome_count = 1;
  p.quantities = {{1, false}};
  validate(p);
  return p;
}

void sums_in_a_chain() {
  ExactLimits limits;
  limits.frontier_before_cyclic = 1;  // expands each state once
  const ExactResult throws = exact(throws_until_one(OP_ADD, 0, false), limits, go_on);
  CHECK(throws.end == ExactEnd::done && throws.sums_left_out == 1 && throws.states < 10);
  for (int n = 1; n <= 40; ++n)
    CHECK(std::fabs(throws.quantities[0].at(n) - std::pow(2.0 / 3, n - 1) / 3) < 1e-15);
  // of the sum by recurrence: it ends with a one, after twos and threes alike
  const ExactResult sums = exact(throws_until_one(OP_ADD, 10, true), limits, go_on);
  CHECK(sums.end == ExactEnd::done && sums.sums_left_out == 1);
  std::vector<double> before{1, 0};
  for (size_t n = 2; n < 60; ++n) before.push_back((before[n - 2] + (n > 2 ? before[n - 3] : 0)) / 3);
  for (size_t n = 0; n < 60; ++n)
    if (before[n] > 0) CHECK(std::fabs(sums.quantities[0].at(11 + static_cast<double>(n)) - before[n] / 3) < 1e-15);
  // one that gets smaller stays in the states, where the game is cyclic
  const ExactResult less = exact(throws_until_one(OP_SUB, 0, false), limits, go_on);
  CHECK(less.end == ExactEnd::done && less.sums_left_out == 0);
  CHECK(std::fabs(less.quantities[0].at(-2) - 2.0 / 9) < 1e-15);
  // too large for a register, with the sum in the states or beside them
  for (const bool beside : {false, true}) {
    limits.leave_out_sums = beside;
    const ExactResult large = exact(throws_until_one(OP_ADD, INT32_MAX - 1, false), limits, go_on);
    CHECK(large.end == ExactEnd::failed && large.failure.fail == FAIL_OVERFLOW);
  }
}

// With draws as sets of what they may still show the count is the same, whatever is found out of them and when.
void counted_the_same_with_draws_deferred() {
  ExactLimits at_once, deferred;
  at_once.states = deferred.states = 1500;
  at_once.defer = ExactLimits::Defer::never;
  deferred.defer = ExactLimits::Defer::always;
  int found = 0, fewer = 0, failed = 0, none = 0;
  for (unsigned seed = 1; seed <= 3000; ++seed) {
    const Program p = AnyProgram(seed).make(AnyProgram::With::secrets);
    deferred.frontier_before_cyclic = at_once.frontier_before_cyclic = seed % 2 == 0 ? 1 : 256;
    const ExactResult each = exact(p, at_once, go_on), counted = exact(p, deferred, go_on);
    CHECK(each.draws_deferred == 0);
    if (each.end == ExactEnd::too_large || counted.end == ExactEnd::too_large) continue;
    CHECK(counted.end == each.end);
    none += counted.draws_deferred == 0;
    if (counted.draws_deferred == 0) continue;
    ++found;
    fewer += counted.states < each.states;
    failed += each.end == ExactEnd::failed;
    if (each.end == ExactEnd::failed) continue;
    check_same_counts(each, counted);
  }
  CHECK(found > 300 && fewer > 100 && failed > 20 && none > 50);
}

// With alike kinds of cards as one the count is the same, in fewer states.
void counted_the_same_with_kinds_merged() {
  ExactLimits limits, all_kinds;
  limits.states = all_kinds.states = 1500;
  all_kinds.merge_kinds = false;
  int merged = 0, fewer = 0, failed = 0, apart = 0;
  for (unsigned seed = 1; seed <= 2500; ++seed) {
    const Program p = AnyProgram(seed).make(AnyProgram::With::cards);
    const ExactResult each = exact(p, all_kinds, go_on), counted = exact(p, limits, go_on);
    CHECK(each.kinds.from == 0);
    // That a game is cyclic is noticed on a large frontier: a smaller one may be gone through in layers, to the limit.
    if (each.end == ExactEnd::too_large || counted.end == ExactEnd::too_large) continue;
    if (counted.kinds.from == 0) {
      ++apart;
      continue;
    }
    ++merged;
    fewer += counted.states < each.states;
    failed += each.end == ExactEnd::failed;
    CHECK(counted.end == each.end && counted.failure.fail == each.failure.fail);
    if (each.end == ExactEnd::failed) continue;
    check_same_outcomes(each, counted);
    for (size_t q = 0; q < each.quantities.size(); ++q) {
      CHECK(counted.quantities[q].size() == each.quantities[q].size());
      for (const auto& [value, weight] : each.quantities[q]) {
        const auto found = counted.quantities[q].find(value);
        CHECK(found != counted.quantities[q].end() && std::fabs(found->second - weight) < 1e-12);
      }
    }
  }
  CHECK(merged > 100 && fewer > 100 && failed > 10 && apart > 50);
}

// Numbers of cards that cannot be added up, as a damaged program may have them, stay as they are.
void counts_that_overflow_are_not_merged() {
  Program p;
  p.int_start = {0, 0, 0, 0, 1};
  p.arrays = {{1, 1, 2, false}};
  p.tables = {{1, 2, {3, 3}}};
  p.sources = {"a"};
  p.outcome_count = 1;
  p.code = {{OP_ATAB, 0, 0, 0, 0, 0}, {OP_DEAL, 3, 0, 0, 0, 0}, {OP_MOV, 0, 4, 0, 0, 0}, {OP_END, 0, 0, 0, 0, 0}};
  validate(p);
  CHECK(exact(p, {}, go_on).kinds.to == 1);
  for (const std::vector<int32_t>& counts : {std::vector<int32_t>{INT32_MAX, 1}, {3, -1}}) {
    p.tables[0].values = counts;
    CHECK(exact(p, {}, go_on).kinds.from == 0);
  }
}

// The worth of a unit by going through every draw and every answer, state by state, without ever finding one again.
class EveryPlay {
 public:
  EveryPlay(const Program& p, const DecisionJob& job) : job_(job), model_(p) {}

  // Not a number where play comes to where it cannot go on, whatever is answered.
  double worth() {
    model_.start();
    return from_here();
  }
  bool too_many() const { return plays_ > kMostPlays; }

 private:
  double from_here() {
    double sum = 0;
    if (++plays_ > kMostPlays) return sum;
    Stop stop = model_.run();
    for (; stop == Stop::round; stop = model_.run()) {
      sum += worth_here(true);
      model_.go_on();
    }
    if (stop == Stop::end) return sum + worth_here(!has_rounds(model_.program));
    if (stop == Stop::fail || stop == Stop::decision) return NAN;  // no draw comes between its answers
    std::vector<uint8_t> key;
    model_.pack(key);
    const int32_t site = model_.site();
    std::vector<Branch> branches;
    if (!model_.branches(branches)) return NAN;
    if (site >= 0 && !branches.empty() && branches[0].value == Model::kPass) return sum + from_here();
    double best = NAN, mean = 0;
    for (const Branch& branch : branches) {
      model_.unpack(key.data());
      const double worth = model_.take(branch.value) ? from_here() : NAN;
      mean += static_cast<double>(branch.probability) * worth;
      const double side = site >= 0 ? job_.signs[static_cast<size_t>(site)] : 0;
      if (std::isnan(best) || side * worth > side * best) best = worth;
    }
    return sum + (site >= 0 ? best : mean);
  }

  double worth_here(bool of_round) const {
    if (!of_round) return 0;
    const Program& p = model_.program;
    double worth = job_.objective.by_outcome[static_cast<size_t>(model_.frame.ints[0] - 1)];
    for (const Objective::Term& term : job_.objective.of_round) {
      const int32_t value = model_.frame.ints[static_cast<size_t>(p.quantities[term.quantity].reg)];
      worth += std::isnan(term.equals) ? term.factor * value : term.equals == value ? term.factor : 0;
    }
    return worth;
  }

  static constexpr int kMostPlays = 1000;
  const DecisionJob& job_;
  ProgramModel model_;
  int plays_ = 0;
};

// Best play is worth what going through every play gives: of one seat and of two against each other.
void best_play_is_the_best_of_all() {
  int compared = 0, failed = 0, two_seats = 0, rounds = 0;
  for (unsigned seed = 1; seed <= 6000; ++seed) {
    Program p = AnyProgram(seed).make(AnyProgram::With::decisions);
    DecisionJob job;
    job.objective.by_outcome = {0, 1, -2};
    job.objective.of_round = {{0, 0.25}};
    if (seed % 3 == 0) job.objective.of_round[0].equals = 2;
    job.signs = {1, seed % 2 == 0 ? 1.0 : -1.0};
    job.states = 3000;
    EveryPlay every(p, job);
    const double worth = every.worth();
    if (every.too_many()) continue;
    DecisionGraph graph(p, job);
    if (graph.build(go_on) != GraphEnd::done) continue;  // rounds without end, which a budget ends in every play
    BestPlay best(graph);
    CHECK(best.solve([] { return true; }));
    if (std::isinf(best.at_start().lower)) continue;  // it goes round for ever, which a budget ends in every play
    CHECK(best.fails() == std::isnan(worth));
    failed += best.fails();
    if (best.fails()) continue;
    ++compared;
    two_seats += seed % 2;
    rounds += has_rounds(p);
    const Bounds found = best.at_start();
    CHECK(std::fabs(found.lower - worth) < 1e-9 && std::fabs(found.upper - worth) < 1e-9);
    if (seed % 2 == 1) continue;
    best.solve([] { return true; }, true);
    job.signs = {-1, -1};
    CHECK(std::fabs(best.at_start().middle() - EveryPlay(p, job).worth()) < 1e-9);
  }
  CHECK(compared > 600 && failed > 100 && two_seats > 300 && rounds > 150);
}

// The worth of a unit to a seat that sees only what is shown: by its whole history, without ever joining two histories.
class EveryHistory {
 public:
  EveryHistory(const Program& p, const DecisionJob& job) : job_(job), model_(p) {}

  double worth() {
    std::vector<Met> met;
    model_.start();
    model_.frame.shown.clear();
    const double reward = follow(1, {}, met);
    return reward + behind(std::move(met));
  }
  bool too_many() const { return steps_ > kMostSteps; }

 private:
  struct Met {
    std::vector<double> seen;
    std::vector<uint8_t> state;
    double weight;
  };

  // Up to the next decisions: gives what is brought on the way. Not a number where it fails.
  double follow(double weight, std::vector<double> seen, std::vector<Met>& met) {
    if (++steps_ > kMostSteps) return 0;
    double reward = 0;
    Stop stop = model_.run();
    for (; stop == Stop::round; stop = model_.run()) {
      reward += weight * worth_here();
      model_.go_on();
    }
    if (stop == Stop::end) return reward + weight * (has_rounds(model_.program) ? 0 : worth_here());
    if (stop == Stop::fail || stop == Stop::decision) return NAN;
    for (const Shown& shown : model_.frame.shown) {
      if (shown.which < kFirstEvent) continue;  // describes a situation
      seen.insert(seen.end(), {1.5, static_cast<double>(shown.which), static_cast<double>(shown.values.size())});
      seen.insert(seen.end(), shown.values.begin(), shown.values.end());
    }
    std::vector<uint8_t> state;
    model_.pack(state);
    if (stop == Stop::open) {
      const Stop offered = model_.offer();
      if (offered == Stop::fail) return NAN;
      if (offered != Stop::decision) return reward + follow(weight, seen, met);
      seen.push_back(static_cast<double>(model_.program.sites[static_cast<size_t>(model_.site())].decision));
      for (size_t k = 0; k < model_.frame.offers.count(); ++k) {
        const int32_t* const offer = model_.frame.offers[k];
        const bool several = model_.program.sites[static_cast<size_t>(model_.site())].several;
        for (int32_t c = 0; c < (several ? 1 + *offer : 1); ++c) seen.push_back(offer[c]);
      }
      met.push_back({seen, state, weight});
      return reward;
    }
    std::vector<Branch> branches;
    if (!model_.branches(branches)) return NAN;
    for (const Branch& branch : branches) {
      model_.unpack(state.data());
      model_.frame.shown.clear();
      reward += model_.take(branch.value)
                    ? follow(weight * static_cast<double>(branch.probability), seen, met) : NAN;
    }
    return reward;
  }

  // Decisions with the same history are one situation; others are told apart.
  double behind(std::vector<Met> met) {
    double worth = 0;
    std::map<std::vector<double>, std::vector<Met>> situations;
    for (Met& m : met) situations[m.seen].push_back(m);
    for (const auto& [seen, here] : situations) worth += best_of(here);
    return worth;
  }

  double best_of(const std::vector<Met>& here) {
    double best = NAN;
    model_.unpack(here[0].state.data());
    model_.offer();
    const size_t answers = model_.frame.offers.count();
    for (size_t k = 0; k < answers && !too_many(); ++k) {
      std::vector<Met> next;
      double worth = 0;
      for (const Met& m : here) {
        model_.unpack(m.state.data());
        model_.offer();
        model_.frame.shown.clear();
        worth += decide(model_.program, model_.frame, k) ? follow(m.weight, {}, next) : NAN;
      }
      if (!std::isnan(worth)) worth += behind(std::move(next));
      if (std::isnan(best) || worth > best) best = worth;
    }
    return best;
  }

  double worth_here() const { return job_.objective.by_outcome[static_cast<size_t>(model_.frame.ints[0] - 1)]; }

  static constexpr int kMostSteps = 1000;
  const DecisionJob& job_;
  ProgramModel model_;
  int steps_ = 0;
};

void best_play_of_what_is_shown_is_that_of_every_history() {
  int compared = 0, failed = 0, worse = 0, rounds = 0, searched = 0;
  for (unsigned seed = 1; seed <= 4000; ++seed) {
    AnyProgram random(seed);
    const Program p = seed % 4 == 0 ? random.make(AnyProgram::With::decisions) : random.make_hidden();
    DecisionJob job;
    job.objective.by_outcome = {0, 1, -2};
    job.signs = {1, 1};
    job.states = 3000;
    EveryHistory every(p, job);
    const double worth = every.worth();
    if (every.too_many()) continue;
    BeliefGraph graph(p, job);
    if (graph.build(go_on) != GraphEnd::done) continue;
    BestPlay best(graph);
    CHECK(best.solve([] { return true; }));
    if (std::isinf(best.at_start().lower)) continue;
    CHECK(best.fails() == std::isnan(worth));
    failed += best.fails();
    if (best.fails()) continue;
    ++compared;
    rounds += has_rounds(p);
    CHECK(std::fabs(best.at_start().lower - worth) < 1e-9 && std::fabs(best.at_start().upper - worth) < 1e-9);
    BeliefSearch search(p, job, Aim::mean);
    if (search.search(go_on) == GraphEnd::done && search.fits()) {
      ++searched;
      CHECK(std::fabs(search.value().lower - worth) < 1e-8 && std::fabs(search.value().upper - worth) < 1e-8);
    }
    DecisionGraph seen(p, job);
    seen.build(go_on);
    BestPlay all(seen);
    all.solve([] { return true; });
    CHECK(all.at_start().upper > worth - 1e-9);  // who sees everything does no worse
    worse += all.at_start().lower > worth + 1e-9;
  }
  CHECK(compared > 1000 && failed > 100 && worse > 100 && rounds > 200 && searched > 500);
}

// Two seats that see only what is shown to them, the second paid what the first loses: each plan of one, an answer for
// each history that it can see, against each plan of the other.
class EveryPlan {
 public:
  EveryPlan(const Program& p, const DecisionJob& job) : job_(job), model_(p) {
    model_.start();
    model_.frame.shown.clear();
    fails_ = std::isnan(from_here({}));
    collecting_ = false;
  }

  bool fails() const { return fails_; }
  bool too_many() const { return steps_ > kMostSteps || plans(0) * plans(1) > kMostPlans; }
  bool both_decide() const { return plans(0) > 1 && plans(1) > 1; }

  double worth() {
    std::vector<double> worths;
    for (double first = 0; first < plans(0); ++first)
      for (double second = 0; second < plans(1); ++second) {
        choose(0, first);
        choose(1, second);
        model_.frame = Frame(model_.program);  // a random program may read what it has not written
        model_.start();
        model_.frame.shown.clear();
        worths.push_back(from_here({}));
      }
    return solve_matrix(worths, static_cast<size_t>(plans(0))).value;
  }

 private:
  using History = std::vector<double>;
  struct Choice {
    size_t answers, chosen;
  };

  double plans(size_t seat) const {
    double all = 1;
    for (const auto& [history, choice] : choices_[seat]) all *= static_cast<double>(choice.answers);
    return all;
  }

  void choose(size_t seat, double plan) {
    auto left = static_cast<size_t>(plan);
    for (auto& [history, choice] : choices_[seat]) {
      choice.chosen = left % choice.answers;
      left /= choice.answers;
    }
  }

  double from_here(std::array<History, 2> seen) {
    if (collecting_ && ++steps_ > kMostSteps) return 0;
    double worth = 0;
    Stop stop = model_.run();
    for (; stop == Stop::round; stop = model_.run()) {
      worth += worth_here();
      model_.go_on();
    }
    if (stop == Stop::end) return worth + (has_rounds(model_.program) ? 0 : worth_here());
    if (stop == Stop::fail || stop == Stop::decision) return NAN;
    for (const Shown& shown : model_.frame.shown) {
      if (shown.which < kFirstEvent) continue;  // describes a situation
      History& of_seat = seen[static_cast<size_t>(shown.which / kFirstEvent - 1)];
      of_seat.insert(of_seat.end(), {1.5, static_cast<double>(shown.which)});
      of_seat.insert(of_seat.end(), shown.values.begin(), shown.values.end());
    }
    std::vector<uint8_t> state;
    model_.pack(state);
    if (stop == Stop::open) return worth + decided(seen, state);
    std::vector<Branch> branches;
    if (!model_.branches(branches)) return NAN;
    for (const Branch& branch : branches) {
      model_.unpack(state.data());
      model_.frame.shown.clear();
      worth += static_cast<double>(branch.probability) * (model_.take(branch.value) ? from_here(seen) : NAN);
    }
    return worth;
  }

  double decided(std::array<History, 2>& seen, const std::vector<uint8_t>& state) {
    const Stop offered = model_.offer();
    if (offered == Stop::fail) return NAN;
    if (offered != Stop::decision) return from_here(seen);
    const Site& site = model_.program.sites[static_cast<size_t>(model_.site())];
    const auto seat = static_cast<size_t>(site.seat - 1);
    const size_t answers = model_.frame.offers.count();
    if (answers == 0) return NAN;
    History& own = seen[seat];
    own.insert(own.end(), {2.5, static_cast<double>(site.decision)});
    for (size_t k = 0; k < answers; ++k) {
      const int32_t* const offer = model_.frame.offers[k];
      for (int32_t c = 0; c < (site.several ? 1 + *offer : 1); ++c) own.push_back(offer[c]);
    }
    const auto place = choices_[seat].emplace(own, Choice{answers, 0}).first;
    const size_t from = collecting_ ? 0 : place->second.chosen, to = collecting_ ? answers : from + 1;
    double worth = 0;
    for (size_t k = from; k < to; ++k) {
      model_.unpack(state.data());
      model_.offer();
      model_.frame.shown.clear();
      std::array<History, 2> next = seen;
      next[seat].insert(next[seat].end(), {3.5, static_cast<double>(k)});
      worth += decide(model_.program, model_.frame, k) ? from_here(next) : NAN;
    }
    return worth;
  }

  double worth_here() const { return job_.objective.by_outcome[static_cast<size_t>(model_.frame.ints[0] - 1)]; }

  static constexpr int kMostSteps = 1000;
  static constexpr double kMostPlans = 3000;
  const DecisionJob& job_;
  ProgramModel model_;
  std::array<std::map<History, Choice>, 2> choices_;
  int steps_ = 0;
  bool collecting_ = true, fails_ = false;
};

void best_play_of_two_that_hide_is_that_of_every_plan() {
  int compared = 0, both = 0, hides = 0;
  for (unsigned seed = 1; seed <= 500; ++seed) {
    const Program p = AnyProgram(seed).make_hidden(true);
    DecisionJob job;
    job.objective.by_outcome = {0, 1, -2};
    job.opposed.by_outcome = {0, -1, 2};
    job.is_opposed = true;
    job.seats = {1, 2};
    job.signs = {1, -1};
    job.states = 3000;
    EveryPlan every(p, job);
    if (every.fails() || every.too_many()) continue;
    const double worth = every.worth();
    GameTree tree(p, job);
    CHECK(tree.build(go_on) == GraphEnd::done);
    Equilibrium play(tree);
    CHECK(play.solve([] { return true; }, 1e-7, 100000) && !play.fails());
    CHECK(play.value().lower < worth + 1e-9 && play.value().upper > worth - 1e-9);
    CHECK(play.value().upper - play.value().lower < 1e-6);
    ++compared;
    both += every.both_decide();
    DecisionGraph seen(p, job);
    seen.build(go_on);
    BestPlay all(seen);
    all.solve([] { return true; });
    hides += std::fabs(all.at_start().lower - worth) > 1e-6;
  }
  CHECK(compared > 150 && both > 10 && hides > 10);
}

// A matrix that is solved: no row and no column does better against the mixes.
void matrix_games() {
  std::mt19937 random(3);
  for (int k = 0; k < 3000; ++k) {
    const size_t rows = 1 + random() % 6, columns = 1 + random() % 6;
    std::vector<double> worths(rows * columns);
    for (double& worth : worths) worth = k % 2 == 0 ? static_cast<double>(random() % 3) : random() / 4294967296.0 - 0.5;
    const MatrixGame game = solve_matrix(worths, rows);
    double least = INFINITY, greatest = -INFINITY, all_rows = 0, all_columns = 0;
    for (size_t c = 0; c < columns; ++c) {
      double worth = 0;
      for (size_t r = 0; r < rows; ++r) worth += game.rows[r] * worths[r * columns + c];
      least = std::min(least, worth);
      all_columns += game.columns[c];
    }
    for (size_t r = 0; r < rows; ++r) {
      double worth = 0;
      for (size_t c = 0; c < columns; ++c) worth += game.columns[c] * worths[r * columns + c];
      greatest = std::max(greatest, worth);
      all_rows += game.rows[r];
    }
    CHECK(std::fabs(all_rows - 1) < 1e-12 && std::fabs(all_columns - 1) < 1e-12);
    CHECK(std::fabs(least - game.value) < 1e-12 && std::fabs(greatest - game.value) < 1e-12);
  }
}

// What a unit told on its way: the answers offered, and what it came to.
struct Told {
  std::vector<std::vector<int32_t>> offers;
  Stop end = Stop::end;
  Failure failure;
  std::vector<int32_t> results;
};

// One unit with draws from the streams and decisions by chance; the state is packed and unpacked where it is kept. A
// program may loop for ever so: some stops are enough.
Told decided(const Program& p, const Stops& stops, uint64_t seed) {
  Told told;
  Frame frame(p);
  frame.restart(p);
  std::mt19937_64 choose(seed);
  const auto record = [&] {
    for (const Quantity& q : p.quantities)
      if (!q.real) told.results.push_back(frame.ints[static_cast<size_t>(q.reg)]);
  };
  for (size_t s = 0; s < p.sources.size(); ++s) frame.streams[s] = stream_start(source_key(seed, p.sources[s]), 1);
  for (int stops_left = 60; stops_left > 0; --stops_left) {
    const Stop stop = run<Branching>(p, frame);
    if (stop == Stop::open || stop == Stop::chance) {
      std::vector<uint8_t> key;
      stops.pack(frame, key);
      Frame kept(p);
      kept.streams = frame.streams;
      stops.unpack(key.data(), kept);
      frame = kept;
    }
    int32_t value = 0;
    bool goes = true;
    switch (stop) {
      case Stop::open: open_decision(frame); break;
      case Stop::decision: {
        const Instr& in = p.code[static_cast<size_t>(frame.pc)];
        std::vector<int32_t> all;
        for (size_t k = 0; k < frame.offers.count(); ++k) {
          const int32_t* const offer = frame.offers[k];
          all.insert(all.end(), offer, offer + (in.op == OP_DECIDE ? 1 : 1 + *offer));
        }
        for (const Shown& shown : frame.shown) all.insert(all.end(), shown.values.begin(), shown.values.end());
        told.offers.push_back(all);
        goes = decide(p, frame, frame.offers.count() == 0 ? 0 : choose() % frame.offers.count());
        break;
      }
      case Stop::chance: goes = draw_from_stream(p, frame, value) && take(p, frame, value); break;
      case Stop::round:
        record();
        ++frame.pc;
        break;
      default:
        told.end = stop;
        if (stop == Stop::fail) told.failure = failure_of(p, frame);
        else if (!has_rounds(p)) record();
        return told;
    }
    if (!goes) {
      told.end = Stop::fail;
      told.failure = failure_of(p, frame);
      return told;
    }
  }
  return told;
}

void decided_the_same_as_written() {
  int ended = 0;
  size_t offered = 0;
  for (unsigned seed = 1; seed <= 1000; ++seed) {
    const Program p = AnyProgram(seed).make(AnyProgram::With::decisions);
    const Prepared both(p);
    const Stops written(both.written), ready(both.ready);
    for (uint64_t unit = 1; unit <= 5; ++unit) {
      const Told plain = decided(both.written, written, unit), optimised = decided(both.ready, ready, unit);
      CHECK(plain.offers == optimised.offers && plain.end == optimised.end && plain.results == optimised.results);
      CHECK(plain.failure.fail == optimised.failure.fail && plain.failure.at == optimised.failure.at);
      ended += plain.end == Stop::end;
      for (const std::vector<int32_t>& answers : plain.offers) offered += answers.size() > 1;
    }
    const bool is_open = std::any_of(p.code.begin(), p.code.end(), [](const Instr& in) { return in.op == OP_OPEN; });
    int refused = 0;
    const auto refuses = [&refused](const auto& work) {
      try {
        work();
      } catch (const std::invalid_argument&) {
        ++refused;
      }
    };
    refuses([&] { sample(both, {seed, 1, 1, 1}, go_on); });
    refuses([&] { generated_c(both.written); });
    refuses([&] { TransitionCache(both.written, {16, 16, 16, 1024}); });
    CHECK(refused == (is_open ? 3 : 0));
  }
  CHECK(ended > 500 && offered > 2000);
}

}  // namespace

void test_random_programs() {
  decided_the_same_as_written();
  sampled_the_same_as_written();
  counted_the_same_as_written();
  counted_in_lanes();
  counted_the_same_without_sums();
  sums_in_a_chain();
  counted_the_same_with_draws_deferred();
  counted_the_same_with_kinds_merged();
  counts_that_overflow_are_not_merged();
}

void test_random_best_play() {
  best_play_is_the_best_of_all();
  best_play_of_what_is_shown_is_that_of_every_history();
  best_play_of_two_that_hide_is_that_of_every_plan();
  matrix_games();
}
