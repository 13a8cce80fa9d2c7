#include "product.h"

#include <cmath>

namespace basanos {
namespace {

constexpr uint64_t kMostSteps = 40000000;  // backward jumps of both, a bound on the time that is no clock

// Both programs side by side, drawing the same. Where they part, the pair fails, and says how.
class PairModel : public Model {
 public:
  PairModel(const Prepared& first, const Prepared& second, const Matching& matching)
      : a_(first.ready), b_(second.ready), matching_(matching) {}

  void start() override {
    a_.start();
    b_.start();
  }

  Stop run() override {
    const Stop a = a_.run(), b = b_.run();
    if (a == Stop::fail && b == Stop::fail && a_.frame.fail == b_.frame.fail) return Stop::fail;
    if (a != b) {
      part(a == Stop::fail || b == Stop::fail       ? Parting::failure
           : a == Stop::chance || b == Stop::chance ? Parting::draw
                                                    : Parting::round);
    } else if ((a == Stop::round || a == Stop::end) && !ends_alike(a)) part(Parting::round);
    return parting_ == Parting::none ? a : Stop::fail;
  }

  void go_on() override {
    a_.go_on();
    b_.go_on();
  }

  void pack(std::vector<uint8_t>& out) const override {
    a_.pack(out);
    b_.pack(out);
  }
  void unpack(const uint8_t* from) override { b_.unpack(a_.unpack_from(from)); }

  int32_t source() const override { return a_.source(); }
  size_t branch_bound() const override { return std::max(a_.branch_bound(), b_.branch_bound()); }

  bool branches(std::vector<Branch>& out) override {
    at_draw_ = true;
    if (matching_.sources[static_cast<size_t>(a_.source())] != b_.source()) return part(Parting::draw);
    const bool fits = a_.branches(out), fits_too = b_.branches(theirs_);
    if (!fits || !fits_too) return fits == fits_too && a_.frame.fail == b_.frame.fail ? false : part(Parting::failure);
    return same(out, theirs_) || part(Parting::draw);
  }

  bool take(int32_t value) override {
    at_draw_ = false;
    const bool goes = a_.take(value), goes_too = b_.take(value);
    return goes == goes_too ? goes : part(Parting::failure);
  }

  Parting parting() const { return parting_; }
  bool parted_at_draw() const { return at_draw_; }  // before anything came up
  uint64_t steps() const { return a_.steps() + b_.steps(); }

 private:
  bool part(Parting how) {
    parting_ = how;
    return false;
  }

  static bool same(const std::vector<Branch>& a, const std::vector<Branch>& b) {
    if (a.size() != b.size()) return false;
    for (size_t k = 0; k < a.size(); ++k)
      if (a[k].value != b[k].value || std::fabs(a[k].probability - b[k].probability) > 1e-12) return false;
    return true;
  }

  bool ends_alike(Stop how) const {
    if (how == Stop::end && has_rounds(a_.program)) return true;  // its rounds were
    const int32_t a = a_.frame.ints[static_cast<size_t>(a_.program.outcome_register)],
                  b = b_.frame.ints[static_cast<size_t>(b_.program.outcome_register)];
    if (a < 1 || a > a_.program.outcome_count || matching_.outcomes[static_cast<size_t>(a - 1)] != b) return false;
    for (const auto& [ours, theirs] : matching_.quantities)
      if (value(a_, ours) != value(b_, theirs)) return false;
    return true;
  }

  static double value(const ProgramModel& side, int32_t quantity) {
    const Quantity& q = side.program.quantities[static_cast<size_t>(quantity)];
    return q.real ? side.frame.reals[static_cast<size_t>(q.reg)] : side.frame.ints[static_cast<size_t>(q.reg)];
  }

  ProgramModel a_, b_;
  const Matching& matching_;
  std::vector<Branch> theirs_;
  bool at_draw_ = false;
  Parting parting_ = Parting::none;
};

class Pair : public Visitor {
 public:
  Pair(const Prepared& first, const Prepared& second, const Matching& matching, uint64_t most,
       const std::function<bool(uint64_t)>& poll)
      : model_(first, second, matching), graph_(model_, *this, most, Keep::all), most_(most), poll_(poll) {}

  ProductResult go() {
    if (!graph_.start()) return std::move(result_);
    for (StateId k = 0; k < graph_.count(); ++k) {
      if (graph_.count() > most_ || model_.steps() > kMostSteps) return end_with(Parting::too_many_states);
      if (k % 64 == 0 && !poll_(k)) return end_with(Parting::stopped);
      ++result_.states;
      if (!graph_.expand(k)) return std::move(result_);
    }
    return std::move(result_);
  }

 private:
  ProductResult end_with(Parting how) {
    result_.parting = how;
    return std::move(result_);
  }

  bool ended(Stop, const Step&) override { return true; }
  bool arrive(StateId state, size_t, const Step& step) override {
    paths_.note(state, step);
    return true;
  }
  // Both may fail alike.
  bool failed(const Step& step) override {
    result_.parting = model_.parting();
    if (result_.parting == Parting::none) return true;
    result_.draws = model_.parted_at_draw() ? paths_.to(step.from) : paths_.along(step);
    return false;
  }
  bool too_many_branches(StateId) override {
    result_.parting = Parting::too_many_states;
    return false;
  }

  PairModel model_;
  StateGraph graph_;
  const uint64_t most_;
  const std::function<bool(uint64_t)>& poll_;
  Paths paths_;
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
