#include "additive.h"

#include <algorithm>

#include "liveness.h"
#include "rewrite.h"

namespace basanos {
namespace {

class AdditiveSearch {
 public:
  explicit AdditiveSearch(const Program& p) : p_(p), written_(written_ints(p)), used_(p.int_start.size()) {
    for (size_t i = 0; i < p.code.size(); ++i) {
      const char* roles = op_info(p.code[i].op).roles;
      for (int k = 0; k < 4; ++k)
        if (is_whole(roles[k])) used_[index(p.code[i].operand(k))].push_back(i);
    }
    mark_shared();
  }

  std::vector<AdditiveRecord> search() {
    std::vector<int32_t> candidates;
    for (const std::vector<Quantity>* list : {&p_.quantities, &p_.unit_quantities})
      for (const Quantity& q : *list) {
        if (q.real) continue;
        candidates.push_back(q.reg);
        for (size_t i : used_[index(q.reg)])
          if (p_.code[i].a == q.reg && is_sum(p_.code[i]))
            candidates.insert(candidates.end(), {p_.code[i].b, p_.code[i].op == OP_ADD ? p_.code[i].c : q.reg});
      }
    for (int32_t reg : candidates) try_record(reg);
    return std::move(found_);
  }

 private:
  static bool is_whole(char role) { return role == 'i' || role == 'I' || role == 'U'; }
  static bool is_sum(const Instr& in) { return in.op == OP_ADD || in.op == OP_MOV; }

  std::vector<bool> behind(const std::vector<size_t>& some) const {
    return reached_behind(p_, some, [](size_t) { return true; });
  }

  std::vector<bool> behind_stops() const {
    std::vector<size_t> all;
    for (size_t i = 0; i < p_.code.size(); ++i)
      if (stops(p_.code[i].op) || p_.code[i].op == OP_TALLY) all.push_back(i);
    return behind(all);
  }

  // Registers that more than plain operands reach.
  void mark_shared() {
    shared_.assign(p_.int_start.size(), false);
    const auto share = [this](int32_t base, int32_t size) {
      for (int32_t k = 0; k < size; ++k) shared_[index(base + k)] = true;
    };
    for (const Array& a : p_.arrays)
      if (!a.real) share(a.base, a.size);
    for (const List& l : p_.lists) share(l.base, l.room + 1);
    for (int32_t base : p_.symmetry.arrays) share(base, p_.symmetry.count);
    for (int32_t reg : p_.symmetry.regs) share(reg, 1);
    share(p_.outcome_register, 1);
    if (p_.lanes > 0) share(p_.lane_register, 1);
    for (const Instr& in : p_.code)
      if (in.op == OP_ASK) share(in.c, 1);
  }

  void try_record(int32_t reg) {
    if (shared_[index(reg)] || is_known(reg)) return;
    std::vector<int32_t> ends;  // registers that are a sum of this one and something more
    std::vector<size_t> writes, starts;
    for (size_t i : used_[index(reg)]) {
      const Instr& in = p_.code[i];
      if (is_sum(in) && in.a != reg) ends.push_back(in.a);
      else if (adds_to(in, reg)) writes.push_back(i);
      else if (only_writes(in, reg)) starts.push_back(i);
      else if (!shows_growth(in)) return;
    }
    if (writes.empty()) return;  // no states are kept apart by it
    for (size_t i : starts)
      if (!is_zero(p_.code[i])) writes.push_back(i);
    if (starts_again(starts, writes)) return;
    AdditiveRecord record{reg, {}, {}};
    for (int32_t end : ends)
      if (!ends_as(end, reg)) return;
    ends.push_back(reg);
    const auto follow = [&ends](const std::vector<Quantity>& quantities, std::vector<size_t>& out) {
      for (size_t q = 0; q < quantities.size(); ++q)
        if (!quantities[q].real && std::find(ends.begin(), ends.end(), quantities[q].reg) != ends.end())
          out.push_back(q);
    };
    follow(p_.quantities, record.quantities);
    follow(p_.unit_quantities, record.unit_quantities);
    found_.push_back(record);
  }

  // Can a start come behind a stop of the unit and behind something that was added?
  bool starts_again(const std::vector<size_t>& starts, const std::vector<size_t>& writes) {
    if (behind_stop_.empty()) behind_stop_ = behind_stops();
    const std::vector<bool> after = behind(writes);
    return std::any_of(starts.begin(), starts.end(), [&](size_t i) { return behind_stop_[i] && after[i]; });
  }

  bool is_known(int32_t reg) const {
    return std::any_of(found_.begin(), found_.end(), [reg](const AdditiveRecord& r) { return r.reg == reg; });
  }

