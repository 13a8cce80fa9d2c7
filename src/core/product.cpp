#include "product.h"

#include <algorithm>

#include "branch.h"
#include "optimise.h"
#include "hash_cons.h"
#include "pack.h"

namespace basanos {
namespace {

// One of the two programs, with what is needed to keep and take up its states.
struct Side {
  explicit Side(const Prepared& p) : program(p.ready), stops(program), frame(program) { frame.restart(program); }

  void pack(std::vector<uint8_t>& out) const { stops.pack(frame, out); }
  const uint8_t* unpack(const uint8_t* from) { return stops.unpack(from, frame); }

  int32_t source() const { return program.code[static_cast<size_t>(frame.pc)].b; }

  double value(int32_t quantity) const {
    const Quantity& q = program.quantities[static_cast<size_t>(quantity)];
    return q.real ? frame.reals[static_cast<size_t>(q.reg)] : frame.ints[static_cast<size_t>(q.reg)];
  }

  const Program& program;
  const Stops stops;
  Frame frame;
};

struct Node {
  size_t parent;
  WitnessDraw draw;
};

constexpr size_t kRoot = SIZE_MAX;
constexpr uint64_t kMostSteps = 40000000;  // backward jumps of both, a bound on the time that is no clock

class Pair {
 public:
  Pair(const Prepared& first, const Prepared& second, const Matching& matching, uint64_t most,
       const std::function<bool(uint64_t)>& poll)
      : a_(first), b_(second), matching_(matching), most_(most), poll_(poll) {}

  ProductResult go() {
    if (!follow(kRoot, {0, 0})) return std::move(result_);
    for (size_t k = 0; k < nodes_.size(); ++k) {
      if (nodes_.size() > most_ || steps_ > kMostSteps) return end_with(Parting::too_many_states);
      if (k % 64 == 0 && !poll_(k)) return end_with(Parting::stopped);
      ++result_.states;
      if (!expand(k)) return std::move(result_);
    }
    return std::move(result_);
  }

 private:
  ProductResult end_with(Parting how) {
    result_.parting = how;
    return std::move(result_);
  }

  void restore(size_t k) { b_.unpack(a_.unpack(states_.key(static_cast<uint32_t>(k)))); }

  // False where the two part.
  bool expand(size_t k) {
    restore(k);
    if (branch_bound(a_.program, a_.frame) > most_ || branch_bound(b_.program, b_.frame) > most_) {
      result_.parting = Parting::too_many_states;
      return false;
    }
    const WitnessDraw here{a_.source(), 0};
    if (matching_.sources[static_cast<size_t>(a_.source())] != b_.source()) return part(Parting::draw, k);
    std::vector<Branch> ours, theirs;
    const bool fits = branches_of(a_.program, a_.frame, ours), fits_too = branches_of(b_.program, b_.frame, theirs);
    if (!fits || !fits_too)
      return fits == fits_too && a_.frame.fail == b_.frame.fail ? true : part(Parting::failure, k);
    if (!same_branches(ours, theirs)) return part(Parting::draw, k);
    for (const Branch& branch : ours) {
      restore(k);
      const bool goes = take(a_.program, a_.frame, branch.value), goes_too = take(b_.program, b_.frame, branch.value);
      if (goes != goes_too) return part(Parting::failure, k, {here.source, branch.value});
      if (goes && !follow(k, {here.source, branch.value})) return false;
    }
    return true;
  }

  static bool same_branches(const std::vector<Branch>& a, const std::vector<Branch>& b) {
    if (a.size() != b.size()) return false;
    for (size_t k = 0; k < a.size(); ++k)
      if (a[k].value != b[k].value || std::fabs(a[k].probability - b[k].probability) > 1e-12) return false;
    return true;
  }

  static uint64_t used(const Side& side) { return static_cast<uint64_t>(side.program.step_budget - side.frame.budget); }

  // Both run to the next draw, round by round.
  bool follow(size_t parent, WitnessDraw draw) {
    for (;;) {
      const Stop a = run<Branching>(a_.program, a_.frame), b = run<Branching>(b_.program, b_.frame);
      steps_ += used(a_) + used(b_);
      if (a == Stop::fail && b == Stop::fail && a_.frame.fail == b_.frame.fail) return true;
      if (a != b)
        return part(a == Stop::fail || b == Stop::fail       ? Parting::failure
                    : a == Stop::chance || b == Stop::chance ? Parting::draw
                                                             : Parting::round,
                    parent, draw);
      if ((a == Stop::round || a == Stop::end) && !ends_alike(a)) return part(Parting::round, parent, draw);
      if (a == Stop::end) return true;
      if (a == Stop::chance) return keep(parent, draw);
      for (Side* side : {&a_, &b_}) {
        ++side->frame.pc;
        side->frame.budget = side->program.step_budget;
      }
    }
  }

  bool ends_alike(Stop how) const {
    if (how == Stop::end && has_rounds(a_.program)) return true;  // its rounds were
    const int32_t a = a_.frame.ints[static_cast<size_t>(a_.program.outcome_register)],
                  b = b_.frame.ints[static_cast<size_t>(b_.program.outcome_register)];
    if (a < 1 || a > a_.program.outcome_count || matching_.outcomes[static_cast<size_t>(a - 1)] != b) return false;
    for (const auto& [ours, theirs] : matching_.quantities)
      if (a_.value(ours) != b_.value(theirs)) return false;
    return true;
  }

  bool keep(size_t parent, WitnessDraw draw) {
    key_.clear();
    a_.pack(key_);
    b_.pack(key_);
    if (states_.find_or_add(key_) == nodes_.size()) nodes_.push_back({parent, draw});
    return true;
  }

  bool part(Parting how, size_t parent, WitnessDraw draw = {-1, 0}) {
    result_.parting = how;
    if (parent != kRoot && draw.source >= 0) result_.draws.push_back(draw);
    for (size_t k = parent; k != kRoot && nodes_[k].parent != kRoot; k = nodes_[k].parent)
      result_.draws.push_back(nodes_[k].draw);
    std::reverse(result_.draws.begin(), result_.draws.end());
    return false;
  }

  Side a_, b_;
  const Matching& matching_;
  const uint64_t most_;
  const std::function<bool(uint64_t)>& poll_;
  std::vector<Node> nodes_;
  HashConsTable states_;  // of the nodes: both sides
  std::vector<uint8_t> key_;
  uint64_t steps_ = 0;
  ProductResult result_;
};

}  // namespace

ProductResult explore_product(const Prepared& first, const Prepared& second, const Matching& matching,
                              uint64_t most_states, const std::function<bool(uint64_t)>& poll) {
  bool fits = matching.outcomes.size() == static_cast<size_t>(first.ready.outcome_count) &&
              matching.sources.size() == first.ready.sources.size();
  for (const auto& [a, b] : matching.quantities)
    fits = fits && a >= 0 && b >= 0 && static_cast<size_t>(a) < first.ready.quantities.size() &&
           static_cast<size_t>(b) < second.ready.quantities.size();
  if (!fits) throw std::invalid_argument("broken matching");
  return Pair(first, second, matching, most_states, poll).go();
}

}  // namespace basanos
