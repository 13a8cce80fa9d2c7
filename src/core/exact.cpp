#include "exact.h"

#include <algorithm>
#include <chrono>
#include <limits>
#include <map>
#include <unordered_set>

#include "additive.h"
#include "deferred_draws.h"
#include "ended.h"
#include "markov.h"
#include "state_graph.h"

namespace basanos {
namespace {

std::vector<int32_t> registers_of(const std::vector<AdditiveRecord>& records) {
  std::vector<int32_t> regs;
  for (const AdditiveRecord& record : records) regs.push_back(record.reg);
  return regs;
}

class ExactSolver : public Visitor {
 public:
  // `written` is the program before optimised(), `program` after. The sums of `records` are left out of the states.
  ExactSolver(const Program& written, const Program& program, const ExactLimits& limits, const ExactPoll& poll,
              std::vector<AdditiveRecord> records)
      : program_(program),
        limits_(limits),
        poll_(poll),
        rounds_(has_rounds(program_)),
        recorded_(recorded_registers(program_)),
        records_(std::move(records)),
        symmetry_(written, program_),
        model_(program_, &symmetry_, registers_of(records_)),
        graph_(model_, *this, limits.states, Keep::layers),
        here_(symmetry_.count()),
        next_(symmetry_.count()),
        here_totals_(records_.size()),
        next_totals_(records_.size()),
        at_start_(records_.size(), Distribution::of(0)),
        none_(records_.size()),
        totals_(at_start_.data()),
        labels_{{std::vector<int32_t>(records_.size()), 0}},
        chain_(symmetry_.count()),
        weights_(symmetry_.count()),
        ended_(program_, model_.frame, records_) {}

  // A sum may turn out to be more than can be left out: then the result is none.
  bool sums_fit() const { return sums_fit_; }

  ExactResult solve(const std::vector<RegisterGroup>& groups) {
    weights_[0] = 1;
    graph_.start();
    dropped_ += graph_.untaken();
    Weight left = 0;
    while (result_.end == ExactEnd::done && graph_.found() > 0) {
      graph_.next_layer();
      std::swap(here_, next_);
      next_.clear();
      std::swap(here_totals_, next_totals_);
      next_totals_.clear();
      left = here_.sum();
      ++result_.draws;
      if (!tried_cyclic_ && looks_cyclic() && solve_as_chain(left, limits_.states)) break;
      const bool negligible =
          left < limits_.negligible && (result_.draws > limits_.draws || result_.states > limits_.many_states);
      if (negligible && solve_as_chain(left, result_.states + limits_.many_states)) break;
      if (negligible) {
        left = at_least_something(left);
        break;
      }
      left = expand_layer();
    }
    if (result_.end != ExactEnd::done) left += next_.sum();
    if (result_.end == ExactEnd::too_large) count_values(groups);
    result_.residual = static_cast<double>(left + dropped_);
    tell_ended();
    return std::move(result_);
  }

 private:
  // Returns the weight of the states it did not get to.
  Weight expand_layer() {
    for (expanded_ = 0; expanded_ < graph_.count() && may_go_on(); ++expanded_) {
      std::copy_n(here_.of(expanded_), symmetry_.count(), weights_.begin());
      if (!records_.empty()) totals_ = here_totals_.of(expanded_);
      graph_.expand(static_cast<StateId>(expanded_));
      dropped_ += weight() * graph_.untaken();
    }
    Weight left = 0;
    for (size_t k = expanded_; k < graph_.count(); ++k) left += here_.sum(k);
    return left;
  }

  // Looks at the limits, before a state is expanded.
  bool may_go_on() {
    if (result_.end != ExactEnd::done) return false;
    const ExactLimit reached = limit_reached();
    if (reached != ExactLimit::none) too_large(reached);
    else ++result_.states;
    return result_.end == ExactEnd::done;
  }

  // Are most states of the frontier there again? Of rotated seats one state is where another was.
  bool looks_cyclic() {
    if (symmetry_.count() > 1) return graph_.count() >= limits_.frontier_before_cyclic;
    size_t again = 0;
    for (StateId k = 0; k < graph_.count() && seen_.size() < limits_.seen; ++k)
      again += !seen_.insert(graph_.hash(k)).second;
    return graph_.count() >= limits_.frontier_before_cyclic && again * 2 >= graph_.count();
  }

