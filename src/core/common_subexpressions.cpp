#include "common_subexpressions.h"

#include <array>
#include <map>
#include <optional>

#include "def_use.h"
#include "rewrite.h"

namespace basanos {
namespace {

bool makes_one_result(const Instr& in) {
  const char role = op_info(in.op).roles[0];
  return (role == 'i' || role == 'd' || role == 'N') && !stops(in.op);
}

int copy_op(char role) { return role == 'i' ? OP_MOV : role == 'd' ? OP_DMOV : OP_LCOPY; }

bool is_copy(int op) { return op == OP_MOV || op == OP_DMOV || op == OP_LCOPY; }

// Facts: `a` holds the result of an operation. Two operations that are alike in all make one fact.
class Facts {
 public:
  explicit Facts(const Program& p) : def_use_(p), fact_of_(p.code.size(), -1), about_(def_use_.count()) {
    std::map<std::array<int32_t, 5>, int> numbers;
    for (size_t i = 0; i < p.code.size(); ++i) {
      const Instr& in = p.code[i];
      if (!makes_one_result(in) || reads_its_result(in)) continue;
      const auto [found, added] = numbers.insert({{in.op, in.a, in.b, in.c, in.d}, static_cast<int>(facts_.size())});
      fact_of_[i] = found->second;
      if (!added) continue;
      const auto note = [&](size_t k) { about_[k].push_back(static_cast<size_t>(found->second)); };
      def_use_.each_read(in, note);
      def_use_.each_write(in, note);
      facts_.push_back(in);
    }
  }

  size_t count() const { return facts_.size(); }

  // From what holds before operation `i` of the code to what holds after it.
  void step(const Instr& in, size_t i, Bitset& holds) const {
    def_use_.each_write(in, [&](size_t k) {
      for (size_t fact : about_[k]) holds.drop(fact);
    });
    if (fact_of_[i] >= 0) holds.put(static_cast<size_t>(fact_of_[i]));
  }

  // The fact that satisfies the test, among those about the register or list numbered `k`.
  template <class Test>
  const Instr* find(const Bitset& holds, size_t k, Test test) const {
    for (size_t fact : about_[k])
      if (holds.has(fact) && test(facts_[fact])) return &facts_[fact];
    return nullptr;
  }

  // The source of which the register or list is a copy.
  const Instr* copy(const Bitset& holds, char role, int32_t of) const {
    const int op = copy_op(role == 'I' ? 'i' : role == 'D' ? 'd' : 'N');
    return find(holds, numbered(op, of), [op, of](const Instr& f) { return f.op == op && f.a == of; });
  }

  // Something that holds the result of the same operation on the same things.
  const Instr* same(const Bitset& holds, const Instr& in) const {
    const auto same_operands = [&in](const Instr& f) {
      return f.op == in.op && f.b == in.b && f.c == in.c && f.d == in.d;
    };
    std::optional<size_t> about;
    def_use_.each_read(in, [&about](size_t k) { about = k; });
    return about ? find(holds, *about, same_operands)
                 : find(holds, numbered(in.op, in.a), [&](const Instr& f) { return same_operands(f) && f.a == in.a; });
  }

  bool is_empty(const Bitset& holds, int32_t list) const {
    return find(holds, def_use_.of_list(list), [list](const Instr& f) { return f.op == OP_LCLEAR && f.a == list; }) !=
           nullptr;
  }

 private:
  size_t numbered(int op, int32_t result) const {
    const char role = op_info(op).roles[0];
    return role == 'i' ? index(result) : role == 'd' ? def_use_.of_real(result) : def_use_.of_list(result);
  }

  bool reads_its_result(const Instr& in) const {
    bool both = false;
    def_use_.each_write(
        in, [&](size_t written) { def_use_.each_read(in, [&](size_t read) { both = both || read == written; }); });
    return both;
  }

  const DefUse def_use_;
  std::vector<int> fact_of_;
  std::vector<std::vector<size_t>> about_;  // by register or list: the facts that a change of it ends
  std::vector<Instr> facts_;
};

// The facts at the start of each basic block, by iteration to a fixed point; a block starts where something
// jumps to, and behind each jump.
class AvailableFacts {
 public:
  AvailableFacts(Program& p, const Facts& facts)
      : p_(p), facts_(facts), starts_(jump_targets(p)), at_start_(p.code.size()) {
    for (size_t i = 0; i + 1 < p.code.size(); ++i)
      each_target(p.code[i], [&](int32_t&) { starts_[i + 1] = true; });
    starts_[0] = true;
    at_start_[0].emplace(facts.count());
    for (bool again = true; again;) {
      again = false;
      Bitset holds(facts.count());
      bool reached = false;  // through what stands before, as far as is known
      for (size_t i = 0; i < p.code.size(); ++i) {
        if (starts_[i]) {
          if (reached) again = meet(i, holds) || again;
          reached = at_start_[i].has_value();
          if (reached) holds = *at_start_[i];
        }
        if (!reached) continue;
        facts.step(p.code[i], i, holds);
        each_target(p.code[i], [&](int32_t& t) { again = meet(index(t), holds) || again; });
        if (never_falls_through(p.code[i].op)) reached = false;
      }
    }
  }

  // Calls visit(i, what holds before operation i) for each operation in order; visit may change that operation.
  template <class Visit>
  void each(Visit visit) const {
    Bitset holds(facts_.count());
    bool reached = false;
    for (size_t i = 0; i < p_.code.size(); ++i) {
      if (starts_[i]) {
        reached = at_start_[i].has_value();
        if (reached) holds = *at_start_[i];
      }
      if (!reached) continue;
      const Instr written = p_.code[i];
      visit(i, holds);
      facts_.step(written, i, holds);
      if (never_falls_through(written.op)) reached = false;
    }
  }

