// The reads and writes of an operation, as numbers: int registers, then real registers, then lists. A list has one
// number for all its registers; an array has one for each register.
#pragma once
#include <cstdint>
#include <vector>

#include "bitset.h"
#include "program.h"

namespace basanos {

class DefUse {
 public:
  explicit DefUse(const Program& program)
      : p_(program),
        reals_(program.int_start.size()),
        lists_(reals_ + program.real_start.size()),
        count_(lists_ + program.lists.size()) {}

  size_t count() const { return count_; }
  size_t of_real(int32_t reg) const { return reals_ + static_cast<size_t>(reg); }
  size_t of_list(int32_t list) const { return lists_ + static_cast<size_t>(list); }
  size_t reals() const { return reals_; }
  size_t lists() const { return lists_; }

  template <class Visit>
  void each_read(const Instr& in, Visit visit) const {
    visit_roles(in, "IU", "D", "LM", "AB", "F", visit);
  }
  // All that may be changed, if only in part.
  template <class Visit>
  void each_write(const Instr& in, Visit visit) const {
    visit_roles(in, "iU", "d", "NM", "WBX", "G", visit);
    if (in.op == OP_ASK) visit(static_cast<size_t>(in.c));
  }
  // What is made anew, whatever it was.
  template <class Visit>
  void each_overwrite(const Instr& in, Visit visit) const {
    visit_roles(in, "i", "d", "N", "X", "", visit);
  }

 private:
  static bool among(char role, const char* roles) {
    for (; *roles != '\0'; ++roles)
      if (*roles == role) return true;
    return false;
  }

  template <class Visit>
  void visit_roles(const Instr& in, const char* ints, const char* reals, const char* lists, const char* arrays,
                   const char* list_arrays, Visit visit) const {
    const char* roles = op_info(in.op).roles;
    for (int k = 0; k < 4; ++k) {
      const int32_t v = in.operand(k);
      if (among(roles[k], ints)) visit(static_cast<size_t>(v));
      else if (among(roles[k], reals)) visit(of_real(v));
      else if (among(roles[k], lists)) visit(of_list(v));
      else if (among(roles[k], arrays)) {
        const Array& a = p_.arrays[static_cast<size_t>(v)];
        for (int32_t reg = a.base; reg < a.base + a.size; ++reg)
          visit(a.real ? of_real(reg) : static_cast<size_t>(reg));
      } else if (among(roles[k], list_arrays)) {
        const ListArray& f = p_.list_arrays[static_cast<size_t>(v)];
        for (int32_t list = f.list; list < f.list + f.size; ++list) visit(of_list(list));
      }
    }
  }

  const Program& p_;
  const size_t reals_, lists_, count_;
};

}  // namespace basanos
