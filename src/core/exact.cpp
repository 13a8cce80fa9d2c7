#include "exact.h"

#include <algorithm>
#include <chrono>
#include <limits>
#include <numeric>
#include <unordered_set>

#include "branch.h"
#include "optimise.h"
#include "packed.h"
#include "seats.h"

namespace basanos {
namespace {

// States that wait, or ends: what they are, as bytes, and their weights. A state stands for itself and for those with
// every seat so many back: it has a weight for each.
class Layer {
 public:
  explicit Layer(size_t seats) : seats_(seats) {}

  static constexpr uint32_t kNone = ByteIndex::kNone;
  uint32_t find(const std::vector<uint8_t>& key) const { return index_.find(key.data(), key.size()); }
  uint32_t find_or_add(const std::vector<uint8_t>& key) {
    const uint32_t number = index_.find_or_add(key);
    weights_.resize(index_.count() * seats_);
    return number;
  }
  void clear() {
    index_.clear();
    weights_.clear();
  }
  size_t count() const { return index_.count(); }
  size_t bytes() const { return index_.bytes() + weights_.size() * sizeof(double); }
  const uint8_t* key(size_t number) const { return index_.key(static_cast<uint32_t>(number)); }
  uint64_t hash(size_t number) const { return index_.hash(static_cast<uint32_t>(number)); }
  double* weights(size_t number) { return &weights_[number * seats_]; }
  double weight(size_t number) const { return std::accumulate(&weights_[number * seats_], &weights_[number * seats_] + seats_, 0.0); }
  double weight() const { return std::accumulate(weights_.begin(), weights_.end(), 0.0); }
  const std::vector<double>& all_weights() const { return weights_; }

 private:
  size_t seats_;
  ByteIndex index_;
  std::vector<double> weights_;
};

class Count {
 public:
  Count(const Program& program, const ExactLimits& limits, const ExactPoll& poll)
      : program_(optimised(program)),
        limits_(limits),
        poll_(poll),
        rounds_(has_rounds(program_)),
        stops_(program_),
        told_(told_cells(program_)),
        seats_(program, program_),
        frame_(program_),
        here_(seats_.count()),
        next_(seats_.count()),
        ends_(seats_.count()),
        weights_(seats_.count()) {
    result_.outcomes.assign(static_cast<size_t>(program_.outcome_count), 0.0);
    result_.quantities.resize(program_.quantities.size());
    result_.unit_quantities.resize(program_.unit_quantities.size());
  }

  // Where the states differ, over the first of those that wait.
  void count_values(const std::vector<CellGroup>& groups) {
    constexpr size_t most = 20000;
    for (const CellGroup& group : groups) {
      std::unordered_set<uint64_t> seen;
      for (size_t k = 0; k < next_.count() && k < most; ++k) {
        std::fill(frame_.ints.begin(), frame_.ints.end(), 0);
        stops_.unpack(next_.key(k), frame_);
        uint64_t h = 0;
        for (int32_t cell = group.base; cell < group.base + group.size; ++cell) h = mix64(h + BASANOS_GAMMA + static_cast<uint32_t>(frame_.ints[static_cast<size_t>(cell)]));
        seen.insert(h);
      }
      result_.values.push_back(seen.size());
    }
  }

  ExactResult go(const std::vector<CellGroup>& groups) {
    frame_.restart(program_);
    weights_[0] = 1;
    follow(1);
    double waiting = 0;
    bool cut = false;
    uint64_t draws = 0;
    while (result_.end == ExactEnd::done && next_.count() > 0) {
      std::swap(here_, next_);
      next_.clear();
      waiting = here_.weight();
      ++draws;
      if (!tried_round_ && comes_again() && goes_round(waiting)) break;
      if (waiting < limits_.negligible && (draws > limits_.draws || result_.states > limits_.many_states)) {
        cut = true;
        break;
      }
      waiting = expand_all();
    }
    if (result_.end != ExactEnd::done) waiting += next_.weight();
    if (cut) waiting = std::max(waiting, std::numeric_limits<double>::min());  // it may be too small for a number
    if (result_.end == ExactEnd::too_large) count_values(groups);
    result_.unresolved = waiting + dropped_;
    return std::move(result_);
  }

 private:
  // Returns the weight of the states it did not get to.
  double expand_all() {
    size_t i = 0;
    for (; i < here_.count() && result_.end == ExactEnd::done; ++i) {
      const ExactLimit reached = limit_reached();
      if (reached != ExactLimit::none) {
        too_large(reached);
        break;
      }
      if (++result_.states % 4096 == 0 && !poll_(result_.states)) {
        result_.end = ExactEnd::stopped;
        break;
      }
      std::copy_n(here_.weights(i), seats_.count(), weights_.begin());
      expand(i);
    }
    double left = 0;
    for (; i < here_.count(); ++i) left += here_.weight(i);
    return left;
  }

  // Have most of the states that wait been there before, some draws ago? Of seats in turn one is where another was.
  bool comes_again() {
    if (seats_.count() > 1) return here_.count() >= limits_.waiting_before_round;
    size_t again = 0;
    for (size_t k = 0; k < here_.count() && seen_.size() < limits_.seen; ++k) again += !seen_.insert(here_.hash(k)).second;
    return here_.count() >= limits_.waiting_before_round && again * 2 >= here_.count();
  }

