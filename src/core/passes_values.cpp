// Passes about values: sums that are known, sums that nobody reads, operations that do nothing.
#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <optional>
#include <utility>

#include "liveness.h"
#include "passes.h"
#include "tabulate.h"

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

// The greatest amount by which an operation may raise or lower a register that it only adds to; none where it does
// something else, or where that is not known.
std::optional<int64_t> most_added(const Program& p, const std::vector<bool>& written, const Instr& in) {
  const auto size = [&](int32_t reg) -> std::optional<int64_t> {
    if (!written[index(reg)]) return std::abs(int64_t{p.int_start[index(reg)]});
    const std::optional<Ends> range = range_of(p, reg);
    if (!range) return std::nullopt;
    return std::max({std::abs(int64_t{range->low}), std::abs(int64_t{range->high}),
                     std::abs(int64_t{p.int_start[index(reg)]})});
  };
  switch (in.op) {
    case OP_ADD: return in.a == in.b && in.a != in.c ? size(in.c) : std::nullopt;
    case OP_ADDLT:
    case OP_ADDLE: return in.a != in.b && in.a != in.c && in.a != in.d ? size(in.d) : std::nullopt;
    case OP_DRAWADD:
      if (written[index(in.c)] || written[index(in.d)]) return std::nullopt;
      return std::abs(int64_t{p.int_start[index(in.c)]}) + std::abs(int64_t{p.int_start[index(in.d)]});
    default: return std::nullopt;
  }
}

// A sum that nothing but itself ever reads would only keep states apart. Only such sums go as cannot overflow: the
// steps of a round, by what is added at most.
void drop_unread_sums(Program& p) {
  constexpr int64_t kFarFromOverflow = 100000000;
  const DefUse def_use(p);
  const std::vector<bool> written = written_ints(p);
  std::vector<size_t> sums;
  Bitset read(def_use.count());
  const auto reads = [&](const Instr& in) { def_use.each_read(in, [&read](size_t k) { read.put(k); }); };
  for (size_t i = 0; i < p.code.size(); ++i) {
    const std::optional<int64_t> most = most_added(p, written, p.code[i]);
    if (most && *most * p.step_budget <= kFarFromOverflow) sums.push_back(i);
    else reads(p.code[i]);
  }
  read.put(index(p.outcome_register));
  for (const std::vector<Quantity>* list : {&p.quantities, &p.unit_quantities})
    for (const Quantity& q : *list)
      if (!q.real) read.put(index(q.reg));
  for (bool again = true; again;) {  // a sum that is read reads in its turn
    again = false;
    for (size_t& i : sums)
      if (i != SIZE_MAX && read.has(index(p.code[i].a))) {
        reads(p.code[i]);
        i = SIZE_MAX;
        again = true;
      }
  }
  for (const size_t i : sums) {
    if (i == SIZE_MAX) continue;
    Instr& in = p.code[i];
    if (in.op == OP_DRAWADD) in.op = OP_DRAW;
    else in = no_op(in);
  }
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
