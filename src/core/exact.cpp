#include "exact.h"

#include <algorithm>
#include <chrono>
#include <cstring>
#include <limits>
#include <unordered_set>

#include "branch.h"
#include "live.h"
#include "optimise.h"

namespace basanos {
namespace {

// The states waiting at chance operations: packed live cells behind their program counter, found
// by an open-addressing hash. Equal states add their weights.
class Layer {
 public:
  struct Entry {
    uint64_t hash;
    size_t from, length;  // words in the arena
    double weight;
  };

  Layer() : slots_(1024, kEmpty) {}

  void clear() {
    arena_.clear();
    entries_.clear();
    slots_.assign(slots_.size(), kEmpty);
  }

  const std::vector<Entry>& entries() const { return entries_; }
  size_t bytes() const { return arena_.size() * sizeof(int32_t) + entries_.size() * sizeof(Entry); }
  const int32_t* words(const Entry& e) const { return arena_.data() + e.from; }

  // Gives the number of the entry.
  size_t add(const std::vector<int32_t>& key, double weight) {
    const uint64_t hash = hash_of(key);
    size_t slot = hash & (slots_.size() - 1);
    while (slots_[slot] != kEmpty) {
      Entry& e = entries_[slots_[slot]];
      if (e.hash == hash && e.length == key.size() &&
          std::memcmp(words(e), key.data(), key.size() * sizeof(int32_t)) == 0) {
        e.weight += weight;
        return slots_[slot];
      }
      slot = (slot + 1) & (slots_.size() - 1);
    }
    slots_[slot] = entries_.size();
    entries_.push_back({hash, arena_.size(), key.size(), weight});
    arena_.insert(arena_.end(), key.begin(), key.end());
    if (entries_.size() * 2 > slots_.size()) grow();
    return entries_.size() - 1;
  }

 private:
  static constexpr size_t kEmpty = SIZE_MAX;

  static uint64_t hash_of(const std::vector<int32_t>& key) {
    uint64_t h = key.size();
    for (int32_t word : key) h = mix64(h + BASANOS_GAMMA + static_cast<uint32_t>(word));
    return h;
  }

  void grow() {
    slots_.assign(slots_.size() * 2, kEmpty);
    for (size_t i = 0; i < entries_.size(); ++i) {
      size_t slot = entries_[i].hash & (slots_.size() - 1);
      while (slots_[slot] != kEmpty) slot = (slot + 1) & (slots_.size() - 1);
      slots_[slot] = i;
    }
  }

  std::vector<int32_t> arena_;
  std::vector<Entry> entries_;
  std::vector<size_t> slots_;
};

class Count {
 public:
  Count(const Program& program, const ExactLimits& limits, const ExactPoll& poll)
      : program_(optimised(program)),
        limits_(limits),
        poll_(poll),
        rounds_(has_rounds(program_)),
        live_(Liveness(program_).at_chance()),
        frame_(program_) {
    result_.outcomes.assign(static_cast<size_t>(program_.outcome_count), 0.0);
    result_.quantities.resize(program_.quantities.size());
    result_.unit_quantities.resize(program_.unit_quantities.size());
  }

  // Where the states differ, over the first of those that wait.
  void count_values(const std::vector<CellGroup>& groups) {
    constexpr size_t most = 20000;
    for (const CellGroup& group : groups) {
      std::unordered_set<uint64_t> seen;
      for (size_t k = 0; k < next_.entries().size() && k < most; ++k) {
        std::fill(frame_.ints.begin(), frame_.ints.end(), 0);
        unpack(next_, next_.entries()[k]);
        uint64_t h = 0;
        for (int32_t cell = group.base; cell < group.base + group.size; ++cell) h = mix64(h + BASANOS_GAMMA + static_cast<uint32_t>(frame_.ints[static_cast<size_t>(cell)]));
        seen.insert(h);
      }
      result_.values.push_back(seen.size());
    }
  }

  ExactResult go(const std::vector<CellGroup>& groups) {
    frame_.restart(program_);
    follow(1.0);
    double waiting = 0;
    bool cut = false;
    uint64_t draws = 0;
    while (result_.end == ExactEnd::done && !next_.entries().empty()) {
      std::swap(here_, next_);
      next_.clear();
      waiting = 0;
      for (const Layer::Entry& e : here_.entries()) waiting += e.weight;
      ++draws;
      if (!tried_round_ && draws >= limits_.draws_before_round && here_.entries().size() >= limits_.waiting_before_round && goes_round(waiting)) break;
      if (waiting < limits_.negligible && (draws > limits_.draws || result_.states > limits_.many_states)) {
        cut = true;
        break;
      }
      waiting = expand_all();
    }
    if (result_.end != ExactEnd::done)
      for (const Layer::Entry& e : next_.entries()) waiting += e.weight;
    if (cut) waiting = std::max(waiting, std::numeric_limits<double>::min());  // it may be too small for a number
    if (result_.end == ExactEnd::too_large) count_values(groups);
    result_.unresolved = waiting + dropped_;
    return std::move(result_);
  }

