#include "alike_kinds.h"

#include <algorithm>
#include <map>
#include <numeric>
#include <vector>

#include "def_use.h"
#include "rewrite.h"

namespace basanos {
namespace {

// Where cards may lie: registers and lists, as DefUse numbers them, and the decks behind them. What cards may go
// between is in one group.
class Cards {
 public:
  explicit Cards(const Program& p)
      : p_(p), def_use_(p), written_(written_ints(p)), group_of_(def_use_.count() + p.arrays.size()) {
    std::iota(group_of_.begin(), group_of_.end(), size_t{0});
    find_decks();
    for (const Instr& in : p.code) read(in);
    keep_apart(static_cast<size_t>(p.outcome_register));
    for (const std::vector<Quantity>* list : {&p.quantities, &p.unit_quantities})
      for (const Quantity& q : *list)
        if (!q.real) keep_apart(static_cast<size_t>(q.reg));
    for (int32_t reg : p.symmetry.regs) keep_apart(static_cast<size_t>(reg));
    check_starts();
  }

  struct Group {
    std::vector<int32_t> decks;    // arrays
    std::vector<size_t> look_ups;  // operations that read a column
    bool kept_apart = false;       // is a card more to something than its columns?
    bool sorted = false;           // does a bag hold some?
  };

  // The groups that have a deck.
  std::map<size_t, Group> groups() {
    std::map<size_t, Group> all;
    for (size_t array = 0; array < p_.arrays.size(); ++array)
      if (is_deck_[array]) all[group(of_deck(array))].decks.push_back(static_cast<int32_t>(array));
    const auto each_in_group = [&](const std::vector<size_t>& nodes, auto visit) {
      for (size_t node : nodes)
        if (const auto found = all.find(group(node)); found != all.end()) visit(found->second);
    };
    each_in_group(kept_apart_, [](Group& g) { g.kept_apart = true; });
    each_in_group(sorted_, [](Group& g) { g.sorted = true; });
    for (size_t i = 0; i < p_.code.size(); ++i)
      if (p_.code[i].op == OP_TAB) each_in_group({of_reg(p_.code[i].b)}, [i](Group& g) { g.look_ups.push_back(i); });
    return all;
  }

 private:
  static size_t of_reg(int32_t reg) { return index(reg); }
  size_t of_list(int32_t list) const { return def_use_.of_list(list); }
  size_t of_deck(size_t array) const { return def_use_.count() + array; }

  size_t group(size_t node) {
    while (group_of_[node] != node) node = group_of_[node] = group_of_[group_of_[node]];
    return node;
  }
  void join(size_t a, size_t b) { group_of_[group(a)] = group(b); }
  void keep_apart(size_t node) { kept_apart_.push_back(node); }

  // A card is written from a register; 0 is no card, and another constant a card of its own.
  void from_register(size_t to, int32_t reg) {
    if (written_[index(reg)]) join(to, of_reg(reg));
    else if (p_.int_start[index(reg)] != 0) keep_apart(to);
  }
  void join_family(size_t to, int32_t family) {
    const ListArray& lists = p_.list_arrays[index(family)];
    for (int32_t k = 0; k < lists.size; ++k) join(to, of_list(lists.list + k));
  }
  void join_array(size_t to, int32_t number) {
    const Array& array = p_.arrays[index(number)];
    if (is_deck_[index(number)]) keep_apart(of_deck(index(number)));
    for (int32_t reg = array.base; reg < array.base + array.size; ++reg) join(to, of_reg(reg));
  }

  void find_decks() {
    is_deck_.assign(p_.arrays.size(), false);
    for (const Instr& in : p_.code)
      if (in.op == OP_DEAL) is_deck_[index(in.c)] = true;
    std::vector<int> decks_of(p_.int_start.size());
    for (size_t k = 0; k < p_.arrays.size(); ++k)
      for (int32_t reg = p_.arrays[k].base; !p_.arrays[k].real && reg < p_.arrays[k].base + p_.arrays[k].size; ++reg)
        ++decks_of[index(reg)];
    for (size_t k = 0; k < p_.arrays.size(); ++k)  // the registers of a deck are its own
      for (int32_t reg = p_.arrays[k].base; is_deck_[k] && reg < p_.arrays[k].base + p_.arrays[k].size; ++reg)
        if (decks_of[index(reg)] > 1) keep_apart(of_deck(k));
        else join(of_reg(reg), of_deck(k)), counts_.push_back(reg);
    std::sort(counts_.begin(), counts_.end());
  }