 private:
  bool meet(size_t i, const Bitset& holds) {
    if (at_start_[i]) return at_start_[i]->intersect(holds);
    at_start_[i] = holds;
    return true;
  }

  Program& p_;
  const Facts& facts_;
  std::vector<bool> starts_;
  std::vector<std::optional<Bitset>> at_start_;
};

class CommonSubexpressions {
 public:
  explicit CommonSubexpressions(Program& p) : p_(p), facts_(p), before_(p, facts_), written_(written_ints(p)) {}

  void go() {
    before_.each([this](size_t i, const Bitset& holds) {
      Instr& in = p_.code[i];
      read_originals(in, holds);
      take_what_is_there(in, holds);
      settle(in, i);
    });
  }

 private:
  void read_originals(Instr& in, const Bitset& holds) {
    const char* roles = op_info(in.op).roles;
    for (int k = 0; k < 4; ++k) {
      if (roles[k] != 'I' && roles[k] != 'D' && roles[k] != 'L') continue;
      const Instr* const copy = facts_.copy(holds, roles[k], operand(in, k));
      if (copy != nullptr && !(roles[k] == 'L' && writes_list(in, copy->b))) operand(in, k) = copy->b;
    }
  }

  // An operation that makes a list anew must not read that list: it would read what it has just written.
  static bool writes_list(const Instr& in, int32_t list) {
    const char* roles = op_info(in.op).roles;
    for (int k = 0; k < 4; ++k)
      if ((roles[k] == 'N' || roles[k] == 'M') && in.operand(k) == list) return true;
    return false;
  }

  void take_what_is_there(Instr& in, const Bitset& holds) {
    if (in.op == OP_LAPPEND && facts_.is_empty(holds, in.a) && in.a != in.b) in = {OP_LCOPY, in.a, in.b, 0, 0, in.at};
    if (!makes_one_result(in)) return;
    const Instr* const there = facts_.same(holds, in);
    if (there == nullptr) return;
    const char role = op_info(in.op).roles[0];
    if (there->a == in.a) in = no_op(in);
    else if (!is_copy(in.op) && in.op != OP_LCLEAR &&
             (role != 'N' || p_.lists[index(in.a)].room >= p_.lists[index(there->a)].room))
      in = {copy_op(role), in.a, there->a, 0, 0, in.at};
  }

  const int32_t* known(int32_t reg) const {
    return index(reg) < written_.size() && !written_[index(reg)] ? &p_.int_start[index(reg)] : nullptr;
  }

  // A jump that is always or never taken, a comparison of constants.
  void settle(Instr& in, size_t i) {
    if (op_info(in.op).roles[0] != 'I' && op_info(in.op).roles[0] != 'i') return;
    const std::optional<bool> taken = known_jump(in, [this](int32_t reg) { return known(reg); });
    if (taken) in = {OP_JMP, *taken ? branch_target(in) : static_cast<int32_t>(i + 1), 0, 0, 0, in.at};
    const int32_t* const b = known(in.b);
    const int32_t* const c = op_info(in.op).roles[2] == 'I' ? known(in.c) : nullptr;
    switch (in.op) {
      case OP_EQ: if (b != nullptr && c != nullptr) set(in, *b == *c); break;
      case OP_NE: if (b != nullptr && c != nullptr) set(in, *b != *c); break;
      case OP_LT: if (b != nullptr && c != nullptr) set(in, *b < *c); break;
      case OP_LE: if (b != nullptr && c != nullptr) set(in, *b <= *c); break;
      case OP_NOT: if (b != nullptr) set(in, *b == 0); break;
      case OP_SEL: if (b != nullptr) in = {OP_MOV, in.a, *b != 0 ? in.c : in.d, 0, 0, in.at}; break;
      default: break;
    }
  }

  void set(Instr& in, int32_t value) { in = {OP_MOV, in.a, constant_register(p_, written_, value), 0, 0, in.at}; }

  Program& p_;
  const Facts facts_;
  const AvailableFacts before_;
  const std::vector<bool> written_;
};

}  // namespace

void reuse_common_subexpressions(Program& program) { CommonSubexpressions(program).go(); }

void settle_constant_lists(Program& p) {
  const std::vector<bool> written = written_ints(p);
  const std::vector<bool> is_target = jump_targets(p);
  const DefUse def_use(p);
  std::vector<size_t> writes(def_use.count());
  for (const Instr& in : p.code) def_use.each_write(in, [&writes](size_t k) { ++writes[k]; });
  for (size_t i = 0; i < p.code.size(); ++i) {
    const Instr clear = p.code[i];
    if (clear.op != OP_LCLEAR) continue;
    size_t end = i + 1;
    while (end < p.code.size() && p.code[end].op == OP_LPUT && p.code[end].a == clear.a && !is_target[end] &&
           !written[index(p.code[end].b)])
      ++end;
    const List& list = p.lists[index(clear.a)];
    const auto count = static_cast<int32_t>(end - i - 1);
    if (writes[def_use.of_list(clear.a)] != end - i || count > list.room) continue;
    p.int_start[index(list.base)] = count;
    for (int32_t k = 1; k <= count; ++k) p.int_start[index(list.base + k)] = p.int_start[index(p.code[i + index(k)].b)];
    for (size_t k = i; k < end; ++k) p.code[k] = no_op(p.code[k]);
  }
}

}  // namespace basanos
