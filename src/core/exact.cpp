#include "exact.h"

#include <algorithm>
#include <chrono>
#include <limits>
#include <unordered_set>

#include "branch.h"
#include "frontier.h"
#include "markov.h"
#include "pack.h"
#include "symmetry.h"
#include "value_weights.h"

namespace basanos {
namespace {

// The results of finished units so far.
struct Ended {
  std::vector<Weight> outcomes;
  std::vector<ValueWeights> quantities, unit_quantities;
  Weight rounds = 0;

  explicit Ended(const Program& p)
      : outcomes(static_cast<size_t>(p.outcome_count)),
        quantities(p.quantities.size()),
        unit_quantities(p.unit_quantities.size()) {}
};

class ExactSolver {
 public:
  ExactSolver(const Prepared& prepared, const ExactLimits& limits, const ExactPoll& poll)
      : program_(prepared.ready),
        limits_(limits),
        poll_(poll),
        rounds_(has_rounds(program_)),
        stops_(program_),
        recorded_(recorded_registers(program_)),
        symmetry_(prepared.written, program_),
        frame_(program_),
        here_(symmetry_.count()),
        next_(symmetry_.count()),
        chain_(symmetry_.count()),
        ends_(symmetry_.count()),
        weights_(symmetry_.count()),
        ended_(program_) {}

  ExactResult solve(const std::vector<RegisterGroup>& groups) {
    frame_.restart(program_);
    weights_[0] = 1;
    follow(1);
    Weight left = 0;
    uint64_t draws = 0;
    while (result_.end == ExactEnd::done && next_.count() > 0) {
      std::swap(here_, next_);
      next_.clear();
      left = here_.weight();
      ++draws;
      if (!tried_cyclic_ && looks_cyclic() && solve_as_chain(left, limits_.states)) break;
      const bool negligible =
          left < limits_.negligible && (draws > limits_.draws || result_.states > limits_.many_states);
      if (negligible && solve_as_chain(left, result_.states + limits_.many_states)) break;
      if (negligible) {
        left = at_least_something(left);
        break;
      }
      left = expand_layer();
    }
    if (result_.end != ExactEnd::done) left += next_.weight();
    if (result_.end == ExactEnd::too_large) count_values(groups);
    result_.residual = static_cast<double>(left + dropped_);
    tell_ended();
    return std::move(result_);
  }

 private:
  // Returns the weight of the states it did not get to.
  Weight expand_layer() {
    for (expanded_ = 0; expanded_ < here_.count() && may_go_on(); ++expanded_) {
      std::copy_n(here_.weights(expanded_), symmetry_.count(), weights_.begin());
      expand(expanded_);
    }
    Weight left = 0;
    for (size_t k = expanded_; k < here_.count(); ++k) left += here_.weight(k);
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
    if (symmetry_.count() > 1) return here_.count() >= limits_.frontier_before_cyclic;
    size_t again = 0;
    for (size_t k = 0; k < here_.count() && seen_.size() < limits_.seen; ++k)
      again += !seen_.insert(here_.hash(k)).second;
    return here_.count() >= limits_.frontier_before_cyclic && again * 2 >= here_.count();
  }

  // Expands every state that can be reached from here once, and solves the Markov chain. False where there are more
  // than `most` states, as where something counts up in them without a bound: then nothing has changed.
  bool solve_as_chain(Weight& left, uint64_t most) {
    const bool first_try = !tried_cyclic_;
    tried_cyclic_ = in_chain_ = true;
    most_in_chain_ = most;
    if (first_try) seen_.clear();
    const Frontier start = here_;
    const uint64_t states = result_.states, steps = steps_;
    for (expanded_ = 0; expanded_ < here_.count() && may_go_on(); ++expanded_) {
      expand(expanded_);
      if (result_.end == ExactEnd::done) chain_.close_state();
    }
    if (result_.end == ExactEnd::too_large && result_.limit != ExactLimit::seconds) {
      here_ = start;
      result_.states = states;
      result_.end = ExactEnd::done;
      result_.limit = ExactLimit::none;
      steps_ = steps;
      chain_.clear();
      ends_.clear();
      in_chain_ = false;
      return false;
    }
    if (result_.end != ExactEnd::done) return true;
    std::vector<Weight> at = here_.all_weights(), ended = ends_.all_weights();
    left = chain_.solve(at, ended, limits_.negligible, [this] {
      if (!poll_(result_.states)) result_.end = ExactEnd::stopped;
      else if (out_of_time()) too_large(ExactLimit::seconds);
      return result_.end == ExactEnd::done;
    });
    if (chain_.has_cycle()) left = at_least_something(left);
    for (size_t k = 0; k < ends_.count(); ++k) {
      std::copy_n(&ended[k * symmetry_.count()], symmetry_.count(), weights_.begin());
      record_end(ends_.key(k));
    }
    return true;
  }

