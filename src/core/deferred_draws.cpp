#include "deferred_draws.h"

#include <algorithm>
#include <cstring>
#include <map>
#include <optional>
#include <utility>

#include "def_use.h"
#include "liveness.h"
#include "rewrite.h"

namespace basanos {
namespace {

constexpr int32_t kMostValues = 20000;

// The draws that can be deferred, by the register of their value.
class Deferrable {
 public:
  explicit Deferrable(const Program& p) : p_(p), def_use_(p), written_(written_ints(p)), state_(p.int_start.size()) {
    find_draws();
    forbid_shared();
    forbid_short_lived();
    const std::vector<bool> remembered = in_memo_regions();
    for (size_t i = 0; i < p.code.size(); ++i) read(p.code[i], remembered[i]);
  }

  std::vector<int32_t> registers() const {
    std::vector<int32_t> found;
    for (size_t reg = 0; reg < state_.size(); ++reg)
      if (is_open(reg)) found.push_back(static_cast<int32_t>(reg));
    return found;
  }

 private:
  struct State {
    int64_t draw = -1;  // where it is drawn
    bool forbidden = false;
  };

  void forbid(size_t reg) {
    if (reg < state_.size()) state_[reg].forbidden = true;
  }

  void find_draws() {
    for (size_t i = 0; i < p_.code.size(); ++i) {
      const Instr& in = p_.code[i];
      if (in.op != OP_DRAW) continue;
      State& drawn = state_[index(in.a)];
      if (drawn.draw >= 0 || written_[index(in.c)] || written_[index(in.d)] || !fits(in)) drawn.forbidden = true;
      drawn.draw = static_cast<int64_t>(i);
    }
  }

  bool fits(const Instr& in) const {
    const int32_t low = p_.int_start[index(in.c)], count = p_.int_start[index(in.d)];
    return count > 0 && count <= kMostValues && low <= INT32_MAX - count;
  }

  // Registers that an engine reads or writes by itself, or that belong to something larger.
  void forbid_shared() {
    const auto all = [this](int32_t base, int32_t size) {
      for (int32_t k = 0; k < size; ++k) forbid(index(base + k));
    };
    for (const Array& a : p_.arrays)
      if (!a.real) all(a.base, a.size);
    for (int32_t base : p_.symmetry.arrays) all(base, p_.symmetry.count);
    for (int32_t reg : p_.symmetry.regs) all(reg, 1);
    for (int32_t reg : recorded_registers(p_).ints) all(reg, 1);
    for (const Instr& in : p_.code)
      if (in.op == OP_ASK) all(in.c, 1);
  }

  std::vector<bool> in_memo_regions() const {
    std::vector<bool> inside(p_.code.size());
    for (size_t i = 0; i < p_.code.size(); ++i) {
      if (p_.code[i].op != OP_MEMO) continue;
      for (size_t k = i; k < p_.code.size() && p_.code[k].op != OP_STORE; ++k) inside[k] = true;
    }
    return inside;
  }

  // An operation cannot go by a set where it draws, writes the value too, or reads another such value.
  void read(const Instr& in, bool remembered) {
    std::vector<size_t> reads, writes;
    def_use_.each_read(in, [&](size_t k) { add_draw(k, reads); });
    def_use_.each_write(in, [&](size_t k) { add_draw(k, writes); });
    for (size_t k : writes)
      if (remembered || (in.op != OP_DRAW && !puts_back(in))) forbid(k);
    for (size_t k : reads) {
      if (remembered || stops(in.op)) forbid(k);
      if (std::find(writes.begin(), writes.end(), k) != writes.end()) forbid(k);
    }
    for (size_t n = 1; n < reads.size(); ++n) forbid(reads[n]);
  }

  void add_draw(size_t k, std::vector<size_t>& to) const {
    if (k < state_.size() && is_open(k) && std::find(to.begin(), to.end(), k) == to.end()) to.push_back(k);
  }

  // Does it write what the register has at the start? As where a round begins again.
  bool puts_back(const Instr& in) const {
    return in.op == OP_MOV && !written_[index(in.b)] && p_.int_start[index(in.b)] == p_.int_start[index(in.a)];
  }

  bool is_open(size_t reg) const { return state_[reg].draw >= 0 && !state_[reg].forbidden; }

  // A value that is alive at no later draw keeps no states apart.
  void forbid_short_lived() {
    std::vector<LiveRegisters> alive;
    for (size_t reg = 0; reg < state_.size(); ++reg) {
      if (!is_open(reg)) continue;
      if (alive.empty()) alive = Liveness(p_).at_stops();
      if (!is_alive_later(static_cast<int32_t>(reg), alive)) forbid(reg);
    }
  }

  bool is_alive_later(int32_t reg, const std::vector<LiveRegisters>& alive) const {
    const auto drawn = static_cast<size_t>(state_[index(reg)].draw);
    const std::vector<bool> later =
        reached_behind(p_, {drawn}, [&](size_t i) { return !overwrites(p_.code[i], reg); });
    for (size_t i = 0; i < p_.code.size(); ++i)
      if (later[i] && is_chance(p_.code[i].op) &&
          std::find(alive[i].ints.begin(), alive[i].ints.end(), reg) != alive[i].ints.end())
        return true;
    return false;
  }