  // A round goes round where the same states come again and again. From here on each
  // state is expanded once, what leads where is kept, and the weight is sent along those ways until next to nothing
  // is left that has not come to an end: `left`. False where there are too many states, as where something counts up
  // in them without a bound: then it is as if this had not been tried.
  bool goes_round(double& left) {
    tried_round_ = round_ = true;
    seen_.clear();
    const Layer start = here_;
    const uint64_t states = result_.states, steps = steps_;
    std::vector<size_t> ways{0};  // of state k: from ways[k] up to ways[k + 1]
    for (size_t k = 0; k < here_.count() && result_.end == ExactEnd::done; ++k) {
      const ExactLimit reached = limit_reached();
      if (reached != ExactLimit::none) too_large(reached);
      else if (++result_.states % 4096 == 0 && !poll_(result_.states)) result_.end = ExactEnd::stopped;
      else {
        expand(k);
        if (result_.end == ExactEnd::done) ways.push_back(ways_.size());
      }
    }
    if (result_.end == ExactEnd::too_large) {
      here_ = start;
      result_.states = states;
      result_.end = ExactEnd::done;
      result_.limit = ExactLimit::none;
      steps_ = steps;
      ways_.clear();
      round_ = false;
      return false;
    }
    if (result_.end != ExactEnd::done) return true;
    std::vector<double> at = here_.all_weights(), ended = ends_.all_weights();
    double moving = send_on(ways, at, ended);
    while (moving > limits_.negligible) {
      if (!poll_(result_.states)) {
        result_.end = ExactEnd::stopped;
        break;
      }
      const double before = moving;
      moving = send_on(ways, at, ended);
      if (moving >= before) break;  // it goes round for ever
    }
    for (size_t k = 0; k < ends_.count(); ++k) {
      std::copy_n(&ended[k * seats_.count()], seats_.count(), weights_.begin());
      finish(ends_.key(k));
    }
    left = moving;
    return true;
  }

  // Once through the states in their order, each sending on what has come to it so far. Returns the weight that waits
  // on its way.
  double send_on(const std::vector<size_t>& ways, std::vector<double>& at, std::vector<double>& ended) {
    const size_t seats = seats_.count();
    const auto back = [](const Way& way, size_t k) { return way.to == static_cast<int64_t>(k) && way.turned == 0; };
    for (size_t k = 0; k + 1 < ways.size(); ++k) {
      double* const here = &at[k * seats];
      if (std::all_of(here, here + seats, [](double weight) { return weight == 0; })) continue;
      double stays = 0;
      for (size_t w = ways[k]; w < ways[k + 1]; ++w)
        if (back(ways_[w], k)) stays += ways_[w].probability;
      if (stays >= 1) continue;
      for (size_t s = 0; s < seats; ++s) weights_[s] = here[s] / (1 - stays);
      std::fill(here, here + seats, 0.0);
      for (size_t w = ways[k]; w < ways[k + 1]; ++w) {
        const Way& way = ways_[w];
        if (!back(way, k)) share(way.to >= 0 ? &at[static_cast<size_t>(way.to) * seats] : &ended[static_cast<size_t>(~way.to) * seats], way.probability, way.turned);
      }
    }
    return std::accumulate(at.begin(), at.end(), 0.0);
  }

  // Adds to a state's weights what comes to it, turned by so many seats, from the one that is gone into.
  void share(double* to, double probability, size_t turned) const {
    const size_t seats = seats_.count();
    for (size_t s = 0; s < seats; ++s) to[s + turned < seats ? s + turned : s + turned - seats] += weights_[s] * probability;
  }

  void keep_end(Stop how, double probability) {
    key_.resize(1 + most_bytes(told_));
    key_[0] = static_cast<uint8_t>(how);
    key_.resize(static_cast<size_t>(pack(told_, frame_, key_.data() + 1) - key_.data()));
    ways_.push_back({~static_cast<int64_t>(ends_.find_or_add(key_)), probability, 0});
  }

  void finish(const uint8_t* end) {
    unpack(told_, end + 1, frame_);
    if (static_cast<Stop>(*end) == Stop::round) round_ended(1);
    else unit_ended(1);
  }

  ExactLimit limit_reached() const {
    const Layer& waiting = round_ ? here_ : next_;
    if (waiting.count() / 4 >= limits_.states || result_.states >= limits_.states) return ExactLimit::states;
    if (waiting.bytes() + ways_.size() * sizeof(Way) > limits_.bytes) return ExactLimit::bytes;
    if (steps_ > limits_.steps) return ExactLimit::steps;
    if (result_.states % 64 == 0 && std::chrono::duration<double>(Clock::now() - start_).count() > limits_.seconds) return ExactLimit::seconds;
    return ExactLimit::none;
  }

  void too_large(ExactLimit limit) {
    result_.end = ExactEnd::too_large;
    result_.limit = limit;
  }

