#include "liveness.h"

namespace basanos {

Liveness::Liveness(const Program& program)
    : p_(program),
      def_use_(program),
      rounds_(has_rounds(program)),
      written_(def_use_.count()),
      block_of_(program.code.size()),
      global_(def_use_.count(), -1) {
  for (const Instr& in : p_.code) def_use_.each_write(in, [this](size_t k) { written_.put(k); });
  cut_blocks();
  find_globals();
  find_sized();
  solve();
}

// The inputs of an operation: its operands, and at the end of a round or unit the recorded values.
template <class Visit>
void Liveness::each_needed(const Instr& in, Visit visit) const {
  def_use_.each_read(in, visit);
  const auto visit_all = [&](const std::vector<Quantity>& quantities) {
    for (const Quantity& q : quantities) visit(q.real ? def_use_.of_real(q.reg) : static_cast<size_t>(q.reg));
  };
  if (in.op != OP_TALLY && in.op != OP_END) return;
  if (p_.lanes > 0) visit(static_cast<size_t>(p_.lane_register));
  if (in.op == OP_TALLY || !rounds_) {
    visit(static_cast<size_t>(p_.outcome_register));
    visit_all(p_.quantities);
  }
  if (in.op == OP_END) visit_all(p_.unit_quantities);
}

namespace {

template <class Visit>
void each_jump(const Instr& in, Visit visit) {
  const char* roles = op_info(in.op).roles;
  for (int k = 0; k < 4; ++k)
    if (roles[k] == 'J') visit(static_cast<size_t>(in.operand(k)));
}

}  // namespace

void Liveness::cut_blocks() {
  const size_t n = p_.code.size();
  std::vector<bool> starts(n + 1);
  starts[0] = true;
  for (size_t i = 0; i < n; ++i) {
    each_jump(p_.code[i], [&](size_t to) { starts[to] = starts[i + 1] = true; });
    if (never_falls_through(p_.code[i].op)) starts[i + 1] = true;
  }
  for (size_t i = 0; i < n; ++i) {
    if (starts[i]) blocks_.push_back({i, i, {}, {}});
    blocks_.back().last = i;
    block_of_[i] = blocks_.size() - 1;
  }
  for (size_t b = 0; b < blocks_.size(); ++b) {
    const Instr& last = p_.code[blocks_[b].last];
    const auto follow = [&](size_t to) {
      blocks_[b].next.push_back(block_of_[to]);
      blocks_[block_of_[to]].before.push_back(b);
    };
    if (!never_falls_through(last.op)) follow(blocks_[b].last + 1);
    each_jump(last, follow);
  }
}

// A register is global where some block reads it before overwriting it.
void Liveness::find_globals() {
  std::vector<size_t> overwritten_in(def_use_.count(), SIZE_MAX);
  for (size_t b = 0; b < blocks_.size(); ++b)
    for (size_t i = blocks_[b].first; i <= blocks_[b].last; ++i) {
      each_needed(p_.code[i], [&](size_t k) {
        if (overwritten_in[k] == b || global_[k] >= 0) return;
        global_[k] = static_cast<int32_t>(register_.size());
        register_.push_back(k);
      });
      def_use_.each_overwrite(p_.code[i], [&](size_t k) { overwritten_in[k] = b; });
    }
}

// From the last block to the first, and again for the blocks before one whose needs have grown.
void Liveness::solve() {
  const size_t n = blocks_.size(), globals = register_.size();
  std::vector<Bitset> reads(n, Bitset(globals)), overwrites(n, Bitset(globals)), in(n, Bitset(globals));
  out_.assign(n, Bitset(globals));
  for (size_t b = 0; b < n; ++b)
    for (size_t i = blocks_[b].last + 1; i-- > blocks_[b].first;) {
      def_use_.each_overwrite(p_.code[i], [&](size_t k) {
        if (global_[k] < 0) return;
        reads[b].drop(static_cast<size_t>(global_[k]));
        overwrites[b].put(static_cast<size_t>(global_[k]));
      });
      each_needed(p_.code[i], [&](size_t k) {
        if (global_[k] >= 0) reads[b].put(static_cast<size_t>(global_[k]));
      });
    }
  std::vector<size_t> open;
  std::vector<bool> is_open(n, true);
  for (size_t b = 0; b < n; ++b) open.push_back(b);
  while (!open.empty()) {
    const size_t b = open.back();
    open.pop_back();
    is_open[b] = false;
    for (size_t next : blocks_[b].next) out_[b].unite(in[next]);
    Bitset live = out_[b];
    live.subtract(overwrites[b]);
    live.unite(reads[b]);
    if (!in[b].unite(live)) continue;
    for (size_t before : blocks_[b].before)
      if (!is_open[before]) {
        is_open[before] = true;
        open.push_back(before);
      }
  }
}

bool Liveness::is_live_after(size_t i, size_t k) const {
  const size_t b = block_of_[i];
  for (size_t j = i + 1; j <= blocks_[b].last; ++j) {
    bool read = false, overwritten = false;
    each_needed(p_.code[j], [&](size_t r) { read = read || r == k; });
    if (read) return true;
    def_use_.each_overwrite(p_.code[j], [&](size_t w) { overwritten = overwritten || w == k; });
    if (overwritten) return false;
  }
  return global_[k] >= 0 && out_[b].has(static_cast<size_t>(global_[k]));
}

bool Liveness::writes_live(size_t i) const {
  bool needed = false;
  def_use_.each_write(p_.code[i], [&](size_t k) { needed = needed || is_live_after(i, k); });
  return needed;
}

// From what is live after an operation to what is live before it.
void Liveness::step(const Instr& in, Bitset& live) const {
  def_use_.each_overwrite(in, [&live](size_t k) { live.drop(k); });
  each_needed(in, [&live](size_t k) { live.put(k); });
}

Bitset Liveness::after_block(size_t block) const {
  Bitset live(def_use_.count());
  for (size_t g = 0; g < register_.size(); ++g)
    if (out_[block].has(g)) live.put(register_[g]);
  return live;
}

Bitset Liveness::alive_before(size_t i) const {
  const Block& block = blocks_[block_of_[i]];
  Bitset live = after_block(block_of_[i]);
  for (size_t j = block.last + 1; j-- > i;) step(p_.code[j], live);
  return live;
}

std::vector<LiveRegisters> Liveness::at_stops() const {
  const auto stops = [this](size_t i) {
    const int op = p_.code[i].op;
    return branches(op) || op == OP_SPLIT || op == OP_OPEN || op == OP_TALLY || op == OP_END;
  };
  std::vector<LiveRegisters> out(p_.code.size());
  for (size_t b = 0; b < blocks_.size(); ++b) {
    size_t first = blocks_[b].first;
    while (first <= blocks_[b].last && !stops(first)) ++first;
    if (first > blocks_[b].last) continue;
    Bitset live = after_block(b);
    for (size_t i = blocks_[b].last + 1; i-- > first;) {
      step(p_.code[i], live);
      if (stops(i)) out[i] = registers_of(live);
    }
  }
  return out;
}

LiveRegisters Liveness::registers_of(const Bitset& live) const {
  LiveRegisters out;
  for (size_t k = 0; k < def_use_.count(); ++k) {
    if (!live.has(k) || !written_.has(k)) continue;  // what is never written is a constant
    if (k < def_use_.reals()) out.ints.push_back(static_cast<int32_t>(k));
    else if (k < def_use_.lists()) out.reals.push_back(static_cast<int32_t>(k - def_use_.reals()));
    else if (only_sized_[k - def_use_.lists()]) out.ints.push_back(p_.lists[k - def_use_.lists()].base);
    else out.lists.push_back(p_.lists[k - def_use_.lists()]);
  }
  return out;
}

void Liveness::find_sized() {
  only_sized_.assign(p_.lists.size(), true);
  for (const Instr& in : p_.code) {
    if (in.op == OP_LSIZE || in.op == OP_LPUT || in.op == OP_BPUT || in.op == OP_LDROP) continue;
    const char* const roles = op_info(in.op).roles;
    const int32_t operands[] = {in.a, in.b, in.c, in.d};
    for (size_t r = 0; r < 4; ++r) {
      if (roles[r] == 'L' || roles[r] == 'M') only_sized_[static_cast<size_t>(operands[r])] = false;
      if (roles[r] != 'F' && roles[r] != 'G') continue;
      const ListArray& lists = p_.list_arrays[static_cast<size_t>(operands[r])];
      for (int32_t k = 0; k < lists.size; ++k) only_sized_[static_cast<size_t>(lists.list + k)] = false;
    }
  }
}

}  // namespace basanos
