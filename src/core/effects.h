// What an operation reads and writes, as numbers: int cells, then real cells, then lists. A list is one thing,
// and so are its cells; an array is all its cells.
#pragma once
#include <cstdint>
#include <vector>

#include "program.h"

namespace basanos {

// A set of such numbers, or of anything that is numbered.
class NumberSet {
 public:
  explicit NumberSet(size_t count, bool full = false) : words_((count + 63) / 64, full ? ~uint64_t{0} : 0) {}
  void put(size_t k) { words_[k / 64] |= uint64_t{1} << (k % 64); }
  void drop(size_t k) { words_[k / 64] &= ~(uint64_t{1} << (k % 64)); }
  bool has(size_t k) const { return words_[k / 64] >> (k % 64) & 1; }
  bool unite(const NumberSet& other);      // true when it grew
  bool intersect(const NumberSet& other);  // true when it shrank
  void subtract(const NumberSet& other);

 private:
  std::vector<uint64_t> words_;
};

class Effects {
 public:
  explicit Effects(const Program& program)
      : p_(program), reals_(program.int_start.size()), lists_(reals_ + program.real_start.size()), count_(lists_ + program.lists.size()) {}

  size_t count() const { return count_; }
  size_t of_real(int32_t cell) const { return reals_ + static_cast<size_t>(cell); }
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
  void visit_roles(const Instr& in, const char* ints, const char* reals, const char* lists, const char* arrays, const char* families, Visit visit) const {
    const char* roles = op_info(in.op).roles;
    for (int k = 0; k < 4; ++k) {
      const int32_t v = in.operand(k);
      if (among(roles[k], ints)) visit(static_cast<size_t>(v));
      else if (among(roles[k], reals)) visit(of_real(v));
      else if (among(roles[k], lists)) visit(of_list(v));
      else if (among(roles[k], arrays)) {
        const Array& a = p_.arrays[static_cast<size_t>(v)];
        for (int32_t cell = a.base; cell < a.base + a.size; ++cell) visit(a.real ? of_real(cell) : static_cast<size_t>(cell));
      } else if (among(roles[k], families)) {
        const Family& f = p_.families[static_cast<size_t>(v)];
        for (int32_t list = f.list; list < f.list + f.size; ++list) visit(of_list(list));
      }
    }
  }

  const Program& p_;
  const size_t reals_, lists_, count_;
};

}  // namespace basanos