  // A card that is moved joins two places. Whatever else is done with a card keeps kinds apart, also taking it out of a
  // list or a deck: that fails unless this very card is there.
  void read(const Instr& in) {
    const char* roles = op_info(in.op).roles;
    for (int k = 0; k < 4; ++k)  // how many there are of one kind
      if ((roles[k] == 'i' || roles[k] == 'I' || roles[k] == 'U') && is_count(in.operand(k)))
        keep_apart(of_reg(in.operand(k)));
    switch (in.op) {
      case OP_DEAL: return join(of_reg(in.a), of_deck(index(in.c)));
      case OP_MOV: return from_register(of_reg(in.a), in.b);
      case OP_SEL:
        from_register(of_reg(in.a), in.c);
        return from_register(of_reg(in.a), in.d);
      case OP_BPUT: sorted_.push_back(of_list(in.a)); [[fallthrough]];
      case OP_LPUT: return from_register(of_list(in.a), in.b);
      case OP_BAPPEND: sorted_.push_back(of_list(in.a)); [[fallthrough]];
      case OP_LAPPEND: case OP_LCOPY: return join(of_list(in.a), of_list(in.b));
      case OP_LGET:
        keep_apart(of_reg(in.b));
        return join(of_reg(in.a), of_list(in.c));
      case OP_DRAWL: return join(of_reg(in.a), of_list(in.c));
      case OP_LFROM:
        keep_apart(of_reg(in.b));
        return join_family(of_list(in.a), in.c);
      case OP_LINTO:
        keep_apart(of_reg(in.a));
        return join_family(of_list(in.c), in.b);
      case OP_LDX:
        keep_apart(of_reg(in.b));
        return join_array(of_reg(in.a), in.c);
      case OP_STX:
        keep_apart(of_reg(in.a));
        if (written_[index(in.c)]) return join_array(of_reg(in.c), in.b);
        return p_.int_start[index(in.c)] == 0 && !is_deck_[index(in.b)] ? void() : keep_array_apart(in.b);
      case OP_ATAB: return is_deck_[index(in.a)] ? void() : keep_array_apart(in.a);
      case OP_ASUM: case OP_LSIZE: case OP_NOT: return keep_apart(of_reg(in.a));
      case OP_TAB: return keep_apart(of_reg(in.a));
      case OP_LDROP: return keep_apart(of_reg(in.b));
      case OP_JZ: case OP_JNZ: case OP_LCLEAR: return;
      case OP_JEQ: case OP_JNE:
        if (is_zero(in.a) || is_zero(in.b)) return;
        return keep_all_apart(in);
      default: return keep_all_apart(in);
    }
  }

  bool is_count(int32_t reg) const { return std::binary_search(counts_.begin(), counts_.end(), reg); }
  bool is_zero(int32_t reg) const { return !written_[index(reg)] && p_.int_start[index(reg)] == 0; }

  void keep_array_apart(int32_t number) {
    const Array& array = p_.arrays[index(number)];
    if (is_deck_[index(number)]) keep_apart(of_deck(index(number)));
    for (int32_t reg = array.base; !array.real && reg < array.base + array.size; ++reg) keep_apart(of_reg(reg));
  }

  void keep_all_apart(const Instr& in) {
    const auto note = [this](size_t node) { keep_apart(node); };
    def_use_.each_read(in, note);
    def_use_.each_write(in, note);
  }

  // No card lies anywhere when a unit begins.
  void check_starts() {
    for (size_t reg = 0; reg < p_.int_start.size(); ++reg)
      if (p_.int_start[reg] != 0 && written_[reg] && !is_count(static_cast<int32_t>(reg))) keep_apart(reg);
    for (size_t list = 0; list < p_.lists.size(); ++list)
      if (p_.int_start[index(p_.lists[list].base)] != 0) keep_apart(of_list(static_cast<int32_t>(list)));
  }

