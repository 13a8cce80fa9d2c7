#include "program.h"

namespace basanos {
namespace {

size_t limit_of(const Program& p, char role) {
  switch (role) {
    case 'i': case 'I': case 'U': return p.int_start.size();
    case 'd': case 'D': return p.real_start.size();
    case 'A': case 'W': case 'B': case 'X': return p.arrays.size();
    case 'L': case 'M': case 'N': return p.lists.size();
    case 'F': case 'G': return p.list_arrays.size();
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

bool within(int64_t base, int64_t size, size_t regs) {
  return base >= 0 && size >= 0 && base + size <= static_cast<int64_t>(regs);
}

bool is_counted(int op) {
  return op == OP_LOOP || op == OP_LOOPLT || op == OP_LOOPLE || op == OP_FORLE || op == OP_LOOPSUMLT;
}

// Only counted jumps go back, so that no program runs for ever.
void check_jump(const Program& p, size_t i) {
  const Instr& in = p.code[i];
  if (is_counted(in.op) || in.op == OP_ASK) return;
  const char* roles = op_info(in.op).roles;
  for (int k = 0; k < 4; ++k)
    if (roles[k] == 'J') require(static_cast<size_t>(in.operand(k)) > i, "a jump back that is not counted");
}

void check_arrays_and_tables(const Program& p, const Instr& in) {
  const auto array = [&p](int32_t k) -> const Array& { return p.arrays[static_cast<size_t>(k)]; };
  const auto table = [&p](int32_t k) -> const Table& { return p.tables[static_cast<size_t>(k)]; };
  switch (in.op) {
    case OP_LDX: return require(!array(in.c).real, "LDX");
    case OP_STX: return require(!array(in.b).real, "STX");
    case OP_DLDX: return require(array(in.c).real, "DLDX");
    case OP_DSTX: return require(array(in.b).real, "DSTX");
    case OP_DEAL: return require(!array(in.c).real, "cards are whole");
    case OP_ASUM: return require(!array(in.b).real, "cards are whole");
    case OP_ATAKE: case OP_ATAKEALL: return require(!array(in.a).real, "cards are whole");
    case OP_ATAB:
      require(!array(in.a).real, "cards are whole");
      return require(table(in.b).values.size() == static_cast<size_t>(array(in.a).size), "deck table");
    case OP_TAB: return require(table(in.c).values.size() >= static_cast<size_t>(table(in.c).size), "table");
    case OP_TAB2: {
      const auto n = static_cast<size_t>(table(in.d).size);
      return require(n <= 100000 && table(in.d).values.size() >= n * n, "table");
    }
    default: return;
  }
}

// The registers of a list are its own: their number, in the first, is only changed by what minds its room.
void check_lists(const Program& p) {
  std::vector<bool> taken(p.int_start.size());
  for (const List& l : p.lists) {
    require(within(l.base, l.room + int64_t{1}, p.int_start.size()), "list");
    const int32_t items = p.int_start[static_cast<size_t>(l.base)];
    require(items >= 0 && items <= l.room, "items of a list");
    for (int32_t k = 0; k <= l.room; ++k) {
      require(!taken[static_cast<size_t>(l.base + k)], "lists overlap");
      taken[static_cast<size_t>(l.base + k)] = true;
    }
  }
  for (const Array& a : p.arrays) {
    require(within(a.base, a.size, a.real ? p.real_start.size() : p.int_start.size()), "array");
    require(a.first + int64_t{a.size} - 1 <= INT32_MAX, "keys of an array");
    for (int32_t k = 0; !a.real && k < a.size; ++k)
      require(!taken[static_cast<size_t>(a.base + k)], "an array in a list");
  }
  for (const Instr& in : p.code) {
    const char* roles = op_info(in.op).roles;
    for (int k = 0; k < 4; ++k)
      if (roles[k] == 'i' || roles[k] == 'U')
        require(!taken[static_cast<size_t>(in.operand(k))], "a register of a list");
  }
}

void check_alike(const Program& p) {
  const SymmetryTable& a = p.symmetry;
  if (a.count == 0) return;
  require(a.count >= 2 && a.count <= 1000, "seats");
  const auto all = [](const std::vector<int32_t>& numbers, size_t below, int32_t many, const char* what) {
    for (int32_t k : numbers) require(within(k, many, below), what);
  };
  all(a.arrays, p.int_start.size(), a.count, "registers of seats");
  all(a.list_arrays, p.lists.size(), a.count, "lists of seats");
  all(a.regs, p.int_start.size(), 1, "registers of seats");
  all(a.plain_regs, p.int_start.size(), 1, "registers of seats");
  all(a.plain_lists, p.lists.size(), 1, "lists of seats");
  for (const List& l : p.lists) {  // their registers are their own
    const auto apart = [&l](int32_t reg, int32_t many) { return reg + many <= l.base || reg > l.base + l.room; };
    for (int32_t reg : a.arrays) require(apart(reg, a.count), "registers of seats");
    for (int32_t reg : a.regs) require(apart(reg, 1), "registers of seats");
  }
  for (int32_t first : a.list_arrays)
    for (int32_t k = 1; k < a.count; ++k)
      require(p.lists[static_cast<size_t>(first + k)].room == p.lists[static_cast<size_t>(first)].room,
              "lists of seats");
  require(a.outcomes.size() == static_cast<size_t>(p.outcome_count), "outcomes of seats");
  std::vector<bool> taken(a.outcomes.size());
  for (int32_t k : a.outcomes) {
    require(within(k - int64_t{1}, 1, taken.size()) && !taken[static_cast<size_t>(k - 1)], "outcomes of seats");
    taken[static_cast<size_t>(k - 1)] = true;
  }
}

bool is_open(int op) { return op == OP_OPEN || decides(op); }

void check_site(const Program& p, const Instr& in) {
  const int32_t site = in.op == OP_OPEN ? in.a : in.b;
  require(within(site, 1, p.sites.size()), "site of a decision");
  if (in.op != OP_OPEN) require(p.sites[static_cast<size_t>(site)].several == (in.op == OP_DECIDESET), "answers");
}

}  // namespace

void require_closed(const Program& p, const char* what) {
  for (const Instr& in : p.code)
    if (is_open(in.op)) throw std::invalid_argument(std::string("decisions are open: the program cannot be ") + what);
}

Program with_lanes_found(Program p) {
  for (const Instr& in : p.code) {
    if (in.op != OP_LANE) continue;
    require(p.lanes == 0 || (p.lane_register == in.a && p.lanes == in.c), "lanes");
    p.lane_register = in.a;
    p.lanes = in.c;
  }
  return p;
}

void count_jumps_back(Program& p) {
  for (size_t i = 0; i < p.code.size(); ++i)
    if (p.code[i].op == OP_JMP && p.code[i].a >= 0 && static_cast<size_t>(p.code[i].a) <= i) p.code[i].op = OP_LOOP;
}

void check_weights(const std::vector<double>& weights) {
  double total = 0;
  for (double w : weights) {
    require(w >= 0 && w < 1e300, "weight");
    total += w;
  }
  require(!weights.empty() && weights.size() < 100000000 && total > 0 && total < 1e300, "weights");
}

void validate(const Program& p) {
  require(!p.code.empty(), "no code");
  require(p.step_budget > 0 && p.step_budget <= 1000000000, "step budget");
  require(p.coverage_count >= 0 && p.coverage_count <= 1000000, "coverage_count");
  // The last operation must not fall through to what is not there.
  require(p.code.back().op >= 0 && p.code.back().op < OP_COUNT && never_falls_through(p.code.back().op),
          "code runs past its end");
  for (const Instr& in : p.code) {
    require(in.op >= 0 && in.op < OP_COUNT, "unknown operation");
    const char* roles = op_info(in.op).roles;
    for (int k = 0; k < 4; ++k) {
      if (roles[k] == '-' || roles[k] == 'K') continue;
      const int32_t v = in.operand(k);
      require(v >= 0 && static_cast<size_t>(v) < limit_of(p, roles[k]), op_info(in.op).name);
    }
    if (in.op == OP_MEMO || in.op == OP_STORE) require(within(in.a, 1, kMostMemos), "memo region");
    if (in.op == OP_FAIL) require(within(in.a, 1, FAIL_COUNT) && in.a != FAIL_NONE, "failure");
    if (in.op == OP_COVER) require(within(in.a, 1, static_cast<size_t>(p.coverage_count)), "note");
    require(!is_deferred(in.op), "draw of a set");
    if (is_open(in.op)) check_site(p, in);
    if (in.op == OP_LANE) require(in.c > 0 && in.c <= kMostLanes, "lanes");
    if (in.op == OP_ASK) require(within(in.c, 1, p.int_start.size()), "answer register");
    check_jump(p, static_cast<size_t>(&in - p.code.data()));
    check_arrays_and_tables(p, in);
  }
  check_lists(p);
  require(p.aliases.size() == p.weights.size(), "weights");
  for (const std::vector<double>& weights : p.weights) check_weights(weights);
  for (const ListArray& f : p.list_arrays) {
    require(f.size > 0 && within(f.list, f.size, p.lists.size()), "family");
    for (int32_t k = 1; k < f.size; ++k)
      require(p.lists[static_cast<size_t>(f.list + k)].room == p.lists[static_cast<size_t>(f.list)].room,
              "rooms of a family");
  }
  require(!p.words.start.empty() && p.words.start[0] == 0 &&
              static_cast<size_t>(p.words.start.back()) == p.words.letters.size(),
          "words");
  for (size_t w = 1; w < p.words.start.size(); ++w)
    require(p.words.start[w] >= p.words.start[w - 1] && p.words.start[w] - p.words.start[w - 1] <= MOST_LETTERS,
            "letters of a word");
  for (const Range& r : p.ranges) require(r.count > 0 && r.low + int64_t{r.count} - 1 <= INT32_MAX, "range");
  for (const Table& t : p.tables) require(t.size >= 0 && !t.values.empty(), "table values");
  for (const std::vector<Quantity>* list : {&p.quantities, &p.unit_quantities})
    for (const Quantity& q : *list)
      require(within(q.reg, 1, q.real ? p.real_start.size() : p.int_start.size()), "quantity");
  require(within(p.outcome_register, 1, p.int_start.size()), "outcome register");
  require(p.outcome_count > 0, "no outcomes");
  check_alike(p);
}

}  // namespace basanos