  // Expands every state that can be reached from here once, and solves the Markov chain. False where there are more
  // than `most` states, as where something counts up in them without a bound: then nothing has changed.
  bool solve_as_chain(Weight& left, uint64_t most) {
    const bool first_try = !tried_cyclic_;
    tried_cyclic_ = in_chain_ = true;
    most_in_chain_ = most;
    if (first_try) seen_.clear();
    graph_.keep_all();
    const uint64_t states = result_.states, steps = model_.steps();
    for (expanded_ = 0; expanded_ < graph_.count() && may_go_on(); ++expanded_) {
      graph_.expand(static_cast<StateId>(expanded_));
      if (result_.end == ExactEnd::done) chain_.close_state();
    }
    if (result_.end == ExactEnd::too_large && result_.limit != ExactLimit::seconds) {
      graph_.undo_keep_all();
      result_.states = states;
      result_.end = ExactEnd::done;
      result_.limit = ExactLimit::none;
      steps_given_back_ += model_.steps() - steps;
      chain_.clear();
      ends_.clear();
      labels_ = {{std::vector<int32_t>(records_.size()), 0}};
      in_chain_ = false;
      return false;
    }
    if (result_.end != ExactEnd::done) return true;
    std::vector<Weight> at = here_.all(graph_.count()), ended(ends_.count() * symmetry_.count());
    left = chain_.solve(at, ended, limits_.negligible, [this] { return goes_on(); });
    if (chain_.has_cycle()) left = at_least_something(left);
    totals_ = none_.data();
    for (uint32_t k = 0; k < ends_.count(); ++k) {
      std::copy_n(&ended[k * symmetry_.count()], symmetry_.count(), weights_.begin());
      record_end(ends_.key(k));
    }
    for (size_t r = 0; r < records_.size() && result_.end == ExactEnd::done; ++r) sum_in_chain(r);
    return true;
  }

  // What a record comes to, in the chain.
  void sum_in_chain(size_t r) {
    MarkovChain::BySum at;
    for (size_t k = 0; k < here_totals_.states(); ++k)
      here_totals_.of(k)[r].each([&](int64_t sum, Weight weight) {
        std::vector<Weight>& weights = at[static_cast<int32_t>(sum)];
        if (weights.size() <= k) weights.resize(k + 1);
        weights[k] += weight;
      });
    std::vector<int32_t> growth(labels_.size());
    for (const auto& [grows, label] : labels_) growth[label] = grows[r];
    const auto show = [&](int32_t sum, const std::vector<Weight>& ended) {
      for (uint32_t k = 0; k < ends_.count(); ++k) {
        if (ended[k] == 0) continue;
        unpack(recorded_, ends_.key(k) + 1, model_.frame);
        const bool whole = static_cast<Stop>(*ends_.key(k)) != Stop::round;
        if (!whole || !rounds_) expect_to_fit(ended_.add_sum_of_round(r, sum, ended[k]));
        if (whole) expect_to_fit(ended_.add_sum_of_unit(r, sum, ended[k]));
      }
    };
    const uint64_t most = kSumsOfState * most_in_chain_, steps_left = limits_.steps - std::min(limits_.steps, steps());
    const auto goes_on_with = [&](uint64_t visited) {
      if (visited > std::min(most, steps_left)) too_large(visited > most ? ExactLimit::states : ExactLimit::steps);
      return goes_on();
    };
    expect_to_fit(
        chain_.solve_by_sum(std::move(at), ends_.count(), growth, limits_.negligible, goes_on_with, show));
  }

  void expect_to_fit(bool fits) {
    if (fits) return;
    sums_fit_ = false;
    result_.end = ExactEnd::stopped;
  }

  bool goes_on() {
    if (result_.end != ExactEnd::done) return false;
    if (!poll_(result_.states)) result_.end = ExactEnd::stopped;
    else if (out_of_time()) too_large(ExactLimit::seconds);
    return result_.end == ExactEnd::done;
  }

  uint64_t steps() const { return model_.steps() - steps_given_back_; }

  // The residual of a game without a longest round may underflow, but it is not zero.
  static Weight at_least_something(Weight left) { return std::max<Weight>(left, std::numeric_limits<double>::min()); }

  // The graph keeps an end as the values that are recorded there.
  void keep_end(Stop how, Weight probability) {
    key_.resize(1 + most_bytes(recorded_));
    key_[0] = static_cast<uint8_t>(how);
    key_.resize(static_cast<size_t>(pack(recorded_, model_.frame, key_.data() + 1) - key_.data()));
    chain_.add_edge_to_end(ends_.find_or_add(key_), static_cast<double>(probability));
  }

  void record_end(const uint8_t* end) {
    unpack(recorded_, end + 1, model_.frame);
    if (static_cast<Stop>(*end) == Stop::round) round_ended(1);
    else unit_ended(1);
  }

  ExactLimit limit_reached() const {
    const uint64_t frontier = graph_.found(), open = graph_.count() - expanded_ + (in_chain_ ? 0 : frontier);
    const uint64_t most = in_chain_ ? most_in_chain_ : limits_.states;
    if (limits_.frontier > 0 ? frontier >= limits_.frontier || result_.states >= most : result_.states + open > most)
      return ExactLimit::states;
    if (bytes() > limits_.bytes) return ExactLimit::bytes;
    if (steps() > limits_.steps) return ExactLimit::steps;
    if (result_.states % 64 == 0 && out_of_time()) return ExactLimit::seconds;
    return ExactLimit::none;
  }

