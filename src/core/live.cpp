#include "live.h"

namespace basanos {

Liveness::Liveness(const Program& program)
    : p_(program),
      effects_(program),
      rounds_(has_rounds(program)),
      written_(effects_.count()),
      before_(program.code.size(), NumberSet(effects_.count())) {
  for (const Instr& in : p_.code) effects_.each_write(in, [this](size_t k) { written_.put(k); });
  while (pass()) {
  }
}

// From what is alive after an operation to what is alive before it.
void Liveness::step(const Instr& in, NumberSet& live) const {
  effects_.each_overwrite(in, [&live](size_t k) { live.drop(k); });
  effects_.each_read(in, [&live](size_t k) { live.put(k); });
  const auto put_all = [&](const std::vector<Quantity>& quantities) {
    for (const Quantity& q : quantities) live.put(q.real ? effects_.of_real(q.cell) : static_cast<size_t>(q.cell));
  };
  if (in.op == OP_TALLY || (in.op == OP_END && !rounds_)) {
    live.put(static_cast<size_t>(p_.outcome_cell));
    put_all(p_.quantities);
  }
  if (in.op == OP_END) put_all(p_.unit_quantities);
}

NumberSet Liveness::after(size_t i) const {
  NumberSet live(effects_.count());
  const Instr& in = p_.code[i];
  if (!never_falls_through(in.op)) live.unite(before_[i + 1]);
  const char* roles = op_info(in.op).roles;
  for (int k = 0; k < 4; ++k)
    if (roles[k] == 'J') live.unite(before_[static_cast<size_t>(in.operand(k))]);
  return live;
}

bool Liveness::pass() {
  bool grew = false;
  for (size_t i = p_.code.size(); i-- > 0;) {
    NumberSet live = after(i);
    step(p_.code[i], live);
    grew = before_[i].unite(live) || grew;
  }
  return grew;
}

bool Liveness::writes_live(size_t i) const {
  const NumberSet live = after(i);
  bool needed = false;
  effects_.each_write(p_.code[i], [&](size_t k) { needed = needed || live.has(k); });
  return needed;
}

std::vector<LiveCells> Liveness::at_stops() const {
  std::vector<LiveCells> out(p_.code.size());
  for (size_t i = 0; i < p_.code.size(); ++i) {
    const int op = p_.code[i].op;
    if (is_chance(op) || op == OP_TALLY || op == OP_END) out[i] = cells_of(before_[i]);
  }
  return out;
}

LiveCells Liveness::cells_of(const NumberSet& live) const {
  LiveCells out;
  for (size_t k = 0; k < effects_.count(); ++k) {
    if (!live.has(k) || !written_.has(k)) continue;  // what is never written is a constant
    if (k < effects_.reals()) out.ints.push_back(static_cast<int32_t>(k));
    else if (k < effects_.lists()) out.reals.push_back(static_cast<int32_t>(k - effects_.reals()));
    else out.lists.push_back(p_.lists[k - effects_.lists()]);
  }
  return out;
}

}  // namespace basanos
