#include "live.h"

#include <algorithm>

namespace basanos {
namespace {

size_t at(int32_t k) { return static_cast<size_t>(k); }

}  // namespace

bool CellSet::unite(const CellSet& other) {
  bool grew = false;
  for (size_t w = 0; w < words_.size(); ++w) {
    const uint64_t both = words_[w] | other.words_[w];
    grew = grew || both != words_[w];
    words_[w] = both;
  }
  return grew;
}

Liveness::Liveness(const Program& program)
    : p_(program),
      reals_(program.int_start.size()),
      lists_(reals_ + program.real_start.size()),
      count_(lists_ + program.lists.size()),
      rounds_(has_rounds(program)),
      written_(count_),
      before_(program.code.size(), CellSet(count_)) {
  for (const Instr& in : p_.code) each_write(in, [this](size_t k) { written_.put(k); });
  while (pass()) {
  }
}

template <class Visit>
void Liveness::each_array_cell(int32_t array, Visit visit) const {
  const Array& a = p_.arrays[at(array)];
  for (int32_t k = 0; k < a.size; ++k) visit((a.real ? reals_ : 0) + at(a.base + k));
}

template <class Visit>
void Liveness::each_family_list(int32_t family, Visit visit) const {
  const Family& f = p_.families[at(family)];
  for (int32_t k = 0; k < f.size; ++k) visit(lists_ + at(f.list + k));
}

template <class Visit>
void Liveness::each_write(const Instr& in, Visit visit) const {
  const char* roles = op_info(in.op).roles;
  for (int k = 0; k < 4; ++k) {
    const int32_t v = in.operand(k);
    if (roles[k] == 'i' || roles[k] == 'U') visit(at(v));
    if (roles[k] == 'd') visit(reals_ + at(v));
    if (roles[k] == 'N' || roles[k] == 'M') visit(lists_ + at(v));
    if (roles[k] == 'W' || roles[k] == 'B' || roles[k] == 'X') each_array_cell(v, visit);
    if (roles[k] == 'G') each_family_list(v, visit);
  }
  if (in.op == OP_ASK) visit(at(in.c));
}

// From what is alive after an operation to what is alive before it.
void Liveness::step(const Instr& in, CellSet& live) const {
  const char* roles = op_info(in.op).roles;
  for (int k = 0; k < 4; ++k) {  // what is wholly overwritten is dead before
    const int32_t v = in.operand(k);
    if (roles[k] == 'i') live.drop(at(v));
    if (roles[k] == 'd') live.drop(reals_ + at(v));
    if (roles[k] == 'N') live.drop(lists_ + at(v));
    if (roles[k] == 'X') each_array_cell(v, [&live](size_t cell) { live.drop(cell); });
  }
  for (int k = 0; k < 4; ++k) {
    const int32_t v = in.operand(k);
    if (roles[k] == 'I' || roles[k] == 'U') live.put(at(v));
    if (roles[k] == 'D') live.put(reals_ + at(v));
    if (roles[k] == 'L' || roles[k] == 'M') live.put(lists_ + at(v));
    if (roles[k] == 'A' || roles[k] == 'B') each_array_cell(v, [&live](size_t cell) { live.put(cell); });
    if (roles[k] == 'F') each_family_list(v, [&live](size_t list) { live.put(list); });
  }
  const auto put_all = [&](const std::vector<Quantity>& quantities) {
    for (const Quantity& q : quantities) live.put((q.real ? reals_ : 0) + at(q.cell));
  };
  if (in.op == OP_TALLY || (in.op == OP_END && !rounds_)) {
    live.put(at(p_.outcome_cell));
    put_all(p_.quantities);
  }
  if (in.op == OP_END) put_all(p_.unit_quantities);
}

CellSet Liveness::after(size_t i) const {
  CellSet live(count_);
  const Instr& in = p_.code[i];
  if (!never_falls_through(in.op)) live.unite(before_[i + 1]);
  const char* roles = op_info(in.op).roles;
  for (int k = 0; k < 4; ++k)
    if (roles[k] == 'J') live.unite(before_[at(in.operand(k))]);
  return live;
}

bool Liveness::pass() {
  bool grew = false;
  for (size_t i = p_.code.size(); i-- > 0;) {
    CellSet live = after(i);
    step(p_.code[i], live);
    grew = before_[i].unite(live) || grew;
  }
  return grew;
}

bool Liveness::live_after(size_t i, int32_t cell, bool real) const {
  return after(i).has((real ? reals_ : 0) + at(cell));
}

std::vector<LiveCells> Liveness::at_chance() const {
  std::vector<LiveCells> out(p_.code.size());
  for (size_t i = 0; i < p_.code.size(); ++i)
    if (is_chance(p_.code[i].op)) out[i] = cells_of(before_[i]);
  return out;
}

LiveCells Liveness::cells_of(const CellSet& live) const {
  LiveCells out;
  for (size_t k = 0; k < count_; ++k) {
    if (!live.has(k) || !written_.has(k)) continue;  // what is never written is a constant
    if (k < reals_) out.ints.push_back(static_cast<int32_t>(k));
    else if (k < lists_) out.reals.push_back(static_cast<int32_t>(k - reals_));
    else out.lists.push_back({p_.lists[k - lists_].base, p_.lists[k - lists_].room});
  }
  return out;
}

void pack_live(const LiveCells& live, const Frame& frame, std::string& out) {
  const auto put = [&out](const void* data, size_t size) { out.append(static_cast<const char*>(data), size); };
  put(&frame.pc, sizeof frame.pc);
  for (int32_t cell : live.ints) put(&frame.ints[static_cast<size_t>(cell)], sizeof(int32_t));
  for (int32_t cell : live.reals) {
    const double value = frame.reals[static_cast<size_t>(cell)] + 0.0;  // -0 and 0 are one value
    put(&value, sizeof value);
  }
  for (const LiveList& list : live.lists) {
    const int32_t* items = frame.ints.data() + list.base;
    put(items, sizeof(int32_t) * static_cast<size_t>(items[0] + 1));
  }
}

const char* unpack_live(const std::vector<LiveCells>& at_chance, const Program& program, const char* from, Frame& frame) {
  const auto get = [&from](void* data, size_t size) {
    std::copy(from, from + size, static_cast<char*>(data));
    from += size;
  };
  frame.restart(program);
  get(&frame.pc, sizeof frame.pc);
  const LiveCells& live = at_chance[static_cast<size_t>(frame.pc)];
  for (int32_t cell : live.ints) get(&frame.ints[static_cast<size_t>(cell)], sizeof(int32_t));
  for (int32_t cell : live.reals) get(&frame.reals[static_cast<size_t>(cell)], sizeof(double));
  for (const LiveList& list : live.lists) {
    int32_t* items = frame.ints.data() + list.base;
    get(items, sizeof(int32_t));
    get(items + 1, sizeof(int32_t) * static_cast<size_t>(items[0]));
  }
  return from;
}

}  // namespace basanos