  // Is something that has nothing to do with the register added to it?
  static bool adds_to(const Instr& in, int32_t reg) {
    switch (in.op) {
      case OP_ADD: return in.a == reg && (in.b == reg) != (in.c == reg);
      case OP_SUB: return in.a == reg && in.b == reg && in.c != reg;
      case OP_ADDLT: case OP_ADDLE: return in.a == reg && in.b != reg && in.c != reg && in.d != reg;
      case OP_DRAWADD: return in.a == reg && in.c != reg && in.d != reg;
      case OP_DRAWCNT: return (in.a == reg) != (in.d == reg);
      default: return false;
    }
  }

  // To who sees each value it is the same to see what the sum grows by.
  static bool shows_growth(const Instr& in) { return in.op == OP_SEE && in.a >= kFirstEvent; }

  bool is_zero(const Instr& in) const {
    return in.op == OP_MOV && !written_[index(in.b)] && p_.int_start[index(in.b)] == 0;
  }

  static bool only_writes(const Instr& in, int32_t reg) {
    const char* roles = op_info(in.op).roles;
    for (int k = 0; k < 4; ++k)
      if (is_whole(roles[k]) && in.operand(k) == reg && roles[k] != 'i') return false;
    return true;
  }

  // Is the register, where it is recorded, always that one and something more, and of no use else?
  bool ends_as(int32_t end, int32_t reg) {
    if (shared_[index(end)] || !is_recorded(end)) return false;
    for (size_t i : used_[index(end)]) {
      const Instr& in = p_.code[i];
      if (!is_sum(in) || in.a != end || in.b == end || (in.op == OP_ADD && in.c == end)) return false;
      const int32_t more = in.op == OP_MOV ? -1 : in.b == reg ? in.c : in.b;
      if (in.op == OP_MOV ? in.b != reg : (in.b == reg) == (in.c == reg)) return false;
      if (more >= 0 && is_known(more)) return false;
    }
    if (alive_.empty()) alive_ = Liveness(p_).at_stops();
    for (size_t i = 0; i < p_.code.size(); ++i)
      if (stops(p_.code[i].op) &&
          std::find(alive_[i].ints.begin(), alive_[i].ints.end(), end) != alive_[i].ints.end())
        return false;
    return true;
  }

  bool is_recorded(int32_t reg) const {
    const auto has = [reg](const std::vector<Quantity>& list) {
      return std::any_of(list.begin(), list.end(), [reg](const Quantity& q) { return !q.real && q.reg == reg; });
    };
    return has(p_.quantities) || has(p_.unit_quantities);
  }

  const Program& p_;
  const std::vector<bool> written_;
  std::vector<bool> shared_, behind_stop_;
  std::vector<std::vector<size_t>> used_;  // the operations with each register as an operand
  std::vector<LiveRegisters> alive_;  // as behind_stop_, worked out where a register is a likely one
  std::vector<AdditiveRecord> found_;
};

}  // namespace

std::vector<AdditiveRecord> additive_records(const Program& program) { return AdditiveSearch(program).search(); }

bool Distribution::add(const Distribution& other, int32_t growth, Weight factor) {
  if (other.size_ == 0) return true;
  const int64_t first = other.first_ + growth, end = first + static_cast<int64_t>(other.size_);
  if (first < INT32_MIN || end > INT32_MAX) return false;
  if (size_ == 0 && other.size_ == 1) {
    first_ = first;
    size_ = 1;
    single_ = other.single_ * factor;
    return true;
  }
  if (size_ == 0) first_ = first;
  const int64_t low = std::min(first, first_), high = std::max(end, first_ + static_cast<int64_t>(size_));
  if (high - low > kMostValues) return false;
  widen(low, high);
  Weight* const to = (size_ == 1 ? &single_ : many_.data()) + (first - first_);
  for (size_t k = 0; k < other.size_; ++k) to[k] += other.weights()[k] * factor;
  return true;
}

void Distribution::widen(int64_t first, int64_t end) {
  const auto size = static_cast<size_t>(end - first);
  if (size == size_) return;
  if (size_ == 1) many_.assign(1, single_);
  if (size_ > 0) many_.insert(many_.begin(), static_cast<size_t>(first_ - first), 0);
  many_.resize(size);
  first_ = first;
  size_ = size;
}

bool Totals::add(size_t state, size_t record, const Distribution& other, int32_t growth, Weight factor) {
  const size_t place = state * records_ + record;
  if (all_.size() <= place) all_.resize((state + 1) * records_);
  const size_t before = all_[place].size();
  const bool fits = all_[place].add(other, growth, factor);
  values_ += all_[place].size() - before;
  return fits;
}

}  // namespace basanos
