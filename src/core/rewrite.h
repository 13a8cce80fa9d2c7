// Shared by the passes that rewrite a program.
#pragma once
#include <optional>
#include <vector>

#include "program.h"

namespace basanos {

inline size_t index(int32_t k) { return static_cast<size_t>(k); }

inline int32_t& operand(Instr& in, int k) { return k == 0 ? in.a : k == 1 ? in.b : k == 2 ? in.c : in.d; }

template <class Visit>
void each_target(Instr& in, Visit visit) {
  const char* roles = op_info(in.op).roles;
  for (int k = 0; k < 4; ++k)
    if (roles[k] == 'J') visit(operand(in, k));
}

inline bool writes_many(char role) {
  return role == 'W' || role == 'B' || role == 'X' || role == 'G' || role == 'M' || role == 'N';
}

// The target of a jump that is not counted, or -1.
int32_t branch_target(const Instr& in);

// Is a conditional jump taken, if that is known? `value(reg)` points to a register's value or is null.
template <class Value>
std::optional<bool> known_jump(const Instr& in, Value value) {
  if (in.op == OP_JZ || in.op == OP_JNZ) {
    const int32_t* const a = value(in.a);
    if (a == nullptr) return std::nullopt;
    return (*a == 0) == (in.op == OP_JZ);
  }
  if (in.op != OP_JEQ && in.op != OP_JNE && in.op != OP_JLT && in.op != OP_JLE) return std::nullopt;
  const int32_t* const a = value(in.a);
  const int32_t* const b = value(in.b);
  if (a == nullptr || b == nullptr) return std::nullopt;
  return in.op == OP_JEQ ? *a == *b : in.op == OP_JNE ? *a != *b : in.op == OP_JLT ? *a < *b : *a <= *b;
}

// An operation that does nothing: remove_idle() takes it away.
inline Instr no_op(const Instr& instead_of) { return {OP_MOV, 0, 0, 0, 0, instead_of.at}; }

// Removes the operations not kept; a jump to a removed one goes to what follows it.
bool compact(Program& program, const std::vector<bool>& keep);

// The operations that can come after some of these, on ways that go on from where `goes_on(i)`.
template <class GoesOn>
std::vector<bool> reached_behind(const Program& p, std::vector<size_t> open, GoesOn goes_on) {
  std::vector<bool> reached(p.code.size());
  const auto reach = [&](size_t i) {
    if (i >= p.code.size() || reached[i]) return;
    reached[i] = true;
    if (goes_on(i)) open.push_back(i);
  };
  while (!open.empty()) {
    const size_t i = open.back();
    open.pop_back();
    Instr in = p.code[i];
    each_target(in, [&](int32_t to) { reach(index(to)); });
    if (!never_falls_through(in.op)) reach(i + 1);
  }
  return reached;
}

// The jump targets.
std::vector<bool> jump_targets(Program& program);

// The int registers that are written; the others are constants.
std::vector<bool> written_ints(const Program& program);

// A register that holds the value and is never written.
int32_t constant_register(Program& program, const std::vector<bool>& written, int32_t value);

// Can the operation do nothing but write its result?
bool cannot_fail(const Program& program, const Instr& in);

}  // namespace basanos
