// Passes about values: sums that are known, counts that nobody reads, operations that do nothing.
#include <cstddef>
#include <utility>

#include "liveness.h"
#include "passes.h"

namespace basanos {

// x <- constant; ...; x <- x + constant, with nothing that jumps between: the sum is known.
void add_known_values(Program& p) {
  const std::vector<bool> is_target = jump_targets(p);
  const std::vector<bool> written = written_ints(p);
  std::vector<std::pair<int32_t, int32_t>> values;  // register -> value, in this stretch of code
  const auto forget = [&values](int32_t reg) {
    for (size_t k = values.size(); k-- > 0;)
      if (values[k].first == reg) values.erase(values.begin() + static_cast<std::ptrdiff_t>(k));
  };
  const auto known = [&](int32_t reg) -> const int32_t* {
    if (index(reg) < written.size() && !written[index(reg)]) return &p.int_start[index(reg)];
    for (const auto& [c, v] : values)
      if (c == reg) return &v;
    return nullptr;
  };
  for (size_t i = 0; i < p.code.size(); ++i) {
    if (is_target[i]) values.clear();
    Instr& in = p.code[i];
    if (in.op == OP_ADD && known(in.b) && known(in.c)) {
      int32_t sum;
      if (!__builtin_add_overflow(*known(in.b), *known(in.c), &sum))
        in = {OP_MOV, in.a, constant_register(p, written, sum), 0, 0, in.at};
    }
    if (in.op == OP_DRAWADD && known(in.a) && *known(in.a) == 0) in.op = OP_DRAW;
    const char* roles = op_info(in.op).roles;
    const int32_t* value = in.op == OP_MOV ? known(in.b) : nullptr;
    const int32_t kept = value == nullptr ? 0 : *value;
    for (int k = 0; k < 4; ++k)
      if (roles[k] == 'i' || roles[k] == 'U') forget(in.operand(k));
    for (int k = 0; k < 4; ++k)  // lists and arrays may write anywhere in their range
      if (writes_many(roles[k])) values.clear();
    if (value != nullptr) values.push_back({in.a, kept});
    if (never_falls_through(in.op)) values.clear();
  }
}

// A count that nothing but itself ever reads: it would only keep states apart. It cannot overflow, for it goes up by
// one and there are fewer steps in a unit than whole numbers.
void drop_unread_counts(Program& p) {
  const DefUse def_use(p);
  const std::vector<bool> written = written_ints(p);
  Bitset read(def_use.count());
  const auto counts_up = [&](const Instr& in) {
    return in.op == OP_ADD && in.a == in.b && !written[index(in.c)] && p.int_start[index(in.c)] == 1;
  };
  for (const Instr& in : p.code)
    if (!counts_up(in)) def_use.each_read(in, [&read](size_t k) { read.put(k); });
  read.put(index(p.outcome_register));
  for (const std::vector<Quantity>* list : {&p.quantities, &p.unit_quantities})
    for (const Quantity& q : *list)
      if (!q.real) read.put(index(q.reg));
  for (Instr& in : p.code)
    if (counts_up(in) && !read.has(index(in.a))) in = no_op(in);
}

bool remove_no_ops(Program& p) {
  const Liveness live(p);
  std::vector<bool> keep(p.code.size(), true);
  for (size_t i = 0; i < p.code.size(); ++i) {
    const Instr& in = p.code[i];
    if (branch_target(in) == static_cast<int32_t>(i + 1)) keep[i] = false;
    else if (in.op == OP_MOV && in.a == in.b) keep[i] = false;
    else if (cannot_fail(p, in)) keep[i] = live.writes_live(i);
  }
  return compact(p, keep);
}

}  // namespace basanos
