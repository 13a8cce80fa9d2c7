#include "program.h"

namespace basanos {
namespace {

size_t limit_of(const Program& p, char role) {
  switch (role) {
    case 'i': case 'I': case 'U': return p.int_start.size();
    case 'd': case 'D': return p.real_start.size();
    case 'A': case 'W': case 'B': case 'X': return p.arrays.size();
    case 'L': case 'M': case 'N': return p.lists.size();
    case 'F': case 'G': return p.families.size();
    case 'S': return p.sources.size();
    case 'R': return p.ranges.size();
    case 'T': return p.tables.size();
    case 'V': return p.weights.size();
    case 'J': return p.code.size();
    default: return SIZE_MAX;
  }
}

void require(bool holds, const char* what) {
  if (!holds) throw std::invalid_argument(std::string("broken program: ") + what);
}

bool within(int64_t base, int64_t size, size_t cells) {
  return base >= 0 && size >= 0 && base + size <= static_cast<int64_t>(cells);
}

}  // namespace

void validate(const Program& p) {
  require(!p.code.empty(), "no code");
  require(p.notes >= 0 && p.notes <= 1000000, "notes");
  // The last operation must not fall through to what is not there.
  require(p.code.back().op >= 0 && p.code.back().op < OP_COUNT && never_falls_through(p.code.back().op), "code runs past its end");
  for (const Instr& in : p.code) {
    require(in.op >= 0 && in.op < OP_COUNT, "unknown operation");
    const char* roles = op_info(in.op).roles;
    for (int k = 0; k < 4; ++k) {
      if (roles[k] == '-' || roles[k] == 'K') continue;
      const int32_t v = in.operand(k);
      require(v >= 0 && static_cast<size_t>(v) < limit_of(p, roles[k]), op_info(in.op).name);
    }
    if (in.op == OP_NOTE) require(within(in.a, 1, static_cast<size_t>(p.notes)), "note");
    if (in.op == OP_ASK) require(within(in.c, 1, p.int_start.size()), "answer cell");
    if (in.op == OP_DEAL || in.op == OP_ATAB || in.op == OP_ATAKE || in.op == OP_ATAKEALL || in.op == OP_ASUM)
      require(!p.arrays[static_cast<size_t>(in.op == OP_DEAL ? in.c : in.op == OP_ASUM ? in.b : in.a)].real, "cards are whole");
    if (in.op == OP_ATAB) require(p.tables[static_cast<size_t>(in.b)].values.size() == static_cast<size_t>(p.arrays[static_cast<size_t>(in.a)].size), "deck table");
  }
  for (const Array& a : p.arrays)
    require(within(a.base, a.size, a.real ? p.real_start.size() : p.int_start.size()), "array");
  for (const List& l : p.lists) require(within(l.base, l.room + int64_t{1}, p.int_start.size()), "list");
  for (const Family& f : p.families) {
    require(f.size > 0 && within(f.list, f.size, p.lists.size()), "family");
    for (int32_t k = 1; k < f.size; ++k)
      require(p.lists[static_cast<size_t>(f.list + k)].room == p.lists[static_cast<size_t>(f.list)].room, "rooms of a family");
  }
  require(!p.words.start.empty() && p.words.start[0] == 0 && static_cast<size_t>(p.words.start.back()) == p.words.letters.size(), "words");
  for (size_t w = 1; w < p.words.start.size(); ++w)
    require(p.words.start[w] >= p.words.start[w - 1] && p.words.start[w] - p.words.start[w - 1] <= kMostLetters, "letters of a word");
  for (const Range& r : p.ranges) require(r.count > 0, "range");
  for (const Table& t : p.tables) require(t.size >= 0 && !t.values.empty(), "table");
  for (const std::vector<Quantity>* list : {&p.quantities, &p.unit_quantities})
    for (const Quantity& q : *list) require(within(q.cell, 1, q.real ? p.real_start.size() : p.int_start.size()), "quantity");
  require(within(p.outcome_cell, 1, p.int_start.size()), "outcome cell");
  require(p.outcome_count > 0, "no outcomes");
}

}  // namespace basanos