  bool overwrites(const Instr& in, int32_t reg) const {
    bool found = false;
    def_use_.each_overwrite(in, [&](size_t k) { found = found || k == index(reg); });
    return found;
  }

  const Program& p_;
  const DefUse def_use_;
  const std::vector<bool> written_;
  std::vector<State> state_;
};

// The list that holds the set of a register: the first and the last value of each run.
int32_t add_set(Program& p, int32_t count) {
  const int32_t room = count + 1;
  p.lists.push_back({static_cast<int32_t>(p.int_start.size()), room});
  p.int_start.resize(p.int_start.size() + index(room) + 1);
  return static_cast<int32_t>(p.lists.size() - 1);
}

// What a comparison comes to; nothing where the operation is none.
std::optional<bool> compared(int op, int32_t left, int32_t right) {
  switch (op) {
    case OP_EQ: case OP_JEQ: return left == right;
    case OP_NE: case OP_JNE: return left != right;
    case OP_LT: case OP_JLT: case OP_LOOPLT: return left < right;
    case OP_LE: case OP_JLE: case OP_LOOPLE: return left <= right;
    default: return std::nullopt;
  }
}

// The two sides of a comparison.
std::pair<int32_t, int32_t> sides(const Instr& in) {
  return op_info(in.op).roles[0] == 'I' ? std::pair(in.a, in.b) : std::pair(in.b, in.c);
}

// Cut where a comparison with `value` may change.
template <class Visit>
void each_piece(const int32_t* runs, int32_t value, Visit visit) {
  for (int32_t k = 0; k + 1 < runs[0]; k += 2) {
    const int32_t low = runs[1 + k], high = runs[2 + k];
    if (value < low || value > high) {
      visit(low, high);
      continue;
    }
    if (low < value) visit(low, value - 1);
    visit(value, value);
    if (value < high) visit(value + 1, high);
  }
}

bool reads(const DefUse& def_use, const Instr& in, int32_t reg) {
  bool found = false;
  def_use.each_read(in, [&](size_t k) { found = found || k == index(reg); });
  return found;
}

}  // namespace

size_t defer_draws(Program& p) {
  const std::vector<int32_t> registers = Deferrable(p).registers();
  if (registers.empty()) return 0;
  std::map<int32_t, int32_t> set_of;
  for (Instr& in : p.code) {
    if (in.op != OP_DRAW || !std::binary_search(registers.begin(), registers.end(), in.a)) continue;
    const int32_t set = set_of[in.a] = add_set(p, p.int_start[index(in.d)]);
    in = {OP_DEFER, set, in.b, in.c, in.d, in.at};
  }
  const DefUse def_use(p);
  std::vector<Instr> code;
  std::vector<int32_t> new_place;
  for (Instr in : p.code) {
    new_place.push_back(static_cast<int32_t>(code.size()));
    if (in.op == OP_MOV && set_of.count(in.a) > 0) in = {OP_LCLEAR, set_of[in.a], 0, 0, 0, in.at};
    else
      for (const auto& [reg, set] : set_of)
        if (reads(def_use, in, reg)) code.push_back({OP_SPLIT, reg, set, 0, 0, in.at});
    code.push_back(in);
  }
  for (Instr& in : code) each_target(in, [&](int32_t& target) { target = new_place[index(target)]; });
  p.code = std::move(code);
  return registers.size();
}

SetSplitter::SetSplitter(const Program& p)
    : program_(p), alone_(p), trial_(p), reader_at_(p.code.size(), -1) {
  const DefUse def_use(p);
  alone_.code.clear();
  for (size_t i = 0; i < p.code.size(); ++i) {
    if (p.code[i].op != OP_SPLIT) continue;
    reader_at_[i] = static_cast<int32_t>(readers_.size());
    Instr in = p.code[i + 1];
    Reader reader;
    size_t overwritten = 0;
    def_use.each_overwrite(in, [&](size_t) { ++overwritten; });
    def_use.each_write(in, [&](size_t k) {
      if (k >= def_use.lists()) reader.lists.push_back(p.lists[k - def_use.lists()]);
      else if (k >= def_use.reals()) reader.reals.push_back(static_cast<int32_t>(k - def_use.reals()));
      else reader.ints.push_back(static_cast<int32_t>(k));
    });
    reader.reads_what_it_writes = reader.ints.size() + reader.reals.size() + reader.lists.size() > overwritten;
    if (compared(in.op, 0, 0) && sides(in).first != sides(in).second)
      reader.compared_with = sides(in).first == p.code[i].a ? sides(in).second : sides(in).first;
    each_target(in, [this](int32_t& target) { target = static_cast<int32_t>(alone_.code.size()) + 2; });
    alone_.code.insert(alone_.code.end(), {in, {OP_END, 0, 0, 0, 0, in.at}, {OP_END, 0, 0, 0, 0, in.at}});
    readers_.push_back(std::move(reader));
  }
}

SetSplitter::Result SetSplitter::result(const Reader& reader, int32_t reg, int32_t value) {
  const auto first = static_cast<int32_t>(3 * (&reader - readers_.data()));
  trial_.ints[index(reg)] = value;
  trial_.restart(alone_);
  trial_.pc = first;
  const Stop stop = run<Branching>(alone_, trial_);
  Result found{static_cast<int32_t>(stop), trial_.pc - first, stop == Stop::fail ? trial_.fail : FAIL_NONE};
  for (int32_t k : reader.ints) found.push_back(trial_.ints[index(k)]);
  for (int32_t k : reader.reals) {
    int32_t halves[2];
    std::memcpy(halves, &trial_.reals[index(k)], sizeof halves);
    found.insert(found.end(), halves, halves + 2);
  }
  for (const List& list : reader.lists) {
    const int32_t* const items = &trial_.ints[index(list.base)];
    found.insert(found.end(), items, items + items[0] + 1);
  }
  return found;
}

void SetSplitter::find_parts(const Frame& frame, Level& level) {
  const Instr& in = program_.code[index(frame.pc)];
  const int32_t* const runs = &frame.ints[index(program_.lists[index(in.b)].base)];
  if (runs[0] == 0) {  // not drawn yet
    add_to(level, 0, program_.int_start[index(in.a)], program_.int_start[index(in.a)]);
    level.parts[0].runs.clear();
    return;
  }
  const Reader& reader = readers_[index(reader_at_[index(frame.pc)])];
  if (reader.compared_with < 0) return find_parts_by_result(reader, frame, level);
  const Instr& next = program_.code[index(frame.pc) + 1];
  const bool left = sides(next).first == in.a;
  const int32_t other = frame.ints[index(reader.compared_with)];
  std::optional<bool> of_first;
  each_piece(runs, other, [&](int32_t low, int32_t high) {
    const bool result = *(left ? compared(next.op, low, other) : compared(next.op, other, low));
    if (!of_first) of_first = result;
    add_to(level, result == *of_first ? 0 : 1, low, high);
  });
}

void SetSplitter::find_parts_by_result(const Reader& reader, const Frame& frame, Level& level) {
  const Instr& in = program_.code[index(frame.pc)];
  const int32_t* const runs = &frame.ints[index(program_.lists[index(in.b)].base)];
  const auto begin = [&] {
    trial_.ints = frame.ints;
    trial_.reals = frame.reals;
  };
  begin();
  std::map<Result, size_t> known;
  for (int32_t k = 0; k + 1 < runs[0]; k += 2)
    for (int32_t value = runs[1 + k]; value <= runs[2 + k]; ++value) {
      add_to(level, known.emplace(result(reader, in.a, value), level.count).first->second, value, value);
      if (reader.reads_what_it_writes) begin();
    }
}

void SetSplitter::add_to(Level& level, size_t k, int32_t low, int32_t high) {
  if (k == level.count) {
    if (level.parts.size() == k) level.parts.emplace_back();
    level.parts[k].runs.clear();
    level.parts[k].value = low;
    level.parts[k].count = 0;
    ++level.count;
  }
  Part& part = level.parts[k];
  if (!part.runs.empty() && part.runs.back() + 1 == low) part.runs.back() = high;
  else part.runs.insert(part.runs.end(), {low, high});
  part.count += int64_t{high} - low + 1;
  level.values += int64_t{high} - low + 1;
}

size_t SetSplitter::split(const Frame& frame) {
  if (levels_.size() == depth_) levels_.emplace_back();
  Level& level = levels_[depth_++];
  level.count = 0;
  level.values = 0;
  find_parts(frame, level);
  if (level.count > 1) {
    level.ints = frame.ints;
    level.reals = frame.reals;
    level.budget = frame.budget;
    level.rounds_left = frame.rounds_left;
    level.pc = frame.pc;
  }
  return level.count;
}

Weight SetSplitter::enter(size_t k, Frame& frame) {
  const Level& level = levels_[depth_ - 1];
  if (k > 0) {
    frame.ints = level.ints;
    frame.reals = level.reals;
    frame.budget = level.budget;
    frame.rounds_left = level.rounds_left;
    frame.pc = level.pc;
    frame.fail = FAIL_NONE;
  }
  take(level.parts[k], frame);
  return static_cast<Weight>(level.parts[k].count) / static_cast<Weight>(level.values);
}

void SetSplitter::take(const Part& part, Frame& frame) const {
  const Instr& in = program_.code[index(frame.pc)];
  int32_t* const runs = &frame.ints[index(program_.lists[index(in.b)].base)];
  runs[0] = static_cast<int32_t>(part.runs.size());
  std::copy(part.runs.begin(), part.runs.end(), runs + 1);
  frame.ints[index(in.a)] = part.value;
  ++frame.pc;
}

}  // namespace basanos
