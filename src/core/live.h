// Which cells still matter: at a chance operation, only the cells that may yet be read make two
// states different. Standard backward data flow over the flat code; arrays and lists count whole.
#pragma once
#include <cstdint>
#include <string>
#include <vector>

#include "machine.h"

namespace basanos {

// One set of cells: int cells, then real cells, then lists.
class CellSet {
 public:
  explicit CellSet(size_t count) : words_((count + 63) / 64) {}
  void put(size_t k) { words_[k / 64] |= uint64_t{1} << (k % 64); }
  void drop(size_t k) { words_[k / 64] &= ~(uint64_t{1} << (k % 64)); }
  bool has(size_t k) const { return words_[k / 64] >> (k % 64) & 1; }
  bool unite(const CellSet& other);  // true when it grew

 private:
  std::vector<uint64_t> words_;
};

struct LiveList {
  int32_t base, room;
};

struct LiveCells {
  std::vector<int32_t> ints;   // cells, lists apart
  std::vector<int32_t> reals;
  std::vector<LiveList> lists;  // whole lists; what lies beyond their size does not count
};

class Liveness {
 public:
  explicit Liveness(const Program& program);

  // Is the int cell (or, with `real`, the real cell) read after operation `i` before it is written?
  bool live_after(size_t i, int32_t cell, bool real = false) const;

  // The cells alive just before operation `i`; constants left out.
  LiveCells before(size_t i) const { return cells_of(before_[i]); }

  // For each chance operation, by its index in the code, the cells alive just before it; entries
  // of other operations are empty.
  std::vector<LiveCells> at_chance() const;

 private:
  template <class Visit>
  void each_array_cell(int32_t array, Visit visit) const;
  template <class Visit>
  void each_family_list(int32_t family, Visit visit) const;
  template <class Visit>
  void each_write(const Instr& in, Visit visit) const;
  void step(const Instr& in, CellSet& live) const;
  CellSet after(size_t i) const;
  bool pass();
  LiveCells cells_of(const CellSet& live) const;

  const Program& p_;
  size_t reals_, lists_, count_;
  bool rounds_;
  CellSet written_;
  std::vector<CellSet> before_;
};

// The live part of a state at a draw, as bytes: equal states give equal bytes, and it is enough to go on from.
void pack_live(const LiveCells& live, const Frame& frame, std::string& out);

// Takes a state up again; gives what follows it in the bytes.
const char* unpack_live(const std::vector<LiveCells>& at_chance, const Program& program, const char* from, Frame& frame);

}  // namespace basanos
