#include "tabulate.h"

#include <algorithm>
#include <optional>

#include "liveness.h"
#include "interpreter.h"

namespace basanos {
namespace {

constexpr int64_t kMostEntries = 4096;

size_t index(int32_t k) { return static_cast<size_t>(k); }

struct Input {
  int32_t reg;
  Ends range;
};

bool writes_int(const Instr& in, int32_t reg) {
  const char* roles = op_info(in.op).roles;
  for (int k = 0; k < 4; ++k)
    if ((roles[k] == 'i' || roles[k] == 'U') && in.operand(k) == reg) return true;
  return false;
}

// The first operation after the last draw, when from there the code only runs forward to its end.
std::optional<size_t> forward_end(const Program& p) {
  size_t from = 0;
  for (size_t i = 0; i < p.code.size(); ++i)
    if (stops(p.code[i].op)) from = i + 1;
  for (size_t i = 0; i < p.code.size(); ++i) {
    const Instr& in = p.code[i];
    const char* roles = op_info(in.op).roles;
    for (int k = 0; k < 4; ++k) {
      if (roles[k] != 'J') continue;
      const size_t to = index(in.operand(k));
      const bool inside = i >= from;
      if (to > from && !inside) return std::nullopt;
      if (inside && to <= i) return std::nullopt;
    }
    for (int k = 0; k < 4 && i >= from; ++k)  // only whole numbers in registers of their own can become a table
      if (roles[k] == 'M' || roles[k] == 'N' || roles[k] == 'W' || roles[k] == 'B' || roles[k] == 'X' ||
          roles[k] == 'G' || roles[k] == 'd')
        return std::nullopt;
  }
  if (from == 0 || p.code.size() - from < 3) return std::nullopt;  // nothing to gain
  return from;
}

// The value of one result register for each pair of inputs.
struct Results {
  int32_t reg;
  std::vector<int32_t> values;
};

}  // namespace

std::optional<Ends> range_of(const Program& p, int32_t reg) {
  const Instr* made = nullptr;
  for (const Instr& in : p.code) {
    if (!writes_int(in, reg)) continue;
    if (made != nullptr) return std::nullopt;
    made = &in;
  }
  if (made == nullptr) return std::nullopt;
  if (made->op == OP_TAB) {
    const std::vector<int32_t>& values = p.tables[index(made->c)].values;
    const auto [low, high] = std::minmax_element(values.begin(), values.end());
    return Ends{*low, *high};
  }
  if (made->op != OP_DRAW) return std::nullopt;
  for (const Instr& in : p.code)
    if (writes_int(in, made->c) || writes_int(in, made->d)) return std::nullopt;
  const int64_t low = p.int_start[index(made->c)], count = p.int_start[index(made->d)];
  if (count <= 0 || count > kMostEntries) return std::nullopt;
  return Ends{static_cast<int32_t>(low), static_cast<int32_t>(low + count - 1)};
}

bool tabulate_end(Program& p) {
  if (has_rounds(p)) return false;
  const std::optional<size_t> from = forward_end(p);
  if (!from) return false;
  const Liveness live(p);
  const LiveRegisters needed = live.before(*from);
  if (!needed.reals.empty() || !needed.lists.empty() || needed.ints.empty() || needed.ints.size() > 2) return false;
  std::vector<Input> inputs;
  for (int32_t reg : needed.ints) {
    const std::optional<Ends> range = range_of(p, reg);
    if (!range) return false;
    inputs.push_back({reg, *range});
  }
  // Both keys of a table share one range.
  Ends keys = inputs[0].range;
  for (const Input& in : inputs) keys = {std::min(keys.low, in.range.low), std::max(keys.high, in.range.high)};
  const int64_t size = int64_t{keys.high} - keys.low + 1;
  const int64_t entries = inputs.size() == 2 ? size * size : size;
  if (entries > kMostEntries) return false;

  std::vector<Results> results{{p.outcome_register, {}}};
  for (const Quantity& q : p.quantities) {
    if (q.real) return false;
    results.push_back({q.reg, {}});
  }
  Frame frame(p);
  for (int64_t entry = 0; entry < entries; ++entry) {
    const auto first = static_cast<int32_t>(keys.low + (inputs.size() == 2 ? entry / size : entry));
    const auto second = static_cast<int32_t>(keys.low + entry % size);
    frame.restart(p);
    frame.ints = p.int_start;
    frame.pc = static_cast<int32_t>(*from);
    frame.ints[index(inputs[0].reg)] = first;
    if (inputs.size() == 2) frame.ints[index(inputs[1].reg)] = second;
    const auto reachable = [](int32_t v, const Ends& r) { return v >= r.low && v <= r.high; };
    const bool possible =
        reachable(first, inputs[0].range) && (inputs.size() == 1 || reachable(second, inputs[1].range));
    if (run<Sampling>(p, frame) != Stop::end) {
      if (possible) return false;
      frame.ints[index(p.outcome_register)] = 1;
    }
    for (Results& r : results) r.values.push_back(frame.ints[index(r.reg)]);
  }

  // An input that is also measured must stay as it is.
  for (const Results& r : results)
    for (const Input& in : inputs)
      if (r.reg == in.reg) return false;
  p.code.resize(*from);
  for (const Results& r : results) {
    p.tables.push_back({keys.low, static_cast<int32_t>(size), r.values});
    const auto table = static_cast<int32_t>(p.tables.size() - 1);
    if (inputs.size() == 2) p.code.push_back({OP_TAB2, r.reg, inputs[0].reg, inputs[1].reg, table, 0});
    else p.code.push_back({OP_TAB, r.reg, inputs[0].reg, table, 0, 0});
  }
  p.code.push_back({OP_END, 0, 0, 0, 0, 0});
  return true;
}

}  // namespace basanos
