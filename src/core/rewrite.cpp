#include "rewrite.h"

#include <utility>

namespace basanos {

bool compact(Program& p, const std::vector<bool>& keep) {
  std::vector<int32_t> moved(p.code.size());
  std::vector<Instr> code;
  for (size_t i = 0; i < p.code.size(); ++i) {
    moved[i] = static_cast<int32_t>(code.size());
    if (keep[i]) code.push_back(p.code[i]);
  }
  const bool changed = code.size() < p.code.size();
  p.code = std::move(code);
  for (Instr& in : p.code) each_target(in, [&moved](int32_t& t) { t = moved[index(t)]; });
  return changed;
}

int32_t branch_target(const Instr& in) {
  switch (in.op) {
    case OP_JZ: case OP_JNZ: return in.b;
    case OP_JEQ: case OP_JNE: case OP_JLT: case OP_JLE: return in.c;
    case OP_JMP: return in.a;
    default: return -1;
  }
}

std::vector<bool> jump_targets(Program& p) {
  std::vector<bool> is_target(p.code.size());
  for (Instr& in : p.code) each_target(in, [&is_target](int32_t& t) { is_target[index(t)] = true; });
  return is_target;
}

std::vector<bool> written_ints(const Program& p) {
  std::vector<bool> written(p.int_start.size());
  auto range = [&written](int32_t base, int32_t size) {
    for (int32_t k = 0; k < size; ++k) written[index(base + k)] = true;
  };
  for (const Instr& in : p.code) {
    const char* roles = op_info(in.op).roles;
    for (int k = 0; k < 4; ++k)
      if (roles[k] == 'i' || roles[k] == 'U') written[index(in.operand(k))] = true;
  }
  for (const Array& a : p.arrays)
    if (!a.real) range(a.base, a.size);
  for (const List& l : p.lists) range(l.base, l.room + 1);
  return written;
}

int32_t constant_register(Program& p, const std::vector<bool>& written, int32_t value) {
  for (size_t k = 0; k < written.size(); ++k)
    if (!written[k] && p.int_start[k] == value) return static_cast<int32_t>(k);
  p.int_start.push_back(value);
  return static_cast<int32_t>(p.int_start.size() - 1);
}

bool cannot_fail(const Program& p, const Instr& in) {
  switch (in.op) {
    case OP_MOV: case OP_IMIN: case OP_IMAX: case OP_EQ: case OP_NE: case OP_LT: case OP_LE: case OP_NOT:
    case OP_DMOV: case OP_DADD: case OP_DSUB: case OP_DMUL: case OP_DNEG: case OP_DABS: case OP_DMIN: case OP_DMAX:
    case OP_DEQ:
    case OP_DNE:
    case OP_DLT:
    case OP_DLE:
    case OP_TOREAL:
    case OP_LSIZE:
    case OP_SEL:
    case OP_WHO:
    case OP_LSAME:
    case OP_LRUN:
    case OP_LHAS: case OP_LCOUNT: case OP_LWITHIN: case OP_LPART: case OP_MARKS: case OP_LCLEAR: return true;
    case OP_LCOPY: case OP_LGROUPS: case OP_LCOMMON: case OP_LHIGH:
      return p.lists[index(in.a)].room >= p.lists[index(in.b)].room;
    default: return false;
  }
}

}  // namespace basanos