  uint64_t bytes() const {
    return graph_.bytes() + here_.bytes() + next_.bytes() + here_totals_.bytes() + next_totals_.bytes() +
           ends_.bytes() + chain_.bytes();
  }

  bool out_of_time() const { return std::chrono::duration<double>(Clock::now() - start_).count() > limits_.seconds; }

  void too_large(ExactLimit limit) {
    result_.end = ExactEnd::too_large;
    result_.limit = limit;
  }

  bool ended(Stop how, const Step& step) override {
    if (in_chain_) keep_end(how, step.probability);
    else if (how == Stop::round) round_ended(step.probability);
    else unit_ended(step.probability);
    return true;
  }

  bool arrive(StateId state, size_t rotation, const Step& step) override {
    if (in_chain_) {
      chain_.add_edge(state, static_cast<double>(step.probability), rotation, label());
      return true;
    }
    add_rotated(next_.of(state), weights_.data(), symmetry_.count(), step.probability, rotation);
    for (size_t r = 0; r < records_.size(); ++r)
      expect_to_fit(next_totals_.add(state, r, totals_[r], growth(r), step.probability));
    return sums_fit_;
  }

  // By how much a record has grown since the state that is expanded.
  int32_t growth(size_t r) const { return model_.frame.ints[static_cast<size_t>(records_[r].reg)]; }

  uint32_t label() {
    if (records_.empty()) return 0;
    std::vector<int32_t> grows;
    for (size_t r = 0; r < records_.size(); ++r) grows.push_back(growth(r));
    return labels_.emplace(grows, static_cast<uint32_t>(labels_.size())).first->second;
  }

  bool failed(const Step& step) override {
    if (!records_.empty() && model_.frame.fail == FAIL_OVERFLOW) {  // what is left out may be why
      expect_to_fit(false);
      return false;
    }
    result_.end = ExactEnd::failed;
    result_.failure = failure_of(program_, model_.frame);
    result_.failure_weight =
        in_chain_ ? 0 : static_cast<double>(weight() * step.probability);  // in the chain weights come later
    return false;
  }

  bool too_many_branches(StateId) override {
    too_large(ExactLimit::states);
    return false;
  }

  bool branch_taken() override {
    if (++branches_taken_ % 256 == 0 && !poll_(result_.states)) result_.end = ExactEnd::stopped;
    return result_.end == ExactEnd::done;
  }

  Weight weight() const { return std::accumulate(weights_.begin(), weights_.end(), Weight{0}); }

  void unit_ended(Weight probability) {
    if (!rounds_) round_ended(probability);
    expect_to_fit(ended_.add_unit(weight() * probability, totals_, probability));
  }

  void round_ended(Weight probability) {
    const int32_t outcome = model_.frame.ints[static_cast<size_t>(program_.outcome_register)];
    if (outcome < 1 || outcome > program_.outcome_count) throw std::invalid_argument("broken program: outcome");
    expect_to_fit(ended_.add_round(weight() * probability, totals_, probability));
    const size_t seats = symmetry_.count();
    for (size_t s = 0; s < seats; ++s)
      ended_.add_outcome(symmetry_.rotated(outcome, (seats - s) % seats), weights_[s] * probability);
  }

  // The number of values of each group, over the first states of the frontier.
  void count_values(const std::vector<RegisterGroup>& groups) {
    constexpr size_t most = 20000;
    Frame& frame = model_.frame;
    for (const RegisterGroup& group : groups) {
      std::unordered_set<uint64_t> seen;
      for (StateId k = 0; k < graph_.found() && k < most; ++k) {
        std::fill(frame.ints.begin(), frame.ints.end(), 0);
        graph_.stand_at_found(k);
        uint64_t h = 0;
        for (int32_t reg = group.base; reg < group.base + group.size; ++reg)
          h = mix64(h + BASANOS_GAMMA + static_cast<uint32_t>(frame.ints[static_cast<size_t>(reg)]));
        seen.insert(h);
      }
      result_.values.push_back(seen.size());
    }
  }

  void tell_ended() {
    static_cast<Counts&>(result_) = ended_.before_lanes();
    result_.lanes = ended_.in_lanes();
  }