  // The residual of a game without a longest round may underflow, but it is not zero.
  static Weight at_least_something(Weight left) { return std::max<Weight>(left, std::numeric_limits<double>::min()); }

  // The graph keeps an end as the values that are recorded there.
  void keep_end(Stop how, Weight probability) {
    key_.resize(1 + most_bytes(recorded_));
    key_[0] = static_cast<uint8_t>(how);
    key_.resize(static_cast<size_t>(pack(recorded_, frame_, key_.data() + 1) - key_.data()));
    chain_.add_edge_to_end(ends_.find_or_add(key_), static_cast<double>(probability));
  }

  void record_end(const uint8_t* end) {
    unpack(recorded_, end + 1, frame_);
    if (static_cast<Stop>(*end) == Stop::round) round_ended(1);
    else unit_ended(1);
  }

  ExactLimit limit_reached() const {
    const uint64_t frontier = in_chain_ ? here_.count() : next_.count(),
                   open = here_.count() - expanded_ + (in_chain_ ? 0 : next_.count());
    const uint64_t most = in_chain_ ? most_in_chain_ : limits_.states;
    if (limits_.frontier > 0 ? frontier >= limits_.frontier || result_.states >= most : result_.states + open > most)
      return ExactLimit::states;
    if (here_.bytes() + next_.bytes() + ends_.bytes() + chain_.bytes() > limits_.bytes) return ExactLimit::bytes;
    if (steps_ > limits_.steps) return ExactLimit::steps;
    if (result_.states % 64 == 0 && out_of_time()) return ExactLimit::seconds;
    return ExactLimit::none;
  }

  bool out_of_time() const { return std::chrono::duration<double>(Clock::now() - start_).count() > limits_.seconds; }

  void too_large(ExactLimit limit) {
    result_.end = ExactEnd::too_large;
    result_.limit = limit;
  }

  // Takes every branch of a state; weights_ are its weights.
  void expand(size_t state) {
    stops_.unpack(here_.key(state), frame_);
    if (branch_bound(program_, frame_) > limits_.states) {
      too_large(ExactLimit::states);
      if (!in_chain_) dropped_ += weight();
      return;
    }
    if (!branches_of(program_, frame_, branches_)) return failed(1);
    size_t k = 0;
    for (; k < branches_.size() && result_.end == ExactEnd::done; ++k) {
      if (k > 0) stops_.unpack(here_.key(state), frame_);
      if (take(program_, frame_, branches_[k].value)) follow(branches_[k].probability);
      else failed(branches_[k].probability);
      if (++branches_taken_ % 256 == 0 && !poll_(result_.states)) result_.end = ExactEnd::stopped;
    }
    if (in_chain_) return;
    for (; k < branches_.size(); ++k) dropped_ += weight() * branches_[k].probability;
  }

  Weight weight() const { return std::accumulate(weights_.begin(), weights_.end(), Weight{0}); }

  // Runs to the next draw; rounds that end on the way are recorded.
  void follow(Weight probability) {
    for (;;) {
      const Stop stop = run<Branching>(program_, frame_);
      steps_ += static_cast<uint64_t>(program_.step_budget - frame_.budget - frame_.steps_skipped);
      frame_.steps_skipped = 0;
      switch (stop) {
        case Stop::round:
          if (in_chain_) keep_end(stop, probability);
          else round_ended(probability);
          ++frame_.pc;
          frame_.budget = program_.step_budget;
          break;
        case Stop::chance: return arrive(probability);
        case Stop::end:
          if (in_chain_) keep_end(stop, probability);
          else unit_ended(probability);
          return;
        default: return failed(probability);
      }
    }
  }

  void arrive(Weight probability) {
    Frontier& to = in_chain_ ? here_ : next_;
    pack_stop();
    const size_t rotation = symmetry_.is_symmetric_at(frame_.pc) ? rotate_to_known(to) : 0;
    const uint32_t number = to.find_or_add(key_);
    if (in_chain_) chain_.add_edge(number, static_cast<double>(probability), rotation);
    else add_rotated(to.weights(number), weights_.data(), symmetry_.count(), probability, rotation);
  }

  // Rotates the seats until the state is one that is there; gives the rotation. A new one stays as it is.
  size_t rotate_to_known(const Frontier& to) {
    for (size_t rotation = 0; rotation < symmetry_.count(); ++rotation) {
      if (to.find(key_) != Frontier::kNone) return rotation;
      symmetry_.rotate(frame_);
      pack_stop();
    }
    return 0;
  }

