// Which cells still matter: at a chance operation, only the cells that may yet be read make two
// states different. Standard backward data flow over the flat code; arrays and lists count whole.
#pragma once
#include <cstdint>
#include <vector>

#include "effects.h"

namespace basanos {

struct LiveCells {
  std::vector<int32_t> ints;   // cells, lists apart
  std::vector<int32_t> reals;
  std::vector<List> lists;      // whole lists; what lies beyond their size does not count
};

class Liveness {
 public:
  explicit Liveness(const Program& program);

  // Is the int cell read after operation `i` before it is written?
  bool live_after(size_t i, int32_t cell) const { return after(i).has(static_cast<size_t>(cell)); }

  const NumberSet& alive_before(size_t i) const { return before_[i]; }

  // Is anything that operation `i` writes read after it?
  bool writes_live(size_t i) const;

  // The cells alive just before operation `i`; constants left out.
  LiveCells before(size_t i) const { return cells_of(before_[i]); }

  // For each chance operation, told round and end, by its index in the code, the cells alive just before it: what is
  // told is alive there. Entries of other operations are empty.
  std::vector<LiveCells> at_stops() const;

  // The cells in a set, constants left out.
  LiveCells cells_of(const NumberSet& live) const;

 private:
  void step(const Instr& in, NumberSet& live) const;
  NumberSet after(size_t i) const;
  bool pass();

  const Program& p_;
  const Effects effects_;
  bool rounds_;
  NumberSet written_;
  std::vector<NumberSet> before_;
};

}  // namespace basanos