 private:
  // Returns the weight of the states it did not get to.
  double expand_all() {
    const std::vector<Layer::Entry>& entries = here_.entries();
    size_t i = 0;
    for (; i < entries.size() && result_.end == ExactEnd::done; ++i) {
      const ExactLimit reached = limit_reached();
      if (reached != ExactLimit::none) {
        too_large(reached);
        break;
      }
      if (++result_.states % 4096 == 0 && !poll_(result_.states)) {
        result_.end = ExactEnd::stopped;
        break;
      }
      expand(entries[i]);
    }
    double left = 0;
    for (; i < entries.size(); ++i) left += entries[i].weight;
    return left;
  }

  // A round that has gone on for so long may go round: the same states come again and again. From here on each
  // state is expanded once, what leads where is kept, and the weight is sent along those ways until next to nothing
  // is left that has not come to an end: `left`. False where there are too many states, as where something counts up
  // in them without a bound: then it is as if this had not been tried.
  bool goes_round(double& left) {
    tried_round_ = round_ = true;
    const Layer start = here_;
    const uint64_t states = result_.states, steps = steps_;
    std::vector<size_t> ways{0};  // of state k: from ways[k] up to ways[k + 1]
    for (size_t k = 0; k < here_.entries().size() && result_.end == ExactEnd::done; ++k) {
      const ExactLimit reached = limit_reached();
      if (reached != ExactLimit::none) too_large(reached);
      else if (++result_.states % 4096 == 0 && !poll_(result_.states)) result_.end = ExactEnd::stopped;
      else {
        Layer::Entry entry = here_.entries()[k];
        entry.weight = 1;
        expand(entry);
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
    std::vector<double> at(here_.entries().size()), ended(ends_.entries().size());
    for (size_t k = 0; k < at.size(); ++k) at[k] = here_.entries()[k].weight;
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
    for (size_t k = 0; k < ended.size(); ++k) finish(ends_.entries()[k], ended[k]);
    left = moving;
    return true;
  }

  // Once through the states in their order, each sending on what has come to it so far. Returns the weight that waits
  // on its way.
  double send_on(const std::vector<size_t>& ways, std::vector<double>& at, std::vector<double>& ended) const {
    for (size_t k = 0; k + 1 < ways.size(); ++k) {
      if (at[k] == 0) continue;
      double stays = 0;
      for (size_t w = ways[k]; w < ways[k + 1]; ++w)
        if (ways_[w].to == static_cast<int64_t>(k)) stays += ways_[w].probability;
      if (stays >= 1) continue;
      const double goes = at[k] / (1 - stays);
      at[k] = 0;
      for (size_t w = ways[k]; w < ways[k + 1]; ++w) {
        const Way& way = ways_[w];
        if (way.to == static_cast<int64_t>(k)) continue;
        if (way.to >= 0) at[static_cast<size_t>(way.to)] += goes * way.probability;
        else ended[static_cast<size_t>(~way.to)] += goes * way.probability;
      }
    }
    double moving = 0;
    for (size_t k = 0; k + 1 < ways.size(); ++k) moving += at[k];
    return moving;
  }

  // An end, or a round told, is kept as the values of the cells that it is asked for.
  template <class Whole, class Real>
  void each_asked(Whole whole, Real real) {
    whole(frame_.ints[static_cast<size_t>(program_.outcome_cell)]);
    for (const std::vector<Quantity>* list : {&program_.quantities, &program_.unit_quantities})
      for (const Quantity& q : *list) {
        if (q.real) real(frame_.reals[static_cast<size_t>(q.cell)]);
        else whole(frame_.ints[static_cast<size_t>(q.cell)]);
      }
  }

  void keep_end(Stop how, double probability) {
    key_.assign(1, static_cast<int32_t>(how));
    each_asked([this](int32_t& value) { key_.push_back(value); },
               [this](double& value) {
                 int32_t halves[2];
                 std::memcpy(halves, &value, sizeof value);
                 key_.insert(key_.end(), halves, halves + 2);
               });
    ways_.push_back({~static_cast<int64_t>(ends_.add(key_, 0)), probability});
  }

  void finish(const Layer::Entry& end, double weight) {
    const int32_t* word = ends_.words(end);
    const auto how = static_cast<Stop>(*word++);
    each_asked([&word](int32_t& value) { value = *word++; },
               [&word](double& value) {
                 std::memcpy(&value, word, sizeof value);
                 word += 2;
               });
    if (how == Stop::round) round_ended(weight);
    else unit_ended(weight);
  }

  ExactLimit limit_reached() const {
    const Layer& waiting = round_ ? here_ : next_;
    if (waiting.entries().size() / 4 >= limits_.states || result_.states >= limits_.states) return ExactLimit::states;
    if (waiting.bytes() + ways_.size() * sizeof(Way) > limits_.bytes) return ExactLimit::bytes;
    if (steps_ > limits_.steps) return ExactLimit::steps;
    if (result_.states % 64 == 0 && std::chrono::duration<double>(Clock::now() - start_).count() > limits_.seconds) return ExactLimit::seconds;
    return ExactLimit::none;
  }

  void too_large(ExactLimit limit) {
    result_.end = ExactEnd::too_large;
    result_.limit = limit;
  }

  void expand(const Layer::Entry& entry) {
    unpack(here_, entry);
    if (branch_bound(program_, frame_) > limits_.states) {
      too_large(ExactLimit::states);
      if (!round_) dropped_ += entry.weight;
      return;
    }
    if (!branches_of(program_, frame_, branches_)) return failed(entry.weight);
    for (size_t k = 0; k < branches_.size() && result_.end == ExactEnd::done; ++k) {
      if (k > 0) unpack(here_, entry);
      const double weight = entry.weight * branches_[k].probability;
      if (take(program_, frame_, branches_[k].value)) follow(weight);
      else failed(weight);
    }
  }

  void follow(double weight) {
    for (;;) {
      const Stop stop = run<Branching>(program_, frame_);
      steps_ += static_cast<uint64_t>(program_.step_budget - frame_.budget - frame_.recalled);
      frame_.recalled = 0;
      switch (stop) {
        case Stop::round:
          if (round_) keep_end(stop, weight);
          else round_ended(weight);
          ++frame_.pc;
          frame_.budget = program_.step_budget;
          break;
        case Stop::chance:
          pack();
          if (round_) ways_.push_back({static_cast<int64_t>(here_.add(key_, 0)), weight});
          else next_.add(key_, weight);
          return;
        case Stop::end:
          if (round_) keep_end(stop, weight);
          else unit_ended(weight);
          return;
        default: return failed(weight);
      }
    }
  }

  void unit_ended(double weight) {
    if (!rounds_) round_ended(weight);
    count(program_.unit_quantities, result_.unit_quantities, weight);
  }

  void round_ended(double weight) {
    const int32_t outcome = frame_.ints[static_cast<size_t>(program_.outcome_cell)];
    if (outcome < 1 || outcome > program_.outcome_count) throw std::invalid_argument("broken program: outcome");
    result_.rounds += weight;
    count(program_.quantities, result_.quantities, weight);
    result_.outcomes[static_cast<size_t>(outcome - 1)] += weight;
  }

  void count(const std::vector<Quantity>& quantities, std::vector<std::map<double, double>>& into, double weight) {
    for (size_t q = 0; q < quantities.size(); ++q) {
      const auto cell = static_cast<size_t>(quantities[q].cell);
      into[q][quantities[q].real ? frame_.reals[cell] + 0.0 : frame_.ints[cell]] += weight;
    }
  }

  void failed(double weight) {
    result_.end = ExactEnd::failed;
    result_.failure = failure_of(program_, frame_);
    result_.failure_weight = round_ ? 0 : weight;  // of one state, where weights are sent on later
  }

  void pack() {
    key_.clear();
    key_.push_back(frame_.pc);
    const LiveCells& live = live_[static_cast<size_t>(frame_.pc)];
    for (int32_t cell : live.ints) key_.push_back(frame_.ints[static_cast<size_t>(cell)]);
    for (int32_t cell : live.reals) {
      const double value = frame_.reals[static_cast<size_t>(cell)] + 0.0;
      int32_t halves[2];
      std::memcpy(halves, &value, sizeof value);
      key_.insert(key_.end(), halves, halves + 2);
    }
    for (const LiveList& list : live.lists) {
      const int32_t* items = frame_.ints.data() + list.base;
      key_.insert(key_.end(), items, items + items[0] + 1);
    }
  }

  void unpack(const Layer& layer, const Layer::Entry& entry) {
    const int32_t* word = layer.words(entry);
    frame_.restart(program_);
    frame_.pc = *word++;
    const LiveCells& live = live_[static_cast<size_t>(frame_.pc)];
    for (int32_t cell : live.ints) frame_.ints[static_cast<size_t>(cell)] = *word++;
    for (int32_t cell : live.reals) {
      std::memcpy(&frame_.reals[static_cast<size_t>(cell)], word, sizeof(double));
      word += 2;
    }
    for (const LiveList& list : live.lists) {
      std::memcpy(&frame_.ints[static_cast<size_t>(list.base)], word,
                  sizeof(int32_t) * static_cast<size_t>(*word + 1));
      word += *word + 1;
    }
  }

  // From a state to another, or to an end: the complement of its number.
  struct Way {
    int64_t to;
    double probability;
  };

  const Program program_;
  const ExactLimits limits_;
  const ExactPoll& poll_;
  const bool rounds_;
  const std::vector<LiveCells> live_;
  Frame frame_;
  Layer here_, next_;
  bool tried_round_ = false;
  bool round_ = false;  // each state is expanded once, its ways kept
  std::vector<Way> ways_;
  Layer ends_;
  std::vector<Branch> branches_;
  std::vector<int32_t> key_;
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