  // Goes into a state, of which weights_ are the weights.
  void expand(size_t state) {
    stops_.unpack(here_.key(state), frame_);
    if (branch_bound(program_, frame_) > limits_.states) {
      too_large(ExactLimit::states);
      if (!round_) dropped_ += weight();
      return;
    }
    if (!branches_of(program_, frame_, branches_)) return failed(1);
    for (size_t k = 0; k < branches_.size() && result_.end == ExactEnd::done; ++k) {
      if (k > 0) stops_.unpack(here_.key(state), frame_);
      if (take(program_, frame_, branches_[k].value)) follow(branches_[k].probability);
      else failed(branches_[k].probability);
    }
  }

  double weight() const { return std::accumulate(weights_.begin(), weights_.end(), 0.0); }

  void follow(double probability) {
    for (;;) {
      const Stop stop = run<Branching>(program_, frame_);
      steps_ += static_cast<uint64_t>(program_.step_budget - frame_.budget - frame_.recalled);
      frame_.recalled = 0;
      switch (stop) {
        case Stop::round:
          if (round_) keep_end(stop, probability);
          else round_ended(probability);
          ++frame_.pc;
          frame_.budget = program_.step_budget;
          break;
        case Stop::chance: return arrive(probability);
        case Stop::end:
          if (round_) keep_end(stop, probability);
          else unit_ended(probability);
          return;
        default: return failed(probability);
      }
    }
  }

  void arrive(double probability) {
    Layer& to = round_ ? here_ : next_;
    pack_stop();
    const size_t turned = seats_.alike_at(frame_.pc) ? turn_to_known(to) : 0;
    const uint32_t number = to.find_or_add(key_);
    if (round_) ways_.push_back({static_cast<int64_t>(number), probability, turned});
    else share(to.weights(number), probability, turned);
  }

  // Turns the seats until the state is one that is there; gives by how many. A new one comes out as it was.
  size_t turn_to_known(const Layer& to) {
    for (size_t turned = 0; turned < seats_.count(); ++turned) {
      if (to.find(key_) != Layer::kNone) return turned;
      seats_.turn(frame_);
      pack_stop();
    }
    return 0;
  }

  void pack_stop() {
    key_.clear();
    stops_.pack(frame_, key_);
  }

  void unit_ended(double probability) {
    if (!rounds_) round_ended(probability);
    count(program_.unit_quantities, result_.unit_quantities, weight() * probability);
  }

  void round_ended(double probability) {
    const int32_t outcome = frame_.ints[static_cast<size_t>(program_.outcome_cell)];
    if (outcome < 1 || outcome > program_.outcome_count) throw std::invalid_argument("broken program: outcome");
    const size_t seats = seats_.count();
    const double all = weight() * probability;
    result_.rounds += all;
    count(program_.quantities, result_.quantities, all);
    for (size_t s = 0; s < seats; ++s) result_.outcomes[static_cast<size_t>(seats_.turned(outcome, (seats - s) % seats) - 1)] += weights_[s] * probability;
  }

  void count(const std::vector<Quantity>& quantities, std::vector<std::map<double, double>>& into, double weight) {
    for (size_t q = 0; q < quantities.size(); ++q) {
      const auto cell = static_cast<size_t>(quantities[q].cell);
      into[q][quantities[q].real ? frame_.reals[cell] + 0.0 : frame_.ints[cell]] += weight;
    }
  }

  void failed(double probability) {
    result_.end = ExactEnd::failed;
    result_.failure = failure_of(program_, frame_);
    result_.failure_weight = round_ ? 0 : weight() * probability;  // of one state, where weights are sent on later
  }

  // From a state to another, with the seats turned by so many; or to an end: the complement of its number.
  struct Way {
    int64_t to;
    double probability;
    size_t turned;
  };

  const Program program_;
  const ExactLimits limits_;
  const ExactPoll& poll_;
  const bool rounds_;
  const Stops stops_;
  const LiveCells told_;
  const Seats seats_;
  Frame frame_;
  Layer here_, next_;
  std::unordered_set<uint64_t> seen_;  // the hashes of states, until it is tried whether they come again
  bool tried_round_ = false;
  bool round_ = false;  // each state is expanded once, its ways kept
  std::vector<Way> ways_;
  Layer ends_;
  std::vector<double> weights_;  // of the state that is gone into: as it is, and with every seat so many back
  std::vector<Branch> branches_;
  std::vector<uint8_t> key_;
  using Clock = std::chrono::steady_clock;
  const Clock::time_point start_ = Clock::now();
  uint64_t steps_ = 0;
  double dropped_ = 0;  // weight of states with more branches than the limit allows
  ExactResult result_;
};

}  // namespace

ExactResult exact(const Program& program, const ExactLimits& limits, const ExactPoll& poll, const std::vector<CellGroup>& groups) {
  for (const CellGroup& g : groups)
    if (g.base < 0 || g.size < 0 || static_cast<size_t>(g.base) + static_cast<size_t>(g.size) > program.int_start.size()) throw std::invalid_argument("broken program: cell group");
  return Count(program, limits, poll).go(groups);
}

}  // namespace basanos