  const Program& p_;
  const DefUse def_use_;
  const std::vector<bool> written_;
  std::vector<size_t> group_of_;
  std::vector<bool> is_deck_;
  std::vector<int32_t> counts_;  // registers of decks
  std::vector<size_t> kept_apart_, sorted_;
};

// The new kind of each kind, counted from 0; nothing where a table is not that of a column alone.
std::vector<int32_t> new_kinds(const Program& p, const Cards::Group& group, const Array& deck) {
  const auto columns_of = [&](int32_t kind) {
    std::vector<int32_t> values;
    for (size_t i : group.look_ups) {
      const Table& table = p.tables[index(p.code[i].c)];
      values.push_back(table.values[index(kind)]);
    }
    return values;
  };
  for (size_t i : group.look_ups) {
    const Table& table = p.tables[index(p.code[i].c)];
    if (table.first != deck.first || table.size < deck.size) return {};
  }
  std::vector<int32_t> kinds;
  std::map<std::vector<int32_t>, int32_t> known;
  for (int32_t kind = 0; kind < deck.size; ++kind) {
    if (group.sorted && kind > 0 && columns_of(kind) != columns_of(kind - 1)) known.clear();
    const auto next = static_cast<int32_t>(kinds.empty() ? 0 : *std::max_element(kinds.begin(), kinds.end()) + 1);
    kinds.push_back(known.insert({columns_of(kind), next}).first->second);
  }
  return kinds;
}

// Can these numbers of cards be added up? A damaged program may have any.
bool can_be_added(const int32_t* counts, int32_t size) {
  return std::all_of(counts, counts + size, [](int32_t n) { return n >= 0; }) && sum_of(counts, size) <= INT32_MAX;
}

// Do the decks have the same kinds, and numbers of cards that can be added up?
bool are_alike(const Program& p, const std::vector<int32_t>& decks) {
  const Array& first = p.arrays[index(decks[0])];
  const bool same_kinds = first.first > 0 && std::all_of(decks.begin(), decks.end(), [&](int32_t number) {
    const Array& deck = p.arrays[index(number)];
    return deck.first == first.first && deck.size == first.size &&
           can_be_added(&p.int_start[index(deck.base)], deck.size);
  });
  return same_kinds && std::all_of(p.code.begin(), p.code.end(), [&](const Instr& in) {
    return in.op != OP_ATAB || std::find(decks.begin(), decks.end(), in.a) == decks.end() ||
           can_be_added(p.tables[index(in.b)].values.data(), first.size);
  });
}

// A number for each new kind: that of its first, or the sum over all.
std::vector<int32_t> of_new_kinds(const std::vector<int32_t>& kinds, int32_t count, const int32_t* values, bool sum) {
  std::vector<int32_t> all(index(count));
  for (size_t k = kinds.size(); k-- > 0;) {
    int32_t& one = all[index(kinds[k])];
    one = sum ? one + values[k] : values[k];
  }
  return all;
}

void merge(Program& p, const Cards::Group& group, const std::vector<int32_t>& kinds, int32_t count) {
  const Array deck = p.arrays[index(group.decks[0])];
  const auto new_table = [&p](int32_t first, std::vector<int32_t> values) {
    p.tables.push_back({first, static_cast<int32_t>(values.size()), std::move(values)});
    return static_cast<int32_t>(p.tables.size() - 1);
  };
  for (size_t i : group.look_ups) {
    const Table& table = p.tables[index(p.code[i].c)];
    p.code[i].c = new_table(deck.first, of_new_kinds(kinds, count, table.values.data(), false));
  }
  for (int32_t number : group.decks) {
    Array& array = p.arrays[index(number)];
    const std::vector<int32_t> start = of_new_kinds(kinds, count, &p.int_start[index(array.base)], true);
    std::fill_n(p.int_start.begin() + array.base, array.size, 0);
    std::copy(start.begin(), start.end(), p.int_start.begin() + array.base);
    array.size = count;
    for (Instr& in : p.code) {
      if (in.op != OP_ATAB || in.a != number) continue;
      const Table& full = p.tables[index(in.b)];
      in.b = new_table(full.first, of_new_kinds(kinds, count, full.values.data(), true));
    }
  }
}

}  // namespace

KindsMerged merge_alike_kinds(Program& p) {
  KindsMerged merged;
  if (std::none_of(p.code.begin(), p.code.end(), [](const Instr& in) { return in.op == OP_DEAL; })) return merged;
  int32_t alone = 0;  // kinds of decks that stay as they are
  for (const auto& [number, group] : Cards(p).groups()) {
    const Array deck = p.arrays[index(group.decks[0])];
    const std::vector<int32_t> kinds =
        group.kept_apart || !are_alike(p, group.decks) ? std::vector<int32_t>() : new_kinds(p, group, deck);
    const int32_t count = kinds.empty() ? deck.size : *std::max_element(kinds.begin(), kinds.end()) + 1;
    if (count == deck.size) {
      alone += deck.size;
      continue;
    }
    merge(p, group, kinds, count);
    merged.from += deck.size;
    merged.to += count;
  }
  if (merged.from > 0) merged = {merged.from + alone, merged.to + alone};
  return merged;
}

}  // namespace basanos