  void pack_stop() {
    key_.clear();
    stops_.pack(frame_, key_);
  }

  void unit_ended(Weight probability) {
    if (!rounds_) round_ended(probability);
    count(program_.unit_quantities, ended_.unit_quantities, weight() * probability);
  }

  void round_ended(Weight probability) {
    const int32_t outcome = frame_.ints[static_cast<size_t>(program_.outcome_register)];
    if (outcome < 1 || outcome > program_.outcome_count) throw std::invalid_argument("broken program: outcome");
    const size_t seats = symmetry_.count();
    const Weight all = weight() * probability;
    ended_.rounds += all;
    count(program_.quantities, ended_.quantities, all);
    for (size_t s = 0; s < seats; ++s)
      ended_.outcomes[static_cast<size_t>(symmetry_.rotated(outcome, (seats - s) % seats) - 1)] +=
          weights_[s] * probability;
  }

  void count(const std::vector<Quantity>& quantities, std::vector<ValueWeights>& into, Weight weight) {
    for (size_t q = 0; q < quantities.size(); ++q) {
      const auto reg = static_cast<size_t>(quantities[q].reg);
      if (quantities[q].real) into[q].add(frame_.reals[reg], weight);
      else into[q].add(frame_.ints[reg], weight);
    }
  }

  void failed(Weight probability) {
    result_.end = ExactEnd::failed;
    result_.failure = failure_of(program_, frame_);
    result_.failure_weight =
        in_chain_ ? 0 : static_cast<double>(weight() * probability);  // in the chain weights come later
  }

  // The number of values of each group, over the first states of the frontier.
  void count_values(const std::vector<RegisterGroup>& groups) {
    constexpr size_t most = 20000;
    for (const RegisterGroup& group : groups) {
      std::unordered_set<uint64_t> seen;
      for (size_t k = 0; k < next_.count() && k < most; ++k) {
        std::fill(frame_.ints.begin(), frame_.ints.end(), 0);
        stops_.unpack(next_.key(k), frame_);
        uint64_t h = 0;
        for (int32_t reg = group.base; reg < group.base + group.size; ++reg)
          h = mix64(h + BASANOS_GAMMA + static_cast<uint32_t>(frame_.ints[static_cast<size_t>(reg)]));
        seen.insert(h);
      }
      result_.values.push_back(seen.size());
    }
  }

  void tell_ended() {
    const auto rounded = [](const std::vector<ValueWeights>& from) {
      std::vector<std::map<double, double>> to;
      for (const ValueWeights& weights : from) to.push_back(weights.rounded());
      return to;
    };
    result_.outcomes.assign(ended_.outcomes.begin(), ended_.outcomes.end());
    result_.quantities = rounded(ended_.quantities);
    result_.unit_quantities = rounded(ended_.unit_quantities);
    result_.rounds = static_cast<double>(ended_.rounds);
  }

  const Program& program_;
  const ExactLimits limits_;
  const ExactPoll& poll_;
  const bool rounds_;
  const Stops stops_;
  const LiveRegisters recorded_;
  const SeatSymmetry symmetry_;
  Frame frame_;
  Frontier here_, next_;  // the layer that is expanded, and what it leads to; of a chain all states are in the first
  size_t expanded_ = 0;   // states of here_
  std::unordered_set<uint64_t> seen_;  // the hashes of states, until it is tried whether the game is cyclic
  bool tried_cyclic_ = false, in_chain_ = false;
  uint64_t most_in_chain_ = 0;
  MarkovChain chain_;
  Frontier ends_;
  std::vector<Weight> weights_;  // of the state that is expanded, by rotation
  std::vector<Branch> branches_;
  std::vector<uint8_t> key_;
  using Clock = std::chrono::steady_clock;
  const Clock::time_point start_ = Clock::now();
  uint64_t steps_ = 0, branches_taken_ = 0;
  Weight dropped_ = 0;  // weight of branches that were not followed: more than the limit allows, or stopped before
  Ended ended_;
  ExactResult result_;
};

}  // namespace

ExactResult exact(const Prepared& program, const ExactLimits& limits, const ExactPoll& poll,
                  const std::vector<RegisterGroup>& groups) {
  require_closed(program.written, "counted");
  const size_t registers = program.written.int_start.size();
  for (const RegisterGroup& g : groups)
    if (g.base < 0 || g.size < 0 || static_cast<size_t>(g.base) + static_cast<size_t>(g.size) > registers)
      throw std::invalid_argument("broken program: register group");
  return ExactSolver(program, limits, poll).solve(groups);
}

}  // namespace basanos