  const Program& program_;
  const ExactLimits limits_;
  const ExactPoll& poll_;
  const bool rounds_;
  const LiveRegisters recorded_;
  const std::vector<AdditiveRecord> records_;
  const SeatSymmetry symmetry_;
  ProgramModel model_;
  StateGraph graph_;
  Weights here_, next_;  // of the layer that is expanded, and of what it leads to
  Totals here_totals_, next_totals_;  // what the records have come to there, in their own weights
  const std::vector<Distribution> at_start_, none_;
  const Distribution* totals_;  // of the state that is expanded
  bool sums_fit_ = true;
  static constexpr uint64_t kSumsOfState = 200;  // on average, at most, in a chain
  std::map<std::vector<int32_t>, uint32_t> labels_;  // of edges in the chain, by the growth of each record
  size_t expanded_ = 0;  // states of the layer, or of the chain
  std::unordered_set<uint64_t> seen_;  // the hashes of states, until it is tried whether the game is cyclic
  bool tried_cyclic_ = false, in_chain_ = false;
  uint64_t most_in_chain_ = 0;
  MarkovChain chain_;
  HashConsTable ends_;
  std::vector<Weight> weights_;  // of the state that is expanded, by rotation
  std::vector<uint8_t> key_;
  using Clock = std::chrono::steady_clock;
  const Clock::time_point start_ = Clock::now();
  uint64_t steps_given_back_ = 0, branches_taken_ = 0;
  Weight dropped_ = 0;  // weight of branches that were not followed: more than the limit allows, or stopped before
  Ended ended_;
  ExactResult result_;
};

ExactResult count(const Prepared& program, const Program& counted, const ExactLimits& limits, const ExactPoll& poll,
                  const std::vector<RegisterGroup>& groups) {
  std::vector<AdditiveRecord> records;
  if (limits.leave_out_sums) records = additive_records(counted);
  ExactSolver solver(program.written, counted, limits, poll, records);
  ExactResult result = solver.solve(groups);
  if (!solver.sums_fit()) {
    records.clear();
    result = ExactSolver(program.written, counted, limits, poll, records).solve(groups);
  }
  result.sums_left_out = records.size();
  return result;
}

constexpr uint64_t kStatesOfTrial = 5000, kMoreStates = 16;

// Both came to their limit. The draws that are deferred are not gone through by themselves.
bool came_further(const ExactResult& deferred, size_t draws_deferred, const ExactResult& at_once) {
  const uint64_t draws = deferred.draws + draws_deferred;
  return draws != at_once.draws ? draws > at_once.draws : deferred.residual < at_once.residual;
}

// With draws at once, or deferred, whichever is shorter. Both ways are tried with a few states; the one that comes
// further is tried first with more.
ExactResult count_the_shorter_way(const Prepared& program, const Program& counted, const ExactLimits& limits,
                                  const ExactPoll& poll, const std::vector<RegisterGroup>& groups) {
  Program with_sets = counted;
  const size_t draws = limits.defer == ExactLimits::Defer::never ? 0 : defer_draws(with_sets);
  if (draws == 0) return count(program, counted, limits, poll, groups);
  const auto start = std::chrono::steady_clock::now();
  const auto try_with = [&](bool deferred, uint64_t states) {
    ExactLimits within = limits;
    within.states = states;
    within.seconds -= std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    ExactResult result = count(program, deferred ? with_sets : counted, within, poll, groups);
    if (deferred) result.draws_deferred = draws;
    return result;
  };
  if (limits.defer == ExactLimits::Defer::always) return try_with(true, limits.states);
  const auto is_last = [](const ExactResult& result) {
    return result.end != ExactEnd::too_large || result.limit == ExactLimit::seconds;
  };
  ExactResult at_once, deferred;
  bool first = false;  // are deferred draws tried first?
  for (uint64_t states = std::min(limits.states, kStatesOfTrial);;) {
    for (const bool how : {first, !first}) {
      ExactResult& result = how ? deferred : at_once;
      result = try_with(how, states);
      if (is_last(result)) return std::move(result);
    }
    first = came_further(deferred, draws, at_once);
    if (states == limits.states) return first ? deferred : at_once;
    states = states < limits.states / (4 * kMoreStates) ? kMoreStates * states : limits.states;
  }
}

}  // namespace

ExactResult exact(const Prepared& program, const ExactLimits& limits, const ExactPoll& poll,
                  const std::vector<RegisterGroup>& groups) {
  require_closed(program.written, "counted");
  const size_t registers = program.written.int_start.size();
  for (const RegisterGroup& g : groups)
    if (g.base < 0 || g.size < 0 || static_cast<size_t>(g.base) + static_cast<size_t>(g.size) > registers)
      throw std::invalid_argument("broken program: register group");
  Program counted = program.ready;
  const KindsMerged kinds = limits.merge_kinds ? merge_alike_kinds(counted) : KindsMerged{};
  ExactResult result = count_the_shorter_way(program, counted, limits, poll, groups);
  result.kinds = kinds;
  return result;
}

}  // namespace basanos
